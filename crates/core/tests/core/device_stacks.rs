//! Stacks of installed families.

use rstest::rstest;
use tidy_lattice_core::font::Class;
use tidy_lattice_core::need::{Need, language_need};
use tidy_lattice_core::platform::{Definition, Device, Platform, platforms};
use tidy_lattice_core::stack::of_devices::{
    DeviceStack, DeviceStackRequest, LanguageNeed, TextUse, device_stack,
};
use tidy_lattice_core::text::{Group, Source};

const SIX: [&str; 6] = ["windows", "macos", "ios", "android", "gnome", "kde"];

fn need(tag: &str) -> LanguageNeed {
    let mut need = Need::gather(&[Source {
        name: tag.to_owned(),
        text: language_need(tag).expect("a language").join(" "),
    }]);
    need.clusters
        .retain(|cluster| matches!(cluster.group, Group::Script(_) | Group::Digits));
    LanguageNeed {
        language: Some(tag.to_owned()),
        need,
        of_text: false,
    }
}

fn request<'a>(
    devices: &'a [Device<'a>],
    (text_use, class): (TextUse, Class),
    needs: &'a [LanguageNeed],
) -> DeviceStackRequest<'a> {
    DeviceStackRequest {
        role: "text".to_owned(),
        text_use,
        class,
        devices,
        alike: Vec::new(),
        like: None,
        resized: Default::default(),
        needs,
        generic: None,
    }
}

fn on_six(text_use: TextUse, languages: &[&str]) -> DeviceStack {
    let platforms = platforms();
    let named = SIX.map(|name| platforms.iter().find(|one| one.name == name));
    let devices: Vec<Device<'_>> = named
        .into_iter()
        .map(|platform| Device::built_in(platform.expect("built in")))
        .collect();
    let needs: Vec<LanguageNeed> = languages.iter().map(|tag| need(tag)).collect();
    device_stack(&request(&devices, (text_use, text_use.class()), &needs))
}

/// The family that shows most of a language on a platform.
fn main_family<'s>(stack: &'s DeviceStack, platform: &str, language: &str) -> Option<&'s str> {
    let on = stack.platforms.iter().find(|on| on.platform == platform)?;
    let served = on.served.iter();
    let mut served = served.filter(|one| one.language.as_deref() == Some(language));
    served.next().map(|one| one.family.as_str())
}

#[rstest]
#[case(TextUse::Interface, "en", ["Segoe UI", "San Francisco", "San Francisco", "Roboto", "Cantarell", "Noto Sans"])]
#[case(TextUse::Interface, "ar", ["Segoe UI", "Geeza Pro", "Geeza Pro", "Noto Naskh Arabic", "DejaVu Sans", "DejaVu Sans"])]
#[case(TextUse::Reading, "el", ["Georgia", "Georgia", "Georgia", "Noto Serif", "DejaVu Serif", "Noto Serif"])]
#[case(TextUse::Reading, "ja", ["Yu Gothic", "Hiragino Mincho ProN", "Hiragino Mincho ProN", "Noto Sans CJK JP", "Noto Serif CJK JP", "Noto Serif CJK JP"])]
#[case(TextUse::Code, "uk", ["Consolas", "Menlo", "Menlo", "Droid Sans Mono", "DejaVu Sans Mono", "Hack"])]
fn each_platform_gets_its_own(
    #[case] text_use: TextUse,
    #[case] language: &str,
    #[case] families: [&str; 6],
) {
    let stack = on_six(text_use, &[language]);
    let got = SIX.map(|platform| main_family(&stack, platform, language).unwrap_or("nothing"));
    assert_eq!(got, families, "{}", stack.font_family);
}

/// Whatever is asked for, nothing stands in a stack twice or in vain, and no platform loses
/// its own family by what others are given.
#[rstest]
fn nothing_is_in_vain_and_nothing_is_lost(
    #[values(TextUse::Interface, TextUse::Reading, TextUse::Code)] text_use: TextUse,
    #[values(&["en"], &["ar", "hi"], &["ja", "ru", "vi"], &["ko", "he"], &["th", "en"])]
    languages: &[&str],
) {
    let together = on_six(text_use, languages);
    let (last, named) = together.stack.split_last().expect("a generic family");
    assert_eq!(last.family, text_use.class().generic().expect("one"));
    for (place, entry) in named.iter().enumerate() {
        let again = named[place + 1..]
            .iter()
            .any(|other| other.family == entry.family);
        let served = together.platforms.iter().flat_map(|on| &on.served);
        let served: u64 = served
            .filter(|one| one.entry == place)
            .map(|one| one.clusters)
            .sum();
        assert!(
            !again && served > 0,
            "{}: {}",
            entry.family,
            together.font_family
        );
        assert!(!entry.platforms.is_empty(), "{}", entry.family);
    }
    for language in languages {
        let alone = on_six(text_use, &[language]);
        for platform in SIX {
            assert_eq!(
                main_family(&together, platform, language),
                main_family(&alone, platform, language),
                "{language} on {platform}: {} and {}",
                together.font_family,
                alone.font_family
            );
        }
    }
}

fn platform(name: &str, toml: &str) -> Platform {
    let definition = Definition::read(toml).expect(toml);
    definition.assemble(name, |_| None, &[]).expect(toml)
}

