//! The text that widths are fitted on: the user's own where there is enough of it, else
//! words of its language, as often as each occurs.

use tidy_lattice_core::stack::SampleKind;
use tidy_lattice_core::standin::TextSample;
use tidy_lattice_core::text::{Source, words};

use super::ProjectError;

/// Words of own text that are enough: fits on fewer do not hold on the next text.
const ENOUGH: u64 = 300;

/// How many words are drawn where there is no own text. With twice as many, a third of a
/// point fewer lines end elsewhere in other texts; with half as many, half a point more.
const DRAWN: usize = 4000;

/// How many are drawn to go with a short text.
const JOINED: usize = 900;

/// The sample for `texts`: themselves; joined with words of `language`, or of the language
/// that they seem to be in, where they are short; words of `fallback` where they are empty.
///
/// # Errors
///
/// [`ProjectError`] where words are asked for of a language that has no list.
pub fn sampled(
    texts: &[&Source],
    language: Option<&str>,
    fallback: &str,
) -> Result<(TextSample, SampleKind), ProjectError> {
    let given = || texts.iter().map(|source| (source.text.as_str(), 1));
    let sample = TextSample::of_texts(given());
    let count: u64 = sample.pieces().map(|(_, count)| count).sum();
    if count == 0 {
        let tag = language.unwrap_or(fallback);
        let drawn = words_of(tag, "--language", DRAWN)?;
        let kind = SampleKind::Language {
            language: tag.to_owned(),
        };
        return Ok((TextSample::gather(&[drawn]), kind));
    }
    let sources: Vec<String> = texts.iter().map(|source| source.name.clone()).collect();
    let short = (count < ENOUGH).then(|| {
        let all: Vec<&str> = texts.iter().map(|source| source.text.as_str()).collect();
        language.or_else(|| words::guess(&all.join("\n")))
    });
    let Some((tag, drawn)) = short
        .flatten()
        .and_then(|tag| Some((tag, words::sample(tag, JOINED)?)))
    else {
        return Ok((sample, SampleKind::OwnText { sources }));
    };
    let joined = TextSample::of_texts(given().chain([(drawn.text.as_str(), 1)]));
    let kind = SampleKind::Joined {
        sources,
        words: count,
        language: tag.to_owned(),
    };
    Ok((joined, kind))
}

/// Words of the language `tag`, which the argument `option` named.
///
/// # Errors
///
/// [`ProjectError`] where there is no list of it.
pub fn words_of(tag: &str, option: &str, count: usize) -> Result<Source, ProjectError> {
    words::sample(tag, count).ok_or_else(|| {
        let known: Vec<&str> = words::tags().collect();
        ProjectError::Usage(format!(
            "{option} {tag}: words are counted of {}; for other languages name a text",
            known.join(", ")
        ))
    })
}
