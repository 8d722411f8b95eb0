//! What pages and style sheets may read.
//!
//! They come from packages and from pull requests of strangers, and what is wrong with a
//! file that they name is told in logs that everybody reads. So they reach what lies in
//! their own project, in what the user named, and nothing else of the machine: not
//! through `..`, not through absolute paths or `file:`, not through links, and no hidden
//! file anywhere.

use std::collections::HashMap;
use std::path::{Component, Path, PathBuf};
use std::sync::{Mutex, PoisonError};

use tidy_lattice_core::content::Format;
use tidy_lattice_core::page::Unread;

use super::access::{Access, Kind};

/// How far above a file the top of its project is looked for.
const HIGHEST: usize = 24;

/// How far above a file a folder with pages still is its site.
const HIGHEST_PAGES: usize = 4;

/// How many folders deep (`/home/name` is two) the folder must be in which the program
/// was started to be taken for a project; one that holds pages must be deeper.
const LEAST_DEEP: usize = 2;

/// Files and folders that mark the top of a project, the surest first.
const TOPS: [&str; 4] = [".git", "tidy-lattice.toml", "package.json", "Cargo.toml"];

/// The folder of packages, which may hold folders that begin with a dot.
const PACKAGES: &str = "node_modules";

/// The hidden folder that servers show (RFC 8615).
const WELL_KNOWN: &str = ".well-known";

/// What the pages and sheets of a site may read.
#[derive(Debug, Default)]
pub struct Confines {
    /// Folders that the user or the project file names.
    named: Vec<PathBuf>,
    /// The tops of the projects that files are of, by their folders.
    tops: Mutex<HashMap<PathBuf, PathBuf>>,
}

impl Confines {
    /// Those of `named` folders, besides the projects that the files themselves are of.
    pub fn new(named: &[PathBuf], access: Access<'_>) -> Self {
        let named = named.iter().map(|folder| whole(folder, access));
        Confines {
            named: named.collect(),
            tops: Mutex::default(),
        }
    }

    /// Whether what the file `named_in` names at `path` may be read.
    ///
    /// # Errors
    ///
    /// [`Unread::Outside`] where it may not; whether anything lies there is not told.
    pub fn check(&self, path: &Path, named_in: &str, access: Access<'_>) -> Result<(), Unread> {
        let folder = whole(
            Path::new(named_in).parent().unwrap_or(Path::new("")),
            access,
        );
        let top = self.top(&folder, access);
        let target = whole(path, access);
        let named = self.named.iter().chain([&top]);
        let around: Vec<&PathBuf> = named.filter(|one| target.starts_with(one)).collect();
        let packages = || {
            let above = folder.ancestors().take(HIGHEST);
            above
                .map(|above| above.join(PACKAGES))
                .any(|packages| target.starts_with(packages))
        };
        if around.is_empty() && !packages() {
            return Err(Unread::Outside(format!(
                "it lies outside of {}, and pages and style sheets may read nothing there; \
                 allow a folder with --may-read",
                shown(&top, access)
            )));
        }
        let hidden = |around: &&PathBuf| is_hidden(&target, around, &folder);
        if !around.is_empty() && around.iter().all(hidden) {
            return Err(Unread::Outside(
                "it is hidden (its name or that of a folder begins with a dot), and pages and \
                 style sheets may read no hidden file"
                    .to_owned(),
            ));
        }
        if access.disk.kind(path) == Some(Kind::Other) {
            return Err(Unread::Outside("it is no file and no folder".to_owned()));
        }
        Ok(())
    }

    /// The top of the project that `file` is of: what is in it may be read.
    pub fn top_around(&self, file: &Path, access: Access<'_>) -> PathBuf {
        let folder = file.parent().unwrap_or(Path::new(""));
        self.top(&whole(folder, access), access)
    }

    /// The top of the project that files of `folder` are of.
    fn top(&self, folder: &Path, access: Access<'_>) -> PathBuf {
        let mut tops = self.tops.lock().unwrap_or_else(PoisonError::into_inner);
        tops.entry(folder.to_owned())
            .or_insert_with(|| top_of(folder, access))
            .clone()
    }
}

/// The nearest folder above with the surest mark; else the folder in which the program
/// was started, if it lies above; else the highest near one that holds pages; else
/// `folder` itself.
fn top_of(folder: &Path, access: Access<'_>) -> PathBuf {
    let home = std::env::home_dir().map(|home| whole(&home, access));
    // Whoever keeps the settings of a home folder in a repository means these.
    let no_home = |above: &&Path| depth(above) > 0 && Some(*above) != home.as_deref();
    let above = || folder.ancestors().filter(no_home);
    for mark in TOPS {
        let mut marked = above().take(HIGHEST);
        if let Some(top) = marked.find(|above| access.exists(&above.join(mark))) {
            return top.to_owned();
        }
    }
    let here = whole(Path::new("."), access);
    if folder.starts_with(&here) && depth(&here) >= LEAST_DEEP && Some(&here) != home.as_ref() {
        return here;
    }
    let near = above().skip(1).take(HIGHEST_PAGES);
    let with_pages = near.filter(|above| {
        let inside = access.disk.folder(above).unwrap_or_default();
        let is_page = |path: &PathBuf| Format::of(&path.to_string_lossy()).is_page();
        depth(above) > LEAST_DEEP && inside.iter().any(is_page)
    });
    with_pages.last().unwrap_or(folder).to_owned()
}

/// How many folders deep a path from the root is.
fn depth(path: &Path) -> usize {
    let names = path.components();
    names
        .filter(|part| matches!(part, Component::Normal(_)))
        .count()
}

/// Whether `target`, below `around`, lies behind a name that begins with a dot which
/// `folder`, where it is asked for from, does not lie behind.
fn is_hidden(target: &Path, around: &Path, folder: &Path) -> bool {
    let Ok(below) = target.strip_prefix(around) else {
        return false;
    };
    let from = folder.strip_prefix(around).unwrap_or(Path::new(""));
    let mut from = from.components();
    let mut shared = true;
    let mut before = None;
    below.components().any(|part| {
        shared = shared && from.next() == Some(part);
        let name = part.as_os_str().to_string_lossy();
        let hidden = name.starts_with('.')
            && name != WELL_KNOWN
            && before.as_deref() != Some(PACKAGES)
            && !shared;
        before = Some(name.into_owned());
        hidden
    })
}

/// The path with all links followed as far as there is anything, without `.` and `..`,
/// from the root of the machine.
fn whole(path: &Path, access: Access<'_>) -> PathBuf {
    let mut rest = Vec::new();
    let mut here = path.to_owned();
    if here.as_os_str().is_empty() {
        here = PathBuf::from(".");
    }
    let real = loop {
        if let Some(real) = access.disk.real(&here) {
            break real;
        }
        let (Some(name), Some(parent)) = (here.file_name(), here.parent()) else {
            break here;
        };
        rest.push(name.to_owned());
        here = if parent.as_os_str().is_empty() {
            PathBuf::from(".")
        } else {
            parent.to_owned()
        };
    };
    rest.iter().rev().fold(real, |path, name| path.join(name))
}

/// The folder as people know it: from where they are, if it lies there.
fn shown(folder: &Path, access: Access<'_>) -> String {
    let here = whole(Path::new("."), access);
    match folder.strip_prefix(&here) {
        Ok(below) if below.as_os_str().is_empty() => "this folder".to_owned(),
        Ok(below) => format!("the folder {}", below.display()),
        Err(_) => format!("the folder {}", folder.display()),
    }
}
