//! `@font-face` rules against their files, against each other and against use.

use std::collections::BTreeMap;

use skrifa::raw::TableProvider as _;
use tidy_lattice_documents::style::read::{FaceStyle, Range};
use tidy_lattice_glyphs::font::{Class, Face, Slope, colour_tables, not_coloured_by};

use crate::finding::Finding;
use crate::inputs::{FaceRule, Inputs, SheetInput};
use crate::raw::{RawBlock, RawDeclaration, Span};

/// Words for weights and slopes in names of families, which then say what a rule does not.
const WORDS: [&str; 14] = [
    "thin", "hairline", "light", "regular", "book", "medium", "demi", "bold", "black", "heavy",
    "italic", "oblique", "slanted", "ultra",
];

pub fn check(inputs: &Inputs, findings: &mut Vec<Finding>) {
    for rule in &inputs.faces {
        let (sheet, block) = rule.block(inputs);
        if let Some(face) = rule.font() {
            rights(sheet, block, face, findings);
            colour(sheet, block, face, findings);
            range(sheet, block, rule, face, findings);
            if !rule.is_signs() {
                weight(inputs, sheet, block, rule, face, findings);
                style(sheet, block, rule, face, findings);
            }
        }
        display(inputs, sheet, block, rule, findings);
        installed_name(inputs, sheet, block, rule, findings);
        locals(inputs, sheet, rule, findings);
    }
    hidden(inputs, findings);
    same_bytes(inputs, findings);
    unused(inputs, findings);
    faked(inputs, findings);
}

/// The last declaration of a descriptor, which counts.
fn descriptor<'a>(block: &'a RawBlock, name: &str) -> Option<&'a RawDeclaration> {
    block
        .declarations
        .iter()
        .rev()
        .find(|declaration| declaration.name == name)
}

/// Where a descriptor's value stands; where there is none, the rule's first line.
pub(super) fn value_span(sheet: &SheetInput, block: &RawBlock, name: &str) -> (Span, bool) {
    match descriptor(block, name) {
        Some(declaration) => (declaration.value(&sheet.source.text).1, true),
        None => (
            block.prelude.start..block.prelude.end.max(block.prelude.start + 1),
            false,
        ),
    }
}

/// Puts a value into a descriptor, or the descriptor into the rule.
fn declared(
    finding: Finding,
    sheet: &SheetInput,
    block: &RawBlock,
    name: &str,
    value: &str,
) -> Finding {
    match descriptor(block, name) {
        Some(declaration) => {
            let (_, span) = declaration.value(&sheet.source.text);
            finding.mended(&sheet.source, span, value.to_owned())
        }
        None => {
            let Some(last) = block.declarations.last() else {
                return finding;
            };
            let text = &sheet.source.text;
            // As the line above it is written.
            let before = &text[..last.whole.start];
            let line = before.rfind('\n').map_or(0, |at| at + 1);
            let indent = &before[line..];
            let new_line = if indent.trim().is_empty() && line > 0 {
                format!("\n{indent}")
            } else {
                " ".to_owned()
            };
            let end = last.whole.start + text[last.whole.clone()].trim_end().len();
            let (end, semicolon) = match text[last.whole.end..].starts_with(';') {
                true => (last.whole.end + 1, ""),
                false => (end, ";"),
            };
            let text = format!("{semicolon}{new_line}{name}: {value};");
            finding.mended(&sheet.source, end..end, text)
        }
    }
}

fn named_by_style(rule: &FaceRule) -> bool {
    let lower = rule.family().to_lowercase();
    WORDS.iter().any(|word| lower.contains(word))
}

fn weight(
    inputs: &Inputs,
    sheet: &SheetInput,
    block: &RawBlock,
    rule: &FaceRule,
    face: &Face,
    findings: &mut Vec<Finding>,
) {
    let Range { from, to } = rule.face.weight;
    let is_declared = rule.face.declared[0];
    if let Some((least, most)) = face.axis("wght") {
        // Several rules may take several weights of one file.
        let paths = |rule: &FaceRule| -> Vec<String> {
            rule.files().map(|file| file.path.clone()).collect()
        };
        let files = paths(rule);
        let alone = inputs
            .faces
            .iter()
            .filter(|other| paths(other) == files)
            .count()
            == 1;
        if is_declared && from == to && alone && least < most {
            let (span, _) = value_span(sheet, block, "font-weight");
            let what = format!(
                "the font has every weight from {least} to {most}, and the rule offers {from} only"
            );
            let finding = Finding::new("variable-held-to-one-weight", &sheet.source, &span, what);
            findings.push(declared(
                finding,
                sheet,
                block,
                "font-weight",
                &format!("{least} {most}"),
            ));
        }
        return;
    }
    // Old files count in ones, not in hundreds.
    let weight_of_file = if face.weight() < 10.0 {
        face.weight() * 100.0
    } else {
        face.weight()
    };
    // Thin and extra light stood at 250 and 275 once, so that old systems did not thicken
    // them.
    let light = (250.0..300.0).contains(&weight_of_file);
    let near = |weight: f32| (weight - weight_of_file).abs() < 100.0 || (light && weight <= 300.0);
    if near(from) || near(to) || (from..=to).contains(&weight_of_file) {
        return;
    }
    if !is_declared && (named_by_style(rule) || alone_in_family(inputs, rule)) {
        return;
    }
    // Families named by their style have a rule of weight 400 each.
    if from == 400.0 && named_by_style(rule) {
        return;
    }
    let (span, _) = value_span(sheet, block, "font-weight");
    let what = format!(
        "the file is of weight {weight_of_file}, and the rule {} {from}",
        if is_declared { "says" } else { "stands for" }
    );
    let finding = Finding::new("weight-not-of-file", &sheet.source, &span, what);
    findings.push(declared(
        finding,
        sheet,
        block,
        "font-weight",
        &weight_of_file.to_string(),
    ));
}

