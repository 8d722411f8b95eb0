//! The command line.

mod build;
mod check;
pub mod list;
mod look;
mod mistakes;
mod project;
mod rank;
mod record;
mod shared;
mod trim;
mod verify;

use std::ffi::OsStr;
use std::path::{Path, PathBuf};

pub use build::{BuildArgs, BuildForm, Display};
pub use check::{CoverArgs, EmojiArg, SlopeArg, TraceArgs};
pub use look::{CompareArgs, DescribeArgs, Detail, PlatformsArgs};
pub use mistakes::{CheckArgs, CheckForm, ExplainArgs};
pub use project::{CompletionsArgs, DemoArgs, InitArgs, ManArgs, ReportArgs, SchemaArgs};
pub use rank::RankArgs;
pub use record::RecordArgs;
pub use shared::{LimitArgs, SiteArgs, StackArgs, TextArgs};
pub use trim::{HintsArg, ListForm, TrimArgs};
pub use verify::{ForecastArgs, ProveArgs, ShiftArgs};

use clap::{CommandFactory as _, Parser, Subcommand, ValueEnum};

const STATUS: &str = "\
Exit status:
  0  nothing to report
  1  there are findings (gaps, lines that differ, scores above the budget)
  2  wrong usage
  3  an input could not be read
  4  an output could not be written
  5  a browser could not be driven";

const TEMPLATE: &str = "{about-with-newline}\n{usage-heading} {usage}\n{before-help}Options:\n{options}\n{after-help}\n";

/// Will every character show, and will anything jump?
///
/// Checks which font of a stack shows each piece of your text, and builds
/// stacks whose local fallbacks are measured so that nothing moves when the
/// web font arrives.
#[derive(Debug, Parser)]
#[command(name = "tidy-lattice", version, arg_required_else_help = true)]
#[command(help_template = TEMPLATE, before_help = groups(), after_help = STATUS)]
pub struct Args {
    /// When to use colour: auto, always or never
    #[arg(
        long,
        alias = "color",
        global = true,
        value_name = "WHEN",
        default_value = "auto",
        hide_possible_values = true,
        hide_default_value = true,
        help_heading = "General"
    )]
    pub colour: Colour,

    /// Print the result as JSON (see `schema`)
    #[arg(long, global = true, help_heading = "General")]
    pub json: bool,

    /// Let pages and style sheets read this folder, which lies outside of their project;
    /// may be repeated
    #[arg(long, global = true, value_name = "FOLDER", help_heading = "General")]
    pub may_read: Vec<PathBuf>,

    /// What to do
    #[command(subcommand)]
    pub command: Command,
}

/// When to use colour.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub enum Colour {
    /// On a terminal that wants it
    Auto,
    /// Always
    Always,
    /// Never
    Never,
}

impl Colour {
    /// Makes the choice for the whole program.
    pub fn apply(self) {
        match self {
            Colour::Auto => anstream::ColorChoice::Auto,
            Colour::Always => anstream::ColorChoice::AlwaysAnsi,
            Colour::Never => anstream::ColorChoice::Never,
        }
        .write_global();
    }
}

macro_rules! command_line {
    ($($group:literal $name:ident $variant:ident($args:ty) $about:literal $(=> $result:ty)?;)*) => {
        /// The commands.
        #[derive(Debug, Subcommand)]
        pub enum Command {
            $(#[doc = $about] $variant($args),)*
        }

        /// Group, name and sentence of each command, in the order in which people
        /// work.
        const COMMANDS: &[(&str, &str, &str)] = &[$(($group, stringify!($name), $about)),*];
    };
}
list::commands!(command_line);

/// The commands by group, for `--help`.
fn groups() -> String {
    use std::fmt::Write as _;
    let mut text = String::new();
    let mut last = "";
    for (group, name, about) in COMMANDS {
        if *group != last {
            let _ = writeln!(text, "\n{group}:");
            last = group;
        }
        let _ = writeln!(text, "  {name:<12} {about}");
    }
    text
}

/// The whole command line, for completions and manual pages.
pub fn command() -> clap::Command {
    Args::command()
}

impl TrimArgs {
    /// `trim` on the project alone.
    pub fn of_project(project: &Path) -> Self {
        match of_project("trim", project) {
            Command::Trim(args) => *args,
            _ => unreachable!("the name is that of trim"),
        }
    }
}

impl ForecastArgs {
    /// `forecast` on the project alone.
    pub fn of_project(project: &Path) -> Self {
        match of_project("forecast", project) {
            Command::Forecast(args) => *args,
            _ => unreachable!("the name is that of forecast"),
        }
    }
}

/// A command as it is with nothing but its project.
fn of_project(command: &str, project: &Path) -> Command {
    let words = ["tidy-lattice", command, "--project"].map(OsStr::new);
    Args::parse_from(words.into_iter().chain([project.as_os_str()])).command
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_command_line_is_consistent() {
        command().debug_assert();
    }
}
