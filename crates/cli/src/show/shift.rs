//! `shift` for people.

use std::collections::BTreeSet;
use std::fmt::Write as _;

use tidy_lattice_core::shift::BlockShift;

use super::table::{lines, table};
use super::text::{BAD, FAINT, GOOD, TITLE, count, next_step, paragraph, safe, styled};
use crate::results::{ShiftCell, Shifts};

/// How many boxes are told where not all are asked for.
const SHOWN: usize = 3;

/// Scores of every page, window and platform; then the worst boxes.
pub fn view(shifts: &Shifts, all: bool) -> String {
    let mut view = verdict(shifts);
    let mut pages: Vec<&str> = Vec::new();
    for cell in &shifts.cells {
        if !pages.contains(&cell.page.as_str()) {
            pages.push(&cell.page);
        }
    }
    for page in pages {
        let cells: Vec<(usize, &ShiftCell)> = shifts
            .cells
            .iter()
            .enumerate()
            .filter(|(_, cell)| cell.page == page)
            .collect();
        let _ = writeln!(
            view,
            "{}\n",
            styled(
                TITLE,
                &format!(
                    "{}: what moves in {} when its web fonts arrive",
                    safe(page),
                    shifts.engine.label()
                )
            )
        );
        view.push_str(&scores(shifts, &cells));
        view.push_str(&variants(shifts, &cells));
        let known = cells.iter().filter(|(_, cell)| cell.shift.is_known());
        let worst = known.max_by(|a, b| {
            let key = |cell: &ShiftCell| cell.shift.value().unwrap_or_default();
            key(a.1)
                .total_cmp(&key(b.1))
                .then(a.1.shift.lines_broken.cmp(&b.1.shift.lines_broken))
                .then(b.0.cmp(&a.0))
        });
        if let Some((_, worst)) = worst {
            view.push_str(&blocks(worst, all));
        }
        view.push_str(&left_out(&cells));
        view.push('\n');
    }
    if let Some(budget) = shifts.budget {
        let note = match shifts.over_budget {
            0 if shifts.unknown > 0 => styled(
                BAD,
                &format!(
                    "{} not known, so it cannot be told whether the budget of {budget} is met \
                     (--pass-unknown lets them pass)",
                    count(shifts.unknown as u64, "score is", "scores are")
                ),
            ),
            0 => styled(
                GOOD,
                &format!("all scores are within the budget of {budget}"),
            ),
            over => styled(
                BAD,
                &format!(
                    "{} above the budget of {budget}",
                    count(over as u64, "score is", "scores are")
                ),
            ),
        };
        view.push_str(&paragraph(&note));
    }
    view
}

/// The worst score of all, and what to do about it.
fn verdict(shifts: &Shifts) -> String {
    let known = shifts.cells.iter().filter(|cell| cell.shift.is_known());
    let value = |cell: &ShiftCell| cell.shift.value().unwrap_or_default();
    let all = shifts.cells.len() as u64;
    let unknown = why_unknown(shifts);
    let unknown_of = unknown.iter().map(|(_, times)| times).sum::<usize>() as u64;
    let unknown_count = match unknown_of {
        0 => String::new(),
        1 => format!(" 1 of {} is not known.", count(all, "score", "scores")),
        some => format!(
            " {some} of {} are not known.",
            count(all, "score", "scores")
        ),
    };
    let worst = known.max_by(|a, b| {
        let broken = |cell: &ShiftCell| cell.shift.lines_broken;
        value(a)
            .total_cmp(&value(b))
            .then(broken(a).cmp(&broken(b)))
    });
    let Some(worst) = worst else {
        return paragraph(&styled(BAD, "No score is known."))
            + &unknown_in_words(&unknown, all)
            + "\n";
    };
    let moves = worst.shift.blocks.len();
    if moves == 0 {
        let text = styled(
            GOOD,
            "Nothing moves when the web fonts arrive, as far as is known.",
        );
        let text = paragraph(&format!("{text}{unknown_count}"));
        return text + &unknown_in_words(&unknown, all) + "\n";
    }
    let over = shifts.budget.is_some_and(|budget| value(worst) > budget);
    let text = format!(
        "The worst layout shift is {:.4}: {}, {}, {}; {} there.",
        value(worst),
        safe(&worst.page),
        safe(&worst.window.name),
        safe(&worst.title),
        count(
            worst.shift.lines_broken as u64,
            "line ends elsewhere",
            "lines end elsewhere"
        ),
    );
    let mut text = paragraph(&format!(
        "{}{unknown_count}",
        styled(if over { BAD } else { TITLE }, &text)
    ));
    let built = shifts.variants.iter().find(|row| row.name == "built");
    // Only where both are known can they be compared.
    let with_stacks = built.and_then(|row| {
        let both = shifts.cells.iter().zip(&row.scores);
        let known = both.filter_map(|(cell, score)| Some((cell.shift.value()?, (*score)?)));
        known
            .max_by(|a, b| a.1.total_cmp(&b.1))
            .map(|(_, score)| score)
    });
    if let Some(score) = with_stacks.filter(|score| *score < value(worst)) {
        text.push_str(&next_step(&format!(
            "`tidy-lattice build` writes stacks with which it would be {score:.4} at most."
        )));
    } else if shifts.variants.is_empty() {
        text.push_str(&next_step(
            "--variants compares other ways to serve the page, the stacks of `tidy-lattice build` \
             among them.",
        ));
    }
    text + &unknown_in_words(&unknown, all) + "\n"
}

