//! Lines of small texts against where browsers have them (`data/texts.*`, recorded by the
//! browser checks).

use std::collections::BTreeMap;

use rstest::rstest;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::page::FlowKind;
use tidy_lattice_core::shift::Foretold;

use crate::laid::laid_by;

const TEXTS: &str = include_str!("../data/texts.tsv");

/// How far an edge may be from where the browser has it, in px.
const NEAR: f64 = 0.05;

/// The same in WebKitGTK, which sets letters at whole px.
const NEAR_IN_WEBKIT: f64 = 4.0;

type Lines = Vec<(String, f64, f64)>;

/// Texts that are laid out otherwise than in the browser, with why.
fn is_otherwise(engine: Engine, name: &str) -> bool {
    let webkit = engine == Engine::Webkit;
    match name {
        // Latin letters from right to left are kerned as they stand, not as they are written.
        "overridden" | "a part overridden" => !webkit,
        // What hangs there hangs in Chromium only.
        "tabs that wrap" => engine != Engine::Chromium,
        // Left out, and told.
        "first letter" => engine != Engine::Chromium,
        // Where letters stand at whole px, another word fits, or one less.
        "mixed sizes, small" | "raised" | "numbers" => webkit,
        // Tabs, small capitals and blanks that stay are not modelled as WebKit has them.
        "tabs" | "tabs of four" | "small capitals" | "break-spaces" => webkit,
        // WebKit gives no place to what an ellipsis stands for.
        "ellipsis" => webkit,
        _ => false,
    }
}

/// The lines of a text as they are predicted: what stands in them in small letters, left edges
/// and widths, and whether these are of letters alone.
fn predicted(engine: Engine, css: &str, body: &str) -> Vec<(String, f64, f64, bool)> {
    let (page, laid) = laid_by(engine, css, &format!("<div id=t>{body}</div>"));
    let predicted = Foretold::of(&laid, &page.flow);
    let lines = predicted.blocks.iter().flat_map(|block| &block.lines);
    let unseen = ['\u{ad}', '\u{200b}', '\u{2060}'];
    lines
        .map(|line| {
            let text = line.text.replace(unseen, "").to_lowercase();
            (text, line.x, line.width, line.exact)
        })
        .collect()
}

#[rstest]
#[case::chromium(Engine::Chromium, include_str!("../data/texts.chromium.json"))]
#[case::firefox(Engine::Firefox, include_str!("../data/texts.firefox.json"))]
#[case::webkit(Engine::Webkit, include_str!("../data/texts.webkit.json"))]
fn lines_are_where_the_browser_has_them(#[case] engine: Engine, #[case] recorded: &str) {
    let recorded: BTreeMap<String, Lines> = serde_json::from_str(recorded).expect("lines");
    let near = match engine {
        Engine::Webkit => NEAR_IN_WEBKIT,
        Engine::Chromium | Engine::Firefox => NEAR,
    };
    let mut wrong = Vec::new();
    for text in TEXTS.lines() {
        let mut columns = text.splitn(3, '\t');
        let (Some(name), Some(css), Some(body)) = (columns.next(), columns.next(), columns.next())
        else {
            panic!("{text}: not three columns");
        };
        let theirs = &recorded[name];
        let ours = predicted(engine, css, body);
        let same = ours.len() == theirs.len()
            && ours.iter().zip(theirs).all(|(own, other)| {
                own.0 == other.0.to_lowercase()
                    && (own.1 - other.1).abs() <= near
                    && (!own.3 || (own.2 - other.2).abs() <= near)
            });
        if same == is_otherwise(engine, name) {
            wrong.push(format!("{name}: {ours:?}\n    recorded {theirs:?}"));
        }
    }
    assert!(
        wrong.is_empty(),
        "{} differ:\n{}",
        wrong.len(),
        wrong.join("\n")
    );
}

