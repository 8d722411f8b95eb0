//! Files that are written: whole or not at all, never over what somebody else wrote.
//!
//! Contents go to a temporary file beside the target, which is then renamed. What was
//! begun is taken away again where the program is interrupted.

use std::fs;
use std::io::{self, Write as _};
use std::path::{Path, PathBuf};
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use tempfile::NamedTempFile;
use tidy_lattice_project::reason;

use crate::error::CliError;
use crate::signature;

/// How temporary files are called.
const TEMPORARY: &str = ".tidy-lattice-";

/// How long somebody who reads a pipe is waited for.
const PATIENCE: Duration = Duration::from_secs(1);

/// How long between two looks at a pipe.
const PAUSE: Duration = Duration::from_millis(5);

/// What is begun: temporary files, and folders that are not filled yet.
static BEGUN: Mutex<Vec<PathBuf>> = Mutex::new(Vec::new());

/// The files that the command has read, with all links followed.
static READ: Mutex<Vec<PathBuf>> = Mutex::new(Vec::new());

fn lock(list: &'static Mutex<Vec<PathBuf>>) -> MutexGuard<'static, Vec<PathBuf>> {
    list.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Takes away what was begun, for good: nothing is begun any more.
pub fn abandon() {
    let begun = lock(&BEGUN);
    for path in begun.iter() {
        remove(path);
    }
    // Whoever would begin something now waits for the end of the program.
    std::mem::forget(begun);
}

fn remove(path: &Path) {
    // It may be gone already.
    let _ = if path.is_dir() {
        fs::remove_dir_all(path)
    } else {
        fs::remove_file(path)
    };
}

/// Remembers that the command reads this file, so that it does not write over it.
pub fn remember_read(path: &Path) {
    if let Ok(real) = fs::canonicalize(path) {
        lock(&READ).push(real);
    }
}

/// Whether two paths lead to one file that is there.
pub fn same_file(one: &Path, other: &Path) -> bool {
    let real = |path| fs::canonicalize(path).ok();
    real(one).is_some_and(|one| real(other) == Some(one))
}

/// A folder that is taken away again unless it is kept.
pub struct NewFolder(Option<PathBuf>);

impl NewFolder {
    /// The folder `path`, with those above it; one that is there already always stays.
    ///
    /// # Errors
    ///
    /// [`CliError::Unwritable`].
    pub fn make(path: &Path) -> Result<Self, CliError> {
        if path.is_dir() {
            return Ok(NewFolder(None));
        }
        let mut begun = lock(&BEGUN);
        make_folder(path)?;
        begun.push(path.to_owned());
        Ok(NewFolder(Some(path.to_owned())))
    }

    /// A new folder for temporary files, its name starting with `prefix`.
    ///
    /// # Errors
    ///
    /// [`CliError::Unwritable`].
    pub fn temporary(prefix: &str) -> Result<(Self, PathBuf), CliError> {
        let mut begun = lock(&BEGUN);
        let folder = tempfile::Builder::new().prefix(prefix).tempdir();
        let folder = folder.map_err(|error| CliError::Unwritable {
            path: std::env::temp_dir(),
            reason: output_reason(&error),
        })?;
        let path = folder.keep();
        begun.push(path.clone());
        Ok((NewFolder(Some(path.clone())), path))
    }

    /// Leaves it where it is.
    pub fn keep(mut self) {
        if let Some(path) = self.0.take() {
            lock(&BEGUN).retain(|begun| *begun != path);
        }
    }
}

impl Drop for NewFolder {
    fn drop(&mut self) {
        if let Some(path) = self.0.take() {
            let mut begun = lock(&BEGUN);
            remove(&path);
            begun.retain(|begun| *begun != path);
        }
    }
}

/// Where an output leads.
enum Target {
    /// To a file that is there or not, with all links followed.
    File(PathBuf),
    /// To a pipe, a device or an open file, which is written into as it is.
    Through,
}

/// Writes `contents` to `path`. An existing file that we did not write is left alone
/// unless `force`; a link stays, and what it leads to is written.
///
/// # Errors
///
/// [`CliError::Unwritable`].
pub fn write_file(path: &Path, contents: &[u8], force: bool) -> Result<(), CliError> {
    let unwritable = |error: &io::Error| CliError::Unwritable {
        path: path.to_owned(),
        reason: output_reason(error),
    };
    match target(path, contents, force)? {
        Target::File(target) => {
            let file = begin(&target, contents, None).map_err(|error| unwritable(&error))?;
            persist(file, &target).map_err(|error| unwritable(&error))
        }
        Target::Through => write_through(path, contents).map_err(|error| unwritable(&error)),
    }
}

/// Makes a folder, with those above it.
///
/// # Errors
///
/// [`CliError::Unwritable`].
pub fn make_folder(path: &Path) -> Result<(), CliError> {
    fs::create_dir_all(path).map_err(|error| CliError::Unwritable {
        path: path.to_owned(),
        reason: output_reason(&error),
    })
}

/// Puts new contents into files that are there, all of them or none: everything lies
/// beside its file before the first is replaced.
///
/// # Errors
///
/// [`CliError::Unwritable`].
pub fn replace_all(files: &[(PathBuf, String)]) -> Result<(), CliError> {
    let mut ready = Vec::new();
    for (path, contents) in files {
        let write = || -> io::Result<(NamedTempFile, PathBuf)> {
            let target = fs::canonicalize(path)?;
            // Who may read and run it stays as it was.
            let permissions = fs::metadata(&target)?.permissions();
            let file = begin(&target, contents.as_bytes(), Some(permissions))?;
            Ok((file, target))
        };
        let (file, target) = write().map_err(|error| CliError::Unwritable {
            path: path.clone(),
            reason: output_reason(&error),
        })?;
        ready.push((path, file, target));
    }
    for (path, file, target) in ready {
        persist(file, &target).map_err(|error| CliError::Unwritable {
            path: path.clone(),
            reason: output_reason(&error),
        })?;
    }
    Ok(())
}

/// Whether `contents` may go to `path`; asked for all of several files before the
/// first is written.
///
/// # Errors
///
/// [`CliError::Unwritable`] where they may not.
pub fn may_write(path: &Path, contents: &[u8], force: bool) -> Result<(), CliError> {
    target(path, contents, force).map(drop)
}

fn target(path: &Path, contents: &[u8], force: bool) -> Result<Target, CliError> {
    let unwritable = |reason: String| {
        Err(CliError::Unwritable {
            path: path.to_owned(),
            reason,
        })
    };
    if leads_to_open_file(path) {
        return Ok(Target::Through);
    }
    let Ok(metadata) = fs::metadata(path) else {
        // Nothing, or a link to nothing.
        let target = match fs::read_link(path) {
            Ok(to) if !force => {
                return unwritable(format!(
                    "this is a link to {}, where there is nothing; name another file, or use \
                     --force to write there",
                    to.display()
                ));
            }
            Ok(to) => folder_of(path).join(to),
            Err(_) => path.to_owned(),
        };
        let folder = folder_of(&target);
        if !folder.is_dir() {
            return unwritable(format!("there is no folder {}", folder.display()));
        }
        return Ok(Target::File(target));
    };
    if metadata.is_dir() {
        return unwritable("this is a folder; name a file in it".to_owned());
    }
    if !metadata.is_file() {
        return if takes_bytes(&metadata) {
            Ok(Target::Through)
        } else {
            unwritable("this is no file but a device or a socket".to_owned())
        };
    }
    let target = fs::canonicalize(path).unwrap_or_else(|_| path.to_owned());
    // What is ours may be read and written anew, such as a style sheet by pages that have
    // its last version.
    let ours = signature::is_ours(&target, contents);
    if !ours && lock(&READ).contains(&target) {
        return unwritable("this command reads the file, too; name another one".to_owned());
    }
    if !force && !ours {
        return unwritable(
            "the file exists and was not written by tidy-lattice; name another one, or use --force"
                .to_owned(),
        );
    }
    Ok(Target::File(target))
}

/// `contents` in a temporary file beside `target`.
fn begin(
    target: &Path,
    contents: &[u8],
    permissions: Option<fs::Permissions>,
) -> io::Result<NamedTempFile> {
    let mut builder = tempfile::Builder::new();
    builder.prefix(TEMPORARY);
    if permissions.is_none() {
        share(&mut builder);
    }
    let mut file = {
        let mut begun = lock(&BEGUN);
        let file = builder.tempfile_in(folder_of(target))?;
        begun.push(file.path().to_owned());
        file
    };
    let filled = file.write_all(contents).and_then(|()| match permissions {
        Some(permissions) => file.as_file().set_permissions(permissions),
        None => Ok(()),
    });
    match filled {
        Ok(()) => Ok(file),
        Err(error) => {
            let path = file.path().to_owned();
            drop(file);
            lock(&BEGUN).retain(|begun| *begun != path);
            Err(error)
        }
    }
}

fn persist(file: NamedTempFile, target: &Path) -> io::Result<()> {
    // Nobody takes it away half renamed.
    let mut begun = lock(&BEGUN);
    let path = file.path().to_owned();
    let done = file.persist(target).map(drop).map_err(|error| error.error);
    begun.retain(|begun| *begun != path);
    done
}

/// Whether the path names what the program has open: its standard output and the like.
fn leads_to_open_file(path: &Path) -> bool {
    let open = ["/dev/stdout", "/dev/stderr"];
    open.iter().any(|open| path == Path::new(open))
        || path.parent().is_some_and(|folder| {
            folder == Path::new("/dev/fd") || folder == Path::new("/proc/self/fd")
        })
}

#[cfg(unix)]
fn takes_bytes(metadata: &fs::Metadata) -> bool {
    use std::os::unix::fs::FileTypeExt as _;
    let kind = metadata.file_type();
    kind.is_fifo() || kind.is_char_device()
}

#[cfg(not(unix))]
fn takes_bytes(_: &fs::Metadata) -> bool {
    false
}

/// Writes into what is no file of its own. A reader that has gone away is no error.
fn write_through(path: &Path, contents: &[u8]) -> io::Result<()> {
    let since = Instant::now();
    let mut file = loop {
        match open_at_once(path) {
            Ok(file) => break file,
            Err(error) if is_lonely(&error) => {
                if since.elapsed() > PATIENCE {
                    return Err(io::Error::other("nobody reads from this pipe"));
                }
                std::thread::sleep(PAUSE);
            }
            Err(error) => return Err(error),
        }
    };
    let mut rest = contents;
    while !rest.is_empty() {
        match file.write(rest) {
            Ok(0) => return Err(io::ErrorKind::WriteZero.into()),
            Ok(count) => rest = &rest[count..],
            Err(error) => match error.kind() {
                io::ErrorKind::WouldBlock => std::thread::sleep(PAUSE),
                io::ErrorKind::Interrupted => {}
                io::ErrorKind::BrokenPipe => return Ok(()),
                _ => return Err(error),
            },
        }
    }
    Ok(())
}

#[cfg(unix)]
fn open_at_once(path: &Path) -> io::Result<fs::File> {
    use std::os::unix::fs::OpenOptionsExt as _;
    // A pipe would keep whoever opens it until somebody reads.
    let flags = i32::try_from(rustix::fs::OFlags::NONBLOCK.bits()).unwrap_or(0);
    let mut options = fs::OpenOptions::new();
    options.append(true).custom_flags(flags).open(path)
}

#[cfg(not(unix))]
fn open_at_once(path: &Path) -> io::Result<fs::File> {
    fs::OpenOptions::new().append(true).open(path)
}

/// Whether a pipe could not be opened because nobody reads from it.
#[cfg(unix)]
fn is_lonely(error: &io::Error) -> bool {
    error.raw_os_error() == Some(rustix::io::Errno::NXIO.raw_os_error())
}

#[cfg(not(unix))]
fn is_lonely(_: &io::Error) -> bool {
    false
}

fn folder_of(path: &Path) -> &Path {
    match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    }
}

/// What the system says of an output.
pub fn output_reason(error: &io::Error) -> String {
    match error.kind() {
        io::ErrorKind::NotFound => "no file can be made here; choose another folder".to_owned(),
        io::ErrorKind::NotADirectory | io::ErrorKind::AlreadyExists => {
            "a part of this path is a file; choose another folder".to_owned()
        }
        _ => reason(error),
    }
}

/// Temporary files are for their owner only; results are for everybody whom
/// the user's mask lets in.
#[cfg(unix)]
fn share(builder: &mut tempfile::Builder<'_, '_>) {
    use std::os::unix::fs::PermissionsExt as _;
    builder.permissions(fs::Permissions::from_mode(0o666));
}

#[cfg(not(unix))]
fn share(_: &mut tempfile::Builder<'_, '_>) {}
