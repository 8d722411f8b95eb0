//! Words, numbers and styles of the human views.

use std::fmt::Write as _;

use anstyle::{Ansi256Color, Style};

use tidy_lattice_core::text::without_steering;
use tidy_lattice_project::folders::{UnreadableFile, by_reason};

use crate::screen;

/// Titles.
pub const TITLE: Style = Style::new().bold();
/// What is in order: a green that can be read on black and on white.
pub const GOOD: Style = Ansi256Color(28).on_default();
/// What needs work: a red of that kind.
pub const BAD: Style = Ansi256Color(160).on_default();
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
    for reason in by_reason(files, |file| &file.file) {
        let said = styled(BAD, "cannot be read:");
        let _ = writeln!(text, " {said} {}", safe(&reason));
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
    let first = format!(" {} ", styled(FAINT, &format!("{label:<WIDTH$}")));
    let Some(width) = screen::width() else {
        return format!("{first}{text}\n");
    };
    let rest = " ".repeat(WIDTH + 2);
    // The label's styling takes no room, so wrapping counts blanks instead.
    let wrapped = screen::wrap(text, width, &rest, &rest);
    format!("{first}{}\n", wrapped.get(rest.len()..).unwrap_or_default())
}

/// A paragraph behind one blank, ending in a line break; as wide as the
/// terminal, and in one line where there is none.
pub fn paragraph(text: &str) -> String {
    match screen::width() {
        Some(width) => screen::wrap(text, width, " ", "   ") + "\n",
        None => format!(" {text}\n"),
    }
}

/// What to do now.
pub fn next_step(text: &str) -> String {
    paragraph(&format!("{} {text}", styled(TITLE, "Next:")))
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    /// The relative luminance of a colour of the 6×6×6 cube (WCAG 2.2).
    fn luminance(colour: Ansi256Color) -> f64 {
        let cube = colour.0 - 16;
        let linear = |step: u8| {
            let value = if step == 0 {
                0.0
            } else {
                (55.0 + 40.0 * f64::from(step)) / 255.0
            };
            ((value + 0.055_f64) / 1.055).powf(2.4).max(0.0)
        };
        let [red, green, blue] = [cube / 36, cube / 6 % 6, cube % 6].map(linear);
        0.2126 * red + 0.7152 * green + 0.0722 * blue
    }

    #[rstest]
    #[case::good(GOOD)]
    #[case::bad(BAD)]
    fn colours_can_be_read_on_black_and_on_white(#[case] style: Style) {
        let Some(anstyle::Color::Ansi256(colour)) = style.get_fg_color() else {
            panic!("a colour of the terminal's palette may be any");
        };
        let light = luminance(colour) + 0.05;
        let (on_black, on_white) = (light / 0.05, 1.05 / light);
        assert!(on_black > 3.8 && on_white > 3.8, "{on_black} {on_white}");
    }
}
