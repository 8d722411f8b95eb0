//! CSS read, as far as fonts need it: style rules with the declarations that
//! matter to text, `@font-face`, `@import`, and the conditions around them.
//!
//! Values stay text until the cascade has substituted custom properties (CSS
//! Variables 1, §3); `@font-face` knows no such, so its descriptors are read at
//! once.

mod families;
mod font_face;
mod length;
mod media;
mod rules;
mod selector;

pub use families::{FamilyName, families};
pub use font_face::stretch_keyword;
pub use font_face::{FaceSource, FaceStyle, FontFace, Range};
pub use length::{FontUnits, LengthContext, Quantity, length};
pub use media::{MediaList, Supports, USUAL_FIXED_SIZE, Viewport};
pub use selector::{Css, PseudoElement, SelectorText, StateClass};

use cssparser::{Parser, StyleSheetParser};
use selectors::SelectorList;

/// The most rules of a sheet that are read.
const MOST_RULES: usize = 100_000;

/// A style sheet, its rules in order.
#[derive(Debug, Clone, Default)]
pub struct Sheet {
    /// What it holds, in order.
    pub items: Vec<Item>,
    /// What could not be read or is not evaluated.
    pub problems: Vec<Problem>,
}

/// Something in a sheet that is left out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Problem {
    /// The line, counted from 1.
    pub line: u32,
    /// What, in words.
    pub what: String,
}

/// One rule with the conditions around it.
#[derive(Debug, Clone)]
pub struct Item {
    /// The rule.
    pub rule: Rule,
    /// Every one must hold.
    pub conditions: Vec<Condition>,
    /// The cascade layer, from the outermost name (CSS Cascade 5, §6.4); empty
    /// where there is none.
    pub layer: Vec<String>,
    /// The line of the sheet, counted from 1.
    pub line: u32,
}

/// A condition of a rule.
#[derive(Debug, Clone)]
pub enum Condition {
    /// `@media`.
    Media(MediaList),
    /// `@supports`.
    Supports(Supports),
}

impl Condition {
    /// Whether it holds in `viewport`.
    pub fn holds(&self, viewport: Viewport) -> bool {
        match self {
            Condition::Media(media) => media.holds(viewport),
            Condition::Supports(supports) => supports.holds(),
        }
    }
}

/// A rule.
#[derive(Debug, Clone)]
pub enum Rule {
    /// Selectors and what they set.
    Style {
        /// The selectors; nested ones with their parents put in.
        selectors: SelectorList<Css>,
        /// The declarations that matter to text.
        declarations: Vec<Declaration>,
    },
    /// `@font-face`.
    FontFace(Box<FontFace>),
    /// `@import`; its conditions are those of the item.
    Import {
        /// The URL as written.
        url: String,
    },
    /// Names of layers, which fixes their order.
    Layers(Vec<Vec<String>>),
    /// `@property`.
    Property(RegisteredProperty),
}

/// A custom property with rules of its own (CSS Properties and Values 1, §3); its
/// syntax is not looked at.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RegisteredProperty {
    /// The name with its hyphens.
    pub name: String,
    /// Whether elements inherit it.
    pub inherits: bool,
    /// What it is where nothing sets it.
    pub initial: Option<String>,
}

/// One declaration, its value still text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Declaration {
    /// The property, in lower case; custom properties as written.
    pub name: String,
    /// The value without `!important`.
    pub value: String,
    /// Whether `!important` stood behind it.
    pub important: bool,
}

impl Sheet {
    /// Reads a whole sheet. Whatever CSS drops is dropped, as in browsers.
    pub fn read(css: &str) -> Self {
        let mut sheet = Sheet::default();
        let mut input = Parser::new(css);
        let mut reader = rules::Reader::new(&mut sheet);
        let mut errors = Vec::new();
        for result in StyleSheetParser::new(&mut input, &mut reader).take(MOST_RULES) {
            if let Err((_, text, place)) = result
                && !is_for_others(text)
            {
                errors.push(Problem {
                    line: place.line + 1,
                    what: format!("a rule that is no valid CSS: {}", start_of(text)),
                });
            }
        }
        sheet.problems.append(&mut errors);
        sheet.problems.sort_by_key(|problem| problem.line);
        sheet
    }

    /// Reads the declarations of a `style` attribute.
    pub fn read_attribute(css: &str) -> Vec<Declaration> {
        rules::attribute(css)
    }

    /// The `@font-face` rules, whatever their conditions, with their lines.
    pub fn font_faces(&self) -> impl Iterator<Item = (&FontFace, u32)> {
        self.items.iter().filter_map(|item| match &item.rule {
            Rule::FontFace(face) => Some((&**face, item.line)),
            _ => None,
        })
    }
}

/// Whether a rule is dropped on purpose: other engines take its selectors.
fn is_for_others(rule: &str) -> bool {
    let selectors = rule.split('{').next().unwrap_or_default();
    [
        ":-moz-", ":-ms-", ":-o-", ":-khtml-", ":-apple-", "@-ms-", "@-moz-",
    ]
    .iter()
    .any(|prefix| selectors.contains(prefix))
}

/// The first words of CSS that is complained about.
fn start_of(text: &str) -> String {
    let line = text.trim().lines().next().unwrap_or_default();
    match line.char_indices().nth(60) {
        Some((end, _)) => format!("{}…", &line[..end]),
        None => line.to_owned(),
    }
}
