//! Fonts packed for the web: WOFF (W3C WOFF 1.0) and WOFF2 (W3C WOFF 2.0).

mod glyphs;
mod woff;
mod woff2;

pub use woff::woff;
pub use woff2::woff2;

/// The tables of an sfnt by tag, in the order of its directory.
fn tables(sfnt: &[u8]) -> Option<Vec<([u8; 4], &[u8])>> {
    let count = usize::from(u16::from_be_bytes(sfnt.get(4..6)?.try_into().ok()?));
    (0..count)
        .map(|index| {
            let record = sfnt.get(12 + index * 16..28 + index * 16)?;
            let number = |at: usize| {
                let bytes = record.get(at..at + 4)?.try_into().ok()?;
                Some(u32::from_be_bytes(bytes) as usize)
            };
            let (start, length) = (number(8)?, number(12)?);
            let tag = record.get(..4)?.try_into().ok()?;
            Some((tag, sfnt.get(start..start.checked_add(length)?)?))
        })
        .collect()
}
