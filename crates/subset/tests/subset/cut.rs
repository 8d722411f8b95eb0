//! What stays, what goes, and that it looks the same.

use rstest::rstest;
use tidy_lattice_glyphs::font::{CharacterSet, FontFile};
use tidy_lattice_subset::{CutError, Features, Source, Want};

use crate::{cut, demo, face, opened, proven, text, want};

#[rstest]
#[case::latin(demo("SkerrymarkSans-Regular.ttf"))]
#[case::kerned(demo("SkerrymarkText-Regular.ttf"))]
#[case::joined(demo("TidefallArabic-Regular.ttf"))]
#[case::signs(demo("Lanternsign.ttf"))]
#[case::variable_arabic(opened(font_test_data::VAZIRMATN_VAR))]
#[case::variable_serif(opened(font_test_data::NOTO_SERIF_DISPLAY_TRIMMED))]
#[case::cff(opened(font_test_data::NOTO_SANS_JP_CFF))]
#[case::cff2(opened(font_test_data::CANTARELL_VF_TRIMMED))]
#[case::operators(opened(font_test_data::CHARSTRING_PATH_OPS))]
#[case::vertical(opened(font_test_data::MPLUS1CODE_VERTICAL_SUBSET))]
#[case::origins(opened(font_test_data::VORG))]
#[case::layers(opened(font_test_data::COLRV0V1))]
#[case::varying_layers(opened(font_test_data::COLRV0V1_VARIABLE))]
#[case::flags(opened(font_test_data::NOTO_COLOR_EMOJI_FLAGS))]
#[case::bitmaps(opened(font_test_data::CBDT))]
#[case::pictures(opened(font_test_data::NOTO_HANDWRITING_SBIX))]
#[case::composites(opened(font_test_data::GLYF_COMPONENTS))]
#[case::negative_advances(opened(font_test_data::NEGATIVE_VAR_ADVANCES))]
#[case::short_map(opened(font_test_data::HVAR_WITH_TRUNCATED_ADVANCE_INDEX_MAP))]
#[case::off_curve(opened(font_test_data::MOSTLY_OFF_CURVE))]
#[case::starting_off_curve(opened(font_test_data::STARTING_OFF_CURVE))]
#[case::mono(opened(epaint_default_fonts::HACK_REGULAR))]
#[case::proportional(opened(epaint_default_fonts::UBUNTU_LIGHT))]
#[case::emoji(opened(epaint_default_fonts::NOTO_EMOJI_REGULAR))]
fn every_need_looks_as_before(#[case] file: FontFile) {
    let all: Vec<u32> = Source::read(&file, 0)
        .unwrap()
        .characters()
        .iter()
        .collect();
    let needs = [
        all.clone(),
        all.iter().step_by(2).copied().collect(),
        all.iter().take(all.len().div_ceil(5)).copied().collect(),
        all[all.len() / 2..=all.len() / 2].to_vec(),
    ];
    for points in needs {
        for features in [Features::of_css([]), Features::All] {
            for hints in [true, false] {
                let want = Want {
                    characters: CharacterSet::of(points.iter().copied()),
                    literal: false,
                    features: features.clone(),
                    hints,
                    family: None,
                };
                let part = cut(&file, &want).unwrap();
                assert_eq!(part.characters.len(), points.len() as u64);
                let proof = proven(&file, &part, &[*b"smcp", *b"tnum"]).unwrap();
                assert!(proof.outlines >= part.glyphs.len() && proof.texts > 0);
            }
        }
    }
}

#[test]
fn one_letter_is_one_glyph_and_notdef() {
    let file = demo("SkerrymarkSans-Regular.ttf");
    let part = cut(&file, &want(text("k"))).unwrap();
    assert_eq!(part.glyphs.len(), 2);
    assert_eq!(part.glyphs[0], 0);
    assert!(part.sfnt.len() < 1600, "{}", part.sfnt.len());
    assert_eq!(face(&part).characters(), text("k"));
}

#[test]
fn a_face_that_has_nothing_of_it_is_told_and_none_is_made() {
    let file = demo("SkerrymarkSans-Regular.ttf");
    let error = cut(&file, &want(text("日本"))).unwrap_err();
    assert_eq!(error, CutError::NothingNeeded { wanted: 2 });
    assert!(error.to_string().contains("none of the 2 characters"));
}

#[test]
fn what_shapers_ask_for_besides_stays() {
    let file = demo("SkerrymarkText-Regular.ttf");
    // A letter with a combining mark is shown with the composed letter.
    let source = Source::read(&file, 0).unwrap();
    let has = |c: char| source.characters().contains(u32::from(c));
    assert!(has('é') && has('\u{301}'), "the test's font changed");
    let part = cut(&file, &want(text("e\u{301}"))).unwrap();
    assert!(face(&part).maps('é'));
    proven(&file, &part, &[]).unwrap();
    // Without marks nothing is added.
    let part = cut(&file, &want(text("ea"))).unwrap();
    assert!(!face(&part).maps('é'));
}

