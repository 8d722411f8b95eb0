//! Stacks from web fonts, local families, signs and scripts.

use rstest::rstest;
use tidy_lattice_core::describe::LetterShape;
use tidy_lattice_core::font::{CharacterSet, Face};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::platform::{Device, Platform, platforms};
use tidy_lattice_core::stack::app::app_stack;
use tidy_lattice_core::stack::tokens::tokens;
use tidy_lattice_core::stack::{
    BuildError, BuildRequest, Built, EntryKind, LocalFamily, SampleKind, ScriptSource, SignSource,
    WebSource, build, engine_support, misread, sheets,
};
use tidy_lattice_core::standin::{FitOptions, Slices, TextSample};
use tidy_lattice_core::text::{Source, samples};

use crate::material::{demo, face, shortened, source};

/// What a test builds from; everything else is as usual.
#[derive(Default)]
struct Parts<'a> {
    web: Vec<&'a Face>,
    locals: Vec<(&'a str, Vec<&'a Face>, Vec<&'a str>)>,
    signs: Vec<(&'a Face, Option<&'a str>)>,
    scripts: Vec<&'a Face>,
    text: &'a str,
    slices: usize,
    unpinned: bool,
    ranked: bool,
    taller: f64,
    devices: &'a [Device<'a>],
}

impl Parts<'_> {
    fn build(&self) -> Result<Built, BuildError> {
        let sample = TextSample::gather(&[source(self.text)]);
        let need = Need::gather(&[Source {
            name: "text".to_owned(),
            text: self.text.to_owned(),
        }]);
        let request = BuildRequest {
            role: "notices".to_owned(),
            family: self
                .web
                .first()
                .map_or(String::new(), |web| web.names().family.clone()),
            web: self
                .web
                .iter()
                .map(|web| WebSource {
                    faces: vec![web],
                    url: format!("fonts/{}.woff2", web.names().label().replace(' ', "")),
                    weights: None,
                    widths: None,
                    slices: Vec::new(),
                })
                .collect(),
            display: "swap".to_owned(),
            signs: self
                .signs
                .iter()
                .map(|(face, wanted)| SignSource {
                    face,
                    url: "fonts/signs.woff2".to_owned(),
                    wanted: wanted.map(|text| CharacterSet::of(text.chars().map(u32::from))),
                })
                .collect(),
            kept: Vec::new(),
            scripts: self
                .scripts
                .iter()
                .map(|face| ScriptSource {
                    face,
                    url: "fonts/script.woff2".to_owned(),
                })
                .collect(),
            locals: self
                .locals
                .iter()
                .map(|(name, faces, on)| LocalFamily {
                    name: (*name).to_owned(),
                    faces: faces.clone(),
                    platforms: on.iter().map(|name| (*name).to_owned()).collect(),
                })
                .collect(),
            keep_order: !self.ranked,
            devices: self.devices,
            sample: &sample,
            sample_kind: SampleKind::Language {
                language: "en".to_owned(),
            },
            set: &[],
            line_height_specified: false,
            need: &need,
            sizes: vec![16.0],
            widths: vec![200.0, 320.0, 480.0],
            generic: None,
            pin: !self.unpinned,
            taller: self.taller,
            fit: FitOptions {
                slices: Slices::Exactly(self.slices.max(1)),
                ..FitOptions::default()
            },
            comments: true,
        };
        build(&request, None)
    }

    fn built(&self) -> Built {
        self.build().expect("there is a web font")
    }
}

fn sans() -> Face {
    demo("fonts/SkerrymarkSans-Regular.ttf")
}

fn english() -> String {
    samples::of("en").expect("English").text
}

fn codes(built: &Built) -> Vec<&str> {
    built.notes.iter().map(|note| note.code).collect()
}

fn families(built: &Built, kind: EntryKind) -> Vec<&str> {
    let entries = built.stack.iter().filter(|entry| entry.kind == kind);
    entries.map(|entry| entry.family.as_str()).collect()
}

