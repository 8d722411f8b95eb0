//! `trace --json` names the fonts that Chromium shows a text in.

use std::collections::BTreeSet;
use std::fmt::Write as _;
use std::fs;
use std::path::Path;
use std::process::Command;

use serde_json::Value;
use tidy_lattice_browser_checks::{Browser, Engine, Server, fonts};

use crate::looks::program;
use crate::shown_fonts::{Shown, plain_name, shown_fonts};

/// A stack: its `@font-face` rules as family and descriptors, where `F(name)` is
/// a file of Debian's fonts; its families; and what the text asks for.
#[derive(Clone, Copy)]
struct Stack {
    rules: &'static [(&'static str, &'static str)],
    families: &'static str,
    weight: u32,
    style: &'static str,
    emoji: &'static str,
    /// Whether fonts that are installed here play a part.
    here: bool,
}

const PLAIN: Stack = Stack {
    rules: &[],
    families: "",
    weight: 400,
    style: "normal",
    emoji: "normal",
    here: false,
};

const STACKS: &[Stack] = &[
    Stack {
        rules: &[
            ("A", "src: F(OpenSans-Regular.ttf)"),
            ("B", "src: F(NotoSansArabic-Regular.ttf)"),
            ("C", "src: F(NotoSansDevanagari-Regular.ttf)"),
            ("D", "src: F(NotoSansThai-Regular.ttf)"),
            ("E", "src: F(NotoColorEmoji.ttf)"),
        ],
        families: "A, B, C, D, E",
        ..PLAIN
    },
    Stack {
        rules: &[
            ("A", "src: F(Lato-Regular.ttf)"),
            ("B", "src: F(DejaVuSans.ttf)"),
            ("C", "src: F(FreeSerif.ttf)"),
        ],
        families: "A, B, C",
        ..PLAIN
    },
    // One family in slices.
    Stack {
        rules: &[
            (
                "A",
                "src: F(NotoSans-Regular.ttf); unicode-range: U+0-24F, U+2000-206F",
            ),
            (
                "A",
                "src: F(NotoSans-Regular.ttf); unicode-range: U+370-3FF, U+1F00-1FFF",
            ),
            (
                "A",
                "src: F(Roboto-Regular.ttf); unicode-range: U+400-4FF, U+300-36F",
            ),
            ("B", "src: F(NotoSansHebrew-Regular.ttf)"),
            (
                "C",
                "src: F(NotoSerifDevanagari-Regular.ttf); unicode-range: U+900-97F, U+200C-200D",
            ),
        ],
        families: "A, B, C",
        ..PLAIN
    },
    // Slices that overlap: the last rule wins.
    Stack {
        rules: &[
            ("A", "src: F(OpenSans-Regular.ttf)"),
            (
                "A",
                "src: F(Lato-Regular.ttf); unicode-range: U+41-5A, U+61-7A",
            ),
            (
                "A",
                "src: F(EBGaramond12-Italic.otf); unicode-range: U+26, U+2013-2014, U+2018-201D",
            ),
            (
                "B",
                "src: F(NotoSansArabic-Regular.ttf); unicode-range: U+600-6FF",
            ),
        ],
        families: "A, B",
        ..PLAIN
    },
    // A sign font before the others.
    Stack {
        rules: &[
            (
                "Signs",
                "src: F(DejaVuSans.ttf); unicode-range: U+2190-21FF, U+20A0-20BF",
            ),
            ("A", "src: F(Roboto-Regular.ttf)"),
            ("B", "src: F(NotoSansThai-Regular.ttf)"),
        ],
        families: "Signs, A, B",
        ..PLAIN
    },
    // A web font for capitals only, and stand-ins over installed faces.
    Stack {
        rules: &[
            ("A", "src: F(Lato-Regular.ttf); unicode-range: U+41-5A"),
            (
                "A via Liberation",
                "src: local('No Such Face'), local('Liberation Sans'); size-adjust: 98%",
            ),
            (
                "A via DejaVu",
                "src: local('DejaVuSerif'); ascent-override: 90%",
            ),
        ],
        families: "A, 'A via Liberation', 'A via DejaVu'",
        here: true,
        ..PLAIN
    },
    // A stand-in in slices.
    Stack {
        rules: &[
            (
                "A via C",
                "src: local('Carlito'); size-adjust: 103%; unicode-range: U+61-6D",
            ),
            (
                "A via C",
                "src: local('Carlito'); size-adjust: 97%; unicode-range: U+20-60, U+6E-7E, U+A0-17F",
            ),
        ],
        families: "'A via C', 'DejaVu Sans'",
        here: true,
        ..PLAIN
    },
    // Installed families.
    Stack {
        families: "'Open Sans', 'Noto Sans Devanagari', 'Noto Naskh Arabic', 'Noto Sans CJK JP', 'Noto Color Emoji'",
        here: true,
        ..PLAIN
    },
    Stack {
        families: "'No Such Family', 'Noto Serif', 'FreeSerif', 'Noto Color Emoji'",
        weight: 700,
        style: "italic",
        here: true,
        ..PLAIN
    },
    // Bold of a family whose bold face has less than its regular one.
    Stack {
        rules: &[
            ("A", "src: F(DejaVuSans.ttf); font-weight: 400"),
            ("A", "src: F(Lato-Bold.ttf); font-weight: 700"),
            ("B", "src: F(NotoSans-Regular.ttf)"),
        ],
        families: "A, B",
        weight: 700,
        ..PLAIN
    },
    // Weights that do not exist.
    Stack {
        rules: &[
            ("A", "src: F(Lato-Light.ttf); font-weight: 300"),
            ("A", "src: F(Lato-Black.ttf); font-weight: 900"),
            ("A", "src: F(Lato-Regular.ttf); font-weight: 400"),
        ],
        families: "A",
        weight: 500,
        ..PLAIN
    },
    Stack {
        rules: &[
            ("A", "src: F(Lato-Light.ttf); font-weight: 300"),
            ("A", "src: F(Lato-Black.ttf); font-weight: 900"),
            (
                "A",
                "src: F(Lato-Italic.ttf); font-weight: 400; font-style: italic",
            ),
        ],
        families: "A",
        weight: 600,
        style: "italic",
        ..PLAIN
    },
    // Emoji first.
    Stack {
        rules: &[
            ("E", "src: F(NotoColorEmoji.ttf)"),
            ("A", "src: F(Roboto-Regular.ttf)"),
            ("B", "src: F(DejaVuSans.ttf)"),
        ],
        families: "E, A, B",
        ..PLAIN
    },
    Stack {
        rules: &[
            ("A", "src: F(DejaVuSans.ttf)"),
            ("E", "src: F(NotoColorEmoji.ttf)"),
        ],
        families: "A, E",
        emoji: "emoji",
        ..PLAIN
    },
    Stack {
        rules: &[
            ("E", "src: F(NotoColorEmoji.ttf)"),
            ("A", "src: F(DejaVuSans.ttf)"),
        ],
        families: "E, A",
        emoji: "text",
        ..PLAIN
    },
    // The face for the weight cannot be had.
    Stack {
        rules: &[
            ("A", "src: F(Lato-Regular.ttf); font-weight: 400"),
            ("A", "src: url(missing.woff2); font-weight: 700"),
            ("B", "src: F(NotoSans-Regular.ttf)"),
        ],
        families: "A, B",
        weight: 700,
        ..PLAIN
    },
    // Sources that cannot be had: the family is the installed one.
    Stack {
        rules: &[
            (
                "DejaVu Serif",
                "src: url(missing.woff2), local('No Such Face')",
            ),
            (
                "B",
                "src: url(missing.woff2) format('woff2'), F(FreeSans.ttf)",
            ),
        ],
        families: "'DejaVu Serif', B",
        here: true,
        ..PLAIN
    },
];

