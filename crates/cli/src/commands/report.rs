//! `report`: everything that is known of a project, on one page.

use std::collections::BTreeMap;
use std::path::Path;

use base64::Engine as _;
use base64::prelude::BASE64_STANDARD;
use tidy_lattice_project::file::{self, Project};
use tidy_lattice_project::variants::Variant;

use super::build::{Stacks, pictures};
use super::check::check_paths;
use super::cover::cover_drawn;
use super::forecast::forecast_project;
use super::shift::shift_drawn;
use super::trim::trim_to_files;
use crate::args::{BuildArgs, CoverArgs, ReportArgs, SiteArgs};
use crate::error::{CliError, Outcome};
use crate::results::{Drawn, NotDone, Report, TrimmedFaces};
use crate::{input, output, show, writing};

/// The most bytes of fonts that are embedded, as files: a page should open at once.
const MOST_EMBEDDED: usize = 400 << 10;

/// The most bytes of pictures.
const MOST_DRAWN: usize = 700 << 10;

/// Runs the command.
pub fn run(args: &ReportArgs, json: bool) -> Result<Outcome, CliError> {
    let access = input::access(&args.limits);
    let project = Project::find(args.project.as_deref(), access)?;
    let Some(project) = project else {
        return Err(CliError::Usage(
            "there is no project file (tidy-lattice.toml) here or above; `tidy-lattice init` \
             writes one for a folder as it is"
                .to_owned(),
        ));
    };
    let path = args
        .project
        .clone()
        .unwrap_or_else(|| project.folder.join(file::NAME));
    if !json {
        // Told before the work, not after it.
        writing::may_write(&args.output, &[], args.force)?;
    }
    let (report, drawn) = gathered(&path)?;
    if json {
        output::print(&show::json::document("report", &report))?;
    } else {
        let page = show::report::page(&report, &drawn);
        writing::write_file(&args.output, page.as_bytes(), args.force)?;
        output::view(&show::report::brief(&report, &args.output, page.len()))?;
    }
    Ok(Outcome::of(show::report::is_wrong(&report)))
}

/// All parts that can be had.
fn gathered(path: &Path) -> Result<(Report, Drawn), CliError> {
    let mut not_done = Vec::new();
    let mut had = |part: &'static str, error: CliError| {
        let reason = error.to_string();
        not_done.push(NotDone { part, reason });
    };
    let stacks = super::build::stacks(&BuildArgs::of_project(path.to_owned()));
    let stacks = stacks.map_err(|error| had("build", error)).ok();
    // What was built now stands for the sheet where that is not there, for all parts.
    let missing = stacks.as_ref().filter(|stacks| !stacks.is_written());
    let site = SiteArgs {
        made: missing.map(Stacks::css),
        ..SiteArgs::default()
    };
    let mut covered = CoverArgs::of_project(path.to_owned());
    covered.stack.site = site.clone();
    let (cover, gaps) = cover_drawn(&covered)?;
    let check = check_paths(path, &[], &site)?;
    let mut variants = vec![Variant::Plain, Variant::Slices(1)];
    let built = stacks.as_ref().filter(|stacks| !stacks.built().is_empty());
    if built.is_some() {
        variants.insert(0, Variant::Built);
    }
    let (shift, moved) = match shift_drawn(path, &site, &variants, built) {
        Ok((shift, moved)) => (Some(shift), moved),
        Err(error) => {
            had("shift", error);
            (None, None)
        }
    };
    let forecast = forecast_project(path, &site);
    let forecast = forecast.map_err(|error| had("forecast", error)).ok();
    let trimmed = trim_to_files(path, &site);
    let trimmed = trimmed.map_err(|error| had("trim", error)).ok();
    let (trim, files) = trimmed.unzip();
    let files = files.unwrap_or_default();
    let cut = trim.as_ref().map(|trim| embedded(trim, &files));
    let (mut rules, embedded) = cut.unwrap_or_default();
    let mut stand_ins = Vec::new();
    if let Some(stacks) = &stacks {
        rules.push_str(&stacks.stand_in_rules());
        let mut left = MOST_DRAWN.saturating_sub(moved.as_ref().map_or(0, String::len));
        for (role, svg) in pictures(stacks) {
            match left.checked_sub(svg.len()) {
                Some(rest) => {
                    left = rest;
                    stand_ins.push((role, Some(svg)));
                }
                None => stand_ins.push((role, None)),
            }
        }
    }
    let report = Report {
        cover,
        check,
        of_devices: stacks
            .as_ref()
            .map_or_else(Vec::new, |s| s.of_devices().to_vec()),
        stacks: stacks.map_or_else(Vec::new, |stacks| stacks.built().to_vec()),
        shift,
        forecast,
        trim,
        not_done,
    };
    let drawn = Drawn {
        rules,
        embedded,
        stand_ins,
        moved,
        gaps,
    };
    Ok((report, drawn))
}

