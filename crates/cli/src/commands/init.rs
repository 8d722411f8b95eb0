//! `init`: a project file for a folder as it is found.

use tidy_lattice_project::{file, starting};

use crate::args::{InitArgs, LimitArgs};
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::Started;
use crate::writing;
use crate::{input, output, show};

/// Runs the command.
pub fn run(args: &InitArgs, json: bool) -> Result<Outcome, CliError> {
    let access = input::access(&LimitArgs { font_limit: 64 });
    let path = args.folder.join(file::NAME);
    if !args.print && !args.force && path.exists() {
        return Err(CliError::Unwritable {
            path,
            reason: "there is a project file already; --print shows what a new one would hold, \
                     --force writes it"
                .to_owned(),
        });
    }
    let start = while_working("Looking around", || starting::look(&args.folder, access))?;
    let mut next = vec!["tidy-lattice check".to_owned()];
    if start.pages > 0 {
        next.push("tidy-lattice cover".to_owned());
    }
    next.push(match (start.roles.is_empty(), start.pages) {
        (false, _) => "tidy-lattice build".to_owned(),
        (true, _) => "tidy-lattice platforms".to_owned(),
    });
    if !args.print {
        writing::write_file(&path, start.toml.as_bytes(), args.force)?;
    }
    let started = Started {
        file: (!args.print).then(|| path.display().to_string()),
        start,
        next,
    };
    // The file is printed as it would be written.
    output::answer(
        json || args.print,
        &if json {
            show::json::document("init", &started)
        } else if args.print {
            started.start.toml.clone()
        } else {
            show::init::view(&started, &args.folder)
        },
    )?;
    Ok(Outcome::Clean)
}