/// Why scores are not known, with how many.
fn why_unknown(shifts: &Shifts) -> Vec<(&str, usize)> {
    let mut reasons: Vec<(&str, usize)> = Vec::new();
    for why in shifts
        .cells
        .iter()
        .filter_map(|cell| cell.shift.unknown.as_deref())
    {
        match reasons.iter_mut().find(|(known, _)| *known == why) {
            Some((_, times)) => *times += 1,
            None => reasons.push((why, 1)),
        }
    }
    // What one file mends comes first of equals.
    reasons.sort_by_key(|(why, times)| (std::cmp::Reverse(*times), !why.contains("--map")));
    reasons
}

/// Why most of them are not known, and what to do about it, where they are a third or more.
fn unknown_in_words(reasons: &[(&str, usize)], all: u64) -> String {
    let Some((why, times)) = reasons.first() else {
        return String::new();
    };
    if 3 * reasons.iter().map(|(_, times)| *times as u64).sum::<u64>() < all {
        return String::new();
    }
    let times = count(*times as u64, "time", "times");
    let mut text = paragraph(&format!("Not known {times}: {}.", safe(why)));
    if why.contains("--map") {
        text.push_str(&next_step(
            "--map URL=FILE reads a copy in its place; an empty file leaves it out.",
        ));
    } else if why.contains("not measured") {
        text.push_str(&next_step(MEASURE));
    } else if why.contains("cannot be read") {
        text.push_str(&next_step(
            "`tidy-lattice check` lists what pages name and what is not there.",
        ));
    }
    text
}

/// How fonts come to be known.
const MEASURE: &str = "`tidy-lattice record` on such a device makes cards of its fonts, and so does \
                       the page of `tidy-lattice record --page` in its browser.";

/// The worst score of every page in every window.
pub fn brief(shifts: &Shifts) -> String {
    let mut table = table(
        &["Page", "Window", "worst score", "on", "broken lines"],
        &[2, 4],
    );
    let mut known: Vec<(&str, &str)> = Vec::new();
    for cell in &shifts.cells {
        let key = (cell.page.as_str(), cell.window.name.as_str());
        if known.contains(&key) {
            continue;
        }
        known.push(key);
        let same = shifts.cells.iter().filter(|other| {
            (other.page.as_str(), other.window.name.as_str()) == key && other.shift.is_known()
        });
        let value = |cell: &ShiftCell| cell.shift.value().unwrap_or_default();
        let worst = same.max_by(|a, b| value(a).total_cmp(&value(b)));
        if let Some(worst) = worst {
            table.add_row([
                safe(key.0),
                key.1.to_owned(),
                format!("{:.4}", value(worst)),
                safe(&worst.title),
                worst.shift.lines_broken.to_string(),
            ]);
        }
    }
    lines(&table)
}

fn scores(shifts: &Shifts, cells: &[(usize, &ShiftCell)]) -> String {
    let mut table = table(
        &[
            "Window",
            "Platform",
            "score",
            "moved",
            "farthest",
            "taller",
            "lines",
            "broken",
            "worst box",
        ],
        &[2, 3, 4, 5, 6, 7],
    );
    for (_, cell) in cells {
        let shift = &cell.shift;
        let value = shift.value().unwrap_or_default();
        let over = shifts.budget.is_some_and(|budget| value > budget);
        let score = format!("{value:.4}");
        let (impact, distance) = shift
            .score
            .as_ref()
            .map_or((0.0, 0.0), |score| (score.impact, score.distance));
        let note = |text: String| {
            if shift.is_known() {
                text
            } else {
                "–".to_owned()
            }
        };
        table.add_row([
            cell.window.label(),
            safe(&cell.title),
            if !shift.is_known() {
                "not known".to_owned()
            } else if over {
                // Not by colour alone.
                styled(BAD, &format!("{score} !"))
            } else {
                score
            },
            note(format!("{:.0} %", impact * 100.0)),
            note(format!("{} px", px(distance))),
            note(signed(shift.page_height.1 - shift.page_height.0)),
            shift.lines.0.to_string(),
            note(shift.lines_broken.to_string()),
            note(worst(&shift.blocks).map_or("–".to_owned(), |block| safe(&block.element))),
        ]);
    }
    let mut text = lines(&table);
    text.push_str(&paragraph(&styled(
        FAINT,
        "score: share of the window that moved times how far, as Layout Instability has it; \
         broken: lines that end elsewhere afterwards",
    )));
    text
}