fn alone_in_family(inputs: &Inputs, rule: &FaceRule) -> bool {
    let same = |other: &&FaceRule| {
        other.sheet == rule.sheet && other.family().eq_ignore_ascii_case(rule.family())
    };
    inputs.faces.iter().filter(same).count() == 1
}

fn style(
    sheet: &SheetInput,
    block: &RawBlock,
    rule: &FaceRule,
    face: &Face,
    findings: &mut Vec<Finding>,
) {
    if face.axis("slnt").is_some() || face.axis("ital").is_some() {
        return;
    }
    let slanted = face.slope() != Slope::Normal;
    let says_slanted = rule.face.style != FaceStyle::Normal;
    // Some italics state it in their name or their angle only.
    let hints = says_slanted && (looks_slanted(face) || slanted);
    if slanted == says_slanted || hints || named_by_style(rule) {
        return;
    }
    let right = if slanted { "italic" } else { "normal" };
    let (span, _) = value_span(sheet, block, "font-style");
    let what = format!(
        "the file is {}, and the rule {}",
        if slanted { "italic" } else { "upright" },
        if says_slanted {
            "says italic"
        } else {
            "stands for upright text"
        }
    );
    let finding = Finding::new("style-not-of-file", &sheet.source, &span, what);
    findings.push(declared(finding, sheet, block, "font-style", right));
}

/// Colour fonts of which an engine draws nothing.
fn colour(sheet: &SheetInput, block: &RawBlock, face: &Face, findings: &mut Vec<Finding>) {
    let tables = face.font().map(colour_tables).unwrap_or_default();
    let engines = not_coloured_by(&tables);
    if engines.is_empty() {
        return;
    }
    let formats: Vec<&str> = tables.iter().map(|table| table.format.as_str()).collect();
    let (span, _) = value_span(sheet, block, "src");
    let what = format!(
        "{} cannot draw the colours of this font ({})",
        engines.names().join(" and "),
        formats.join(", ")
    );
    findings.push(Finding::new(
        "colour-not-everywhere",
        &sheet.source,
        &span,
        what,
    ));
}

/// Whether the name of a face or the angle in its tables says that it is slanted.
fn looks_slanted(face: &Face) -> bool {
    let style = face.names().style.to_lowercase();
    let named = ["italic", "oblique", "slanted"]
        .iter()
        .any(|word| style.contains(word));
    let angle = face.font().and_then(|font| match font.kind() {
        skrifa::font::Kind::Sfnt(tables, _) => {
            tables.post().ok().map(|post| post.italic_angle().to_f64())
        }
        _ => None,
    });
    named || angle.is_some_and(|angle| angle != 0.0)
}

fn rights(sheet: &SheetInput, block: &RawBlock, face: &Face, findings: &mut Vec<Finding>) {
    let Some(font) = face.font() else { return };
    let skrifa::font::Kind::Sfnt(tables, _) = font.kind() else {
        return;
    };
    let bits = tables.os2().map(|os2| os2.fs_type()).unwrap_or_default();
    // OS/2 fsType: of the usage bits only "restricted licence" is set.
    if bits & 0xf == 2 {
        let (span, _) = value_span(sheet, block, "src");
        let what = format!("{} says that it must not be embedded", face.names().label());
        findings.push(Finding::new(
            "embedding-forbidden",
            &sheet.source,
            &span,
            what,
        ));
    }
}

fn range(
    sheet: &SheetInput,
    block: &RawBlock,
    rule: &FaceRule,
    face: &Face,
    findings: &mut Vec<Finding>,
) {
    let Some(range) = &rule.face.range else {
        return;
    };
    let has = face.characters();
    if !has.iter().any(|point| range.contains(point)) {
        let (span, _) = value_span(sheet, block, "unicode-range");
        let what = "the font has none of the characters of this range".to_owned();
        findings.push(Finding::new("range-of-nothing", &sheet.source, &span, what));
    }
}

