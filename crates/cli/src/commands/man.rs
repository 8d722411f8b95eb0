//! `man`: manual pages.

use crate::args::{self, ManArgs};
use crate::error::{CliError, Outcome};
use crate::output;

/// Runs the command.
pub fn run(args: &ManArgs, _json: bool) -> Result<Outcome, CliError> {
    let program = args::command();
    let page = match &args.page {
        None => program,
        Some(name) => {
            let known: Vec<&str> = program.get_subcommands().map(|c| c.get_name()).collect();
            let unknown = || {
                CliError::Usage(format!(
                    "there is no command {name}; there are {}",
                    known.join(", ")
                ))
            };
            let command = program.find_subcommand(name).ok_or_else(unknown)?;
            command.clone().name(format!("tidy-lattice-{name}"))
        }
    };
    let mut roff = Vec::new();
    // Writing to memory does not fail.
    let _ = clap_mangen::Man::new(page).render(&mut roff);
    output::print(&String::from_utf8_lossy(&roff))?;
    Ok(Outcome::Clean)
}
