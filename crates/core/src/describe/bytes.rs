//! What a font weighs, and what the weight goes into.

use std::io::Write as _;

use serde::Serialize;

use tidy_lattice_glyphs::font::{Container, FontFile};

/// The weight of a face in bytes.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Bytes {
    /// The file as it is.
    pub file: u64,
    /// The face's tables, unpacked, largest first.
    pub tables: Vec<TableBytes>,
    /// The file as WOFF2: its own size where it is one, else an estimate.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub woff2: Option<Woff2Size>,
    /// What the weight goes into, in a line.
    pub verdict: String,
}

/// A table's weight.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct TableBytes {
    /// The tag.
    pub tag: String,
    /// Its length in bytes, unpacked.
    pub bytes: u64,
}

/// The size of a WOFF2 file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Woff2Size {
    /// In bytes.
    pub bytes: u64,
    /// Whether it was estimated: all tables packed with Brotli, without the
    /// rearrangement of outlines that WOFF2 does first.
    pub estimated: bool,
}

/// What tables are for, in words that people use.
const PURPOSES: [(&str, &[&str]); 9] = [
    ("outlines", &["glyf", "loca", "CFF ", "CFF2", "VARC"]),
    (
        "layout features",
        &[
            "GSUB", "GPOS", "GDEF", "BASE", "JSTF", "morx", "kerx", "feat", "MATH",
        ],
    ),
    (
        "variations",
        &[
            "gvar", "fvar", "avar", "HVAR", "VVAR", "MVAR", "cvar", "STAT",
        ],
    ),
    (
        "colour and bitmaps",
        &[
            "COLR", "CPAL", "SVG ", "CBDT", "CBLC", "sbix", "EBDT", "EBLC",
        ],
    ),
    (
        "hinting",
        &[
            "fpgm", "prep", "cvt ", "gasp", "hdmx", "VDMX", "LTSH", "TTFA",
        ],
    ),
    ("the character map", &["cmap"]),
    ("kerning (old table)", &["kern"]),
    ("names", &["name", "post", "meta"]),
    (
        "metrics",
        &[
            "hmtx", "vmtx", "head", "hhea", "vhea", "maxp", "OS/2", "VORG",
        ],
    ),
];

impl Bytes {
    /// Weighs the font of `file` with this number; `estimate` also packs it.
    pub fn weigh(file: &FontFile, index: u32, estimate: bool) -> Self {
        let mut tables: Vec<TableBytes> = file
            .tables(index)
            .into_iter()
            .filter(|table| table.inside)
            .map(|table| TableBytes {
                tag: table.tag,
                bytes: u64::from(table.bytes),
            })
            .collect();
        tables.sort_by(|a, b| b.bytes.cmp(&a.bytes).then_with(|| a.tag.cmp(&b.tag)));
        let woff2 = if file.container() == Container::Woff2 {
            Some(Woff2Size {
                bytes: file.packed_bytes(),
                estimated: false,
            })
        } else if estimate {
            estimated_woff2(file, index, &tables)
        } else {
            None
        };
        Bytes {
            file: file.packed_bytes(),
            verdict: verdict(&tables),
            tables,
            woff2,
        }
    }
}

/// The shares of the purposes that matter, in %.
fn verdict(tables: &[TableBytes]) -> String {
    let total: u64 = tables.iter().map(|table| table.bytes).sum();
    if total == 0 {
        return "no table can be read".to_owned();
    }
    let mut shares: Vec<(&str, u64)> = PURPOSES
        .iter()
        .map(|(purpose, tags)| {
            let of_it = tables
                .iter()
                .filter(|table| tags.contains(&table.tag.as_str()));
            (*purpose, of_it.map(|table| table.bytes).sum())
        })
        .collect();
    let known: u64 = shares.iter().map(|(_, bytes)| bytes).sum();
    shares.push(("tables that browsers do not use", total - known));
    shares.sort_by_key(|(_, bytes)| std::cmp::Reverse(*bytes));
    let parts: Vec<String> = shares
        .iter()
        .map(|(purpose, bytes)| {
            (
                purpose,
                (*bytes as f64 / total as f64 * 100.0).round() as u64,
            )
        })
        .filter(|(_, percent)| *percent >= 5)
        .take(4)
        .map(|(purpose, percent)| format!("{percent} % {purpose}"))
        .collect();
    parts.join(", ")
}

/// Packs the tables one after the other, as WOFF2 does, at a quality that is
/// fast; `None` where nothing can be packed.
fn estimated_woff2(file: &FontFile, index: u32, tables: &[TableBytes]) -> Option<Woff2Size> {
    // WOFF2 §4: 48 bytes of header, 2 to 7 bytes for each table.
    const HEADER: u64 = 48;
    const ENTRY: u64 = 4;
    // Beyond 2 MB it is pictures or ideographs, where quality gains little.
    let total: u64 = tables.iter().map(|table| table.bytes).sum();
    let quality = if total > 2_000_000 { 5 } else { 9 };
    const WINDOW: u32 = 22;
    let mut packer = brotli::CompressorWriter::new(Vec::new(), 1 << 16, quality, WINDOW);
    // Digital signatures are dropped; `loca` is rebuilt from the outlines.
    for table in tables
        .iter()
        .filter(|table| !["DSIG", "loca"].contains(&table.tag.as_str()))
    {
        packer.write_all(file.table(index, &table.tag)?).ok()?;
    }
    let packed = packer.into_inner().len() as u64;
    Some(Woff2Size {
        bytes: HEADER + ENTRY * tables.len() as u64 + packed,
        estimated: true,
    })
}
