//! Pages: HTML with its style sheets, as texts with the style of each.
//!
//! The tree is that of browsers ([`Dom`]); the cascade computes the properties
//! that fonts need; texts are everything that a reader may see: content,
//! generated content and list markers, placeholders, form values, alternatives
//! and titles. Nothing is fetched from the network.

mod cascade;
mod counters;
mod dom;
mod element;
mod flow;
mod generated;
mod hints;
pub mod language;
mod sheets;
mod states;
mod texts;
mod transform;
mod tree;
mod variables;
mod walk;
mod work;

pub use dom::{Dom, NodeId};
pub use flow::{Control, FieldText, Flow, FlowKind, FlowNode, FlowPage, Natural, Sign};
pub use sheets::{
    Files, OpenedFile, PageProblem, PlacedFace, Unread, following, font_faces, may_be_quoted,
};
pub use texts::{Page, PageText, TextOrigin, read};
pub use transform::transformed;
pub use tree::read_flow;

pub use crate::style::computed::{
    Align, Bidi, BoxStyle, CaseChange, Display, Extent, Flex, FlexWrap, Grid, Hyphens, Length,
    Line as GridLine, LineBreak, LineEnd, LineHeight, MEDIUM, Outer, OverflowWrap, Placement,
    Position, Side, Sides, Skipped, StyleValue, TabSize, TablePart, TextStyle, Track, TrackSize,
    Tracks, Transform, Unsupported, Vertical, WhiteSpaceCollapse, WordBreak,
};
