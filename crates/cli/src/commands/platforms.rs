//! `platforms`: what each platform has installed, and how well it is known.

use std::path::{Path, PathBuf};

use tidy_lattice_core::platform::{self, Device, Platform, files};
use tidy_lattice_project::{Access, platforms};

use crate::args::PlatformsArgs;
use crate::error::{CliError, Outcome};
use crate::results::{Merged, Platforms};
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
        common: Vec::new(),
        merged: None,
    };
    if !args.merge.is_empty() {
        shown.merged = merge(&args.merge, &mut shown.platforms, access)?;
    }
    if args.common {
        return common(args, shown, json, access);
    }
    if let Some(version) = &args.version {
        only(&mut shown.platforms, version)?;
    }
    output::answer(
        json,
        &if json {
            show::json::document("platforms", &shown)
        } else if overview {
            show::platforms::overview(&shown)
        } else {
            let pages = shown.platforms.iter();
            pages
                .map(|platform| show::platforms::page(platform, args.faces))
                .collect::<Vec<_>>()
                .join("\n")
                + &show::platforms::merged(&shown)
        },
    )?;
    Ok(Outcome::Clean)
}

/// Puts own cards in their places.
fn merge(
    cards: &[PathBuf],
    platforms: &mut [Platform],
    access: Access<'_>,
) -> Result<Option<Merged>, CliError> {
    let more_cards = platforms::faces_of(cards, access)?;
    let taken = platforms
        .iter_mut()
        .map(|platform| (platform.name.clone(), platform.take_cards(&more_cards)))
        .filter(|(_, taken)| *taken > 0)
        .collect();
    Ok(Some(Merged {
        cards: more_cards.len(),
        taken,
    }))
}

/// The families that several of the platforms have. `bare` has none and is left out.
fn common(
    args: &PlatformsArgs,
    mut shown: Platforms,
    json: bool,
    access: Access<'_>,
) -> Result<Outcome, CliError> {
    shown
        .platforms
        .retain(|platform| !platform.families.is_empty());
    let folder = |platform: &Platform| {
        // Cards of a platform of one's own lie beside its file.
        let named = args.names.iter().map(Path::new);
        let mut files = named.filter(|path| path.extension().is_some_and(|e| e == "toml"));
        let of_platform =
            files.find(|path| path.file_stem().is_some_and(|stem| *stem == *platform.name));
        of_platform
            .and_then(Path::parent)
            .unwrap_or(Path::new(""))
            .to_owned()
    };
    let devices: Vec<Device<'_>> = shown
        .platforms
        .iter()
        .map(|platform| {
            let folder = folder(platform);
            Device::new(platform, move |found| {
                platforms::measured(platform, found, &folder, access).ok()
            })
        })
        .collect();
    let found = platform::common(&devices);
    drop(devices);
    shown.common = found;
    super::tell(json, "platforms", &shown, || {
        show::platforms::common(&shown)
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
    output::view(&format!(
        "{} files are in {}; use them with --catalogue {}\n",
        files.len(),
        folder.display(),
        folder.display()
    ))?;
    Ok(Outcome::Clean)
}
