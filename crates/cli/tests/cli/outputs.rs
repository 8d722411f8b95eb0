//! Outputs that are no plain files: pipes, devices, links, folders that take nothing; and
//! programs that are ended while they write.

#![cfg(unix)]

use std::fs;
use std::io::{Read as _, Write as _};
use std::os::unix::fs::{FileTypeExt as _, symlink};
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use rstest::rstest;

use crate::workshop::{Run, Workshop};

/// A pipe with a name.
fn pipe(shop: &Workshop, name: &str) -> std::path::PathBuf {
    let path = shop.path(name);
    let made = Command::new("mkfifo").arg(&path).status();
    assert!(made.expect("mkfifo").success());
    path
}

/// No temporary file of ours is left in `folder`.
fn is_tidy(folder: &Path) -> bool {
    let entries = fs::read_dir(folder).expect("a folder").flatten();
    entries.into_iter().all(|entry| {
        let name = entry.file_name();
        let nested = entry.path().is_dir() && !is_tidy(&entry.path());
        !name.to_string_lossy().starts_with(".tidy-lattice-") && !nested
    })
}

#[test]
fn a_pipe_takes_the_whole_output() {
    let shop = Workshop::new();
    let path = pipe(&shop, "out");
    let reader = std::thread::spawn(move || {
        let mut all = String::new();
        let file = fs::File::open(path);
        file.expect("the pipe")
            .read_to_string(&mut all)
            .expect("text");
        all
    });
    let run = shop.run("record sans.ttf -o out --force");
    assert_eq!(run.status, 0, "{}", run.err);
    let all = reader.join().expect("the reader");
    let whole = shop.run("record sans.ttf -o whole.card.json");
    assert_eq!(whole.status, 0);
    assert_eq!(all, shop.read("whole.card.json"));
    let kind = fs::symlink_metadata(shop.path("out")).expect("the pipe");
    assert!(kind.file_type().is_fifo(), "it is still a pipe");
}

#[rstest]
#[case::output("record sans.ttf -o pipe", 4, "nobody reads from this pipe")]
#[case::forced("record sans.ttf -o pipe --force", 4, "nobody reads from this pipe")]
#[case::input("describe pipe", 3, "nobody writes into this pipe")]
#[case::text("cover -f sans.ttf pipe", 3, "nobody writes into this pipe")]
#[case::device("cover -f sans.ttf /dev/zero", 3, "limit of 1 MiB")]
#[case::font("describe /dev/zero", 3, "limit of 1 MiB")]
#[case::full("record sans.ttf -o /dev/full", 4, "/dev/full")]
#[case::nowhere("record sans.ttf -o /proc/none.json", 4, "/proc/none.json")]
fn nothing_waits_for_ever(#[case] command: &str, #[case] status: i32, #[case] says: &str) {
    let shop = Workshop::new();
    pipe(&shop, "pipe");
    let since = Instant::now();
    shop.run(command).failed(status, &[says]);
    assert!(since.elapsed() < Duration::from_secs(60), "{command}");
}

#[test]
fn a_pipe_that_was_named_is_read() {
    let shop = Workshop::new();
    let path = pipe(&shop, "in");
    let writer = std::thread::spawn(move || {
        let mut file = fs::OpenOptions::new()
            .write(true)
            .open(path)
            .expect("the pipe");
        file.write_all(b"Tide ").expect("words");
        // Longer than an end that nobody has opened yet is waited for.
        std::thread::sleep(Duration::from_millis(1500));
        file.write_all("\u{2192}".as_bytes()).expect("words");
    });
    let run = shop.run("cover -f sans.ttf in --json");
    writer.join().expect("the writer");
    assert_eq!(run.json()["clusters"], 5, "{}", run.out);
}

#[test]
fn standard_output_is_written_by_its_path() {
    let shop = Workshop::new();
    let run = shop.run("record sans.ttf -o /dev/stdout");
    assert!(
        run.out.contains("\"schema\": \"tidy-lattice/card/1\""),
        "{}",
        run.out
    );
    let null = shop.run("record sans.ttf -o /dev/null");
    assert_eq!(null.status, 0, "{}", null.err);
    let kind = fs::metadata("/dev/null").expect("the device").file_type();
    assert!(kind.is_char_device());
}

#[rstest]
#[case::pipe_in_a_page("<link rel=stylesheet href=pipe>")]
#[case::pipe_as_a_font("<style>@font-face{font-family:A;src:url(pipe)} p{font-family:A}</style>")]
#[case::pipe_as_a_picture("<img src=pipe>")]
fn a_page_opens_no_pipe(#[case] head: &str) {
    let shop = Workshop::new();
    pipe(&shop, "pipe");
    shop.write("page.html", format!("<!doctype html>{head}<p>Tide"));
    for command in [
        "cover page.html -p windows",
        "shift page.html -p windows --viewport phone",
        "check page.html",
        "forecast page.html -p windows --viewport phone",
    ] {
        let since = Instant::now();
        let run = shop.run(command);
        assert!(run.status < 2, "{command}: {}", run.err);
        // Nobody would ever write into it.
        assert!(since.elapsed() < Duration::from_secs(60), "{command}");
    }
}

#[test]
fn a_link_stays_and_leads_to_what_is_written() {
    let shop = Workshop::new();
    fs::create_dir(shop.path("real")).expect("a folder");
    shop.run("record sans.ttf -o real/card.json");
    let first = shop.read("real/card.json");
    symlink("real/card.json", shop.path("link.json")).expect("a link");
    let run = shop.run("record text.ttf -o link.json");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(shop.path("link.json").is_symlink());
    assert_ne!(shop.read("real/card.json"), first);
}

