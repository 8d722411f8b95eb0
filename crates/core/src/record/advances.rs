//! Advances of characters and of their joined forms.

use std::collections::BTreeMap;

use foldhash::HashMap;

use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, GeneralCategoryGroup, JoiningType, Script};

use tidy_lattice_glyphs::font::{
    Face, JoinedForms, WidthModel, joins_left, joins_right, without_mark,
};
use tidy_lattice_glyphs::shaping::Shaper;

const JOINER: char = '\u{200d}';

/// Measures every character of `face`.
pub fn measure(face: &Face) -> WidthModel {
    let mut shaper = Shaper::new(face);
    let characters = face.characters();
    let bases = bases(face);
    let mut model = WidthModel::default();
    for point in characters.iter() {
        let units =
            char::from_u32(point).map_or(0, |character| advance(&mut shaper, character, &bases));
        model.advances.push(units);
    }
    for character in characters.iter().filter_map(char::from_u32) {
        if let Some(forms) = forms(&mut shaper, character) {
            model.joined.insert(character, forms);
        }
    }
    model.characters = characters;
    model
}

/// A letter of each script that marks can be put on.
fn bases(face: &Face) -> HashMap<Script, char> {
    let scripts = CodePointMapData::<Script>::new();
    let categories = CodePointMapData::<GeneralCategory>::new();
    let mut bases: HashMap<Script, char> = HashMap::default();
    let letters = face.characters();
    for letter in letters.iter().filter_map(char::from_u32) {
        if GeneralCategoryGroup::Letter.contains(categories.get(letter)) {
            bases.entry(scripts.get(letter)).or_insert(letter);
        }
    }
    // Marks of no script are for Latin first; no mark composes with q.
    let any = ['q', '\u{25cc}', 'ο', 'о']
        .into_iter()
        .find(|c| face.maps(*c));
    let any = any.or_else(|| bases.values().min().copied());
    if let Some(any) = any {
        bases.insert(Script::Inherited, any);
        bases.entry(Script::Common).or_insert(any);
    }
    bases
}

/// What `character` adds to a line. A mark is measured on a base, as shapers
/// put a dotted circle under one that stands alone.
fn advance(shaper: &mut Shaper<'_>, character: char, bases: &HashMap<Script, char>) -> i32 {
    let mut buffer = [0; 4];
    let category = CodePointMapData::<GeneralCategory>::new().get(character);
    let base = bases.get(&CodePointMapData::<Script>::new().get(character));
    let units = match base {
        Some(base) if GeneralCategoryGroup::Mark.contains(category) => {
            let alone = shaper.units(base.encode_utf8(&mut buffer));
            shaper.units(&format!("{base}{character}")) - alone
        }
        _ => shaper.units(character.encode_utf8(&mut buffer)),
    };
    i32::try_from(units).unwrap_or(0)
}

/// The joined forms of a letter, where one is not as wide as the letter alone.
fn forms(shaper: &mut Shaper<'_>, letter: char) -> Option<JoinedForms> {
    let joining = CodePointMapData::<JoiningType>::new().get(letter);
    let transparent = [JoiningType::NonJoining, JoiningType::Transparent];
    if transparent.contains(&joining) || letter == JOINER {
        return None;
    }
    let mut units = |text: String| i32::try_from(shaper.units(&text)).unwrap_or(0);
    let alone = units(letter.to_string());
    let initial = if joins_left(letter) {
        units(format!("{letter}{JOINER}"))
    } else {
        alone
    };
    let last = if joins_right(letter) {
        units(format!("{JOINER}{letter}"))
    } else {
        alone
    };
    let medial = if joins_left(letter) && joins_right(letter) {
        units(format!("{JOINER}{letter}{JOINER}"))
    } else {
        last
    };
    let forms = JoinedForms {
        initial,
        medial,
        last,
    };
    (initial != alone || medial != alone || last != alone).then_some(forms)
}

/// `569 1000*20 =*2`: twenty times 1000 after one 569, then twice the advance of
/// the letter without its mark.
pub fn text(model: &WidthModel) -> String {
    let known = model.characters.iter().zip(&model.advances);
    let lines = known.map(|(point, advance)| {
        let plain = char::from_u32(point).and_then(without_mark);
        match plain.and_then(|plain| model.advance(plain)) {
            Some(same) if same == *advance => "=".to_owned(),
            _ => advance.to_string(),
        }
    });
    let lines: Vec<String> = lines.collect();
    let runs = lines.chunk_by(|a, b| a == b);
    let parts: Vec<String> = runs
        .map(|run| match run.len() {
            1 => run[0].clone(),
            times => format!("{}*{times}", run[0]),
        })
        .collect();
    parts.join(" ")
}

/// The letters that have each set of forms.
pub fn joined_text(joined: &HashMap<char, JoinedForms>) -> BTreeMap<String, String> {
    let mut letters: Vec<(&char, &JoinedForms)> = joined.iter().collect();
    letters.sort();
    let mut text: BTreeMap<String, String> = BTreeMap::new();
    for (letter, forms) in letters {
        let JoinedForms {
            initial,
            medial,
            last,
        } = forms;
        text.entry(format!("{initial} {medial} {last}"))
            .or_default()
            .push(*letter);
    }
    text
}
