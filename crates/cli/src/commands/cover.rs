//! `cover`: what the content needs against what the stack covers.

use tidy_lattice_core::font::{Body, Face};
use tidy_lattice_core::lattice::survey::{Survey, SurveyGap, needs, survey};
use tidy_lattice_core::lattice::{self, Coverage, Flaw, GapCause, ShapingNeed};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::page::Page;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::stack::{any_unreadable, named_platforms};
use tidy_lattice_project::survey::{Gathered, gather};

use crate::args::CoverArgs;
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{Covered, DrawnGap, StyledText};
use crate::show::{self, GapLimit};
use crate::{input, output, screen, watching};

/// Runs the command.
pub fn run(args: &CoverArgs, json: bool) -> Result<Outcome, CliError> {
    if args.watch {
        watching::watch(|| once(args, json))
    } else {
        once(args, json)
    }
}

fn once(args: &CoverArgs, json: bool) -> Result<Outcome, CliError> {
    let (covered, coverage) = cover(args)?;
    let limit = if args.all {
        GapLimit::All
    } else {
        GapLimit::Most(20)
    };
    screen::tell_whole_names(args.all);
    output::answer(
        json,
        &if json {
            show::json::document("cover", &covered)
        } else {
            match &coverage {
                Some(coverage) => {
                    show::cover::view(coverage, limit) + &show::survey::lists(&covered)
                }
                None => show::survey::view(&covered, limit) + &show::survey::lists(&covered),
            }
        },
    )?;
    // What a page needs and what is not there is as bad as a gap.
    let unreadable = any_unreadable(&covered.problems);
    let gaps = covered.survey.gap_clusters > covered.most_gaps;
    Ok(Outcome::of(gaps || unreadable))
}

/// The lattice of the texts; for fonts given by themselves without a platform
/// the plain one too.
pub fn cover(args: &CoverArgs) -> Result<(Covered, Option<Coverage>), CliError> {
    let (covered, coverage, _) = crossed(args)?;
    Ok((covered, coverage))
}

/// The most gaps that are drawn.
const MOST_DRAWN: usize = 60;

/// The lattice of a project, and its gaps as fonts draw them.
pub fn cover_drawn(args: &CoverArgs) -> Result<(Covered, Vec<DrawnGap>), CliError> {
    let (covered, _, texts) = crossed(args)?;
    let open = covered.survey.gaps.iter().filter(|gap| !gap.allowed);
    let drawn = open.take(MOST_DRAWN).map(|gap| drawn(gap, &texts));
    let drawn = drawn.filter(|drawn| drawn.now.is_some() || drawn.then.is_some());
    let drawn = drawn.collect();
    Ok((covered, drawn))
}

/// A gap as the font draws it that takes it, and as one draws it that has it.
fn drawn(gap: &SurveyGap, texts: &Survey) -> DrawnGap {
    let rules = texts.web.iter().flatten();
    let files = rules.flat_map(|rule| rule.files.iter().flatten().flatten());
    let mut faces: Vec<(String, &Face)> = files
        .map(|file| (file.face.names().label(), &*file.face))
        .collect();
    faces.extend(texts.known.iter().map(|(name, face)| (name.clone(), face)));
    // Whether letters join shows beside others only.
    let joins = matches!(
        &gap.cause,
        GapCause::Flawed {
            flaw: Flaw::Unshaped {
                need: ShapingNeed::Joining
            },
            ..
        }
    );
    let drawn_text = gap.cluster.repeat(if joins { 3 } else { 1 });
    let by = |font: &str| {
        let mut known = faces.iter().filter(|(name, _)| name == font);
        // Of a family in slices the one that has it.
        let face = known
            .find(|(_, face)| gap.cluster.chars().next().is_some_and(|c| face.maps(c)))?
            .1;
        show::picture::letters(face, &drawn_text, &format!("as {font} draws it"))
    };
    let taker = match &gap.cause {
        GapCause::Flawed { font, .. } | GapCause::Unjoined { font, .. } => gap.fonts.get(*font),
        _ => None,
    };
    DrawnGap {
        cluster: gap.cluster.clone(),
        now: taker.and_then(|font| by(font)),
        then: gap.filled_by.iter().find_map(|font| by(font)),
    }
}

/// What `cover` gives, and the texts with their fonts.
fn crossed(args: &CoverArgs) -> Result<(Covered, Option<Coverage>, Survey), CliError> {
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
    Ok((covered, coverage, texts))
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
