//! `--watch`, and `build --check`.

use std::fs::File;
use std::process::{Child, Stdio};
use std::time::{Duration, Instant};

use rstest::rstest;

use crate::workshop::Workshop;

/// How long a run may take, on a machine with much else to do.
const PATIENCE: Duration = Duration::from_secs(30);

/// The program, watching; it ends with this.
struct Watching<'a> {
    child: Child,
    shop: &'a Workshop,
}

impl<'a> Watching<'a> {
    fn start(shop: &'a Workshop, arguments: &str) -> Self {
        let command = shop.command();
        let mut command = std::process::Command::new(command.get_program());
        let file = |name: &str| File::create(shop.path(name)).expect("a file");
        let child = command
            .args(arguments.split_whitespace())
            .current_dir(shop.path(""))
            .env("XDG_CACHE_HOME", shop.cache())
            .stdin(Stdio::null())
            .stdout(file("told.txt"))
            .stderr(file("noted.txt"))
            .spawn()
            .expect("the program");
        Watching { child, shop }
    }

    /// Waits until `done` is true of what was told and noted.
    fn until(&self, what: &str, done: impl Fn(&str, &str) -> bool) {
        let since = Instant::now();
        loop {
            let (told, noted) = (self.shop.read("told.txt"), self.shop.read("noted.txt"));
            if done(&told, &noted) {
                return;
            }
            assert!(since.elapsed() < PATIENCE, "{what}: {told}{noted}");
            std::thread::sleep(Duration::from_millis(20));
        }
    }
}

impl Drop for Watching<'_> {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

fn runs(noted: &str) -> usize {
    noted.matches(" watched; Ctrl-C ends").count()
}

#[test]
fn a_change_is_looked_at_and_what_does_not_matter_is_not() {
    let shop = Workshop::new();
    shop.place("site/a.css", "p { font-family: Arial }");
    shop.place("other/b.css", "p { font-family: Arial }");
    let watching = Watching::start(&shop, "check site --watch");
    watching.until("a first result", |told, noted| {
        told.contains("generic-missing") && runs(noted) == 1
    });
    shop.place("other/b.css", "p { font-family: Ariel }");
    shop.place("site/a.css", "p { font-family: Arial, sans-serif }");
    watching.until("a second result", |told, noted| {
        told.contains("Nothing is wrong") && noted.contains("site/a.css has changed")
            || runs(noted) == 2
    });
    // A new file in the folder counts, too.
    shop.place("site/c.css", "p { font-family: \"A+B\", serif }");
    watching.until("a third result", |told, _| told.contains("name-encoded"));
}

#[test]
fn what_cannot_be_read_is_told_and_watched_on() {
    let shop = Workshop::new();
    shop.place("tidy-lattice.toml", "[[content]]\nfiles = [\"a.html\"]\n");
    shop.place(
        "a.html",
        "<html lang=en><p style=\"font-family: Arial, sans-serif\">Quay",
    );
    let watching = Watching::start(&shop, "cover --watch");
    watching.until("a first result", |_, noted| runs(noted) == 1);
    shop.place("tidy-lattice.toml", "[[content]\n");
    watching.until("the error", |_, noted| {
        noted.contains("error: tidy-lattice.toml")
    });
    shop.place(
        "tidy-lattice.toml",
        "title = \"Quay\"\n[[content]]\nfiles = [\"a.html\"]\n",
    );
    watching.until("a result again", |_, noted| runs(noted) == 3);
}

#[test]
fn a_pipe_cannot_be_watched() {
    let shop = Workshop::new();
    let run = shop.run_with("cover --font sans.ttf - --watch".split(' '), "Quay");
    run.failed(2, &["--watch", "pipe"]);
}

#[test]
fn what_is_asked_wrongly_is_not_watched() {
    let shop = Workshop::new();
    let run = shop.run("build --web sans.ttf --local quaydesk.ttf --size 0 --watch");
    run.failed(2, &["--size 0"]);
}

#[rstest]
#[case::sheet("-o out.css", &["out.css"])]
#[case::apart("--apart out", &["out/rules.css", "out/properties.css", "out/classes.css"])]
fn build_says_whether_its_output_is_as_it_would_write_it(
    #[case] output: &str,
    #[case] files: &[&str],
) {
    let shop = Workshop::new();
    let build = format!("build --web sans.ttf --local quaydesk.ttf --for looks {output}");
    let check = format!("{build} --check");
    std::fs::create_dir(shop.path("out")).expect("a folder");
    let before = shop.run(&check);
    assert_eq!(before.status, 1);
    assert!(before.out.contains("is not there yet"), "{}", before.out);
    assert!(!shop.path(files[0]).exists(), "nothing is written");
    shop.run(&build);
    let built = shop.run(&check);
    assert_eq!(built.status, 0, "{}{}", built.out, built.err);
    assert_eq!(
        built.out.matches("as `build` would write it").count(),
        files.len()
    );
    let text = shop.read(files[0]);
    shop.write(files[0], format!("{text} "));
    let after = shop.run(&check);
    assert_eq!(after.status, 1);
    assert!(after.out.contains("out of date"), "{}", after.out);
    assert_eq!(
        shop.read(files[0]),
        format!("{text} "),
        "and stays as it is"
    );
}

#[test]
fn without_an_output_there_is_nothing_to_check() {
    let run = Workshop::new().run("build --web sans.ttf --local quaydesk.ttf --check");
    run.failed(2, &["--check", "-o"]);
}
