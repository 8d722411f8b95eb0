//! The class of a face (serif, sans, monospace, script, decorative, symbol),
//! from what its tables state and what its outlines show.

use kurbo::Shape as _;
use serde::Serialize;

use crate::font::{Body, Class, DeclaredClass, Face, Outlines, ink_at, ink_stretches};

/// How sure a judgement is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Sureness {
    /// Several witnesses agree.
    Sure,
    /// One witness speaks, or most do.
    Likely,
    /// Witnesses contradict each other, or none speaks.
    Unsure,
}

impl Sureness {
    /// The degree in words.
    pub fn label(self) -> &'static str {
        match self {
            Sureness::Sure => "sure",
            Sureness::Likely => "likely",
            Sureness::Unsure => "unsure",
        }
    }
}

/// The class of a face and how it was judged.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct ClassJudgement {
    /// The class.
    pub class: Class,
    /// How sure that is.
    pub sureness: Sureness,
    /// What each witness says, in a few words.
    pub witnesses: Vec<String>,
}

impl ClassJudgement {
    /// The class of a font or a card.
    pub fn of(face: &Face) -> Class {
        match face.body() {
            Body::Font(_) => ClassJudgement::judge(face, true).class,
            Body::Card(card) => card.card().class,
        }
    }

    /// Judges `face`; outlines are looked at only where `measure`.
    pub fn judge(face: &Face, measure: bool) -> Self {
        let Some(font) = face.font() else {
            return ClassJudgement {
                class: Class::Unknown,
                sureness: Sureness::Unsure,
                witnesses: Vec::new(),
            };
        };
        let declared = DeclaredClass::read(font);
        let mut votes: Vec<(Class, String)> = Vec::new();
        if let Some(class) = by_family_class(&declared) {
            let number = declared.family_class >> 8;
            votes.push((class, format!("OS/2 class {number}: {}", class.label())));
        }
        if let Some(class) = by_panose(&declared) {
            let digits: Vec<String> = declared.panose.iter().map(u8::to_string).collect();
            let digits = digits[..4].join("-");
            votes.push((class, format!("PANOSE {digits}…: {}", class.label())));
        }
        if declared.fixed_pitch {
            votes.push((Class::Monospace, "post isFixedPitch: monospace".to_owned()));
        }
        if measure {
            if !face.maps('n') && !has_letters(face) {
                votes.push((Class::Symbol, "measured: it has no letters".to_owned()));
                return ClassJudgement {
                    class: Class::Symbol,
                    sureness: Sureness::Sure,
                    witnesses: votes.into_iter().map(|(_, witness)| witness).collect(),
                };
            }
            votes.extend(measured(face));
        }
        decide(votes)
    }
}

/// Monospace and symbol outweigh serifs: a monospaced slab is monospaced.
fn decide(votes: Vec<(Class, String)>) -> ClassJudgement {
    let count = |class: Class| votes.iter().filter(|(vote, _)| *vote == class).count();
    let by_weight = [
        Class::Monospace,
        Class::Symbol,
        Class::Script,
        Class::Decorative,
        Class::Serif,
        Class::Sans,
    ];
    // Serifs and their absence are the weaker statement beside the others.
    let strong = votes
        .iter()
        .filter(|(class, _)| !matches!(class, Class::Serif | Class::Sans));
    let strong = strong.count();
    let pick = by_weight
        .into_iter()
        .filter(|class| strong == 0 || !matches!(class, Class::Serif | Class::Sans))
        .max_by_key(|class| count(*class));
    let class = pick
        .filter(|class| count(*class) > 0)
        .unwrap_or(Class::Unknown);
    let against = match class {
        // Fixed pitch says nothing about serifs, so those do not contradict.
        Class::Monospace => votes.len() - count(class) - count(Class::Serif) - count(Class::Sans),
        _ => votes.len() - count(class),
    };
    let sureness = match (count(class), against) {
        (0, _) => Sureness::Unsure,
        (2.., 0) => Sureness::Sure,
        (1, 0) => Sureness::Likely,
        (agreeing, against) if agreeing > against => Sureness::Likely,
        _ => Sureness::Unsure,
    };
    ClassJudgement {
        class,
        sureness,
        witnesses: votes.into_iter().map(|(_, witness)| witness).collect(),
    }
}

/// OS/2 `sFamilyClass` (IBM font class): 1 to 5 and 7 have serifs, 8 has none,
/// 9 is ornamental, 10 script, 12 symbolic.
fn by_family_class(declared: &DeclaredClass) -> Option<Class> {
    match declared.family_class >> 8 {
        9 => Some(Class::Decorative),
        10 => Some(Class::Script),
        12 => Some(Class::Symbol),
        _ => declared.class_serif().map(serif_or_sans),
    }
}

