//! `trim` for people.

use std::fmt::Write as _;

use super::table::{lines, table};
use super::text::{FAINT, GOOD, TITLE, count, kilobytes, paragraph, safe, styled, thousands};
use crate::results::{TrimmedFace, TrimmedFaces};
use tidy_lattice_core::trim::Borders;

fn bytes(bytes: u64) -> String {
    format!("{} KB", kilobytes(bytes))
}

/// Files of one face that are listed where not all are asked for.
const SHOWN: usize = 8;

/// The faces before and after.
pub fn brief(trimmed: &TrimmedFaces) -> String {
    let faces = trimmed.faces.len() as u64;
    let files: usize = trimmed.faces.iter().map(|face| face.files.len()).sum();
    let mut view = format!(
        "{}\n\n",
        styled(
            TITLE,
            &format!(
                "{} in {}: {} → {} ({} %)",
                count(faces, "face", "faces"),
                count(files as u64, "file", "files"),
                bytes(trimmed.bytes_before),
                bytes(trimmed.bytes),
                (trimmed.bytes * 100).div_ceil(trimmed.bytes_before.max(1))
            )
        )
    );
    view.push_str(&overview(trimmed));
    view
}

/// The same, then what should be known of each.
pub fn view(trimmed: &TrimmedFaces, all: bool) -> String {
    let mut view = brief(trimmed);
    for face in &trimmed.faces {
        view.push_str(&details(face, all));
    }
    if !trimmed.not_needed.is_empty() {
        let saved: u64 = trimmed.not_needed.iter().map(|file| file.bytes).sum();
        let _ = write!(view, "\n{}\n", styled(TITLE, "Nothing of these is needed"));
        let shown = if all { usize::MAX } else { SHOWN };
        for file in trimmed.not_needed.iter().take(shown) {
            view.push_str(&paragraph(&format!(
                "- {} ({})",
                safe(&file.source),
                bytes(file.bytes)
            )));
        }
        let more = trimmed.not_needed.len().saturating_sub(shown);
        if more > 0 {
            view.push_str(&paragraph(&styled(
                FAINT,
                &format!("{more} more; --all lists them"),
            )));
        }
        view.push_str(&paragraph(&format!("{} less.", bytes(saved))));
    }
    let outlines: usize = trimmed
        .faces
        .iter()
        .map(|face| face.cut.proven_outlines)
        .sum();
    let texts: usize = trimmed.faces.iter().map(|face| face.cut.proven_texts).sum();
    let off = (trimmed.faces.iter().map(|face| face.cut.off)).fold(0.0, f64::max);
    let same = if off > 0.0 {
        format!(
            "are the same as before, but for the rounding of what varies: at most {off:.1} units \
             of the font"
        )
    } else {
        "are the same as before".to_owned()
    };
    view.push('\n');
    view.push_str(&paragraph(&format!(
        "{}: {} and {} {same}.",
        styled(GOOD, "Compared with the sources"),
        count(outlines as u64, "outline", "outlines"),
        count(texts as u64, "shaped text", "shaped texts"),
    )));
    view.push_str(&paragraph(&match &trimmed.folder {
        Some(folder) => format!("Written to {}, with {}.", safe(folder), trimmed.list),
        None => format!(
            "Nothing is written yet; -o FOLDER writes the files and {}.",
            trimmed.list
        ),
    }));
    view
}

fn overview(trimmed: &TrimmedFaces) -> String {
    let mut table = table(
        &[
            "Face",
            "file",
            "style",
            "before",
            "after",
            "characters",
            "glyphs",
            "files",
        ],
        &[3, 4, 5, 6, 7],
    );
    for face in &trimmed.faces {
        let characters: u64 = face.cut.pieces.iter().map(|piece| piece.characters).sum();
        let glyphs: usize = face.cut.pieces.iter().map(|piece| piece.glyphs).sum();
        table.add_row([
            safe(&face.family),
            safe(
                face.source
                    .rsplit(['/', '\\'])
                    .next()
                    .unwrap_or(&face.source),
            ),
            safe(&face.style),
            bytes(face.bytes_before),
            format!(
                "{} ({} %)",
                bytes(face.bytes),
                (face.bytes * 100).div_ceil(face.bytes_before.max(1))
            ),
            characters.to_string(),
            format!("{glyphs} of {}", face.cut.glyphs_before),
            face.files.len().to_string(),
        ]);
    }
    lines(&table)
}

