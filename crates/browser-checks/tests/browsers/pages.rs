//! Every text of the demo's pages has the style that Chromium computes for it.

use serde::Deserialize;
use tidy_lattice_browser_checks::{Browser, Engine, Server};
use tidy_lattice_core::page::{
    Files, LineHeight, OpenedFile, Page, StyleValue, TextOrigin, TextStyle, Unread, read,
};
use tidy_lattice_core::style::read::{Viewport, families};

/// What the browser computes for a text node.
#[derive(Debug, Deserialize)]
struct Computed {
    text: String,
    family: String,
    size: String,
    weight: String,
    style: String,
    height: String,
    spacing: String,
    numeric: String,
    caps: String,
    features: String,
    transform: String,
    language: String,
}

/// Collects all text nodes that are not in elements whose content never shows.
const COLLECT: &str = r"
    const walker = document.createTreeWalker(document.documentElement, NodeFilter.SHOW_TEXT);
    const hidden = 'head, script, style, template, noscript';
    const found = [];
    while (walker.nextNode()) {
        const node = walker.currentNode;
        if (!node.data.trim() || node.parentElement.closest(hidden)) continue;
        const style = getComputedStyle(node.parentElement);
        found.push({
            text: node.data, family: style.fontFamily, size: style.fontSize,
            weight: style.fontWeight, style: style.fontStyle, height: style.lineHeight,
            spacing: style.letterSpacing, numeric: style.fontVariantNumeric,
            caps: style.fontVariantCaps, features: style.fontFeatureSettings,
            transform: style.textTransform,
            language: node.parentElement.closest('[lang]')?.lang ?? '',
        });
    }
    return found;";

/// The demo's site, as a server has it: `site/` at the root.
struct Site;

impl Files for Site {
    fn read(&self, url: &str, _: &str) -> Result<OpenedFile, Unread> {
        if url.contains("//") {
            return Err(Unread::Remote);
        }
        let name = url.trim_start_matches('/').to_owned();
        let bytes = tidy_lattice_demo::file(&format!("site/{name}"))
            .ok_or_else(|| Unread::Unreadable("missing".to_owned()))?;
        Ok(OpenedFile {
            name,
            bytes: bytes.to_vec(),
        })
    }
}

/// Pages that ask for what the demo's do not.
const HARDER: [(&str, &str); 3] = [
    ("/harder.html", include_str!("pages/harder.html")),
    ("/forms.html", include_str!("pages/forms.html")),
    ("/quirks.html", include_str!("pages/quirks.html")),
];

