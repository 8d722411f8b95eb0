//! Files that pages and style sheets name, and the fonts that `@font-face` rules
//! load. Nothing is fetched from the network.

use std::collections::HashMap;
use std::path::{Component, Path, PathBuf};
use std::sync::Arc;

use percent_encoding::percent_decode_str;
use tidy_lattice_core::font::{Face, FacePick, FontFile};
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::page::{Files, OpenedFile, PlacedFace, Unread};
use tidy_lattice_core::style::read::FaceSource;

use super::{Access, ProjectError};

/// Pages and style sheets beyond this size are refused, in bytes.
pub const LARGEST: u64 = 32 * 1024 * 1024;

/// `format()` hints that current browsers load.
const FORMATS: [&str; 9] = [
    "woff2",
    "woff",
    "truetype",
    "opentype",
    "collection",
    "woff2-variations",
    "woff-variations",
    "truetype-variations",
    "opentype-variations",
];

/// The files of a site.
pub struct Site<'a> {
    /// The folder that URLs starting with `/` mean.
    pub root: PathBuf,
    /// Whether the user said so.
    pub root_is_known: bool,
    /// Where files are.
    pub access: Access<'a>,
}

impl Site<'_> {
    /// The file that `url` means in the file `base`; why none where it is not on
    /// this machine.
    pub fn locate(&self, url: &str, base: &str) -> Result<PathBuf, Unread> {
        let url = url.trim();
        let lower = url.to_ascii_lowercase();
        if lower.starts_with("data:") {
            return Err(Unread::Unreadable("data: URLs are not read".to_owned()));
        }
        if let Some(path) = lower.strip_prefix("file://") {
            return Ok(decoded(&url[url.len() - path.len()..]));
        }
        let scheme = url
            .split(['/', '?', '#'])
            .next()
            .unwrap_or_default()
            .contains(':');
        if url.starts_with("//") || scheme {
            return Err(Unread::Remote);
        }
        let path = decoded(url.split(['?', '#']).next().unwrap_or_default());
        if path.as_os_str().is_empty() {
            return Err(Unread::Unreadable("the URL is empty".to_owned()));
        }
        Ok(match path.strip_prefix("/") {
            // A page that is opened as a file means the file system's root.
            Ok(below) if !self.root_is_known && !self.access.exists(&self.root.join(below)) => path,
            Ok(below) => tidied(&self.root.join(below)),
            Err(_) => self.beside(base, &path),
        })
    }
}

impl Site<'_> {
    /// A path relative to the file, or to the folder that ends in `/`, `base`; one
    /// that starts with `/` is from the root of the site.
    fn beside(&self, base: &str, path: &Path) -> PathBuf {
        let folder = if base.ends_with('/') {
            Path::new(base)
        } else {
            Path::new(base).parent().unwrap_or(Path::new(""))
        };
        let beside = tidied(&folder.join(path));
        match folder.strip_prefix("/") {
            Ok(below) if !self.access.exists(&beside) => tidied(&self.root.join(below).join(path)),
            _ => beside,
        }
    }
}

impl Files for Site<'_> {
    fn read(&self, url: &str, base: &str) -> Result<OpenedFile, Unread> {
        let path = self.locate(url, base)?;
        match self.access.read(&path, LARGEST) {
            Ok(bytes) => Ok(OpenedFile {
                name: path.display().to_string(),
                bytes,
            }),
            Err(error) => Err(Unread::Unreadable(error.without_path())),
        }
    }
}

/// A URL's path with its percent-encoding resolved.
fn decoded(path: &str) -> PathBuf {
    PathBuf::from(percent_decode_str(path).decode_utf8_lossy().into_owned())
}

/// The path without `.` and `folder/..`.
fn tidied(path: &Path) -> PathBuf {
    let mut tidy = PathBuf::new();
    for part in path.components() {
        match part {
            Component::CurDir => {}
            Component::ParentDir
                if tidy
                    .components()
                    .next_back()
                    .is_some_and(|last| matches!(last, Component::Normal(_))) =>
            {
                tidy.pop();
            }
            other => tidy.push(other),
        }
    }
    tidy
}

/// Loads what `@font-face` rules name, each file once.
pub struct FontLoader<'a> {
    site: &'a Site<'a>,
    access: Access<'a>,
    known: HashMap<PathBuf, Result<WebFile, String>>,
}

impl<'a> FontLoader<'a> {
    /// A loader of the files of `site`.
    pub fn new(site: &'a Site<'a>, access: Access<'a>) -> Self {
        FontLoader {
            site,
            access,
            known: HashMap::new(),
        }
    }

    /// The rule with its files.
    pub fn load(&mut self, placed: &PlacedFace) -> WebFace {
        let files = placed
            .face
            .sources
            .iter()
            .map(|source| match source {
                FaceSource::Local { .. } => None,
                FaceSource::Url { url, format } => {
                    Some(self.file(url, format.as_deref(), &placed.file))
                }
            })
            .collect();
        WebFace {
            placed: placed.clone(),
            files,
        }
    }

    fn file(&mut self, url: &str, format: Option<&str>, base: &str) -> Result<WebFile, String> {
        if let Some(format) = format.filter(|format| !FORMATS.contains(format)) {
            return Err(format!("browsers do not load format({format})"));
        }
        let path = self.site.locate(url, base).map_err(|unread| match unread {
            Unread::Remote => "it lies on the network and was not read".to_owned(),
            Unread::Unreadable(reason) => reason,
        })?;
        let access = self.access;
        self.known
            .entry(path)
            .or_insert_with_key(|path| open(path, access).map_err(|error| error.without_path()))
            .clone()
    }
}

fn open(path: &Path, access: Access<'_>) -> Result<WebFile, ProjectError> {
    let bytes = super::fonts::font_bytes(path, access)?;
    let weight = bytes.len() as u64;
    let face = FontFile::read(bytes, access.limits)
        .and_then(|file| Face::open(&file.as_web_font(), &FacePick::default()))
        .map_err(|error| ProjectError::Font {
            path: path.to_owned(),
            error,
        })?;
    Ok(WebFile {
        name: path.display().to_string(),
        bytes: Some(weight),
        face: Arc::new(face),
        instances: Default::default(),
    })
}
