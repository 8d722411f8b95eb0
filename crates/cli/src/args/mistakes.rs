//! Arguments of the commands that find mistakes.

use std::path::PathBuf;

use clap::{Args as ClapArgs, ValueEnum};
use tidy_lattice_checks::Level;

use super::shared::{LimitArgs, SiteArgs};

const CHECK_EXAMPLES: &str = "\
Examples:
  tidy-lattice check                          what tidy-lattice.toml names, or this folder
  tidy-lattice check site/                    pages and style sheets of a folder
  tidy-lattice check site/fonts.css --diff    what --fix would change
  tidy-lattice check --fix
  tidy-lattice check --as sarif -o fonts.sarif
  tidy-lattice check --write-baseline known.json
  tidy-lattice check --baseline known.json

A comment in the sheet silences a rule for what follows it:
  /* tidy-lattice: allow generic-missing, because the kiosk has this font */
In the project file: [[check.allow]] with code, files and because.
Exit status 1 where something is found at the level of --fail-on or above.";

/// Arguments of `check`.
#[derive(Debug, ClapArgs)]
#[command(after_help = CHECK_EXAMPLES)]
pub struct CheckArgs {
    /// Pages, style sheets, or folders of them
    #[arg(value_name = "PATH")]
    pub paths: Vec<PathBuf>,

    /// Platforms, by name or as a TOML file; `here` is this device
    #[arg(
        short,
        long = "platform",
        value_name = "PLATFORM",
        value_delimiter = ','
    )]
    pub platforms: Vec<String>,

    /// The project file (tidy-lattice.toml here or above by default)
    #[arg(long, value_name = "FILE")]
    pub project: Option<PathBuf>,

    /// Where the files of pages and sheets are
    #[command(flatten)]
    pub site: SiteArgs,

    /// Tell findings from this level on [default: warning]
    #[arg(long, value_name = "LEVEL", help_heading = "Findings")]
    pub level: Option<LevelArg>,

    /// The level from which on the exit status is 1 [default: warning]
    #[arg(long, value_name = "LEVEL", help_heading = "Findings")]
    pub fail_on: Option<LevelArg>,

    /// Leave out what this file has listed
    #[arg(long, value_name = "FILE", help_heading = "Findings")]
    pub baseline: Option<PathBuf>,

    /// List what is found now in this file, for --baseline
    #[arg(
        long,
        value_name = "FILE",
        conflicts_with = "baseline",
        help_heading = "Findings"
    )]
    pub write_baseline: Option<PathBuf>,

    /// Mend what can be mended safely
    #[arg(long, help_heading = "Mending")]
    pub fix: bool,

    /// Show what --fix would change, and change nothing
    #[arg(long, conflicts_with = "fix", help_heading = "Mending")]
    pub diff: bool,

    /// The form of the result
    #[arg(
        long = "as",
        value_name = "FORM",
        default_value = "text",
        help_heading = "Output"
    )]
    pub form: CheckForm,

    /// Write the result to this file
    #[arg(short, long, value_name = "FILE", help_heading = "Output")]
    pub output: Option<PathBuf>,

    /// Overwrite outputs even if tidy-lattice did not write them
    #[arg(long, help_heading = "Output")]
    pub force: bool,

    /// Check again whenever something that was read changes
    #[arg(long, conflicts_with_all = ["fix", "diff", "write_baseline"])]
    pub watch: bool,

    /// Neither take nor keep what an earlier run found
    ///
    /// A result is kept in the user's cache folder, and taken where every file that it was
    /// made from is as it was.
    #[arg(long)]
    pub no_cache: bool,

    /// Limits
    #[command(flatten)]
    pub limits: LimitArgs,
}

impl CheckArgs {
    /// `check` of paths of a project, without anything else said.
    pub fn of_paths(project: PathBuf, paths: Vec<PathBuf>) -> Self {
        CheckArgs {
            paths,
            platforms: Vec::new(),
            project: Some(project),
            site: SiteArgs::default(),
            level: None,
            fail_on: None,
            baseline: None,
            write_baseline: None,
            fix: false,
            diff: false,
            form: CheckForm::Text,
            output: None,
            force: false,
            watch: false,
            no_cache: false,
            limits: LimitArgs { font_limit: 64 },
        }
    }
}

/// Levels of findings.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum LevelArg {
    /// What could be done better
    Advice,
    /// What costs readers something
    Warning,
    /// What does not work
    Error,
}

impl From<LevelArg> for Level {
    fn from(arg: LevelArg) -> Self {
        match arg {
            LevelArg::Advice => Level::Advice,
            LevelArg::Warning => Level::Warning,
            LevelArg::Error => Level::Error,
        }
    }
}

/// Forms of findings.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum CheckForm {
    /// For people
    Text,
    /// SARIF 2.1.0, for code scanning
    Sarif,
    /// JUnit's XML, for test reports
    Junit,
    /// Markdown, for a pull request
    Markdown,
    /// Workflow commands, which annotate lines in continuous integration
    Annotations,
}

/// Arguments of `explain`.
#[derive(Debug, ClapArgs)]
pub struct ExplainArgs {
    /// The code of a finding, or a word of the program's answers such as stand-in; all by
    /// default
    #[arg(value_name = "CODE|WORD", num_args = 0.., value_delimiter = None)]
    pub about: Vec<String>,
}
