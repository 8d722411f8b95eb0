//! Pages: which text is set how.

use rstest::rstest;
use tidy_lattice_documents::page::{
    Files, LineHeight, OpenedFile, Page, PageText, StyleValue, TextOrigin, TextStyle, Unread, read,
};
use tidy_lattice_documents::style::read::Viewport;

/// Files by name, in one folder.
struct Folder(Vec<(&'static str, &'static str)>);

impl Files for Folder {
    fn read(&self, url: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        if url.contains("//") {
            return Err(Unread::Remote);
        }
        let found = self.0.iter().find(|(name, _)| *name == url);
        found
            .map(|(name, text)| OpenedFile {
                name: (*name).to_owned(),
                bytes: text.as_bytes().to_vec(),
            })
            .ok_or_else(|| Unread::Unreadable("there is no such file".to_owned()))
    }
}

fn page(html: &str) -> Page {
    with_files(html, vec![])
}

fn with_files(html: &str, files: Vec<(&'static str, &'static str)>) -> Page {
    read(
        html,
        "page.html",
        &Folder(files),
        Viewport::screen(1280.0, 800.0),
    )
    .0
}

/// The text that contains `part`, and its style.
fn find<'p>(page: &'p Page, part: &str) -> (&'p PageText, &'p TextStyle) {
    let text = page.texts.iter().find(|text| text.text.contains(part));
    let text = text.unwrap_or_else(|| panic!("no text with {part:?} in {:?}", page.texts));
    (text, &page.styles[text.style])
}

fn style_of(css: &str, html: &str) -> TextStyle {
    let page = page(&format!("<!doctype html><style>{css}</style>{html}"));
    find(&page, "X").1.clone()
}

