//! Content, pages and style sheets that are broken on purpose: an error or an
//! answer, never a panic, never without end.

use std::time::{Duration, Instant};

use proptest::prelude::*;
use proptest::sample::Index;
use proptest::strategy::ValueTree as _;
use proptest::test_runner::TestRunner;
use rstest::rstest;
use tidy_lattice_core::content::message::{Kind, brought};
use tidy_lattice_core::content::{Format, Reading, is_language, language_of_path, read};
use tidy_lattice_core::need::{Counter, language_need};
use tidy_lattice_core::page::{self, Files, OpenedFile, Unread};
use tidy_lattice_core::style::read::{Sheet, Viewport, families};

use crate::material::cases;

/// A style sheet that names itself, whatever it is asked for.
struct Mirror;

impl Files for Mirror {
    fn read(&self, url: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Ok(OpenedFile {
            name: url.to_owned(),
            bytes: b"@import 'again.css'; p {font-size: 2em}".to_vec(),
        })
    }
}

fn read_page(html: &str) -> usize {
    page::read(html, "p.html", &Mirror, Viewport::screen(800.0, 600.0))
        .0
        .texts
        .len()
}

/// The demo's files and samples of the formats that it has none of.
fn samples() -> Vec<(String, Vec<u8>)> {
    let mut samples: Vec<(String, Vec<u8>)> = tidy_lattice_demo::files()
        .into_iter()
        .filter(|(path, _)| {
            ["site/", "messages/"]
                .iter()
                .any(|folder| path.starts_with(folder))
        })
        .map(|(path, bytes)| (path, bytes.to_vec()))
        .collect();
    for (name, text) in [
        ("a.strings", "/* x */ \"a\" = \"b \\U2192 %@\";\nc = \"d\";"),
        (
            "strings.xml",
            "<resources><string name='a'>b <b>%1$d</b> \\u2192</string><plurals name='p'><item quantity='one'>x</item></plurals></resources>",
        ),
        (
            "a.xliff",
            "<xliff version='2.0' srcLang='en' trgLang='uk'><file><unit><segment><source>a</source><target>b<ph id='1'/></target></segment></unit></file></xliff>",
        ),
        (
            "a.md",
            "---\nt: x\n---\n# H\n\n| a | b |\n|---|---|\n| `c` | [d](e \"f\") |\n\n<div>x</div>\n",
        ),
        ("a.tsv", "key\ten\nx\t\"a\tb\"\n"),
    ] {
        samples.push((name.to_owned(), text.as_bytes().to_vec()));
    }
    samples
}

/// Signs that mean something in one format or another.
const SIGNS: &[u8] = b"{}[]()<>\"'\\/*:;,.#@&%=!-|+~^$ \n\t\0\xff\xc3";

/// A small change of a file, at a place.
#[derive(Debug, Clone)]
enum Change {
    Replace(u8),
    Drop,
    Insert(u8),
    Cut,
    Double(usize),
}

fn changes() -> impl Strategy<Value = Vec<(Index, Change)>> {
    let sign = || prop::sample::select(SIGNS);
    let change = prop_oneof![
        sign().prop_map(Change::Replace),
        Just(Change::Drop),
        sign().prop_map(Change::Insert),
        Just(Change::Cut),
        (0..40_usize).prop_map(Change::Double),
    ];
    prop::collection::vec((any::<Index>(), change), 1..5)
}

fn broken(bytes: &[u8], changes: &[(Index, Change)]) -> Vec<u8> {
    let mut broken = bytes.to_vec();
    for (place, change) in changes {
        if broken.is_empty() {
            break;
        }
        let place = place.index(broken.len());
        match change {
            Change::Replace(sign) => broken[place] = *sign,
            Change::Drop => drop(broken.remove(place)),
            Change::Insert(sign) => broken.insert(place, *sign),
            Change::Cut => broken.truncate(place),
            Change::Double(length) => {
                let end = (place + length).min(broken.len());
                let part = broken[place..end].to_vec();
                broken.splice(place..place, part);
            }
        }
    }
    broken
}

/// Whether there was an answer; nothing where the format knows no errors.
fn answered(name: &str, broken: &[u8]) -> Option<bool> {
    let text = String::from_utf8_lossy(broken);
    if name.ends_with(".css") {
        Sheet::read(&text);
        return None;
    }
    if name.ends_with(".html") {
        read_page(&text);
        return None;
    }
    let mut counter = Counter::default();
    let source = counter.source(name);
    let reading = Reading {
        language: Some("uk"),
    };
    let result = read(broken, Format::of(name), reading, &mut |shown| {
        counter.add(shown.text, source, shown.line, shown.column);
    });
    counter.finish();
    if let Err(error) = &result {
        assert!(!error.to_string().is_empty());
    }
    Some(result.is_ok())
}

