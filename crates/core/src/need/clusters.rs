//! Texts counted as extended grapheme clusters (UAX #29).

use std::collections::HashMap;

use icu_segmenter::GraphemeClusterSegmenter;
use serde::Serialize;

use super::{Group, Source, is_shown};

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
        let mut need = Need::default();
        let mut seen: HashMap<&str, usize> = HashMap::new();
        let segmenter = GraphemeClusterSegmenter::new();
        for source in sources {
            let (mut line, mut column) = (1, 0);
            let mut start = 0;
            for end in segmenter.segment_str(&source.text).skip(1) {
                let cluster = &source.text[start..end];
                start = end;
                column += 1;
                if cluster.ends_with('\n') {
                    line += 1;
                    column = 0;
                    continue;
                }
                if !cluster.chars().any(is_shown) {
                    continue;
                }
                need.total += 1;
                let index = *seen.entry(cluster).or_insert_with(|| {
                    need.clusters.push(ClusterNeed {
                        text: cluster.to_owned(),
                        count: 0,
                        group: Group::of(cluster),
                        first: Place {
                            source: source.name.clone(),
                            line,
                            column,
                        },
                    });
                    need.clusters.len() - 1
                });
                need.clusters[index].count += 1;
            }
        }
        need
    }
}
