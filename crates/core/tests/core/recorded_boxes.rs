//! Boxes of random pages against where browsers have them (`data/boxes.*`, recorded by the
//! browser checks): those that are laid out alike stay so.

use std::collections::BTreeMap;

use rstest::rstest;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::shift::Foretold;

use crate::laid::laid_by;

const PAGES: &str = include_str!("../data/boxes.tsv");

/// How far an edge may be from where the browser has it, in px.
const NEAR: f64 = 0.05;

#[rstest]
#[case::chromium(Engine::Chromium, include_str!("../data/boxes.chromium.json"))]
#[case::firefox(Engine::Firefox, include_str!("../data/boxes.firefox.json"))]
fn boxes_are_where_the_browser_has_them(#[case] engine: Engine, #[case] recorded: &str) {
    let recorded: BTreeMap<String, Vec<(String, [f64; 4])>> =
        serde_json::from_str(recorded).expect("boxes");
    let mut wrong = Vec::new();
    let mut pages = 0;
    for line in PAGES.lines() {
        let (name, body) = line.split_once('\t').expect("two columns");
        // Pages that are laid out otherwise are not recorded.
        let Some(theirs) = recorded.get(name) else {
            continue;
        };
        pages += 1;
        let body = (body.replace("\\n", "\n").replace("\\t", "\t")).replace("\\\\", "\\");
        let (page, laid) = laid_by(engine, "p { margin: 1em 0 }", &body);
        let ours = Foretold::of(&laid, &page.flow);
        for (id, rect) in theirs {
            let found = ours.elements.iter().find_map(|one| {
                let (_, named) = one.element.rsplit_once('#')?;
                (named == id).then_some(one.rect)
            });
            let found = found.map(|rect| [rect.x, rect.y, rect.width, rect.height]);
            let near = found
                .is_some_and(|found| found.iter().zip(rect).all(|(a, b)| (a - b).abs() <= NEAR));
            if !near {
                wrong.push(format!(
                    "{name}, {id}: {found:?}, recorded {rect:?}\n  {body}"
                ));
            }
        }
    }
    assert_eq!(pages, recorded.len(), "each page that is recorded is there");
    assert!(
        wrong.is_empty(),
        "{} differ:\n{}",
        wrong.len(),
        wrong.join("\n")
    );
}
