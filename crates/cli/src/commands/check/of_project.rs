//! What a project is held to as a whole: its budgets, and the sheet that `build` wrote.

use std::collections::{BTreeMap, BTreeSet};

use tidy_lattice_checks::Finding;
use tidy_lattice_project::Access;
use tidy_lattice_project::building::{self, Settings};
use tidy_lattice_project::built::sheet_of;
use tidy_lattice_project::file::{ForecastRules, Project, Role};
use tidy_lattice_project::request::BuildParts;

use super::LARGEST;
use crate::args::CheckArgs;
use crate::commands::forecast::forecast_project;
use crate::commands::shift::shift_project;
use crate::error::CliError;
use crate::progress::while_working;
use crate::results::{PageForecast, ShiftCell};
use crate::show::text::{count, kilobytes};

/// What only a project can be held to: its budget, and the sheet that `build` wrote.
pub fn of_project(
    args: &CheckArgs,
    project: &Project,
    access: Access<'_>,
) -> Result<Vec<Finding>, CliError> {
    let mut findings = Vec::new();
    let sheet = sheet_of(project);
    let built = project.role.values().any(Role::is_built);
    if built && access.exists(&sheet) {
        let parts = BuildParts {
            site: args.site.request(),
            language: "en".to_owned(),
            ..BuildParts::default()
        };
        let settings = Settings::of(&project.build);
        let quiet = Access {
            watch: &tidy_lattice_project::Quiet,
            ..access
        };
        let work = || building::stacks(&parts, Some(project), &settings, Some(&sheet), quiet);
        let now = while_working("Fitting widths and lines", work)?
            .sheets
            .whole();
        if access.read(&sheet, LARGEST)? != now.as_bytes() {
            let file = sheet.display().to_string();
            let what = "`build` would write something else now".to_owned();
            findings.push(Finding::at("stacks-outdated", (&file, 1, 1), what));
        }
    }
    if let Some(budget) = project.shift.budget {
        let path = project.path(tidy_lattice_project::file::NAME);
        let shifts = while_working("Predicting shifts", || shift_project(&path, &args.site))?;
        findings.extend(shifts_over(&shifts.cells, budget));
    }
    let rules = &project.forecast;
    if rules.budget.is_some() || rules.files.is_some() || rules.families.is_some() {
        let path = project.path(tidy_lattice_project::file::NAME);
        let forecasts = while_working("Predicting files", || forecast_project(&path, &args.site))?;
        let mut pages: BTreeMap<&str, Vec<&PageForecast>> = BTreeMap::new();
        for page in &forecasts.pages {
            pages.entry(&page.page).or_default().push(page);
        }
        for (page, entries) in pages {
            findings.extend(over_budgets(page, &entries, forecasts.budget, rules));
        }
    }
    Ok(findings)
}

/// Each page that moves by more than it may, by where it moves most.
fn shifts_over(cells: &[ShiftCell], budget: f64) -> Vec<Finding> {
    let score = |cell: &ShiftCell| cell.shift.value().unwrap_or_default();
    let mut pages: BTreeMap<&str, Vec<&ShiftCell>> = BTreeMap::new();
    for cell in cells.iter().filter(|cell| score(cell) > budget) {
        pages.entry(&cell.page).or_default().push(cell);
    }
    let found = pages.into_iter().filter_map(|(page, over)| {
        let worst = over.iter().max_by(|a, b| score(a).total_cmp(&score(b)))?;
        let what = format!(
            "it moves by {:.4} in {} on {}{}, and {budget} is allowed",
            score(worst),
            worst.window.name,
            worst.title,
            and_more(over.len())
        );
        Some(Finding::at("shift-over-budget", (page, 1, 1), what))
    });
    found.collect()
}

/// Of `count` places all but the one that is named.
fn and_more(count: usize) -> String {
    match count {
        0 | 1 => String::new(),
        2 => " (and too far in one more place)".to_owned(),
        more => format!(" (and too far in {} more places)", more - 1),
    }
}

/// What a page fetches beyond what it may, where that is most: bytes, files, families.
/// Where not all is known, no budget is met for sure.
fn over_budgets(
    page: &str,
    entries: &[&PageForecast],
    bytes: Option<u64>,
    rules: &ForecastRules,
) -> Vec<Finding> {
    let mut findings = Vec::new();
    let mut find = |code: &'static str, what: String| {
        findings.push(Finding::at(code, (page, 1, 1), what));
    };
    let open = entries.iter().find(|entry| entry.forecast.is_open());
    let most = entries.iter().max_by_key(|entry| entry.forecast.bytes);
    if let (Some(bytes), Some(most)) = (bytes, most) {
        let fetched = most.forecast.bytes;
        if fetched > bytes {
            let least = if most.forecast.is_open() {
                "at least "
            } else {
                ""
            };
            let more = kilobytes(fetched - bytes);
            let may = rules.budget.as_deref().unwrap_or_default();
            let on = place(most);
            find(
                "bytes-over-budget",
                format!("it fetches {least}{more} KB of fonts more{on} than the {may} that it may"),
            );
        } else if let Some(open) = open {
            let forecast = &open.forecast;
            let open_for = forecast.not_known.iter().chain(&forecast.unread_sheets);
            let open_for: Vec<&str> = open_for.map(String::as_str).collect();
            find(
                "bytes-over-budget",
                format!(
                    "how much it fetches{} is not known, so it keeps to no budget: {}",
                    place(open),
                    open_for.join("; ")
                ),
            );
        }
    }
    let files = |entry: &PageForecast| entry.forecast.files.len();
    let families = |entry: &PageForecast| {
        let files = entry.forecast.files.iter();
        let names: BTreeSet<&str> = files.map(|file| file.family.as_str()).collect();
        names.len()
    };
    type Count<'f> = &'f dyn Fn(&PageForecast) -> usize;
    let counts: [(_, Count<'_>, _, _); 2] = [
        (rules.files, &files, "font file", "font files"),
        (
            rules.families,
            &families,
            "family of fonts",
            "families of fonts",
        ),
    ];
    for (may, has, one, many) in counts {
        let most = entries.iter().max_by_key(|entry| has(entry));
        if let (Some(may), Some(most)) = (may, most)
            && has(most) > may
        {
            let fetched = count(has(most) as u64, one, many);
            let allowed = if may == 1 { "is" } else { "are" };
            find(
                "files-over-budget",
                format!(
                    "it fetches {fetched}{}, and {may} {allowed} allowed",
                    place(most)
                ),
            );
        }
    }
    findings
}

/// Where a page fetches this, if not everywhere: the first place, and how many more.
fn place(entry: &PageForecast) -> String {
    let more = entry.on.len().saturating_sub(1);
    match (entry.everywhere, entry.on.first()) {
        (false, Some(first)) if more > 0 => format!(" on {first} and {more} more"),
        (false, Some(first)) => format!(" on {first}"),
        _ => String::new(),
    }
}
