//! `platforms`: what each platform has installed, and how well it is known.

use std::path::Path;

use tidy_lattice_core::platform::{Platform, files};
use tidy_lattice_project::platforms;

use crate::args::PlatformsArgs;
use crate::error::{CliError, Outcome};
use crate::results::Platforms;
use crate::writing;
use crate::{input, output, show};

/// Runs the command.
pub fn run(args: &PlatformsArgs, json: bool) -> Result<Outcome, CliError> {
    if let Some(folder) = &args.export {
        return export(folder, args.force);
    }
    let access = input::access(&args.limits);
    let known = platforms::catalogue(args.catalogue.as_deref(), access)?;
    let named = args
        .names
        .iter()
        .map(|name| platforms::platform(name, &known, access))
        .collect::<Result<Vec<_>, _>>()?;
    let overview = named.is_empty();
    let mut shown = Platforms {
        platforms: if overview { known } else { named },
    };
    if let Some(version) = &args.version {
        only(&mut shown.platforms, version)?;
    }
    output::print(&if json {
        show::json::document("platforms", &shown)
    } else if overview {
        show::platforms::overview(&shown)
    } else {
        let pages = shown.platforms.iter();
        pages
            .map(|platform| show::platforms::page(platform, args.faces))
            .collect::<Vec<_>>()
            .join("\n")
    })?;
    Ok(Outcome::Clean)
}

/// Leaves the families that `version` of each platform ships.
fn only(platforms: &mut [Platform], version: &str) -> Result<(), CliError> {
    for platform in platforms {
        if !platform.versions.iter().any(|known| known == version) {
            return Err(CliError::Usage(format!(
                "--version-of-system {version}: {} tells apart {}",
                platform.title,
                platform.versions.join(", ")
            )));
        }
        let all = std::mem::take(&mut platform.families);
        platform.families = all
            .into_iter()
            .filter(|family| platform.ships(family, version))
            .collect();
    }
    Ok(())
}

/// Writes the built-in catalogue, to be changed and used in its place.
fn export(folder: &Path, force: bool) -> Result<Outcome, CliError> {
    let files = files();
    for (path, bytes) in &files {
        let target = folder.join(path);
        let parent = target.parent().unwrap_or(folder);
        writing::make_folder(parent)?;
        writing::write_file(&target, bytes, force)?;
    }
    output::print(&format!(
        "{} files are in {}; use them with --catalogue {}\n",
        files.len(),
        folder.display(),
        folder.display()
    ))?;
    Ok(Outcome::Clean)
}
