//! What `check` looks at: style sheets and pages with everything that they name.

use std::collections::{BTreeSet, HashMap};
use std::path::{Component, Path, PathBuf};
use std::sync::Arc;

use rayon::prelude::*;
use tidy_lattice_checks::inputs::{
    EMBEDDED, FaceRule, FeatureAsked, Found, FoundFile, Inputs, InstalledFamily, LinkInput,
    PageInput, SheetInput, TextGap,
};
use tidy_lattice_checks::raw::{RawSheet, Span};
use tidy_lattice_checks::rules::import_url;
use tidy_lattice_checks::source::SourceText;
use tidy_lattice_core::lattice::Origin;
use tidy_lattice_core::lattice::survey::{FeatureLack, SurveyGap, survey};
use tidy_lattice_core::page::{self, Dom, Page, Unread};
use tidy_lattice_core::platform::{Device, Platform};
use tidy_lattice_core::style::url_path;

use super::app_faces::as_sheet;
use super::data_url;
use super::face_sources::{entries, open, opened};
use super::file::{Aim, Project};
use super::files::{is_page, matching};
use super::request::{SiteRequest, StackRequest, SurveyRequest, TextRequest};
use super::stack::site;
use super::stand_in_lines;
use super::texts::decoded;
use super::uses::{Used, rule_place, used_by};
use super::web::{LARGEST, SCREEN, Site};
use super::{Access, ProjectError, Quiet};

/// The most files of a project that are looked through for those that moved.
const MOST_FILES: usize = 100_000;

/// Marks of templates in URLs.
const TEMPLATES: [&str; 6] = ["{{", "{%", "<%", "${", "@@", "[["];

/// How deep sheets may import one another.
const DEEPEST: usize = 8;

/// What is checked.
#[derive(Debug, Clone, Default)]
pub struct CheckRequest {
    /// Pages, style sheets, folders of them; what the project names where there are none.
    pub paths: Vec<PathBuf>,
    /// Whether the platforms were named, and are not all that are built in.
    pub platforms_named: bool,
    /// Where the files of pages and sheets are.
    pub site: SiteRequest,
}

/// Reads everything that `request`, or else the project, names; `platforms` say which
/// families devices have.
///
/// # Errors
///
/// [`ProjectError`] where something that was named cannot be had, or there is nothing.
pub fn gather(
    request: &CheckRequest,
    project: Option<&Project>,
    platforms: &[&Platform],
    access: Access<'_>,
) -> Result<Inputs, ProjectError> {
    let (pages, sheets) = named(request, project, access)?;
    let first = pages.first().or(sheets.first());
    let site = site(&request.site, project, first.map(PathBuf::as_path), access)?;
    let base = match (project, request.paths.as_slice()) {
        (Some(project), _) => Some(project.path("")),
        (None, [only]) if access.is_folder(only) => Some(only.clone()),
        _ => None,
    };
    let beside = || first.and_then(|path| path.parent()).map(Path::to_owned);
    let around = base.clone().or_else(beside).unwrap_or_default();
    let mut gatherer = Gatherer {
        around,
        site: &site,
        access,
        base,
        inputs: Inputs::default(),
        sheets: HashMap::new(),
        fonts: HashMap::new(),
        names: None,
    };
    gatherer.inputs.installed = installed(platforms);
    gatherer.inputs.displays = project
        .and_then(|project| project.build.aim)
        .map_or(&[], Aim::displays);
    gatherer.inputs.wants_stand_ins = request.paths.is_empty()
        && project.is_some_and(|project| project.role.values().any(|role| !role.web.is_empty()));
    gatherer.inputs.platforms_named =
        request.platforms_named || project.is_some_and(|project| !project.platforms.is_empty());
    let progress = access.watch.start("Reading pages", pages.len());
    let read: Vec<Result<ReadPage, ProjectError>> = pages
        .par_iter()
        .map(|path| {
            let page = read_page(path, &site, access);
            progress.step();
            page
        })
        .collect();
    drop(progress);
    // One file of many is told, and the others are checked.
    for (path, page) in pages.iter().zip(read) {
        match page {
            Ok(page) => gatherer.page(page),
            Err(error) if !request.paths.contains(path) => gatherer.unread(path, &error),
            Err(error) => return Err(error),
        }
    }
    if let Some(made) = project
        .filter(|_| request.paths.is_empty())
        .and_then(|project| as_sheet(project, access))
    {
        let part = 0..made.text.len();
        gatherer.sheet_within(&Arc::new(made), part);
    }
    for path in &sheets {
        match gatherer.sheet(path, false, 0) {
            Err(error) if !request.paths.contains(path) => gatherer.unread(path, &error),
            read => read?,
        }
    }
    gatherer.faces();
    gatherer.uses();
    Ok(gatherer.inputs)
}

