//! What was started is ended: processes with all that they started, and temporary
//! folders; also where the program is interrupted.

use std::path::{Path, PathBuf};
use std::process::{Child, ChildStdout, Command};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Mutex, PoisonError};

/// The exit status of a program that Ctrl-C ended.
const INTERRUPTED: i32 = 130;

/// What is in use.
static IN_USE: Mutex<Vec<InUse>> = Mutex::new(Vec::new());

/// A group of processes, and what it leaves on disk.
#[derive(Debug, Clone)]
struct InUse {
    group: u32,
    folder: PathBuf,
    /// Files elsewhere.
    files: Vec<PathBuf>,
}

impl InUse {
    fn end(&self) {
        end_group(self.group);
        end_all_of(&self.folder);
        for file in &self.files {
            // It may be gone already.
            let _ = std::fs::remove_file(file);
        }
    }
}

/// Whether the program is being interrupted: nothing is started any more, and what
/// fails because its browser was ended is not reported.
static INTERRUPTION: AtomicBool = AtomicBool::new(false);

/// From now on Ctrl-C, and a request to end, first tidy up and then end the
/// program. Where another part of it has asked for that already, nothing changes.
pub fn on_interrupt() {
    let _ = ctrlc::set_handler(|| {
        end_all();
        std::process::exit(INTERRUPTED);
    });
}

/// Ends all browsers and takes away what they left on disk; from now on none is started,
/// and what fails because its browser was ended waits for the end of the program.
pub fn end_all() {
    INTERRUPTION.store(true, Ordering::SeqCst);
    let in_use = IN_USE.lock().map(|mut list| std::mem::take(&mut *list));
    for one in in_use.unwrap_or_default() {
        one.end();
        let _ = std::fs::remove_dir_all(&one.folder);
    }
}

/// Waits for the end of the program where it is being interrupted, so that the
/// interruption gives the exit status, not what fails because of it.
fn wait_if_interrupted() {
    while INTERRUPTION.load(Ordering::SeqCst) {
        std::thread::park();
    }
}

/// A process of its own group, with a folder for its files; both are gone once this
/// is dropped.
#[derive(Debug)]
pub(crate) struct Started {
    child: Child,
    in_use: InUse,
}

impl Started {
    /// Starts `command`; `folder` is removed in the end.
    pub fn start(mut command: Command, folder: &Path) -> std::io::Result<Self> {
        #[cfg(unix)]
        {
            use std::os::unix::process::CommandExt as _;
            command.process_group(0);
        }
        // Listed before an interruption can look at the list.
        let mut list = IN_USE.lock().unwrap_or_else(PoisonError::into_inner);
        wait_if_interrupted();
        let child = command.spawn()?;
        let in_use = InUse {
            group: child.id(),
            folder: folder.to_owned(),
            files: Vec::new(),
        };
        list.push(in_use.clone());
        Ok(Started { child, in_use })
    }

    /// What the process writes, where that is piped.
    pub fn output(&mut self) -> Option<ChildStdout> {
        self.child.stdout.take()
    }

    /// Files that the process makes outside of its folder are removed with it.
    pub fn makes(&mut self, files: Vec<PathBuf>) {
        let mut list = IN_USE.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = list.iter_mut().find(|one| one.group == self.in_use.group) {
            known.files.clone_from(&files);
        }
        self.in_use.files = files;
    }

    /// How the process ended, where it did.
    pub fn ended(&mut self) -> Option<std::process::ExitStatus> {
        self.child.try_wait().ok().flatten()
    }
}

impl Drop for Started {
    fn drop(&mut self) {
        wait_if_interrupted();
        end_group(self.in_use.group);
        let _ = self.child.kill();
        let _ = self.child.wait();
        self.in_use.end();
        if let Ok(mut list) = IN_USE.lock() {
            list.retain(|one| one.group != self.in_use.group);
        }
    }
}

#[cfg(unix)]
fn end_group(group: u32) {
    use rustix::process::{Pid, Signal, kill_process_group};
    let pid = i32::try_from(group).ok().and_then(Pid::from_raw);
    if let Some(pid) = pid {
        // It may have ended by itself.
        let _ = kill_process_group(pid, Signal::KILL);
    }
}

#[cfg(not(unix))]
fn end_group(_: u32) {}

/// Ends every process that names `folder` on its command line or in its
/// environment: browsers put some of theirs into groups of their own.
#[cfg(target_os = "linux")]
fn end_all_of(folder: &Path) {
    use rustix::process::{Pid, Signal, kill_process};
    let needle = folder.to_string_lossy().into_owned();
    if needle.len() < 8 {
        return;
    }
    let this_process = std::process::id().to_string();
    let Ok(entries) = std::fs::read_dir("/proc") else {
        return;
    };
    for entry in entries.flatten() {
        let name = entry.file_name().to_string_lossy().into_owned();
        if name == this_process || !name.bytes().all(|byte| byte.is_ascii_digit()) {
            continue;
        }
        let names = |file: &str| {
            let text = std::fs::read(entry.path().join(file)).unwrap_or_default();
            String::from_utf8_lossy(&text).contains(&needle)
        };
        if names("cmdline") || names("environ") {
            let pid = name.parse().ok().and_then(Pid::from_raw);
            if let Some(pid) = pid {
                let _ = kill_process(pid, Signal::KILL);
            }
        }
    }
}

#[cfg(not(target_os = "linux"))]
fn end_all_of(_: &Path) {}
