//! A temporary folder with fonts and texts, and the program run in it.

use std::path::{Path, PathBuf};
use std::process::Output;
use std::sync::LazyLock;

use assert_cmd::Command;
use serde_json::Value;
use tempfile::TempDir;

/// Files of the demo that every test finds in its folder.
const FONTS: [(&str, &str); 4] = [
    ("sans.ttf", "fonts/SkerrymarkSans-Regular.ttf"),
    ("text.ttf", "fonts/SkerrymarkText-Regular.ttf"),
    ("quaydesk.ttf", "installed/QuaydeskUI-Regular.ttf"),
    ("pebbleroom.ttf", "installed/Pebbleroom-Regular.ttf"),
];

/// The folder; it is removed when this is dropped.
pub struct Workshop {
    folder: TempDir,
    cache: TempDir,
}

/// The demo as `demo tern` writes it: made once, since its stacks are built then.
static DEMO: LazyLock<Workshop> = LazyLock::new(|| {
    let workshop = Workshop::new();
    let run = workshop.run("demo tern");
    assert_eq!(run.status, 0, "{}", run.err);
    workshop
});

/// Copies a folder with all that is in it.
fn copy_folder(from: &Path, to: &Path) {
    std::fs::create_dir_all(to).expect("a folder");
    for entry in std::fs::read_dir(from).expect("a folder") {
        let entry = entry.expect("an entry");
        let target = to.join(entry.file_name());
        if entry.file_type().expect("a kind").is_dir() {
            copy_folder(&entry.path(), &target);
        } else {
            std::fs::copy(entry.path(), target).expect("a copy");
        }
    }
}

/// What a run of the program gave.
pub struct Run {
    /// Its exit status.
    pub status: i32,
    /// Standard output.
    pub out: String,
    /// Standard error.
    pub err: String,
}

impl Workshop {
    /// A folder with the demo's fonts under short names.
    pub fn new() -> Self {
        let workshop = Workshop {
            folder: tempfile::tempdir().expect("a folder"),
            cache: tempfile::tempdir().expect("a folder"),
        };
        for (name, path) in FONTS {
            workshop.write(name, tidy_lattice_demo::file(path).expect("a demo font"));
        }
        workshop
    }

    /// Such a folder in which `tern` is the demo, as the program writes it.
    pub fn with_demo() -> Self {
        let workshop = Workshop::new();
        copy_folder(&DEMO.path("tern"), &workshop.path("tern"));
        workshop
    }

    /// The path of a file in the folder.
    pub fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    /// Writes a file into the folder.
    pub fn write(&self, name: &str, content: impl AsRef<[u8]>) {
        std::fs::write(self.path(name), content).expect("a file");
    }

    /// Writes a file into a folder of the folder.
    pub fn place(&self, name: &str, content: impl AsRef<[u8]>) {
        let path = self.path(name);
        std::fs::create_dir_all(path.parent().expect("a folder")).expect("a folder");
        std::fs::write(path, content).expect("a file");
    }

    /// Reads a text file of the folder.
    pub fn read(&self, name: &str) -> String {
        std::fs::read_to_string(self.path(name)).expect("a text file")
    }

    /// The names in the folder that are not there from the start.
    pub fn new_files(&self) -> Vec<String> {
        let entries = std::fs::read_dir(self.folder.path()).expect("the folder");
        let names = entries.map(|entry| {
            entry
                .expect("an entry")
                .file_name()
                .to_string_lossy()
                .into_owned()
        });
        let mut new: Vec<String> = names
            .filter(|name| !FONTS.iter().any(|(font, _)| font == name))
            .collect();
        new.sort();
        new
    }

    /// The folder of what is kept from run to run.
    pub fn cache(&self) -> PathBuf {
        self.cache.path().join("tidy-lattice")
    }

    /// The program, ready to run in the folder.
    pub fn command(&self) -> Command {
        let mut command = Command::cargo_bin("tidy-lattice").expect("the program");
        command
            .current_dir(self.folder.path())
            .env("XDG_CACHE_HOME", self.cache.path())
            .env_remove("COLUMNS")
            .env_remove("NO_COLOR")
            .env_remove("CLICOLOR_FORCE");
        command
    }

    /// Runs the program with arguments separated by white space.
    pub fn run(&self, arguments: &str) -> Run {
        self.run_with(arguments.split_whitespace(), "")
    }

    /// Runs the program with these arguments and this standard input.
    pub fn run_with<'a>(&self, arguments: impl IntoIterator<Item = &'a str>, input: &str) -> Run {
        Run::of(
            self.command()
                .args(arguments)
                .write_stdin(input)
                .output()
                .expect("a run"),
        )
    }
}

impl Run {
    /// What `output` says.
    pub fn of(output: Output) -> Self {
        Run {
            status: output.status.code().expect("the program ended by itself"),
            out: String::from_utf8(output.stdout).expect("UTF-8"),
            err: String::from_utf8(output.stderr).expect("UTF-8"),
        }
    }

    /// Standard output as JSON.
    pub fn json(&self) -> Value {
        serde_json::from_str(&self.out)
            .unwrap_or_else(|error| panic!("{error}: {}{}", self.out, self.err))
    }

    /// Checks that the run failed with `status`, one line and no result, and
    /// that the line says all of `says`.
    pub fn failed(&self, status: i32, says: &[&str]) {
        assert_eq!(
            (self.status, self.out.as_str()),
            (status, ""),
            "{}",
            self.err
        );
        assert!(!self.err.contains("panicked"), "{}", self.err);
        for part in says {
            assert!(
                self.err.contains(part),
                "{:?} does not say {part:?}",
                self.err
            );
        }
    }
}
