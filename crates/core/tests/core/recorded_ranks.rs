//! Candidates for fonts of several kinds, and installed families at another font's size: as
//! they were when somebody last looked at them.

use std::fmt::Write as _;

use rstest::rstest;
use tidy_lattice_core::font::Face;
use tidy_lattice_core::platform::{builtin_card, platforms};
use tidy_lattice_core::rank::{Candidate, Ranking, Weights};
use tidy_lattice_core::stack::of_devices::{InstalledFamily, ResizeRequest, resize};
use tidy_lattice_core::standin::{Fitting, TextSample};
use tidy_lattice_core::text::{exemplars, samples};

use crate::material::{demo, face};

/// The measured faces of a built-in platform, by family.
fn families(platform: &str) -> Vec<(String, Vec<Face>)> {
    let platforms = platforms();
    let named = platforms.iter().find(|one| one.name == platform);
    let families = named.expect("built in").families.iter().map(|family| {
        let cards = family.faces.iter().filter_map(|face| face.card.as_deref());
        let faces = cards.filter_map(builtin_card);
        let faces = faces.map(|card| Face::from_card(card.clone()).expect("a whole card"));
        (family.name.clone(), faces.collect())
    });
    families
        .filter(|(_, faces): &(_, Vec<Face>)| !faces.is_empty())
        .collect()
}

#[rstest]
#[case(
    "sans on windows",
    demo("fonts/SkerrymarkSans-Regular.ttf"),
    "windows",
    "en"
)]
#[case(
    "italic on macos",
    demo("fonts/SkerrymarkSans-Italic.ttf"),
    "macos",
    "cs"
)]
#[case(
    "serif on android",
    demo("fonts/SkerrymarkText-Regular.ttf"),
    "android",
    "en"
)]
#[case(
    "monospace on linux",
    face(epaint_default_fonts::HACK_REGULAR),
    "gnome",
    "ru"
)]
fn candidates_are_ranked_as_they_were(
    #[case] name: &str,
    #[case] web: Face,
    #[case] platform: &str,
    #[case] language: &str,
) {
    let sample = TextSample::gather(&[samples::of(language).expect("a text")]);
    let fitting = Fitting::new(&web, &sample, &[16.0, 24.0], &[240.0, 480.0]);
    let languages = ["en", "uk"].map(|tag| exemplars::find(tag).expect("a language"));
    let ranking =
        Ranking::new(&web, &fitting, Some(&languages), Weights::default()).with_room(1.25);
    let families = families(platform);
    let faces = families.iter().flat_map(|(_, faces)| faces);
    let measured = faces.map(|face| {
        ranking.measure(&Candidate {
            face,
            platforms: vec![platform.to_owned()],
        })
    });
    let mut recorded = String::new();
    for one in ranking.order(measured.collect()) {
        let _ = writeln!(
            recorded,
            "{:?} {} {:.1}: {}\n  {}",
            one.place,
            one.names.full.as_deref().unwrap_or(&one.names.family),
            one.score,
            one.reason,
            serde_json::to_string(&one.parts).expect("JSON")
        );
    }
    insta::assert_snapshot!(name, recorded);
}

#[rstest]
#[case("sizes on windows", "windows")]
#[case("sizes on macos", "macos")]
fn families_are_resized_as_they_were(#[case] name: &str, #[case] platform: &str) {
    let like = [
        "fonts/SkerrymarkSans-Regular.ttf",
        "fonts/SkerrymarkSans-Italic.ttf",
    ]
    .map(demo);
    let sample = TextSample::gather(&[samples::of("en").expect("English")]);
    let families = families(platform);
    let installed: Vec<InstalledFamily<'_>> = (families.iter().step_by(3))
        .map(|(name, faces)| InstalledFamily {
            name: name.clone(),
            faces: faces.iter().collect(),
        })
        .collect();
    let request = ResizeRequest {
        family: "Skerrymark Sans".to_owned(),
        like: like.iter().collect(),
        sample: &sample,
        sizes: vec![13.0, 16.0, 24.0],
        widths: vec![240.0, 480.0],
    };
    let (resized, notes) = resize(&request, &installed);
    let mut recorded = serde_json::to_string_pretty(&resized).expect("JSON");
    for note in notes {
        let _ = write!(recorded, "\n{}", note.text);
    }
    insta::assert_snapshot!(name, recorded);
}
