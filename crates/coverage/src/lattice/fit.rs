//! Whether one face can show one cluster as a whole.
//!
//! CSS Fonts 4, §5.3 "Cluster matching", step 1: a face serves a cluster when
//! it supports every character of it, or a canonically equivalent spelling.
//! Which spellings count is what shapers try, in their order: each character
//! as it is, else decomposed as far as needed, then starter and mark composed
//! again where the face has the composed character.

use icu_normalizer::properties::{
    CanonicalCombiningClassMap, CanonicalComposition, CanonicalDecomposition, Decomposed,
};
use icu_properties::CodePointSetData;
use icu_properties::props::{
    DefaultIgnorableCodePoint, Emoji, EmojiModifier, RegionalIndicator, VariationSelector,
};

use tidy_lattice_glyphs::font::{CharacterSet, Face};
use tidy_lattice_glyphs::shaping::Shaper;

/// How a face stands to a cluster.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Fit {
    /// The face shows the cluster as a whole.
    Whole,
    /// The face has the base, but not in the variant that the variation selector
    /// asks for.
    WithoutVariation,
    /// The face has every character of an emoji sequence (flag, keycap, skin
    /// tone, ZWJ sequence), but draws them one by one.
    Unjoined,
    /// The face lacks these characters, in order, each once.
    Lacks(Vec<char>),
}

/// The characters of a face that count: all, or those within a `unicode-range`.
#[derive(Clone, Copy)]
pub struct Repertoire<'a> {
    face: &'a Face,
    range: Option<&'a CharacterSet>,
}

impl<'a> Repertoire<'a> {
    /// The characters of `face` within `range`; all where there is none.
    pub fn new(face: &'a Face, range: Option<&'a CharacterSet>) -> Self {
        Repertoire { face, range }
    }

    /// Whether `character` counts and has a glyph.
    pub fn maps(self, character: char) -> bool {
        self.admits(character) && self.face.maps(character)
    }

    /// Whether `character` is in the range.
    pub fn admits(self, character: char) -> bool {
        self.range
            .is_none_or(|range| range.contains(u32::from(character)))
    }

    /// Whether nothing of `cluster`, which must show something, is in the range, so that a
    /// face is not even tried for it: what [`fit_within`] finds too, at no cost.
    pub fn is_outside(self, cluster: &str) -> bool {
        self.range
            .is_some_and(|range| !cluster.chars().any(|c| range.contains(u32::from(c))))
    }

    fn maps_variation(self, base: char, selector: char) -> bool {
        self.admits(base) && self.face.maps_variation(base, selector)
    }

    fn has_colour(self) -> bool {
        self.face.has_colour()
    }
}

/// How `face`, with its `shaper`, stands to `cluster`.
pub fn fit(face: &Face, shaper: &mut Shaper<'_>, cluster: &str) -> Fit {
    fit_within(Repertoire::new(face, None), shaper, cluster)
}

/// [`fit`] of the characters of a face that count.
pub fn fit_within(face: Repertoire<'_>, shaper: &mut Shaper<'_>, cluster: &str) -> Fit {
    let mut single = cluster.chars();
    if let (Some(only), None) = (single.next(), single.next())
        && face.maps(only)
    {
        return Fit::Whole;
    }
    let ignorable = CodePointSetData::new::<DefaultIgnorableCodePoint>();
    // Shapers hide default-ignorable characters, so no face needs them.
    let spelled: Vec<char> = cluster
        .chars()
        .filter(|c| !ignorable.contains(*c))
        .collect();
    // A face is only tried for what has a character in its range; then every
    // spelling counts that is in it.
    if !spelled.is_empty() && !spelled.iter().any(|c| face.admits(*c)) {
        return Fit::Lacks(spelled);
    }
    let lacking = lacking(face, &spelled);
    if !lacking.is_empty() {
        return Fit::Lacks(lacking);
    }
    if is_emoji_sequence(cluster) && shaper.visible_glyphs(cluster) > 1 {
        return Fit::Unjoined;
    }
    if lacks_variation(face, cluster) {
        return Fit::WithoutVariation;
    }
    Fit::Whole
}