#[test]
fn the_stack_names_web_font_stand_ins_local_families_and_generic() {
    let (web, text) = (sans(), english());
    let (quaydesk, ubuntu) = (
        demo("installed/QuaydeskUI-Regular.ttf"),
        face(epaint_default_fonts::UBUNTU_LIGHT),
    );
    let built = Parts {
        web: vec![&web],
        locals: vec![
            ("Quaydesk UI", vec![&quaydesk], vec![]),
            ("Ubuntu", vec![&ubuntu], vec![]),
        ],
        text: &text,
        ..Parts::default()
    }
    .built();
    let all: Vec<&str> = built
        .stack
        .iter()
        .map(|entry| entry.family.as_str())
        .collect();
    assert_eq!(
        all,
        [
            "Skerrymark Sans",
            "Skerrymark Sans via Quaydesk UI",
            "Skerrymark Sans via Ubuntu",
            "Quaydesk UI",
            "Ubuntu",
            "sans-serif"
        ]
    );
    assert!(built.font_family.ends_with("\"Ubuntu\", sans-serif"));
    assert_eq!(
        built.stand_ins[1].faces[0].local,
        ["Ubuntu Light", "Ubuntu-Light"]
    );
    assert!(
        built
            .css
            .contains(&format!("--notices-stack: {};", built.font_family))
    );
    assert_eq!(built.css.matches("@font-face").count(), 3);
    assert_eq!(
        built.css.matches("ascent-override").count(),
        3,
        "the web font is pinned"
    );
    assert!(
        built.css.contains("- Ubuntu: as it is"),
        "each entry says why: {}",
        built.css
    );
    assert!(codes(&built).contains(&"weight-differs"), "Ubuntu is light");
}

#[test]
fn every_style_is_fitted_on_its_own() {
    let (regular, bold) = (sans(), demo("fonts/SkerrymarkSans-Bold.ttf"));
    let italic = demo("fonts/SkerrymarkSans-Italic.ttf");
    let locals = ["Regular", "Bold", "Italic"]
        .map(|style| demo(&format!("installed/QuaydeskUI-{style}.ttf")));
    let text = english();
    let built = Parts {
        web: vec![&regular, &bold, &italic],
        locals: vec![("Quaydesk UI", locals.iter().collect(), vec![])],
        text: &text,
        ..Parts::default()
    }
    .built();
    let [family] = built.stand_ins.as_slice() else {
        panic!("{:?}", built.stand_ins)
    };
    let faces: Vec<(&str, f32)> = family
        .faces
        .iter()
        .map(|face| (face.local[0].as_str(), face.weight))
        .collect();
    assert_eq!(
        faces,
        [
            ("Quaydesk UI", 400.0),
            ("Quaydesk UI Bold", 700.0),
            ("Quaydesk UI Italic", 400.0)
        ]
    );
    let sizes: Vec<f64> = family
        .faces
        .iter()
        .map(|f| f.width.slices[0].size_adjust)
        .collect();
    assert!(sizes[0] != sizes[1] && sizes[0] != sizes[2], "{sizes:?}");
    assert_eq!(built.css.matches("font-style: italic;").count(), 2);
    assert!(!codes(&built).contains(&"slope-differs"));
}

#[test]
fn families_of_equal_metrics_share_a_stand_in_and_the_closest_comes_first() {
    let (web, text) = (sans(), english());
    let quaydesk = demo("installed/QuaydeskUI-Regular.ttf");
    let pebbleroom = demo("installed/Pebbleroom-Regular.ttf");
    let parts = Parts {
        web: vec![&web],
        locals: vec![
            ("Pebbleroom", vec![&pebbleroom], vec!["phone", "desk"]),
            ("Quaydesk UI", vec![&quaydesk], vec!["kiosk"]),
            ("Quaydesk Copy", vec![&quaydesk], vec!["tablet"]),
        ],
        text: &text,
        ranked: true,
        ..Parts::default()
    };
    let built = parts.built();
    assert_eq!(built.stand_ins.len(), 2);
    let shared = built
        .stand_ins
        .iter()
        .find(|s| s.over.len() == 2)
        .expect("a shared one");
    assert_eq!(shared.over, ["Quaydesk Copy", "Quaydesk UI"]);
    assert_eq!(shared.platforms, ["tablet", "kiosk"]);
    assert!(built.stand_ins[0].rank.score >= built.stand_ins[1].rank.score);
    assert_eq!(built.plain.families.len(), 3);
    assert!(built.plain.families.iter().all(|family| family.same_class));
}