/// Other ways to serve the page: the worst score of each window.
fn variants(shifts: &Shifts, cells: &[(usize, &ShiftCell)]) -> String {
    if shifts.variants.is_empty() {
        return String::new();
    }
    let mut windows: Vec<&str> = Vec::new();
    for (_, cell) in cells {
        if !windows.contains(&cell.window.name.as_str()) {
            windows.push(&cell.window.name);
        }
    }
    let mut header = vec!["Served"];
    header.extend(&windows);
    header.push("broken lines");
    let right: Vec<usize> = (1..header.len()).collect();
    let mut table = table(&header, &right);
    let mut row = |name: String,
                   score: &dyn Fn(usize) -> Option<f64>,
                   broken: &dyn Fn(usize) -> Option<usize>| {
        let mut row = vec![name];
        for window in &windows {
            let inside = cells
                .iter()
                .filter(|(_, cell)| cell.window.name == *window)
                .filter_map(|(place, cell)| Some((*place, cell, score(*place)?)));
            let worst = inside.max_by(|a, b| a.2.total_cmp(&b.2).then(b.0.cmp(&a.0)));
            row.push(worst.map_or("not known".to_owned(), |(_, cell, score)| {
                format!("{score:.4} ({})", safe(&cell.title))
            }));
        }
        let known: Vec<usize> = cells
            .iter()
            .filter_map(|(place, _)| broken(*place))
            .collect();
        row.push(match known.as_slice() {
            [] => "not known".to_owned(),
            known => known.iter().sum::<usize>().to_string(),
        });
        table.add_row(row);
    };
    row(
        "as it is".to_owned(),
        &|place| shifts.cells[place].shift.value(),
        &|place| {
            let shift = &shifts.cells[place].shift;
            shift.value().map(|_| shift.lines_broken)
        },
    );
    for variant in &shifts.variants {
        row(
            format!("{}: {}", safe(&variant.name), safe(&variant.what)),
            &|place| variant.scores[place],
            &|place| variant.lines_broken[place],
        );
    }
    format!(
        "\n{}\n{}",
        styled(
            TITLE,
            "Served in other ways (the worst platform of each window)"
        ),
        lines(&table)
    )
}

/// The box that changes most: by height and by lines that break elsewhere.
pub fn worst(blocks: &[BlockShift]) -> Option<&BlockShift> {
    blocks.iter().min_by(|a, b| order(a, b))
}

/// How many px of height a line counts for that breaks elsewhere.
const LINE: f64 = 10.0;

/// Boxes that change most come first.
fn order(a: &BlockShift, b: &BlockShift) -> std::cmp::Ordering {
    let weight = |block: &BlockShift| block.grows().abs() + LINE * block.broken.len() as f64;
    weight(b)
        .total_cmp(&weight(a))
        .then(b.moved.1.abs().total_cmp(&a.moved.1.abs()))
        .then(a.number.cmp(&b.number))
}

