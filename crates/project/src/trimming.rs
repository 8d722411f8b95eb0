//! What `trim` cuts, and down to what: faces as people name them, the need of a project's
//! texts, file names that tell versions apart, and the style sheet.

use std::collections::BTreeSet;
use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use sha2::{Digest as _, Sha256};
use tidy_lattice_core::describe::{Depth, Question, Rights, describe};
use tidy_lattice_core::font::{CharacterSet, Face, FacePick, FontFile, Slope};
use tidy_lattice_core::lattice::survey::Survey;
use tidy_lattice_core::need::Need;
use tidy_lattice_core::style::quoted;
use tidy_lattice_core::trim::subset::AxisLimit;
use tidy_lattice_core::trim::subset::proof::Sample;
use tidy_lattice_core::trim::{Margin, Piece, TrimNeed, sample, with_margin};

use super::declared::{families_of_sheet, is_sheet};
use super::file::Project;
use super::folders::font_files;
use super::fonts::{font_bytes, split};
use super::patterns::expanded;
use super::request::SurveyRequest;
use super::survey::{Gathered, gather};
use super::web::Site;
use super::{Access, ProjectError};

/// Texts that are shaped for the proof, at most.
const MOST_SAMPLES: usize = 400;

/// A file that is to be cut, and how the style sheet calls its face.
pub struct Target {
    /// The file as it was named.
    pub path: PathBuf,
    /// Which font of a collection.
    pub index: u32,
    /// The file, unpacked.
    pub file: FontFile,
    /// The family as the sheet has it.
    pub family: String,
    /// `font-weight`: the least and the most.
    pub weight: (f32, f32),
    /// `font-stretch` in %, where it is not 100.
    pub widths: Option<(f32, f32)>,
    /// `font-style`.
    pub slope: Slope,
    /// The characters that its rule holds it to.
    pub range: Option<CharacterSet>,
    /// What is left of its axes; those not named stay whole.
    pub limits: Vec<AxisLimit>,
    /// What its rule promised before and is wholly outside of what is left, in words: text that
    /// asks for it is set in the nearest that is left.
    pub gone: Vec<String>,
    /// What the file says of its use.
    pub rights: Rights,
    /// A font name that the licence in the file reserves.
    pub reserved: Option<String>,
}

impl Target {
    /// Holds the axes that it has to `limits`, and what its rule says with them: weights and
    /// widths that the file does not have any more are not promised.
    pub fn limit(&mut self, limits: &[AxisLimit]) {
        let pick = FacePick {
            index: self.index,
            ..FacePick::default()
        };
        let Ok(face) = Face::open(&self.file, &pick) else {
            return;
        };
        let has = |limit: &&AxisLimit| face.axis(&limit.name()).is_some();
        self.limits = limits.iter().filter(has).copied().collect();
        for limit in &self.limits {
            let (from, to) = (limit.from as f32, limit.to as f32);
            let within = |(least, most): (f32, f32)| (least.clamp(from, to), most.clamp(from, to));
            let outside = |(least, most): (f32, f32)| most < from || least > to;
            match &limit.tag {
                b"wght" => {
                    if outside(self.weight) {
                        self.gone.push(format!("font-weight {}", self.weight.0));
                    }
                    self.weight = within(self.weight);
                }
                b"wdth" => {
                    let before = self.widths.unwrap_or((100.0, 100.0));
                    if outside(before) {
                        self.gone.push(format!("font-stretch {}%", before.0));
                    }
                    let widths = within(before);
                    self.widths = (widths != (100.0, 100.0)).then_some(widths);
                }
                _ => {}
            }
        }
    }
}

fn opened(path: &Path, index: u32, access: Access<'_>) -> Result<(FontFile, Face), ProjectError> {
    let bytes = font_bytes(path, access)?;
    let pick = FacePick {
        index,
        ..FacePick::default()
    };
    let open = || {
        let file = FontFile::read(bytes, access.limits)?.as_web_font();
        let face = Face::open(&file, &pick)?;
        Ok((file, face))
    };
    open().map_err(|error| ProjectError::Font {
        path: path.to_owned(),
        error,
    })
}

