//! What devices make of names, generic families and languages, and what they have in common:
//! as it was when somebody last looked at it.

use std::fmt::Write as _;

use tidy_lattice_core::font::MeasuredIn;
use tidy_lattice_core::platform::{
    self, Definition, Device, Family, InstalledFace, Platform, common,
};

use crate::material::demo;

fn devices() -> Vec<Device<'static>> {
    platform::platforms().iter().map(Device::built_in).collect()
}

#[test]
fn families_in_common_are_those_that_were() {
    let devices = devices();
    let mut told = String::new();
    for several in [&devices[..], &devices[..2], &devices[4..5]] {
        let titles: Vec<_> = several.iter().map(|d| d.platform().name.as_str()).collect();
        let _ = writeln!(told, "{}:", titles.join(", "));
        for family in common(several) {
            let x_height = family.x_height.map(|height| format!("{height:.4} "));
            let on = family.on.iter().map(|on| {
                let end = |end: &Option<String>| end.clone().unwrap_or_default();
                let times = format!("{}-{}", end(&on.since), end(&on.until));
                let shows = on.shows.as_ref().map(|name| format!(" as {name}"));
                format!("{} {times}{}", on.platform, shows.unwrap_or_default())
            });
            let _ = writeln!(
                told,
                "  {}, {:?}, {}{:?}: {}",
                family.name,
                family.class,
                x_height.unwrap_or_default(),
                family.known,
                on.collect::<Vec<_>>().join("; ")
            );
        }
    }
    insta::assert_snapshot!("families in common", told);
}

#[test]
fn names_and_generic_families_lead_where_they_led() {
    let names = [
        "arial",
        "Helvetica",
        "helvetica neue",
        "Times",
        "Times New Roman",
        "Courier",
        "Courier New",
        "Georgia",
        "Verdana",
        "Segoe UI",
        "Roboto",
        "Noto Sans",
        "DejaVu Sans",
        "Liberation Sans",
        "Calibri",
        "Cambria",
        "Comic Sans MS",
        "MS Gothic",
        "Meiryo",
        "PingFang SC",
        "Nobody's",
    ];
    let keywords = [
        "serif",
        "sans-serif",
        "monospace",
        "cursive",
        "fantasy",
        "system-ui",
        "ui-serif",
        "ui-monospace",
        "math",
        "emoji",
    ];
    let languages = [
        "en", "ja", "zh-Hans", "zh-Hant", "zh-TW", "zh-HK", "ko", "ar", "he", "hi", "th", "ru",
        "el", "ka", "am", "xx", "sr-Latn",
    ];
    let of_device = |device: &Device<'_>| {
        let mut told = String::new();
        for name in names {
            let found = device.family(name).map_or("none", |family| &family.name);
            let local = device.local(name).map_or("none", |(_, face)| &face.full);
            let _ = writeln!(told, "  {name}: {found}; local: {local}");
        }
        for language in languages {
            let script = device.script_for(Some(language));
            let found = keywords.map(|keyword| {
                let family = device.generic(keyword, script);
                family.map_or("none", |family| &family.name)
            });
            let _ = writeln!(told, "  {language}, {script:?}: {}", found.join(", "));
        }
        told
    };
    let mut told = String::new();
    for device in devices() {
        let name = &device.platform().name;
        let usual = of_device(&device);
        let _ = writeln!(told, "{name}:\n{usual}");
        for engine in ["chromium", "firefox", "webkit"] {
            let seen = of_device(&Device::built_in(device.platform()).seen_in(engine));
            if seen != usual {
                let _ = writeln!(told, "{name} in {engine}:\n{seen}");
            }
        }
    }
    insta::assert_snapshot!("names and generic families", told);
}

