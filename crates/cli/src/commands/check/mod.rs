//! `check`: font mistakes of a project, one list of them.

mod of_project;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use serde::{Deserialize, Serialize};
use tidy_lattice_checks::inputs::Inputs;
use tidy_lattice_checks::{Finding, Level, check, mend};
use tidy_lattice_core::platform::Device;
use tidy_lattice_project::app_faces;
use tidy_lattice_project::building::stand_for_missing;
use tidy_lattice_project::checking::{self, CheckRequest};
use tidy_lattice_project::file::Project;
use tidy_lattice_project::request::SiteRequest;
use tidy_lattice_project::stack::named_platforms;
use tidy_lattice_project::{Access, ProjectError};

use of_project::of_project;

use crate::args::{CheckArgs, CheckForm, SiteArgs};
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::{Change, Checked};
use crate::writing;
use crate::{input, kept, output, screen, show, watching};

/// Baselines beyond this size are refused, in bytes.
const LARGEST: u64 = 16 * 1024 * 1024;

/// Runs the command.
pub fn run(args: &CheckArgs, json: bool) -> Result<Outcome, CliError> {
    if args.watch {
        watching::watch(|| once(args, json))
    } else {
        once(args, json)
    }
}

fn once(args: &CheckArgs, json: bool) -> Result<Outcome, CliError> {
    let access = input::access(&args.limits);
    let project = Project::find(args.project.as_deref(), access)?;
    let mut checked = looked(args, project.as_ref(), access)?;
    if args.diff {
        output::print(&show::check::diff(&mended(&checked.findings)))?;
        return Ok(Outcome::of(
            checked.findings.iter().any(|one| !one.mend.is_empty()),
        ));
    }
    if args.fix {
        let files = mended(&checked.findings);
        let count: usize = files.iter().map(|file| file.findings).sum();
        let contents: Vec<(PathBuf, String)> = files
            .into_iter()
            .map(|file| (PathBuf::from(file.name), file.after))
            .collect();
        writing::replace_all(&contents)?;
        output::note(&format!(
            "{} mended in {}",
            show::count(count as u64, "finding was", "findings were"),
            show::count(contents.len() as u64, "file", "files")
        ));
        // What is left is told as it stands now.
        checked = looked(args, project.as_ref(), access)?;
    }
    if let Some(path) = &args.write_baseline {
        let list = Baseline::of(&checked.findings);
        let text = show::json::document("baseline", &list);
        writing::write_file(path, text.as_bytes(), args.force)?;
        output::note(&format!(
            "{} listed in {}",
            show::count(
                list.known.values().sum::<usize>() as u64,
                "finding is",
                "findings are"
            ),
            path.display()
        ));
        return Ok(Outcome::Clean);
    }
    deliver(args, json, &checked)?;
    let declared = project.as_ref().and_then(|project| project.check.fail_on);
    let fail = args
        .fail_on
        .map(Level::from)
        .or(declared)
        .unwrap_or(Level::Warning);
    Ok(Outcome::of(fails(&checked, fail)))
}

/// Whether something is found at `level` or above.
fn fails(checked: &Checked, level: Level) -> bool {
    match level {
        Level::Advice => checked.errors + checked.warnings + checked.advice > 0,
        Level::Warning => checked.errors + checked.warnings > 0,
        Level::Error => checked.errors > 0,
    }
}

/// What is found in `paths` of the project at `project`.
pub fn check_paths(
    project: &Path,
    paths: &[PathBuf],
    site: &SiteArgs,
) -> Result<Checked, CliError> {
    let args = CheckArgs {
        site: site.clone(),
        ..CheckArgs::of_paths(project.to_owned(), paths.to_vec())
    };
    let access = input::access(&args.limits);
    let project = Project::find(args.project.as_deref(), access)?;
    look(&args, project.as_ref(), access)
}

