//! One face on a page: a line or paragraph a subject, then the tables.

use std::fmt::Write as _;

use tidy_lattice_core::describe::{
    Description, Figures, Joined, KerningSource, LanguageVerdict, Sureness, Verdict,
};
use tidy_lattice_core::font::{Slope, Works};

use super::tables::{everything, features, levels};
use super::{asked_often, weight};
use crate::results::DescribedFace;
use crate::show::text::{
    BAD, FAINT, GOOD, TITLE, count, kilobytes, labelled, safe, styled, thousands,
};

/// A page of one face.
pub fn page(face: &DescribedFace, all: bool) -> String {
    let d = &face.description;
    let mut page = format!("{}\n", styled(TITLE, &safe(&d.identity.names.label())));
    let mut say = |label: &str, text: &str| page.push_str(&labelled(label, text));
    // What is told of a damaged font is worth less than that it is damaged.
    for finding in d.findings.iter().filter(|finding| finding.fault) {
        say("Damaged", &styled(BAD, &safe(&finding.text)));
    }
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
    if let Some(version) = &d.identity.version {
        say("Version", &safe(version));
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
    if let Some(joined) = &d.joined {
        say("Ligatures", &ligatures(joined));
    }
    if let Some(figures) = d.figures.as_ref().and_then(figures) {
        say("Figures", &figures);
    }
    for finding in d.findings.iter().filter(|finding| !finding.fault) {
        say("Note", &styled(TITLE, &safe(&finding.text)));
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
        let named = if matches!(verdict, Verdict::Lacks | Verdict::AllButRare) {
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
    let but = |l: &LanguageVerdict| {
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
        let but = shown.join(" ") + more;
        if !but.is_empty() {
            return format!("{} (without {but})", l.name);
        }
        let some = &l.unplaced[..l.unplaced.len().min(4)];
        format!("{} (marks of {} not placed)", l.name, safe(&some.join(" ")))
    };
    if of(Verdict::AllButRare).count() > 0 {
        let names = list(Verdict::AllButRare, &but);
        parts.push(format!("{} {names}", styled(GOOD, "all but rare letters:")));
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
        let names = list(Verdict::Lacks, &but);
        parts.push(format!("{} {names}", styled(TITLE, "letters missing for:")));
    }
    // Of all languages only those are told that the face has something of.
    let few = languages.len() <= NAMED;
    if few && of(Verdict::No).count() > 0 {
        let names = list(Verdict::No, &|l| l.name.clone());
        parts.push(format!("{} {names}", styled(BAD, "not:")));
    }
    if parts.is_empty() {
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
                "{} {} (Unicode has {})",
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
    let parts = [i.designer.as_ref(), i.manufacturer.as_ref()];
    let mut parts: Vec<String> = parts.into_iter().flatten().map(|part| safe(part)).collect();
    parts.dedup();
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

fn ligatures(joined: &Joined) -> String {
    let mut parts = Vec::new();
    if !joined.by_default.is_empty() {
        parts.push(joined.by_default.join(" "));
    }
    if !joined.on_request.is_empty() {
        parts.push(format!(
            "with font-variant-ligatures: discretionary-ligatures historical-ligatures {}",
            joined.on_request.join(" ")
        ));
    }
    if parts.is_empty() {
        parts.push("none of those that people use most (fi fl ff ffi => -> !=)".to_owned());
    }
    parts.join("; ")
}

fn figures(figures: &Figures) -> Option<String> {
    let spacing = if figures.tabular? {
        "tabular"
    } else {
        "proportional"
    };
    let form = match figures.old_style {
        Some(true) => "old-style and ",
        Some(false) => "lining and ",
        None => "",
    };
    let others: Vec<String> = figures
        .on_request
        .iter()
        .map(|other| format!("{} ({})", other.name, other.css))
        .collect();
    let others = if others.is_empty() {
        String::new()
    } else {
        format!("; on request {}", others.join(", "))
    };
    Some(format!("{form}{spacing}{others}"))
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