fn display(
    inputs: &Inputs,
    sheet: &SheetInput,
    block: &RawBlock,
    rule: &FaceRule,
    findings: &mut Vec<Finding>,
) {
    let loaded = rule.sources.iter().any(|source| source.url.is_some());
    if !loaded || rule.is_signs() {
        return;
    }
    if let Some(declaration) = descriptor(block, "font-display") {
        let (value, span) = declaration.value(&sheet.source.text);
        let wanted = inputs.displays;
        if let Some(best) = wanted.first()
            && !wanted.iter().any(|word| value.eq_ignore_ascii_case(word))
        {
            let what = format!(
                "{value} is against the aim of the project file, which wants {}",
                wanted.join(" or ")
            );
            let finding = Finding::new("display-against-aim", &sheet.source, &span, what);
            findings.push(finding.mended(&sheet.source, span, (*best).to_owned()));
        }
        return;
    }
    let (span, _) = value_span(sheet, block, "font-display");
    let what = format!(
        "the rule of {:?} has no font-display, so its text is hidden for up to three seconds",
        rule.family()
    );
    let finding = Finding::new("display-missing", &sheet.source, &span, what);
    let right = inputs.displays.first().unwrap_or(&"swap");
    findings.push(declared(finding, sheet, block, "font-display", right));
}

/// A font of a few characters under the name of a family that devices have.
fn installed_name(
    inputs: &Inputs,
    sheet: &SheetInput,
    block: &RawBlock,
    rule: &FaceRule,
    findings: &mut Vec<Finding>,
) {
    let installed =
        |family: &&crate::inputs::InstalledFamily| family.name.eq_ignore_ascii_case(rule.family());
    let Some(family) = inputs.installed.iter().find(installed) else {
        return;
    };
    if family.class == Class::Symbol {
        return;
    }
    let local = rule.sources.iter().any(|source| source.url.is_none());
    let whole = |face: &Face| ('!'..='~').all(|c| face.maps(c) && rule.face.admits(c));
    // A family may be in slices, one of which has the letters.
    let mut same = inputs.faces.iter().filter(|other| {
        other.sheet == rule.sheet && other.family().eq_ignore_ascii_case(rule.family())
    });
    let complete = same.any(|other| {
        other
            .font()
            .is_none_or(|face| ('!'..='~').all(|c| face.maps(c) && other.face.admits(c)))
    });
    let Some(face) = rule.font() else { return };
    if local || complete || whole(face) {
        return;
    }
    let (span, _) = value_span(sheet, block, "font-family");
    let what = format!(
        "this rule takes the name of {}, which devices have, for a font with a part of its letters",
        family.name
    );
    findings.push(Finding::new(
        "partial-font-hides-installed",
        &sheet.source,
        &span,
        what,
    ));
}

/// `local()` names that nobody has, where the family that is meant is known.
fn locals(inputs: &Inputs, sheet: &SheetInput, rule: &FaceRule, findings: &mut Vec<Finding>) {
    if rule.sources.iter().any(|source| source.url.is_some()) {
        return;
    }
    let names: Vec<(&str, &Span)> = rule
        .sources
        .iter()
        .filter_map(|source| Some((source.local.as_deref()?, &source.span)))
        .collect();
    let known = |name: &str| {
        inputs.installed.iter().any(|family| {
            let mut locals = family.locals.iter();
            family.locals.is_empty() && name.to_lowercase().starts_with(&family.name.to_lowercase())
                || locals.any(|local| local.eq_ignore_ascii_case(name))
        })
    };
    if inputs.installed.is_empty() || names.is_empty() || names.iter().any(|(name, _)| known(name))
    {
        return;
    }
    let listed: Vec<&str> = names.iter().map(|(name, _)| *name).collect();
    let what = format!("no face of a platform is called {}", listed.join(" or "));
    findings.push(Finding::new(
        "local-unknown",
        &sheet.source,
        names[0].1,
        what,
    ));
}

/// Rules of one sheet with the same family, weight, style, width and range: the last one
/// hides the others.
fn hidden(inputs: &Inputs, findings: &mut Vec<Finding>) {
    for (number, rule) in inputs.faces.iter().enumerate() {
        let later = inputs.faces[number + 1..].iter().find(|other| {
            let (a, b) = (&rule.face, &other.face);
            other.sheet == rule.sheet
                && !rule.family().is_empty()
                && other.family().eq_ignore_ascii_case(rule.family())
                && (a.weight, a.style, a.stretch) == (b.weight, b.style, b.stretch)
                && a.range == b.range
        });
        let Some(later) = later else { continue };
        let (sheet, block) = rule.block(inputs);
        let (_, other) = later.block(inputs);
        let line = sheet.source.position(other.prelude.start).0;
        let what = format!(
            "the rule in line {line} has the same family, weight, style and range, and hides this one"
        );
        let span = block.prelude.start..block.prelude.end;
        findings.push(Finding::new("face-hidden", &sheet.source, &span, what));
    }
}