/// [`look`], or what it gave in an earlier run where nothing has changed since. The fonts of
/// this device are not files that are read, so what depends on them is always looked at.
fn looked(
    args: &CheckArgs,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<Checked, CliError> {
    let look = || look(args, project, access);
    let declared = project.map_or(&[][..], |project| &project.platforms);
    let mut platforms = args.platforms.iter().chain(declared);
    if args.no_cache || args.watch || platforms.any(|name| name.eq_ignore_ascii_case("here")) {
        return look();
    }
    kept::or_again(&(format!("{args:?}"), input::readable()), look)
}

/// Gathers and checks everything.
fn look(
    args: &CheckArgs,
    project: Option<&Project>,
    access: Access<'_>,
) -> Result<Checked, CliError> {
    let request = CheckRequest {
        paths: args.paths.clone(),
        platforms_named: !args.platforms.is_empty(),
        // Pages are checked as they are.
        site: SiteRequest {
            made: None,
            ..args.site.request()
        },
    };
    let platforms = named_platforms(&args.platforms, project, access)?;
    let devices: Vec<Device<'_>> = platforms.iter().map(|one| one.device(access)).collect();
    let known: Vec<_> = platforms.iter().map(|one| &one.platform).collect();
    let mut inputs = checking::gather(&request, project, &known, access)?;
    // Texts are held to the stacks that there will be; that their sheet is not there yet is
    // found at the pages that ask for it.
    let mut request = request;
    if request.paths.is_empty() {
        request.site.made.clone_from(&args.site.made);
        stand_for_missing(&mut request.site, project, access)?;
    }
    while_working("Checking", || {
        checking::texts(&mut inputs, &request, project, &devices, access)
    })?;
    let mut findings = check(&inputs);
    if let Some(project) = project.filter(|_| args.paths.is_empty()) {
        app_faces::in_project_file(&mut findings, project, access);
        findings.extend(app_faces::idle(project, access)?);
        findings.extend(of_project(args, project, access)?);
    }
    let allowed = allow(&mut findings, project)?;
    let known = match &args.baseline {
        Some(path) => Baseline::read(path, access)?.take_from(&mut findings),
        None => 0,
    };
    Ok(counted(args, findings, &inputs, (known, allowed)))
}

fn counted(
    args: &CheckArgs,
    mut findings: Vec<Finding>,
    inputs: &Inputs,
    (known, allowed): (usize, usize),
) -> Checked {
    let of = |findings: &[Finding], level| findings.iter().filter(|one| one.level == level).count();
    let (errors, warnings) = (of(&findings, Level::Error), of(&findings, Level::Warning));
    let advice = of(&findings, Level::Advice);
    let least = args.level.map_or(Level::Warning, Level::from);
    findings.retain(|finding| finding.level >= least);
    // The worst file first; in each the worst finding, then from top to bottom.
    let mut worst: BTreeMap<String, (Level, usize)> = BTreeMap::new();
    for finding in &findings {
        let file = worst
            .entry(finding.place.file.clone())
            .or_insert((finding.level, 0));
        file.0 = file.0.max(finding.level);
        file.1 += usize::from(finding.level == Level::Error);
    }
    findings.sort_by(|a, b| {
        let rank = |one: &Finding| {
            let (level, errors) = worst[&one.place.file];
            (std::cmp::Reverse(level), std::cmp::Reverse(errors))
        };
        rank(a)
            .cmp(&rank(b))
            .then(a.place.file.cmp(&b.place.file))
            .then(b.level.cmp(&a.level))
            .then(a.place.cmp(&b.place))
    });
    Checked {
        mendable: findings.iter().filter(|one| !one.mend.is_empty()).count(),
        findings,
        errors,
        warnings,
        advice,
        known,
        allowed,
        pages: inputs.pages.len(),
        sheets: (inputs.sheets.iter().filter(|sheet| !sheet.attribute)).count(),
        faces: inputs.faces.len(),
    }
}

/// Takes out what the project file allows; how many findings that were.
fn allow(findings: &mut Vec<Finding>, project: Option<&Project>) -> Result<usize, ProjectError> {
    let Some(project) = project else { return Ok(0) };
    let before = findings.len();
    for allowed in &project.check.allow {
        if tidy_lattice_checks::catalogue::find(&allowed.code).is_none() {
            return Err(ProjectError::Usage(format!(
                "check.allow: there is no rule {:?}; `tidy-lattice explain` lists all",
                allowed.code
            )));
        }
        let files = tidy_lattice_project::patterns::set(&allowed.files)?;
        findings.retain(|finding| {
            let path = Path::new(&finding.place.file);
            let inside = path.strip_prefix(&project.folder).unwrap_or(path);
            let meant = allowed.files.is_empty() || files.is_match(inside);
            !(finding.code == allowed.code && meant)
        });
    }
    Ok(before - findings.len())
}

/// The files that would be changed. Files that are no UTF-8 are left alone, as places in
/// them are those of what they were read as.
fn mended(findings: &[Finding]) -> Vec<Change> {
    let read = |file: &str| {
        std::fs::read(file)
            .ok()
            .and_then(|bytes| String::from_utf8(bytes).ok())
    };
    let files = mend::mended(findings, read);
    let changes = files.into_iter().filter_map(|(name, mended)| {
        Some(Change {
            before: read(&name)?,
            after: mended.text,
            findings: mended.findings,
            name,
        })
    });
    changes
        .filter(|change| change.before != change.after)
        .collect()
}

/// Findings that are known and not told again.
#[derive(Debug, Default, Serialize, Deserialize)]
struct Baseline {
    /// How often each is there: file, code and words.
    known: BTreeMap<String, usize>,
}

impl Baseline {
    fn key(finding: &Finding) -> String {
        // Lines move, words stay.
        let line = finding.excerpt.as_ref().map_or("", |excerpt| &excerpt.text);
        let (file, code, what) = (&finding.place.file, finding.code, &finding.what);
        format!("{file}: {code}: {what}: {line}")
    }

    fn of(findings: &[Finding]) -> Self {
        let mut list = Baseline::default();
        for finding in findings {
            *list.known.entry(Self::key(finding)).or_default() += 1;
        }
        list
    }

    fn read(path: &Path, access: Access<'_>) -> Result<Self, ProjectError> {
        let bytes = access.read(path, LARGEST)?;
        serde_json::from_slice(&bytes).map_err(|error| ProjectError::Unreadable {
            path: path.to_owned(),
            reason: format!("this is no list of --write-baseline: {error}"),
        })
    }

    /// Takes out the findings that are listed; how many that were.
    fn take_from(mut self, findings: &mut Vec<Finding>) -> usize {
        let before = findings.len();
        findings.retain(|finding| match self.known.get_mut(&Self::key(finding)) {
            Some(left) if *left > 0 => {
                *left -= 1;
                false
            }
            _ => true,
        });
        before - findings.len()
    }
}

/// Prints or writes the result.
fn deliver(args: &CheckArgs, json: bool, checked: &Checked) -> Result<(), CliError> {
    let text = match args.form {
        _ if json => show::json::document("check", checked),
        CheckForm::Text => screen::fit(&show::check::view(checked)),
        CheckForm::Sarif => show::check::sarif(checked),
        CheckForm::Junit => show::check::junit(checked),
        CheckForm::Markdown => show::check::markdown(checked),
        CheckForm::Annotations => show::check::annotations(checked),
    };
    match &args.output {
        Some(path) => {
            let plain = anstream::adapter::strip_str(&text).to_string();
            writing::write_file(path, plain.as_bytes(), args.force)?;
            output::note(&format!("the findings are in {}", path.display()));
            Ok(())
        }
        None => output::answer(json || args.form != CheckForm::Text, &text),
    }
}
