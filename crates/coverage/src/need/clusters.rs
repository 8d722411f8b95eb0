//! Texts counted as extended grapheme clusters (UAX #29).

use std::collections::HashMap;

use icu_properties::CodePointMapData;
use icu_properties::props::{GraphemeClusterBreak, IndicConjunctBreak};
use icu_segmenter::GraphemeClusterSegmenter;
use serde::Serialize;

use tidy_lattice_glyphs::text::{Group, Source, is_shown};

/// Where something stands in the sources.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Place {
    /// The name of the source.
    pub source: String,
    /// The line, counted from 1.
    pub line: u32,
    /// The cluster in its line, counted from 1.
    pub column: u32,
}

/// A cluster that the text needs.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ClusterNeed {
    /// The characters of the cluster, as written.
    pub text: String,
    /// How often it occurs; at least 1.
    pub count: u64,
    /// The row of the lattice that it belongs to.
    pub group: Group,
    /// Where it was first seen.
    pub first: Place,
}

/// Everything that the sources ask to be shown.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Need {
    /// The distinct clusters that show something, in the order in which they
    /// first occur.
    pub clusters: Vec<ClusterNeed>,
    /// How many clusters show something, repeats included.
    pub total: u64,
}

impl Need {
    /// Counts the clusters of `sources`. White space, controls and characters
    /// that are default-ignorable on their own ask no font for anything and
    /// are left out.
    pub fn gather(sources: &[Source]) -> Self {
        let mut counter = Counter::default();
        for source in sources {
            let name = counter.source(&source.name);
            counter.add(&source.text, name, 1, 1);
        }
        counter.finish()
    }

    /// All needs as one, in order.
    pub fn merged<'a>(needs: impl IntoIterator<Item = &'a Need>) -> Self {
        let mut merged = Need::default();
        let mut places: HashMap<&str, usize> = HashMap::new();
        for need in needs {
            merged.total += need.total;
            for cluster in &need.clusters {
                match places.get(cluster.text.as_str()) {
                    Some(place) => {
                        let known: &mut ClusterNeed = &mut merged.clusters[*place];
                        known.count += cluster.count;
                    }
                    None => {
                        places.insert(&cluster.text, merged.clusters.len());
                        merged.clusters.push(cluster.clone());
                    }
                }
            }
        }
        merged
    }
}

/// Counts clusters piece by piece, so that no text need be kept.
#[derive(Debug, Default)]
pub struct Counter {
    /// Names of sources, by number.
    sources: Vec<String>,
    /// Clusters of one character of the basic plane, in blocks of 256.
    simple: Vec<Option<Box<[Tally; 256]>>>,
    /// All other clusters.
    others: HashMap<String, Tally>,
    /// Distinct clusters so far, which numbers them in order.
    distinct: u32,
    total: u64,
    segmenter: Option<icu_segmenter::GraphemeClusterSegmenterBorrowed<'static>>,
}

/// How often a cluster was seen, and first where.
#[derive(Debug, Clone, Copy, Default)]
struct Tally {
    count: u64,
    order: u32,
    source: u32,
    line: u32,
    column: u32,
}

/// The number of a source of a [`Counter`].
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct SourceId(u32);

/// What a character of the basic plane is to clusters.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Role {
    /// A cluster of its own, unless something that extends it follows.
    Alone,
    /// As [`Role::Alone`], and shows nothing.
    Blank,
    /// The line ends behind it.
    LineFeed,
    /// UAX #29 must decide.
    Complex,
}

/// Roles of all characters of the basic plane.
static ROLES: std::sync::LazyLock<Box<[Role]>> = std::sync::LazyLock::new(|| {
    let breaks = CodePointMapData::<GraphemeClusterBreak>::new();
    let conjuncts = CodePointMapData::<IndicConjunctBreak>::new();
    let role = |point: u32| match char::from_u32(point) {
        Some('\n') => Role::LineFeed,
        Some(character)
            if breaks.get(character) == GraphemeClusterBreak::Other
                && conjuncts.get(character) == IndicConjunctBreak::None =>
        {
            if is_shown(character) {
                Role::Alone
            } else {
                Role::Blank
            }
        }
        // CR is a cluster with LF; surrogates do not occur.
        _ => Role::Complex,
    };
    (0..0x1_0000).map(role).collect()
});

impl Counter {
    /// Numbers a source.
    pub fn source(&mut self, name: &str) -> SourceId {
        if self.sources.last().is_none_or(|last| last != name) {
            self.sources.push(name.to_owned());
        }
        SourceId(u32::try_from(self.sources.len() - 1).unwrap_or(u32::MAX))
    }

