//! `trim`: smaller font files with their style sheet.

mod asked;
mod files;
mod settings;

use std::path::{Path, PathBuf};

use tidy_lattice_core::trim::subset::{AxisLimit, CutError};
use tidy_lattice_core::trim::{Slicing, trim};
use tidy_lattice_project::declared::is_sheet;
use tidy_lattice_project::file::Project;
use tidy_lattice_project::fonts::split;
use tidy_lattice_project::trimming::{Target, targets, targets_of_project};
use tidy_lattice_project::{Access, ProjectError};

use self::asked::{Asked, request, slicing};
use self::files::{Done, beside, list_name, named, sheet};
use self::settings::Settings;
use crate::args::{SiteArgs, TrimArgs};
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{NotNeeded, TrimmedFaces};
use crate::{input, screen, show};

pub use self::files::{Files, write};

/// Endings of what is taken as a font, not as a text.
const FONTS: [&str; 7] = ["ttf", "otf", "ttc", "otc", "woff", "woff2", "css"];

/// Runs the command.
pub fn run(args: &TrimArgs, json: bool) -> Result<Outcome, CliError> {
    let mut cut = cut(args)?;
    let files = cut.files();
    let folder = args.output.clone().or_else(|| cut.folder.clone());
    cut.trimmed.folder = folder.as_ref().map(|folder| folder.display().to_string());
    if let Some(folder) = &folder {
        let (name, text) = beside(&cut.trimmed, args.form);
        write(folder, &files, Some((name, &text)), args.force)?;
    }
    screen::tell_whole_names(args.all);
    super::tell(json, "trim", &cut.trimmed, || {
        show::trim::view(&cut.trimmed, args.all)
    })?;
    let lacks = cut.trimmed.faces.iter().any(|face| face.lacks_count > 0);
    Ok(Outcome::of(lacks))
}

/// The web fonts of a project, cut to its texts.
pub fn trim_project(project: &Path) -> Result<TrimmedFaces, CliError> {
    Ok(trim_to_files(project, &SiteArgs::default())?.0)
}

/// The same, with the files and their names.
pub fn trim_to_files(project: &Path, site: &SiteArgs) -> Result<(TrimmedFaces, Files), CliError> {
    let cut = cut_project(project, site)?;
    let files = cut.files();
    Ok((cut.trimmed, files))
}

/// The same, with what each face became.
pub fn cut_project(project: &Path, site: &SiteArgs) -> Result<CutFaces, CliError> {
    cut(&TrimArgs {
        site: site.clone(),
        ..TrimArgs::of_project(project)
    })
}

/// Faces that were cut.
pub struct CutFaces {
    /// What is told of them.
    pub trimmed: TrimmedFaces,
    /// Of each face its file, its rules, whose URLs are the names of the cut files, and these.
    pub faces: Vec<CutFace>,
    /// Where the project has the files go.
    folder: Option<PathBuf>,
}

/// A face that was cut.
pub struct CutFace {
    /// The file.
    pub source: PathBuf,
    /// The family of its rules.
    pub family: String,
    /// Its rules.
    pub css: String,
    /// The cut files.
    pub files: Files,
}

impl CutFaces {
    /// All files.
    fn files(&self) -> Files {
        let files = self.faces.iter().flat_map(|face| &face.files);
        files.cloned().collect()
    }
}

/// Cuts what was named.
fn cut(args: &TrimArgs) -> Result<CutFaces, CliError> {
    let access = input::access(&args.limits);
    let (fonts, texts) = sorted_out(&args.named, access);
    let project = Project::find(args.project.as_deref(), access)?;
    let mut faces = match (&project, fonts.is_empty()) {
        (_, false) => targets(&fonts, None, access)?,
        (Some(project), true) => targets_of_project(project, args.role.as_deref(), access)?,
        (None, true) => {
            return Err(CliError::Usage(
                "name the fonts to trim, or run this where a tidy-lattice.toml names them"
                    .to_owned(),
            ));
        }
    };
    // What a project says is for its own fonts.
    let of_project = project.as_ref().filter(|_| fonts.is_empty());
    let rules = of_project.and_then(|project| project.trim.as_ref());
    let settings = Settings::of(args, rules)?;
    limit_axes(&settings, &mut faces)?;
    may_be_cut(&faces, settings.licence_allows)?;
    let slicing = slicing(args, &settings)?;
    let whole_need = texts.is_empty() && args.ranges.is_empty() && args.sign.is_none();
    let whole_need = whole_need && args.texts.is_empty() && args.languages.is_empty();
    let asked = Asked::gather(args, &settings, &fonts, texts, project.as_ref(), access)?;
    let (done, not_needed) = while_working("Cutting, packing and comparing", || {
        cut_all(args, &settings, &faces, &asked, &slicing)
    })?;
    if done.is_empty() {
        return Err(CliError::Usage(
            "none of these fonts has anything of what is needed; nothing is written".to_owned(),
        ));
    }
    let css = sheet(&done);
    let fonts = done.iter().flat_map(|done| done.listed.clone()).collect();
    let mut shown = Vec::new();
    let mut cut_faces = Vec::new();
    for done in done {
        cut_faces.push(CutFace {
            source: PathBuf::from(&done.shown.source),
            family: done.shown.family.clone(),
            css: done.css,
            files: done.files,
        });
        shown.push(done.shown);
    }
    let folder = of_project.filter(|_| whole_need && args.role.is_none());
    let folder = folder.and_then(|project| Some(project.path(rules?.output.as_ref()?)));
    Ok(CutFaces {
        trimmed: TrimmedFaces {
            bytes_before: shown.iter().map(|face| face.bytes_before).sum::<u64>()
                + not_needed.iter().map(|file| file.bytes).sum::<u64>(),
            bytes: shown.iter().map(|face| face.bytes).sum(),
            faces: shown,
            not_needed,
            css,
            fonts,
            list: list_name(args.form),
            folder: None,
        },
        faces: cut_faces,
        folder,
    })
}

/// Holds the faces that have them to what is to be left of their axes.
fn limit_axes(settings: &Settings, faces: &mut [Target]) -> Result<(), CliError> {
    let limits = &settings.axes;
    if limits.is_empty() {
        return Ok(());
    }
    for face in faces.iter_mut() {
        face.limit(limits);
    }
    let of_none = |limit: &&AxisLimit| !faces.iter().any(|face| face.limits.contains(limit));
    match limits.iter().find(of_none) {
        Some(limit) => Err(CliError::Usage(format!(
            "{} {limit}: none of these fonts has an axis {}; `describe` names those that there \
             are",
            settings.axes_of,
            limit.name()
        ))),
        None => Ok(()),
    }
}

/// Cuts every face; those of which nothing is needed come second.
fn cut_all(
    args: &TrimArgs,
    settings: &Settings,
    faces: &[Target],
    asked: &Asked,
    slicing: &Slicing,
) -> Result<(Vec<Done>, Vec<NotNeeded>), CliError> {
    let mut done = Vec::new();
    let mut not_needed = Vec::new();
    for face in faces {
        let request = request(args, settings, face, asked, slicing)?;
        match trim(&face.file, face.index, &request) {
            Ok(trimmed) => {
                let slices = (slicing, settings.slices.as_str());
                let shared = asked.is_shared(args);
                done.push(named(args, face, slices, trimmed, shared));
            }
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
    }
    Ok((done, not_needed))
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
