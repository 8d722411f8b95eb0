//! `report`.

use rstest::rstest;

use crate::workshop::Workshop;

/// A project with a page, a stack to be built and gaps.
fn project(title: &str) -> Workshop {
    let workshop = Workshop::new();
    workshop.write(
        "tidy-lattice.toml",
        format!(
            "title = {title:?}\nplatforms = [\"windows\"]\n\
             [[content]]\nfiles = [\"index.html\"]\n[[content]]\nfiles = [\"t.txt\"]\nrole = \"brand\"\n\
             [build]\noutput = \"stacks.css\"\n\
             [role.brand]\nweb = [\"sans.ttf\"]\n[role.app]\nuse = \"interface\"\n"
        ),
    );
    workshop.write(
        "index.html",
        "<!doctype html><html lang=en><link rel=stylesheet href=stacks.css>\
         <style>p {font: 18px/1.4 var(--brand-stack); font-wieght: bold}</style>\
         <p>The ferry to the outer islands leaves at seven and waits for nobody at all.",
    );
    workshop.write(
        "t.txt",
        "Crew only \u{2764} \u{e123} </style><script>alert(1)</script>",
    );
    workshop
}

#[test]
fn the_page_holds_everything_and_is_the_same_each_time() {
    let workshop = project("Quay & Co");
    let run = workshop.run_with(["report"], "");
    assert_eq!(run.status, 1, "{}", run.err);
    for part in [
        "Characters missing: ",
        "Faults: ",
        "Layout shift: ",
        "Web fonts: ",
        "report.html",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    let page = workshop.read("report.html");
    for part in [
        "<!DOCTYPE html>",
        "<title>Quay &amp; Co: fonts</title>",
        "data:font/woff2;base64,",
        "Skerrymark Sans via ",
        "U+E123",
        "--brand-stack",
        "Installed families for interface",
        "prefers-color-scheme: dark",
        "<svg ",
        "data-ends",
    ] {
        assert!(page.contains(part), "{part} is not there");
    }
    // It needs nothing from anywhere, and what texts hold stays text.
    let without = page.replace("http://www.w3.org/2000/svg", "");
    for part in ["http://", "https://", "<link", "src=\"", "<script>alert"] {
        assert!(!without.contains(part), "{part} is there");
    }
    assert!(page.len() < 1_500_000, "{}", page.len());
    let again = workshop.run_with(["report"], "");
    assert_eq!(again.status, 1, "{}", again.err);
    assert_eq!(workshop.read("report.html"), page);
}

#[test]
fn json_has_the_parts_and_what_is_not_there() {
    let workshop = Workshop::new();
    workshop.write(
        "tidy-lattice.toml",
        "platforms = [\"windows\"]\n[[content]]\nfiles = [\"t.txt\"]\n[role.plain]\nstack = \"Georgia, serif\"\n",
    );
    workshop.write("t.txt", "Quay");
    let run = workshop.run_with(["report", "--json"], "");
    assert_eq!(run.status, 0, "{}", run.err);
    let json = run.json();
    assert_eq!(json["schema"], "tidy-lattice/report/1");
    assert_eq!(json["cover"]["gap_clusters"], 0);
    let not_done = json["not_done"].as_array().expect("a list");
    let parts: Vec<&str> = not_done
        .iter()
        .filter_map(|part| part["part"].as_str())
        .collect();
    assert_eq!(parts, ["build", "shift", "forecast", "trim"]);
    assert!(
        workshop
            .new_files()
            .iter()
            .all(|file| file != "report.html")
    );
    // The page tells it, too.
    let run = workshop.run_with(["report", "-o", "r.html"], "");
    assert_eq!(run.status, 0, "{}{}", run.out, run.err);
    assert!(
        workshop
            .read("r.html")
            .contains("is not part of this report")
    );
}

#[test]
fn a_title_cannot_end_the_page() {
    let workshop = project("</title><script>alert(2)</script>");
    let run = workshop.run_with(["report"], "");
    assert!(run.status < 2, "{}", run.err);
    assert!(!workshop.read("report.html").contains("<script>alert"));
}

#[rstest]
#[case::no_project(false, &["report"], "init")]
#[case::foreign(true, &["report", "-o", "t.txt"], "t.txt")]
#[case::no_folder(true, &["report", "-o", "none/r.html"], "none")]
fn what_cannot_be_is_one_error(
    #[case] there: bool,
    #[case] arguments: &[&str],
    #[case] told: &str,
) {
    let workshop = if there { project("Q") } else { Workshop::new() };
    let run = workshop.run_with(arguments.iter().copied(), "");
    assert!(run.status >= 2 && run.err.contains(told), "{}", run.err);
    assert_eq!(run.err.matches("error").count(), 1, "{}", run.err);
}
