//! Drawings: specimen sheets and comparisons, as SVG or PNG.
//!
//! All text is drawn as outlines, the labels in a face of the demo, so that a
//! picture is the same on every machine, whatever fonts it has.

mod canvas;
mod compare;
mod lettering;
mod letters;
mod ranking;
mod raster;
mod shift;
mod specimen;
mod stand_in;

use std::path::Path;

pub use compare::comparison;
pub use letters::letters;
pub use ranking::ranking;
pub use raster::differing_pixels;
pub use shift::shift_picture;
pub use specimen::specimen;
pub use stand_in::{StandInPicture, stand_in};

use crate::error::CliError;

/// The form of a picture, told by the ending of its file name.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Form {
    /// Vectors.
    Svg,
    /// Pixels.
    Png,
}

impl Form {
    /// The form of the file at `path`.
    ///
    /// # Errors
    ///
    /// [`CliError::Usage`] for other endings than `.svg` and `.png`.
    pub fn of(path: &Path) -> Result<Self, CliError> {
        let ending = path
            .extension()
            .map(|ending| ending.to_string_lossy().to_ascii_lowercase());
        match ending.as_deref() {
            Some("svg") => Ok(Form::Svg),
            Some("png") => Ok(Form::Png),
            _ => Err(CliError::Usage(format!(
                "--picture {}: pictures are SVG or PNG; end the name in .svg or .png",
                path.display()
            ))),
        }
    }

    /// The bytes of the file for `svg`.
    pub fn encode(self, svg: &str) -> Result<Vec<u8>, CliError> {
        match self {
            Form::Svg => Ok(svg.as_bytes().to_vec()),
            Form::Png => raster::png(svg),
        }
    }
}
