//! Arguments of the commands around a project.

use std::path::PathBuf;

use clap::Args as ClapArgs;
use clap::builder::{PossibleValue, PossibleValuesParser};

use super::list;
use super::shared::LimitArgs;

/// Arguments of `demo`.
#[derive(Debug, ClapArgs)]
pub struct DemoArgs {
    /// Where to write the demo project; a temporary folder by default
    #[arg(value_name = "FOLDER")]
    pub folder: Option<PathBuf>,

    /// Overwrite files of the folder that differ
    #[arg(long)]
    pub force: bool,
}

const INIT_EXAMPLES: &str = "\
Examples:
  tidy-lattice init              writes tidy-lattice.toml into this folder
  tidy-lattice init site/
  tidy-lattice init --print      shows it and writes nothing

Looked at are pages, style sheets with their fonts, and message catalogues; what
`.gitignore` leaves out and node_modules are passed over.";

/// Arguments of `init`.
#[derive(Debug, ClapArgs)]
#[command(after_help = INIT_EXAMPLES)]
pub struct InitArgs {
    /// The project's folder; this one by default
    #[arg(value_name = "FOLDER", default_value = ".", hide_default_value = true)]
    pub folder: PathBuf,

    /// Show the project file, and write nothing
    #[arg(long)]
    pub print: bool,

    /// Overwrite a project file that is there
    #[arg(long)]
    pub force: bool,
}

const REPORT_EXAMPLES: &str = "\
Examples:
  tidy-lattice report                      writes report.html
  tidy-lattice report -o public/fonts.html
  tidy-lattice report --json

The page holds all it needs; it can be mailed, kept with a build, printed. Exit status 1
where characters are missing, errors were found, or a budget is not met.";

/// Arguments of `report`.
#[derive(Debug, ClapArgs)]
#[command(after_help = REPORT_EXAMPLES)]
pub struct ReportArgs {
    /// The page to write
    #[arg(short, long, value_name = "FILE", default_value = "report.html")]
    pub output: PathBuf,

    /// The project file (tidy-lattice.toml here or above by default)
    #[arg(long, value_name = "FILE")]
    pub project: Option<PathBuf>,

    /// Overwrite the page even if tidy-lattice did not write it
    #[arg(long)]
    pub force: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

/// Arguments of `schema`.
#[derive(Debug, ClapArgs)]
pub struct SchemaArgs {
    /// The command whose output to describe
    #[arg(value_name = "COMMAND", value_parser = schemas())]
    pub of: String,
}

/// Documents besides those of commands, behind the command that they are kin to.
const OTHERS: [(&str, &str, &str); 3] = [
    ("record", "card", "A card, as `record` writes it"),
    ("trace", "project", "The project file, tidy-lattice.toml"),
    ("build", "app", "`build --as app`"),
];

macro_rules! schema_names {
    ($($group:literal $name:ident $variant:ident($args:ty) $about:literal $(=> $result:ty)?;)*) => {
        /// Commands with a schema.
        const WITH_SCHEMA: &[&str] = &[$($(named!($name, $result),)?)*];
    };
}
/// The name alone; the result only tells that there is one.
macro_rules! named {
    ($name:ident, $result:ty) => {
        stringify!($name)
    };
}
list::commands!(schema_names);

/// What has a schema.
fn schemas() -> PossibleValuesParser {
    let mut values = Vec::new();
    for name in WITH_SCHEMA {
        values.push(PossibleValue::new(*name).help(format!("`{name} --json`")));
        let kin = OTHERS.iter().filter(|(command, ..)| command == name);
        values.extend(kin.map(|(_, name, what)| PossibleValue::new(*name).help(*what)));
    }
    PossibleValuesParser::new(values)
}

/// Arguments of `completions`.
#[derive(Debug, ClapArgs)]
pub struct CompletionsArgs {
    /// The shell
    pub shell: clap_complete::Shell,
}

/// Arguments of `man`.
#[derive(Debug, ClapArgs)]
pub struct ManArgs {
    /// A command; the program itself by default
    pub page: Option<String>,
}
