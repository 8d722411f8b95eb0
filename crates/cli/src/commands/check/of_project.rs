//! What a project is held to as a whole: its budgets, and the sheet that `build` wrote.

use std::collections::BTreeSet;

use tidy_lattice_checks::Finding;
use tidy_lattice_project::Access;
use tidy_lattice_project::building::{self, Settings};
use tidy_lattice_project::built::sheet_of;
use tidy_lattice_project::file::{ForecastRules, Project};
use tidy_lattice_project::request::BuildParts;

use super::LARGEST;
use crate::args::CheckArgs;
use crate::commands::forecast::forecast_project;
use crate::commands::shift::shift_project;
use crate::error::CliError;
use crate::progress::while_working;
use crate::results::PageForecast;
use crate::show::text::{count, kilobytes};

/// What only a project can be held to: its budget, and the sheet that `build` wrote.
pub fn of_project(
    args: &CheckArgs,
    project: &Project,
    access: Access<'_>,
) -> Result<Vec<Finding>, CliError> {
    let mut findings = Vec::new();
    let sheet = sheet_of(project);
    let built = project.role.values().any(|role| !role.web.is_empty());
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
        let shifts = while_working("Foretelling shifts", || shift_project(&path))?;
        for cell in &shifts.cells {
            let score = cell.shift.value().filter(|score| *score > budget);
            if let Some(score) = score {
                let what = format!(
                    "it moves by {score:.4} in {} on {}, and {budget} is allowed",
                    cell.window.name, cell.title
                );
                findings.push(Finding::at("shift-over-budget", (&cell.page, 1, 1), what));
            }
        }
    }
    let rules = &project.forecast;
    if rules.budget.is_some() || rules.files.is_some() || rules.families.is_some() {
        let path = project.path(tidy_lattice_project::file::NAME);
        let forecasts = while_working("Foretelling files", || forecast_project(&path))?;
        findings.extend(
            forecasts
                .pages
                .iter()
                .flat_map(|page| over_budgets(page, forecasts.budget, rules)),
        );
    }
    Ok(findings)
}

/// What a page fetches beyond what it may: bytes, files, families. Where not all is known,
/// no budget is met for sure.
fn over_budgets(page: &PageForecast, bytes: Option<u64>, rules: &ForecastRules) -> Vec<Finding> {
    let forecast = &page.forecast;
    let place = (page.page.as_str(), 1, 1);
    let on = if page.everywhere {
        String::new()
    } else {
        format!(" on {}", page.on.join(", "))
    };
    let mut findings = Vec::new();
    let mut find = |code: &'static str, what: String| {
        findings.push(Finding::at(code, place, what));
    };
    if let Some(bytes) = bytes.filter(|bytes| forecast.bytes > *bytes) {
        let more = kilobytes(forecast.bytes - bytes);
        let may = rules.budget.as_deref().unwrap_or_default();
        find(
            "bytes-over-budget",
            format!("it fetches {more} KB of fonts more{on} than the {may} that it may"),
        );
    } else if bytes.is_some() && forecast.is_open() {
        let open = forecast.not_known.iter().chain(&forecast.unread_sheets);
        let open: Vec<&str> = open.map(String::as_str).collect();
        find(
            "bytes-over-budget",
            format!(
                "how much it fetches{on} is not known, so it keeps to no budget: {}",
                open.join("; ")
            ),
        );
    }
    let has: BTreeSet<&str> = (forecast.files.iter())
        .map(|file| file.family.as_str())
        .collect();
    let counts = [
        (rules.files, forecast.files.len(), "font file", "font files"),
        (rules.families, has.len(), "family", "families"),
    ];
    for (most, has, one, many) in counts {
        if let Some(most) = most.filter(|most| has > *most) {
            let has = count(has as u64, one, many);
            find(
                "files-over-budget",
                format!(
                    "it fetches {has}{on}, and {most} {} allowed",
                    if most == 1 { "is" } else { "are" }
                ),
            );
        }
    }
    findings
}
