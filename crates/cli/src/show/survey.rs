//! `cover` of a project or of pages, for people: the verdict, one lattice a
//! stack, the gaps, and what else texts ask for and do not get.

use std::fmt::Write as _;

use tidy_lattice_core::lattice::GapCause;
use tidy_lattice_core::lattice::survey::{
    FaceUse, FeatureLack, SetCoverage, SetDevice, SetRow, SurveyGap, Surveyed, TextCost,
};
use tidy_lattice_core::page::{LineHeight, StyleValue, TextStyle};
use tidy_lattice_core::style::read::FamilyName;

use super::GapLimit;
use super::cover::{cause, code_points, shown};
use super::table::{lines, table};
use super::text::{
    BAD, FAINT, GOOD, TITLE, count, kilobytes, paragraph, safe, share, styled, thousands,
};
use super::trace::fakes;
use crate::results::Covered;

/// Rows of a lattice that are shown before the rest is counted; rows with gaps
/// are shown besides, up to twice as many.
const MOST_ROWS: usize = 10;

/// Lines of the smaller parts.
const MOST_LINES: usize = 8;

/// Everything.
pub fn view(covered: &Covered, limit: GapLimit) -> String {
    let survey = &covered.survey;
    let mut view = verdict(covered);
    for set in &survey.sets {
        let _ = write!(view, "\n{}", lattice(set, survey.platforms.len(), limit));
    }
    let _ = writeln!(
        view,
        "{}",
        styled(
            FAINT,
            " A cell: the share that the family serves, or (could serve, but an earlier one does)."
        )
    );
    if !survey.gaps.is_empty() {
        let _ = write!(view, "\n{}", gaps(survey, limit));
    }
    for part in [
        left(&survey.left),
        features(&survey.features),
        faces(&survey.faces),
        cost(&survey.texts),
    ] {
        if !part.is_empty() {
            let _ = write!(view, "\n{part}");
        }
    }
    view
}

/// What the system shows by itself.
fn left(left: &[SurveyGap]) -> String {
    if left.is_empty() {
        return String::new();
    }
    let shown: Vec<String> = left
        .iter()
        .take(MOST_LEFT)
        .map(|gap| safe(&gap.cluster))
        .collect();
    let more = match left.len().saturating_sub(MOST_LEFT) {
        0 => String::new(),
        more => format!(" and {more} more"),
    };
    paragraph(&format!(
        "Left to the system, which has a font for emoji that no stack names: {}{more}",
        shown.join(" ")
    ))
}

/// The verdict, the largest lattice and the most frequent gaps.
pub fn brief(covered: &Covered) -> String {
    let survey = &covered.survey;
    let mut view = verdict(covered);
    if let Some(set) = survey.sets.first() {
        let _ = write!(
            view,
            "\n{}",
            lattice(set, survey.platforms.len(), GapLimit::Most(0))
        );
    }
    let _ = write!(view, "\n{}", gaps(survey, GapLimit::Most(4)));
    view
}

/// How many clusters that the system shows are listed.
const MOST_LEFT: usize = 24;

fn verdict(covered: &Covered) -> String {
    let survey = &covered.survey;
    let whole = count(survey.clusters, "cluster", "clusters");
    let allowed = match survey.allowed_clusters {
        0 => String::new(),
        1 => " 1 more is allowed to.".to_owned(),
        some => format!(" {} more are allowed to.", thousands(some)),
    };
    let text = if survey.gap_clusters == 0 && survey.open {
        format!(
            "Nothing falls through as far as is known: a style sheet on the network was not read \
             (--map names a copy).{allowed}"
        )
    } else if survey.gap_clusters == 0 {
        format!("Every character shows: the stacks serve all {whole}.{allowed}")
    } else {
        let different = survey.gaps.iter().filter(|gap| !gap.allowed).count() as u64;
        format!(
            "{} of {whole} fall through or are drawn wrongly somewhere ({} different).{allowed}",
            thousands(survey.gap_clusters),
            thousands(different),
        )
    };
    let style = if survey.gap_clusters > covered.most_gaps {
        BAD
    } else {
        GOOD
    };
    let project = match covered.project.as_str() {
        "" => String::new(),
        title => format!("{}: ", safe(title)),
    };
    format!("{project}{}\n", styled(style, &text))
}

