//! Pages laid out: boxes, lines, and what moves between two layouts. Heights and
//! places of these small pages were measured in Chromium 156.

use rstest::rstest;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::layout::text::{BreakRules, places};
use tidy_lattice_core::page::{LineBreak, WordBreak};
use tidy_lattice_core::shift::{Foretold, Moving, Rect, Shapes, score, worst_window};

use crate::laid::{laid, laid_by};

/// The box of the element with this id or tag.
fn rect(css: &str, body: &str, name: &str) -> Rect {
    let (page, laid) = laid(css, body);
    let told = Foretold::of(&laid, &page.flow);
    let found = told.elements.iter().find(|one| one.element == name);
    found
        .unwrap_or_else(|| panic!("no {name} in {:?}", told.elements))
        .rect
}

fn lines(css: &str, body: &str) -> Vec<String> {
    let (page, laid) = laid(css, body);
    let told = Foretold::of(&laid, &page.flow);
    told.blocks
        .iter()
        .flat_map(|block| block.lines.iter().map(|line| line.text.clone()))
        .collect()
}

#[rstest]
#[case::one_line("", "<p id=a>Tide", 0.0, 30.0)]
#[case::margin("p {margin: 10px 0}", "<p>One<p id=a>Tide", 50.0, 30.0)]
#[case::collapsing("p {margin: 10px 0 25px}", "<p>One<p id=a>Tide", 65.0, 30.0)]
#[case::negative("p {margin: 20px 0 -5px}", "<p>One<p id=a>Tide", 65.0, 30.0)]
#[case::through_parent("#b {margin-top: 8px}", "<div><p id=b>x</div><p id=a>Tide", 38.0, 30.0)]
#[case::padding_keeps(
    "div {padding-top: 1px} #b {margin-top: 8px}",
    "<div><p id=b>x</div><p id=a>T",
    39.0,
    30.0
)]
#[case::empty_block("#b {margin: 12px 0}", "<p>x<div id=b></div><p id=a>Tide", 42.0, 30.0)]
#[case::border("#a {border: 2.7px solid; padding: 5px}", "<p id=a>Tide", 0.0, 44.0)]
#[case::border_box(
    "#a {box-sizing: border-box; height: 50px; padding: 9px}",
    "<p id=a>T",
    0.0,
    50.0
)]
#[case::min_height("#a {min-height: 77px}", "<p id=a>Tide", 0.0, 77.0)]
#[case::two_lines("#a {width: 60px}", "<p id=a>Tide turns", 0.0, 60.0)]
#[case::nowrap(
    "#a {width: 60px; white-space: nowrap}",
    "<p id=a>Tide turns",
    0.0,
    30.0
)]
#[case::forced("", "<p id=a>Tide<br>turns", 0.0, 60.0)]
#[case::pre("#a {white-space: pre}", "<p id=a>a\nb\n\nc", 0.0, 120.0)]
#[case::superscript(
    "sup {font-size: 10px; line-height: 1}",
    "<p id=a>Tide<sup>2</sup>",
    0.0,
    30.0
)]
#[case::line_height_number("#a {line-height: 1.37}", "<p id=a>Tide", 0.0, 27.390625)]
#[case::none("div {display: none}", "<div>x</div><p id=a>Tide", 0.0, 30.0)]
fn blocks_stand_where_they_do_in_chromium(
    #[case] css: &str,
    #[case] body: &str,
    #[case] y: f64,
    #[case] height: f64,
) {
    let rect = rect(css, body, "p#a");
    assert_eq!((rect.y, rect.height), (y, height));
}

#[rstest]
#[case::all("", 0.0, 400.0)]
#[case::percent("#a {width: 25%}", 0.0, 100.0)]
#[case::calc("#a {width: calc(50% - 30px)}", 0.0, 170.0)]
#[case::centred("#a {max-width: 100px; margin: 0 auto}", 150.0, 100.0)]
#[case::pushed("#a {width: 100px; margin-left: auto}", 300.0, 100.0)]
#[case::relative("#a {position: relative; left: 7px; width: 10px}", 7.0, 10.0)]
#[case::logical("#a {margin-inline: 10px 30px}", 10.0, 360.0)]
#[case::rtl("body {direction: rtl} #a {width: 100px}", 300.0, 100.0)]
fn widths_are_those_of_the_standard(#[case] css: &str, #[case] x: f64, #[case] width: f64) {
    let rect = rect(css, "<p id=a>Tide", "p#a");
    assert_eq!((rect.x, rect.width), (x, width));
}

