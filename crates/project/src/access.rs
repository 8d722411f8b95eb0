//! Where files come from, how large they may be, and who is told what is going on.

use std::path::{Path, PathBuf};

use tidy_lattice_core::font::Limits;

use super::ProjectError;

/// What a path leads to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A file.
    File,
    /// A folder.
    Folder,
    /// Something that is no file: a pipe, a device, a socket.
    Other,
}

/// Where files are.
pub trait Disk: Sync {
    /// What lies at `path`; `None` where nothing does.
    fn kind(&self, path: &Path) -> Option<Kind>;

    /// The path from the root, with all links followed; `None` where nothing lies there.
    fn real(&self, path: &Path) -> Option<PathBuf>;

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
    /// that begin with a dot, those that `.gitignore` leaves out, packages, and reports of
    /// this program are passed over.
    fn files(&self, folder: &Path, tidy: bool) -> Vec<PathBuf>;
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
    /// Folders that pages and style sheets may read, wherever they lie.
    pub may_read: &'a [PathBuf],
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
