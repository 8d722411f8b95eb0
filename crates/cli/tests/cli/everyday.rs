//! What people type on an ordinary day.

use rstest::rstest;

use crate::workshop::Workshop;

#[test]
fn help_is_a_command_and_colours_are_spelt_both_ways() {
    let shop = Workshop::new();
    let run = shop.run("help cover");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(run.out.contains("Usage: tidy-lattice cover"), "{}", run.out);
    let (one, other) = (
        shop.run("--color always describe sans.ttf"),
        shop.run("--colour always describe sans.ttf"),
    );
    assert_eq!((one.status, one.out), (0, other.out));
}

#[test]
fn values_may_begin_with_a_hyphen() {
    let shop = Workshop::new();
    let run = shop.run_with(
        [
            "trace",
            "Tide",
            "--stack",
            "-apple-system, Arial",
            "--platform",
            "macos",
        ],
        "",
    );
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(run.out.contains("San Francisco"), "{}", run.out);
    let run = shop.run_with(["cover", "--font", "sans.ttf", "--text", "-x"], "");
    assert_eq!(run.status, 0, "{}", run.err);
}

#[rstest]
#[case::space("sans serif", "sans-serif")]
#[case::quoted("'serif'", "serif")]
#[case::short("Mono", "monospace")]
fn generic_families_that_are_mistyped_are_recognised(#[case] family: &str, #[case] meant: &str) {
    let shop = Workshop::new();
    let run = shop.run_with(
        [
            "trace",
            "Tide",
            "--stack",
            &format!("Arial, {family}"),
            "--platform",
            "windows",
        ],
        "",
    );
    let told = format!("the generic family is {meant}, without quotation marks");
    assert!(run.out.contains(&told), "{}", run.out);
}

#[test]
fn fonts_by_themselves_are_a_stack_for_the_project() {
    let shop = Workshop::new();
    shop.write("notice.txt", "Tide ₴");
    shop.write(
        "tidy-lattice.toml",
        "[[content]]\nfiles = [\"*.txt\"]\n[role.notices]\nstack = \"Brand, serif\"\n",
    );
    let run = shop.run("cover --font sans.ttf --json");
    assert_eq!(run.status, 1, "{}", run.err);
    assert!(run.out.contains("U+20B4"), "{}", run.out);
    // What is piped in is still the text.
    let run = shop.run_with(["cover", "--font", "sans.ttf", "--json"], "Quay");
    assert_eq!(run.status, 0, "{}", run.out);
}

#[test]
fn recording_goes_on_where_a_family_is_absent() {
    let shop = Workshop::new();
    std::fs::create_dir(shop.path("cards")).expect("a folder");
    let run = shop.run_with(["record", "sans.ttf", "No Such Family", "-o", "cards"], "");
    assert_eq!(run.status, 1, "{}{}", run.out, run.err);
    assert!(run.out.contains("No Such Family"), "{}", run.out);
    assert_eq!(
        std::fs::read_dir(shop.path("cards"))
            .expect("cards")
            .count(),
        1
    );
    shop.run_with(["record", "No Such Family"], "")
        .failed(2, &["No Such Family"]);
}

#[test]
fn a_platform_of_which_nothing_is_known_is_only_used_where_it_is_asked_for() {
    let shop = Workshop::new();
    let names = |run: crate::workshop::Run| run.json()["platforms"].to_string();
    let usual = names(shop.run("trace Tide --stack Arial --json"));
    assert!(
        usual.contains("windows") && !usual.contains("bare"),
        "{usual}"
    );
    assert!(names(shop.run("trace Tide --stack Arial --platform bare --json")).contains("bare"));
}

#[test]
fn what_a_twin_lacks_is_not_told_as_missing() {
    let shop = Workshop::new();
    let run = shop.run_with(
        [
            "cover",
            "--text",
            "שלום ₺",
            "--stack",
            "Arial",
            "--platform",
            "windows",
            "--json",
        ],
        "",
    );
    // Arial is measured on a face without these letters; it is made for the script.
    assert_eq!(run.status, 0, "{}", run.out);
}
