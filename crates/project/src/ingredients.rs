//! What stacks are built from: the roles of the command line or the project, with
//! their fonts, texts and the families of platforms.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use tidy_lattice_core::font::{CharacterSet, Face, FacePick};
use tidy_lattice_core::need::{Need, language_need};
use tidy_lattice_core::page::Page;
use tidy_lattice_core::platform::Device;
use tidy_lattice_core::stack::{WebSlice, stack_property};
use tidy_lattice_core::standin::SetText;
use tidy_lattice_core::style::{class_name, family_list, quoted, url_path};
use tidy_lattice_core::text::{Source, samples};

use super::built::sheet_of;
use super::declared;
use super::faces::face;
use super::file::{Project, Role};
use super::files::matching;
use super::fonts::{split, web_face};
use super::request::{BuildParts, SiteRequest, StackRequest, SurveyRequest};
use super::sampling::words_of;
use super::set_pages::{self, SetPage};
use super::stack::{NamedPlatform, named_platforms};
use super::survey::gather;
use super::texts::{some_text, text_file};
use super::web_family::{self, WebPart};
use super::{Access, ProjectError, Quiet};

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
    pub line_height_stated: bool,
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
        let (roles, pages) = if request.web.is_empty() {
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

struct Reader<'a> {
    request: &'a BuildParts,
    project: Option<&'a Project>,
    access: Access<'a>,
    sheet_folder: &'a Path,
}

