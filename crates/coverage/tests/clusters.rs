//! Texts counted as clusters.

use tidy_lattice_coverage::need::Need;
use tidy_lattice_glyphs::text::Source;

/// The quick counting must agree with UAX #29 on anything.
#[test]
fn counting_is_that_of_the_standard() {
    use icu_segmenter::GraphemeClusterSegmenter;
    let mut texts = vec![
        "e\u{301}\u{302}x\r\ny\n\rक्षि👩‍🚀❤\u{fe0f}\u{200d}🔥🇵🇱🇵 한\u{1112}\u{1161}\u{11ab}\u{600}1 ❤\u{200d}☂".to_owned(),
    ];
    let alphabet: Vec<char> = "aя \n\r\u{301}\u{200d}❤👩🇵क\u{94d}\u{93f}한\u{1161}\u{600}☂\u{fe0f}"
        .chars()
        .collect();
    let mut state = 1_u32;
    for _ in 0..300 {
        let text = (0..30).map(|_| {
            state = state.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            alphabet[(state >> 16) as usize % alphabet.len()]
        });
        texts.push(text.collect());
    }
    for text in texts {
        let need = Need::gather(&[Source {
            name: String::new(),
            text: text.clone(),
        }]);
        let mut expected: Vec<(String, u64)> = Vec::new();
        let bounds: Vec<usize> = GraphemeClusterSegmenter::new().segment_str(&text).collect();
        for pair in bounds.windows(2) {
            let cluster = &text[pair[0]..pair[1]];
            if !cluster.chars().any(tidy_lattice_glyphs::text::is_shown) {
                continue;
            }
            match expected.iter_mut().find(|(known, _)| known == cluster) {
                Some((_, count)) => *count += 1,
                None => expected.push((cluster.to_owned(), 1)),
            }
        }
        let counted: Vec<(String, u64)> = need
            .clusters
            .iter()
            .map(|need| (need.text.clone(), need.count))
            .collect();
        assert_eq!(counted, expected, "{text:?}");
    }
}
