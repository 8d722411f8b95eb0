//! Tables about the font: names, `OS/2`, `post`, `kern` (OpenType 1.9.1).

use std::collections::BTreeSet;

use tidy_lattice_glyphs::font::CharacterSet;

use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;

/// Names that stay: copyright, family, style, unique id, full name, version, PostScript
/// name, trademark, licence, its address, typographic family and style. Many licences
/// demand that copyright, trademark and licence travel along.
const NAMES: [u16; 12] = [0, 1, 2, 3, 4, 5, 6, 7, 13, 14, 16, 17];
/// What PostScript names of a variable font's positions begin with.
const PREFIX_OF_POSITIONS: u16 = 25;

struct Name<'a> {
    platform: u16,
    encoding: u16,
    language: u16,
    id: u16,
    bytes: std::borrow::Cow<'a, [u8]>,
}

/// `name` with what a web font must carry, in English where it is known in English;
/// `more` are names that axes and positions are called by; `family` renames it.
pub(crate) fn cut_names(
    view: View<'_>,
    more: &BTreeSet<u16>,
    family: Option<&str>,
) -> Result<Vec<u8>, CutError> {
    let storage = view.from(usize::from(view.u16(4)?))?;
    let mut names = Vec::new();
    for index in 0..usize::from(view.u16(2)?) {
        let at = 6 + index * 12;
        let id = view.u16(at + 6)?;
        let (length, offset) = (view.u16(at + 8)?, view.u16(at + 10)?);
        if NAMES.contains(&id) || more.contains(&id) {
            names.push(Name {
                platform: view.u16(at)?,
                encoding: view.u16(at + 2)?,
                language: view.u16(at + 4)?,
                id,
                bytes: storage
                    .slice(usize::from(offset), usize::from(length))?
                    .into(),
            });
        }
    }
    // One platform and one language are enough: Windows and English, else Windows.
    let english = |name: &Name<'_>| name.platform == 3 && name.language == 0x409;
    if names.iter().any(english) {
        names.retain(english);
    } else if names.iter().any(|name| name.platform == 3) {
        names.retain(|name| name.platform == 3);
    }
    if let Some(family) = family {
        rename(&mut names, family);
    }
    names.sort_by_key(|name| (name.platform, name.encoding, name.language, name.id));
    names.dedup_by_key(|name| (name.platform, name.encoding, name.language, name.id));
    let mut storage: Vec<u8> = Vec::new();
    let mut table = Object::new();
    table.u16(0).count(names.len()).count(6 + names.len() * 12);
    for name in &names {
        let bytes: &[u8] = &name.bytes;
        view.spend(storage.len() as u64 / 8)?;
        // A text that is the end or the start of another is stored once.
        let known = storage
            .windows(bytes.len().max(1))
            .position(|part| part == bytes);
        let place = known.unwrap_or(storage.len());
        if known.is_none() {
            storage.extend_from_slice(bytes);
        }
        table
            .u16(name.platform)
            .u16(name.encoding)
            .u16(name.language);
        table.u16(name.id).count(bytes.len()).count(place);
    }
    table.raw(&storage);
    table.pack("name")
}

/// Gives the family another name, where it is named: 1 and 16 are the family, 3 is an
/// id, 4 the full name, 6 and 25 are for PostScript.
fn rename(names: &mut Vec<Name<'_>>, family: &str) {
    let encoded = |text: &str, platform: u16| -> Vec<u8> {
        if platform == 1 {
            return text
                .chars()
                .map(|c| if c.is_ascii() { c as u8 } else { b'?' })
                .collect();
        }
        text.encode_utf16().flat_map(u16::to_be_bytes).collect()
    };
    let compact: String = (family.chars())
        .filter(char::is_ascii_alphanumeric)
        .collect();
    let style = |names: &[Name<'_>], platform: u16| -> String {
        let of = |id| {
            names
                .iter()
                .find(|name| name.platform == platform && name.id == id)
        };
        let Some(name) = of(17).or_else(|| of(2)) else {
            return String::new();
        };
        if platform == 1 {
            return name.bytes.iter().map(|byte| char::from(*byte)).collect();
        }
        let units = name
            .bytes
            .chunks_exact(2)
            .map(|pair| u16::from_be_bytes([pair[0], pair[1]]));
        char::decode_utf16(units).filter_map(Result::ok).collect()
    };
    let styles: Vec<String> = names
        .iter()
        .map(|name| style(names, name.platform))
        .collect();
    for (name, style) in names.iter_mut().zip(styles) {
        let style_compact: String = style.chars().filter(char::is_ascii_alphanumeric).collect();
        let text = match name.id {
            1 | 16 => family.to_owned(),
            3 | 6 => format!("{compact}-{style_compact}"),
            4 => format!("{family} {style}"),
            25 => compact.clone(),
            _ => continue,
        };
        name.bytes = encoded(&text, name.platform).into();
    }
    names.retain(|name| !name.bytes.is_empty());
}