/// PANOSE family kinds: 2 Latin text, 3 handwritten, 4 decorative, 5 symbol.
fn by_panose(declared: &DeclaredClass) -> Option<Class> {
    match declared.panose[0] {
        3 => Some(Class::Script),
        4 => Some(Class::Decorative),
        5 => Some(Class::Symbol),
        _ if declared.panose_monospaced() => Some(Class::Monospace),
        _ => declared.panose_serif().map(serif_or_sans),
    }
}

fn serif_or_sans(serif: bool) -> Class {
    if serif { Class::Serif } else { Class::Sans }
}

/// What the outlines and advances show.
fn measured(face: &Face) -> Vec<(Class, String)> {
    let mut votes = Vec::new();
    if is_monospaced(face) {
        votes.push((
            Class::Monospace,
            "measured: all letters are equally wide".to_owned(),
        ));
    }
    let outlines = Outlines::of(face);
    if let Some((join, of)) = outlines.as_ref().and_then(|outlines| joins(face, outlines))
        && join * 10 >= of * 7
    {
        votes.push((
            Class::Script,
            format!("measured: {join} of {of} small letters reach into the next"),
        ));
    }
    if let Some((with, of)) = outlines.and_then(|outlines| feet(&outlines)) {
        votes.push((
            serif_or_sans(2 * with >= of),
            format!("measured: {with} of {of} stems end in serifs"),
        ));
    }
    votes
}

/// Whether the face has letters of any script.
fn has_letters(face: &Face) -> bool {
    use icu_properties::props::Alphabetic;
    let letters = icu_properties::CodePointSetData::new::<Alphabetic>();
    let characters = face.characters();
    let alphabetic = characters.iter().filter(|point| letters.contains32(*point));
    // Circled letters are alphabetic too; a symbol font may have those.
    alphabetic
        .filter(|point| !(0x24b6..0x24ea).contains(point))
        .take(20)
        .count()
        == 20
}

/// Whether letters of very different shapes are equally wide.
pub(super) fn is_monospaced(face: &Face) -> bool {
    let Some(font) = face.font() else {
        return false;
    };
    let advances: Vec<f32> = "iIlmMW.,10"
        .chars()
        .filter_map(|letter| font.charmap().map_unicode(letter))
        .map(|glyph| font.glyph_metrics().h_advance(glyph))
        .collect();
    advances.len() >= 6 && advances.iter().all(|advance| *advance == advances[0])
}

/// How many of the small letters that end in a stroke to the right reach beyond their
/// advance, so that they join the next as in handwriting; and how many such letters there
/// are.
fn joins(face: &Face, outlines: &Outlines) -> Option<(usize, usize)> {
    let metrics = face.font()?.glyph_metrics();
    let charmap = face.font()?.charmap();
    let (mut join, mut of) = (0, 0);
    for letter in ['a', 'c', 'd', 'e', 'h', 'i', 'l', 'm', 'n', 'u'] {
        let (Some(path), Some(glyph)) = (outlines.letter(letter), charmap.map_unicode(letter))
        else {
            continue;
        };
        let advance = f64::from(metrics.h_advance(glyph));
        of += 1;
        join += usize::from(advance > 0.0 && path.bounding_box().x1 >= advance);
    }
    (of >= 5).then_some((join, of))
}

/// How many of the letters whose stems stand free on the baseline broaden
/// there, and how many such letters there are.
fn feet(outlines: &Outlines) -> Option<(usize, usize)> {
    let (mut with, mut of) = (0, 0);
    for letter in ['T', 'H', 'F', 'P', 'h', 'n', 'm', 'r', 'p'] {
        let Some(path) = outlines.letter(letter) else {
            continue;
        };
        let bounds = path.bounding_box();
        let height = bounds.height();
        // At 2 % of the height a serif is at its full width; at 22 % there is
        // the bare stem, in every one of these letters.
        let low = ink_stretches(&path, bounds.y0 + 0.02 * height);
        let high = ink_stretches(&path, bounds.y0 + 0.22 * height);
        if low.is_empty() || low.len() != high.len() {
            continue;
        }
        of += 1;
        let ratio = ink_at(&path, bounds.y0 + 0.02 * height)
            / ink_at(&path, bounds.y0 + 0.22 * height).max(1.0);
        with += usize::from(ratio > 1.35);
    }
    (of >= 3).then_some((with, of))
}