impl Reader<'_> {
    /// The role that the command line describes.
    fn command_line(&self) -> Result<RoleParts, ProjectError> {
        let request = self.request;
        let (mut web, of_sheet) =
            self.web(&request.web, &request.weights, request.family.as_deref())?;
        let named = request.family.clone().or(of_sheet);
        let family = named.unwrap_or_else(|| web_family::name_of(&web, self.access));
        if let Some(url) = &request.url {
            if web.len() > 1 {
                return Err(ProjectError::Usage(
                    "--url is for one web font; with several their paths are used".to_owned(),
                ));
            }
            web[0].url.clone_from(url);
        }
        let signs = request.signs.iter().map(|sign| {
            let (font, signs) = match sign.split_once('=') {
                Some((font, signs)) if !self.access.exists(Path::new(sign)) => (font, signs),
                _ => (sign.as_str(), ""),
            };
            self.sign(Path::new(font), signs)
        });
        let given = !(request.text.files.is_empty() && request.text.texts.is_empty());
        let (texts, need) = if given {
            let texts = some_text(&request.text, self.access)?;
            let need = Need::gather(&texts);
            (texts, need)
        } else {
            words_of(&request.language, "--language", 1)?;
            (Vec::new(), need_of(&request.language))
        };
        Ok(RoleParts {
            name: request.role.clone().unwrap_or_else(|| family.clone()),
            family,
            signs: signs.collect::<Result<_, _>>()?,
            scripts: self.scripts(&request.scripts)?,
            locals: self.locals(&request.locals)?,
            need,
            texts,
            languages: Vec::new(),
            sizes: request.sizes.clone(),
            widths: or_usual(&request.widths, &usual_widths()),
            line_height_stated: request.line_height.is_some(),
            generic: request.generic.clone(),
            web,
        })
    }

    /// The roles of the project that have a web font, and its pages.
    fn roles(&self) -> Result<(Vec<RoleParts>, Vec<SetPage>), ProjectError> {
        let Some(project) = self.project else {
            return Err(ProjectError::Usage(
                "there is no web font: name its files with --web, or write a project file \
                 (tidy-lattice.toml) with roles that have them"
                    .to_owned(),
            ));
        };
        if let Some(name) = self
            .request
            .role
            .as_ref()
            .filter(|name| !project.role.contains_key(*name))
        {
            let names: Vec<&str> = project.role.keys().map(String::as_str).collect();
            return Err(ProjectError::Usage(format!(
                "the project has no role {name:?}; it has {}",
                names.join(", ")
            )));
        }
        if project.role.values().all(|role| role.web.is_empty()) {
            return Err(ProjectError::Usage(format!(
                "{}: no role has a web font; add web = [\"fonts/Brand.woff2\"] to one",
                project.path(super::file::NAME).display()
            )));
        }
        let (mut pages, mut set) = (Vec::new(), Vec::new());
        if !project.content.is_empty() {
            let site = SiteRequest {
                made: Some(self.web_fonts_alone(project)?),
                ..self.request.site.clone()
            };
            set = set_pages::read(project, &site, self.access)?;
            let request = SurveyRequest {
                stack: StackRequest {
                    site,
                    ..StackRequest::default()
                },
                ..SurveyRequest::default()
            };
            pages = gather(&request, Some(project), self.access)?.pages;
        }
        let wanted = project.role.iter().filter(|(name, role)| {
            !role.web.is_empty()
                && self
                    .request
                    .role
                    .as_ref()
                    .is_none_or(|asked| asked == *name)
        });
        let roles = wanted.map(|(name, role)| self.role(project, name, role, &pages));
        Ok((roles.collect::<Result<_, _>>()?, set))
    }

    /// What stands for the style sheet of `build`: each role's web font and its family as
    /// the stack. So pages that ask for the stack are known to be set in it, before the first
    /// run as after it, and stand-ins of the last run have no say in those of this one.
    fn web_fonts_alone(&self, project: &Project) -> Result<String, ProjectError> {
        // What there is to say of these files is said when they are read to be built from.
        let sheet = sheet_of(project);
        let quiet = Reader {
            access: Access {
                watch: &Quiet,
                ..self.access
            },
            sheet_folder: sheet.parent().unwrap_or(Path::new("")),
            ..*self
        };
        let mut css = String::new();
        for (name, role) in project.role.iter().filter(|(_, role)| !role.web.is_empty()) {
            let paths: Vec<PathBuf> = role.web.iter().map(|path| project.path(path)).collect();
            let (web, of_sheet) = quiet.web(&paths, &role.weights, role.family.as_deref())?;
            let named = role.family.clone().or(of_sheet);
            let family = named.unwrap_or_else(|| web_family::name_of(&web, quiet.access));
            for part in &web {
                css.push_str(&font_face_of(part, &family));
            }
            let property = stack_property(name);
            let class = class_name(name);
            let _ = writeln!(
                css,
                ":root {{ {property}: {} }} .{class} {{ font-family: var({property}) }}",
                family_list([family.as_str()], "serif")
            );
        }
        Ok(css)
    }

    fn role(
        &self,
        project: &Project,
        name: &str,
        role: &Role,
        pages: &[Page],
    ) -> Result<RoleParts, ProjectError> {
        let request = self.request;
        let paths = |paths: &[PathBuf]| -> Vec<PathBuf> {
            paths.iter().map(|path| project.path(path)).collect()
        };
        let weights = if request.weights.is_empty() {
            &role.weights
        } else {
            &request.weights
        };
        let (web, of_sheet) = self.web(&paths(&role.web), weights, role.family.as_deref())?;
        let named = role.family.clone().or(of_sheet);
        let family = named.unwrap_or_else(|| web_family::name_of(&web, self.access));
        let signs = role
            .signs
            .iter()
            .map(|sign| self.sign(&project.path(&sign.font), &sign.signs));
        let mut texts = Vec::new();
        for content in &project.content {
            if content.role.as_deref() == Some(name) {
                for path in matching(project, content, self.access)? {
                    texts.push(text_file(&path, self.access)?);
                }
            }
        }
        texts.extend(pages.iter().filter_map(|page| in_family(page, &family)));
        let languages: Vec<&String> = role
            .languages
            .iter()
            .chain(
                project
                    .content
                    .iter()
                    .filter(|content| content.role.as_deref() == Some(name))
                    .flat_map(|content| &content.languages),
            )
            .collect();
        let mut need = Need::gather(&texts);
        if texts.iter().all(|text| text.text.trim().is_empty()) {
            let tag = languages
                .first()
                .map_or(request.language.as_str(), |tag| tag.as_str());
            self.access.note(&format!(
                "role {name} has no text, so widths are fitted on the most frequent words of \
                 language {tag}"
            ));
            need = need_of(tag);
        }
        for tag in &languages {
            need = Need::merged([&need, &need_of_letters(tag)]);
        }
        let mut sizes: Vec<f32> = role
            .size
            .into_iter()
            .chain(role.sizes.iter().copied())
            .collect();
        if !request.sizes.is_empty() {
            sizes.clone_from(&request.sizes);
        }
        let widths = if request.widths.is_empty() {
            &role.widths
        } else {
            &request.widths
        };
        Ok(RoleParts {
            name: name.to_owned(),
            family,
            web,
            signs: signs.collect::<Result<_, _>>()?,
            scripts: self.scripts(&paths(&role.scripts))?,
            locals: self.locals(&if request.locals.is_empty() {
                paths(&role.locals)
            } else {
                request.locals.clone()
            })?,
            texts,
            languages: languages.into_iter().cloned().collect(),
            need,
            sizes,
            widths: or_usual(widths, &usual_widths()),
            line_height_stated: request.line_height.or(role.line_height).is_some(),
            generic: request.generic.clone().or_else(|| role.generic.clone()),
        })
    }

    /// The files of the web font, of style sheets those that their rules name; the
    /// family that a sheet gives them.
    fn web(
        &self,
        named: &[PathBuf],
        weights: &[f32],
        family: Option<&str>,
    ) -> Result<(Vec<WebPart>, Option<String>), ProjectError> {
        let mut parts = Vec::new();
        let mut family_of_sheet = None;
        for named in named {
            if declared::is_sheet(named) {
                let (name, faces) = declared::of_sheet(named, family, self.access)?;
                family_of_sheet.get_or_insert(name);
                for face in faces {
                    parts.push(self.declared_part(named, face, weights));
                }
            } else {
                parts.push(self.file_part(named, weights)?);
            }
        }
        let parts = web_family::joined(parts, self.access);
        Ok((parts, family_of_sheet))
    }

    /// A face that a sheet declares.
    fn declared_part(
        &self,
        sheet: &Path,
        given: declared::DeclaredFace,
        weights: &[f32],
    ) -> WebPart {
        let declared::DeclaredFace {
            face,
            weight,
            widths,
            files,
        } = given;
        let slices: Vec<WebSlice> = files
            .iter()
            .map(|file| WebSlice {
                sources: file
                    .sources
                    .iter()
                    .map(|(path, format)| (self.url(path), format.clone()))
                    .collect(),
                range: file.range.clone(),
            })
            .collect();
        let url = slices
            .first()
            .and_then(|slice| slice.sources.first())
            .map_or_else(String::new, |(url, _)| url.clone());
        let varies = weight.0 < weight.1;
        let faces = if varies {
            let values = |weight: &f32| [("wght".to_owned(), *weight)];
            weights_within(weights, weight)
                .iter()
                .map(|weight| face.at(&values(weight)).unwrap_or_else(|| face.clone()))
                .collect()
        } else {
            vec![face]
        };
        WebPart {
            named: sheet.to_owned(),
            faces,
            url,
            weights: varies.then_some(weight),
            widths,
            // One file without a range is a rule as any other.
            slices: if slices.len() > 1 || files.iter().any(|file| file.ranged) {
                slices
            } else {
                Vec::new()
            },
        }
    }

    fn file_part(&self, named: &Path, weights: &[f32]) -> Result<WebPart, ProjectError> {
        let (path, pick) = split(named, self.access);
        let main = web_face(named, self.access)?;
        let axes = (main.axis("wght"), main.axis("wdth"));
        let mut faces = vec![main];
        if let (Some(range), true) = (axes.0, pick == FacePick::default()) {
            faces = weights_within(weights, range)
                .iter()
                .map(|weight| {
                    let at = format!("{}@wght={weight}", path.display());
                    web_face(Path::new(&at), self.access)
                })
                .collect::<Result<_, _>>()?;
        }
        let whole = pick == FacePick::default();
        Ok(WebPart {
            named: named.to_owned(),
            faces,
            url: self.url(&path),
            weights: axes.0.filter(|_| whole),
            widths: axes.1.filter(|_| whole),
            slices: Vec::new(),
        })
    }

    fn sign(
        &self,
        font: &Path,
        signs: &str,
    ) -> Result<(Face, String, Option<CharacterSet>), ProjectError> {
        let face = web_face(font, self.access)?;
        let wanted = (!signs.is_empty()).then(|| {
            CharacterSet::parse(signs)
                .unwrap_or_else(|| CharacterSet::of(signs.chars().map(u32::from)))
        });
        Ok((face, self.url(&split(font, self.access).0), wanted))
    }

    fn scripts(&self, fonts: &[PathBuf]) -> Result<Vec<(Face, String)>, ProjectError> {
        fonts
            .iter()
            .map(|font| {
                Ok((
                    web_face(font, self.access)?,
                    self.url(&split(font, self.access).0),
                ))
            })
            .collect()
    }

    /// Local fonts by family, in order.
    fn locals(&self, named: &[PathBuf]) -> Result<Vec<LocalPart>, ProjectError> {
        let mut parts: Vec<LocalPart> = Vec::new();
        for path in named {
            let face = Arc::new(face(path, self.access)?);
            let family = face.names().family.clone();
            // A second face of the same weight and slope is another family of
            // the same name.
            let same = |other: &Arc<Face>| {
                (other.weight(), other.slope()) == (face.weight(), face.slope())
            };
            let known = parts
                .iter_mut()
                .find(|part| part.name == family && !part.faces.iter().any(same));
            match known {
                Some(part) => part.faces.push(face),
                None => parts.push(LocalPart {
                    name: family,
                    faces: vec![face],
                    platforms: Vec::new(),
                    key: Vec::new(),
                }),
            }
        }
        Ok(parts)
    }

    /// The path from the style sheet to `file`, as a URL.
    fn url(&self, file: &Path) -> String {
        let absolute = |path: &Path| std::path::absolute(path).ok();
        let from_sheet = absolute(file).and_then(|file| {
            let folder = absolute(self.sheet_folder).or_else(|| std::env::current_dir().ok())?;
            pathdiff::diff_paths(file, folder)
        });
        let path = from_sheet.unwrap_or_else(|| file.to_owned());
        url_path(&path.to_string_lossy().replace('\\', "/"))
    }
}

