//! `prove` for people.

use std::collections::BTreeSet;
use std::fmt::Write as _;

use tidy_lattice_browser::{Comparison, Differs};

use super::shift::unloaded_in_firefox;
use super::table::{lines, table};
use super::text::{BAD, FAINT, GOOD, TITLE, count, kilobytes, paragraph, safe, styled};
use crate::results::{Proved, ProvedRun};

/// How many differences are told where not all are asked for.
const SHOWN: usize = 5;

/// Browsers side by side, then what differs.
pub fn view(proved: &Proved, all: bool) -> String {
    let mut view = String::new();
    for browser in &proved.browsers {
        let _ = writeln!(
            view,
            "{}",
            styled(
                TITLE,
                &format!(
                    "{} {} with the fonts of {}",
                    browser.engine.label(),
                    safe(&browser.version),
                    safe(&proved.platform)
                )
            )
        );
        if !browser.silent_on.is_empty() {
            view.push_str(&paragraph(&styled(
                FAINT,
                &format!("it does not tell {}", browser.silent_on.join(", ")),
            )));
        }
    }
    view.push('\n');
    view.push_str(&runs(proved));
    view.push_str(&differences(proved, all));
    view.push_str(&files(proved));
    view.push('\n');
    view.push_str(&verdict(proved));
    view
}

/// What it comes to: how many runs pass, what loaded, the worst shift, and what of the
/// others differs.
fn verdict(proved: &Proved) -> String {
    let failing: Vec<&ProvedRun> = proved.runs.iter().filter(|run| !run.holds).collect();
    let all = proved.runs.len();
    let passes = if failing.is_empty() {
        let runs = count(all as u64, "run passes", "runs pass");
        styled(GOOD, &format!("Pass: {runs}"))
    } else {
        styled(
            BAD,
            &format!("Fail: {} of {all} runs differ", failing.len()),
        )
    };
    let (off, blocks) = proved
        .runs
        .iter()
        .map(ProvedRun::lines_off)
        .fold((0, 0), |(off, blocks), (more_off, more)| {
            (off + more_off, blocks + more)
        });
    let mut note = format!(
        "{passes}. Fonts: {}. {off} of {blocks} blocks have another number of lines than \
         predicted.",
        fonts(proved)
    );
    let by_score = |a: &&ProvedRun, b: &&ProvedRun| a.scores().0.total_cmp(&b.scores().0);
    if let Some(worst) = proved.runs.iter().max_by(by_score) {
        let (seen, predicted) = worst.scores();
        let _ = write!(
            note,
            " The worst shift is {seen:.4}, predicted {predicted:.4} ({}).",
            place(worst)
        );
    }
    let mut text = paragraph(&note);
    for run in failing {
        let because = run.because.join("; ");
        text.push_str(&paragraph(&format!("{}: {because}", place(run))));
    }
    text
}

/// How many fonts came, and which faces did not.
fn fonts(proved: &Proved) -> String {
    let fetched = proved.runs.iter().flat_map(|run| &run.fetched);
    let loaded: BTreeSet<&str> = fetched
        .filter(|file| file.font && file.status == 200)
        .map(|file| file.path.as_str())
        .collect();
    let failed = proved.runs.iter().flat_map(|run| &run.failed);
    let failed: BTreeSet<&str> = failed.map(String::as_str).collect();
    let loaded = count(loaded.len() as u64, "file loaded", "files loaded");
    if failed.is_empty() {
        return format!("{loaded}, none failed");
    }
    let names: Vec<String> = failed.iter().map(|name| safe(name)).collect();
    format!("{loaded}, {} failed ({})", failed.len(), names.join(", "))
}

/// Page, window and engine of a run.
fn place(run: &ProvedRun) -> String {
    format!(
        "{}, {}, {}",
        safe(&run.page),
        run.window.name,
        run.engine.label()
    )
}

fn runs(proved: &Proved) -> String {
    let mut table = table(
        &[
            "Page",
            "Window",
            "Engine",
            "blocks",
            "lines off",
            "wraps off",
            "widths off",
            "heights off",
            "boxes off",
            "line-height",
            "fonts off",
            "score",
            "predicted",
            "took",
            "",
        ],
        &[3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13],
    );
    for run in &proved.runs {
        let both = |of: fn(&Comparison) -> usize| of(&run.before) + of(&run.after);
        let (seen, note) = match run.measured {
            Some(measured) => (format!("{measured:.4}"), run.foretold.value),
            None => (format!("{:.4}*", run.of_boxes.0), run.of_boxes.1),
        };
        table.add_row([
            safe(&run.page),
            format!("{}×{}", run.viewport.0, run.viewport.1),
            run.engine.label().to_owned(),
            both(|one| one.blocks).to_string(),
            both(|one| one.counts_off).to_string(),
            format!(
                "{} of {}",
                both(|one| one.breaks_off),
                both(|one| one.lines)
            ),
            both(|one| one.widths_off).to_string(),
            format!(
                "{} of {}",
                both(|one| one.heights_off),
                both(|one| one.heights)
            ),
            format!("{} of {}", both(|one| one.boxes_off), both(|one| one.boxes)),
            format!(
                "{} of {}",
                both(|one| one.line_heights_off),
                both(|one| one.line_heights)
            ),
            match run.after.fonts {
                0 => "–".to_owned(),
                fonts => format!("{} of {fonts}", run.after.fonts_off),
            },
            seen,
            format!("{note:.4}"),
            format!("{:.0} ms ({:.0} ms)", run.took.0, run.took.1),
            if run.holds {
                styled(GOOD, "holds")
            } else {
                styled(BAD, "differs")
            },
        ]);
    }
    let mut text = lines(&table);
    let mut note = "before and after together; took: the browser (the prediction)".to_owned();
    if proved.runs.iter().any(|run| run.measured.is_none()) {
        note.push_str(
            "; *: counted by tidy-lattice from the browser's boxes, as it counts none itself",
        );
    }
    text.push_str(&paragraph(&styled(FAINT, &note)));
    text
}

