//! Which of the three sets of vertical metrics count.

use rstest::rstest;
use skrifa::font::metrics::{LineBox, LineExtents, Metrics};
use skrifa::raw::types::F48Dot16;
use tidy_lattice_core::font::{LineMetrics, LineSource};
use tidy_lattice_core::layout::chromium;
use tidy_lattice_core::layout::firefox::{AdjustedLines, Design};
use tidy_lattice_core::style::Overrides;

use crate::material::{demo, face};

fn line(ascender: i32, descender: i32, line_gap: i32) -> LineBox {
    LineBox {
        ascender: F48Dot16::from_i32(ascender),
        descender: F48Dot16::from_i32(descender),
        line_gap: F48Dot16::from_i32(line_gap),
    }
}

fn metrics(hhea: LineBox, typo: LineBox, win: (i32, i32), use_typo_metrics: bool) -> Metrics {
    Metrics {
        units_per_em: 1000,
        hhea_line: Some(hhea),
        typo_line: Some(typo),
        win_line: Some(LineExtents {
            ascender: F48Dot16::from_i32(win.0),
            descender: F48Dot16::from_i32(-win.1),
        }),
        use_typo_metrics,
        ..Metrics::default()
    }
}

#[rstest]
#[case::asked(metrics(line(900, -200, 50), line(800, -200, 90), (1000, 300), true), LineSource::Os2TypoAsked, (0.8, 0.2, 0.09))]
#[case::hhea(metrics(line(900, -200, 50), line(800, -200, 90), (1000, 300), false), LineSource::Hhea, (0.9, 0.2, 0.05))]
#[case::hhea_zero(metrics(line(0, 0, 50), line(800, -200, 90), (1000, 300), false), LineSource::Os2Typo, (0.8, 0.2, 0.09))]
#[case::ascender_alone(metrics(line(900, 0, 50), line(800, -200, 90), (1000, 300), false), LineSource::Hhea, (0.9, 0.0, 0.05))]
#[case::descender_alone(metrics(line(0, -300, 0), line(800, -200, 90), (1000, 300), false), LineSource::Hhea, (0.0, 0.3, 0.0))]
#[case::only_win(metrics(line(0, 0, 50), line(0, 0, 90), (1000, 300), false), LineSource::Os2Win, (1.0, 0.3, 0.0))]
#[case::nothing(Metrics { units_per_em: 1000, ..Metrics::default() }, LineSource::None, (0.0, 0.0, 0.0))]
#[case::negative_gap(metrics(line(900, -200, -80), line(800, -200, 0), (1, 1), false), LineSource::Hhea, (0.9, 0.2, 0.0))]
fn the_sets_are_tried_in_order(
    #[case] metrics: Metrics,
    #[case] source: LineSource,
    #[case] em: (f64, f64, f64),
) {
    let chosen = LineMetrics::choose(&metrics);
    assert_eq!(chosen.source, source);
    assert_eq!((chosen.ascent, chosen.descent, chosen.line_gap), em);
}

#[test]
fn fonts_say_where_their_lines_come_from() {
    let brand = demo("fonts/SkerrymarkSans-Regular.ttf").line();
    assert_eq!(brand.source, LineSource::Os2TypoAsked);
    assert_eq!((brand.ascent, brand.descent), (0.968, 0.246));
    assert_eq!(
        face(epaint_default_fonts::UBUNTU_LIGHT).line().source,
        LineSource::Hhea
    );
}

#[rstest]
// An ascent of .96875 em is 15.5 px at 16 px, which rounds up.
#[case(16.0, (0.96875, 0.25, 0.0), 16 + 4)]
#[case(16.0, (0.968, 0.246, 0.0), 15 + 4)]
#[case(10.0, (1.0, 0.24, 0.25), 10 + 2 + 3)]
fn chromium_rounds_each_part(#[case] size: f32, #[case] em: (f64, f64, f64), #[case] height: i32) {
    let metrics = LineMetrics {
        ascent: em.0,
        descent: em.1,
        line_gap: em.2,
        source: LineSource::Hhea,
    };
    assert_eq!(chromium::natural_line(size, &metrics).height(), height);
}

#[test]
fn chromium_cuts_the_used_size_to_hundredths() {
    assert_eq!(chromium::used_size(16.0, 104.56), 16.72);
    let overrides = Overrides {
        ascent: 92.7,
        descent: 25.0,
        line_gap: 0.0,
    };
    // 16.72 × .927 = 15.499; the uncut 16.7296 × .927 = 15.508 would round up.
    assert_eq!(
        chromium::overridden_line(16.0, 104.56, &overrides).ascent,
        15
    );
}

#[rstest]
// A + D = 15.2 + 4 = 19.2 px; .2 px is left over whole parts of 15 and 4, half
// of it goes below, and above there is room for all of A: 15.2 + 4.1.
#[case(16.0, 100.0, (95.0, 25.0, 0.0), 19.3)]
// A + D = E without a gap: 1.2 E.
#[case(20.0, 100.0, (80.0, 20.0, 0.0), 24.0)]
// The same with a gap: E + G.
#[case(20.0, 100.0, (80.0, 20.0, 10.0), 22.0)]
fn firefox_keeps_fractions(
    #[case] size: f32,
    #[case] size_adjust: f64,
    #[case] percent: (f64, f64, f64),
    #[case] height: f64,
) {
    let overrides = Overrides {
        ascent: percent.0,
        descent: percent.1,
        line_gap: percent.2,
    };
    let declared = AdjustedLines {
        design: PLAIN,
        size_adjust,
        overrides,
    };
    let declared = declared.line(size).height();
    assert!((declared - height).abs() < 1e-9, "{declared}");
}

const PLAIN: Design = Design {
    units_per_em: 2048,
    underline_position: -150.0,
    underline_thickness: 100.0,
};

#[rstest]
// In 2048 units 10.5 px scale exactly and round up, in 1000 they scale to a
// little less and round down.
#[case(2048, 11.0)]
#[case(1000, 10.0)]
fn firefox_rounds_the_em_through_the_scale_of_the_font(#[case] units_per_em: u16, #[case] em: f64) {
    let declared = AdjustedLines {
        design: Design {
            units_per_em,
            ..PLAIN
        },
        size_adjust: 100.0,
        overrides: Overrides {
            ascent: 10.0,
            descent: 10.0,
            line_gap: 10.0,
        },
    };
    assert!((declared.line(10.5).height() - (em + 1.05)).abs() < 1e-9);
}

#[test]
fn firefox_makes_room_for_the_underline() {
    let overrides = Overrides {
        ascent: 96.88,
        descent: 24.163,
        line_gap: 0.0,
    };
    let below = |design| {
        let declared = AdjustedLines {
            design,
            size_adjust: 100.0,
            overrides,
        };
        declared.line(17.5).below
    };
    let low = Design {
        units_per_em: 2816,
        underline_position: -445.0,
        underline_thickness: 243.0,
    };
    // 4.23 px, but an underline of 1.51 px at its bottom counts as 3 + 2 px.
    assert_eq!(below(low), 300);
    assert!(below(PLAIN) < 270);
}