/// Bits of `ulUnicodeRange` and the characters that they stand for (OpenType 1.9.1,
/// OS/2), where one range tells enough to clear the bit.
const RANGES: &[(u8, u32, u32)] = &[
    (0, 0x20, 0x7F),
    (1, 0x80, 0xFF),
    (2, 0x100, 0x17F),
    (3, 0x180, 0x24F),
    (4, 0x250, 0x2AF),
    (5, 0x2B0, 0x2FF),
    (6, 0x300, 0x36F),
    (7, 0x370, 0x3FF),
    (8, 0x2C80, 0x2CFF),
    (9, 0x400, 0x52F),
    (10, 0x530, 0x58F),
    (11, 0x590, 0x5FF),
    (13, 0x600, 0x77F),
    (15, 0x900, 0x97F),
    (16, 0x980, 0x9FF),
    (17, 0xA00, 0xA7F),
    (18, 0xA80, 0xAFF),
    (19, 0xB00, 0xB7F),
    (20, 0xB80, 0xBFF),
    (21, 0xC00, 0xC7F),
    (22, 0xC80, 0xCFF),
    (23, 0xD00, 0xD7F),
    (24, 0xE00, 0xE7F),
    (25, 0xE80, 0xEFF),
    (26, 0x10A0, 0x10FF),
    (28, 0x1100, 0x11FF),
    (29, 0x1E00, 0x1EFF),
    (30, 0x1F00, 0x1FFF),
    (31, 0x2000, 0x206F),
    (32, 0x2070, 0x209F),
    (33, 0x20A0, 0x20CF),
    (34, 0x20D0, 0x20FF),
    (35, 0x2100, 0x214F),
    (36, 0x2150, 0x218F),
    (37, 0x2190, 0x21FF),
    (38, 0x2200, 0x22FF),
    (39, 0x2300, 0x23FF),
    (40, 0x2400, 0x243F),
    (41, 0x2440, 0x245F),
    (42, 0x2460, 0x24FF),
    (43, 0x2500, 0x257F),
    (44, 0x2580, 0x259F),
    (45, 0x25A0, 0x25FF),
    (46, 0x2600, 0x26FF),
    (47, 0x2700, 0x27BF),
    (48, 0x3000, 0x303F),
    (49, 0x3040, 0x309F),
    (50, 0x30A0, 0x30FF),
    (51, 0x3100, 0x31BF),
    (52, 0x3130, 0x318F),
    (54, 0x3200, 0x32FF),
    (55, 0x3300, 0x33FF),
    (56, 0xAC00, 0xD7AF),
    (59, 0x2E80, 0x9FFF),
    (60, 0xE000, 0xF8FF),
    (61, 0xF900, 0xFAFF),
    (62, 0xFB00, 0xFB4F),
    (63, 0xFB50, 0xFDFF),
    (64, 0xFE20, 0xFE2F),
    (66, 0xFE50, 0xFE6F),
    (67, 0xFE70, 0xFEFF),
    (68, 0xFF00, 0xFFEF),
    (70, 0x0F00, 0x0FFF),
    (74, 0x1000, 0x109F),
    (75, 0x1200, 0x137F),
    (80, 0x1780, 0x17FF),
    (82, 0x2800, 0x28FF),
];

/// `OS/2` with the first and the last character that stay, and without the ranges of
/// which nothing does.
pub(crate) fn cut_os2(view: View<'_>, kept: &BTreeSet<u32>) -> Result<Vec<u8>, CutError> {
    view.u16(66)?;
    let mut bytes = view.data.to_vec();
    let set = CharacterSet::of(kept.iter().copied());
    for (bit, first, last) in RANGES {
        if set.count_in(*first, *last) == 0 {
            let word = 42 + usize::from(bit / 32) * 4;
            let in_word = bit % 32;
            bytes[word + 3 - usize::from(in_word / 8)] &= !(1 << (in_word % 8));
        }
    }
    let end = |point: Option<&u32>| point.map_or(0, |point| (*point).min(0xFFFF) as u16);
    bytes[64..66].copy_from_slice(&end(kept.first()).to_be_bytes());
    bytes[66..68].copy_from_slice(&end(kept.last()).to_be_bytes());
    Ok(bytes)
}

