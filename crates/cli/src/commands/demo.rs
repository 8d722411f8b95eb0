//! `demo`: the full example, on a made-up ferry company.

use std::path::{Path, PathBuf};

use tidy_lattice_project::{ProjectError, file, reason};

use super::check::check_paths;
use super::cover::cover;
use super::forecast::forecast_project;
use super::shift::shift_project;
use super::trace::trace_role;
use super::trim::trim_project;
use crate::args::{BuildArgs, CoverArgs, DemoArgs, SiteArgs};
use crate::error::{CliError, Outcome};
use crate::results::Demo;
use crate::show;
use crate::writing::{self, NewFolder};

/// What is traced.
const TRACED: &str = "Łeba → Ψαρά 5 € مرحبا 🚢";
/// The role that it is set in.
const ROLE: &str = "notices";
/// The folder of old pages that are checked.
const OLD: &str = "archive";
/// The project file of the company's shop, which is a project of its own.
const SHOP: &str = "shop/tidy-lattice.toml";
/// The sheet that the demo writes.
const SHEET: &str = "site/stacks.css";

/// Runs the command.
pub fn run(args: &DemoArgs, json: bool) -> Result<Outcome, CliError> {
    let folder = write_project(args)?;
    // From here on paths are those of the project, as its people see them.
    std::env::set_current_dir(&folder).map_err(|error| ProjectError::Unreadable {
        path: folder.clone(),
        reason: reason(&error),
    })?;
    let project = PathBuf::from(file::NAME);
    let build_args = BuildArgs::of_project(project.clone());
    let stacks = super::build::stacks(&build_args)?;
    writing::write_file(Path::new(SHEET), stacks.css().as_bytes(), args.force)?;
    let site = SiteArgs::default();
    let demo = Demo {
        cover: cover(&CoverArgs::of_project(project.clone()))?.0,
        trace: trace_role(&project, TRACED, ROLE)?,
        shift: shift_project(&project, &site)?,
        check: check_paths(&project, &[PathBuf::from(OLD)], &site)?,
        trim: trim_project(&project)?,
        forecast: forecast_project(&project, &site)?,
        shop: check_paths(Path::new(SHOP), &[], &site)?,
        folder: folder.display().to_string(),
        build: stacks.built().to_vec(),
    };
    super::tell(json, "demo", &demo, || {
        show::demo::view(&demo, &commands(&folder))
    })?;
    Ok(Outcome::Clean)
}

/// Writes the project's files; into a new temporary folder where none is named. A folder
/// that was not there before goes again where they do not fit.
fn write_project(args: &DemoArgs) -> Result<PathBuf, CliError> {
    let (new, folder) = match &args.folder {
        Some(folder) => {
            let folder = std::path::absolute(folder).unwrap_or_else(|_| folder.clone());
            (NewFolder::make(&folder)?, folder)
        }
        None => NewFolder::temporary("tidy-lattice-demo-")?,
    };
    for (path, bytes) in tidy_lattice_demo::files() {
        let target = folder.join(path);
        writing::make_folder(target.parent().unwrap_or(&folder))?;
        writing::write_file(&target, bytes, args.force)?;
    }
    new.keep();
    Ok(folder)
}

/// The command lines that do by hand what the demo does.
fn commands(folder: &Path) -> show::demo::Commands {
    show::demo::Commands {
        enter: format!("cd {}", folder.display()),
        cover: "tidy-lattice cover".to_owned(),
        trace: format!("tidy-lattice trace '{TRACED}' --role {ROLE}"),
        build: "tidy-lattice build".to_owned(),
        shift: "tidy-lattice shift".to_owned(),
        check: format!("tidy-lattice check {OLD}"),
        trim: "tidy-lattice trim".to_owned(),
        forecast: "tidy-lattice forecast".to_owned(),
        shop: format!("tidy-lattice check --project {SHOP}"),
    }
}
