//! What pages fetch once `trim` has cut a project's fonts.

use std::sync::Arc;

use tidy_lattice_core::font::{Face, FacePick, FontFile, Limits};
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::page::{Files, OpenedFile, Unread, font_faces};
use tidy_lattice_core::style::read::{FaceSource, Viewport};

use crate::commands::trim::{CutFace, CutFaces};

/// Rules of cut fonts hold in any window.
const SCREEN: Viewport = Viewport::screen(1280.0, 800.0);

/// The rules of the cut fonts.
pub struct CutRules(Vec<(String, WebFace)>);

impl CutRules {
    /// Reads them.
    pub fn of(cut: &CutFaces) -> Self {
        CutRules(cut.faces.iter().flat_map(rules).collect())
    }

    /// The rules of a page with those of the cut families in place of the page's own.
    pub fn in_place(&self, web: &[WebFace]) -> Vec<WebFace> {
        let family = |rule: &WebFace| rule.placed.face.family.clone().unwrap_or_default();
        let is_cut = |rule: &&WebFace| {
            let family = family(rule);
            let mut cut = self.0.iter();
            cut.any(|(name, _)| name.eq_ignore_ascii_case(&family))
        };
        let depth = |name: &str| {
            let mut of_family = web.iter();
            let of_family = of_family.find(|rule| family(rule).eq_ignore_ascii_case(name));
            of_family.map(|rule| rule.placed.depth)
        };
        let kept = web.iter().filter(|rule| !is_cut(rule)).cloned();
        let cut = self.0.iter().filter_map(|(name, rule)| {
            let mut rule = rule.clone();
            rule.placed.depth = depth(name)?;
            Some(rule)
        });
        kept.chain(cut).collect()
    }
}

/// The rules of a cut face, with its files.
fn rules(face: &CutFace) -> Vec<(String, WebFace)> {
    let (placed, _) = font_faces(&face.css, "trim", &Nowhere, SCREEN);
    let with_files = placed.into_iter().map(|placed| {
        let files = placed.face.sources.iter().map(|source| match source {
            FaceSource::Url { url, .. } => Some(opened(face, url)),
            FaceSource::Local { .. } => None,
        });
        let rule = WebFace {
            files: files.collect(),
            placed,
        };
        (face.family.clone(), rule)
    });
    with_files.collect()
}

fn opened(face: &CutFace, name: &str) -> Result<WebFile, String> {
    let mut files = face.files.iter();
    let found = files.find(|(known, _)| known == name);
    let (name, bytes) = found.ok_or_else(|| "there is no such file".to_owned())?;
    let size = bytes.len() as u64;
    let file = FontFile::read(bytes.clone(), Limits::DEFAULT);
    let face = file.and_then(|file| Face::open(&file.as_web_font(), &FacePick::default()));
    Ok(WebFile {
        name: name.clone(),
        bytes: Some(size),
        face: Arc::new(face.map_err(|error| error.to_string())?),
        instances: Default::default(),
    })
}

/// The sheet of cut fonts names none but these.
struct Nowhere;

impl Files for Nowhere {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Unreadable("there is no such file".to_owned()))
    }
}
