//! Families, before their files.

use std::fmt::Write as _;

use tidy_lattice_core::describe::{FaceOfFamily, FamilyDescription, Verdict};
use tidy_lattice_core::font::Slope;

use crate::show::table::{lines, table};
use crate::show::text::{BAD, GOOD, TITLE, count, kilobytes, labelled, safe, styled, thousands};

/// Of more families each has a line only.
const MOST_TOLD: usize = 8;

/// The families; nothing where there is none.
pub fn view(families: &[FamilyDescription]) -> String {
    if families.is_empty() {
        return String::new();
    }
    if families.len() > MOST_TOLD {
        return overview(families);
    }
    let mut view = String::new();
    for family in families {
        let _ = writeln!(view, "{}", styled(TITLE, &safe(&family.family)));
        view.push_str(&labelled("Faces", &faces(&family.faces)));
        if let Some(languages) = written(family) {
            view.push_str(&labelled("Writes", &languages));
        }
        let (files, bytes) = family.files();
        let text = format!(
            "{} in {}, {} KB",
            count(family.characters, "character", "characters"),
            count(files as u64, "file", "files"),
            kilobytes(bytes)
        );
        view.push_str(&labelled("Has", &text));
        view.push('\n');
    }
    view
}

fn overview(families: &[FamilyDescription]) -> String {
    let judged = families.iter().any(|family| family.languages.is_some());
    let mut header = vec!["Family", "faces", "characters"];
    if judged {
        header.push("writes");
    }
    header.extend(["files", "KB"]);
    let mut table = table(
        &header,
        &[2, 3 + usize::from(judged), 4 + usize::from(judged)],
    );
    for family in families {
        let (files, bytes) = family.files();
        let mut row = vec![
            safe(&family.family),
            faces(&family.faces),
            thousands(family.characters),
        ];
        if judged {
            let languages = family.languages.iter().flatten();
            let (all, written) = languages.fold((0, 0), |(all, written), language| {
                (all + 1, written + u64::from(language.writes))
            });
            row.push(format!(
                "{written} of {}",
                count(all, "language", "languages")
            ));
        }
        row.extend([files.to_string(), kilobytes(bytes)]);
        table.add_row(row);
    }
    lines(&table) + "\n"
}

/// Weights and slopes: `9 weights from 100 to 900, upright and italic`.
fn faces(faces: &[FaceOfFamily]) -> String {
    let mut weights: Vec<(f32, f32)> = faces.iter().map(|face| face.weight).collect();
    weights.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.total_cmp(&b.1)));
    weights.dedup();
    let named = match weights.as_slice() {
        [(least, most)] if least < most => format!("every weight from {least} to {most}"),
        [(only, _)] => format!("weight {only}"),
        several => {
            let each: Vec<String> = several
                .iter()
                .map(|(least, most)| match least < most {
                    true => format!("{least} to {most}"),
                    false => least.to_string(),
                })
                .collect();
            format!("{} weights ({})", several.len(), each.join(", "))
        }
    };
    let has = |slope: Slope| faces.iter().any(|face| face.slope == slope);
    let slopes: Vec<&str> = [
        (Slope::Normal, "upright"),
        (Slope::Italic, "italic"),
        (Slope::Oblique, "oblique"),
    ]
    .into_iter()
    .filter_map(|(slope, name)| has(slope).then_some(name))
    .collect();
    format!("{named}, {}", slopes.join(" and "))
}

/// The languages that it writes, and those that it does not.
fn written(family: &FamilyDescription) -> Option<String> {
    const NAMED: usize = 12;
    let languages = family.languages.as_ref()?;
    let names = |wanted: &dyn Fn(Verdict) -> bool| -> Vec<String> {
        let some = languages.iter().filter(|language| wanted(language.verdict));
        some.map(|language| language.name.clone()).collect()
    };
    let listed = |mut names: Vec<String>| {
        let all = names.len();
        if all > NAMED {
            names.truncate(NAMED);
            names.push(format!("and {} more", all - NAMED));
        }
        names.join(", ")
    };
    let (yes, no) = (names(&|v| v.writes()), names(&|v| !v.writes()));
    let mut parts = Vec::new();
    if !yes.is_empty() {
        let title = format!(
            "{} of {}:",
            yes.len(),
            count(languages.len() as u64, "language", "languages")
        );
        parts.push(format!("{} {}", styled(GOOD, &title), listed(yes)));
    }
    if !no.is_empty() {
        parts.push(format!("{} {}", styled(BAD, "not:"), listed(no)));
    }
    Some(parts.join("; "))
}
