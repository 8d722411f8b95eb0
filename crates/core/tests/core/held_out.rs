//! Fits on drawn words, held against texts that they were not made on; even letters;
//! texts as pages set them.

use rstest::rstest;
use tidy_lattice_core::font::Face;
use tidy_lattice_core::shift::set_texts;
use tidy_lattice_core::standin::{
    Column, FitOptions, Fitting, SetSample, SetText, Slice, Slices, TextSample, WidthsOfStandIn,
    all_columns, largest_even_factor,
};
use tidy_lattice_core::text::{samples, words};

use crate::laid::laid;
use crate::material::{demo, face, source};

const WIDTHS: [f64; 5] = [200.0, 320.0, 440.0, 560.0, 680.0];

fn web() -> Face {
    demo("fonts/SkerrymarkSans-Regular.ttf")
}

fn local() -> Face {
    face(epaint_default_fonts::UBUNTU_LIGHT)
}

fn drawn(words: usize) -> TextSample {
    TextSample::gather(&[words::sample("en", words).expect("English")])
}

fn fit(sample: &TextSample, options: &FitOptions) -> WidthsOfStandIn {
    let (web, local) = (web(), local());
    let fitting = Fitting::new(&web, sample, &[16.0], &WIDTHS);
    fitting.fit(&local, options).expect("a fit")
}

fn on_drawn(slices: Slices, most_spread: Option<f64>) -> WidthsOfStandIn {
    let options = FitOptions {
        slices,
        most_spread,
        exact: false,
        ..FitOptions::default()
    };
    fit(&drawn(2000), &options)
}

/// Lines of another text that end elsewhere, in %.
fn broken_on_passage(slices: &[Slice]) -> f64 {
    let (web, local) = (web(), local());
    let passage = TextSample::gather(&[samples::of("en").expect("a passage")]);
    let widths: Vec<f64> = (0..60).map(|step| 200.0 + 10.0 * f64::from(step)).collect();
    let fitting = Fitting::new(&web, &passage, &[16.0], &widths);
    let breaks = fitting.judge(&local, slices).expect("both have it").breaks;
    let breaks = breaks.expect("running text");
    breaks.lines_broken as f64 / breaks.lines as f64 * 100.0
}

#[test]
fn slices_fitted_on_drawn_words_hold_on_another_text() {
    let one = on_drawn(Slices::Exactly(1), None);
    let auto = on_drawn(Slices::Auto, None);
    let own = [Slice {
        size_adjust: 100.0,
        range: None,
        share: 100.0,
    }];
    let [plain, one, auto] = [&own[..], &one.slices, &auto.slices].map(broken_on_passage);
    assert!(one < plain && auto < one * 0.9, "{plain} {one} {auto}");
}

#[test]
fn what_was_fitted_is_judged_alike_on_its_own_text() {
    let sample = drawn(600);
    let (web, local) = (web(), local());
    let fitting = Fitting::new(&web, &sample, &[16.0], &WIDTHS);
    for slices in [1, 4] {
        let options = FitOptions {
            slices: Slices::Exactly(slices),
            ..FitOptions::default()
        };
        let fit = fitting.fit(&local, &options).expect("a fit");
        let judged = fitting.judge(&local, &fit.slices).expect("both have it");
        assert_eq!((judged.breaks, judged.words), (fit.breaks_after, fit.words));
        assert_eq!(judged.deviation, fit.after);
    }
}

#[rstest]
#[case(1.0)]
#[case(2.0)]
#[case(3.0)]
#[case(4.0)]
#[case(5.0)]
fn letters_are_as_uneven_as_they_may_be_and_no_more(#[case] limit: f64) {
    for slices in [3, 6] {
        let fit = on_drawn(Slices::Exactly(slices), Some(limit));
        assert!(fit.spread <= limit, "{} of {limit}", fit.spread);
        // The limit is used, where letters gain by it.
        assert!(fit.spread > limit * 0.75, "{} of {limit}", fit.spread);
        assert!(fit.slices.len() > 1);
    }
}

