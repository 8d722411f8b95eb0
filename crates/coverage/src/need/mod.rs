//! What a text needs: its extended grapheme clusters with counts, and the
//! script or group that each belongs to.

mod clusters;
mod of_language;

pub use clusters::{ClusterNeed, Counter, Need, Place, SourceId};
pub use of_language::language_need;
