//! `demo`.

use crate::workshop::Workshop;

#[test]
fn the_demo_answers_both_questions_and_leaves_a_project() {
    let workshop = Workshop::new();
    let run = workshop.run("demo tern");
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
            .read("tern/site/stacks.css")
            .contains("Skerrymark Sans via Pebbleroom")
    );
    // The command that it names gives what it shows.
    assert!(run.out.contains("$ tidy-lattice build\n"), "{}", run.out);
    let by_hand = workshop
        .command()
        .current_dir(workshop.path("tern"))
        .arg("build")
        .output()
        .expect("a run");
    let report = String::from_utf8(by_hand.stdout).expect("UTF-8");
    let told: Vec<&str> = report
        .lines()
        .filter(|line| line.contains("stand-ins over") || line.starts_with(" font-family: "))
        .collect();
    assert!(told.len() >= 4, "{report}");
    for line in told {
        assert!(run.out.contains(line), "{line}");
    }
}

#[test]
fn each_device_of_the_demo_gets_the_stand_in_meant_for_it() {
    let workshop = Workshop::with_demo();
    let built = workshop
        .command()
        .current_dir(workshop.path("tern"))
        .args(["build", "--role", "notices", "--json"])
        .output()
        .expect("a run");
    let built: serde_json::Value = serde_json::from_slice(&built.stdout).expect("JSON");
    let stack = built["stacks"][0]["font_family"]
        .as_str()
        .expect("a stack")
        .to_owned();
    for (device, meant) in [
        ("harbourdesk", "Skerrymark Sans via Quaydesk UI"),
        ("skiffphone", "Skerrymark Sans via Pebbleroom"),
        ("tidetab", "Skerrymark Sans via Driftplain"),
        ("quaykiosk", "Skerrymark Sans via Quaydesk UI"),
    ] {
        let platform = format!("platforms/{device}.toml");
        let trace = workshop
            .command()
            .current_dir(workshop.path("tern"))
            .args([
                "trace",
                "Ferry",
                "--css",
                "site/stacks.css",
                "--stack",
                &stack,
            ])
            .args(["--before-load", "--platform", &platform, "--json"])
            .output()
            .expect("a run");
        let trace: serde_json::Value = serde_json::from_slice(&trace.stdout).expect("JSON");
        let served = trace["platforms"][0]["pieces"][0]["font"]["family"].as_str();
        assert_eq!(served, Some(meant), "{device}: {trace}");
    }
}

#[test]
fn the_demo_runs_again_but_spares_changed_files() {
    let workshop = Workshop::with_demo();
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
    assert_eq!(json["schema"], "tidy-lattice/demo/2");
    let folder = json["folder"].as_str().expect("a folder");
    assert!(folder.contains("tidy-lattice-demo-"));
    assert!(
        std::path::Path::new(folder)
            .join("fonts/Lanternsign.ttf")
            .exists()
    );
    assert!(json["cover"]["gap_clusters"].as_u64() > Some(0));
}
