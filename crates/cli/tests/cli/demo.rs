//! `demo`.

use std::time::{Duration, Instant};

use crate::workshop::Workshop;

#[test]
fn the_demo_answers_both_questions_and_leaves_a_project() {
    let workshop = Workshop::new();
    let started = Instant::now();
    let run = workshop.run("demo tern");
    assert!(started.elapsed() < Duration::from_secs(3));
    assert_eq!(run.status, 0, "{}", run.err);
    for part in [
        "Will every character show?",
        "Will anything jump?",
        "Devanagari",
        "Quaydesk UI",
        "Try next",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    assert!(
        workshop
            .read("tern/stack.css")
            .contains("Skerrymark Sans via Pebbleroom")
    );
    // The commands that it names give what it shows.
    let shown = run
        .out
        .lines()
        .find_map(|line| line.strip_prefix("$ tidy-lattice build "));
    let by_hand = workshop
        .command()
        .current_dir(workshop.path("tern"))
        .arg("build")
        .args(shown.expect("the command").split(' '))
        .output()
        .expect("a run");
    let report = String::from_utf8(by_hand.stdout).expect("UTF-8");
    let table: Vec<&str> = report
        .lines()
        .filter(|line| line.contains("177 of 177"))
        .collect();
    assert_eq!(table.len(), 2, "{report}");
    for line in table {
        assert!(run.out.contains(line), "{line}");
    }
}

#[test]
fn the_demo_runs_again_but_spares_changed_files() {
    let workshop = Workshop::new();
    assert_eq!(workshop.run("demo tern").status, 0);
    assert_eq!(workshop.run("demo tern").status, 0);
    workshop.write("tern/texts/en.txt", "mine");
    workshop.run("demo tern").failed(4, &["en.txt", "--force"]);
    assert_eq!(workshop.read("tern/texts/en.txt"), "mine");
}

#[test]
fn without_a_folder_the_demo_makes_one() {
    let workshop = Workshop::new();
    let output = workshop
        .command()
        .args(["demo", "--json"])
        .env("TMPDIR", workshop.path(""))
        .output();
    let json: serde_json::Value =
        serde_json::from_slice(&output.expect("a run").stdout).expect("JSON");
    assert_eq!(json["schema"], "tidy-lattice/demo/1");
    let folder = json["folder"].as_str().expect("a folder");
    assert!(folder.contains("tidy-lattice-demo-"));
    assert!(
        std::path::Path::new(folder)
            .join("fonts/Lanternsign.ttf")
            .exists()
    );
    assert!(json["cover"]["gap_clusters"].as_u64() > Some(0));
}