/// Language and text.
pub const TEXTS: &[(&str, &str)] = &[
    (
        "en",
        "The quick “brown” fox — jumps over 13 lazy dogs & isn’t late…",
    ),
    ("pl", "Zażółć gęślą jaźń, Łódź ¾ zł"),
    ("vi", "Đường phố Việt Nam: Những chuyến phà ở Huế"),
    (
        "vi",
        "Vie\u{323}\u{302}t Nam: nhu\u{31b}\u{303}ng chuye\u{302}\u{301}n pha\u{300}",
    ),
    ("el", "Ξεσκεπάζω τὴν ψυχοφθόρα βδελυγμία· ᾧ ἄνθρωπε"),
    ("uk", "Ґанок, їжа, об’єкт: за\u{301}мок і замо\u{301}к"),
    ("ar", "مرحبا بِالعَالَمِ ١٢٣ و 456"),
    ("he", "שָׁלוֹם עולם, 12:30"),
    ("hi", "क्षत्रिय की शक्ति ट्रक में ५ रु॰"),
    ("th", "น้ำแข็งที่ร้าน กำลังมา ๒๕"),
    ("ja", "渡船の時刻表、カタカナとひらがな。「はい」"),
    ("zh", "渡轮时刻表：上午八点"),
    ("ko", "페리 시간표 한글 \u{1112}\u{1161}\u{11ab}"),
    (
        "en",
        "😀 👩\u{200d}🚀 🇵🇱 👍🏽 1\u{fe0f}\u{20e3} ❤\u{fe0f} ☂\u{fe0e} ⚠ ☎ © ™ 7 #",
    ),
    ("en", "→ ↔ ⇒ ∑ ∞ ≠ ½ ⅓ № ₴ ₫ ₹ ₿ € ✓ ★ ♫"),
    ("en", "Ferry الى Ελλάδα и Київ 渡船 नाव 🚢 5 €"),
    (
        "en",
        "no\u{a0}break\u{2011}able\u{2009}thin soft\u{ad}hyphen zero\u{200b}width\ttab",
    ),
    (
        "en",
        "e\u{301}a\u{328}\u{301} x\u{304} q\u{303} \u{25cc}\u{301} \u{2126}\u{212b}\u{212a}",
    ),
];