#[test]
fn slices_are_rules_of_their_own_on_one_line() {
    let (web, text) = (sans(), english());
    let pebbleroom = demo("installed/Pebbleroom-Regular.ttf");
    let built = Parts {
        web: vec![&web],
        locals: vec![("Pebbleroom", vec![&pebbleroom], vec![])],
        text: &text,
        slices: 3,
        ..Parts::default()
    }
    .built();
    let face = &built.stand_ins[0].faces[0];
    assert_eq!((face.width.slices.len(), face.lines.len()), (3, 3));
    assert_eq!(built.css.matches("local(\"Pebbleroom\")").count(), 3);
    assert_eq!(built.css.matches("unicode-range").count(), 2);
    for lines in &face.lines {
        assert!(lines.off_in_chromium.is_empty(), "{lines:?}");
    }
}

#[test]
fn signs_come_first_and_are_held_to_what_is_wanted() {
    let (web, signs) = (sans(), demo("fonts/Lanternsign.ttf"));
    let built = Parts {
        web: vec![&web],
        signs: vec![(&signs, None)],
        text: "Boat → pier & back →",
        ..Parts::default()
    }
    .built();
    assert_eq!(
        built.stack[0].family,
        "Skerrymark Sans signs of Lanternsign"
    );
    assert_eq!(built.signs[0].range.css(), "U+2192");
    assert!(built.css.contains("unicode-range: U+2192;"));
    let named = Parts {
        web: vec![&web],
        signs: vec![(&web, Some("&€→"))],
        text: "no sign",
        ..Parts::default()
    }
    .built();
    assert_eq!(
        named.signs[0].range.css(),
        "U+26, U+20AC",
        "what the face has of what is wanted"
    );
    assert!(codes(&named).contains(&"signs-lacking"));
    let unused = Parts {
        web: vec![&web],
        signs: vec![(&signs, None)],
        text: "no sign",
        ..Parts::default()
    }
    .built();
    assert!(families(&unused, EntryKind::Sign).is_empty());
    assert!(codes(&unused).contains(&"sign-font-unused"));
    assert!(!unused.css.contains("Lanternsign"));
}

#[test]
fn other_scripts_are_scaled_by_a_rule_and_hold_the_line() {
    let (web, text) = (sans(), demo("fonts/SkerrymarkText-Regular.ttf"));
    let built = Parts {
        web: vec![&web],
        scripts: vec![&text],
        text: "Ferry Паром Ψαρά паром",
        ..Parts::default()
    }
    .built();
    let script = &built.scripts[0];
    assert_eq!(
        script.serves[0], "Cyrillic",
        "most frequent first: {:?}",
        script.serves
    );
    let x_height = |face: &Face| LetterShape::of(face).x_height.expect("x is drawn");
    let ratio = x_height(&web) / x_height(&text) * 100.0;
    assert!(
        (script.size_adjust - ratio).abs() < 0.01,
        "{}",
        script.size_adjust
    );
    assert!(
        script.scaled_by.contains("x-height"),
        "{}",
        script.scaled_by
    );
    let lines = script.lines.as_ref().expect("the web font is pinned");
    assert!(
        lines.off_in_chromium.is_empty()
            && !lines
                .off_in_firefox
                .as_ref()
                .is_some_and(|off| off.contains(&16.0))
    );
    assert!(script.range.contains(u32::from('П')) && !script.range.contains(u32::from('F')));
    let unused = Parts {
        web: vec![&web],
        scripts: vec![&text],
        text: "Ferry",
        ..Parts::default()
    };
    assert!(codes(&unused.built()).contains(&"script-font-unused"));
}

