//! Results kept from one run to the next, in the user's cache folder: where every file that a
//! command read is the same as then, so is its result.
//!
//! A file is named by what decides besides: the program itself, where it runs, what it is asked.
//! Runs side by side write whole files in turn. Where the folder cannot be read or written, or
//! holds something else, the work is done as if nothing had been kept.

use std::fs;
use std::hash::Hash;
use std::io::Write as _;
use std::path::{Path, PathBuf};
use std::time::SystemTime;

use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};

use crate::error::CliError;
use crate::recording::{Recording, digest, record};
use crate::{output, writing};

/// The most that one result may take, in bytes.
const LARGEST: u64 = 64 * 1024 * 1024;

/// The most results that are kept; the oldest go.
const MOST: usize = 64;

#[derive(Serialize, Deserialize)]
struct Kept<T> {
    recording: Recording,
    result: T,
}

/// The result of `work`, or that of an earlier run where nothing has changed since; `asked` is
/// everything that decides over it besides the files that are read.
pub fn or_again<T: Serialize + DeserializeOwned>(
    asked: &impl Hash,
    work: impl FnOnce() -> Result<T, CliError>,
) -> Result<T, CliError> {
    let Some(place) = place(asked) else {
        return work();
    };
    if let Some(kept) = read::<T>(&place).filter(|kept| kept.recording.holds()) {
        // They are inputs as if they had been read now: no output may replace them.
        kept.recording.files().for_each(writing::remember_read);
        for note in &kept.recording.notes {
            output::note(note);
        }
        return Ok(kept.result);
    }
    let (result, recording) = record(work);
    let result = result?;
    if recording.once {
        return Ok(result);
    }
    let kept = Kept { recording, result };
    // What cannot be kept is made again.
    let _ = write(&place, &kept);
    Ok(kept.result)
}

/// Where the result lies; nowhere where there is no folder for it.
fn place(asked: &impl Hash) -> Option<PathBuf> {
    let program = std::env::current_exe().ok()?;
    let metadata = fs::metadata(&program).ok()?;
    let changed = metadata.modified().ok()?;
    let since = changed.duration_since(SystemTime::UNIX_EPOCH).ok()?;
    let here = std::env::current_dir().ok()?;
    let key = digest(&(program, metadata.len(), since, here, Hashed(asked)));
    Some(folder()?.join(format!("{key:016x}.json")))
}

/// A reference that is hashed as what it refers to.
struct Hashed<'a, T>(&'a T);

impl<T: Hash> Hash for Hashed<'_, T> {
    fn hash<H: std::hash::Hasher>(&self, state: &mut H) {
        self.0.hash(state);
    }
}

/// The folder of kept results.
fn folder() -> Option<PathBuf> {
    Some(dirs::cache_dir()?.join("tidy-lattice"))
}

fn read<T: DeserializeOwned>(place: &Path) -> Option<Kept<T>> {
    let size = fs::metadata(place).ok()?.len();
    if size > LARGEST {
        return None;
    }
    serde_json::from_slice(&fs::read(place).ok()?).ok()
}

fn write<T: Serialize>(place: &Path, kept: &Kept<T>) -> std::io::Result<()> {
    let bytes = serde_json::to_vec(kept)?;
    let Some(folder) = place.parent().filter(|_| bytes.len() as u64 <= LARGEST) else {
        return Ok(());
    };
    fs::create_dir_all(folder)?;
    let mut file = tempfile::NamedTempFile::new_in(folder)?;
    file.write_all(&bytes)?;
    file.persist(place)?;
    thin_out(folder)
}

/// Takes away the oldest results beyond those that may stay.
fn thin_out(folder: &Path) -> std::io::Result<()> {
    let entries = fs::read_dir(folder)?.filter_map(Result::ok);
    let mut results: Vec<(SystemTime, PathBuf)> = entries
        .filter_map(|entry| {
            let path = entry.path();
            let ours = path.extension().is_some_and(|ending| ending == "json");
            ours.then(|| Some((entry.metadata().ok()?.modified().ok()?, path)))?
        })
        .collect();
    results.sort();
    let more = results.len().saturating_sub(MOST);
    for (_, path) in &results[..more] {
        fs::remove_file(path)?;
    }
    Ok(())
}