/// Adds what the texts of `inputs`, or else of the project, lack on `devices`: characters
/// and features. Gaps that the project allows are left out.
///
/// # Errors
///
/// As [`survey::gather`](super::survey::gather).
pub fn texts(
    inputs: &mut Inputs,
    request: &CheckRequest,
    project: Option<&Project>,
    devices: &[Device<'_>],
    access: Access<'_>,
) -> Result<(), ProjectError> {
    let of_project = request.paths.is_empty() && project.is_some();
    let pages = inputs.pages.iter();
    let pages: Vec<PathBuf> = pages.map(|page| PathBuf::from(&page.source.name)).collect();
    if !of_project && pages.is_empty() {
        return Ok(());
    }
    let asked = SurveyRequest {
        text: TextRequest {
            files: if of_project { Vec::new() } else { pages },
            ..TextRequest::default()
        },
        stack: StackRequest {
            site: request.site.clone(),
            ..StackRequest::default()
        },
        ..SurveyRequest::default()
    };
    // What is left out of pages is found by the rules.
    let quiet = Access {
        watch: &Quiet,
        ..access
    };
    let read = inputs.pages.iter();
    let read: HashMap<PathBuf, Page> = read
        .map(|page| (PathBuf::from(&page.source.name), page.page.clone()))
        .collect();
    let gathered = match super::survey::gather_with(&asked, project, &read, quiet) {
        Ok(gathered) => gathered,
        // Pages without text lack nothing.
        Err(ProjectError::Usage(_))
            if !of_project || project.is_some_and(|project| project.content.is_empty()) =>
        {
            return Ok(());
        }
        Err(error) => return Err(error),
    };
    inputs.lines_off = stand_in_lines::off(&gathered.survey, devices);
    let surveyed = survey(&gathered.survey, devices);
    add_features(inputs, surveyed.features);
    inputs.used = surveyed
        .faces
        .iter()
        .filter_map(|face| match &face.origin {
            Origin::Web { rule, .. } | Origin::Local { rule, .. } => rule_place(rule),
            _ => None,
        })
        .collect();
    // Without a project nobody said which devices count, and what their own fonts show is
    // no mistake.
    if let Some(project) = project {
        add_gaps(inputs, surveyed.gaps, devices.len(), project);
    }
    Ok(())
}

/// Adds features that the text asks for and fonts lack.
fn add_features(inputs: &mut Inputs, lacks: Vec<FeatureLack>) {
    for lack in lacks {
        let place = (lack.first.source, lack.first.line);
        let same = |known: &&mut FeatureAsked| known.css == lack.asked_by && known.place == place;
        match inputs.features.iter_mut().find(same) {
            Some(known) if known.fonts.contains(&lack.font) => {}
            Some(known) => known.fonts.push(lack.font),
            None => inputs.features.push(FeatureAsked {
                css: lack.asked_by,
                fonts: vec![lack.font],
                place,
            }),
        }
    }
}

/// Adds what falls through on some of so many devices, but what the project allows.
fn add_gaps(inputs: &mut Inputs, gaps: Vec<SurveyGap>, devices: usize, project: &Project) {
    for gap in gaps.into_iter().filter(|gap| !gap.allowed) {
        let everywhere = gap.platforms.len() == devices;
        let platforms = if everywhere {
            Vec::new()
        } else {
            gap.platforms
        };
        let same = |known: &&mut TextGap| {
            known.place.0 == gap.first.source
                && known.group == gap.group
                && known.platforms == platforms
        };
        match inputs.gaps.iter_mut().find(same) {
            Some(known) => {
                known.count += gap.count;
                known.clusters.push(gap.cluster);
            }
            None => inputs.gaps.push(TextGap {
                // What a language needs stands in the project file.
                place: if gap.first.source.starts_with("language ") {
                    let file = project.path(super::file::NAME);
                    (file.display().to_string(), 1, 1)
                } else {
                    (gap.first.source, gap.first.line, gap.first.column)
                },
                group: gap.group,
                clusters: vec![gap.cluster],
                count: gap.count,
                platforms,
            }),
        }
    }
}

/// The pages and style sheets that are named.
fn named(
    request: &CheckRequest,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<(Vec<PathBuf>, Vec<PathBuf>), ProjectError> {
    let (mut pages, mut sheets) = (Vec::new(), Vec::new());
    let mut paths = request.paths.clone();
    if paths.is_empty() {
        match project {
            Some(project) => {
                for content in &project.content {
                    let files = matching(project, content, access)?;
                    pages.extend(files.into_iter().filter(|path| is_page(path)));
                }
                sheets.extend(project.sheets.iter().map(|sheet| project.path(sheet)));
                let output = super::built::sheet_of(project);
                sheets.extend(Some(output).filter(|output| access.exists(output)));
            }
            None => paths.push(PathBuf::from(".")),
        }
    }
    for path in paths {
        if access.is_folder(&path) {
            let files = access.disk.files(&path, true);
            let all: BTreeSet<&PathBuf> = files.iter().collect();
            let copy = |file: &Path| {
                let name = file
                    .file_name()
                    .map(|name| name.to_string_lossy().into_owned());
                name.and_then(|name| Some(format!("{}.css", name.strip_suffix(".min.css")?)))
                    .is_some_and(|plain| all.contains(&file.with_file_name(plain)))
            };
            // What is wrong in a sheet is wrong in its minified copy, too.
            for file in files.iter().filter(|file| !copy(file)) {
                let file = file.strip_prefix("./").unwrap_or(file).to_owned();
                if is_page(&file) {
                    pages.push(file);
                } else if is_sheet(&file) {
                    sheets.push(file);
                }
            }
        } else if is_page(&path) {
            pages.push(path);
        } else if is_sheet(&path) || !access.exists(&path) {
            // What is not there is told when it is read.
            sheets.push(path);
        } else {
            return Err(ProjectError::Usage(format!(
                "{}: pages and style sheets are checked, and the fonts that these name; \
                 `describe` tells of a font by itself",
                path.display()
            )));
        }
    }
    // Texts that are no pages are held to their stacks, faces of an app to their files.
    let else_there = project.filter(|_| request.paths.is_empty());
    let else_there = else_there
        .is_some_and(|project| !project.content.is_empty() || !project.app.faces.is_empty());
    if pages.is_empty() && sheets.is_empty() && !else_there {
        return Err(ProjectError::Usage(
            "there is nothing to check: name pages, style sheets, or a folder that holds some"
                .to_owned(),
        ));
    }
    Ok((pages, sheets))
}

fn is_sheet(path: &Path) -> bool {
    path.extension()
        .is_some_and(|ending| ending.eq_ignore_ascii_case("css"))
}

/// The families of platforms, each once.
fn installed(platforms: &[&Platform]) -> Vec<InstalledFamily> {
    let mut families: Vec<InstalledFamily> = Vec::new();
    let mut places: HashMap<String, usize> = HashMap::new();
    for platform in platforms {
        for family in &platform.families {
            let place = *places.entry(family.name.to_lowercase()).or_insert_with(|| {
                families.push(InstalledFamily {
                    name: family.name.clone(),
                    class: family.class,
                    locals: Vec::new(),
                });
                families.len() - 1
            });
            let faces = family.faces.iter();
            let names = faces.flat_map(|face| [Some(face.full.clone()), face.postscript.clone()]);
            families[place].locals.extend(names.flatten());
        }
        for (name, meant) in &platform.aliases {
            let known = places
                .get(&meant.to_lowercase())
                .map(|place| families[*place].clone());
            if let Some(known) = known.filter(|_| !places.contains_key(&name.to_lowercase())) {
                places.insert(name.to_lowercase(), families.len());
                families.push(InstalledFamily {
                    name: name.clone(),
                    ..known
                });
            }
        }
    }
    families
}

/// A page, read by itself.
struct ReadPage {
    source: Arc<SourceText>,
    page: Page,
    dom: Dom,
}

fn read_page(path: &Path, site: &Site<'_>, access: Access<'_>) -> Result<ReadPage, ProjectError> {
    let bytes = access.read(path, LARGEST)?;
    let html = decoded(path, &bytes)?.to_owned();
    let name = path.display().to_string();
    let (page, dom) = page::read(&html, &name, site, SCREEN);
    // Places are those in the file as it is, with its mark of the encoding.
    let whole = String::from_utf8(bytes).unwrap_or(html);
    Ok(ReadPage {
        source: Arc::new(SourceText::new(name, whole)),
        page,
        dom,
    })
}

/// Puts inputs together.
struct Gatherer<'a> {
    site: &'a Site<'a>,
    access: Access<'a>,
    /// The folder that everything lies in, where there is one.
    base: Option<PathBuf>,
    /// The folder in which files are looked for that moved.
    around: PathBuf,
    inputs: Inputs,
    /// Numbers of sheets, by path.
    sheets: HashMap<PathBuf, usize>,
    fonts: HashMap<PathBuf, Arc<FoundFile>>,
    /// Files of the project by their names.
    names: Option<HashMap<String, Vec<PathBuf>>>,
}

impl Gatherer<'_> {
    fn unread(&mut self, path: &Path, error: &ProjectError) {
        let reason = error.without_path();
        self.inputs
            .unread
            .push((path.display().to_string(), reason));
    }

    fn page(&mut self, read: ReadPage) {
        let ReadPage { source, page, dom } = read;
        let mut links = Vec::new();
        let mut root = (1, None);
        let mut next = Some(dom.document());
        let (mut from, mut styled) = (0, 0);
        while let Some(node) = next {
            match dom.tag(node) {
                Some("html") => {
                    root = (
                        dom.line(node),
                        dom.attribute(node, "lang").map(str::to_owned),
                    );
                }
                Some("style") => {
                    let css = dom.own_text(node);
                    // The text of a style element stands in the file as it is.
                    if let Some(at) = source.text[from..]
                        .find(css.as_str())
                        .filter(|_| !css.is_empty())
                    {
                        let part = from + at..from + at + css.len();
                        from = part.end;
                        self.sheet_within(&source, part);
                    }
                }
                Some(_)
                    if dom
                        .attribute(node, "style")
                        .is_some_and(|css| css.contains("font")) =>
                {
                    let css = dom.attribute(node, "style").unwrap_or_default();
                    // Written with references it stands there otherwise, and is passed over.
                    if let Some(at) = source.text[styled..].find(css) {
                        let part = styled + at..styled + at + css.len();
                        styled = part.end;
                        self.inputs.sheets.push(SheetInput {
                            raw: RawSheet::attribute(&source.text, part),
                            source: Arc::clone(&source),
                            attribute: true,
                            imported: false,
                            imports: Vec::new(),
                        });
                    }
                }
                Some("link") => links.extend(self.link(&dom, node, &source.name)),
                _ => {}
            }
            next = page::following(&dom, node);
        }
        let hosted = |problem: &page::PageProblem| problem.unread == Some(Unread::Remote);
        self.inputs.hosted |= page.problems.iter().any(hosted);
        let declared = page
            .faces
            .iter()
            .map(|face| (face.file.clone(), face.line))
            .collect();
        self.inputs.pages.push(PageInput {
            source,
            page,
            root,
            links,
            used: BTreeSet::new(),
            declared,
        });
    }

    fn link(&mut self, dom: &Dom, node: page::NodeId, base: &str) -> Option<LinkInput> {
        let attribute = |name: &str| {
            dom.attribute(node, name)
                .unwrap_or_default()
                .trim()
                .to_owned()
        };
        let (rel, href) = (attribute("rel").to_ascii_lowercase(), attribute("href"));
        let kind = attribute("as").to_ascii_lowercase();
        let is_sheet = rel.split(' ').any(|word| word == "stylesheet");
        if href.is_empty() || !(is_sheet || (rel.contains("preload") && kind == "font")) {
            return None;
        }
        let found = self.found(&href, base, !is_sheet);
        if is_sheet
            && !rel.contains("alternate")
            && let Ok(path) = self.site.locate(&href, base)
            && page::may_be_quoted(&path.to_string_lossy())
            && self.access.exists(&path)
        {
            // What cannot be read is told where it is linked.
            let _ = self.sheet(&path, false, 0);
        }
        Some(LinkInput {
            rel,
            href,
            kind,
            crossorigin: dom.attribute(node, "crossorigin").is_some(),
            line: dom.line(node),
            found,
        })
    }

    /// Takes in the sheet at `path` and what it imports.
    fn sheet(&mut self, path: &Path, imported: bool, depth: usize) -> Result<(), ProjectError> {
        if let Some(known) = self.sheets.get(path) {
            self.inputs.sheets[*known].imported &= imported;
            return Ok(());
        }
        let bytes = self.access.read(path, LARGEST)?;
        let css = String::from_utf8_lossy(&bytes).into_owned();
        let name = path.display().to_string();
        let source = Arc::new(SourceText::new(name, css));
        let part = 0..source.text.len();
        let number = self.sheet_within(&source, part);
        self.sheets.insert(path.to_owned(), number);
        self.inputs.sheets[number].imported = imported;
        if depth < DEEPEST {
            self.imports(number, depth);
        }
        Ok(())
    }

    fn sheet_within(&mut self, source: &Arc<SourceText>, part: Span) -> usize {
        self.inputs
            .sheets
            .push(SheetInput::within(Arc::clone(source), part));
        self.inputs.sheets.len() - 1
    }

    fn imports(&mut self, number: usize, depth: usize) {
        let sheet = &self.inputs.sheets[number];
        let base = sheet.source.name.clone();
        let statements: Vec<(Span, Option<String>)> = sheet
            .raw
            .statements
            .iter()
            .filter(|one| one.word == "import" && one.top && one.rules_before == 0)
            .map(|one| (one.whole.clone(), import_url(sheet.text(&one.whole))))
            .collect();
        for (span, url) in statements {
            let Some(url) = url else { continue };
            let found = self.found(&url, &base, false);
            self.inputs.hosted |= matches!(found, Found::Remote);
            if let Ok(path) = self.site.locate(&url, &base)
                && page::may_be_quoted(&path.to_string_lossy())
                && self.access.exists(&path)
            {
                let _ = self.sheet(&path, true, depth + 1);
            }
            self.inputs.sheets[number].imports.push((span, found));
        }
    }

    /// What `url` in the file `base` leads to; a font is opened.
    fn found(&mut self, url: &str, base: &str, font: bool) -> Found {
        let lower = url.trim().to_ascii_lowercase();
        if lower.starts_with("data:") && font {
            return self.embedded(url);
        }
        // What a template puts in is not known.
        let template = TEMPLATES.iter().any(|mark| url.contains(mark));
        if lower.starts_with("data:") || lower.is_empty() || lower.starts_with('#') || template {
            return Found::Unknown;
        }
        let path = match self.site.locate(url, base) {
            Ok(path) => path,
            Err(Unread::Remote) => return Found::Remote,
            Err(Unread::Unreadable(_)) => return Found::Missing(None),
            Err(Unread::Outside(_)) => return Found::Outside,
        };
        if self.is_outside(&path) {
            return Found::Outside;
        }
        if self.access.exists(&path) {
            return if font {
                Found::File(self.font(&path))
            } else {
                Found::Unknown
            };
        }
        if let Some(right) = self.other_case(&path) {
            return Found::OtherCase(url_like(url, base, &right));
        }
        if let Some(joined) = self.joined(url, base) {
            return if font {
                Found::File(self.font(&joined))
            } else {
                Found::Unknown
            };
        }
        let moved = self.moved(&path);
        Found::Missing(moved.map(|path| url_from(base, &path)))
    }

    /// The font in a `data:` URL.
    fn embedded(&self, url: &str) -> Found {
        let Some(bytes) = data_url::bytes_of(url) else {
            return Found::Unknown;
        };
        Found::File(Arc::new(opened(EMBEDDED.to_owned(), bytes, self.access)))
    }

    fn is_outside(&self, path: &Path) -> bool {
        let whole = |path: &Path| {
            let path = std::path::absolute(path).ok()?;
            let mut plain = PathBuf::new();
            for part in path.components() {
                match part {
                    Component::ParentDir => {
                        plain.pop();
                    }
                    Component::CurDir => {}
                    part => plain.push(part),
                }
            }
            Some(plain)
        };
        let mapped = self
            .site
            .maps
            .iter()
            .any(|(_, folder)| path.starts_with(folder));
        match (&self.base, whole(path)) {
            (Some(base), Some(path)) if !mapped => {
                whole(base).is_some_and(|base| !path.starts_with(base))
            }
            _ => false,
        }
    }

    /// The file at `path` but for the case of letters.
    fn other_case(&self, path: &Path) -> Option<PathBuf> {
        let mut right = PathBuf::new();
        for part in path.components() {
            let next = right.join(part);
            if self.access.exists(&next)
                || matches!(part, Component::RootDir | Component::ParentDir)
            {
                right = next;
                continue;
            }
            let folder = if right.as_os_str().is_empty() {
                Path::new(".")
            } else {
                &right
            };
            let wanted = part.as_os_str().to_string_lossy().to_lowercase();
            let entries = self.access.disk.folder(folder).ok()?;
            let found = entries.into_iter().find(|entry| {
                let name = entry
                    .file_name()
                    .map(|name| name.to_string_lossy().to_lowercase());
                name.as_deref() == Some(wanted.as_str())
            })?;
            right = right.join(found.file_name()?);
        }
        (right != path).then_some(right)
    }

    /// The file that `url` leads to from a folder above, where a preprocessor joins the
    /// sheet with others: it leaves URLs as they are.
    fn joined(&self, url: &str, base: &str) -> Option<PathBuf> {
        const HIGHEST: usize = 3;
        const ENDINGS: [&str; 4] = ["scss", "sass", "less", "styl"];
        let mut folder = Path::new(base).parent()?;
        for _ in 0..HIGHEST {
            folder = folder.parent()?;
            let place = folder.join("joined.css");
            let place = place.display().to_string();
            let path = self.site.locate_from(url, &place, base).ok()?;
            let here = if folder.as_os_str().is_empty() {
                Path::new(".")
            } else {
                folder
            };
            let preprocessed = || {
                let files = self.access.disk.folder(here).unwrap_or_default();
                let ending =
                    |file: &PathBuf| file.extension().map(|e| e.to_string_lossy().into_owned());
                files
                    .iter()
                    .filter_map(ending)
                    .any(|ending| ENDINGS.contains(&ending.as_str()))
            };
            if self.access.exists(&path) && preprocessed() {
                return Some(path);
            }
        }
        None
    }

    /// The only file of the project with the name of `path`.
    fn moved(&mut self, path: &Path) -> Option<PathBuf> {
        let base = self.around.clone();
        let access = self.access;
        let names = self.names.get_or_insert_with(|| {
            let folder = if base.as_os_str().is_empty() {
                PathBuf::from(".")
            } else {
                base
            };
            let mut names: HashMap<String, Vec<PathBuf>> = HashMap::new();
            for file in access
                .disk
                .files(&folder, true)
                .into_iter()
                .take(MOST_FILES)
            {
                let file = file.strip_prefix("./").map(Path::to_owned).unwrap_or(file);
                let name = file
                    .file_name()
                    .map(|name| name.to_string_lossy().into_owned());
                names
                    .entry(name.unwrap_or_default())
                    .or_default()
                    .push(file);
            }
            names
        });
        let name = path.file_name()?.to_string_lossy().into_owned();
        match names.get(&name).map(Vec::as_slice) {
            Some([only]) => Some(only.clone()),
            _ => None,
        }
    }

    fn font(&mut self, path: &Path) -> Arc<FoundFile> {
        if let Some(known) = self.fonts.get(path) {
            return Arc::clone(known);
        }
        let file = Arc::new(open(path, self.access));
        self.fonts.insert(path.to_owned(), Arc::clone(&file));
        file
    }

    /// Reads the `@font-face` rules of all sheets.
    fn faces(&mut self) {
        for number in 0..self.inputs.sheets.len() {
            for block in 0..self.inputs.sheets[number].raw.blocks.len() {
                let sheet = &self.inputs.sheets[number];
                let Some(face) = sheet.font_face(&sheet.raw.blocks[block]) else {
                    continue;
                };
                let base = sheet.source.name.clone();
                let mut sources = entries(sheet, block);
                for source in &mut sources {
                    if let Some(url) = &source.url {
                        source.found = self.found(url, &base, true);
                    }
                }
                self.inputs.faces.push(FaceRule {
                    sheet: number,
                    block,
                    face,
                    sources,
                });
            }
        }
    }

    /// Which rules give the texts of the pages their fonts.
    fn uses(&mut self) {
        let (site, access, hosted) = (self.site, self.access, self.inputs.hosted);
        let used: Vec<Used> = self
            .inputs
            .pages
            .par_iter()
            .map(|input| used_by(&input.page, site, hosted, access))
            .collect();
        for (page, used) in self.inputs.pages.iter_mut().zip(used) {
            page.used = used.rules;
            self.inputs.faked.extend(used.faked);
        }
        self.inputs.faked.sort();
        self.inputs.faked.dedup();
    }
}

/// The URL of `path` from the file `base`.
fn url_from(base: &str, path: &Path) -> String {
    let folder = Path::new(base).parent().unwrap_or(Path::new(""));
    let from = pathdiff::diff_paths(path, folder).unwrap_or_else(|| path.to_owned());
    url_path(&from.to_string_lossy().replace('\\', "/"))
}

/// The URL of `path`, from the root where `url` is.
fn url_like(url: &str, base: &str, path: &Path) -> String {
    if !url.starts_with('/') {
        return url_from(base, path);
    }
    // As many parts from the end as the URL has.
    let parts = url
        .split(['?', '#'])
        .next()
        .unwrap_or_default()
        .split('/')
        .count()
        - 1;
    let all: Vec<String> = path
        .components()
        .map(|part| part.as_os_str().to_string_lossy().into_owned())
        .collect();
    let below = all[all.len().saturating_sub(parts)..].join("/");
    format!("/{}", url_path(&below))
}
