//! Widths of stand-ins: one factor, slices, lines that break alike.

use rstest::rstest;
use tidy_lattice_core::font::{CharacterSet, Face};
use tidy_lattice_core::layout::chromium;
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::standin::{
    FitOptions, Fitting, Minimise, Slices, TextSample, WidthsOfStandIn, set_paragraph,
};
use tidy_lattice_core::text::samples;

use crate::material::{demo, face, source};

const SIZES: [f32; 1] = [16.0];
const WIDTHS: [f64; 4] = [160.0, 240.0, 320.0, 480.0];

fn english() -> String {
    samples::of("en").expect("English").text
}

fn fit(web: &Face, local: &Face, text: &str, options: &FitOptions) -> WidthsOfStandIn {
    let sample = TextSample::gather(&[source(text)]);
    let fitting = Fitting::new(web, &sample, &SIZES, &WIDTHS);
    fitting.fit(local, options).expect("a fit")
}

fn exactly(slices: usize) -> FitOptions {
    FitOptions {
        slices: Slices::Exactly(slices),
        ..FitOptions::default()
    }
}

#[test]
fn a_text_is_cut_where_lines_may_end() {
    let sample = TextSample::gather(&[source("well-known ports\n\nof call")]);
    let pieces: Vec<(&str, bool)> = sample
        .pieces()
        .map(|(piece, _)| (piece.text.as_str(), piece.spaced))
        .collect();
    assert_eq!(
        pieces,
        [
            ("well-", false),
            ("known", true),
            ("ports", true),
            ("of", true),
            ("call", true)
        ]
    );
    assert_eq!(sample.paragraphs(), [vec![0, 1, 2], vec![3, 4]]);
    let known = sample.pieces().nth(1).expect("a piece").0;
    assert_eq!(known.in_context(), "-known ");
}

#[test]
fn more_slices_bring_words_closer() {
    let (web, local) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        face(epaint_default_fonts::HACK_REGULAR),
    );
    let text = english();
    let off: Vec<f64> = [1, 3, 6]
        .map(|slices| fit(&web, &local, &text, &exactly(slices)).after.word_mean)
        .to_vec();
    // Lines come first, and words may become a little worse for them.
    let close = off[0] * 0.6;
    assert!(off[1] < close && off[2] < close, "{off:?}");
}

#[test]
fn slices_are_disjoint_and_the_first_has_no_range() {
    let (web, local) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        face(epaint_default_fonts::UBUNTU_LIGHT),
    );
    let fit = fit(&web, &local, &english(), &exactly(5));
    assert!(fit.slices[0].range.is_none());
    let mut seen = std::collections::BTreeSet::new();
    for slice in &fit.slices[1..] {
        for point in slice.range.as_ref().expect("a range").iter() {
            assert!(seen.insert(point), "U+{point:04X} is in two slices");
        }
    }
    let shares: f64 = fit.slices.iter().map(|slice| slice.share).sum();
    assert!((shares - 100.0).abs() < 0.1, "{shares}");
}

fn slice_of(fit: &WidthsOfStandIn, letter: char) -> Option<usize> {
    let has = |range: &Option<CharacterSet>| {
        range
            .as_ref()
            .is_some_and(|range| range.contains(u32::from(letter)))
    };
    fit.slices.iter().position(|slice| has(&slice.range))
}

#[test]
fn accented_letters_go_with_their_base_and_digits_stay_together() {
    let (web, local) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        face(epaint_default_fonts::UBUNTU_LIGHT),
    );
    let text = format!("{} 0123456789 été août déjà", english());
    let fit = fit(&web, &local, &text, &exactly(6));
    for pair in ["eé", "uû", "aà"] {
        let slices: Vec<_> = pair.chars().map(|letter| slice_of(&fit, letter)).collect();
        assert_eq!(slices[0], slices[1], "{pair}");
    }
    let digits: Vec<_> = ('0'..='9').map(|digit| slice_of(&fit, digit)).collect();
    assert!(digits.iter().all(|slice| *slice == digits[0]), "{digits:?}");
}

#[test]
fn joining_scripts_are_never_sliced_apart() {
    let (web, local) = (
        demo("fonts/TidefallArabic-Regular.ttf"),
        demo("installed/Driftplain-Regular.ttf"),
    );
    let text = "مرحبا بكم في العبارة ferry to the pier at noon";
    let fit = fit(&web, &local, text, &exactly(4));
    for slice in fit.slices.iter().skip(1) {
        let range = slice.range.as_ref().expect("a range");
        assert_eq!(range.count_in(0x600, 0x6ff), 0, "{}", range.css());
    }
}

