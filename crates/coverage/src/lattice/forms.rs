//! What is wrong with a cluster that its face has all characters of: letters
//! that do not join, conjuncts that fall apart, marks beside their letters,
//! circles in place of a missing base.

use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, GeneralCategoryGroup, JoiningType, Script};
use serde::Serialize;
use tidy_lattice_glyphs::font::{Body, Engines, Face, Outlines, Works};
use tidy_lattice_glyphs::text::script_name;

use super::shaping::{Prober, ShapingNeed, script_needs, viramas};

/// What a face does wrong with a cluster that it serves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, schemars::JsonSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Flaw {
    /// The pieces of an emoji sequence are drawn one by one.
    Unjoined,
    /// A dotted circle is put in, as the sequence makes no sense to the shaper.
    Circle,
    /// Nothing is painted: its picture is in tables that some engines do not draw.
    Blank {
        /// These engines.
        engines: Engines,
    },
    /// A form that the script requires is missing.
    Unshaped {
        /// What the face does not do.
        need: ShapingNeed,
    },
}

impl Flaw {
    /// The flaw in words.
    pub fn label(self) -> String {
        match self {
            Flaw::Unjoined => "drawn in pieces".to_owned(),
            Flaw::Circle => "drawn with a dotted circle".to_owned(),
            Flaw::Blank { engines } => format!(
                "blank in {}, which cannot draw its colours",
                engines.names().join(" and ")
            ),
            Flaw::Unshaped { need } => format!("drawn without {}", need.label()),
        }
    }
}

/// Whether the glyph of `character` has no outline.
fn is_blank(face: &Face, character: char) -> bool {
    let glyph = face
        .font()
        .and_then(|font| font.charmap().map_unicode(character));
    let outlines = Outlines::of(face);
    match (glyph, outlines) {
        (Some(glyph), Some(outlines)) => outlines.glyph(glyph.to_u32()).is_empty(),
        _ => false,
    }
}

const CIRCLE: char = '\u{25cc}';

/// What `face`, with its `prober`, does wrong with `cluster`, all characters of
/// which it has, in any of `engines`.
pub(super) fn flaw(
    face: &Face,
    prober: &mut Prober<'_>,
    cluster: &str,
    engines: Engines,
) -> Option<Flaw> {
    let first = cluster.chars().next()?;
    let script = script_name(CodePointMapData::<Script>::new().get(first));
    if let Body::Card(card) = face.body() {
        let works = card.card().shaping.get(&script)?;
        let need = [
            ShapingNeed::Joining,
            ShapingNeed::Conjuncts,
            ShapingNeed::Stacks,
        ]
        .into_iter()
        .find(|need| script_needs(&script, *need))?;
        return (*works == Works::Missing).then_some(Flaw::Unshaped { need });
    }
    let engines = face.not_coloured_by().and(engines);
    if !engines.is_empty() && is_blank(face, first) {
        return Some(Flaw::Blank { engines });
    }
    let categories = CodePointMapData::<GeneralCategory>::new();
    let mark = |c: char| GeneralCategoryGroup::Mark.contains(categories.get(c));
    let marks = cluster.chars().skip(1).any(mark);
    // Of a mark that is a cluster of its own the base stands before it.
    if marks && !mark(first) && !cluster.contains(CIRCLE) {
        let circle = prober.nominal(CIRCLE);
        if circle.is_some_and(|circle| prober.glyphs(cluster).contains(&circle)) {
            return Some(Flaw::Circle);
        }
    }
    let unshaped = |need: ShapingNeed| Some(Flaw::Unshaped { need });
    if script_needs(&script, ShapingNeed::Joining) {
        let joins = match CodePointMapData::<JoiningType>::new().get(first) {
            JoiningType::DualJoining => prober.meets(ShapingNeed::Joining, &first.to_string()),
            // A letter that only joins on one side joins as the others do.
            JoiningType::RightJoining | JoiningType::LeftJoining => prober.joins(&script),
            _ => true,
        };
        if !joins {
            return unshaped(ShapingNeed::Joining);
        }
    }
    let joined = viramas(cluster);
    // A virama at the end shows itself.
    let joins_on = !joined.is_empty()
        && cluster
            .chars()
            .last()
            .is_some_and(|last| !joined.contains(&last));
    if joins_on
        && script_needs(&script, ShapingNeed::Conjuncts)
        && !prober.meets(ShapingNeed::Conjuncts, cluster)
        // Fonts may show the virama of rare conjuncts.
        && !prober.meets_any(&script, ShapingNeed::Conjuncts)
    {
        return unshaped(ShapingNeed::Conjuncts);
    }
    if script_needs(&script, ShapingNeed::Marks) && prober.strays(cluster) {
        return unshaped(ShapingNeed::Marks);
    }
    None
}
