//! What is kept from one run of `check` to the next.

use std::path::PathBuf;

use crate::workshop::Workshop;

const PAGE: &str = "<html lang=en><link rel=stylesheet href=a.css><p>Ferries";

fn shop() -> Workshop {
    let shop = Workshop::new();
    shop.place("site/index.html", PAGE);
    shop.place("site/a.css", "p { font-family: Arial }");
    shop
}

/// The only result that is kept.
fn kept(shop: &Workshop) -> PathBuf {
    let mut files = std::fs::read_dir(shop.cache()).expect("kept results");
    let file = files.next().expect("a result").expect("an entry").path();
    assert!(files.next().is_none(), "one result");
    file
}

#[test]
fn a_result_is_taken_where_nothing_changed_and_made_anew_where_something_did() {
    let shop = shop();
    let first = shop.run("check site");
    assert_eq!(first.status, 1);
    assert!(first.out.contains("generic-missing"), "{}", first.out);
    // What lies there is told, so it was not looked at again.
    let file = kept(&shop);
    let text = std::fs::read_to_string(&file).expect("a result");
    let other = text.replace("ends without a generic family", "was kept");
    assert_ne!(text, other);
    std::fs::write(&file, other).expect("a file");
    let again = shop.run("check site");
    assert_eq!(again.status, 1);
    assert!(again.out.contains("was kept"), "{}", again.out);
    // Neither without the cache, nor when asked otherwise.
    assert!(!shop.run("check site --no-cache").out.contains("was kept"));
    assert!(
        !shop
            .run("check site --level advice")
            .out
            .contains("was kept")
    );
    shop.place("site/a.css", "p { font-family: Arial, sans-serif }");
    let mended = shop.run("check site");
    assert_eq!(
        (mended.status, mended.out.contains("generic")),
        (0, false),
        "{}",
        mended.out
    );
}

#[test]
fn files_that_come_and_go_are_changes() {
    let shop = shop();
    shop.place("site/index.html", PAGE.replace("a.css", "b.css"));
    assert!(shop.run("check site").out.contains("unread"));
    shop.place("site/b.css", "p { margin: 0 }");
    assert!(!shop.run("check site").out.contains("unread"));
    // A new page in the folder was not there to be read.
    shop.place(
        "site/more.html",
        "<p style=\"font-family: Ariel, sans-serif\">Quay",
    );
    assert!(shop.run("check site").out.contains("more.html"));
    std::fs::remove_file(shop.path("site/more.html")).expect("a file");
    assert!(!shop.run("check site").out.contains("more.html"));
}

#[test]
fn notes_are_told_again_with_what_was_kept() {
    let shop = Workshop::new();
    shop.place("site/assets/a.css", "p { font-family: Arial, sans-serif }");
    shop.place(
        "site/sub/index.html",
        PAGE.replace("a.css", "/assets/a.css"),
    );
    let first = shop.run("check site/sub/index.html");
    let again = shop.run("check site/sub/index.html");
    assert!(first.err.contains("--root"), "{}", first.err);
    assert_eq!((first.out, first.err), (again.out, again.err));
}

#[test]
fn a_cache_that_is_broken_or_cannot_be_written_does_no_harm() {
    let shop = shop();
    let right = shop.run("check site").out;
    let file = kept(&shop);
    for broken in ["", "{", "[1, 2]", "{\"recording\": {}, \"result\": 7}"] {
        std::fs::write(&file, broken).expect("a file");
        assert_eq!(shop.run("check site").out, right, "{broken:?}");
    }
    std::fs::remove_dir_all(shop.cache()).expect("the cache");
    std::fs::write(shop.cache(), "a file in its place").expect("a file");
    let run = shop.run("check site");
    assert_eq!((run.out, run.err.as_str()), (right.clone(), ""));
    std::fs::remove_file(shop.cache()).expect("the file");
    assert_eq!(shop.run("check site --no-cache").out, right);
    assert!(!shop.cache().exists(), "nothing is kept unasked");
}

#[test]
fn inputs_of_a_kept_result_are_not_replaced_either() {
    let shop = shop();
    shop.run("check site");
    let sheet = shop.read("site/a.css");
    for _ in 0..2 {
        let run = shop.run("check site -o site/a.css --force");
        assert_ne!(run.status, 0, "{}", run.err);
        assert!(run.err.contains("error:"), "{}", run.err);
        assert_eq!(shop.read("site/a.css"), sheet);
    }
}
