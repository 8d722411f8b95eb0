//! Which characters a face has, by block, script, and variation sequence.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use icu_properties::CodePointMapData;
use icu_properties::props::GeneralCategory;
use serde::Serialize;
use unicode_blocks::find_unicode_block;

use tidy_lattice_glyphs::font::{CharacterSet, Face, Share, scripts_of};

/// The most variation sequences that are read; `cmap` format 14 has no end by
/// itself.
const MOST_VARIATIONS: usize = 1 << 17;

/// The characters of a face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Characters {
    /// How many characters are mapped to a glyph other than `.notdef`.
    pub count: u64,
    /// The characters, as `unicode-range` writes them.
    pub unicode_range: String,
    /// By script, most characters first.
    pub scripts: Vec<Share>,
    /// By Unicode block, in order of code points.
    pub blocks: Vec<Share>,
    /// Characters for private use: icons, logos, alternates.
    pub private_use: u64,
    /// Variation sequences by selector.
    pub variation_sequences: BTreeMap<String, u64>,
    /// Whether the face has a symbol map only: browsers show its glyphs for
    /// U+F020 to U+F0FF.
    pub symbol_map: bool,
}

/// What Unicode has assigned: letters, signs, controls, but no private use.
static ASSIGNED: LazyLock<CharacterSet> = LazyLock::new(|| {
    let categories = CodePointMapData::<GeneralCategory>::new();
    let runs = categories.iter_ranges().filter(|run| {
        ![
            GeneralCategory::Unassigned,
            GeneralCategory::Surrogate,
            GeneralCategory::PrivateUse,
        ]
        .contains(&run.value)
    });
    CharacterSet::of(runs.flat_map(|run| run.range))
});

impl Characters {
    pub(super) fn read(face: &Face) -> Option<Self> {
        let font = face.font()?;
        let characters = face.characters();
        let mut variation_sequences: BTreeMap<String, u64> = BTreeMap::new();
        for (_, selector, _) in font.charmap().unicode_variants().take(MOST_VARIATIONS) {
            *variation_sequences
                .entry(format!("U+{selector:04X}"))
                .or_default() += 1;
        }
        let private = [
            (0xe000, 0xf8ff),
            (0xf_0000, 0xf_fffd),
            (0x10_0000, 0x10_fffd),
        ];
        Some(Characters {
            count: characters.len(),
            unicode_range: characters.css(),
            scripts: scripts_of(&characters),
            blocks: blocks(&characters),
            private_use: private
                .iter()
                .map(|(from, to)| characters.count_in(*from, *to))
                .sum(),
            variation_sequences,
            symbol_map: font.charmap().unicode_is_symbol(),
        })
    }

    /// Scripts with letters of their own, without what all scripts share.
    pub fn writing_scripts(&self) -> impl Iterator<Item = &Share> {
        let shared = ["Common", "Inherited"];
        self.scripts
            .iter()
            .filter(move |share| !shared.contains(&share.name.as_str()))
    }
}

/// By block, in order of code points.
fn blocks(characters: &CharacterSet) -> Vec<Share> {
    let mut shares: Vec<Share> = Vec::new();
    for (start, end) in characters.ranges() {
        let mut point = *start;
        while point <= *end {
            let block = char::from_u32(point).and_then(find_unicode_block);
            let Some(block) = block else {
                point += 1;
                continue;
            };
            let last = block.end().min(*end);
            let covered = u64::from(last - point) + 1;
            match shares.last_mut().filter(|share| share.name == block.name()) {
                Some(share) => share.covered += covered,
                None => shares.push(Share {
                    name: block.name().to_owned(),
                    covered,
                    assigned: ASSIGNED.count_in(block.start(), block.end()),
                }),
            }
            point = last + 1;
        }
    }
    shares
}