#[test]
fn platforms_bring_families_for_what_the_web_font_lacks() {
    let web = sans();
    let named = |name: &str| -> &'static Platform {
        platforms()
            .iter()
            .find(|p| p.name == name)
            .expect("a platform")
    };
    let devices = [
        Device::built_in(named("windows")),
        Device::built_in(named("android")),
    ];
    let built = Parts {
        web: vec![&web],
        text: "Ferry 時刻表 🚢",
        devices: &devices,
        ..Parts::default()
    }
    .built();
    let local = families(&built, EntryKind::Local);
    assert!(
        local.contains(&"Segoe UI Emoji") && local.contains(&"Noto Color Emoji"),
        "{local:?}"
    );
    let han: Vec<&str> = built
        .stack
        .iter()
        .filter(|entry| entry.why == "for Han")
        .map(|entry| entry.family.as_str())
        .collect();
    assert!(!han.is_empty(), "{:?}", built.stack);
    let unserved = Parts {
        web: vec![&web],
        text: "Ferry 𐎀",
        devices: &devices,
        ..Parts::default()
    }
    .built();
    assert!(codes(&unserved).contains(&"unserved"));
}

/// What was measured in another's place may have letters that the other lacks; what has no
/// regular face, and what is one of many, comes behind what a platform sets its own texts in.
#[rstest]
#[case::kazakh("Ferry Қазақ", "windows", &["Arial"], &[])]
#[case::kazakh_on_macos("Ferry Қазақ", "macos", &[], &["Arial Black", "Arial"])]
#[case::arabic("Ferry مرحبا ۋ", "macos", &["Geeza Pro"], &["Arial"])]
#[case::arabic_on_windows("Ferry مرحبا ۋ", "windows", &["Arial"], &["Microsoft Sans Serif"])]
#[case::devanagari("Ferry नमस्ते", "windows", &["Arial", "Nirmala UI"], &["Mangal"])]
fn what_the_web_font_lacks_is_shown_in_text_faces(
    #[case] text: &str,
    #[case] platform: &str,
    #[case] with: &[&str],
    #[case] without: &[&str],
) {
    let web = sans();
    let platform = platforms().iter().find(|known| known.name == platform);
    let devices = [Device::built_in(platform.expect("a platform"))];
    let built = Parts {
        web: vec![&web],
        text,
        devices: &devices,
        ..Parts::default()
    }
    .built();
    let local = families(&built, EntryKind::Local);
    for family in with {
        assert!(local.contains(family), "{family}: {local:?}");
    }
    for family in without.iter().chain(&["Arial Black"]) {
        assert!(!local.contains(family), "{family}: {local:?}");
    }
}

#[test]
fn an_unpinned_web_font_states_nothing() {
    let (web, pebbleroom) = (sans(), demo("installed/Pebbleroom-Regular.ttf"));
    let text = english();
    let built = Parts {
        web: vec![&web],
        locals: vec![("Pebbleroom", vec![&pebbleroom], vec![])],
        text: &text,
        unpinned: true,
        ..Parts::default()
    }
    .built();
    assert_eq!(built.css.matches("ascent-override").count(), 1);
    assert!(codes(&built).contains(&"firefox-not-met"));
    assert!(
        built.stand_ins[0].faces[0].lines[0]
            .off_in_firefox
            .is_none()
    );
}

#[rstest]
#[case("гавань", "nothing-to-fit")]
#[case("", "no-text")]
fn a_text_that_cannot_be_fitted_on_still_gives_a_stack(#[case] text: &str, #[case] code: &str) {
    let (web, pebbleroom) = (sans(), demo("installed/Pebbleroom-Regular.ttf"));
    let built = Parts {
        web: vec![&web],
        locals: vec![("Pebbleroom", vec![&pebbleroom], vec![])],
        text,
        ..Parts::default()
    }
    .built();
    assert!(codes(&built).contains(&code), "{:?}", built.notes);
    assert_eq!(built.font_family, "\"Skerrymark Sans\", sans-serif");
}

