//! What laying a page out costs grows with the page, not with its square: counted in steps,
//! which are the same on every machine.

use rstest::rstest;
use tidy_lattice_core::layout::Engine;

use crate::laid::laid_by;

/// The steps that selectors and layout take for a page.
fn steps(engine: Engine, css: &str, body: &str) -> u64 {
    let (page, laid) = laid_by(engine, css, body);
    page.steps + laid.steps
}

fn items(count: usize) -> String {
    "<i>one two</i>".repeat(count)
}

fn nested(count: usize, open: &str, close: &str) -> String {
    format!("{}tide{}", open.repeat(count), close.repeat(count))
}

/// Pages twice as long take about twice the steps; 1.3 is for what is not exactly twice as
/// much, such as ends of lines that lie otherwise.
#[rstest]
#[case::elements_counted_by_kind("i:nth-child(2n) {color: red}", items, 400)]
#[case::elements_counted_from_the_end("i:nth-last-of-type(3n) {color: red}", items, 400)]
#[case::siblings("i + i > i, i ~ b {color: red}", items, 400)]
#[case::rows_of_a_table("", |count| format!("<table>{}</table>", "<tr><td>one<td>two".repeat(count)), 200)]
#[case::groups_of_rows("", |count| format!("<table>{}</table>", "<tbody><tr><td>one".repeat(count)), 200)]
#[case::words_of_a_paragraph("", |count| format!("<p>{}", "word ".repeat(count)), 1000)]
#[case::a_word_that_is_cut("p {overflow-wrap: anywhere}", |count| format!("<p>{}", "word".repeat(count)), 1000)]
#[case::spans_of_a_paragraph("i {padding: 0 1px}", |count| format!("<p>{}", "<i>word</i> ".repeat(count)), 400)]
#[case::spans_whose_words_are_cut("i {padding: 0 1px} p {overflow-wrap: anywhere}", |count| format!("<p>{}", "<i>word</i>".repeat(count)), 400)]
#[case::soft_hyphens("", |count| format!("<p>{}", "<i>wo&shy;rd</i>".repeat(count)), 400)]
#[case::words_that_are_parted("p {hyphens: auto}", |count| format!("<p lang=en>{}", "extraordinarily ".repeat(count)), 400)]
#[case::texts_in_two_directions("", |count| format!("<p dir=rtl>{}", "אבג abc ".repeat(count)), 400)]
#[case::boxes_below_one_another("", |count| "<p>word</p>".repeat(count), 400)]
#[case::boxes_beside_floats("b {float: left} p {overflow: hidden}", |count| format!("{}<p>x", "<b>x</b><p>word</p>".repeat(count)), 100)]
#[case::flexible_boxes("div {display: flex; flex-wrap: wrap}", |count| format!("<div>{}</div>", items(count)), 400)]
#[case::cells_of_a_grid("div {display: grid; grid-template-columns: 1fr auto 50px}", |count| format!("<div>{}</div>", items(count)), 200)]
#[case::items_of_a_list("", |count| format!("<ol>{}</ol>", "<li>one".repeat(count)), 400)]
#[case::containers_that_float("div {float: left}", |count| nested(count, "<div>", "</div>"), 10)]
#[case::clipped_beside_two_floats("div {overflow: hidden} b {float: left} i {float: right}", |count| nested(count, "<div><b>a</b><i>b</i>", "</div>"), 10)]
#[case::tables_in_tables("", |count| nested(count, "<table><tr><td>a<td>", "</table>"), 10)]
#[case::boxes_in_lines("div {display: inline-block}", |count| nested(count, "<div>a ", "</div>"), 10)]
#[case::flexible_boxes_in_each_other("div {display: flex}", |count| nested(count, "<div><b>a</b><div>", "</div></div>"), 8)]
#[case::columns_in_each_other("div {display: flex; flex-direction: column}", |count| nested(count, "<div><b>a</b><div>", "</div></div>"), 8)]
#[case::grids_in_each_other("div {display: grid; grid-template-columns: auto 1fr}", |count| nested(count, "<div><b>a</b><div>", "</div></div>"), 8)]
fn pages_twice_as_long_take_twice_the_steps(
    #[case] css: &str,
    #[case] body: fn(usize) -> String,
    #[case] count: usize,
) {
    for engine in [Engine::Chromium, Engine::Firefox] {
        let one = steps(engine, css, &body(count));
        let two = steps(engine, css, &body(2 * count));
        assert!(one > count as u64, "{one} steps for {count}");
        let ratio = two as f64 / one as f64;
        assert!(
            (1.0..2.0 * 1.3).contains(&ratio),
            "{engine:?}: {one} steps, {two} for twice as much"
        );
    }
}
