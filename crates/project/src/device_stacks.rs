//! Stacks of installed families: for roles that have no web font, and for what the command
//! line asks for.

use std::path::{Path, PathBuf};
use std::sync::Arc;

use tidy_lattice_core::content::language_of_path;
use tidy_lattice_core::font::{Class, ClassJudgement, Face, Slope};
use tidy_lattice_core::need::{ClusterNeed, Need};
use tidy_lattice_core::platform::{Device, Family};
use tidy_lattice_core::rank::{Candidate, Ranking, Weights};
use tidy_lattice_core::stack::Note;
use tidy_lattice_core::stack::of_devices::{
    DeviceStack, DeviceStackRequest, InstalledFamily, LanguageNeed, ResizeRequest, ResizedFamily,
    TextUse, device_stack, resize,
};
use tidy_lattice_core::standin::{Fitting, TextSample};
use tidy_lattice_core::text::{Group, Source};

use super::faces::face;
use super::file::{Project, Role};
use super::files::matching;
use super::ingredients::{need_of, need_of_letters, usual_widths};
use super::languages::languages;
use super::platforms;
use super::request::BuildParts;
use super::sampling::sampled;
use super::texts::{some_text, text_file};
use super::{Access, ProjectError};

/// The language of a text of which nothing is said.
const USUAL: &str = "en";

/// What one stack is made from.
struct Wanted<'a> {
    role: String,
    text_use: TextUse,
    class: Option<Class>,
    like: Option<PathBuf>,
    /// Whether families are brought to the size and line of `like`.
    resize: bool,
    /// Sizes in use, in px; none where nothing is said of them.
    sizes: Vec<f32>,
    /// Widths of columns in use, in px; none where nothing is said of them.
    widths: Vec<f64>,
    languages: Vec<String>,
    texts: Vec<Source>,
    generic: Option<&'a String>,
}

/// The stacks that the command line asks for, else those of the project's roles.
///
/// # Errors
///
/// [`ProjectError`] where a role wants what does not go together, a language is not known, or
/// a font or text cannot be read.
pub fn device_stacks(
    parts: &BuildParts,
    project: Option<&Project>,
    devices: &[Device<'_>],
    access: Access<'_>,
) -> Result<Vec<DeviceStack>, ProjectError> {
    let wanted = match (parts.text_use, project) {
        (Some(text_use), _) => vec![of_command_line(parts, text_use, access)?],
        (None, Some(project)) if parts.web.is_empty() && parts.pages.is_empty() => {
            let roles = project.role.iter().filter(|(name, _)| {
                let asked = parts.role.as_ref();
                asked.is_none_or(|asked| asked == *name)
            });
            let roles = roles.filter_map(|(name, role)| Some((name, role, role.text_use?)));
            roles
                .map(|(name, role, text_use)| of_role(project, name, role, text_use, parts, access))
                .collect::<Result<_, _>>()?
        }
        _ => Vec::new(),
    };
    wanted
        .iter()
        .map(|wanted| made(wanted, devices, access))
        .collect()
}

fn of_command_line<'a>(
    parts: &'a BuildParts,
    text_use: TextUse,
    access: Access<'_>,
) -> Result<Wanted<'a>, ProjectError> {
    let given = !(parts.text.files.is_empty() && parts.text.texts.is_empty());
    let texts = if given {
        some_text(&parts.text, access)?
    } else {
        Vec::new()
    };
    Ok(Wanted {
        role: parts
            .role
            .clone()
            .unwrap_or_else(|| text_use.label().to_owned()),
        text_use,
        class: parts.class,
        like: parts.like.clone(),
        resize: parts.resize,
        sizes: parts.sizes.clone(),
        widths: parts.widths.clone(),
        languages: parts.languages.clone(),
        texts,
        generic: parts.generic.as_ref(),
    })
}

