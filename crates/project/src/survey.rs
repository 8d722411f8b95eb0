//! Texts from where the user or the project says, as buckets of a survey.

use std::collections::{HashMap, HashSet};
use std::path::PathBuf;
use std::sync::Arc;

use rayon::prelude::*;
use tidy_lattice_core::content::{Format, NO_RESOURCES, Part, Reading, language_of_path};
use tidy_lattice_core::lattice::survey::{Allowed, Bucket, Survey};
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::need::{Counter, Need, language_need};
use tidy_lattice_core::page::{self, Page, PageProblem, PlacedFace, TextOrigin, TextStyle, Unread};
use tidy_lattice_core::style::read::{FaceSource, FamilyName, FontFace, families};

use super::built::stack_of_role;
use super::counting::{Counted, count};
use super::faces::face;
use super::file::Project;
use super::files::{in_folder, matching};
use super::folders::font_files_and_cards;
use super::fonts::split;
use super::request::SurveyRequest;
use super::stack::{apply_role, faces_of_sheets, site, tell};
use super::texts::{content_error, decoded};
use super::web::{FontLoader, SCREEN, Site};
use super::{Access, ProjectError};

/// Content beyond this size is refused, in bytes: 1 GiB.
const LARGEST: u64 = 1 << 30;

/// What was gathered.
pub struct Gathered {
    /// The texts and how they are set.
    pub survey: Survey,
    /// Whether the stack was given as fonts on the command line.
    pub given: bool,
    /// What could not be read of pages and sheets.
    pub problems: Vec<PageProblem>,
    /// The pages.
    pub pages: Vec<Page>,
}

/// A text file to read, and how.
struct TextFile {
    path: PathBuf,
    /// Whether it was named itself, not its folder or a pattern.
    by_name: bool,
    role: Option<String>,
    language: Option<String>,
}

/// What a file gave.
enum Texts {
    Page(Page),
    Counted(Counted),
}

/// Reads everything that `request`, or else the project, names.
///
/// # Errors
///
/// [`ProjectError`] where something that was named cannot be had, or there is no
/// text at all.
pub fn gather(
    request: &SurveyRequest,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<Gathered, ProjectError> {
    gather_with(request, project, &HashMap::new(), access)
}

/// [`gather`] with pages that were read before, by path.
///
/// # Errors
///
/// As [`gather`].
pub fn gather_with(
    request: &SurveyRequest,
    project: Option<&Project>,
    pages: &HashMap<PathBuf, Page>,
    access: Access<'_>,
) -> Result<Gathered, ProjectError> {
    // Fonts by themselves are a stack for the project's texts, too.
    let piped = request.text.piped.as_ref();
    let from_project = request.text.is_empty()
        && piped.is_none_or(|piped| piped.text.trim().is_empty())
        && request.languages.is_empty()
        && request.stack.stack.is_none()
        && request.stack.role.is_none()
        && project.is_some();
    let named = request.stack.sheets.first().or(request.text.files.first());
    let named = named.map(PathBuf::as_path);
    let site = site(&request.stack.site, project, named, access)?;
    let mut builder = Builder::new(request, project, &site, access)?;
    builder.read = Some(pages);
    match project {
        Some(project) if from_project => builder.project(project)?,
        _ => builder.arguments(request)?,
    }
    builder.finish(request)
}

/// Puts a survey together.
struct Builder<'a> {
    survey: Survey,
    project: Option<&'a Project>,
    site: &'a Site<'a>,
    access: Access<'a>,
    loader: FontLoader<'a>,
    /// The style of texts that are no pages, by role.
    roles: HashMap<String, usize>,
    /// Numbers of styles by what they print as.
    styles: HashMap<String, usize>,
    /// Numbers of sets of rules by where these stand.
    webs: HashMap<Vec<(String, u32)>, usize>,
    given: bool,
    problems: Vec<PageProblem>,
    pages: Vec<Page>,
    /// Pages that were read before.
    read: Option<&'a HashMap<PathBuf, Page>>,
}

/// The role of texts that the command line names.
const ROLE: &str = "text";