/// How many stacks are picked at random besides.
const RANDOM: usize = 48;

/// Ranges that random rules are cut down to.
const RANGES: [&str; 6] = [
    "U+0-7F",
    "U+80-24F, U+300-36F",
    "U+370-52F",
    "U+590-6FF",
    "U+900-97F, U+E00-E7F",
    "U+2000-FFFF",
];

/// Stacks of four fonts picked from all single files of Debian's fonts, some of
/// them cut down to ranges; the same in every run on the same fonts.
fn random_stacks() -> Vec<Stack> {
    let files: Vec<String> = fonts::installed()
        .iter()
        .filter(|path| fonts::try_face(path).is_ok_and(|face| face.has_characters()))
        .filter_map(|path| path.file_name()?.to_str().map(str::to_owned))
        .collect();
    let mut state = 2026_u64;
    let mut pick = |count: usize| {
        // Knuth's MMIX multiplier and increment.
        state = state
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (state >> 33) as usize % count
    };
    (0..RANDOM)
        .map(|_| {
            let rules: Vec<(&'static str, &'static str)> = ["A", "B", "C", "D"]
                .into_iter()
                .map(|family| {
                    let file = &files[pick(files.len())];
                    let range = match pick(3) {
                        0 => format!("; unicode-range: {}", RANGES[pick(RANGES.len())]),
                        _ => String::new(),
                    };
                    // Test data may live as long as the test.
                    let rule: &'static str = format!("src: F({file}){range}").leak();
                    (family, rule)
                })
                .collect();
            Stack {
                rules: rules.leak(),
                families: "A, B, C, D",
                ..PLAIN
            }
        })
        .collect()
}

#[test]
#[ignore = "needs Chromium, Debian's fonts and the built program; .ci/run has them"]
fn texts_show_in_the_fonts_that_trace_names() {
    let folder = tempfile::tempdir().expect("a folder");
    let server = Server::new();
    let (mut css, mut paragraphs) = (String::new(), String::new());
    let stacks: Vec<Stack> = STACKS.iter().copied().chain(random_stacks()).collect();
    for (number, stack) in stacks.iter().enumerate() {
        let sheet = sheet(stack, number, &server, folder.path());
        fs::write(folder.path().join(format!("{number}.css")), &sheet).expect("a sheet");
        css.push_str(&sheet);
        for (language, text) in TEXTS {
            let _ = writeln!(
                paragraphs,
                "<p lang={language} style=\"font: {} {} 20px {}; font-variant-emoji: {}\">{text}</p>",
                stack.style,
                stack.weight,
                families(stack, number),
                stack.emoji,
            );
        }
    }
    let page = format!("<!doctype html><meta charset=utf-8><style>{css}</style>{paragraphs}");
    server.put("/page", "text/html; charset=utf-8", page);
    let browser = Browser::start(Engine::Chromium);
    browser.open(&server.url("/page"));
    browser.run::<bool>(
        "await Promise.allSettled([...document.fonts].map(face => face.load()));
         await new Promise(requestAnimationFrame);
         return true;",
    );
    let shown = shown_fonts(&browser, "p");
    assert_eq!(shown.len(), stacks.len() * TEXTS.len());

    let (mut served, mut left, mut faults) = (0, 0, Vec::new());
    for (number, stack) in stacks.iter().enumerate() {
        let said = traced(stack, number, folder.path());
        for (place, said) in said.iter().enumerate() {
            let shown = &shown[number * TEXTS.len() + place];
            served += usize::from(said.left == 0);
            left += usize::from(said.left > 0);
            if let Some(fault) = difference(said, shown) {
                faults.push(format!(
                    "stack {number} ({:?}), {:?}: {fault}",
                    stack.rules, TEXTS[place].1
                ));
            }
        }
    }
    println!(
        "{} pairs of stack and text: {served} served whole, {left} with pieces left to the system, \
         {} otherwise than said",
        shown.len(),
        faults.len()
    );
    assert!(shown.len() >= 150 && served > 50 && left > 50);
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}

