//! Lists of families: names, order, the generic at the end.

use std::cell::RefCell;
use std::collections::{BTreeMap, BTreeSet};

use tidy_lattice_glyphs::font::{Class, Sureness};

use super::classes::Classes;
use super::names::{Entry, Kind, Stack, decoded, in_quotes, meant, nearly};
use crate::catalogue::Level;
use crate::finding::Finding;
use crate::inputs::{FaceRule, Inputs, SheetInput, named_like_signs, writes_latin};

/// Generic families that every engine knows for long, as they end a stack.
const ENDS: [&str; 5] = ["serif", "sans-serif", "monospace", "cursive", "fantasy"];

/// What is known of families, by their names in lower case.
struct Known<'a> {
    declared: BTreeMap<String, Vec<&'a FaceRule>>,
    /// Class and name as it is written.
    installed: BTreeMap<String, (Class, &'a str)>,
    hosted: bool,
    /// Whether pages were looked at, too.
    pages: bool,
    /// Whether somebody said which platforms count.
    platforms_named: bool,
    /// Whether each web font is to have a stand-in.
    wants_stand_ins: bool,
    /// Web fonts without one that were told.
    without: RefCell<BTreeSet<String>>,
    classes: &'a Classes,
}

pub fn check(inputs: &Inputs, classes: &Classes, findings: &mut Vec<Finding>) {
    let mut known = Known {
        declared: BTreeMap::new(),
        installed: BTreeMap::new(),
        hosted: inputs.hosted,
        pages: !inputs.pages.is_empty(),
        platforms_named: inputs.platforms_named,
        wants_stand_ins: inputs.wants_stand_ins,
        without: RefCell::default(),
        classes,
    };
    for rule in &inputs.faces {
        let family = rule.family().to_lowercase();
        known.declared.entry(family).or_default().push(rule);
    }
    for family in &inputs.installed {
        let (lower, name) = (family.name.to_lowercase(), family.name.as_str());
        known.installed.insert(lower, (family.class, name));
    }
    for sheet in &inputs.sheets {
        for block in &sheet.raw.blocks {
            if sheet.is_font_face(block) {
                for declaration in block
                    .declarations
                    .iter()
                    .filter(|d| d.name == "font-family")
                {
                    declared_name(sheet, declaration, findings);
                }
                continue;
            }
            for declaration in &block.declarations {
                if let Some(stack) = Stack::of(sheet, declaration) {
                    one(sheet, &stack, &known, findings);
                }
            }
        }
    }
}

/// The name in an `@font-face` rule.
fn declared_name(
    sheet: &SheetInput,
    declaration: &crate::raw::RawDeclaration,
    findings: &mut Vec<Finding>,
) {
    let Some(stack) = Stack::of(sheet, declaration) else {
        return;
    };
    let [entry] = stack.entries.as_slice() else {
        let what = "an @font-face rule names one family, and this is a list".to_owned();
        findings.push(Finding::new(
            "declaration-dropped",
            &sheet.source,
            &stack.span,
            what,
        ));
        return;
    };
    match &entry.kind {
        Kind::Named(name, _) => encoded(sheet, entry, name, findings),
        Kind::Generic(word) => {
            let what = format!("{word} is a generic family and cannot be declared");
            findings.push(Finding::new(
                "declaration-dropped",
                &sheet.source,
                &entry.span,
                what,
            ));
        }
        _ => invalid(sheet, entry, findings),
    }
}

fn one(sheet: &SheetInput, stack: &Stack, known: &Known<'_>, findings: &mut Vec<Finding>) {
    for entry in &stack.entries {
        match &entry.kind {
            Kind::Named(name, quotes) => {
                encoded(sheet, entry, name, findings);
                if *quotes {
                    quoted_generic(sheet, entry, name, known, findings);
                }
                mistyped(sheet, entry, name, known, findings);
            }
            Kind::Invalid if !sheet.text(&entry.span).is_empty() => {
                invalid(sheet, entry, findings);
            }
            Kind::Invalid => {
                let what = "a comma has no family before or behind it".to_owned();
                findings.push(Finding::new(
                    "declaration-dropped",
                    &sheet.source,
                    &stack.span,
                    what,
                ));
            }
            Kind::Generic(_) | Kind::Unknown => {}
        }
    }
    order(sheet, stack, known, findings);
    if !stack.custom
        && stack
            .entries
            .iter()
            .all(|entry| matches!(entry.kind, Kind::Named(..) | Kind::Generic(_)))
    {
        end(sheet, stack, known, findings);
    }
}

