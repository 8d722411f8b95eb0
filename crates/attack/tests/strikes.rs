//! A short campaign, the same in every run: hundreds of mutated files of the demo.

use rstest::rstest;
use tidy_lattice_attack::{Dice, Target, mutated};

/// The demo's files of a kind, and a card.
fn seeds(target: Target) -> Vec<(String, Vec<u8>)> {
    let files = tidy_lattice_demo::files().into_iter();
    let of_kind = files.filter(|(path, _)| Target::of(path) == Some(target));
    of_kind
        .map(|(path, bytes)| (path, bytes.to_vec()))
        .collect()
}

#[rstest]
#[case::fonts(Target::Font, 60, 10)]
#[case::sheets(Target::Sheet, 60, 40)]
#[case::pages(Target::Page, 60, 40)]
#[case::messages(Target::Message, 200, 40)]
#[case::measured(Target::Measured, 200, 10)]
#[case::platforms(Target::Platform, 60, 5)]
#[case::projects(Target::Project, 30, 1)]
fn mutated_files_end_in_an_answer(
    #[case] target: Target,
    #[case] rounds: usize,
    #[case] least_taken: usize,
) {
    let seeds = seeds(target);
    let mut dice = Dice::new(5);
    let mut taken = 0;
    for _ in 0..rounds {
        let (name, seed) = &seeds[dice.roll(seeds.len())];
        let bytes = mutated(seed, target == Target::Font, &mut dice);
        // A panic fails the test.
        taken += usize::from(target.strike(name, &bytes, false).0);
    }
    // Otherwise nothing behind the first check was struck.
    assert!(taken >= least_taken, "{taken} of {rounds}");
}

#[rstest]
#[case("a/Brand.WOFF2", Some(Target::Font))]
#[case("x/tidy-lattice.toml", Some(Target::Project))]
#[case("x/windows.toml", Some(Target::Platform))]
#[case("x.card.json", Some(Target::Card))]
#[case("x.cards.json", Some(Target::Measured))]
#[case("x.json", Some(Target::Message))]
#[case("picture.png", None)]
fn files_are_good_for_something_by_their_names(#[case] name: &str, #[case] target: Option<Target>) {
    assert_eq!(Target::of(name), target);
}

#[rstest]
fn the_files_themselves_are_taken(
    #[values(
        Target::Font,
        Target::Sheet,
        Target::Page,
        Target::Message,
        Target::Measured,
        Target::Platform,
        Target::Project
    )]
    target: Target,
) {
    for (name, bytes) in seeds(target) {
        let sheet_of_rules = name.contains("archive");
        assert!(
            target.strike(&name, &bytes, false).0 || sheet_of_rules,
            "{name}"
        );
    }
}
