//! The font that the core says serves a cluster is the one that Chromium shows
//! it in.

use std::fmt::Write as _;
use std::fs;

use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};
use tidy_lattice_core::font::Face;
use tidy_lattice_core::lattice::{GapCause, cover};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::text::Source;

use crate::shown_fonts::shown_fonts;

/// Stacks of file names.
const STACKS: [&[&str]; 4] = [
    &[
        "OpenSans-Regular.ttf",
        "DejaVuSans.ttf",
        "NotoColorEmoji.ttf",
    ],
    &[
        "Lato-Regular.ttf",
        "NotoSans-Regular.ttf",
        "NotoSansDevanagari-Regular.ttf",
        "NotoSansArabic-Regular.ttf",
        "NotoColorEmoji.ttf",
    ],
    &[
        "Carlito-Regular.ttf",
        "NotoSansHebrew-Regular.ttf",
        "NotoSansThai-Regular.ttf",
        "FreeSerif.ttf",
    ],
    &["NotoColorEmoji.ttf", "Roboto-Regular.ttf"],
];

/// Clusters separated by `|`: letters with and without marks in all spellings,
/// scripts that join and stack, signs, emoji and their sequences.
const CLUSTERS: &str = "A|é|e\u{301}|ệ|e\u{323}\u{302}|e\u{302}\u{323}|ê\u{323}|x\u{301}|\
    q\u{303}\u{323}|Ж\u{301}|ñ\u{32a}|ǘ|ŵ|Ω|\u{2126}|\u{212a}|\u{212b}|ά|ἄ|ᾳ|ґ|ї|і\u{308}|\
    क|क्ष|कि|श्री|क\u{93c}|\u{958}|ड\u{93c}|ब|ب|بَ|لا|ש|שׁ|ก|กำ|ก้|→|☂|☃|⚠|⚠\u{fe0f}|⚠\u{fe0e}|❤|\
    ❤\u{fe0f}|❤\u{fe0e}|😀|😀\u{fe0e}|👩\u{200d}🚀|🇵🇱|🇵|👍🏽|1\u{fe0f}\u{20e3}|#\u{fe0f}\u{20e3}|…|–|\
    \u{2011}|\u{2010}|½|₴|₫|₹|₿|ﬁ|ß|ẞ|Å|A\u{30a}|o\u{302}\u{301}|ố|ȭ|ǖ|漢|あ|한|\u{1112}\u{1161}\u{11ab}|\
    ✓|★|☎|☎\u{fe0f}|©|©\u{fe0f}|™|™\u{fe0f}|↔|↔\u{fe0f}|↔\u{fe0e}|e\u{301}\u{323}|a\u{328}\u{301}|\
    ą\u{301}|S\u{326}|ș|ş|i\u{307}\u{301}|d\u{30c}|l\u{30c}|Ά|\u{1fbb}|µ|μ|a\u{200d}|◌\u{301}|¨";

#[test]
#[ignore = "needs Chromium and Debian's fonts; .ci/run installs them"]
fn clusters_show_in_the_font_that_serves_them() {
    let server = Server::new();
    let clusters: Vec<&str> = CLUSTERS.split('|').collect();
    let (mut css, mut spans) = (String::new(), String::new());
    let mut stacks: Vec<Vec<Face>> = Vec::new();
    for (stack, files) in STACKS.iter().enumerate() {
        let mut families = Vec::new();
        for (font, file) in files.iter().enumerate() {
            let url = format!("/{stack}/{file}");
            server.put(
                &url,
                "font/ttf",
                fs::read(fonts::named(file)).expect("a font"),
            );
            let _ = writeln!(
                css,
                "@font-face {{ font-family: f{stack}{font}; src: url({url}) }}"
            );
            families.push(format!("f{stack}{font}"));
        }
        for cluster in &clusters {
            let _ = writeln!(
                spans,
                "<p style='font: 20px {}'>{cluster}</p>",
                families.join(",")
            );
        }
        stacks.push(
            files
                .iter()
                .map(|file| fonts::web_face(&fonts::named(file)))
                .collect(),
        );
    }
    let page = format!("<!doctype html><meta charset=utf-8><style>{css}</style>{spans}");
    server.put("/page", "text/html; charset=utf-8", page);
    let browser = Browser::start(Engine::Chromium);
    browser.open(&server.url("/page"));
    let loaded: bool = browser.run(
        "await Promise.all([...document.fonts].map(face => face.load()));
         await new Promise(requestAnimationFrame);
         return [...document.fonts].every(face => face.status === 'loaded');",
    );
    assert!(loaded);
    let shown = shown_fonts(&browser, "p");
    assert_eq!(shown.len(), STACKS.len() * clusters.len());

    let (mut served, mut faults) = (0, Vec::new());
    let cases = stacks
        .iter()
        .flat_map(|stack| clusters.iter().map(move |c| (stack, c)));
    for ((stack, cluster), shown) in cases.zip(&shown) {
        match serving(stack, cluster) {
            Ok(name) => {
                served += 1;
                if !matches!(shown.as_slice(), [font] if font.web && font.postscript == name) {
                    faults.push(format!("{cluster:?}: said {name}, shown {shown:?}"));
                }
            }
            // What the stack has only in another variant is the device's.
            Err(GapCause::Variation { .. }) if shown.iter().any(|font| font.web) => {
                faults.push(format!("{cluster:?}: said the device, shown {shown:?}"));
            }
            Err(_) => {}
        }
    }
    println!(
        "{served} of {} clusters served, {} otherwise than said",
        shown.len(),
        faults.len()
    );
    assert!(served > shown.len() / 2);
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

/// The PostScript name of the face that serves `cluster`, or why none does.
fn serving(stack: &[Face], cluster: &str) -> Result<String, GapCause> {
    let need = Need::gather(&[Source {
        name: "cluster".to_owned(),
        text: cluster.to_owned(),
    }]);
    let mut coverage = cover(&need, stack);
    match coverage.fonts.iter().position(|font| font.serves > 0) {
        Some(font) => Ok(stack[font].names().postscript.clone().unwrap_or_default()),
        None => Err(coverage.gaps.remove(0).cause),
    }
}