#[rstest]
#[case::grid("#g {display: grid; grid-template-columns: 100px 1fr 2fr; gap: 10px}", (100.0 + 10.0, 93.328125))]
#[case::flex("#g {display: flex} p {flex: 1}", (133.328125, 133.328125))]
#[case::flex_basis("#g {display: flex; column-gap: 20px} p {flex: 0 0 100px}", (120.0, 100.0))]
fn grids_and_flexible_boxes_share_their_room(#[case] css: &str, #[case] second: (f64, f64)) {
    let body = "<div id=g><p>a</p><p id=a>b</p><p>c</p></div>";
    let rect = rect(css, body, "p#a");
    assert!((rect.x - second.0).abs() < 0.02, "{rect:?}");
    assert!((rect.width - second.1).abs() < 0.02, "{rect:?}");
}

#[test]
fn columns_of_tables_are_as_wide_as_their_content() {
    let body = "<table><tr><td>a<td id=a>Tide</tr><tr><td>Tern Harbour<td>b</table>";
    let (page, laid) = laid("table {border-spacing: 4px} td {padding: 3px}", body);
    let shapes = Shapes::of(&laid, &page.flow);
    let told = Foretold::of(&laid, &page.flow);
    let cells: Vec<Rect> = told
        .elements
        .iter()
        .filter(|one| one.element.ends_with("td") || one.element.ends_with("td#a"))
        .map(|one| one.rect)
        .collect();
    assert_eq!(cells[0].width, cells[2].width);
    assert_eq!(cells[1].x, cells[0].right() + 4.0);
    assert_eq!(cells[0].height, 36.0);
    assert!(!shapes.texts.is_empty());
}

#[rstest]
#[case::soft_hyphen("#a {width: 70px}", "<p id=a>harbour&shy;master", &["harbour\u{ad}", "master"])]
#[case::no_hyphens("#a {width: 70px; hyphens: none}", "<p id=a>harbour&shy;master", &["harbour\u{ad}master"])]
#[case::anywhere("#a {width: 40px; overflow-wrap: anywhere}", "<p id=a>Skerry", &["Ske", "rry"])]
#[case::nowrap_span("#a {width: 90px} b {white-space: nowrap}", "<p id=a>of <b>the old sea</b> too", &["of", "theoldsea", "too"])]
#[case::atom("#a {width: 90px} i {display: inline-block; width: 50px}", "<p id=a>Tide <i></i> in", &["Tide", "in"])]
#[case::collapsed("", "<p id=a>  Tide\n   turns  ", &["Tideturns"])]
#[case::transform("#a {text-transform: uppercase}", "<p id=a>Tide", &["TIDE"])]
#[case::of_no_size("#a {font-size: 0}", "<p id=a>Tide<p>turns", &["turns"])]
fn lines_end_where_they_may(#[case] css: &str, #[case] body: &str, #[case] expected: &[&str]) {
    assert_eq!(lines(css, body), expected);
}

