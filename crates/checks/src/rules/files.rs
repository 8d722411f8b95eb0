//! What URLs lead to.

use crate::finding::Finding;
use crate::inputs::{Found, Inputs, SheetInput};
use crate::raw::Span;

pub fn check(inputs: &Inputs, findings: &mut Vec<Finding>) {
    for rule in &inputs.faces {
        let (sheet, _) = rule.block(inputs);
        for source in &rule.sources {
            if let Some(url) = &source.url {
                let place = url_span(sheet, &source.span, url);
                if dead(url, source.format.as_ref().map(|(word, _)| word.as_str())) {
                    continue;
                }
                leads(sheet, &place, url, &source.found, "font", findings);
                if let Found::Remote = source.found {
                    let what = format!("{url} lies on another server");
                    findings.push(Finding::new("font-elsewhere", &sheet.source, &place, what));
                }
                if let Found::File(file) = &source.found
                    && let Err(reason) = &file.face
                {
                    let what = format!("browsers refuse {url}: {reason}");
                    findings.push(Finding::new("font-refused", &sheet.source, &place, what));
                }
            }
        }
    }
    for (file, reason) in &inputs.unread {
        let what = format!("the file cannot be read: {reason}");
        let todo = "Mend the file, or leave it out.".to_owned();
        findings.push(Finding::at("unread", (file, 1, 1), what).todo(todo));
    }
    for sheet in &inputs.sheets {
        for (span, found) in &sheet.imports {
            let text = sheet.text(span);
            let url = import_url(text).unwrap_or_default();
            let place = url_span(sheet, span, &url);
            leads(sheet, &place, &url, found, "style sheet", findings);
        }
    }
    for page in &inputs.pages {
        for link in page
            .links
            .iter()
            .filter(|link| link.rel.split(' ').any(|word| word == "stylesheet"))
        {
            let span = page.source.line(link.line);
            let (code, what) = match &link.found {
                Found::Missing(_) => (
                    "unread",
                    format!("{}: there is no such style sheet", link.href),
                ),
                Found::OtherCase(right) => (
                    "file-case-differs",
                    format!("the style sheet is called {right}, not {}", link.href),
                ),
                _ => continue,
            };
            let at = page.source.text[span.start..].find(&link.href);
            let place = at.map_or(span.clone(), |at| {
                span.start + at..span.start + at + link.href.len()
            });
            let mut finding = Finding::new(code, &page.source, &place, what);
            if let Found::OtherCase(right) = &link.found {
                finding = finding.mended(&page.source, place.clone(), right.clone());
            }
            findings.push(finding);
        }
    }
}

fn leads(
    sheet: &SheetInput,
    place: &Span,
    url: &str,
    found: &Found,
    kind: &str,
    findings: &mut Vec<Finding>,
) {
    // What stands behind the path stays.
    let tail = url.find(['?', '#']).map_or("", |at| &url[at..]);
    let finding = match found {
        Found::OtherCase(right) => {
            let what = format!("the {kind} is called {right}, not {url}");
            Finding::new("file-case-differs", &sheet.source, place, what).mended(
                &sheet.source,
                place.clone(),
                format!("{right}{tail}"),
            )
        }
        Found::Missing(moved) => {
            let what = match moved {
                Some(moved) => format!("{url} leads to no file; there is one at {moved}"),
                None => format!("{url} leads to no file"),
            };
            let code = if kind == "font" {
                "file-not-found"
            } else {
                "unread"
            };
            let finding = Finding::new(code, &sheet.source, place, what);
            match moved {
                Some(moved) => {
                    finding.mended(&sheet.source, place.clone(), format!("{moved}{tail}"))
                }
                None => finding,
            }
        }
        Found::Outside => {
            let what = format!("{url} leads out of the project's folder");
            Finding::new("file-outside", &sheet.source, place, what)
        }
        Found::File(_) | Found::Remote | Found::Unknown => return,
    };
    findings.push(finding);
}

/// Where a URL stands within a stretch; all of it where it is written otherwise.
pub fn url_span(sheet: &SheetInput, span: &Span, url: &str) -> Span {
    match sheet.text(span).find(url).filter(|_| !url.is_empty()) {
        Some(at) => span.start + at..span.start + at + url.len(),
        None => span.clone(),
    }
}

/// The URL of an `@import`.
pub fn import_url(statement: &str) -> Option<String> {
    let rest = statement.get("@import".len()..)?;
    let mut input = cssparser::Parser::new(rest);
    input.expect_url_or_string().ok().map(|url| url.to_string())
}

/// Whether no living browser loads such a source: EOT was for Internet Explorer, SVG
/// fonts for old phones.
pub fn dead(url: &str, format: Option<&str>) -> bool {
    let path = url
        .split(['?', '#'])
        .next()
        .unwrap_or_default()
        .to_ascii_lowercase();
    match format {
        Some("embedded-opentype" | "svg") => true,
        Some(_) => false,
        None => path.ends_with(".eot") || path.ends_with(".svg"),
    }
}
