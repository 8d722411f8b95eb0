use rstest::rstest;

use super::{Span, Tent, limited, limited_region, scalar};

fn span(from: f64, default: f64, to: f64) -> Span {
    Span { from, default, to }
}

/// What the parts come to at a new coordinate.
fn sum(parts: &[(Option<Tent>, f64)], at: f64) -> f64 {
    (parts.iter())
        .map(|(tent, part)| part * tent.map_or(1.0, |tent| scalar(tent, at)))
        .sum()
}

#[rstest]
fn parts_come_to_the_same_everywhere(
    #[values(
        [0.0, 1.0, 1.0],
        [0.0, 0.5, 1.0],
        [0.25, 0.5, 0.75],
        [0.0, 0.25, 0.5],
        [0.5, 1.0, 1.0],
        [0.5, 0.5, 1.0],
        [0.0, 0.5, 0.5],
        [-1.0, -1.0, 0.0],
        [-1.0, -0.5, 0.0],
        [-0.75, -0.5, -0.25],
        [-1.0, 0.5, 1.0],
        [0.0, 0.0, 0.0]
    )]
    tent: Tent,
    #[values(
        span(0.0, 0.0, 0.5),
        span(-1.0, 0.0, 0.6),
        span(-0.3, 0.0, 0.0),
        span(0.1, 0.1, 0.9),
        span(0.2, 0.4, 1.0),
        span(-0.9, -0.2, 0.7),
        span(-1.0, -0.6, -0.1),
        span(0.4, 0.4, 0.4),
        span(-1.0, 0.0, 1.0)
    )]
    span: Span,
) {
    let Ok(parts) = limited(tent, &span) else {
        // It jumps where the default lies on its slope.
        assert!(tent[0] == tent[1] || tent[1] == tent[2]);
        return;
    };
    for (tent, _) in &parts {
        let [start, peak, end] = tent.unwrap_or_default();
        assert!((-1.0..=1.0).contains(&peak) && start <= peak && peak <= end);
        assert!(start * end >= 0.0, "{parts:?} lies on both sides");
    }
    for step in 0..=200 {
        let old = span.from + (span.to - span.from) * f64::from(step) / 200.0;
        // Where it jumps, a rounded coordinate lies on either side.
        let jumps = tent[0] == tent[1] || tent[1] == tent[2];
        if jumps && (old - tent[1]).abs() < 1e-9 {
            continue;
        }
        let (was, is) = (scalar(tent, old), sum(&parts, span.moved(old)));
        assert!(
            (was - is).abs() < 1e-4,
            "at {old}: {was}, now {is}: {parts:?}"
        );
    }
}

#[test]
fn the_usual_stays_one_tent() {
    let halved = span(0.0, 0.0, 0.5);
    let parts = limited([0.0, 1.0, 1.0], &halved).expect("parts");
    assert_eq!(parts, [(Some([0.0, 1.0, 1.0]), 0.5)]);
    let parts = limited([0.0, 0.25, 0.5], &halved).expect("parts");
    assert_eq!(parts, [(Some([0.0, 0.5, 1.0]), 1.0)]);
    // It begins where the axis ends now.
    assert_eq!(limited([0.5, 1.0, 1.0], &halved).expect("parts"), []);
}

#[test]
fn pinned_axes_are_gone_from_regions() {
    let one = 16384;
    let region = [[0, one, one], [0, one, one]];
    let pinned = span(0.5, 0.5, 0.5);
    let parts = limited_region(&region, &[pinned, Span::WHOLE]).expect("parts");
    assert_eq!(parts, [(Some(vec![[0, one, one]]), 0.5)]);
    let parts = limited_region(&region, &[pinned, pinned]).expect("parts");
    assert_eq!(parts, [(None, 0.25)]);
    let low = span(-1.0, -1.0, -1.0);
    assert_eq!(
        limited_region(&region, &[low, Span::WHOLE]).expect("parts"),
        []
    );
}