fn differences(proved: &Proved, all: bool) -> String {
    let mut text = String::new();
    for run in &proved.runs {
        for (when, compared) in [("before", &run.before), ("after", &run.after)] {
            if compared.differences.is_empty() {
                continue;
            }
            let _ = writeln!(text, "\n{}", styled(TITLE, &heading(run, when)));
            let shown = if all {
                compared.differences.len()
            } else {
                compared.differences.len().min(SHOWN)
            };
            for difference in &compared.differences[..shown] {
                let what = match difference.what {
                    Differs::Lines => "number of lines",
                    Differs::Break => "end of a line",
                    Differs::Width => "width of a line",
                    Differs::Height => "height",
                    Differs::BoxWidth => "width",
                    Differs::X => "left edge",
                    Differs::Y => "top",
                    Differs::LineHeight => "computed line height",
                    Differs::Fonts => "fonts",
                    Differs::Missing => "presence",
                };
                let _ = writeln!(
                    text,
                    " {} (line {}), {what}: {} here, {} in the browser",
                    safe(&difference.element),
                    difference.line,
                    safe(&difference.foretold),
                    safe(&difference.measured)
                );
            }
            if shown < compared.differences.len() {
                let more = compared.differences.len() - shown;
                text.push_str(&paragraph(&styled(
                    FAINT,
                    &format!("{more} more; --all shows them"),
                )));
            }
        }
    }
    text
}

fn heading(run: &ProvedRun, when: &str) -> String {
    format!("{}, {when} fonts came", place(run))
}

/// What was fetched, and what failed.
fn files(proved: &Proved) -> String {
    let mut text = String::new();
    let mut known: Vec<String> = Vec::new();
    for run in &proved.runs {
        let fonts: Vec<String> = run
            .fetched
            .iter()
            .filter(|file| file.font)
            .map(|file| {
                format!(
                    "{} ({} KiB)",
                    safe(&file.path),
                    kilobytes(file.bytes as u64)
                )
            })
            .collect();
        let mut note = format!(
            "{} in {}: {} fetched",
            safe(&run.page),
            run.engine.label(),
            count(fonts.len() as u64, "font", "fonts"),
        );
        if !fonts.is_empty() {
            let _ = write!(note, ": {}", fonts.join(", "));
        }
        let missing: Vec<String> = run
            .fetched
            .iter()
            .filter(|file| file.status != 200)
            .map(|file| safe(&file.path))
            .collect();
        if !missing.is_empty() {
            let _ = write!(note, "; not there: {}", missing.join(", "));
        }
        if !run.unforeseen.is_empty() {
            let _ = write!(
                note,
                "; not predicted: {}",
                safe(&run.unforeseen.join(", "))
            );
        }
        if !run.not_fetched.is_empty() {
            let _ = write!(
                note,
                "; predicted and not fetched: {}",
                safe(&run.not_fetched.join(", "))
            );
        }
        if !run.failed.is_empty() {
            let _ = write!(
                note,
                "; faces that failed: {}",
                safe(&run.failed.join(", "))
            );
        }
        if !run.unloaded.is_empty() {
            let _ = write!(note, "; {}", unloaded_in_firefox(&run.unloaded));
        }
        let parts = [(run.changed.0, "added"), (run.changed.1, "took away")];
        let parts: Vec<String> = parts
            .iter()
            .filter(|(number, _)| *number > 0)
            .map(|(number, what)| {
                format!("{what} {}", count(*number as u64, "element", "elements"))
            })
            .collect();
        if !parts.is_empty() {
            let _ = write!(
                note,
                "; the page's scripts {} (not compared)",
                parts.join(" and ")
            );
        }
        if !known.contains(&note) {
            known.push(note);
        }
        for line in &run.console {
            let note = format!("console: {}", safe(line));
            if !known.contains(&note) {
                known.push(note);
            }
        }
    }
    if !known.is_empty() {
        text.push('\n');
    }
    for note in known {
        text.push_str(&paragraph(&note));
    }
    text
}
