//! Cards of real fonts against the fonts themselves.

use std::collections::BTreeSet;
use std::fs;
use std::path::Path;

use rstest::rstest;
use tidy_lattice_browser_checks::{every, fonts};
use tidy_lattice_core::font::{Card, CardSource, Face};
use tidy_lattice_core::lattice::{Fit, GapCause, cover, fit};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::record::{packed, record};
use tidy_lattice_core::shaping::Shaper;
use tidy_lattice_core::text::Source;

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

/// What came of holding cards against their fonts.
#[derive(Default)]
struct Tally {
    faces: usize,
    texts: usize,
    worst: f64,
    unknown_words: usize,
    failed: Vec<String>,
}

impl Tally {
    fn add(&mut self, other: Tally) {
        self.faces += other.faces;
        self.texts += other.texts;
        self.worst = self.worst.max(other.worst);
        self.unknown_words += other.unknown_words;
        self.failed.extend(other.failed);
    }

    /// Holds the card of the font at `path` against it, on `texts`.
    fn check(&mut self, path: &Path, texts: &[(Source, Need)]) {
        let name = path.file_name().expect("a name").to_string_lossy();
        let font = fonts::face(path);
        let (card, _) = through_json(&font);
        self.faces += 1;
        for (text, need) in texts {
            // How a script shapes a card knows as a whole only.
            let lacking = |face: &Face| {
                let mut gaps = cover(need, std::slice::from_ref(face)).gaps;
                gaps.retain(|gap| !matches!(gap.cause, GapCause::Flawed { .. }));
                gaps
            };
            if lacking(&font) != lacking(&card) {
                self.failed
                    .push(format!("{name}: other gaps in {}", text.name));
            }
            let (mut font_shaper, mut card_shaper) = (Shaper::new(&font), Shaper::new(&card));
            let words: BTreeSet<&str> = text.text.split_whitespace().collect();
            let (mut by_font, mut by_card, mut letters) = (0.0, 0.0, 0);
            for word in words {
                if fit(&font, &mut font_shaper, word) != Fit::Whole {
                    continue;
                }
                if !card_shaper.knows_width(word) {
                    self.unknown_words += 1;
                    continue;
                }
                letters += word.chars().count();
                by_font += font_shaper.width(word);
                by_card += card_shaper.width(word);
            }
            // A few figures are no text.
            if letters > 100 {
                let off: f64 = (by_card / by_font - 1.0) * 100.0;
                self.texts += 1;
                self.worst = self.worst.max(off.abs());
                if off.abs() > 0.1 {
                    self.failed
                        .push(format!("{name}: {} is {off:+.3} % off", text.name));
                }
            }
        }
    }
}

#[rstest]
#[ignore = "needs Debian's fonts"]
fn cards_serve_and_measure_as_their_fonts() {
    let texts: Vec<(Source, Need)> = texts()
        .into_iter()
        .map(|text| (text.clone(), Need::gather(std::slice::from_ref(&text))))
        .collect();
    let fonts: Vec<_> = fonts::installed().into_iter().step_by(every(4)).collect();
    let threads = std::thread::available_parallelism().map_or(1, usize::from);
    let mut tally = Tally::default();
    std::thread::scope(|scope| {
        let workers: Vec<_> = (0..threads)
            .map(|worker| {
                let (fonts, texts) = (&fonts, &texts);
                scope.spawn(move || {
                    let mut tally = Tally::default();
                    for path in fonts.iter().skip(worker).step_by(threads) {
                        tally.check(path, texts);
                    }
                    tally
                })
            })
            .collect();
        for worker in workers {
            tally.add(worker.join().expect("a tally"));
        }
    });
    println!(
        "{} faces, {} texts, worst {:.4} % off; {} words of scripts whose widths the cards do not \
         know",
        tally.faces, tally.texts, tally.worst, tally.unknown_words
    );
    assert!(tally.failed.is_empty(), "{}", tally.failed.join("\n"));
    assert!(tally.texts > 1000 / every(4), "too few texts were measured");
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
