//! Which face of a family a style picks (CSS Fonts 4, §5.2).

use rstest::rstest;
use tidy_lattice_documents::style::matching::{Asked, AskedSlope, FaceTraits, faked, matching};
use tidy_lattice_documents::style::read::{FaceStyle, Range};

fn upright(weight: f32) -> FaceTraits {
    FaceTraits {
        weight: Range::only(weight),
        stretch: Range::only(100.0),
        style: FaceStyle::Normal,
    }
}

fn asked(weight: f32) -> Asked {
    Asked {
        weight,
        ..Asked::default()
    }
}

#[rstest]
#[case::exact(&[300.0, 400.0, 700.0], 400.0, 400.0)]
#[case::normal_takes_medium_first(&[300.0, 500.0, 700.0], 400.0, 500.0)]
#[case::medium_takes_lighter_before_bolder(&[300.0, 400.0, 600.0], 500.0, 400.0)]
#[case::between_looks_up_to_500(&[400.0, 500.0], 450.0, 500.0)]
#[case::then_below(&[400.0, 510.0], 450.0, 400.0)]
#[case::bold_takes_bolder_first(&[400.0, 900.0], 600.0, 900.0)]
#[case::then_the_nearest_lighter(&[300.0, 500.0], 700.0, 500.0)]
#[case::light_takes_lighter_first(&[100.0, 400.0], 300.0, 100.0)]
#[case::then_the_nearest_bolder(&[700.0, 400.0], 300.0, 400.0)]
fn weights(#[case] offered: &[f32], #[case] wanted: f32, #[case] picked: f32) {
    let faces: Vec<FaceTraits> = offered.iter().map(|weight| upright(*weight)).collect();
    let places = matching(&faces, asked(wanted));
    assert_eq!(places.len(), 1);
    assert_eq!(faces[places[0]].weight.from, picked);
}

#[test]
fn a_range_contains_its_weights() {
    let mut variable = upright(0.0);
    variable.weight = Range {
        from: 300.0,
        to: 650.0,
    };
    assert_eq!(matching(&[upright(700.0), variable], asked(640.0)), [1]);
    assert_eq!(matching(&[upright(700.0), variable], asked(660.0)), [0]);
}

#[test]
fn slope_counts_before_weight_and_width_before_both() {
    let italic = FaceTraits {
        style: FaceStyle::Italic,
        ..upright(400.0)
    };
    let narrow = FaceTraits {
        stretch: Range::only(75.0),
        ..upright(700.0)
    };
    let faces = [upright(700.0), italic, narrow];
    let bold_italic = Asked {
        slope: AskedSlope::Italic,
        ..asked(700.0)
    };
    assert_eq!(matching(&faces, bold_italic), [1]);
    assert_eq!(
        matching(
            &faces,
            Asked {
                stretch: 80.0,
                ..bold_italic
            }
        ),
        [2]
    );
    assert_eq!(
        matching(
            &faces,
            Asked {
                stretch: 110.0,
                ..bold_italic
            }
        ),
        [1]
    );
    assert!(matching(&[], bold_italic).is_empty());
}

#[test]
fn faces_of_the_same_traits_are_picked_together() {
    assert_eq!(
        matching(
            &[upright(400.0), upright(700.0), upright(400.0)],
            asked(400.0)
        ),
        [0, 2]
    );
}

#[rstest]
#[case(400.0, 700.0, true, true)]
#[case(400.0, 590.0, true, false)]
#[case(600.0, 900.0, true, false)]
#[case(400.0, 700.0, false, false)]
fn bold_is_faked_from_600_on(
    #[case] face: f32,
    #[case] wanted: f32,
    #[case] allowed: bool,
    #[case] fakes: bool,
) {
    assert_eq!(
        faked(&upright(face), asked(wanted), allowed, true).bold,
        fakes
    );
}

