//! A project file for a folder as it is found.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use tidy_lattice_core::content::{Format, language_of_path};
use tidy_lattice_core::page::{self, Page};
use tidy_lattice_core::style::quoted;
use tidy_lattice_core::style::read::FamilyName;

use super::declared::families_of_sheet;
use super::pages::is_page;
use super::texts::decoded;
use super::web::{LARGEST, SCREEN, Site};
use super::{Access, ProjectError};

/// The most pages that are read to learn how texts are set.
const MOST_PAGES: usize = 40;

/// Folders in which sites keep what is served, the built ones first.
const ROOTS: [&str; 9] = [
    "dist", "build", "out", "_site", "public", "static", "site", "www", "docs",
];

/// Folders of pages that are nobody's site.
const PASSED: [&str; 8] = [
    "test",
    "tests",
    "spec",
    "examples",
    "coverage",
    "fixtures",
    "vendor",
    "bower_components",
];

/// What was found in a folder, and the project file for it.
#[derive(Debug, Clone, serde::Serialize, schemars::JsonSchema)]
pub struct Start {
    /// The project file.
    pub toml: String,
    /// What was taken for what, a line each.
    pub took: Vec<String>,
    /// The roles that have a web font.
    pub roles: Vec<String>,
    /// How many pages there are.
    pub pages: usize,
}

/// How texts of one stack are set.
#[derive(Default)]
struct Setting {
    stack: Vec<FamilyName>,
    /// Characters of text, and how many of them in headings and in code.
    characters: [usize; 3],
    /// Characters by size, in px times 100.
    sizes: BTreeMap<u32, usize>,
    languages: BTreeSet<String>,
}

/// A family that a sheet declares.
struct Declared {
    family: String,
    /// The sheets that declare it.
    sheets: Vec<PathBuf>,
    /// Its files, one a face; none where its faces are slices.
    files: Vec<PathBuf>,
    faces: usize,
}

/// Looks at `folder`.
///
/// # Errors
///
/// [`ProjectError::Usage`] where there is neither a page nor a style sheet nor a message
/// catalogue.
pub fn look(folder: &Path, access: Access<'_>) -> Result<Start, ProjectError> {
    let here = if folder.as_os_str().is_empty() {
        Path::new(".")
    } else {
        folder
    };
    if !access.is_folder(here) {
        return Err(ProjectError::Unreadable {
            path: here.to_owned(),
            reason: "there is no such folder; name the one that holds the project".to_owned(),
        });
    }
    let inside = |path: PathBuf| path.strip_prefix(here).map(Path::to_owned).unwrap_or(path);
    let files: Vec<PathBuf> = access
        .disk
        .files(here, true)
        .into_iter()
        .map(inside)
        .collect();
    let passed = |path: &Path| {
        let mut parts = path
            .components()
            .map(|part| part.as_os_str().to_string_lossy());
        parts.any(|part| PASSED.contains(&part.as_ref()))
    };
    let files: Vec<PathBuf> = files.into_iter().filter(|path| !passed(path)).collect();
    let root = root_of(&files);
    let in_root = |path: &&PathBuf| path.starts_with(&root);
    let pages: Vec<&PathBuf> = files
        .iter()
        .filter(|path| is_page(path))
        .filter(in_root)
        .collect();
    let catalogues = catalogues(&files);
    let mut took = Vec::new();
    // Paths from this folder are told without a dot.
    let base = if here == Path::new(".") {
        Path::new("")
    } else {
        here
    };
    let (settings, linked) = settings(base, &root, &pages, access);
    let declared = declared(base, &files, &root, &linked, access);
    for own in &declared {
        let sheets: Vec<String> = own
            .sheets
            .iter()
            .map(|sheet| sheet.display().to_string())
            .collect();
        took.push(format!(
            "{} for where {:?} is declared",
            sheets.join(", "),
            own.family
        ));
    }
    if pages.is_empty() && catalogues.is_empty() && declared.is_empty() {
        return Err(ProjectError::Usage(format!(
            "{}: there are no pages, message catalogues or style sheets with fonts here; a project \
             file would be empty",
            here.display()
        )));
    }
    let mut toml = heading(here);
    if !root.as_os_str().is_empty() {
        took.push(format!(
            "{}/ for the root of the site: it has the pages",
            root.display()
        ));
        let _ = writeln!(
            toml,
            "# What \"/\" means in links.\nroot = {}\n",
            text(&root)
        );
    }
    toml.push_str(
        "# The devices that count; all that are built in where nothing is said\n\
         # (`tidy-lattice platforms` lists them).\n\
         # platforms = [\"windows\", \"macos\", \"ios\", \"android\"]\n\n",
    );
    let roles = roles(&settings, &declared);
    if !pages.is_empty() {
        let pattern = root.join("**/*.html");
        took.push(format!("{} for pages: {}", text(&pattern), pages.len()));
        let _ = writeln!(
            toml,
            "# Pages bring their own stacks and fonts.\n[[content]]\nfiles = [{}]\n",
            text(&pattern)
        );
    }
    // What is no page is set in the role of most text.
    let main = roles.first().map(|role| role.name.clone());
    if let Some(main) = &main {
        for (pattern, languages) in &catalogues {
            took.push(format!(
                "{pattern:?} for messages in {}",
                languages.join(", ")
            ));
            let _ = writeln!(
                toml,
                "# Messages, set like most text.\n[[content]]\nfiles = [{}]\nrole = {main:?}\n",
                text(Path::new(pattern))
            );
        }
    } else if !catalogues.is_empty() {
        took.push("message catalogues are left out: no stack is known that sets them".to_owned());
    }
    for role in &roles {
        took.push(role.why.clone());
        toml.push_str(&role.toml);
    }
    let with_web: Vec<String> = roles
        .iter()
        .filter(|role| role.web)
        .map(|role| role.name.clone())
        .collect();
    let output = declared.first().map_or_else(
        || root.clone(),
        |first| {
            first.sheets[0]
                .parent()
                .map(Path::to_owned)
                .unwrap_or_default()
        },
    );
    if !with_web.is_empty() {
        let _ = writeln!(
            toml,
            "[build]\n# What `build` writes. Link it, and set text in its custom properties, such as\n\
             # font-family: var(--{}-stack).\noutput = {}\n# Text shows at once, and changes when the \
             font arrives.\naim = \"text-first\"\n",
            with_web[0],
            text(&output.join("tidy-lattice.css"))
        );
    }
    toml.push_str(
        "[shift]\n# The highest layout-shift score that passes; 0.1 is called good.\n# budget = 0.1\n\n\
         [check]\n# From which level on `check` fails: advice, warning or error.\nfail_on = \"error\"\n\
         # What is meant to be so:\n# [[check.allow]]\n# code = \"generic-missing\"\n# files = [\"**/*.css\"]\n\
         # because = \"…\"\n",
    );
    Ok(Start {
        toml,
        took,
        roles: with_web,
        pages: pages.len(),
    })
}