/// The family that a licence text reserves: "with Reserved Font Name Brand".
fn reserved(rights: &Rights) -> Option<String> {
    let texts = [&rights.copyright, &rights.licence];
    let mut texts = texts.into_iter().flatten();
    texts.find_map(|text| {
        let at = text.find("Reserved Font Name")?;
        let rest =
            text[at + "Reserved Font Name".len()..].trim_start_matches(['s', ' ', '"', '\'']);
        let end = rest
            .find(['"', '\'', '.', ',', ';', '(', '\n'])
            .unwrap_or(rest.len());
        let name = rest[..end].trim().trim_matches(['“', '”', '‘', '’']);
        // The licence itself explains the words; a name is short.
        (!name.is_empty() && name.len() < 60 && !name.starts_with("refers"))
            .then(|| name.to_owned())
    })
}

fn target(path: &Path, index: u32, access: Access<'_>) -> Result<Target, ProjectError> {
    let (file, face) = opened(path, index, access)?;
    let question = Question {
        depth: Depth::Summary,
        languages: Some(Vec::new()),
        text_language: "en".to_owned(),
    };
    let pick = FacePick {
        index,
        ..FacePick::default()
    };
    let described = describe(&file, &pick, &question).map_err(|error| ProjectError::Font {
        path: path.to_owned(),
        error,
    })?;
    let weight = face.axis("wght").unwrap_or((face.weight(), face.weight()));
    let width = face.axis("wdth").unwrap_or((face.width(), face.width()));
    Ok(Target {
        path: path.to_owned(),
        index,
        family: face.names().family.clone(),
        weight,
        widths: (width != (100.0, 100.0)).then_some(width),
        slope: face.slope(),
        range: None,
        limits: Vec::new(),
        gone: Vec::new(),
        reserved: reserved(&described.rights),
        rights: described.rights,
        file,
    })
}

/// The faces that `named` are: font files, folders of them, style sheets that declare
/// them; of sheets those of `family` alone, where it is given.
///
/// # Errors
///
/// [`ProjectError`] where one cannot be read, or is no font.
pub fn targets(
    named: &[PathBuf],
    family: Option<&str>,
    access: Access<'_>,
) -> Result<Vec<Target>, ProjectError> {
    let mut targets = Vec::new();
    for path in named {
        if is_sheet(path) {
            let site = Site::beside_file(path, access);
            let found = families_of_sheet(path, &site, access)?;
            let asked = |name: &str| family.is_none_or(|wanted| wanted.eq_ignore_ascii_case(name));
            if let Some((_, reason)) = found.unread.iter().find(|(name, _)| asked(name)) {
                return Err(ProjectError::Unreadable {
                    path: path.clone(),
                    reason: reason.clone(),
                });
            }
            for (name, faces) in found.families {
                if family.is_some_and(|wanted| !wanted.eq_ignore_ascii_case(&name)) {
                    continue;
                }
                for face in faces {
                    for file in &face.files {
                        let Some((source, _)) = file.sources.first() else {
                            continue;
                        };
                        targets.push(Target {
                            family: name.clone(),
                            weight: face.weight,
                            widths: face.widths,
                            slope: face.face.slope(),
                            range: file.ranged.then(|| file.range.clone()),
                            ..target(source, 0, access)?
                        });
                    }
                }
            }
        } else if access.is_folder(path) {
            for file in font_files(std::slice::from_ref(path), access)? {
                targets.push(target(&file.path, 0, access)?);
            }
        } else {
            let (path, pick) = split(path, access);
            if pick.position.is_some() {
                return Err(ProjectError::Usage(format!(
                    "{}: a position of a variable font cannot be cut out; name the file alone",
                    path.display()
                )));
            }
            targets.push(target(&path, pick.index, access)?);
        }
    }
    Ok(targets)
}

