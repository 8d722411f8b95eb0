//! From arguments to what is read: requests, standard input, and who is told what
//! is going on.

use std::io::{self, IsTerminal as _};
use std::path::{Path, PathBuf};
use std::sync::OnceLock;

use tidy_lattice_core::font::Limits;
use tidy_lattice_core::text::Source;
use tidy_lattice_project::request::{
    BuildParts, SiteRequest, StackRequest, SurveyRequest, TextRequest,
};
use tidy_lattice_project::{
    Access, Disk, Kind, Machine, ProjectError, Steps, Watch, read_at_most, texts,
};

use crate::args::{BuildArgs, CoverArgs, LimitArgs, SiteArgs, StackArgs, TextArgs};
use crate::error::CliError;
use crate::output;
use crate::progress::Progress;
use crate::recording::{self, Question, asked, digest, digest_of_kind};
use crate::writing;

/// Text beyond this size is refused: 1 GiB.
const LARGEST_TEXT: u64 = 1 << 30;

/// The files of this machine within `limits`; the user is told what is going on.
pub fn access(limits: &LimitArgs) -> Access<'static> {
    Access {
        limits: Limits {
            unpacked: u64::from(limits.font_limit) * 1024 * 1024,
        },
        ..plain_access()
    }
}

/// The files of this machine within the usual limits.
pub fn plain_access() -> Access<'static> {
    Access {
        disk: &Remembering,
        limits: Limits::DEFAULT,
        watch: &Terminal,
        may_read: readable(),
    }
}

/// Folders that pages and style sheets may read, as the user says for all commands.
static MAY_READ: OnceLock<Vec<PathBuf>> = OnceLock::new();

/// Folders that pages and style sheets may read, as the user says.
pub fn readable() -> &'static [PathBuf] {
    MAY_READ.get().map_or(&[], Vec::as_slice)
}

/// Lets pages and style sheets read `folders`.
///
/// # Errors
///
/// [`CliError`] where one is no folder.
pub fn let_read(folders: &[PathBuf]) -> Result<(), CliError> {
    if let Some(folder) = folders.iter().find(|folder| !folder.is_dir()) {
        return Err(ProjectError::Usage(format!(
            "--may-read {}: there is no such folder",
            folder.display()
        ))
        .into());
    }
    MAY_READ.get_or_init(|| folders.to_vec());
    Ok(())
}

/// The files of this machine; what is read is not written over.
struct Remembering;

impl Disk for Remembering {
    fn kind(&self, path: &Path) -> Option<Kind> {
        let kind = Machine.kind(path);
        asked(|| Question::Kind(path.to_owned()), || digest_of_kind(kind));
        kind
    }

    fn real(&self, path: &Path) -> Option<PathBuf> {
        let real = Machine.real(path);
        asked(|| Question::Real(path.to_owned()), || digest(&real));
        real
    }

    fn size(&self, path: &Path) -> Option<u64> {
        let size = Machine.size(path);
        asked(|| Question::Size(path.to_owned()), || digest(&size));
        size
    }

    fn read(&self, path: &Path, limit: u64) -> Result<Vec<u8>, ProjectError> {
        writing::remember_read(path);
        let read = Machine.read(path, limit);
        if Machine.kind(path) == Some(Kind::Other) {
            recording::read_once();
        } else {
            let question = || Question::Read(path.to_owned(), limit);
            asked(question, || digest(&read.as_ref().ok()));
        }
        read
    }

    fn folder(&self, folder: &Path) -> Result<Vec<PathBuf>, ProjectError> {
        let listed = Machine.folder(folder);
        let question = || Question::Folder(folder.to_owned());
        asked(question, || digest(&listed.as_ref().ok()));
        listed
    }

    fn files(&self, folder: &Path, tidy: bool) -> Vec<PathBuf> {
        let files = Machine.files(folder, tidy);
        asked(
            || Question::Files(folder.to_owned(), tidy),
            || digest(&files),
        );
        files
    }
}

/// The user at the terminal.
struct Terminal;

impl Watch for Terminal {
    fn note(&self, text: &str) {
        recording::record_note(text);
        output::note(text);
    }

    fn start(&self, label: &'static str, total: usize) -> Box<dyn Steps> {
        Box::new(Progress::start(label, total))
    }
}

impl Steps for Progress {
    fn step(&self) {
        Progress::step(self);
    }
}

/// The text of standard input.
pub fn standard_input() -> Result<Source, CliError> {
    let name = Path::new("standard input");
    recording::read_once();
    let bytes = read_at_most(io::stdin().lock(), name, LARGEST_TEXT)?;
    Ok(texts::source(name, bytes)?)
}

impl TextArgs {
    /// The texts, with what is piped in where `-` names it; where no text is named,
    /// and one is `needed`, what is piped in is it.
    pub fn request(&self, needed: bool) -> Result<TextRequest, CliError> {
        let named = self.files.iter().any(|path| path.as_os_str() == "-");
        let empty = self.files.is_empty() && self.texts.is_empty();
        let piped = named || (needed && empty && !io::stdin().is_terminal());
        Ok(TextRequest {
            files: self.files.clone(),
            texts: self.texts.clone(),
            piped: if piped { Some(standard_input()?) } else { None },
        })
    }
}

/// Texts and text files of commands that measure.
pub fn measured_text(texts: &[String], files: &[PathBuf]) -> Result<TextRequest, CliError> {
    let args = TextArgs {
        files: files.to_vec(),
        texts: texts.to_vec(),
    };
    args.request(false)
}

impl StackArgs {
    /// The stack.
    pub fn request(&self) -> StackRequest {
        StackRequest {
            fonts: self.fonts.clone(),
            stack: self.stack.clone(),
            sheets: self.sheets.clone(),
            role: self.role.clone(),
            platforms: self.platforms.clone(),
            site: self.site.request(),
        }
    }
}

impl SiteArgs {
    /// Where the files of the site are.
    pub fn request(&self) -> SiteRequest {
        SiteRequest {
            root: self.root.clone(),
            maps: self.maps.clone(),
            made: self.made.clone(),
        }
    }
}

impl CoverArgs {
    /// What is asked for; `project` tells whether there is one that names texts.
    pub fn request(&self, project: bool) -> Result<SurveyRequest, CliError> {
        let stack = &self.stack;
        let given = !stack.fonts.is_empty();
        let of_project = project && !given && stack.stack.is_none() && stack.role.is_none();
        Ok(SurveyRequest {
            text: self
                .text
                .request(self.languages.is_empty() && !of_project)?,
            stack: stack.request(),
            languages: self.languages.clone(),
            known: self.known.clone(),
            allow: self.allow.clone(),
        })
    }
}

impl BuildArgs {
    /// What stacks are built from.
    pub fn parts(&self) -> Result<BuildParts, CliError> {
        Ok(BuildParts {
            web: self.web.clone(),
            locals: self.locals.clone(),
            platforms: self.platforms.clone(),
            signs: self.signs.clone(),
            scripts: self.scripts.clone(),
            role: self.role.clone(),
            pages: Vec::new(),
            text: self.text.request(false)?,
            language: self.main_language().to_owned(),
            text_use: self.text_use.map(Into::into),
            class: self.class.map(Into::into),
            like: self.like.clone(),
            resize: self.resize,
            languages: self.languages.clone(),
            sizes: self.sizes.clone(),
            line_height: self.line_height,
            widths: self.widths.clone(),
            weights: self.weights.clone(),
            generic: self.generic.clone(),
            family: self.family.clone(),
            url: self.url.clone(),
            url_base: self.url_base.clone(),
            site: self.site.request(),
        })
    }
}