fn heading(folder: &Path) -> String {
    let name = std::path::absolute(folder).ok();
    let name = name
        .as_deref()
        .and_then(Path::file_name)
        .map(|name| name.to_string_lossy().into_owned());
    format!(
        "# What tidy-lattice looks at, from this folder. `tidy-lattice schema project` lists all keys.\n\
         title = {}\n\n",
        text(Path::new(&name.unwrap_or_default()))
    )
}

/// A path as a TOML string.
fn text(path: &Path) -> String {
    let path = path.to_string_lossy().replace('\\', "/");
    serde_json::Value::String(path).to_string()
}

/// The folder that holds the site: one that is called so and has a page, else that of the
/// highest page.
fn root_of(files: &[PathBuf]) -> PathBuf {
    let index = |folder: &Path| files.contains(&folder.join("index.html"));
    if index(Path::new("")) {
        return PathBuf::new();
    }
    let known = ROOTS.iter().map(PathBuf::from).find(|root| index(root));
    known.unwrap_or_else(|| {
        let pages = files.iter().filter(|path| is_page(path));
        let highest = pages.min_by_key(|path| path.components().count());
        highest
            .and_then(|path| path.parent())
            .map(Path::to_owned)
            .unwrap_or_default()
    })
}

/// Patterns of message catalogues, with the languages that they are in: files whose
/// paths name languages.
fn catalogues(files: &[PathBuf]) -> Vec<(String, Vec<String>)> {
    let mut found: BTreeMap<String, BTreeSet<String>> = BTreeMap::new();
    for path in files.iter().filter(|path| !is_page(path)) {
        let name = path.to_string_lossy().replace('\\', "/");
        let ending = name.rsplit('.').next().unwrap_or_default().to_owned();
        let is_catalogue = Format::endings().any(|known| known == ending)
            && !["txt", "md", "markdown", "csv", "tsv", "xml"].contains(&ending.as_str());
        let Some(language) = language_of_path(&name).filter(|_| is_catalogue) else {
            continue;
        };
        // The part before the one that names the language.
        let parts: Vec<&str> = name.split('/').collect();
        let place = parts
            .iter()
            .position(|part| language_of_path(part).is_some());
        let before = parts[..place.unwrap_or(parts.len() - 1)].join("/");
        let pattern = if before.is_empty() {
            format!("*.{ending}")
        } else {
            format!("{before}/**/*.{ending}")
        };
        found.entry(pattern).or_default().insert(language);
    }
    // One file alone is as likely something else.
    let several = found
        .into_iter()
        .filter(|(_, languages)| languages.len() > 1);
    several
        .map(|(pattern, languages)| (pattern, languages.into_iter().collect()))
        .collect()
}

