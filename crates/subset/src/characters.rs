//! Characters and their glyphs: `cmap` (OpenType 1.9.1), and what a shaper asks for
//! besides the characters of a text.

use std::collections::{BTreeMap, BTreeSet};

use icu_normalizer::properties::{CanonicalDecompositionBorrowed, Decomposed};
use icu_properties::props::{GeneralCategory, Script};
use icu_properties::{CodePointMapData, props};
use skrifa::MetadataProvider;
use skrifa::charmap::MapVariant;
use tidy_lattice_glyphs::font::CharacterSet;

use crate::CutError;
use crate::bytes::Object;
use crate::glyphs::GlyphMap;

/// More mappings than Unicode has characters are a table that repeats itself.
const MOST_MAPPINGS: usize = 0x11_0000;

/// The glyph of a character with a variation selector.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Variant {
    pub(crate) base: u32,
    pub(crate) selector: u32,
    /// `None`: the glyph of the character alone.
    pub(crate) glyph: Option<u16>,
}

/// The characters of a face.
pub(crate) struct Characters {
    pub(crate) glyphs: BTreeMap<u32, u16>,
    pub(crate) variants: Vec<Variant>,
    /// Whether the only table of characters is one for signs, at U+F000 and above.
    pub(crate) symbol: bool,
}

impl Characters {
    pub(crate) fn read(font: &skrifa::FontRef<'_>, glyph_count: u16) -> Self {
        let map = font.charmap();
        let glyphs = (map.mappings().take(MOST_MAPPINGS))
            .filter_map(|(point, glyph)| Some((point, u16::try_from(glyph.to_u32()).ok()?)))
            .filter(|(_, glyph)| (1..glyph_count).contains(glyph))
            .collect();
        let variants = (map.variant_mappings().take(MOST_MAPPINGS))
            .filter_map(|(base, selector, variant)| {
                let glyph = match variant {
                    MapVariant::UseDefault => None,
                    MapVariant::Variant(glyph) => Some(u16::try_from(glyph.to_u32()).ok()?),
                };
                Some(Variant {
                    base,
                    selector,
                    glyph,
                })
            })
            .collect();
        Characters {
            glyphs,
            variants,
            symbol: map.is_symbol(),
        }
    }

    /// The characters of the face that a text of `wanted` can ask for: these, what they
    /// are composed of or, unless `literal`, put together to, and what stands in for those
    /// it lacks.
    pub(crate) fn asked_for(&self, wanted: &CharacterSet, literal: bool) -> BTreeSet<u32> {
        let decompositions = CanonicalDecompositionBorrowed::new();
        let categories = CodePointMapData::<GeneralCategory>::new();
        let is_mark = |point: u32| {
            matches!(
                categories.get32(point),
                GeneralCategory::NonspacingMark
                    | GeneralCategory::SpacingMark
                    | GeneralCategory::EnclosingMark
            )
        };
        // Vowels and final consonants of Korean are put together like marks.
        let joins = |point: u32| is_mark(point) || (0x1160..=0x11FF).contains(&point);
        let has = |point: &u32| self.glyphs.contains_key(point);
        let mut asked: BTreeSet<u32> = BTreeSet::new();
        for point in wanted.iter() {
            let here = has(&point);
            if here {
                asked.insert(point);
            }
            // Fonts for signs are asked at U+F000 for characters below U+0100.
            if self.symbol && point <= 0xFF && has(&(point + 0xF000)) {
                asked.insert(point + 0xF000);
            }
            let parts = parts_of(point, &decompositions);
            // Points of Hebrew are set as marks where the font places marks, and shapers of the
            // scripts of South and Southeast Asia take letters apart whether or not they are there.
            let apart = is_mark(point)
                || (0xFB1D..=0xFB4F).contains(&point)
                || is_shaped_apart(point) && !is_east_asian(point);
            if (!here || apart) && parts.iter().all(has) {
                asked.extend(&parts);
            }
            asked.extend(stand_ins(point).iter().filter(|point| has(point)));
        }
        // A mark behind its base is shown with the composed letter, where there is one.
        if !literal && wanted.iter().any(joins) {
            let known = |point: &u32| wanted.contains(*point) || asked.contains(point);
            let composed: Vec<u32> = (self.glyphs.keys().copied())
                .filter(|point| !asked.contains(point))
                .filter(|point| {
                    let parts = parts_of(*point, &decompositions);
                    parts.len() > 1
                        && parts.iter().all(known)
                        && parts
                            .iter()
                            .any(|part| joins(*part) && wanted.contains(*part))
                })
                .collect();
            asked.extend(composed);
        }
        // A vowel or a tone without its letter is shown on a dotted circle.
        if has(&DOTTED_CIRCLE)
            && wanted
                .iter()
                .any(|point| is_mark(point) && needs_letter(point))
        {
            asked.insert(DOTTED_CIRCLE);
        }
        // What is ignored where it stands is shown as a blank of no width.
        let ignorable = |point: u32| {
            icu_properties::CodePointSetData::new::<props::DefaultIgnorableCodePoint>()
                .contains32(point)
        };
        if wanted.iter().any(ignorable) && has(&0x20) {
            asked.insert(0x20);
        }
        asked
    }