#[test]
fn italic_is_faked_of_upright_faces_only() {
    let italic = Asked {
        slope: AskedSlope::Italic,
        ..Asked::default()
    };
    assert!(faked(&upright(400.0), italic, true, true).italic);
    assert!(!faked(&upright(400.0), italic, true, false).italic);
    let oblique = FaceTraits {
        style: FaceStyle::Oblique {
            angles: Range::only(14.0),
        },
        ..upright(400.0)
    };
    assert!(!faked(&oblique, italic, true, true).italic);
}

fn oblique(from: f32, to: f32) -> FaceStyle {
    FaceStyle::Oblique {
        angles: Range { from, to },
    }
}

const NORMAL: FaceStyle = FaceStyle::Normal;
const ITALIC: FaceStyle = FaceStyle::Italic;

/// The first face is picked, in whatever order they are declared.
fn assert_first(mut faces: Vec<FaceTraits>, wanted: Asked) {
    assert_eq!(matching(&faces, wanted), [0]);
    faces.reverse();
    assert_eq!(matching(&faces, wanted), [faces.len() - 1]);
}

/// The slope that is picked is the first of those that are offered.
#[rstest]
#[case::upright(AskedSlope::Normal, &[NORMAL, oblique(5.0, 5.0), ITALIC])]
#[case::the_least_slanted(AskedSlope::Normal, &[oblique(-5.0, 0.0), oblique(8.0, 8.0)])]
#[case::an_oblique_before_an_italic(AskedSlope::Normal, &[oblique(20.0, 20.0), ITALIC])]
#[case::italic(AskedSlope::Italic, &[ITALIC, oblique(14.0, 14.0), NORMAL])]
#[case::nearest_to_14_degrees(AskedSlope::Italic, &[oblique(13.0, 13.0), oblique(16.0, 16.0)])]
#[case::slanted_before_upright(AskedSlope::Italic, &[oblique(60.0, 60.0), NORMAL])]
#[case::within(AskedSlope::Oblique(10.0), &[oblique(8.0, 12.0), oblique(9.0, 9.0), ITALIC])]
#[case::nearest(AskedSlope::Oblique(10.0), &[oblique(2.0, 9.0), oblique(12.0, 30.0), NORMAL])]
#[case::hardly_slanted(AskedSlope::Oblique(10.0), &[NORMAL, ITALIC])]
#[case::slanted_the_other_way(AskedSlope::Oblique(-10.0), &[NORMAL, ITALIC])]
#[case::slanted_much(AskedSlope::Oblique(20.0), &[ITALIC, NORMAL])]
#[case::as_an_italic(AskedSlope::Oblique(14.0), &[ITALIC, NORMAL])]
#[case::any_oblique_first(AskedSlope::Oblique(20.0), &[oblique(80.0, 80.0), ITALIC])]
fn slopes(#[case] slope: AskedSlope, #[case] offered: &[FaceStyle]) {
    let wanted = Asked {
        slope,
        ..asked(400.0)
    };
    let faces: Vec<FaceTraits> = (offered.iter())
        .map(|style| FaceTraits {
            style: *style,
            ..upright(400.0)
        })
        .collect();
    assert_first(faces, wanted);
}

/// Text that is no wider than normal takes narrower faces first, wider text wider ones.
#[rstest]
#[case::within(90.0, &[(85.0, 95.0), (100.0, 100.0)])]
#[case::narrower_first(100.0, &[(50.0, 50.0), (101.0, 101.0)])]
#[case::the_nearest_narrower(90.0, &[(75.0, 80.0), (50.0, 62.5)])]
#[case::then_the_nearest_wider(75.0, &[(100.0, 100.0), (125.0, 150.0)])]
#[case::wider_first(101.0, &[(150.0, 200.0), (100.0, 100.0)])]
#[case::then_the_nearest_of_the_narrower(125.0, &[(75.0, 100.0), (50.0, 62.5)])]
fn widths(#[case] stretch: f32, #[case] offered: &[(f32, f32)]) {
    let wanted = Asked {
        stretch,
        ..asked(400.0)
    };
    let faces: Vec<FaceTraits> = (offered.iter())
        .map(|(from, to)| FaceTraits {
            stretch: Range {
                from: *from,
                to: *to,
            },
            ..upright(400.0)
        })
        .collect();
    assert_first(faces, wanted);
}