/// What the borders between files cut, if anything.
fn borders(borders: &Borders) -> Option<String> {
    if borders.apart == 0 {
        return None;
    }
    let share = borders.apart as f64 / borders.pairs.max(1) as f64 * 100.0;
    let apart = format!("{share:.1} % of neighbouring letters come from two of its files");
    if borders.cut == 0 {
        return Some(format!("{apart}; the face kerns none of these pairs."));
    }
    let most: Vec<String> = (borders.most.iter())
        .map(|pair| format!("{} ({})", safe(&pair.text), thousands(pair.count)))
        .collect();
    Some(format!(
        "{apart}; {} of {} lose kerning or a ligature there, most often {}.",
        thousands(borders.cut),
        thousands(borders.pairs),
        most.join(", ")
    ))
}

fn details(face: &TrimmedFace, all: bool) -> String {
    let mut view = String::new();
    let mut said = Vec::new();
    if face.lacks_count > 0 {
        let some: Vec<String> = (face.lacks.iter().take(6))
            .map(|lack| format!("{} ({})", lack.code_point, lack.name.to_lowercase()))
            .collect();
        let more = face.lacks_count.saturating_sub(some.len() as u64);
        let rest = if more > 0 {
            format!(" and {more} more")
        } else {
            String::new()
        };
        said.push(format!(
            "It lacks {} that {} needed: {}{rest}. Another font of the stack must show them.",
            count(face.lacks_count, "character", "characters"),
            if face.lacks_count == 1 { "is" } else { "are" },
            safe(&some.join(", "))
        ));
    }
    if !face.cut.axes.is_empty() {
        said.push(format!(
            "What is left of its axes: {}.",
            safe(&face.cut.axes.join(", "))
        ));
    }
    said.extend(face.cut.borders.as_ref().and_then(borders));
    said.extend(face.notes.iter().map(|note| safe(note)));
    if all {
        let list = |tags: &[String]| {
            if tags.is_empty() {
                "none".to_owned()
            } else {
                tags.join(" ")
            }
        };
        said.push(format!("Features that stay: {}.", list(&face.cut.features)));
        said.push(format!(
            "Features that go: {}.",
            list(&face.cut.features_gone)
        ));
        said.push(format!("Tables that go: {}.", list(&face.cut.tables_gone)));
    }
    let shown = if all { usize::MAX } else { SHOWN };
    if face.files.len() > 1 || all || !said.is_empty() {
        let _ = write!(
            view,
            "\n{}\n",
            styled(
                TITLE,
                &format!("{} {}", safe(&face.family), safe(&face.style))
            )
        );
        for line in said {
            view.push_str(&paragraph(&line));
        }
        let pieces = face.files.iter().zip(&face.cut.pieces);
        for (files, piece) in pieces.take(shown) {
            let files: Vec<String> = (files.iter())
                .map(|file| format!("{} ({})", safe(&file.name), bytes(file.bytes)))
                .collect();
            view.push_str(&paragraph(&format!(
                "- {}: {}",
                files.join(", "),
                count(piece.characters, "character", "characters")
            )));
            if all {
                let mut tables: Vec<&(String, usize)> = piece.tables.iter().collect();
                tables.sort_by_key(|(_, size)| std::cmp::Reverse(*size));
                let tables: Vec<String> = (tables.iter())
                    .map(|(tag, size)| format!("{tag} {}", bytes(*size as u64)))
                    .collect();
                view.push_str(&paragraph(&styled(
                    FAINT,
                    &format!("  {}", tables.join(", ")),
                )));
            }
        }
        let more = face.files.len().saturating_sub(shown);
        if more > 0 {
            view.push_str(&paragraph(&styled(
                FAINT,
                &format!("{more} more; --all lists them"),
            )));
        }
    }
    view
}