/// A stack as it is written.
fn stack_text(stack: &[FamilyName]) -> String {
    let names: Vec<String> = stack.iter().map(|family| safe(family.as_str())).collect();
    names.join(", ")
}

/// Families that are loaded as columns, then what each kind of device shows in
/// all.
fn lattice(set: &SetCoverage, platforms: usize, limit: GapLimit) -> String {
    let Some(first) = set.devices.first() else {
        return String::new();
    };
    let roles = set.roles.join(", ");
    let mut text = format!(
        "{}\n {}\n",
        styled(TITLE, &safe(&roles)),
        styled(FAINT, &stack_text(&set.stack)),
    );
    let web: Vec<usize> = (0..set.stack.len())
        .filter(|entry| first.fonts[*entry].web)
        .collect();
    let mut header: Vec<String> = ["Language", "Script", "clusters"].map(str::to_owned).into();
    header.extend(web.iter().map(|entry| safe(set.stack[*entry].as_str())));
    let whole = if web.is_empty() { "shown" } else { "in all" };
    let kinds = alike(&set.devices);
    header.extend(kinds.iter().map(|(_, names)| {
        if names.len() == platforms {
            if platforms > 1 {
                format!("{whole}, anywhere")
            } else {
                whole.to_owned()
            }
        } else {
            names.join(" ")
        }
    }));
    let titles: Vec<&str> = header.iter().map(String::as_str).collect();
    let right: Vec<usize> = (2..titles.len()).collect();
    let mut table = table(&titles, &right);
    let gaps_in = |row: &SetRow| set.devices.iter().any(|device| gaps_of(device, row) > 0);
    let rows: Vec<&SetRow> = (first.rows.iter().enumerate())
        .filter(|(place, row)| {
            limit == GapLimit::All || *place < MOST_ROWS || (*place < 4 * MOST_ROWS && gaps_in(row))
        })
        .map(|(_, row)| row)
        .collect();
    let hidden = first.rows.len() - rows.len();
    for row in rows {
        let mut cells = vec![
            row.language.clone().unwrap_or_else(|| "·".to_owned()),
            row.group.clone(),
            thousands(row.clusters),
        ];
        cells.extend(web.iter().map(|entry| {
            let cell = row.cells[*entry];
            match (cell.serves, cell.covers) {
                (0, 0) => styled(FAINT, "·"),
                (0, covers) => styled(FAINT, &format!("({})", share(covers, row.clusters))),
                (serves, _) => share(serves, row.clusters),
            }
        }));
        cells.extend(kinds.iter().map(|(device, _)| in_all(device, row)));
        table.add_row(cells);
    }
    text.push_str(&lines(&table));
    if hidden > 0 {
        let _ = writeln!(
            text,
            " and {hidden} rows more; {} lists them",
            styled(TITLE, "--all")
        );
    }
    text.push_str(&absent(set, first));
    text
}

/// Devices that show as much of each row, by the first of them, with all names.
fn alike(devices: &[SetDevice]) -> Vec<(&SetDevice, Vec<String>)> {
    let mut kinds: Vec<(&SetDevice, Vec<String>)> = Vec::new();
    for device in devices {
        let same = |(known, _): &&mut (&SetDevice, Vec<String>)| {
            device
                .rows
                .iter()
                .all(|row| gaps_of(known, row) == row.gaps)
        };
        match kinds.iter_mut().find(same) {
            Some((_, names)) => names.extend(device.platforms.iter().cloned()),
            None => kinds.push((device, device.platforms.clone())),
        }
    }
    kinds
}

/// The share of a row that a device shows.
fn in_all(device: &SetDevice, row: &SetRow) -> String {
    let gaps = gaps_of(device, row);
    let text = share(row.clusters - gaps.min(row.clusters), row.clusters);
    if gaps == 0 { text } else { styled(BAD, &text) }
}

/// How many clusters of a row a device does not show.
fn gaps_of(device: &SetDevice, row: &SetRow) -> u64 {
    let mut rows = device.rows.iter();
    let same = rows.find(|other| other.language == row.language && other.group == row.group);
    same.map_or(0, |row| row.gaps)
}

