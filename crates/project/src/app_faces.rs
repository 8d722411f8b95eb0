//! The faces of an app without CSS, as the project file has its manifest: they are held to
//! their files by the rules for `@font-face`, and to the stacks of the roles.

use std::collections::BTreeSet;
use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use tidy_lattice_checks::Finding;
use tidy_lattice_checks::source::SourceText;
use tidy_lattice_core::style::quoted;
use tidy_lattice_core::style::read::families;
use tidy_lattice_core::style::url_path;

use super::file::{AppFace, NAME, Project};
use super::patterns::{below, set};
use super::{Access, ProjectError};

/// Project files beyond this size are refused, in bytes.
const LARGEST: u64 = 4 * 1024 * 1024;

/// The faces of the app as a style sheet, each rule in the line of its entry in the project
/// file; `None` where there are none.
pub fn as_sheet(project: &Project, access: Access<'_>) -> Option<SourceText> {
    if project.app.faces.is_empty() {
        return None;
    }
    let path = project.path(NAME);
    let toml = access.read(&path, LARGEST).unwrap_or_default();
    let toml = String::from_utf8_lossy(&toml);
    let mut lines = entries(&toml);
    let (mut css, mut line) = (String::new(), 1);
    for face in &project.app.faces {
        let at = lines.next().unwrap_or(line);
        while line < at {
            css.push('\n');
            line += 1;
        }
        css.push_str(&rule(face));
    }
    Some(SourceText::new(path.display().to_string(), css))
}

/// The lines in which entries start, from 1.
fn entries(toml: &str) -> impl Iterator<Item = usize> + '_ {
    let lines = toml.lines().enumerate();
    let heads = lines.filter(|(_, line)| line.replace(' ', "").starts_with("[[app.faces]]"));
    heads.map(|(number, _)| number + 1)
}

fn rule(face: &AppFace) -> String {
    let mut css = format!(
        "@font-face {{ font-family: {}; src: url({}); font-display: swap; ",
        quoted(&face.family),
        quoted(&url_path(&face.file.to_string_lossy().replace('\\', "/")))
    );
    if let Some(weight) = face.weight {
        let _ = write!(css, "font-weight: {weight}; ");
    }
    if let Some(style) = &face.style {
        let _ = write!(css, "font-style: {style}; ");
    }
    css.push('}');
    css
}

/// Puts findings in the made sheet where they belong: on the lines of the project file, which
/// is not mended.
pub fn in_project_file(findings: &mut [Finding], project: &Project, access: Access<'_>) {
    let path = project.path(NAME);
    let file = path.display().to_string();
    let Ok(toml) = access.read(&path, LARGEST) else {
        return;
    };
    let toml = SourceText::new(file.clone(), String::from_utf8_lossy(&toml).into_owned());
    for finding in findings {
        let made = finding.place.file == file && finding.excerpt.is_some();
        if made && !project.app.faces.is_empty() {
            let span = toml.line(finding.place.line);
            finding.place = toml.place(&span);
            finding.excerpt = Some(toml.excerpt(&span));
            finding.mend.clear();
        }
    }
}

/// Families that no role has in its stack, and packed files that no face names.
///
/// # Errors
///
/// [`ProjectError::Usage`] where a pattern is none.
pub fn idle(project: &Project, access: Access<'_>) -> Result<Vec<Finding>, ProjectError> {
    let app = &project.app;
    if app.faces.is_empty() && app.packed.is_empty() {
        return Ok(Vec::new());
    }
    let path = project.path(NAME);
    let file = path.display().to_string();
    let toml = access.read(&path, LARGEST).unwrap_or_default();
    let toml = String::from_utf8_lossy(&toml).into_owned();
    let lines: Vec<usize> = entries(&toml).collect();
    let place = |number: usize| {
        let line = lines.get(number).copied().unwrap_or(1);
        u32::try_from(line).unwrap_or(1)
    };
    let used: BTreeSet<String> = project
        .role
        .values()
        .flat_map(|role| {
            let listed = families(&role.stack).unwrap_or_default();
            let listed: Vec<String> = listed.iter().map(|name| name.as_str().to_owned()).collect();
            listed.into_iter().chain(role.family.clone())
        })
        .map(|family| family.to_lowercase())
        .collect();
    let mut findings = Vec::new();
    let mut seen: BTreeSet<String> = BTreeSet::new();
    for (number, face) in app.faces.iter().enumerate() {
        let family = face.family.to_lowercase();
        if used.contains(&family) || !seen.insert(family.clone()) {
            continue;
        }
        let idle_files = app
            .faces
            .iter()
            .filter(|other| other.family.to_lowercase() == family);
        let bytes: u64 = idle_files
            .filter_map(|face| access.size(&project.path(&face.file)))
            .sum();
        let what = format!(
            "no role is set in {:?} ({} KB)",
            face.family,
            bytes.div_ceil(1024)
        );
        findings.push(Finding::at(
            "app-face-unused",
            (&file, place(number), 1),
            what,
        ));
    }
    let declared: BTreeSet<PathBuf> = app.faces.iter().map(|face| tidy(&face.file)).collect();
    for packed in below(&project.folder, &set(&app.packed)?, &set(&[])?, access) {
        let is_font = packed.extension().is_some_and(|ending| {
            ["ttf", "otf", "ttc", "otc", "woff", "woff2"]
                .iter()
                .any(|known| ending.eq_ignore_ascii_case(known))
        });
        if is_font && !declared.contains(&tidy(&packed)) {
            let path = project.path(&packed);
            let bytes = access.size(&path).unwrap_or_default();
            let what = format!("no face of the app names it ({} KB)", bytes.div_ceil(1024));
            let name = path.display().to_string();
            findings.push(Finding::at("app-file-undeclared", (&name, 1, 1), what));
        }
    }
    Ok(findings)
}

/// A path without `.` in it.
fn tidy(path: &Path) -> PathBuf {
    let parts = path.components();
    parts
        .filter(|part| !matches!(part, std::path::Component::CurDir))
        .collect()
}
