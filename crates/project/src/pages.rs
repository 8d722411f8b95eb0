//! Pages for layout: which there are, in which windows, with which faces.

use std::path::{Path, PathBuf};

use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::page::{FlowPage, PageProblem, Unread, read_flow};
use tidy_lattice_core::style::read::{FaceSource, Viewport};

use super::file::Project;
use super::files::{in_folder, is_page, matching};
use super::request::SiteRequest;
use super::stack::site;
use super::texts::decoded;
use super::web::{FontLoader, LARGEST, ON_NETWORK, Site};
use super::{Access, ProjectError};

/// How many URLs of a page are tried until its root is found.
const MOST_TRIED: usize = 50;

/// A window.
#[derive(Debug, Clone, PartialEq, serde::Serialize, schemars::JsonSchema)]
pub struct Window {
    /// What it is called.
    pub name: String,
    /// Its width in px.
    pub width: f64,
    /// Its height in px.
    pub height: f64,
}

/// The windows that have names: widths and heights in px.
const WINDOWS: [(&str, f64, f64); 3] = [
    ("phone", 390.0, 844.0),
    ("tablet", 820.0, 1180.0),
    ("desktop", 1280.0, 800.0),
];

impl Window {
    /// The windows called `names`; by default those of the project, else all that
    /// have names.
    pub fn named(names: &[String], project: Option<&Project>) -> Result<Vec<Self>, ProjectError> {
        let declared = project.map_or(&[][..], |project| &project.shift.viewports);
        let names = if names.is_empty() { declared } else { names };
        if names.is_empty() {
            return Ok(WINDOWS.iter().map(Self::known).collect());
        }
        names.iter().map(|name| Self::read(name)).collect()
    }

    fn known((name, width, height): &(&str, f64, f64)) -> Self {
        Window {
            name: (*name).to_owned(),
            width: *width,
            height: *height,
        }
    }

    fn read(name: &str) -> Result<Self, ProjectError> {
        if let Some(known) = WINDOWS.iter().find(|(known, ..)| *known == name) {
            return Ok(Self::known(known));
        }
        let size = name.split_once('x').and_then(|(width, height)| {
            let (width, height) = (width.parse().ok()?, height.parse().ok()?);
            let range = 50.0..=10_000.0;
            (range.contains(&width) && range.contains(&height)).then_some((width, height))
        });
        let Some((width, height)) = size else {
            return Err(ProjectError::Usage(format!(
                "there is no viewport {name:?}: name phone, tablet or desktop, or say \
                 WIDTHxHEIGHT in px, from 50 to 10000"
            )));
        };
        Ok(Window {
            name: name.to_owned(),
            width,
            height,
        })
    }

    /// Its name and size.
    pub fn label(&self) -> String {
        let size = format!("{}×{}", self.width, self.height);
        if self.name.starts_with(|c: char| c.is_ascii_digit()) {
            size
        } else {
            format!("{} {size}", self.name)
        }
    }

    /// The viewport.
    pub fn viewport(&self) -> Viewport {
        Viewport::screen(self.width as f32, self.height as f32)
    }
}

/// A page on disk.
pub struct PageFile {
    /// The file.
    pub path: PathBuf,
    html: String,
}

/// A page read for one window, with its faces.
pub struct ReadPage {
    /// The page.
    pub page: FlowPage,
    /// Its rules with their files.
    pub web: Vec<WebFace>,
}

/// Pages and the site that they are of.
pub struct Pages<'a> {
    /// The pages, in order of path.
    pub files: Vec<PageFile>,
    /// The site.
    pub site: Site<'a>,
    /// The project, where there is one.
    pub project: Option<Project>,
}

impl<'a> Pages<'a> {
    /// The pages that `named` names, else those of the project.
    pub fn find(
        named: &[PathBuf],
        project: Option<Project>,
        request: &SiteRequest,
        access: Access<'a>,
    ) -> Result<Self, ProjectError> {
        let mut paths = Vec::new();
        for path in named {
            if access.is_folder(path) {
                paths.extend(
                    in_folder(path, access)?
                        .into_iter()
                        .filter(|path| is_page(path)),
                );
            } else {
                paths.push(path.clone());
            }
        }
        if named.is_empty()
            && let Some(project) = &project
        {
            for content in &project.content {
                let files = matching(project, content, access)?;
                paths.extend(files.into_iter().filter(|path| is_page(path)));
            }
        }
        if paths.is_empty() {
            return Err(ProjectError::Usage(
                "there is no page: name HTML files or a folder that holds some".to_owned(),
            ));
        }
        let site = site(
            request,
            project.as_ref(),
            paths.first().map(PathBuf::as_path),
            access,
        )?;
        let mut files = Vec::with_capacity(paths.len());
        for path in paths {
            let bytes = access.read(&path, LARGEST)?;
            let html = decoded(&path, &bytes)?.to_owned();
            find_root(&html, &path, &site);
            files.push(PageFile { path, html });
        }
        Ok(Pages {
            files,
            site,
            project,
        })
    }

    /// Reads a page for a window; its files come from `loader`.
    pub fn read(&self, file: &PageFile, window: &Window, loader: &mut FontLoader<'_>) -> ReadPage {
        self.read_in(file, window.viewport(), loader)
    }

    /// Reads a page for a viewport; its files come from `loader`.
    pub fn read_in(
        &self,
        file: &PageFile,
        viewport: Viewport,
        loader: &mut FontLoader<'_>,
    ) -> ReadPage {
        let name = file.path.display().to_string();
        let mut page = read_flow(&file.html, &name, &self.site, viewport);
        let web: Vec<WebFace> = page
            .faces
            .iter()
            .map(|placed| loader.load(placed))
            .collect();
        page.problems.extend(web.iter().filter_map(no_file));
        ReadPage { page, web }
    }

    /// A loader of the site's fonts.
    pub fn loader<'s>(&'s self, access: Access<'s>) -> FontLoader<'s> {
        FontLoader::new(&self.site, access)
    }
}

/// Has the site find its root, by the first URL of the page that starts with `/`.
fn find_root(html: &str, page: &Path, site: &Site<'_>) {
    let base = page.display().to_string();
    for quote in ["=\"/", "='/"] {
        for (at, _) in html.match_indices(quote).take(MOST_TRIED) {
            let url = &html[at + 2..];
            let end = url.find(['"', '\'']).unwrap_or(0);
            // What two slashes start lies on the network.
            if end > 1 && !url.starts_with("//") && site.locate(&url[..end], &base).is_ok() {
                return;
            }
        }
    }
}

/// What is wrong with a rule none of whose files can be had.
fn no_file(rule: &WebFace) -> Option<PageProblem> {
    let face = &rule.placed.face;
    let reasons: Vec<String> = face
        .sources
        .iter()
        .zip(&rule.files)
        .filter_map(|(source, file)| match (source, file) {
            (FaceSource::Url { url, .. }, Some(Err(reason))) => Some(format!("{url}: {reason}")),
            _ => None,
        })
        .collect();
    let any = rule.files.iter().flatten().any(Result::is_ok);
    if any || reasons.is_empty() {
        return None;
    }
    let family = face.family.as_deref().unwrap_or_default();
    Some(PageProblem {
        file: rule.placed.file.clone(),
        line: rule.placed.line,
        what: format!("no file of {family:?} can be had: {}", reasons.join("; ")),
        unread: Some(
            if reasons.iter().all(|reason| reason.ends_with(ON_NETWORK)) {
                Unread::Remote
            } else {
                Unread::Unreadable(reasons.join("; "))
            },
        ),
    })
}