impl<'a> Builder<'a> {
    fn new(
        request: &SurveyRequest,
        project: Option<&'a Project>,
        site: &'a Site<'a>,
        access: Access<'a>,
    ) -> Result<Self, ProjectError> {
        let mut builder = Builder {
            survey: Survey::default(),
            project,
            site,
            access,
            loader: FontLoader::new(site, access),
            roles: HashMap::new(),
            styles: HashMap::new(),
            webs: HashMap::new(),
            given: !request.stack.fonts.is_empty(),
            problems: Vec::new(),
            pages: Vec::new(),
            read: None,
        };
        let mut sheets = request.stack.sheets.clone();
        if sheets.is_empty()
            && let Some(project) = project
        {
            sheets = project
                .sheets
                .iter()
                .map(|sheet| project.path(sheet))
                .collect();
        }
        let mut placed = faces_of_sheets(&sheets, site, access)?;
        let mut of_roles = HashMap::new();
        if let (Some(project), false, None) = (project, builder.given, &request.stack.stack) {
            for (name, role) in &project.role {
                if role.stack.is_empty() {
                    let (families, faces) = stack_of_role(project, name, site)?;
                    of_roles.insert(name, families);
                    placed.extend(faces);
                }
            }
        }
        let mut seen = HashSet::new();
        placed.retain(|face| seen.insert((face.file.clone(), face.line)));
        builder.web(&placed, false);
        if builder.given {
            builder.given_fonts(&request.stack.fonts, access)?;
        } else if let Some(stack) = &request.stack.stack {
            let list = families(stack).ok_or_else(|| {
                ProjectError::Usage(format!(
                    "--stack {stack:?} is no list of families as font-family takes it; quote \
                     names that hold signs or digits at the start of a word"
                ))
            })?;
            let style = builder.style(TextStyle::of_families(list));
            builder.roles.insert(ROLE.to_owned(), style);
        } else if let Some(project) = project {
            for (name, role) in &project.role {
                let built = of_roles.remove(name);
                let list = built.or_else(|| families(&role.stack));
                let mut style = TextStyle::of_families(list.unwrap_or_default());
                apply_role(&mut style, role);
                let style = builder.style(style);
                builder.roles.insert(name.clone(), style);
            }
        }
        let known = request.known.iter().cloned().chain(
            project
                .into_iter()
                .flat_map(|project| project.known_fonts.iter().map(|font| project.path(font))),
        );
        for path in known {
            for file in font_files_and_cards(&[path], access)? {
                let face = face(&file.path, access)?;
                builder.survey.known.push((face.names().label(), face));
            }
        }
        let allowed = request.allow.iter();
        let allowed = allowed.chain(project.into_iter().flat_map(|project| &project.cover.allow));
        for text in allowed {
            let rule = Allowed::read(text).ok_or_else(|| {
                ProjectError::Usage(format!(
                    "{text:?} is no gap that can be allowed; write U+20B4, U+1F300-1FAFF, the name \
                     of a script, or the characters"
                ))
            })?;
            builder.survey.allowed.push(rule);
        }
        Ok(builder)
    }

    /// Fonts given by themselves are a stack of their own, each a family.
    fn given_fonts(&mut self, fonts: &[PathBuf], access: Access<'_>) -> Result<(), ProjectError> {
        let mut rules = Vec::new();
        let mut list: Vec<FamilyName> = Vec::new();
        for named in fonts {
            let face = face(named, access)?;
            if !face.has_characters() {
                access.note(&format!(
                    "{} has no Unicode character map, so it can serve nothing",
                    face.names().label()
                ));
            }
            let mut name = face.names().label();
            while list.iter().any(|known| known.as_str() == name) {
                name.push('\u{2032}');
            }
            let file = named.display().to_string();
            let bytes = access
                .size(&split(named, access).0)
                .filter(|_| !face.is_card());
            rules.push(WebFace {
                placed: PlacedFace {
                    face: FontFace {
                        family: Some(name.clone()),
                        sources: vec![FaceSource::Url {
                            url: file.clone(),
                            format: None,
                        }],
                        ..FontFace::default()
                    },
                    file: "--font".to_owned(),
                    line: u32::try_from(rules.len() + 1).unwrap_or(u32::MAX),
                    depth: 0,
                },
                files: vec![Some(Ok(WebFile {
                    name: file,
                    bytes,
                    face: Arc::new(face),
                    instances: Default::default(),
                }))],
            });
            list.push(FamilyName::Named(name));
        }
        self.survey.web[0] = rules;
        let style = self.style(TextStyle::of_families(list));
        self.roles.insert(ROLE.to_owned(), style);
        Ok(())
    }

