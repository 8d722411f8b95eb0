//! Texts from where the user or the project says, as buckets of a survey.

use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use globset::{Glob, GlobSet, GlobSetBuilder};
use rayon::prelude::*;
use tidy_lattice_core::content::{ContentError, Format, Part, Reading, language_of_path};
use tidy_lattice_core::font::Limits;
use tidy_lattice_core::lattice::survey::{Allowed, Bucket, Survey};
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::need::{Counter, Need, language_need};
use tidy_lattice_core::page::{self, Page, PageProblem, PlacedFace, TextOrigin, TextStyle};
use tidy_lattice_core::style::read::{FaceSource, FamilyName, FontFace, families};
use walkdir::WalkDir;

use super::counting::{Counted, count};
use super::stack::{SCREEN, apply_role, faces_of_sheets, site, tell};
use super::web::{FontLoader, Site};
use super::{face, read_bounded, standard_input};
use crate::args::CoverArgs;
use crate::error::CliError;
use crate::output;
use crate::progress::Progress;
use crate::project::{Content, Project};

/// Content beyond this size is refused, in bytes: 1 GiB.
const LARGEST: u64 = 1 << 30;

/// How deep folders are searched.
const DEEPEST: usize = 24;

/// Endings of files that texts are looked for in, in folders.
const ENDINGS: [&str; 18] = [
    "html",
    "htm",
    "xhtml",
    "md",
    "markdown",
    "txt",
    "csv",
    "tsv",
    "json",
    "arb",
    "yaml",
    "yml",
    "po",
    "xlf",
    "xliff",
    "properties",
    "xml",
    "strings",
];

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
    role: Option<String>,
    language: Option<String>,
}

/// What a file gave.
enum Texts {
    Page(Page),
    Counted(Counted),
}

/// Reads everything that `args`, or else the project, names.
pub fn gather(args: &CoverArgs) -> Result<Gathered, CliError> {
    let limits: Limits = (&args.limits).into();
    let project = Project::find(args.stack.project.as_deref())?;
    let from_project = args.text.files.is_empty()
        && args.text.texts.is_empty()
        && args.languages.is_empty()
        && args.stack.fonts.is_empty()
        && args.stack.stack.is_none()
        && args.stack.role.is_none()
        && project.is_some();
    let named = args.stack.sheets.first().or(args.text.files.first());
    let site = site(project.as_ref(), named.map(PathBuf::as_path));
    let mut builder = Builder::new(args, project.as_ref(), &site, limits)?;
    match &project {
        Some(project) if from_project => builder.project(project)?,
        _ => builder.arguments(args)?,
    }
    builder.finish(args)
}

/// Puts a survey together.
struct Builder<'a> {
    survey: Survey,
    project: Option<&'a Project>,
    site: &'a Site,
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
}

/// The role of texts that the command line names.
const ROLE: &str = "text";

