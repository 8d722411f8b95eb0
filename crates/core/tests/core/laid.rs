//! Small pages laid out.

use std::sync::Arc;

use tidy_lattice_core::font::Face;
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::layout::flow::LaidPage;
use tidy_lattice_core::page::{Files, FlowPage, OpenedFile, Unread, read_flow};
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Scene, Setting, SettingFonts, Stand};
use tidy_lattice_core::style::read::Viewport;

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
    let face: Arc<Face> = Arc::new(demo("fonts/SkerrymarkSans-Regular.ttf"));
    let web = [WebFace {
        placed: page.faces[0].clone(),
        files: vec![Some(Ok(WebFile {
            name: "f".to_owned(),
            bytes: None,
            face,
            instances: Default::default(),
        }))],
    }];
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
