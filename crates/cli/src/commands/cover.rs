//! `cover`: what the content needs against what the stack covers.

use serde::Serialize;
use tidy_lattice_core::font::{Body, Face};
use tidy_lattice_core::lattice::survey::{Survey, Surveyed, survey};
use tidy_lattice_core::lattice::{self, Coverage, FontShare, Row};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::page::PageProblem;

use crate::args::CoverArgs;
use crate::error::{CliError, Outcome};
use crate::input::content::{Gathered, gather};
use crate::input::stack::named_platforms;
use crate::output;
use crate::progress::while_working;
use crate::project::Project;
use crate::show::{self, GapLimit};

/// The result.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Covered {
    /// The name of the project.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub project: String,
    /// The lattice of all texts.
    #[serde(flatten)]
    pub survey: Surveyed,
    /// Distinct clusters, where fonts were given by themselves.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub distinct: Option<u64>,
    /// What each font does, where fonts were given by themselves.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub fonts: Vec<FontShare>,
    /// Scripts and groups, where fonts were given by themselves.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub rows: Vec<Row>,
    /// Clusters that may fall through by the project's rules.
    pub most_gaps: u64,
    /// What could not be read of pages and sheets.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub problems: Vec<PageProblem>,
}

/// Runs the command.
pub fn run(args: &CoverArgs, json: bool) -> Result<Outcome, CliError> {
    let (covered, coverage) = cover(args)?;
    let limit = if args.all {
        GapLimit::All
    } else {
        GapLimit::Most(20)
    };
    output::print(&if json {
        show::json::document("cover", &covered)
    } else {
        match &coverage {
            Some(coverage) => show::cover::view(coverage, limit),
            None => show::survey::view(&covered, limit),
        }
    })?;
    Ok(Outcome::of(covered.survey.gap_clusters > covered.most_gaps))
}

/// The lattice of the texts; for fonts given by themselves without a platform
/// the plain one too.
pub fn cover(args: &CoverArgs) -> Result<(Covered, Option<Coverage>), CliError> {
    let limits = (&args.limits).into();
    let project = Project::find(args.stack.project.as_deref())?;
    let Gathered {
        survey: texts,
        given,
        problems,
    } = gather(args)?;
    tell_of_likeness(&texts);
    let platforms = if given && args.stack.platforms.is_empty() {
        Vec::new()
    } else {
        named_platforms(&args.stack.platforms, project.as_ref(), limits)?
    };
    let devices: Vec<_> = platforms
        .iter()
        .map(|platform| platform.device(limits))
        .collect();
    let surveyed = while_working("Crossing texts and fonts", || survey(&texts, &devices));
    let coverage = (given && devices.is_empty()).then(|| plain(&texts));
    let project = project.unwrap_or_default();
    let covered = Covered {
        project: project.title,
        survey: surveyed,
        distinct: coverage.as_ref().map(|coverage| coverage.distinct),
        fonts: coverage
            .as_ref()
            .map_or_else(Vec::new, |coverage| coverage.fonts.clone()),
        rows: coverage
            .as_ref()
            .map_or_else(Vec::new, |coverage| coverage.rows.clone()),
        most_gaps: args.most_gaps.unwrap_or(project.cover.most_gaps),
        problems,
    };
    Ok((covered, coverage))
}

/// The fonts that were given against all texts at once.
fn plain(texts: &Survey) -> Coverage {
    let fonts: Vec<Face> = texts.web[0]
        .iter()
        .flat_map(|rule| rule.files.iter().flatten().flatten())
        .map(|file| (*file.face).clone())
        .collect();
    let need = Need::merged(texts.buckets.iter().map(|bucket| &bucket.need));
    lattice::cover(&need, &fonts)
}

/// Faces whose cards were made from others of the same widths.
fn tell_of_likeness(texts: &Survey) {
    let files = texts
        .web
        .iter()
        .flatten()
        .flat_map(|rule| rule.files.iter().flatten().flatten());
    for file in files {
        if let Body::Card(card) = file.face.body()
            && let Some(other) = &card.card().measured_on
        {
            output::note(&format!(
                "{} was measured on {other}, so it is the characters of {other} that count here",
                file.face.names().label()
            ));
        }
    }
}