#[rstest]
#[case::tag("p {font-size: 20px}", "<p>X", 20.0)]
#[case::em_of_parent("div {font-size: 20px} p {font-size: 1.5em}", "<div><p>X</div>", 30.0)]
#[case::rem("html {font-size: 10px} p {font-size: 1.8rem}", "<p>X", 18.0)]
#[case::percent("body {font-size: 150%}", "<p>X", 24.0)]
#[case::calc("p {font-size: calc(1rem + 2px * 3)}", "<p>X", 22.0)]
#[case::clamp("p {font-size: clamp(1rem, 2vw, 20px)}", "<p>X", 20.0)]
#[case::viewport("p {font-size: 2vw}", "<p>X", 25.6)]
#[case::keyword("p {font-size: x-large}", "<p>X", 24.0)]
#[case::shorthand("p {font: italic 700 18px/1.4 serif}", "<p>X", 18.0)]
#[case::heading("", "<h1>X</h1>", 32.0)]
#[case::monospace_alone("", "<p><code>X</code></p>", 13.0)]
#[case::monospace_behind_another("code {font-family: Mono, monospace}", "<code>X</code>", 16.0)]
#[case::specificity(
    "p.a {font-size: 11px} #b {font-size: 12px} p {font-size: 13px}",
    "<p class=a id=b>X",
    12.0
)]
#[case::order("p {font-size: 11px} p {font-size: 12px}", "<p>X", 12.0)]
#[case::important(
    "p {font-size: 11px !important} #b {font-size: 12px}",
    "<p id=b>X",
    11.0
)]
#[case::attribute("#b {font-size: 11px}", "<p id=b style='font-size: 14px'>X", 14.0)]
#[case::invalid_is_dropped("p {font-size: 11px; font-size: 12quux}", "<p>X", 11.0)]
#[case::media(
    "@media (min-width: 1000px) {p {font-size: 11px}} @media (width < 1000px) {p {font-size: 12px}}",
    "<p>X",
    11.0
)]
#[case::print("@media print {p {font-size: 11px}}", "<p>X", 16.0)]
#[case::supports(
    "@supports (display: grid) and (not (-x-y: 1)) {p {font-size: 11px}}",
    "<p>X",
    11.0
)]
#[case::nesting(
    "div { font-size: 30px; & p {font-size: 11px} .a & {font-size: 1px} }",
    "<div><p>X</p></div>",
    11.0
)]
#[case::layers(
    "@layer late, early; @layer early {p {font-size: 11px}} @layer late {p {font-size: 12px}}",
    "<p>X",
    11.0
)]
#[case::layer_below_all(
    "p {font-size: 11px} @layer a {#b {font-size: 12px}}",
    "<p id=b>X",
    11.0
)]
#[case::important_in_layers(
    "@layer a {p {font-size: 11px !important}} p {font-size: 12px !important}",
    "<p>X",
    11.0
)]
#[case::variable(":root {--s: 11px} p {font-size: var(--s)}", "<p>X", 11.0)]
#[case::variable_of_variable(
    ":root {--a: 2; --s: calc(var(--a) * 7px)} p {font-size: var(--s)}",
    "<p>X",
    14.0
)]
#[case::variable_fallback("p {font-size: var(--none, 11px)}", "<p>X", 11.0)]
#[case::variable_circle(
    ":root {--a: var(--b); --b: var(--a)} p {font-size: var(--a)}",
    "<p>X",
    16.0
)]
#[case::variable_fallback_in_brackets(
    ":root {--a: calc((((((var(--none))))))); --b: var(--a, var(--a, var(--a, var(--a, \
     var(--a, var(--a, var(--a, var(--a, var(--a, var(--a, 11px))))))))))} p {font-size: var(--b)}",
    "<p>X",
    11.0
)]
#[case::is_and_not(":is(h1, p):not(.x) {font-size: 11px}", "<p>X", 11.0)]
#[case::child_and_sibling(
    "div > em + b {font-size: 11px}",
    "<div><em>a</em><b>X</b></div>",
    11.0
)]
#[case::nth("li:nth-child(2) {font-size: 11px}", "<ul><li>a<li>X</ul>", 11.0)]
#[case::nth_of(
    "li:nth-child(2 of .a) {font-size: 11px}",
    "<ul><li class=a>a<li>b<li class=a>X</ul>",
    11.0
)]
#[case::has("p:has(> em) {font-size: 11px}", "<p>X<em>a</em>", 11.0)]
#[case::lang(":lang(pl) {font-size: 11px}", "<p lang=pl-PL>X", 11.0)]
#[case::hover_never("p:hover {font-size: 11px}", "<p>X", 16.0)]
#[case::revert(
    "p {font-size: 9px} h1 {font-size: 9px} h1 {font-size: revert}",
    "<h1>X</h1>",
    32.0
)]
#[case::inherit(
    "div {font-size: 10px} p {font-size: 20px} b {font-size: inherit}",
    "<div><p><b>X</b></div>",
    20.0
)]
fn sizes(#[case] css: &str, #[case] html: &str, #[case] size: f32) {
    assert_eq!(style_of(css, html).size, size);
}

#[rstest]
#[case("", "<b>X</b>", 700.0)]
#[case("", "<h2>X</h2>", 700.0)]
#[case("", "<b><b>X</b></b>", 900.0)]
#[case("p {font-weight: 350} b {font-weight: lighter}", "<p><b>X</b>", 100.0)]
#[case("p {font: 650 1em x}", "<p>X", 650.0)]
#[case("p {font-weight: 650; font: 1em x}", "<p>X", 400.0)]
#[case("p {font-weight: 1001}", "<p>X", 400.0)]
fn weights(#[case] css: &str, #[case] html: &str, #[case] weight: f32) {
    assert_eq!(style_of(css, html).weight, weight);
}

#[test]
fn the_font_shorthand_sets_everything() {
    let style = style_of(
        "p {font: oblique 10deg small-caps bold condensed calc(10px + 2px)/150% 'A B', C D, serif}",
        "<p>X",
    );
    let families: Vec<&str> = style
        .families
        .iter()
        .map(|family| family.as_str())
        .collect();
    assert_eq!(families, ["A B", "C D", "serif"]);
    assert_eq!(style.style, StyleValue::Oblique(10.0));
    assert_eq!(
        (style.weight, style.stretch, style.size),
        (700.0, 75.0, 12.0)
    );
    assert_eq!(style.line_height, LineHeight::Px(18.0));
    assert_eq!(style.asked_features()[0].0, "smcp");
}

