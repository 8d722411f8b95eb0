//! Prediction beside measurement.

use std::collections::BTreeMap;

use rstest::rstest;
use tidy_lattice_browser::{
    Comparison, Differs, Engine, Judged, Measured, MeasuredBlock, MeasuredElement, MeasuredLine,
    ShownFont,
};
use tidy_lattice_core::shift::{Foretold, ForetoldBlock, ForetoldElement, ForetoldLine, Rect};

fn foretold() -> Foretold {
    let element = |number, element: &str, y, height| ForetoldElement {
        number,
        element: element.to_owned(),
        line: 1,
        rect: Rect {
            x: 0.0,
            y,
            width: 300.0,
            height,
        },
        line_height: Some(20.0),
    };
    let line = |text: &str, y| ForetoldLine {
        text: text.to_owned(),
        x: 0.0,
        width: 200.0,
        exact: true,
        y,
        height: 20.0,
    };
    let block = |number, lines| ForetoldBlock {
        number,
        lines,
        guessed: false,
        fonts: vec!["Brand-Regular".to_owned()],
    };
    Foretold {
        page_height: 60.0,
        elements: vec![
            element(0, "body", 0.0, 60.0),
            element(1, "p#a", 0.0, 40.0),
            element(2, "p#b", 40.0, 20.0),
        ],
        blocks: vec![
            block(1, vec![line("Sixislands", 0.0), line("andaferry", 20.0)]),
            block(2, vec![line("ILIMAN", 40.0)]),
        ],
        left_out: Vec::new(),
    }
}

/// A browser that sees what was foretold.
fn measured() -> Measured {
    let told = foretold();
    Measured {
        width: 300.0,
        height: 400.0,
        page_height: told.page_height,
        elements: told
            .elements
            .iter()
            .map(|element| MeasuredElement {
                number: element.number,
                tag: "p".to_owned(),
                parent: (element.number > 0).then_some(0),
                x: element.rect.x,
                y: element.rect.y,
                width: element.rect.width,
                height: element.rect.height,
                line_height: "20px".to_owned(),
            })
            .collect(),
        blocks: told
            .blocks
            .iter()
            .map(|block| MeasuredBlock {
                number: block.number,
                lines: block
                    .lines
                    .iter()
                    .map(|line| MeasuredLine {
                        text: line.text.clone(),
                        x: line.x,
                        y: line.y,
                        width: line.width,
                        height: 18.0,
                    })
                    .collect(),
            })
            .collect(),
        faces: Vec::new(),
        gone: Vec::new(),
        added: 0,
        numbers: Vec::new(),
    }
}

fn compared(measured: &Measured, engine: Engine) -> Comparison {
    Comparison::of(&foretold(), measured, Judged::of(engine, None))
}

#[test]
fn what_is_equal_differs_in_nothing() {
    let same = compared(&measured(), Engine::Chromium);
    assert_eq!(same.differences, []);
    assert_eq!((same.blocks, same.lines, same.heights), (2, 3, 3));
    assert_eq!(same.line_heights, 3);
}

#[rstest]
#[case::a_line_more(|seen: &mut Measured| { let more = seen.blocks[0].lines[0].clone(); seen.blocks[0].lines.push(more); }, Differs::Lines)]
#[case::another_end(|seen: &mut Measured| seen.blocks[0].lines[0].text.push_str("and"), Differs::Break)]
#[case::wider(|seen: &mut Measured| seen.blocks[0].lines[0].width += 0.3, Differs::Width)]
#[case::higher(|seen: &mut Measured| seen.elements[2].height += 0.05, Differs::Height)]
#[case::aside(|seen: &mut Measured| seen.elements[2].x += 1.0, Differs::X)]
#[case::lower(|seen: &mut Measured| seen.elements[2].y += 1.0, Differs::Y)]
#[case::wider_box(|seen: &mut Measured| seen.elements[2].width += 1.0, Differs::BoxWidth)]
#[case::line_height(|seen: &mut Measured| "normal".clone_into(&mut seen.elements[1].line_height), Differs::LineHeight)]
#[case::gone(|seen: &mut Measured| { seen.blocks.pop(); }, Differs::Missing)]
fn what_differs_is_told(#[case] change: fn(&mut Measured), #[case] what: Differs) {
    let mut seen = measured();
    change(&mut seen);
    let compared = compared(&seen, Engine::Chromium);
    let told: Vec<Differs> = compared.differences.iter().map(|one| one.what).collect();
    assert_eq!(told, [what], "{:?}", compared.differences);
}

#[rstest]
#[case::as_written(|seen: &mut Measured| "ılıman".clone_into(&mut seen.blocks[1].lines[0].text))]
#[case::a_quarter_px(|seen: &mut Measured| seen.blocks[0].lines[0].width += 0.2)]
#[case::a_unit(|seen: &mut Measured| seen.elements[2].height += 1.0 / 64.0)]
fn what_means_nothing_is_not(#[case] change: fn(&mut Measured)) {
    let mut seen = measured();
    change(&mut seen);
    assert_eq!(compared(&seen, Engine::Chromium).differences, []);
}

#[test]
fn what_a_box_moves_is_not_off_itself() {
    let mut seen = measured();
    seen.elements[1].height += 5.0;
    seen.elements[2].y += 5.0;
    seen.elements[0].height += 5.0;
    let higher = compared(&seen, Engine::Chromium);
    assert_eq!(
        (higher.heights_off, higher.boxes_off, higher.boxes),
        (2, 0, 3)
    );
    // What is around them is narrower, and stands elsewhere.
    let mut seen = measured();
    for element in &mut seen.elements {
        element.x += 10.0;
        element.width -= 20.0;
    }
    let narrower = compared(&seen, Engine::Chromium);
    let told: Vec<(&str, Differs)> = (narrower.differences.iter())
        .map(|one| (one.element.as_str(), one.what))
        .collect();
    assert_eq!(told, [("body", Differs::BoxWidth), ("body", Differs::X)]);
}

#[test]
fn heights_of_what_holds_other_lines_are_not_compared() {
    let mut seen = measured();
    seen.blocks[0].lines.pop();
    seen.elements[0].height = 40.0;
    seen.elements[1].height = 20.0;
    let compared = compared(&seen, Engine::Chromium);
    assert_eq!((compared.counts_off, compared.heights_off), (1, 0));
    assert_eq!(compared.heights, 1);
}

#[test]
fn widths_count_where_the_engine_gives_them() {
    let mut seen = measured();
    seen.blocks[0].lines[0].width += 9.0;
    assert_eq!(compared(&seen, Engine::Webkit).widths_off, 0);
    assert_eq!(compared(&seen, Engine::Firefox).widths_off, 1);
}

#[rstest]
#[case::the_same("Brand-Regular", 0)]
#[case::another("Quaydesk-Regular", 1)]
fn fonts_are_those_that_show(#[case] postscript: &str, #[case] off: usize) {
    let shown = ShownFont {
        family: "Brand".to_owned(),
        postscript: postscript.to_owned(),
        web: true,
        glyphs: 10,
    };
    let mut compared = compared(&measured(), Engine::Chromium);
    compared.compare_fonts(&foretold(), &BTreeMap::from([(1, vec![shown])]));
    assert_eq!((compared.fonts, compared.fonts_off), (1, off));
}
