//! `describe` for people: one face on a page, several as a table.

use std::fmt::Write as _;

use tidy_lattice_core::describe::{
    Description, FeatureDefault, FeatureDescription, KerningSource, LanguageVerdict, Sureness,
    Verdict,
};
use tidy_lattice_core::font::Slope;
use tidy_lattice_core::font::Works;

use super::table::{lines, table};
use super::text::{
    BAD, FAINT, GOOD, TITLE, count, kilobytes, labelled, safe, styled, thousands, unreadable,
};
use crate::commands::{Described, DescribedFace};

/// Languages that views name first: those that most sites are written in.
const OFTEN_ASKED: [&str; 34] = [
    "en", "es", "fr", "de", "pt", "it", "nl", "pl", "tr", "vi", "id", "cs", "sv", "da", "nb", "fi",
    "hu", "ro", "hr", "el", "ru", "uk", "bg", "sr", "ar", "fa", "ur", "he", "hi", "bn", "th", "ja",
    "ko", "zh",
];

/// The place of a language among those that people ask for most.
pub fn asked_often(tag: &str) -> usize {
    let place = OFTEN_ASKED.iter().position(|often| *often == tag);
    place.unwrap_or(usize::MAX)
}

/// The view: a page for a single face that was looked at in full, a table else.
pub fn view(described: &Described, all: bool) -> String {
    let mut view = match described.faces.as_slice() {
        [face] if face.description.shaping.is_some() => page(face, all),
        faces if all => faces.iter().map(|face| page(face, true) + "\n").collect(),
        faces => overview(faces),
    };
    view.push_str(&unreadable(&described.unreadable));
    view
}

