//! Candidates for a fallback, in order and with reasons.

use tidy_lattice_core::font::Face;
use tidy_lattice_core::rank::{Candidate, Part, Ranked, Ranking, Weights};
use tidy_lattice_core::standin::{Fitting, TextSample};
use tidy_lattice_core::text::{exemplars, samples};

use crate::material::{demo, face};

fn ranked(web: &Face, candidates: &[&Face], weights: Weights) -> Vec<Ranked> {
    let sample = TextSample::gather(&[samples::of("en").expect("English")]);
    let fitting = Fitting::new(web, &sample, &[16.0], &[240.0, 320.0, 480.0]);
    let languages = ["en", "uk"].map(|tag| exemplars::find(tag).expect("a language"));
    let ranking = Ranking::new(web, &fitting, Some(&languages), weights);
    let measured = candidates
        .iter()
        .map(|face| {
            ranking.measure(&Candidate {
                face,
                platforms: vec!["desk".to_owned()],
            })
        })
        .collect();
    ranking.order(measured)
}

#[test]
fn the_font_itself_is_closest_and_other_classes_are_rejected() {
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    let (quaydesk, mono) = (
        demo("installed/QuaydeskUI-Regular.ttf"),
        face(epaint_default_fonts::HACK_REGULAR),
    );
    let (italic, signs) = (
        demo("fonts/SkerrymarkSans-Italic.ttf"),
        demo("fonts/Lanternsign.ttf"),
    );
    let order = ranked(
        &web,
        &[&mono, &quaydesk, &signs, &italic, &web],
        Weights::default(),
    );
    let places: Vec<Option<u32>> = order.iter().map(|ranked| ranked.place).collect();
    assert_eq!(places, [Some(1), Some(2), None, None, None]);
    assert_eq!(
        (order[0].names.family.as_str(), order[0].score),
        ("Skerrymark Sans", 100.0)
    );
    assert_eq!(order[0].x_height_ratio, Some(1.0));
    assert_eq!(order[1].names.family, "Quaydesk UI");
    assert!(
        order[1].reason.starts_with("behind in"),
        "{}",
        order[1].reason
    );
    let reason = |family: &str| {
        let found = order.iter().find(|ranked| ranked.names.label() == family);
        found.expect("a candidate").reason.clone()
    };
    assert_eq!(reason("Hack"), "it is monospace, the web font is sans");
    assert_eq!(
        reason("Skerrymark Sans Italic"),
        "it is sloped, the web font is upright"
    );
    assert!(reason("Lanternsign").contains("no whole word"));
    assert_eq!(order[1].platforms, ["desk"]);
}

#[test]
fn everything_that_counts_is_measured() {
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    let quaydesk = demo("installed/QuaydeskUI-Regular.ttf");
    let order = ranked(&web, &[&quaydesk], Weights::default());
    let first = &order[0];
    for part in Part::ALL {
        assert!(first.parts.get(part).is_some(), "{}", part.name());
    }
    // 530 against 500 units, before and after the same width.
    assert!((first.x_height_ratio.expect("both are drawn") - 1.06).abs() < 0.03);
    let factor = first.widths.as_ref().expect("widths").mean_size_adjust() / 100.0;
    let fitted = first.x_height_ratio_fitted.expect("both are drawn");
    assert!((fitted - first.x_height_ratio.expect("both") * factor).abs() < 0.002);
    assert!(first.shape.stem.is_some() && first.shape.contrast.is_some());
    assert!(first.languages_kept.contains(&"en".to_owned()));
    assert!(
        first.languages_lost.is_empty(),
        "the web font writes no Ukrainian either"
    );
    assert!(
        !first.features_lost.is_empty(),
        "the brand font has features"
    );
}

#[test]
fn weights_decide() {
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    let (quaydesk, driftplain) = (
        demo("installed/QuaydeskUI-Regular.ttf"),
        demo("installed/Driftplain-Regular.ttf"),
    );
    let mut only_class = Weights::default();
    for part in Part::ALL {
        only_class.set(part, if part == Part::Class { 1.0 } else { 0.0 });
    }
    for ranked in ranked(&web, &[&quaydesk, &driftplain], only_class) {
        assert_eq!(ranked.score, 100.0);
    }
    let usual = ranked(&web, &[&quaydesk, &driftplain], Weights::default());
    assert!(usual[0].score > usual[1].score && usual[1].score < 100.0);
}
