//! What the file itself says about its use: OS/2 `fsType` (OpenType 1.9.1,
//! "OS/2", fsType) and the licence names (name IDs 0, 7, 13, 14). Facts as the
//! file states them, not legal advice.

use serde::Serialize;
use skrifa::font::{Font, Kind};
use skrifa::raw::TableProvider as _;

use tidy_lattice_glyphs::font::name_text;

/// The longest licence text that is told, in characters.
const LONGEST: usize = 2000;

/// The rights that a file states.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct Rights {
    /// OS/2 `fsType` as it stands; `None` where there is no OS/2 table.
    pub fs_type: Option<u16>,
    /// What the bits mean, in a sentence.
    pub statement: String,
    /// Whether the file says that it may be embedded, at least in some way.
    /// `None` where it says nothing.
    pub may_embed: Option<bool>,
    /// Whether the file says that it may be cut down to a subset.
    pub may_subset: Option<bool>,
    /// The copyright notice (name ID 0).
    pub copyright: Option<String>,
    /// The trademark notice (name ID 7).
    pub trademark: Option<String>,
    /// The licence text (name ID 13).
    pub licence: Option<String>,
    /// The licence's address (name ID 14).
    pub licence_url: Option<String>,
}

impl Rights {
    pub(super) fn read(font: &Font) -> Self {
        let fs_type = match font.kind() {
            Kind::Sfnt(tables, _) => tables.os2().ok().map(|os2| os2.fs_type()),
            _ => None,
        };
        let name = |id| name_text(font, id, LONGEST);
        Rights {
            fs_type,
            statement: statement(fs_type),
            may_embed: fs_type.map(|bits| bits & 0xf != 2),
            may_subset: fs_type.map(|bits| bits & 0x100 == 0),
            copyright: name(0),
            trademark: name(7),
            licence: name(13),
            licence_url: name(14),
        }
    }

    /// What a user must not do by the file's own words, as a finding's text.
    pub(super) fn warning(&self) -> Option<String> {
        match (self.may_embed, self.may_subset) {
            (Some(false), _) => Some(
                "the file says it may not be embedded without the owner's permission (OS/2 \
                 fsType 2, restricted licence); ask before you put it on a site"
                    .to_owned(),
            ),
            (_, Some(false)) => Some(
                "the file says it may not be subset before embedding (OS/2 fsType bit 8); use it \
                 whole, or ask the owner"
                    .to_owned(),
            ),
            _ => None,
        }
    }
}

/// The bits in plain words.
fn statement(fs_type: Option<u16>) -> String {
    let Some(bits) = fs_type else {
        return "the file has no OS/2 table and says nothing about embedding".to_owned();
    };
    // From OS/2 version 3 only one of the usage bits may be set; older fonts
    // set several, and then the least restrictive one counts.
    let usage = if bits & 0xf == 0 {
        "may be embedded and installed"
    } else if bits & 8 != 0 {
        "may be embedded in documents that can be edited"
    } else if bits & 4 != 0 {
        "may be embedded in documents for viewing and printing only"
    } else if bits & 2 != 0 {
        "may not be embedded without the owner's permission"
    } else {
        "states embedding bits that have no meaning"
    };
    let mut statement = usage.to_owned();
    if bits & 0x100 != 0 {
        statement.push_str(", may not be subset");
    }
    if bits & 0x200 != 0 {
        statement.push_str(", only its bitmaps may be embedded");
    }
    statement
}
