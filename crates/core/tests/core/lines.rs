//! Line metrics come out equal in whole pixels.

use proptest::prelude::*;
use rstest::rstest;
use tidy_lattice_core::font::{LineMetrics, LineSource};
use tidy_lattice_core::layout::chromium;
use tidy_lattice_core::layout::firefox::{AdjustedLines, Design};
use tidy_lattice_core::standin::{LineFit, LineRequest, ResizedFace, fit_lines, half_pixel_sizes};
use tidy_lattice_core::style::Overrides;

use crate::material::cases;

fn metrics(ascent: f64, descent: f64, line_gap: f64) -> LineMetrics {
    LineMetrics {
        ascent,
        descent,
        line_gap,
        source: LineSource::Hhea,
    }
}

/// A face whose underline is thin and near the baseline.
const PLAIN: Design = Design {
    units_per_em: 2048,
    underline_position: -150.0,
    underline_thickness: 100.0,
};

/// Whether the pinned web font and a stand-in agree in Firefox, judged anew.
fn agree_in_firefox(fitted: &LineFit, index: usize, size_adjust: f64, size: f32) -> bool {
    let web = AdjustedLines {
        design: PLAIN,
        size_adjust: 100.0,
        overrides: fitted.pinned.expect("a pinned rule"),
    };
    let stand_in = AdjustedLines {
        design: PLAIN,
        size_adjust,
        overrides: fitted.stand_ins[index].overrides,
    };
    web.line(size) == stand_in.line(size)
}

fn request(web: LineMetrics, size_adjusts: &[f64]) -> LineRequest {
    LineRequest {
        web,
        web_design: PLAIN,
        stand_ins: size_adjusts
            .iter()
            .map(|size_adjust| ResizedFace {
                size_adjust: *size_adjust,
                design: PLAIN,
            })
            .collect(),
        beside: Vec::new(),
        taller: 0.0,
        sizes: vec![16.0, 21.25],
        pin: true,
    }
}

#[test]
fn the_sizes_are_8_to_96_in_halves() {
    let sizes: Vec<f32> = half_pixel_sizes().collect();
    assert_eq!(
        (sizes.len(), sizes[0], sizes[1], sizes[176]),
        (177, 8.0, 8.5, 96.0)
    );
}

#[test]
fn exact_looking_overrides_are_not_enough() {
    // Why values are searched: the plain quotient is a pixel off at 16 px.
    let pinned = Overrides {
        ascent: 96.875,
        descent: 25.0,
        line_gap: 0.0,
    };
    let quotient = |percent: f64| (percent / 1.0737 * 1e4).round() / 1e4;
    let plain = Overrides {
        ascent: quotient(96.875),
        descent: quotient(25.0),
        line_gap: 0.0,
    };
    let off = half_pixel_sizes()
        .filter(|size| {
            chromium::overridden_line(*size, 100.0, &pinned)
                != chromium::overridden_line(*size, 107.37, &plain)
        })
        .count();
    assert!(off > 0);
    let fitted = fit_lines(&request(metrics(0.96875, 0.25, 0.0), &[107.37]));
    assert!(fitted.stand_ins[0].off_in_chromium.is_empty());
}

#[rstest]
#[case::tight_half(metrics(0.96875, 0.25, 0.0), &[107.37])]
#[case::two_stand_ins(metrics(1.069, 0.293, 0.0), &[105.18, 92.4])]
#[case::gap(metrics(0.9053, 0.2119, 0.0327), &[97.31])]
#[case::gap_on_one_em(metrics(0.75, 0.25, 0.2207), &[86.57, 112.0])]
#[case::small_adjust(metrics(1.005, 0.21, 0.033), &[61.7])]
#[case::large_adjust(metrics(1.4, 0.45, 0.0), &[131.09])]
fn stand_ins_agree_at_every_size_in_both_engines(
    #[case] web: LineMetrics,
    #[case] size_adjusts: &[f64],
) {
    let fitted = fit_lines(&request(web, size_adjusts));
    let pinned = fitted.pinned.expect("a pinned rule");
    for (index, size_adjust) in size_adjusts.iter().enumerate() {
        let stand_in = &fitted.stand_ins[index];
        assert_eq!(stand_in.off_in_chromium, [0.0; 0]);
        assert_eq!(stand_in.off_in_firefox.as_deref(), Some([].as_slice()));
        // Judged anew, not by what the fit says of itself.
        for size in half_pixel_sizes().chain([21.25]) {
            assert_eq!(
                chromium::overridden_line(size, 100.0, &pinned),
                chromium::overridden_line(size, *size_adjust, &stand_in.overrides),
                "{size}"
            );
            assert!(
                agree_in_firefox(&fitted, index, *size_adjust, size),
                "{size}"
            );
        }
    }
}

