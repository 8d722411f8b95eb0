//! What stacks are built from: the roles of the command line or the project, with
//! their fonts, texts and the families of platforms.

use std::path::Path;
use std::sync::Arc;

use tidy_lattice_core::font::{CharacterSet, Face};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::standin::SetText;
use tidy_lattice_core::text::Source;

use crate::file::Project;
use crate::request::BuildParts;
use crate::set_pages::SetPage;
use crate::stack::{NamedPlatform, named_platforms};
use crate::web_family::WebPart;
use crate::{Access, ProjectError};

mod reader;

use reader::Reader;
pub use reader::{need_of, need_of_letters};

/// Everything that a build needs.
pub struct Ingredients {
    /// The roles, in the project's order.
    pub roles: Vec<RoleParts>,
    /// The platforms.
    pub platforms: Vec<NamedPlatform>,
    /// Whether local fonts were named and stay in their order.
    pub locals_named: bool,
    /// The pages of the project in its windows.
    pub pages: Vec<SetPage>,
}

/// One role.
pub struct RoleParts {
    /// Its name.
    pub name: String,
    /// The family in the style sheet.
    pub family: String,
    /// The files of the web font.
    pub web: Vec<WebPart>,
    /// Sign fonts: face, URL, signs.
    pub signs: Vec<(Face, String, Option<CharacterSet>)>,
    /// Fonts for other scripts: face, URL.
    pub scripts: Vec<(Face, String)>,
    /// Further web fonts, which the page declares: family, face.
    pub kept: Vec<(String, Face)>,
    /// Local families, as named.
    pub locals: Vec<LocalPart>,
    /// The texts.
    pub texts: Vec<Source>,
    /// The languages that the role names, the main one first (BCP 47).
    pub languages: Vec<String>,
    /// What they ask for.
    pub need: Need,
    /// Sizes in px that were named; see [`RoleParts::sizes_or`].
    pub sizes: Vec<f32>,
    /// Widths of columns in px.
    pub widths: Vec<f64>,
    /// Whether the line-height of its text is stated.
    pub line_height_specified: bool,
    /// The generic family.
    pub generic: Option<String>,
}

/// A local family.
#[derive(Clone)]
pub struct LocalPart {
    /// Its name.
    pub name: String,
    /// Its faces.
    pub faces: Vec<Arc<Face>>,
    /// The platforms that have it.
    pub platforms: Vec<String>,
    /// What tells that two platforms have the same faces.
    key: Vec<String>,
}

/// Sizes in px where none is said.
const SIZES: [f32; 1] = [16.0];

/// The most sizes that are taken from pages.
const MOST_SIZES: usize = 12;

impl RoleParts {
    /// The sizes that were named, else those of most of the texts that pages `set`, else
    /// the usual one.
    pub fn sizes_or(&self, set: &[SetText]) -> Vec<f32> {
        if !self.sizes.is_empty() {
            return self.sizes.clone();
        }
        let mut lengths: Vec<(f32, usize)> = Vec::new();
        for text in set {
            match lengths.iter_mut().find(|(size, _)| *size == text.size) {
                Some((_, length)) => *length += text.text.len(),
                None => lengths.push((text.size, text.text.len())),
            }
        }
        lengths.sort_by(|a, b| b.1.cmp(&a.1).then(a.0.total_cmp(&b.0)));
        let most = lengths.iter().take(MOST_SIZES);
        let mut sizes: Vec<f32> = most.map(|(size, _)| *size).collect();
        sizes.sort_by(f32::total_cmp);
        or_usual(&sizes, &SIZES)
    }
}

/// The widths of columns where none is said: 200 to 800 px by 20.
pub fn usual_widths() -> Vec<f64> {
    (0..31).map(|step| 200.0 + 20.0 * f64::from(step)).collect()
}

impl Ingredients {
    /// What `args` names, else what the project does; URLs lead from the folder
    /// of the style sheet `sheet`.
    pub fn gather(
        request: &BuildParts,
        project: Option<&Project>,
        sheet: Option<&Path>,
        access: Access<'_>,
    ) -> Result<Self, ProjectError> {
        let reader = Reader {
            request,
            project,
            access,
            sheet_folder: sheet.and_then(Path::parent).unwrap_or(Path::new("")),
        };
        let (roles, pages) = if request.text_use.is_some() {
            (Vec::new(), Vec::new())
        } else if request.web.is_empty() {
            reader.roles()?
        } else {
            (vec![reader.command_line()?], Vec::new())
        };
        let locals_named = roles.iter().all(|role| !role.locals.is_empty());
        let platforms = if locals_named && request.platforms.is_empty() && !request.web.is_empty() {
            Vec::new()
        } else {
            let project = project.filter(|_| request.web.is_empty());
            named_platforms(&request.platforms, project, access)?
        };
        Ok(Ingredients {
            roles,
            platforms,
            locals_named,
            pages,
        })
    }
}

/// The measured families of `devices`, each once with the platforms that have it.
pub fn families_of(devices: &[Device<'_>]) -> Vec<LocalPart> {
    let mut parts: Vec<LocalPart> = Vec::new();
    for device in devices {
        let platform = device.platform();
        for family in platform.measured() {
            let measured = family.faces.iter();
            let measured: Vec<(Arc<Face>, String)> = measured
                .filter_map(|face| {
                    let key = face.card.clone().unwrap_or_else(|| face.full.clone());
                    Some((device.face(family, face)?, key))
                })
                .collect();
            let (faces, key): (Vec<_>, Vec<_>) = measured.into_iter().unzip();
            if faces.is_empty() {
                continue;
            }
            let known = parts
                .iter_mut()
                .find(|part| part.name == family.name && part.key == key);
            match known {
                Some(part) => part.platforms.push(platform.title.clone()),
                None => parts.push(LocalPart {
                    name: family.name.clone(),
                    faces,
                    platforms: vec![platform.title.clone()],
                    key,
                }),
            }
        }
    }
    parts
}

fn or_usual<T: Clone>(given: &[T], usual: &[T]) -> Vec<T> {
    if given.is_empty() {
        usual.to_vec()
    } else {
        given.to_vec()
    }
}
