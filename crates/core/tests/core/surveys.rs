//! The lattice of a whole project.

use std::sync::Arc;

use rstest::rstest;
use tidy_lattice_core::lattice::survey::{Allowed, Bucket, Survey, Surveyed, needs, survey};
use tidy_lattice_core::lattice::{GapCause, WebFace, WebFile};
use tidy_lattice_core::need::Need;
use tidy_lattice_core::page::{PlacedFace, StyleValue, TextStyle};
use tidy_lattice_core::platform::{Definition, Device, InstalledFace, Platform};
use tidy_lattice_core::style::read::{FaceSource, FontFace, families};
use tidy_lattice_core::text::Source;

use crate::material::demo;

const FONTS: [(&str, &str); 4] = [
    ("Sans", "fonts/SkerrymarkSans-Regular.ttf"),
    ("Text", "fonts/SkerrymarkText-Regular.ttf"),
    ("Plain", "installed/Driftplain-Regular.ttf"),
    ("Joined", "fonts/TidefallArabic-Regular.ttf"),
];

/// Rules for all fonts.
fn web() -> Vec<WebFace> {
    FONTS
        .iter()
        .map(|(family, path)| WebFace {
            placed: PlacedFace {
                face: FontFace {
                    family: Some((*family).to_owned()),
                    sources: vec![FaceSource::Url {
                        url: (*path).to_owned(),
                        format: None,
                    }],
                    ..FontFace::default()
                },
                file: "a.css".to_owned(),
                line: 1,
                depth: 1,
            },
            files: vec![Some(Ok(WebFile {
                name: (*path).to_owned(),
                bytes: Some(40_000),
                face: Arc::new(demo(path)),
                instances: Default::default(),
            }))],
        })
        .collect()
}

fn device(name: &str, installed: &str) -> Platform {
    let face = demo(installed);
    Definition::read(&format!("title = {name:?}"))
        .and_then(|definition| {
            let face = InstalledFace::of(&face, installed.to_owned());
            definition.assemble(name, |_| None, &[face])
        })
        .expect("a platform")
}

/// A survey of texts: source, role, language, stack, text.
fn of(texts: &[(&str, &str, &str, &str, &str)]) -> Survey {
    let mut all = Survey {
        web: vec![web()],
        ..Survey::default()
    };
    for (source, role, language, stack, text) in texts {
        let style = TextStyle::of_families(families(stack).expect("a stack"));
        let number = all
            .styles
            .iter()
            .position(|known| *known == style)
            .unwrap_or_else(|| {
                all.styles.push(style);
                all.styles.len() - 1
            });
        all.buckets.push(Bucket {
            source: (*source).to_owned(),
            role: (*role).to_owned(),
            language: Some((*language).to_owned()),
            style: number,
            web: 0,
            element: None,
            need: Need::gather(&[Source {
                name: (*source).to_owned(),
                text: (*text).to_owned(),
            }]),
        });
    }
    all
}

fn judged(texts: &Survey) -> Surveyed {
    let (desk, phone) = (
        device("desk", "installed/QuaydeskUI-Regular.ttf"),
        device("phone", "installed/Pebbleroom-Regular.ttf"),
    );
    let devices = [
        Device::new(&desk, |_| Some(demo("installed/QuaydeskUI-Regular.ttf"))),
        Device::new(&phone, |_| Some(demo("installed/Pebbleroom-Regular.ttf"))),
    ];
    survey(texts, &devices)
}

#[test]
fn sets_are_stacks_with_rows_by_language_and_script() {
    let texts = of(&[
        ("a.txt", "body", "pl", "Sans, Text", "aał 5"),
        ("b.txt", "body", "el", "Sans, Text", "αβ"),
        ("c.txt", "code", "pl", "Text", "xy"),
    ]);
    let result = judged(&texts);
    assert_eq!(
        (result.clusters, result.gap_clusters, result.sets.len()),
        (8, 0, 2)
    );
    let set = &result.sets[0];
    assert_eq!(
        (set.roles.as_slice(), set.clusters),
        (["body".to_owned()].as_slice(), 6)
    );
    assert_eq!(set.languages, ["el", "pl"]);
    let device = &set.devices[0];
    assert_eq!(device.platforms, ["desk", "phone"], "both do the same");
    let row = &device.rows[0];
    assert_eq!(
        (row.language.as_deref(), row.group.as_str(), row.clusters),
        (Some("pl"), "Latin", 3)
    );
    assert_eq!(
        (
            row.cells[0].serves,
            row.cells[1].serves,
            row.cells[1].covers
        ),
        (2, 1, 3)
    );
    assert_eq!(
        (device.fonts[1].serves, device.fonts[1].serves_distinct),
        (3, 3)
    );
    assert!(device.fonts[0].web);
}

