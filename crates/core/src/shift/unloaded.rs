//! Faces of `local()` that Firefox leaves unloaded while a web font before them is on its way.
//!
//! It loads a face for a character only where no face before it in the stack is loading that
//! has the character in its range (Gecko's `gfxFontGroup::FindFontForChar`); once loaded, it is
//! there for all text. Measured in Firefox 153 on eight small pages.

use std::collections::BTreeSet;

use tidy_lattice_coverage::lattice::{Candidate, Origin};
use tidy_lattice_glyphs::font::CharacterSet;

/// A style's faces in the order of its stack, were all files there, and the characters of its
/// texts.
pub struct StyleText<'a> {
    /// The faces.
    pub candidates: &'a [Candidate],
    /// The characters.
    pub characters: BTreeSet<char>,
}

/// A rule with a `local()` face: where it stands, its family, the face and its range. All of
/// a sheet may stand on one line.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct LocalRule {
    rule: String,
    /// The family.
    pub family: String,
    face: String,
    range: Option<String>,
}

impl LocalRule {
    /// The rule that brings a face; `None` where it is another kind of face.
    pub fn of(candidate: &Candidate) -> Option<Self> {
        match &candidate.origin {
            Origin::Local { rule, .. } => Some(LocalRule {
                rule: rule.clone(),
                family: candidate.family.clone(),
                face: candidate.name.clone(),
                range: candidate.range.as_ref().map(CharacterSet::css),
            }),
            Origin::Web { .. } | Origin::Installed | Origin::Given => None,
        }
    }
}

fn in_range(range: Option<&CharacterSet>, character: char) -> bool {
    range.is_none_or(|range| range.contains(u32::from(character)))
}

/// The `local()` faces that no text of the page has Firefox load.
pub fn unloaded(styles: &[StyleText<'_>]) -> BTreeSet<LocalRule> {
    let mut all = BTreeSet::new();
    let mut loaded = BTreeSet::new();
    for style in styles {
        let rules: Vec<Option<LocalRule>> = style.candidates.iter().map(LocalRule::of).collect();
        // The blank is looked for to know how high lines are.
        let blank = (!style.characters.is_empty()).then_some(' ');
        for character in style.characters.iter().copied().chain(blank) {
            for (candidate, rule) in style.candidates.iter().zip(&rules) {
                if !in_range(candidate.range.as_ref(), character) {
                    continue;
                }
                if matches!(candidate.origin, Origin::Web { .. }) {
                    break;
                }
                if let Some(rule) = rule
                    && !loaded.contains(rule)
                {
                    loaded.insert(rule.clone());
                }
                let face = candidate.face.as_ref();
                if face.is_some_and(|face| face.maps(character)) {
                    break;
                }
            }
        }
        all.extend(rules.into_iter().flatten());
    }
    all.difference(&loaded).cloned().collect()
}
