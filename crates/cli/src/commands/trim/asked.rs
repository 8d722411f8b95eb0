//! What `trim` is to keep: from arguments to requests.

use std::collections::BTreeSet;
use std::path::PathBuf;

use tidy_lattice_core::font::CharacterSet;
use tidy_lattice_core::trim::subset::{AxisLimit, Source};
use tidy_lattice_core::trim::{Packing, Slicing, TrimNeed, TrimRequest};
use tidy_lattice_project::Access;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::request::SurveyRequest;
use tidy_lattice_project::trimming::{Target, TextsNeed};

use crate::args::{HintsArg, MarginArg, TrimArgs};
use crate::error::CliError;
use crate::output;

/// Into how many files faces are cut.
pub fn slicing(args: &TrimArgs) -> Result<Slicing, CliError> {
    if args.ranges.len() > 1 {
        return Ok(Slicing::Ranges(ranges(args)?));
    }
    let wrong = || {
        CliError::Usage(format!(
            "--slices {}: write whole, text, a number of files from 1 to 1000, or the largest \
             size of a file (60k, 1m)",
            args.slices
        ))
    };
    let text = args.slices.trim().to_ascii_lowercase();
    let size = |digits: &str, unit: u64| {
        let number: u64 = digits.parse().map_err(|_| wrong())?;
        // Nothing useful is smaller than a kilobyte.
        let bytes = number.checked_mul(unit).filter(|bytes| *bytes >= 1000);
        bytes.map(Slicing::Largest).ok_or_else(wrong)
    };
    match text.as_str() {
        "whole" => Ok(Slicing::Whole),
        "text" => Ok(Slicing::Text),
        _ if text.ends_with('k') => size(&text[..text.len() - 1], 1000),
        _ if text.ends_with('m') => size(&text[..text.len() - 1], 1_000_000),
        _ => match text.parse::<usize>() {
            Ok(count) if (1..=1000).contains(&count) => Ok(Slicing::Count(count)),
            _ => Err(wrong()),
        },
    }
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
    /// What texts ask of a family.
    Texts(Box<TextsNeed>),
    /// Whatever the face has.
    Everything,
}

impl Asked {
    /// Reads what the arguments, or else the project, name.
    pub fn gather(
        args: &TrimArgs,
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
            return Ok(Asked::Characters(CharacterSet::of(points)));
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
            if args.margin == MarginArg::Text || fonts.is_empty() {
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

    fn of(&self, args: &TrimArgs, face: &Target) -> TrimNeed {
        let need = match self {
            Asked::Characters(set) => TrimNeed::of_characters(set.clone()),
            Asked::Texts(texts) | Asked::Project(texts) => {
                texts.of_family(&face.family, args.role.as_deref(), args.margin.into())
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
    face: &Target,
    asked: &Asked,
    slicing: &Slicing,
) -> Result<TrimRequest, CliError> {
    let features = if args.features.iter().any(|tag| tag == "all") {
        None
    } else {
        let mut tags = asked.features(face);
        for tag in &args.features {
            let bytes = <[u8; 4]>::try_from(tag.as_bytes());
            tags.insert(bytes.map_err(|_| {
                CliError::Usage(format!(
                    "--feature {tag}: a feature has a tag of four characters, as smcp or ss01"
                ))
            })?);
        }
        Some(tags)
    };
    let mut need = asked.of(args, face);
    if matches!(asked, Asked::Everything) {
        // What is not there is not missed.
        let own = Source::read(&face.file, face.index);
        if let Ok(source) = own {
            need.characters = source.characters();
        }
    }
    Ok(TrimRequest {
        need,
        features,
        hints: args.hints == HintsArg::Keep,
        axes: face.limits.clone(),
        family: args.family.clone(),
        packings: packings(args),
        slicing: slicing.clone(),
    })
}

/// What is left of axes, as `wght=400..700` or `wght=400`.
pub fn limits(args: &TrimArgs) -> Result<Vec<AxisLimit>, CliError> {
    let mut limits: Vec<AxisLimit> = Vec::new();
    for text in &args.axes {
        let wrong = || {
            CliError::Usage(format!(
                "--axis {text}: write an axis and what is left of it, as wght=400..700, or the \
                 one value that is left, as wdth=100"
            ))
        };
        let (tag, values) = text.split_once('=').ok_or_else(wrong)?;
        let (from, to) = values.split_once("..").unwrap_or((values, values));
        let number = |text: &str| {
            let value: f64 = text.trim().parse().map_err(|_| wrong())?;
            // As fonts have it, in 16.16 fixed-point numbers.
            let known = value.is_finite() && value.abs() < 32768.0;
            known
                .then(|| (value * 65536.0).round() / 65536.0)
                .ok_or_else(wrong)
        };
        let limit = AxisLimit {
            tag: <[u8; 4]>::try_from(tag.trim().as_bytes()).map_err(|_| wrong())?,
            from: number(from)?,
            to: number(to)?,
        };
        if limit.from > limit.to {
            return Err(wrong());
        }
        if limits.iter().any(|known| known.tag == limit.tag) {
            return Err(CliError::Usage(format!(
                "--axis {text}: {} is named twice; name each axis once",
                limit.name()
            )));
        }
        limits.push(limit);
    }
    Ok(limits)
}

fn packings(args: &TrimArgs) -> Vec<Packing> {
    let mut packings: Vec<Packing> = args.formats.iter().map(|form| (*form).into()).collect();
    // The best comes first in `src`.
    packings.sort_unstable();
    packings.dedup();
    packings
}
