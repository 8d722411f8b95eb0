//! `completions`: a script for the user's shell.

use crate::args::{self, CompletionsArgs};
use crate::error::{CliError, Outcome};
use crate::output;

/// Runs the command.
pub fn run(args: &CompletionsArgs, _json: bool) -> Result<Outcome, CliError> {
    let mut script = Vec::new();
    clap_complete::generate(
        args.shell,
        &mut args::command(),
        "tidy-lattice",
        &mut script,
    );
    output::print(&String::from_utf8_lossy(&script))?;
    Ok(Outcome::Clean)
}