/// In boxes of 100 px, as measured in Chromium 156 and Firefox 153: in one line or in two.
#[rstest]
#[case::behind_a_blank("", "<i>Tide turns </i>noon", 1, 1)]
#[case::behind_a_hyphen("", "<i>Tide turns-</i>noon", 2, 2)]
#[case::between_two("", "<i>Tide turns-</i><i>noon</i>", 2, 2)]
#[case::at_a_blank_between_two("", "<i>Tide turns</i> <i>noon</i>", 2, 2)]
#[case::behind_empty_elements("", "<i>Tide turns-<s></s></i><s></s>noon", 2, 2)]
#[case::into_what_wraps("p {white-space: nowrap}", "Tide turns-<b>noon</b>", 1, 1)]
#[case::into_what_wraps_behind_a_blank("p {white-space: nowrap}", "Tide turns <b>noon</b>", 1, 1)]
#[case::out_of_what_wraps("p {white-space: nowrap}", "<b>Tideturns-</b>noon", 2, 1)]
fn lines_end_between_elements(
    #[case] css: &str,
    #[case] body: &str,
    #[case] chromium: usize,
    #[case] firefox: usize,
) {
    let css =
        format!("p {{width: 100px}} i {{white-space: nowrap}} b {{white-space: normal}} {css}");
    for (engine, expected) in [(Engine::Chromium, chromium), (Engine::Firefox, firefox)] {
        let (page, laid) = laid_by(engine, &css, &format!("<p>{body}"));
        let blocks = Foretold::of(&laid, &page.flow).blocks;
        assert_eq!(blocks[0].lines.len(), expected, "{engine:?}");
    }
}

/// Page boxes are 400 px wide, lines 30 px high.
#[rstest]
#[case::from_the_edges("#a {left: 30px; top: 12px}", [30.0, 12.0, 38.0, 30.0])]
#[case::from_the_end("#a {right: 30px; bottom: 12px}", [332.0, 58.0, 38.0, 30.0])]
#[case::between("#a {left: 10px; right: 20px; top: 5px; bottom: 15px}", [10.0, 5.0, 370.0, 80.0])]
#[case::in_percent("#a {left: 25%; top: 50%; width: 50%; height: 20%}", [100.0, 50.0, 200.0, 20.0])]
#[case::in_the_middle(
    "#a {left: 0; right: 0; width: 100px; margin: auto; top: 0; bottom: 0; height: 40px}",
    [150.0, 30.0, 100.0, 40.0]
)]
#[case::aligned("#a {left: 0; right: 0; top: 0; bottom: 0; align-self: center}", [0.0, 35.0, 400.0, 30.0])]
#[case::where_it_stands("", [0.0, 60.0, 38.0, 30.0])]
#[case::where_it_stands_across("#a {top: 4px}", [0.0, 4.0, 38.0, 30.0])]
#[case::margins("#a {margin: 7px}", [7.0, 67.0, 38.0, 30.0])]
#[case::less_than_nothing("#a {left: 300px; right: 300px; top: 0; height: 9px}", [300.0, 0.0, 0.0, 9.0])]
#[case::in_padding("#r {padding: 11px; border: 2px solid} #a {left: 0; top: 0}", [2.0, 2.0, 38.0, 30.0])]
#[case::fixed("#a {position: fixed; right: 0; top: 3px} #r {margin-left: 50px}", [362.0, 3.0, 38.0, 30.0])]
#[case::narrow("#r {width: 60px} #a {left: 40px; top: 0}", [40.0, 0.0, 38.0, 30.0])]
#[case::in_a_flexible_box(
    "#r {display: flex; justify-content: center; align-items: center}",
    [181.0, 35.0, 38.0, 30.0]
)]
#[case::in_a_grid("#r {display: grid; justify-items: end}", [362.0, 0.0, 38.0, 30.0])]
#[case::right_to_left("#r {direction: rtl}", [362.0, 60.0, 38.0, 30.0])]
fn what_is_out_of_flow_is_in_its_block(#[case] css: &str, #[case] expected: [f64; 4]) {
    let sheet = format!(
        "body {{width: 400px}} #r {{position: relative; height: 100px}} #a {{position: absolute}} \
         i {{display: block; width: 38px; height: 30px}} {css}"
    );
    let body = "<div id=r><p>Tide<p>turns<div id=a><i></i></div></div>";
    let found = rect(&sheet, body, "div#a");
    assert_eq!([found.x, found.y, found.width, found.height], expected);
}