/// The web fonts of a project: those of its roles, else those that its sheets declare.
///
/// # Errors
///
/// [`ProjectError`] where one cannot be read, or there is none.
pub fn targets_of_project(
    project: &Project,
    role: Option<&str>,
    access: Access<'_>,
) -> Result<Vec<Target>, ProjectError> {
    if let Some(role) = role.filter(|role| !project.role.contains_key(*role)) {
        return Err(ProjectError::Usage(format!(
            "--role {role}: the project has no such role"
        )));
    }
    let mut all: Vec<Target> = Vec::new();
    let mut seen: BTreeSet<(PathBuf, u32)> = BTreeSet::new();
    let named = |paths: &[PathBuf]| -> Result<Vec<PathBuf>, ProjectError> {
        let paths = expanded(paths, &project.folder, access)?;
        Ok(paths.iter().map(|path| project.folder.join(path)).collect())
    };
    for (name, rules) in &project.role {
        if role.is_some_and(|role| role != name) {
            continue;
        }
        let paths: Vec<PathBuf> = rules.web.iter().chain(&rules.scripts).cloned().collect();
        for mut target in targets(&named(&paths)?, None, access)? {
            if let Some(family) = &rules.family {
                target.family.clone_from(family);
            }
            if seen.insert((target.path.clone(), target.index)) {
                all.push(target);
            }
        }
    }
    if all.is_empty() && role.is_none() {
        all = targets(&named(&project.sheets)?, None, access)?;
    }
    if all.is_empty() {
        return Err(ProjectError::Usage(
            "the project names no web fonts (role.NAME.web, or sheets); name the files to trim"
                .to_owned(),
        ));
    }
    Ok(all)
}

/// What texts ask of a family.
pub struct TextsNeed {
    survey: Survey,
    samples: Vec<Sample>,
    /// Whether all texts count for every family, as they were named on the command line.
    all: bool,
}

impl TextsNeed {
    /// The texts that `request`, or else the project, names.
    ///
    /// # Errors
    ///
    /// [`ProjectError`] where one cannot be read.
    pub fn gather(
        request: &SurveyRequest,
        project: Option<&Project>,
        access: Access<'_>,
    ) -> Result<Self, ProjectError> {
        let all = !request.text.is_empty() || !request.languages.is_empty();
        let Gathered { survey, pages, .. } = gather(request, project, access)?;
        let mut samples: Vec<Sample> = Vec::new();
        let texts = pages.iter().flat_map(|page| &page.texts);
        let texts = texts.map(|text| (text.text.as_str(), text.language.as_deref()));
        let plain = request.text.texts.iter().map(|text| (text.as_str(), None));
        for (text, language) in texts.chain(plain) {
            // One run without breaks: what a line holds.
            let line = text.split_whitespace().collect::<Vec<_>>().join(" ");
            if !line.is_empty() && samples.len() < MOST_SAMPLES {
                samples.push(sample(&line, language));
            }
        }
        samples.dedup();
        Ok(TextsNeed {
            survey,
            samples,
            all,
        })
    }

    /// The buckets of texts whose stack has `family`.
    fn buckets(
        &self,
        family: &str,
    ) -> impl Iterator<Item = &tidy_lattice_core::lattice::survey::Bucket> {
        let has = move |style: usize| {
            let families = &self.survey.styles[style].families;
            self.all
                || families
                    .iter()
                    .any(|name| name.as_str().eq_ignore_ascii_case(family))
        };
        self.survey
            .buckets
            .iter()
            .filter(move |bucket| has(bucket.style))
    }