#[test]
fn the_spread_of_sizes_can_be_limited() {
    let (web, local) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        face(epaint_default_fonts::HACK_REGULAR),
    );
    let text = english();
    let free = fit(&web, &local, &text, &exactly(6));
    assert!(free.spread > 4.0, "{}", free.spread);
    let limited = fit(
        &web,
        &local,
        &text,
        &FitOptions {
            most_spread: Some(3.0),
            ..exactly(6)
        },
    );
    assert!(limited.spread <= 3.0, "{}", limited.spread);
    let even = fit(
        &web,
        &local,
        &text,
        &FitOptions {
            most_spread: Some(0.0),
            ..exactly(6)
        },
    );
    // Letters are all of one size; blanks, which nobody sees, may have another.
    assert_eq!(even.spread, 0.0);
    assert!(even.slices.len() <= 2, "{:?}", even.slices);
    let capped = fit(
        &web,
        &local,
        &text,
        &FitOptions {
            most_factor: Some(free.mean_size_adjust() / 100.0 + 0.02),
            ..exactly(6)
        },
    );
    let most = capped
        .slices
        .iter()
        .map(|slice| slice.size_adjust)
        .fold(0.0, f64::max);
    assert!(most <= free.mean_size_adjust() + 2.5, "{most}");
}

#[rstest]
#[case(Slices::Exactly(1))]
#[case(Slices::Auto)]
fn fewer_lines_break_elsewhere(#[case] slices: Slices) {
    let (web, local) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        demo("installed/Pebbleroom-Regular.ttf"),
    );
    let options = FitOptions {
        slices,
        ..FitOptions::default()
    };
    let fit = fit(&web, &local, &english(), &options);
    let (before, after) = (
        fit.breaks_before.expect("lines"),
        fit.breaks_after.expect("lines"),
    );
    assert_eq!(before.layouts, after.layouts);
    assert!(
        after.any_break_differs < before.any_break_differs,
        "{before:?} {after:?}"
    );
    assert!(after.lines_broken <= before.lines_broken);
    assert!(after.line_count_differs <= after.any_break_differs);
}

#[test]
fn a_font_fitted_to_itself_breaks_every_line_alike() {
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    for slices in [1, 3] {
        let fit = fit(
            &web,
            &web,
            &english(),
            &FitOptions {
                minimise: Minimise::Words,
                ..exactly(slices)
            },
        );
        let breaks = fit.breaks_after.expect("lines");
        if slices == 1 {
            assert_eq!(
                (breaks.any_break_differs, fit.slices[0].size_adjust),
                (0, 100.0)
            );
        }
        assert!(fit.after.word_mean < 1.0, "{fit:?}");
    }
}

#[test]
fn without_running_text_words_are_fitted() {
    let (web, local) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        demo("installed/Pebbleroom-Regular.ttf"),
    );
    let sample = TextSample::gather(&[source(&english())]);
    let fit = Fitting::new(&web, &sample, &[], &[])
        .fit(&local, &exactly(1))
        .expect("a fit");
    assert_eq!(fit.breaks_after, None);
    assert!(fit.after.word_mean < fit.before.word_mean);
}

#[test]
fn paragraphs_are_set_as_they_are_counted() {
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    let text = english();
    let sample = TextSample::gather(&[source(&text)]);
    let lines = set_paragraph(&sample, 0, &web, &[], 20.0);
    assert!(lines.len() > 3);
    let mut shaper = Shaper::new(&web);
    for line in &lines {
        assert!(shaper.width(&line.text) <= 20.01, "{line:?}");
    }
    let words: Vec<&str> = lines.iter().flat_map(|line| line.text.split(' ')).collect();
    let first = text.split("\n\n").next().expect("a paragraph");
    assert_eq!(words, first.split_whitespace().collect::<Vec<_>>());
}

/// Sizes are cut to hundredths, then to 64ths of a px.
#[rstest]
#[case(16.0, 92.99, 951.0)]
#[case(16.0, 87.69, 897.0)]
#[case(16.0, 80.9, 828.0)]
#[case(16.0, 100.0, 1024.0)]
#[case(17.6, 100.0, 1126.0)]
fn glyphs_are_set_at_sizes_that_are_cut(
    #[case] size: f32,
    #[case] adjust: f64,
    #[case] in_64ths: f64,
) {
    assert_eq!(chromium::glyph_size(size, adjust) * 64.0, in_64ths);
}
