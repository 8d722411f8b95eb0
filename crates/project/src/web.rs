//! Files that pages and style sheets name, and the fonts that `@font-face` rules
//! load. Nothing is fetched from the network.

use std::collections::HashMap;
use std::path::{Component, Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};

use percent_encoding::percent_decode_str;
use tidy_lattice_core::font::{Face, FacePick, FontFile};
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::page::{Files, OpenedFile, PlacedFace, Unread};
use tidy_lattice_core::style::read::{FaceSource, Viewport};

use super::confines::Confines;
use super::data_url;
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

/// The screen that media queries are judged for, where no window is named.
pub const SCREEN: Viewport = Viewport::screen(1280.0, 800.0);

/// Why a font on the network is not there.
pub const ON_NETWORK: &str = "it lies on the network and was not read";

/// Folders in which sites keep what is served from their root.
const ROOTS: [&str; 10] = [
    "", "public", "static", "dist", "_site", "build", "out", "site", "www", "docs",
];

/// How far above a page its root is looked for.
const HIGHEST: usize = 8;

/// Files that mark the top of a project.
const TOPS: [&str; 4] = [".git", "package.json", "tidy-lattice.toml", "Cargo.toml"];

/// The files of a site.
pub struct Site<'a> {
    /// The folder that URLs starting with `/` mean, or where it is looked for from.
    pub root: PathBuf,
    /// Whether the user said so.
    pub root_is_known: bool,
    /// What lies on the network and is read from here in its place: beginnings of
    /// URLs, with files or folders.
    pub maps: Vec<(String, PathBuf)>,
    /// A style sheet that does not lie there yet, and what it will hold.
    pub made: Option<(PathBuf, String)>,
    /// Where files are.
    pub access: Access<'a>,
    /// What may be read of them.
    confines: Confines,
    /// Folders that turned out to be roots.
    found: Mutex<Vec<PathBuf>>,
}

impl<'a> Site<'a> {
    /// A site with this root.
    pub fn new(
        root: PathBuf,
        root_is_known: bool,
        maps: Vec<(String, PathBuf)>,
        access: Access<'a>,
    ) -> Self {
        let mut site = Site {
            root,
            root_is_known,
            maps,
            made: None,
            access,
            confines: Confines::default(),
            found: Mutex::default(),
        };
        site.confine(&[]);
        site
    }

    /// Lets pages and sheets read `folders`, besides their own projects, the root, what
    /// stands in for the network, and the folders of [`Access::may_read`].
    pub fn confine(&mut self, folders: &[PathBuf]) {
        let maps = self.maps.iter().map(|(_, path)| {
            if self.access.is_folder(path) {
                path.clone()
            } else {
                path.parent().map(Path::to_owned).unwrap_or_default()
            }
        });
        let root = self.root_is_known.then(|| self.root.clone());
        let named = folders.iter().chain(self.access.may_read).cloned();
        let all: Vec<PathBuf> = named.chain(maps).chain(root).collect();
        self.confines = Confines::new(&all, self.access);
    }

    /// The site that the file `path` is of, as far as that alone tells: its folder.
    pub fn beside_file(path: &Path, access: Access<'a>) -> Self {
        let root = path.parent().map(Path::to_owned).unwrap_or_default();
        Site::new(root, false, Vec::new(), access)
    }
}