#[test]
#[ignore = "needs Chromium; .ci/run installs it"]
fn texts_have_the_styles_that_the_browser_computes() {
    let server = Server::new();
    let mut pages = Vec::new();
    for (path, html) in HARDER {
        pages.push(path.to_owned());
        server.put(path, "text/html; charset=utf-8", html);
    }
    for (path, bytes) in tidy_lattice_demo::files() {
        let (kind, path) = match path.rsplit('.').next() {
            Some("html") => ("text/html; charset=utf-8", path),
            Some("css") => ("text/css; charset=utf-8", path),
            Some("ttf") => ("font/ttf", path),
            _ => continue,
        };
        let at = path
            .strip_prefix("site")
            .map_or_else(|| format!("/{path}"), str::to_owned);
        if kind.starts_with("text/html") {
            pages.push(at.clone());
        }
        server.put(&at, kind, bytes);
    }
    assert!(pages.len() >= 2);
    let browser = Browser::start(Engine::Chromium);
    let (mut texts, mut faults) = (0, Vec::new());
    for (width, height) in [(1280, 800), (600, 800)] {
        browser.resize(width, height);
        for page in &pages {
            browser.open(&server.url(page));
            let size: (f32, f32) = browser.run("return [innerWidth, innerHeight];");
            let computed: Vec<Computed> = browser.run(COLLECT);
            let harder = HARDER.iter().find(|(path, _)| path == page);
            let html = harder.map_or_else(
                || tidy_lattice_demo::file(&format!("site{page}")).unwrap_or_default(),
                |(_, html)| html.as_bytes(),
            );
            let html = std::str::from_utf8(html).expect("UTF-8");
            let (ours, dom) = read(html, page, &Site, Viewport::screen(size.0, size.1));
            let content: Vec<_> = ours
                .texts
                .iter()
                .filter(|text| text.origin == TextOrigin::Content && dom.text(text.node).is_some())
                .collect();
            assert_eq!(content.len(), computed.len(), "{page}: as many texts");
            for (text, computed) in content.iter().zip(&computed) {
                texts += 1;
                assert_eq!(dom.text(text.node), Some(computed.text.as_str()), "{page}");
                faults.extend(differences(&ours, text.style, computed).map(|fault| {
                    format!(
                        "{page} at {width} px, {:?} in {}: {fault}",
                        computed.text, text.element
                    )
                }));
                if text.language.as_deref().unwrap_or_default() != computed.language {
                    faults.push(format!("{page}: {:?} is {}", text.text, computed.language));
                }
            }
        }
    }
    println!(
        "{texts} texts of {} pages, {} styled otherwise than said",
        pages.len(),
        faults.len()
    );
    assert!(texts > 100);
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

fn differences(
    page: &Page,
    style: usize,
    computed: &Computed,
) -> impl Iterator<Item = String> + use<> {
    let style = &page.styles[style];
    let told = [
        (
            "size",
            format!("{}", style.size),
            px(&computed.size).to_string(),
        ),
        ("weight", style.weight.to_string(), computed.weight.clone()),
        ("style", slope(style), computed.style.clone()),
        ("line height", line(style), computed.height.clone()),
        ("letter-spacing", spacing(style), computed.spacing.clone()),
        (
            "numeric",
            variant(style, "font-variant-numeric"),
            computed.numeric.clone(),
        ),
        (
            "caps",
            variant(style, "font-variant-caps"),
            computed.caps.clone(),
        ),
        ("features", features(style), computed.features.clone()),
        ("transform", transform(style), computed.transform.clone()),
        (
            "family",
            format!("{:?}", style.families),
            // Nothing is Chromium's standard font.
            match families(&computed.family) {
                Some(list) if computed.family != "\"Times New Roman\"" => format!("{list:?}"),
                _ => "[]".to_owned(),
            },
        ),
    ];
    let told: Vec<String> = told
        .into_iter()
        .filter(|(_, ours, theirs)| !same(ours, theirs))
        .map(|(what, ours, theirs)| format!("{what} said {ours}, computed {theirs}"))
        .collect();
    told.into_iter()
}

/// Equal, or numbers that differ by less than browsers print.
fn same(ours: &str, theirs: &str) -> bool {
    let number = |text: &str| text.trim_end_matches("px").parse::<f32>().ok();
    match (number(ours), number(theirs)) {
        (Some(ours), Some(theirs)) => (ours - theirs).abs() < 0.001,
        _ => ours == theirs,
    }
}

fn px(text: &str) -> f32 {
    text.trim_end_matches("px").parse().unwrap_or(f32::NAN)
}

fn slope(style: &TextStyle) -> String {
    match style.style {
        StyleValue::Normal => "normal".to_owned(),
        StyleValue::Italic => "italic".to_owned(),
        StyleValue::Oblique(angle) => format!("oblique {angle}deg"),
    }
}

fn line(style: &TextStyle) -> String {
    match style.line_height {
        LineHeight::Normal => "normal".to_owned(),
        LineHeight::Number(number) => format!("{}px", number * style.size),
        LineHeight::Px(px) => format!("{px}px"),
    }
}

fn spacing(style: &TextStyle) -> String {
    if style.letter_spacing == 0.0 {
        "normal".to_owned()
    } else {
        format!("{}px", style.letter_spacing)
    }
}

fn variant(style: &TextStyle, property: &str) -> String {
    let found = style.variants.iter().find(|(known, _)| known == property);
    found.map_or_else(|| "normal".to_owned(), |(_, words)| words.join(" "))
}

fn features(style: &TextStyle) -> String {
    if style.features.is_empty() {
        return "normal".to_owned();
    }
    let list: Vec<String> = style
        .features
        .iter()
        .map(|(tag, value)| match value {
            1 => format!("\"{tag}\""),
            value => format!("\"{tag}\" {value}"),
        })
        .collect();
    list.join(", ")
}

fn transform(style: &TextStyle) -> String {
    use tidy_lattice_core::page::CaseChange;
    match style.transform.case {
        None => "none",
        Some(CaseChange::Uppercase) => "uppercase",
        Some(CaseChange::Lowercase) => "lowercase",
        Some(CaseChange::Capitalize) => "capitalize",
    }
    .to_owned()
}
