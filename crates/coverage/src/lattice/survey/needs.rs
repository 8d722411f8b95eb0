//! The need itself: clusters with counts by role, language and style.

use serde::Serialize;
use tidy_lattice_documents::page::TextStyle;

use super::Survey;
use crate::need::{Need, Place};

/// What texts of one role, language and style need.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct RoleNeed {
    /// What the texts are for.
    pub role: String,
    /// Their language; `None` where it is not known.
    pub language: Option<String>,
    /// The first element of a page that has them.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub element: Option<String>,
    /// How they are set.
    pub style: TextStyle,
    /// Clusters that show something, repeats included.
    pub total: u64,
    /// The distinct clusters, in the order in which they first occur.
    pub clusters: Vec<NeededCluster>,
}

/// A cluster that must show.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct NeededCluster {
    /// The cluster as it shows.
    pub cluster: String,
    /// Its script, or the title of a group.
    pub group: String,
    /// How often it occurs.
    pub count: u64,
    /// Where it was first seen.
    pub first: Place,
}

/// The needs of `survey`, in the order of its texts.
pub fn needs(survey: &Survey) -> Vec<RoleNeed> {
    let mut kinds: Vec<(&super::Bucket, Vec<&Need>)> = Vec::new();
    for bucket in &survey.buckets {
        let same = |(known, _): &&mut (&super::Bucket, Vec<&Need>)| {
            (&known.role, &known.language, known.style)
                == (&bucket.role, &bucket.language, bucket.style)
        };
        match kinds.iter_mut().find(same) {
            Some((_, needs)) => needs.push(&bucket.need),
            None => kinds.push((bucket, vec![&bucket.need])),
        }
    }
    kinds
        .into_iter()
        .map(|(bucket, needs)| {
            let need = Need::merged(needs);
            RoleNeed {
                role: bucket.role.clone(),
                language: bucket.language.clone(),
                element: bucket.element.clone(),
                style: survey.styles[bucket.style].clone(),
                total: need.total,
                clusters: need
                    .clusters
                    .into_iter()
                    .map(|cluster| NeededCluster {
                        group: cluster.group.label().to_owned(),
                        cluster: cluster.text,
                        count: cluster.count,
                        first: cluster.first,
                    })
                    .collect(),
            }
        })
        .collect()
}