    /// The number of a style; without families the browser's standard font is
    /// meant.
    fn style(&mut self, mut style: TextStyle) -> usize {
        if style.families.is_empty() {
            style.families.push(FamilyName::Generic("serif".to_owned()));
        }
        let next = self.survey.styles.len();
        let number = *self.styles.entry(format!("{style:?}")).or_insert(next);
        if number == next {
            self.survey.styles.push(style);
        }
        number
    }

    /// The number of a set of rules.
    fn web(&mut self, placed: &[PlacedFace], hosted: bool) -> usize {
        let mut key: Vec<(String, u32)> = placed
            .iter()
            .map(|face| (face.file.clone(), face.line))
            .collect();
        if hosted {
            key.push((String::new(), 0));
        }
        if let Some(known) = self.webs.get(&key) {
            return *known;
        }
        let rules = placed.iter().map(|face| self.loader.load(face)).collect();
        self.survey.web.push(rules);
        if hosted {
            self.survey.hosted.insert(self.survey.web.len() - 1);
        }
        self.webs.insert(key, self.survey.web.len() - 1);
        self.survey.web.len() - 1
    }

    fn arguments(&mut self, request: &SurveyRequest) -> Result<(), ProjectError> {
        let role = request.stack.role.clone();
        let mut files = Vec::new();
        for path in &request.text.files {
            if path.as_os_str() == "-" {
                if let Some(source) = &request.text.piped {
                    self.text(&source.name, &source.text, role.as_deref())?;
                }
            } else if self.access.is_folder(path) {
                let found = in_folder(path, self.access)?.into_iter();
                files.extend(found.map(|path| (path, false)));
            } else {
                files.push((path.clone(), true));
            }
        }
        let files = files
            .into_iter()
            .map(|(path, by_name)| TextFile {
                path,
                by_name,
                role: role.clone(),
                language: None,
            })
            .collect();
        self.files(files)?;
        for (number, text) in request.text.texts.iter().enumerate() {
            let name = if request.text.texts.len() == 1 {
                "--text".to_owned()
            } else {
                format!("--text {}", number + 1)
            };
            self.text(&name, text, role.as_deref())?;
        }
        for tag in &request.languages {
            self.language(tag, role.as_deref())?;
        }
        let named = !(request.text.files.is_empty()
            && request.text.texts.is_empty()
            && request.languages.is_empty());
        if !named {
            let Some(source) = &request.text.piped else {
                return Err(ProjectError::Usage(
                    "there is no text: name text files or pages, pipe text in, or give it with \
                     --text; a project file (tidy-lattice.toml) names them for good"
                        .to_owned(),
                ));
            };
            self.text(&source.name, &source.text, role.as_deref())?;
        }
        Ok(())
    }

    fn project(&mut self, project: &Project) -> Result<(), ProjectError> {
        let mut files = Vec::new();
        for content in &project.content {
            for path in matching(project, content, self.access)? {
                files.push(TextFile {
                    path,
                    by_name: false,
                    role: content.role.clone(),
                    language: content.language.clone(),
                });
            }
        }
        self.files(files)?;
        for content in &project.content {
            for tag in &content.languages {
                self.language(tag, content.role.as_deref())?;
            }
        }
        for (name, role) in &project.role {
            for tag in &role.languages {
                self.language(tag, Some(name))?;
            }
        }
        Ok(())
    }

    /// Reads files in parallel; results come in order.
    fn files(&mut self, files: Vec<TextFile>) -> Result<(), ProjectError> {
        let progress = self.access.watch.start("Reading texts", files.len());
        let (site, access) = (self.site, self.access);
        let (given, known) = (self.given, self.read);
        let read: Vec<Result<Texts, ProjectError>> = files
            .par_iter()
            .map(|file| {
                let page = known
                    .and_then(|known| known.get(&file.path))
                    .filter(|_| !given);
                let texts = match page {
                    Some(page) => Ok(Texts::Page(page.clone())),
                    None => read_file(file, site, given, access),
                };
                progress.step();
                texts
            })
            .collect();
        drop(progress);
        for (file, texts) in files.into_iter().zip(read) {
            let name = file.path.display().to_string();
            let texts = match texts {
                // One of many is told, and the others are read.
                Err(error) if !file.by_name => {
                    if !is_other_xml(&error) {
                        self.problems.push(unread(name, &error));
                    }
                    continue;
                }
                texts => texts?,
            };
            match texts {
                Texts::Page(page) => self.page(page, &name),
                Texts::Counted(counted) => {
                    for ((language, part), counter) in counted {
                        let language = language.or_else(|| file.language.clone());
                        self.counted(&name, file.role.as_deref(), language, part, counter)?;
                    }
                }
            }
        }
        Ok(())
    }

