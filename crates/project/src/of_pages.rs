//! The project that pages make by themselves: a role for each stack that begins with one of
//! their web fonts.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use tidy_lattice_core::style::read::FamilyName;

use super::file::{KeepRule, Project, Role};
use super::page_stacks::{DeclaredFamily, FoundRole, PageStacks, SetStack};
use super::pages::Pages;
use super::request::SiteRequest;
use super::{Access, ProjectError};

/// What pages make.
pub struct OfPages {
    /// The project: its roles are the stacks of the pages; platforms and settings are those
    /// of the project file, where there is one.
    pub project: Project,
    /// The pages.
    pub pages: Vec<PathBuf>,
    /// What was taken for what, a line each.
    pub took: Vec<String>,
}

/// Reads the pages that `paths` name (files and folders); `declared` is the project file.
///
/// # Errors
///
/// [`ProjectError`] where there are none, one cannot be read, or no stack of theirs begins
/// with a web font that is at hand.
pub fn of_pages(
    paths: &[PathBuf],
    declared: Option<&Project>,
    request: &SiteRequest,
    access: Access<'_>,
) -> Result<OfPages, ProjectError> {
    let read = Pages::find(paths, declared.cloned(), request, access)?;
    let pages: Vec<PathBuf> = read.files.iter().map(|file| file.path.clone()).collect();
    let found = PageStacks::read(&pages, &[], &read.site, access);
    let mut project = declared.cloned().unwrap_or_default();
    project.content.clear();
    // Folders that hold the pages are tried as roots; the one that fits is known now.
    if project.root.is_none() {
        let root = read.site.roots().into_iter().next();
        let here = |root: PathBuf| match root.as_os_str().is_empty() {
            true => PathBuf::from("."),
            false => root,
        };
        project.root = root.map(|root| here(within(&root, &project.folder)));
    }
    project.role = BTreeMap::new();
    let mut took = Vec::new();
    for role in found.roles() {
        let (Some(family), Some(stack)) = (role.family, role.stack) else {
            continue;
        };
        took.push(format!(
            "{}: {} characters are set in {}",
            role.name,
            stack.characters[0],
            stack.text()
        ));
        let others = found.stacks.iter().filter(|other| {
            let same = found.family_of(other).map(|other| &other.family);
            same == Some(&family.family) && other.families != stack.families
        });
        for other in others {
            took.push(format!(
                "{}, too: {} in {}",
                role.name,
                other.characters[0],
                other.text()
            ));
        }
        let behind: Vec<&DeclaredFamily> = found.behind(stack, family).collect();
        if !behind.is_empty() {
            let names: Vec<&str> = behind.iter().map(|family| family.family.as_str()).collect();
            took.push(format!(
                "{} keeps {} behind it, as the pages declare them",
                role.name,
                names.join(", ")
            ));
        }
        let (name, role) = role_of(&role, &behind, &project);
        project.role.insert(name, role);
    }
    if project.role.is_empty() {
        return Err(nothing(&found, &pages));
    }
    for (family, sheet, reason) in &found.unread {
        took.push(format!(
            "{family} is left as it is: {}: {reason}",
            sheet.display()
        ));
    }
    Ok(OfPages {
        project,
        pages,
        took,
    })
}

fn role_of(found: &FoundRole<'_>, behind: &[&DeclaredFamily], project: &Project) -> (String, Role) {
    let sheets = found.family.map(|family| family.sheets.as_slice());
    let families = found.stack.map(|stack| stack.families.as_slice());
    let generic = families.and_then(|families| match families.last() {
        Some(FamilyName::Generic(word)) => Some(word.clone()),
        _ => None,
    });
    let role = Role {
        web: sheets
            .unwrap_or_default()
            .iter()
            .map(|sheet| within(sheet, &project.folder))
            .collect(),
        family: found.family.map(|family| family.family.clone()),
        generic,
        keep: behind
            .iter()
            .map(|kept| KeepRule {
                family: kept.family.clone(),
                from: within(&kept.sheets[0], &project.folder),
            })
            .collect(),
        ..Role::default()
    };
    (found.name.clone(), role)
}

/// A path from here as one from `folder`.
fn within(path: &Path, folder: &Path) -> PathBuf {
    if folder.as_os_str().is_empty() {
        return path.to_owned();
    }
    let absolute = |path: &Path| std::path::absolute(path).ok();
    let both = absolute(path).zip(absolute(folder));
    let inside = both.and_then(|(path, folder)| pathdiff::diff_paths(path, folder));
    inside.unwrap_or_else(|| path.to_owned())
}

/// Why these pages make no stack.
fn nothing(found: &PageStacks, pages: &[PathBuf]) -> ProjectError {
    let first = pages
        .first()
        .map_or_else(String::new, |page| page.display().to_string());
    let stacks: Vec<String> = found
        .stacks
        .iter()
        .filter(|stack| !stack.families.is_empty())
        .take(3)
        .map(|stack| match stack.families.len() {
            0..=4 => stack.text(),
            _ => {
                let first = stack.families[..3].to_vec();
                let first = SetStack {
                    families: first,
                    ..SetStack::default()
                };
                format!("{}, …", first.text())
            }
        })
        .collect();
    let set = match stacks.as_slice() {
        [] => "state no font".to_owned(),
        stacks => format!("are set in {}", stacks.join("; ")),
    };
    let declared: Vec<&str> = found
        .declared
        .iter()
        .filter(|family| !family.signs)
        .map(|family| family.family.as_str())
        .collect();
    let have = match declared.as_slice() {
        [] => "no rule of theirs declares a web font whose file is here (--map reads a local \
               copy of what lies on the network)"
            .to_owned(),
        names => format!("their rules declare {}", names.join(", ")),
    };
    ProjectError::Usage(format!(
        "{first}: no stack of these pages begins with a web font: they {set}, and {have}; or name \
         the font with --web"
    ))
}