/// One file's bytes under two names, or as two faces.
fn same_bytes(inputs: &Inputs, findings: &mut Vec<Finding>) {
    let mut seen: BTreeMap<(usize, u64), (&FaceRule, &str)> = BTreeMap::new();
    for rule in &inputs.faces {
        let Some(file) = rule.files().find(|file| file.face.is_ok()) else {
            continue;
        };
        if rule.font().is_some_and(|face| face.axis("wght").is_some()) {
            continue;
        }
        let key = (rule.sheet, file.digest);
        let Some((first, path)) = seen.get(&key) else {
            seen.insert(key, (rule, &file.path));
            continue;
        };
        let same_family = first.family().eq_ignore_ascii_case(rule.family());
        let same_key = same_family
            && (first.face.weight, first.face.style) == (rule.face.weight, rule.face.style);
        if *path == file.path && (!same_family || same_key) {
            continue;
        }
        let (sheet, block) = rule.block(inputs);
        let (span, _) = value_span(sheet, block, "src");
        let (_, other) = first.block(inputs);
        let line = sheet.source.position(other.prelude.start).0;
        let what = format!("the rule in line {line} loads the same bytes");
        findings.push(Finding::new("same-bytes-twice", &sheet.source, &span, what));
    }
}

/// Families and faces that no text of the pages is set in.
fn unused(inputs: &Inputs, findings: &mut Vec<Finding>) {
    if inputs.pages.is_empty() {
        return;
    }
    let used = |key: &(String, u32)| {
        inputs.used.contains(key) || inputs.pages.iter().any(|page| page.used.contains(key))
    };
    let declared =
        |key: &(String, u32)| inputs.pages.iter().any(|page| page.declared.contains(key));
    let mut families: BTreeMap<(usize, String), Vec<&FaceRule>> = BTreeMap::new();
    for rule in inputs
        .faces
        .iter()
        .filter(|rule| rule.files().next().is_some())
    {
        let key = (rule.sheet, rule.family().to_lowercase());
        families.entry(key).or_default().push(rule);
    }
    for rules in families.values() {
        let idle: Vec<&&FaceRule> = rules
            .iter()
            .filter(|rule| {
                let key = rule.key(inputs);
                declared(&key) && !used(&key)
            })
            .collect();
        let Some(first) = idle.first() else { continue };
        let bytes: u64 = idle
            .iter()
            .filter_map(|rule| rule.files().next())
            .map(|file| file.bytes)
            .sum();
        let (sheet, block) = first.block(inputs);
        let faces: Vec<String> = idle
            .iter()
            .map(|rule| {
                let Range { from, to } = rule.face.weight;
                let italic = if rule.face.style == FaceStyle::Normal {
                    ""
                } else {
                    " italic"
                };
                if from == to {
                    format!("{from}{italic}")
                } else {
                    format!("{from} to {to}{italic}")
                }
            })
            .collect();
        let mut faces = faces;
        faces.dedup();
        let kilobytes = bytes.div_ceil(1024);
        let what = if idle.len() == rules.len() {
            format!(
                "no text of the pages is set in {:?} ({} declared, {kilobytes} KB)",
                first.family(),
                files(idle.len())
            )
        } else {
            format!(
                "no text of the pages is set in {:?} {} ({} of {}, {kilobytes} KB)",
                first.family(),
                faces.join(", "),
                idle.len(),
                files(rules.len())
            )
        };
        let (span, _) = value_span(sheet, block, "font-family");
        findings.push(Finding::new("face-unused", &sheet.source, &span, what));
    }
}

fn files(count: usize) -> String {
    if count == 1 {
        "1 file".to_owned()
    } else {
        format!("{count} files")
    }
}

/// Weights and styles that no rule has.
fn faked(inputs: &Inputs, findings: &mut Vec<Finding>) {
    for used in &inputs.faked {
        let rule = inputs
            .faces
            .iter()
            .find(|rule| rule.key(inputs) == used.rule);
        // Signs have no bold.
        let Some(rule) = rule.filter(|rule| !rule.is_signs()) else {
            continue;
        };
        let (sheet, block) = rule.block(inputs);
        let (span, _) = value_span(sheet, block, "font-family");
        let what = format!(
            "text asks for {:?} {}, and gets {}",
            used.family, used.asked, used.gets
        );
        findings.push(Finding::new("face-lacking", &sheet.source, &span, what));
    }
}