/// Names that were copied from URLs.
fn encoded(sheet: &SheetInput, entry: &Entry, name: &str, findings: &mut Vec<Finding>) {
    if let Some(plain) = decoded(name) {
        let what = format!("the family is called {plain:?}, not {name:?}");
        findings.push(
            Finding::new("name-encoded", &sheet.source, &entry.span, what).mended(
                &sheet.source,
                entry.span.clone(),
                in_quotes(&plain),
            ),
        );
    }
}

/// Entries that make browsers drop the whole declaration.
fn invalid(sheet: &SheetInput, entry: &Entry, findings: &mut Vec<Finding>) {
    let text = sheet.text(&entry.span);
    let name = meant(text);
    if let Some(plain) = name.as_deref().and_then(decoded) {
        let what = format!(
            "{text} is no family name, so browsers drop the declaration; the family is called \
             {plain:?}"
        );
        findings.push(
            Finding::new("name-encoded", &sheet.source, &entry.span, what).mended(
                &sheet.source,
                entry.span.clone(),
                in_quotes(&plain),
            ),
        );
        return;
    }
    let Some(name) = name else {
        let what = format!("{text:?} is no family name, so browsers drop the declaration");
        findings.push(Finding::new(
            "declaration-dropped",
            &sheet.source,
            &entry.span,
            what,
        ));
        return;
    };
    let what = format!("{name} is no name without quotes, so browsers drop the declaration");
    findings.push(
        Finding::new("name-needs-quotes", &sheet.source, &entry.span, what).mended(
            &sheet.source,
            entry.span.clone(),
            in_quotes(&name),
        ),
    );
}

fn quoted_generic(
    sheet: &SheetInput,
    entry: &Entry,
    name: &str,
    known: &Known<'_>,
    findings: &mut Vec<Finding>,
) {
    let lower = name.to_lowercase();
    let is_name = known.declared.contains_key(&lower) || known.installed.contains_key(&lower);
    if is_name || !ENDS.contains(&lower.as_str()) {
        return;
    }
    let what = format!("in quotes {name} is a family of that name, which nobody has");
    findings.push(
        Finding::new("generic-quoted", &sheet.source, &entry.span, what).mended(
            &sheet.source,
            entry.span.clone(),
            lower,
        ),
    );
}

/// Names that are a letter away from one that there is.
fn mistyped(
    sheet: &SheetInput,
    entry: &Entry,
    name: &str,
    known: &Known<'_>,
    findings: &mut Vec<Finding>,
) {
    let lower = name.to_lowercase();
    if known.declared.contains_key(&lower) || known.installed.contains_key(&lower) {
        return;
    }
    let generic = ENDS.iter().copied().find(|word| {
        let plain = |text: &str| text.replace([' ', '-', '_'], "");
        plain(word) == plain(&lower) && *word != lower
    });
    let family = || {
        let declared = known
            .declared
            .iter()
            .filter(|(family, _)| nearly(family, &lower));
        let declared = declared
            .map(|(_, rules)| rules[0].family().to_owned())
            .next();
        // With a sheet on the network a family of almost this name may be declared there.
        declared.or_else(|| {
            let mut installed = known.installed.iter();
            let near = installed.find(|(family, _)| nearly(family, &lower));
            near.filter(|_| !known.hosted)
                .map(|(_, (_, name))| (*name).to_owned())
        })
    };
    let Some(meant) = generic.map(str::to_owned).or_else(family) else {
        return;
    };
    let what = match generic {
        Some(word) => format!("there is no family {name:?}; the generic family is called {word}"),
        None => format!("there is no family {name:?}, and there is {meant:?}"),
    };
    let mut finding = Finding::new("name-mistyped", &sheet.source, &entry.span, what);
    if let Some(word) = generic {
        finding = finding.mended(&sheet.source, entry.span.clone(), word.to_owned());
    }
    findings.push(finding);
}

