//! Platforms and the catalogue.

use rstest::rstest;
use tidy_lattice_core::font::{Face, LineSource, Slope};
use tidy_lattice_core::platform::{
    self, Definition, InstalledFace, Known, Likeness, Looked, Platform, as_face, find,
};

use crate::material::demo;

#[test]
fn the_catalogue_is_whole() {
    let platforms = platform::platforms();
    let names: Vec<&str> = platforms.iter().map(|p| p.name.as_str()).collect();
    assert_eq!(
        names,
        ["windows", "macos", "ios", "android", "gnome", "kde", "bare"]
    );
    for platform in platforms {
        for face in platform.families.iter().flat_map(|family| &family.faces) {
            let Some(name) = &face.card else { continue };
            let card = platform::builtin_card(name).unwrap_or_else(|| panic!("no card {name}"));
            let source = &card.source;
            assert!(
                source.package.is_some() && source.package_version.is_some(),
                "{name} has no provenance"
            );
            assert_eq!(source.sha256.len(), 64, "{name}");
        }
    }
}

/// A card of a font that was cut to fewer scripts must not stand for the whole one.
#[test]
fn what_was_measured_itself_has_the_scripts_that_are_listed() {
    let letters = [
        ("Latin", 'a'),
        ("Greek", 'α'),
        ("Cyrillic", 'ж'),
        ("Hebrew", 'א'),
        ("Arabic", 'ب'),
        ("Devanagari", 'क'),
        ("Thai", 'ก'),
        ("Hiragana", 'は'),
        ("Hangul", '한'),
    ];
    let mut looked_at = 0;
    for platform in platform::platforms() {
        let itself = |family: &&platform::Family| {
            matches!(
                &family.known,
                Known::Measured {
                    likeness: Likeness::Itself,
                    ..
                }
            )
        };
        for family in platform.families.iter().filter(itself) {
            let upright = family.faces.iter().find(|face| face.style == Slope::Normal);
            let card = upright.and_then(|face| platform::builtin_card(face.card.as_deref()?));
            let Some(face) = card.map(|card| Face::from_card(card).expect("a face")) else {
                continue;
            };
            for (script, letter) in letters {
                if family.scripts.iter().any(|known| known == script) {
                    assert!(
                        face.maps(letter),
                        "{}: {} has no {script}",
                        platform.name,
                        family.name
                    );
                    looked_at += 1;
                }
            }
        }
    }
    assert!(looked_at > 50, "{looked_at}");
}

#[test]
fn a_platform_ships_what_its_versions_say() {
    let windows = &platform::platforms()[0];
    let family = |name: &str| {
        windows
            .families
            .iter()
            .find(|f| f.name == name)
            .expect("it")
    };
    assert!(windows.ships(family("Arial"), "7"));
    assert!(!windows.ships(family("Nirmala UI"), "7"));
    assert!(windows.ships(family("Nirmala UI"), "11"));
}

#[test]
fn faces_of_the_same_widths_do_not_lend_their_lines() {
    let windows = &platform::platforms()[0];
    let found = |name: &str| match find(windows, name) {
        Looked::Found(found) => found,
        other => panic!("{other:?}"),
    };
    let card = |name: &str| {
        let found = found(name);
        let card = found.face.card.as_deref().and_then(platform::builtin_card);
        as_face(found, card.expect("a card")).expect("a face")
    };
    let georgia = card("georgia-bold");
    assert_eq!(georgia.names().full.as_deref(), Some("Georgia Bold"));
    assert_eq!(
        (georgia.weight(), georgia.line().source),
        (700.0, LineSource::NotKnown)
    );
    let arial = card("Arial");
    assert_eq!(arial.line().source, LineSource::Hhea);
    assert!(matches!(
        found("Arial").family.known,
        Known::Measured {
            likeness: Likeness::SameMetrics,
            ..
        }
    ));
    assert_eq!(found("Tahoma").family.known, Known::ByName);
    // Of Verdana the widths of letters are known, and nothing else.
    let verdana = card("Verdana");
    assert!(verdana.only_widths() && !verdana.knows_features());
    assert_eq!(verdana.line().source, LineSource::NotKnown);
    assert!(verdana.maps('ż') && verdana.maps('Ω') && verdana.maps('Ж'));
    assert!(!verdana.maps('漢'), "that is a width of another font");
    assert!(
        matches!(find(windows, "Arail Roman"), Looked::Unknown(near) if near.contains(&"Times New Roman"))
    );
}

