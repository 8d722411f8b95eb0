//! Candidates for a fallback, in order and with reasons.

use rstest::rstest;
use tidy_lattice_core::font::Face;
use tidy_lattice_core::platform::{builtin_card, platforms};
use tidy_lattice_core::rank::{Candidate, Part, Ranked, Ranking, Weights};
use tidy_lattice_core::standin::{Fitting, TextSample};
use tidy_lattice_core::text::{exemplars, samples};

use crate::material::{demo, face};

fn ranked(web: &Face, candidates: &[&Face], weights: Weights) -> Vec<Ranked> {
    let sample = TextSample::gather(&[samples::of("en").expect("English")]);
    ranked_on(web, candidates, weights, &sample)
}

fn ranked_on(
    web: &Face,
    candidates: &[&Face],
    weights: Weights,
    sample: &TextSample,
) -> Vec<Ranked> {
    let fitting = Fitting::new(web, sample, &[16.0], &[240.0, 320.0, 480.0]);
    let languages = ["en", "uk"].map(|tag| exemplars::find(tag).expect("a language"));
    let ranking = Ranking::new(web, &fitting, Some(&languages), weights).with_room(1.25);
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
    assert!(reason("Lanternsign").contains("made for"));
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

/// Weights of which only these count, as much as they say.
fn weights(counting: &[(Part, f64)]) -> Weights {
    let mut weights = Weights::default();
    for part in Part::ALL {
        weights.set(part, 0.0);
    }
    for (part, weight) in counting {
        weights.set(*part, *weight);
    }
    weights
}

#[test]
fn weights_decide() {
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    let (quaydesk, driftplain) = (
        demo("installed/QuaydeskUI-Regular.ttf"),
        demo("installed/Driftplain-Regular.ttf"),
    );
    let candidates = [&quaydesk, &driftplain];
    let by = |counting: &[(Part, f64)]| ranked(&web, &candidates, weights(counting));
    for ranked in by(&[(Part::Class, 1.0)]) {
        assert_eq!(ranked.score, 100.0);
    }
    // With one part alone, the score is that part and the order is its order.
    let mut winners = std::collections::BTreeSet::new();
    for part in Part::ALL {
        let order = by(&[(part, 3.0)]);
        for one in &order {
            let alone = one.parts.get(part).expect("a part") * 100.0;
            assert!((one.score - alone).abs() < 0.06, "{}: {one:?}", part.name());
        }
        if order[0].score > order[1].score {
            winners.insert(order[0].names.family.clone());
        }
    }
    assert_eq!(winners.len(), 2, "each is closer in something");
    // Two parts: the mean of both by their weights, whatever they sum to.
    for one in by(&[(Part::XHeight, 6.0), (Part::Words, 2.0)]) {
        let (x, words) = (one.parts.get(Part::XHeight), one.parts.get(Part::Words));
        let mean = (x.expect("a part") * 3.0 + words.expect("a part")) / 4.0;
        assert!((one.score - mean * 100.0).abs() < 0.06, "{one:?}");
    }
}

/// The families of all built-in platforms that are measured, with their upright faces
/// nearest to 400.
fn builtin_faces() -> Vec<Face> {
    let mut faces: Vec<Face> = Vec::new();
    for family in platforms().iter().flat_map(|platform| &platform.families) {
        let card = family.faces.iter().find_map(|face| face.card.as_deref());
        let Some(card) = card.and_then(builtin_card) else {
            continue;
        };
        if !faces
            .iter()
            .any(|known| known.names().family == card.names.family)
        {
            faces.push(Face::from_card(card.clone()).expect("a whole card"));
        }
    }
    faces
}

/// A text of two scripts is judged by what the web font shows of it.
#[rstest]
#[case::english(None)]
#[case::mostly_japanese(Some("Ferry to 時刻表は港の窓口にあります。船は毎朝九時に出ます。"))]
#[case::mostly_thai(Some("Ferry to เรือข้ามฟากออกทุกเช้าเวลาเก้านาฬิกา"))]
fn fonts_for_something_else_are_never_candidates_for_english(#[case] text: Option<&str>) {
    let faces = builtin_faces();
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    let candidates: Vec<&Face> = faces.iter().collect();
    let order = match text {
        Some(text) => {
            let sample = TextSample::of_texts([(text, 1)]);
            ranked_on(&web, &candidates, Weights::default(), &sample)
        }
        None => ranked(&web, &candidates, Weights::default()),
    };
    let for_other = |name: &str| {
        let other = order.iter().find(|ranked| ranked.names.family == name);
        other.and_then(|ranked| ranked.made_for.clone())
    };
    assert_eq!(for_other("Noto Sans CJK JP").as_deref(), Some("ideographs"));
    assert_eq!(
        for_other("Noto Sans Telugu").as_deref(),
        Some("the Telugu script")
    );
    assert_eq!(for_other("Noto Sans Symbols").as_deref(), Some("symbols"));
    assert_eq!(for_other("Noto Color Emoji").as_deref(), Some("emoji"));
    for ranked in &order {
        let family = ranked.names.family.as_str();
        let other = family.starts_with("Noto Sans ") && family != "Noto Sans"
            || family.starts_with("Noto Naskh")
            || family.contains("Emoji");
        assert_eq!(
            ranked.made_for.is_some(),
            other,
            "{family}: {:?}",
            ranked.made_for
        );
        assert!(ranked.made_for.is_none() || ranked.place.is_none());
    }
}

#[test]
fn what_is_not_known_of_a_face_neither_wins_nor_loses() {
    let web = demo("fonts/SkerrymarkSans-Regular.ttf");
    let quaydesk = demo("installed/QuaydeskUI-Regular.ttf");
    let pebbleroom = demo("installed/Pebbleroom-Regular.ttf");
    let sample = TextSample::gather(&[samples::of("en").expect("English")]);
    let fitting = Fitting::new(&web, &sample, &[16.0], &[240.0, 320.0]);
    let ranking = Ranking::new(&web, &fitting, None, Weights::default());
    let measure = |face| {
        ranking.measure(&Candidate {
            face,
            platforms: Vec::new(),
        })
    };
    let known = measure(&quaydesk);
    let other = measure(&pebbleroom);
    let mut unknown = known.clone();
    unknown.names.family = "Unknown".to_owned();
    unknown.parts.0.remove(&Part::XHeight);
    let score = |known: &Ranked, unknown: &Ranked| {
        let order = ranking.order(vec![known.clone(), unknown.clone(), other.clone()]);
        let find = |family: &str| {
            let mut all = order.iter();
            all.find(|one| one.names.family == family)
                .map(|one| one.score)
        };
        (find("Quaydesk UI"), find("Unknown"))
    };
    // As good as the others are in the mean, and not as good as it is in all else.
    let (mut good, mut bad) = (known.clone(), known.clone());
    good.parts.0.insert(Part::XHeight, 1.0);
    bad.parts.0.insert(Part::XHeight, 0.0);
    let (best, against_good) = score(&good, &unknown);
    assert!(best > against_good, "{best:?} {against_good:?}");
    let (worst, against_bad) = score(&bad, &unknown);
    assert!(worst < against_bad, "{worst:?} {against_bad:?}");
    assert!(against_good > against_bad);
}

/// Of Verdana nothing but widths is known, so it is no candidate where it would have to become
/// much narrower.
#[test]
fn widths_alone_are_not_enough_for_what_is_much_narrower() {
    let card = |name: &str| {
        let card = builtin_card(name).unwrap_or_else(|| panic!("no card {name}"));
        Face::from_card(card).expect("a face")
    };
    let (wide, verdana) = (card("DejaVuSans"), card("Verdana-widths"));
    let order = ranked(&wide, &[&verdana], Weights::default());
    assert!(!order[0].rejected, "{}", order[0].reason);
    let narrow = card("LiberationSansNarrow");
    let order = ranked(&narrow, &[&verdana, &wide], Weights::default());
    let reason = |family: &str| {
        let mut all = order.iter();
        let one = all
            .find(|one| one.names.family == family)
            .expect("it is ranked");
        (one.rejected, one.reason.clone())
    };
    let (rejected, told) = reason("Verdana");
    assert!(rejected && told.contains("is not known"), "{told}");
    assert!(!reason("DejaVu Sans").0, "its letters are known");
}
