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

/// The share of pixels of two pictures that differ, in %; nothing where they are of
/// different sizes, or no pictures.
pub fn differing_pixels(one: &[u8], other: &[u8]) -> Option<f64> {
    let read = |bytes: &[u8]| {
        let mut decoder = png::Decoder::new(std::io::Cursor::new(bytes));
        decoder.set_transformations(png::Transformations::normalize_to_color8());
        let mut reader = decoder.read_info().ok()?;
        let mut pixels = vec![0; reader.output_buffer_size()?];
        let info = reader.next_frame(&mut pixels).ok()?;
        pixels.truncate(info.buffer_size());
        Some((info.width, info.height, info.color_type.samples(), pixels))
    };
    let (one, other) = (read(one)?, read(other)?);
    if (one.0, one.1, one.2) != (other.0, other.1, other.2) || one.3.is_empty() {
        return None;
    }
    let pixels = one.3.chunks(one.2).zip(other.3.chunks(one.2));
    let count = one.3.len() / one.2;
    let differing = pixels.filter(|(a, b)| a != b).count();
    Some((differing as f64 / count as f64 * 10_000.0).round() / 100.0)
}
