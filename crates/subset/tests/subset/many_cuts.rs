//! Fonts of all kinds cut in many ways: each comes out byte for byte as it did when somebody
//! last looked. `recorded.rs` shows a few of them table by table.

use std::fmt::Write as _;

use tidy_lattice_glyphs::font::{CharacterSet, FontFile, Limits};
use tidy_lattice_subset::proof::{neighbours, prove};
use tidy_lattice_subset::{AxisLimit, Cut, CutError, Features, Source, Want, encode};

use crate::axes::axes;

/// Fonts by what they are about.
const FONTS: [(&str, &[u8]); 47] = [
    ("mono", epaint_default_fonts::HACK_REGULAR),
    ("proportional", epaint_default_fonts::UBUNTU_LIGHT),
    ("emoji", epaint_default_fonts::NOTO_EMOJI_REGULAR),
    ("emoji icons", epaint_default_fonts::EMOJI_ICON),
    ("arabic", font_test_data::VAZIRMATN_VAR),
    ("serif", font_test_data::NOTO_SERIF_DISPLAY_TRIMMED),
    ("cff", font_test_data::NOTO_SANS_JP_CFF),
    ("cff2", font_test_data::CANTARELL_VF_TRIMMED),
    ("operators", font_test_data::CHARSTRING_PATH_OPS),
    ("matrix", font_test_data::MATERIAL_ICONS_SUBSET_MATRIX),
    ("icons", font_test_data::MATERIAL_ICONS_SUBSET),
    ("symbols", font_test_data::MATERIAL_SYMBOLS_SUBSET),
    ("vertical", font_test_data::MPLUS1CODE_VERTICAL_SUBSET),
    ("origins", font_test_data::VORG),
    ("layers", font_test_data::COLRV0V1),
    ("varying layers", font_test_data::COLRV0V1_VARIABLE),
    ("layers without clips", font_test_data::COLRV1_NO_CLIPLIST),
    ("gradient", font_test_data::COLR_GRADIENT_RECT),
    ("flags", font_test_data::NOTO_COLOR_EMOJI_FLAGS),
    ("bitmaps", font_test_data::CBDT),
    ("embedded bitmaps", font_test_data::EMBEDDED_BITMAPS),
    ("pictures", font_test_data::NOTO_HANDWRITING_SBIX),
    ("components", font_test_data::GLYF_COMPONENTS),
    (
        "metrics of a component",
        font_test_data::gvar::USE_MY_METRICS,
    ),
    ("simple", font_test_data::SIMPLE_GLYF),
    ("cubic", font_test_data::CUBIC_GLYF),
    ("off the curve", font_test_data::MOSTLY_OFF_CURVE),
    ("starting off the curve", font_test_data::STARTING_OFF_CURVE),
    ("interpolated", font_test_data::INTERPOLATE_THIS),
    ("negative advances", font_test_data::NEGATIVE_VAR_ADVANCES),
    (
        "short map",
        font_test_data::HVAR_WITH_TRUNCATED_ADVANCE_INDEX_MAP,
    ),
    ("control values", font_test_data::CVAR),
    ("hints", font_test_data::COUSINE_HINT_SUBSET),
    ("more hints", font_test_data::TINOS_SUBSET),
    ("few hints", font_test_data::TTHINT_SUBSET),
    ("hebrew", font_test_data::NOTOSERIFHEBREW_AUTOHINT_METRICS),
    ("chinese", font_test_data::NOTOSERIFTC_AUTOHINT_METRICS),
    ("shaping", font_test_data::NOTOSERIF_AUTOHINT_SHAPING),
    ("sequences", font_test_data::CMAP14_FONT1),
    ("many groups", font_test_data::CMAP12_FONT1),
    ("private", font_test_data::CMAP4_SYMBOL_PUA),
    ("trimmed map", font_test_data::CMAP6),
    ("simple closure", font_test_data::closure::SIMPLE),
    ("recursive closure", font_test_data::closure::RECURSIVE),
    ("contexts", font_test_data::closure::CONTEXTUAL),
    (
        "recursive contexts",
        font_test_data::closure::RECURSIVE_CONTEXTUAL,
    ),
    ("conditions", font_test_data::closure::VARIATIONS_CLOSURE),
];

/// The most bytes that are packed.
const MOST_PACKED: usize = 60_000;

