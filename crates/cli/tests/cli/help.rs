//! Help, manual pages, completions, schemas.

use rstest::rstest;

use crate::workshop::Workshop;

#[test]
fn help_is_grouped_and_tells_the_exit_statuses() {
    let run = Workshop::new().run("--help");
    assert_eq!(run.status, 0);
    let places: Vec<usize> = [
        "Look:",
        "describe",
        "compare",
        "platforms",
        "record",
        "Check:",
        "cover",
        "Build:",
        "Project:",
        "Options:",
        "Exit status:",
    ]
    .iter()
    .map(|part| {
        run.out
            .find(part)
            .unwrap_or_else(|| panic!("no {part}: {}", run.out))
    })
    .collect();
    assert!(places.is_sorted(), "{}", run.out);
}

/// The commands that the help lists.
fn commands(workshop: &Workshop) -> Vec<String> {
    let help = workshop.run("--help").out;
    let (_, list) = help.split_once("\nLook:\n").expect("the first group");
    let (list, _) = list.split_once("\nOptions:").expect("options behind it");
    let heads = list.lines().filter(|line| line.starts_with("  "));
    heads
        .filter_map(|line| line.split_whitespace().next().map(str::to_owned))
        .collect()
}

#[test]
fn every_command_has_help_a_page_and_json() {
    let workshop = Workshop::new();
    let commands = commands(&workshop);
    assert!(commands.len() >= 20, "{commands:?}");
    for command in commands.iter().filter(|command| *command != "help") {
        let help = workshop.run(&format!("{command} --help")).out;
        let usage = format!("Usage: tidy-lattice {command}");
        assert!(help.contains(&usage), "{command}: {help}");
        let page = workshop.run(&format!("man {command}")).out;
        let title = format!("tidy\\-lattice\\-{command}");
        assert!(page.contains(&title), "{command}: {page}");
        // These three write what other programs read.
        if !["schema", "completions", "man"].contains(&command.as_str()) {
            let schema = workshop.run(&format!("schema {command}")).json();
            let identifier = schema["$id"].as_str().expect("an identifier");
            let start = format!("tidy-lattice/{command}/");
            assert!(identifier.starts_with(&start), "{identifier}");
        }
    }
}

#[rstest]
#[case("bash")]
#[case("zsh")]
#[case("fish")]
#[case("powershell")]
#[case("elvish")]
fn completions_know_the_commands(#[case] shell: &str) {
    let run = Workshop::new().run(&format!("completions {shell}"));
    assert!(run.out.contains("cover") && run.out.contains("no-pin"));
}

#[test]
fn an_unknown_page_or_command_is_wrong_usage() {
    let workshop = Workshop::new();
    workshop.run("man covers").failed(
        2,
        &[
            "there is no command covers",
            "cover, trace, check, explain, rank, build, trim",
        ],
    );
    workshop.run("covr").failed(2, &["covr"]);
}

/// The names of the properties that a schema requires and an answer has.
#[rstest]
#[case("describe", "describe sans.ttf --json")]
#[case("compare", "compare sans.ttf quaydesk.ttf windows:Georgia --json")]
#[case("platforms", "platforms --json")]
#[case("record", "record sans.ttf -o cards/ --json")]
#[case("cover", "cover -f sans.ttf -t abcक --json")]
#[case("trace", "trace aΩ -f sans.ttf -p windows --json")]
#[case("build", "build -w sans.ttf -l quaydesk.ttf --json")]
#[case("trim", "trim sans.ttf --text abc --json")]
#[case("demo", "demo tern --json")]
fn answers_keep_to_their_schema(#[case] command: &str, #[case] arguments: &str) {
    let workshop = Workshop::new();
    let schema = workshop.run(&format!("schema {command}")).json();
    let answer = workshop.run(arguments).json();
    assert_eq!(schema["$id"], answer["schema"]);
    let validator = jsonschema::validator_for(&schema).expect("a valid schema");
    let faults: Vec<String> = validator
        .iter_errors(&answer)
        .map(|fault| fault.to_string())
        .collect();
    assert!(faults.is_empty(), "{faults:?}");
    let mut broken = answer.clone();
    broken.as_object_mut().expect("an object").remove("version");
    assert!(
        !validator.is_valid(&broken),
        "the schema requires something"
    );
}
