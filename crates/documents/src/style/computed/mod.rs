//! Computed values (CSS Cascade 5, §4.4) of what text and its boxes need.

mod boxes;
mod counters;
mod text;
mod tracks;

pub use boxes::{
    Align, Bidi, BoxStyle, Display, Extent, Flex, FlexWrap, Grid, Hyphens, Length, LineBreak,
    Outer, OverflowWrap, Placement, Position, Relative, Side, Sides, Skipped, TabSize, TablePart,
    Unsupported, Vertical, WhiteSpaceCollapse, WordBreak,
};
pub(crate) use counters::{CounterChanges, Numbered};
pub use text::{CaseChange, LineHeight, MEDIUM, SizeOrigin, StyleValue, TextStyle, Transform};
pub use tracks::{Line, LineEnd, Track, TrackSize, Tracks};
pub(in crate::style) use tracks::{areas, tracks};