    fn text(&mut self, name: &str, text: &str, role: Option<&str>) -> Result<(), ProjectError> {
        let mut counter = Counter::default();
        let source = counter.source(name);
        counter.add(text, source, 1, 1);
        self.counted(name, role, None, Part::Body, counter)
    }

    fn language(&mut self, tag: &str, role: Option<&str>) -> Result<(), ProjectError> {
        let pieces = language_need(tag).ok_or_else(|| {
            ProjectError::Usage(format!(
                "{tag}: CLDR has no exemplar characters of this language; use a BCP 47 tag such as \
                 uk or pt-BR"
            ))
        })?;
        let name = format!("language {tag}");
        let mut counter = Counter::default();
        let source = counter.source(&name);
        for piece in pieces {
            counter.add(&piece, source, 1, 1);
        }
        self.counted(&name, role, Some(tag.to_owned()), Part::Body, counter)
    }

    fn counted(
        &mut self,
        name: &str,
        role: Option<&str>,
        language: Option<String>,
        part: Part,
        counter: Counter,
    ) -> Result<(), ProjectError> {
        if counter.is_empty() {
            return Ok(());
        }
        let part = match part {
            Part::Heading => Some("headings"),
            Part::Code => Some("code"),
            Part::Body | Part::Brought => None,
        };
        let part = part.filter(|part| self.roles.contains_key(*part));
        let (role, style) = self.role(part.or(role), name)?;
        self.survey.buckets.push(Bucket {
            source: name.to_owned(),
            role,
            language,
            style,
            web: 0,
            element: None,
            need: counter.finish(),
        });
        Ok(())
    }

    /// The role of a text that is no page, and its style.
    fn role(&self, named: Option<&str>, file: &str) -> Result<(String, usize), ProjectError> {
        let names = || {
            let mut names: Vec<&str> = self.roles.keys().map(String::as_str).collect();
            names.sort_unstable();
            names.join(", ")
        };
        if self.given || (named.is_none() && self.roles.contains_key(ROLE)) {
            return Ok((ROLE.to_owned(), self.roles[ROLE]));
        }
        if let Some(name) = named {
            let style = self.roles.get(name).ok_or_else(|| {
                ProjectError::Usage(format!("there is no role {name:?}; there are {}", names()))
            })?;
            return Ok((name.to_owned(), *style));
        }
        match self.roles.iter().next() {
            Some((name, style)) if self.roles.len() == 1 => Ok((name.clone(), *style)),
            Some(_) => Err(ProjectError::Usage(format!(
                "{file}: it is not said which role sets this text ({}); name one with --role, or \
                 with `role` beside its files in the project file",
                names()
            ))),
            None => Err(ProjectError::Usage(format!(
                "{file}: there is no stack for this text; name fonts with --font, families with \
                 --stack, or roles in a project file (pages bring their own)"
            ))),
        }
    }

