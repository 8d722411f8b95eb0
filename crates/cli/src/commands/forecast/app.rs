//! What an app that brings its fonts grows by: each face cut to each language of its texts.

use std::collections::BTreeSet;

use tidy_lattice_core::trim::subset::CutError;
use tidy_lattice_core::trim::{Packing, Slicing, TrimNeed, TrimRequest, trim};
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::request::SurveyRequest;
use tidy_lattice_project::trimming::{Target, TextsNeed, targets_of_project};
use tidy_lattice_project::{Access, ProjectError};

use crate::args::ForecastArgs;
use crate::error::CliError;
use crate::progress::Progress;
use crate::results::{AppFaceBytes, AppForecast, AppLanguage, LanguageBytes};

/// The most languages that are told apart.
const MOST_LANGUAGES: usize = 64;

/// The fonts of `project` in an app.
pub fn app(
    args: &ForecastArgs,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<AppForecast, CliError> {
    let Some(project) = project else {
        return Err(CliError::Usage(
            "--app: the fonts and texts are those of a project; write a tidy-lattice.toml (`init` \
             begins one), or name it with --project"
                .to_owned(),
        ));
    };
    let faces = targets_of_project(project, None, access)?;
    let mut request = SurveyRequest::default();
    request.stack.site = args.site.request();
    stand_for_missing(&mut request.stack.site, Some(project), access)?;
    let texts = TextsNeed::gather(&request, Some(project), access)?;
    let rules = project.trim.clone().unwrap_or_default();
    let margin = rules.margin.unwrap_or_default();
    let languages = texts.languages();
    if languages.len() > MOST_LANGUAGES {
        return Err(CliError::Usage(format!(
            "--app: the texts are in {} languages; {MOST_LANGUAGES} are told apart",
            languages.len()
        )));
    }
    let progress = Progress::start("Cutting to each language", faces.len() * languages.len());
    let mut cut = Vec::new();
    for face in &faces {
        let one = |wanted: &BTreeSet<Option<String>>| -> Result<u64, CliError> {
            bytes(face, texts.in_languages(&face.family, wanted, margin))
        };
        let all: BTreeSet<Option<String>> = languages.iter().cloned().collect();
        let whole = one(&all)?;
        let mut by_language = Vec::new();
        for language in &languages {
            let alone = one(&BTreeSet::from([language.clone()]))?;
            let mut others = all.clone();
            others.remove(language);
            let without = if others.is_empty() { 0 } else { one(&others)? };
            by_language.push(LanguageBytes {
                language: language.clone(),
                alone,
                adds: whole.saturating_sub(without),
            });
            progress.step();
        }
        cut.push(AppFaceBytes {
            file: face.path.display().to_string(),
            family: face.family.clone(),
            bytes: face.file.unpacked_bytes(),
            cut: whole,
            languages: by_language,
        });
    }
    let sums = languages.iter().map(|language| {
        let of_language = cut.iter().flat_map(|face| &face.languages);
        let of_language = of_language.filter(|one| one.language == *language);
        let (alone, adds) = of_language.fold((0, 0), |(alone, adds), one| {
            (alone + one.alone, adds + one.adds)
        });
        AppLanguage {
            language: language.clone(),
            alone,
            adds,
        }
    });
    Ok(AppForecast {
        languages: sums.collect(),
        bytes: cut.iter().map(|face| face.bytes).sum(),
        cut: cut.iter().map(|face| face.cut).sum(),
        faces: cut,
    })
}

/// The size of a face cut to `need`, not packed; 0 where it has nothing of it.
fn bytes(face: &Target, need: TrimNeed) -> Result<u64, CliError> {
    if need.characters.is_empty() {
        return Ok(0);
    }
    let request = TrimRequest {
        need,
        features: Some(BTreeSet::new()),
        hints: true,
        axes: Vec::new(),
        family: None,
        packings: vec![Packing::Sfnt],
        slicing: Slicing::Whole,
    };
    match trim(&face.file, face.index, &request) {
        Ok(trimmed) => Ok(trimmed.bytes()),
        Err(CutError::NothingNeeded { .. }) => Ok(0),
        Err(error) => Err(CliError::Input(ProjectError::Unreadable {
            path: face.path.clone(),
            reason: error.to_string(),
        })),
    }
}
