//! Which font files pages fetch, by how their text and their rules are.

use std::sync::Arc;

use rstest::rstest;
use tidy_lattice_core::forecast::{Forecast, declared, forecast};
use tidy_lattice_core::lattice::{WebFace, WebFile};
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::{Files, OpenedFile, Unread, read_flow};
use tidy_lattice_core::style::read::{FaceSource, Viewport};

use crate::material::demo;

struct NoFiles;

impl Files for NoFiles {
    fn read(&self, _: &str, _: &str, _: &str) -> Result<OpenedFile, Unread> {
        Err(Unread::Remote)
    }
}

/// Latin letters and the rest of one font, another font, signs, and what is not here.
const RULES: &str = "\
@font-face { font-family: S; src: url(latin); unicode-range: U+20-7E }
@font-face { font-family: S; src: url(rest); unicode-range: U+A0-FFFF }
@font-face { font-family: T; src: local(T), url(text) }
@font-face { font-family: Signs; src: url(signs) }
@font-face { font-family: Far; src: url(https://fonts.example/far) }
";

fn web(page: &tidy_lattice_core::page::FlowPage) -> Vec<WebFace> {
    let file = |source: &FaceSource| {
        let FaceSource::Url { url, .. } = source else {
            return None;
        };
        let (path, bytes) = match url.as_str() {
            "latin" => ("fonts/SkerrymarkSans-Regular.ttf", 1_000),
            "rest" => ("fonts/SkerrymarkSans-Regular.ttf", 2_000),
            "text" => ("fonts/SkerrymarkText-Regular.ttf", 4_000),
            "signs" => ("fonts/Lanternsign.ttf", 8_000),
            _ => return Some(Err("it is on the network".to_owned())),
        };
        Some(Ok(WebFile {
            name: url.clone(),
            bytes: Some(bytes),
            face: Arc::new(demo(path)),
            instances: Default::default(),
        }))
    };
    (page.faces.iter())
        .map(|placed| WebFace {
            placed: placed.clone(),
            files: placed.face.sources.iter().map(file).collect(),
        })
        .collect()
}

fn of(engine: Engine, body: &str) -> Forecast {
    let html = format!("<!doctype html><style>{RULES}</style>{body}");
    let page = read_flow(&html, "page.html", &NoFiles, Viewport::screen(400.0, 300.0));
    forecast(&page.flow, &web(&page), None, engine)
}

/// Files with the characters that they are fetched for, how many of these are different, and
/// how many they lack.
fn files(forecast: &Forecast) -> Vec<(&str, u64, usize, usize)> {
    let files = forecast.files.iter();
    files
        .map(|file| {
            (
                file.url.as_str(),
                file.characters,
                file.distinct,
                file.in_vain,
            )
        })
        .collect()
}

/// What each engine fetches; Firefox measures lines with a blank of the first font, too.
#[rstest]
#[case::letters("<p style='font-family: S'>Tide, tide", &[("latin", 10, 7, 0)], &[("latin", 11, 7, 0)])]
#[case::beyond(
    "<p style='font-family: S'>Fähre fährt",
    &[("latin", 9, 7, 0), ("rest", 2, 1, 0)],
    &[("latin", 10, 7, 0), ("rest", 2, 1, 0)]
)]
#[case::nothing("<p style='font-family: S'>", &[], &[("latin", 1, 1, 0)])]
#[case::hidden("<p style='font-family: S; display: none'>Tide", &[], &[])]
#[case::unused("<p style='font-family: serif'>Tide", &[], &[])]
#[case::in_vain("<p style='font-family: T'>Tide 時刻", &[("text", 5, 5, 2)], &[("text", 6, 5, 2)])]
#[case::behind(
    "<p style='font-family: Signs, S'>Tide",
    &[("latin", 4, 4, 0), ("signs", 0, 0, 4)],
    &[("latin", 5, 5, 0), ("signs", 0, 0, 5)]
)]
#[case::two_families(
    "<p style='font-family: S'>Tide<p style='font-family: T'>Quay side",
    &[("text", 9, 9, 0), ("latin", 4, 4, 0)],
    &[("text", 10, 9, 0), ("latin", 5, 5, 0)]
)]
// What stands in fields is as high as a line of their font.
#[case::placeholder(
    "<input style='font-family: S' placeholder=Berth>",
    &[("latin", 6, 6, 0)],
    &[("latin", 6, 6, 0)]
)]
#[case::value(
    "<input style='font-family: S' value=Berth placeholder=Other>",
    &[("latin", 6, 6, 0)],
    &[("latin", 6, 6, 0)]
)]
#[case::button(
    "<button style='font-family: S'>Pay</button>",
    &[("latin", 3, 3, 0)],
    &[("latin", 4, 4, 0)]
)]
#[case::choices(
    "<select style='font-family: S'><option>Bow<option>Aft</select>",
    &[("latin", 7, 7, 0)],
    &[("latin", 8, 7, 0)]
)]
#[case::markers(
    "<ol style='font-family: S'><li style='font-family: T'>a</ol>",
    &[("text", 4, 4, 0)],
    &[("text", 6, 4, 0), ("latin", 1, 1, 0)]
)]
fn files_are_fetched_for_what_is_shown(
    #[case] body: &str,
    #[case] in_chromium: &[(&str, u64, usize, usize)],
    #[case] in_firefox: &[(&str, u64, usize, usize)],
) {
    for (engine, fetched) in [
        (Engine::Chromium, in_chromium),
        (Engine::Firefox, in_firefox),
    ] {
        let forecast = of(engine, body);
        assert_eq!(files(&forecast), fetched, "{engine:?}: {body}");
        let bytes: u64 = forecast.files.iter().map(|file| file.bytes).sum();
        assert_eq!(forecast.bytes, bytes);
        assert!(!forecast.is_open());
    }
}

#[test]
fn what_is_asked_for_and_not_here_is_not_known() {
    let near = of(Engine::Chromium, "<p style='font-family: S'>Tide");
    assert!(near.not_known.is_empty() && !near.is_open());
    let far = of(Engine::Chromium, "<p style='font-family: Far, S'>Tide");
    assert_eq!(far.not_known, ["https://fonts.example/far"]);
    assert!(far.is_open());
    assert_eq!(files(&far), [("latin", 4, 4, 0)]);
}

/// A few characters are named, more are counted.
#[rstest]
#[case("Tide", &["T", "d", "e", "i"])]
#[case("Tide hour", &["T", "d", "e", "h", "i", "o", "r", "u"])]
#[case("Tide hours", &[])]
fn a_few_characters_are_named(#[case] text: &str, #[case] named: &[&str]) {
    let forecast = of(
        Engine::Chromium,
        &format!("<p style='font-family: S'>{text}"),
    );
    assert_eq!(forecast.files[0].only_for, named);
}

#[test]
fn files_are_declared_once_where_they_can_be_read() {
    let html = format!("<!doctype html><style>{RULES}</style>");
    let page = read_flow(&html, "page.html", &NoFiles, Viewport::screen(400.0, 300.0));
    let declared = declared(&web(&page));
    let declared: Vec<(&str, &str, &str, u64)> = declared
        .iter()
        .map(|font| (&*font.file, &*font.family, &*font.rule, font.bytes))
        .collect();
    assert_eq!(
        declared,
        [
            ("latin", "S", "page.html:1", 1_000),
            ("rest", "S", "page.html:2", 2_000),
            ("signs", "Signs", "page.html:4", 8_000),
            ("text", "T", "page.html:3", 4_000),
        ]
    );
}