proptest! {
    #![proptest_config(cases(40))]

    #[test]
    fn any_faces_agree_in_chromium(
        ascent in 0.85..1.15, descent in 0.2..0.4, hundredths in 7_500..12_000
    ) {
        let web = metrics(ascent, descent, 0.0);
        let fitted = fit_lines(&request(web, &[f64::from(hundredths) / 100.0]));
        let off = &fitted.stand_ins[0].off_in_chromium;
        prop_assert!(off.is_empty(), "{:?} {}: {:?}", web, hundredths, off);
        let pinned = fitted.pinned.expect("a pinned rule");
        prop_assert!(
            (pinned.ascent - web.ascent * 100.0).abs() < 0.26,
            "stays near the font's own"
        );
    }
}

#[test]
fn what_cannot_agree_is_listed() {
    // Ascent and descent are 1 em without a gap: Firefox sets 1.2 em where the
    // sum does not exceed the rounded size, and a wider stand-in never exceeds.
    let fitted = fit_lines(&request(metrics(0.75, 0.25, 0.0), &[110.0]));
    let stand_in = &fitted.stand_ins[0];
    let off = stand_in.off_in_firefox.as_ref().expect("pinned");
    assert!(off.len() > 50);
    for size in half_pixel_sizes() {
        if !off.contains(&size) {
            assert!(agree_in_firefox(&fitted, 0, 110.0, size), "{size}");
        }
    }
    assert!(stand_in.off_in_chromium.is_empty());
}

#[test]
fn a_low_underline_is_given_room_where_the_sizes_in_use_have_it() {
    // Inter SemiBold, whose underline is low, before Roboto Bold, a little larger than Firefox
    // has room for at every size.
    let fitted = fit_lines(&LineRequest {
        web_design: Design {
            units_per_em: 2816,
            underline_position: -445.0,
            underline_thickness: 243.0,
        },
        sizes: vec![14.0, 16.0, 18.0, 24.0, 32.0],
        ..request(metrics(0.968_75, 0.241_477, 0.0), &[94.06, 115.23])
    });
    for stand_in in &fitted.stand_ins {
        assert_eq!(stand_in.off_in_firefox.as_deref(), Some(&[][..]));
        assert!(stand_in.off_in_chromium.is_empty());
    }
}

#[test]
fn the_gap_is_folded_only_where_it_helps() {
    let folded = fit_lines(&request(metrics(0.75, 0.25, 0.2207), &[110.0]));
    assert!(folded.gap_folded);
    assert_eq!(folded.pinned.map(|pinned| pinned.line_gap), Some(0.0));
    let plain = fit_lines(&request(metrics(1.1, 0.3, 0.05), &[96.0]));
    assert!(!plain.gap_folded);
}

#[test]
fn unpinned_stand_ins_meet_the_natural_lines() {
    let web = metrics(0.968, 0.246, 0.0);
    let fitted = fit_lines(&LineRequest {
        pin: false,
        ..request(web, &[92.01])
    });
    assert_eq!(fitted.pinned, None);
    let stand_in = &fitted.stand_ins[0];
    assert_eq!(stand_in.off_in_firefox, None);
    for size in half_pixel_sizes() {
        let same = chromium::natural_line(size, &web)
            == chromium::overridden_line(size, 92.01, &stand_in.overrides);
        assert_eq!(same, !stand_in.off_in_chromium.contains(&size), "{size}");
    }
    assert!(
        !stand_in.off_in_chromium.contains(&16.0),
        "a size in use outweighs the others"
    );
}

#[test]
fn underlines_that_need_different_room_are_met() {
    // A thick, low underline makes Firefox round the descent up at many sizes
    // at which a plain one does not.
    let low = Design {
        units_per_em: 2816,
        underline_position: -445.0,
        underline_thickness: 243.0,
    };
    let web = metrics(0.96875, 0.24148, 0.0);
    let off = |sizes: &[f32]| {
        let mut fitted = fit_lines(&LineRequest {
            web_design: low,
            sizes: sizes.to_vec(),
            ..request(web, &[104.19])
        });
        assert!(fitted.stand_ins[0].off_in_chromium.is_empty());
        fitted.stand_ins.remove(0).off_in_firefox.expect("pinned")
    };
    let off = off(&[16.0, 17.5]);
    assert!(!off.contains(&16.0) && !off.contains(&17.5), "{off:?}");
    assert!(off.len() < 40, "{off:?}");
}