#[test]
fn features_come_from_variants_and_settings() {
    let style = style_of(
        "p {font-variant: tabular-nums slashed-zero; font-feature-settings: 'ss01', 'zero' 0}",
        "<p>X",
    );
    let tags: Vec<String> = style
        .asked_features()
        .into_iter()
        .map(|(tag, _)| tag)
        .collect();
    assert_eq!(tags, ["tnum", "ss01"]);
}

#[rstest]
#[case::turkish("tr", "istanbul", "İSTANBUL")]
#[case::german("de", "straße", "STRASSE")]
#[case::greek_loses_accents("el", "Αθήνα", "ΑΘΗΝΑ")]
#[case::english("en", "istanbul", "ISTANBUL")]
fn upper_case_is_that_of_the_language(#[case] tag: &str, #[case] text: &str, #[case] shown: &str) {
    let html = format!(
        "<!doctype html><style>h1 {{text-transform: uppercase}}</style><h1 lang={tag}>{text}</h1>"
    );
    assert_eq!(page(&html).texts[0].text, shown);
}

#[test]
fn everything_that_shows_is_text() {
    let html = "<!doctype html><html lang=uk><head><title>no</title><style>
        .q::before {content: '→' attr(data-x) ' ' open-quote}
        .q::after {content: close-quote / 'spoken'}
        ol {list-style: upper-roman}
        input::placeholder {font-style: italic}
        </style><script>no</script><body>
        <p class=q data-x=5>привіт</p>
        <ol start=4><li>item</ol><ul><li>dot</ul>
        <input placeholder=hint value=given><input type=hidden value=no>
        <img alt=picture title=tip><textarea>area</textarea><noscript>no</noscript>";
    let page = page(html);
    let shown: Vec<(&str, TextOrigin)> = page
        .texts
        .iter()
        .map(|text| (text.text.as_str(), text.origin))
        .collect();
    assert_eq!(
        shown,
        [
            ("→5 «", TextOrigin::Generated),
            ("привіт", TextOrigin::Content),
            ("»", TextOrigin::Generated),
            ("IV.", TextOrigin::Marker),
            ("item", TextOrigin::Content),
            ("dot", TextOrigin::Content),
            ("given", TextOrigin::Value),
            ("hint", TextOrigin::Placeholder),
            ("tip", TextOrigin::Title),
            ("picture", TextOrigin::Alternative),
            ("area", TextOrigin::Content),
        ]
    );
    assert_eq!(find(&page, "hint").1.style, StyleValue::Italic);
    assert_eq!(find(&page, "привіт").0.language.as_deref(), Some("uk"));
    assert_eq!(find(&page, "given").0.role, "forms");
}

#[test]
fn sheets_are_followed_and_what_is_remote_is_told() {
    let html = "<!doctype html>
<link rel=stylesheet href=a.css>
<link rel=stylesheet href=print.css media=print>
<link rel=stylesheet href=https://fonts.example/x.css>
<link rel=stylesheet href=missing.css>
<p>X</p>
<p>Y &amp;
z</p>";
    let page = with_files(
        html,
        vec![
            (
                "a.css",
                "@import 'b.css' layer(base);\np {font-size: 20px}\n@import 'late.css';",
            ),
            (
                "b.css",
                "@font-face {font-family: B; src: url(b.woff2); unicode-range: U+41-5A}\n#x, p {font-size: 10px; font-family: B}",
            ),
            ("print.css", "p {font-size: 1px}"),
        ],
    );
    let (text, style) = find(&page, "X");
    assert_eq!((style.size, style.families[0].as_str()), (20.0, "B"));
    assert_eq!(text.line, 6);
    assert_eq!(find(&page, "z").0.line, 7);
    assert_eq!(page.faces[0].file, "b.css");
    assert!(page.faces[0].face.admits('A') && !page.faces[0].face.admits('a'));
    let problems: Vec<(&str, u32, bool)> = page
        .problems
        .iter()
        .map(|problem| {
            (
                problem.file.as_str(),
                problem.line,
                problem.unread.is_some(),
            )
        })
        .collect();
    assert_eq!(
        problems,
        [
            ("a.css", 3, false),
            ("page.html", 4, true),
            ("page.html", 5, true)
        ]
    );
}