#[test]
fn broken_files_are_read_or_refused() {
    let (mut answers, mut errors) = (0, 0);
    let mut runner = TestRunner::new(cases(1));
    for (name, bytes) in samples() {
        for _ in 0..60 {
            let changes = changes().new_tree(&mut runner).expect("changes").current();
            match answered(&name, &broken(&bytes, &changes)) {
                Some(true) => answers += 1,
                Some(false) => errors += 1,
                None => {}
            }
        }
    }
    assert!(
        answers > 100 && errors > 100,
        "{answers} answers, {errors} errors"
    );
}

#[rstest]
#[case::json("a.json", "[".repeat(100_000))]
#[case::json_objects("a.json", "{\"a\":".repeat(100_000))]
#[case::yaml("a.yml", "[".repeat(20_000))]
#[case::yaml_mappings("a.yml", (0..2_000).map(|n| format!("{}a:\n", " ".repeat(n))).collect())]
#[case::xml("a.xml", "<a>".repeat(100_000))]
#[case::xliff("a.xlf", "<g>".repeat(100_000))]
#[case::icu("a.json", format!("\"{}\"", "{a, plural, other {".repeat(5_000)))]
#[case::braces("a.po", format!("msgid \"a\"\nmsgstr \"{}\"", "{%(".repeat(20_000)))]
#[case::tags("a.po", format!("msgid \"a\"\nmsgstr \"{}\"", "<a ".repeat(20_000)))]
#[case::markdown("a.md", "> ".repeat(20_000))]
#[case::markdown_links("a.md", "[".repeat(20_000))]
#[case::strings("a.strings", "/*".repeat(50_000))]
#[case::quotes("a.csv", "\"".repeat(100_001))]
fn endless_nesting_ends(#[case] name: &str, #[case] content: String) {
    let started = Instant::now();
    let _ = read(
        content.as_bytes(),
        Format::of(name),
        Reading::default(),
        &mut |_| {},
    );
    assert!(
        started.elapsed() < Duration::from_secs(60),
        "{:?}",
        started.elapsed()
    );
}

#[rstest]
#[case::imports("<link rel=stylesheet href=a.css><p>x".to_owned())]
#[case::tables("<table>".repeat(5_000))]
#[case::formatting("<b><i>".repeat(5_000))]
#[case::attributes(format!("<p {}>x", (0..5_000).map(|n| format!("a{n}=1 ")).collect::<String>()))]
#[case::classes(format!("<p class='{}'>x", "a ".repeat(50_000)))]
#[case::styles("<style>p{color:red}</style>".repeat(2_000))]
#[case::negations(format!("<style>{} {{font-size: 1px}}</style><p>x", ":not(".repeat(500)))]
#[case::selectors(format!("<style>{} {{font-size: 1px}}</style><p>x", "p ".repeat(5_000)))]
#[case::rules(format!("<style>{}</style><p>x", "a{font-size:1px;".repeat(2_000)))]
#[case::unclosed("<style>@media (((((((".to_owned())]
#[case::nulls("\0<p>\0x\0".to_owned())]
fn hostile_pages_end(#[case] html: String) {
    let started = Instant::now();
    read_page(&html);
    assert!(
        started.elapsed() < Duration::from_secs(60),
        "{:?}",
        started.elapsed()
    );
}

#[test]
fn many_texts_of_many_rules_end() {
    let rules: String = (0..500)
        .map(|n| format!(".c{n} p:has(b) {{font-size: {n}px}}"))
        .collect();
    let body = "<div class=c7><p>a <b>b</b></p></div>".repeat(500);
    let started = Instant::now();
    assert_eq!(
        read_page(&format!("<!doctype html><style>{rules}</style>{body}")),
        1_000
    );
    assert!(
        started.elapsed() < Duration::from_secs(60),
        "{:?}",
        started.elapsed()
    );
}

#[test]
fn odd_tags_of_languages_are_harmless() {
    for tag in [
        "",
        "-",
        "x",
        "zz-ZZ",
        "uk-",
        "uk--UA",
        "\u{301}",
        "i-klingon",
        "a-b-c-d-e-f-g",
    ] {
        let _ = (is_language(tag), language_need(tag), language_of_path(tag));
        assert!(!brought(Kind::FullDate, Some(tag)).is_empty());
    }
}

#[rstest]
#[case("Arial", 1)]
#[case("'A', B C , \"D\", serif", 4)]
#[case("inherit", 0)]
#[case("A, inherit", 0)]
#[case("A 1", 0)]
#[case("A,,B", 0)]
#[case("", 0)]
#[case("A\\31  B", 1)]
#[case("'unclosed", 1)]
#[case("generic(fangsong), A", 2)]
fn lists_of_families(#[case] text: &str, #[case] count: usize) {
    assert_eq!(
        families(text).map_or(0, |list| list.len()),
        count,
        "{:?}",
        families(text)
    );
}
