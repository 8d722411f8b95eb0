//! Installed families at the size and line of the font whose look is wanted, so that texts
//! keep their lines from device to device.

use serde::Serialize;
use tidy_lattice_documents::style::{FontFaceRule, SourceRef};
use tidy_lattice_glyphs::font::{Face, LineSource, Slope};
use tidy_lattice_layout::firefox::Design;

use super::super::Note;
use super::super::stand_ins::local_names;
use tidy_lattice_standin::{
    Deviation, FitOptions, Fitting, LineRequest, ResizedFace, Slices, StandInLines, TextSample,
    fit_lines,
};

/// A face is drawn for a weight where it is this near, in units of `font-weight`.
const SAME_WEIGHT: f32 = 150.0;

/// Words that differ by less, in % on the mean, are as wide.
pub const SAME: f64 = 0.05;

/// What families are brought to.
pub struct ResizeRequest<'a> {
    /// The family of the wanted font.
    pub family: String,
    /// Its faces, the one that the look is taken from first.
    pub like: Vec<&'a Face>,
    /// The text that widths are fitted on.
    pub sample: &'a TextSample,
    /// Sizes in use, in px.
    pub sizes: Vec<f32>,
    /// Widths of columns in use, in px.
    pub widths: Vec<f64>,
}

/// An installed family with its measured faces.
pub struct InstalledFamily<'a> {
    /// Its name.
    pub name: String,
    /// Its faces.
    pub faces: Vec<&'a Face>,
}

/// An installed family at the size and line of the wanted font.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ResizedFamily {
    /// The family in the style sheet.
    pub family: String,
    /// The installed family.
    pub over: String,
    /// Its faces.
    pub faces: Vec<ResizedOne>,
}

/// A face of such a family.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ResizedOne {
    /// The names in `local()`.
    pub local: Vec<String>,
    /// `font-weight`.
    pub weight: f32,
    /// `font-style`.
    pub slope: Slope,
    /// `size-adjust` in %.
    pub size_adjust: f64,
    /// How far its words are off in width; `None` where the wanted font has no face to hold
    /// it against, and its size is that of another face of the family.
    pub words: Option<Deviation>,
    /// What its rule states of lines, and where these differ from the wanted font's; `None`
    /// where those are not known.
    pub lines: Option<StandInLines>,
}

impl ResizedFamily {
    /// Its main face: upright, nearest to weight 400.
    pub fn main(&self) -> Option<&ResizedOne> {
        let off = |one: &&ResizedOne| (one.slope != Slope::Normal, (one.weight - 400.0).abs());
        let mut faces = self.faces.iter();
        let first = faces.next()?;
        Some(faces.fold(first, |best, one| {
            let (a, b) = (off(&one), off(&best));
            if (a.0, a.1) < (b.0, b.1) { one } else { best }
        }))
    }

    /// Its rules.
    pub(in crate::stack) fn rules(&self) -> impl Iterator<Item = FontFaceRule> {
        self.faces.iter().enumerate().map(|(number, one)| {
            let comment = match &one.words {
                Some(words) if number == 0 && words.word_mean < SAME => {
                    format!("{}: its lines as those of the others.", self.over)
                }
                Some(words) if number == 0 => format!(
                    "{} at the size of the wanted font: words differ by {:.1} % on average.",
                    self.over, words.word_mean
                ),
                _ => String::new(),
            };
            FontFaceRule {
                comment,
                family: self.family.clone(),
                sources: one.local.iter().cloned().map(SourceRef::Local).collect(),
                weight: (one.weight, one.weight),
                stretch: None,
                style: one.slope.css(),
                display: None,
                unicode_range: None,
                size_adjust: Some(one.size_adjust),
                overrides: one.lines.as_ref().map(|lines| lines.overrides),
            }
        })
    }
}

/// Brings `families` to the size and line of the wanted font. One that cannot be is left as
/// it is, and that is noted.
pub fn resize(
    request: &ResizeRequest<'_>,
    families: &[InstalledFamily<'_>],
) -> (Vec<ResizedFamily>, Vec<Note>) {
    let (mut resized, mut notes) = (Vec::new(), Vec::new());
    let fittings: Vec<Fitting<'_>> = request
        .like
        .iter()
        .map(|face| Fitting::new(face, request.sample, &request.sizes, &request.widths))
        .collect();
    for family in families {
        let sizes = sizes(request, &fittings, family);
        if sizes.is_empty() {
            notes.push(Note::remark(
                "not-resized",
                format!(
                    "{} stays at its own size: it has no face that style sheets reach by its name \
                     and that shows words of the text",
                    family.name
                ),
            ));
            continue;
        }
        let lines = lines(request, &sizes);
        notes.extend(uneven(request, family, &lines));
        let faces = sizes.into_iter().enumerate();
        let faces = faces.map(|(number, (face, size_adjust, words))| ResizedOne {
            local: local_names(face),
            weight: face.weight(),
            slope: face.slope(),
            size_adjust,
            words,
            lines: lines.get(number).cloned(),
        });
        resized.push(ResizedFamily {
            family: format!("{} via {}", request.family, family.name),
            over: family.name.clone(),
            faces: faces.collect(),
        });
    }
    if request.like[0].line().source == LineSource::NotKnown {
        notes.push(Note::remark(
            "lines-not-known",
            format!(
                "how high lines of {} are is not known, so sizes alone are the same; state a \
                 line-height",
                request.family
            ),
        ));
    }
    share_names(&mut resized);
    (resized, notes)
}

/// The lines of each face; none where those of the wanted font are not known.
fn lines(request: &ResizeRequest<'_>, sizes: &[Sized<'_>]) -> Vec<StandInLines> {
    let like = request.like[0];
    if like.line().source == LineSource::NotKnown {
        return Vec::new();
    }
    let resized = sizes.iter().map(|(face, size, _)| ResizedFace {
        size_adjust: *size,
        design: Design::of(face),
    });
    let fit = fit_lines(&LineRequest {
        web: like.line(),
        web_design: Design::of(like),
        stand_ins: resized.collect(),
        beside: Vec::new(),
        sizes: request.sizes.clone(),
        pin: true,
        taller: 0.0,
    });
    fit.stand_ins
}