/// In lines it takes no room, and stands where its line, or the next one, is.
#[rstest]
#[case::of_a_line("<span id=a>x</span>", "", "span#a", (50.0, 0.0))]
#[case::a_block("<div id=a>x</div>", "", "div#a", (0.0, 30.0))]
#[case::to_the_right("<span id=a>x</span>", "#p {text-align: right}", "span#a", (350.0, 0.0))]
fn what_is_out_of_flow_leaves_lines_as_they_are(
    #[case] out: &str,
    #[case] css: &str,
    #[case] name: &str,
    #[case] expected: (f64, f64),
) {
    let sheet = format!(
        "body {{width: 400px}} #a {{position: absolute}} b {{display: inline-block; width: 50px; \
         height: 30px; vertical-align: top}} {css}"
    );
    let body = format!("<div id=p><b></b>{out}<b></b></div>");
    let found = rect(&sheet, &body, name);
    assert_eq!((found.x, found.y), expected);
    assert_eq!(
        lines(&sheet, &format!("<div>Tide {out}turns</div>"))[0],
        "Tideturns"
    );
}

/// Margins in it stay in it, and an empty block above it stands below its own margin only.
#[test]
fn what_is_out_of_flow_keeps_margins_to_itself() {
    let css = "#a {position: absolute; top: 0} #b {margin: 8px 0} #e {margin: 5px 0 20px; position: relative}";
    let body = "<p>Tide</p><div id=e><div id=a><p id=b>x</p></div></div><p id=n>turns";
    assert_eq!(rect(css, body, "div#a").height, 46.0);
    assert_eq!(rect(css, body, "div#e").y, 35.0);
    assert_eq!(rect(css, body, "p#n").y, 50.0);
}

#[test]
fn what_is_not_laid_out_is_named() {
    let css = "#f {zoom: 2} #r {position: relative} #o {position: absolute} #c {columns: 2}";
    let body = "<p id=f>f</p><p><i id=r>x<b id=o>o</b></i></p><div id=c>c</div><img src=x>";
    let (page, laid) = laid(css, body);
    let named: Vec<&str> = laid
        .unsupported
        .iter()
        .map(|one| one.what.as_str())
        .collect();
    let out = "position: absolute in a box that is not laid out";
    for expected in ["zoom: 2", out, "column-count: 2"] {
        assert!(named.contains(&expected), "{named:?}");
    }
    let told = Foretold::of(&laid, &page.flow);
    assert!(told.elements.iter().all(|one| one.element != "p#f"));
}

#[rstest]
#[case::hyphen("side-effect", &[5])]
#[case::minus("at -5 or A-5", &[3, 6, 9, 11])]
#[case::slash("a/b", &[])]
#[case::question("page?lang", &[5])]
#[case::bracket("x(y)", &[])]
#[case::bracket_behind_a_full_stop("x.(y)", &[2])]
#[case::japanese("船が、出る", &[3, 9, 12])]
#[case::quotes("a «b» c", &[2, 8])]
fn chromium_breaks_ascii_by_a_table_of_its_own(#[case] text: &str, #[case] expected: &[usize]) {
    let rules = BreakRules {
        engine: Engine::Chromium,
        language: None,
        word: WordBreak::Normal,
        line: LineBreak::Auto,
    };
    assert_eq!(places(text, rules), expected);
}

fn moving(from: (f64, f64), to: (f64, f64), width: f64, height: f64) -> Moving {
    let at = |(x, y): (f64, f64)| Rect {
        x,
        y,
        width,
        height,
    };
    Moving {
        from,
        to,
        before: at(from),
        after: at(to),
    }
}

#[rstest]
// Scores that Chromium gave for these movements in a viewport of 780 by 437.
#[case::two_blocks(&[moving((8.0, 40.0), (8.0, 80.0), 764.0, 80.0), moving((8.0, 130.0), (8.0, 170.0), 764.0, 20.0)], 0.016_092_026_653_547_514)]
#[case::three_px(&[moving((8.0, 40.0), (8.0, 43.0), 764.0, 20.0)], 0.000_198_276_756_981_210_43)]
#[case::less_is_none(&[moving((8.0, 40.0), (8.0, 42.5), 764.0, 20.0)], 0.0)]
#[case::overflow_counts(&[moving((8.0, 40.0), (8.0, 80.0), 100.0, 100.0)], 0.002_106_286_211_197_318_5)]
#[case::out_of_sight(&[moving((8.0, 500.0), (8.0, 600.0), 764.0, 20.0)], 0.0)]
fn scores_are_those_of_chromium(#[case] objects: &[Moving], #[case] expected: f64) {
    let score = score(objects, (780.0, 437.0));
    assert!((score.value - expected).abs() < 1e-9, "{score:?}");
}

