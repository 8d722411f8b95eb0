//! The stack for where `@font-face` cannot be used, as in e-mail and old engines:
//! installed families as they are, and how far each is off.

use std::cmp::Ordering;
use std::collections::BTreeMap;

use serde::Serialize;
use tidy_lattice_documents::style::family_list;
use tidy_lattice_glyphs::font::Class;

use super::request::{BuildRequest, LocalFamily};
use crate::rank::Ranked;

/// The stack without `@font-face`.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct PlainStack {
    /// The value for `font-family`.
    pub font_family: String,
    /// The families, in order.
    pub families: Vec<PlainFamily>,
}

/// An installed family as it is.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct PlainFamily {
    /// The family.
    pub family: String,
    /// The platforms for which it is the best.
    pub platforms: Vec<String>,
    /// Its class.
    pub class: Class,
    /// Whether that is the web font's class.
    pub same_class: bool,
    /// Its x-height against the web font's at equal size.
    pub x_height_ratio: Option<f64>,
    /// How far words differ in width on average, in %.
    pub words_off: f64,
    /// How much longer the text is, in %; negative where it is shorter.
    pub text_off: f64,
    /// Paragraph layouts with a break elsewhere, in %; `None` where there is no
    /// running text.
    pub layouts_off: Option<f64>,
}

impl PlainStack {
    /// For each platform its best: of the web font's class, then closest in
    /// x-height and in widths at equal size.
    pub(super) fn new(request: &BuildRequest<'_>, ranked: &[(&LocalFamily<'_>, Ranked)]) -> Self {
        let mut order: Vec<&(&LocalFamily<'_>, Ranked)> = ranked.iter().collect();
        if !request.keep_order {
            order.sort_by(|a, b| compare(&a.1, &b.1).then_with(|| a.0.name.cmp(&b.0.name)));
        }
        let mut served: BTreeMap<&str, ()> = BTreeMap::new();
        let mut families = Vec::new();
        for (family, ranked) in order {
            let platforms: Vec<String> = family
                .platforms
                .iter()
                .filter(|platform| served.insert(platform, ()).is_none())
                .cloned()
                .collect();
            let Some(widths) = &ranked.widths else {
                continue;
            };
            if platforms.is_empty() && !request.keep_order {
                continue;
            }
            families.push(PlainFamily {
                family: family.name.clone(),
                platforms,
                class: ranked.class,
                same_class: same_class(ranked),
                x_height_ratio: ranked.x_height_ratio,
                words_off: widths.before.word_mean,
                text_off: widths.before.text,
                layouts_off: widths.breaks_before.map(|breaks| breaks.share()),
            });
        }
        PlainStack {
            font_family: String::new(),
            families,
        }
    }

    /// The stack with its generic family at the end.
    pub(super) fn ending(mut self, generic: &str) -> Self {
        let families = self.families.iter().map(|family| family.family.as_str());
        self.font_family = family_list(families, generic);
        self
    }
}

fn same_class(ranked: &Ranked) -> bool {
    ranked.parts.get(crate::rank::Part::Class) == Some(1.0)
}

/// Better first.
fn compare(a: &Ranked, b: &Ranked) -> Ordering {
    let off = |ranked: &Ranked| {
        let height = ranked
            .x_height_ratio
            .map_or(0.1, |ratio| (ratio - 1.0).abs());
        let widths = ranked.widths.as_ref();
        height + widths.map_or(1.0, |widths| widths.before.word_mean / 100.0)
    };
    same_class(b)
        .cmp(&same_class(a))
        .then(off(a).total_cmp(&off(b)))
}
