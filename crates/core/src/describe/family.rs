//! What the faces of a family have together.

use std::collections::BTreeSet;

use serde::Serialize;
use tidy_lattice_glyphs::font::{CharacterSet, Face, Slope};
use tidy_lattice_glyphs::text::exemplars::Language;

use super::{LanguageVerdict, judge_languages};

/// A face of a family, in one file or in many.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FaceOfFamily {
    /// The least and the greatest weight, 1 to 1000; equal but for variable fonts.
    pub weight: (f32, f32),
    /// Upright, italic or oblique.
    pub slope: Slope,
    /// Its files.
    pub files: Vec<String>,
    /// What they weigh together, in bytes.
    pub bytes: u64,
}

/// A family and what it can write.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct FamilyDescription {
    /// Its name: that of the style sheet where one declares it.
    pub family: String,
    /// Its faces.
    pub faces: Vec<FaceOfFamily>,
    /// How many characters its plainest face has.
    pub characters: u64,
    /// The languages that its plainest face was judged for; none where there are too many
    /// families to look at each.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub languages: Option<Vec<LanguageVerdict>>,
}

impl FamilyDescription {
    /// The family called `family` of `faces`, whose plainest is `face`, with the
    /// `characters` of all its files.
    pub fn of(
        family: String,
        faces: Vec<FaceOfFamily>,
        characters: &CharacterSet,
        judged: Option<(&Face, &[&'static Language])>,
    ) -> Self {
        FamilyDescription {
            family,
            faces,
            characters: characters.len(),
            languages: judged.map(|(face, languages)| judge_languages(face, Some(languages))),
        }
    }

    /// The number of the face that most text is set in: upright, nearest to 400.
    pub fn plainest(faces: &[FaceOfFamily]) -> Option<usize> {
        let off = |face: &FaceOfFamily| {
            let (least, most) = face.weight;
            let weight = (400.0_f32.clamp(least, most) - 400.0).abs();
            (face.slope != Slope::Normal, weight)
        };
        (0..faces.len()).min_by(|a, b| {
            let (a, b) = (off(&faces[*a]), off(&faces[*b]));
            a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
        })
    }

    /// Its files, each once, and what they weigh together, in bytes.
    pub fn files(&self) -> (usize, u64) {
        let files: BTreeSet<&String> = self.faces.iter().flat_map(|face| &face.files).collect();
        let bytes = self.faces.iter().map(|face| face.bytes).sum();
        (files.len(), bytes)
    }
}