/// The stack's rules, each family with the stack's number behind it, so that one
/// page can hold them all; families that are installed keep their names.
fn sheet(stack: &Stack, number: usize, server: &Server, folder: &Path) -> String {
    let mut css = String::new();
    for (family, descriptors) in stack.rules {
        let mut descriptors = (*descriptors).to_owned();
        while let Some(start) = descriptors.find("F(") {
            let end = start + descriptors[start..].find(')').expect("a name");
            let name = descriptors[start + 2..end].to_owned();
            let bytes = fs::read(fonts::named(&name)).expect("a font");
            fs::write(folder.join(&name), &bytes).expect("a copy");
            server.put(&format!("/{name}"), "font/ttf", bytes);
            descriptors.replace_range(start..=end, &format!("url({name})"));
        }
        let family = family_name(family, number);
        let _ = writeln!(
            css,
            "@font-face {{ font-family: '{family}'; {descriptors} }}"
        );
    }
    css
}

fn family_name(family: &str, number: usize) -> String {
    if family.starts_with("DejaVu") {
        family.to_owned()
    } else {
        format!("{family} {number}")
    }
}

fn families(stack: &Stack, number: usize) -> String {
    let list = stack.families.split(", ").map(|family| {
        let name = family.trim_matches('\'');
        let ours = stack.rules.iter().any(|(known, _)| *known == name);
        if ours {
            format!("'{}'", family_name(name, number))
        } else {
            format!("'{name}'")
        }
    });
    list.collect::<Vec<_>>().join(", ")
}

/// What `trace` said.
pub struct Said {
    /// PostScript names.
    pub fonts: BTreeSet<String>,
    /// Pieces that are left to the browser.
    pub left: usize,
}

/// All texts in one run, a line each.
fn traced(stack: &Stack, number: usize, folder: &Path) -> Vec<Said> {
    let (sheet, weight) = (format!("{number}.css"), stack.weight.to_string());
    let place = if stack.here { "here" } else { "bare" };
    let families = families(stack, number);
    let options = ["--css", &sheet, "--stack", &families, "--weight", &weight];
    let more = [
        "--style",
        stack.style,
        "--emoji",
        stack.emoji,
        "--platform",
        place,
    ];
    said(&[&options[..], &more].concat(), folder)
}

/// What `trace` says of all texts with these options.
pub fn said(options: &[&str], folder: &Path) -> Vec<Said> {
    let lines: Vec<&str> = TEXTS.iter().map(|(_, text)| *text).collect();
    said_of(&lines, options, folder)
}

/// What `trace` says of texts, each of one line, in one run.
pub fn said_of(lines: &[&str], options: &[&str], folder: &Path) -> Vec<Said> {
    let program = program();
    let output = Command::new(&program)
        .arg("trace")
        .arg(lines.join("\n"))
        .args(options)
        .arg("--json")
        .current_dir(folder)
        .output()
        .unwrap_or_else(|error| panic!("{}: {error}; build it first", program.display()));
    let trace: Value = serde_json::from_slice(&output.stdout)
        .unwrap_or_else(|_| panic!("no JSON: {}", String::from_utf8_lossy(&output.stderr)));
    let pieces = trace["platforms"][0]["pieces"]
        .as_array()
        .expect("pieces")
        .clone();
    let mut start = 0;
    lines
        .iter()
        .map(|line| {
            let range = start..start + line.len() as u64;
            start = range.end + 1;
            let inside = |piece: &&Value| range.contains(&piece["start"].as_u64().unwrap_or(0));
            let pieces: Vec<&Value> = pieces.iter().filter(inside).collect();
            assert!(!pieces.is_empty());
            Said {
                fonts: pieces
                    .iter()
                    .filter_map(|piece| piece["font"]["postscript"].as_str())
                    .map(plain_name)
                    .collect(),
                left: pieces
                    .iter()
                    .filter(|piece| piece["font"].is_null())
                    .count(),
            }
        })
        .collect()
}

/// What differs: every named font that was said must show, and where nothing is
/// left, no other; where something is, others must come from the system.
pub fn difference(said: &Said, shown: &[Shown]) -> Option<String> {
    let seen: BTreeSet<String> = shown.iter().map(|font| font.postscript.clone()).collect();
    let missing: Vec<&String> = said.fonts.difference(&seen).collect();
    let more: Vec<&Shown> = shown
        .iter()
        .filter(|font| !said.fonts.contains(&font.postscript))
        .filter(|font| said.left == 0 || font.web)
        .collect();
    (!missing.is_empty() || !more.is_empty())
        .then(|| format!("said {:?}, {} left; shown {shown:?}", said.fonts, said.left))
}
