//! Text over the files of a face: each file shapes only what its range holds, letter by
//! letter, as browsers do it; marks stay with the letter before them where its file has
//! them (CSS Fonts 4, §5.3).

use icu_properties::CodePointMapData;
use icu_properties::props::GraphemeClusterBreak;

use crate::font::Face;

/// The parts of `text`, each with the number of the slice that shows it; what none
/// shows is with the first.
pub(super) fn by_slice<'t>(face: &Face, text: &'t str) -> Vec<(usize, &'t str)> {
    let breaks = CodePointMapData::<GraphemeClusterBreak>::new();
    let mut parts: Vec<(usize, usize)> = Vec::new();
    for (at, character) in text.char_indices() {
        let extends = matches!(
            breaks.get(character),
            GraphemeClusterBreak::Extend
                | GraphemeClusterBreak::ZWJ
                | GraphemeClusterBreak::SpacingMark
        );
        let last = parts.last().map(|(number, _)| *number);
        let stays = extends
            && last.is_some_and(|last| {
                let slice = &face.slices()[last];
                slice.range.contains(u32::from(character)) && slice.face.maps(character)
            });
        let number = match (stays, face.slice_of(character)) {
            (true, _) => continue,
            (false, Some(number)) => number,
            (false, None) => last.unwrap_or(0),
        };
        if last != Some(number) {
            parts.push((number, at));
        }
    }
    let ends = parts.iter().skip(1).map(|(_, at)| *at).chain([text.len()]);
    let ends: Vec<usize> = ends.collect();
    let parts = parts.into_iter().zip(ends);
    parts
        .map(|((number, start), end)| (number, &text[start..end]))
        .collect()
}
