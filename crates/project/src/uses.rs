//! Which `@font-face` rules give the texts of a page their fonts.

use std::collections::BTreeSet;

use tidy_lattice_checks::inputs::FakedUse;
use tidy_lattice_core::lattice::{Arrival, Fonts, Origin, Request, resolve};
use tidy_lattice_core::page::{self, Page};

use super::Access;
use super::web::{FontLoader, Site};

/// What a page's texts get.
#[derive(Default)]
pub struct Used {
    /// The rules that give them: file and line.
    pub rules: BTreeSet<(String, u32)>,
    /// Weights and styles that they ask for in vain.
    pub faked: Vec<FakedUse>,
}

/// What the texts of `page` get from its `@font-face` rules.
pub fn used_by(page: &Page, site: &Site<'_>, hosted: bool, access: Access<'_>) -> Used {
    let mut loader = FontLoader::new(site, access);
    let web: Vec<_> = page
        .faces
        .iter()
        .map(|placed| loader.load(placed))
        .collect();
    let mut used = Used::default();
    let in_use: BTreeSet<usize> = page.texts.iter().map(|text| text.style).collect();
    for style in in_use.into_iter().map(|style| &page.styles[style]) {
        let fonts = Fonts {
            web: &web,
            device: None,
            arrival: Arrival::Here,
            hosted,
        };
        let resolved = resolve(&Request::of(style), fonts);
        let mut first = true;
        for candidate in &resolved.candidates {
            let (Origin::Web { rule, .. } | Origin::Local { rule, .. }) = &candidate.origin else {
                continue;
            };
            let Some(key) = rule_place(rule) else {
                continue;
            };
            let weights = candidate.traits.weight;
            let other = !weights.contains(style.weight);
            // What stands behind the first family is a fallback.
            if first && candidate.entry == 0 && (other || candidate.faked.any()) {
                used.faked.push(FakedUse {
                    family: candidate.family.clone(),
                    asked: asked(style),
                    gets: gets(
                        style
                            .weight
                            .clamp(weights.from, weights.to.max(weights.from)),
                        candidate.faked.bold,
                        candidate.faked.italic,
                    ),
                    rule: key.clone(),
                });
            }
            first = false;
            used.rules.insert(key);
        }
    }
    used
}

/// The file and the line of a rule.
pub fn rule_place(rule: &str) -> Option<(String, u32)> {
    let (file, line) = rule.rsplit_once(':')?;
    Some((file.to_owned(), line.parse().ok()?))
}

fn asked(style: &page::TextStyle) -> String {
    let slope = match style.style {
        page::StyleValue::Normal => "",
        page::StyleValue::Italic => " italic",
        page::StyleValue::Oblique(_) => " oblique",
    };
    format!("in weight {}{slope}", style.weight)
}

fn gets(weight: f32, bold: bool, italic: bool) -> String {
    let faked = match (bold, italic) {
        (true, true) => ", thickened and slanted by the browser",
        (true, false) => ", thickened by the browser",
        (false, true) => ", slanted by the browser",
        (false, false) => "",
    };
    format!("weight {weight}{faked}")
}
