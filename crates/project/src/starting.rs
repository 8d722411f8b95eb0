//! A project file for a folder as it is found.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use tidy_lattice_core::content::{Format, language_of_path};
use tidy_lattice_core::style::read::FamilyName;

use super::faces::face;
use super::files::is_page;
use super::page_stacks::{DeclaredFamily, FoundRole, PageStacks, SetStack};
use super::web::Site;
use super::{Access, ProjectError};

/// The role of messages where no page says how text is set.
const MESSAGES: &str = "messages";

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
    let files = files_of(here, access);
    let root = root_of(&files);
    let in_root = |path: &&PathBuf| path.starts_with(&root);
    let pages: Vec<&PathBuf> = files
        .iter()
        .filter(|path| is_page(path))
        .filter(in_root)
        .collect();
    let catalogues = catalogues(&files);
    let mut draft = Draft {
        toml: heading(here),
        took: Vec::new(),
    };
    // Paths from this folder are told without a dot.
    let base = if here == Path::new(".") {
        Path::new("")
    } else {
        here
    };
    let found = stacks_of(base, &files, &root, &pages, access);
    let letters = || found.declared.iter().filter(|family| !family.signs);
    for web_family in letters() {
        let sheets: Vec<String> = web_family
            .sheets
            .iter()
            .map(|sheet| from(base, sheet).display().to_string())
            .collect();
        draft.took.push(format!(
            "{} for where {:?} is declared",
            sheets.join(", "),
            web_family.family
        ));
    }
    if pages.is_empty() && catalogues.is_empty() && letters().next().is_none() {
        return Err(ProjectError::Usage(format!(
            "{}: there are no pages, message catalogues or style sheets with fonts here; a project \
             file would be empty",
            here.display()
        )));
    }
    if !root.as_os_str().is_empty() {
        draft.root(&root);
    }
    draft.toml.push_str(
        "# The devices that count; all that are built in where nothing is said\n\
         # (`tidy-lattice platforms` lists them).\n\
         # platforms = [\"windows\", \"macos\", \"ios\", \"android\"]\n\n",
    );
    let roles: Vec<StartRole> = found
        .roles()
        .into_iter()
        .map(|one| {
            let both = one.family.zip(one.stack);
            let behind: Option<Vec<&DeclaredFamily>> =
                both.map(|(family, stack)| found.behind(stack, family).collect());
            role(one, &behind.unwrap_or_default(), base)
        })
        .collect();
    if !pages.is_empty() {
        draft.pages(&root, pages.len());
    }
    // What is no page is set in the role of most text, else in the fonts of the system.
    let main = roles.first().map(|role| role.name.as_str());
    draft.catalogues(&catalogues, main);
    let loose =
        (main.is_none() && !catalogues.is_empty()).then(|| loose_family(here, &files, access));
    if let Some(loose) = &loose {
        draft.messages(loose.as_ref());
    }
    for role in &roles {
        draft.took.push(role.why.clone());
        draft.toml.push_str(&role.toml);
    }
    let mut with_web: Vec<String> = roles
        .iter()
        .filter(|role| role.web)
        .map(|role| role.name.clone())
        .collect();
    let in_pages = !with_web.is_empty();
    if matches!(loose, Some(Some(_))) {
        with_web.push(MESSAGES.to_owned());
    }
    let declared = letters().flat_map(|family| family.sheets.iter());
    let declared = declared.map(|sheet| from(base, sheet));
    let sheets = files
        .iter()
        .filter(|path| is_sheet(path) && path.starts_with(&root));
    // Packages are not ours to write into.
    let beside = declared
        .chain(sheets.cloned())
        .find(|sheet| !in_package(sheet) && !sheet.starts_with(".."));
    let output = beside.map_or_else(
        || root.clone(),
        |sheet| sheet.parent().map(Path::to_owned).unwrap_or_default(),
    );
    if in_pages {
        draft.build(&with_web[0], &output);
    }
    draft.toml.push_str(
        "[shift]\n# The highest layout-shift score that passes; 0.1 is called good.\n# budget = 0.1\n\n\
         [check]\n# From which level on `check` fails: advice, warning or error.\nfail_on = \"error\"\n\
         # What is meant to be so:\n# [[check.allow]]\n# code = \"generic-missing\"\n# files = [\"**/*.css\"]\n\
         # because = \"…\"\n",
    );
    Ok(Start {
        toml: draft.toml,
        took: draft.took,
        roles: with_web,
        pages: pages.len(),
    })
}

