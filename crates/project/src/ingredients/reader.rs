//! Reads the roles of the command line or of the project, with their fonts and texts.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use tidy_lattice_core::font::{CharacterSet, Face, FacePick};
use tidy_lattice_core::need::{Need, language_need};
use tidy_lattice_core::page::Page;
use tidy_lattice_core::stack::{WebSlice, stack_property};
use tidy_lattice_core::style::{class_name, family_list, quoted, url_path};
use tidy_lattice_core::text::{Source, samples};

use crate::built::sheet_of;
use crate::declared;
use crate::faces::face;
use crate::file::{Project, Role};
use crate::files::{is_page, matching};
use crate::fonts::{split, web_face};
use crate::request::{BuildParts, SiteRequest, StackRequest, SurveyRequest, TextRequest};
use crate::sampling::words_of;
use crate::set_pages::{self, SetPage};
use crate::stack::site;
use crate::survey::gather;
use crate::texts::{some_text, text_file};
use crate::web_family::{self, WebPart};
use crate::{Access, ProjectError, Quiet};

use super::{LocalPart, RoleParts, or_usual, usual_widths};

/// What is read from, and for what.
pub(super) struct Reader<'a> {
    pub(super) request: &'a BuildParts,
    pub(super) project: Option<&'a Project>,
    pub(super) access: Access<'a>,
    pub(super) sheet_folder: &'a Path,
}

impl Reader<'_> {
    /// The role that the command line describes.
    pub(super) fn command_line(&self) -> Result<RoleParts, ProjectError> {
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
            kept: Vec::new(),
            locals: self.locals(&request.locals)?,
            need,
            texts,
            languages: Vec::new(),
            sizes: request.sizes.clone(),
            widths: or_usual(&request.widths, &usual_widths()),
            line_height_specified: request.line_height.is_some(),
            generic: request.generic.clone(),
            web,
        })
    }

    /// The roles of the project that have a web font, and its pages.
    pub(super) fn roles(&self) -> Result<(Vec<RoleParts>, Vec<SetPage>), ProjectError> {
        let Some(project) = self.project else {
            return Err(ProjectError::Usage(
                "there is no web font: name its files with --web, or write a project file \
                 (tidy-lattice.toml) with roles that have them; --use interface, reading or code \
                 makes a stack without one"
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
        if !project.role.values().any(Role::is_built) {
            return Err(ProjectError::Usage(format!(
                "{}: no role has a web font; add web = [\"fonts/Brand.woff2\"] to one, or use = \
                 \"reading\" for a stack of installed families, or name pages, whose own web \
                 fonts then make the stacks: tidy-lattice build {}",
                project.path(crate::file::NAME).display(),
                folder_of_content(project)
            )));
        }
        let (mut pages, mut set) = (Vec::new(), Vec::new());
        let named = &self.request.pages;
        if !project.content.is_empty() || !named.is_empty() {
            let site = SiteRequest {
                made: Some(self.web_fonts_alone(project)?),
                ..self.request.site.clone()
            };
            set = set_pages::read(named, project, &site, self.access)?;
            let request = SurveyRequest {
                text: TextRequest {
                    files: named.clone(),
                    ..TextRequest::default()
                },
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
            css.push_str(&stack_rules(name, &family_list([family.as_str()], "serif")));
        }
        // What devices have is no web font: nothing is fitted on texts that are set in it.
        for (name, role) in &project.role {
            if let Some(text_use) = role.text_use {
                let generic = text_use.class().generic().unwrap_or("serif");
                css.push_str(&stack_rules(name, generic));
            }
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
            kept: self.kept(project, role)?,
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
            line_height_specified: request.line_height.or(role.line_height).is_some(),
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
            if declared::is_sheet(named) || is_page(named) {
                let site = site(&self.request.site, self.project, Some(named), self.access)?;
                let (name, faces) = declared::of_sheet(named, family, &site, self.access)?;
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

    /// The further web fonts of a role.
    fn kept(&self, project: &Project, role: &Role) -> Result<Vec<(String, Face)>, ProjectError> {
        let kept = role.keep.iter().map(|rule| {
            let from = project.path(&rule.from);
            let site = site(&self.request.site, self.project, Some(&from), self.access)?;
            let face = declared::main_face(&from, Some(&rule.family), &site, self.access)?;
            Ok((rule.family.clone(), face))
        });
        kept.collect()
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

    /// The root of the site.
    fn root(&self) -> PathBuf {
        let declared = self.request.site.root.clone();
        let of_project = |project: &Project| match &project.root {
            Some(root) => project.path(root),
            None => project.path(""),
        };
        declared
            .or_else(|| self.project.map(of_project))
            .unwrap_or_default()
    }

    /// The path from the style sheet to `file`, as a URL; with a base of URLs from the root
    /// of the site, or for what lies elsewhere its name.
    fn url(&self, file: &Path) -> String {
        let absolute = |path: &Path| std::path::absolute(path).ok();
        let of_project = self
            .project
            .and_then(|project| project.build.url_base.as_ref());
        if let Some(base) = self.request.url_base.as_ref().or(of_project) {
            let inside = absolute(file)
                .zip(absolute(&self.root()))
                .and_then(|(file, root)| Some(file.strip_prefix(root).ok()?.to_owned()));
            let name = file.file_name().map(PathBuf::from);
            let path = inside.or(name).unwrap_or_default();
            let path = url_path(&path.to_string_lossy().replace('\\', "/"));
            return format!("{}/{path}", base.trim_end_matches('/'));
        }
        let from_sheet = absolute(file).and_then(|file| {
            let folder = absolute(self.sheet_folder).or_else(|| std::env::current_dir().ok())?;
            pathdiff::diff_paths(file, folder)
        });
        let path = from_sheet.unwrap_or_else(|| file.to_owned());
        url_path(&path.to_string_lossy().replace('\\', "/"))
    }
}

/// The custom property and the class of a role.
fn stack_rules(role: &str, stack: &str) -> String {
    let property = stack_property(role);
    let class = class_name(role);
    format!(":root {{ {property}: {stack} }} .{class} {{ font-family: var({property}) }}\n")
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
pub fn need_of(tag: &str) -> Need {
    match samples::of(tag) {
        Some(passage) => Need::gather(&[passage]),
        None => need_of_letters(tag),
    }
}

/// What the letters and signs of the language `tag` ask for.
pub fn need_of_letters(tag: &str) -> Need {
    Need::gather(&[Source {
        name: format!("language {tag}"),
        text: language_need(tag).unwrap_or_default().join(" "),
    }])
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

/// A folder of the project's content, as an example.
fn folder_of_content(project: &Project) -> String {
    let mut files = project.content.iter().flat_map(|content| &content.files);
    let first = files.next().map(PathBuf::from).unwrap_or_default();
    let plain = first.components().take_while(|part| {
        let part = part.as_os_str().to_string_lossy();
        !part.contains(['*', '?', '[', '{', '.'])
    });
    let folder: PathBuf = plain.collect();
    match folder.as_os_str().is_empty() {
        true => "site/".to_owned(),
        false => project.path(&folder).display().to_string(),
    }
}
