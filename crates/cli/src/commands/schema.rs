//! `schema`: what `--json` promises.

use crate::args::{SchemaArgs, list};
use crate::error::{CliError, Outcome};
use crate::results::{
    AppStacks, BuiltStacks, Checked, Compared, Covered, Demo, Described, Explained, Forecasts,
    Platforms, Proved, RankedFaces, Recorded, Report, Shifts, Started, Traced, TrimmedFaces,
};
use crate::{output, show};

macro_rules! schemas {
    ($($group:literal $name:ident $variant:ident($args:ty) $about:literal $(=> $result:ty)?;)*) => {
        /// The schema of the command `name`, where it has one.
        fn of_command(name: &str) -> Option<String> {
            match name {
                $($(stringify!($name) => Some(show::json::schema::<$result>(name)),)?)*
                _ => None,
            }
        }
    };
}
list::commands!(schemas);

/// Runs the command.
pub fn run(args: &SchemaArgs, _json: bool) -> Result<Outcome, CliError> {
    let schema = match args.of.as_str() {
        "card" => show::json::card_schema(),
        "project" => show::json::project_schema(),
        "app" => show::json::schema::<AppStacks>("app"),
        // The command line takes no others.
        name => of_command(name).unwrap_or_default(),
    };
    output::print(&schema)?;
    Ok(Outcome::Clean)
}