fn family(name: &str) -> String {
    format!(
        "[[family]]\nname = {name:?}\nclass = \"sans\"\nscripts = [\"Latin\"]\n\
         faces = [{{weight = 400, full = {name:?}}}]\n"
    )
}

/// What one platform was given must not show where another was given something else.
#[test]
fn a_family_that_others_have_comes_behind_their_own() {
    let near = format!(
        "title = \"Near\"\n[generic]\nsans-serif = \"Other\"\n[own]\nsans = \"Plain\"\n{}{}",
        family("Plain"),
        family("Other")
    );
    let far = format!(
        "title = \"Far\"\n[generic]\nsans-serif = \"Wide\"\n[own]\nsans = \"Fine\"\n{}{}{}",
        family("Plain"),
        family("Fine"),
        family("Wide")
    );
    let (near, far) = (platform("near", &near), platform("far", &far));
    let devices = [&near, &far].map(Device::built_in);
    let needs = [need("en")];
    let request = request(&devices, (TextUse::Reading, Class::Sans), &needs);
    let stack = device_stack(&request);
    assert_eq!(stack.font_family, "\"Fine\", \"Plain\", sans-serif");
    assert_eq!(main_family(&stack, "near", "en"), Some("Plain"));
    assert_eq!(main_family(&stack, "far", "en"), Some("Fine"));
    // A wanted look goes before what the platform was given; where there is none, that stays.
    let wanted = DeviceStackRequest {
        alike: vec![None, Some("Wide".to_owned())],
        like: Some("Wide".to_owned()),
        ..request
    };
    let stack = device_stack(&wanted);
    assert_eq!(stack.font_family, "\"Wide\", \"Plain\", sans-serif");
    assert!(stack.notes.iter().all(|note| note.code != "passed-over"));
}

/// Where each has what the other was given, one of them cannot have its own; that is told.
#[test]
fn what_cannot_be_for_all_is_told() {
    let with = |name: &str, own: &str| {
        let toml = format!(
            "title = {name:?}\n[generic]\nsans-serif = \"Other\"\n[own]\nsans = {own:?}\n{}{}{}",
            family("Fine"),
            family("Plain"),
            family("Other")
        );
        platform(name, &toml)
    };
    let (near, far) = (with("Near", "Plain"), with("Far", "Fine"));
    let devices = [&near, &far].map(Device::built_in);
    let needs = [need("en")];
    let stack = device_stack(&request(&devices, (TextUse::Reading, Class::Sans), &needs));
    assert_eq!(stack.font_family, "\"Plain\", \"Fine\", sans-serif");
    let note = stack.notes.iter().find(|note| note.code == "passed-over");
    let note = note.expect("a note");
    assert!(
        note.text.contains("Far") && note.text.contains("Fine"),
        "{}",
        note.text
    );
}

#[test]
fn chinese_and_japanese_together_are_left_to_the_language_of_the_page() {
    let stack = on_six(TextUse::Interface, &["ja", "zh-Hans", "en"]);
    assert_eq!(stack.font_family, "\"Segoe UI\", system-ui, sans-serif");
    let note = stack.notes.iter().find(|note| note.code == "by-language");
    assert!(note.is_some_and(|note| note.text.contains("ja and zh-Hans")));
    assert!(
        stack.notes.iter().all(|note| !note.finding),
        "{:?}",
        stack.notes
    );
    // By the language each gets its own even so.
    assert_eq!(main_family(&stack, "macos", "zh-Hans"), Some("PingFang SC"));
    assert_eq!(main_family(&stack, "windows", "ja"), Some("Yu Gothic"));
}

#[test]
fn what_no_known_font_shows_is_a_finding() {
    let stack = on_six(TextUse::Reading, &["hi"]);
    let findings = stack.notes.iter().filter(|note| note.finding);
    let findings: Vec<&str> = findings.map(|note| note.text.as_str()).collect();
    assert_eq!(findings.len(), 1, "{findings:?}");
    assert!(findings[0].contains("GNOME, KDE Plasma") && findings[0].contains("Devanagari"));
}

/// Which of the languages it is decides how these letters look.
#[test]
fn letters_that_languages_share_are_not_named_without_one() {
    let platforms = platforms();
    let devices: Vec<Device<'_>> = platforms.iter().map(Device::built_in).collect();
    let text = LanguageNeed {
        language: None,
        of_text: true,
        ..need("ja")
    };
    let needs = [need("en"), text];
    let stack = device_stack(&request(&devices, (TextUse::Reading, Class::Serif), &needs));
    let note = stack
        .notes
        .iter()
        .find(|note| note.code == "language-not-stated");
    assert!(note.is_some_and(|note| note.text.contains("Han, Hiragana, Katakana")));
    assert_eq!(stack.font_family, "\"Georgia\", serif");
}

/// A generic family that a platform is not known to have stands once, at the end.
#[test]
fn a_class_that_a_platform_lacks_is_left_to_its_generic_family() {
    let stack = {
        let platforms = platforms();
        let devices: Vec<Device<'_>> = platforms.iter().map(Device::built_in).collect();
        let needs = [need("en")];
        device_stack(&request(
            &devices,
            (TextUse::Reading, Class::Script),
            &needs,
        ))
    };
    assert_eq!(stack.font_family, "cursive");
    assert_eq!(main_family(&stack, "macos", "en"), Some("Apple Chancery"));
}
