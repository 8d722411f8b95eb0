//! What `trim` is to keep: from arguments to requests.

use std::collections::BTreeSet;
use std::path::PathBuf;

use tidy_lattice_core::font::CharacterSet;
use tidy_lattice_core::trim::subset::Source;
use tidy_lattice_core::trim::{Margin, Slicing, TrimNeed, TrimRequest};
use tidy_lattice_project::Access;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::request::SurveyRequest;
use tidy_lattice_project::trim_rules::feature;
use tidy_lattice_project::trimming::{Target, TextsNeed};

use super::settings::Settings;
use crate::args::TrimArgs;
use crate::error::CliError;
use crate::output;

/// Into how many files faces are cut.
pub fn slicing(args: &TrimArgs, settings: &Settings) -> Result<Slicing, CliError> {
    if args.ranges.len() > 1 {
        return Ok(Slicing::Ranges(ranges(args)?));
    }
    Ok(settings.slicing.clone())
}

fn ranges(args: &TrimArgs) -> Result<Vec<CharacterSet>, CliError> {
    (args.ranges.iter())
        .map(|text| {
            CharacterSet::parse(text).ok_or_else(|| {
                CliError::Usage(format!(
                    "--range {text}: write it as unicode-range, rising: U+0-FF, U+131, U+2000-206F"
                ))
            })
        })
        .collect()
}

/// What is needed.
pub enum Asked {
    /// What the project's texts ask of a family.
    Project(Box<TextsNeed>),
    /// These characters, of every face.
    Characters(CharacterSet),
    /// The same, as ranges that are written as for `unicode-range`.
    Ranges(CharacterSet),
    /// What texts ask of a family.
    Texts(Box<TextsNeed>),
    /// Whatever the face has.
    Everything,
}

impl Asked {
    /// Reads what the arguments, or else the project, name.
    pub fn gather(
        args: &TrimArgs,
        settings: &Settings,
        fonts: &[PathBuf],
        texts: Vec<PathBuf>,
        project: Option<&Project>,
        access: Access<'_>,
    ) -> Result<Self, CliError> {
        if let Some(sign) = &args.sign {
            if sign.chars().count() == 0 {
                return Err(CliError::Usage("--sign: name the sign".to_owned()));
            }
            return Ok(Asked::Characters(CharacterSet::of(
                sign.chars().map(u32::from),
            )));
        }
        if !args.ranges.is_empty() {
            let all = ranges(args)?.into_iter();
            let points: BTreeSet<u32> = all
                .flat_map(|range| range.iter().collect::<Vec<_>>())
                .collect();
            return Ok(Asked::Ranges(CharacterSet::of(points)));
        }
        let mut request = SurveyRequest {
            languages: args.languages.clone(),
            ..SurveyRequest::default()
        };
        request.text.files = texts;
        request.text.texts.clone_from(&args.texts);
        request.stack.site = args.site.request();
        let given = !request.text.is_empty() || !request.languages.is_empty();
        if given {
            // The texts alone count, whatever they are set in.
            request.stack.stack = Some("serif".to_owned());
        } else if project.is_none() {
            if settings.margin == Margin::Text || fonts.is_empty() {
                return Err(CliError::Usage(
                    "say what the fonts must show: texts, --text, --language or --range".to_owned(),
                ));
            }
            output::note(
                "nothing says what is needed, so that all characters stay; name texts, \
                 --text, --language or --range",
            );
            return Ok(Asked::Everything);
        } else {
            // Roles without a stack have the one that `build` makes.
            stand_for_missing(&mut request.stack.site, project, access)?;
        }
        let gathered = TextsNeed::gather(&request, project, access)?;
        let gathered = Box::new(gathered);
        Ok(if given {
            Asked::Texts(gathered)
        } else {
            Asked::Project(gathered)
        })
    }

    /// Whether each face has only a part of it to show: a range is no need.
    pub fn is_shared(&self, args: &TrimArgs) -> bool {
        matches!(self, Asked::Project(_)) || !args.ranges.is_empty()
    }

    fn of(&self, args: &TrimArgs, settings: &Settings, face: &Target) -> TrimNeed {
        let need = match self {
            Asked::Characters(set) => TrimNeed::of_characters(set.clone()),
            Asked::Ranges(set) => TrimNeed {
                literal: true,
                ..TrimNeed::of_characters(set.clone())
            },
            Asked::Texts(texts) | Asked::Project(texts) => {
                texts.of_family(&face.family, args.role.as_deref(), settings.margin)
            }
            Asked::Everything => {
                TrimNeed::of_characters(CharacterSet::of_ranges([(0x20, 0x10_FFFF)]))
            }
        };
        match &face.range {
            Some(range) => TrimNeed {
                characters: CharacterSet::of(
                    need.characters
                        .iter()
                        .filter(|point| range.contains(*point)),
                ),
                ..need
            },
            None => need,
        }
    }

    fn features(&self, face: &Target) -> BTreeSet<[u8; 4]> {
        match self {
            Asked::Texts(texts) | Asked::Project(texts) => texts.features(&face.family),
            _ => BTreeSet::new(),
        }
    }
}

/// How `face` is to be cut.
pub fn request(
    args: &TrimArgs,
    settings: &Settings,
    face: &Target,
    asked: &Asked,
    slicing: &Slicing,
) -> Result<TrimRequest, CliError> {
    let features = if settings.features.iter().any(|tag| tag == "all") {
        None
    } else {
        let mut tags = asked.features(face);
        for tag in &settings.features {
            let tag = feature(tag).map_err(|reason| CliError::Usage(format!("--feature {reason}")));
            tags.insert(tag?);
        }
        Some(tags)
    };
    let mut need = asked.of(args, settings, face);
    if matches!(asked, Asked::Everything) {
        // What is not there is not missed.
        let read = Source::read(&face.file, face.index);
        if let Ok(source) = read {
            need.characters = source.characters();
        }
    }
    Ok(TrimRequest {
        need,
        features,
        hints: settings.hints,
        axes: face.limits.clone(),
        family: args.family.clone(),
        packings: settings.packings.clone(),
        slicing: slicing.clone(),
    })
}