/// The rules of cut fonts with the files in them, and the families; a family that would make
/// the page too large is left out as a whole.
fn embedded(trim: &TrimmedFaces, files: &[(String, Vec<u8>)]) -> (String, Vec<String>) {
    let mut families: BTreeMap<&str, Vec<&(String, Vec<u8>)>> = BTreeMap::new();
    for face in &trim.faces {
        // Of each piece the first form.
        let names = face.files.iter().filter_map(|forms| forms.first());
        for name in names.map(|file| &file.name) {
            let bytes = files.iter().find(|(known, _)| known == name);
            families.entry(&face.family).or_default().extend(bytes);
        }
    }
    let mut left = MOST_EMBEDDED;
    families.retain(|_, files| {
        let size = files.iter().map(|(_, bytes)| bytes.len()).sum();
        left.checked_sub(size).map(|rest| left = rest).is_some()
    });
    let mut rules = String::new();
    for rule in trim.css.split_inclusive("}\n") {
        let mut files = families.values().flatten();
        let named = files.find(|(name, _)| rule.contains(&format!("url(\"{name}\")")));
        if let Some((name, bytes)) = named {
            let url = format!("data:font/woff2;base64,{}", BASE64_STANDARD.encode(bytes));
            rules.push_str(&rule.replace(name.as_str(), &url));
        }
    }
    (rules, families.into_keys().map(str::to_owned).collect())
}

#[cfg(test)]
mod tests {
    use super::{MOST_EMBEDDED, embedded};
    use crate::results::{TrimmedFace, TrimmedFaces, WrittenFile};

    fn face(family: &str, files: &[&str]) -> TrimmedFace {
        let written = |name: &&str| {
            let name = (*name).to_owned();
            vec![WrittenFile { name, bytes: 0 }]
        };
        TrimmedFace {
            source: String::new(),
            family: family.to_owned(),
            style: String::new(),
            bytes_before: 0,
            bytes: 0,
            files: files.iter().map(written).collect(),
            cut: tidy_lattice_core::trim::Trimmed {
                pieces: Vec::new(),
                glyphs_before: 0,
                missing: Default::default(),
                features: Vec::new(),
                features_gone: Vec::new(),
                tables_gone: Vec::new(),
                compact: false,
                borders: None,
                proven_outlines: 0,
                proven_texts: 0,
                axes: Vec::new(),
                off: 0.0,
            },
            lacks: Vec::new(),
            lacks_count: 0,
            notes: Vec::new(),
        }
    }

    #[test]
    fn families_are_embedded_whole_or_not_at_all() {
        let rule = |name: &str| format!("@font-face {{\n  src: url(\"{name}\");\n}}\n");
        let names = ["a.woff2", "b1.woff2", "b2.woff2", "c.woff2"];
        let trim = TrimmedFaces {
            faces: vec![
                face("Small", &names[..1]),
                // One of its two fits, both do not.
                face("Large", &names[1..3]),
                face("Last", &names[3..]),
            ],
            not_needed: Vec::new(),
            bytes_before: 0,
            bytes: 0,
            css: names.map(rule).concat(),
            fonts: Vec::new(),
            list: "fonts.css",
            folder: None,
        };
        let sizes = [10, MOST_EMBEDDED / 2, MOST_EMBEDDED / 2 + 1, 20];
        let files: Vec<(String, Vec<u8>)> = (names.iter().zip(sizes))
            .map(|(name, size)| ((*name).to_owned(), vec![7; size]))
            .collect();
        let (rules, families) = embedded(&trim, &files);
        assert_eq!(families, ["Last", "Small"]);
        assert_eq!(
            rules.matches("data:font/woff2;base64,").count(),
            2,
            "{rules}"
        );
        assert!(names.iter().all(|name| !rules.contains(name)), "{rules}");
    }
}