/// Families of the stack that give nothing.
fn absent(set: &SetCoverage, first: &SetDevice) -> String {
    let mut text = String::new();
    for (entry, font) in first.fonts.iter().enumerate() {
        let everywhere = set
            .devices
            .iter()
            .all(|device| device.fonts[entry].absent.is_some());
        if let Some(reason) = font.absent.as_ref().filter(|_| everywhere) {
            let line = format!(" {}: {}", safe(font.family.as_str()), safe(reason));
            let _ = writeln!(text, "{}", styled(BAD, &line));
        }
        let unused = set.devices.iter().all(|device| {
            let draws = device
                .rows
                .iter()
                .any(|row| row.gaps > 0 && row.cells[entry].covers > 0);
            device.fonts[entry].serves == 0 && !draws
        });
        if font.web && unused {
            let _ = writeln!(
                text,
                " {} serves nothing here and need not be loaded for these texts.",
                safe(font.family.as_str())
            );
        }
    }
    text
}

/// One line of the list of gaps: a cluster, or all of a script that a stack
/// lacks.
enum Line<'a> {
    One(&'a SurveyGap),
    Many(Vec<&'a SurveyGap>),
}

impl Line<'_> {
    fn count(&self) -> u64 {
        match self {
            Line::One(gap) => gap.count,
            Line::Many(gaps) => gaps.iter().map(|gap| gap.count).sum(),
        }
    }
}

/// From how many different gaps on a script stands in one line.
const MANY: usize = 6;

/// How many of them are shown.
const SHOWN: usize = 5;

/// Gaps as lines, most frequent first; those of one script and reason together
/// unless all are asked for.
fn gap_lines<'a>(gaps: &[&'a SurveyGap], limit: GapLimit) -> Vec<Line<'a>> {
    if limit == GapLimit::All {
        return gaps.iter().map(|gap| Line::One(gap)).collect();
    }
    let mut groups: Vec<Vec<&SurveyGap>> = Vec::new();
    for gap in gaps {
        let same = |group: &&mut Vec<&SurveyGap>| {
            let known = group[0];
            known.group == gap.group
                && known.stack == gap.stack
                && known.platforms == gap.platforms
                && std::mem::discriminant(&known.cause) == std::mem::discriminant(&gap.cause)
        };
        match groups.iter_mut().find(same) {
            Some(group) => group.push(gap),
            None => groups.push(vec![gap]),
        }
    }
    let mut lines: Vec<Line<'_>> = Vec::new();
    for group in groups {
        if group.len() >= MANY {
            lines.push(Line::Many(group));
        } else {
            lines.extend(group.into_iter().map(Line::One));
        }
    }
    // A stable sort: equally frequent ones stay in the order of the texts.
    lines.sort_by_key(|line| std::cmp::Reverse(line.count()));
    lines
}

fn gaps(survey: &Surveyed, limit: GapLimit) -> String {
    let open: Vec<&SurveyGap> = survey.gaps.iter().filter(|gap| !gap.allowed).collect();
    if open.is_empty() {
        return String::new();
    }
    let all = gap_lines(&open, limit);
    let listed = match limit {
        GapLimit::All => all.len(),
        GapLimit::Most(most) => most.min(all.len()),
    };
    let mut table = table(
        &[
            "Gap",
            "times",
            "code points",
            "what",
            "first seen",
            "where",
            "would show it",
        ],
        &[1],
    );
    for line in &all[..listed] {
        let gap = match line {
            Line::One(gap) => gap,
            Line::Many(gaps) => gaps[0],
        };
        let font = |number: usize| safe(gap.fonts.get(number).map_or("", String::as_str));
        let (clusters, points, what) = match line {
            Line::One(gap) => (
                shown(&gap.cluster, &gap.characters),
                code_points(&gap.characters),
                cause(&gap.characters, &gap.cause, font),
            ),
            Line::Many(gaps) => (
                many(gaps),
                format!("{} different", gaps.len()),
                many_causes(gap, font),
            ),
        };
        table.add_row([
            clusters,
            thousands(line.count()),
            points,
            what,
            format!("{}:{}", safe(&gap.first.source), gap.first.line),
            if gap.platforms.len() == survey.platforms.len() {
                "everywhere".to_owned()
            } else {
                gap.platforms.join(" ")
            },
            if gap.filled_by.is_empty() {
                "·".to_owned()
            } else {
                safe(&gap.filled_by.join(", "))
            },
        ]);
    }
    let mut text = lines(&table);
    let collapsed = all.iter().any(|line| matches!(line, Line::Many(_)));
    if listed < all.len() {
        let rest: u64 = all[listed..].iter().map(Line::count).sum();
        let _ = writeln!(
            text,
            " and {} more, {} in all; {} lists each",
            thousands((all.len() - listed) as u64),
            count(rest, "cluster", "clusters"),
            styled(TITLE, "--all"),
        );
    } else if collapsed {
        let _ = writeln!(text, " {} lists each cluster", styled(TITLE, "--all"));
    }
    text
}