    /// Variants of the characters that are asked for, with the selectors that are.
    pub(crate) fn variants_of(&self, wanted: &CharacterSet, asked: &BTreeSet<u32>) -> Vec<Variant> {
        (self.variants.iter().copied())
            .filter(|variant| asked.contains(&variant.base) && wanted.contains(variant.selector))
            .collect()
    }
}

const DOTTED_CIRCLE: u32 = 0x25CC;

/// Whether shapers miss the letter of a mark: those of the scripts of South and Southeast
/// Asia and of Korean.
fn needs_letter(point: u32) -> bool {
    (0x302E..=0x302F).contains(&point) || is_shaped_apart(point)
}

/// Whether a character is of a script with a shaper of its own, which orders the parts of
/// letters itself.
fn is_shaped_apart(point: u32) -> bool {
    let plain = [
        Script::Arabic,
        Script::Common,
        Script::Cyrillic,
        Script::Greek,
        Script::Hebrew,
        Script::Inherited,
        Script::Latin,
        Script::Thai,
    ];
    !plain.contains(&CodePointMapData::<Script>::new().get32(point))
}

/// Whether a character is of a script of China, Japan or Korea, set by the plain shaper.
fn is_east_asian(point: u32) -> bool {
    matches!(
        CodePointMapData::<Script>::new().get32(point),
        Script::Han | Script::Hiragana | Script::Katakana | Script::Hangul | Script::Bopomofo
    )
}

/// What a character is canonically composed of; nothing where it stands for itself.
fn parts_of(point: u32, decompositions: &CanonicalDecompositionBorrowed<'_>) -> Vec<u32> {
    let mut parts = Vec::new();
    let mut queue: Vec<char> = char::from_u32(point).into_iter().collect();
    let mut first = true;
    while let Some(character) = queue.pop() {
        match decompositions.decompose(character) {
            Decomposed::Default if first => return parts,
            Decomposed::Default => parts.push(u32::from(character)),
            Decomposed::Singleton(one) => queue.push(one),
            Decomposed::Expansion(one, other) => {
                queue.push(other);
                queue.push(one);
            }
        }
        first = false;
    }
    parts
}

/// What shapers take for a character: for blanks of other widths a space, for a hyphen
/// that does not break one that does, for vowels of Thai and Lao their parts.
fn stand_ins(point: u32) -> &'static [u32] {
    match point {
        0x00A0 | 0x2000..=0x200A | 0x202F | 0x205F | 0x3000 => &[0x20],
        0x2011 => &[0x2010],
        0x0E33 => &[0x0E4D, 0x0E32],
        0x0EB3 => &[0x0ECD, 0x0EB2],
        _ => &[],
    }
}

