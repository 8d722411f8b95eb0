//! The files of this machine.

use std::fs::{self, File, Metadata};
use std::io::{self, Read};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use ignore::WalkBuilder;
use tidy_lattice_core::font::Limits;

use super::ProjectError;
use super::access::{Access, Disk, Kind, Quiet};
use super::error::reason;

/// How deep folders are searched.
const DEEPEST: usize = 24;

/// What a device may give, in bytes: it may be endless.
const MOST_OF_DEVICE: u64 = 1 << 20;

/// How long the other end of a pipe is waited for.
const PATIENCE: Duration = Duration::from_secs(1);

/// How long between two looks at a pipe.
const PAUSE: Duration = Duration::from_millis(5);

/// The files of this machine.
#[derive(Debug, Clone, Copy, Default)]
pub struct Machine;

impl Access<'static> {
    /// The files of this machine, with the usual limits; nobody is told anything.
    pub fn of_machine() -> Self {
        Access {
            disk: &Machine,
            limits: Limits::DEFAULT,
            watch: &Quiet,
            may_read: &[],
        }
    }
}

impl Disk for Machine {
    fn kind(&self, path: &Path) -> Option<Kind> {
        let metadata = fs::metadata(path).ok()?;
        Some(if metadata.is_dir() {
            Kind::Folder
        } else if metadata.is_file() {
            Kind::File
        } else {
            Kind::Other
        })
    }

    fn real(&self, path: &Path) -> Option<PathBuf> {
        fs::canonicalize(path).ok()
    }

    fn size(&self, path: &Path) -> Option<u64> {
        fs::metadata(path).ok().map(|metadata| metadata.len())
    }

    fn read(&self, path: &Path, limit: u64) -> Result<Vec<u8>, ProjectError> {
        let unreadable = |reason: String| ProjectError::Unreadable {
            path: path.to_owned(),
            reason,
        };
        let metadata = fs::metadata(path).map_err(|error| unreadable(reason(&error)))?;
        if metadata.is_dir() {
            return Err(unreadable(
                "this is a folder; name the files in it".to_owned(),
            ));
        }
        if !metadata.is_file() {
            return read_special(path, &metadata, limit);
        }
        let file = File::open(path).map_err(|error| unreadable(reason(&error)))?;
        read_at_most(file, path, limit)
    }

    fn folder(&self, folder: &Path) -> Result<Vec<PathBuf>, ProjectError> {
        let entries = fs::read_dir(folder).map_err(|error| ProjectError::Unreadable {
            path: folder.to_owned(),
            reason: reason(&error),
        })?;
        let mut paths: Vec<PathBuf> = entries
            .filter_map(|entry| Some(entry.ok()?.path()))
            .collect();
        paths.sort();
        Ok(paths)
    }

    fn files(&self, folder: &Path, tidy: bool) -> Vec<PathBuf> {
        // Names of packages are passed over even where no `.gitignore` says so.
        let mut walk = WalkBuilder::new(folder);
        walk.max_depth(Some(DEEPEST))
            .follow_links(!tidy)
            .standard_filters(tidy)
            .require_git(false)
            .sort_by_file_path(Ord::cmp)
            .filter_entry(move |entry| {
                !tidy || entry.depth() == 0 || entry.file_name() != "node_modules"
            });
        walk.build()
            .filter_map(Result::ok)
            .filter(|entry| entry.file_type().is_some_and(|kind| kind.is_file()))
            .map(ignore::DirEntry::into_path)
            .filter(|path| !tidy || !is_report(path))
            .collect()
    }
}

/// Whether a page or a text is a report that this program wrote: that is no content, though
/// it may lie among it.
fn is_report(path: &Path) -> bool {
    const MADE: &[u8] = b"<!-- Made by tidy-lattice";
    let ending = path.extension().unwrap_or_default();
    if !["html", "htm", "md"].iter().any(|known| ending == *known) {
        return false;
    }
    let mut start = [0; MADE.len()];
    let read = File::open(path).and_then(|mut file| file.read_exact(&mut start));
    read.is_ok() && start == MADE
}

