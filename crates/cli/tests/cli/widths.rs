//! Human output on screens of several widths.

use rstest::rstest;
use textwrap::core::display_width;

use crate::workshop::{Run, Workshop};

/// The demo, and a command run in it as on a screen of that width.
struct Screen {
    shop: Workshop,
}

impl Screen {
    fn new() -> Self {
        Screen {
            shop: Workshop::with_demo(),
        }
    }

    fn run(&self, columns: usize, arguments: &str) -> Run {
        let mut command = self.shop.command();
        command.current_dir(self.shop.path("tern"));
        command.env("COLUMNS", columns.to_string());
        command.args(arguments.split(' '));
        Run::of(command.output().expect("a run"))
    }
}

/// Whole words of the headings and values that each command must keep whole, and something
/// that its first five lines must say.
#[rstest]
#[case::describe("describe fonts", &["characters", "monospace", "Lanternsign"], "18 of 34 languages")]
#[case::page("describe fonts/SkerrymarkSans-Regular.ttf", &["baseline", "tabular-nums"], "49 languages")]
#[case::platforms("platforms", &["measured", "monospace", "Roboto"], "windows")]
#[case::platform("platforms windows", &["Franklin", "versions", "monospace"], "56 families")]
#[case::cover("cover", &["clusters", "Devanagari", "Punctuation"], "363 of 5,095 clusters")]
#[case::cover_one("cover -f fonts/SkerrymarkSans-Regular.ttf texts/pl.txt", &["clusters", "Punctuation"], "fall through")]
#[case::check("check archive", &["@font-face", "unicode-range"], "Most often:")]
#[case::trace("trace Łeba→⚓ --role notices", &["earlier", "Lanternsign"], "shows each of")]
#[case::build("build", &["Lanternsign", "\"Skerrymark"], "stand-ins over")]
#[case::build_all("build --all", &["size-adjust", "Driftplain"], "signs")]
#[case::trim("trim", &["characters", "style"], "6 faces in 6 files")]
#[case::forecast("forecast", &["characters", "fetched"], "219 KB at most")]
#[case::shift("shift site/index.html", &["Skiffphone", "broken", "farthest"], "The worst layout shift is 0.0763")]
#[case::variants("shift site/index.html --variant one-factor --variant display=optional", &["Harbourdesk", "broken"], "The worst layout shift is 0.0763")]
#[case::rank("rank fonts/SkerrymarkSans-Regular.ttf -p platforms/tidetab.toml", &["x-height", "Quaydesk"], "Driftplain is closest")]
#[case::compare("compare fonts/SkerrymarkSans-Regular.ttf windows:Arial", &["descent,", "complete"], "Arial beside Skerrymark Sans")]
#[case::explain("explain", &["text-falls-through", "stand-in"], "Rules of `check`")]
fn lines_fit_and_words_stay_whole(
    #[case] command: &str,
    #[case] whole: &[&str],
    #[case] first: &str,
) {
    let screen = Screen::new();
    // What takes long is looked at on the narrowest and the widest screen.
    let step = if command.starts_with("build") { 3 } else { 1 };
    for columns in [60, 80, 120, 200].into_iter().step_by(step) {
        let run = screen.run(columns, command);
        assert!(run.status < 2, "{}", run.err);
        // A style sheet is a document of its own; what is said of it goes to the other stream.
        let said = if run.out.starts_with("/*") {
            &run.err
        } else {
            &run.out
        };
        for line in said.lines() {
            assert!(
                display_width(line) <= columns,
                "{command} at {columns}: {line}"
            );
        }
        for word in whole {
            assert!(
                said.contains(word),
                "{command} at {columns} breaks {word}: {said}"
            );
        }
        let start: Vec<&str> = said.lines().take(6).collect();
        let start = start
            .join(" ")
            .split_whitespace()
            .collect::<Vec<_>>()
            .join(" ");
        assert!(
            start.contains(first),
            "{command} at {columns} starts with: {start}"
        );
    }
}

#[test]
fn what_is_written_holds_plain_blanks() {
    let screen = Screen::new();
    let run = screen.run(60, "check archive -o found.txt");
    assert_eq!(run.status, 1, "{}", run.err);
    let found = screen.shop.read("tern/found.txt");
    let held = ['\u{2007}', '\u{1b}'];
    assert!(
        found.contains("@font-face") && !found.contains(held),
        "{found}"
    );
    for command in [
        "build",
        "trim",
        "compare fonts/SkerrymarkSans-Regular.ttf windows:Arial",
    ] {
        assert!(!screen.run(60, command).out.contains(held), "{command}");
    }
}

#[test]
fn long_names_are_cut_but_for_all() {
    let screen = Screen::new();
    let path = "fonts/SkerrymarkSans-Regular.ttf";
    let cut = screen.run(60, "forecast").out;
    let whole = screen.run(60, "forecast --all").out;
    assert!(whole.contains(path), "{whole}");
    let whole_json = screen.run(60, "forecast --json").out;
    assert!(whole_json.contains(path));
    assert!(cut.lines().count() <= whole.lines().count());
}

#[rstest]
#[case::none("0")]
#[case::words("wide")]
#[case::empty("")]
#[case::endless("99999999999999999999999")]
fn columns_that_are_no_number_are_none(#[case] columns: &str) {
    let screen = Screen::new();
    let mut command = screen.shop.command();
    command.current_dir(screen.shop.path("tern"));
    command
        .env("COLUMNS", columns)
        .args(["explain", "stand-in"]);
    let run = Run::of(command.output().expect("a run"));
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(
        run.out.starts_with(" stand-in: ") && run.out.lines().count() == 2,
        "{}",
        run.out
    );
}

#[test]
fn a_pipe_has_no_width_and_json_is_never_wrapped() {
    let screen = Screen::new();
    let mut command = screen.shop.command();
    command.current_dir(screen.shop.path("tern"));
    let piped = Run::of(command.arg("cover").output().expect("a run")).out;
    assert!(
        piped.lines().any(|line| display_width(line) > 120),
        "{piped}"
    );
    for document in [
        "explain face-hidden --json",
        "init --print archive",
        "schema check",
    ] {
        let (narrow, wide) = (screen.run(60, document), screen.run(200, document));
        assert!(narrow.status == 0 && narrow.out == wide.out, "{document}");
    }
}
