//! `record --page`, `--serve`, and what comes back from a browser.

use std::io::{BufRead as _, BufReader, Read as _, Write as _};
use std::net::TcpStream;
use std::process::{Child, Command, Stdio};

use rstest::rstest;
use serde_json::{Value, json};

use crate::workshop::Workshop;

/// Languages written in Latin letters that the page can measure.
const LATIN: &str = "af,az,ca,cs,cy,da,de,en,es,et,eu,fi,fr,ga,gl,hr,hu,id,is,it,lt,lv,ms,nb,nl,pl,\
                     pt,pt-BR,ro,sk,sl,sq,sr-Latn,sv,sw,tr,vi";

/// What a page gives of one family: `Arial` on Windows, of which every letter is 500 wide.
fn result() -> Value {
    json!({
        "schema": "tidy-lattice/measured/1",
        "made_by": "0.1.0",
        "browser": {"engine": "Chromium", "version": "156.0", "system": "Windows", "agent": "A"},
        "texts": {"en": ["harbour", "ferry,"]},
        "scripts": {"en": "Latin"},
        "families": [{"name": "Arial", "class": "sans", "by_name": true, "faces": 1},
                     {"name": "Corbel", "class": "sans", "by_name": true, "faces": 0}],
        "absent": ["Georgia", "Verdana"],
        "untold": "",
        "generics": [{"keyword": "sans-serif", "families": ["Arial"]},
                     {"keyword": "serif", "families": []}],
        "faces": [{
            "family": "Arial", "full": "Arial", "postscript": "ArialMT", "weight": 400,
            "style": "normal", "by": "local", "units_per_em": 1000,
            "line": {"ascent": 0.9, "descent": 0.2, "line_gap": 0.03},
            "x_height": 0.52, "cap_height": 0.72,
            "strokes": {"stem": 0.09, "side": 0.09, "bottom": 0.08},
            "stems": {"feet": false, "lean": 0}, "fixed": false, "colour": false,
            "marks_told": true, "shaping": {}, "characters": "U+20-7E",
            "advances": "500*95", "joined": {}, "followers": {},
            "pairs": {"A": {"-70": "V"}}, "runs": {}, "widths": {"en": [3500, 3000]},
        }],
    })
}

fn with_result() -> Workshop {
    let workshop = Workshop::new();
    workshop.write("office.cards.json", result().to_string());
    workshop
}

#[test]
fn the_page_is_one_file_that_reaches_nothing() {
    let workshop = Workshop::new();
    let run = workshop.run(&format!("record --page measure.html --language {LATIN}"));
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(run.out.contains("37 languages"), "{}", run.out);
    let page = workshop.read("measure.html");
    assert!(page.len() < 150_000, "{} bytes", page.len());
    assert!(page.starts_with("<!-- Made by tidy-lattice"));
    for part in [
        "default-src 'none'",
        "connect-src 'none'",
        "form-action 'none'",
    ] {
        assert!(page.contains(part), "{part}");
    }
    for address in ["http://", "https://", "src=\"", "@import", "url(h"] {
        assert!(!page.contains(address), "{address}");
    }
    // Our own may be written again, what is somebody's not.
    assert_eq!(
        workshop
            .run("record --page measure.html --language en")
            .status,
        0
    );
    workshop.write("mine.html", "<p>Mine.");
    workshop
        .run("record --page mine.html")
        .failed(4, &["mine.html", "--force"]);
    assert_eq!(workshop.read("mine.html"), "<p>Mine.");
}

