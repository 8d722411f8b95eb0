//! Firefox's lines of a web font and of its stand-ins under candidate values, at every size.
//! A search puts the same values together again and again, so what each gives is kept.

use std::cell::OnceCell;

use tidy_lattice_layout::firefox::{Design, Extent, Line, Used};

use super::LineRequest;
use crate::sizes::Sizes;

/// The web font and its stand-ins at every size.
pub struct FirefoxLines {
    /// The web font, then the stand-ins in the order of the request; of each, the sizes.
    faces: Vec<Vec<[Used; 2]>>,
}

/// One value of each face, in %, the web font's first, and what they give.
#[derive(Debug, Clone)]
pub struct Values {
    /// In %.
    pub percent: Vec<f64>,
    /// By face and size.
    extents: OnceCell<Vec<Vec<[Extent; 2]>>>,
}

impl Values {
    /// Values that nothing was computed of yet.
    pub fn new(percent: Vec<f64>) -> Self {
        let extents = OnceCell::new();
        Values { percent, extents }
    }
}

impl FirefoxLines {
    /// Those of `request`.
    pub fn new(request: &LineRequest, sizes: &Sizes) -> Self {
        let web = (request.web_design, 100.0);
        let stand_ins = request.stand_ins.iter();
        let faces = std::iter::once(web).chain(stand_ins.map(|f| (f.design, f.size_adjust)));
        let at_sizes = |(design, size_adjust): (Design, f64)| {
            let sizes = sizes.px.iter();
            sizes
                .map(|size| design.around(*size, size_adjust))
                .collect()
        };
        FirefoxLines {
            faces: faces.map(at_sizes).collect(),
        }
    }

    /// Whether a stand-in's line at a size, both by number, is the web font's under these
    /// values (ascent, descent, line gap), and stays so under the errors of single precision.
    pub fn agree(&self, values: [&Values; 3], stand_in: usize, size: usize) -> bool {
        let line = self.line(values, 0, size);
        line.is_some() && line == self.line(values, stand_in + 1, size)
    }

    /// The line of a face at a size; `None` where the errors of single precision decide.
    fn line(&self, [ascent, descent, gap]: [&Values; 3], face: usize, size: usize) -> Option<Line> {
        let ascents = &self.extents(ascent, Used::ascent)[face][size];
        let descents = &self.extents(descent, Used::descent)[face][size];
        let at = |error: usize| {
            let used = &self.faces[face][size][error];
            let gap = used.line_gap(gap.percent[face]);
            used.line(ascents[error], descents[error], gap)
        };
        let line = at(0);
        (line == at(1)).then_some(line)
    }

    fn extents<'v>(
        &self,
        values: &'v Values,
        extent: impl Fn(&Used, f64) -> Extent,
    ) -> &'v [Vec<[Extent; 2]>] {
        values.extents.get_or_init(|| {
            let faces = self.faces.iter().zip(&values.percent);
            let of_face = |(sizes, percent): (&Vec<[Used; 2]>, &f64)| {
                let of_size = |both: &[Used; 2]| both.map(|used| extent(&used, *percent));
                sizes.iter().map(of_size).collect()
            };
            faces.map(of_face).collect()
        })
    }
}
