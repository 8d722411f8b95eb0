//! Pages as they will be once the stacks of `build` are put in.

use tidy_lattice_core::lattice::WebFace;
use tidy_lattice_core::page::Flow;
use tidy_lattice_core::shift::{Change, changed};
use tidy_lattice_core::stack::Built;
use tidy_lattice_core::style::read::FamilyName;

use super::building::{Settings, stacks};
use super::built::{sheet_of, stack_of_role};
use super::file::Project;
use super::request::{BuildParts, SiteRequest};
use super::stack::site;
use super::web::FontLoader;
use super::{Access, ProjectError};

/// The stacks of a project with the rules that they stand on.
pub struct InPlace {
    /// The web font that each begins with, and its families.
    stacks: Vec<(String, Vec<FamilyName>)>,
    /// The rules of the style sheet that `build` writes.
    rules: Vec<WebFace>,
}

impl InPlace {
    /// The stacks that `build` would write for `project` now.
    ///
    /// # Errors
    ///
    /// As `build`.
    pub fn build(
        project: &Project,
        request: &SiteRequest,
        access: Access<'_>,
    ) -> Result<Self, ProjectError> {
        let parts = BuildParts {
            site: request.clone(),
            language: "en".to_owned(),
            ..BuildParts::default()
        };
        let settings = Settings::of(&project.build);
        let sheet = sheet_of(project);
        let made = stacks(&parts, Some(project), &settings, Some(&sheet), access)?;
        Self::of(project, &made.built, made.sheets.whole(), request, access)
    }

    /// Stacks that were `built`, whose style sheet is `css`.
    ///
    /// # Errors
    ///
    /// [`ProjectError`] where the site cannot be found out, or the sheet lacks a stack.
    pub fn of(
        project: &Project,
        built: &[Built],
        css: String,
        request: &SiteRequest,
        access: Access<'_>,
    ) -> Result<Self, ProjectError> {
        let request = SiteRequest {
            made: Some(css),
            ..request.clone()
        };
        let site = site(&request, Some(project), None, access)?;
        let mut loader = FontLoader::new(&site, access);
        let mut in_place = InPlace {
            stacks: Vec::new(),
            rules: Vec::new(),
        };
        for built in built {
            let (families, faces) = stack_of_role(project, &built.role, &site)?;
            in_place.stacks.push((built.web.family.clone(), families));
            // Each role's page has the rules of all.
            if in_place.rules.is_empty() {
                in_place.rules = faces.iter().map(|placed| loader.load(placed)).collect();
            }
        }
        Ok(in_place)
    }

    /// A page with these stacks in place of those that begin with the same web font, and
    /// with these rules in place of those for the same families.
    pub fn put_in(&self, web: &[WebFace], flow: &Flow) -> (Vec<WebFace>, Flow) {
        let family = |rule: &WebFace| rule.placed.face.family.as_deref().map(str::to_lowercase);
        let of_rules: Vec<Option<String>> = self.rules.iter().map(family).collect();
        let others = web.iter().filter(|rule| !of_rules.contains(&family(rule)));
        let mut web: Vec<WebFace> = others.cloned().collect();
        web.extend(self.rules.iter().cloned());
        let mut flow = flow.clone();
        for (first, families) in &self.stacks {
            let change = Change::Stack(first.clone(), families.clone());
            (web, flow) = changed(&change, &web, &flow);
        }
        (web, flow)
    }
}
