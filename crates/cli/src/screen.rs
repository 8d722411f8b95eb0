//! How wide the screen is, and text that fits on it.

use std::io::IsTerminal as _;
use std::sync::atomic::{AtomicBool, Ordering};

use textwrap::core::display_width;
use textwrap::{Options, WordSeparator, WordSplitter, WrapAlgorithm};

/// The narrowest screen that views are made for; narrower ones break lines by themselves.
const NARROWEST: usize = 40;

/// A blank at which no line ends, until the text is printed: one column wide, and in texts
/// as rare as it looks like a blank.
const HELD: char = '\u{2007}';

/// Whether names are told whole, however long.
static WHOLE: AtomicBool = AtomicBool::new(false);

/// How many columns there are: the terminal's, or `COLUMNS` where the output is none. `None`
/// in a pipe, where lines are as long as they are.
pub fn width() -> Option<usize> {
    let columns = if std::io::stdout().is_terminal() {
        textwrap::termwidth()
    } else {
        let said: Option<usize> = std::env::var("COLUMNS").ok()?.parse().ok();
        said.filter(|columns| *columns > 0)?
    };
    Some(columns.max(NARROWEST))
}

/// From now on names are told whole, as `--all` asks for, or are cut where they are too long.
pub fn tell_whole_names(whole: bool) {
    WHOLE.store(whole, Ordering::Relaxed);
}

/// Whether names are told whole.
pub fn names_are_whole() -> bool {
    WHOLE.load(Ordering::Relaxed)
}

/// `text` without a place where a line may end.
pub fn held(text: &str) -> String {
    text.replace(' ', &HELD.to_string())
}

/// CSS families in a row: lines end between them only.
pub fn families(list: &str) -> String {
    list.split(", ").map(held).collect::<Vec<_>>().join(", ")
}

/// Numbers stay beside what they count: no line ends between 12 and %.
fn with_held_units(text: &str) -> String {
    const UNITS: [&str; 8] = ["%", "%)", "px", "px)", "em", "em)", "KB", "KB)"];
    let mut held = String::with_capacity(text.len());
    let mut last = "";
    let mut first = true;
    for word in text.split(' ') {
        if !first {
            let unit = UNITS.contains(&word.trim_end_matches([',', '.', ';', ':']));
            let number = last.ends_with(|c: char| c.is_ascii_digit());
            held.push(if unit && number { HELD } else { ' ' });
        }
        held.push_str(word);
        last = word;
        first = false;
    }
    held
}

/// `text` as a cell of a table: its words no longer than `name`, units beside their numbers.
pub fn cell(text: &str, name: usize) -> String {
    let words: Vec<String> = text.split(' ').map(|word| cut(word, name)).collect();
    with_held_units(&words.join(" "))
}

/// `text` with lines no longer than the screen is wide: they are broken at blanks and go on
/// further in; a word that is longer by itself is cut in its middle.
pub fn fit(text: &str) -> String {
    let fitted = match width() {
        Some(width) => fitted(text, width, names_are_whole()),
        None => text.to_owned(),
    };
    fitted.replace(HELD, " ")
}

fn fitted(text: &str, width: usize, whole: bool) -> String {
    let mut all = String::with_capacity(text.len());
    for line in text.split_inclusive('\n') {
        let (body, end) = match line.strip_suffix('\n') {
            Some(body) => (body, "\n"),
            None => (line, ""),
        };
        if display_width(body) <= width {
            all.push_str(body);
        } else {
            let indent = body.len() - body.trim_start_matches(' ').len();
            let first = " ".repeat(indent.min(width / 2));
            let more = " ".repeat((indent + 2).min(width / 2));
            all.push_str(&wrapped(
                body.trim_start_matches(' '),
                width,
                &first,
                &more,
                whole,
            ));
        }
        all.push_str(end);
    }
    all
}

/// `text` in lines of `width`, the first behind `first`, the others behind `more`.
pub fn wrap(text: &str, width: usize, first: &str, more: &str) -> String {
    wrapped(text, width, first, more, names_are_whole())
}

fn wrapped(text: &str, width: usize, first: &str, more: &str, whole: bool) -> String {
    let room = width.saturating_sub(first.len().max(more.len())).max(1);
    let words = text.split(' ').map(|word| {
        if whole || display_width(word) <= room {
            word.to_owned()
        } else {
            cut(word, room)
        }
    });
    let words: Vec<String> = words.collect();
    let options = Options::new(width)
        .initial_indent(first)
        .subsequent_indent(more)
        .word_separator(WordSeparator::AsciiSpace)
        .word_splitter(WordSplitter::NoHyphenation)
        // The other one lets a line be too long where the next would be short.
        .wrap_algorithm(WrapAlgorithm::FirstFit)
        .break_words(whole);
    textwrap::fill(&with_held_units(&words.join(" ")), options)
}