#[test]
fn hostile_pages_end() {
    let deep = page(&format!("<!doctype html>X{}X", "<div>".repeat(200_000)));
    assert_eq!((deep.texts.len(), deep.problems.len()), (1, 1));
    let doubling: String = (1..40)
        .map(|n| format!("--v{n}: var(--v{m}) var(--v{m});", m = n - 1))
        .collect();
    let css = format!(":root {{--v0: 1px; {doubling}}} p {{font-size: var(--v39)}}");
    assert_eq!(style_of(&css, "<p>X").size, 16.0);
    let brackets = format!(
        "p {{font-size: {}1px}} p {{font-size: 9px}}",
        "calc(".repeat(5_000)
    );
    // The brackets never close: all behind them is one invalid value.
    assert_eq!(style_of(&brackets, "<p>X").size, 16.0);
}

#[rstest]
#[case("<base href='assets/'>", "assets/")]
#[case("<base href='https://ferry.example/assets/'>", "/assets/")]
#[case("<base href='https://ferry.example'><base href='x/'>", "/")]
#[case("", "page.html")]
fn a_base_moves_what_urls_are_relative_to(#[case] html: &str, #[case] base: &str) {
    use std::cell::RefCell;
    struct Asked(RefCell<Vec<String>>);
    impl Files for Asked {
        fn read(&self, _: &str, base: &str, _: &str) -> Result<OpenedFile, Unread> {
            self.0.borrow_mut().push(base.to_owned());
            Err(Unread::Remote)
        }
    }
    let asked = Asked(RefCell::default());
    let html = format!("{html}<link rel=stylesheet href=s.css>");
    let (page, _) = read(&html, "page.html", &asked, Viewport::screen(800.0, 600.0));
    assert_eq!(asked.0.into_inner(), [base]);
    assert_eq!(page.problems[0].file, "page.html");
}

#[test]
fn elements_that_the_same_rules_match_have_their_own_parents_styles() {
    // More parents than are kept at hand.
    let body: String = (0..1500)
        .map(|n| {
            format!(
                "<div style='font-size: {}px; --k: {n}px'><p>X<p>Y</div>",
                n % 40 + 8
            )
        })
        .collect();
    let html = format!(
        "<!doctype html><style>p {{font-size: 2em; letter-spacing: var(--k)}}</style>{body}"
    );
    let (page, _) = read(
        &html,
        "p.html",
        &Folder(vec![]),
        Viewport::screen(800.0, 600.0),
    );
    assert_eq!(page.texts.len(), 3000);
    for (place, text) in page.texts.iter().enumerate() {
        let parent = place / 2;
        let style = &page.styles[text.style];
        assert_eq!(style.size, 2.0 * (parent % 40 + 8) as f32, "{place}");
        assert_eq!(style.letter_spacing, parent as f32, "{place}");
    }
}

#[test]
fn what_is_written_deeper_than_browsers_have_it_stands_beside() {
    let html = format!("<!doctype html>{}<i>X</i>", "<div>".repeat(600));
    let (page, dom) = read(
        &html,
        "p.html",
        &Folder(vec![]),
        Viewport::screen(800.0, 600.0),
    );
    assert_eq!(page.texts.len(), 1);
    let depth = |node| std::iter::successors(Some(node), |node| dom.parent(*node)).count();
    let deepest = std::iter::successors(Some(dom.document()), |node| {
        tidy_lattice_documents::page::following(&dom, *node)
    })
    .map(depth)
    .max();
    assert!(
        deepest.is_some_and(|deepest| (510..=514).contains(&deepest)),
        "{deepest:?}"
    );
    assert!(page.problems.is_empty(), "{:?}", page.problems);
}
