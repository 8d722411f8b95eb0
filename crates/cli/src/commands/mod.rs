//! One file a command; each gathers, computes and shows.

mod build;
mod check;
mod compare;
mod completions;
mod cover;
mod demo;
mod describe;
mod explain;
mod forecast;
mod init;
mod man;
mod measuring;
mod platforms;
mod prove;
mod rank;
mod record;
mod report;
mod schema;
mod shift;
mod trace;
mod trim;

use serde::Serialize;

use crate::args::{Args, Command, list};
use crate::error::{CliError, Outcome};
use crate::{output, show};

macro_rules! dispatch {
    ($($group:literal $name:ident $variant:ident($args:ty) $about:literal $(=> $result:ty)?;)*) => {
        /// Runs the command of `args`.
        pub fn run(args: &Args) -> Result<Outcome, CliError> {
            match &args.command {
                $(Command::$variant(command) => $name::run(command, args.json),)*
            }
        }
    };
}
list::commands!(dispatch);

/// Prints what a command gives: as the document `name` of JSON, or as a view for people.
fn tell<T: Serialize>(
    json: bool,
    name: &str,
    result: &T,
    view: impl FnOnce() -> String,
) -> Result<(), CliError> {
    let text = if json {
        show::json::document(name, result)
    } else {
        view()
    };
    output::answer(json, &text)
}