/// One line a face.
fn overview(faces: &[DescribedFace]) -> String {
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
    for face in faces {
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
        for tag in &asked {
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
        table.add_row(row);
    }
    let mut view = lines(&table);
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

fn short_verdict(language: &LanguageVerdict) -> String {
    let lacking = language.main.of - language.main.covered + language.unplaced.len();
    match language.verdict {
        Verdict::Complete => styled(GOOD, "yes"),
        Verdict::Lacks => styled(BAD, &format!("-{lacking}")),
        Verdict::LettersOnly => styled(BAD, "letters only"),
        Verdict::No => styled(BAD, "no"),
    }
}

fn weight(description: &Description) -> String {
    let axis = description
        .variable
        .iter()
        .flat_map(|variable| &variable.axes);
    let axis = axis.into_iter().find(|axis| axis.tag == "wght");
    axis.map_or_else(
        || description.identity.weight.to_string(),
        |axis| format!("{} to {}", axis.min, axis.max),
    )
}

/// A page of one face.
fn page(face: &DescribedFace, all: bool) -> String {
    let d = &face.description;
    let mut page = format!("{}\n", styled(TITLE, &safe(&d.identity.names.label())));
    let mut say = |label: &str, text: &str| page.push_str(&labelled(label, text));
    say("Kind", &kind(d));
    say("Writes", &languages(d, all));
    for text in shaping(d) {
        say("Shaping", &text);
    }
    say("Characters", &characters(d));
    say("Line", &line(d));
    say("File", &file(face));
    say("Rights", &rights(d));
    if let Some(made) = made(d) {
        say("Made by", &made);
    }
    if let Some(variable) = variable(d) {
        say("Variable", &variable);
    }
    if let Some(emoji) = emoji(d) {
        say("Emoji", &emoji);
    }
    for colour in &d.colour {
        let by = match colour.drawn_by.as_slice() {
            [] => "drawn by no browser".to_owned(),
            by => format!("drawn by {}", by.join(", ")),
        };
        let not = match colour.not_drawn_by.as_slice() {
            [] => String::new(),
            not if colour.drawn_by.is_empty() => {
                let _ = not;
                String::new()
            }
            not => format!(", not by {}", not.join(", ")),
        };
        say("Colour", &format!("{}: {by}{not}", colour.format));
    }
    say("Kerning", &kerning(d));
    for finding in &d.findings {
        let style = if finding.fault { BAD } else { TITLE };
        say("Note", &styled(style, &safe(&finding.text)));
    }
    let _ = write!(page, "\n{}", levels(d));
    if !d.features.is_empty() {
        let _ = write!(page, "\n{}", features(d, all));
    }
    if all {
        page.push_str(&everything(d));
    }
    page
}

fn kind(d: &Description) -> String {
    let sureness = match d.class.sureness {
        Sureness::Sure => String::new(),
        other => format!(" ({})", other.label()),
    };
    let slope = match d.identity.slope {
        Slope::Normal => "upright",
        Slope::Italic => "italic",
        Slope::Oblique => "oblique",
    };
    let width = if d.identity.width == 100.0 {
        String::new()
    } else {
        format!(", width {} %", d.identity.width)
    };
    let optical = d
        .identity
        .optical_size
        .map_or_else(String::new, |(low, high)| {
            format!(", drawn for {low} to {high} pt")
        });
    let witnesses = if d.class.witnesses.is_empty() {
        "its tables and outlines do not tell".to_owned()
    } else {
        d.class.witnesses.join("; ")
    };
    format!(
        "{}{sureness}, weight {}{width}, {slope}{optical} {}",
        d.class.class.label(),
        weight(d),
        styled(FAINT, &format!("({witnesses})"))
    )
}

fn languages(d: &Description, all: bool) -> String {
    let Some(languages) = &d.languages else {
        return "not asked".to_owned();
    };
    // Views name this many languages before they count the rest.
    const NAMED: usize = 24;
    let mut languages: Vec<&LanguageVerdict> = languages.iter().collect();
    // Those that people ask for most come first.
    languages.sort_by_key(|language| asked_often(&language.tag));
    let of = |verdict: Verdict| languages.iter().filter(move |l| l.verdict == verdict);
    let list = |verdict: Verdict, tell: &dyn Fn(&LanguageVerdict) -> String| {
        let mut names: Vec<String> = of(verdict).map(|l| tell(l)).collect();
        let total = names.len();
        let named = if verdict == Verdict::Lacks {
            NAMED / 3
        } else {
            NAMED
        };
        if !all && total > named {
            names.truncate(named);
            names.push(format!("and {} more", total - named));
        }
        names.join(", ")
    };
    let mut parts = Vec::new();
    let complete = of(Verdict::Complete).count();
    if complete > 0 {
        let names = list(Verdict::Complete, &|l| l.name.clone());
        let title = format!("{}:", count(complete as u64, "language", "languages"));
        parts.push(format!("{} {names}", styled(GOOD, &title)));
    }
    let letters_only = of(Verdict::LettersOnly).count();
    if letters_only > 0 {
        let names = list(Verdict::LettersOnly, &|l| l.name.clone());
        parts.push(format!(
            "{} {names}",
            styled(BAD, "has the letters, cannot write:")
        ));
    }
    if of(Verdict::Lacks).count() > 0 {
        let names = list(Verdict::Lacks, &|l| {
            let shown: Vec<String> = l
                .main
                .lacking
                .iter()
                .take(4)
                .map(|c| {
                    // A mark alone would sit on the blank before it.
                    let shown = c.shown.clone().filter(|_| !c.name.starts_with("COMBINING"));
                    shown.unwrap_or_else(|| c.code_point.clone())
                })
                .collect();
            let more = if l.main.lacking.len() > 4 { "…" } else { "" };
            let mut but = shown.join(" ") + more;
            if but.is_empty() {
                let some = &l.unplaced[..l.unplaced.len().min(4)];
                but = format!("marks of {} not placed", safe(&some.join(" ")));
            }
            format!("{} (but {but})", l.name)
        });
        parts.push(format!("{} {names}", styled(TITLE, "lacks some:")));
    }
    let no = of(Verdict::No).count();
    if no > 0 && no < languages.len() && languages.len() <= NAMED {
        let names = list(Verdict::No, &|l| l.name.clone());
        parts.push(format!("{} {names}", styled(BAD, "not:")));
    }
    if complete + letters_only == 0 && of(Verdict::Lacks).count() == 0 {
        parts.push(styled(BAD, "no language with known exemplar characters"));
    }
    parts.join("; ")
}

fn shaping(d: &Description) -> Vec<String> {
    let scripts = d.shaping.iter().flatten();
    scripts
        .map(|script| {
            let checks: Vec<String> = script
                .checks
                .iter()
                .map(|check| {
                    let style = if check.works == Works::Works {
                        GOOD
                    } else {
                        BAD
                    };
                    let failed = match check.failed.as_slice() {
                        [] => String::new(),
                        failed => {
                            let some = failed[..failed.len().min(6)].join(" ");
                            format!(" (fails: {some})")
                        }
                    };
                    let word = styled(style, check.works.label());
                    format!("{} {word}{failed}", check.need.label())
                })
                .collect();
            format!("{}: {}", script.script, checks.join(", "))
        })
        .collect()
}

fn characters(d: &Description) -> String {
    let c = &d.characters;
    let scripts: Vec<String> = c
        .writing_scripts()
        .take(6)
        .map(|share| {
            format!(
                "{} {} of {}",
                share.name,
                thousands(share.covered),
                thousands(share.assigned)
            )
        })
        .collect();
    let more = c.writing_scripts().count().saturating_sub(6);
    let mut text = format!("{}: {}", thousands(c.count), scripts.join(", "));
    if scripts.is_empty() {
        text = format!("{}, of no script", thousands(c.count));
    }
    if more > 0 {
        let _ = write!(text, " and {more} more scripts");
    }
    if c.private_use > 0 {
        let _ = write!(text, "; {} for private use", thousands(c.private_use));
    }
    let variations: u64 = c.variation_sequences.values().sum();
    if variations > 0 {
        let _ = write!(text, "; {} variation sequences", thousands(variations));
    }
    if c.symbol_map {
        text.push_str("; symbol map only, browsers show it at U+F020 to U+F0FF");
    }
    text
}

fn line(d: &Description) -> String {
    let used = &d.line.used;
    let em = f64::from(d.line.units_per_em);
    let height = |name: &str, height: Option<f64>| {
        height.map_or_else(String::new, |units| {
            format!(", {name} {units} ({:.3} em)", units / em)
        })
    };
    let mean = d
        .line
        .mean_advance
        .as_ref()
        .map_or_else(String::new, |mean| {
            format!(", mean advance {:.3} em ({})", mean.em, mean.language)
        });
    format!(
        "browsers use {}: line {:.3} em{}{}{mean}; {} units per em",
        used.source.label(),
        used.ascent + used.descent + used.line_gap,
        height("x-height", d.line.x_height.best()),
        height("cap height", d.line.cap_height.best()),
        d.line.units_per_em
    )
}

fn file(face: &DescribedFace) -> String {
    let d = &face.description;
    let woff2 = d
        .bytes
        .woff2
        .filter(|woff2| woff2.estimated)
        .map_or_else(String::new, |woff2| {
            format!(", about {} KB as WOFF2", kilobytes(woff2.bytes))
        });
    let place = if d.identity.faces_in_file > 1 {
        format!(
            ", face {} of {}",
            d.identity.index, d.identity.faces_in_file
        )
    } else {
        String::new()
    };
    format!(
        "{}{place}, {}, {} KB{woff2}: {}",
        safe(&face.file),
        format(d),
        kilobytes(d.bytes.file),
        d.bytes.verdict
    )
}

/// Container and outlines, which need not be said twice where one implies the
/// other.
fn format(d: &Description) -> String {
    use tidy_lattice_core::describe::Outlines;
    use tidy_lattice_core::font::Container;
    let (container, outlines) = (d.identity.container, d.identity.outlines);
    match (container, outlines) {
        (Container::TrueType, Outlines::TrueType) | (Container::OpenTypeCff, Outlines::Cff) => {
            container.label().to_owned()
        }
        _ => format!("{} with {}", container.label(), outlines.label()),
    }
}

fn rights(d: &Description) -> String {
    // A licence text can be pages long.
    const SHOWN: usize = 120;
    let mut text = d.rights.statement.clone();
    let licence = d.rights.licence.as_deref().map(|licence| {
        let licence = safe(licence);
        match licence.char_indices().nth(SHOWN) {
            Some((end, _)) => format!("{}…", &licence[..end]),
            None => licence,
        }
    });
    if let Some(licence) = licence {
        let _ = write!(text, "; licence: {licence}");
    }
    if let Some(url) = &d.rights.licence_url {
        let _ = write!(text, " ({})", safe(url));
    }
    text
}

fn made(d: &Description) -> Option<String> {
    let i = &d.identity;
    let parts = [
        i.designer.as_ref(),
        i.manufacturer.as_ref(),
        i.version.as_ref(),
    ];
    let parts: Vec<String> = parts.into_iter().flatten().map(|part| safe(part)).collect();
    (!parts.is_empty()).then(|| parts.join(", "))
}

fn variable(d: &Description) -> Option<String> {
    let variable = d.variable.as_ref()?;
    let axes: Vec<String> = variable
        .axes
        .iter()
        .map(|axis| {
            format!(
                "{} {} to {} (default {})",
                axis.tag, axis.min, axis.max, axis.default
            )
        })
        .collect();
    let rule = if variable.descriptors.is_empty() {
        String::new()
    } else {
        format!("; @font-face may say {}", variable.descriptors.join("; "))
    };
    let positions = match variable.positions.len() {
        0 => String::new(),
        number => format!("; {number} named positions"),
    };
    Some(format!("{}{positions}{rule}", axes.join(", ")))
}

fn emoji(d: &Description) -> Option<String> {
    let emoji = d.emoji.as_ref()?;
    let (shown, all) = emoji.total();
    let whole = emoji.versions.iter().rev().find(|version| {
        version.singles == version.singles_in_all && version.sequences == version.sequences_in_all
    });
    let whole = whole.map_or_else(String::new, |version| {
        format!("; all of version {}", version.version)
    });
    let drawn = if emoji.colour { "in colour" } else { "as text" };
    Some(format!(
        "{} of {} drawn {drawn}{whole}",
        thousands(shown),
        thousands(all)
    ))
}

fn kerning(d: &Description) -> String {
    let source = match d.kerning.source {
        KerningSource::Gpos => "in GPOS",
        KerningSource::KernTable => "in the old kern table",
        KerningSource::KernTableDropped => "in an old kern table that browsers drop",
        KerningSource::None => return "none".to_owned(),
    };
    let frequent: Vec<String> = d
        .kerning
        .frequent
        .iter()
        .take(6)
        .map(|pair| format!("{} {:+}", safe(&pair.pair), pair.units))
        .collect();
    let classes = match d.kerning.class_tables {
        0 => String::new(),
        number => format!(
            ", {}",
            count(number, "table of classes", "tables of classes")
        ),
    };
    let frequent = if frequent.is_empty() {
        String::new()
    } else {
        format!("; frequent: {}", frequent.join(", "))
    };
    format!(
        "{source}: {} pairs{classes}{frequent}",
        thousands(d.kerning.pairs)
    )
}

/// The levels of the line as a drawing, highest first.
fn levels(d: &Description) -> String {
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
    let mut text = String::new();
    for (level, name, stroke) in levels {
        let letters = match name {
            "x-height" => "x",
            "cap height" => "H",
            _ => " ",
        };
        let rule: String = std::iter::repeat_n(stroke, 28).collect();
        let _ = writeln!(text, " {level:>7.3} em {rule} {letters} {rule} {name}");
    }
    text
}

fn features(d: &Description, all: bool) -> String {
    // A page has room for this many.
    const LISTED: usize = 18;
    let mut table = table(&["Feature", "does", "CSS", "glyphs", "sample"], &[3]);
    let shown: Vec<&FeatureDescription> = d
        .features
        .iter()
        .filter(|feature| all || feature.default != FeatureDefault::ByScript)
        .collect();
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
fn everything(d: &Description) -> String {
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
