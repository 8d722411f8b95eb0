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

/// Texts that are counted in parts come to what they are as one.
#[test]
fn parts_add_up() {
    let first =
        "Ferry \u{1f468}\u{200d}\u{1f469} e\u{301}\u{301}, ferry\nकक क्षि \u{20000}\u{20000}";
    let second = "\u{20000} e\u{301}\u{301} and 한한 क\nZzz \u{1f468}\u{200d}\u{1f469}\u{1f468}\u{200d}\u{1f469}";
    let named = |texts: &[(&str, &str)]| {
        let sources: Vec<Source> = texts
            .iter()
            .map(|(name, text)| Source {
                name: (*name).to_owned(),
                text: (*text).to_owned(),
            })
            .collect();
        Need::gather(&sources)
    };
    let told = |need: &Need| -> Vec<String> {
        let told = need.clusters.iter().map(|one| {
            let first = &one.first;
            format!(
                "{:?} {} {:?} {}:{}:{}",
                one.text, one.count, one.group, first.source, first.line, first.column
            )
        });
        told.chain([need.total.to_string()]).collect()
    };
    let whole = named(&[("a.txt", first), ("b.txt", second)]);
    let merged = Need::merged([&named(&[("a.txt", first)]), &named(&[("b.txt", second)])]);
    assert_eq!(told(&merged), told(&whole));
    let count = |text: &str| {
        whole
            .clusters
            .iter()
            .find(|one| one.text == text)
            .map(|one| (one.count, one.first.line, one.first.column))
    };
    assert_eq!(count("e"), Some((2, 1, 2)));
    assert_eq!(count("e\u{301}\u{301}"), Some((2, 1, 9)));
    assert_eq!(count("\u{20000}"), Some((3, 2, 6)));
    assert_eq!(count("क"), Some((3, 2, 1)));
    assert_eq!(count("한"), Some((2, 1, 9)));
    assert_eq!(count("\u{1f468}\u{200d}\u{1f469}"), Some((3, 1, 7)));
}