/// The first of many clusters.
fn many(gaps: &[&SurveyGap]) -> String {
    let first = gaps.iter().take(SHOWN);
    let first: Vec<String> = first
        .map(|gap| shown(&gap.cluster, &gap.characters))
        .collect();
    format!("{} …", first.join(" "))
}

/// What many gaps have in common.
fn many_causes(gap: &SurveyGap, font: impl Fn(usize) -> String) -> String {
    let group = safe(&gap.group);
    match &gap.cause {
        GapCause::Flawed {
            font: taker, flaw, ..
        } => {
            format!("{group}: {} has it, but {}", font(*taker), flaw.label())
        }
        GapCause::Unjoined { font: taker, .. } => {
            format!("{group}: {} draws it in pieces", font(*taker))
        }
        GapCause::Variation { font: base } => {
            format!("{group}: {} has other variants only", font(*base))
        }
        GapCause::Split { .. } => format!("{group}: no font has all of a cluster"),
        GapCause::Missing { .. } => format!("{group}: no font of the stack has it"),
    }
}

fn features(lacks: &[FeatureLack]) -> String {
    if lacks.is_empty() {
        return String::new();
    }
    let mut text = format!("{}\n", styled(TITLE, "Features asked for and not there"));
    for lack in lacks.iter().take(MOST_LINES) {
        let lost = if lack.lost_in_fallback {
            " (a fallback steps in)"
        } else {
            ""
        };
        let line = format!(
            "{} asks for {} ({}), but {} has none: {}, first in {}:{}{lost}",
            safe(&lack.asked_in),
            lack.feature,
            safe(&lack.asked_by),
            safe(&lack.font),
            count(lack.clusters, "cluster", "clusters"),
            safe(&lack.first.source),
            lack.first.line,
        );
        text.push_str(&paragraph(&line));
    }
    more(&mut text, lacks.len());
    text
}

fn faces(uses: &[FaceUse]) -> String {
    let differing: Vec<&FaceUse> = uses.iter().filter(|used| used.differs()).collect();
    if differing.is_empty() {
        return String::new();
    }
    let mut text = format!(
        "{}\n",
        styled(TITLE, "Weights and styles that are not there")
    );
    for used in differing.iter().take(MOST_LINES) {
        let slope = match used.style {
            StyleValue::Normal => "",
            StyleValue::Italic => " italic",
            StyleValue::Oblique(_) => " oblique",
        };
        let mut becomes = Vec::new();
        if used.other_weight {
            becomes.push(format!("weight {}", range(used)));
        }
        becomes.extend(fakes(used.faked).map(str::to_owned));
        let line = format!(
            "{} {}{slope} ({}) is shown by {}: {}",
            safe(&used.family),
            used.weight,
            safe(&used.roles.join(", ")),
            safe(&used.face),
            becomes.join(", "),
        );
        text.push_str(&paragraph(&line));
    }
    more(&mut text, differing.len());
    text
}

fn range(used: &FaceUse) -> String {
    if used.offers.from == used.offers.to {
        used.offers.from.to_string()
    } else {
        format!("{} to {}", used.offers.from, used.offers.to)
    }
}

