//! `forecast` for people.

use std::fmt::Write as _;

use super::table::{lines, table};
use super::text::{
    BAD, FAINT, TITLE, count, kilobytes, next_step, paragraph, safe, styled, thousands,
};
use crate::results::{AppForecast, Forecasts, PageForecast, PageSum, UnpackedFile};

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
    title(forecasts) + &overview(forecasts, false)
}

fn title(forecasts: &Forecasts) -> String {
    let most = forecasts.pages.iter().map(|page| page.forecast.bytes).max();
    let unknown = forecasts.not_known > 0;
    format!(
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
    )
}

/// The same, then the files of the heaviest, what nobody fetches.
pub fn view(forecasts: &Forecasts, all: bool) -> String {
    if let Some(app) = &forecasts.app {
        return in_app(app);
    }
    let mut view = title(forecasts) + &overview(forecasts, all);
    view.push_str(&sums("Language", &forecasts.languages));
    view.push_str(&sums("Platform", &forecasts.platforms));
    if forecasts.pages.iter().all(|page| page.after_trim.is_none())
        && forecasts.pages.iter().any(|page| page.forecast.bytes > 0)
    {
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
        view.push_str(&files(page, &forecasts.unpacked));
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

/// Pages that are listed where not all are asked for: those that fetch most, or of which not
/// all is known.
const PAGES: usize = 40;

fn overview(forecasts: &Forecasts, all: bool) -> String {
    let mut heaviest: Vec<usize> = (0..forecasts.pages.len()).collect();
    heaviest.sort_by_key(|number| {
        let forecast = &forecasts.pages[*number].forecast;
        (
            std::cmp::Reverse(forecast.bytes),
            std::cmp::Reverse(forecast.is_open()),
        )
    });
    heaviest.truncate(if all { usize::MAX } else { PAGES });
    // In the order of the pages.
    heaviest.sort_unstable();
    let left = forecasts.pages.len() - heaviest.len();
    let trimmed = forecasts.pages.iter().any(|page| page.after_trim.is_some());
    let mut table = match trimmed {
        true => table(
            &["Page", "files", "fetched", "after trim", "on"],
            &[1, 2, 3],
        ),
        false => table(&["Page", "files", "fetched", "on"], &[1, 2]),
    };
    for page in heaviest.iter().map(|number| &forecasts.pages[*number]) {
        let over = forecasts
            .budget
            .is_some_and(|budget| page.forecast.bytes > budget);
        let size = bytes(page.forecast.bytes);
        let mark = if page.forecast.is_open() {
            " + not known".to_owned()
        } else {
            String::new()
        };
        let mut row = vec![
            safe(&page.page),
            page.forecast.files.len().to_string(),
            if over {
                styled(BAD, &format!("{size} !"))
            } else {
                size
            } + &mark,
        ];
        if trimmed {
            let after = page.after_trim;
            row.push(after.map_or_else(String::new, |after| bytes(after.bytes)));
        }
        row.push(safe(&places(page)));
        table.add_row(row);
    }
    let mut view = lines(&table);
    if left > 0 {
        view.push_str(&paragraph(&styled(
            FAINT,
            &format!("{left} more, which fetch no more than these; --all lists them"),
        )));
    }
    view
}

/// What pages of each language, or on each platform, fetch together.
fn sums(what: &str, sums: &[PageSum]) -> String {
    if sums.is_empty() {
        return String::new();
    }
    let mut table = table(
        &[what, "pages", "files", "together", "a page at most"],
        &[1, 2, 3, 4],
    );
    for sum in sums {
        table.add_row([
            sum.of
                .as_deref()
                .map_or_else(|| "not stated".to_owned(), safe),
            sum.pages.to_string(),
            sum.files.to_string(),
            bytes(sum.bytes),
            bytes(sum.most),
        ]);
    }
    format!("\n{}", lines(&table))
}

/// What fonts take in an app.
fn in_app(app: &AppForecast) -> String {
    let title = format!(
        "Fonts in the app: {}, {} once they are cut to its {} ({} %)",
        bytes(app.bytes),
        bytes(app.cut),
        count(app.languages.len() as u64, "language", "languages"),
        (app.cut * 100).div_ceil(app.bytes.max(1))
    );
    let mut view = format!("{}\n\n", styled(TITLE, &title));
    let mut faces = table(&["Face", "file", "whole", "cut"], &[2, 3]);
    for face in &app.faces {
        let file = face.file.rsplit(['/', '\\']).next().unwrap_or(&face.file);
        faces.add_row([
            safe(&face.family),
            safe(file),
            bytes(face.bytes),
            bytes(face.cut),
        ]);
    }
    view.push_str(&lines(&faces));
    let mut languages = table(&["Language", "alone", "adds to the others"], &[1, 2]);
    for language in &app.languages {
        let name = language.language.as_deref();
        languages.add_row([
            name.map_or_else(|| "not known".to_owned(), safe),
            bytes(language.alone),
            bytes(language.adds),
        ]);
    }
    let _ = write!(view, "\n{}", lines(&languages));
    view.push_str(&paragraph(&styled(
        FAINT,
        "Sizes are those of plain font files; --json has them by face and language.",
    )));
    view
}

/// The files that a browser reads before it learns of a font.
fn found_after(files: usize) -> String {
    match files {
        0 | 1 => "page".to_owned(),
        2 => "page, sheet".to_owned(),
        3 => "page, sheet, import".to_owned(),
        more => format!("page, sheet, {} imports", more - 2),
    }
}

fn files(page: &PageForecast, unpacked: &[UnpackedFile]) -> String {
    let mut view = format!(
        "\n{}\n",
        styled(
            TITLE,
            &format!("{} ({})", safe(&page.page), safe(&places(page)))
        )
    );
    let mut table = table(
        &[
            "File",
            "family",
            "size",
            "found after",
            "for characters",
            "different",
        ],
        &[2, 4, 5],
    );
    for file in &page.forecast.files {
        table.add_row([
            safe(&file.file),
            safe(&file.family),
            bytes(file.bytes),
            found_after(file.found_after),
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
    let plain_files = page.forecast.files.iter().filter(|file| !file.packed);
    let plain_files =
        plain_files.filter_map(|file| unpacked.iter().find(|known| known.file == file.file));
    let plain_files: Vec<&UnpackedFile> = plain_files.collect();
    if !plain_files.is_empty() {
        let gzip: u64 = plain_files.iter().map(|file| file.gzip).sum();
        let plain: u64 = plain_files.iter().map(|file| file.bytes).sum();
        let all = plain_files.len() == page.forecast.files.len();
        let (which, them) = match plain_files.len() {
            1 if all => ("It is".to_owned(), "it"),
            1 => ("One of these is".to_owned(), "it"),
            some if all => (format!("All {some} are"), "them"),
            some => (format!("{some} of these are"), "them"),
        };
        view.push_str(&paragraph(&format!(
            "- {which} not packed: {} travel where the server packs {them} (gzip), {} where it \
             does not. `trim` makes WOFF2.",
            bytes(gzip),
            bytes(plain)
        )));
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
