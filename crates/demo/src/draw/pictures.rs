//! Pictures in a table `SVG ` (OpenType 1.9.1, "SVG — The SVG Table"), with glyphs that are
//! empty without it.

use write_fonts::FontBuilder;
use write_fonts::types::Tag;

/// Characters and their pictures: SVG elements with y pointing down, 0 the baseline, 1000
/// an em.
pub const PICTURES: [(char, &str); 4] = [
    (
        '\u{26f4}',
        "<path fill='#204a87' d='M60-260H940L840-60H160Z'/><path fill='#eeeeec' d='M240-460H760V-290H240Z'/><path fill='#cc0000' d='M540-640H640V-490H540Z'/>",
    ),
    (
        '\u{1f39f}',
        "<path fill='#f57900' d='M80-640H920V-120H80Z'/><path fill='#fcaf3e' d='M160-560H600V-200H160Z'/>",
    ),
    (
        '\u{1f6b2}',
        "<g fill='none' stroke='#4e9a06' stroke-width='60'><circle cx='250' cy='-220' r='170'/><circle cx='750' cy='-220' r='170'/><path d='M250-220L420-520H680L750-220M420-520L500-220'/></g>",
    ),
    (
        '\u{1f9f3}',
        "<rect x='180' y='-600' width='640' height='520' rx='60' fill='#8f5902'/><path fill='none' stroke='#8f5902' stroke-width='50' d='M380-600V-720H620V-600'/>",
    ),
];

/// Adds the table; `glyphs` are those of [`PICTURES`], in their order.
pub fn add_pictures(builder: &mut FontBuilder<'_>, glyphs: &[u16]) {
    let mut sorted: Vec<(u16, &str)> = glyphs
        .iter()
        .zip(PICTURES)
        .map(|(glyph, (_, picture))| (*glyph, picture))
        .collect();
    sorted.sort_unstable();
    let documents: Vec<(u16, String)> = sorted
        .into_iter()
        .map(|(glyph, picture)| {
            let start = "<svg xmlns='http://www.w3.org/2000/svg'";
            (
                glyph,
                format!("{start}><g id='glyph{glyph}'>{picture}</g></svg>"),
            )
        })
        .collect();
    const HEADER: u32 = 10;
    const RECORD: u32 = 12;
    let mut table = Vec::new();
    table.extend(0_u16.to_be_bytes());
    table.extend(HEADER.to_be_bytes());
    table.extend(0_u32.to_be_bytes());
    table.extend((documents.len() as u16).to_be_bytes());
    let mut offset = 2 + RECORD * documents.len() as u32;
    for (glyph, document) in &documents {
        table.extend(glyph.to_be_bytes());
        table.extend(glyph.to_be_bytes());
        table.extend(offset.to_be_bytes());
        table.extend((document.len() as u32).to_be_bytes());
        offset += document.len() as u32;
    }
    for (_, document) in documents {
        table.extend(document.as_bytes());
    }
    builder.add_raw(Tag::new(b"SVG "), table);
}
