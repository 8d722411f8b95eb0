//! Glyphs as SVG documents (OpenType 1.9.1, `SVG `).

use std::io::Read;

use crate::CutError;
use crate::bytes::View;
use crate::glyphs::GlyphMap;

/// The largest document that is unpacked, in bytes.
const LARGEST: u64 = 32 * 1024 * 1024;

/// `SVG ` for the glyphs that stay; `None` where none of them has a drawing. A
/// document that draws several glyphs stays whole while one of them does.
pub(crate) fn cut(view: View<'_>, map: &GlyphMap) -> Result<Option<Vec<u8>>, CutError> {
    let list = view
        .link32(2)?
        .ok_or_else(|| view.damaged("it has no list of documents"))?;
    let mut records: Vec<(u16, u16, Vec<u8>)> = Vec::new();
    for index in 0..usize::from(list.u16(0)?) {
        let at = 2 + index * 12;
        let (first, last) = (list.u16(at)?, list.u16(at + 2)?);
        list.spend(u64::from(last.saturating_sub(first)))?;
        let kept: Vec<u16> = (first..=last).filter_map(|glyph| map.get(glyph)).collect();
        // New ids follow the order of the old, so that what is left is one run.
        if let (Some(start), Some(end)) = (kept.first(), kept.last()) {
            let document = list.slice(list.u32(at + 4)? as usize, list.u32(at + 8)? as usize)?;
            let text = unpacked(list, document)?;
            list.spend(text.len() as u64)?;
            records.push((*start, *end, renamed(&text, map)));
        }
    }
    if records.is_empty() {
        return Ok(None);
    }
    records.sort_by_key(|(first, ..)| *first);
    let mut bytes = vec![0, 0, 0, 0, 0, 10, 0, 0, 0, 0];
    bytes.extend_from_slice(&(records.len() as u16).to_be_bytes());
    let mut place = 2 + records.len() * 12;
    for (first, last, text) in &records {
        bytes.extend_from_slice(&first.to_be_bytes());
        bytes.extend_from_slice(&last.to_be_bytes());
        bytes.extend_from_slice(&(place as u32).to_be_bytes());
        bytes.extend_from_slice(&(text.len() as u32).to_be_bytes());
        place += text.len();
    }
    for (_, _, text) in records {
        bytes.extend(text);
    }
    Ok(Some(bytes))
}

fn unpacked(view: View<'_>, document: &[u8]) -> Result<Vec<u8>, CutError> {
    if !document.starts_with(&[0x1F, 0x8B]) {
        return Ok(document.to_vec());
    }
    let mut text = Vec::new();
    let read = flate2::read::GzDecoder::new(document)
        .take(LARGEST)
        .read_to_end(&mut text);
    match read {
        Ok(length) if (length as u64) < LARGEST => Ok(text),
        _ => Err(view.damaged("one of its documents cannot be unpacked")),
    }
}

/// The document with the new ids of its glyphs: elements that draw a glyph are called
/// `glyph` and its id. What is gone keeps being drawn where others use it.
fn renamed(text: &[u8], map: &GlyphMap) -> Vec<u8> {
    const NAME: &[u8] = b"glyph";
    let mut out = Vec::with_capacity(text.len());
    let mut at = 0;
    while at < text.len() {
        let before = at.checked_sub(1).map(|before| text[before]);
        let starts = matches!(before, Some(b'"' | b'\'' | b'#')) && text[at..].starts_with(NAME);
        let rest = &text[(at + NAME.len()).min(text.len())..];
        let digits = rest.iter().take_while(|byte| byte.is_ascii_digit()).count();
        let ends = matches!(rest.get(digits), Some(b'"' | b'\'' | b')'));
        if !starts || !(1..=5).contains(&digits) || !ends {
            out.push(text[at]);
            at += 1;
            continue;
        }
        let number = rest[..digits]
            .iter()
            .fold(0u32, |n, d| n * 10 + u32::from(d - b'0'));
        match u16::try_from(number).ok().and_then(|old| map.get(old)) {
            Some(new) => out.extend_from_slice(format!("glyph{new}").as_bytes()),
            None => out.extend_from_slice(format!("gone{number}").as_bytes()),
        }
        at += NAME.len() + digits;
    }
    out
}
