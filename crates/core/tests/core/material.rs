//! Fonts and texts for the tests.

use proptest::prelude::ProptestConfig;
use proptest::sample::Index;
use serde_json::Value;
use tidy_lattice_core::font::{Face, FacePick, FontError, FontFile, Limits};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::text::Source;

/// A font of the demo project.
pub fn demo(path: &str) -> Face {
    face(tidy_lattice_demo::file(path).unwrap_or_else(|| panic!("no {path} in the demo")))
}

/// The default face of `bytes`.
pub fn face(bytes: &[u8]) -> Face {
    pick(bytes, &FacePick::default()).expect("a font")
}

/// A picked face of `bytes`.
pub fn pick(bytes: &[u8], pick: &FacePick) -> Result<Face, FontError> {
    Face::open(&FontFile::read(bytes.to_vec(), Limits::DEFAULT)?, pick)
}

/// A text that came from nowhere.
pub fn source(text: &str) -> Source {
    Source {
        name: "text".to_owned(),
        text: text.to_owned(),
    }
}

/// What `text` needs.
pub fn need(text: &str) -> Need {
    Need::gather(&[source(text)])
}

/// `whole` with some of its bytes changed, and what is behind a place cut away.
pub fn damaged(whole: &[u8], damages: &[(Index, u8)], cut: Option<Index>) -> Vec<u8> {
    let mut bytes = whole.to_vec();
    for (place, byte) in damages {
        let place = place.index(bytes.len());
        bytes[place] = *byte;
    }
    if let Some(cut) = cut {
        bytes.truncate(cut.index(whole.len()));
    }
    bytes
}

/// So many cases of a property test: the same each time, and no file is written beside the
/// tests.
pub fn cases(many: u32) -> ProptestConfig {
    ProptestConfig {
        cases: many,
        rng_seed: proptest::test_runner::RngSeed::Fixed(0x7ED3),
        failure_persistence: None,
        ..ProptestConfig::default()
    }
}

/// Lists of more are told by how many there are, and a checksum.
const MOST: usize = 6;

/// Texts of more bytes are, too.
const LONGEST: usize = 120;

/// A value without long lists and texts, which would fill pages.
pub fn shortened(value: Value) -> Value {
    let checked = |count: usize, of: &str, text: &str| {
        // FNV-1a, which nothing but this rests on.
        let sum = text.bytes().fold(0xcbf2_9ce4_8422_2325_u64, |sum, byte| {
            (sum ^ u64::from(byte)).wrapping_mul(0x100_0000_01b3)
        });
        Value::String(format!("{count} {of}, {sum:016x}"))
    };
    match value {
        Value::Array(items) if items.len() > MOST => {
            let text = Value::Array(items.clone()).to_string();
            checked(items.len(), "items", &text)
        }
        Value::String(text) if text.len() > LONGEST => checked(text.len(), "bytes", &text),
        Value::Array(items) => items.into_iter().map(shortened).collect(),
        Value::Object(fields) if fields.len() > 4 * MOST => {
            let text = Value::Object(fields.clone()).to_string();
            checked(fields.len(), "fields", &text)
        }
        Value::Object(fields) => {
            let fields = fields
                .into_iter()
                .map(|(key, value)| (key, shortened(value)));
            Value::Object(fields.collect())
        }
        other => other,
    }
}
