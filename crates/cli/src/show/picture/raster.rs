//! SVG to PNG.

use resvg::{tiny_skia, usvg};

use crate::error::CliError;

/// Pictures beyond this size are not made, in px.
const LARGEST: f32 = 20_000.0;

/// The PNG of `svg`, at one px per unit.
pub fn png(svg: &str) -> Result<Vec<u8>, CliError> {
    let failed = |reason: String| CliError::Unwritable {
        path: "picture".into(),
        reason,
    };
    let tree = usvg::Tree::from_str(svg, &usvg::Options::default())
        .map_err(|error| failed(error.to_string()))?;
    let size = tree.size();
    if size.width() > LARGEST || size.height() > LARGEST {
        return Err(failed(
            "the picture would be too large for PNG; use .svg".to_owned(),
        ));
    }
    let mut pixels =
        tiny_skia::Pixmap::new(size.width().ceil() as u32, size.height().ceil() as u32)
            .ok_or_else(|| failed("the picture is empty".to_owned()))?;
    resvg::render(
        &tree,
        tiny_skia::Transform::identity(),
        &mut pixels.as_mut(),
    );
    encode(&pixels).map_err(|error| failed(error.to_string()))
}

/// Encodes `pixels`, which are opaque, and signs the file as ours.
fn encode(pixels: &tiny_skia::Pixmap) -> Result<Vec<u8>, png::EncodingError> {
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, pixels.width(), pixels.height());
    encoder.set_color(png::ColorType::Rgb);
    encoder.set_depth(png::BitDepth::Eight);
    encoder.set_compression(png::Compression::High);
    encoder.add_text_chunk("Software".to_owned(), "Made by tidy-lattice".to_owned())?;
    let mut writer = encoder.write_header()?;
    let rgb: Vec<u8> = pixels
        .data()
        .chunks_exact(4)
        .flat_map(|pixel| [pixel[0], pixel[1], pixel[2]])
        .collect();
    writer.write_image_data(&rgb)?;
    writer.finish()?;
    Ok(bytes)
}
