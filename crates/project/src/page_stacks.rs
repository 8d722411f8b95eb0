//! The stacks that the texts of pages are set in, the families that their rules declare, and
//! the roles that these make.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use tidy_lattice_core::page::{self, Page};
use tidy_lattice_core::style::quoted;
use tidy_lattice_core::style::read::FamilyName;

use super::Access;
use super::declared::families_of_sheet;
use super::files::is_page;
use super::texts::decoded;
use super::web::{LARGEST, SCREEN, Site};

/// The most pages that are read to learn how texts are set; of more, these are taken evenly.
const MOST_PAGES: usize = 40;

/// What browsers set buttons and fields in where no style sheet says anything.
const CONTROLS: &str = "Arial";

/// How texts of one stack are set.
#[derive(Debug, Default)]
pub struct SetStack {
    /// The families, in order.
    pub families: Vec<FamilyName>,
    /// Characters of text, and how many of them in headings and in code.
    pub characters: [usize; 3],
    /// Characters by size, in px times 100.
    pub sizes: BTreeMap<u32, usize>,
    /// Languages, as far as stated (BCP 47).
    pub languages: BTreeSet<String>,
}

impl SetStack {
    /// The stack as `font-family` takes it.
    pub fn text(&self) -> String {
        let families: Vec<String> = self.families.iter().map(family_text).collect();
        families.join(", ")
    }
}

/// A family that style sheets or pages declare.
#[derive(Debug)]
pub struct DeclaredFamily {
    /// Its name.
    pub family: String,
    /// Where it is declared.
    pub sheets: Vec<PathBuf>,
    /// Its files, one a face; none where its faces are slices.
    pub files: Vec<PathBuf>,
    /// How many faces it has.
    pub faces: usize,
    /// Whether it has no letters of plain text.
    pub signs: bool,
}

/// What pages have of stacks and families.
#[derive(Debug, Default)]
pub struct PageStacks {
    /// The stacks, that of most text first.
    pub stacks: Vec<SetStack>,
    /// The families that are declared and whose files are there.
    pub declared: Vec<DeclaredFamily>,
    /// Families of which a file cannot be had: name, sheet, reason.
    pub unread: Vec<(String, PathBuf, String)>,
}

/// A role that a stack makes.
pub struct FoundRole<'a> {
    /// Its name.
    pub name: String,
    /// The stack; `None` for a family that no page uses.
    pub stack: Option<&'a SetStack>,
    /// The family of the project that it begins with.
    pub family: Option<&'a DeclaredFamily>,
}

impl PageStacks {
    /// Reads `pages`, and `sheets` where the pages link none with fonts.
    pub fn read(
        pages: &[PathBuf],
        sheets: &[PathBuf],
        site: &Site<'_>,
        access: Access<'_>,
    ) -> Self {
        let mut found = PageStacks::default();
        let mut linked: Vec<PathBuf> = Vec::new();
        let step = pages.len().div_ceil(MOST_PAGES).max(1);
        for path in pages.iter().step_by(step) {
            let Ok(bytes) = access.read(path, LARGEST) else {
                continue;
            };
            let Ok(html) = decoded(path, &bytes) else {
                continue;
            };
            let (page, _) = page::read(html, &path.display().to_string(), site, SCREEN);
            for face in &page.faces {
                let file = PathBuf::from(&face.file);
                if !linked.contains(&file) {
                    linked.push(file);
                }
            }
            found.add(&page);
        }
        found
            .stacks
            .sort_by_key(|stack| std::cmp::Reverse(stack.characters[0]));
        // Rules in pages themselves are those of all their sheets again, so sheets come first.
        linked.sort_by_key(|path| (is_page(path), path.clone()));
        let is_linked = !linked.is_empty();
        let sheets = if is_linked { &linked[..] } else { sheets };
        for sheet in sheets {
            found.declare(sheet, is_linked, site, access);
        }
        found
    }

    fn add(&mut self, page: &Page) {
        for text in &page.texts {
            let style = &page.styles[text.style];
            // Controls that no sheet of the page sets are the browser's own matter.
            let untouched = [FamilyName::Named(CONTROLS.to_owned())];
            if text.role == "forms" && style.families == untouched {
                continue;
            }
            let count = text.text.chars().count();
            let known = self
                .stacks
                .iter()
                .position(|one| one.families == style.families);
            let place = known.unwrap_or_else(|| {
                self.stacks.push(SetStack {
                    families: style.families.clone(),
                    ..SetStack::default()
                });
                self.stacks.len() - 1
            });
            let stack = &mut self.stacks[place];
            stack.characters[0] += count;
            stack.characters[1] += if text.role == "headings" { count } else { 0 };
            stack.characters[2] += if text.role == "code" { count } else { 0 };
            *stack
                .sizes
                .entry((style.size * 100.0).round() as u32)
                .or_default() += count;
            stack.languages.extend(text.language.clone());
        }
    }

