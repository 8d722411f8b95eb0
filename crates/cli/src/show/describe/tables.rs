//! The tables of a page: the levels of the line, features, and what a page leaves
//! out.

use std::fmt::Write as _;

use tidy_lattice_core::describe::{Description, FeatureDefault, FeatureDescription};

use crate::screen;
use crate::show::table::{lines, table};
use crate::show::text::{TITLE, labelled, safe, styled, thousands};

/// The levels of the line as a drawing, highest first.
pub fn levels(d: &Description) -> String {
    let em = f64::from(d.line.units_per_em);
    let used = &d.line.used;
    let mut levels: Vec<(f64, &str, char)> = vec![
        (d.line.ink.0 / em, "highest ink", '┄'),
        (used.ascent, "ascent", '─'),
        (0.0, "baseline", '━'),
        (-used.descent, "descent", '─'),
        (d.line.ink.1 / em, "lowest ink", '┄'),
    ];
    let heights = [
        (d.line.cap_height, "cap height"),
        (d.line.x_height, "x-height"),
    ];
    for (height, name) in heights {
        levels.extend(height.best().map(|units| (units / em, name, '─')));
    }
    levels.sort_by(|a, b| b.0.total_cmp(&a.0));
    // Numbers, letters and names take 27 columns.
    let room = screen::width().map_or(28, |width| (width.saturating_sub(27) / 2).clamp(6, 28));
    let mut text = String::new();
    for (level, name, stroke) in levels {
        let letters = match name {
            "x-height" => "x",
            "cap height" => "H",
            _ => " ",
        };
        let rule: String = std::iter::repeat_n(stroke, room).collect();
        let _ = writeln!(text, " {level:>7.3} em {rule} {letters} {rule} {name}");
    }
    text
}

/// The features, as many as a page has room for.
pub fn features(d: &Description, all: bool) -> String {
    // A page has room for this many.
    const LISTED: usize = 18;
    let mut table = table(&["Feature", "does", "CSS", "glyphs", "sample"], &[3]);
    let mut shown: Vec<&FeatureDescription> = d
        .features
        .iter()
        .filter(|feature| all || feature.default != FeatureDefault::ByScript)
        .collect();
    shown.sort_by_key(|feature| used_often(&feature.tag));
    let listed = if all {
        shown.len()
    } else {
        LISTED.min(shown.len())
    };
    for feature in &shown[..listed] {
        let does = feature.name.as_ref().map_or_else(
            || feature.does.clone(),
            |name| format!("{} “{}”", feature.does.trim_end_matches('.'), safe(name)),
        );
        table.add_row([
            feature.tag.clone(),
            does,
            css(feature),
            feature.glyphs.map(thousands).unwrap_or_default(),
            sample(feature),
        ]);
    }
    let mut text = lines(&table);
    let rest = d.features.len() - listed;
    if rest > 0 {
        let _ = writeln!(
            text,
            " and {rest} more, {} of them for scripts only; {} lists them",
            d.features
                .iter()
                .filter(|f| f.default == FeatureDefault::ByScript)
                .count(),
            styled(TITLE, "--all")
        );
    }
    text
}

/// The rank of a feature by how often style sheets ask for it; character variants and
/// stylistic sets, of which a font may have dozens, come last.
fn used_often(tag: &str) -> usize {
    const FIRST: [&str; 22] = [
        "liga", "clig", "calt", "kern", "mark", "mkmk", "tnum", "pnum", "lnum", "onum", "frac",
        "zero", "smcp", "c2sc", "sups", "subs", "ordn", "case", "dlig", "hlig", "swsh", "salt",
    ];
    let numbered = |letters: &str| {
        let number = tag.strip_prefix(letters);
        number.is_some_and(|number| number.bytes().all(|byte| byte.is_ascii_digit()))
    };
    match FIRST.iter().position(|first| *first == tag) {
        Some(place) => place,
        None if numbered("ss") => FIRST.len() + 1,
        None if numbered("cv") => FIRST.len() + 2,
        None => FIRST.len(),
    }
}

fn css(feature: &FeatureDescription) -> String {
    match (feature.default, &feature.css) {
        (FeatureDefault::On, Some(css)) => format!("on; {css}"),
        (FeatureDefault::On, None) => "on".to_owned(),
        (FeatureDefault::ByScript, _) => "where the script needs it".to_owned(),
        (FeatureDefault::Off, Some(css)) => css.clone(),
        (FeatureDefault::Off, None) => "through other features".to_owned(),
    }
}

fn sample(feature: &FeatureDescription) -> String {
    let ligatures = feature.ligatures.len();
    if ligatures > 0 {
        let some: Vec<String> = feature
            .ligatures
            .iter()
            .take(6)
            .map(|letters| safe(letters))
            .collect();
        let more = if ligatures > 6 {
            format!(" +{}", ligatures - 6)
        } else {
            String::new()
        };
        return format!("{}{more}", some.join(" "));
    }
    let samples: Vec<String> = feature
        .samples
        .iter()
        .map(|sample| match &sample.language {
            Some(language) => format!("{} ({language})", safe(&sample.text)),
            None => safe(&sample.text),
        })
        .collect();
    samples.join("  ")
}

/// What a page leaves out.
pub fn everything(d: &Description) -> String {
    let mut text = String::new();
    let mut blocks = table(&["Block", "covered", "assigned"], &[1, 2]);
    for share in &d.characters.blocks {
        blocks.add_row([
            share.name.clone(),
            thousands(share.covered),
            thousands(share.assigned),
        ]);
    }
    let _ = write!(text, "\n{}", lines(&blocks));
    let mut tables = table(&["Table", "bytes"], &[1]);
    for table in &d.bytes.tables {
        tables.add_row([table.tag.clone(), thousands(table.bytes)]);
    }
    let _ = write!(text, "\n{}", lines(&tables));
    let mut sets = table(
        &["Metrics", "ascender", "descender", "line gap"],
        &[1, 2, 3],
    );
    let all_sets = [
        ("hhea", d.line.hhea),
        ("OS/2 typographic", d.line.typo),
        ("OS/2 Windows", d.line.win),
    ];
    for (name, set) in all_sets {
        if let Some(set) = set {
            sets.add_row([
                name.to_owned(),
                set.ascender.to_string(),
                set.descender.to_string(),
                set.line_gap.to_string(),
            ]);
        }
    }
    let _ = write!(text, "\n{}", lines(&sets));
    if let Some(variable) = &d.variable {
        let mut positions = table(&["Position", "values"], &[]);
        for position in &variable.positions {
            let values: Vec<String> = variable
                .axes
                .iter()
                .zip(&position.values)
                .map(|(axis, value)| format!("{} {value}", axis.tag))
                .collect();
            positions.add_row([
                safe(position.name.as_deref().unwrap_or("unnamed")),
                values.join(", "),
            ]);
        }
        let _ = write!(text, "\n{}", lines(&positions));
    }
    let _ = write!(text, "\n{}", labelled("Range", &d.characters.unicode_range));
    text
}
