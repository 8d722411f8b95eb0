//! Features, ligatures, kerning, and what they lead to.

use tidy_lattice_glyphs::shaping::{ShapeSettings, Shaper};
use tidy_lattice_subset::{Cut, Features, Source, Want};

use crate::{cut, demo, face, opened, proven, text, want};

fn tags(part: &Cut) -> Vec<String> {
    let names = part
        .features
        .iter()
        .map(|tag| String::from_utf8_lossy(tag).into_owned());
    names.collect()
}

fn table(part: &Cut, wanted: &str) -> usize {
    let found = part.tables.iter().find(|(tag, _)| tag == wanted);
    found.map_or(0, |(_, size)| *size)
}

#[test]
fn features_that_nobody_asks_for_go_with_their_glyphs() {
    let file = demo("SkerrymarkSans-Regular.ttf");
    let plain = cut(&file, &want(text("abc012fi"))).unwrap();
    assert_eq!(tags(&plain), ["kern", "liga"]);
    let asked = Want {
        features: Features::of_css([*b"smcp", *b"tnum"]),
        ..want(text("abc012fi"))
    };
    let more = cut(&file, &asked).unwrap();
    assert_eq!(tags(&more), ["kern", "liga", "smcp", "tnum"]);
    assert!(more.glyphs.len() > plain.glyphs.len());
    proven(&file, &more, &[*b"smcp", *b"tnum"]).unwrap();
}

#[test]
fn a_ligature_needs_all_its_parts() {
    let file = demo("SkerrymarkSans-Regular.ttf");
    let whole = tidy_lattice_glyphs::font::Face::open(&file, &Default::default()).unwrap();
    let mut shaper = Shaper::new(&whole);
    let mut one = |text: &str| shaper.glyphs(text, ShapeSettings::default()).len() == 1;
    let pair = ["fi", "fl", "ff", "ft", "tt"]
        .into_iter()
        .find(|pair| one(pair))
        .unwrap();
    let with = cut(&file, &want(text(pair))).unwrap();
    let without = cut(&file, &want(text("xa"))).unwrap();
    assert!(tags(&with).contains(&"liga".to_owned()));
    assert!(!tags(&without).contains(&"liga".to_owned()));
    let face = face(&with);
    let glyphs = Shaper::new(&face).glyphs(pair, ShapeSettings::default());
    assert_eq!(glyphs.len(), 1);
}

#[test]
fn kerning_of_what_is_gone_is_gone() {
    let file = demo("SkerrymarkText-Regular.ttf");
    let source = Source::read(&file, 0).unwrap();
    let whole = source.cut(&want(source.characters())).unwrap();
    let pair = source.cut(&want(text("AV"))).unwrap();
    assert!(table(&pair, "GPOS") > 0);
    assert!(table(&pair, "GPOS") * 3 < table(&whole, "GPOS"));
    let face = face(&pair);
    let mut shaper = Shaper::new(&face);
    let alone = shaper.units("A") + shaper.units("V");
    assert!(
        shaper.units("AV") < alone,
        "the pair is not kerned any more"
    );
}

#[test]
fn what_is_only_drawn_is_neither_kerned_nor_marked() {
    // À is drawn with A, which no text of these letters has.
    let file = demo("SkerrymarkText-Regular.ttf");
    let drawn = cut(&file, &want(text("ÀV"))).unwrap();
    let set = cut(&file, &want(text("AÀV"))).unwrap();
    assert_eq!(drawn.glyphs, set.glyphs);
    assert!(table(&drawn, "GPOS") < table(&set, "GPOS"));
    proven(&file, &drawn, &[]).unwrap();
}

#[test]
fn joined_letters_keep_their_forms_and_marks() {
    let file = demo("TidefallArabic-Regular.ttf");
    let part = cut(&file, &want(text("مرحبا بِكم"))).unwrap();
    for tag in ["init", "medi", "fina"] {
        assert!(tags(&part).contains(&tag.to_owned()), "{tag}");
    }
    let all = Source::read(&file, 0).unwrap().glyph_count();
    assert!(part.glyphs.len() * 2 < usize::from(all));
    proven(&file, &part, &[]).unwrap();
}

#[test]
fn variable_kerning_and_advances_move_as_before() {
    // Delta sets are renumbered, unused ones go.
    let file = opened(font_test_data::VAZIRMATN_VAR);
    let source = Source::read(&file, 0).unwrap();
    let points: Vec<u32> = source.characters().iter().collect();
    let part = source
        .cut(&want(tidy_lattice_glyphs::font::CharacterSet::of(
            points[..points.len() / 2].iter().copied(),
        )))
        .unwrap();
    let before = source.tables();
    let size = |tag: &str| before.iter().find(|(known, _)| known == tag).unwrap().1;
    assert!(table(&part, "HVAR") <= size("HVAR"));
    assert!(table(&part, "gvar") < size("gvar"));
    proven(&file, &part, &[]).unwrap();
}

#[test]
fn of_features_that_the_axes_choose_both_forms_stay() {
    let file = opened(font_test_data::MATERIAL_SYMBOLS_SUBSET);
    let source = Source::read(&file, 0).unwrap();
    let part = source.cut(&want(source.characters())).unwrap();
    proven(&file, &part, &[]).unwrap();
}

#[test]
fn without_features_gpos_stays_empty_for_the_sake_of_marks() {
    // A shaper that finds no GPOS at all places marks by itself.
    let file = demo("SkerrymarkText-Regular.ttf");
    let part = cut(&file, &want(text("o"))).unwrap();
    assert!((16..64).contains(&table(&part, "GPOS")));
    assert!(part.features.is_empty());
}