    /// Counts the clusters of `text`, which starts in this line and column of
    /// `source`.
    pub fn add(&mut self, text: &str, source: SourceId, line: u32, column: u32) {
        let roles = &**ROLES;
        let role = |character: char| {
            let point = u32::from(character) as usize;
            roles.get(point).copied().unwrap_or(Role::Complex)
        };
        let mut at = Tally {
            source: source.0,
            line,
            column,
            ..Tally::default()
        };
        let mut characters = text.char_indices().peekable();
        while let Some((start, character)) = characters.next() {
            let next = characters.peek().map(|(_, next)| role(*next));
            let here = role(character);
            if here == Role::Complex || next == Some(Role::Complex) && here != Role::LineFeed {
                // UAX #29 looks at a stretch that ends where two characters meet
                // that never cling together.
                let mut end = text.len();
                let mut previous = here;
                while let Some((place, next)) = characters.peek().copied() {
                    let next = role(next);
                    if previous != Role::Complex && next != Role::Complex {
                        end = place;
                        break;
                    }
                    previous = next;
                    characters.next();
                }
                at = self.segment(&text[start..end], at);
                continue;
            }
            match here {
                Role::Alone => self.count_simple(character, at),
                Role::LineFeed => {
                    at.line += 1;
                    at.column = 0;
                }
                Role::Blank | Role::Complex => {}
            }
            at.column = at.column.saturating_add(1);
        }
    }

    fn segment(&mut self, text: &str, mut at: Tally) -> Tally {
        let segmenter = *self
            .segmenter
            .get_or_insert_with(GraphemeClusterSegmenter::new);
        let mut start = 0;
        for end in segmenter.segment_str(text).skip(1) {
            let cluster = &text[start..end];
            start = end;
            if cluster.ends_with('\n') {
                at.line += 1;
                at.column = 1;
                continue;
            }
            if cluster.chars().any(is_shown) {
                self.count_other(cluster, at);
            }
            at.column = at.column.saturating_add(1);
        }
        at
    }

    fn count_simple(&mut self, character: char, at: Tally) {
        let point = u32::from(character) as usize;
        if self.simple.is_empty() {
            self.simple.resize_with(256, || None);
        }
        let block =
            self.simple[point >> 8].get_or_insert_with(|| Box::new([Tally::default(); 256]));
        let tally = &mut block[point & 0xff];
        if tally.count == 0 {
            *tally = Tally {
                order: self.distinct,
                ..at
            };
            self.distinct += 1;
        }
        tally.count += 1;
        self.total += 1;
    }

    fn count_other(&mut self, cluster: &str, at: Tally) {
        let mut characters = cluster.chars();
        if let (Some(only), None) = (characters.next(), characters.next())
            && u32::from(only) < 0x1_0000
        {
            self.count_simple(only, at);
            return;
        }
        self.total += 1;
        if let Some(tally) = self.others.get_mut(cluster) {
            tally.count += 1;
            return;
        }
        let tally = Tally {
            count: 1,
            order: self.distinct,
            ..at
        };
        self.distinct += 1;
        self.others.insert(cluster.to_owned(), tally);
    }

    /// Whether nothing was counted.
    pub fn is_empty(&self) -> bool {
        self.total == 0
    }

    /// What was counted.
    pub fn finish(self) -> Need {
        let mut all: Vec<(String, Tally)> = self.others.into_iter().collect();
        for (block, tallies) in self.simple.into_iter().enumerate() {
            let Some(tallies) = tallies else { continue };
            for (low, tally) in tallies
                .iter()
                .enumerate()
                .filter(|(_, tally)| tally.count > 0)
            {
                let character = u32::try_from(block << 8 | low)
                    .ok()
                    .and_then(char::from_u32);
                all.extend(character.map(|character| (character.to_string(), *tally)));
            }
        }
        all.sort_by_key(|(_, tally)| tally.order);
        let clusters = all
            .into_iter()
            .map(|(text, tally)| ClusterNeed {
                group: Group::of(&text),
                count: tally.count,
                first: Place {
                    source: self
                        .sources
                        .get(tally.source as usize)
                        .cloned()
                        .unwrap_or_default(),
                    line: tally.line,
                    column: tally.column,
                },
                text,
            })
            .collect();
        Need {
            clusters,
            total: self.total,
        }
    }
}