#[test]
fn less_even_letters_bring_words_closer() {
    let off = |limit| on_drawn(Slices::Exactly(6), Some(limit)).after.word_mean;
    let offs = [0.5, 1.5, 3.0, 5.0].map(off);
    assert!(offs.is_sorted_by(|a, b| a > b), "{offs:?}");
}

#[test]
fn slices_by_themselves_keep_letters_even() {
    let auto = on_drawn(Slices::Auto, None);
    assert!(
        auto.slices.len() > 1 && auto.spread <= 4.0,
        "{}",
        auto.spread
    );
}

#[test]
fn blanks_may_have_any_size() {
    // Only letters are held to be even, so a limit of nothing leaves blanks to themselves.
    let fit = on_drawn(Slices::Exactly(6), Some(0.0));
    assert_eq!(fit.spread, 0.0);
    let of_blank = fit.slices.iter().find(|slice| {
        let range = slice.range.as_ref();
        range.is_some_and(|range| range.contains(u32::from(' ')))
    });
    if let Some(slice) = of_blank {
        let letters = slice.range.as_ref().expect("it has one");
        assert!(!letters.contains(u32::from('e')));
    }
    assert!(fit.slices.len() <= 2);
}

#[rstest]
// A line of 1.2 em is 19.2 px at 16 px; an em of 19.49 px is rounded to 19.
#[case(1.2, &[16.0], 19.49 / 16.0)]
// The smallest of several decides.
#[case(1.2, &[16.0, 10.0], 19.49 / 16.0)]
#[case(1.25, &[16.0, 10.0], 12.49 / 10.0)]
#[case(1.2, &[], f64::INFINITY)]
fn factors_leave_lines_as_high_as_they_are(
    #[case] line: f64,
    #[case] sizes: &[f32],
    #[case] most: f64,
) {
    let found = largest_even_factor(line, sizes);
    assert!(found == most || (found - most).abs() < 1e-9, "{found}");
}

fn set_text(text: &str, width: Option<f64>, lines: usize) -> SetText {
    SetText {
        text: text.to_owned(),
        families: Vec::new(),
        size: 20.0,
        weight: 400.0,
        sloped: false,
        letter_spacing: 0.0,
        line_height_specified: true,
        width,
        lines,
        in_first_window: true,
    }
}

#[test]
fn texts_of_pages_count_more_than_all_others() {
    let others = TextSample::gather(&[source("one two three\n\nfour five")]);
    let texts = [
        set_text("The tide turns", Some(90.0), 2),
        set_text("As wide as it is", None, 1),
    ];
    let texts: Vec<&SetText> = texts.iter().collect();
    let set = SetSample::new(&texts, &others, &[16.0], &[200.0, 300.0]);
    assert_eq!(set.sample.paragraphs().len(), 4);
    let (known, all): (Vec<Column>, Vec<Column>) = set
        .columns
        .iter()
        .copied()
        .partition(|column| column.lines.is_some());
    // A text whose column is as wide as itself breaks nowhere.
    assert_eq!((known.len(), all.len()), (1, 8));
    assert_eq!(
        (known[0].size, known[0].width, known[0].lines),
        (20.0, 90.0, Some(2))
    );
    let weight: u64 = all.iter().map(|column| column.weights.0).sum();
    assert!(known[0].weights.0 >= 4 * weight && known[0].weights.1 > known[0].weights.0);
    let alone = all_columns(&others, &[16.0], &[200.0, 300.0]);
    assert_eq!(alone.len(), 4);
}

