//! `explain`: a rule of `check` with its reasons and examples, or a word and its meaning.

use tidy_lattice_checks::catalogue;

use crate::args::ExplainArgs;
use crate::error::{CliError, Outcome};
use crate::results::Explained;
use crate::{glossary, show};

/// Runs the command.
pub fn run(args: &ExplainArgs, json: bool) -> Result<Outcome, CliError> {
    let asked = args.about.join(" ");
    let explained = if asked.is_empty() {
        Explained {
            rules: catalogue::rules().to_vec(),
            words: glossary::words().to_vec(),
        }
    } else {
        let rule = catalogue::find(&asked);
        let word = glossary::find(&asked);
        if rule.is_none() && word.is_none() {
            return Err(CliError::Usage(format!(
                "there is no rule and no word {asked:?}; `tidy-lattice explain` lists all"
            )));
        }
        // What is spelled exactly so is meant.
        let word = word.filter(|_| rule.is_none());
        Explained {
            rules: rule.cloned().into_iter().collect(),
            words: word.cloned().into_iter().collect(),
        }
    };
    super::tell(json, "explain", &explained, || {
        show::explain::view(&explained)
    })?;
    Ok(Outcome::Clean)
}