/// A name in `width` columns: what is too much of it is left out of its middle. Styles stay.
pub fn cut(name: &str, width: usize) -> String {
    if display_width(name) <= width {
        return name.to_owned();
    }
    // The end of a path tells more than its start.
    let head = width.saturating_sub(1) * if name.contains('/') { 1 } else { 2 } / 5;
    let tail = width.saturating_sub(1) - head;
    let pieces = pieces(name);
    let all: usize = pieces.iter().map(|piece| piece.1).sum();
    let mut text = String::with_capacity(name.len());
    let mut before = 0;
    let mut left_out = false;
    for (piece, wide) in pieces {
        let style = piece.starts_with('\u{1b}');
        let fits = before + wide <= head || (left_out && all - before <= tail && wide > 0);
        // A mark of a letter that was left out goes, too.
        let lonely = wide == 0 && left_out && text.ends_with('…');
        if style || (fits && !lonely) {
            text.push_str(piece);
        } else if !left_out {
            text.push('…');
            left_out = true;
        } else if wide == 0 && !lonely {
            text.push_str(piece);
        }
        before += wide;
    }
    text
}

/// Characters with their widths, sequences of styles as one piece without any.
fn pieces(text: &str) -> Vec<(&str, usize)> {
    let mut pieces = Vec::new();
    let mut rest = text;
    while let Some(first) = rest.chars().next() {
        let end = match first {
            '\u{1b}' => rest.find('m').map_or(rest.len(), |end| end + 1),
            other => other.len_utf8(),
        };
        let (piece, behind) = rest.split_at(end);
        let wide = if first == '\u{1b}' {
            0
        } else {
            display_width(piece)
        };
        pieces.push((piece, wide));
        rest = behind;
    }
    pieces
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::short("fonts/a.ttf", 20, "fonts/a.ttf")]
    #[case::path("fonts/SkerrymarkSans-Regular.ttf", 20, "fon…Sans-Regular.ttf")]
    #[case::wide("日本語日本語日本語", 10, "日…日本語")]
    #[case::styled("\u{1b}[1mabcdefghij\u{1b}[0m", 6, "\u{1b}[1mab…hij\u{1b}[0m")]
    #[case::marks(
        "e\u{301}e\u{301}e\u{301}e\u{301}e\u{301}e\u{301}",
        4,
        "e\u{301}…e\u{301}e\u{301}"
    )]
    fn names_are_cut_in_their_middle(
        #[case] name: &str,
        #[case] width: usize,
        #[case] cut_to: &str,
    ) {
        assert_eq!(cut(name, width), cut_to);
        assert!(display_width(&cut(name, width)) <= width);
    }

    #[rstest]
    #[case::blanks("  one two three four", 12, "  one two\n    three\n    four")]
    #[case::long(
        " see fonts/SkerrymarkSans-Regular.ttf now",
        20,
        " see\n   fon…s-Regular.ttf\n   now"
    )]
    #[case::short("one\n two\n", 40, "one\n two\n")]
    #[case::full("aaaa bbbbbb dddddd eee", 11, "aaaa bbbbbb\n  dddddd\n  eee")]
    #[case::hyphen("the size-adjust of it", 14, "the\n  size-adjust\n  of it")]
    fn lines_end_at_blanks(#[case] text: &str, #[case] width: usize, #[case] lines: &str) {
        assert_eq!(fitted(text, width, false), lines);
    }

    #[test]
    fn whole_names_go_on_in_the_next_line() {
        let text = fitted("fonts/SkerrymarkSans-Regular.ttf", 20, true);
        assert_eq!(
            text.replace(['\n', ' '], ""),
            "fonts/SkerrymarkSans-Regular.ttf"
        );
        assert!(text.lines().all(|line| display_width(line) <= 20));
    }

    #[test]
    fn families_stay_in_one_piece() {
        let text = families("\"Tern Sans\", \"Tern Text\", serif");
        let text = fitted(&text, 14, false).replace(HELD, " ");
        assert_eq!(text, "\"Tern Sans\",\n  \"Tern Text\",\n  serif");
    }
}
