//! Results on standard output, everything else on standard error, files whole
//! or not at all.

use std::fs;
use std::io::{self, Read as _, Write as _};
use std::path::Path;

use anstyle::{AnsiColor, Style};
use tidy_lattice_project::reason;

use crate::error::CliError;

/// What every file that we write says near its start.
const SIGNATURES: [&str; 2] = ["Made by tidy-lattice", "\"schema\": \"tidy-lattice/"];

/// How many bytes from the start that is.
const SIGNED_WITHIN: usize = 200;

/// Prints a result. A reader that has gone away is no error.
pub fn print(text: &str) -> Result<(), CliError> {
    finish(anstream::stdout().lock().write_all(text.as_bytes()))
}

/// Prints a document as it is. Documents hold no styles, and looking for some
/// in megabytes takes longer than printing them.
pub fn print_document(text: &str) -> Result<(), CliError> {
    finish(io::stdout().lock().write_all(text.as_bytes()))
}

/// Prints what is not the result itself.
pub fn print_aside(text: &str) -> Result<(), CliError> {
    finish(anstream::stderr().lock().write_all(text.as_bytes()))
}

fn finish(written: io::Result<()>) -> Result<(), CliError> {
    match written.and_then(|()| io::stdout().flush()) {
        Err(error) if error.kind() != io::ErrorKind::BrokenPipe => Err(CliError::Unwritable {
            path: "standard output".into(),
            reason: reason(&error),
        }),
        _ => Ok(()),
    }
}

/// Says something that the user should know.
pub fn note(text: &str) {
    aside("note", AnsiColor::Cyan, text);
}

/// Says why the command could not do its work.
pub fn complain(error: &CliError) {
    aside("error", AnsiColor::Red, &error.to_string());
}

fn aside(word: &str, colour: AnsiColor, text: &str) {
    let style = Style::new().bold().fg_color(Some(colour.into()));
    let clean: String = text
        .chars()
        .map(|c| if c.is_control() { ' ' } else { c })
        .collect();
    // Nobody is left to be told where even this cannot be written.
    let _ = writeln!(anstream::stderr(), "{style}{word}:{style:#} {clean}");
}

/// Writes `contents` to `path`: to a temporary file beside it, then renamed. An
/// existing file that we did not write is left alone unless `force`.
pub fn write_file(path: &Path, contents: &[u8], force: bool) -> Result<(), CliError> {
    may_write(path, contents, force)?;
    let unwritable = |reason: String| CliError::Unwritable {
        path: path.to_owned(),
        reason,
    };
    let folder = folder_of(path);
    let write = || -> io::Result<()> {
        let mut builder = tempfile::Builder::new();
        share(builder.prefix(".tidy-lattice-"));
        let mut file = builder.tempfile_in(folder)?;
        file.write_all(contents)?;
        file.persist(path).map_err(|error| error.error)?;
        Ok(())
    };
    write().map_err(|error| unwritable(output_reason(&error)))
}

/// Makes a folder, with those above it.
pub fn make_folder(path: &Path) -> Result<(), CliError> {
    fs::create_dir_all(path).map_err(|error| CliError::Unwritable {
        path: path.to_owned(),
        reason: output_reason(&error),
    })
}

/// Puts new contents into files that are there, all of them or none: everything lies
/// beside its file before the first is replaced.
pub fn replace_all(files: &[(std::path::PathBuf, String)]) -> Result<(), CliError> {
    let mut ready = Vec::new();
    for (path, contents) in files {
        let write = || -> io::Result<tempfile::NamedTempFile> {
            let mut builder = tempfile::Builder::new();
            let mut file = builder
                .prefix(".tidy-lattice-")
                .tempfile_in(folder_of(path))?;
            file.write_all(contents.as_bytes())?;
            // Who may read and run it stays as it was.
            file.as_file()
                .set_permissions(fs::metadata(path)?.permissions())?;
            Ok(file)
        };
        let file = write().map_err(|error| CliError::Unwritable {
            path: path.clone(),
            reason: output_reason(&error),
        })?;
        ready.push((path, file));
    }
    for (path, file) in ready {
        file.persist(path).map_err(|error| CliError::Unwritable {
            path: path.clone(),
            reason: output_reason(&error.error),
        })?;
    }
    Ok(())
}

fn folder_of(path: &Path) -> &Path {
    match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    }
}

/// Whether `contents` may go to `path`; asked for all of several files before the
/// first is written.
pub fn may_write(path: &Path, contents: &[u8], force: bool) -> Result<(), CliError> {
    let unwritable = |reason: String| CliError::Unwritable {
        path: path.to_owned(),
        reason,
    };
    if path.is_dir() {
        return Err(unwritable("this is a folder; name a file in it".to_owned()));
    }
    if !force && path.exists() && !is_ours(path, contents) {
        return Err(unwritable(
            "the file exists and was not written by tidy-lattice; name another one, or use --force"
                .to_owned(),
        ));
    }
    let folder = folder_of(path);
    if !folder.is_dir() {
        return Err(unwritable(format!(
            "there is no folder {}",
            folder.display()
        )));
    }
    Ok(())
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

/// Whether the file holds what we would write, or says that we wrote it.
fn is_ours(path: &Path, contents: &[u8]) -> bool {
    // Only as much is read as tells the two apart.
    let most = contents.len().max(SIGNED_WITHIN) as u64 + 1;
    let mut existing = Vec::new();
    let read = fs::File::open(path).and_then(|file| file.take(most).read_to_end(&mut existing));
    let start = String::from_utf8_lossy(&existing[..existing.len().min(SIGNED_WITHIN)]);
    read.is_ok()
        && (existing == contents || SIGNATURES.iter().any(|signature| start.contains(signature)))
}