/// The families that style sheets declare and whose files are there: those that pages
/// link, else all of the root.
fn declared(
    folder: &Path,
    files: &[PathBuf],
    root: &Path,
    linked: &BTreeSet<PathBuf>,
    access: Access<'_>,
) -> Vec<Declared> {
    let mut found: Vec<Declared> = Vec::new();
    let is_sheet = |path: &&PathBuf| path.extension().is_some_and(|ending| ending == "css");
    let wanted = |path: &&PathBuf| {
        path.starts_with(root) && (linked.is_empty() || linked.contains(&folder.join(path)))
    };
    for sheet in files.iter().filter(is_sheet).filter(wanted) {
        let path = folder.join(sheet);
        let Ok(families) = families_of_sheet(&path, access) else {
            continue;
        };
        for (family, faces) in families {
            let signs = faces
                .iter()
                .all(|face| !face.face.maps('a') || !face.face.maps('e'));
            if signs {
                continue;
            }
            let sliced = faces.iter().any(|face| face.files.len() > 1);
            let paths = faces
                .iter()
                .filter_map(|face| Some(face.files.first()?.sources.first()?.0.clone()));
            let inside = |path: PathBuf| {
                path.strip_prefix(folder)
                    .map(Path::to_owned)
                    .unwrap_or(path)
            };
            let own: Vec<PathBuf> = paths.map(inside).collect();
            let known = found
                .iter_mut()
                .find(|known| known.family.eq_ignore_ascii_case(&family));
            match known {
                // Only where pages link both are they one family for sure.
                Some(known) if !linked.is_empty() => {
                    known.sheets.push(sheet.clone());
                    known.faces += faces.len();
                    if sliced || known.files.is_empty() {
                        known.files.clear();
                    } else {
                        known.files.extend(own);
                    }
                }
                Some(_) => {}
                None => found.push(Declared {
                    family,
                    sheets: vec![sheet.clone()],
                    files: if sliced { Vec::new() } else { own },
                    faces: faces.len(),
                }),
            }
        }
    }
    found
}

/// How the texts of pages are set, by stack, the one of most text first; and the sheets
/// with fonts that they link.
fn settings(
    folder: &Path,
    root: &Path,
    pages: &[&PathBuf],
    access: Access<'_>,
) -> (Vec<Setting>, BTreeSet<PathBuf>) {
    let site = Site::new(
        folder.join(root),
        !root.as_os_str().is_empty(),
        Vec::new(),
        access,
    );
    let mut settings: Vec<Setting> = Vec::new();
    let mut linked = BTreeSet::new();
    for path in pages.iter().take(MOST_PAGES) {
        let path = folder.join(path);
        let Ok(bytes) = access.read(&path, LARGEST) else {
            continue;
        };
        let Ok(html) = decoded(&path, &bytes) else {
            continue;
        };
        let (page, _) = page::read(html, &path.display().to_string(), &site, SCREEN);
        linked.extend(page.faces.iter().map(|face| PathBuf::from(&face.file)));
        add(&mut settings, &page);
    }
    settings.sort_by_key(|setting| std::cmp::Reverse(setting.characters[0]));
    (settings, linked)
}

fn add(settings: &mut Vec<Setting>, page: &Page) {
    for text in &page.texts {
        let style = &page.styles[text.style];
        let count = text.text.chars().count();
        let known = settings.iter().position(|one| one.stack == style.families);
        let place = known.unwrap_or_else(|| {
            settings.push(Setting {
                stack: style.families.clone(),
                ..Setting::default()
            });
            settings.len() - 1
        });
        let setting = &mut settings[place];
        setting.characters[0] += count;
        setting.characters[1] += if text.role == "headings" { count } else { 0 };
        setting.characters[2] += if text.role == "code" { count } else { 0 };
        *setting
            .sizes
            .entry((style.size * 100.0).round() as u32)
            .or_default() += count;
        setting.languages.extend(text.language.clone());
    }
}

/// A role of the project file.
struct StartRole {
    name: String,
    toml: String,
    why: String,
    web: bool,
}

