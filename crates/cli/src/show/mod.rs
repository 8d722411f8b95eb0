//! How results look; one file an output form.

pub mod build;
pub mod check;
pub mod compare;
pub mod cover;
pub mod demo;
pub mod describe;
pub mod device_stack;
pub mod explain;
pub mod forecast;
mod gap_lines;
mod grouping;
pub mod init;
pub mod json;
pub mod measuring;
pub mod picture;
pub mod platforms;
pub mod prove;
pub mod put_in;
pub mod rank;
pub mod record;
pub mod report;
pub mod shift;
pub mod survey;
mod table;
pub mod text;
pub mod trace;
pub mod trim;

pub use text::count;

/// How many gaps a view lists.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum GapLimit {
    /// All of them.
    All,
    /// This many of the most frequent.
    Most(usize),
}
