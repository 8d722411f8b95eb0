//! `--watch`: a command is run again whenever something that it reads changes.

use std::io::IsTerminal as _;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{self, Receiver};
use std::time::{Duration, Instant};

use notify::{RecursiveMode, Watcher as _};

use crate::error::{CliError, Outcome};
use crate::recording::{Recording, record};
use crate::{output, show};

/// Editors write several times; so long nothing more must come, before the work begins.
const QUIET: Duration = Duration::from_millis(80);

/// How often it is looked at what tells nothing by itself, such as folders of other machines.
const LOOK: Duration = Duration::from_secs(2);

/// Clears the screen and what was rolled off it, and goes to its first line (ECMA-48).
const CLEAR: &str = "\x1b[2J\x1b[3J\x1b[H";

/// Runs `work` now and whenever what it read changes, until the program is ended. On a terminal
/// the screen shows the last result, which stays while something cannot be read.
///
/// # Errors
///
/// [`CliError`] where what is read cannot be read again.
pub fn watch(mut work: impl FnMut() -> Result<Outcome, CliError>) -> Result<Outcome, CliError> {
    let terminal = std::io::stdout().is_terminal();
    let mut last = String::new();
    let mut first = true;
    loop {
        output::say_again();
        let (run, recording) = record(|| output::hold(&mut work));
        let (result, shown) = run;
        if recording.once {
            return Err(CliError::Usage(
                "--watch: a pipe is read once and cannot be watched; name files".to_owned(),
            ));
        }
        match result {
            Ok(_) => {
                last = shown;
                put(terminal, &last)?;
            }
            // What is asked cannot be: no change of a file helps.
            Err(error @ CliError::Usage(_)) if first => return Err(error),
            Err(error) => {
                if terminal {
                    put(terminal, &last)?;
                }
                output::complain(&error);
            }
        }
        first = false;
        let watched = show::count(recording.files().count() as u64, "file is", "files are");
        output::note(&format!("{watched} watched; Ctrl-C ends"));
        let changed = until_change(&recording);
        if !terminal {
            output::note(&format!("{} has changed", changed.display()));
        }
    }
}

fn put(terminal: bool, result: &str) -> Result<(), CliError> {
    if terminal {
        output::print_document(CLEAR)?;
    }
    output::print(result)
}

/// Waits until an answer of the recording is another one; which path that was.
fn until_change(recording: &Recording) -> PathBuf {
    let (tell, changes) = mpsc::channel();
    let watcher = notify::recommended_watcher(move |event: notify::Result<notify::Event>| {
        // Others may read all the time, and so does this program.
        if event.is_ok_and(|event| !event.kind.is_access()) {
            // Whoever waits has gone where this fails.
            let _ = tell.send(());
        }
    });
    let mut watcher = watcher.ok();
    for folder in recording.folders() {
        let folder = match folder.as_os_str().is_empty() {
            true => Path::new("."),
            false => &folder,
        };
        if let Some(watcher) = &mut watcher {
            // A folder that is not there is looked at now and then.
            let _ = watcher.watch(folder, RecursiveMode::NonRecursive);
        }
    }
    loop {
        if let Some(path) = recording.changed() {
            return path.to_owned();
        }
        wait(&changes);
    }
}

/// Waits for a change and for what comes right behind it, but not for ever.
fn wait(changes: &Receiver<()>) {
    match changes.recv_timeout(LOOK) {
        Ok(()) => {
            let since = Instant::now();
            while since.elapsed() < LOOK && changes.recv_timeout(QUIET).is_ok() {}
        }
        Err(mpsc::RecvTimeoutError::Disconnected) => std::thread::sleep(LOOK),
        Err(mpsc::RecvTimeoutError::Timeout) => {}
    }
}