#[test]
fn local_fonts_that_cannot_stand_in_are_left_out_and_named() {
    let (web, signs, text) = (sans(), demo("fonts/Lanternsign.ttf"), english());
    // A tiny em makes every letter as wide as a page.
    let mut damaged = tidy_lattice_demo::file("installed/Pebbleroom-Regular.ttf")
        .expect("a font")
        .to_vec();
    let record = damaged
        .windows(4)
        .position(|tag| tag == b"head")
        .expect("a head");
    let head = u32::from_be_bytes(
        damaged[record + 8..record + 12]
            .try_into()
            .expect("4 bytes"),
    );
    let em = head as usize + 18;
    damaged[em..em + 2].copy_from_slice(&16_u16.to_be_bytes());
    let damaged = face(&damaged);
    let built = Parts {
        web: vec![&web],
        locals: vec![
            ("Lanternsign", vec![&signs], vec![]),
            ("Pebbleroom", vec![&damaged], vec![]),
        ],
        text: &text,
        ..Parts::default()
    }
    .built();
    assert!(built.stand_ins.is_empty());
    assert!(codes(&built).contains(&"nothing-in-common"));
    assert!(codes(&built).contains(&"too-different"));
    assert!(
        built
            .notes
            .iter()
            .any(|note| note.text.contains("Lanternsign"))
    );
    assert_eq!(Parts::default().build(), Err(BuildError::NoWebFont));
}

#[test]
fn a_line_too_low_for_the_em_is_told_and_may_be_pinned_taller() {
    // Ahem's ascent and descent make 1 em, without a gap.
    let (web, pebbleroom) = (
        face(font_test_data::AHEM),
        demo("installed/Pebbleroom-Regular.ttf"),
    );
    let mut parts = Parts {
        web: vec![&web],
        locals: vec![("Pebbleroom", vec![&pebbleroom], vec![])],
        text: "XXXX pppp",
        ..Parts::default()
    };
    let built = parts.built();
    let size = built.stand_ins[0].faces[0].width.slices[0].size_adjust;
    assert!(size > 100.0);
    let finding = built
        .notes
        .iter()
        .find(|n| n.code == "lines-off-firefox")
        .expect("a finding");
    assert!(finding.finding);
    assert!(
        finding.text.contains("16 px")
            && finding.text.contains("line-height")
            && finding.text.contains("--taller"),
        "{}",
        finding.text
    );
    parts.taller = size - 100.0 + 8.0;
    let taller = parts.built();
    assert!(
        !codes(&taller).contains(&"lines-off-firefox"),
        "{:?}",
        taller.notes
    );
    assert!(codes(&taller).contains(&"line-taller"));
    assert!(taller.web.faces[0].taller > 0.0);
}

#[test]
fn the_sheet_reads_back_as_it_was_meant() {
    let (web, pebbleroom) = (sans(), demo("installed/Pebbleroom-Regular.ttf"));
    let (signs, text) = (demo("fonts/Lanternsign.ttf"), english() + " →");
    let parts = Parts {
        web: vec![&web],
        locals: vec![("Pebble\"room */", vec![&pebbleroom], vec![])],
        signs: vec![(&signs, None)],
        text: &text,
        slices: 4,
        ..Parts::default()
    };
    let built = parts.built();
    assert_eq!(built, parts.built(), "the same input gives the same bytes");
    assert!(!codes(&built).contains(&"css-misread"), "{:?}", built.notes);
    assert_eq!(misread("@font-face { font-family: A; }", &[]).len(), 1);
    let [rules, properties, classes] = sheets(&[built.clone(), built], &[], "swap", false).apart();
    assert!(rules.contains("@font-face") && !rules.contains(":root"));
    assert_eq!(rules.matches("url(").count(), 2, "rules stand there once");
    assert!(properties.contains("--notices-stack:"));
    assert!(classes.contains(".font-notices {\n  font-family: var(--notices-stack);"));
}

