//! The stack that the command line or the project names, and the devices to look
//! at it on.

use std::collections::HashSet;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use tidy_lattice_core::font::Engines;
use tidy_lattice_core::lattice::{
    Arrival, Candidate, Entry, Fonts, Request, Resolved, WebFace, resolve,
};
use tidy_lattice_core::page::{PageProblem, PlacedFace, TextStyle, Unread, font_faces};
use tidy_lattice_core::platform::{self, Platform};
use tidy_lattice_core::style::read::{FamilyName, families};

use super::built::{sheet_of, stack_of_role};
use super::faces::face;
use super::file::{Project, Role};
use super::request::{SiteRequest, StackRequest};
use super::web::{FontLoader, LARGEST, SCREEN, Site};
use super::{Access, ProjectError, platforms};

/// The platform that has nothing but generic families.
const BARE: &str = "bare";

/// Everything that says which font shows a text.
pub struct NamedStack {
    /// The style: families, weight and so on.
    pub style: TextStyle,
    /// The language of the text (BCP 47), where it is known.
    pub language: Option<String>,
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
        let mut built = None;
        if request.fonts.is_empty() {
            match named_families(request, project, &mut style)? {
                NamedFamilies::Listed(families) => style.families = families,
                NamedFamilies::Built(role) => built = Some(role),
            }
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
        let named = sheets.first().map(PathBuf::as_path);
        let site = site(&request.site, project, named, access)?;
        let mut placed = faces_of_sheets(&sheets, &site, access)?;
        if let (Some(role), Some(project)) = (built, project) {
            let (families, faces) = stack_of_role(project, &role, &site)?;
            style.families = families;
            placed.extend(faces);
        }
        let mut seen = HashSet::new();
        placed.retain(|face| seen.insert((face.file.clone(), face.line)));
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
            language: None,
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
                engines: device.map_or(Engines::USUAL, |device| device.platform().engines),
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
            hosted: false,
        };
        let language = self.language.as_deref();
        resolve(
            &Request::of(&self.style).in_language(language, device),
            fonts,
        )
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

/// Where the families of a stack come from.
enum NamedFamilies {
    /// They are listed.
    Listed(Vec<FamilyName>),
    /// `build` makes them for this role.
    Built(String),
}

fn named_families(
    request: &StackRequest,
    project: Option<&Project>,
    style: &mut TextStyle,
) -> Result<NamedFamilies, ProjectError> {
    let invalid = |stack: &str| {
        ProjectError::Usage(format!(
            "--stack {stack:?} is no list of families as font-family takes it; quote names that \
             hold signs or digits at the start of a word"
        ))
    };
    if let Some(stack) = &request.stack {
        let listed = families(stack).ok_or_else(|| invalid(stack))?;
        return Ok(NamedFamilies::Listed(listed));
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
        return Ok(NamedFamilies::Built(name.to_owned()));
    }
    let listed = families(&role.stack).ok_or_else(|| invalid(&role.stack))?;
    Ok(NamedFamilies::Listed(listed))
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
///
/// # Errors
///
/// [`ProjectError::Usage`] where a map is none, or the root is no folder.
pub fn site<'a>(
    request: &SiteRequest,
    project: Option<&Project>,
    file: Option<&Path>,
    access: Access<'a>,
) -> Result<Site<'a>, ProjectError> {
    let folder_of = |path: &Path| path.parent().map(Path::to_owned).unwrap_or_default();
    let declared = project.and_then(|project| Some(project.path(project.root.as_ref()?)));
    let known = request.root.clone().or(declared);
    if let Some(root) = known.as_ref().filter(|root| !access.is_folder(root)) {
        return Err(ProjectError::Usage(format!(
            "the root of the site is to be {}, but there is no such folder; name the one \
             that \"/\" in its links means",
            root.display()
        )));
    }
    let root_is_known = known.is_some();
    let root = match (known, project) {
        (Some(root), _) => root,
        (None, Some(project)) => project.path(""),
        (None, None) => file.map(folder_of).unwrap_or_default(),
    };
    let mut maps = Vec::new();
    for map in &request.maps {
        let split = map.rsplit_once('=').filter(|(url, path)| {
            (url.contains("//") || url.starts_with("http")) && !path.is_empty()
        });
        let Some((url, path)) = split else {
            return Err(ProjectError::Usage(format!(
                "--map {map:?}: write URL-PREFIX=FILE-OR-FOLDER, such as \
                 https://fonts.example/=fonts/"
            )));
        };
        maps.push((whole_url(url), PathBuf::from(path)));
    }
    if let Some(project) = project {
        let of_project = project.map.iter();
        maps.extend(of_project.map(|(url, path)| (whole_url(url), project.path(path))));
    }
    for (url, path) in &maps {
        if !access.exists(path) {
            return Err(ProjectError::Usage(format!(
                "{url} is to be read from {}, but there is no such file or folder",
                path.display()
            )));
        }
    }
    let mut site = Site::new(root, root_is_known, maps, access);
    if let Some(project) = project {
        let mut folders = vec![project.path("")];
        folders.extend(project.may_read.iter().map(|folder| project.path(folder)));
        site.confine(&folders);
    }
    if let (Some(project), Some(css)) = (project, &request.made) {
        site.made = Some((sheet_of(project), css.clone()));
    }
    Ok(site)
}

/// A URL with its scheme.
fn whole_url(url: &str) -> String {
    if url.starts_with("//") {
        format!("https:{url}")
    } else {
        url.to_owned()
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
        tell(&problems, access);
    }
    Ok(faces)
}

/// Says what was left out of pages and sheets, each thing once with how often.
pub fn tell(problems: &[PageProblem], access: Access<'_>) {
    let mut counted: Vec<(&PageProblem, usize)> = Vec::new();
    for problem in problems {
        match counted
            .iter_mut()
            .find(|(known, _)| known.what == problem.what)
        {
            Some((_, count)) => *count += 1,
            None => counted.push((problem, 1)),
        }
    }
    for (problem, count) in counted {
        let more = match count {
            1 => String::new(),
            2 => " (and at one more place)".to_owned(),
            count => format!(" (and at {} more places)", count - 1),
        };
        access.note(&format!(
            "{}:{}: {}{more}",
            problem.file, problem.line, problem.what
        ));
    }
}

/// Whether something that is named on this machine could not be read: a finding.
pub fn any_unreadable(problems: &[PageProblem]) -> bool {
    let unread = problems
        .iter()
        .filter_map(|problem| problem.unread.as_ref());
    unread.into_iter().any(|unread| *unread != Unread::Remote)
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
        // A device of which nothing is known is only looked at where it is asked for.
        let known = platform::platforms().iter();
        names = known
            .filter(|known| known.name != BARE)
            .map(|known| known.name.clone())
            .collect();
    }
    let cards = project.map_or_else(Vec::new, Project::own_cards);
    let more_cards = match cards.as_slice() {
        [] => Vec::new(),
        cards => platforms::faces_of(cards, access)?,
    };
    names
        .iter()
        .map(|name| {
            let mut platform = if name == "here" {
                platforms::here(access)?
            } else {
                platforms::platform(name, platform::platforms(), access)?
            };
            platform.take_cards(&more_cards);
            let folder = Path::new(name)
                .parent()
                .map(Path::to_owned)
                .unwrap_or_default();
            Ok(NamedPlatform { platform, folder })
        })
        .collect()
}
