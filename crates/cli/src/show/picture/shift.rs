//! A page before and after its web fonts arrive, in outline; filled in below.

use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::Flow;
use tidy_lattice_core::platform::Device;

use super::canvas::Canvas;
use crate::commands::ShiftCell;

/// Draws a page.
pub fn shift_picture(
    _cell: &ShiftCell,
    _flow: &Flow,
    _web: &[WebFace],
    _device: &Device<'_>,
    _engine: Engine,
) -> String {
    Canvas::new().svg()
}
