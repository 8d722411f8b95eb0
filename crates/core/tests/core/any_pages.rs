//! Pages put together at random: whatever stands in a paragraph, layout comes to an end and
//! keeps to the text.

use proptest::prelude::*;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::layout::flow::Laid;
use tidy_lattice_core::page::{FlowKind, FlowPage};

use crate::laid::laid_by;
use crate::material::cases;

const PARTS: [&str; 26] = [
    "word",
    " ",
    "\n",
    "  ",
    "a-b",
    "wo&shy;rd",
    "&nbsp;",
    "\t",
    "אבג",
    "ภาษาไทย",
    "漢字",
    "&#x200b;",
    "<br>",
    "<i class=f>x</i>",
    "<i class=r></i>",
    "<i class=a>x</i>",
    "<i class=b>x y</i>",
    "<i class=e>",
    "</i>",
    "<span>",
    "</span>",
    "<i class=n>",
    "<input>",
    "<img alt='a b'>",
    "<wbr>",
    "<table><td>x</table>",
];

const STYLES: [&str; 14] = [
    "",
    "white-space: pre",
    "white-space: pre-wrap",
    "white-space: pre-line",
    "white-space: nowrap",
    "direction: rtl",
    "unicode-bidi: plaintext",
    "text-align: justify",
    "text-indent: 30px",
    "word-break: break-all",
    "overflow-wrap: anywhere",
    "white-space: break-spaces",
    "hyphens: auto",
    "display: flex; flex-wrap: wrap",
];

const CSS: &str = ".f {float: left; width: 30px} .r {float: right; width: 500px} .a {position: absolute}
    .b {display: inline-block; padding: 2px} .e {padding: 0 5px; margin: 0 -3px} .n {white-space: pre}";

/// The longest text that a line may hold: all of the page's.
fn shown(page: &FlowPage) -> usize {
    let texts = page.flow.nodes.iter().map(|node| match &node.kind {
        FlowKind::Text(text, _) | FlowKind::Marker(text) => text.len(),
        _ => 0,
    });
    texts.sum()
}

fn check(laid: &Laid) {
    for side in [laid.x, laid.y, laid.width, laid.height] {
        assert!(side.is_finite(), "{side}");
    }
    laid.children.iter().for_each(check);
}

fn pieces(laid: &Laid) -> usize {
    let own = laid.text.iter().flat_map(|text| &text.lines);
    let own = own.flat_map(|line| &line.pieces).count();
    own + laid.children.iter().map(pieces).sum::<usize>()
}

proptest! {
    #![proptest_config(cases(600))]

    #[test]
    fn paragraphs_of_anything_are_laid_out(
        parts in prop::collection::vec(prop::sample::select(&PARTS[..]), 0..24),
        style in prop::sample::select(&STYLES[..]),
        width in prop::sample::select(vec![0, 1, 20, 60, 200, 390]),
        firefox in any::<bool>(),
    ) {
        let engine = if firefox { Engine::Firefox } else { Engine::Chromium };
        let css = format!("{CSS} p {{width: {width}px; {style}}}");
        let (page, laid) = laid_by(engine, &css, &format!("<p lang=en>{}", parts.concat()));
        check(&laid.root);
        // No text is set twice: a piece has a letter at least, but where elements begin and end.
        prop_assert!(pieces(&laid.root) <= shown(&page) + 4 * parts.len());
    }
}
