//! `record`, and cards in place of fonts.

use rstest::rstest;

use crate::workshop::Workshop;

fn with_card() -> Workshop {
    let workshop = Workshop::new();
    assert_eq!(
        workshop
            .run("record quaydesk.ttf -o quaydesk.card.json")
            .status,
        0
    );
    workshop
}

#[test]
fn one_card_goes_to_standard_output_and_keeps_to_its_schema() {
    let workshop = Workshop::new();
    let run = workshop.run("record sans.ttf --package ferry-fonts --package-version 1.2");
    let card = run.json();
    assert_eq!(card["source"]["package"], "ferry-fonts");
    assert_eq!(card["source"]["sha256"].as_str().map(str::len), Some(64));
    assert_eq!(card["class"], "sans");
    let schema = workshop.run("schema card").json();
    assert_eq!(schema["$id"], card["schema"]);
    let validator = jsonschema::validator_for(&schema).expect("a valid schema");
    assert!(validator.is_valid(&card));
    assert!(run.out.len() < 40 * 1024);
}

#[test]
fn many_cards_go_into_a_folder() {
    let workshop = Workshop::new();
    let run = workshop.run("record . -o cards/ --json");
    let json = run.json();
    assert_eq!(json["cards"].as_array().expect("cards").len(), 4);
    assert!(
        workshop
            .path("cards/SkerrymarkSans-Regular.card.json")
            .exists()
    );
    // Written again over its own work, but not over somebody else's.
    assert_eq!(workshop.run("record sans.ttf -o cards/").status, 0);
    workshop.write("mine.json", "{}");
    workshop
        .run("record sans.ttf -o mine.json")
        .failed(4, &["--force"]);
    workshop
        .run("record sans.ttf text.ttf")
        .failed(2, &["2 faces", "-o"]);
}

#[test]
fn a_card_covers_like_its_font() {
    let workshop = with_card();
    let of = |font: &str| {
        let mut json = workshop
            .run_with(
                ["cover", "--json", "-f", font, "-t", "Łódź → Αθήνα 5 ₴ क"],
                "",
            )
            .json();
        for named in ["fonts", "faces", "texts"] {
            json[named].take();
        }
        json
    };
    assert_eq!(of("quaydesk.card.json"), of("quaydesk.ttf"));
}

#[test]
fn a_card_stands_in_like_its_font() {
    let workshop = with_card();
    let css = |local: &str| {
        let run = workshop.run(&format!("build -w sans.ttf -l {local} --size 16"));
        assert_eq!(run.status, 0, "{}", run.err);
        run.out
    };
    let (by_font, by_card) = (css("quaydesk.ttf"), css("quaydesk.card.json"));
    let adjust = |css: &str| -> f64 {
        let after = css.split("size-adjust: ").nth(1).expect("a size-adjust");
        after
            .split('%')
            .next()
            .expect("a value")
            .parse()
            .expect("a number")
    };
    assert!((adjust(&by_font) / adjust(&by_card) - 1.0).abs() < 0.001);
    assert!(by_card.contains("local(\"Quaydesk UI\")"), "{by_card}");
}

#[rstest]
#[case("describe quaydesk.card.json", &["a font file is needed", "compare"])]
#[case("build -w quaydesk.card.json -l sans.ttf", &["a font file is needed"])]
fn where_a_card_cannot_serve_that_is_said(#[case] arguments: &str, #[case] says: &[&str]) {
    with_card().run(arguments).failed(3, says);
}

#[test]
fn a_damaged_card_names_its_field() {
    let workshop = with_card();
    let card = workshop.read("quaydesk.card.json");
    workshop.write(
        "bad.card.json",
        card.replace("\"weight\": 400.0", "\"weight\": 0.0"),
    );
    let run = workshop.run_with(["cover", "-f", "bad.card.json", "-t", "a"], "");
    run.failed(3, &["bad.card.json", "\"weight\"", "tidy-lattice record"]);
}

#[test]
fn a_file_in_the_place_of_a_folder_is_told() {
    let workshop = Workshop::new();
    workshop.write("taken", "a file");
    let run = workshop.run("record sans.ttf -o taken/");
    run.failed(4, &["taken/", "a part of this path is a file"]);
}
