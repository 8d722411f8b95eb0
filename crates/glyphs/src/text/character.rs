//! Single characters as people are told of them.

use icu_properties::props::{
    DefaultIgnorableCodePoint, GeneralCategory, GeneralCategoryGroup, Script,
};
use icu_properties::script::ScriptWithExtensions;
use icu_properties::{CodePointMapData, CodePointSetData, PropertyNamesLong};
use serde::Serialize;

/// A character shown three ways.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, schemars::JsonSchema)]
pub struct Character {
    /// The character itself; `None` where it is not printable.
    pub shown: Option<String>,
    /// `U+` and at least four hexadecimal digits.
    pub code_point: String,
    /// The Unicode name, or its kind in angle brackets where it has none.
    pub name: String,
    /// The script by its Unicode name (UAX #24), such as `Greek` or `Common`.
    pub script: String,
}

impl Character {
    /// Describes `character`.
    pub fn describe(character: char) -> Self {
        let category = CodePointMapData::<GeneralCategory>::new().get(character);
        let printable = !(GeneralCategoryGroup::Other.contains(category)
            || GeneralCategoryGroup::Separator.contains(category));
        Character {
            shown: (printable && is_shown(character)).then(|| character.to_string()),
            code_point: format!("U+{:04X}", u32::from(character)),
            name: name(character, category),
            script: script_name(CodePointMapData::<Script>::new().get(character)).to_owned(),
        }
    }
}

fn name(character: char, category: GeneralCategory) -> String {
    if let Some(name) = unicode_names2::name(character) {
        return name.to_string();
    }
    match category {
        GeneralCategory::Control => "<control>",
        GeneralCategory::PrivateUse => "<private use>",
        _ => "<unassigned>",
    }
    .to_owned()
}

/// The long name of a script as people write it: `Old_Italic` → `Old Italic`.
pub fn script_name(script: Script) -> String {
    PropertyNamesLong::<Script>::new()
        .get(script)
        .unwrap_or("Unknown")
        .replace('_', " ")
}

/// The scripts that are set with full-width signs.
const EAST_ASIAN: [&str; 4] = ["Han", "Hiragana", "Katakana", "Hangul"];

/// The scripts that a sign is used with, by their Unicode names, where it belongs to some of
/// them only (UAX #24, `Script_Extensions`): `、` to Han, Hiragana and others. Letters have
/// their one script; signs of all scripts have none here.
pub fn used_with(character: char) -> Vec<String> {
    let all = ScriptWithExtensions::new().get_script_extensions_val(character);
    let shared = [Script::Common, Script::Inherited, Script::Unknown];
    let not_shared = all.iter().filter(|script| !shared.contains(script));
    let not_shared: Vec<String> = not_shared.map(script_name).collect();
    // Punctuation of East Asia that Unicode gives to no script, and its full-width forms.
    let eastern = matches!(character, '\u{3000}'..='\u{303f}' | '\u{ff00}'..='\u{ffef}');
    if not_shared.is_empty() && eastern {
        return EAST_ASIAN.map(str::to_owned).to_vec();
    }
    not_shared
}

/// Whether `character` puts ink on the page or asks a font for a glyph: not
/// white space, not a control, not default-ignorable (UAX #44).
pub fn is_shown(character: char) -> bool {
    !(character.is_whitespace()
        || character.is_control()
        || CodePointSetData::new::<DefaultIgnorableCodePoint>().contains(character))
}
