//! The web fonts of a project, cut before a stack is built of them.

use std::path::{Path, PathBuf};

use tidy_lattice_project::Memory;
use tidy_lattice_project::declared::is_sheet;
use tidy_lattice_project::file::{self, Project};
use tidy_lattice_project::request::BuildParts;

use crate::args::BuildArgs;
use crate::commands::trim::{CutFace, Files, cut_project};
use crate::error::CliError;

/// The fonts of a project, cut as it says.
pub struct CutFonts {
    /// The project with the cut fonts in place of the whole ones.
    pub project: Project,
    /// The files, and style sheets that declare them, where they will lie.
    pub memory: Memory,
    /// The files.
    pub files: Files,
    /// The folder that they go to.
    pub folder: PathBuf,
}

/// Cuts the web fonts of `project` where it says that `build` should: each role then has the
/// cut files of its own.
pub fn cut_fonts(
    project: &Project,
    args: &BuildArgs,
    parts: &BuildParts,
) -> Result<Option<CutFonts>, CliError> {
    let output = project.trim.as_ref().and_then(|trim| trim.output.as_ref());
    let has_web = project.role.values().any(|role| !role.web.is_empty());
    let Some(output) = output.filter(|_| has_web && parts.pages.is_empty()) else {
        return Ok(None);
    };
    let path = args.project.clone();
    let path = path.unwrap_or_else(|| project.path(file::NAME));
    let cut = cut_project(&path, &args.site)?;
    let folder = project.path(output);
    let mut memory = Memory::default();
    let mut put = |path: &Path, bytes: &[u8]| {
        memory.put(path, bytes);
        // Paths that were followed begin at the root.
        if let Ok(whole) = std::path::absolute(path) {
            memory.put(whole, bytes);
        }
    };
    let mut cut_project = project.clone();
    for (number, role) in cut_project.role.values_mut().enumerate() {
        let named = role.web.iter().map(|path| project.path(path));
        let named: Vec<PathBuf> = named.collect();
        let of_role = |face: &&CutFace| {
            let family = role.family.as_deref().unwrap_or(&face.family);
            let by_sheet = named.iter().any(|named| is_sheet(named));
            named.contains(&face.source) || by_sheet && family == face.family
        };
        // A font for another script is one file, or stays as it is.
        for script in &mut role.scripts {
            let path = project.path(&script);
            let mut faces = cut.faces.iter();
            let face = faces.find(|face| face.source == path && face.files.len() == 1);
            if let Some((name, _)) = face.and_then(|face| face.files.first()) {
                *script = output.join(name);
            }
        }
        let faces: Vec<&CutFace> = cut.faces.iter().filter(of_role).collect();
        let Some(family) = faces.first().map(|face| face.family.clone()) else {
            continue;
        };
        let css: Vec<&str> = faces.iter().map(|face| face.css.as_str()).collect();
        let name = format!("role-{number}.css");
        put(&folder.join(&name), css.concat().as_bytes());
        role.web = vec![output.join(name)];
        role.family = Some(family);
    }
    let mut files = Files::new();
    for (name, bytes) in cut.faces.into_iter().flat_map(|face| face.files) {
        put(&folder.join(&name), &bytes);
        files.push((name, bytes));
    }
    Ok(Some(CutFonts {
        project: cut_project,
        memory,
        files,
        folder,
    }))
}
