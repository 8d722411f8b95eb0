//! `rank`: candidates for a fallback, closest first.

use std::collections::BTreeSet;

use tidy_lattice_core::font::{Class, ClassJudgement, Face};
use tidy_lattice_core::platform::{Device, Known};
use tidy_lattice_core::rank::{Candidate, Part, Ranked, Ranking, Weights};
use tidy_lattice_core::standin::{Fitting, largest_even_factor};
use tidy_lattice_project::Access;
use tidy_lattice_project::faces;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::folders::font_files_and_cards;
use tidy_lattice_project::ingredients::{families_of, usual_widths};
use tidy_lattice_project::languages::languages;
use tidy_lattice_project::stack::{NamedPlatform, named_platforms};
use tidy_lattice_project::texts::text_to_measure;

use crate::args::RankArgs;
use crate::error::{CliError, Outcome};
use crate::progress::Progress;
use crate::results::RankedFaces;
use crate::show;
use crate::show::picture::{self, Form};
use crate::writing;
use crate::{input, output, screen};

/// A candidate as opened.
struct Opened {
    face: std::sync::Arc<Face>,
    platforms: Vec<String>,
}

/// Runs the command.
pub fn run(args: &RankArgs, json: bool) -> Result<Outcome, CliError> {
    let form = args.drawing.picture.as_deref().map(Form::of).transpose()?;
    super::build::check_columns(&args.sizes, &args.widths)?;
    let weights = weights(&args.weigh)?;
    let access = input::access(&args.limits);
    let languages = languages(&args.languages)?;
    let web = faces::web(&args.web, access)?;
    let language = args.languages.first().map_or("en", String::as_str);
    let (sample, text) = text_to_measure(
        &input::measured_text(&args.texts, &args.text_files)?,
        language,
        true,
        access,
    )?;
    let (opened, name_only) = candidates(args, &web, access)?;
    let widths = if args.widths.is_empty() {
        usual_widths()
    } else {
        args.widths.clone()
    };
    let fitting = Fitting::new(&web, &sample, &args.sizes, &widths);
    let line = web.line();
    let line = line.ascent + line.descent + line.line_gap;
    let ranking = Ranking::new(&web, &fitting, languages.as_deref(), weights.clone())
        .with_room(largest_even_factor(line, &args.sizes));
    let progress = Progress::start("Measuring candidates", opened.len());
    let measured = opened
        .iter()
        .map(|opened| {
            let ranked = ranking.measure(&Candidate {
                face: &opened.face,
                platforms: opened.platforms.clone(),
            });
            progress.step();
            ranked
        })
        .collect();
    drop(progress);
    let ranked = RankedFaces {
        web: web.names().clone(),
        class: ranking.class(),
        shape: ranking.shape(),
        text,
        sizes: args.sizes.clone(),
        widths,
        weights,
        candidates: ranking.order(measured),
        name_only,
    };
    if let (Some(path), Some(form)) = (&args.drawing.picture, form) {
        let face_of = |ranked: &Ranked| {
            let mut opened = opened.iter();
            opened
                .find(|opened| *opened.face.names() == ranked.names)
                .map(|o| &*o.face)
        };
        let svg = picture::ranking(&ranked, &web, &face_of);
        writing::write_file(path, &form.encode(&svg)?, args.drawing.force)?;
        output::note(&format!("the picture is in {}", path.display()));
    }
    screen::tell_whole_names(args.all);
    super::tell(json, "rank", &ranked, || {
        show::rank::view(&ranked, args.all)
    })?;
    Ok(Outcome::Clean)
}

fn weights(weigh: &[String]) -> Result<Weights, CliError> {
    let mut weights = Weights::default();
    for text in weigh {
        let parsed = text.split_once('=').and_then(|(name, weight)| {
            let part = Part::ALL
                .into_iter()
                .find(|part| part.name() == name.trim())?;
            let weight: f64 = weight.trim().parse().ok()?;
            (weight.is_finite() && weight >= 0.0).then_some((part, weight))
        });
        let Some((part, weight)) = parsed else {
            let names: Vec<&str> = Part::ALL.iter().map(|part| part.name()).collect();
            return Err(CliError::Usage(format!(
                "--weigh {text}: write PART=WEIGHT with a weight of 0 or more; parts are {}",
                names.join(", ")
            )));
        };
        weights.set(part, weight);
    }
    Ok(weights)
}

/// The candidates named, and of each measured family of the platforms the face that is
/// nearest to the web font; and the families of its class that nobody has measured.
fn candidates(
    args: &RankArgs,
    web: &Face,
    access: Access<'_>,
) -> Result<(Vec<Opened>, Vec<String>), CliError> {
    let mut opened = Vec::new();
    let mut name_only = Vec::new();
    for named in &args.candidates {
        let is_file = named.exists();
        let paths = if is_file && named.is_dir() {
            let files = font_files_and_cards(std::slice::from_ref(named), access)?;
            files.into_iter().map(|file| file.path).collect()
        } else {
            vec![named.clone()]
        };
        for path in paths {
            opened.push(Opened {
                face: std::sync::Arc::new(faces::face(&path, access)?),
                platforms: Vec::new(),
            });
        }
    }
    let mut platforms = args.platforms.clone();
    if platforms.is_empty() && opened.is_empty() {
        platforms = tidy_lattice_core::platform::platforms()
            .iter()
            .map(|platform| platform.name.clone())
            .collect();
    }
    if !platforms.is_empty() {
        // A project's own cards count, its choice of platforms does not.
        let project = Project::find(None, access)?;
        let named = named_platforms(&platforms, project.as_ref(), access)?;
        name_only = unmeasured(&named, ClassJudgement::of(web));
        let devices: Vec<Device<'_>> = named.iter().map(|named| named.device(access)).collect();
        for part in families_of(&devices) {
            let off = |face: &Face| {
                (
                    face.slope() != web.slope(),
                    (face.weight() - web.weight()).abs(),
                )
            };
            let nearest = part.faces.iter().min_by(|a, b| {
                let (a, b) = (off(a), off(b));
                a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
            });
            opened.extend(nearest.map(|face| Opened {
                face: face.clone(),
                platforms: part.platforms.clone(),
            }));
        }
    }
    Ok((opened, name_only))
}

/// Families of a class that some platform knows by name only, and none has measured.
fn unmeasured(platforms: &[NamedPlatform], class: Class) -> Vec<String> {
    let families = || platforms.iter().flat_map(|named| &named.platform.families);
    let measured: BTreeSet<&str> = families()
        .filter(|family| family.known != Known::ByName)
        .map(|family| family.name.as_str())
        .collect();
    let of_class = families().filter(|family| family.class == class);
    let names: BTreeSet<&str> = of_class
        .map(|family| family.name.as_str())
        .filter(|name| !measured.contains(name))
        .collect();
    names.into_iter().map(str::to_owned).collect()
}
