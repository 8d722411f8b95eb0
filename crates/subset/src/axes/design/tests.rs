use rstest::rstest;

use super::{Axis, Design};
use crate::axes::AxisLimit;
use crate::bytes::{Budget, Object, View};

const TAG: [u8; 4] = *b"wght";

/// `fvar` of one axis of weights, with named positions at these.
fn fvar(least: f64, default: f64, most: f64, positions: &[f64]) -> Vec<u8> {
    let fixed = |value: f64| (value * 65536.0) as i32 as u32;
    let mut table = Object::new();
    table.u16(1).u16(0).u16(16).u16(2).u16(1).u16(20);
    table.count(positions.len()).u16(8);
    table.raw(&TAG).u32(fixed(least)).u32(fixed(default));
    table.u32(fixed(most)).u16(0).u16(256);
    for (name, position) in (300u16..).zip(positions) {
        table.u16(name).u16(0).u32(fixed(*position));
    }
    table.pack("fvar").expect("a table")
}

/// `avar` of one axis.
fn avar(nodes: &[(f64, f64)]) -> Vec<u8> {
    let fixed = |value: f64| (value * 16384.0).round() as i16;
    let mut table = Object::new();
    table.u16(1).u16(0).u16(0).u16(1).count(nodes.len());
    for (from, to) in nodes {
        table.i16(fixed(*from)).i16(fixed(*to));
    }
    table.pack("avar").expect("a table")
}

fn limit(from: f64, to: f64) -> AxisLimit {
    AxisLimit { tag: TAG, from, to }
}

fn design(fvar: &[u8], avar: Option<&[u8]>, limits: &[AxisLimit]) -> Design {
    let budget = Budget::for_font(1000);
    let avar = avar.map(|avar| View::new(avar, "avar", &budget));
    Design::read(View::new(fvar, "fvar", &budget), avar, limits).expect("a design")
}

/// The coordinate that counts of a value: what renderers work out.
fn counts(design: &Design, value: f64) -> f64 {
    let axis: &Axis = &design.axes[0];
    super::mapped(&design.segments[0], axis.normalised(value))
}

const BENT: &[(f64, f64)] = &[
    (-1.0, -1.0),
    (-0.5, -0.7),
    (0.0, 0.0),
    (0.25, 0.1),
    (0.6, 0.75),
    (1.0, 1.0),
];

#[rstest]
fn values_count_as_much_as_before(
    #[values(None, Some(BENT))] nodes: Option<&[(f64, f64)]>,
    #[values(
        (100.0, 400.0),
        (100.0, 650.0),
        (250.0, 400.0),
        (300.0, 800.0),
        (500.0, 900.0),
        (450.0, 700.0),
        (150.0, 300.0)
    )]
    left: (f64, f64),
) {
    let whole = fvar(100.0, 400.0, 900.0, &[]);
    let old_avar = nodes.map(avar);
    let before = design(&whole, old_avar.as_deref(), &[]);
    let limited = design(&whole, old_avar.as_deref(), &[limit(left.0, left.1)]);
    let budget = Budget::for_font(1000);
    let new_fvar = limited
        .fvar(View::new(&whole, "fvar", &budget))
        .expect("fvar");
    let new_avar = limited.avar().expect("avar");
    let after = design(&new_fvar, new_avar.as_deref(), &[]);
    let axis = &after.axes[0];
    assert_eq!((axis.least, axis.most), left);
    assert_eq!(axis.default, 400.0_f64.clamp(left.0, left.1));
    for step in 0..=50 {
        let value = left.0 + (left.1 - left.0) * f64::from(step) / 50.0;
        let expected = limited.spans[0].moved(counts(&before, value));
        let is = counts(&after, value);
        // Nodes are rounded to 2.14 fixed-point numbers, twice.
        assert!(
            (expected - is).abs() < 4e-4,
            "{value}: {expected}, now {is}"
        );
    }
}

#[test]
fn named_positions_outside_are_gone() {
    let whole = fvar(100.0, 400.0, 900.0, &[100.0, 400.0, 500.0, 700.0, 900.0]);
    let budget = Budget::for_font(1000);
    let limited = design(&whole, None, &[limit(400.0, 700.0)]);
    let bytes = limited
        .fvar(View::new(&whole, "fvar", &budget))
        .expect("fvar");
    let table = View::new(&bytes, "fvar", &budget);
    assert_eq!(table.u16(12).expect("a count"), 3);
    let names: Vec<u16> = (0..3)
        .map(|at| table.u16(36 + at * 8).expect("a name"))
        .collect();
    assert_eq!(names, [301, 302, 303]);
}

#[test]
fn a_pinned_axis_is_gone() {
    let whole = fvar(100.0, 400.0, 900.0, &[400.0]);
    let limited = design(&whole, Some(&avar(BENT)), &[limit(650.0, 650.0)]);
    assert_eq!(limited.axes_left(), 0);
    assert_eq!(limited.avar().expect("no table"), None);
    assert_eq!(limited.new_default(TAG), Some(650.0));
    assert!(limited.spans[0].is_pinned());
    // At half of the upper side, between the nodes at a quarter and at 0.6.
    let expected = 0.1 + 0.65 * (0.5 - 0.25) / 0.35;
    assert!((limited.spans[0].default - expected).abs() < 1e-3);
}

#[test]
fn an_axis_that_is_not_named_stays_whole() {
    let whole = fvar(100.0, 400.0, 900.0, &[]);
    let same = design(&whole, Some(&avar(BENT)), &[limit(100.0, 900.0)]);
    assert_eq!(same.spans, [super::Span::WHOLE]);
    assert_eq!(same.new_default(TAG), None);
    let kept = same.avar().expect("a table").expect("bent as before");
    let nodes = design(&whole, Some(&kept), &[]).segments;
    for ((from, to), (known, known_to)) in nodes[0].iter().zip(BENT) {
        assert!((from - known).abs() < 1e-4 && (to - known_to).abs() < 1e-4);
    }
}