#[test]
fn a_page_measures_what_was_asked_for() {
    let workshop = Workshop::new();
    let run = workshop.run_with(
        [
            "record",
            "--page",
            "m.html",
            "-l",
            "pt-BR,en-GB",
            "--family",
            "Harbour <Sans>",
            "--json",
        ],
        "",
    );
    assert_eq!(run.json()["page"]["languages"], json!(["en", "pt-BR"]));
    let page = workshop.read("m.html");
    assert!(page.contains(r#""name":"Harbour \u003cSans>""#));
    assert!(!page.contains("Ελλην") && !page.contains("script_name\":[\"Greek"));
}

#[rstest]
#[case(&["record", "--page", "m.html", "-l", "tlh"], &["--language tlh"])]
#[case(&["record", "--page", "m.html", "-l", "cop"], &["--language cop"])]
#[case(&["record", "--page", "m.html", "--family", " "], &["--family"])]
#[case(&["record", "--page", "m.html", "sans.ttf"], &["--page"])]
#[case(&["record", "--serve"], &["-o", "--platform"])]
#[case(&["record", "--serve", "nowhere", "-o", "cards/"], &["--serve"])]
#[case(&["record", "sans.ttf", "--platform", "p.toml"], &["--platform", "page"])]
fn wrong_arguments_are_told(#[case] arguments: &[&str], #[case] says: &[&str]) {
    let workshop = Workshop::new();
    workshop
        .run_with(arguments.iter().copied(), "")
        .failed(2, says);
    assert_eq!(workshop.new_files(), Vec::<String>::new());
}

#[test]
fn a_result_becomes_cards() {
    let workshop = with_result();
    let run = workshop.run("record office.cards.json -o cards/");
    assert_eq!(run.status, 0, "{}", run.err);
    for part in [
        "Chromium 156 on Windows",
        "sans-serif is Arial",
        "Corbel",
        "2 families looked for are not there",
        "underlines",
    ] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    let card: Value =
        serde_json::from_str(&workshop.read("cards/ArialMT.card.json")).expect("a card");
    assert_eq!(card["measured_in"]["system"], "Windows");
    assert_eq!(card["line"]["source"], "browser");
    assert!(card.get("underline").is_none() && card.get("source").is_none());
    let schema = workshop.run("schema card").json();
    let validator = jsonschema::validator_for(&schema).expect("a valid schema");
    assert!(validator.is_valid(&card));
    // Beside fonts of this machine, and one alone to standard output.
    let both = workshop
        .run("record office.cards.json sans.ttf -o both/ --json")
        .json();
    assert_eq!(both["cards"].as_array().expect("cards").len(), 2);
    assert_eq!(both["measured"][0]["absent"], 2);
    assert_eq!(workshop.run("record office.cards.json").json(), card);
}

#[test]
fn a_result_becomes_a_platform_that_other_commands_take() {
    let workshop = with_result();
    let run = workshop.run("record office.cards.json --platform office.toml");
    assert_eq!(run.status, 0, "{}", run.err);
    assert!(workshop.path("cards/ArialMT.card.json").exists());
    let shown = workshop.run("platforms office.toml").out;
    assert!(
        shown.contains("browser, Chromium 156 on Windows"),
        "{shown}"
    );
    assert!(shown.contains("sans-serif → Arial"), "{shown}");
    let trace = workshop.run("trace -p office.toml --stack Arial Harbour");
    assert!(
        trace.out.contains("Arial") && trace.status == 0,
        "{}",
        trace.out
    );
    let built = workshop.run("build -w sans.ttf -p office.toml --size 16");
    assert_eq!(built.status, 0, "{}", built.err);
    assert!(built.out.contains("local(\"Arial\")"), "{}", built.out);
    // Written again over its own, not over another's.
    assert_eq!(
        workshop
            .run("record office.cards.json --platform office.toml")
            .status,
        0
    );
    workshop.write("mine.toml", "title = \"Mine\"\n");
    workshop
        .run("record office.cards.json --platform mine.toml")
        .failed(4, &["mine.toml", "--force"]);
}

#[test]
fn own_cards_take_the_place_of_twins() {
    let workshop = with_result();
    workshop.run("record office.cards.json -o cards/");
    let before = workshop.run("platforms windows").out;
    assert!(before.contains("twin, Liberation Sans"), "{before}");
    let merged = workshop.run("platforms windows macos --merge cards/");
    let page = &merged.out;
    assert!(page.contains("browser, Chromium 156 on Windows"), "{page}");
    assert!(page.contains("1 card of yours: 1 on windows"), "{page}");
    let json = workshop
        .run("platforms windows macos --merge cards/ --json")
        .json();
    // The Mac is another system.
    assert_eq!(json["merged"]["taken"], json!({"windows": 1}));
    let families = json["platforms"][0]["families"]
        .as_array()
        .expect("families");
    let arial = families
        .iter()
        .find(|family| family["name"] == "Arial")
        .expect("Arial");
    let faces = arial["faces"].as_array().expect("faces");
    let likeness = |name: &str| {
        let face = faces
            .iter()
            .find(|face| face["full"] == name)
            .expect("a face");
        face["card_is"].as_str().map(str::to_owned)
    };
    // Bold is still known by its twin.
    assert_eq!(likeness("Arial").as_deref(), Some("itself"));
    assert_eq!(likeness("Arial Bold").as_deref(), Some("same-metrics"));
}

#[test]
fn a_project_takes_its_own_cards_everywhere() {
    let workshop = with_result();
    workshop.run("record office.cards.json -o cards/");
    let project = |cards: &str| {
        workshop.write(
            "tidy-lattice.toml",
            format!("platforms = [\"windows\"]\n{cards}[role.body]\nstack = \"Arial\"\n"),
        );
        let json = workshop
            .run_with(["trace", "--role", "body", "a\u{142}", "--json"], "")
            .json();
        json.to_string()
    };
    // The card says that there is no ł; Arial's twin has one.
    assert_ne!(project(""), project("cards = [\"cards/\"]\n"));
}

#[test]
fn a_platform_may_start_from_another() {
    let workshop = with_result();
    workshop.run("record office.cards.json -o cards/");
    workshop.write(
        "ours.toml",
        "extends = \"windows\"\ntitle = \"Our office\"\nfonts = [\"cards/\"]\n[generic]\nserif = \"Georgia\"\n",
    );
    let page = workshop.run("platforms ours.toml").out;
    for part in [
        "Our office",
        "browser, Chromium 156",
        "serif → Georgia",
        "sans-serif → Arial",
    ] {
        assert!(page.contains(part), "{part}: {page}");
    }
    workshop.write("wrong.toml", "extends = \"amiga\"\n");
    workshop
        .run("platforms wrong.toml")
        .failed(3, &["wrong.toml", "amiga", "windows"]);
    workshop.write("nameless.toml", "about = \"x\"\n");
    workshop
        .run("platforms nameless.toml")
        .failed(3, &["nameless.toml", "title"]);
}

#[rstest]
#[case::name("/faces/0/full", json!("Arial\u{1b}[2J"))]
#[case::size("/faces/0/units_per_em", json!(70000))]
#[case::few("/faces/0/advances", json!("500"))]
#[case::characters("/faces/0/characters", json!("U+0-10FFFF"))]
#[case::schema("/schema", json!("tidy-lattice/measured/7"))]
fn what_strangers_send_is_refused_whole(#[case] at: &str, #[case] with: Value) {
    let workshop = Workshop::new();
    let mut result = result();
    *result.pointer_mut(at).expect("a field") = with;
    workshop.write("bad.cards.json", result.to_string());
    let run = workshop.run("record bad.cards.json --platform bad.toml");
    assert_eq!(run.err.trim_end().lines().count(), 1, "{}", run.err);
    assert!(!run.err.contains('\u{1b}'), "{:?}", run.err);
    run.failed(3, &["bad.cards.json"]);
    assert_eq!(workshop.new_files(), ["bad.cards.json"]);
}

/// The program as it serves its page, and the address of that.
fn served(workshop: &Workshop) -> (Child, String) {
    let mut program = Command::new(assert_cmd::cargo::cargo_bin!("tidy-lattice"))
        .args(["record", "--serve", "--language", "en", "-o", "cards/"])
        .current_dir(workshop.path("."))
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("the program");
    let mut told = String::new();
    let errors = program.stderr.take().expect("standard error");
    BufReader::new(errors).read_line(&mut told).expect("a line");
    let url = told
        .split_whitespace()
        .find(|word| word.starts_with("http://"));
    let url = url
        .unwrap_or_else(|| panic!("no address in {told:?}"))
        .to_owned();
    (program, url)
}

/// Status and body of a request.
fn ask(method: &str, url: &str, body: &str) -> (u16, String) {
    let (host, path) = url["http://".len()..].split_once('/').expect("a path");
    let mut stream = TcpStream::connect(host).expect("a connection");
    write!(
        stream,
        "{method} /{path} HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\nContent-Length: {}\r\n\r\n{body}",
        body.len()
    )
    .expect("a request");
    let mut answer = String::new();
    stream.read_to_string(&mut answer).expect("an answer");
    let status = answer
        .split(' ')
        .nth(1)
        .and_then(|status| status.parse().ok());
    let body = answer
        .split("\r\n\r\n")
        .nth(1)
        .unwrap_or_default()
        .to_owned();
    (status.expect("a status"), body)
}

#[test]
fn one_result_is_taken_at_an_address_that_cannot_be_guessed() {
    let workshop = Workshop::new();
    let (mut program, url) = served(&workshop);
    let secret = url.rsplit('/').next().expect("a part");
    assert_eq!(secret.len(), 32, "{url}");
    let root = url.trim_end_matches(secret);
    let (status, page) = ask("GET", &url, "");
    assert_eq!(status, 200);
    assert!(page.contains("connect-src 'self'") && page.contains("/result"));
    for (method, other) in [("GET", root.to_owned()), ("POST", format!("{root}result"))] {
        assert_eq!(ask(method, &other, &result().to_string()).0, 404, "{other}");
    }
    let (status, why) = ask("POST", &format!("{url}/result"), "{\"schema\": 1}");
    assert_eq!(status, 400);
    assert!(why.contains("no result"), "{why}");
    assert_eq!(
        ask("POST", &format!("{url}/result"), &result().to_string()).0,
        200
    );
    assert!(program.wait().expect("an end").success());
    assert!(workshop.path("cards/ArialMT.card.json").exists());
}
