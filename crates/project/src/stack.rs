//! The stack that the command line or the project names, and the devices to look
//! at it on.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use tidy_lattice_core::lattice::{
    Arrival, Candidate, Entry, Fonts, Request, Resolved, WebFace, resolve,
};
use tidy_lattice_core::page::{PageProblem, PlacedFace, TextStyle, font_faces};
use tidy_lattice_core::platform::{self, Platform};
use tidy_lattice_core::style::read::{FamilyName, Viewport, families};

use super::faces::face;
use super::file::{Project, Role};
use super::request::StackRequest;
use super::web::{FontLoader, LARGEST, Site};
use super::{Access, ProjectError, platforms};

/// The screen that media queries are judged for.
pub const SCREEN: Viewport = Viewport::screen(1280.0, 800.0);

/// Everything that says which font shows a text.
pub struct NamedStack {
    /// The style: families, weight and so on.
    pub style: TextStyle,
    /// The `@font-face` rules with their files.
    pub web: Vec<WebFace>,
    /// Faces given by themselves; where there are some, they are the stack.
    pub given: Vec<Candidate>,
    /// The platforms to look at, with where each comes from.
    pub platforms: Vec<NamedPlatform>,
}

/// A platform and the folder that its cards and fonts lie beside.
pub struct NamedPlatform {
    /// The platform.
    pub platform: Platform,
    folder: PathBuf,
}

impl NamedStack {
    /// The stack of these arguments.
    pub fn read(
        request: &StackRequest,
        project: Option<&Project>,
        access: Access<'_>,
    ) -> Result<Self, ProjectError> {
        let mut style = TextStyle::default();
        let mut given = Vec::new();
        if request.fonts.is_empty() {
            style.families = named_families(request, project, &mut style)?;
        } else {
            for (entry, named) in request.fonts.iter().enumerate() {
                given.push(Candidate::given(entry, Arc::new(face(named, access)?)));
            }
        }
        let mut sheets = request.sheets.clone();
        if sheets.is_empty()
            && request.fonts.is_empty()
            && let Some(project) = project
        {
            sheets = project
                .sheets
                .iter()
                .map(|sheet| project.path(sheet))
                .collect();
        }
        let site = site(project, sheets.first().map(PathBuf::as_path), access);
        let placed = faces_of_sheets(&sheets, &site, access)?;
        let wanted = |placed: &&PlacedFace| {
            let family = placed
                .face
                .family
                .as_deref()
                .unwrap_or_default()
                .to_lowercase();
            style
                .families
                .iter()
                .any(|known| known.as_str().to_lowercase() == family)
        };
        let mut loader = FontLoader::new(&site, access);
        let web = placed
            .iter()
            .filter(wanted)
            .map(|placed| loader.load(placed))
            .collect();
        let platforms = if given.is_empty() || !request.platforms.is_empty() {
            named_platforms(&request.platforms, project, access)?
        } else {
            Vec::new()
        };
        Ok(NamedStack {
            style,
            web,
            given,
            platforms,
        })
    }

    /// What the stack comes down to on `device`.
    pub fn resolve(&self, device: Option<&platform::Device<'_>>, before_load: bool) -> Resolved {
        if !self.given.is_empty() {
            let entries = self.given.iter().map(|candidate| Entry {
                family: FamilyName::Named(candidate.family.clone()),
                stands_for: None,
                absent: None,
            });
            return Resolved {
                entries: entries.collect(),
                candidates: self.given.clone(),
            };
        }
        let fonts = Fonts {
            web: &self.web,
            device,
            arrival: if before_load {
                Arrival::Awaited
            } else {
                Arrival::Here
            },
        };
        resolve(&Request::of(&self.style), fonts)
    }
}

impl NamedPlatform {
    /// The platform with the measurements of its faces.
    pub fn device<'a>(&'a self, access: Access<'a>) -> platform::Device<'a> {
        platform::Device::new(&self.platform, move |found| {
            platforms::measured(&self.platform, found, &self.folder, access).ok()
        })
    }
}

