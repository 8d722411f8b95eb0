//! Several faces, a line each.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use tidy_lattice_core::describe::{LanguageVerdict, Verdict};

use super::weight;
use crate::results::DescribedFace;
use crate::show::table::{lines, table};
use crate::show::text::{BAD, FAINT, GOOD, count, kilobytes, safe, styled, thousands};

/// From how many files on a face is told by a few of them.
const MANY: usize = 6;

/// How many of them are told.
const SHOWN: usize = 3;

/// One line a face.
pub fn overview(faces: &[DescribedFace]) -> String {
    let asked: Vec<&str> = faces
        .iter()
        .filter_map(|face| face.description.languages.as_ref())
        .next()
        .map_or_else(Vec::new, |languages| {
            languages
                .iter()
                .take(8)
                .map(|language| language.tag.as_str())
                .collect()
        });
    let mut header = vec![
        "Face",
        "class",
        "weight",
        "characters",
        "scripts",
        "features",
    ];
    header.extend(&asked);
    header.extend(["KB", "file"]);
    let right: Vec<usize> = vec![2, 3, 5, 6 + asked.len()];
    let mut table = table(&header, &right);
    let key = |face: &DescribedFace| {
        let names = &face.description.identity.names;
        (names.label(), weight(&face.description))
    };
    let mut files: BTreeMap<(String, String), usize> = BTreeMap::new();
    for face in faces {
        *files.entry(key(face)).or_default() += 1;
    }
    let mut seen: BTreeMap<(String, String), usize> = BTreeMap::new();
    for face in faces {
        // Of a face in many files a few stand for all.
        let key = key(face);
        let before = seen.entry(key.clone()).or_default();
        *before += 1;
        if files[&key] > MANY && *before > SHOWN {
            continue;
        }
        table.add_row(row(face, &asked));
    }
    let mut view = lines(&table);
    for ((name, weight), files) in files.iter().filter(|(_, files)| **files > MANY) {
        let more = count((files - SHOWN) as u64, "more file", "more files");
        let _ = writeln!(view, " and {more} of {} {weight}", safe(name));
    }
    let faults = faces.iter().flat_map(|face| {
        let findings = face
            .description
            .findings
            .iter()
            .filter(|finding| finding.fault);
        findings.map(move |finding| (face, finding))
    });
    for (face, finding) in faults {
        let _ = writeln!(
            view,
            " {} {}: {}",
            styled(BAD, "!"),
            safe(&face.file),
            finding.text
        );
    }
    let _ = writeln!(
        view,
        "{}",
        styled(
            FAINT,
            &format!(
                " {}; name one for its page, or use {} for everything",
                count(faces.len() as u64, "face", "faces"),
                "--all"
            )
        )
    );
    view
}

/// What the line of a face says; `asked` are tags of languages.
fn row(face: &DescribedFace, asked: &[&str]) -> Vec<String> {
    let description = &face.description;
    let scripts: Vec<&str> = description
        .characters
        .writing_scripts()
        .take(3)
        .map(|share| share.name.as_str())
        .collect();
    let more = description
        .characters
        .writing_scripts()
        .count()
        .saturating_sub(3);
    let more = if more > 0 {
        format!(" +{more}")
    } else {
        String::new()
    };
    let mut row = vec![
        safe(&description.identity.names.label()),
        description.class.class.label().to_owned(),
        weight(description),
        thousands(description.characters.count),
        format!("{}{more}", scripts.join(", ")),
        description.features.len().to_string(),
    ];
    for tag in asked {
        let verdict = description
            .languages
            .iter()
            .flatten()
            .find(|language| language.tag == *tag);
        row.push(verdict.map_or_else(String::new, short_verdict));
    }
    row.push(kilobytes(description.bytes.file));
    let name = std::path::Path::new(&face.file).file_name();
    row.push(safe(
        &name
            .map(|name| name.to_string_lossy().into_owned())
            .unwrap_or_default(),
    ));
    row
}

fn short_verdict(language: &LanguageVerdict) -> String {
    let lacking = language.main.of - language.main.covered + language.unplaced.len();
    match language.verdict {
        Verdict::Complete => styled(GOOD, "yes"),
        Verdict::AllButRare => styled(GOOD, &format!("yes, -{lacking}")),
        Verdict::Lacks => styled(BAD, &format!("-{lacking}")),
        Verdict::LettersOnly => styled(BAD, "letters only"),
        Verdict::No => styled(BAD, "no"),
    }
}
