//! The files that `trim` makes, with their names and their style sheet.

use std::path::Path;

use tidy_lattice_core::font::{CharacterSet, Slope};
use tidy_lattice_core::text::Character;
use tidy_lattice_core::trim::{Slicing, Trimmed};
use tidy_lattice_project::trimming::{Target, file_name, rule};

use crate::args::{ListForm, TrimArgs};
use crate::error::CliError;
use crate::results::{FontList, ListedFont, TrimmedFace, TrimmedFaces, WrittenFile};
use crate::writing;

/// The style sheet's name in the folder.
const SHEET: &str = "fonts.css";

/// The list's name there.
const LIST: &str = "fonts.json";

/// Files with their names.
pub type Files = Vec<(String, Vec<u8>)>;

/// A face that was cut, with its files.
pub struct Done {
    /// What is told of it.
    pub shown: TrimmedFace,
    /// Its rules.
    pub css: String,
    /// Its files in order.
    pub listed: Vec<ListedFont>,
    /// Its files.
    pub files: Files,
}

/// Names the files, and puts the rules together.
pub fn named(
    args: &TrimArgs,
    face: &Target,
    (slicing, slices): (&Slicing, &str),
    trimmed: Trimmed,
    whole_stack: bool,
) -> Done {
    let family = args.family.clone().unwrap_or_else(|| face.family.clone());
    let several = trimmed.pieces.len() > 1;
    let mut css = String::new();
    let mut files = Vec::new();
    let mut written = Vec::new();
    let mut listed = Vec::new();
    // Of rules that hold a character the later one wins, so that the first slices, which
    // have what is used most, stand last.
    for (number, piece) in trimmed.pieces.iter().enumerate().rev() {
        let mut sources = Vec::new();
        for (packing, bytes) in &piece.files {
            let ending = packing.ending(trimmed.compact);
            let name = file_name(face, several.then_some(number), bytes, ending);
            sources.push((name.clone(), packing.css_format(trimmed.compact)));
            files.push((name, bytes.clone()));
        }
        listed.extend(sources.first().map(|(name, _)| ListedFont {
            family: family.clone(),
            file: name.clone(),
            weight: face.weight,
            style: face.slope.css().to_owned(),
            characters: piece.range.clone(),
        }));
        css.push_str(&rule(face, &family, piece, &sources, args.display.css()));
        written.push(
            (sources.iter().zip(&piece.files))
                .map(|((name, _), (_, bytes))| WrittenFile {
                    name: name.clone(),
                    bytes: bytes.len() as u64,
                })
                .collect(),
        );
    }
    written.reverse();
    listed.reverse();
    let mut notes = Vec::new();
    if let Slicing::Largest(limit) = slicing {
        let above = trimmed
            .pieces
            .iter()
            .filter(|piece| piece.bytes() > *limit)
            .count();
        if above > 0 {
            notes.push(format!(
                "{above} of its files {} larger than {}: letters that are shaped together are \
                 not parted",
                if above == 1 { "is" } else { "are" },
                slices
            ));
        }
    }
    for gone in &face.gone {
        notes.push(format!(
            "its rule was for {gone}, which is outside of what is left of its axes ({}): text that \
             asks for it is set in the nearest that is left",
            trimmed.axes.join(", ")
        ));
    }
    if let (Some(name), None) = (&face.reserved, &args.family) {
        notes.push(format!(
            "its licence reserves the name “{name}”: a changed font may need another; \
             --family renames it"
        ));
    }
    // Of a project's texts each font shows its part; `cover` tells what none does.
    let missing = if whole_stack {
        CharacterSet::default()
    } else {
        trimmed.missing.clone()
    };
    let lacks: Vec<char> = missing.iter().filter_map(char::from_u32).collect();
    Done {
        shown: TrimmedFace {
            source: face.path.display().to_string(),
            style: style(face),
            bytes_before: face.file.packed_bytes(),
            bytes: trimmed.bytes(),
            files: written,
            lacks_count: lacks.len() as u64,
            lacks: lacks
                .iter()
                .take(100)
                .map(|c| Character::describe(*c))
                .collect(),
            notes,
            cut: trimmed,
            family,
        },
        css,
        listed,
        files,
    }
}

fn style(face: &Target) -> String {
    let (least, most) = face.weight;
    let weight = if least == most {
        format!("{least}")
    } else {
        format!("{least} to {most}")
    };
    match face.slope {
        Slope::Normal => weight,
        slope => format!("{weight} {}", slope.css()),
    }
}

/// The rules of all faces.
pub fn sheet(done: &[Done]) -> String {
    let rules: Vec<&str> = done.iter().map(|done| done.css.as_str()).collect();
    format!(
        "/* Made by tidy-lattice {} */\n{}",
        env!("CARGO_PKG_VERSION"),
        rules.join("")
    )
}

/// The name of what is written beside the files.
pub fn list_name(form: ListForm) -> &'static str {
    match form {
        ListForm::Css => SHEET,
        ListForm::App => LIST,
    }
}

/// What is written beside the files: its name, and its text.
pub fn beside(trimmed: &TrimmedFaces, form: ListForm) -> (&'static str, String) {
    let text = match form {
        ListForm::Css => trimmed.css.clone(),
        ListForm::App => {
            let list = FontList {
                schema: "tidy-lattice/font-files/1",
                version: env!("CARGO_PKG_VERSION"),
                fonts: &trimmed.fonts,
            };
            serde_json::to_string_pretty(&list).unwrap_or_default() + "\n"
        }
    };
    (list_name(form), text)
}

/// Writes the fonts, then what names them, by its name and text.
pub fn write(
    folder: &Path,
    files: &Files,
    list: Option<(&str, &str)>,
    force: bool,
) -> Result<(), CliError> {
    let list = list.map(|(name, text)| (folder.join(name), text));
    writing::make_folder(folder)?;
    if let Some((path, text)) = &list {
        writing::may_write(path, text.as_bytes(), force)?;
    }
    for (name, bytes) in files {
        writing::may_write(&folder.join(name), bytes, force)?;
    }
    for (name, bytes) in files {
        writing::write_file(&folder.join(name), bytes, force)?;
    }
    match list {
        Some((path, text)) => writing::write_file(&path, text.as_bytes(), force),
        None => Ok(()),
    }
}