/// The characters of `spelled` that `face` lacks in every canonically
/// equivalent spelling that shapers try.
fn lacking(face: Repertoire<'_>, spelled: &[char]) -> Vec<char> {
    if spelled.iter().all(|c| face.maps(*c)) {
        return Vec::new();
    }
    let mut pieces: Vec<char> = Vec::with_capacity(spelled.len());
    for character in spelled {
        if face.maps(*character) || !decompose(face, *character, &mut pieces) {
            pieces.push(*character);
        }
    }
    let classes = CanonicalCombiningClassMap::new();
    for run in pieces.chunk_by_mut(|_, b| classes.get_u8(*b) != 0) {
        // The first of a run is its starter; marks behind it sort by class.
        if run.len() > 2 {
            run[1..].sort_by_key(|mark| classes.get_u8(*mark));
        }
    }
    let mut lacking = Vec::new();
    for piece in compose(face, &pieces) {
        if !(face.maps(piece) || substituted(face, piece) || lacking.contains(&piece)) {
            lacking.push(piece);
        }
    }
    lacking
}

/// Appends the mapped decomposition of `character`; false where there is none.
fn decompose(face: Repertoire<'_>, character: char, pieces: &mut Vec<char>) -> bool {
    match CanonicalDecomposition::new().decompose(character) {
        Decomposed::Default => false,
        Decomposed::Singleton(other) => {
            if face.maps(other) {
                pieces.push(other);
                true
            } else {
                decompose(face, other, pieces)
            }
        }
        Decomposed::Expansion(first, second) => {
            if !face.maps(second) {
                return false;
            }
            if face.maps(first) {
                pieces.push(first);
            } else if !decompose(face, first, pieces) {
                return false;
            }
            pieces.push(second);
            true
        }
    }
}

/// Composes starter and marks again wherever `face` has the composed
/// character and no mark of the same class stands between.
fn compose(face: Repertoire<'_>, pieces: &[char]) -> Vec<char> {
    let classes = CanonicalCombiningClassMap::new();
    let composition = CanonicalComposition::new();
    let mut composed: Vec<char> = Vec::with_capacity(pieces.len());
    let mut starter: Option<usize> = None;
    for &piece in pieces {
        let class = classes.get_u8(piece);
        if let Some(at) = starter {
            let blocked = at + 1 < composed.len()
                && composed
                    .last()
                    .is_some_and(|last| classes.get_u8(*last) >= class);
            if !blocked
                && let Some(whole) = composition.compose(composed[at], piece)
                && face.maps(whole)
            {
                composed[at] = whole;
                continue;
            }
        }
        composed.push(piece);
        if class == 0 {
            starter = Some(composed.len() - 1);
        }
    }
    composed
}

/// Characters that shapers draw with another glyph where the font lacks them:
/// spaces of other widths, the no-break space, the no-break hyphen.
fn substituted(face: Repertoire<'_>, character: char) -> bool {
    match character {
        '\u{2011}' => face.maps('\u{2010}'),
        _ => character.is_whitespace() && face.maps(' '),
    }
}

/// Whether the cluster is one emoji of several characters (UTS #51, §1.4).
fn is_emoji_sequence(cluster: &str) -> bool {
    const JOINER: char = '\u{200d}';
    const KEYCAP: char = '\u{20e3}';
    let indicators = CodePointSetData::new::<RegionalIndicator>();
    let modifiers = CodePointSetData::new::<EmojiModifier>();
    let emoji = CodePointSetData::new::<Emoji>();
    let Some(first) = cluster.chars().next() else {
        return false;
    };
    let is_tag = |c: char| ('\u{e0020}'..='\u{e007f}').contains(&c);
    emoji.contains(first)
        && cluster.chars().skip(1).any(|c| {
            c == JOINER
                || c == KEYCAP
                || is_tag(c)
                || indicators.contains(c)
                || modifiers.contains(c)
        })
}

/// Whether a variation selector of the cluster asks for a variant that `face`
/// does not have: not listed, nor the presentation that all its glyphs have.
fn lacks_variation(face: Repertoire<'_>, cluster: &str) -> bool {
    let selectors = CodePointSetData::new::<VariationSelector>();
    let mut previous = None;
    for character in cluster.chars() {
        if let Some(base) = previous
            && selectors.contains(character)
            && !face.maps_variation(base, character)
            && !has_presentation(face, character)
        {
            return true;
        }
        previous = Some(character);
    }
    false
}

/// Whether `face` draws everything in the presentation that `selector` asks for
/// (UTS #51, §2): colour fonts draw emoji, others draw text.
fn has_presentation(face: Repertoire<'_>, selector: char) -> bool {
    const TEXT: char = '\u{fe0e}';
    const EMOJI: char = '\u{fe0f}';
    match selector {
        TEXT => !face.has_colour(),
        EMOJI => face.has_colour(),
        _ => false,
    }
}
