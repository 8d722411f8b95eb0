//! `demo`: the full example, on a made-up ferry company.

use std::fs;
use std::path::{Path, PathBuf};

use serde::Serialize;
use tidy_lattice_core::font::Limits;
use tidy_lattice_core::lattice::{self, Coverage};
use tidy_lattice_core::need::{Need, Source};
use tidy_lattice_core::stack::{BuildRequest, Built, SampleKind, build};
use tidy_lattice_core::standin::TextSample;

use crate::args::DemoArgs;
use crate::error::{CliError, Outcome};
use crate::{input, output, show};

/// The company's stack, in order.
const STACK: [&str; 3] = [
    "fonts/SkerrymarkSans-Regular.ttf",
    "fonts/SkerrymarkText-Regular.ttf",
    "fonts/Lanternsign.ttf",
];
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
    /// The texts against the company's stack.
    pub cover: Coverage,
    /// The stack with stand-ins.
    pub build: Built,
}

/// Runs the command.
pub fn run(args: &DemoArgs, json: bool) -> Result<Outcome, CliError> {
    let folder = write_project(args)?;
    let fonts = |paths: &[&str]| {
        let paths: Vec<PathBuf> = paths.iter().map(|path| folder.join(path)).collect();
        input::faces(&paths, Limits::DEFAULT)
    };
    let texts = texts();
    let stack = fonts(&STACK)?;
    let cover = lattice::cover(&Need::gather(&texts), &stack);

    let fitted_on: Vec<Source> = texts
        .into_iter()
        .filter(|text| text.name == FITTED_ON)
        .collect();
    let build = build(&BuildRequest {
        web: &stack[0],
        family: None,
        url: STACK[0].to_owned(),
        display: "swap".to_owned(),
        locals: &fonts(&INSTALLED)?,
        sample: &TextSample::gather(&fitted_on),
        sample_kind: SampleKind::OwnText {
            sources: vec![FITTED_ON.to_owned()],
        },
        sizes: SIZES.to_vec(),
        generic: None,
        pin: true,
    })?;
    output::write_file(&folder.join(SHEET), build.css.as_bytes(), args.force)?;

    let demo = Demo {
        folder: folder.display().to_string(),
        cover,
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
        Some(folder) => folder.clone(),
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

fn texts() -> Vec<Source> {
    tidy_lattice_demo::files()
        .into_iter()
        .filter(|(path, _)| path.starts_with("texts/"))
        .map(|(name, bytes)| Source {
            name,
            text: String::from_utf8_lossy(bytes).into_owned(),
        })
        .collect()
}

/// The command lines that do by hand what the demo does.
fn commands(folder: &Path) -> show::demo::Commands {
    let cover: Vec<String> = STACK.iter().map(|font| format!("--font {font}")).collect();
    let locals: Vec<String> = INSTALLED
        .iter()
        .map(|font| format!("--local {font}"))
        .collect();
    let sizes: Vec<String> = SIZES.iter().map(f32::to_string).collect();
    show::demo::Commands {
        enter: format!("cd {}", folder.display()),
        cover: format!("tidy-lattice cover {} texts/*.txt", cover.join(" ")),
        build: format!(
            "tidy-lattice build --web {} {} --size {} -o {SHEET} {FITTED_ON}",
            STACK[0],
            locals.join(" "),
            sizes.join(",")
        ),
    }
}