#[test]
fn tokens_and_app_data_say_the_same() {
    let (web, pebbleroom) = (sans(), demo("installed/Pebbleroom-Regular.ttf"));
    let text = english();
    let built = Parts {
        web: vec![&web],
        locals: vec![("Pebbleroom", vec![&pebbleroom], vec![])],
        text: &text,
        ..Parts::default()
    }
    .built();
    let tokens = tokens(std::slice::from_ref(&built), &[]);
    let role = &tokens["font"]["notices"];
    assert_eq!(role["family"]["$type"], "fontFamily");
    assert_eq!(role["family"]["$value"][0], "Skerrymark Sans");
    assert_eq!(role["weight"]["400"]["$value"], 400);
    assert_eq!(
        role["size"]["16"]["$value"],
        serde_json::json!({"value": 16, "unit": "px"})
    );
    let app = app_stack(&built);
    let stand_in = app
        .fonts
        .iter()
        .find(|f| f.kind == EntryKind::StandIn)
        .expect("a stand-in");
    let size = built.stand_ins[0].faces[0].width.slices[0].size_adjust / 100.0;
    assert_eq!(stand_in.scale, size);
    let units = app.line.ascent / size * 1000.0;
    assert_eq!(stand_in.line_units.ascent, units.round());
    let own = pebbleroom.line().ascent * size;
    assert!((stand_in.baseline_shift - (app.line.ascent - own)).abs() < 1e-4);
    assert_eq!(app.families, ["Pebbleroom"]);
    assert_eq!(app.generic, "sans-serif");
}

#[test]
fn engines_are_told_apart_by_what_they_honour() {
    let support = engine_support();
    assert_eq!(support.date.len(), 10);
    let bare: Vec<&str> = support
        .engines
        .iter()
        .filter(|engine| engine.line_overrides.is_none())
        .map(|engine| engine.name.as_str())
        .collect();
    assert_eq!(bare, ["WebKit"]);
    let (web, pebbleroom, text) = (sans(), demo("installed/Pebbleroom-Regular.ttf"), english());
    let built = Parts {
        web: vec![&web],
        locals: vec![("Pebbleroom", vec![&pebbleroom], vec![])],
        text: &text,
        ..Parts::default()
    }
    .built();
    let lines = built.stand_ins[0].faces[0]
        .without_overrides
        .expect("its lines are known");
    let line = pebbleroom.line();
    let size = built.stand_ins[0].faces[0].width.slices[0].size_adjust / 100.0;
    assert!((lines.stand_in - (line.ascent + line.descent + line.line_gap) * size).abs() < 0.001);
    let note = built
        .notes
        .iter()
        .find(|n| n.code == "line-overrides-ignored")
        .expect("a note");
    assert!(note.text.contains("line-height"), "{}", note.text);
}

/// Stacks for the families of built-in platforms, with all that is told of them: as they were
/// when somebody last looked at them.
#[rstest]
#[case("english on desks", &["Sans-Regular", "Sans-Italic"], "en", &["windows", "macos", "gnome"], 1)]
#[case("ukrainian on phones", &["Text-Regular"], "uk", &["android", "ios"], 3)]
#[case("vietnamese everywhere", &["Text-Regular"], "vi", &["windows", "android"], 2)]
#[case("japanese behind", &["Sans-Regular"], "ja", &["windows", "macos"], 1)]
fn stacks_are_built_as_they_were(
    #[case] name: &str,
    #[case] fonts: &[&str],
    #[case] language: &str,
    #[case] on: &[&str],
    #[case] slices: usize,
) {
    let web: Vec<Face> = (fonts.iter())
        .map(|name| demo(&format!("fonts/Skerrymark{name}.ttf")))
        .collect();
    let platforms = platforms();
    let devices: Vec<Device<'_>> = (on.iter())
        .map(|name| {
            platforms
                .iter()
                .find(|one| one.name == **name)
                .expect("built in")
        })
        .map(Device::built_in)
        .collect();
    let local = demo("installed/QuaydeskUI-Regular.ttf");
    let signs = demo("fonts/Lanternsign.ttf");
    let text = samples::of(language).expect("a text").text;
    let built = Parts {
        web: web.iter().collect(),
        locals: vec![("Quaydesk UI", vec![&local], on.to_vec())],
        signs: vec![(&signs, None)],
        text: &format!("{text} Tide 12:45 \u{2192} Pier 3"),
        slices,
        devices: &devices,
        ..Parts::default()
    }
    .built();
    let mut whole = serde_json::to_value(&built).expect("JSON");
    whole.as_object_mut().expect("an object").remove("css");
    let told = serde_json::to_string_pretty(&shortened(whole)).expect("JSON");
    insta::assert_snapshot!(name, format!("{}\n{told}", built.css));
}
