//! `explain`: a rule of `check` with its reasons and examples.

use tidy_lattice_checks::catalogue::{self, Rule};

use crate::args::ExplainArgs;
use crate::error::{CliError, Outcome};
use crate::results::Explained;
use crate::{output, show};

/// Runs the command.
pub fn run(args: &ExplainArgs, json: bool) -> Result<Outcome, CliError> {
    let rules: Vec<Rule> = match &args.code {
        None => catalogue::rules().to_vec(),
        Some(code) => vec![catalogue::find(code).cloned().ok_or_else(|| {
            CliError::Usage(format!(
                "there is no rule {code:?}; `tidy-lattice explain` lists all"
            ))
        })?],
    };
    output::print(&if json {
        show::json::document("explain", &Explained { rules })
    } else {
        show::check::explained(&rules)
    })?;
    Ok(Outcome::Clean)
}