    /// Adds the families that `sheet` declares; `linked` says that pages link it.
    fn declare(&mut self, sheet: &Path, linked: bool, site: &Site<'_>, access: Access<'_>) {
        let Ok(found) = families_of_sheet(sheet, site, access) else {
            return;
        };
        for (family, reason) in found.unread {
            if self.unread.iter().all(|(known, ..)| *known != family) {
                self.unread.push((family, sheet.to_owned(), reason));
            }
        }
        for (family, faces) in found.families {
            let signs = faces
                .iter()
                .all(|face| !face.face.maps('a') || !face.face.maps('e'));
            let sliced = faces.iter().any(|face| face.files.len() > 1);
            let files = faces
                .iter()
                .filter_map(|face| Some(face.files.first()?.sources.first()?.0.clone()));
            let paths: Vec<PathBuf> = files.collect();
            let known = self
                .declared
                .iter_mut()
                .find(|known| known.family.eq_ignore_ascii_case(&family));
            match known {
                // Only where pages link both are they one family for sure.
                Some(known) if linked && !is_page(sheet) => {
                    known.sheets.push(sheet.to_owned());
                    known.faces += faces.len();
                    if sliced || known.files.is_empty() {
                        known.files.clear();
                    } else {
                        known.files.extend(paths);
                    }
                }
                Some(_) => {}
                None => self.declared.push(DeclaredFamily {
                    family,
                    sheets: vec![sheet.to_owned()],
                    files: if sliced { Vec::new() } else { paths },
                    faces: faces.len(),
                    signs,
                }),
            }
        }
    }

    /// The family of the project that a stack begins with; fonts of signs before it do not
    /// count.
    pub fn family_of(&self, stack: &SetStack) -> Option<&DeclaredFamily> {
        let known = |name: &FamilyName| {
            let mut all = self.declared.iter();
            all.find(|one| one.family.eq_ignore_ascii_case(name.as_str()))
        };
        let mut families = stack.families.iter();
        families
            .find_map(|name| match known(name) {
                Some(family) if family.signs => None,
                found => Some(found),
            })
            .flatten()
    }

    /// The further families of the project in a stack, behind `first`, in order.
    pub fn behind<'a>(
        &'a self,
        stack: &SetStack,
        first: &DeclaredFamily,
    ) -> impl Iterator<Item = &'a DeclaredFamily> {
        let named = |family: &DeclaredFamily, name: &FamilyName| {
            family.family.eq_ignore_ascii_case(name.as_str())
        };
        let families = stack.families.iter();
        let after = families.skip_while(|name| !named(first, name)).skip(1);
        let found: Vec<&DeclaredFamily> = after
            .filter_map(|name| self.declared.iter().find(|family| named(family, name)))
            .collect();
        found.into_iter()
    }

    /// Roles for the stacks that begin with a family of the project, one for each family;
    /// where there is none, for the stack of most text.
    pub fn roles(&self) -> Vec<FoundRole<'_>> {
        let mut roles: Vec<FoundRole<'_>> = Vec::new();
        let mut taken: BTreeSet<String> = BTreeSet::new();
        for stack in &self.stacks {
            let Some(family) = self.family_of(stack) else {
                continue;
            };
            if taken.insert(family.family.to_lowercase()) {
                roles.push(FoundRole {
                    name: name_of(stack, &roles, &family.family),
                    stack: Some(stack),
                    family: Some(family),
                });
            }
        }
        // A family that no page uses is still the project's, where there are no pages.
        let letters = self.declared.iter().find(|family| !family.signs);
        let alone = letters.filter(|_| self.stacks.is_empty());
        let mut set = self
            .stacks
            .iter()
            .filter(|stack| !stack.families.is_empty());
        let is_code = |stack: &SetStack| stack.characters[2] * 2 > stack.characters[0];
        let most = set
            .clone()
            .find(|stack| !is_code(stack))
            .or_else(|| set.next());
        if roles.is_empty() && (alone.is_some() || most.is_some()) {
            let code = alone.is_none() && most.is_some_and(is_code);
            roles.push(FoundRole {
                name: if code { "code" } else { "body" }.to_owned(),
                stack: most,
                family: alone,
            });
        }
        roles
    }
}

fn name_of(stack: &SetStack, roles: &[FoundRole<'_>], family: &str) -> String {
    let [all, headings, code] = stack.characters;
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
    match plain.trim_matches('-') {
        "" => format!("stack-{}", roles.len() + 1),
        plain => plain.to_owned(),
    }
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
