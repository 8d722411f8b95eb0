//! Files that lie in memory: for tests, and for programs that have theirs elsewhere.

use std::collections::BTreeMap;
use std::path::{Component, Path, PathBuf};

use super::ProjectError;
use super::access::{Disk, Kind};

/// Files by path.
#[derive(Debug, Clone, Default)]
pub struct Memory(BTreeMap<PathBuf, Vec<u8>>);

impl Memory {
    /// These files, by path.
    pub fn of(files: &[(&str, &[u8])]) -> Self {
        let mut memory = Memory::default();
        for (path, bytes) in files {
            memory.put(path, bytes);
        }
        memory
    }

    /// Puts a file in, or in place of another.
    pub fn put(&mut self, path: impl AsRef<Path>, bytes: &[u8]) {
        self.0.insert(path.as_ref().to_owned(), bytes.to_vec());
    }
}

/// A path without `.` and `folder/..`.
fn plain(path: &Path) -> PathBuf {
    let mut plain = PathBuf::new();
    for part in path.components() {
        match part {
            Component::CurDir => {}
            Component::ParentDir => {
                plain.pop();
            }
            part => plain.push(part),
        }
    }
    plain
}

impl Disk for Memory {
    fn kind(&self, path: &Path) -> Option<Kind> {
        let path = &plain(path);
        if self.0.contains_key(path) {
            return Some(Kind::File);
        }
        let inside = |file: &PathBuf| path.as_os_str().is_empty() || file.starts_with(path);
        self.0.keys().any(inside).then_some(Kind::Folder)
    }

    fn real(&self, path: &Path) -> Option<PathBuf> {
        self.kind(path).map(|_| plain(path))
    }

    fn size(&self, path: &Path) -> Option<u64> {
        self.0.get(&plain(path)).map(|bytes| bytes.len() as u64)
    }

    fn read(&self, path: &Path, limit: u64) -> Result<Vec<u8>, ProjectError> {
        let unreadable = |reason: &str| ProjectError::Unreadable {
            path: path.to_owned(),
            reason: reason.to_owned(),
        };
        let found = self.0.get(&plain(path));
        let found = found.ok_or_else(|| unreadable("there is no such file"))?;
        if found.len() as u64 > limit {
            return Err(unreadable("the file is too large"));
        }
        Ok(found.clone())
    }

    fn folder(&self, folder: &Path) -> Result<Vec<PathBuf>, ProjectError> {
        let folder = plain(folder);
        let inside = self.0.keys().filter(|path| path.parent() == Some(&folder));
        Ok(inside.cloned().collect())
    }

    fn files(&self, folder: &Path, _: bool) -> Vec<PathBuf> {
        let tidy = plain(folder);
        let inside = self.0.keys().filter(|path| path.starts_with(&tidy));
        // As on a disk, paths begin with the folder as it was named.
        inside
            .filter_map(|path| Some(folder.join(path.strip_prefix(&tidy).ok()?)))
            .collect()
    }
}

/// A disk with files in memory before it.
pub struct Over<'d> {
    /// What lies in memory.
    pub memory: Memory,
    /// What lies behind it.
    pub disk: &'d dyn Disk,
}

impl Disk for Over<'_> {
    fn kind(&self, path: &Path) -> Option<Kind> {
        self.memory.kind(path).or_else(|| self.disk.kind(path))
    }

    fn real(&self, path: &Path) -> Option<PathBuf> {
        let on_disk = self.disk.real(path);
        if on_disk.is_some() || self.memory.kind(path).is_none() {
            return on_disk;
        }
        // What is in memory alone lies in its folder, with the links of that followed.
        let folder = path.parent().and_then(|folder| {
            self.real(match folder.as_os_str().is_empty() {
                true => Path::new("."),
                false => folder,
            })
        });
        match (folder, path.file_name()) {
            (Some(folder), Some(name)) => Some(folder.join(name)),
            _ => self.memory.real(path),
        }
    }

    fn size(&self, path: &Path) -> Option<u64> {
        self.memory.size(path).or_else(|| self.disk.size(path))
    }

    fn read(&self, path: &Path, limit: u64) -> Result<Vec<u8>, ProjectError> {
        match self.memory.kind(path) {
            Some(Kind::File) => self.memory.read(path, limit),
            _ => self.disk.read(path, limit),
        }
    }

    fn folder(&self, folder: &Path) -> Result<Vec<PathBuf>, ProjectError> {
        let in_memory = self.memory.folder(folder)?;
        let on_disk = match self.disk.folder(folder) {
            Ok(paths) => paths,
            Err(error) if in_memory.is_empty() => return Err(error),
            Err(_) => Vec::new(),
        };
        Ok(both(in_memory, on_disk))
    }

    fn files(&self, folder: &Path, tidy: bool) -> Vec<PathBuf> {
        both(
            self.memory.files(folder, tidy),
            self.disk.files(folder, tidy),
        )
    }
}

fn both(mut paths: Vec<PathBuf>, more: Vec<PathBuf>) -> Vec<PathBuf> {
    paths.extend(more);
    paths.sort();
    paths.dedup();
    paths
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_in_memory_lies_before_the_disk() {
        let disk = Memory::of(&[("a/one.txt", b"disk"), ("a/two.txt", b"two")]);
        let over = Over {
            memory: Memory::of(&[("a/one.txt", b"memory"), ("a/new/three.txt", b"3")]),
            disk: &disk,
        };
        let read = |path: &str| over.read(Path::new(path), 100).expect("a file");
        assert_eq!(read("a/one.txt"), b"memory");
        assert_eq!(read("a/two.txt"), b"two");
        assert_eq!(over.size(Path::new("a/one.txt")), Some(6));
        assert_eq!(over.kind(Path::new("a/new")), Some(Kind::Folder));
        assert_eq!(over.kind(Path::new("a/none")), None);
        assert!(over.read(Path::new("a/one.txt"), 3).is_err());
        let names = |paths: Vec<PathBuf>| -> Vec<String> {
            let names = paths.iter().map(|path| path.display().to_string());
            names.collect()
        };
        assert_eq!(
            names(over.folder(Path::new("a")).expect("a folder")),
            ["a/one.txt", "a/two.txt"]
        );
        assert_eq!(
            names(over.files(Path::new("a"), true)),
            ["a/new/three.txt", "a/one.txt", "a/two.txt"]
        );
        assert!(
            over.folder(Path::new("nowhere"))
                .is_ok_and(|files| files.is_empty())
        );
        assert_eq!(
            over.real(Path::new("a/new/three.txt")),
            Some(PathBuf::from("a/new/three.txt"))
        );
    }
}
