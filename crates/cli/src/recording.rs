//! What a command asked of the disk, and whether the answers are still the same: so its result
//! can be kept (`kept.rs`), or made again once something changes (`watching.rs`).

use std::collections::BTreeMap;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::path::{Path, PathBuf};
use std::sync::{Mutex, PoisonError};

use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use tidy_lattice_project::{Disk, Kind, Machine};

/// More questions than this are not remembered.
const MOST: usize = 1_000_000;

/// A question to the disk.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
pub enum Question {
    /// What lies at a path.
    Kind(PathBuf),
    /// A path with all links followed.
    Real(PathBuf),
    /// The size of a file.
    Size(PathBuf),
    /// A file of at most so many bytes.
    Read(PathBuf, u64),
    /// What lies in a folder.
    Folder(PathBuf),
    /// The files below a folder; whether hidden ones and those of packages are passed over.
    Files(PathBuf, bool),
}

/// Questions with what tells that their answers are the same, and what the user was told.
#[derive(Debug, Default, Serialize, Deserialize)]
pub struct Recording {
    #[serde(with = "pairs")]
    answers: BTreeMap<Question, u64>,
    /// What the user was told besides the result.
    pub notes: Vec<String>,
    /// Whether something was read that cannot be read again: a pipe, a device.
    pub once: bool,
}

/// Answers as a list: keys of maps in JSON are strings.
mod pairs {
    use std::collections::BTreeMap;

    use serde::{Deserialize, Deserializer, Serialize, Serializer};

    use super::Question;

    pub fn serialize<S: Serializer>(
        answers: &BTreeMap<Question, u64>,
        to: S,
    ) -> Result<S::Ok, S::Error> {
        let pairs: Vec<(&Question, &u64)> = answers.iter().collect();
        pairs.serialize(to)
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(
        from: D,
    ) -> Result<BTreeMap<Question, u64>, D::Error> {
        let pairs: Vec<(Question, u64)> = Vec::deserialize(from)?;
        Ok(pairs.into_iter().collect())
    }
}

/// The recording that goes on, if there is one.
static GOING_ON: Mutex<Option<Recording>> = Mutex::new(None);

/// Does `work` and records what it asks of the disk.
pub fn record<T>(work: impl FnOnce() -> T) -> (T, Recording) {
    *lock() = Some(Recording::default());
    let result = work();
    (result, lock().take().unwrap_or_default())
}

/// Records a question and the digest of its answer, which is only made where it is needed.
pub fn asked(question: impl FnOnce() -> Question, answer: impl FnOnce() -> u64) {
    if lock().is_none() {
        return;
    }
    // The digest is made while nobody waits.
    let (question, answer) = (question(), answer());
    if let Some(recording) = lock().as_mut() {
        match recording.answers.len() < MOST {
            true => {
                recording.answers.insert(question, answer);
            }
            false => recording.once = true,
        }
    }
}

/// Records what the user was told.
pub fn record_note(text: &str) {
    if let Some(recording) = lock().as_mut() {
        recording.notes.push(text.to_owned());
    }
}

/// Records that something was read that cannot be read again.
pub fn read_once() {
    if let Some(recording) = lock().as_mut() {
        recording.once = true;
    }
}

impl Recording {
    /// Whether every answer is the same now.
    pub fn holds(&self) -> bool {
        let answers: Vec<(&Question, &u64)> = self.answers.iter().collect();
        !self.once
            && answers
                .par_iter()
                .all(|(question, answer)| question.answer() == **answer)
    }

    /// The first path whose answer is another one now.
    pub fn changed(&self) -> Option<&Path> {
        let answers: Vec<(&Question, &u64)> = self.answers.iter().collect();
        let found = answers
            .par_iter()
            .find_first(|(question, answer)| question.answer() != **answer);
        found.map(|(question, _)| question.path())
    }

    /// The folders in which a change may change an answer.
    pub fn folders(&self) -> Vec<PathBuf> {
        let mut folders: Vec<PathBuf> = Vec::new();
        for question in self.answers.keys() {
            let path = question.path();
            let parent = path.parent().map(Path::to_owned).unwrap_or_default();
            match question {
                Question::Folder(_) => folders.push(path.to_owned()),
                Question::Files(_, tidy) => {
                    folders.push(path.to_owned());
                    let files = Machine.files(path, *tidy);
                    let around = files.iter().filter_map(|file| file.parent());
                    folders.extend(around.map(Path::to_owned));
                }
                Question::Real(_) => {}
                _ => folders.push(parent),
            }
        }
        folders.sort();
        folders.dedup();
        folders
    }

    /// The files that were read.
    pub fn files(&self) -> impl Iterator<Item = &Path> {
        let read = self.answers.keys();
        read.filter(|question| matches!(question, Question::Read(..)))
            .map(Question::path)
    }
}

impl Question {
    fn path(&self) -> &Path {
        match self {
            Question::Kind(path)
            | Question::Real(path)
            | Question::Size(path)
            | Question::Read(path, _)
            | Question::Folder(path)
            | Question::Files(path, _) => path,
        }
    }

    /// Asks again.
    fn answer(&self) -> u64 {
        match self {
            Question::Kind(path) => digest_of_kind(Machine.kind(path)),
            Question::Real(path) => digest(&Machine.real(path)),
            Question::Size(path) => digest(&Machine.size(path)),
            Question::Read(path, limit) => digest(&Machine.read(path, *limit).ok()),
            Question::Folder(path) => digest(&Machine.folder(path).ok()),
            Question::Files(path, tidy) => digest(&Machine.files(path, *tidy)),
        }
    }
}

/// What tells two answers apart; the same in every run of one program.
pub fn digest(answer: &impl Hash) -> u64 {
    let mut hasher = DefaultHasher::new();
    answer.hash(&mut hasher);
    hasher.finish()
}

/// [`digest`] of what lies at a path.
pub fn digest_of_kind(kind: Option<Kind>) -> u64 {
    match kind {
        None => 0,
        Some(Kind::File) => 1,
        Some(Kind::Folder) => 2,
        Some(Kind::Other) => 3,
    }
}

fn lock() -> std::sync::MutexGuard<'static, Option<Recording>> {
    GOING_ON.lock().unwrap_or_else(PoisonError::into_inner)
}
