//! `schema`: what `--json` promises.

use crate::args::{SchemaArgs, SchemaOf};
use crate::error::{CliError, Outcome};
use crate::results::{
    AppStacks, BuiltStacks, Compared, Covered, Demo, Described, Platforms, Proved, RankedFaces,
    Recorded, Shifts, Traced,
};
use crate::{output, show};

/// Runs the command.
pub fn run(args: &SchemaArgs) -> Result<Outcome, CliError> {
    output::print(&match args.of {
        SchemaOf::Describe => show::json::schema::<Described>("describe"),
        SchemaOf::Compare => show::json::schema::<Compared>("compare"),
        SchemaOf::Platforms => show::json::schema::<Platforms>("platforms"),
        SchemaOf::Record => show::json::schema::<Recorded>("record"),
        SchemaOf::Card => show::json::card_schema(),
        SchemaOf::Cover => show::json::schema::<Covered>("cover"),
        SchemaOf::Trace => show::json::schema::<Traced>("trace"),
        SchemaOf::Project => show::json::project_schema(),
        SchemaOf::Rank => show::json::schema::<RankedFaces>("rank"),
        SchemaOf::Build => show::json::schema::<BuiltStacks>("build"),
        SchemaOf::App => show::json::schema::<AppStacks>("app"),
        SchemaOf::Shift => show::json::schema::<Shifts>("shift"),
        SchemaOf::Prove => show::json::schema::<Proved>("prove"),
        SchemaOf::Demo => show::json::schema::<Demo>("demo"),
    })?;
    Ok(Outcome::Clean)
}