#[test]
fn gaps_are_counted_once_though_devices_are_several() {
    let texts = of(&[
        ("a.txt", "body", "hi", "Sans, 'Quaydesk UI'", "कक α"),
        ("b.txt", "small", "el", "Sans, 'Quaydesk UI'", "α"),
    ]);
    let result = judged(&texts);
    let gap = |cluster: &str| {
        result
            .gaps
            .iter()
            .find(|gap| gap.cluster == cluster)
            .expect("a gap")
    };
    let ka = gap("क");
    assert_eq!((ka.count, ka.platforms.len(), ka.first.line), (2, 2, 1));
    // Quaydesk UI has Greek, and only the desk has Quaydesk UI.
    let alpha = gap("α");
    assert_eq!(
        (alpha.count, alpha.platforms.as_slice()),
        (2, ["phone".to_owned()].as_slice())
    );
    assert_eq!((alpha.roles.len(), alpha.languages.len()), (2, 2));
    assert_eq!(alpha.filled_by[0], "Skerrymark Text");
    assert_eq!(result.gap_clusters, 4);
}

#[test]
fn what_is_drawn_wrongly_is_a_gap_with_its_remedy() {
    let texts = of(&[
        ("a.txt", "body", "ar", "Plain, Joined", "بب"),
        ("b.txt", "body", "ar", "Plain", "ب"),
    ]);
    let result = judged(&texts);
    let [first, second] = result.gaps.as_slice() else {
        panic!("{:?}", result.gaps);
    };
    assert!(matches!(
        first.cause,
        GapCause::Flawed {
            font: 0,
            better: Some(1),
            ..
        }
    ));
    assert!(matches!(
        second.cause,
        GapCause::Flawed {
            font: 0,
            better: None,
            ..
        }
    ));
    assert_eq!(second.filled_by, ["Tidefall Arabic"]);
}

#[rstest]
#[case("क", true)]
#[case("U+915", true)]
#[case("u+0900-097f", true)]
#[case("Devanagari", true)]
#[case("U+916", false)]
#[case("Greek", false)]
fn allowed_gaps_do_not_count(#[case] rule: &str, #[case] holds: bool) {
    let mut texts = of(&[("a.txt", "body", "hi", "Sans", "कक")]);
    texts.allowed.push(Allowed::read(rule).expect("a rule"));
    let result = judged(&texts);
    let expected = if holds { (0, 2) } else { (2, 0) };
    assert_eq!((result.gap_clusters, result.allowed_clusters), expected);
}

#[test]
fn faces_and_features_that_are_not_there_are_told() {
    let mut texts = of(&[("a.txt", "body", "en", "Sans, Text", "1α ab")]);
    texts.styles[0].weight = 900.0;
    texts.styles[0].style = StyleValue::Italic;
    texts.styles[0].features = vec![("tnum".to_owned(), 1), ("smcp".to_owned(), 1)];
    let result = judged(&texts);
    let face = &result.faces[0];
    assert!(face.differs() && face.other_weight && face.faked.bold && face.faked.italic);
    assert_eq!((face.face.as_str(), face.offers.from), ("Sans", 400.0));
    // Sans has both features; Text, which shows the alpha, has no small capitals.
    let lacks: Vec<(&str, &str, bool)> = result
        .features
        .iter()
        .map(|lack| {
            (
                lack.feature.as_str(),
                lack.font.as_str(),
                lack.lost_in_fallback,
            )
        })
        .collect();
    assert_eq!(lacks, [("smcp", "Text", true)]);
}

#[test]
fn costs_name_fonts_that_are_loaded_for_little() {
    let texts = of(&[
        ("a.txt", "body", "pl", "Sans, Text", "abcdefghijkł"),
        ("b.txt", "body", "pl", "Sans, Text", "abc"),
    ]);
    let result = judged(&texts);
    let [first, second] = result.texts.as_slice() else {
        panic!("{:?}", result.texts);
    };
    assert_eq!(
        (first.source.as_str(), first.files, first.bytes),
        ("a.txt", 2, 80_000)
    );
    assert_eq!(first.fonts[1].only_for, ["ł"]);
    assert!(first.fonts[0].only_for.is_empty(), "it shows much more");
    assert_eq!((second.fonts.len(), second.fonts[0].only_for.len()), (1, 0));
}

#[test]
fn needs_are_merged_by_role_language_and_style() {
    let texts = of(&[
        ("a.txt", "body", "pl", "Sans", "ab"),
        ("b.txt", "body", "pl", "Sans", "bc"),
        ("c.txt", "body", "uk", "Sans", "b"),
    ]);
    let needs = needs(&texts);
    assert_eq!(needs.len(), 2);
    let counts: Vec<(&str, u64, &str)> = needs[0]
        .clusters
        .iter()
        .map(|cluster| {
            (
                cluster.cluster.as_str(),
                cluster.count,
                cluster.first.source.as_str(),
            )
        })
        .collect();
    assert_eq!(
        counts,
        [("a", 1, "a.txt"), ("b", 2, "a.txt"), ("c", 1, "b.txt")]
    );
}

#[test]
fn without_devices_only_web_fonts_count() {
    let result = survey(
        &of(&[("a.txt", "body", "en", "Nobody, Sans, serif", "aα")]),
        &[],
    );
    assert!(result.platforms.is_empty());
    assert_eq!(result.gaps.len(), 1);
    let absent: Vec<bool> = result.sets[0].devices[0]
        .fonts
        .iter()
        .map(|font| font.absent.is_some())
        .collect();
    assert_eq!(absent, [true, false, true]);
}
