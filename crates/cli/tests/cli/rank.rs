//! `rank`.

use crate::workshop::Workshop;

#[test]
fn the_closest_comes_first_with_its_reason() {
    let workshop = Workshop::new();
    let run = workshop.run("rank sans.ttf quaydesk.ttf pebbleroom.ttf text.ttf");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(
        run.out.contains("3 fallbacks for Skerrymark Sans (sans)"),
        "{}",
        run.out
    );
    assert!(run.out.contains(" is closest: words "), "{}", run.out);
    assert!(run.out.contains("behind in "), "{}", run.out);
}

#[test]
fn json_has_every_measurement() {
    let workshop = Workshop::new();
    let json = workshop
        .run("rank sans.ttf quaydesk.ttf sans.ttf --json --size 16 --width 240,320")
        .json();
    assert_eq!(json["schema"], "tidy-lattice/rank/1");
    let first = &json["candidates"][0];
    assert_eq!(
        (first["place"].as_u64(), first["score"].as_f64()),
        (Some(1), Some(100.0))
    );
    let second = &json["candidates"][1];
    assert_eq!(second["parts"]["class"], 1.0);
    for field in [
        "x_height_ratio",
        "x_height_ratio_fitted",
        "stem_ratio_fitted",
    ] {
        assert!(second[field].is_number(), "{field}: {second}");
    }
    assert!(second["widths"]["breaks_after"]["layouts"].as_u64() > Some(0));
    assert_eq!(json["widths"], serde_json::json!([240.0, 320.0]));
}

#[test]
fn platforms_cards_and_rejected_candidates() {
    let workshop = Workshop::new();
    let run = workshop.run("rank sans.ttf --platform windows --all");
    assert!(
        run.out.contains("Arial") && run.out.contains("(card)"),
        "{}",
        run.out
    );
    assert!(run.out.contains("Cannot serve"), "{}", run.out);
    assert!(
        run.out.contains("it is serif, the web font is sans"),
        "{}",
        run.out
    );
    let one = workshop.run("rank sans.ttf windows:Arial --json").json();
    assert_eq!(one["candidates"][0]["card"], true);
}

#[test]
fn parts_are_weighed_and_a_picture_is_drawn() {
    let workshop = Workshop::new();
    let arguments = "rank sans.ttf quaydesk.ttf pebbleroom.ttf --weigh class=1,words=0,lines=0";
    let json = workshop.run(&format!("{arguments} --json")).json();
    assert_eq!(json["weights"]["words"], 0.0);
    let run = workshop.run(&format!("{arguments} --picture ranked.svg"));
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(workshop.read("ranked.svg").starts_with("<svg"));
    workshop
        .run("rank sans.ttf quaydesk.ttf --weigh shine=1")
        .failed(2, &["--weigh shine=1", "x-height"]);
    workshop
        .run("rank sans.ttf quaydesk.ttf --weigh class=-1")
        .failed(2, &["0 or more"]);
    workshop
        .run("rank sans.ttf nowhere.ttf")
        .failed(3, &["nowhere.ttf"]);
    workshop
        .run("rank sans.ttf quaydesk.ttf --size 0")
        .failed(2, &["--size 0", "from 1 to 1000"]);
    workshop
        .run("rank sans.ttf quaydesk.ttf --width nan")
        .failed(2, &["--width NaN"]);
    workshop
        .run("build --web sans.ttf --local quaydesk.ttf --weight 0")
        .failed(2, &["--weight 0", "from 1 to 1000"]);
    workshop
        .run_with(["rank", "sans.ttf", "quaydesk.ttf", "--text", " "], "")
        .failed(2, &["the text is empty"]);
}