#[test]
fn a_link_to_the_file_of_another_is_left_alone() {
    let shop = Workshop::new();
    shop.write("notes.json", "{\"mine\": 1}");
    symlink("notes.json", shop.path("link.json")).expect("a link");
    shop.run("record sans.ttf -o link.json")
        .failed(4, &["was not written by tidy-lattice"]);
    assert_eq!(shop.read("notes.json"), "{\"mine\": 1}");
}

#[test]
fn a_link_to_nothing_needs_force_and_is_followed() {
    let shop = Workshop::new();
    symlink("later.json", shop.path("link.json")).expect("a link");
    shop.run("record sans.ttf -o link.json")
        .failed(4, &["link to later.json", "--force"]);
    assert!(!shop.path("later.json").exists());
    let run = shop.run("record sans.ttf -o link.json --force");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(shop.path("link.json").is_symlink() && shop.path("later.json").is_file());
}

#[rstest]
#[case::card("record sans.ttf -o sans.ttf --force", 4, "reads the file, too")]
#[case::picture("rank sans.ttf -p windows --picture font.png --force", 0, "")]
#[case::sheet("build -w web.css -o web.css --force -p windows", 2, "the output, too")]
fn an_input_is_never_written_over(#[case] command: &str, #[case] status: i32, #[case] says: &str) {
    let shop = Workshop::new();
    shop.write(
        "web.css",
        "@font-face {font-family: Web; src: url(sans.ttf)}",
    );
    let font = fs::read(shop.path("sans.ttf")).expect("a font");
    let run = shop.run(command);
    assert_eq!(run.status, status, "{}", run.err);
    assert!(run.err.contains(says), "{}", run.err);
    assert_eq!(fs::read(shop.path("sans.ttf")).expect("a font"), font);
    assert!(
        shop.read("web.css")
            .contains("@font-face {font-family: Web;")
    );
}

#[test]
fn twelve_writers_at_once_leave_one_whole_file() {
    let shop = Workshop::new();
    let writers: Vec<_> = (0..12)
        .map(|number| {
            let font = ["sans.ttf", "text.ttf"][number % 2];
            let mut command = Command::new(assert_cmd::cargo::cargo_bin("tidy-lattice"));
            command.args(["record", font, "-o", "one.card.json"]);
            command.current_dir(shop.path(""));
            command.stdout(Stdio::null()).stderr(Stdio::null());
            command.spawn().expect("a run")
        })
        .collect();
    for mut writer in writers {
        assert!(writer.wait().expect("an end").success());
    }
    let left = shop.read("one.card.json");
    let whole = ["sans.ttf", "text.ttf"].map(|font| {
        shop.run(&format!("record {font} -o {font}.card.json"));
        shop.read(&format!("{font}.card.json"))
    });
    assert!(whole.contains(&left));
    assert!(is_tidy(&shop.path("")));
}

#[rstest]
#[case::asked("-INT", true)]
#[case::ended("-TERM", true)]
#[case::killed("-KILL", false)]
fn whoever_is_ended_while_writing_leaves_whole_files(#[case] signal: &str, #[case] tidies: bool) {
    let shop = Workshop::new();
    let whole = shop.run("platforms --export whole");
    assert_eq!(whole.status, 0, "{}", whole.err);
    for pause in [1, 4, 9, 16, 25, 40, 60] {
        let folder = shop.path(&format!("part{pause}"));
        let mut child = Command::new(assert_cmd::cargo::cargo_bin("tidy-lattice"))
            .args(["platforms", "--export"])
            .arg(&folder)
            .stdout(Stdio::null())
            .spawn()
            .expect("a run");
        std::thread::sleep(Duration::from_millis(pause));
        let id = child.id().to_string();
        // It may have ended already.
        let _ = Command::new("kill").args([signal, &id]).output();
        child.wait().expect("an end");
        if !folder.exists() {
            continue;
        }
        assert!(!tidies || is_tidy(&folder), "{signal} after {pause} ms");
        same_or_missing(&folder, &shop.path("whole"));
    }
}

/// Every file of `part` but temporary ones is the one in `whole`.
fn same_or_missing(part: &Path, whole: &Path) {
    for entry in fs::read_dir(part).expect("a folder").flatten() {
        let other = whole.join(entry.file_name());
        if entry.path().is_dir() {
            same_or_missing(&entry.path(), &other);
        } else if !entry.file_name().to_string_lossy().starts_with('.') {
            let (part, whole) = (fs::read(entry.path()), fs::read(&other));
            assert!(
                part.expect("a file") == whole.expect("its like"),
                "{other:?}"
            );
        }
    }
}

#[test]
fn a_demo_that_cannot_be_written_takes_its_folder_away() {
    let shop = Workshop::new();
    shop.write("limit.sh", "ulimit -f 8; trap '' XFSZ; exec \"$@\"\n");
    let program = assert_cmd::cargo::cargo_bin("tidy-lattice");
    let output = Command::new("bash")
        .arg(shop.path("limit.sh"))
        .arg(program)
        .args(["demo", "made"])
        .current_dir(shop.path(""))
        .output();
    let run = Run::of(output.expect("a run"));
    assert_eq!(run.status, 4, "{}{}", run.out, run.err);
    assert!(!shop.path("made").exists());
}
