//! The rows of the lattice: scripts, and groups for what belongs to none.

use icu_properties::props::{
    Emoji, EmojiPresentation, GeneralCategory, GeneralCategoryGroup, RegionalIndicator, Script,
};
use icu_properties::{CodePointMapData, CodePointSetData};

use super::character::script_name;

/// The row that a cluster belongs to: the script of its base (UAX #24), or a
/// group of our own for characters that all scripts share.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Group {
    /// A script, by its Unicode name.
    Script(String),
    /// Decimal digits and other numbers that all scripts share.
    Digits,
    /// Punctuation that all scripts share.
    Punctuation,
    /// Currency signs.
    Currency,
    /// Arrows, mathematical and other symbols.
    Symbols,
    /// Characters and sequences that default to, or ask for, emoji
    /// presentation (UTS #51).
    Emoji,
    /// Private use, unassigned, and whatever else is left.
    Other,
}

impl Group {
    /// The group of `cluster`.
    pub fn of(cluster: &str) -> Self {
        let Some(base) = cluster.chars().next() else {
            return Group::Other;
        };
        if is_emoji(cluster, base) {
            return Group::Emoji;
        }
        let script = CodePointMapData::<Script>::new().get(base);
        if ![Script::Common, Script::Inherited, Script::Unknown].contains(&script) {
            return Group::Script(script_name(script));
        }
        let category = CodePointMapData::<GeneralCategory>::new().get(base);
        if category == GeneralCategory::CurrencySymbol {
            Group::Currency
        } else if GeneralCategoryGroup::Number.contains(category) {
            Group::Digits
        } else if GeneralCategoryGroup::Punctuation.contains(category) {
            Group::Punctuation
        } else if GeneralCategoryGroup::Symbol.contains(category) {
            Group::Symbols
        } else {
            Group::Other
        }
    }

    /// The row's title.
    pub fn label(&self) -> &str {
        match self {
            Group::Script(name) => name,
            Group::Digits => "Digits",
            Group::Punctuation => "Punctuation",
            Group::Currency => "Currency signs",
            Group::Symbols => "Symbols",
            Group::Emoji => "Emoji",
            Group::Other => "Other",
        }
    }

    /// A row's title within a sentence: scripts have names.
    pub fn in_sentence(label: &str) -> String {
        let titles = [
            Group::Digits,
            Group::Punctuation,
            Group::Currency,
            Group::Symbols,
            Group::Emoji,
            Group::Other,
        ];
        if titles.iter().any(|group| group.label() == label) {
            label.to_lowercase()
        } else {
            label.to_owned()
        }
    }
}

fn is_emoji(cluster: &str, base: char) -> bool {
    const TEXT_SELECTOR: char = '\u{fe0e}';
    const EMOJI_SELECTOR: char = '\u{fe0f}';
    let second = cluster.chars().nth(1);
    if second == Some(TEXT_SELECTOR) {
        return false;
    }
    CodePointSetData::new::<EmojiPresentation>().contains(base)
        || CodePointSetData::new::<RegionalIndicator>().contains(base)
        || (second == Some(EMOJI_SELECTOR) && CodePointSetData::new::<Emoji>().contains(base))
}
