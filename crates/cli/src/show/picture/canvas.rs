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
            steps(path)
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

/// An outline as `d` has it, in steps from point to point: they take half the room. Points
/// are rounded to hundredths of a px, so that files are equal everywhere, and steps go from
/// one rounded point to the next, so that nothing drifts.
pub fn steps(path: &BezPath) -> String {
    let hundredths = |p: kurbo::Point| [(p.x * 100.0).round(), (p.y * 100.0).round()];
    let mut text = String::new();
    let (mut from, mut start) = ([0.0; 2], [0.0; 2]);
    for element in path.elements() {
        let (command, points): (char, &[kurbo::Point]) = match element {
            kurbo::PathEl::MoveTo(a) => ('m', &[*a]),
            kurbo::PathEl::LineTo(a) => ('l', &[*a]),
            kurbo::PathEl::QuadTo(a, b) => ('q', &[*a, *b]),
            kurbo::PathEl::CurveTo(a, b, c) => ('c', &[*a, *b, *c]),
            kurbo::PathEl::ClosePath => ('z', &[]),
        };
        text.push(command);
        let mut last = from;
        for (place, point) in points.iter().enumerate() {
            last = hundredths(*point);
            for axis in 0..2 {
                let step = (last[axis] - from[axis]) / 100.0;
                // A sign parts numbers, too.
                if (place, axis) != (0, 0) && step >= 0.0 {
                    text.push(' ');
                }
                // There is no negative nothing.
                let _ = write!(text, "{}", step + 0.0);
            }
        }
        match command {
            'm' => start = last,
            'z' => last = start,
            _ => {}
        }
        from = last;
    }
    text
}

/// From font units, y upwards, to px, y downwards.
pub fn to_px(x: f64, baseline: f64, scale: f64) -> Affine {
    Affine::new([scale, 0.0, 0.0, -scale, x, baseline])
}

#[cfg(test)]
mod tests {
    use kurbo::{BezPath, ParamCurve as _, Shape as _};

    use super::steps;

    #[test]
    fn steps_read_back_as_the_outline() {
        let outline = "M65.5,48.56 Q63.37,46.53 60.51,45.984 L54.84,46.53 C1,-2 3.004,4 5,6 Z \
                       M-7.67,52.4 L80.99,62.6 L0,0 Z M3,3 L4,4";
        let path = BezPath::from_svg(outline).expect("an outline");
        let text = steps(&path);
        let read = BezPath::from_svg(&text).expect("the same");
        assert_eq!(read.elements().len(), path.elements().len());
        let (a, b) = (path.bounding_box(), read.bounding_box());
        for (a, b) in [(a.x0, b.x0), (a.y0, b.y0), (a.x1, b.x1), (a.y1, b.y1)] {
            assert!((a - b).abs() < 0.006, "{a} and {b}: {text}");
        }
        let points = |path: &BezPath| {
            path.segments()
                .map(|segment| segment.eval(1.0))
                .collect::<Vec<_>>()
        };
        let (a, b): (Vec<kurbo::Point>, Vec<_>) = (points(&path), points(&read));
        assert!(
            a.iter().zip(&b).all(|(a, b)| a.distance(*b) < 0.008),
            "{text}"
        );
    }
}