/// `cmap` of the characters that stay.
pub(crate) fn cmap(
    characters: &Characters,
    kept: &BTreeSet<u32>,
    variants: &[Variant],
    map: &GlyphMap,
) -> Result<Vec<u8>, CutError> {
    let pairs: Vec<(u32, u16)> = (kept.iter())
        .filter_map(|point| Some((*point, map.get(*characters.glyphs.get(point)?)?)))
        .collect();
    let astral = pairs.last().is_some_and(|(point, _)| *point > 0xFFFF);
    let plane: Vec<(u16, u16)> = (pairs.iter())
        .filter_map(|(point, glyph)| Some((u16::try_from(*point).ok()?, *glyph)))
        .collect();
    let segments = segments(&plane);
    let words = 8 + segments.len() * 4 + segments.iter().map(Segment::words).sum::<usize>();
    let fits = words * 2 < usize::from(u16::MAX);
    let mut records: Vec<(u16, u16, std::rc::Rc<Object>)> = Vec::new();
    if fits {
        let short = std::rc::Rc::new(format_4(&segments));
        if characters.symbol {
            records.push((3, 0, short));
        } else {
            records.push((0, 3, std::rc::Rc::clone(&short)));
            records.push((3, 1, short));
        }
    }
    if astral || !fits {
        let full = std::rc::Rc::new(format_12(&pairs));
        records.push((0, 4, std::rc::Rc::clone(&full)));
        records.push((3, 10, full));
    }
    if !variants.is_empty() {
        records.push((0, 5, std::rc::Rc::new(format_14(variants, map))));
    }
    records.sort_by_key(|(platform, encoding, _)| (*platform, *encoding));
    let mut table = Object::new();
    table.u16(0).count(records.len());
    for (platform, encoding, subtable) in records {
        table.u16(platform).u16(encoding).link32(subtable);
    }
    table.pack("cmap")
}

/// Characters that follow each other, with glyphs that do, or with a list of them.
struct Segment {
    first: u16,
    glyphs: Vec<u16>,
    listed: bool,
}

impl Segment {
    fn words(&self) -> usize {
        if self.listed { self.glyphs.len() } else { 0 }
    }
}

/// Cuts characters into segments: a list of glyphs costs two bytes each, a segment
/// eight.
fn segments(pairs: &[(u16, u16)]) -> Vec<Segment> {
    /// How far back a list may start, in runs.
    const FARTHEST: usize = 48;
    let mut runs: Vec<&[(u16, u16)]> = Vec::new();
    let mut start = 0;
    for at in 1..=pairs.len() {
        let follows = at < pairs.len()
            && pairs[at].0 == pairs[at - 1].0 + 1
            && pairs[at].1 == pairs[at - 1].1.wrapping_add(1);
        if !follows {
            runs.push(&pairs[start..at]);
            start = at;
        }
    }
    // The least cost up to each run, and where the segment that ends there starts.
    let mut best: Vec<(usize, usize)> = vec![(0, 0)];
    for end in 1..=runs.len() {
        let mut choice = (best[end - 1].0 + 8, end - 1);
        let mut listed = runs[end - 1].len();
        for start in (end.saturating_sub(FARTHEST)..end - 1).rev() {
            let joined = runs[start].last().zip(runs[start + 1].first());
            if joined.is_none_or(|(before, after)| before.0 + 1 != after.0) {
                break;
            }
            listed += runs[start].len();
            let cost = best[start].0 + 8 + listed * 2;
            if cost < choice.0 {
                choice = (cost, start);
            }
        }
        best.push(choice);
    }
    let mut segments = Vec::new();
    let mut end = runs.len();
    while end > 0 {
        let start = best[end].1;
        let pairs: Vec<(u16, u16)> = runs[start..end].concat();
        segments.push(Segment {
            first: pairs[0].0,
            glyphs: pairs.iter().map(|(_, glyph)| *glyph).collect(),
            listed: end - start > 1,
        });
        end = start;
    }
    segments.reverse();
    segments
}

