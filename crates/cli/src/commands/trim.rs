//! `trim`: smaller font files with their style sheet.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

use tidy_lattice_core::font::CharacterSet;
use tidy_lattice_core::text::Character;
use tidy_lattice_core::trim::subset::CutError;
use tidy_lattice_core::trim::{Packing, Slicing, TrimNeed, TrimRequest, Trimmed, trim};
use tidy_lattice_project::declared::is_sheet;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::fonts::split;
use tidy_lattice_project::request::SurveyRequest;
use tidy_lattice_project::trimming::{
    Target, TextsNeed, file_name, rule, targets, targets_of_project,
};
use tidy_lattice_project::{Access, ProjectError};

use crate::args::TrimArgs;
use crate::error::{CliError, Outcome};
use crate::progress::Progress;
use crate::results::{NotNeeded, TrimmedFace, TrimmedFaces, WrittenFile};
use crate::show;
use crate::{input, output};

/// The style sheet's name in the folder.
const SHEET: &str = "fonts.css";

/// Endings of what is taken as a font, not as a text.
const FONTS: [&str; 7] = ["ttf", "otf", "ttc", "otc", "woff", "woff2", "css"];

/// A face that was cut, with its files.
struct Done {
    shown: TrimmedFace,
    css: String,
    files: Vec<(String, Vec<u8>)>,
}

/// Runs the command.
pub fn run(args: &TrimArgs, json: bool) -> Result<Outcome, CliError> {
    let access = input::access(&args.limits);
    let (fonts, texts) = sorted_out(&args.named, access);
    let project = Project::find(args.project.as_deref(), access)?;
    let faces = match (&project, fonts.is_empty()) {
        (_, false) => targets(&fonts, None, access)?,
        (Some(project), true) => targets_of_project(project, args.role.as_deref(), access)?,
        (None, true) => {
            return Err(CliError::Usage(
                "name the fonts to trim, or run this where a tidy-lattice.toml names them"
                    .to_owned(),
            ));
        }
    };
    may_be_cut(&faces, args.licence_allows)?;
    let slicing = slicing(args)?;
    let asked = Asked::gather(args, &fonts, texts, project.as_ref(), access)?;
    let progress = Progress::start("Cutting and packing", faces.len());
    let mut done = Vec::new();
    let mut not_needed = Vec::new();
    for face in &faces {
        let request = request(args, face, &asked, &slicing)?;
        match trim(&face.file, face.index, &request, &|| ()) {
            Ok(trimmed) => done.push(named(args, face, &slicing, trimmed, asked.is_shared(args))),
            // Of a face in slices some are not needed; of one that was named all is.
            Err(CutError::NothingNeeded { .. }) if faces.len() > 1 => not_needed.push(NotNeeded {
                source: face.path.display().to_string(),
                bytes: face.file.packed_bytes(),
            }),
            Err(error) => {
                return Err(CliError::Input(ProjectError::Unreadable {
                    path: face.path.clone(),
                    reason: error.to_string(),
                }));
            }
        }
        progress.step();
    }
    drop(progress);
    if done.is_empty() {
        return Err(CliError::Usage(
            "none of these fonts has anything of what is needed; nothing is written".to_owned(),
        ));
    }
    let css = sheet(&done);
    if let Some(folder) = &args.output {
        write(folder, &done, &css, args.force)?;
    }
    let lacks = done.iter().any(|done| done.shown.lacks_count > 0);
    let trimmed = TrimmedFaces {
        bytes_before: done.iter().map(|done| done.shown.bytes_before).sum::<u64>()
            + not_needed.iter().map(|file| file.bytes).sum::<u64>(),
        bytes: done.iter().map(|done| done.shown.bytes).sum(),
        faces: done.into_iter().map(|done| done.shown).collect(),
        not_needed,
        css,
        folder: args
            .output
            .as_ref()
            .map(|folder| folder.display().to_string()),
    };
    output::print(&if json {
        show::json::document("trim", &trimmed)
    } else {
        show::trim::view(&trimmed, args.all)
    })?;
    Ok(Outcome::of(lacks))
}

/// Fonts and style sheets, and texts, of what was named. A folder is one of fonts where
/// no font is named otherwise.
fn sorted_out(named: &[PathBuf], access: Access<'_>) -> (Vec<PathBuf>, Vec<PathBuf>) {
    let is_font = |path: &PathBuf| {
        // FILE#2 is a font of a collection.
        let (plain, _) = split(path, access);
        let ending = plain.extension();
        let ending = ending.map(|ending| ending.to_string_lossy().to_ascii_lowercase());
        is_sheet(path) || ending.is_some_and(|ending| FONTS.contains(&ending.as_str()))
    };
    let any = named.iter().any(is_font);
    (named.iter().cloned()).partition(|path| is_font(path) || !any && access.is_folder(path))
}

/// Refuses what the files themselves forbid.
fn may_be_cut(faces: &[Target], licence_allows: bool) -> Result<(), CliError> {
    for face in faces {
        let forbidden = match (face.rights.may_embed, face.rights.may_subset) {
            (Some(false), _) => "may not be embedded without its owner's permission",
            (_, Some(false)) => "may not be cut to a part before it is embedded",
            _ => continue,
        };
        if !licence_allows {
            return Err(CliError::Usage(format!(
                "{}: the file says that it {forbidden} (OS/2 fsType {:#06x}); where your licence \
                 allows it, say so with --licence-allows",
                face.path.display(),
                face.rights.fs_type.unwrap_or_default()
            )));
        }
    }
    Ok(())
}