    fn page(&mut self, page: Page, name: &str) {
        let web = self.web(&page.faces, is_hosted(&page.problems));
        let mut buckets: Vec<(Bucket, Counter)> = Vec::new();
        let styles: Vec<usize> = (page.styles.iter())
            .map(|style| self.style(of_the_system(style)))
            .collect();
        // Browsers leave tooltips to the system.
        let tooltip = self.style(TextStyle::of_families(vec![FamilyName::Generic(
            "system-ui".to_owned(),
        )]));
        let project = self.project;
        let of_path = language_of_path(name);
        for text in &page.texts {
            let language = text.language.clone().or_else(|| of_path.clone());
            let (role, style) = match text.origin {
                TextOrigin::Title => ("tooltips".to_owned(), tooltip),
                _ => (
                    named_role(project, &self.survey.styles[styles[text.style]], text.role),
                    styles[text.style],
                ),
            };
            let place = buckets
                .iter()
                .position(|(bucket, _)| {
                    bucket.style == style && bucket.role == role && bucket.language == language
                })
                .unwrap_or_else(|| {
                    let bucket = Bucket {
                        source: name.to_owned(),
                        role,
                        language,
                        style,
                        web,
                        element: Some(text.element.clone()),
                        need: Need::default(),
                    };
                    buckets.push((bucket, Counter::default()));
                    buckets.len() - 1
                });
            let counter = &mut buckets[place].1;
            let source = counter.source(name);
            counter.add(&text.text, source, text.line, 1);
        }
        for (mut bucket, counter) in buckets {
            bucket.need = counter.finish();
            self.survey.buckets.push(bucket);
        }
        self.problems.extend(page.problems.iter().cloned());
        self.pages.push(page);
    }

    fn finish(self, request: &SurveyRequest) -> Result<Gathered, ProjectError> {
        tell(&self.problems, self.access);
        if self
            .survey
            .buckets
            .iter()
            .all(|bucket| bucket.need.total == 0)
        {
            let names = request
                .text
                .files
                .iter()
                .map(|path| path.display().to_string());
            let names: Vec<String> = names
                .chain(request.text.texts.iter().map(|_| "--text".to_owned()))
                .collect();
            return Err(ProjectError::Usage(if names.is_empty() {
                "the text is empty; nothing was checked: name files or pages, or add [[content]] \
                 with files = [\"…\"] to the project file"
                    .to_owned()
            } else {
                format!(
                    "the text is empty ({}); nothing was checked",
                    names.join(", ")
                )
            }));
        }
        Ok(Gathered {
            survey: self.survey,
            given: self.given,
            problems: self.problems,
            pages: self.pages,
        })
    }
}

/// Form fields that a page leaves as they are have the system's font; browsers name one that is
/// not there everywhere.
fn of_the_system(style: &TextStyle) -> TextStyle {
    let mut style = style.clone();
    if style.is_of_controls() {
        style.families = vec![FamilyName::Generic("system-ui".to_owned())];
    }
    style
}

/// The project's role with the families of `style`, else what the elements say.
fn named_role(project: Option<&Project>, style: &TextStyle, elements: &str) -> String {
    let named = project.and_then(|project| {
        project.role.iter().find(|(_, role)| {
            families(&role.stack).as_deref() == Some(&style.families)
                && role.weight.is_none_or(|weight| weight == style.weight)
        })
    });
    named.map_or_else(|| elements.to_owned(), |(name, _)| name.clone())
}

fn read_file(
    file: &TextFile,
    site: &Site<'_>,
    given: bool,
    access: Access<'_>,
) -> Result<Texts, ProjectError> {
    let path = &file.path;
    let name = path.display().to_string();
    let format = Format::of(&name);
    if format.is_page() && !given {
        let bytes = access.read(path, super::web::LARGEST)?;
        let text = decoded(path, &bytes)?;
        return Ok(Texts::Page(page::read(text, &name, site, SCREEN).0));
    }
    let bytes = access.read(path, LARGEST)?;
    let of_path = language_of_path(&name);
    let reading = Reading {
        language: of_path.as_deref().or(file.language.as_deref()),
    };
    let counted =
        count(&bytes, format, reading, &name).map_err(|error| content_error(path, error))?;
    Ok(Texts::Counted(counted))
}

/// Whether a style sheet of a page lies on the network, so that families may be defined
/// there.
fn is_hosted(problems: &[PageProblem]) -> bool {
    problems
        .iter()
        .any(|problem| problem.unread == Some(Unread::Remote))
}

/// Whether a file of a folder is XML of another kind, which holds no texts.
fn is_other_xml(error: &ProjectError) -> bool {
    matches!(error, ProjectError::Unreadable { reason, .. } if reason.contains(NO_RESOURCES))
}

/// A file that could not be read.
fn unread(file: String, error: &ProjectError) -> PageProblem {
    let reason = error.without_path();
    PageProblem {
        file,
        line: 1,
        what: format!("it cannot be read: {reason}"),
        unread: Some(Unread::Unreadable(reason)),
    }
}
