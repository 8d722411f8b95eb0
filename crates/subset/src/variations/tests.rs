use rstest::rstest;

use super::{Data, Store};
use crate::bytes::{Budget, View};
use crate::tents::Span;

const ONE: i16 = 16384;

/// Two axes, three regions, five delta sets in two parts.
fn store() -> Store {
    Store {
        axes: 2,
        regions: vec![
            vec![[0, ONE, ONE], [0, 0, 0]],
            vec![[-ONE, -ONE, 0], [0, 0, 0]],
            vec![[0, ONE, ONE], [0, ONE, ONE]],
        ],
        data: vec![
            Data {
                regions: vec![0, 1],
                rows: vec![vec![100, -40], vec![7, 0], vec![0, 300]],
            },
            Data {
                regions: vec![2, 0],
                rows: vec![vec![50, 10], vec![-20_000, 4]],
            },
        ],
    }
}

const SETS: [(u16, u16); 5] = [(0, 0), (0, 1), (0, 2), (1, 0), (1, 1)];

/// What a delta set comes to at a position.
fn delta(store: &Store, set: (u16, u16), at: &[f64]) -> f64 {
    let row = store.row(set.0, set.1).expect("a set");
    (store.regions.iter().zip(row))
        .map(|(region, delta)| {
            let along = |(tent, at): (&[i16; 3], &f64)| {
                crate::tents::scalar(tent.map(|value| f64::from(value) / 16384.0), *at)
            };
            f64::from(delta) * region.iter().zip(at).map(along).product::<f64>()
        })
        .sum()
}

#[rstest]
#[case::shortened(Span { from: -0.5, default: 0.0, to: 0.5 }, Span::WHOLE)]
#[case::moved(Span { from: 0.25, default: 0.25, to: 1.0 }, Span::WHOLE)]
#[case::both(Span { from: -1.0, default: -0.5, to: 0.0 }, Span { from: 0.0, default: 0.0, to: 0.75 })]
fn delta_sets_come_to_the_same(#[case] first: Span, #[case] second: Span) {
    let old = store();
    let (new, shifts) = old.limited(&[first, second]).expect("a store");
    for set in SETS {
        for step in 0..=10 {
            let part = f64::from(step) / 10.0;
            let at = |span: &Span| span.from + (span.to - span.from) * part;
            let place = [at(&first), at(&second)];
            let moved = [first.moved(place[0]), second.moved(place[1])];
            let (shift, _) = shifts.of(set.0, set.1);
            let (was, is) = (
                delta(&old, set, &place),
                f64::from(shift) + delta(&new, set, &moved),
            );
            // The default and each region are rounded.
            assert!(
                (was - is).abs() <= 2.0,
                "{set:?} at {place:?}: {was}, now {is}"
            );
        }
    }
}

#[test]
fn without_axes_everything_is_in_the_values() {
    let pinned = |at| Span {
        from: at,
        default: at,
        to: at,
    };
    let (new, shifts) = store()
        .limited(&[pinned(0.5), pinned(1.0)])
        .expect("a store");
    assert_eq!((new.axes, new.regions.len()), (0, 0));
    let all: Vec<(i32, bool)> = SETS.iter().map(|set| shifts.of(set.0, set.1)).collect();
    // Half of the first region; half of the third and half of the first.
    assert_eq!(
        all,
        [
            (50, false),
            (4, false),
            (0, false),
            (30, false),
            (-9998, false)
        ]
    );
    assert_eq!(shifts.of(9, 9), (0, false));
}

#[test]
fn what_is_written_is_read_again_where_it_was() {
    let old = store();
    let bytes = old.object().pack("GDEF").expect("a table");
    let budget = Budget::for_font(bytes.len());
    let read = Store::read(View::new(&bytes, "GDEF", &budget)).expect("a store");
    assert_eq!((read.axes, &read.regions), (old.axes, &old.regions));
    for (outer, inner) in SETS {
        assert_eq!(read.row(outer, inner), old.row(outer, inner));
    }
    assert_eq!(read.row(0, 3), None);
    assert_eq!(read.row(2, 0), None);
}

#[test]
fn a_cut_store_has_what_is_used_once() {
    let mut old = store();
    // The same deltas once more, and a set that varies nothing.
    old.data[0].rows.push(vec![100, -40]);
    old.data[0].rows.push(vec![0, 0]);
    let (bytes, remap) = old.cut([(0, 0), (0, 3), (0, 4), (1, 0)]).expect("a part");
    let bytes = bytes.expect("something varies");
    let budget = Budget::for_font(bytes.len());
    let part = Store::read(View::new(&bytes, "GDEF", &budget)).expect("a store");
    assert_eq!(remap.get(0, 0), remap.get(0, 3));
    assert_eq!(remap.get(0, 4), None);
    assert_eq!(remap.get(1, 1), None);
    for set in [(0, 0), (1, 0)] {
        let (outer, inner) = remap.get(set.0, set.1).expect("a place");
        for at in [[1.0, 0.0], [-1.0, 0.5], [0.3, 0.9]] {
            assert_eq!(delta(&part, (outer, inner), &at), delta(&old, set, &at));
        }
    }
    assert_eq!(old.cut([(0, 4)]).expect("nothing").0, None);
}
