//! Smaller font files: a face cut to what is needed of it, in one file or in slices,
//! packed for the web, and proven to show what it showed before.

mod borders;
mod need;
mod slices;

use std::collections::BTreeSet;

use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use tidy_lattice_glyphs::font::{CharacterSet, Face, FacePick, FontFile};
use tidy_lattice_subset::proof::{Proof, Sample, neighbours, prove};
use tidy_lattice_subset::{AxisLimit, Cut, CutError, Features, Source, Want, encode};

pub use borders::{Borders, CutPair};
pub use need::{COMMON_SIGNS, Margin, TrimNeed, with_margin};
pub use slices::Slicing;
pub use tidy_lattice_subset as subset;

/// The form of a font file.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, schemars::JsonSchema,
)]
#[serde(rename_all = "lowercase")]
pub enum Packing {
    /// WOFF 2.0.
    Woff2,
    /// WOFF 1.0.
    Woff,
    /// TrueType or OpenType, not packed.
    Sfnt,
}

impl Packing {
    /// The keyword for `format()` (CSS Fonts 4, §4.3).
    pub fn css_format(self, compact: bool) -> &'static str {
        match self {
            Packing::Woff2 => "woff2",
            Packing::Woff => "woff",
            Packing::Sfnt if compact => "opentype",
            Packing::Sfnt => "truetype",
        }
    }

    /// The ending of file names.
    pub fn ending(self, compact: bool) -> &'static str {
        match self {
            Packing::Woff2 => "woff2",
            Packing::Woff => "woff",
            Packing::Sfnt if compact => "otf",
            Packing::Sfnt => "ttf",
        }
    }
}

/// How a face is to be cut.
#[derive(Debug, Clone)]
pub struct TrimRequest {
    /// What must show, and in what texts.
    pub need: TrimNeed,
    /// Features that stay besides those that CSS turns on; `None`: all of the face.
    pub features: Option<BTreeSet<[u8; 4]>>,
    /// Whether instructions for small sizes stay.
    pub hints: bool,
    /// What is left of the axes of a variable font; others stay whole.
    pub axes: Vec<AxisLimit>,
    /// Another name for the family.
    pub family: Option<String>,
    /// The forms to pack into.
    pub packings: Vec<Packing>,
    /// Into how many files.
    pub slicing: Slicing,
}

/// A file of a cut face.
#[derive(Debug, Clone, Serialize, schemars::JsonSchema)]
pub struct Piece {
    /// The characters that it shows, as `unicode-range` writes them.
    pub range: String,
    /// How many these are.
    pub characters: u64,
    /// How many glyphs it has, forms of letters and parts of glyphs included.
    pub glyphs: usize,
    /// Its tables and their sizes in bytes, before they are packed.
    pub tables: Vec<(String, usize)>,
    /// The files, one for each form.
    #[serde(skip)]
    pub files: Vec<(Packing, Vec<u8>)>,
    /// The characters.
    #[serde(skip)]
    pub set: CharacterSet,
}

impl Piece {
    /// The size of the first form, in bytes.
    pub fn bytes(&self) -> u64 {
        self.files
            .first()
            .map_or(0, |(_, bytes)| bytes.len() as u64)
    }
}

/// A face once it is cut.
#[derive(Debug, Clone, Serialize, schemars::JsonSchema)]
pub struct Trimmed {
    /// The files, those for most of the text first.
    pub pieces: Vec<Piece>,
    /// How many glyphs the face had.
    pub glyphs_before: u16,
    /// What the text holds, or was asked for one by one, and the face does not have.
    #[serde(skip)]
    pub missing: CharacterSet,
    /// Features that are left, by tag.
    pub features: Vec<String>,
    /// Features of the face that are gone.
    pub features_gone: Vec<String>,
    /// Tables of the face that are gone: of glyphs that are, or not for browsers.
    pub tables_gone: Vec<String>,
    /// Whether the outlines are CFF.
    #[serde(skip)]
    pub compact: bool,
    /// Outlines that were compared with the source.
    pub proven_outlines: usize,
    /// Texts that were shaped with both and compared.
    pub proven_texts: usize,
    /// What is left of its axes, where they were limited: `wght=400..700`.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub axes: Vec<String>,
    /// What the borders between its files cut of the texts, else of words of the languages;
    /// `None` of one file, and where there are neither.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub borders: Option<Borders>,
    /// The most that limited axes move a point, an advance or a place by, in font units:
    /// what is rounded anew.
    pub off: f64,
}

impl Trimmed {
    /// The size of all files in their first form, in bytes.
    pub fn bytes(&self) -> u64 {
        self.pieces.iter().map(Piece::bytes).sum()
    }
}

/// A part with its files, one for each form.
type Made = (Cut, Vec<(Packing, Vec<u8>)>);

fn text(tag: &[u8; 4]) -> String {
    String::from_utf8_lossy(tag).trim_end().to_owned()
}

