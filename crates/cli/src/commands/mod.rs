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
mod platforms;
mod prove;
mod rank;
mod record;
mod schema;
mod shift;
mod trace;
mod trim;

use crate::args::{Args, Command, list};
use crate::error::{CliError, Outcome};

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
