//! WOFF2: all tables in one Brotli stream, outlines and metrics transformed (W3C WOFF
//! 2.0, sections 4 and 5).

use std::collections::BTreeMap;

use brotli::enc::BrotliEncoderParams;
use brotli::enc::backward_references::BrotliEncoderMode;

use super::glyphs::{Transformed, transform_glyphs, transform_metrics};
use super::tables;
use crate::CutError;

/// Tags that have a number of their own, in its order (section 4.1, table 4).
const KNOWN: [&[u8; 4]; 63] = [
    b"cmap", b"head", b"hhea", b"hmtx", b"maxp", b"name", b"OS/2", b"post", b"cvt ", b"fpgm",
    b"glyf", b"loca", b"prep", b"CFF ", b"VORG", b"EBDT", b"EBLC", b"gasp", b"hdmx", b"kern",
    b"LTSH", b"PCLT", b"VDMX", b"vhea", b"vmtx", b"BASE", b"GDEF", b"GPOS", b"GSUB", b"EBSC",
    b"JSTF", b"MATH", b"CBDT", b"CBLC", b"COLR", b"CPAL", b"SVG ", b"sbix", b"acnt", b"avar",
    b"bdat", b"bloc", b"bsln", b"cvar", b"fdsc", b"feat", b"fmtx", b"fvar", b"gvar", b"hsty",
    b"just", b"lcar", b"mort", b"morx", b"opbd", b"prop", b"trak", b"Zapf", b"Silf", b"Glat",
    b"Gloc", b"Feat", b"Sill",
];

/// A number in groups of seven bits, the highest first.
fn base128(out: &mut Vec<u8>, value: u32) {
    let groups = (u32::BITS - value.leading_zeros()).div_ceil(7).max(1);
    for group in (0..groups).rev() {
        let more = if group > 0 { 0x80 } else { 0 };
        out.push((value >> (group * 7)) as u8 & 0x7F | more);
    }
}

/// An sfnt as WOFF2, at the best quality that Brotli has.
///
/// # Errors
///
/// [`CutError::Damaged`] where `sfnt` is none, or where its outlines cannot be read.
pub fn woff2(sfnt: &[u8]) -> Result<Vec<u8>, CutError> {
    let damaged = || CutError::Damaged {
        table: "directory",
        detail: "this is no sfnt".to_owned(),
    };
    let list = tables(sfnt).ok_or_else(damaged)?;
    let by_tag: BTreeMap<[u8; 4], &[u8]> = list.into_iter().collect();
    let glyphs = match by_tag.contains_key(b"glyf") {
        true => transform_glyphs(&by_tag)?,
        false => None,
    };
    let metrics = match &glyphs {
        Some(glyphs) => transform_metrics(&by_tag, glyphs)?,
        None => None,
    };
    // In the order of their tags, but for loca, which must follow glyf. hmtx comes behind
    // both: decoders ask their boxes for the bearings.
    let number = |tag: &[u8; 4]| KNOWN.iter().position(|known| *known == tag).unwrap_or(63);
    let mut order: Vec<[u8; 4]> = by_tag.keys().copied().collect();
    order.sort_by_key(|tag| match tag {
        b"loca" => (*b"glyf", true),
        _ => (*tag, false),
    });
    let mut directory = Vec::new();
    let mut stream = Vec::new();
    for tag in &order {
        let table = by_tag[tag];
        let (version, bytes): (u8, Option<&[u8]>) = match (tag, &glyphs, &metrics) {
            (b"glyf", Some(Transformed { bytes, .. }), _) => (0, Some(bytes)),
            (b"loca", Some(_), _) => (0, Some(&[])),
            (b"hmtx", _, Some(bytes)) => (1, Some(bytes)),
            // Version 3 of these two is: as they are.
            (b"glyf" | b"loca", None, _) => (3, None),
            _ => (0, None),
        };
        let known = number(tag);
        directory.push(known as u8 | version << 6);
        if known == 63 {
            directory.extend_from_slice(tag);
        }
        let length = match (tag, &glyphs) {
            // What readers make of it is told, not what was there.
            (b"glyf", Some(glyphs)) => glyphs.glyf_length,
            (b"loca", Some(glyphs)) => glyphs.loca_length,
            _ => table.len(),
        };
        base128(&mut directory, length as u32);
        if let Some(bytes) = bytes {
            base128(&mut directory, bytes.len() as u32);
        }
        match tag {
            b"head" => {
                let mut head = table.to_vec();
                // Bit 11: the font was transformed without loss.
                if let Some(flags) = head.get_mut(16) {
                    *flags |= 0x08;
                }
                if let (Some(glyphs), Some(format)) = (&glyphs, head.get_mut(50..52)) {
                    format.copy_from_slice(&u16::from(glyphs.long).to_be_bytes());
                }
                stream.extend(head);
            }
            _ => stream.extend_from_slice(bytes.unwrap_or(table)),
        }
    }
    let packed = compressed(&stream)?;
    let unpacked: usize = 12
        + order.len() * 16
        + (order.iter())
            .map(|tag| match (tag, &glyphs) {
                (b"glyf", Some(glyphs)) => glyphs.glyf_length,
                (b"loca", Some(glyphs)) => glyphs.loca_length,
                _ => by_tag[tag].len(),
            })
            .map(|length| length.div_ceil(4) * 4)
            .sum::<usize>();
    let length = (48 + directory.len() + packed.len()).div_ceil(4) * 4;
    let mut out = b"wOF2".to_vec();
    out.extend_from_slice(&sfnt[..4]);
    out.extend_from_slice(&(length as u32).to_be_bytes());
    out.extend_from_slice(&(order.len() as u16).to_be_bytes());
    out.extend_from_slice(&[0, 0]);
    out.extend_from_slice(&(unpacked as u32).to_be_bytes());
    out.extend_from_slice(&(packed.len() as u32).to_be_bytes());
    // Version 1.0; no metadata, no private data.
    out.extend_from_slice(&[0, 1, 0, 0]);
    out.resize(48, 0);
    out.extend(directory);
    out.extend(packed);
    out.resize(length, 0);
    Ok(out)
}

fn compressed(stream: &[u8]) -> Result<Vec<u8>, CutError> {
    let parameters = BrotliEncoderParams {
        quality: 11,
        lgwin: 22,
        mode: BrotliEncoderMode::BROTLI_MODE_FONT,
        size_hint: stream.len(),
        ..Default::default()
    };
    let mut packed = Vec::new();
    brotli::BrotliCompress(&mut &*stream, &mut packed, &parameters).map_err(|error| {
        CutError::Damaged {
            table: "WOFF2",
            detail: format!("it cannot be compressed: {error}"),
        }
    })?;
    Ok(packed)
}
