//! Emoji (UTS #51): which a face has, by version, and which sequences it really
//! draws as one picture.

use std::collections::BTreeMap;

use serde::Serialize;

use tidy_lattice_coverage::lattice::{Fit, fit};
use tidy_lattice_glyphs::font::Face;
use tidy_lattice_glyphs::shaping::Shaper;

/// Below this many emoji a face is no emoji font: text fonts have ©, ™, digits.
const FEWEST: usize = 48;

/// The emoji of a face.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct EmojiSupport {
    /// Whether they are drawn in colour; else as text.
    pub colour: bool,
    /// By version of UTS #51, oldest first.
    pub versions: Vec<EmojiVersion>,
}

/// What a face has of the emoji that came with one version.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct EmojiVersion {
    /// The version, such as `15.1`.
    pub version: String,
    /// Single characters that the face has.
    pub singles: u64,
    /// Single characters of the version.
    pub singles_in_all: u64,
    /// Sequences (flags, keycaps, skin tones, families) that the face draws as
    /// one picture.
    pub sequences: u64,
    /// Sequences of the version.
    pub sequences_in_all: u64,
}

impl EmojiSupport {
    /// The emoji of `face`; `None` for a face that has hardly any.
    pub(super) fn read(face: &Face) -> Option<Self> {
        let singles = emojis::iter().filter(|emoji| !is_sequence(emoji.as_str()));
        let has = |emoji: &&emojis::Emoji| {
            let first = emoji.as_str().chars().next();
            first.is_some_and(|c| face.maps(c))
        };
        if singles.filter(has).take(FEWEST).count() < FEWEST {
            return None;
        }
        let mut shaper = Shaper::new(face);
        let mut versions: BTreeMap<(u32, u32), EmojiVersion> = BTreeMap::new();
        for emoji in all() {
            let version = emoji.emoji_version();
            let key = (version.major(), version.minor());
            let entry = versions.entry(key).or_insert_with(|| EmojiVersion {
                version: format!("{}.{}", key.0, key.1),
                singles: 0,
                singles_in_all: 0,
                sequences: 0,
                sequences_in_all: 0,
            });
            let shown = u64::from(shows(face, &mut shaper, emoji.as_str()));
            if is_sequence(emoji.as_str()) {
                entry.sequences += shown;
                entry.sequences_in_all += 1;
            } else {
                entry.singles += shown;
                entry.singles_in_all += 1;
            }
        }
        Some(EmojiSupport {
            colour: face.has_colour(),
            versions: versions.into_values().collect(),
        })
    }

    /// Emoji that the face shows, and how many there are.
    pub fn total(&self) -> (u64, u64) {
        self.versions.iter().fold((0, 0), |(shown, all), version| {
            (
                shown + version.singles + version.sequences,
                all + version.singles_in_all + version.sequences_in_all,
            )
        })
    }
}

/// Every emoji with its skin tones.
fn all() -> impl Iterator<Item = &'static emojis::Emoji> {
    emojis::iter().flat_map(|emoji| {
        let toned = emoji.skin_tones().into_iter().flatten();
        let toned = toned.filter(move |other| other.as_str() != emoji.as_str());
        std::iter::once(emoji).chain(toned)
    })
}

/// The emoji sequences that `face` draws as one picture, sorted.
pub fn joined_sequences(face: &Face) -> Vec<String> {
    let mut shaper = Shaper::new(face);
    let mut sequences: Vec<String> = all()
        .map(emojis::Emoji::as_str)
        .filter(|emoji| is_sequence(emoji) && shows(face, &mut shaper, emoji))
        .map(str::to_owned)
        .collect();
    sequences.sort_unstable();
    sequences
}

fn is_sequence(emoji: &str) -> bool {
    emoji.chars().filter(|c| *c != '\u{fe0f}').count() > 1
}

fn shows(face: &Face, shaper: &mut Shaper<'_>, emoji: &str) -> bool {
    // The presentation is told apart from the picture.
    let fit = fit(face, shaper, emoji);
    fit == Fit::Whole || fit == Fit::WithoutVariation
}
