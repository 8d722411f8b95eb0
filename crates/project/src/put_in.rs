//! What is to be changed in pages and their style sheets so that they use stacks that were
//! built.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use tidy_lattice_checks::inputs::{Inputs, SheetInput};
use tidy_lattice_checks::rules::{Kind, Stack, import_url};
use tidy_lattice_core::stack::{Built, stack_property};

use super::checking::{CheckRequest, gather};
use super::file::Project;
use super::request::SiteRequest;
use super::stack::site as site_of;
use super::web::Site;
use super::{Access, ProjectError, Quiet};

/// How a style sheet of stacks is put in.
#[derive(Debug, Clone, Default, PartialEq, serde::Serialize, schemars::JsonSchema)]
pub struct PutIn {
    /// Declarations that name a web font of the stacks, and what they are to be.
    pub changes: Vec<Change>,
    /// `@font-face` rules of these fonts, which the built sheet has now, by file.
    pub replaced: Vec<Replaced>,
}

/// A declaration that is to be changed.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize, schemars::JsonSchema)]
pub struct Change {
    /// The file.
    pub file: String,
    /// The line, from 1.
    pub line: u32,
    /// The column in characters, from 1.
    pub column: u32,
    /// The declaration as it stands.
    pub now: String,
    /// What it is to be.
    pub then: String,
    /// The role whose stack it gets.
    pub role: String,
}

/// `@font-face` rules that are not needed any more.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize, schemars::JsonSchema)]
pub struct Replaced {
    /// The file.
    pub file: String,
    /// The family.
    pub family: String,
    /// The lines of the rules, from 1.
    pub lines: Vec<u32>,
    /// Whether the file holds no other rules, so that it need not be linked any more.
    pub whole: bool,
    /// What of the network the file was read in place of.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub in_place_of: Option<String>,
}

/// What is to be changed so that `pages` use `built`.
///
/// # Errors
///
/// [`ProjectError`] where a page cannot be read.
pub fn put_in(
    built: &[Built],
    pages: &[PathBuf],
    project: &Project,
    site: &SiteRequest,
    access: Access<'_>,
) -> Result<PutIn, ProjectError> {
    let request = CheckRequest {
        paths: pages.to_vec(),
        platforms_named: false,
        site: site.clone(),
    };
    // What is wrong with the pages was told when they were read for their texts.
    let quiet = Access {
        watch: &Quiet,
        ..access
    };
    let inputs = gather(&request, Some(project), &[], quiet)?;
    Ok(PutIn {
        changes: changes(built, &inputs),
        replaced: replaced(built, &inputs, &site_of(site, Some(project), None, access)?),
    })
}

fn changes(built: &[Built], inputs: &Inputs) -> Vec<Change> {
    let mut changes = Vec::new();
    for sheet in &inputs.sheets {
        for block in &sheet.raw.blocks {
            if sheet.is_font_face(block) {
                continue;
            }
            for declaration in &block.declarations {
                let Some(stack) = Stack::of(sheet, declaration) else {
                    continue;
                };
                changes.extend(change(built, sheet, &declaration.whole, &stack));
            }
        }
    }
    changes.sort_by(|a, b| (&a.file, a.line, a.column).cmp(&(&b.file, b.line, b.column)));
    changes.dedup();
    changes
}

fn change(
    built: &[Built],
    sheet: &SheetInput,
    whole: &std::ops::Range<usize>,
    stack: &Stack,
) -> Option<Change> {
    let (entry, role) = stack.entries.iter().find_map(|entry| {
        let Kind::Named(name, _) = &entry.kind else {
            return None;
        };
        let of = |built: &&Built| built.web.family.eq_ignore_ascii_case(name);
        Some((entry, built.iter().find(of)?))
    })?;
    let (line, column) = sheet.source.position(whole.start);
    let text = |from: usize, to: usize| sheet.text(&(from..to)).to_owned();
    let now = text(whole.start, whole.end);
    let then = format!(
        "{}var({}){}",
        text(whole.start, entry.span.start),
        stack_property(&role.role),
        text(stack.span.end, whole.end)
    );
    Some(Change {
        file: sheet.source.name.clone(),
        line,
        column,
        now: one_line(&now),
        then: one_line(&then),
        role: role.role.clone(),
    })
}

/// A declaration without line ends and repeated blanks.
fn one_line(text: &str) -> String {
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

fn replaced(built: &[Built], inputs: &Inputs, site: &Site<'_>) -> Vec<Replaced> {
    let mapped = |file: &str| {
        let mut maps = site.maps.iter();
        let found = maps.find(|(_, path)| leads_to(path, file, inputs, site));
        found.map(|(url, _)| url.clone())
    };
    let rules = |file: &str, of_font: bool| -> usize {
        let sheets = inputs
            .sheets
            .iter()
            .filter(|sheet| sheet.source.name == file);
        sheets
            .map(|sheet| {
                let blocks = sheet.raw.blocks.iter();
                blocks
                    .filter(|block| sheet.is_font_face(block) == of_font)
                    .count()
            })
            .sum()
    };
    let mut found: BTreeMap<(String, String), Vec<u32>> = BTreeMap::new();
    for rule in &inputs.faces {
        let of = |built: &&Built| built.web.family.eq_ignore_ascii_case(rule.family());
        if let Some(built) = built.iter().find(of) {
            let (file, line) = rule.key(inputs);
            let lines = found.entry((file, built.web.family.clone())).or_default();
            if !lines.contains(&line) {
                lines.push(line);
            }
        }
    }
    let found = found.into_iter();
    found
        .map(|((file, family), mut lines)| {
            lines.sort_unstable();
            Replaced {
                whole: rules(&file, false) == 0 && rules(&file, true) == lines.len(),
                in_place_of: mapped(&file),
                file,
                family,
                lines,
            }
        })
        .collect()
}

/// Whether `file` lies in `mapped`, is it, or is imported by it.
fn leads_to(mapped: &Path, file: &str, inputs: &Inputs, site: &Site<'_>) -> bool {
    let absolute = |path: &Path| std::path::absolute(path).unwrap_or_else(|_| path.to_owned());
    let mapped = absolute(mapped);
    let mut reached: BTreeSet<String> = BTreeSet::new();
    let sheets = inputs.sheets.iter().map(|sheet| sheet.source.name.clone());
    let mut next: Vec<String> = sheets
        .filter(|sheet| absolute(Path::new(sheet)).starts_with(&mapped))
        .collect();
    while let Some(name) = next.pop() {
        if !reached.insert(name.clone()) {
            continue;
        }
        for sheet in inputs
            .sheets
            .iter()
            .filter(|sheet| sheet.source.name == name)
        {
            let urls = sheet.imports.iter();
            let urls = urls.filter_map(|(span, _)| import_url(sheet.text(span)));
            let paths = urls.filter_map(|url| site.locate(&url, &name).ok());
            next.extend(paths.map(|path| path.display().to_string()));
        }
    }
    reached.contains(file)
}