fn cost(texts: &[TextCost]) -> String {
    if texts.is_empty() {
        return String::new();
    }
    let mut text = format!("{}\n", styled(TITLE, "Fonts that each text touches"));
    for cost in texts.iter().take(MOST_LINES) {
        let files = match cost.files {
            0 => "none loaded".to_owned(),
            files => format!(
                "{} loaded, {} KiB",
                count(files as u64, "file", "files"),
                kilobytes(cost.bytes)
            ),
        };
        let few: Vec<String> = cost
            .fonts
            .iter()
            .filter(|font| !font.only_for.is_empty())
            .map(|font| {
                format!(
                    "{} only for {}",
                    safe(&font.name),
                    safe(&font.only_for.join(" "))
                )
            })
            .collect();
        let few = if few.is_empty() {
            String::new()
        } else {
            format!("; {}", few.join("; "))
        };
        // A font in slices is one font in several files.
        let mut names: Vec<&str> = cost.fonts.iter().map(|font| font.name.as_str()).collect();
        names.sort_unstable();
        names.dedup();
        let line = format!(
            "{}: {} ({files}){few}",
            safe(&cost.source),
            count(names.len() as u64, "font", "fonts"),
        );
        text.push_str(&paragraph(&line));
    }
    more(&mut text, texts.len());
    text
}

/// What is listed on demand: needs, and texts with their styles.
pub fn lists(covered: &Covered) -> String {
    let mut text = String::new();
    for need in &covered.needs {
        let language = need.language.as_deref().unwrap_or("no language said");
        let _ = writeln!(
            text,
            "\n{} {}",
            styled(TITLE, &safe(&format!("{}, {language}", need.role))),
            styled(
                FAINT,
                &format!(
                    "{}, {}",
                    setting(&need.style),
                    stack_text(&need.style.families)
                )
            ),
        );
        let clusters: Vec<String> = need
            .clusters
            .iter()
            .map(|cluster| match cluster.count {
                1 => safe(&cluster.cluster),
                count => format!("{} ×{}", safe(&cluster.cluster), thousands(count)),
            })
            .collect();
        text.push_str(&paragraph(&clusters.join("  ")));
    }
    if !covered.styled.is_empty() {
        let mut table = table(
            &["Text", "place", "element", "language", "set in", "stack"],
            &[],
        );
        for one in &covered.styled {
            let words: String = one.text.split_whitespace().collect::<Vec<_>>().join(" ");
            let mut short: String = words.chars().take(24).collect();
            if short.len() < words.len() {
                short.push('…');
            }
            table.add_row([
                safe(&short),
                format!("{}:{}", safe(&one.page), one.line),
                safe(&one.element),
                safe(one.language.as_deref().unwrap_or("·")),
                setting(&one.style),
                stack_text(&one.style.families),
            ]);
        }
        let _ = write!(text, "\n{}", lines(&table));
    }
    text
}

/// `18/27 px, 700, italic`; lengths to hundredths of a px.
fn setting(style: &TextStyle) -> String {
    let px = |length: f32| (f64::from(length) * 100.0).round() / 100.0;
    let line = match style.line_height {
        LineHeight::Normal => String::new(),
        LineHeight::Number(number) => format!("/{}", px(number * style.size)),
        LineHeight::Px(height) => format!("/{}", px(height)),
    };
    let mut parts = vec![
        format!("{}{line} px", px(style.size)),
        style.weight.to_string(),
    ];
    match style.style {
        StyleValue::Normal => {}
        StyleValue::Italic => parts.push("italic".to_owned()),
        StyleValue::Oblique(angle) => parts.push(format!("oblique {angle}°")),
    }
    if style.stretch != 100.0 {
        parts.push(format!("{} % wide", style.stretch));
    }
    if style.letter_spacing != 0.0 {
        parts.push(format!("spaced {} px", px(style.letter_spacing)));
    }
    parts.extend(style.asked_features().into_iter().map(|(tag, _)| tag));
    parts.join(", ")
}

fn more(text: &mut String, all: usize) {
    if all > MOST_LINES {
        let _ = writeln!(text, " and {} more (--json has all)", all - MOST_LINES);
    }
}