/// Entries behind others that leave nothing to them.
fn order(sheet: &SheetInput, stack: &Stack, known: &Known<'_>, findings: &mut Vec<Finding>) {
    let mut seen: BTreeSet<String> = BTreeSet::new();
    for (name, entry) in stack.names() {
        if !seen.insert(name.to_lowercase()) {
            let what = format!("{name} stands here a second time");
            let mut finding = Finding::new("entry-repeated", &sheet.source, &entry.span, what);
            if let Some(before) = stack
                .entries
                .iter()
                .rev()
                .find(|one| one.span.end < entry.span.start)
            {
                let cut = before.span.end..entry.span.end;
                finding = finding.mended(&sheet.source, cut, String::new());
            }
            findings.push(finding);
        }
    }
    let first = stack.entries.iter().position(
        |entry| matches!(&entry.kind, Kind::Generic(word) if ENDS.contains(&word.as_str())),
    );
    let Some(first) = first else { return };
    let behind = stack.entries[first + 1..]
        .iter()
        .find(|entry| match &entry.kind {
            // Emoji and signs are what generic families lack.
            Kind::Named(name, _) => {
                let class = known
                    .installed
                    .get(&name.to_lowercase())
                    .map(|(class, _)| class);
                let signs = known.declared.get(&name.to_lowercase());
                let is_signs = signs.is_some_and(|rules| {
                    rules
                        .iter()
                        .all(|rule| rule.is_signs() || rule.face.range.is_some())
                });
                !named_like_signs(name) && class != Some(&Class::Symbol) && !is_signs
            }
            _ => false,
        });
    if let (Some(entry), Kind::Generic(word)) = (behind, &stack.entries[first].kind) {
        let what = format!(
            "{} stands behind {word}, which every device has, so it is hardly ever reached",
            sheet.text(&entry.span)
        );
        findings.push(Finding::new(
            "generic-too-early",
            &sheet.source,
            &entry.span,
            what,
        ));
    }
}

/// The end of a stack, and what stands before it.
fn end(sheet: &SheetInput, stack: &Stack, known: &Known<'_>, findings: &mut Vec<Finding>) {
    let names: Vec<(&str, &Entry)> = stack.names().collect();
    let rules_of = |name: &str| known.declared.get(&name.to_lowercase());
    let is_signs = |name: &str| {
        named_like_signs(name)
            || rules_of(name).is_some_and(|rules| rules.iter().all(|rule| rule.is_signs()))
            || known
                .installed
                .get(&name.to_lowercase())
                .is_some_and(|(class, _)| *class == Class::Symbol)
    };
    if names.iter().all(|(name, _)| is_signs(name)) {
        return;
    }
    let generic = stack
        .entries
        .iter()
        .rev()
        .find_map(|entry| match &entry.kind {
            Kind::Generic(word) => Some((word.as_str(), entry)),
            _ => None,
        });
    let class = names.iter().find_map(|(name, _)| class_of(name, known));
    // One in quotes is told as that.
    let in_quotes = names.iter().any(|(name, _)| ENDS.contains(name));
    if generic.is_none() && !in_quotes {
        let word = class.and_then(Class::generic).unwrap_or("sans-serif");
        let what = "the list of families ends without a generic family".to_owned();
        let end = stack.span.end;
        let mut finding = Finding::new("generic-missing", &sheet.source, &stack.span, what);
        // Which one is only put where that is known.
        if class.is_some() {
            finding = finding.mended(&sheet.source, end..end, format!(", {word}"));
        }
        findings.push(finding);
    }
    if let Some((word, entry)) = generic {
        let classes: Vec<Class> = names
            .iter()
            .filter_map(|(name, _)| class_of(name, known))
            .collect();
        let other = classes
            .first()
            .filter(|first| classes.iter().all(|class| class == *first));
        let meant = other.and_then(|class| class.generic());
        if let (Some(meant), true) = (meant, ["serif", "sans-serif", "monospace"].contains(&word))
            && ["serif", "sans-serif", "monospace"].contains(&meant)
            && meant != word
        {
            let what = format!("the families before {word} are {meant}");
            findings.push(
                Finding::new("generic-of-other-class", &sheet.source, &entry.span, what).mended(
                    &sheet.source,
                    entry.span.clone(),
                    meant.to_owned(),
                ),
            );
        }
    }
    only_web_fonts(sheet, stack, known, findings);
    without_stand_in(sheet, &names, known, findings);
    if generic.is_some() && !known.hosted {
        nobody_has(sheet, &names, known, findings);
    }
}