impl<'a> Builder<'a> {
    fn new(
        args: &CoverArgs,
        project: Option<&'a Project>,
        site: &'a Site,
        limits: Limits,
    ) -> Result<Self, CliError> {
        let mut builder = Builder {
            survey: Survey::default(),
            project,
            site,
            loader: FontLoader::new(site, limits),
            roles: HashMap::new(),
            styles: HashMap::new(),
            webs: HashMap::new(),
            given: !args.stack.fonts.is_empty(),
            problems: Vec::new(),
            pages: Vec::new(),
        };
        let mut sheets = args.stack.sheets.clone();
        if sheets.is_empty()
            && let Some(project) = project
        {
            sheets = project
                .sheets
                .iter()
                .map(|sheet| project.path(sheet))
                .collect();
        }
        let placed = faces_of_sheets(&sheets, site)?;
        builder.web(&placed);
        if builder.given {
            builder.given_fonts(&args.stack.fonts, limits)?;
        } else if let Some(stack) = &args.stack.stack {
            let list = families(stack).ok_or_else(|| {
                CliError::Usage(format!(
                    "--stack {stack:?} is no list of families as font-family takes it; quote \
                     names that hold signs or digits at the start of a word"
                ))
            })?;
            let style = builder.style(TextStyle::of_families(list));
            builder.roles.insert(ROLE.to_owned(), style);
        } else if let Some(project) = project {
            for (name, role) in &project.role {
                let mut style = TextStyle::of_families(families(&role.stack).unwrap_or_default());
                apply_role(&mut style, role);
                let style = builder.style(style);
                builder.roles.insert(name.clone(), style);
            }
        }
        let known = args.known.iter().cloned().chain(
            project
                .into_iter()
                .flat_map(|project| project.known_fonts.iter().map(|font| project.path(font))),
        );
        for path in known {
            for file in super::font_files_and_cards(&[path])? {
                let face = face(&file.path, limits)?;
                builder.survey.known.push((face.names().label(), face));
            }
        }
        let allowed = args.allow.iter();
        let allowed = allowed.chain(project.into_iter().flat_map(|project| &project.cover.allow));
        for text in allowed {
            let rule = Allowed::read(text).ok_or_else(|| {
                CliError::Usage(format!(
                    "{text:?} is no gap that can be allowed; write U+20B4, U+1F300-1FAFF, the name \
                     of a script, or the characters"
                ))
            })?;
            builder.survey.allowed.push(rule);
        }
        Ok(builder)
    }