/// Roles for the stacks of pages that begin with a family of the project; where there is
/// none, for the stack of most text.
fn roles(settings: &[Setting], declared: &[Declared]) -> Vec<StartRole> {
    let mut roles: Vec<StartRole> = Vec::new();
    let mut taken: BTreeSet<String> = BTreeSet::new();
    let family_of = |setting: &Setting| {
        let first = setting.stack.first()?.as_str();
        declared
            .iter()
            .find(|one| one.family.eq_ignore_ascii_case(first))
    };
    for setting in settings
        .iter()
        .filter(|setting| family_of(setting).is_some())
    {
        let Some(own) = family_of(setting) else {
            continue;
        };
        if !taken.insert(own.family.to_lowercase()) {
            continue;
        }
        let name = name_of(setting, &roles, &own.family);
        roles.push(role(name, setting, Some(own)));
    }
    // Families that no page uses are still the project's.
    for own in declared
        .iter()
        .filter(|one| !taken.contains(&one.family.to_lowercase()))
    {
        if !roles.is_empty() || !settings.is_empty() {
            break;
        }
        let setting = Setting {
            stack: vec![
                FamilyName::Named(own.family.clone()),
                FamilyName::Generic("sans-serif".to_owned()),
            ],
            ..Setting::default()
        };
        roles.push(role("body".to_owned(), &setting, Some(own)));
    }
    if roles.is_empty()
        && let Some(setting) = settings.first().filter(|setting| !setting.stack.is_empty())
    {
        roles.push(role("body".to_owned(), setting, None));
    }
    roles
}

fn name_of(setting: &Setting, roles: &[StartRole], family: &str) -> String {
    let [all, headings, code] = setting.characters;
    let free = |name: &str| roles.iter().all(|role| role.name != name);
    let usual = match (headings * 2 > all, code * 2 > all) {
        (true, _) => "headings",
        (_, true) => "code",
        _ => "body",
    };
    if free(usual) {
        return usual.to_owned();
    }
    let plain: String = family
        .to_lowercase()
        .chars()
        .map(|c| if c.is_ascii_alphanumeric() { c } else { '-' })
        .collect();
    plain.trim_matches('-').to_owned()
}

/// A family as `font-family` takes it.
fn family_text(family: &FamilyName) -> String {
    match family {
        FamilyName::Named(name) if is_plain(name) => name.clone(),
        FamilyName::Named(name) => quoted(name),
        FamilyName::Generic(word) => word.clone(),
    }
}

/// Whether a name needs no quotes: words of letters, figures and hyphens.
fn is_plain(name: &str) -> bool {
    name.split(' ').all(|word| {
        let letters = word.trim_start_matches('-');
        letters.starts_with(|c: char| c.is_ascii_alphabetic())
            && word.chars().all(|c| c.is_ascii_alphanumeric() || c == '-')
    })
}

fn role(name: String, setting: &Setting, own: Option<&Declared>) -> StartRole {
    let stack: Vec<String> = setting.stack.iter().map(family_text).collect();
    let mut toml = format!(
        "# {} characters of the pages are set so.\n[role.{name}]\nstack = {}\n",
        setting.characters[0],
        text(Path::new(&stack.join(", ")))
    );
    let mut why = format!("role.{name}: {}", stack.join(", "));
    if let Some(own) = own {
        let _ = writeln!(
            toml,
            "# What `build` makes a stack with stand-ins from.\nfamily = {}",
            text(Path::new(&own.family))
        );
        let web: Vec<String> = if own.files.is_empty() {
            own.sheets.iter().map(|sheet| text(sheet)).collect()
        } else {
            own.files.iter().map(|path| text(path)).collect()
        };
        let _ = writeln!(toml, "web = [{}]", web.join(", "));
        let _ = write!(
            why,
            "; built from {} {} of {:?}",
            own.faces,
            if own.faces == 1 { "face" } else { "faces" },
            own.family
        );
    }
    let mut sizes: Vec<(&u32, &usize)> = setting.sizes.iter().collect();
    sizes.sort_by_key(|(size, count)| (std::cmp::Reverse(**count), **size));
    let px = |size: u32| f64::from(size) / 100.0;
    let within = |size: &u32| (100..=100_000).contains(size);
    let sizes: Vec<String> = sizes
        .iter()
        .filter(|(size, _)| within(size))
        .take(6)
        .map(|(size, _)| px(**size).to_string())
        .collect();
    if let Some((first, rest)) = sizes.split_first() {
        let _ = writeln!(toml, "size = {first}");
        if !rest.is_empty() {
            let _ = writeln!(toml, "sizes = [{}]", rest.join(", "));
        }
    }
    toml.push_str(
        "# Widths of columns, in px, that lines are broken at.\n# widths = [320, 480, 640]\n\n",
    );
    StartRole {
        web: own.is_some(),
        name,
        toml,
        why,
    }
}
