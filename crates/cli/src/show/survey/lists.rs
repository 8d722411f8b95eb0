//! What `cover` lists on demand: needs, and texts with their styles.

use std::fmt::Write as _;

use tidy_lattice_core::page::{LineHeight, StyleValue, TextStyle};

use super::stack_text;
use crate::results::Covered;
use crate::show::table::{lines, table};
use crate::show::text::{FAINT, TITLE, paragraph, safe, styled, thousands};

/// What is listed on demand: needs, and texts with their styles.
pub fn lists(covered: &Covered) -> String {
    let mut text = String::new();
    for need in &covered.needs {
        let language = need.language.as_deref().unwrap_or("no language said");
        let _ = writeln!(
            text,
            "\n{} {}",
            styled(TITLE, &safe(&format!("{}, {language}", need.role))),
            styled(
                FAINT,
                &format!(
                    "{}, {}",
                    setting(&need.style),
                    stack_text(&need.style.families)
                )
            ),
        );
        let clusters: Vec<String> = need
            .clusters
            .iter()
            .map(|cluster| match cluster.count {
                1 => safe(&cluster.cluster),
                count => format!("{} ×{}", safe(&cluster.cluster), thousands(count)),
            })
            .collect();
        text.push_str(&paragraph(&clusters.join("  ")));
    }
    if !covered.styled.is_empty() {
        let mut table = table(
            &["Text", "place", "element", "language", "set in", "stack"],
            &[],
        );
        for one in &covered.styled {
            let words: String = one.text.split_whitespace().collect::<Vec<_>>().join(" ");
            let mut short: String = words.chars().take(24).collect();
            if short.len() < words.len() {
                short.push('…');
            }
            table.add_row([
                safe(&short),
                format!("{}:{}", safe(&one.page), one.line),
                safe(&one.element),
                safe(one.language.as_deref().unwrap_or("·")),
                setting(&one.style),
                stack_text(&one.style.families),
            ]);
        }
        let _ = write!(text, "\n{}", lines(&table));
    }
    text
}

/// `18/27 px, 700, italic`; lengths to hundredths of a px.
fn setting(style: &TextStyle) -> String {
    let px = |length: f32| (f64::from(length) * 100.0).round() / 100.0;
    let line = match style.line_height {
        LineHeight::Normal => String::new(),
        LineHeight::Number(number) => format!("/{}", px(number * style.size)),
        LineHeight::Px(height) => format!("/{}", px(height)),
    };
    let mut parts = vec![
        format!("{}{line} px", px(style.size)),
        style.weight.to_string(),
    ];
    match style.style {
        StyleValue::Normal => {}
        StyleValue::Italic => parts.push("italic".to_owned()),
        StyleValue::Oblique(angle) => parts.push(format!("oblique {angle}°")),
    }
    if style.stretch != 100.0 {
        parts.push(format!("{} % wide", style.stretch));
    }
    if style.letter_spacing != 0.0 {
        parts.push(format!("spaced {} px", px(style.letter_spacing)));
    }
    parts.extend(style.asked_features().into_iter().map(|(tag, _)| tag));
    parts.join(", ")
}