fn of_role<'a>(
    project: &Project,
    name: &str,
    role: &'a Role,
    text_use: TextUse,
    parts: &'a BuildParts,
    access: Access<'_>,
) -> Result<Wanted<'a>, ProjectError> {
    let (mut texts, mut languages) = (Vec::new(), role.languages.clone());
    for content in &project.content {
        let for_role = content.role.as_deref() == Some(name);
        if for_role {
            for path in matching(project, content, access)? {
                texts.push(text_file(&path, access)?);
            }
        }
        if for_role || content.role.is_none() && role.languages.is_empty() {
            for tag in &content.languages {
                if !languages.contains(tag) {
                    languages.push(tag.clone());
                }
            }
        }
    }
    Ok(Wanted {
        role: name.to_owned(),
        text_use,
        class: role.class,
        like: role.like.as_ref().map(|like| project.path(like)),
        resize: role.resize,
        sizes: (role.size.into_iter().chain(role.sizes.iter().copied())).collect(),
        widths: role.widths.clone(),
        languages,
        texts,
        generic: parts.generic.as_ref().or(role.generic.as_ref()),
    })
}

fn made(
    wanted: &Wanted<'_>,
    devices: &[Device<'_>],
    access: Access<'_>,
) -> Result<DeviceStack, ProjectError> {
    let mut tags = wanted.languages.clone();
    if tags.is_empty() && wanted.texts.is_empty() {
        tags.push(USUAL.to_owned());
    }
    languages(&tags)?;
    let mut needs: Vec<LanguageNeed> = tags
        .iter()
        .map(|tag| LanguageNeed {
            language: Some(tag.clone()),
            need: scripts_of(Need::merged([&need_of(tag), &need_of_letters(tag)])),
            of_text: false,
        })
        .collect();
    add_texts(&mut needs, &wanted.texts);
    let like = wanted.like.as_deref().map(|path| faces_like(path, access));
    let like = like.transpose()?;
    let main = like.as_ref().map(|like| &like[0]);
    let class = wanted
        .class
        .or_else(|| main.map(ClassJudgement::of))
        .filter(|class| class.generic().is_some())
        .unwrap_or(wanted.text_use.class());
    let text = Text::of(wanted)?;
    let alike = match main {
        Some(like) => alike(like, class, &text, devices),
        None => Vec::new(),
    };
    let resized = match &like {
        Some(like) if wanted.resize => resized(like, &text, &alike, devices),
        _ => Default::default(),
    };
    Ok(device_stack(&DeviceStackRequest {
        role: wanted.role.clone(),
        text_use: wanted.text_use,
        class,
        devices,
        alike,
        like: like.map(|like| like[0].names().label()),
        resized,
        needs: &needs,
        generic: wanted.generic.cloned(),
    }))
}

/// Adds texts to the needs of their languages, as their paths name them; where one language
/// is named for all, that is the one of texts whose paths name none.
fn add_texts(needs: &mut Vec<LanguageNeed>, texts: &[Source]) {
    let only = match needs.as_slice() {
        [only] => only.language.clone(),
        _ => None,
    };
    let mut by_language: Vec<(Option<String>, Vec<Source>)> = Vec::new();
    for text in texts {
        let language = language_of_path(&text.name).or_else(|| only.clone());
        match by_language.iter_mut().find(|(known, _)| *known == language) {
            Some((_, texts)) => texts.push(text.clone()),
            None => by_language.push((language, vec![text.clone()])),
        }
    }
    for (language, texts) in by_language {
        let need = Need::gather(&texts);
        let same =
            |known: &&mut LanguageNeed| known.language.is_some() && known.language == language;
        match needs.iter_mut().find(same) {
            Some(known) => {
                known.need = Need::merged([&need, &known.need]);
                known.of_text = true;
            }
            None => needs.push(LanguageNeed {
                language,
                need,
                of_text: true,
            }),
        }
    }
}

/// The letters and digits of a need: languages list signs that hardly any text has.
fn scripts_of(mut need: Need) -> Need {
    let is_letter =
        |cluster: &ClusterNeed| matches!(cluster.group, Group::Script(_) | Group::Digits);
    need.clusters.retain(is_letter);
    need.total = need.clusters.iter().map(|cluster| cluster.count).sum();
    need
}

/// The text that widths are fitted on, and how it is set.
struct Text {
    sample: TextSample,
    sizes: Vec<f32>,
    widths: Vec<f64>,
}

impl Text {
    fn of(wanted: &Wanted<'_>) -> Result<Self, ProjectError> {
        let texts: Vec<&Source> = wanted.texts.iter().collect();
        let main = wanted.languages.first().map(String::as_str);
        let (sample, _) = sampled(&texts, main, USUAL)?;
        Ok(Text {
            sample,
            sizes: match wanted.sizes.as_slice() {
                [] => vec![16.0],
                sizes => sizes.to_vec(),
            },
            widths: match wanted.widths.as_slice() {
                [] => usual_widths(),
                widths => widths.to_vec(),
            },
        })
    }
}

/// The face that `named` means, and behind it the others of its family where a platform has
/// them.
fn faces_like(named: &Path, access: Access<'_>) -> Result<Vec<Face>, ProjectError> {
    let mut faces = vec![face(named, access)?];
    let of_platform = named.to_str().filter(|_| !access.exists(named));
    if let Some((platform, name)) = of_platform.and_then(platforms::split) {
        for other in platforms::faces_of_family(platform, name, access)? {
            if faces[0].names() != other.names() {
                faces.push(other);
            }
        }
    }
    Ok(faces)
}

/// Of each device the measured family of `class` that is closest to `like`.
fn alike(like: &Face, class: Class, text: &Text, devices: &[Device<'_>]) -> Vec<Option<String>> {
    let fitting = Fitting::new(like, &text.sample, &[16.0], &usual_widths());
    let ranking = Ranking::new(like, &fitting, None, Weights::default());
    let of_device = |device: &Device<'_>| {
        let families = device.platform().measured();
        let families = families.filter(|family| family.class == class);
        let faces: Vec<(&Family, Arc<Face>)> = families
            .filter_map(|family| Some((family, nearest(family, like, device)?)))
            .collect();
        let measured = faces.iter().map(|(_, face)| {
            ranking.measure(&Candidate {
                face,
                platforms: Vec::new(),
            })
        });
        let ranked = ranking.order(measured.collect());
        let first = ranked.iter().find(|ranked| !ranked.rejected)?;
        let found = faces.iter().find(|(_, face)| *face.names() == first.names);
        found.map(|(family, _)| family.name.clone())
    };
    devices.iter().map(of_device).collect()
}

/// The families that are closest on each device, at the size and line of `like`.
fn resized(
    like: &[Face],
    text: &Text,
    alike: &[Option<String>],
    devices: &[Device<'_>],
) -> (Vec<ResizedFamily>, Vec<Note>) {
    let mut families: Vec<(&Family, Vec<Arc<Face>>)> = Vec::new();
    for (device, name) in devices.iter().zip(alike) {
        let family = name.as_deref().and_then(|name| device.family(name));
        let Some(family) = family.filter(|family| {
            let mut known = families.iter();
            !known.any(|(known, _)| known.name == family.name)
        }) else {
            continue;
        };
        let faces = family.faces.iter();
        let faces = faces.filter_map(|face| device.face(family, face));
        families.push((family, faces.collect()));
    }
    let installed: Vec<InstalledFamily<'_>> = families
        .iter()
        .map(|(family, faces)| InstalledFamily {
            name: family.name.clone(),
            faces: faces.iter().map(|face| &**face).collect(),
        })
        .collect();
    let names = like[0].names();
    resize(
        &ResizeRequest {
            family: names.family.clone(),
            like: like.iter().collect(),
            sample: &text.sample,
            sizes: text.sizes.clone(),
            widths: text.widths.clone(),
        },
        &installed,
    )
}

/// The measured face of a family that is nearest in weight and slope.
fn nearest(family: &Family, like: &Face, device: &Device<'_>) -> Option<Arc<Face>> {
    let faces = family.faces.iter();
    let measured = faces.filter_map(|face| Some((face, device.face(family, face)?)));
    let upright = |slope: Slope| slope == Slope::Normal;
    let nearest = measured.min_by(|(a, _), (b, _)| {
        let off = |face: &tidy_lattice_core::platform::PlatformFace| {
            (
                upright(face.style) != upright(like.slope()),
                (face.weight - like.weight()).abs(),
            )
        };
        let (a, b) = (off(a), off(b));
        a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
    });
    nearest.map(|(_, face)| face)
}
