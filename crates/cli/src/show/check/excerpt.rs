//! A source line with a part of it underlined, as wide as the screen.

use textwrap::core::display_width;
use tidy_lattice_checks::source::Excerpt;

/// As much of a source line as there is room for, with the columns that are marked.
pub struct Marked {
    /// The line, with `…` for what is left out.
    pub text: String,
    /// Columns before the mark.
    pub start: usize,
    /// Columns that are marked.
    pub length: usize,
}

/// A character, the column it starts at, and how many it takes.
struct Placed {
    c: char,
    at: usize,
    wide: usize,
}

impl Marked {
    /// `excerpt` in `room` columns, or in as many as it takes.
    pub fn of(excerpt: &Excerpt, room: Option<usize>) -> Self {
        let mut all = 0;
        let placed: Vec<Placed> = excerpt
            .text
            .chars()
            .map(|c| {
                let c = if c.is_control() { ' ' } else { c };
                let (at, wide) = (all, display_width(c.encode_utf8(&mut [0; 4])));
                all += wide;
                Placed { c, at, wide }
            })
            .collect();
        let column = |character: usize| placed.get(character).map_or(all, |placed| placed.at);
        let start = column(excerpt.start);
        let length = column(excerpt.start + excerpt.length).max(start + 1) - start;
        let room = room.unwrap_or(usize::MAX);
        if all <= room {
            let text = placed.iter().map(|placed| placed.c).collect();
            return Marked {
                text,
                start,
                length,
            };
        }
        // The mark stands a sixth of the room from the left, further right near the line's end;
        // a column at each end says that there is more.
        let from = start.saturating_sub(room / 6).min(all - room);
        let end = from + room;
        let (cut_before, cut_behind) = (from > 0, end < all);
        let first = from + usize::from(cut_before);
        let last = end - usize::from(cut_behind);
        let inside = placed
            .iter()
            .filter(|placed| placed.at >= first && placed.at + placed.wide <= last);
        let mut text = String::new();
        if cut_before {
            text.push('…');
        }
        text.extend(inside.map(|placed| placed.c));
        if cut_behind {
            text.push('…');
        }
        Marked {
            text,
            start: start - from,
            length: length.min(last.saturating_sub(start)).max(1),
        }
    }
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::whole("<p>Łeba</p>", "Łeba", None, "<p>Łeba</p>", "   ^^^^")]
    #[case::wide("<p>切符は</p>", "は", None, "<p>切符は</p>", "       ^^")]
    #[case::marks(
        "<p>e\u{301}e\u{301}⇢</p>",
        "⇢",
        None,
        "<p>e\u{301}e\u{301}⇢</p>",
        "     ^"
    )]
    #[case::start("0123456789abcdef", "1", Some(10), "012345678…", " ^")]
    #[case::middle("0123456789abcdefghij", "a", Some(10), "…abcdefgh…", " ^")]
    #[case::end("0123456789abcdef", "f", Some(10), "…789abcdef", "         ^")]
    #[case::longer("0123456789abcdef", "56789abcdef", Some(8), "…56789a…", " ^^^^^^")]
    fn the_mark_stands_under_what_is_meant(
        #[case] line: &str,
        #[case] part: &str,
        #[case] room: Option<usize>,
        #[case] shown: &str,
        #[case] under: &str,
    ) {
        let before = line.find(part).expect("a part of the line");
        let excerpt = Excerpt {
            text: line.to_owned(),
            start: line[..before].chars().count(),
            length: part.chars().count(),
        };
        let marked = Marked::of(&excerpt, room);
        assert_eq!(marked.text, shown);
        let drawn = " ".repeat(marked.start) + &"^".repeat(marked.length);
        assert_eq!(drawn, under);
    }
}
