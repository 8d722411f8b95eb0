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

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    /// A table of 16-bit words.
    fn table(words: &[u16]) -> Vec<u8> {
        words.iter().flat_map(|word| word.to_be_bytes()).collect()
    }

    /// A table of one subtable, in format 0, with so many pairs that ascend.
    fn of_pairs(count: u16) -> Vec<u8> {
        let length = 14_u16.wrapping_add(count.wrapping_mul(6));
        let mut kern = table(&[0, 1, 0, length, 1, count, 0, 0, 0]);
        for pair in 0..count {
            kern.extend(table(&[pair / 100 + 1, pair % 100, 20]));
        }
        kern
    }

    const PAIRS: [u16; 6] = [3, 4, 50, 3, 5, 60];

    #[rstest]
    #[case::pairs(&[0, 1, 0, 26, 1, 2, 0, 0, 0], &PAIRS, false)]
    #[case::one_pair(&[0, 1, 0, 20, 1, 1, 0, 0, 0], &PAIRS[..3], false)]
    #[case::no_pairs(&[0, 1, 0, 14, 1, 0, 0, 0, 0], &[], true)]
    #[case::twice_the_same(&[0, 1, 0, 26, 1, 2, 0, 0, 0], &[3, 4, 50, 3, 4, 60], true)]
    #[case::falling(&[0, 1, 0, 26, 1, 2, 0, 0, 0], &[4, 4, 50, 3, 5, 60], true)]
    #[case::of_apple(&[1, 0, 0, 1], &[], true)]
    #[case::without_subtables(&[0, 0], &[], true)]
    #[case::too_long(&[0, 1, 0, 27, 1, 2, 0, 0, 0], &PAIRS, true)]
    // What is not looked at may be as it likes.
    #[case::vertical(&[0, 1, 0, 14, 0, 0, 0, 0, 0], &[], false)]
    #[case::across(&[0, 1, 0, 14, 0x11, 0, 0, 0, 0], &[], false)]
    #[case::by_classes(&[0, 1, 0, 14, 0x201, 0, 0, 0, 0], &[], false)]
    #[case::unknown_version(&[0, 1, 1, 14, 1, 0, 0, 0, 0], &[], false)]
    // The second subtable counts, too.
    #[case::second(&[0, 2, 0, 14, 0, 0, 0, 0, 0, 0, 14, 1, 0, 0, 0, 0], &[], true)]
    #[case::behind_an_empty_one(&[0, 2, 0, 0, 0, 0, 14, 1, 0, 0, 0, 0], &[], true)]
    // Fonts that end early are refused as a whole.
    #[case::cut_off(&[0, 1, 0], &[], false)]
    #[case::cut_off_in_pairs(&[0, 1, 0, 20, 1, 9, 0, 0, 0], &PAIRS[..3], false)]
    fn what_the_sanitiser_drops(#[case] head: &[u16], #[case] pairs: &[u16], #[case] drops: bool) {
        let kern = table(&[head, pairs].concat());
        assert_eq!(drops_kern(&kern), drops);
    }

    #[rstest]
    #[case(MOST_PAIRS - 1, false)]
    #[case(MOST_PAIRS, false)]
    #[case(MOST_PAIRS + 1, true)]
    fn as_many_pairs_as_fit(#[case] count: u16, #[case] drops: bool) {
        assert_eq!(drops_kern(&of_pairs(count)), drops);
    }
}