/// Reads what the user named and is no file: a pipe (as `<(command)` makes one), the
/// standard input by its path, a device.
fn read_special(path: &Path, metadata: &Metadata, limit: u64) -> Result<Vec<u8>, ProjectError> {
    let unreadable = |reason: String| ProjectError::Unreadable {
        path: path.to_owned(),
        reason,
    };
    if !can_be_read(metadata) {
        return Err(unreadable(
            "this is no file but a device or a socket".to_owned(),
        ));
    }
    let file = open_at_once(path).map_err(|error| unreadable(reason(&error)))?;
    let is_pipe = is_pipe(metadata);
    let pipe = Patient {
        file,
        since: Instant::now(),
        begun: !is_pipe,
    };
    let limit = if is_pipe {
        limit
    } else {
        limit.min(MOST_OF_DEVICE)
    };
    match read_at_most(pipe, path, limit) {
        Ok(bytes) if bytes.is_empty() && is_pipe => {
            Err(unreadable("nobody writes into this pipe".to_owned()))
        }
        read => read,
    }
}

#[cfg(unix)]
fn open_at_once(path: &Path) -> io::Result<File> {
    use std::os::unix::fs::OpenOptionsExt as _;
    // A pipe would keep whoever opens it until somebody writes.
    let options = rustix::fs::OFlags::NONBLOCK.bits();
    let flags = i32::try_from(options).unwrap_or(0);
    fs::OpenOptions::new()
        .read(true)
        .custom_flags(flags)
        .open(path)
}

#[cfg(not(unix))]
fn open_at_once(path: &Path) -> io::Result<File> {
    File::open(path)
}

#[cfg(unix)]
fn can_be_read(metadata: &Metadata) -> bool {
    use std::os::unix::fs::FileTypeExt as _;
    let kind = metadata.file_type();
    kind.is_fifo() || kind.is_char_device()
}

#[cfg(not(unix))]
fn can_be_read(_: &Metadata) -> bool {
    false
}

#[cfg(unix)]
fn is_pipe(metadata: &Metadata) -> bool {
    use std::os::unix::fs::FileTypeExt as _;
    metadata.file_type().is_fifo()
}

#[cfg(not(unix))]
fn is_pipe(_: &Metadata) -> bool {
    false
}

/// A pipe that is read as it fills; somebody must write into it before long.
struct Patient {
    file: File,
    since: Instant,
    /// Whether anything came.
    begun: bool,
}

impl Read for Patient {
    fn read(&mut self, into: &mut [u8]) -> io::Result<usize> {
        loop {
            match self.file.read(into) {
                // Nothing: it ended, or nobody has opened the other end yet.
                Ok(0) if !self.begun && self.since.elapsed() < PATIENCE => {}
                Err(error) if error.kind() == io::ErrorKind::WouldBlock => {}
                read => {
                    self.begun = true;
                    return read;
                }
            }
            std::thread::sleep(PAUSE);
        }
    }
}

/// Reads all of `from`, which is called `path`, unless it has more than `limit`
/// bytes.
///
/// # Errors
///
/// [`ProjectError::Unreadable`].
pub fn read_at_most(from: impl Read, path: &Path, limit: u64) -> Result<Vec<u8>, ProjectError> {
    let unreadable = |reason: String| ProjectError::Unreadable {
        path: path.to_owned(),
        reason,
    };
    let mut bytes = Vec::new();
    // One byte more than allowed tells that there is too much, even where the
    // size is not known beforehand, as of a pipe.
    from.take(limit + 1)
        .read_to_end(&mut bytes)
        .map_err(|error: io::Error| unreadable(reason(&error)))?;
    if bytes.len() as u64 > limit {
        return Err(unreadable(format!(
            "the file is larger than the limit of {} MiB",
            limit / (1024 * 1024)
        )));
    }
    Ok(bytes)
}
