//! Every example of `--help`, README and docs runs as it is written.

use std::process::Command;
use std::sync::{LazyLock, Mutex};

use crate::guide::repository;
use crate::workshop::Workshop;

/// What takes a browser, the fonts of a device or somebody who waits: its usage is checked.
const NEEDS_A_DEVICE: [&str; 7] = [
    "tidy-lattice prove",
    "'Segoe UI'",
    "--installed",
    "'Noto Sans'",
    "--platform here",
    "--watch",
    "--serve",
];

/// A card; making it takes longer than most examples.
static CARD: LazyLock<String> = LazyLock::new(|| {
    let shop = Workshop::new();
    let run = shop.run("record text.ttf -o Georgia.card.json");
    assert_eq!(run.status, 0, "{}", run.err);
    shop.read("Georgia.card.json")
});

/// A folder that has every file that examples name.
fn stage(with_list: bool) -> Workshop {
    let shop = Workshop::new();
    let demo = |path: &str| tidy_lattice_demo::file(path).expect("a file of the demo");
    let sans = demo("fonts/SkerrymarkSans-Regular.ttf");
    let variable = demo("shop/public/assets/fonts/HarbourlineVF.ttf");
    for (name, bytes) in [
        ("Brand.woff2", sans),
        ("Brand-Bold.woff2", demo("fonts/SkerrymarkSans-Bold.ttf")),
        ("Brand.ttf", variable),
        ("Text.ttf", demo("fonts/SkerrymarkText-Regular.ttf")),
        ("Arial.ttf", demo("installed/QuaydeskUI-Regular.ttf")),
        ("Roboto.ttf", demo("installed/Pebbleroom-Regular.ttf")),
        ("Garamond.woff2", demo("fonts/SkerrymarkSans-Italic.ttf")),
        ("Naskh.woff2", demo("fonts/TidefallArabic-Regular.ttf")),
        ("Mincho.otf", demo("fonts/SkerrymarkText-Regular.ttf")),
        ("fonts/Brand.woff2", sans),
        (
            "windows-chromium.cards.json",
            demo("platforms/harbourdesk.cards.json"),
        ),
        ("texts/en.txt", demo("texts/en.txt")),
        ("en.txt", demo("texts/en.txt")),
        ("article.txt", demo("texts/en.txt")),
        (
            "messages/pl.json",
            "{\"sail\": \"Odp\u{142}ywa o 5\"}".as_bytes(),
        ),
    ] {
        shop.place(name, bytes);
    }
    let kiosk = std::str::from_utf8(demo("platforms/quaykiosk.toml")).expect("a text file");
    shop.write(
        "kiosk.toml",
        kiosk.replace("../installed/QuaydeskUI-Regular.ttf", "Arial.ttf"),
    );
    for folder in ["public", "css"] {
        std::fs::create_dir(shop.path(folder)).expect("a folder");
    }
    let face = "@font-face { font-family: Brand; src: url(%) format(\"truetype\") }\n";
    let sheet =
        |url: &str| face.replace('%', url) + "body { font-family: Brand, Arial, sans-serif }\n";
    shop.write("site.css", sheet("Brand.ttf"));
    shop.write("fonts.css", sheet("Brand.ttf"));
    shop.place("site/fonts.css", sheet("../Brand.ttf"));
    shop.place(
        "node_modules/a-font-package/400.css",
        face.replace('%', "../../Brand.ttf"),
    );
    let page = "<!doctype html><html lang=en><title>Ferry</title><link rel=stylesheet \
                href=fonts.css><h1>Six islands</h1><p>Eleven crossings a day.</p>";
    shop.place("site/index.html", page);
    shop.write(
        "app.po",
        "msgid \"\"\nmsgstr \"Language: pl\\n\"\n\nmsgid \"Sail\"\nmsgstr \"Odp\u{142}y\u{144}\"\n",
    );
    if with_list {
        shop.write("known.json", "{\"known\": {}}");
    }
    shop.place("cards/Georgia.card.json", CARD.as_bytes());
    shop.place(
        "tidy-lattice.toml",
        "root = \"site\"\nplatforms = [\"kiosk.toml\"]\nsheets = [\"site/fonts.css\"]\n\n\
         [[content]]\nfiles = [\"site/*.html\"]\n\n\
         [[content]]\nfiles = [\"texts/*.txt\"]\nrole = \"headings\"\n\n\
         [role.headings]\nstack = \"Brand, sans-serif\"\nweb = [\"Brand.ttf\"]\nsizes = [16]\n\n\
         [build]\noutput = \"stacks.css\"\n",
    );
    shop
}

