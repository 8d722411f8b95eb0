//! `forecast` for people.

use std::fmt::Write as _;

use super::table::{lines, table};
use super::text::{
    BAD, FAINT, TITLE, count, kilobytes, next_step, paragraph, safe, styled, thousands,
};
use crate::results::{Forecasts, PageForecast};

/// Files that are listed where not all are asked for.
const SHOWN: usize = 10;

fn bytes(bytes: u64) -> String {
    format!("{} KB", kilobytes(bytes))
}

/// A budget as it was given: not rounded.
fn budget_bytes(budget: u64) -> String {
    format!("{} bytes", thousands(budget))
}

/// Pages with their sums.
pub fn brief(forecasts: &Forecasts) -> String {
    let most = forecasts.pages.iter().map(|page| page.forecast.bytes).max();
    let unknown = forecasts.not_known > 0;
    let mut view = format!(
        "{}\n\n",
        styled(
            TITLE,
            &format!(
                "Fonts that {}: {}{}",
                count(pages(forecasts), "page fetches", "pages fetch"),
                match most.unwrap_or(0) {
                    0 => "none".to_owned(),
                    most => format!("{} at most", bytes(most)),
                },
                if unknown {
                    ", besides what is not known"
                } else {
                    ""
                }
            )
        )
    );
    view.push_str(&overview(forecasts));
    view
}

/// The same, then the files of the heaviest, what nobody fetches.
pub fn view(forecasts: &Forecasts, all: bool) -> String {
    let mut view = brief(forecasts);
    if forecasts.pages.iter().any(|page| page.forecast.bytes > 0) {
        view.push_str(&next_step(
            "`tidy-lattice trim` cuts these files down to what the texts need.",
        ));
    }
    let mut heaviest: Vec<&PageForecast> = forecasts.pages.iter().collect();
    heaviest.sort_by_key(|page| std::cmp::Reverse(page.forecast.bytes));
    let listed = if all { heaviest.len() } else { 1 };
    for page in heaviest
        .iter()
        .take(listed)
        .filter(|page| !page.forecast.files.is_empty() || page.forecast.is_open())
    {
        view.push_str(&files(page));
    }
    if heaviest.len() > listed {
        view.push_str(&paragraph(&styled(
            FAINT,
            "--all lists the files of every page",
        )));
    }
    view.push_str(&never(forecasts, all));
    if let Some(budget) = forecasts.budget {
        view.push('\n');
        view.push_str(&paragraph(&match forecasts.over_budget {
            0 if forecasts.not_known > 0 => styled(
                BAD,
                &format!(
                    "Whether the budget of {} is kept is not known for {} !",
                    budget_bytes(budget),
                    count(forecasts.not_known as u64, "page", "pages")
                ),
            ),
            0 => format!("All within the budget of {}.", budget_bytes(budget)),
            over => styled(
                BAD,
                &format!(
                    "{} above the budget of {} !",
                    count(over as u64, "page", "pages"),
                    budget_bytes(budget)
                ),
            ),
        }));
    }
    view
}

fn pages(forecasts: &Forecasts) -> u64 {
    let mut names: Vec<&str> = forecasts
        .pages
        .iter()
        .map(|page| page.page.as_str())
        .collect();
    names.dedup();
    names.len() as u64
}

fn places(page: &PageForecast) -> String {
    if page.everywhere {
        return "everywhere".to_owned();
    }
    page.on.join(", ")
}

fn overview(forecasts: &Forecasts) -> String {
    let mut table = table(&["Page", "files", "fetched", "on"], &[1, 2]);
    for page in &forecasts.pages {
        let over = forecasts
            .budget
            .is_some_and(|budget| page.forecast.bytes > budget);
        let size = bytes(page.forecast.bytes);
        let mark = if page.forecast.is_open() {
            " + not known".to_owned()
        } else {
            String::new()
        };
        table.add_row([
            safe(&page.page),
            page.forecast.files.len().to_string(),
            if over {
                styled(BAD, &format!("{size} !"))
            } else {
                size
            } + &mark,
            safe(&places(page)),
        ]);
    }
    lines(&table)
}

fn files(page: &PageForecast) -> String {
    let mut view = format!(
        "\n{}\n",
        styled(
            TITLE,
            &format!("{} ({})", safe(&page.page), safe(&places(page)))
        )
    );
    let mut table = table(
        &["File", "family", "size", "for characters", "different"],
        &[2, 3, 4],
    );
    for file in &page.forecast.files {
        table.add_row([
            safe(&file.file),
            safe(&file.family),
            bytes(file.bytes),
            file.characters.to_string(),
            file.distinct.to_string(),
        ]);
    }
    view.push_str(&lines(&table));
    for file in &page.forecast.files {
        if file.distinct == 0 {
            view.push_str(&paragraph(&format!(
                "- {} shows nothing here: it is fetched for characters that it does not have. A \
                 unicode-range keeps it from being asked; `trim` writes one.",
                safe(&file.file)
            )));
        } else if !file.only_for.is_empty() && page.forecast.files.len() > 1 {
            view.push_str(&paragraph(&format!(
                "- {} is fetched for {} only: {}. `trim --text` makes it small.",
                safe(&file.file),
                count(file.only_for.len() as u64, "character", "characters"),
                safe(&file.only_for.join(" "))
            )));
        }
    }
    for url in &page.forecast.not_known {
        view.push_str(&paragraph(&format!(
            "- {} is asked for, too; it cannot be read here, so its size is not known.",
            safe(url)
        )));
    }
    for what in &page.forecast.unread_sheets {
        view.push_str(&paragraph(&format!(
            "- {}: what it declares is not known. --map reads a local copy.",
            safe(what)
        )));
    }
    if !page.preload.is_empty() {
        view.push_str(&paragraph("Preload what most of the text needs:"));
        for preload in &page.preload {
            let _ = writeln!(view, "   {}", safe(&preload.tag));
        }
    }
    view
}

fn never(forecasts: &Forecasts, all: bool) -> String {
    let never = &forecasts.never_fetched;
    if never.is_empty() {
        return String::new();
    }
    let total: u64 = never.iter().map(|font| font.bytes).sum();
    let mut view = format!(
        "\n{}\n",
        styled(
            TITLE,
            &format!(
                "Declared, and fetched by no page: {}, {}",
                count(never.len() as u64, "file", "files"),
                bytes(total)
            )
        )
    );
    let shown = if all {
        never.len()
    } else {
        SHOWN.min(never.len())
    };
    for font in &never[..shown] {
        view.push_str(&paragraph(&format!(
            "- {} ({}, {}) by {}",
            safe(&font.file),
            safe(&font.family),
            bytes(font.bytes),
            safe(&font.rule)
        )));
    }
    if never.len() > shown {
        let more = never.len() - shown;
        view.push_str(&paragraph(&styled(
            FAINT,
            &format!("{more} more; --all lists them"),
        )));
    }
    view
}