impl Site<'_> {
    /// The file that `url` means in the file `base`; why none where it is not on
    /// this machine, or none that `base` may read.
    ///
    /// # Errors
    ///
    /// [`Unread`].
    pub fn locate(&self, url: &str, base: &str) -> Result<PathBuf, Unread> {
        self.locate_from(url, base, base)
    }

    /// Like [`Site::locate`], where the file `named_in` names it, and `base` is what it is
    /// relative to.
    ///
    /// # Errors
    ///
    /// [`Unread`].
    pub fn locate_from(&self, url: &str, base: &str, named_in: &str) -> Result<PathBuf, Unread> {
        let path = self.meant(url, base, named_in)?;
        self.confines.check(&path, named_in, self.access)?;
        Ok(path)
    }

    /// The file that `url` means in the file `base`.
    fn meant(&self, url: &str, base: &str, named_in: &str) -> Result<PathBuf, Unread> {
        let url = url.trim();
        let lower = url.to_ascii_lowercase();
        if data_url::is_data(url) {
            return Err(Unread::Unreadable("the URL holds its own data".to_owned()));
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
            return self.mapped(url).ok_or(Unread::Remote);
        }
        let path = decoded(url.split(['?', '#']).next().unwrap_or_default());
        if path.as_os_str().is_empty() {
            return Err(Unread::Unreadable("the URL is empty".to_owned()));
        }
        match path.strip_prefix("/") {
            Ok(below) if self.root_is_known => Ok(tidied(&self.root.join(below))),
            Ok(below) => self
                .in_found_root(below, named_in)
                .or_else(|| self.made_at(below))
                .ok_or_else(|| {
                    Unread::Unreadable(format!(
                        "no folder around the page has {}; name the one that / means with --root",
                        below.display()
                    ))
                }),
            Err(_) => {
                let beside = self.beside(base, &path);
                Ok(self.below_root(base, &path, &beside).unwrap_or(beside))
            }
        }
    }

    /// What `path` beside `base` means where that, `beside`, is above the root: URLs end there
    /// (URL Standard, "shorten a URL's path"). Nothing where the root is not known, or nothing
    /// lies there.
    fn below_root(&self, base: &str, path: &Path, beside: &Path) -> Option<PathBuf> {
        let root = tidied(&self.root);
        let above = beside.components().next() == Some(Component::ParentDir);
        if !self.root_is_known || beside.starts_with(&root) && !above {
            return None;
        }
        let folder = tidied(Path::new(base).parent()?);
        let mut below = folder.strip_prefix(root).ok()?.to_owned();
        for part in path.components() {
            match part {
                Component::ParentDir => {
                    below.pop();
                }
                Component::Normal(name) => below.push(name),
                _ => {}
            }
        }
        let found = self.root.join(below);
        self.access.exists(&found).then_some(found)
    }

    /// The style sheet that does not lie there yet, where `below` some root means it.
    fn made_at(&self, below: &Path) -> Option<PathBuf> {
        let (sheet, _) = self.made.as_ref()?;
        sheet.ends_with(below).then(|| sheet.clone())
    }

    /// What is read in place of a URL on the network.
    fn mapped(&self, url: &str) -> Option<PathBuf> {
        let whole = if url.starts_with("//") {
            format!("https:{url}")
        } else {
            url.to_owned()
        };
        let fits = self.maps.iter().filter_map(|(prefix, path)| {
            let rest = whole.strip_prefix(prefix.as_str())?;
            Some((prefix.len(), rest, path))
        });
        // The longest says most.
        let (_, rest, path) = fits.max_by_key(|(length, ..)| *length)?;
        if !self.access.is_folder(path) {
            return Some(path.clone());
        }
        let below = decoded(rest.split(['?', '#']).next().unwrap_or_default());
        let below = below.strip_prefix("/").unwrap_or(&below);
        Some(if below.as_os_str().is_empty() {
            path.join("index.css")
        } else {
            tidied(&path.join(below))
        })
    }

    /// The file `below` the root, which is the folder around the page in which it
    /// exists; that is told once.
    fn in_found_root(&self, below: &Path, named_in: &str) -> Option<PathBuf> {
        let mut found = self.found.lock().unwrap_or_else(PoisonError::into_inner);
        let has = |root: &Path| {
            let file = tidied(&root.join(below));
            let allowed = || self.confines.check(&file, named_in, self.access).is_ok();
            (self.access.exists(&file) && allowed()).then_some(file)
        };
        if let Some(file) = found.iter().find_map(|root| has(root)) {
            return Some(file);
        }
        let mut around = Some(self.root.as_path());
        for _ in 0..HIGHEST {
            let folder = around?;
            for root in ROOTS {
                let root = folder.join(root);
                if let Some(file) = has(&root) {
                    let shown = if root.as_os_str().is_empty() {
                        Path::new(".")
                    } else {
                        &root
                    };
                    if root != self.root {
                        self.access.note(&format!(
                            "URLs that start with / are taken from the folder {}, which has /{}; \
                             say otherwise with --root",
                            shown.display(),
                            below.display()
                        ));
                    }
                    found.push(root);
                    return Some(file);
                }
            }
            if TOPS.iter().any(|top| self.access.exists(&folder.join(top))) {
                return None;
            }
            around = folder.parent();
        }
        None
    }

    /// The folders that URLs starting with `/` mean: the one that was named, or those
    /// that were found.
    pub fn roots(&self) -> Vec<PathBuf> {
        let found = self.found.lock().unwrap_or_else(PoisonError::into_inner);
        let mut roots = found.clone();
        roots.push(self.root.clone());
        roots
    }

    /// Whether it is known what URLs starting with `/` mean.
    pub fn has_root(&self) -> bool {
        let found = self.found.lock().unwrap_or_else(PoisonError::into_inner);
        self.root_is_known || !found.is_empty()
    }

    /// The top of the project that `page` is of: `../` leads there, and not beyond.
    pub fn top_around(&self, page: &Path) -> PathBuf {
        self.confines.top_around(page, self.access)
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
            // A file of this machine, named from its root, is what it is.
            Ok(below) if !self.access.exists(&beside) && !self.access.exists(Path::new(base)) => {
                tidied(&self.root.join(below).join(path))
            }
            _ => beside,
        }
    }
}

impl Files for Site<'_> {
    fn read(&self, url: &str, base: &str, named_in: &str) -> Result<OpenedFile, Unread> {
        if data_url::is_data(url) {
            let bytes = data_url::bytes_of(url)
                .ok_or_else(|| Unread::Unreadable("the data: URL is not well formed".to_owned()))?;
            return Ok(OpenedFile {
                name: base.to_owned(),
                bytes,
            });
        }
        let path = self.locate_from(url, base, named_in)?;
        if let Some((sheet, css)) = &self.made
            && same(sheet, &path)
        {
            return Ok(OpenedFile {
                name: path.display().to_string(),
                bytes: css.clone().into_bytes(),
            });
        }
        match self.access.read(&path, LARGEST) {
            Ok(bytes) => Ok(OpenedFile {
                name: path.display().to_string(),
                bytes,
            }),
            Err(error) => Err(Unread::Unreadable(error.without_path())),
        }
    }
}

/// Whether two paths lead to one place, as far as their names tell.
fn same(a: &Path, b: &Path) -> bool {
    let whole = |path: &Path| std::path::absolute(path).map(|path| tidied(&path)).ok();
    a == b || whole(a) == whole(b)
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
            Unread::Remote => ON_NETWORK.to_owned(),
            Unread::Unreadable(reason) | Unread::Outside(reason) => reason,
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
