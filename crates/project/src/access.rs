//! Where files come from, how large they may be, and who is told what is going on.

use std::fs::{self, File};
use std::io::{self, Read};
use std::path::{Path, PathBuf};

use ignore::WalkBuilder;
use tidy_lattice_core::font::Limits;

use super::ProjectError;
use super::error::reason;

/// How deep folders are searched.
const DEEPEST: usize = 24;

/// What a path leads to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A file.
    File,
    /// A folder.
    Folder,
}

/// Where files are.
pub trait Disk: Sync {
    /// What lies at `path`; `None` where nothing does.
    fn kind(&self, path: &Path) -> Option<Kind>;

    /// The size of the file at `path`, in bytes.
    fn size(&self, path: &Path) -> Option<u64>;

    /// All of the file at `path`, of which `limit` bytes at most are taken.
    ///
    /// # Errors
    ///
    /// [`ProjectError::Unreadable`], also where the file is larger.
    fn read(&self, path: &Path, limit: u64) -> Result<Vec<u8>, ProjectError>;

    /// What lies in `folder` itself, in order of path.
    ///
    /// # Errors
    ///
    /// [`ProjectError::Unreadable`] where it is no folder.
    fn folder(&self, folder: &Path) -> Result<Vec<PathBuf>, ProjectError>;

    /// The files in `folder` and in its folders, in order of path; where `tidy`, those
    /// that begin with a dot, those that `.gitignore` leaves out, and packages are
    /// passed over.
    fn files(&self, folder: &Path, tidy: bool) -> Vec<PathBuf>;
}

/// The files of this machine.
#[derive(Debug, Clone, Copy, Default)]
pub struct Machine;

impl Disk for Machine {
    fn kind(&self, path: &Path) -> Option<Kind> {
        let metadata = fs::metadata(path).ok()?;
        Some(if metadata.is_dir() {
            Kind::Folder
        } else {
            Kind::File
        })
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
            .collect()
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

/// Who is told what is going on.
pub trait Watch: Sync {
    /// Something that the user should know.
    fn note(&self, text: &str);

    /// Work called `label` of `total` steps begins; it ends with the returned value.
    fn start(&self, label: &'static str, total: usize) -> Box<dyn Steps>;
}

/// Work in progress.
pub trait Steps: Sync {
    /// One step is done.
    fn step(&self);
}

/// Nobody is told anything.
#[derive(Debug, Clone, Copy, Default)]
pub struct Quiet;

impl Watch for Quiet {
    fn note(&self, _: &str) {}

    fn start(&self, _: &'static str, _: usize) -> Box<dyn Steps> {
        Box::new(Quiet)
    }
}

impl Steps for Quiet {
    fn step(&self) {}
}

/// Everything that reading needs.
#[derive(Clone, Copy)]
pub struct Access<'a> {
    /// Where files are.
    pub disk: &'a dyn Disk,
    /// How large fonts may become.
    pub limits: Limits,
    /// Who is told what is going on.
    pub watch: &'a dyn Watch,
}

impl Access<'static> {
    /// The files of this machine, with the usual limits; nobody is told anything.
    pub fn of_machine() -> Self {
        Access {
            disk: &Machine,
            limits: Limits::DEFAULT,
            watch: &Quiet,
        }
    }
}

impl Access<'_> {
    /// All of a file of at most `limit` bytes.
    ///
    /// # Errors
    ///
    /// [`ProjectError::Unreadable`].
    pub fn read(self, path: &Path, limit: u64) -> Result<Vec<u8>, ProjectError> {
        self.disk.read(path, limit)
    }

    /// The size of the file at `path`, in bytes.
    pub fn size(self, path: &Path) -> Option<u64> {
        self.disk.size(path)
    }

    /// Whether anything lies at `path`.
    pub fn exists(self, path: &Path) -> bool {
        self.disk.kind(path).is_some()
    }

    /// Whether a folder lies at `path`.
    pub fn is_folder(self, path: &Path) -> bool {
        self.disk.kind(path) == Some(Kind::Folder)
    }

    /// Tells something that the user should know.
    pub fn note(self, text: &str) {
        self.watch.note(text);
    }
}