/// The rules of a web font's file, or files, without more than pages are laid out by.
fn font_face_of(part: &WebPart, family: &str) -> String {
    let face = &part.faces[0];
    let weight = part.weights.unwrap_or((face.weight(), face.weight()));
    let width = part.widths.unwrap_or((face.width(), face.width()));
    let traits = format!(
        "font-family: {}; font-weight: {} {}; font-stretch: {}% {}%; font-style: {}",
        quoted(family),
        weight.0,
        weight.1,
        width.0,
        width.1,
        face.slope().css()
    );
    let rule = |url: &str, range: String| {
        format!(
            "@font-face {{ {traits}; src: url({}){range} }}\n",
            quoted(url)
        )
    };
    if part.slices.is_empty() {
        return rule(&part.url, String::new());
    }
    let slices = part.slices.iter().filter_map(|slice| {
        let (url, _) = slice.sources.first()?;
        Some(rule(url, format!("; unicode-range: {}", slice.range.css())))
    });
    slices.collect()
}

/// What a passage of the language `tag` asks for, else its letters.
fn need_of(tag: &str) -> Need {
    match samples::of(tag) {
        Some(passage) => Need::gather(&[passage]),
        None => need_of_letters(tag),
    }
}

/// What the letters and signs of the language `tag` ask for.
fn need_of_letters(tag: &str) -> Need {
    Need::gather(&[Source {
        name: format!("language {tag}"),
        text: language_need(tag).unwrap_or_default().join(" "),
    }])
}

fn or_usual<T: Clone>(given: &[T], usual: &[T]) -> Vec<T> {
    if given.is_empty() {
        usual.to_vec()
    } else {
        given.to_vec()
    }
}

/// The weights in use that a font has, lightest first.
fn weights_within(weights: &[f32], range: (f32, f32)) -> Vec<f32> {
    let wanted = if weights.is_empty() {
        &[400.0][..]
    } else {
        weights
    };
    let mut wanted: Vec<f32> = wanted
        .iter()
        .map(|weight| weight.clamp(range.0, range.1))
        .collect();
    wanted.sort_by(f32::total_cmp);
    wanted.dedup();
    wanted
}

/// The texts of a page that are set in `family`, each a paragraph.
fn in_family(page: &Page, family: &str) -> Option<Source> {
    let asks = |style: usize| {
        let families = &page.styles[style].families;
        families
            .iter()
            .any(|name| name.as_str().eq_ignore_ascii_case(family))
    };
    let texts: Vec<&str> = page
        .texts
        .iter()
        .filter(|text| asks(text.style))
        .map(|text| text.text.as_str())
        .collect();
    (!texts.is_empty()).then(|| Source {
        name: page.name.clone(),
        text: texts.join("\n\n"),
    })
}