/// The files of a folder that may matter, by their paths from it.
fn files_of(here: &Path, access: Access<'_>) -> Vec<PathBuf> {
    let inside = |path: PathBuf| path.strip_prefix(here).map(Path::to_owned).unwrap_or(path);
    let passed = |path: &PathBuf| {
        let mut parts = path
            .components()
            .map(|part| part.as_os_str().to_string_lossy());
        parts.any(|part| PASSED.contains(&part.as_ref()))
    };
    let files = access.disk.files(here, true).into_iter().map(inside);
    files.filter(|path| !passed(path)).collect()
}

/// A project file as far as it is written, and what it was taken from.
struct Draft {
    toml: String,
    took: Vec<String>,
}

impl Draft {
    /// Adds the root of the site.
    fn root(&mut self, root: &Path) {
        self.took.push(format!(
            "{}/ for the root of the site: it has the pages",
            root.display()
        ));
        let _ = writeln!(
            self.toml,
            "# What \"/\" means in links.\nroot = {}\n",
            text(root)
        );
    }

    /// Adds the pages, of which there are `count`.
    fn pages(&mut self, root: &Path, count: usize) {
        let pattern = root.join("**/*.html");
        self.took
            .push(format!("{} for pages: {}", text(&pattern), count));
        let _ = writeln!(
            self.toml,
            "# Pages bring their own stacks and fonts.\n[[content]]\nfiles = [{}]\n",
            text(&pattern)
        );
    }

    /// Adds messages, by the patterns of their files with their languages; they are set in the
    /// `main` role.
    fn catalogues(&mut self, catalogues: &[(String, Vec<String>)], main: Option<&str>) {
        for (pattern, languages) in catalogues {
            self.took.push(format!(
                "{pattern:?} for messages in {}",
                languages.join(", ")
            ));
            let _ = writeln!(
                self.toml,
                "# Messages, set like most text.\n[[content]]\nfiles = [{}]\nrole = {:?}\n",
                text(Path::new(pattern)),
                main.unwrap_or(MESSAGES)
            );
        }
    }

    /// Adds the role of messages that no known stack sets: of a family that lies here without
    /// a rule, else of the systems' fonts.
    fn messages(&mut self, loose: Option<&(String, Vec<PathBuf>)>) {
        if let Some((family, fonts)) = loose {
            let fonts: Vec<String> = fonts.iter().map(|path| text(path)).collect();
            self.took.push(format!(
                "role.{MESSAGES}: {family:?}, of which {} here",
                match fonts.len() {
                    1 => "a file lies".to_owned(),
                    some => format!("{some} files lie"),
                }
            ));
            let _ = writeln!(
                self.toml,
                "# The fonts that lie here; no style sheet declares them. `tidy-lattice build --as app`\n\
             # prints stacks for programs that draw their own text.\n[role.{MESSAGES}]\nfamily = {}\n\
             web = [{}]\n",
                text(Path::new(family)),
                fonts.join(", ")
            );
        } else {
            self.took.push(format!(
                "role.{MESSAGES}: no stack is known that sets these messages, so `build` makes \
             one of the systems' interface fonts"
            ));
            let _ = writeln!(
                self.toml,
                "# No stack is known that sets them: `build` makes one of the fonts that devices have\n\
             # for interface, reading or code. Or name a stack = \"…\", or web = [\"…\"].\n\
             [role.{MESSAGES}]\nuse = \"interface\"\n"
            );
        }
    }

    /// Adds what `build` writes, for pages that are set in `role`.
    fn build(&mut self, role: &str, output: &Path) {
        let _ = writeln!(
            self.toml,
            "[build]\n# What `build` writes. Link it, and set text in its custom properties, such as\n\
             # font-family: var(--{}-stack).\noutput = {}\n# Text shows at once, and changes when the \
             font arrives.\naim = \"text-first\"\n",
            role,
            text(&output.join("tidy-lattice.css"))
        );
    }
}

/// Folders of packages that a package manager fills.
const PACKAGES: [&str; 4] = ["node_modules", "bower_components", "vendor", ".yarn"];

/// Whether a file is of a package.
fn in_package(path: &Path) -> bool {
    let mut parts = path.components();
    parts.any(|part| PACKAGES.iter().any(|package| part.as_os_str() == *package))
}

