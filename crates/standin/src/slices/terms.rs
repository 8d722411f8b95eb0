//! Widths of pieces as sums over letter groups: what each letter adds in the
//! local face, and what pairs of letters add where both are in one slice, as
//! kerning and ligatures work only there.

use std::collections::BTreeSet;

use foldhash::HashMap;
use icu_normalizer::properties::CanonicalDecompositionBorrowed;
use icu_normalizer::properties::Decomposed;
use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, Script};
use icu_segmenter::GraphemeClusterSegmenter;

use crate::breaks::PieceWidths;
use crate::ruler::Ruler;
use crate::sample::TextSample;

/// The group of all that is never sliced: scripts whose letters join or stack,
/// sequences, ideographs.
pub const REST: usize = 0;

/// Letters that go into the same slice.
#[derive(Debug, Clone, Default)]
pub struct Group {
    /// The characters of the text in it.
    pub characters: BTreeSet<char>,
    /// How often they occur, spaces included.
    pub count: f64,
    /// How much wider the web font sets them, unkerned.
    pub ratio: f64,
}

/// What one group, or a pair of groups in the same slice, adds to a piece.
#[derive(Debug, Clone, Copy)]
pub struct Term {
    /// The groups; the same twice for a letter by itself.
    pub groups: (u16, u16),
    /// The width in em of the local face.
    pub width: f64,
}

/// A piece of the sample.
#[derive(Debug, Clone)]
pub struct Row {
    /// Its index in the sample.
    pub piece: usize,
    /// How often it occurs.
    pub count: f64,
    /// Its width in the web font, in em.
    pub web: f64,
    /// What it adds up from in the local face.
    pub terms: Vec<Term>,
}

/// A sample in terms of letter groups.
pub struct Terms {
    /// The groups; [`REST`] first.
    pub groups: Vec<Group>,
    /// The pieces that both faces show.
    pub rows: Vec<Row>,
    /// The group of the space.
    pub space: usize,
    /// The width of the space in the local face, in em.
    pub space_width: f64,
    /// Group of each sliced character.
    pub group_of: HashMap<char, usize>,
    /// How often letters of two groups meet; the space is none.
    pub meetings: HashMap<(u16, u16), f64>,
}

/// Scripts whose letters stand apart from each other.
const SLICED: [Script; 6] = [
    Script::Latin,
    Script::Greek,
    Script::Cyrillic,
    Script::Armenian,
    Script::Georgian,
    Script::Common,
];

/// Whether a slice may be made of `character`.
pub fn may_slice(character: char) -> bool {
    let script = CodePointMapData::<Script>::new().get(character);
    let category = CodePointMapData::<GeneralCategory>::new().get(character);
    SLICED.contains(&script)
        && (script != Script::Common || is_of_alphabets(character))
        && !matches!(
            category,
            GeneralCategory::Format | GeneralCategory::Control | GeneralCategory::Unassigned
        )
}

/// Whether a character that scripts share is one of those beside alphabets: ASCII,
/// Latin-1, modifiers, General Punctuation, currency. Others, as the Arabic tatweel
/// and ideographic punctuation, join or stand with letters that are not sliced.
fn is_of_alphabets(character: char) -> bool {
    matches!(u32::from(character), 0..=0x2ff | 0x2000..=0x20cf)
}

/// The letter that decides about the slice of `character`: accented letters go
/// with their base, so that a word does not mix sizes of one letter; digits go together, so
/// that numbers are even and columns of them align.
pub fn leader(character: char) -> char {
    if character.is_ascii_digit() {
        return '0';
    }
    match CanonicalDecompositionBorrowed::new().decompose(character) {
        Decomposed::Expansion(first, _) if may_slice(first) => leader(first),
        Decomposed::Singleton(same) if may_slice(same) => same,
        _ => character,
    }
}

impl Terms {
    /// The pieces of `sample`, widths in the web font being `web`, in terms of
    /// the face that `ruler` measures.
    pub fn new(
        sample: &TextSample,
        web: &PieceWidths,
        shown: &[bool],
        web_ruler: &mut Ruler<'_>,
        ruler: &mut Ruler<'_>,
    ) -> Self {
        let mut builder = Builder {
            groups: vec![Group::default()],
            leaders: HashMap::default(),
            group_of: HashMap::default(),
            widths: HashMap::default(),
            web_widths: vec![(0.0, 0.0)],
            meetings: HashMap::default(),
        };
        let space = builder.group(" ", ruler, web_ruler);
        let mut rows = Vec::new();
        for (index, (piece, count)) in sample.pieces().enumerate() {
            if !shown[index] || !ruler.shows(&piece.text) {
                continue;
            }
            let text = piece.in_context();
            let terms = builder.terms(&text, &piece.before, count as f64, ruler, web_ruler);
            rows.push(Row {
                piece: index,
                count: count as f64,
                web: web.whole[index],
                terms,
            });
        }
        for (group, (web, local)) in builder.groups.iter_mut().zip(&builder.web_widths) {
            group.ratio = if *local > 0.0 { web / local } else { 0.0 };
        }
        Terms {
            groups: builder.groups,
            rows,
            space,
            space_width: ruler.width(" "),
            group_of: builder.group_of,
            meetings: builder.meetings,
        }
    }
}

