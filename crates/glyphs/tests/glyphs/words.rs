//! Lists of words, and text drawn from them.

use std::collections::HashMap;

use rstest::rstest;
use tidy_lattice_glyphs::text::words::{WordCounts, guess, sample, tags};

#[test]
fn every_list_is_long_enough_and_counts_a_hundred_thousand_words() {
    assert!(tags().count() >= 60);
    for tag in tags() {
        let list = WordCounts::of(tag).expect("a list");
        assert_eq!(list.tag, tag);
        assert!(list.words.len() >= 600, "{tag}: {}", list.words.len());
        let total: u32 = list.words.iter().map(|(_, count)| count).sum();
        assert!((95_000..=105_000).contains(&total), "{tag}: {total}");
        let around: u32 = list.around.iter().map(|(_, _, count)| count).sum();
        assert!((90_000..=100_500).contains(&around), "{tag}: {around}");
        // Words are words: no blanks, no marks of sentences around them.
        for (word, _) in &list.words {
            assert!(
                !word.is_empty() && !word.contains(char::is_whitespace) && !word.ends_with(','),
                "{tag}: {word:?}"
            );
        }
    }
}

#[rstest]
#[case("pl-PL", Some("pl"))]
#[case("pt", Some("pt"))]
#[case("pt-BR", Some("pt-BR"))]
#[case("pt_br", Some("pt-BR"))]
#[case("pt-AO", Some("pt"))]
#[case("zh", Some("zh-Hans"))]
#[case("zh-CN", Some("zh-Hans"))]
#[case("zh-TW", Some("zh-Hant"))]
#[case("zh-Hant-HK", Some("zh-Hant"))]
#[case("sr", Some("sr"))]
#[case("sr-Latn-RS", Some("sr-Latn"))]
#[case("no", Some("nb"))]
#[case("iw_IL", Some("he"))]
#[case("tlh", None)]
#[case("", None)]
fn lists_are_found_by_tag(#[case] tag: &str, #[case] list: Option<&str>) {
    assert_eq!(WordCounts::of(tag).map(|list| list.tag), list);
}

#[rstest]
#[case("en")]
#[case("ru")]
#[case("hi")]
fn drawn_text_has_each_word_as_often_as_its_list(#[case] tag: &str) {
    let list = WordCounts::of(tag).expect("a list");
    let text = list.text(4000, 1);
    let mut drawn: HashMap<&str, u32> = HashMap::new();
    let mut total = 0;
    for token in text.split_whitespace() {
        // What stands around a word is no letter.
        let word = token.trim_matches(|c: char| !c.is_alphanumeric());
        *drawn.entry(word).or_default() += 1;
        total += 1;
    }
    assert_eq!(total, 4000);
    let whole: u32 = list.words.iter().map(|(_, count)| count).sum();
    for (word, count) in list.words.iter().take(8) {
        if !word.chars().all(char::is_alphanumeric) {
            continue;
        }
        let wanted = f64::from(*count) / f64::from(whole) * 4000.0;
        let own = f64::from(*drawn.get(word).unwrap_or(&0));
        assert!((own - wanted).abs() <= 2.0, "{word}: {own} and {wanted}");
    }
    for paragraph in text.split("\n\n") {
        let words = paragraph.split_whitespace().count();
        assert!(words <= 75, "{words}");
    }
    assert!(text.split("\n\n").count() > 50);
}

#[test]
fn drawn_text_is_the_same_each_time_and_another_by_another_seed() {
    let list = WordCounts::of("de").expect("a list");
    assert_eq!(list.text(500, 1), list.text(500, 1));
    assert_ne!(list.text(500, 1), list.text(500, 2));
    assert_eq!(list.text(0, 1), "");
    let drawn = sample("de-AT", 20).expect("a text");
    assert_eq!(drawn.text.split_whitespace().count(), 20);
    assert_eq!(drawn.name, "words of de");
}

#[test]
fn languages_without_spaces_have_none_between_words() {
    let text = WordCounts::of("ja").expect("a list").text(300, 1);
    let longest = text.split_whitespace().map(|run| run.chars().count()).max();
    assert!(longest > Some(40), "{longest:?}");
}

#[rstest]
#[case(
    "The harbour wakes before the town does, and the first boat is out at five.",
    "en"
)]
#[case(
    "Wenn Sie die Datei öffnen, werden die Änderungen nicht gespeichert.",
    "de"
)]
#[case(
    "Если вы хотите изменить это, нажмите на кнопку и выберите файл.",
    "ru"
)]
#[case(
    "Wybierz plik, który chcesz otworzyć, i kliknij przycisk, aby go dodać.",
    "pl"
)]
#[case("यदि आप इस फ़ाइल को खोलना चाहते हैं तो यहाँ क्लिक करें।", "hi")]
fn languages_are_guessed_by_their_words(#[case] text: &str, #[case] tag: &str) {
    assert_eq!(guess(text), Some(tag));
}

#[rstest]
#[case("")]
#[case("OK")]
#[case("Zyxq vrmpf kjhgf wqrtz plmnb")]
#[case("12 34 56 78 90")]
fn what_is_in_no_language_is_left_open(#[case] text: &str) {
    assert_eq!(guess(text), None);
}