fn is_sheet(path: &Path) -> bool {
    path.extension().is_some_and(|ending| ending == "css")
}

/// The family that most of the font files here are of, with its files: of an application
/// whose fonts no style sheet declares.
fn loose_family(
    folder: &Path,
    files: &[PathBuf],
    access: Access<'_>,
) -> Option<(String, Vec<PathBuf>)> {
    /// The most files that are opened to learn their names.
    const MOST: usize = 200;
    let is_font = |path: &&PathBuf| {
        let ending = path.extension().map(|ending| ending.to_ascii_lowercase());
        let ending = ending.unwrap_or_default();
        !in_package(path)
            && ["ttf", "otf", "woff2", "woff"]
                .iter()
                .any(|known| ending == *known)
    };
    let mut families: BTreeMap<String, Vec<PathBuf>> = BTreeMap::new();
    for path in files.iter().filter(is_font).take(MOST) {
        let Ok(face) = face(&folder.join(path), access) else {
            continue;
        };
        // Fonts of pictures are not what messages are set in.
        if face.maps('a') && face.maps('e') {
            families
                .entry(face.names().family.clone())
                .or_default()
                .push(path.clone());
        }
    }
    // Of equals the first by name.
    families
        .into_iter()
        .rev()
        .max_by_key(|(_, files)| files.len())
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

/// The stacks and families of the pages in `folder`, whose root is `root` there.
fn stacks_of(
    folder: &Path,
    files: &[PathBuf],
    root: &Path,
    pages: &[&PathBuf],
    access: Access<'_>,
) -> PageStacks {
    let site = Site::new(
        folder.join(root),
        !root.as_os_str().is_empty(),
        Vec::new(),
        access,
    );
    let sheets = files
        .iter()
        .filter(|path| is_sheet(path) && path.starts_with(root));
    let sheets: Vec<PathBuf> = sheets.map(|path| folder.join(path)).collect();
    let pages: Vec<PathBuf> = pages.iter().map(|path| folder.join(path)).collect();
    PageStacks::read(&pages, &sheets, &site, access)
}

/// A path as it is from `folder`.
fn from(folder: &Path, path: &Path) -> PathBuf {
    path.strip_prefix(folder).unwrap_or(path).to_owned()
}

/// A role of the project file.
struct StartRole {
    name: String,
    toml: String,
    why: String,
    web: bool,
}

fn role(found: FoundRole<'_>, behind: &[&DeclaredFamily], folder: &Path) -> StartRole {
    let (name, web_family) = (found.name, found.family);
    let unused = SetStack {
        families: web_family.map_or_else(Vec::new, |web_family| {
            vec![
                FamilyName::Named(web_family.family.clone()),
                FamilyName::Generic("sans-serif".to_owned()),
            ]
        }),
        ..SetStack::default()
    };
    let setting = found.stack.unwrap_or(&unused);
    let stack = setting.text();
    let mut toml = format!(
        "# {} characters of the pages are set so.\n[role.{name}]\nstack = {}\n",
        setting.characters[0],
        text(Path::new(&stack))
    );
    let mut why = format!("role.{name}: {stack}");
    if let Some(web_family) = web_family {
        let _ = writeln!(
            toml,
            "# What `build` makes a stack with stand-ins from.\nfamily = {}",
            text(Path::new(&web_family.family))
        );
        let web: Vec<String> = if web_family.files.is_empty() {
            web_family
                .sheets
                .iter()
                .map(|sheet| text(&from(folder, sheet)))
                .collect()
        } else {
            web_family
                .files
                .iter()
                .map(|path| text(&from(folder, path)))
                .collect()
        };
        let _ = writeln!(toml, "web = [{}]", web.join(", "));
        if !behind.is_empty() {
            let kept = behind.iter().map(|kept| {
                let from = text(&from(folder, &kept.sheets[0]));
                let family = text(Path::new(&kept.family));
                format!("  {{ family = {family}, from = {from} }},\n")
            });
            let kept: String = kept.collect();
            let _ = writeln!(
                toml,
                "# Further fonts of the stack, which stay as these sheets declare them.\n\
                 keep = [\n{kept}]"
            );
        }
        let _ = write!(
            why,
            "; built from {} {} of {:?}",
            web_family.faces,
            if web_family.faces == 1 {
                "face"
            } else {
                "faces"
            },
            web_family.family
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
        web: web_family.is_some(),
        name,
        toml,
        why,
    }
}
