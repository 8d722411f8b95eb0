//! The style sheet of `build`, as the rest of a project has it.

use std::path::{Path, PathBuf};

use tidy_lattice_core::page::{self, PlacedFace};
use tidy_lattice_core::stack::stack_property;
use tidy_lattice_core::style::read::FamilyName;
use tidy_lattice_core::style::url_path;

use super::ProjectError;
use super::file::Project;
use super::web::{SCREEN, Site};

/// What the style sheet is called where the project does not say, from its folder.
const SHEET: &str = "tidy-lattice.css";

/// The style sheet that `build` writes for a project.
pub fn sheet_of(project: &Project) -> PathBuf {
    let output = project.build.output.as_deref();
    project.path(output.unwrap_or(Path::new(SHEET)))
}

/// The families and rules of a role without a stack of its own: those that the style
/// sheet of `build` gives it.
///
/// # Errors
///
/// [`ProjectError::Usage`] where the sheet has no stack for the role.
pub fn stack_of_role(
    project: &Project,
    name: &str,
    site: &Site<'_>,
) -> Result<(Vec<FamilyName>, Vec<PlacedFace>), ProjectError> {
    let sheet = sheet_of(project);
    let file = sheet.file_name().unwrap_or_default().to_string_lossy();
    // A page beside the sheet that asks for the stack says what it comes down to.
    let html = format!(
        "<link rel=stylesheet href=\"{}\"><p style=\"font-family: var({}, -none-)\">x",
        url_path(&file),
        stack_property(name)
    );
    let place = sheet.with_file_name("role").display().to_string();
    let (page, _) = page::read(&html, &place, site, SCREEN);
    let families = (page.texts.first()).map(|text| &page.styles[text.style].families);
    match families {
        Some(families) if *families != [FamilyName::Named("-none-".to_owned())] => {
            Ok((families.clone(), page.faces))
        }
        _ => Err(ProjectError::Usage(format!(
            "role.{name} has no stack, and {} has none for it; run `build`, or put a stack into \
             role.{name}.stack",
            sheet.display()
        ))),
    }
}
