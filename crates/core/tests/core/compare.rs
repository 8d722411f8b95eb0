//! Faces side by side.

use tidy_lattice_core::compare::{Candidate, Comparison, compare};
use tidy_lattice_core::describe::Verdict;
use tidy_lattice_core::font::{CardSource, Face};
use tidy_lattice_core::record::record;
use tidy_lattice_core::standin::TextSample;
use tidy_lattice_core::text::{exemplars, samples};

use crate::material::demo;

fn compared(faces: &[&Face], tags: &[&str]) -> Comparison {
    let candidates = faces.iter().map(|face| Candidate { face, bytes: None });
    let sample = TextSample::gather(&[samples::of("en").expect("a sample")]);
    let languages: Vec<_> = tags
        .iter()
        .map(|tag| exemplars::find(tag).expect("a language"))
        .collect();
    compare(candidates.collect(), &sample, Some(&languages))
}

#[test]
fn widths_and_heights_are_told_against_the_first() {
    let (sans, quaydesk) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        demo("installed/QuaydeskUI-Regular.ttf"),
    );
    let comparison = compared(&[&sans, &quaydesk], &["en"]);
    let [first, second] = comparison.faces.as_slice() else {
        panic!("two faces");
    };
    assert_eq!((first.x_height, second.x_height), (Some(0.5), Some(0.544)));
    assert_eq!(second.size_for_x_height, Some(91.91));
    let fit = second.fit.clone().expect("a fit");
    assert!((second.text_width / first.text_width - 1.0) * 100.0 - fit.before.text < 0.2);
    assert_eq!(fit.after.text.abs(), 0.0);
    assert_eq!(first.fit.clone().expect("a fit").size_adjust, 100.0);
    let words = &comparison.words;
    assert!(words.iter().all(|word| word.wider[0] == Some(0.0)));
    assert!(words[0].wider[1].expect("a width").abs() > 5.0);
}

#[test]
fn only_what_differs_is_listed() {
    let (sans, text) = (
        demo("fonts/SkerrymarkSans-Regular.ttf"),
        demo("fonts/SkerrymarkText-Regular.ttf"),
    );
    let comparison = compared(&[&sans, &text], &["en", "el", "hi"]);
    let tags: Vec<&str> = comparison
        .languages
        .iter()
        .map(|l| l.tag.as_str())
        .collect();
    assert_eq!(tags, ["el"], "both write English, neither Hindi");
    assert_eq!(
        comparison.languages[0].verdicts,
        [Verdict::No, Verdict::Complete]
    );
    let tags: Vec<&str> = comparison.features.iter().map(|f| f.tag.as_str()).collect();
    assert_eq!(tags, ["liga", "smcp", "tnum"]);
    assert_eq!(comparison.features[0].has, [Some(true), Some(false)]);
}

#[test]
fn a_card_compares_like_its_face() {
    let sans = demo("fonts/SkerrymarkSans-Regular.ttf");
    let quaydesk = demo("installed/QuaydeskUI-Regular.ttf");
    let card = record(&quaydesk, CardSource::default()).expect("a card");
    let card = Face::from_card(card).expect("a face");
    let by_font = compared(&[&sans, &quaydesk], &["en", "uk", "vi"]);
    let by_card = compared(&[&sans, &card], &["en", "uk", "vi"]);
    assert!(by_card.faces[1].card);
    assert_eq!(by_card.languages, by_font.languages);
    assert_eq!(by_card.features, by_font.features);
    let (font, card) = (&by_font.faces[1], &by_card.faces[1]);
    assert_eq!(
        (card.class, card.x_height, card.line),
        (font.class, font.x_height, font.line)
    );
    assert!((card.text_width / font.text_width - 1.0).abs() < 0.001);
}

#[test]
fn nothing_to_compare_is_no_panic() {
    assert!(compared(&[], &["en"]).faces.is_empty());
}
