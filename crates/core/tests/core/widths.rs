//! `size-adjust` is fitted on shaped words.

use rstest::rstest;
use tidy_lattice_core::font::Face;
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::standin::{TextSample, WidthFit, WidthFitter};
use tidy_lattice_core::text::samples;

use crate::material::{demo, face, source};

fn sans() -> Face {
    demo("fonts/SkerrymarkSans-Regular.ttf")
}

fn fit(web: &Face, local: &Face, text: &str) -> WidthFit {
    let sample = TextSample::gather(&[source(text)]);
    WidthFitter::new(web, &sample).fit(local).expect("a fit")
}

#[test]
fn widths_are_shaped() {
    let face = sans();
    let mut shaper = Shaper::new(&face);
    let apart: f64 = ["A", "V", "A"]
        .iter()
        .map(|letter| shaper.width(letter))
        .sum();
    // Two pairs of -70 units in 1000.
    assert!((shaper.width("AVA") - (apart - 0.14)).abs() < 1e-9);
    let letters = shaper.width("f") + shaper.width("f") + shaper.width("i");
    assert!(shaper.width("ffi") < letters, "the ligature is narrower");
}

#[test]
fn a_font_fits_itself() {
    let same = fit(&sans(), &sans(), "The ferry office fills, AVATAR");
    assert_eq!(same.size_adjust, 100.0);
    assert_eq!((same.after.word_mean, same.after.text), (0.0, 0.0));
}

#[rstest]
#[case(epaint_default_fonts::UBUNTU_LIGHT)]
#[case(epaint_default_fonts::HACK_REGULAR)]
fn the_text_comes_out_as_wide_as_in_the_web_font(#[case] local: &[u8]) {
    let text = samples::of("en").expect("English").text;
    let (web, local) = (sans(), face(local));
    let fit = fit(&web, &local, &text);
    // The fit, measured again another way: the whole text in one line.
    let width = |face: &Face| {
        let line: Vec<&str> = text.split_whitespace().collect();
        Shaper::new(face).width(&format!(" {}", line.join(" ")))
    };
    let ratio = width(&web) / width(&local) * 100.0;
    assert!(
        (fit.size_adjust - ratio).abs() <= 0.005 + 1e-9,
        "{} {ratio}",
        fit.size_adjust
    );
    assert!(fit.after.text.abs() <= 0.01);
    assert!(fit.after.text.abs() <= fit.before.text.abs());
}

#[test]
fn the_users_own_text_decides() {
    let (web, local) = (sans(), demo("installed/QuaydeskUI-Regular.ttf"));
    let narrow = fit(&web, &local, "illicit lilt till illicit");
    let wide = fit(&web, &local, "mammoth womb gnome mammoth");
    assert!(
        (narrow.size_adjust - wide.size_adjust).abs() > 2.0,
        "{narrow:?} {wide:?}"
    );
}

#[test]
fn words_that_a_face_lacks_are_left_out() {
    let fit = fit(
        &sans(),
        &demo("installed/QuaydeskUI-Regular.ttf"),
        "port гавань port λιμάνι",
    );
    assert_eq!((fit.words, fit.words_left_out), (2, 0));
    let sample = TextSample::gather(&[source("гавань")]);
    assert_eq!(WidthFitter::new(&sans(), &sample).words_in_web_font(), 0);
}

#[test]
fn every_language_has_a_sample_of_its_own() {
    let scripts = [
        ("el", "Greek"),
        ("uk", "Cyrillic"),
        ("ar", "Arabic"),
        ("hi", "Devanagari"),
        ("vi", "Latin"),
    ];
    for tag in samples::tags() {
        let sample = TextSample::gather(&[samples::of(tag).expect("a sample")]);
        assert!(sample.total() >= 40, "{tag}: {} words", sample.total());
    }
    for (tag, script) in scripts {
        let need = tidy_lattice_core::need::Need::gather(&[samples::of(tag).expect("a sample")]);
        let of_script: u64 = need
            .clusters
            .iter()
            .filter(|cluster| cluster.group.label() == script)
            .map(|cluster| cluster.count)
            .sum();
        assert!(
            of_script * 10 > need.total * 9,
            "{tag} is written in {script}"
        );
    }
    assert_eq!(samples::of("pl-PL"), samples::of("PL"));
    assert_eq!(samples::of("tlh"), None);
}