/// Commands of the program in shell blocks and examples, with those that they go on in.
fn commands(text: &str) -> Vec<String> {
    let mut found = Vec::new();
    let mut lines = text.lines();
    while let Some(line) = lines.next() {
        let line = line.trim();
        let ours = line.starts_with("tidy-lattice ") || line.contains("| tidy-lattice ");
        // A table, a sentence and what is to be filled in are no commands.
        if !ours || line.starts_with('|') || line.contains('`') || line.contains("RESULT") {
            continue;
        }
        let mut command = line.to_owned();
        while command.ends_with('\\') {
            command.truncate(command.len() - 1);
            command.push_str(lines.next().unwrap_or_default().trim());
        }
        // What stands far to the right explains it.
        let end = command.find("  ").or_else(|| command.find(" # "));
        command.truncate(end.unwrap_or(command.len()));
        found.push(command);
    }
    found
}

/// Runs it in a stage of its own: its exit status and what it said.
fn run(command: &str) -> (i32, String) {
    let shop = stage(command.contains("--baseline"));
    if command.contains(" init") {
        std::fs::remove_file(shop.path("tidy-lattice.toml")).expect("the project file");
    }
    let program = assert_cmd::cargo::cargo_bin("tidy-lattice");
    let mut path = program.parent().expect("its folder").as_os_str().to_owned();
    path.push(":");
    path.push(std::env::var_os("PATH").unwrap_or_default());
    // Outside of a repository there is no difference to read.
    let mut command = command.replace("git diff |", "cat texts/en.txt |");
    if NEEDS_A_DEVICE.iter().any(|needs| command.contains(needs)) {
        // Arguments before this one are held to what there is.
        command.push_str(" --help");
    }
    let output = Command::new("sh")
        .args(["-c", &command])
        .current_dir(shop.path(""))
        .env("PATH", path)
        .env("XDG_CACHE_HOME", shop.cache())
        .output()
        .expect("a run");
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    (output.status.code().unwrap_or(-1), said)
}

fn all() -> Vec<String> {
    let shop = Workshop::new();
    let help = shop.run("--help").out;
    let names = help.lines().filter_map(|line| {
        let name = line.strip_prefix("  ")?.split_whitespace().next()?;
        name.chars().all(|c| c.is_ascii_lowercase()).then_some(name)
    });
    let mut all: Vec<String> = names
        .flat_map(|name| commands(&shop.run(&format!("{name} --help")).out))
        .collect();
    let docs = std::fs::read_dir(repository("docs")).expect("the docs");
    let docs = docs.map(|entry| entry.expect("a page").path());
    let pages = docs.filter(|path| path.extension().is_some_and(|end| end == "md"));
    for page in pages.chain([repository("README.md")]) {
        all.extend(commands(&std::fs::read_to_string(page).expect("a page")));
    }
    all.sort();
    all.dedup();
    all
}

#[test]
fn every_example_runs_as_written() {
    let all = all();
    assert!(all.len() > 80, "{all:?}");
    let left = Mutex::new(all.iter());
    let wrong: Mutex<Vec<String>> = Mutex::default();
    std::thread::scope(|scope| {
        for _ in 0..4 {
            scope.spawn(|| {
                loop {
                    let next = left.lock().expect("the examples").next();
                    let Some(command) = next else { break };
                    let (status, said) = run(command);
                    // Findings are an answer, too.
                    if status > 1 {
                        let told = format!("{command}\n  exit status {status}: {said}");
                        wrong.lock().expect("the list").push(told);
                    }
                }
            });
        }
    });
    let wrong = wrong.into_inner().expect("the list");
    assert!(
        wrong.is_empty(),
        "{} of {}:\n{}",
        wrong.len(),
        all.len(),
        wrong.join("\n")
    );
}
