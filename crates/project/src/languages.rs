//! Languages by their tags.

use tidy_lattice_core::text::exemplars::{self, Language};

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
