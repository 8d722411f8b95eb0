use rstest::rstest;

use super::{Points, between, inferred};
use kurbo::Vec2;

#[rstest]
#[case::before(-5.0, 10.0)]
#[case::at_the_first(0.0, 10.0)]
#[case::a_quarter(25.0, 15.0)]
#[case::at_the_other(100.0, 30.0)]
#[case::behind(400.0, 30.0)]
fn a_point_between_two_moves_between(#[case] at: f64, #[case] by: f64) {
    assert_eq!(between(at, (0.0, 10.0), (100.0, 30.0)), by);
    assert_eq!(between(at, (100.0, 30.0), (0.0, 10.0)), by);
}

#[rstest]
#[case::alike(10.0, 10.0)]
#[case::apart(30.0, 0.0)]
fn between_two_at_one_place(#[case] other: f64, #[case] by: f64) {
    // Points that are at one place and move apart say nothing of others.
    assert_eq!(between(50.0, (20.0, 10.0), (20.0, other)), by);
}

fn points(at: &[(f64, f64)], ends: &[usize]) -> Points {
    let mut all: Vec<Vec2> = at.iter().map(|(x, y)| Vec2::new(*x, *y)).collect();
    all.extend([Vec2::ZERO; super::PHANTOMS]);
    Points {
        at: all,
        ends: ends.to_vec(),
        composite: false,
    }
}

/// Deltas by point, of as many as there are and four for the line and the column.
fn deltas(known: &[(usize, f64, f64)], count: usize) -> Vec<Option<Vec2>> {
    let mut all = vec![None; count + super::PHANTOMS];
    for (at, x, y) in known {
        all[*at] = Some(Vec2::new(*x, *y));
    }
    all
}

const SQUARE: &[(f64, f64)] = &[(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)];

#[test]
fn points_that_are_not_named_follow_those_around_them() {
    let moved = inferred(
        &points(SQUARE, &[3]),
        &deltas(&[(0, 4.0, 2.0), (2, 8.0, 6.0)], 4),
    );
    // On the right as the one on the right, at the bottom as the one at the bottom.
    assert_eq!(moved[1], Vec2::new(8.0, 2.0));
    assert_eq!(moved[3], Vec2::new(4.0, 6.0));
}

#[test]
fn one_point_moves_its_whole_contour_and_no_other() {
    let both: Vec<(f64, f64)> = SQUARE.iter().chain(SQUARE).copied().collect();
    let moved = inferred(&points(&both, &[3, 7]), &deltas(&[(6, 3.0, -1.0)], 8));
    assert_eq!(moved[..4], [Vec2::ZERO; 4]);
    assert_eq!(moved[4..8], [Vec2::new(3.0, -1.0); 4]);
    assert_eq!(moved[8..], [Vec2::ZERO; 4], "the line and the column stay");
}

#[test]
fn offsets_of_parts_follow_nobody() {
    let mut parts = points(&[(10.0, 0.0), (20.0, 0.0), (30.0, 0.0)], &[]);
    parts.composite = true;
    let moved = inferred(&parts, &deltas(&[(0, 5.0, 0.0), (2, 9.0, 0.0)], 3));
    assert_eq!(
        moved[..3],
        [Vec2::new(5.0, 0.0), Vec2::ZERO, Vec2::new(9.0, 0.0)]
    );
}