fn define(toml: &str) -> Result<Platform, String> {
    let definition = Definition::read(toml).map_err(|error| error.to_string())?;
    let installed = [InstalledFace::of(
        &demo("installed/QuaydeskUI-Regular.ttf"),
        "installed/QuaydeskUI-Regular.ttf".to_owned(),
    )];
    let platform = definition.assemble("kiosk", platform::builtin_card, &installed);
    platform.map_err(|error| error.to_string())
}

#[test]
fn a_platform_of_ones_own_has_its_fonts_families() {
    let platform = define("title = \"Kiosk\"\n[generic]\nsans-serif = \"Quaydesk UI\"");
    let platform = platform.expect("a platform");
    let family = &platform.families[0];
    assert_eq!(family.name, "Quaydesk UI");
    assert_eq!(family.scripts, ["Latin", "Cyrillic", "Greek"]);
    assert!(matches!(
        family.known,
        Known::Measured {
            likeness: Likeness::Itself,
            ..
        }
    ));
}

#[rstest]
#[case("title = 1", "line 1")]
#[case("title = \"K\"\nfonst = []", "fonst")]
#[case("title = \"K\"\n[generic]\nsans = \"Arial\"", "no generic family")]
#[case(
    "title = \"K\"\n[generic]\nserif = \"Arial\"",
    "has no family \"Arial\""
)]
#[case(
    "title = \"K\"\n[[family]]\nname = \"A\"\nclass = \"sans\"\nsince = \"9\"",
    "not among the platform's versions"
)]
#[case(
    "title = \"K\"\n[[family]]\nname = \"A\"\nclass = \"sans\"\ncards_are = \"itself\"\nfaces = [{ weight = 400, full = \"A\", card = \"None\" }]",
    "there is no card None.card.json"
)]
#[case(
    "title = \"K\"\n[[family]]\nname = \"A\"\nclass = \"sans\"\nfaces = [{ weight = 400, full = \"A\", card = \"Hack-Regular\" }]",
    "cards_are goes with cards"
)]
fn a_wrong_definition_is_told_with_its_place(#[case] toml: &str, #[case] says: &str) {
    let error = define(toml).expect_err("an error");
    assert!(error.contains(says), "{error}");
}

/// Names that Chromium takes for one another where one is not installed, measured on Linux.
#[rstest]
#[case::helvetica("Helvetica", Some("Arial"))]
#[case::times("times", Some("Times New Roman"))]
#[case::courier("Courier", Some("Courier New"))]
#[case::itself("Arial", Some("Arial"))]
#[case::another("Palatino", None)]
fn some_names_stand_for_one_another(#[case] name: &str, #[case] family: Option<&str>) {
    let windows = platform::platforms()
        .iter()
        .find(|one| one.name == "windows");
    let device = platform::Device::built_in(windows.expect("the platform"));
    let found = device.family(name).map(|family| family.name.as_str());
    assert_eq!(found, family);
}

/// Free families that systems which have them take for others, measured on Linux: unless Chromium
/// asks for a generic family by that name, and it is another.
#[rstest]
#[case::free("Arial", "", Some("Liberation Sans"))]
#[case::by_its_twin("Helvetica", "", Some("Liberation Sans"))]
#[case::generic_is_it("Arial", "sans-serif = \"Liberation Sans\"", Some("Liberation Sans"))]
#[case::generic_is_another("Arial", "sans-serif = \"Quaydesk UI\"", None)]
#[case::not_the_other_way("Arimo", "", None)]
fn free_families_stand_for_others(
    #[case] name: &str,
    #[case] generic: &str,
    #[case] family: Option<&str>,
) {
    let platform = define(&format!(
        "title = \"Kiosk\"\n[generic]\n{generic}\n\
         [[family]]\nname = \"Liberation Sans\"\nclass = \"sans\"\n"
    ));
    let platform = platform.expect("a platform");
    let device = platform::Device::built_in(&platform);
    let found = device.family(name).map(|family| family.name.as_str());
    assert_eq!(found, family);
    let told = platform
        .other_names()
        .contains(&("Arial", "Liberation Sans"));
    assert_eq!(told, !generic.contains("Quaydesk"));
}
