//! The command line.

mod build;
mod check;
mod look;
mod project;
mod shared;
mod verify;

pub use build::{BuildArgs, BuildForm, Display, RankArgs};
pub use check::{CoverArgs, EmojiArg, SlopeArg, TraceArgs};
pub use look::{CompareArgs, DescribeArgs, Detail, PlatformsArgs, RecordArgs};
pub use project::{CompletionsArgs, DemoArgs, ManArgs, SchemaArgs, SchemaOf};
pub use shared::{LimitArgs, StackArgs, TextArgs};
pub use verify::{ProveArgs, ShiftArgs};

use clap::{CommandFactory as _, Parser, Subcommand, ValueEnum};

/// Groups of commands in `--help`, in the order in which people work.
const GROUPS: [(&str, &[&str]); 5] = [
    ("Look", &["describe", "compare", "platforms", "record"]),
    ("Check", &["cover", "trace"]),
    ("Build", &["rank", "build"]),
    ("Verify", &["shift", "prove"]),
    ("Project", &["demo", "schema", "completions", "man"]),
];

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
#[command(disable_help_subcommand = true)]
pub struct Args {
    /// When to use colour: auto, always or never
    #[arg(
        long,
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

/// The commands.
#[derive(Debug, Subcommand)]
pub enum Command {
    /// What a font file holds: languages, features, line, rights, bytes
    Describe(DescribeArgs),
    /// Two or more faces side by side
    Compare(CompareArgs),
    /// What each platform has installed, and how well it is known
    Platforms(PlatformsArgs),
    /// Make cards: measurements of faces, for where they are not installed
    Record(RecordArgs),
    /// What the text needs against what the stack covers, and the gaps
    Cover(CoverArgs),
    /// Which font shows each piece of a text, platform by platform, and why
    Trace(TraceArgs),
    /// Candidates for a fallback, closest first, and why
    Rank(RankArgs),
    /// A stack with stand-ins that keep every line where it is, as CSS
    Build(Box<BuildArgs>),
    /// What moves when web fonts arrive, foretold
    Shift(Box<ShiftArgs>),
    /// The same in a real browser, beside the prediction
    Prove(Box<ProveArgs>),
    /// Run a full example on made-up fonts and texts
    Demo(DemoArgs),
    /// The JSON schema of a command's --json output
    Schema(SchemaArgs),
    /// Completions for a shell
    Completions(CompletionsArgs),
    /// The manual page, of the program or of one command
    Man(ManArgs),
}

/// The commands by group, for `--help`.
fn groups() -> String {
    use std::fmt::Write as _;
    // Asking the derived command for its help here would never end.
    let command = Command::augment_subcommands(clap::Command::new(""));
    let mut text = String::new();
    for (group, names) in GROUPS {
        let _ = writeln!(text, "\n{group}:");
        for name in names {
            let about = command.find_subcommand(name).and_then(|c| c.get_about());
            let _ = writeln!(
                text,
                "  {name:<12} {}",
                about.map(ToString::to_string).unwrap_or_default()
            );
        }
    }
    text
}

/// The whole command line, for completions and manual pages.
pub fn command() -> clap::Command {
    Args::command()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_command_line_is_consistent() {
        command().debug_assert();
    }

    #[test]
    fn every_command_stands_in_one_group() {
        let mut grouped: Vec<&str> = GROUPS
            .iter()
            .flat_map(|(_, names)| names.iter().copied())
            .collect();
        let mut known: Vec<String> = command()
            .get_subcommands()
            .map(|c| c.get_name().to_owned())
            .collect();
        grouped.sort_unstable();
        known.sort_unstable();
        assert_eq!(grouped, known);
    }
}