#[rstest]
#[case::together(&[(0.0, 0.1), (900.0, 0.2)], 0.3)]
#[case::pause(&[(0.0, 0.1), (1_001.0, 0.2)], 0.2)]
#[case::five_seconds(&[(0.0, 0.1), (900.0, 0.1), (1_800.0, 0.1), (2_700.0, 0.1), (3_600.0, 0.1), (4_500.0, 0.1), (5_400.0, 0.1)], 0.6)]
#[case::none(&[], 0.0)]
fn sessions_are_as_the_standard_cuts_them(#[case] shifts: &[(f64, f64)], #[case] expected: f64) {
    assert!((worst_window(shifts) - expected).abs() < 1e-12);
}

/// What is not laid out is told, whatever the language of the text.
#[rstest]
#[case::vertical("writing-mode: vertical-rl", "writing-mode: vertical-rl")]
#[case::first_line("} p::first-line { font-size: 30px", "::first-line")]
fn what_is_not_done_is_told_in_every_language(
    #[case] css: &str,
    #[case] what: &str,
    #[values("", "en", "de", "ja")] language: &str,
    #[values(Engine::Chromium, Engine::Firefox)] engine: Engine,
) {
    let body = format!("<p lang='{language}'>Tide turns</p>");
    let (_, laid) = laid_by(engine, &format!("p {{ {css} }}"), &body);
    let told = laid.unsupported.iter().any(|one| one.what.contains(what));
    assert!(told && !laid.left_out.is_empty(), "{:?}", laid.unsupported);
}

/// What stands in a box that is not laid out is not, either.
#[test]
fn what_is_left_out_is_left_out_with_all_in_it() {
    let body = "<div id=a style='writing-mode: vertical-rl'><p id=b><b id=c>Tide</b></p></div>\
                <p id=d>turns</p>";
    let (page, laid) = laid("", body);
    let foretold = Foretold::of(&laid, &page.flow);
    let seen = |id: &str| {
        let mut elements = foretold.elements.iter();
        elements.any(|one| one.element.ends_with(id))
    };
    assert_eq!(
        ["#a", "#b", "#c", "#d"].map(seen),
        [false, false, false, true]
    );
    assert_eq!(foretold.blocks.len(), 1);
    assert!(foretold.left_out.len() >= 2, "{:?}", foretold.left_out);
}

/// Elements without text make a line where they have edges, as links of icons do.
#[rstest]
#[case::padding("<a style='padding: 0 8px'></a>", 30.0)]
#[case::around_another(
    "<a style='padding: 0 8px'><i></i></a> <a style='padding: 0 8px'></a>",
    30.0
)]
#[case::border("<i style='border-left: 1px solid'></i>", 30.0)]
#[case::no_edges("<a></a> <a><i></i></a>", 0.0)]
#[case::behind_a_block("<p>Tide</p> <a style='margin-left: 3px'></a>", 60.0)]
fn elements_with_edges_make_lines(#[case] body: &str, #[case] height: f64) {
    let body = format!("<div id=a>{body}</div>");
    assert_eq!(rect("", &body, "div#a").height, height);
}

/// Words are parted by patterns in Firefox; else it is told that they are not.
#[rstest]
#[case::parted("de", Engine::Firefox, false)]
#[case::no_patterns("ja", Engine::Firefox, true)]
#[case::not_known("", Engine::Firefox, true)]
#[case::chromium("de", Engine::Chromium, true)]
fn hyphens_that_are_not_set_are_told(
    #[case] language: &str,
    #[case] engine: Engine,
    #[case] told: bool,
) {
    let body = format!("<p lang='{language}'>Tide turns</p>");
    let (_, laid) = laid_by(engine, "p { hyphens: auto }", &body);
    let hyphens = laid
        .unsupported
        .iter()
        .any(|one| one.what.contains("hyphens"));
    assert_eq!((hyphens, laid.left_out.is_empty()), (told, true));
}
