//! Small pages laid out.

use std::sync::Arc;

use tidy_lattice_core::font::Face;
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::layout::flow::LaidPage;
use tidy_lattice_core::page::{Files, FlowPage, OpenedFile, Unread, read_flow};
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Scene, Setting, SettingFonts, Stand};
use tidy_lattice_core::style::read::{FaceSource, Viewport};

use crate::material::demo;

struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

/// A page of 400 by 300 px whose text is set in the demo's brand font at 20 px in
/// lines of 30 px.
pub fn laid(css: &str, body: &str) -> (FlowPage, LaidPage) {
    laid_by(Engine::Chromium, css, body)
}

/// The same in any engine.
pub fn laid_by(engine: Engine, css: &str, body: &str) -> (FlowPage, LaidPage) {
    let html = format!(
        "<!doctype html><style>@font-face {{ font-family: F; src: url(f) }} \
         html {{ font: 20px/30px F }} body {{ margin: 0 }} p {{ margin: 0 }} {css}</style>{body}"
    );
    let viewport = Viewport::screen(400.0, 300.0);
    let page = read_flow(&html, "page.html", &NoFiles, viewport);
    let file = |source: &FaceSource| match source {
        FaceSource::Local { .. } => None,
        FaceSource::Url { url, .. } => {
            let path = match url.as_str() {
                "f" => "fonts/SkerrymarkSans-Regular.ttf",
                other => other,
            };
            let face: Arc<Face> = Arc::new(demo(path));
            Some(Ok(WebFile {
                name: url.clone(),
                bytes: None,
                face,
                instances: Default::default(),
            }))
        }
    };
    let web: Vec<WebFace> = (page.faces.iter())
        .map(|placed| WebFace {
            placed: placed.clone(),
            files: placed.face.sources.iter().map(file).collect(),
        })
        .collect();
    let setting = Setting {
        flow: &page.flow,
        web: &web,
        device: None,
        engine,
        viewport,
    };
    let fonts = SettingFonts::of(&setting);
    let shapers = Shapers::default();
    let laid = Scene::new(setting, &fonts, &shapers).lay_out(Stand::After);
    (page, laid)
}
