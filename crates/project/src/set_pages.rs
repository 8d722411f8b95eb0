//! The pages of a project as they set their texts, so that stand-ins are fitted on them.

use std::path::PathBuf;

use rayon::prelude::*;

use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::Flow;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::shaping::Shapers;
use tidy_lattice_core::shift::{Scene, Setting, SettingFonts, Stand, set_texts};
use tidy_lattice_core::standin::SetText;

use super::file::Project;
use super::files::{is_page, matching};
use super::pages::{Pages, Window};
use super::request::SiteRequest;
use super::{Access, ProjectError, Quiet};

/// The most pages that are laid out; of more, these are taken evenly.
const MOST_PAGES: usize = 40;

/// A page in a window.
pub struct SetPage {
    /// The page.
    pub flow: Flow,
    /// Its `@font-face` rules with their files.
    pub web: Vec<WebFace>,
    /// The window.
    pub window: Window,
}

/// The pages `named`, else those of `project`, in its windows; none where it has none. What is wrong with them
/// is told by those who read them for their texts.
///
/// # Errors
///
/// [`ProjectError`] where a page cannot be read.
pub fn read(
    named: &[PathBuf],
    project: &Project,
    site: &SiteRequest,
    access: Access<'_>,
) -> Result<Vec<SetPage>, ProjectError> {
    let access = Access {
        watch: &Quiet,
        ..access
    };
    let mut paths = named.to_vec();
    for content in project.content.iter().filter(|_| named.is_empty()) {
        let files = matching(project, content, access)?;
        paths.extend(files.into_iter().filter(|path| is_page(path)));
    }
    if paths.is_empty() {
        return Ok(Vec::new());
    }
    let step = paths.len().div_ceil(MOST_PAGES);
    let paths: Vec<_> = paths.into_iter().step_by(step).collect();
    let windows = Window::named(&[], Some(project))?;
    let pages = Pages::find(&paths, Some(project.clone()), site, access)?;
    let mut loader = pages.loader(access);
    let mut set = Vec::new();
    for file in &pages.files {
        for window in &windows {
            let read = pages.read(file, window, &mut loader);
            set.push(SetPage {
                flow: read.page.flow,
                web: read.web,
                window: window.clone(),
            });
        }
    }
    Ok(set)
}

impl SetPage {
    /// Its texts once its web fonts are there, on a device.
    pub fn texts(&self, device: Option<&Device<'_>>, shapers: &Shapers) -> Vec<SetText> {
        let setting = Setting {
            flow: &self.flow,
            web: &self.web,
            device,
            engine: Engine::Chromium,
            viewport: self.window.viewport(),
        };
        let fonts = SettingFonts::of(&setting);
        let page = Scene::new(setting, &fonts, shapers).lay_out(Stand::After);
        set_texts(&self.flow, &page, self.window.height)
    }
}

/// The texts of all `pages`, in their order.
pub fn texts_of(pages: &[SetPage], device: Option<&Device<'_>>) -> Vec<SetText> {
    let texts: Vec<Vec<SetText>> = pages
        .par_iter()
        .map_init(Shapers::default, |shapers, page| {
            page.texts(device, shapers)
        })
        .collect();
    texts.into_iter().flatten().collect()
}

/// Those of `texts` that ask for `family`.
pub fn in_family(texts: &[SetText], family: &str) -> Vec<SetText> {
    let asks = |text: &&SetText| {
        let mut families = text.families.iter();
        families.any(|name| name.as_str().eq_ignore_ascii_case(family))
    };
    texts.iter().filter(asks).cloned().collect()
}