/// Characters that are asked for, of all that a font has.
fn needs(all: &[u32]) -> Vec<Vec<u32>> {
    let every = |step: usize, first: usize| all.iter().copied().skip(first).step_by(step);
    let mut needs = vec![
        all.to_vec(),
        every(3, 1).collect(),
        every(7, 2).collect(),
        all[all.len() / 2..=all.len() / 2].to_vec(),
    ];
    needs.retain(|need: &Vec<u32>| !need.is_empty());
    needs
}

/// The limits that are tried: none, each axis in turn pinned off its default, and all of them
/// made shorter.
fn limits(sfnt: &[u8]) -> Vec<Vec<AxisLimit>> {
    let limit = |tag: &str, from: f32, to: f32| AxisLimit {
        tag: tag.as_bytes().try_into().unwrap(),
        from: f64::from(from),
        to: f64::from(to),
    };
    let axes = axes(sfnt);
    let mut limits = vec![Vec::new()];
    for (tag, [least, default, most]) in axes.iter().take(3) {
        let place = f32::midpoint(*default, *most);
        limits.push(vec![limit(tag, place, place)]);
        limits.push(vec![limit(tag, f32::midpoint(*least, *default), *default)]);
    }
    if !axes.is_empty() {
        let inner = axes.iter().map(|(tag, [least, default, most])| {
            limit(
                tag,
                f32::midpoint(*least, *default),
                f32::midpoint(*default, *most),
            )
        });
        limits.push(inner.collect());
    }
    limits
}

/// What comes out: the part, what is told of it, and what its proof counts.
fn told(file: &FontFile, limits: &[AxisLimit], want: &Want) -> String {
    let cut = || -> Result<Cut, CutError> {
        let mut source = Source::read(file, 0)?;
        source.limit(limits)?;
        source.cut(want)
    };
    let cut = match cut() {
        Ok(cut) => cut,
        Err(error) => return error.to_string(),
    };
    // To pack takes long.
    let packed = if cut.sfnt.len() < MOST_PACKED {
        encode::woff2(&cut.sfnt).map_or(0, |packed| crc32fast::hash(&packed))
    } else {
        0
    };
    let mut told = format!(
        "{} glyphs, {} bytes, {:08x}, {packed:08x}",
        cut.glyphs.len(),
        cut.sfnt.len(),
        crc32fast::hash(&cut.sfnt)
    );
    if limits.is_empty() {
        let texts = neighbours(cut.characters.iter().filter_map(char::from_u32).take(40));
        match prove(file, 0, &cut, &texts, &[*b"smcp"], &[]) {
            Ok(proof) => {
                let _ = write!(told, ", {} outlines, {} texts", proof.outlines, proof.texts);
            }
            Err(error) => {
                let _ = write!(told, ", {error}");
            }
        }
    }
    told
}

#[test]
fn parts_are_what_they_were() {
    let recorded = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/data/cuts.tsv");
    let before = std::fs::read_to_string(recorded).unwrap_or_default();
    let mut now = String::new();
    for (name, bytes) in FONTS {
        let file = FontFile::read_damaged(bytes.to_vec(), Limits::DEFAULT).unwrap();
        let characters = Source::read(&file, 0).map(|source| source.characters());
        let all: Vec<u32> = characters.map_or(Vec::new(), |all| all.iter().collect());
        if all.is_empty() {
            let _ = writeln!(now, "{name}\tnothing to cut");
            continue;
        }
        for (number, points) in needs(&all).iter().enumerate() {
            for (limited, limits) in limits(file.sfnt()).iter().enumerate() {
                let want = Want {
                    characters: CharacterSet::of(points.iter().copied()),
                    literal: number == 2,
                    features: match number {
                        1 => Features::All,
                        _ => Features::of_css([*b"smcp"]),
                    },
                    hints: number != 3,
                    family: (number == 2).then(|| "Tern".to_owned()),
                };
                let told = told(&file, limits, &want);
                let _ = writeln!(now, "{name} {number}.{limited}\t{told}");
            }
        }
    }
    if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
        std::fs::write(recorded, now).unwrap();
        return;
    }
    let changed: Vec<&str> = now
        .lines()
        .filter(|row| !before.lines().any(|old| old == *row))
        .collect();
    assert!(
        changed.is_empty() && before.lines().count() == now.lines().count(),
        "{} parts are others than before:\n{}\n\
         TIDY_LATTICE_WRITE=1 records them anew, where scripts/check-trimmed still passes",
        changed.len(),
        changed[..changed.len().min(12)].join("\n")
    );
}
