//! The guide's commands give what the guide shows.

use std::fmt::Write as _;
use std::path::{Path, PathBuf};
use std::process::Command;

use rstest::rstest;
use similar::TextDiff;

use crate::workshop::Workshop;

/// How wide the guide's blocks are.
const COLUMNS: &str = "88";

/// A file of the repository.
pub fn repository(path: &str) -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR"))
        .join("../..")
        .join(path)
}

/// What `command` prints, both streams, in a shell that finds the program.
fn printed(command: &str, folder: &Path, cache: &Path) -> String {
    let program = assert_cmd::cargo::cargo_bin("tidy-lattice");
    let mut path = program.parent().expect("its folder").as_os_str().to_owned();
    path.push(":");
    path.push(std::env::var_os("PATH").unwrap_or_default());
    let output = Command::new("sh")
        .args(["-c", &format!("exec 2>&1; {command}")])
        .current_dir(folder)
        .env("PATH", path)
        .env("COLUMNS", COLUMNS)
        // Lists of files come in one order everywhere.
        .env("LC_ALL", "C")
        .env("XDG_CACHE_HOME", cache)
        .output();
    let printed = String::from_utf8(output.expect("a run").stdout).expect("UTF-8");
    assert!(!printed.contains("panicked"), "{command}: {printed}");
    printed
}

/// The text with each command's output as it is now. A block is run from its first line
/// that starts with `$ ` on; lines that end in a backslash go on.
fn as_run(text: &str, folder: &Path, cache: &Path) -> (String, usize) {
    let mut now = String::with_capacity(text.len());
    let mut commands = 0;
    let mut inside = false;
    let mut lines = text.lines();
    while let Some(line) = lines.next() {
        match line {
            "```console" => inside = true,
            "```" => inside = false,
            _ => {}
        }
        let Some(first) = line.strip_prefix("$ ").filter(|_| inside) else {
            if !inside || line == "```console" {
                now.push_str(line);
                now.push('\n');
            }
            continue;
        };
        let mut command = first.to_owned();
        let _ = writeln!(now, "{line}");
        while command.ends_with('\\') {
            let more = lines.next().expect("the rest of the command");
            command.push('\n');
            command.push_str(more);
            let _ = writeln!(now, "{more}");
        }
        commands += 1;
        // How long it takes is a matter of the machine.
        let said = printed(&command, folder, cache);
        for line in said
            .lines()
            .filter(|line| !line.ends_with("this takes a while"))
        {
            let _ = writeln!(now, "{}", line.trim_end());
        }
    }
    (now, commands)
}

#[rstest]
#[case("docs/guide.md", 14)]
fn commands_give_what_the_page_shows(#[case] page: &str, #[case] least: usize) {
    let shop = Workshop::with_demo();
    let path = repository(page);
    let text = std::fs::read_to_string(&path).expect("the page");
    let (now, commands) = as_run(&text, &shop.path("tern"), &shop.cache());
    assert!(commands >= least, "{commands} commands");
    if std::env::var_os("TIDY_LATTICE_WRITE").is_some() {
        std::fs::write(&path, &now).expect("the page");
    }
    let diff = TextDiff::from_lines(&text, &now);
    let diff = diff
        .unified_diff()
        .header("as shown", "as it is")
        .to_string();
    assert!(
        text == now || std::env::var_os("TIDY_LATTICE_WRITE").is_some(),
        "{page} is out of date; TIDY_LATTICE_WRITE=1 writes it anew\n{diff}"
    );
}
