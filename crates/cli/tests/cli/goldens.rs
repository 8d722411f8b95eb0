//! What commands say of the demo, word for word, at three widths of a terminal, and as JSON:
//! `snapshots/`. `INSTA_UPDATE=always cargo test -p tidy-lattice goldens` writes them anew; what
//! changed is read before it is committed.

use std::fmt::Write as _;
use std::process::Command;
use std::sync::LazyLock;

use rstest::rstest;
use serde_json::Value;

use crate::workshop::Workshop;

/// The most entries of a list that a golden shows; the rest is a number.
const MOST_ENTRIES: usize = 2;

/// The demo with its stacks, made once.
static DEMO: LazyLock<Workshop> = LazyLock::new(|| {
    let shop = Workshop::new();
    let run = shop.run("demo demo");
    assert_eq!(run.status, 0, "{}", run.err);
    shop
});

/// What a command prints, both streams, in the demo's folder.
fn said(arguments: &str, columns: &str) -> String {
    let program = assert_cmd::cargo::cargo_bin("tidy-lattice");
    let output = Command::new(program)
        .args(arguments.split_whitespace())
        .current_dir(DEMO.path("demo"))
        .env("COLUMNS", columns)
        .env("XDG_CACHE_HOME", DEMO.cache())
        .env_remove("NO_COLOR")
        .env_remove("CLICOLOR_FORCE")
        .output()
        .expect("a run");
    let status = output.status.code().expect("a status");
    assert!(
        status < 2,
        "{arguments}: {}",
        String::from_utf8_lossy(&output.stderr)
    );
    let mut said = format!("status {status}\n");
    said.push_str(std::str::from_utf8(&output.stdout).expect("UTF-8"));
    // How long something takes is told where it does, which is another thing each time.
    let notes = String::from_utf8(output.stderr).expect("UTF-8");
    for note in notes
        .lines()
        .filter(|note| !note.ends_with("takes a while"))
    {
        let _ = writeln!(said, "{note}");
    }
    said
}

/// JSON with long lists cut.
fn cut(value: &Value) -> Value {
    match value {
        Value::Array(list) if list.len() > MOST_ENTRIES => {
            let mut short: Vec<Value> = list.iter().take(MOST_ENTRIES).map(cut).collect();
            short.push(Value::String(format!(
                "… {} more",
                list.len() - MOST_ENTRIES
            )));
            Value::Array(short)
        }
        Value::Array(list) => Value::Array(list.iter().map(cut).collect()),
        Value::Object(members) => {
            let members = members
                .iter()
                .map(|(name, value)| (name.clone(), cut(value)));
            Value::Object(members.collect())
        }
        other => other.clone(),
    }
}

#[rstest]
#[case::describe("describe fonts/SkerrymarkSans-Regular.ttf")]
#[case::compare("compare fonts/SkerrymarkSans-Regular.ttf installed/QuaydeskUI-Regular.ttf")]
#[case::platforms("platforms")]
#[case::build(
    "build --web fonts/SkerrymarkSans-Regular.ttf --platform platforms/quaykiosk.toml --as plain"
)]
#[case::cover("cover --font fonts/SkerrymarkSans-Regular.ttf texts/pl.txt texts/el.txt")]
#[case::trace("trace Tide --project tidy-lattice.toml --role notices")]
#[case::check("check")]
#[case::rank("rank fonts/SkerrymarkSans-Regular.ttf --platform platforms/quaykiosk.toml")]
#[case::shift("shift --platform platforms/quaykiosk.toml")]
#[case::forecast("forecast")]
#[case::trim("trim fonts/SkerrymarkSans-Regular.ttf --language pl,el --slices 2 --all")]
#[case::explain("explain stand-in")]
fn answers(#[case] arguments: &str) {
    let mut all = String::new();
    for columns in ["80", "120", "200"] {
        let said = said(arguments, columns);
        let _ = writeln!(all, "--- {columns} columns\n{said}");
        if columns != "200" {
            let most: usize = columns.parse().expect("a number");
            for line in said.lines() {
                let wide = line.chars().count();
                assert!(wide <= most, "{wide} of {columns}: {line}");
            }
        }
    }
    insta::assert_snapshot!(name(arguments), all);
}

#[rstest]
#[case::describe("describe fonts/SkerrymarkSans-Regular.ttf --json")]
#[case::compare("compare fonts/SkerrymarkSans-Regular.ttf installed/QuaydeskUI-Regular.ttf --json")]
#[case::platforms("platforms --json")]
#[case::build(
    "build --web fonts/SkerrymarkSans-Regular.ttf --platform platforms/quaykiosk.toml --json"
)]
#[case::cover("cover --font fonts/SkerrymarkSans-Regular.ttf texts/pl.txt texts/el.txt --json")]
#[case::trace("trace Tide --project tidy-lattice.toml --role notices --json")]
#[case::check("check --json")]
#[case::rank("rank fonts/SkerrymarkSans-Regular.ttf --platform platforms/quaykiosk.toml --json")]
#[case::shift("shift --platform platforms/quaykiosk.toml --json")]
#[case::forecast("forecast --json")]
#[case::trim("trim fonts/SkerrymarkSans-Regular.ttf --language pl,el --slices 2 --json")]
fn answers_as_json(#[case] arguments: &str) {
    let said = said(arguments, "80");
    let json = said.split_once('\n').expect("a status").1;
    let value: Value = serde_json::from_str(json).unwrap_or_else(|error| panic!("{error}: {said}"));
    let short = serde_json::to_string_pretty(&cut(&value)).expect("JSON");
    insta::assert_snapshot!(name(arguments), short);
}

#[test]
fn the_sheet_that_is_built() {
    let built = said(
        "build --web fonts/SkerrymarkSans-Regular.ttf --platform platforms/quaykiosk.toml --as css",
        "80",
    );
    insta::assert_snapshot!("build-as-css", built);
}

/// The name of a golden: the command, and whether it is JSON.
fn name(arguments: &str) -> String {
    let command = arguments.split_whitespace().next().expect("a command");
    let json = if arguments.ends_with("--json") {
        "-json"
    } else {
        ""
    };
    format!("{command}{json}")
}
