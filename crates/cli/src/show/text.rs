//! Words, numbers and styles of the human views.

use std::fmt::Write as _;
use std::io::IsTerminal as _;

use anstyle::{AnsiColor, Style};

use tidy_lattice_core::text::without_steering;
use tidy_lattice_project::folders::{UnreadableFile, by_reason};

/// Titles.
pub const TITLE: Style = Style::new().bold();
/// What is in order.
pub const GOOD: Style = AnsiColor::Green.on_default();
/// What needs work.
pub const BAD: Style = AnsiColor::Red.on_default();
/// What matters less.
pub const FAINT: Style = Style::new().dimmed();

/// `text` in `style`.
pub fn styled(style: Style, text: &str) -> String {
    format!("{style}{text}{style:#}")
}

/// 12345 as `12,345`.
pub fn thousands(number: u64) -> String {
    let digits = number.to_string();
    let mut grouped = String::new();
    for (index, digit) in digits.chars().enumerate() {
        if index > 0 && (digits.len() - index).is_multiple_of(3) {
            grouped.push(',');
        }
        grouped.push(digit);
    }
    grouped
}

/// A share of `whole` in %, never rounded to 100 or 0 unless it is that.
pub fn share(part: u64, whole: u64) -> String {
    if part == 0 || whole == 0 {
        return "0 %".to_owned();
    }
    if part == whole {
        return "100 %".to_owned();
    }
    let percent = part as f64 / whole as f64 * 100.0;
    format!("{:.1} %", percent.clamp(0.1, 99.9))
}

/// `0.515 em`.
pub fn em(em: f64) -> String {
    format!("{em:.3} em")
}

/// Bytes in units of 1,024, with one decimal where they are few.
pub fn kilobytes(bytes: u64) -> String {
    let kilobytes = bytes as f64 / 1024.0;
    if kilobytes < 100.0 {
        format!("{kilobytes:.1}")
    } else {
        thousands(kilobytes.round() as u64)
    }
}

/// Files that could not be read, a line for each reason.
pub fn unreadable(files: &[UnreadableFile]) -> String {
    let mut text = String::new();
    for told in by_reason(files, |file| &file.file) {
        let said = styled(BAD, "cannot be read:");
        let _ = writeln!(text, " {said} {}", safe(&told));
    }
    text
}

/// `1 gap`, `2 gaps`.
pub fn count(number: u64, one: &str, many: &str) -> String {
    format!(
        "{} {}",
        thousands(number),
        if number == 1 { one } else { many }
    )
}

/// `16 px, 20.5 px`.
pub fn px_list(sizes: &[f32]) -> String {
    let sizes: Vec<String> = sizes.iter().map(|size| format!("{size} px")).collect();
    sizes.join(", ")
}

/// Text from a font or a page without characters that would steer a terminal, or the
/// order in which others show.
pub fn safe(text: &str) -> String {
    without_steering(text)
        .chars()
        .map(|c| if c.is_control() { '\u{fffd}' } else { c })
        .collect()
}

/// A label and a paragraph beside it, which wraps under itself.
pub fn labelled(label: &str, text: &str) -> String {
    const WIDTH: usize = 11;
    let width = if std::io::stdout().is_terminal() {
        textwrap::termwidth()
    } else {
        usize::MAX
    };
    let first = format!(" {} ", styled(FAINT, &format!("{label:<WIDTH$}")));
    let rest = " ".repeat(WIDTH + 2);
    // The label's styling takes no room, so wrapping counts blanks instead.
    let options = textwrap::Options::new(width)
        .initial_indent(&rest)
        .subsequent_indent(&rest)
        .break_words(false);
    let wrapped = textwrap::fill(text, options);
    format!("{first}{}\n", wrapped.get(rest.len()..).unwrap_or_default())
}

/// A paragraph behind one blank, ending in a line break; as wide as the
/// terminal, and in one line where there is none.
pub fn paragraph(text: &str) -> String {
    let width = if std::io::stdout().is_terminal() {
        textwrap::termwidth()
    } else {
        usize::MAX
    };
    let options = textwrap::Options::new(width)
        .initial_indent(" ")
        .subsequent_indent("   ")
        .break_words(false);
    let mut wrapped = textwrap::fill(text, options);
    wrapped.push('\n');
    wrapped
}
