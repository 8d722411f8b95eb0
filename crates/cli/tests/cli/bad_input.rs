//! Bad input gets one line that names the file and a way out.

use std::io::Read as _;
use std::process::Stdio;

use rstest::rstest;

use crate::workshop::{Run, Workshop};

#[rstest]
#[case::missing_font("cover -f none.ttf -t x", &["none.ttf", "there is no such file"])]
#[case::missing_text("cover -f sans.ttf none.txt", &["none.txt", "there is no such file"])]
#[case::missing_web("build -w none.ttf -l sans.ttf", &["none.ttf", "there is no such file"])]
#[case::folder_as_font("cover -f folder -t x", &["folder", "this is a folder; name the files in it"])]
#[case::folder_as_text("cover -f sans.ttf folder", &["folder", "there is no text in this folder"])]
#[case::empty_font("cover -f empty.ttf -t x", &["empty.ttf", "the file is empty"])]
#[case::no_font("cover -f page.ttf -t x", &["page.ttf", "this is a web page, not a font"])]
#[case::cut_font("cover -f cut.ttf -t x", &["cut.ttf", "cut short", "download it again"])]
#[case::no_utf8("cover -f sans.ttf latin1.txt", &["latin1.txt", "line 2, byte 7", "not UTF-8", "iconv"])]
#[case::utf16("cover -f sans.ttf utf16.txt", &["utf16.txt", "UTF-16"])]
#[case::wrong_index("cover -f sans.ttf#3 -t x", &["sans.ttf", "there is no font 3", "it holds 1"])]
#[case::not_variable("cover -f sans.ttf@Bold -t x", &["sans.ttf", "\"Bold\"", "not variable"])]
#[case::large_font("cover -f sans.ttf -t x --font-limit 0", &["sans.ttf", "limit of 0 MiB"])]
fn inputs_that_cannot_be_read(#[case] arguments: &str, #[case] says: &[&str]) {
    let workshop = Workshop::new();
    std::fs::create_dir(workshop.path("folder")).expect("a folder");
    workshop.write("empty.ttf", "");
    workshop.write("page.ttf", "<!doctype html>");
    let font = std::fs::read(workshop.path("sans.ttf")).expect("a font");
    workshop.write("cut.ttf", &font[..font.len() / 2]);
    workshop.write("latin1.txt", b"abc\nSk\xe5ne");
    workshop.write("utf16.txt", b"\xff\xfea\0");
    let run = workshop.run(arguments);
    run.failed(3, says);
    assert_eq!(run.err.lines().count(), 1, "{}", run.err);
}

#[rstest]
#[case::empty_literal(&["cover", "-f", "sans.ttf", "-t", ""])]
#[case::empty_file(&["cover", "-f", "sans.ttf", "empty.txt"])]
#[case::only_blanks(&["cover", "-f", "sans.ttf", "-t", " \n\t"])]
#[case::empty_input(&["cover", "-f", "sans.ttf"])]
fn empty_text_is_not_called_covered(#[case] arguments: &[&str]) {
    let workshop = Workshop::new();
    workshop.write("empty.txt", "");
    workshop
        .run_with(arguments.iter().copied(), "")
        .failed(2, &["the text is empty", "nothing was checked"]);
}

#[test]
fn a_font_cut_at_fifty_places_is_refused_each_time() {
    let workshop = Workshop::new();
    let font = std::fs::read(workshop.path("sans.ttf")).expect("a font");
    let mut place = 17_usize;
    for _ in 0..50 {
        place = (place * 7_919 + 104_729) % (font.len() - 8);
        workshop.write("cut.ttf", &font[..place]);
        workshop
            .run("cover -f cut.ttf -t x")
            .failed(3, &["cut.ttf: "]);
    }
}

#[test]
fn a_file_with_a_pick_in_its_name_is_that_file() {
    let workshop = Workshop::new();
    std::fs::copy(workshop.path("sans.ttf"), workshop.path("me@home#2.ttf")).expect("a copy");
    assert_eq!(workshop.run("cover -f me@home#2.ttf -t x").status, 0);
}

#[test]
fn a_reader_that_goes_away_is_no_error() {
    let workshop = Workshop::new();
    let text: String = ('\u{4e00}'..'\u{9000}').collect();
    workshop.write("han.txt", text);
    let mut child = std::process::Command::new(assert_cmd::cargo::cargo_bin!("tidy-lattice"))
        .current_dir(workshop.path(""))
        .args(["cover", "--all", "--json", "-f", "sans.ttf", "han.txt"])
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("a run");
    let mut start = [0; 16];
    child
        .stdout
        .take()
        .expect("a pipe")
        .read_exact(&mut start)
        .expect("the start");
    // The pipe is closed here, long before the result ends.
    let run = Run::of(child.wait_with_output().expect("an end"));
    assert_eq!((run.status, run.err.as_str()), (1, ""));
}