    /// What they ask of `family`; of a role alone, where one is named.
    pub fn of_family(&self, family: &str, role: Option<&str>, margin: Margin) -> TrimNeed {
        let buckets: Vec<_> = (self.buckets(family))
            .filter(|bucket| role.is_none_or(|role| bucket.role == role))
            .collect();
        let need = Need::merged(buckets.iter().map(|bucket| &bucket.need));
        let languages: BTreeSet<String> = buckets
            .iter()
            .filter_map(|bucket| bucket.language.clone())
            .collect();
        with_margin(&need, &languages, margin, self.samples.clone())
    }

    /// The languages of the texts; of some it is not known.
    pub fn languages(&self) -> Vec<Option<String>> {
        let buckets = self.survey.buckets.iter();
        let languages: BTreeSet<Option<String>> =
            buckets.map(|bucket| bucket.language.clone()).collect();
        languages.into_iter().collect()
    }

    /// What the texts in some languages ask of `family`.
    pub fn in_languages(
        &self,
        family: &str,
        wanted: &BTreeSet<Option<String>>,
        margin: Margin,
    ) -> TrimNeed {
        let buckets: Vec<_> = (self.buckets(family))
            .filter(|bucket| wanted.contains(&bucket.language))
            .collect();
        if buckets.is_empty() {
            return TrimNeed::default();
        }
        let need = Need::merged(buckets.iter().map(|bucket| &bucket.need));
        let known = wanted.iter().flatten().cloned().collect();
        with_margin(&need, &known, margin, self.samples.clone())
    }

    /// The features that styles with `family` ask for.
    pub fn features(&self, family: &str) -> BTreeSet<[u8; 4]> {
        let mut tags = BTreeSet::new();
        for bucket in self.buckets(family) {
            for (tag, _) in self.survey.styles[bucket.style].asked_features() {
                tags.extend(<[u8; 4]>::try_from(tag.as_bytes()));
            }
        }
        tags
    }
}

/// The name of a file: that of its source, which slice it is, and eight digits of its
/// content, so that another version is never taken for it.
pub fn file_name(target: &Target, slice: Option<usize>, bytes: &[u8], ending: &str) -> String {
    let stem = target
        .path
        .file_stem()
        .unwrap_or_default()
        .to_string_lossy();
    let stem: String = (stem.chars())
        .map(|c| {
            if c.is_alphanumeric() || matches!(c, '-' | '_' | '.') {
                c
            } else {
                '-'
            }
        })
        .collect();
    let font = if target.index > 0 {
        format!("-{}", target.index)
    } else {
        String::new()
    };
    let slice = slice.map_or(String::new(), |number| format!("-{}", number + 1));
    let digest = Sha256::digest(bytes);
    let digits: String = digest.iter().take(4).fold(String::new(), |mut text, byte| {
        let _ = write!(text, "{byte:02x}");
        text
    });
    format!("{stem}{font}{slice}-{digits}.{ending}")
}

/// The `@font-face` rule of a piece, whose files are `sources` with their `format()`.
pub fn rule(
    target: &Target,
    family: &str,
    piece: &Piece,
    sources: &[(String, &str)],
    display: &str,
) -> String {
    let pair = |(least, most): (f32, f32), unit: &str| {
        if least == most {
            format!("{least}{unit}")
        } else {
            format!("{least}{unit} {most}{unit}")
        }
    };
    let mut css = String::from("@font-face {\n");
    let _ = writeln!(css, "  font-family: {};", quoted(family));
    let sources: Vec<String> = (sources.iter())
        .map(|(url, format)| format!("url({}) format(\"{format}\")", quoted(url)))
        .collect();
    let _ = writeln!(css, "  src: {};", sources.join(", "));
    let _ = writeln!(css, "  font-weight: {};", pair(target.weight, ""));
    let _ = writeln!(css, "  font-style: {};", target.slope.css());
    if let Some(widths) = target.widths {
        let _ = writeln!(css, "  font-stretch: {};", pair(widths, "%"));
    }
    let _ = writeln!(css, "  font-display: {display};");
    let _ = writeln!(css, "  unicode-range: {};\n}}", piece.range);
    css
}