#[test]
fn variants_of_characters_stay_with_their_selectors_alone() {
    let file = demo("Lanternsign.ttf");
    let source = Source::read(&file, 0).unwrap();
    let all = source.cut(&want(source.characters())).unwrap();
    let few = source.cut(&want(text("⚓"))).unwrap();
    let size = |part: &tidy_lattice_subset::Cut| {
        part.tables.iter().find(|(tag, _)| tag == "cmap").unwrap().1
    };
    assert!(size(&few) < size(&all));
}

#[test]
fn names_that_licences_demand_stay_and_others_go() {
    let file = opened(epaint_default_fonts::HACK_REGULAR);
    let part = cut(&file, &want(text("abc"))).unwrap();
    let names = face(&part).names().clone();
    assert_eq!(names.family, "Hack");
    let before = Source::read(&file, 0).unwrap().tables();
    let size = |tables: &[(String, usize)]| tables.iter().find(|(tag, _)| tag == "name").unwrap().1;
    let licence = "MIT";
    let utf16: Vec<u8> = licence.encode_utf16().flat_map(u16::to_be_bytes).collect();
    let kept = part.sfnt.windows(utf16.len()).any(|window| window == utf16);
    assert!(kept, "the licence is gone");
    assert!(size(&part.tables) < size(&before));
}

#[test]
fn a_family_can_be_renamed() {
    let file = demo("SkerrymarkSans-Bold.ttf");
    let want = Want {
        family: Some("Ferry Line".to_owned()),
        ..want(text("abc"))
    };
    let part = cut(&file, &want).unwrap();
    let names = face(&part).names().clone();
    assert_eq!(names.family, "Ferry Line");
    assert_eq!(names.full.as_deref(), Some("Ferry Line Bold"));
    assert_eq!(names.postscript.as_deref(), Some("FerryLine-Bold"));
}

#[test]
fn hints_go_where_that_is_asked() {
    let file = opened(epaint_default_fonts::HACK_REGULAR);
    let kept = cut(&file, &want(text("abcdefgh"))).unwrap();
    let dropped = cut(
        &file,
        &Want {
            hints: false,
            ..want(text("abcdefgh"))
        },
    )
    .unwrap();
    let has = |part: &tidy_lattice_subset::Cut| part.tables.iter().any(|(tag, _)| tag == "fpgm");
    assert!(has(&kept) && !has(&dropped));
    assert!(dropped.sfnt.len() + 1000 < kept.sfnt.len());
    proven(&file, &dropped, &[]).unwrap();
}

#[test]
fn blocks_and_ends_of_os2_follow_the_characters() {
    let file = opened(epaint_default_fonts::HACK_REGULAR);
    let part = cut(&file, &want(text("bc"))).unwrap();
    let file = opened(&part.sfnt);
    let os2 = file.table(0, "OS/2").unwrap();
    let number = |at: usize| u16::from_be_bytes([os2[at], os2[at + 1]]);
    assert_eq!((number(64), number(66)), (0x62, 0x63));
    // Of the first word of ulUnicodeRange only Basic Latin is left.
    assert_eq!(u32::from_be_bytes(os2[42..46].try_into().unwrap()), 1);
}

#[test]
fn a_part_of_a_part_is_what_a_part_is() {
    let file = demo("SkerrymarkText-Regular.ttf");
    let once = cut(&file, &want(text("Harbour"))).unwrap();
    let wide = cut(&file, &want(text("Harbour Company, 12"))).unwrap();
    let twice = cut(&opened(&wide.sfnt), &want(text("Harbour"))).unwrap();
    assert_eq!(once.sfnt, twice.sfnt);
    // The same input gives the same bytes.
    assert_eq!(once.sfnt, cut(&file, &want(text("Harbour"))).unwrap().sfnt);
}

#[rstest]
#[case::composed(false)]
#[case::as_the_range_says(true)]
fn a_letter_that_its_mark_composes_is_left_to_the_file_that_names_it(#[case] literal: bool) {
    let file = demo("SkerrymarkText-Regular.ttf");
    let part = Want {
        literal,
        ..want(text("ae\u{301}"))
    };
    let part = cut(&file, &part).unwrap();
    let face = face(&part);
    assert!(face.maps('e') && face.maps('\u{301}'));
    assert_eq!(face.maps('é'), !literal);
    // The composed letter is another file's, so that nothing is compared with it.
    proven(&file, &part, &[]).unwrap();
}
