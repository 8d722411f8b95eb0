//! The demo's files are what the maker draws, and hold what the scenario says.

use skrifa::font::Font;
use skrifa::raw::types::NameId;
use tidy_lattice_demo::{draw, file, files};

fn fonts() -> Vec<(String, &'static [u8])> {
    files()
        .into_iter()
        .filter(|(path, _)| path.ends_with(".ttf"))
        .collect()
}

fn open(bytes: &[u8]) -> Font {
    Font::new(bytes.to_vec(), 0).expect("a font")
}

#[test]
fn drawing_again_gives_the_committed_bytes() {
    let drawn = draw::draw_all();
    let committed: Vec<_> = fonts();
    assert_eq!(
        drawn.iter().map(|(path, _)| *path).collect::<Vec<_>>(),
        committed
            .iter()
            .map(|(path, _)| path.as_str())
            .collect::<Vec<_>>(),
    );
    for ((path, drawn), (_, committed)) in drawn.iter().zip(&committed) {
        assert!(
            drawn == committed,
            "{path} differs: run `cargo run -p tidy-lattice-demo --features draw`"
        );
    }
}

#[test]
fn every_font_has_its_letters_and_draws_them() {
    use skrifa::{DrawMemory, ScalerFont};
    struct Count(usize);
    impl skrifa::PathSink for Count {
        fn move_to(&mut self, _: f32, _: f32) {
            self.0 += 1;
        }
        fn line_to(&mut self, _: f32, _: f32) {}
        fn quad_to(&mut self, _: f32, _: f32, _: f32, _: f32) {}
        fn curve_to(&mut self, _: f32, _: f32, _: f32, _: f32, _: f32, _: f32) {}
        fn close(&mut self) {}
    }
    for (path, bytes) in fonts() {
        let font = open(bytes);
        let mut letters = 0;
        for (code, glyph) in font.charmap().unicodes() {
            // Its pictures are in a table of their own.
            let blank = matches!(code, 0x20 | 0xa0) || path.contains("Lampcolour");
            let scaler = ScalerFont::unhinted(font.clone(), None);
            let mut count = Count(0);
            let outline = scaler.outline(glyph).expect("an outline");
            outline
                .draw(DrawMemory::Scratch, &mut count)
                .expect("it draws");
            assert_eq!(count.0 == 0, blank, "{path} U+{code:04X}");
            letters += 1;
        }
        let least = if path.contains("Lampcolour") { 4 } else { 19 };
        assert!(letters >= least, "{path} has {letters} characters");
    }
}

#[test]
fn the_scenario_is_complete() {
    for language in ["ar", "el", "en", "hi", "ja", "pl", "uk", "vi"] {
        let text = file(&format!("texts/{language}.txt")).expect("the text");
        assert!(std::str::from_utf8(text).is_ok_and(|text| text.contains("Tern & Skerry Lines")));
    }
    let has = |path: &str, text: &str| {
        let font = open(file(path).expect("the font"));
        text.chars()
            .all(|c| font.charmap().map_unicode(c).is_some())
    };
    assert!(has("fonts/SkerrymarkSans-Regular.ttf", "Årø €½ “fi”"));
    assert!(
        !has("fonts/SkerrymarkSans-Regular.ttf", "ł"),
        "Western Latin only"
    );
    assert!(has(
        "fonts/SkerrymarkText-Regular.ttf",
        "Zażółć Ελλάδα Їжак đường ₴₫"
    ));
    assert!(has("fonts/Lanternsign.ttf", "→⚓⛴"));
    assert!(has("fonts/FerrygateMono-Regular.ttf", "0042→ł"));
}

#[test]
fn names_are_complete_and_unlike_each_other() {
    let mut seen = Vec::new();
    for (path, bytes) in fonts() {
        let font = open(bytes);
        for id in [
            NameId::FAMILY_NAME,
            NameId::FULL_NAME,
            NameId::POSTSCRIPT_NAME,
        ] {
            assert!(font.names().get(id).is_some(), "{path}");
        }
        let names = font.names();
        let full = names
            .get(NameId::FULL_NAME)
            .and_then(|name| name.english_or_first());
        let full: String = full.expect("a full name").name().chars().collect();
        // The slices of a package are one face.
        if !path.contains("mooringlight-") {
            assert!(!seen.contains(&full), "{path}");
        }
        seen.push(full);
    }
}

#[test]
fn the_shop_has_a_variable_font_and_conjuncts() {
    use skrifa::raw::TableProvider;
    use skrifa::{FontRef, MetadataProvider};
    let bytes = |path: &str| file(&format!("shop/public/assets/fonts/{path}")).expect("the font");
    let font = FontRef::new(bytes("HarbourlineVF.ttf")).expect("a font");
    let axis = font.axes().get(0).expect("an axis");
    let ends = (axis.min_value(), axis.default_value(), axis.max_value());
    assert_eq!(ends, (300.0, 400.0, 700.0));
    let glyph = font.charmap().map('n').expect("a glyph");
    let width = |weight: f32| {
        let location = font.axes().location([("wght", weight)]);
        let metrics = font.glyph_metrics(skrifa::instance::Size::unscaled(), &location);
        metrics.advance_width(glyph).expect("a width")
    };
    assert_eq!(width(700.0) - width(400.0), 52.0);
    assert_eq!(width(300.0) - width(400.0), -24.0);
    for (name, conjuncts) in [("NaavghatDevanagari", true), ("GhatplainDevanagari", false)] {
        let font = FontRef::new(bytes(&format!("{name}-Regular.ttf"))).expect("a font");
        assert!(font.charmap().map('क').is_some());
        assert_eq!(font.gsub().is_ok(), conjuncts, "{name}");
    }
}