    /// Fonts given by themselves are a stack of their own, each a family.
    fn given_fonts(&mut self, fonts: &[PathBuf], limits: Limits) -> Result<(), CliError> {
        let mut rules = Vec::new();
        let mut list: Vec<FamilyName> = Vec::new();
        for named in fonts {
            let face = face(named, limits)?;
            if !face.has_characters() {
                output::note(&format!(
                    "{} has no Unicode character map, so it can serve nothing",
                    face.names().label()
                ));
            }
            let mut name = face.names().label();
            while list.iter().any(|known| known.as_str() == name) {
                name.push('\u{2032}');
            }
            let file = named.display().to_string();
            let size = std::fs::metadata(super::split(named).0).map(|data| data.len());
            let bytes = size.ok().filter(|_| !face.is_card());
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
    fn web(&mut self, placed: &[PlacedFace]) -> usize {
        let key: Vec<(String, u32)> = placed
            .iter()
            .map(|face| (face.file.clone(), face.line))
            .collect();
        if let Some(known) = self.webs.get(&key) {
            return *known;
        }
        let rules = placed.iter().map(|face| self.loader.load(face)).collect();
        self.survey.web.push(rules);
        self.webs.insert(key, self.survey.web.len() - 1);
        self.survey.web.len() - 1
    }

    fn arguments(&mut self, args: &CoverArgs) -> Result<(), CliError> {
        let role = args.stack.role.clone();
        let mut files = Vec::new();
        for path in &args.text.files {
            if path.as_os_str() == "-" {
                let source = standard_input()?;
                self.text(&source.name, &source.text, role.as_deref())?;
            } else if path.is_dir() {
                files.extend(in_folder(path)?);
            } else {
                files.push(path.clone());
            }
        }
        let files = files
            .into_iter()
            .map(|path| TextFile {
                path,
                role: role.clone(),
                language: None,
            })
            .collect();
        self.files(files)?;
        for (number, text) in args.text.texts.iter().enumerate() {
            let name = if args.text.texts.len() == 1 {
                "--text".to_owned()
            } else {
                format!("--text {}", number + 1)
            };
            self.text(&name, text, role.as_deref())?;
        }
        for tag in &args.languages {
            self.language(tag, role.as_deref())?;
        }
        let named = !(args.text.files.is_empty()
            && args.text.texts.is_empty()
            && args.languages.is_empty());
        if !named {
            use std::io::IsTerminal as _;
            if std::io::stdin().is_terminal() {
                return Err(CliError::Usage(
                    "there is no text: name text files or pages, pipe text in, or give it with \
                     --text; a project file (tidy-lattice.toml) names them for good"
                        .to_owned(),
                ));
            }
            let source = standard_input()?;
            self.text(&source.name, &source.text, role.as_deref())?;
        }
        Ok(())
    }

    fn project(&mut self, project: &Project) -> Result<(), CliError> {
        let mut files = Vec::new();
        for content in &project.content {
            for path in matching(project, content)? {
                files.push(TextFile {
                    path,
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
    fn files(&mut self, files: Vec<TextFile>) -> Result<(), CliError> {
        let progress = Progress::start("Reading texts", files.len());
        let site = self.site;
        let given = self.given;
        let read: Vec<Result<Texts, CliError>> = files
            .par_iter()
            .map(|file| {
                let texts = read_file(file, site, given);
                progress.step();
                texts
            })
            .collect();
        drop(progress);
        for (file, texts) in files.into_iter().zip(read) {
            let name = file.path.display().to_string();
            match texts? {
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

    fn text(&mut self, name: &str, text: &str, role: Option<&str>) -> Result<(), CliError> {
        let mut counter = Counter::default();
        let source = counter.source(name);
        counter.add(text, source, 1, 1);
        self.counted(name, role, None, Part::Body, counter)
    }

    fn language(&mut self, tag: &str, role: Option<&str>) -> Result<(), CliError> {
        let pieces = language_need(tag).ok_or_else(|| {
            CliError::Usage(format!(
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
    ) -> Result<(), CliError> {
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
    fn role(&self, named: Option<&str>, file: &str) -> Result<(String, usize), CliError> {
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
                CliError::Usage(format!("there is no role {name:?}; there are {}", names()))
            })?;
            return Ok((name.to_owned(), *style));
        }
        match self.roles.iter().next() {
            Some((name, style)) if self.roles.len() == 1 => Ok((name.clone(), *style)),
            Some(_) => Err(CliError::Usage(format!(
                "{file}: it is not said which role sets this text ({}); name one with --role, or \
                 with `role` beside its files in the project file",
                names()
            ))),
            None => Err(CliError::Usage(format!(
                "{file}: there is no stack for this text; name fonts with --font, families with \
                 --stack, or roles in a project file (pages bring their own)"
            ))),
        }
    }

    fn page(&mut self, page: Page, name: &str) {
        let web = self.web(&page.faces);
        let mut buckets: Vec<(Bucket, Counter)> = Vec::new();
        let styles: Vec<usize> = page
            .styles
            .iter()
            .map(|style| self.style(of_the_system(style)))
            .collect();
        // Browsers leave tooltips to the system.
        let tooltip = self.style(TextStyle::of_families(vec![FamilyName::Generic(
            "system-ui".to_owned(),
        )]));
        let project = self.project;
        for text in &page.texts {
            let language = text.language.clone().or_else(|| language_of_path(name));
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

    fn finish(self, args: &CoverArgs) -> Result<Gathered, CliError> {
        self.problems.iter().for_each(tell);
        if self
            .survey
            .buckets
            .iter()
            .all(|bucket| bucket.need.total == 0)
        {
            let names = args
                .text
                .files
                .iter()
                .map(|path| path.display().to_string());
            let names: Vec<String> = names
                .chain(args.text.texts.iter().map(|_| "--text".to_owned()))
                .collect();
            return Err(CliError::Usage(if names.is_empty() {
                "the text is empty; nothing was checked".to_owned()
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

/// Form fields that a page leaves as they are have the system's font; browsers
/// name one that is not there everywhere.
fn of_the_system(style: &TextStyle) -> TextStyle {
    let mut style = style.clone();
    if style.families == [FamilyName::Named("Arial".to_owned())] && style.size < 13.34 {
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

fn read_file(file: &TextFile, site: &Site, given: bool) -> Result<Texts, CliError> {
    let path = &file.path;
    let name = path.display().to_string();
    let format = Format::of(&name);
    if format == Format::Html && !given {
        let bytes = read_bounded(path, super::web::LARGEST)?;
        let text = decoded(path, &bytes)?;
        return Ok(Texts::Page(page::read(text, &name, site, SCREEN).0));
    }
    let bytes = read_bounded(path, LARGEST)?;
    let of_path = language_of_path(&name);
    let reading = Reading {
        language: of_path.as_deref().or(file.language.as_deref()),
    };
    let counted =
        count(&bytes, format, reading, &name).map_err(|error| content_error(path, error))?;
    Ok(Texts::Counted(counted))
}

pub fn decoded<'b>(path: &Path, bytes: &'b [u8]) -> Result<&'b str, CliError> {
    std::str::from_utf8(bytes).map_err(|_| {
        let error = tidy_lattice_core::text::decode(bytes.to_vec()).err();
        match error {
            Some(error) => CliError::Text {
                path: path.to_owned(),
                error,
            },
            None => CliError::Unreadable {
                path: path.to_owned(),
                reason: "the file is not UTF-8".to_owned(),
            },
        }
    })
}

/// What is wrong with a file of texts.
pub fn content_error(path: &Path, error: ContentError) -> CliError {
    match error {
        ContentError::Text(error) => CliError::Text {
            path: path.to_owned(),
            error,
        },
        other => CliError::Unreadable {
            path: path.to_owned(),
            reason: other.to_string(),
        },
    }
}

fn has_text_ending(path: &Path) -> bool {
    let ending = path
        .extension()
        .map(|ending| ending.to_string_lossy().to_ascii_lowercase());
    ending.is_some_and(|ending| ENDINGS.contains(&ending.as_str()))
        && !path.to_string_lossy().ends_with(".card.json")
}

fn walk(folder: &Path) -> impl Iterator<Item = PathBuf> {
    WalkDir::new(folder)
        .max_depth(DEEPEST)
        .sort_by_file_name()
        .into_iter()
        .filter_entry(|entry| {
            let name = entry.file_name().to_string_lossy();
            entry.depth() == 0 || !(name.starts_with('.') || name == "node_modules")
        })
        .filter_map(Result::ok)
        .filter(|entry| entry.file_type().is_file())
        .map(walkdir::DirEntry::into_path)
}

pub fn in_folder(folder: &Path) -> Result<Vec<PathBuf>, CliError> {
    let files: Vec<PathBuf> = walk(folder).filter(|path| has_text_ending(path)).collect();
    if files.is_empty() {
        return Err(CliError::Unreadable {
            path: folder.to_owned(),
            reason: format!(
                "there is no text in this folder (looked for {})",
                ENDINGS.join(", ")
            ),
        });
    }
    Ok(files)
}

/// The files that a project's content names.
pub fn matching(project: &Project, content: &Content) -> Result<Vec<PathBuf>, CliError> {
    let patterns = set(&content.files)?;
    let except = set(&content.except)?;
    let folder = if project.folder.as_os_str().is_empty() {
        Path::new(".")
    } else {
        &project.folder
    };
    let files: Vec<PathBuf> = walk(folder)
        .filter_map(|path| {
            let inside = path.strip_prefix(folder).ok()?;
            (patterns.is_match(inside) && !except.is_match(inside)).then(|| project.path(inside))
        })
        .collect();
    if files.is_empty() {
        return Err(CliError::Usage(format!(
            "{}: no file matches {}",
            project.path(crate::project::NAME).display(),
            content.files.join(", ")
        )));
    }
    Ok(files)
}

fn set(patterns: &[String]) -> Result<GlobSet, CliError> {
    let wrong = |error: globset::Error| CliError::Usage(format!("{error}"));
    let mut set = GlobSetBuilder::new();
    for pattern in patterns {
        set.add(Glob::new(pattern).map_err(wrong)?);
    }
    set.build().map_err(wrong)
}
