//! A drawing as it grows: rectangles, lines and filled paths.

use std::fmt::Write as _;

use kurbo::{Affine, BezPath};

/// The width of every picture, in px.
pub const WIDTH: f64 = 1280.0;

/// Text.
pub const INK: &str = "#1d2433";
/// What matters less.
pub const SOFT: &str = "#68718a";
/// Lines between parts.
pub const RULE: &str = "#d7dbe4";
/// The colours of faces that are compared, in their order.
pub const FACES: [&str; 6] = [
    "#1f4e8c", "#b4472e", "#2f7a4d", "#7a4a99", "#97690f", "#3d7f8d",
];

/// A drawing.
pub struct Canvas {
    body: String,
    height: f64,
}

impl Canvas {
    /// An empty one.
    pub fn new() -> Self {
        Canvas {
            body: String::new(),
            height: 0.0,
        }
    }

    /// Makes room down to `bottom`.
    pub fn reach(&mut self, bottom: f64) {
        self.height = self.height.max(bottom);
    }

    /// An arrow to the right, `width` px long, whose shaft is at `y`.
    pub fn arrow(&mut self, x: f64, y: f64, width: f64, stroke: &str) {
        let head = width / 3.0;
        let _ = writeln!(
            self.body,
            r#"<path d="M{x:.2} {y:.2}h{width:.2}m-{head:.2} -{head:.2}l{head:.2} {head:.2}l-{head:.2} {head:.2}" stroke="{stroke}" fill="none"/>"#
        );
    }

    /// A horizontal line, `dashed` or not.
    pub fn rule(&mut self, x: f64, y: f64, width: f64, stroke: &str, dashed: bool) {
        let dashes = if dashed {
            r#" stroke-dasharray="5 4""#
        } else {
            ""
        };
        let _ = writeln!(
            self.body,
            r#"<path d="M{x:.2} {y:.2}h{width:.2}" stroke="{stroke}" stroke-width="1"{dashes}/>"#
        );
        self.reach(y);
    }

    /// A filled rectangle.
    pub fn fill(&mut self, x: f64, y: f64, width: f64, height: f64, fill: &str, opacity: f64) {
        let _ = writeln!(
            self.body,
            r#"<rect x="{x:.2}" y="{y:.2}" width="{width:.2}" height="{height:.2}" fill="{fill}" fill-opacity="{opacity}"/>"#
        );
    }

    /// The edges of a rectangle.
    pub fn frame(&mut self, x: f64, y: f64, width: f64, height: f64, stroke: &str) {
        let _ = writeln!(
            self.body,
            r#"<rect x="{x:.2}" y="{y:.2}" width="{width:.2}" height="{height:.2}" fill="none" stroke="{stroke}"/>"#
        );
    }

    /// A filled outline; it stands on its own coordinates, y downwards.
    pub fn path(&mut self, path: &BezPath, fill: &str, opacity: f64) {
        if path.elements().is_empty() {
            return;
        }
        let opacity = if opacity < 1.0 {
            format!(r#" fill-opacity="{opacity}""#)
        } else {
            String::new()
        };
        let _ = writeln!(
            self.body,
            r#"<path d="{}" fill="{fill}"{opacity}/>"#,
            rounded(path).to_svg()
        );
    }

    /// The whole picture.
    pub fn svg(&self) -> String {
        let height = self.height.ceil();
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {WIDTH} {height}\" \
             width=\"{WIDTH}\" height=\"{height}\">\n<!-- Made by tidy-lattice -->\n\
             <rect width=\"{WIDTH}\" height=\"{height}\" fill=\"#ffffff\"/>\n{}</svg>\n",
            self.body
        )
    }
}

/// To hundredths of a px, so that files stay small and equal everywhere.
fn rounded(path: &BezPath) -> BezPath {
    let round = |p: kurbo::Point| {
        kurbo::Point::new((p.x * 100.0).round() / 100.0, (p.y * 100.0).round() / 100.0)
    };
    path.elements()
        .iter()
        .map(|element| match *element {
            kurbo::PathEl::MoveTo(a) => kurbo::PathEl::MoveTo(round(a)),
            kurbo::PathEl::LineTo(a) => kurbo::PathEl::LineTo(round(a)),
            kurbo::PathEl::QuadTo(a, b) => kurbo::PathEl::QuadTo(round(a), round(b)),
            kurbo::PathEl::CurveTo(a, b, c) => kurbo::PathEl::CurveTo(round(a), round(b), round(c)),
            kurbo::PathEl::ClosePath => kurbo::PathEl::ClosePath,
        })
        .collect()
}

/// From font units, y upwards, to px, y downwards.
pub fn to_px(x: f64, baseline: f64, scale: f64) -> Affine {
    Affine::new([scale, 0.0, 0.0, -scale, x, baseline])
}
