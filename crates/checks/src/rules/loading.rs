//! In which order browsers learn of files.

use crate::finding::Finding;
use crate::inputs::{Found, Inputs, LinkInput, PageInput, SheetInput};
use crate::raw::Span;

pub fn check(inputs: &Inputs, findings: &mut Vec<Finding>) {
    for sheet in &inputs.sheets {
        imports(sheet, findings);
    }
    for page in &inputs.pages {
        for link in &page.links {
            let words: Vec<&str> = link.rel.split(' ').collect();
            if words.contains(&"preload") && link.kind == "font" {
                preload(inputs, page, link, findings);
            }
            if words.contains(&"stylesheet") && matches!(link.found, Found::Remote) {
                let span = tag(page, link);
                let what = format!("{} lies on another server", host(&link.href));
                findings.push(Finding::new("sheet-elsewhere", &page.source, &span, what));
            }
        }
    }
}

fn host(url: &str) -> &str {
    let rest = url.split("//").nth(1).unwrap_or(url);
    rest.split('/').next().unwrap_or(rest)
}

fn imports(sheet: &SheetInput, findings: &mut Vec<Finding>) {
    let text = &sheet.source.text;
    let import = |word: &str| word == "import";
    let last = sheet
        .raw
        .statements
        .iter()
        .filter(|one| {
            one.top && one.rules_before == 0 && ["charset", "import"].contains(&one.word.as_str())
        })
        .map(|one| one.whole.end)
        .next_back();
    for statement in sheet.raw.statements.iter().filter(|one| import(&one.word)) {
        let whole_text = sheet.text(&statement.whole);
        if !statement.top || statement.rules_before > 0 {
            let what = "browsers drop an @import that stands behind a rule".to_owned();
            let mut finding = Finding::new("import-late", &sheet.source, &statement.whole, what);
            if statement.top {
                let mut cut = statement.whole.clone();
                cut.end += usize::from(text[cut.end..].starts_with('\n'));
                let (at, line) = match last {
                    Some(end) => (end, format!("\n{whole_text}")),
                    None => (0, format!("{whole_text}\n")),
                };
                finding = finding.mended(&sheet.source, at..at, line).mended(
                    &sheet.source,
                    cut,
                    String::new(),
                );
            }
            findings.push(finding);
        } else if sheet.imported {
            let what =
                "this sheet is imported itself, so browsers learn of the next one late".to_owned();
            findings.push(Finding::new(
                "import-chain",
                &sheet.source,
                &statement.whole,
                what,
            ));
        }
    }
    for (span, found) in &sheet.imports {
        if matches!(found, Found::Remote) {
            let url = super::files::import_url(sheet.text(span)).unwrap_or_default();
            let what = format!("{} lies on another server", host(&url));
            findings.push(Finding::new("sheet-elsewhere", &sheet.source, span, what));
        }
    }
}

/// The tag of a link, from its bracket on; its line where it is written otherwise.
fn tag(page: &PageInput, link: &LinkInput) -> Span {
    let text = &page.source.text;
    let line = page.source.line(link.line);
    let tag = text[line.start..]
        .match_indices("<link")
        .find_map(|(at, _)| {
            let start = line.start + at;
            let end = start + text[start..].find('>')? + 1;
            text[start..end].contains(&link.href).then_some(start..end)
        });
    tag.unwrap_or(line)
}

fn preload(inputs: &Inputs, page: &PageInput, link: &LinkInput, findings: &mut Vec<Finding>) {
    let span = tag(page, link);
    if !link.crossorigin {
        let what = format!(
            "{} is preloaded without crossorigin, so it is fetched twice",
            link.href
        );
        let mut finding = Finding::new("preload-without-crossorigin", &page.source, &span, what);
        let element = &page.source.text[span.clone()];
        if let Some(inside) = element.strip_suffix('>') {
            let inside = inside.strip_suffix('/').unwrap_or(inside);
            let at = span.start + inside.len();
            let blank = if inside.ends_with(' ') { "" } else { " " };
            finding = finding.mended(&page.source, at..at, format!("{blank}crossorigin"));
        }
        findings.push(finding);
    }
    let Found::File(file) = &link.found else {
        if let Found::Missing(_) = link.found {
            let what = format!("{} leads to no file", link.href);
            findings.push(Finding::new(
                "preload-of-no-face",
                &page.source,
                &span,
                what,
            ));
        }
        return;
    };
    let element = |rule: &&crate::inputs::FaceRule| {
        page.declared.contains(&rule.key(inputs)) && rule.files().any(|one| one.path == file.path)
    };
    if !inputs.faces.iter().any(|rule| element(&rule)) {
        let what = format!("no rule of the page's sheets loads {}", link.href);
        findings.push(Finding::new(
            "preload-of-no-face",
            &page.source,
            &span,
            what,
        ));
    }
}