impl Terms {
    /// The same for one size of all letters: each piece whole.
    pub fn whole(
        sample: &TextSample,
        web: &PieceWidths,
        shown: &[bool],
        ruler: &mut Ruler<'_>,
    ) -> Self {
        let mut rest = Group::default();
        let mut rows = Vec::new();
        for (index, (piece, count)) in sample.pieces().enumerate() {
            if !shown[index] || !ruler.shows(&piece.text) {
                continue;
            }
            let width = ruler.width(&piece.in_context()) - ruler.width(&piece.before);
            rest.count += count as f64;
            rows.push(Row {
                piece: index,
                count: count as f64,
                web: web.whole[index],
                terms: vec![Term {
                    groups: (REST as u16, REST as u16),
                    width,
                }],
            });
        }
        Terms {
            groups: vec![rest],
            rows,
            space: REST,
            space_width: ruler.width(" "),
            group_of: HashMap::default(),
            meetings: HashMap::default(),
        }
    }

    /// The width of each row in the local face at its own size, in em, where that is one term.
    pub fn whole_widths(&self) -> Option<Vec<f64>> {
        let rows = self.rows.iter().map(|row| match row.terms.as_slice() {
            [only] if self.group_of.is_empty() => Some(only.width),
            _ => None,
        });
        rows.collect()
    }
}

struct Builder {
    groups: Vec<Group>,
    leaders: HashMap<char, usize>,
    group_of: HashMap<char, usize>,
    widths: HashMap<String, f64>,
    /// Sums of the groups' widths in the web font and in the local face.
    web_widths: Vec<(f64, f64)>,
    meetings: HashMap<(u16, u16), f64>,
}

impl Builder {
    /// The group of a cluster.
    fn group(&mut self, cluster: &str, ruler: &mut Ruler<'_>, web: &mut Ruler<'_>) -> usize {
        let mut characters = cluster.chars();
        let (Some(only), None) = (characters.next(), characters.next()) else {
            return REST;
        };
        if let Some(known) = self.group_of.get(&only) {
            return *known;
        }
        if !may_slice(only) || self.width(cluster, ruler) <= 0.0 || web.width(cluster) <= 0.0 {
            return REST;
        }
        let leader = leader(only);
        let group = *self.leaders.entry(leader).or_insert_with(|| {
            self.groups.push(Group::default());
            self.web_widths.push((0.0, 0.0));
            self.groups.len() - 1
        });
        self.groups[group].characters.insert(only);
        self.group_of.insert(only, group);
        group
    }

    fn width(&mut self, text: &str, ruler: &mut Ruler<'_>) -> f64 {
        if let Some(known) = self.widths.get(text) {
            return *known;
        }
        let width = ruler.width(text);
        self.widths.insert(text.to_owned(), width);
        width
    }

    /// The terms of `text`, of which `before` is context only.
    fn terms(
        &mut self,
        text: &str,
        before: &str,
        count: f64,
        ruler: &mut Ruler<'_>,
        web: &mut Ruler<'_>,
    ) -> Vec<Term> {
        // What is never sliced stays in one token, as it is shaped together.
        let mut tokens: Vec<(usize, std::ops::Range<usize>)> = Vec::new();
        let mut start = 0;
        for end in GraphemeClusterSegmenter::new().segment_str(text).skip(1) {
            let group = self.group(&text[start..end], ruler, web);
            match tokens.last_mut() {
                Some((REST, range)) if group == REST && range.start >= before.len() => {
                    range.end = end;
                }
                _ => tokens.push((group, start..end)),
            }
            start = end;
        }
        let mut terms: HashMap<(u16, u16), f64> = HashMap::default();
        let mut add = |a: usize, b: usize, width: f64| {
            let (low, high) = (a.min(b) as u16, a.max(b) as u16);
            *terms.entry((low, high)).or_default() += width;
        };
        let mut sum = 0.0;
        for (index, (group, range)) in tokens.iter().enumerate() {
            let base_width = self.width(&text[range.clone()], ruler);
            if range.start >= before.len() {
                add(*group, *group, base_width);
                sum += base_width;
                self.groups[*group].count += count;
                let (in_web, local) = &mut self.web_widths[*group];
                *in_web += web.width(&text[range.clone()]) * count;
                *local += base_width * count;
            }
            let Some((next_group, next)) = tokens.get(index + 1) else {
                continue;
            };
            let blank = |range: &std::ops::Range<usize>| text[range.clone()].starts_with(' ');
            if !blank(range) && !blank(next) && range.start >= before.len() {
                let (a, b) = (*group as u16, *next_group as u16);
                *self.meetings.entry((a.min(b), a.max(b))).or_default() += count;
            }
            let together = self.width(&text[range.start..next.end], ruler);
            let pair = together - base_width - self.width(&text[next.clone()], ruler);
            if pair.abs() > 1e-9 {
                add(*group, *next_group, pair);
                sum += pair;
            }
        }
        // Ligatures of three letters and the like.
        let whole = ruler.width(text) - ruler.width(before);
        let rest = whole - sum;
        if rest.abs() > 1e-9 {
            let middle = tokens[tokens.len() / 2].0;
            add(middle, middle, rest);
        }
        let mut terms: Vec<Term> = terms
            .into_iter()
            .map(|(groups, width)| Term { groups, width })
            .collect();
        terms.sort_by_key(|term| term.groups);
        terms
    }
}
