//! `platforms` for people: all on a table, one on a page.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;

use tidy_lattice_core::font::Slope;
use tidy_lattice_core::platform::{Family, Known, Platform};
use tidy_lattice_core::style::GENERICS;

use super::table::{lines, table};
use super::text::{FAINT, GOOD, TITLE, count, labelled, safe, styled};
use crate::results::Platforms;

/// One line a platform.
pub fn overview(shown: &Platforms) -> String {
    let header = [
        "Name",
        "platform",
        "versions",
        "families",
        "measured",
        "serif",
        "sans-serif",
        "monospace",
        "system-ui",
    ];
    let mut table = table(&header, &[3, 4]);
    for platform in &shown.platforms {
        let generic = |name: &str| {
            let family = platform.generic.get(name);
            family.map_or_else(|| "-".to_owned(), |family| safe(family))
        };
        let versions = match platform.versions.as_slice() {
            [] => String::new(),
            [only] => only.clone(),
            [first, .., last] => format!("{first} to {last}"),
        };
        table.add_row([
            styled(TITLE, &safe(&platform.name)),
            safe(&platform.title),
            safe(&versions),
            platform.families.len().to_string(),
            platform.measured().count().to_string(),
            generic("serif"),
            generic("sans-serif"),
            generic("monospace"),
            generic("system-ui"),
        ]);
    }
    let mut view = lines(&table);
    let note = " Name one for its families; a file of your own (.toml) does too. Measured faces serve as \
                PLATFORM:FACE wherever a font file goes.";
    let _ = writeln!(view, "{}", styled(FAINT, note));
    view
}

/// One platform: its generic families and its families, with `faces` the names
/// of every face.
pub fn page(platform: &Platform, faces: bool) -> String {
    let mut page = format!("{}\n", styled(TITLE, &safe(&platform.title)));
    if !platform.about.is_empty() {
        page.push_str(&labelled("About", &safe(&platform.about)));
    }
    let measured = platform.measured().count();
    let families = count(platform.families.len() as u64, "family", "families");
    let known = format!("{families}, {measured} of them measured, the rest known by name only");
    page.push_str(&labelled("Known", &known));
    let generics: Vec<String> = GENERICS
        .iter()
        .filter_map(|generic| {
            let family = platform.generic.get(*generic)?;
            Some(format!("{generic} → {}", safe(family)))
        })
        .collect();
    if !generics.is_empty() {
        page.push_str(&labelled("Generic", &generics.join(", ")));
    }
    if platform.families.is_empty() {
        return page;
    }
    let _ = write!(
        page,
        "\n{}",
        if faces {
            all_faces(platform)
        } else {
            all_families(platform)
        }
    );
    page
}

fn all_families(platform: &Platform) -> String {
    let header = ["Family", "class", "versions", "faces", "scripts", "known"];
    let mut table = table(&header, &[]);
    for family in &platform.families {
        table.add_row([
            safe(&family.name),
            family.class.label().to_owned(),
            versions(family),
            weights(family),
            scripts(family),
            how_known(family),
        ]);
    }
    let mut text = lines(&table);
    let sources = sources(platform);
    if !sources.is_empty() {
        text.push('\n');
        text.push_str(&labelled("Measured", &safe(&sources)));
    }
    for family in &platform.families {
        if let Some(note) = &family.note {
            let note = format!("{}: {}", safe(&family.name), safe(note));
            text.push_str(&labelled("Note", &note));
        }
    }
    text
}

/// The families that were measured, by where they came from.
fn sources(platform: &Platform) -> String {
    let mut sources: BTreeMap<&str, BTreeSet<&str>> = BTreeMap::new();
    for family in &platform.families {
        if let Known::Measured { family, from, .. } = &family.known {
            sources.entry(from).or_default().insert(family);
        }
    }
    let told = sources.into_iter().map(|(from, families)| {
        let families: Vec<&str> = families.into_iter().collect();
        format!("{} from {from}", families.join(", "))
    });
    told.collect::<Vec<_>>().join("; ")
}

fn all_faces(platform: &Platform) -> String {
    let header = [
        "Family",
        "weight",
        "style",
        "full name",
        "PostScript name",
        "card",
    ];
    let mut table = table(&header, &[1]);
    for family in &platform.families {
        for face in &family.faces {
            table.add_row([
                safe(&family.name),
                face.weight.to_string(),
                face.style.css().to_owned(),
                safe(&face.full),
                safe(face.postscript.as_deref().unwrap_or_default()),
                safe(face.card.as_deref().unwrap_or("-")),
            ]);
        }
    }
    lines(&table)
}

fn versions(family: &Family) -> String {
    match (&family.since, &family.until) {
        (Some(since), Some(until)) => format!("{} to {}", safe(since), safe(until)),
        (Some(since), None) => format!("from {}", safe(since)),
        (None, Some(until)) => format!("to {}", safe(until)),
        (None, None) => "all".to_owned(),
    }
}

/// `400 i, 700 i`: the weights, with an i where there is an italic too.
fn weights(family: &Family) -> String {
    let mut weights: Vec<f32> = family.faces.iter().map(|face| face.weight).collect();
    weights.sort_by(f32::total_cmp);
    weights.dedup();
    let told = weights.iter().map(|weight| {
        let mut of_weight = family.faces.iter().filter(|face| face.weight == *weight);
        let italic = of_weight.any(|face| face.style != Slope::Normal);
        format!("{weight}{}", if italic { " i" } else { "" })
    });
    told.collect::<Vec<_>>().join(", ")
}

fn scripts(family: &Family) -> String {
    const NAMED: usize = 4;
    let named = &family.scripts[..family.scripts.len().min(NAMED)];
    let more = match family.scripts.len() - named.len() {
        0 => String::new(),
        more => format!(" +{more}"),
    };
    safe(&format!("{}{more}", named.join(", ")))
}

fn how_known(family: &Family) -> String {
    match &family.known {
        Known::ByName => styled(FAINT, "by name only"),
        measured => styled(GOOD, &safe(&measured.label())),
    }
}