fn slicing(args: &TrimArgs) -> Result<Slicing, CliError> {
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
enum Asked {
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
    fn gather(
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
            if args.margin == crate::args::MarginArg::Text || fonts.is_empty() {
                return Err(CliError::Usage(
                    "say what the fonts must show: texts, --text, --language or --range".to_owned(),
                ));
            }
            output::note(
                "nothing says what is needed, so that all characters stay; name texts, \
                 --text, --language or --range",
            );
            return Ok(Asked::Everything);
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
    fn is_shared(&self, args: &TrimArgs) -> bool {
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

fn request(
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
        let own = tidy_lattice_core::trim::subset::Source::read(&face.file, face.index);
        if let Ok(source) = own {
            need.characters = source.characters();
        }
    }
    Ok(TrimRequest {
        need,
        features,
        hints: args.hints == crate::args::HintsArg::Keep,
        family: args.family.clone(),
        packings: packings(args),
        slicing: slicing.clone(),
    })
}

fn packings(args: &TrimArgs) -> Vec<Packing> {
    let mut packings: Vec<Packing> = args.formats.iter().map(|form| (*form).into()).collect();
    // The best comes first in `src`.
    packings.sort_unstable();
    packings.dedup();
    packings
}

/// Names the files, and puts the rules together.
fn named(
    args: &TrimArgs,
    face: &Target,
    slicing: &Slicing,
    trimmed: Trimmed,
    whole_stack: bool,
) -> Done {
    let family = args.family.clone().unwrap_or_else(|| face.family.clone());
    let several = trimmed.pieces.len() > 1;
    let mut css = String::new();
    let mut files = Vec::new();
    let mut written = Vec::new();
    // Of rules that hold a character the later one wins, so that the first slices, which
    // have what is used most, stand last.
    for (number, piece) in trimmed.pieces.iter().enumerate().rev() {
        let mut sources = Vec::new();
        for (packing, bytes) in &piece.files {
            let ending = packing.ending(trimmed.compact);
            let name = file_name(face, several.then_some(number), bytes, ending);
            sources.push((name.clone(), packing.css_format(trimmed.compact)));
            files.push((name, bytes.clone()));
        }
        css.push_str(&rule(face, &family, piece, &sources, args.display.css()));
        written.push(
            (sources.iter().zip(&piece.files))
                .map(|((name, _), (_, bytes))| WrittenFile {
                    name: name.clone(),
                    bytes: bytes.len() as u64,
                })
                .collect(),
        );
    }
    written.reverse();
    let mut notes = Vec::new();
    if let Slicing::Largest(limit) = slicing {
        let above = trimmed
            .pieces
            .iter()
            .filter(|piece| piece.bytes() > *limit)
            .count();
        if above > 0 {
            notes.push(format!(
                "{above} of its files {} larger than {}: letters that are shaped together are \
                 not parted",
                if above == 1 { "is" } else { "are" },
                args.slices
            ));
        }
    }
    if let (Some(name), None) = (&face.reserved, &args.family) {
        notes.push(format!(
            "its licence reserves the name “{name}”: a changed font may need another; \
             --family renames it"
        ));
    }
    // Of a project's texts each font shows its part; `cover` tells what none does.
    let missing = if whole_stack {
        CharacterSet::default()
    } else {
        trimmed.missing.clone()
    };
    let lacks: Vec<char> = missing.iter().filter_map(char::from_u32).collect();
    Done {
        shown: TrimmedFace {
            source: face.path.display().to_string(),
            style: style(face),
            bytes_before: face.file.packed_bytes(),
            bytes: trimmed.bytes(),
            files: written,
            lacks_count: lacks.len() as u64,
            lacks: lacks
                .iter()
                .take(100)
                .map(|c| Character::describe(*c))
                .collect(),
            notes,
            cut: trimmed,
            family,
        },
        css,
        files,
    }
}

fn style(face: &Target) -> String {
    let (least, most) = face.weight;
    let weight = if least == most {
        format!("{least}")
    } else {
        format!("{least} to {most}")
    };
    match face.slope {
        tidy_lattice_core::font::Slope::Normal => weight,
        slope => format!("{weight} {}", slope.css()),
    }
}

fn sheet(done: &[Done]) -> String {
    let rules: Vec<&str> = done.iter().map(|done| done.css.as_str()).collect();
    format!(
        "/* Made by tidy-lattice {} */\n{}",
        env!("CARGO_PKG_VERSION"),
        rules.join("")
    )
}

/// Writes the fonts, then the sheet that names them.
fn write(folder: &Path, done: &[Done], css: &str, force: bool) -> Result<(), CliError> {
    let sheet = folder.join(SHEET);
    output::make_folder(folder)?;
    let fonts: Vec<(PathBuf, &Vec<u8>)> = (done.iter())
        .flat_map(|done| &done.files)
        .map(|(name, bytes)| (folder.join(name), bytes))
        .collect();
    output::may_write(&sheet, css.as_bytes(), force)?;
    for (path, bytes) in &fonts {
        output::may_write(path, bytes, force)?;
    }
    for (path, bytes) in &fonts {
        output::write_file(path, bytes, force)?;
    }
    output::write_file(&sheet, css.as_bytes(), force)
}
