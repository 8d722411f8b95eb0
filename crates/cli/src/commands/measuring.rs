//! The page of `record --page`, and what comes back from it.

use std::path::Path;

use tidy_lattice_core::font::Card;
use tidy_lattice_core::platform::platforms;
use tidy_lattice_core::record::device::{Measured, Plan, card};
use tidy_lattice_project::languages::languages;
use tidy_lattice_project::{Access, ProjectError};

use crate::args::RecordArgs;
use crate::error::{CliError, Outcome};
use crate::posted;
use crate::progress::Progress;
use crate::results::{MeasuredDevice, MeasuringPage, Recorded};
use crate::{output, show, writing};

/// The most families that may be named, and the longest name in characters.
const MOST_NAMES: usize = 500;
const LONGEST_NAME: usize = 200;

/// Writes the page.
pub fn write_page(args: &RecordArgs, path: &Path, json: bool) -> Result<Outcome, CliError> {
    let (plan, tags) = plan(args)?;
    let page = show::measuring::page(&plan, None);
    writing::write_file(path, page.as_bytes(), args.force)?;
    let recorded = Recorded {
        page: Some(MeasuringPage {
            file: path.display().to_string(),
            bytes: page.len() as u64,
            families: plan.families.len(),
            languages: tags.iter().map(|tag| (*tag).to_owned()).collect(),
        }),
        ..Recorded::default()
    };
    super::tell(json, "record", &recorded, || show::record::page(&recorded))?;
    Ok(Outcome::Clean)
}

/// Shows the page until one result came.
pub fn serve(args: &RecordArgs) -> Result<(String, Measured), CliError> {
    let address = args.serve.unwrap_or_else(|| ([127, 0, 0, 1], 0).into());
    let (plan, _) = plan(args)?;
    let page = |path: &str| show::measuring::page(&plan, Some(path));
    let say = |url: &str| {
        output::note(&format!(
            "open {url} on the device; this ends when its result is sent (Ctrl+C to stop)"
        ));
    };
    posted::one(address, page, say, Measured::LARGEST, |bytes| {
        Measured::read(bytes).map_err(|error| error.to_string())
    })
}

/// What to measure, and the languages of it.
fn plan(args: &RecordArgs) -> Result<(Plan, Vec<&'static str>), CliError> {
    let names: Vec<String> = args.families.iter().map(|n| n.trim().to_owned()).collect();
    let wrong = |name: &&String| {
        name.is_empty() || name.chars().count() > LONGEST_NAME || name.chars().any(char::is_control)
    };
    if let Some(name) = names.iter().find(wrong) {
        return Err(CliError::Usage(format!(
            "--family {name:?} is no name of a family"
        )));
    }
    if names.len() > MOST_NAMES {
        return Err(CliError::Usage(format!(
            "there are {} of --family; {MOST_NAMES} is the most",
            names.len()
        )));
    }
    let tags = tags(&args.languages)?;
    Ok((Plan::new(&tags, platforms(), &names), tags))
}

/// The tags that can be measured, for those that were asked for.
fn tags(asked: &[String]) -> Result<Vec<&'static str>, CliError> {
    // Names that no language has are told in the usual words.
    languages(asked)?;
    if asked.is_empty() {
        return Ok(Plan::languages().collect());
    }
    let mut tags = Vec::new();
    for tag in asked {
        let tag = tag.trim();
        let Some(known) = Plan::language(tag) else {
            let known: Vec<&str> = Plan::languages().collect();
            return Err(CliError::Usage(format!(
                "--language {tag}: there are no words to measure it with; there are words of {}",
                known.join(", ")
            )));
        };
        if !tags.contains(&known) {
            tags.push(known);
        }
    }
    tags.sort_unstable();
    Ok(tags)
}

/// Reads what a page saved; `None` where the file is something else.
pub fn read(path: &Path, access: Access<'_>) -> Result<Option<Measured>, ProjectError> {
    let named = path.to_string_lossy();
    if !named.ends_with(".json") || !access.exists(path) {
        return Ok(None);
    }
    let bytes = access.read(path, Measured::LARGEST)?;
    if !Measured::looks_like_one(&bytes) {
        return Ok(None);
    }
    let measured = Measured::read(&bytes).map_err(|error| ProjectError::Unreadable {
        path: path.to_owned(),
        reason: error.to_string(),
    })?;
    Ok(Some(measured))
}

/// The cards of all measured faces.
pub fn cards(file: &str, measured: &Measured) -> Result<Vec<Card>, CliError> {
    use rayon::prelude::*;
    let progress = Progress::start("Making cards", measured.faces.len());
    let cards = measured.faces.par_iter().map(|face| {
        let card = card(measured, face);
        progress.step();
        card
    });
    let cards: Result<Vec<Card>, _> = cards.collect();
    cards.map_err(|error| {
        CliError::Input(ProjectError::Unreadable {
            path: file.into(),
            reason: error.to_string(),
        })
    })
}

/// What is told of a result besides its cards.
pub fn device(file: &str, measured: &Measured) -> MeasuredDevice {
    let unmeasured = measured.families.iter().filter(|family| family.faces == 0);
    let mut not_known = vec![
        "underlines".to_owned(),
        "features that are off".to_owned(),
        "variation sequences".to_owned(),
        "emoji sequences".to_owned(),
    ];
    if measured.browser.engine == "Firefox" {
        not_known.push("the line gap of other browsers".to_owned());
    }
    if measured.faces.iter().any(|face| !face.marks_told) {
        not_known.push("which marks a face has".to_owned());
    }
    MeasuredDevice {
        file: file.to_owned(),
        browser: measured.browser.clone(),
        unmeasured: unmeasured.map(|family| family.name.clone()).collect(),
        absent: measured.absent.len(),
        generics: measured.generics.clone(),
        not_known,
    }
}
