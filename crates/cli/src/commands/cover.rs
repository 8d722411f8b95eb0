//! `cover`: what the content needs against what the stack covers.

use tidy_lattice_core::font::{Body, Face};
use tidy_lattice_core::lattice::survey::{Survey, needs, survey};
use tidy_lattice_core::lattice::{self, Coverage};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::page::Page;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::stack::{any_unreadable, named_platforms};
use tidy_lattice_project::survey::{Gathered, gather};

use crate::args::CoverArgs;
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{Covered, StyledText};
use crate::show::{self, GapLimit};
use crate::{input, output};

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
            Some(coverage) => show::cover::view(coverage, limit) + &show::survey::lists(&covered),
            None => show::survey::view(&covered, limit) + &show::survey::lists(&covered),
        }
    })?;
    // What a page needs and what is not there is as bad as a gap.
    let unreadable = any_unreadable(&covered.problems);
    let gaps = covered.survey.gap_clusters > covered.most_gaps;
    Ok(Outcome::of(gaps || unreadable))
}

/// The lattice of the texts; for fonts given by themselves without a platform
/// the plain one too.
pub fn cover(args: &CoverArgs) -> Result<(Covered, Option<Coverage>), CliError> {
    let access = input::access(&args.limits);
    let project = Project::find(args.stack.project.as_deref(), access)?;
    let Gathered {
        survey: texts,
        given,
        problems,
        pages,
    } = {
        let mut request = args.request(project.is_some())?;
        // A stack of the command line does without the project's.
        if request.stack.fonts.is_empty() && request.stack.stack.is_none() {
            stand_for_missing(&mut request.stack.site, project.as_ref(), access)?;
        }
        gather(&request, project.as_ref(), access)?
    };
    tell_of_likeness(&texts);
    let platforms = if given && args.stack.platforms.is_empty() {
        Vec::new()
    } else {
        named_platforms(&args.stack.platforms, project.as_ref(), access)?
    };
    let devices: Vec<_> = platforms
        .iter()
        .map(|platform| platform.device(access))
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
        needs: if args.need { needs(&texts) } else { Vec::new() },
        styled: if args.styles {
            pages.iter().flat_map(styled).collect()
        } else {
            Vec::new()
        },
    };
    Ok((covered, coverage))
}

/// The texts of a page, in its order.
fn styled(page: &Page) -> impl Iterator<Item = StyledText> + '_ {
    page.texts.iter().map(|text| StyledText {
        page: page.name.clone(),
        line: text.line,
        element: text.element.clone(),
        origin: text.origin,
        text: text.text.clone(),
        language: text.language.clone(),
        style: page.styles[text.style].clone(),
    })
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
