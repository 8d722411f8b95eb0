//! Real browsers, driven over the W3C WebDriver protocol, and a server of files on
//! this machine that can hold fonts back.
//!
//! Nothing here goes to the network: drivers and pages are on the loopback
//! interface. What is started is ended again, also where the program is
//! interrupted: see `tidy.rs`.

mod boxes;
mod compare;
mod difference;
mod driver;
mod engine;
mod error;
mod launch;
mod measure;
mod network;
mod server;
mod session;
mod tidy;
mod wire;

pub use compare::Comparison;
pub use difference::{Difference, Differs, Judged};
pub use engine::Engine;
pub use error::BrowserError;
pub use launch::{Fonts, Launch};
pub use measure::{
    FaceState, Measured, MeasuredBlock, MeasuredElement, MeasuredLine, MeasuredShift, ShiftSource,
    ShownFont,
};
pub use network::{Answer, Request};
pub use server::{Server, url_of_copy, url_of_request};
pub use session::Session;
pub use tidy::{end_all, on_interrupt};