/// Cuts face `index` of `file`.
///
/// # Errors
///
/// [`CutError`] where the face has nothing of what is needed, cannot be read, or would
/// not show the same.
pub fn trim(file: &FontFile, index: u32, request: &TrimRequest) -> Result<Trimmed, CutError> {
    let mut source = Source::read(file, index)?;
    source.limit(&request.axes)?;
    let source = source;
    let features = match &request.features {
        None => Features::All,
        Some(more) => Features::of_css(more.iter().copied()),
    };
    let want = |characters: CharacterSet| Want {
        characters,
        literal: request.need.literal,
        features: features.clone(),
        hints: request.hints,
        family: request.family.clone(),
    };
    let mapped = source.characters();
    let has =
        |point: &u32| mapped.contains(*point) || *point <= 0xFF && mapped.contains(point + 0xF000);
    if !request.need.asked().any(|point| has(&point)) {
        return Err(CutError::NothingNeeded {
            wanted: request.need.asked().count() as u64,
        });
    }
    let asked: Vec<[u8; 4]> = match &request.features {
        Some(more) => more.iter().copied().collect(),
        None => Vec::new(),
    };
    let make = |set: CharacterSet| -> Result<Made, CutError> {
        let cut = source.cut(&want(set))?;
        let mut files = Vec::new();
        for packing in &request.packings {
            let bytes = match packing {
                Packing::Woff2 => encode::woff2(&cut.sfnt)?,
                Packing::Woff => encode::woff(&cut.sfnt)?,
                Packing::Sfnt => cut.sfnt.clone(),
            };
            files.push((*packing, bytes));
        }
        Ok((cut, files))
    };
    let sets = request.slicing.plan(&request.need, &mapped);
    let limit = request.slicing.largest();
    let halved = |set: CharacterSet| slices::made_to_fit(&set, limit, &make);
    let made: Vec<Vec<_>> = if sets.len() < 2 && limit.is_none() {
        vec![vec![make(sets.into_iter().next().unwrap_or_default())?]]
    } else {
        sets.into_par_iter().map(halved).collect::<Result<_, _>>()?
    };
    let made: Vec<Made> = made.into_iter().flatten().collect();
    let proofs: Vec<Proof> = (made.par_iter())
        .map(|(cut, _)| {
            let mut samples = request.need.samples.clone();
            samples.extend(neighbours(cut.characters.iter().filter_map(char::from_u32)));
            prove(file, index, cut, &samples, &asked, &request.axes)
        })
        .collect::<Result<_, _>>()?;
    let left: BTreeSet<[u8; 4]> = made
        .iter()
        .flat_map(|(cut, _)| cut.features.clone())
        .collect();
    let gone = source.features().difference(&left).map(text).collect();
    let borders = cut_by_borders(file, index, request, &made);
    let compact = made.iter().any(|(cut, _)| cut.sfnt.starts_with(b"OTTO"));
    Ok(Trimmed {
        glyphs_before: source.glyph_count(),
        missing: CharacterSet::of(request.need.asked().filter(|point| !has(point))),
        features: left.iter().map(text).collect(),
        features_gone: gone,
        tables_gone: made
            .first()
            .map_or_else(Vec::new, |(cut, _)| cut.dropped.clone()),
        compact,
        borders,
        proven_outlines: proofs.iter().map(|proof| proof.outlines).sum(),
        axes: request.axes.iter().map(ToString::to_string).collect(),
        off: proofs.iter().map(|proof| proof.off).fold(0.0, f64::max),
        proven_texts: proofs.iter().map(|proof| proof.texts).sum(),
        pieces: made.into_iter().map(piece).collect(),
    })
}

/// What the borders between `made` cut of the texts of `request`.
fn cut_by_borders(
    file: &FontFile,
    index: u32,
    request: &TrimRequest,
    made: &[Made],
) -> Option<Borders> {
    let need = &request.need;
    if made.len() < 2 || need.samples.is_empty() && need.words.is_empty() {
        return None;
    }
    let pick = FacePick {
        index,
        ..FacePick::default()
    };
    let face = Face::open(file, &pick).ok()?;
    let files: Vec<&CharacterSet> = made.iter().map(|(cut, _)| &cut.characters).collect();
    let samples = need.samples.iter().map(|sample| sample.text.as_str());
    let texts = samples.chain(need.words.iter().map(String::as_str));
    Some(borders::borders(&face, &files, texts))
}

fn piece((cut, files): Made) -> Piece {
    Piece {
        range: cut.characters.css(),
        characters: cut.characters.len(),
        glyphs: cut.glyphs.len(),
        tables: cut.tables,
        files,
        set: cut.characters,
    }
}

/// A text as a sample for the proof.
pub fn sample(text: &str, language: Option<&str>) -> Sample {
    Sample {
        text: text.to_owned(),
        language: language.map(str::to_owned),
    }
}
