//! `demo`: the full example, on a made-up ferry company.

use std::fs;
use std::path::{Path, PathBuf};

use serde::Serialize;
use tidy_lattice_core::font::Limits;
use tidy_lattice_core::need::Source;
use tidy_lattice_core::stack::{BuildRequest, Built, SampleKind, build};
use tidy_lattice_core::standin::TextSample;

use super::cover::{Covered, cover};
use super::trace::{Traced, trace_role};
use crate::args::{CoverArgs, DemoArgs};
use crate::error::{CliError, Outcome, reason};
use crate::{input, output, project, show};

/// The font that stand-ins are fitted to.
const WEB: &str = "fonts/SkerrymarkSans-Regular.ttf";
/// What is traced.
const TRACED: &str = "Łeba → Ψαρά 5 € مرحبا 🚢";
/// The role that it is set in.
const ROLE: &str = "notices";
/// The faces that play what visitors have installed.
const INSTALLED: [&str; 2] = [
    "installed/QuaydeskUI-Regular.ttf",
    "installed/Pebbleroom-Regular.ttf",
];
/// The sizes of the company's pages, in px.
const SIZES: [f32; 3] = [16.0, 20.0, 32.0];
/// The text that widths are fitted on.
const FITTED_ON: &str = "texts/en.txt";
/// The sheet that the demo writes.
const SHEET: &str = "stack.css";

/// The result of the demo.
#[derive(Debug, Serialize, schemars::JsonSchema)]
pub struct Demo {
    /// Where the project was written.
    pub folder: String,
    /// The project's texts against its stacks, on its devices.
    pub cover: Covered,
    /// A text in one of its roles.
    pub trace: Traced,
    /// The stack with stand-ins.
    pub build: Built,
}

/// Runs the command.
pub fn run(args: &DemoArgs, json: bool) -> Result<Outcome, CliError> {
    let folder = write_project(args)?;
    let inside = |path: &str| folder.join(path);
    let fonts = |paths: &[&str]| {
        let paths: Vec<PathBuf> = paths.iter().map(|path| inside(path)).collect();
        input::faces(&paths, Limits::DEFAULT)
    };
    let web = fonts(&[WEB])?.remove(0);
    let fitted_on = Source {
        name: FITTED_ON.to_owned(),
        text: String::from_utf8_lossy(tidy_lattice_demo::file(FITTED_ON).unwrap_or_default())
            .into_owned(),
    };
    let build = build(&BuildRequest {
        web: &web,
        family: None,
        url: WEB.to_owned(),
        display: "swap".to_owned(),
        locals: &fonts(&INSTALLED)?,
        sample: &TextSample::gather(&[fitted_on]),
        sample_kind: SampleKind::OwnText {
            sources: vec![FITTED_ON.to_owned()],
        },
        sizes: SIZES.to_vec(),
        generic: None,
        pin: true,
    })?;
    output::write_file(&inside(SHEET), build.css.as_bytes(), args.force)?;
    // From here on paths are those of the project, as its people see them.
    std::env::set_current_dir(&folder).map_err(|error| CliError::Unreadable {
        path: folder.clone(),
        reason: reason(&error),
    })?;
    let project = PathBuf::from(project::NAME);
    let demo = Demo {
        cover: cover(&CoverArgs::of_project(project.clone()))?.0,
        trace: trace_role(project, TRACED, ROLE)?,
        folder: folder.display().to_string(),
        build,
    };
    output::print(&if json {
        show::json::document("demo", &demo)
    } else {
        show::demo::view(&demo, &commands(&folder))
    })?;
    Ok(Outcome::Clean)
}

/// Writes the project's files; into a new temporary folder where none is named.
fn write_project(args: &DemoArgs) -> Result<PathBuf, CliError> {
    let unwritable = |path: &Path, error: &std::io::Error| CliError::Unwritable {
        path: path.to_owned(),
        reason: output::output_reason(error),
    };
    let folder = match &args.folder {
        Some(folder) => std::path::absolute(folder).unwrap_or_else(|_| folder.clone()),
        None => tempfile::Builder::new()
            .prefix("tidy-lattice-demo-")
            .tempdir()
            .map_err(|error| unwritable(&std::env::temp_dir(), &error))?
            .keep(),
    };
    for (path, bytes) in tidy_lattice_demo::files() {
        let target = folder.join(path);
        let parent = target.parent().unwrap_or(&folder);
        fs::create_dir_all(parent).map_err(|error| unwritable(parent, &error))?;
        output::write_file(&target, bytes, args.force)?;
    }
    Ok(folder)
}

/// The command lines that do by hand what the demo does.
fn commands(folder: &Path) -> show::demo::Commands {
    let locals: Vec<String> = INSTALLED
        .iter()
        .map(|font| format!("--local {font}"))
        .collect();
    let sizes: Vec<String> = SIZES.iter().map(f32::to_string).collect();
    show::demo::Commands {
        enter: format!("cd {}", folder.display()),
        cover: "tidy-lattice cover".to_owned(),
        trace: format!("tidy-lattice trace '{TRACED}' --role {ROLE}"),
        build: format!(
            "tidy-lattice build --web {} {} --size {} -o {SHEET} {FITTED_ON}",
            WEB,
            locals.join(" "),
            sizes.join(",")
        ),
    }
}
