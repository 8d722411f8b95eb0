//! Longhands of what happens to lines of text (CSS Text 4, CSS Writing Modes 4, CSS Inline 3).

use super::given::Given;
use super::{Longhand, row};
use crate::style::computed::{
    Align, Bidi, Hyphens, LineBreak, OverflowWrap, TabSize, Vertical, WhiteSpaceCollapse, WordBreak,
};
use crate::style::parts;

pub(super) fn longhands() -> [Longhand; 17] {
    [
        row!("direction", true, "ltr", true, boxes.rtl, |given| {
            given.keyword(&[("ltr", false), ("rtl", true)])
        }),
        row!("unicode-bidi", false, "normal", true, boxes.bidi, |given| {
            given.keyword(&[
                ("normal", Bidi::Normal),
                ("embed", Bidi::Embed),
                ("isolate", Bidi::Isolate),
                ("-webkit-isolate", Bidi::Isolate),
                ("bidi-override", Bidi::Override),
                ("isolate-override", Bidi::Override),
                ("-webkit-isolate-override", Bidi::Override),
                ("plaintext", Bidi::Plaintext),
                ("-webkit-plaintext", Bidi::Plaintext),
            ])
        }),
        Longhand {
            set: |to, given| {
                let known = [
                    ("horizontal-tb", true),
                    ("lr", true),
                    ("lr-tb", true),
                    ("rl", true),
                    ("rl-tb", true),
                    ("vertical-rl", false),
                    ("vertical-lr", false),
                    ("sideways-rl", false),
                    ("sideways-lr", false),
                    ("tb", false),
                    ("tb-rl", false),
                ];
                to.boxes
                    .note_unsupported(given.keyword(&known)?, "writing-mode", given.lower);
                Some(())
            },
            ..not_done("writing-mode", true, "horizontal-tb")
        },
        row!("text-align", true, "start", true, boxes.align, |given| {
            given.keyword(&[
                ("start", Align::Start),
                ("-webkit-auto", Align::Start),
                ("end", Align::End),
                ("left", Align::Left),
                ("right", Align::Right),
                ("center", Align::Center),
                ("justify", Align::Justify),
                ("-webkit-left", Align::Left),
                ("-webkit-right", Align::Right),
                ("-webkit-center", Align::Center),
            ])
        }),
        Longhand {
            set: |to, given| {
                let others = ["start", "end", "left", "right", "center", "justify"];
                if given.lower != "auto" && !others.contains(&given.lower) {
                    return None;
                }
                to.boxes
                    .note_unsupported(given.lower == "auto", "text-align-last", given.lower);
                Some(())
            },
            ..not_done("text-align-last", true, "auto")
        },
        Longhand {
            name: "text-indent",
            inherited: true,
            initial: "0",
            of_boxes: true,
            set: |to, given| {
                let words = parts(given.lower);
                let more = |word: &&String| ["hanging", "each-line"].contains(&word.as_str());
                let (more, lengths): (Vec<&String>, Vec<&String>) = words.iter().partition(more);
                let [length] = lengths.as_slice() else {
                    return None;
                };
                to.boxes.indent = given.part(length).length_or_percentage(true)?;
                to.boxes
                    .note_unsupported(more.is_empty(), "text-indent", given.lower);
                Some(())
            },
            copy: |to, from| to.boxes.indent.clone_from(&from.boxes.indent),
        },
        row!(
            "white-space-collapse",
            true,
            "collapse",
            true,
            boxes.white_space_collapse,
            |given| {
                given.keyword(&[
                    ("collapse", WhiteSpaceCollapse::Collapse),
                    ("preserve", WhiteSpaceCollapse::Preserve),
                    ("preserve-breaks", WhiteSpaceCollapse::PreserveBreaks),
                    ("break-spaces", WhiteSpaceCollapse::BreakSpaces),
                ])
            }
        ),
        row!("text-wrap-mode", true, "wrap", true, boxes.wraps, |given| {
            given.keyword(&[("wrap", true), ("nowrap", false)])
        }),
        Longhand {
            name: "text-wrap-style",
            inherited: true,
            initial: "auto",
            of_boxes: true,
            set: |to, given| {
                let balanced = given.keyword(&[
                    ("auto", false),
                    ("stable", false),
                    ("balance", true),
                    ("pretty", false),
                ])?;
                to.boxes.balanced = balanced;
                to.boxes
                    .note_unsupported(given.lower != "pretty", "text-wrap-style", given.lower);
                Some(())
            },
            copy: |to, from| to.boxes.balanced = from.boxes.balanced,
        },
        row!(
            "overflow-wrap",
            true,
            "normal",
            true,
            boxes.overflow_wrap,
            |given| {
                given.keyword(&[
                    ("normal", OverflowWrap::Normal),
                    ("break-word", OverflowWrap::BreakWord),
                    ("anywhere", OverflowWrap::Anywhere),
                ])
            }
        ),
        // Behind `overflow-wrap`, which one of its values goes over.
        Longhand {
            name: "word-break",
            inherited: true,
            initial: "normal",
            of_boxes: true,
            set: |to, given| {
                to.boxes.word_break = given.keyword(&[
                    ("normal", WordBreak::Normal),
                    ("auto-phrase", WordBreak::Normal),
                    ("break-all", WordBreak::BreakAll),
                    ("keep-all", WordBreak::KeepAll),
                    ("break-word", WordBreak::Normal),
                ])?;
                if given.lower == "break-word" {
                    to.boxes.overflow_wrap = OverflowWrap::Anywhere;
                }
                Some(())
            },
            copy: |to, from| to.boxes.word_break = from.boxes.word_break,
        },
        row!(
            "line-break",
            true,
            "auto",
            true,
            boxes.line_break,
            |given| {
                given.keyword(&[
                    ("auto", LineBreak::Auto),
                    ("loose", LineBreak::Loose),
                    ("normal", LineBreak::Normal),
                    ("strict", LineBreak::Strict),
                    ("anywhere", LineBreak::Anywhere),
                ])
            }
        ),
        Longhand {
            name: "hyphens",
            inherited: true,
            initial: "manual",
            of_boxes: true,
            set: |to, given| {
                to.boxes.hyphens = given.keyword(&[
                    ("none", Hyphens::None),
                    ("manual", Hyphens::Manual),
                    ("auto", Hyphens::Auto),
                ])?;
                to.boxes
                    .note_unsupported(given.lower != "auto", "hyphens", given.lower);
                Some(())
            },
            copy: |to, from| to.boxes.hyphens = from.boxes.hyphens,
        },
        row!("tab-size", true, "8", true, boxes.tab_size, |given| {
            match given.number() {
                Some(_) => given.positive_number().map(TabSize::Spaces),
                None => given.px().map(TabSize::Px),
            }
        }),
        row!(
            "vertical-align",
            false,
            "baseline",
            true,
            boxes.vertical,
            vertical
        ),
        row!(
            "list-style-position",
            true,
            "outside",
            true,
            boxes.marker_inside,
            |given| { given.keyword(&[("outside", false), ("inside", true)]) }
        ),
        row!(
            "-webkit-line-clamp",
            false,
            "none",
            true,
            boxes.most_lines,
            |given| {
                if given.lower == "none" {
                    return Some(None);
                }
                given.count().map(Some)
            }
        ),
    ]
}

/// A property that layout does not do: what is asked for is noted, nothing is kept.
pub(super) fn not_done(name: &'static str, inherited: bool, initial: &'static str) -> Longhand {
    Longhand {
        name,
        inherited,
        initial,
        of_boxes: true,
        set: |_, _| None,
        copy: |_, _| {},
    }
}

fn vertical(given: &Given<'_>) -> Option<Vertical> {
    let keyword = given.keyword(&[
        ("baseline", Vertical::Baseline),
        ("sub", Vertical::Sub),
        ("super", Vertical::Super),
        ("middle", Vertical::Middle),
        ("text-top", Vertical::TextTop),
        ("text-bottom", Vertical::TextBottom),
        ("top", Vertical::Top),
        ("bottom", Vertical::Bottom),
        // Half an x-height above the baseline, near enough.
        ("-webkit-baseline-middle", Vertical::Middle),
    ]);
    keyword.or_else(|| given.length_or_percentage(true).map(Vertical::By))
}