/// The families of a platform that are not as in `base`.
fn others(platform: &Platform, base: &Platform) -> String {
    let told = |family: &Family| {
        let mut told = format!("{}, {:?}, {:?}\n", family.name, family.class, family.known);
        for face in &family.faces {
            let _ = writeln!(
                told,
                "  {} {} {:?} {:?}: {:?}, {:?}",
                face.weight, face.stretch, face.style, face.full, face.card, face.card_is
            );
        }
        told
    };
    let known: Vec<String> = base.families.iter().map(told).collect();
    let families = platform.families.iter().map(told);
    families.filter(|family| !known.contains(family)).collect()
}

/// A demo face under another name, measured in a browser of a system or read from a file.
fn installed(file: &str, family: &str, full: &str, system: Option<&str>) -> InstalledFace {
    let mut face = InstalledFace::of(&demo(file), format!("{full}.ttf"));
    face.families = vec![family.to_owned()];
    face.names.family = family.to_owned();
    face.names.full = Some(full.to_owned());
    face.names.postscript = None;
    face.measured_in = system.map(|system| MeasuredIn {
        engine: "Chromium".to_owned(),
        version: "1".to_owned(),
        system: system.to_owned(),
        ..MeasuredIn::default()
    });
    face
}

#[test]
fn cards_of_ones_own_stand_where_they_stood() {
    let plain = "installed/QuaydeskUI-Regular.ttf";
    let bold = "installed/QuaydeskUI-Bold.ttf";
    let cards = [
        installed(plain, "Arial", "Arial", None),
        installed(bold, "Arial", "Arial Heavy", None),
        installed(bold, "Verdana", "Verdana of ours", Some("Windows")),
        installed(plain, "Quaydesk UI", "Quaydesk UI", Some("Windows")),
        installed(plain, "Georgia", "Georgia", Some("macOS")),
        installed(plain, "Quaydesk UI", "Quaydesk UI", Some("Linux")),
        installed(plain, "Nowhere", "Nowhere", None),
        installed(plain, "Cantarell", "Cantarell", Some("Linux")),
    ];
    let mut told = String::new();
    for base in platform::platforms() {
        let mut platform = base.clone();
        let taken = platform.take_cards(&cards);
        let _ = writeln!(told, "{}, {taken}:\n{}", base.name, others(&platform, base));
    }
    insta::assert_snapshot!("cards of one's own", told);
}

#[test]
fn platforms_that_extend_others_are_what_they_were() {
    let base = &platform::platforms()[0];
    let mut told = String::new();
    for toml in [
        "extends = \"windows\"",
        "title = \"Kiosk\"\nabout = \"At the quay\"\n[alias]\n\"Quay\" = \"Arial\"\n\
         [generic]\nserif = \"Quaydesk UI\"\n[generic_for.Jpan]\nserif = \"Arial\"",
        "title = \"K\"\n[[family]]\nname = \"Arial\"\nclass = \"serif\"\n\
         faces = [{ weight = 400, full = \"Arial\" }]\n\
         [[family]]\nname = \"Zzz\"\nclass = \"monospace\"\nfaces = [{ weight = 400, full = \"Zzz\" }]",
        "title = \"K\"\nengines = [\"Firefox\"]",
        "title = \"K\"\nversions = [\"77\"]",
    ] {
        let installed = [installed(
            "installed/QuaydeskUI-Bold.ttf",
            "Quaydesk UI",
            "Quaydesk",
            None,
        )];
        let extended = Definition::read(toml).and_then(|definition| {
            base.extended(definition, "kiosk", platform::builtin_card, &installed)
        });
        let _ = match &extended {
            Ok(one) => writeln!(
                told,
                "{toml}\n= {} {:?} {:?} {:?} {:?}\n{:?}\n{:?}\n{:?}\n{}",
                one.name,
                one.title,
                one.about,
                one.versions,
                one.engines,
                one.generic,
                one.generic_for.get("Jpan"),
                one.aliases,
                others(one, base)
            ),
            Err(error) => writeln!(told, "{toml}\n= {error}\n"),
        };
    }
    insta::assert_snapshot!("extended platforms", told);
}
