//! Cards of real fonts against the fonts themselves.

use std::collections::BTreeSet;
use std::fs;
use std::path::Path;

use rstest::rstest;
use tidy_lattice_browser_checks::fonts;
use tidy_lattice_core::font::{Card, CardSource, Face};
use tidy_lattice_core::lattice::{Fit, cover, fit};
use tidy_lattice_core::layout::Shaper;
use tidy_lattice_core::need::{Need, Source};
use tidy_lattice_core::record::{packed, record};

/// The texts of the demo, which cards were not fitted on.
fn texts() -> Vec<Source> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../demo/project/texts");
    let mut texts: Vec<Source> = fs::read_dir(folder)
        .expect("the demo's texts")
        .map(|entry| {
            let path = entry.expect("a text").path();
            Source {
                name: path.display().to_string(),
                text: fs::read_to_string(&path).expect("a text"),
            }
        })
        .collect();
    texts.sort_by(|a, b| a.name.cmp(&b.name));
    texts
}

fn through_json(face: &Face) -> (Face, Card) {
    let card = record(face, CardSource::default()).expect("a card");
    let read = Card::read(card.json().as_bytes()).expect("the same card");
    assert_eq!(read, card);
    (Face::from_card(read).expect("a face"), card)
}

#[rstest]
#[ignore = "needs Debian's fonts"]
fn cards_serve_and_measure_as_their_fonts() {
    let (mut faces, mut texts_measured, mut unknown, mut worst) = (0, 0, 0, 0.0f64);
    let mut failed = Vec::new();
    let needs: Vec<Need> = texts()
        .iter()
        .map(|text| Need::gather(std::slice::from_ref(text)))
        .collect();
    for path in fonts::installed() {
        let name = path
            .file_name()
            .expect("a name")
            .to_string_lossy()
            .into_owned();
        let font = fonts::face(&path);
        let (card, _) = through_json(&font);
        faces += 1;
        for (text, need) in texts().iter().zip(&needs) {
            let of = |face: &Face| cover(need, std::slice::from_ref(face));
            let (by_font, by_card) = (of(&font), of(&card));
            if by_font.gaps != by_card.gaps {
                failed.push(format!("{name}: other gaps in {}", text.name));
            }
            let (mut font_shaper, mut card_shaper) = (Shaper::new(&font), Shaper::new(&card));
            let words: BTreeSet<&str> = text.text.split_whitespace().collect();
            let (mut font_width, mut card_width, mut letters) = (0.0, 0.0, 0);
            for word in words {
                if fit(&font, &mut font_shaper, word) != Fit::Whole {
                    continue;
                }
                if !card_shaper.knows_width(word) {
                    unknown += 1;
                    continue;
                }
                letters += word.chars().count();
                font_width += font_shaper.width(word);
                card_width += card_shaper.width(word);
            }
            // A few figures are no text.
            if letters > 100 {
                let off: f64 = (card_width / font_width - 1.0) * 100.0;
                texts_measured += 1;
                worst = worst.max(off.abs());
                if off.abs() > 0.1 {
                    failed.push(format!("{name}: {} is {off:+.3} % off", text.name));
                }
            }
        }
    }
    println!(
        "{faces} faces, {texts_measured} texts, worst {worst:.4} % off; {unknown} words of scripts whose widths the cards do not know"
    );
    assert!(failed.is_empty(), "{}", failed.join("\n"));
}

#[rstest]
#[ignore = "needs Debian's fonts"]
fn cards_of_latin_faces_are_small() {
    for name in [
        "OpenSans-Regular.ttf",
        "LiberationSans-Regular.ttf",
        "NotoSans-Regular.ttf",
        "Lato-Regular.ttf",
        "Carlito-Regular.ttf",
        "Inter-Regular.otf",
        "NimbusSans-Regular.otf",
        "Roboto-Regular.ttf",
        "EBGaramond12-Regular.otf",
        "FiraCode-Regular.ttf",
    ] {
        let (_, card) = through_json(&fonts::face(&fonts::named(name)));
        let json = card.json();
        println!(
            "{name}: {} bytes, {} packed",
            json.len(),
            packed(json.as_bytes())
        );
        assert!(json.len() < 40 * 1024, "{name}");
        assert!(packed(json.as_bytes()) < 8 * 1024, "{name}");
    }
}
