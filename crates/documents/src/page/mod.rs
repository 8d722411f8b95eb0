//! Pages: HTML with its style sheets, as texts with the style of each.
//!
//! The tree is that of browsers ([`Dom`]); the cascade computes the properties
//! that fonts need; texts are everything that a reader may see: content,
//! generated content and list markers, placeholders, form values, alternatives
//! and titles. Nothing is fetched from the network.

mod box_lengths;
mod box_shorthands;
mod box_values;
mod boxes;
mod cascade;
mod dom;
mod element;
mod flow;
mod generated;
mod hints;
pub mod language;
mod properties;
mod sheets;
mod states;
mod style;
mod texts;
mod tracks;
mod transform;
mod tree;
mod variables;
mod walk;
mod work;

pub use boxes::{
    Align, Bidi, Blanks, BoxStyle, Display, Extent, Flex, Grid, Length, LineBreak, OverflowWrap,
    Placement, Position, Side, Sides, Skipped, TablePart, Vertical, WordBreak,
};
pub use dom::{Dom, NodeId};
pub use flow::{Control, Flow, FlowKind, FlowNode, FlowPage, Natural, Sign};
pub use sheets::{
    Files, OpenedFile, PageProblem, PlacedFace, Unread, following, font_faces, may_be_quoted,
};
pub use style::{CaseChange, LineHeight, MEDIUM, StyleValue, TextStyle, Transform};
pub use texts::{Page, PageText, TextOrigin, read};
pub use tracks::{Line as GridLine, LineEnd, Track, TrackSize, Tracks};
pub use transform::transformed;
pub use tree::read_flow;