/// Sizes in use at which lines of a family are not as high as the wanted font's.
fn uneven(
    request: &ResizeRequest<'_>,
    family: &InstalledFamily<'_>,
    lines: &[StandInLines],
) -> Option<Note> {
    let is_off = |size: &&f32| {
        lines.iter().any(|lines| {
            let firefox = lines.off_in_firefox.as_ref();
            lines.off_in_chromium.contains(size) || firefox.is_some_and(|off| off.contains(size))
        })
    };
    let off: Vec<String> = (request.sizes.iter())
        .filter(is_off)
        .map(|size| format!("{size} px"))
        .collect();
    (!off.is_empty()).then(|| {
        Note::finding(
            "lines-differ",
            format!(
                "lines of {} are not as high as those of {} at {}; state a line-height",
                family.name,
                request.family,
                off.join(", ")
            ),
        )
    })
}

/// `local()` knows no family by the name of another that it is shown for, so families of
/// the same metrics have each other's names.
fn share_names(resized: &mut [ResizedFamily]) {
    for number in 0..resized.len() {
        let (before, rest) = resized.split_at_mut(number);
        let Some((one, after)) = rest.split_first_mut() else {
            continue;
        };
        for other in before.iter().chain(&*after) {
            let alike = |(a, b): (&ResizedOne, &ResizedOne)| {
                (a.weight, a.slope, a.size_adjust) == (b.weight, b.slope, b.size_adjust)
                    && a.lines == b.lines
            };
            let mut both = one.faces.iter().zip(&other.faces);
            if one.faces.len() != other.faces.len() || !both.all(alike) {
                continue;
            }
            for (face, other) in one.faces.iter_mut().zip(&other.faces) {
                for name in &other.local {
                    if !face.local.contains(name) {
                        face.local.push(name.clone());
                    }
                }
            }
        }
    }
}

/// A face with its `size-adjust` in % and how far words are off.
type Sized<'a> = (&'a Face, f64, Option<Deviation>);

/// The faces of a family that `local()` finds, with their `size-adjust` in % and how far
/// words are off.
fn sizes<'a>(
    request: &ResizeRequest<'_>,
    fittings: &[Fitting<'_>],
    family: &InstalledFamily<'a>,
) -> Vec<Sized<'a>> {
    let options = FitOptions {
        // These faces stay: letters of several sizes would, too.
        slices: Slices::Exactly(1),
        ..FitOptions::default()
    };
    let fitted = |face: &Face, fitting: &Fitting<'_>| {
        let width = fitting.fit(face, &options)?;
        Some((width.mean_size_adjust(), width.after))
    };
    let named = family.faces.iter().copied();
    let named: Vec<&Face> = named.filter(|face| !local_names(face).is_empty()).collect();
    let main = nearest(named.iter().copied(), request.like[0]);
    let Some(main_size) = main.and_then(|face| Some(fitted(face, &fittings[0])?.0)) else {
        return Vec::new();
    };
    let sized = named.into_iter().map(|face| {
        let alike = nearest(request.like.iter().copied(), face).filter(|like| {
            like.slope() == face.slope() && (like.weight() - face.weight()).abs() <= SAME_WEIGHT
        });
        let place = alike.and_then(|alike| {
            request
                .like
                .iter()
                .position(|one| std::ptr::eq(*one, alike))
        });
        match place.and_then(|place| fitted(face, &fittings[place])) {
            Some((size, words)) => (face, size, Some(words)),
            None => (face, main_size, None),
        }
    });
    sized.collect()
}

/// The face nearest to `wanted` in slope, then in weight.
fn nearest<'a>(faces: impl Iterator<Item = &'a Face>, wanted: &Face) -> Option<&'a Face> {
    let off = |face: &Face| {
        (
            face.slope() != wanted.slope(),
            (face.weight() - wanted.weight()).abs(),
        )
    };
    faces.min_by(|a, b| {
        let (a, b) = (off(a), off(b));
        a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
    })
}
