//! The entries of `src`: formats and their order.

use tidy_lattice_glyphs::font::Container;

use super::files::{dead, url_span};
use crate::finding::Finding;
use crate::inputs::{EMBEDDED, FaceRule, Found, Inputs, SheetInput, SourceEntry};
use crate::raw::{RawBlock, Span};

pub fn check(inputs: &Inputs, findings: &mut Vec<Finding>) {
    for rule in &inputs.faces {
        let (sheet, block) = rule.block(inputs);
        dead_sources(sheet, block, rule, findings);
        for source in &rule.sources {
            format(sheet, source, findings);
        }
        order(sheet, rule, findings);
    }
}

fn is_dead(source: &SourceEntry) -> bool {
    let format = source.format.as_ref().map(|(word, _)| word.as_str());
    source.url.as_deref().is_some_and(|url| dead(url, format))
}

/// Sources that no living browser loads.
fn dead_sources(
    sheet: &SheetInput,
    block: &RawBlock,
    rule: &FaceRule,
    findings: &mut Vec<Finding>,
) {
    for (number, declaration) in block.declarations.iter().enumerate() {
        let entries: Vec<&SourceEntry> = rule
            .sources
            .iter()
            .filter(|source| source.declaration == number)
            .collect();
        let dead: Vec<&SourceEntry> = entries
            .iter()
            .copied()
            .filter(|entry| is_dead(entry))
            .collect();
        let Some(first) = dead.first() else { continue };
        let names: Vec<&str> = dead
            .iter()
            .filter_map(|entry| entry.url.as_deref())
            .collect();
        let what = format!("no living browser loads {}", names.join(", "));
        let mut finding = Finding::new("source-for-no-browser", &sheet.source, &first.span, what);
        let elsewhere = rule
            .sources
            .iter()
            .any(|source| source.declaration != number);
        if dead.len() < entries.len() {
            for entry in &dead {
                finding = finding.mended(&sheet.source, with_comma(entry, &entries), String::new());
            }
        } else if elsewhere {
            let text = &sheet.source.text;
            let mut whole = declaration.whole.clone();
            if text[whole.end..].starts_with(';') {
                whole.end += 1;
            }
            // The line goes with it where nothing else stands there.
            let before = text[..whole.start].trim_end_matches([' ', '\t']);
            if before.ends_with('\n') {
                whole.start = before.trim_end_matches(['\n', '\r']).len();
            } else {
                let behind = &text[whole.end..];
                whole.end += behind.len() - behind.trim_start_matches(' ').len();
            }
            finding = finding.mended(&sheet.source, whole, String::new());
        }
        findings.push(finding);
    }
}

/// An entry with the comma that parts it from its neighbours.
fn with_comma(entry: &SourceEntry, entries: &[&SourceEntry]) -> Span {
    let place = entries
        .iter()
        .position(|one| one.span == entry.span)
        .unwrap_or_default();
    match (
        entries.get(place + 1),
        place.checked_sub(1).and_then(|before| entries.get(before)),
    ) {
        (Some(next), _) => entry.span.start..next.span.start,
        (None, Some(before)) => before.span.end..entry.span.end,
        (None, None) => entry.span.clone(),
    }
}

/// `format()` and ending against the bytes.
fn format(sheet: &SheetInput, source: &SourceEntry, findings: &mut Vec<Finding>) {
    let (Found::File(file), Some(url)) = (&source.found, &source.url) else {
        return;
    };
    let Some(container) = file.container else {
        return;
    };
    if is_dead(source) {
        return;
    }
    let right = container.css_format();
    if let Some((declared, span)) = &source.format {
        let plain = declared.trim_end_matches("-variations");
        let sfnt = ["truetype", "opentype", "collection"];
        let fits = plain == right || (sfnt.contains(&plain) && sfnt.contains(&right));
        if !fits {
            let what = format!(
                "the file is {}, and format() says {declared}",
                container.label()
            );
            findings.push(
                Finding::new("format-not-of-file", &sheet.source, span, what).mended(
                    &sheet.source,
                    span.clone(),
                    format!("\"{right}\""),
                ),
            );
        }
        return;
    }
    let path = url
        .split(['?', '#'])
        .next()
        .unwrap_or_default()
        .to_ascii_lowercase();
    let ending = path.rsplit('.').next().unwrap_or_default();
    let says = match ending {
        "woff2" => Some(Container::Woff2),
        "woff" => Some(Container::Woff),
        _ => None,
    };
    let packed = matches!(container, Container::Woff | Container::Woff2);
    let plain_name = ["ttf", "otf", "ttc"].contains(&ending);
    if says.is_some_and(|says| says != container) || (plain_name && packed) {
        let what = format!(
            "the file is {}, whatever its ending says",
            container.label()
        );
        let place = url_span(sheet, &source.span, url);
        findings.push(Finding::new(
            "format-not-of-file",
            &sheet.source,
            &place,
            what,
        ));
    }
}

/// Larger files before smaller ones of the same font.
fn order(sheet: &SheetInput, rule: &FaceRule, findings: &mut Vec<Finding>) {
    let rank = |source: &&SourceEntry| match &source.found {
        // What is embedded is loaded with the sheet, whatever its place.
        Found::File(file) if file.path != EMBEDDED => match file.container {
            Some(Container::Woff2) => Some(0),
            Some(Container::Woff) => Some(1),
            Some(_) => Some(2),
            None => None,
        },
        _ => None,
    };
    let Some(last) = rule.sources.last().map(|source| source.declaration) else {
        return;
    };
    let entries: Vec<&SourceEntry> = rule
        .sources
        .iter()
        .filter(|source| source.declaration == last && rank(source).is_some() && !is_dead(source))
        .collect();
    let mut sorted = entries.clone();
    sorted.sort_by_key(rank);
    let Some(place) = entries
        .iter()
        .zip(&sorted)
        .position(|(is, should)| is.span != should.span)
    else {
        return;
    };
    let what = format!(
        "browsers take the first source that they can read, {}, and never come to {}",
        sheet.text(&entries[place].span),
        sheet.text(&sorted[place].span)
    );
    let mut finding = Finding::new(
        "sources-out-of-order",
        &sheet.source,
        &entries[place].span,
        what,
    );
    for (is, should) in entries.iter().zip(&sorted) {
        if is.span != should.span {
            let text = sheet.text(&should.span).to_owned();
            finding = finding.mended(&sheet.source, is.span.clone(), text);
        }
    }
    findings.push(finding);
}