#[test]
fn another_number_of_lines_counts_most_where_the_page_opens() {
    let seen = set_text("The tide turns", Some(90.0), 2);
    let below = SetText {
        in_first_window: false,
        ..seen.clone()
    };
    let weights = |text: &SetText| {
        let set = SetSample::new(&[text], &TextSample::default(), &[], &[]);
        set.columns[0].weights
    };
    let (seen, below) = (weights(&seen), weights(&below));
    assert!(seen.0 > below.0, "{seen:?} {below:?}");
    assert!(
        seen.1 * below.0 > below.1 * seen.0,
        "{seen:?} {below:?}: beside lines that end elsewhere"
    );
}

#[test]
fn a_column_that_is_laid_out_otherwise_is_left_out() {
    let web = web();
    let sample = TextSample::default();
    let layouts = |lines| {
        let text = set_text("The tide turns twice a day", Some(120.0), lines);
        let set = SetSample::new(&[&text], &sample, &[], &[]);
        let fitting = Fitting::in_columns(&web, &set.sample, &set.columns);
        let fit = fitting
            .fit(&local(), &FitOptions::default())
            .expect("a fit");
        fit.breaks_after.map_or(0, |breaks| breaks.layouts)
    };
    let found: Vec<usize> = (1..6).filter(|lines| layouts(*lines) == 1).collect();
    assert_eq!(found.len(), 1, "{found:?}");
}

#[test]
fn a_heading_that_was_known_keeps_its_lines() {
    let (web, local) = (web(), local());
    let text = "Harbour notices for the week of the spring tide";
    let plain = TextSample::gather(&[source(text)]);
    // Where the web font just fits in one line.
    let width = (200..900).map(f64::from).find(|width| {
        let columns = all_columns(&plain, &[20.0], &[*width]);
        let fitting = Fitting::in_columns(&web, &plain, &columns);
        let own = [Slice {
            size_adjust: 100.0,
            range: None,
            share: 100.0,
        }];
        let breaks = fitting.judge(&web, &own).expect("itself").breaks;
        breaks.is_some_and(|breaks| breaks.lines == 1)
    });
    let width = width.expect("a width");
    let heading = set_text(text, Some(width), 1);
    let set = SetSample::new(&[&heading], &drawn(600), &[16.0], &WIDTHS);
    let options = FitOptions {
        slices: Slices::Auto,
        ..FitOptions::default()
    };
    let fitting = Fitting::in_columns(&web, &set.sample, &set.columns);
    let fit = fitting.fit(&local, &options).expect("a fit");
    let columns = all_columns(&plain, &[20.0], &[width]);
    let alone = Fitting::in_columns(&web, &plain, &columns);
    let breaks = alone
        .judge(&local, &fit.slices)
        .expect("both")
        .breaks
        .expect("lines");
    assert_eq!(breaks.line_count_differs, 0);
}

#[test]
fn pages_tell_how_they_set_their_texts() {
    let (page, laid) = laid(
        "h2 { font-size: 30px; line-height: normal; letter-spacing: 1px } \
         .low { margin-top: 900px } span { display: inline-block }",
        "<h2>Notices</h2><p>The tide turns <b>twice</b> a day, and the harbour with it.</p>\
         <span>Shrunk</span><p class=low>Below</p>",
    );
    let texts = set_texts(&page.flow, &laid, 300.0);
    let told: Vec<_> = texts
        .iter()
        .map(|text| {
            (
                text.text.as_str(),
                text.size,
                text.width,
                text.line_height_specified,
                text.in_first_window,
            )
        })
        .collect();
    let find = |text: &str| *told.iter().find(|told| told.0 == text).expect("a text");
    assert_eq!(find("Notices"), ("Notices", 30.0, Some(400.0), false, true));
    let long = "The tide turns twice a day, and the harbour with it.";
    assert_eq!(find(long), (long, 20.0, Some(400.0), true, true));
    assert_eq!(find("Shrunk").2, None);
    assert!(!find("Below").4);
    let heading = texts
        .iter()
        .find(|text| text.text == "Notices")
        .expect("it");
    assert_eq!((heading.letter_spacing, heading.lines), (1.0, 1));
    assert_eq!(heading.families[0].as_str(), "F");
}
