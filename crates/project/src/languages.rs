//! Languages by their tags.

use tidy_lattice_core::text::exemplars::{self, Language};
use tidy_lattice_core::text::{Source, samples};

use super::ProjectError;

/// The languages of `tags`; `None` where there are no tags.
pub fn languages(tags: &[String]) -> Result<Option<Vec<&'static Language>>, ProjectError> {
    let languages = tags
        .iter()
        .map(|tag| {
            exemplars::find(tag.trim()).ok_or_else(|| {
                ProjectError::Usage(format!(
                    "--language {tag}: no exemplar characters are known for this language; \
                     name BCP 47 tags such as uk, vi or sr-Latn"
                ))
            })
        })
        .collect::<Result<Vec<_>, _>>()?;
    Ok(Some(languages).filter(|languages| !languages.is_empty()))
}

/// The built-in sample of the language that `--text-language` names.
pub fn sample_of(tag: &str) -> Result<Source, ProjectError> {
    samples::of(tag).ok_or_else(|| {
        let known: Vec<&str> = samples::tags().collect();
        ProjectError::Usage(format!(
            "--text-language {tag}: there is a sample for {}",
            known.join(", ")
        ))
    })
}