/// `post` without names of glyphs: version 3.
pub(crate) fn cut_post(view: View<'_>) -> Result<Vec<u8>, CutError> {
    let mut bytes = view.slice(0, 32)?.to_vec();
    bytes[..4].copy_from_slice(&[0, 3, 0, 0]);
    Ok(bytes)
}

/// The old kerning table for the glyphs that stay; `None` where no pair does, or where
/// it is of a kind that browsers drop.
pub(crate) fn cut_kern(view: View<'_>, map: &GlyphMap) -> Result<Option<Vec<u8>>, CutError> {
    if view.u16(0)? != 0 {
        return Ok(None);
    }
    let mut at = 4;
    let mut subtables = Vec::new();
    for _ in 0..view.u16(2)? {
        let table = view.from(at)?;
        let (length, coverage) = (usize::from(table.u16(2)?), table.u16(4)?);
        if coverage >> 8 != 0 {
            return Ok(None);
        }
        let mut pairs: Vec<(u16, u16, u16)> = Vec::new();
        let count = usize::from(table.u16(6)?);
        for pair in 0..count {
            let at = 14 + pair * 6;
            let glyphs = map.get(table.u16(at)?).zip(map.get(table.u16(at + 2)?));
            if let Some((left, right)) = glyphs {
                pairs.push((left, right, table.u16(at + 4)?));
            }
        }
        pairs.sort_unstable();
        pairs.dedup_by_key(|(left, right, _)| (*left, *right));
        if !pairs.is_empty() {
            subtables.push((coverage, pairs));
        }
        // The length has 16 bits, and large tables overflow it.
        at += length.max(14 + count * 6);
    }
    if subtables.is_empty() {
        return Ok(None);
    }
    let mut bytes = Object::new();
    bytes.u16(0).count(subtables.len());
    for (coverage, pairs) in subtables {
        let power = pairs.len().ilog2();
        let range = 6usize << power;
        bytes
            .u16(0)
            .u16((14 + pairs.len() * 6) as u16)
            .u16(coverage);
        bytes.count(pairs.len()).u16(range as u16).u16(power as u16);
        bytes.u16((pairs.len() * 6 - range) as u16);
        for (left, right, value) in pairs {
            bytes.u16(left).u16(right).u16(value);
        }
    }
    bytes.pack("kern").map(Some)
}

/// The names that `fvar` and `STAT` call axes and positions by.
pub(crate) fn names_of_axes(
    fvar: Option<View<'_>>,
    stat: Option<View<'_>>,
) -> Result<BTreeSet<u16>, CutError> {
    let mut names = BTreeSet::new();
    if let Some(fvar) = fvar {
        names.insert(PREFIX_OF_POSITIONS);
        let start = usize::from(fvar.u16(4)?);
        let axes = usize::from(fvar.u16(8)?);
        let size = usize::from(fvar.u16(10)?);
        let (instances, instance) = (fvar.u16(12)?, usize::from(fvar.u16(14)?));
        for axis in 0..axes {
            names.insert(fvar.u16(start + axis * size + 18)?);
        }
        for index in 0..usize::from(instances) {
            let at = start + axes * size + index * instance;
            names.insert(fvar.u16(at)?);
            if instance >= 4 + axes * 4 + 2 {
                names.insert(fvar.u16(at + 4 + axes * 4)?);
            }
        }
    }
    if let Some(stat) = stat {
        let (size, axes) = (usize::from(stat.u16(4)?), usize::from(stat.u16(6)?));
        if let Some(records) = stat.link32(8)? {
            for axis in 0..axes {
                names.insert(records.u16(axis * size + 4)?);
            }
        }
        let count = usize::from(stat.u16(12)?);
        if let Some(values) = stat.link32(14)? {
            for index in 0..count {
                let value = values.follow16(index * 2)?;
                // In each of the four formats.
                names.insert(value.u16(6)?);
            }
        }
        if stat.u16(2)? >= 1 {
            names.insert(stat.u16(18)?);
        }
    }
    names.remove(&u16::MAX);
    Ok(names)
}