fn blocks(cell: &ShiftCell, all: bool) -> String {
    let shift = &cell.shift;
    if shift.blocks.is_empty() {
        return paragraph(&styled(GOOD, "no box changes anywhere"));
    }
    let mut changed: Vec<&BlockShift> = shift.blocks.iter().collect();
    changed.sort_by(|a, b| order(a, b));
    let mut text = format!(
        "\n{}\n",
        styled(
            TITLE,
            &format!(
                "The worst: {} on {} ({} of {} with lines)",
                safe(&cell.window.name),
                safe(&cell.title),
                count(shift.blocks.len() as u64, "box changes", "boxes change"),
                shift.blocks_in_all
            )
        )
    );
    let shown = if all {
        changed.len()
    } else {
        changed.len().min(SHOWN)
    };
    for block in &changed[..shown] {
        let _ = writeln!(
            text,
            " {} (line {}) “{}”",
            styled(TITLE, &safe(&block.element)),
            block.line,
            safe(&short(&block.text))
        );
        let mut note = Vec::new();
        if block.grows() != 0.0 {
            note.push(format!(
                "{} px high, then {} px ({})",
                px(block.height.0),
                px(block.height.1),
                signed(block.grows())
            ));
        }
        if block.lines.0 != block.lines.1 {
            let before = count(block.lines.0 as u64, "line", "lines");
            note.push(format!("{before}, then {}", block.lines.1));
        }
        if block.moved.1 != 0.0 {
            let way = if block.moved.1 > 0.0 { "down" } else { "up" };
            note.push(format!("moves {} px {way}", px(block.moved.1.abs())));
        }
        if block.moved.0 != 0.0 {
            let way = if block.moved.0 > 0.0 { "right" } else { "left" };
            note.push(format!("moves {} px {way}", px(block.moved.0.abs())));
        }
        if !note.is_empty() {
            let _ = writeln!(text, "   {}", note.join("; "));
        }
        if let Some(broken) = block.broken.first() {
            let _ = writeln!(
                text,
                "   line {} before: {}",
                broken.number,
                safe(&broken.before)
            );
            if let Some(after) = &broken.after {
                let _ = writeln!(text, "   {} after:  {}", " ".repeat(6), safe(after));
            }
        }
    }
    if shown < changed.len() {
        let more = format!("{} more; --all shows them", changed.len() - shown);
        text.push_str(&paragraph(&styled(FAINT, &more)));
    }
    text
}

/// What Firefox does with stand-ins that nothing has it load.
pub fn unloaded_in_firefox<'f>(families: impl IntoIterator<Item = &'f String>) -> String {
    let named: Vec<String> = (families.into_iter())
        .map(|family| format!("\"{}\"", safe(family)))
        .collect();
    format!(
        "not shown by Firefox before the web font is there: {}, as it loads no local face behind \
         a font on its way; the script in the first comment of `build`'s sheet has it load them",
        named.join(", ")
    )
}

fn left_out(cells: &[(usize, &ShiftCell)]) -> String {
    let mut text = String::new();
    let mut known: Vec<String> = Vec::new();
    for (_, cell) in cells {
        for unsupported in &cell.shift.unsupported {
            let note = format!(
                "not laid out: {} ({}, line {}{})",
                safe(&unsupported.what),
                safe(&unsupported.element),
                unsupported.line,
                if unsupported.count > 1 {
                    format!(", and {} more", unsupported.count - 1)
                } else {
                    String::new()
                }
            );
            if !known.contains(&note) {
                known.push(note);
            }
        }
    }
    // The cell that lacks most.
    let lacking = cells.iter().filter_map(|(_, cell)| {
        let left_out = cell.shift.left_out.as_ref()?;
        Some((left_out, cell.shift.characters.max(1)))
    });
    if let Some((text, all)) = lacking.max_by_key(|(text, _)| text.characters) {
        let share = |characters: usize| characters as f64 / all as f64 * 100.0;
        known.push(format!(
            "{:.1} % of the text is left out of these figures, most of it in {} (line {}, {:.1} %)",
            share(text.characters),
            safe(&text.most_in),
            text.line,
            share(text.most)
        ));
    }
    let unloaded: BTreeSet<&String> = (cells.iter())
        .flat_map(|(_, cell)| &cell.shift.unloaded)
        .collect();
    if !unloaded.is_empty() {
        known.push(unloaded_in_firefox(unloaded));
    }
    for (_, cell) in cells {
        if let Some(why) = &cell.shift.unknown {
            let note = format!("not known: {}", safe(why));
            let remedy = "; measure them there: `tidy-lattice record` on such a device, or the \
                          page of `tidy-lattice record --page` in its browser";
            let measured = why.contains("not measured");
            let note = if measured { note + remedy } else { note };
            if !known.contains(&note) {
                known.push(note);
            }
        }
    }
    let measured = cells.iter().filter(|(_, cell)| cell.shift.is_known());
    let guessed = measured.map(|(_, cell)| cell.shift.guessed).max();
    if let Some(guessed) = guessed.filter(|guessed| *guessed > 0) {
        known.push(format!(
            "{} in fonts that are not measured, or that the browser picks by itself: where \
             their lines end is a guess",
            count(guessed as u64, "character is set", "characters are set")
        ));
    }
    for note in known {
        text.push_str(&paragraph(&styled(FAINT, &note)));
    }
    text
}

fn short(text: &str) -> String {
    let short: String = text.chars().take(60).collect();
    if short.len() < text.len() {
        format!("{}…", short.trim_end())
    } else {
        short
    }
}

/// Px with as many places as matter.
pub fn px(px: f64) -> String {
    let text = format!("{px:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn signed(by: f64) -> String {
    if by == 0.0 {
        return "0".to_owned();
    }
    let sign = if by > 0.0 { "+" } else { "−" };
    format!("{sign}{} px", px(by.abs()))
}