/// What no font has shows as a box of the first font that the browser looks into for the run
/// (Chromium 156): one whose range holds any of it.
#[rstest]
#[case::with_letters_of_the_first("ab \u{21d2}", &["FerrygateMono-Regular"])]
#[case::by_itself("\u{21d2}", &["SkerrymarkText-Regular"])]
#[case::of_another_script("\u{6f22}", &["SkerrymarkText-Regular"])]
#[case::after_letters_of_another_script(
    "ab\u{6f22}",
    &["FerrygateMono-Regular", "SkerrymarkText-Regular"]
)]
#[case::of_a_picture(
    "ab \u{1f49b}",
    &["FerrygateMono-Regular", "SkerrymarkText-Regular"]
)]
#[case::with_a_blank_of_the_first("\u{6f22} \u{6f22}", &["FerrygateMono-Regular"])]
#[case::the_blank_at_the_end_is_no_text("\u{395} ", &["SkerrymarkText-Regular"])]
#[case::nor_does_it_count_for_boxes("\u{6f22} ", &["SkerrymarkText-Regular"])]
fn a_box_comes_from_the_first_font_that_is_looked_into(#[case] text: &str, #[case] fonts: &[&str]) {
    let css = "@font-face { font-family: G; src: url(fonts/FerrygateMono-Regular.ttf); \
               unicode-range: U+20-7A } \
               @font-face { font-family: H; src: url(fonts/SkerrymarkText-Regular.ttf) } \
               p { font-family: G, H }";
    let (page, laid) = laid_by(Engine::Chromium, css, &format!("<p>{text}</p>"));
    let nodes = page.flow.nodes.iter().enumerate();
    let shown: std::collections::BTreeSet<&str> = nodes
        .filter(|(_, node)| matches!(node.kind, FlowKind::Text(..)))
        .flat_map(|(number, _)| laid.fonts_of(number))
        .collect();
    assert_eq!(shown.into_iter().collect::<Vec<_>>(), fonts, "{text}");
}

/// Firefox draws boxes of its own for what no font has, and brings a font for emoji
/// (Firefox 153).
#[rstest]
#[case::two_digits_a_line("\u{6f22}\u{6f22}", 26.0)]
#[case::three_above_the_first_plane("\u{13000}", 17.0)]
#[case::an_emoji_is_as_wide_as_the_em("\u{1f600}", 20.0)]
#[case::so_is_a_flag("\u{1f1eb}\u{1f1f4}\u{1f1eb}\u{1f1f4}", 40.0)]
#[case::and_what_is_joined("\u{1f469}\u{200d}\u{1f467}", 20.0)]
#[case::or_asked_for_as_one("\u{26bd}\u{fe0f}", 20.0)]
fn what_no_font_has_is_as_wide_as_firefox_makes_it(#[case] text: &str, #[case] width: f64) {
    let lines = predicted(Engine::Firefox, "", text);
    assert!((lines[0].2 - width).abs() < NEAR, "{text}: {lines:?}");
}

#[rstest]
#[case::parted("hyphens: auto", "en", Engine::Firefox, true)]
#[case::where_the_language_is_not_known("hyphens: auto", "", Engine::Firefox, false)]
#[case::by_hand_alone("", "en", Engine::Firefox, false)]
#[case::without_patterns("hyphens: auto", "en", Engine::Chromium, false)]
fn words_are_parted_where_hyphens_are_auto(
    #[case] css: &str,
    #[case] language: &str,
    #[case] engine: Engine,
    #[case] parted: bool,
) {
    let css = format!("p {{ width: 100px; {css} }}");
    let body = format!("<p lang='{language}'>representative</p>");
    let lines = predicted(engine, &css, &body);
    assert_eq!(lines.len() > 1, parted, "{lines:?}");
}

/// Small capitals that the font does not have are large letters of 70 % of the size.
#[rstest]
#[case("abcday", "ABCDAY")]
#[case("\u{e9}\u{e5}", "\u{c9}\u{c5}")]
fn small_capitals_are_made_of_large_letters(#[case] text: &str, #[case] large: &str) {
    let font = "@font-face { font-family: G; src: url(fonts/SkerrymarkText-Regular.ttf) }";
    let width = |css: &str, text: &str| {
        let css = format!("{font} p {{ font-family: G; {css} }}");
        predicted(Engine::Chromium, &css, &format!("<p>{text}"))[0].2
    };
    let made = width("font-variant-caps: small-caps", text);
    let of_size = width("font-size: 14px", large);
    assert!(
        (made - of_size).abs() < 0.1,
        "{text}: {made}, {of_size}, {}",
        width("", text)
    );
}
