//! Which characters a face has, by block, script, and variation sequence.

use std::collections::{BTreeMap, HashMap};
use std::sync::LazyLock;

use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, Script};
use serde::Serialize;
use unicode_blocks::find_unicode_block;

use crate::font::{CharacterSet, Face};
use crate::need::script_name;

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

/// What a face has of a script or block.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Share {
    /// The Unicode name.
    pub name: String,
    /// Characters of it that the face has.
    pub covered: u64,
    /// Characters of it that Unicode has assigned.
    pub assigned: u64,
}

/// Runs of code points by script.
struct Scripts {
    /// First and last code point, and the script's place in `all`.
    runs: Vec<(u32, u32, usize)>,
    /// The Unicode name of each script, and how many characters it has.
    all: Vec<(String, u64)>,
}

static SCRIPTS: LazyLock<Scripts> = LazyLock::new(|| {
    let mut known: HashMap<Script, usize> = HashMap::new();
    let (mut runs, mut all) = (Vec::new(), Vec::new());
    for run in CodePointMapData::<Script>::new().iter_ranges() {
        if run.value == Script::Unknown {
            continue;
        }
        let (start, end) = (*run.range.start(), *run.range.end());
        let place = *known.entry(run.value).or_insert_with(|| {
            all.push((script_name(run.value), 0));
            all.len() - 1
        });
        all[place].1 += u64::from(end - start) + 1;
        runs.push((start, end, place));
    }
    Scripts { runs, all }
});

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
            scripts: scripts(&characters),
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

/// Scripts that `face` has letters of, without what all scripts share; most
/// characters first.
pub fn writing_scripts(face: &Face) -> Vec<String> {
    let shares = scripts(&face.characters()).into_iter();
    let own = shares.filter(|share| share.name != "Common" && share.name != "Inherited");
    own.map(|share| share.name).collect()
}

/// By script, most characters first. Both sides are sorted, so one pass does.
fn scripts(characters: &CharacterSet) -> Vec<Share> {
    let mut covered = vec![0; SCRIPTS.all.len()];
    let mut run = 0;
    for (start, end) in characters.ranges() {
        run += SCRIPTS.runs[run..].partition_point(|(_, last, _)| last < start);
        for (from, to, script) in &SCRIPTS.runs[run..] {
            if from > end {
                break;
            }
            covered[*script] += u64::from((*to).min(*end) - (*from).max(*start)) + 1;
        }
    }
    let mut shares: Vec<Share> = covered
        .into_iter()
        .zip(&SCRIPTS.all)
        .filter(|(covered, _)| *covered > 0)
        .map(|(covered, (name, assigned))| Share {
            name: name.clone(),
            covered,
            assigned: *assigned,
        })
        .collect();
    shares.sort_by(|a, b| b.covered.cmp(&a.covered).then_with(|| a.name.cmp(&b.name)));
    shares
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