/// A web font behind another that has the same letters.
fn only_web_fonts(
    sheet: &SheetInput,
    stack: &Stack,
    known: &Known<'_>,
    findings: &mut Vec<Finding>,
) {
    let latin = |name: &str| {
        let rules = known.declared.get(&name.to_lowercase())?;
        let fonts = rules
            .iter()
            .filter(|rule| rule.sources.iter().all(|source| source.local.is_none()));
        fonts
            .filter_map(|rule| rule.font())
            .find(|face| writes_latin(face))
            .map(|_| ())
    };
    let names: Vec<(&str, &Entry)> = stack.names().collect();
    let [(first, _), (second, entry), rest @ ..] = names.as_slice() else {
        return;
    };
    if latin(first).is_none() || latin(second).is_none() || first.eq_ignore_ascii_case(second) {
        return;
    }
    // Something of the device stands behind them.
    if rest
        .iter()
        .any(|(name, _)| known.installed.contains_key(&name.to_lowercase()))
    {
        return;
    }
    let what = format!("what stands in for {first} is {second}, a font that has to be loaded, too");
    findings.push(Finding::new(
        "fallback-is-loaded",
        &sheet.source,
        &entry.span,
        what,
    ));
}

/// A web font for text behind which no face of the device is resized to it. Each is told
/// once.
fn without_stand_in(
    sheet: &SheetInput,
    names: &[(&str, &Entry)],
    known: &Known<'_>,
    findings: &mut Vec<Finding>,
) {
    let rules = |name: &str| known.declared.get(&name.to_lowercase());
    let [(first, entry), rest @ ..] = names else {
        return;
    };
    let loaded = rules(first).is_some_and(|rules| {
        let mut fonts = rules.iter().filter_map(|rule| rule.font());
        fonts.any(|face| writes_latin(face))
    });
    let stands_in = rest.iter().any(|(name, _)| {
        rules(name).is_some_and(|rules| {
            let mut sources = rules.iter().flat_map(|rule| &rule.sources);
            sources.any(|source| source.local.is_some())
        })
    });
    let untold = || known.without.borrow_mut().insert(first.to_lowercase());
    if known.wants_stand_ins && loaded && !stands_in && untold() {
        let what = format!("nothing stands in for {first} at its size while it loads");
        findings.push(Finding::new(
            "stand-in-missing",
            &sheet.source,
            &entry.span,
            what,
        ));
    }
}

/// Stacks of which no device has a family.
fn nobody_has(
    sheet: &SheetInput,
    names: &[(&str, &Entry)],
    known: &Known<'_>,
    findings: &mut Vec<Finding>,
) {
    // A sheet by itself does not tell what else its pages link.
    if known.installed.is_empty() || !known.pages {
        return;
    }
    let is_known = |name: &str| {
        let lower = name.to_lowercase();
        known.declared.contains_key(&lower)
            || known.installed.contains_key(&lower)
            || lower.starts_with('-')
    };
    if let [(name, entry), ..] = names
        && names
            .iter()
            .all(|(name, _)| !is_known(name) && !named_like_signs(name))
    {
        let what = match names {
            [_] => format!("no rule declares {name:?}, and no platform has it"),
            _ => "no rule declares one of these families, and no platform has one".to_owned(),
        };
        let mut finding = Finding::new("family-unknown", &sheet.source, &entry.span, what);
        // Families that come with other programs are on many devices all the same.
        if !known.platforms_named {
            finding.level = Level::Advice;
        }
        findings.push(finding);
    }
}

/// The class of a family where it is sure.
fn class_of(name: &str, known: &Known<'_>) -> Option<Class> {
    let lower = name.to_lowercase();
    let plain = |class: &Class| {
        matches!(
            class,
            Class::Serif | Class::Sans | Class::Monospace | Class::Script
        )
    };
    if let Some(rules) = known.declared.get(&lower) {
        let mut fonts = rules.iter().filter_map(|rule| rule.font());
        let judged = fonts.find(|face| writes_latin(face)).and_then(|face| {
            let (class, sureness) = known.classes.of(face);
            (sureness == Sureness::Sure).then_some(class)
        });
        return judged.filter(plain);
    }
    known
        .installed
        .get(&lower)
        .map(|(class, _)| *class)
        .filter(plain)
}