fn named_families(
    request: &StackRequest,
    project: Option<&Project>,
    style: &mut TextStyle,
) -> Result<Vec<FamilyName>, ProjectError> {
    let invalid = |stack: &str| {
        ProjectError::Usage(format!(
            "--stack {stack:?} is no list of families as font-family takes it; quote names that \
             hold signs or digits at the start of a word"
        ))
    };
    if let Some(stack) = &request.stack {
        return families(stack).ok_or_else(|| invalid(stack));
    }
    let Some(project) = project else {
        return Err(ProjectError::Usage(
            "there is no stack: name fonts with --font, families with --stack, or a --role of a \
             project file"
                .to_owned(),
        ));
    };
    let names: Vec<&str> = project.role.keys().map(String::as_str).collect();
    let name = match (&request.role, names.as_slice()) {
        (Some(role), _) => role.as_str(),
        (None, [only]) => only,
        (None, _) => {
            return Err(ProjectError::Usage(format!(
                "the project has several roles ({}); name one with --role",
                names.join(", ")
            )));
        }
    };
    let role = project.role.get(name).ok_or_else(|| {
        ProjectError::Usage(format!(
            "the project has no role {name:?}; it has {}",
            names.join(", ")
        ))
    })?;
    apply_role(style, role);
    if role.stack.is_empty() {
        return Err(ProjectError::Usage(format!(
            "role.{name} has no stack yet: put what `build` makes into role.{name}.stack"
        )));
    }
    families(&role.stack).ok_or_else(|| invalid(&role.stack))
}

/// Sets `style` as the role says, but for its families.
pub fn apply_role(style: &mut TextStyle, role: &Role) {
    use tidy_lattice_core::page::StyleValue;
    style.weight = role.weight.unwrap_or(style.weight);
    style.size = role.size.unwrap_or(style.size);
    style.style = match role.style.as_deref() {
        Some("italic") => StyleValue::Italic,
        Some("oblique") => StyleValue::Oblique(14.0),
        _ => style.style,
    };
    style.features = role.features.iter().map(|tag| (tag.clone(), 1)).collect();
}

/// The site of a project; else that of the folder of `file`.
pub fn site<'a>(project: Option<&Project>, file: Option<&Path>, access: Access<'a>) -> Site<'a> {
    let root = match project {
        Some(project) => project.path(project.root.clone().unwrap_or_default()),
        None => file
            .and_then(Path::parent)
            .map(Path::to_owned)
            .unwrap_or_default(),
    };
    Site {
        root,
        root_is_known: project.is_some(),
        access,
    }
}

/// The `@font-face` rules of `sheets`; what cannot be read of them is told.
pub fn faces_of_sheets(
    sheets: &[PathBuf],
    site: &Site<'_>,
    access: Access<'_>,
) -> Result<Vec<PlacedFace>, ProjectError> {
    let mut faces = Vec::new();
    for sheet in sheets {
        let bytes = access.read(sheet, LARGEST)?;
        let css = String::from_utf8_lossy(&bytes);
        let (more, problems) = font_faces(&css, &sheet.display().to_string(), site, SCREEN);
        faces.extend(more);
        for problem in &problems {
            tell(problem, access);
        }
    }
    Ok(faces)
}

/// Says what was left out of a page or sheet.
pub fn tell(problem: &PageProblem, access: Access<'_>) {
    access.note(&format!(
        "{}:{}: {}",
        problem.file, problem.line, problem.what
    ));
}

/// The platforms called `names`; by default those of the project, else all that
/// are built in.
pub fn named_platforms(
    names: &[String],
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<Vec<NamedPlatform>, ProjectError> {
    let mut names = names.to_vec();
    if names.is_empty()
        && let Some(project) = project
    {
        names = project
            .platforms
            .iter()
            .map(|name| project.platform(name))
            .collect();
    }
    if names.is_empty() {
        names = platform::platforms()
            .iter()
            .map(|known| known.name.clone())
            .collect();
    }
    names
        .iter()
        .map(|name| {
            let platform = if name == "here" {
                platforms::here(access)?
            } else {
                platforms::platform(name, platform::platforms(), access)?
            };
            let folder = Path::new(name)
                .parent()
                .map(Path::to_owned)
                .unwrap_or_default();
            Ok(NamedPlatform { platform, folder })
        })
        .collect()
}
