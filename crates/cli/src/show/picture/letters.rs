//! A cluster as one face draws it, small, to stand in a line of a page.

use kurbo::Shape as _;
use tidy_lattice_core::font::Face;

use super::canvas::{steps, to_px};
use super::lettering::Lettering;

/// The size that clusters are drawn at, in px.
const SIZE: f64 = 32.0;

/// The widest drawing, in px: a cluster may be endless.
const WIDEST: f64 = 240.0;

/// The cluster as SVG in the colour of the text around it, called by `label`. `None` where
/// the face has no outlines for it, as cards and fonts of pictures have none.
pub fn letters(face: &Face, cluster: &str, label: &str) -> Option<String> {
    if face.is_card() {
        return None;
    }
    let scale = SIZE / f64::from(face.units_per_em());
    let outline = to_px(0.0, 0.0, scale) * Lettering::new(face).outline(cluster);
    let bounds = outline.bounding_box();
    if outline.elements().is_empty() || bounds.width() > WIDEST || bounds.height() > WIDEST {
        return None;
    }
    let bounds = bounds.inset(1.0).expand();
    let label = label
        .replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('"', "&quot;");
    Some(format!(
        "<svg role=\"img\" aria-label=\"{label}\" viewBox=\"{} {} {width} {height}\" \
         width=\"{width}\" height=\"{height}\"><path fill=\"currentColor\" d=\"{}\"/></svg>",
        bounds.x0,
        bounds.y0,
        steps(&outline),
        width = bounds.width(),
        height = bounds.height(),
    ))
}

#[cfg(test)]
mod tests {
    use tidy_lattice_core::font::{FacePick, FontFile, Limits};

    use super::*;

    #[test]
    fn clusters_are_drawn_where_there_are_outlines() {
        let bytes = tidy_lattice_demo::file("fonts/TidefallArabic-Regular.ttf").expect("a font");
        let file = FontFile::read(bytes.to_vec(), Limits::DEFAULT).expect("a font");
        let face = Face::open(&file, &FacePick::default()).expect("a face");
        let svg = letters(&face, "\u{628}", "beh in \"Tidefall\" & more").expect("a drawing");
        assert!(
            svg.contains("aria-label=\"beh in &quot;Tidefall&quot; &amp; more\""),
            "{svg}"
        );
        assert!(svg.contains("d=\"m"), "{svg}");
        // A blank has no outline, and what is endless is not drawn.
        assert_eq!(letters(&face, " ", "a blank"), None);
        assert_eq!(letters(&face, &"\u{628} ".repeat(80), "many"), None);
    }
}
