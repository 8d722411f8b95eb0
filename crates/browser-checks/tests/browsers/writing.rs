//! Which languages real fonts can write, whole and cut to bare characters.

use rstest::rstest;
use tidy_lattice_browser_checks::fonts;
use tidy_lattice_core::describe::{Depth, Question, Verdict, describe};
use tidy_lattice_core::font::{FacePick, FontFile, Limits};
use tidy_lattice_core::text::exemplars;

/// The font with its layout tables under tags that nobody asks for.
fn cut_to_characters(font: &[u8]) -> Vec<u8> {
    let mut cut = font.to_vec();
    let tables = usize::from(u16::from_be_bytes([cut[4], cut[5]]));
    for record in (0..tables).map(|table| 12 + table * 16) {
        if [&b"GSUB"[..], b"GPOS", b"GDEF", b"morx", b"kerx"].contains(&&cut[record..record + 4]) {
            cut[record..record + 4].copy_from_slice(b"gone");
        }
    }
    cut
}

fn verdict(font: Vec<u8>, tag: &str) -> (Verdict, bool) {
    let file = FontFile::read(font, Limits::DEFAULT).expect("a font");
    let language = exemplars::find(tag).expect("a language");
    let question = Question {
        depth: Depth::Full,
        languages: Some(vec![language]),
        text_language: "en".to_owned(),
    };
    let description = describe(&file, &FacePick::default(), &question).expect("a description");
    let languages = description.languages.expect("verdicts");
    (languages[0].verdict, languages[0].writes)
}

#[rstest]
#[case("NotoNaskhArabic-Regular.ttf", "ar")]
#[case("NotoNaskhArabic-Regular.ttf", "fa")]
#[case("NotoSansArabic-Regular.ttf", "ar")]
#[case("NotoNastaliqUrdu-Regular.ttf", "ur")]
#[case("NotoSansHebrew-Regular.ttf", "he")]
#[case("NotoSansDevanagari-Regular.ttf", "hi")]
#[case("NotoSansDevanagari-Regular.ttf", "mr")]
#[case("NotoSerifDevanagari-Regular.ttf", "ne")]
#[case("NotoSansBengali-Regular.ttf", "bn")]
#[case("NotoSansGujarati-Regular.ttf", "gu")]
#[case("NotoSansGurmukhi-Regular.ttf", "pa")]
#[case("NotoSansTamil-Regular.ttf", "ta")]
#[case("NotoSansTelugu-Regular.ttf", "te")]
#[case("NotoSansKannada-Regular.ttf", "kn")]
#[case("NotoSansMalayalam-Regular.ttf", "ml")]
#[case("NotoSansSinhala-Regular.ttf", "si")]
#[case("NotoSansThai-Regular.ttf", "th")]
#[case("NotoSansLao-Regular.ttf", "lo")]
#[case("NotoSansKhmer-Regular.ttf", "km")]
#[case("NotoSansMyanmar-Regular.ttf", "my")]
#[case("NotoSansOriya-Regular.ttf", "or")]
#[case("NotoSansAdlam-Regular.ttf", "ff-Adlm")]
#[case("NotoSansNKo-Regular.ttf", "nqo")]
#[case("NotoSansSyriac-Regular.ttf", "syr")]
#[ignore = "needs Debian's fonts"]
fn a_font_writes_a_language_with_its_layout_tables_only(#[case] font: &str, #[case] tag: &str) {
    let whole = std::fs::read(fonts::named(font)).expect("the font");
    let cut = verdict(cut_to_characters(&whole), tag);
    let whole = verdict(whole, tag);
    println!("{font} {tag}: {whole:?}, cut {cut:?}");
    assert_eq!(whole, (Verdict::Complete, true), "{font} {tag}");
    assert_eq!(cut, (Verdict::LettersOnly, false), "{font} {tag} cut");
}

#[rstest]
#[case("DejaVuSans.ttf", Verdict::Complete)]
// It lacks many letters and does not place the marks that could make them up.
#[case("DejaVuSansMono-BoldOblique.ttf", Verdict::No)]
#[ignore = "needs Debian's fonts"]
fn letters_put_together_need_their_marks_in_place(#[case] font: &str, #[case] expected: Verdict) {
    let font = std::fs::read(fonts::named(font)).expect("the font");
    assert_eq!(verdict(font, "vi").0, expected);
}
