//! What browsers drop from a font file that they load as a web font.
//!
//! Web fonts pass a sanitiser, installed fonts do not. A `kern` table (OpenType
//! 1.9.1, "kern - Kerning") that the sanitiser refuses makes a face kerned where
//! it is installed and not kerned where it is loaded, so its text is wider there.

/// The most pairs that fit a subtable: its length field counts 65,536 bytes,
/// a pair takes 6.
const MOST_PAIRS: u16 = 10_922;

/// Bytes of the table's header and of the part of a subtable that is alike in
/// all formats.
const HEADER: usize = 4;
const SUBTABLE_HEADER: usize = 6;

/// Whether the sanitiser drops this `kern` table.
pub fn drops_kern(kern: &[u8]) -> bool {
    keeps(kern) == Some(false)
}

/// `None` where the table ends early; browsers then refuse the whole font, so
/// nothing is changed here.
fn keeps(kern: &[u8]) -> Option<bool> {
    let be16 = |at: usize| Some(u16::from_be_bytes(kern.get(at..at + 2)?.try_into().ok()?));
    let (version, subtables) = (be16(0)?, be16(2)?);
    if version > 0 || subtables == 0 {
        return Some(false);
    }
    let mut at = HEADER;
    for _ in 0..subtables {
        let (length, coverage) = (usize::from(be16(at + 2)?), be16(at + 4)?);
        if at + length > kern.len() {
            return Some(false);
        }
        // Only horizontal kerning in format 0 is looked at; the rest is skipped.
        let horizontal = coverage & 1 != 0 && coverage & 0xf0 == 0;
        if be16(at)? == 0 && horizontal && coverage >> 8 == 0 {
            let pairs = be16(at + SUBTABLE_HEADER)?;
            if pairs == 0 || pairs > MOST_PAIRS || !sorted(kern, at + SUBTABLE_HEADER + 8, pairs)? {
                return Some(false);
            }
        }
        at += length.max(SUBTABLE_HEADER);
    }
    Some(true)
}

/// Whether the pairs that start at `at` ascend.
fn sorted(kern: &[u8], at: usize, pairs: u16) -> Option<bool> {
    let mut last = None;
    for pair in 0..usize::from(pairs) {
        let at = at + pair * 6;
        let glyphs = u32::from_be_bytes(kern.get(at..at + 4)?.try_into().ok()?);
        if last.is_some_and(|last| glyphs <= last) {
            return Some(false);
        }
        last = Some(glyphs);
    }
    Some(true)
}
