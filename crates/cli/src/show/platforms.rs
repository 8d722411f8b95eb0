//! `platforms` for people: all on a table, one on a page.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write as _;

use tidy_lattice_core::font::Slope;
use tidy_lattice_core::platform::{Family, Known, Platform};
use tidy_lattice_core::style::GENERICS;

use super::table::{lines, table};
use super::text::{FAINT, GOOD, TITLE, count, labelled, paragraph, safe, styled};
use crate::results::Platforms;

/// One line a platform.
pub fn overview(shown: &Platforms) -> String {
    let header = [
        "Name",
        "platform",
        "versions",
        "families",
        "measured",
        "usual ones",
        "serif",
        "sans-serif",
        "monospace",
        "system-ui",
    ];
    let mut table = table(&header, &[3, 4, 5]);
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
            usual(platform),
            generic("serif"),
            generic("sans-serif"),
            generic("monospace"),
            generic("system-ui"),
        ]);
    }
    let mut view = lines(&table);
    view.push_str(&merged(shown));
    let note = " Usual ones: measured, of those that generic families stand for and its own texts are set in. \
                Name one for its families; a file of your own (.toml) does too. Measured faces serve as \
                PLATFORM:FACE wherever a font file goes.";
    let _ = writeln!(view, "{}", styled(FAINT, note));
    view
}

/// How many of its usual families are measured: `3 of 5`.
fn usual(platform: &Platform) -> String {
    let usual = platform.usual();
    let measured = usual
        .iter()
        .filter(|one| one.known != Known::ByName)
        .count();
    match usual.len() {
        0 => "-".to_owned(),
        all => format!("{measured} of {all}"),
    }
}

/// What came of own cards.
pub fn merged(shown: &Platforms) -> String {
    let Some(merged) = &shown.merged else {
        return String::new();
    };
    let cards = count(merged.cards as u64, "card", "cards");
    let words = match merged.taken.is_empty() {
        true => format!(
            "{cards}: none belongs here. A card that was measured in a browser belongs to that \
             system, any other one where its family is listed."
        ),
        false => {
            let taken = merged.taken.iter();
            let taken: Vec<String> = taken
                .map(|(name, taken)| format!("{taken} on {}", safe(name)))
                .collect();
            format!("{cards} of yours: {} took their places.", taken.join(", "))
        }
    };
    paragraph(&words)
}

/// The families that several platforms have.
pub fn common(shown: &Platforms) -> String {
    let titles: Vec<&str> = shown
        .platforms
        .iter()
        .map(|one| one.title.as_str())
        .collect();
    let of = shown.platforms.len();
    let mut view = format!(
        "{}\n\n",
        styled(
            TITLE,
            &safe(&format!(
                "{} that two or more of {of} platforms have: {}",
                count(shown.common.len() as u64, "family", "families"),
                titles.join(", ")
            ))
        )
    );
    let header = [
        "Family",
        "class",
        "on",
        "platforms, since",
        "x-height",
        "known",
    ];
    let mut table = table(&header, &[2, 4]);
    for family in &shown.common {
        let on: Vec<String> = family
            .on
            .iter()
            .map(|on| {
                let mut words = on.title.clone();
                match (&on.since, &on.until) {
                    (Some(since), Some(until)) => words = format!("{words} {since} to {until}"),
                    (Some(since), None) => words = format!("{words} {since}"),
                    (None, Some(until)) => words = format!("{words} to {until}"),
                    (None, None) => {}
                }
                match &on.shows {
                    Some(other) => format!("{words} (shows {other})"),
                    None => words,
                }
            })
            .collect();
        table.add_row([
            safe(&family.name),
            family.class.label().to_owned(),
            family.on.len().to_string(),
            safe(&on.join(", ")),
            family
                .x_height
                .map_or_else(|| "-".to_owned(), |height| format!("{height:.3}")),
            in_words(&family.known),
        ]);
    }
    view.push_str(&lines(&table));
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
    let known = format!(
        "{families}, {measured} of them measured, the rest known by name only; of those that most \
         stacks come to, {} measured",
        usual(platform)
    );
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
    for (script, generics) in &platform.generic_for {
        let pairs = generics.iter();
        let pairs: Vec<String> = pairs
            .map(|(generic, family)| format!("{generic} → {}", safe(family)))
            .collect();
        let text = format!("in place of these: {}", pairs.join(", "));
        page.push_str(&labelled(written_in(script), &text));
    }
    let pairs = [
        ("interface", &platform.own.interface),
        ("sans", &platform.own.sans),
        ("serif", &platform.own.serif),
        ("monospace", &platform.own.monospace),
    ];
    let pairs = pairs.iter();
    let pairs: Vec<String> =
        pairs
            .filter_map(|(what, family)| Some(format!("{what} → {}", safe(family.as_deref()?))))
            .chain(platform.own.scripts.iter().map(|(script, families)| {
                format!("{} → {}", safe(script), safe(&families.join(", ")))
            }))
            .collect();
    if !pairs.is_empty() {
        page.push_str(&labelled("Its own", &pairs.join("; ")));
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

/// What texts of a script with generic families of its own are called.
fn written_in(script: &str) -> &str {
    match script {
        "Deva" => "Devanagari",
        "Hans" => "Simplified",
        "Hant" => "Traditional",
        "Jpan" => "Japanese",
        "Kore" => "Korean",
        other => other,
    }
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
    let words = sources.into_iter().map(|(from, families)| {
        let families: Vec<&str> = families.into_iter().collect();
        format!("{} from {from}", families.join(", "))
    });
    words.collect::<Vec<_>>().join("; ")
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
    let words = weights.iter().map(|weight| {
        let mut of_weight = family.faces.iter().filter(|face| face.weight == *weight);
        let italic = of_weight.any(|face| face.style != Slope::Normal);
        format!("{weight}{}", if italic { " i" } else { "" })
    });
    words.collect::<Vec<_>>().join(", ")
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
    in_words(&family.known)
}

fn in_words(known: &Known) -> String {
    match known {
        Known::ByName => styled(FAINT, "name only"),
        Known::Measured { family, from, .. } => {
            let words = match known.word() {
                "twin" => format!("twin, {family}"),
                "widths" => format!("widths, {family}"),
                "browser" => format!("browser, {from}"),
                word => word.to_owned(),
            };
            styled(GOOD, &safe(&words))
        }
    }
}
