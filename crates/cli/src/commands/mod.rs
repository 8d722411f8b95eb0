//! One file a command; each gathers, computes and shows.

mod build;
mod compare;
mod completions;
mod cover;
mod demo;
mod describe;
mod man;
mod platforms;
mod prove;
mod rank;
mod record;
mod schema;
mod shift;
mod trace;

use crate::args::{Args, Command};
use crate::error::{CliError, Outcome};

/// Runs the command of `args`.
pub fn run(args: &Args) -> Result<Outcome, CliError> {
    match &args.command {
        Command::Describe(command) => describe::run(command, args.json),
        Command::Compare(command) => compare::run(command, args.json),
        Command::Platforms(command) => platforms::run(command, args.json),
        Command::Record(command) => record::run(command, args.json),
        Command::Cover(command) => cover::run(command, args.json),
        Command::Trace(command) => trace::run(command, args.json),
        Command::Rank(command) => rank::run(command, args.json),
        Command::Build(command) => build::run(command, args.json),
        Command::Shift(command) => shift::run(command, args.json),
        Command::Prove(command) => prove::run(command, args.json),
        Command::Demo(command) => demo::run(command, args.json),
        Command::Schema(command) => schema::run(command),
        Command::Completions(command) => completions::run(command),
        Command::Man(command) => man::run(command),
    }
}
