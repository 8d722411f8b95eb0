//! The text that widths are fitted on.

use rstest::rstest;
use tidy_lattice_core::stack::SampleKind;
use tidy_lattice_core::text::Source;
use tidy_lattice_project::ProjectError;
use tidy_lattice_project::sampling::{sampled, words_of};

fn source(text: &str) -> Source {
    Source {
        name: "notice.txt".to_owned(),
        text: text.to_owned(),
    }
}

const SHORT: &str = "The harbour wakes before the town does, and the first boat is out at five.";

#[test]
fn a_long_text_is_fitted_on_by_itself() {
    let text = source(&SHORT.repeat(30));
    let (sample, kind) = sampled(&[&text], None, "en").expect("a sample");
    let sources = vec!["notice.txt".to_owned()];
    assert_eq!(kind, SampleKind::OwnText { sources });
    assert!(kind.is_own());
    assert_eq!(kind.label(), "notice.txt");
    assert_eq!(sample.paragraphs().len(), 1);
}

#[rstest]
// In the language that it seems to be in, whatever the fallback is.
#[case(None, "sv", "en")]
// In the language that the role names.
#[case(Some("de"), "en", "de")]
fn a_short_text_is_joined_with_words_of_its_language(
    #[case] named: Option<&str>,
    #[case] fallback: &str,
    #[case] language: &str,
) {
    let text = source(SHORT);
    let (sample, kind) = sampled(&[&text], named, fallback).expect("a sample");
    let SampleKind::Joined {
        words,
        language: own,
        ..
    } = &kind
    else {
        panic!("{kind:?}");
    };
    assert_eq!((*words, own.as_str()), (15, language));
    assert!(!kind.is_own());
    assert!(kind.label().contains("15 words"), "{}", kind.label());
    let pieces: u64 = sample.pieces().map(|(_, count)| count).sum();
    assert!(pieces > 900, "{pieces}");
    // The own text comes first.
    assert_eq!(sample.paragraphs()[0].len(), 15);
}

#[test]
fn a_short_text_in_no_known_language_stays_by_itself() {
    let text = source("Zyxq vrmpf kjhgf wqrtz");
    let (_, kind) = sampled(&[&text], None, "en").expect("a sample");
    assert!(kind.is_own());
}

#[rstest]
#[case("")]
#[case(" \n\n ")]
fn without_text_words_are_drawn(#[case] text: &str) {
    let text = source(text);
    let (sample, kind) = sampled(&[&text], Some("uk"), "en").expect("a sample");
    let language = "uk".to_owned();
    assert_eq!(kind, SampleKind::Language { language });
    let pieces: u64 = sample.pieces().map(|(_, count)| count).sum();
    assert!(pieces >= 4000, "{pieces}");
    let (_, kind) = sampled(&[], None, "fi").expect("a sample");
    assert!(kind.label().ends_with("language fi"), "{}", kind.label());
}

#[test]
fn languages_without_a_list_are_named_with_those_that_have_one() {
    let error = sampled(&[], Some("tlh"), "en").expect_err("no Klingon");
    let ProjectError::Usage(text) = error else {
        panic!("{error}");
    };
    assert!(
        text.starts_with("--language tlh: words are counted of af, ar"),
        "{text}"
    );
    let error = words_of("tlh", "--text-language", 5).expect_err("nor here");
    assert!(
        error.to_string().starts_with("--text-language tlh"),
        "{error}"
    );
}
