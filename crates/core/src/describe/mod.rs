//! What a font holds: identity, rights, line, characters, languages, shaping,
//! features, variations, colour and bytes of one face.
//!
//! At [`Depth::Summary`] everything is read from tables; at [`Depth::Full`]
//! outlines are measured and text is shaped too.

mod bytes;
mod characters;
mod emoji;
mod family;
mod features;
mod figures;
mod finding;
mod identity;
mod kerning;
mod languages;
mod line;
mod rights;
mod shape;
mod variable;

use serde::Serialize;
use skrifa::font::Kind;
use skrifa::raw::{ReadError, TableProvider};

pub use bytes::{Bytes, TableBytes, Woff2Size};
pub use characters::Characters;
pub use emoji::{EmojiSupport, EmojiVersion, joined_sequences};
pub use family::{FaceOfFamily, FamilyDescription};
pub use features::{FeatureDefault, FeatureDescription, Sample};
pub use figures::{Figures, Joined, OtherFigures};
pub use finding::Finding;
pub use identity::{Identity, Outlines};
pub use kerning::{KernedPair, Kerning, KerningSource};
pub use languages::{LanguageVerdict, SetCoverage, Verdict};
pub use line::{Height, LineDescription, MeanAdvance, MetricSet};
pub use rights::Rights;
pub use shape::LetterShape;
pub(crate) use shape::strokes;
pub use tidy_lattice_glyphs::font::{Class, ClassJudgement, ColourTable, Share, Sureness};
pub use variable::{Axis, Position, Variable};

use tidy_lattice_coverage::lattice::{ScriptShaping, scripts_shaped};
use tidy_lattice_glyphs::font::{Face, FacePick, FontError, FontFile, colour_tables};
use tidy_lattice_glyphs::text::exemplars::Language;

/// How deep to look.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Depth {
    /// What tables state: fast enough for hundreds of files.
    Summary,
    /// Outlines measured and text shaped as well.
    Full,
}

/// What is asked about a face.
#[derive(Debug, Clone)]
pub struct Question {
    /// How deep to look.
    pub depth: Depth,
    /// The languages to judge; `None` for all at full depth.
    pub languages: Option<Vec<&'static Language>>,
    /// The language whose sample stands for running text.
    pub text_language: String,
}

/// What a face holds.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Description {
    /// Names, weight, width, slope, container.
    pub identity: Identity,
    /// Serif, sans and so on.
    pub class: ClassJudgement,
    /// What the file says about its use.
    pub rights: Rights,
    /// Vertical metrics and heights.
    pub line: LineDescription,
    /// Characters by script and block.
    pub characters: Characters,
    /// Languages; none at summary level unless some were asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub languages: Option<Vec<LanguageVerdict>>,
    /// Whether scripts work beyond their characters.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shaping: Option<Vec<ScriptShaping>>,
    /// Features by tag.
    pub features: Vec<FeatureDescription>,
    /// The letters and signs that it joins; none at summary level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub joined: Option<Joined>,
    /// What its figures look like; none at summary level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub figures: Option<Figures>,
    /// Kerning.
    pub kerning: Kerning,
    /// The design space of a variable font.
    pub variable: Option<Variable>,
    /// Emoji; none at summary level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub emoji: Option<EmojiSupport>,
    /// Colour and bitmap tables.
    pub colour: Vec<ColourTable>,
    /// Bytes.
    pub bytes: Bytes,
    /// What is wrong, or must be known before use.
    pub findings: Vec<Finding>,
}

