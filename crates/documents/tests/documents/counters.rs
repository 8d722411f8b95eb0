//! Counters: the texts that they make are those that Chromium tells to readers of screens.

use rstest::rstest;
use tidy_lattice_documents::page::{
    Files, FlowKind, OpenedFile, TextOrigin, Unread, read, read_flow,
};
use tidy_lattice_documents::style::read::Viewport;

/// No file but the page.
struct Alone;

impl Files for Alone {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

fn page(css: &str, body: &str) -> String {
    format!("<!doctype html><style>{SHOWN} {css}</style><body>{body}")
}

/// The texts that style sheets put into the boxes of a page, in order.
fn made(css: &str, body: &str) -> Vec<String> {
    let viewport = Viewport::screen(1280.0, 800.0);
    let flow = read_flow(&page(css, body), "page.html", &Alone, viewport).flow;
    let made = flow
        .nodes
        .iter()
        .filter(|node| matches!(&node.kind, FlowKind::Element(tag) if tag == "::before"));
    let texts = made.flat_map(|node| &node.children);
    let texts = texts.filter_map(|child| match &flow.nodes[*child].kind {
        FlowKind::Text(text, _) => Some(text.trim().to_owned()),
        _ => None,
    });
    texts.collect()
}

const SECTIONS: &str = r#"body {counter-reset: s} h2 {counter-increment: s; counter-reset: t}
    h3 {counter-increment: t} h2::before {content: counter(s) ". "}
    h3::before {content: counter(s) "." counter(t) " "}"#;
const NESTED: &str = r#"ol {counter-reset: i; list-style: none} li {counter-increment: i}
    li::before {content: counters(i, ".")}"#;
const STYLES: &str = "p {counter-reset: c 4} p::before {content: counter(c, upper-roman)
    counter(c, lower-alpha) counter(c, decimal-leading-zero) counter(c, lower-greek)
    counter(c, none) counter(c, disc)}";
const SHOWN: &str = "p::before {content: counter(c)}";

#[rstest]
#[case::sections(SECTIONS, "<h2></h2><h3></h3><h3></h3><h2></h2><h3></h3>", &["1.", "1.1", "1.2", "2.", "2.1"])]
#[case::nested(NESTED, "<ol><li><ol><li></li><li></li></ol></li><li></li></ol>", &["1", "1.1", "1.2", "2"])]
#[case::made_by_what_counts_first("p {counter-increment: c}", "<p></p><p></p>", &["1", "2"])]
#[case::not_known("", "<p></p>", &["0"])]
#[case::not_known_around(r#"p.a::before {content: counters(c, ".")}"#, "<p class=a></p>", &["0"])]
#[case::styles(STYLES, "<p class=s></p>", &["IVd04δ•"])]
#[case::below_one("p {counter-reset: c -3 d 0} p.a::before {content: counter(c) counter(d, upper-roman) counter(c, lower-alpha)}", "<p class=a></p>", &["-30-3"])]
#[case::set_after_counted("div {counter-reset: c} p {counter-increment: c 5; counter-set: c 2}", "<div><p></p><p></p></div>", &["2", "2"])]
#[case::without_a_box("div {counter-reset: c} p {counter-increment: c} .h {display: none}", "<div><p></p><p class=h></p><p></p></div>", &["1", "2"])]
#[case::pseudo_elements_count("div {counter-reset: c} p::before {counter-increment: c}", "<div><p></p><p></p></div>", &["1", "2"])]
#[case::pseudo_elements_without_content("div {counter-reset: c} p::before {counter-increment: c} p::after {counter-increment: c}", "<div><p></p><p></p></div>", &["1", "2"])]
#[case::siblings_see_it("h2 {counter-reset: c 7} p::before {counter-increment: c}", "<h2></h2><p></p><p></p>", &["8", "9"])]
#[case::those_outside_do_not("h2 {counter-reset: c 7}", "<div><h2></h2></div><p></p>", &["0"])]
#[case::items_of_lists(r#"ol {list-style: none} li::before {content: counters(list-item, ".")}"#, "<ol start=3><li><ol><li></li></ol></li><li></li></ol>", &["3", "3.1", "4"])]
#[case::names_have_case("div {counter-reset: C 2 c 5}", "<div><p></p></div>", &["5"])]
#[case::reset_before_counted("p {counter-increment: c; counter-reset: c 4}", "<p></p>", &["5"])]
#[case::anew_in_each("div {counter-reset: c 1} p {counter-reset: c 3}", "<div><p></p><p></p></div>", &["3", "3"])]
#[case::beyond_whole_numbers("p {counter-reset: c 2147483647; counter-increment: c}", "<p></p>", &["2147483647"])]
fn counters_show_what_they_show_in_chromium(
    #[case] css: &str,
    #[case] body: &str,
    #[case] expected: &[&str],
) {
    assert_eq!(made(css, body), expected);
}

/// What nests deep and counts much is told up to a limit, and takes no time.
#[test]
fn deep_counters_are_cut() {
    let css = r#"i {counter-reset: a 1 b 2 c 3} b::before {content: counters(a, "")}"#;
    let body = format!("{}<b></b>", "<i>".repeat(400));
    assert_eq!(made(css, &body), ["1".repeat(256)]);
}

#[test]
fn what_is_shown_counts_as_text() {
    let html = page(SECTIONS, "<h2></h2><h3></h3><h2></h2><h3></h3>");
    let (page, _) = read(&html, "page.html", &Alone, Viewport::screen(1280.0, 800.0));
    let made = page
        .texts
        .iter()
        .filter(|text| text.origin == TextOrigin::Generated);
    let made: Vec<&str> = made.map(|text| text.text.trim()).collect();
    assert_eq!(made, ["1.", "1.1", "2.", "2.1"]);
}
