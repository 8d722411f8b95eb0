//! What holds of the lines of any text in a box of any width.

use proptest::prelude::*;
use tidy_lattice_core::layout::Engine;
use tidy_lattice_core::shift::{Foretold, ForetoldLine};

use crate::laid::laid_by;
use crate::material::cases;

fn lines(engine: Engine, css: &str, body: &str) -> Vec<ForetoldLine> {
    let (page, laid) = laid_by(engine, css, &format!("<div id=t>{body}</div>"));
    let predicted = Foretold::of(&laid, &page.flow);
    predicted
        .blocks
        .into_iter()
        .flat_map(|block| block.lines)
        .collect()
}

fn words() -> impl Strategy<Value = Vec<String>> {
    proptest::collection::vec("[A-Za-zéÅ]{1,12}[,.]?", 1..40)
}

fn engines() -> impl Strategy<Value = Engine> {
    proptest::sample::select(vec![Engine::Chromium, Engine::Firefox])
}

fn without_blanks(text: &str) -> String {
    text.chars().filter(|c| !c.is_whitespace()).collect()
}

proptest! {
    #![proptest_config(cases(60))]

    #[test]
    fn every_letter_stands_in_one_line(words in words(), width in 1_u32..600, engine in engines()) {
        let text = words.join(" ");
        let lines = lines(engine, &format!("#t {{width: {width}px}}"), &text);
        let together: String = lines.iter().map(|line| line.text.as_str()).collect();
        prop_assert_eq!(together, without_blanks(&text));
    }

    #[test]
    fn lines_are_as_wide_as_their_box_but_for_single_words(
        words in words(), width in 20_u32..600, engine in engines()
    ) {
        let lines = lines(engine, &format!("#t {{width: {width}px}}"), &words.join(" "));
        for line in lines {
            let single = words.contains(&line.text);
            prop_assert!(single || line.width <= f64::from(width) + 0.05, "{:?}", line);
        }
    }

    #[test]
    fn lines_take_all_that_fits(words in words(), width in 20_u32..600, engine in engines()) {
        let text = words.join(" ");
        let lines = lines(engine, &format!("#t {{width: {width}px}}"), &text);
        // With the next word a line would be too wide.
        let mut next = 0;
        for pair in lines.windows(2) {
            let mut letters = String::new();
            let first = next;
            while letters.len() < pair[0].text.len() {
                letters.push_str(&words[next]);
                next += 1;
            }
            prop_assert_eq!(&letters, &pair[0].text);
            let more = words[first..=next].join(" ");
            let wide = self::lines(engine, "#t {width: 10000px}", &more);
            prop_assert_eq!(wide.len(), 1);
            prop_assert!(wide[0].width > f64::from(width) - 0.05, "{} fits {}", more, width);
        }
    }

    #[test]
    fn a_wider_box_has_no_more_lines(
        words in words(), width in 20_u32..500, more in 1_u32..200, engine in engines()
    ) {
        let text = words.join(" ");
        let count = |width: u32| lines(engine, &format!("#t {{width: {width}px}}"), &text).len();
        prop_assert!(count(width + more) <= count(width));
    }

    #[test]
    fn alignment_moves_lines_and_changes_none(words in words(), width in 60_u32..400) {
        let text = words.join(" ");
        let set = |align: &str| lines(
            Engine::Chromium,
            &format!("#t {{width: {width}px; text-align: {align}}}"),
            &text,
        );
        let (left, right, centre) = (set("left"), set("right"), set("center"));
        prop_assert!(left.len() == right.len() && left.len() == centre.len());
        for ((left, right), centre) in left.iter().zip(&right).zip(&centre) {
            prop_assert_eq!(&left.text, &right.text);
            prop_assert!((left.width - right.width).abs() < 0.02);
            prop_assert_eq!(left.x, 0.0);
            // What is too wide for its box sticks out at its end.
            let room = (f64::from(width) - left.width).max(0.0);
            prop_assert!((right.x - room).abs() < 0.05, "{:?} of {}", right, room);
            prop_assert!((centre.x - room / 2.0).abs() < 0.05, "{:?} of {}", centre, room);
        }
    }

    #[test]
    fn spaced_letters_are_wider_by_their_number(words in words(), tenths in 1_u32..60) {
        let text = words.join(" ");
        let spacing = f64::from(tenths) / 10.0;
        let set = |css: &str| lines(Engine::Chromium, &format!("#t {{width: 100000px; {css}}}"), &text);
        let plain = &set("font-kerning: none; font-variant-ligatures: none")[0];
        let spaced = &set(&format!(
            "font-kerning: none; font-variant-ligatures: none; letter-spacing: {spacing}px"
        ))[0];
        let letters = text.chars().count() as f64;
        let wider = spaced.width - plain.width;
        prop_assert!((wider - letters * spacing).abs() < 0.1, "{} for {}", wider, letters);
    }
}