/// Describes the face of `file` that `pick` names.
///
/// # Errors
///
/// [`FontError`], where the face cannot be opened at all; single broken tables
/// are findings.
pub fn describe(
    file: &FontFile,
    pick: &FacePick,
    question: &Question,
) -> Result<Description, FontError> {
    let face = Face::open(file, pick)?;
    let measure = question.depth == Depth::Full;
    let (Some(font), Some(identity), Some(line), Some(characters)) = (
        face.font(),
        Identity::read(&face, pick.index, file.face_count()),
        LineDescription::read(&face, measure, &question.text_language),
        Characters::read(&face),
    ) else {
        // Only cards lack a font, and this face was opened from a file.
        return Err(FontError::NoSuchIndex {
            index: pick.index,
            count: file.face_count(),
        });
    };
    let rights = Rights::read(font);
    let mut findings = broken_tables(&face, file, pick.index);
    findings.extend(
        rights
            .warning()
            .map(|text| Finding::fact("font-rights", text)),
    );
    findings.extend(contradictions(&line));
    let features = features::read(&face, measure, &mut findings);
    let judged = measure || question.languages.is_some();
    let shaping = judged.then(|| scripts_shaped(&face));
    let languages = judged.then(|| {
        let shaping = shaping.as_deref().unwrap_or_default();
        languages::judge(&face, question.languages.as_deref(), shaping)
    });
    let text_language = measure.then_some(question.text_language.as_str());
    let kerning = Kerning::read(&face, file, pick.index, text_language);
    if kerning.source == KerningSource::KernTableDropped {
        findings.push(Finding::fact(
            "font-kerning-dropped",
            format!(
                "the old kern table lists {} pairs; browsers drop such a table when the font is a \
                 web font, so it is kerned when installed and not kerned when loaded; export it \
                 with kerning in GPOS",
                kerning.pairs
            ),
        ));
    }
    Ok(Description {
        class: ClassJudgement::judge(&face, measure),
        rights,
        characters,
        languages,
        shaping,
        joined: measure.then(|| Joined::read(&face)),
        figures: measure.then(|| Figures::read(&face, &features)),
        features,
        kerning,
        variable: Variable::read(font),
        emoji: measure.then(|| EmojiSupport::read(&face)).flatten(),
        colour: colour_tables(font),
        bytes: Bytes::weigh(file, pick.index, measure),
        identity,
        line,
        findings,
    })
}

/// Judges the languages that are `asked`, or all, of a font or a card.
pub fn judge_languages(face: &Face, asked: Option<&[&'static Language]>) -> Vec<LanguageVerdict> {
    languages::judge(face, asked, &scripts_shaped(face))
}

/// What the feature `tag` does, in a sentence.
pub fn feature_does(tag: &str) -> String {
    features::known(tag).does
}

/// Heights that OS/2 states otherwise than the outlines show.
fn contradictions(line: &LineDescription) -> Vec<Finding> {
    let heights = [("x-height", line.x_height), ("cap height", line.cap_height)];
    heights
        .into_iter()
        .filter(|(_, height)| height.contradicts(line.units_per_em))
        .filter_map(|(name, height)| {
            let (declared, measured) = (height.declared?, height.measured?);
            Some(Finding::fact(
                "font-height-wrong",
                format!(
                    "OS/2 states a{} {name} of {declared} units, but the letter is {measured} units \
                     high; the drawn height is used here",
                    if name.starts_with('x') { "n" } else { "" }
                ),
            ))
        })
        .collect()
}

/// Tables that cannot be read, each with what depends on it.
fn broken_tables(face: &Face, file: &FontFile, index: u32) -> Vec<Finding> {
    let mut findings = Vec::new();
    for table in file.tables(index).iter().filter(|table| !table.inside) {
        findings.push(Finding::fault(
            "font-table-broken",
            format!(
                "the {} table lies outside the file, so what depends on it is not told; browsers \
                 refuse such a font; copy or download it again",
                table.tag.trim_end()
            ),
        ));
    }
    let Some(Kind::Sfnt(tables, _)) = face.font().map(skrifa::font::Font::kind) else {
        return findings;
    };
    let axes = face.font().map(skrifa::font::Font::axes);
    let axes = axes.iter().flat_map(|axes| axes.iter());
    for axis in axes.filter(|axis| axis.min_value() > axis.max_value()) {
        findings.push(Finding::fault(
            "font-table-broken",
            format!(
                "the axis {} runs from {} to {} in the fvar table, backwards, so the face cannot be \
                 moved along it; export the font again",
                axis.tag(),
                axis.min_value(),
                axis.max_value()
            ),
        ));
    }
    let tables: &skrifa::font::Tables = tables;
    let mut check = |tag: &str, depends: &str, read: Result<(), ReadError>| {
        let there = file.table(index, tag).is_some();
        if there && read.is_err() {
            findings.push(Finding::fault(
                "font-table-broken",
                format!(
                    "the {} table cannot be read, so {depends} not told; export the font again",
                    tag.trim_end()
                ),
            ));
        }
    };
    check("name", "names are", tables.name().map(drop));
    check(
        "OS/2",
        "weight, rights and some metrics are",
        tables.os2().map(drop),
    );
    check("post", "slope and underline are", tables.post().map(drop));
    check("cmap", "characters are", tables.cmap().map(drop));
    check("GSUB", "substitutions are", tables.gsub().map(drop));
    check(
        "GPOS",
        "kerning and mark placement are",
        tables.gpos().map(drop),
    );
    check("GDEF", "classes of glyphs are", tables.gdef().map(drop));
    check("fvar", "axes are", tables.fvar().map(drop));
    check("COLR", "layers in colour are", tables.colr().map(drop));
    check("kern", "old kerning is", tables.kern().map(drop));
    findings
}