fn format_4(segments: &[Segment]) -> Object {
    // The last segment is U+FFFF, which is no character.
    let count = segments.len() + 1;
    let listed: usize = segments.iter().map(Segment::words).sum();
    let power = count.ilog2();
    let range = 2u16 << power;
    let mut table = Object::new();
    table.u16(4).count(16 + count * 8 + listed * 2).u16(0);
    table.count(count * 2).u16(range).u16(power as u16);
    table.count(count * 2 - usize::from(range));
    let last = |segment: &Segment| segment.first + segment.glyphs.len() as u16 - 1;
    table.u16s(segments.iter().map(last).chain([u16::MAX]));
    table.u16(0);
    table.u16s(
        segments
            .iter()
            .map(|segment| segment.first)
            .chain([u16::MAX]),
    );
    let delta = |segment: &Segment| {
        let first = segment.glyphs.first().copied().unwrap_or(0);
        if segment.listed {
            0
        } else {
            first.wrapping_sub(segment.first)
        }
    };
    table.u16s(segments.iter().map(delta).chain([1]));
    let mut before = 0;
    for (index, segment) in segments.iter().enumerate() {
        // From here to the list: the offsets behind this one, then lists before.
        let offset = if segment.listed {
            (count - index + before) * 2
        } else {
            0
        };
        table.count(offset);
        before += segment.words();
    }
    table.u16(0);
    for segment in segments.iter().filter(|segment| segment.listed) {
        table.u16s(segment.glyphs.iter().copied());
    }
    table
}

fn format_12(pairs: &[(u32, u16)]) -> Object {
    let mut groups: Vec<(u32, u32, u32)> = Vec::new();
    for (point, glyph) in pairs {
        let glyph = u32::from(*glyph);
        match groups.last_mut() {
            Some((first, last, start))
                if *last + 1 == *point && *start + (point - *first) == glyph =>
            {
                *last = *point;
            }
            _ => groups.push((*point, *point, glyph)),
        }
    }
    let mut table = Object::new();
    table
        .u16(12)
        .u16(0)
        .u32(16 + groups.len() as u32 * 12)
        .u32(0);
    table.u32(groups.len() as u32);
    for (first, last, glyph) in groups {
        table.u32(first).u32(last).u32(glyph);
    }
    table
}

fn format_14(variants: &[Variant], map: &GlyphMap) -> Object {
    let mut by_selector: BTreeMap<u32, (BTreeSet<u32>, BTreeMap<u32, u16>)> = BTreeMap::new();
    for variant in variants {
        let (plain, special) = by_selector.entry(variant.selector).or_default();
        match variant.glyph {
            None => {
                plain.insert(variant.base);
            }
            Some(glyph) => {
                special.extend(map.get(glyph).map(|glyph| (variant.base, glyph)));
            }
        }
    }
    let u24 = |object: &mut Object, value: u32| {
        object.raw(&value.to_be_bytes()[1..]);
    };
    // Offsets count from the start of this subtable, whose length includes all.
    let mut head = Vec::new();
    let mut body: Vec<u8> = Vec::new();
    let start = 10 + by_selector.len() * 11;
    for (selector, (plain, special)) in &by_selector {
        let mut ranges: Vec<(u32, u32)> = Vec::new();
        for point in plain {
            match ranges.last_mut() {
                Some((first, last)) if *last + 1 == *point && point - *first < 256 => {
                    *last = *point;
                }
                _ => ranges.push((*point, *point)),
            }
        }
        let mut place = |present: bool, bytes: Vec<u8>| {
            let at = if present {
                (start + body.len()) as u32
            } else {
                0
            };
            if present {
                body.extend(bytes);
            }
            at
        };
        let mut bytes = (ranges.len() as u32).to_be_bytes().to_vec();
        for (first, last) in &ranges {
            bytes.extend_from_slice(&first.to_be_bytes()[1..]);
            bytes.push((last - first) as u8);
        }
        let plain_at = place(!ranges.is_empty(), bytes);
        let mut bytes = (special.len() as u32).to_be_bytes().to_vec();
        for (base, glyph) in special {
            bytes.extend_from_slice(&base.to_be_bytes()[1..]);
            bytes.extend_from_slice(&glyph.to_be_bytes());
        }
        let own_at = place(!special.is_empty(), bytes);
        head.push((*selector, plain_at, own_at));
    }
    let mut table = Object::new();
    table.u16(14).u32((start + body.len()) as u32);
    table.u32(head.len() as u32);
    for (selector, plain, special) in head {
        u24(&mut table, selector);
        table.u32(plain).u32(special);
    }
    table.raw(&body);
    table
}
