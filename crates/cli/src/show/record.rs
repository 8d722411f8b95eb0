//! `record` for people: what each card holds and weighs.

use super::table::{lines, table};
use super::text::{FAINT, count, kilobytes, safe, styled, thousands, unreadable};
use crate::results::Recorded;

/// The view.
pub fn view(recorded: &Recorded) -> String {
    let header = [
        "Face",
        "characters",
        "KB",
        "packed",
        "file",
        "widths not known",
    ];
    let mut table = table(&header, &[1, 2, 3]);
    for card in &recorded.cards {
        table.add_row([
            safe(&card.face),
            thousands(card.characters),
            kilobytes(card.bytes),
            kilobytes(card.packed_bytes),
            safe(&card.file),
            card.unknown_widths.join(", "),
        ]);
    }
    let mut view = lines(&table);
    view.push_str(&unreadable(&recorded.unreadable));
    let total: u64 = recorded.cards.iter().map(|card| card.bytes).sum();
    let cards = count(recorded.cards.len() as u64, "card", "cards");
    let note = format!(
        " {cards}, {} KB; name one wherever a font file goes",
        kilobytes(total)
    );
    view.push_str(&styled(FAINT, &note));
    view.push('\n');
    view
}
