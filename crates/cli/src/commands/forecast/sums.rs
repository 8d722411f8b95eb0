//! What pages fetch together: by language, by platform, and what of it is not packed.

use std::collections::{BTreeMap, BTreeSet};
use std::io::Write as _;
use std::path::Path;

use flate2::Compression;
use flate2::write::GzEncoder;
use tidy_lattice_project::Access;
use tidy_lattice_project::stack::NamedPlatform;

use crate::results::{PageForecast, PageSum, UnpackedFile};

/// Files beyond this size are not packed to see how large they get, in bytes.
const LARGEST: u64 = 64 * 1024 * 1024;

/// The sum of some pages.
fn sum<'p>(of: Option<String>, pages: impl Iterator<Item = &'p PageForecast>) -> PageSum {
    let mut names = BTreeSet::new();
    let mut files = BTreeMap::new();
    let mut most = 0;
    for page in pages {
        names.insert(&page.page);
        most = most.max(page.forecast.bytes);
        let fetched = page.forecast.files.iter();
        files.extend(fetched.map(|file| (&file.file, file.bytes)));
    }
    PageSum {
        of,
        pages: names.len(),
        files: files.len(),
        bytes: files.values().sum(),
        most,
    }
}

/// By language, where pages state several.
pub fn by_language(pages: &[PageForecast]) -> Vec<PageSum> {
    let languages: BTreeSet<Option<&String>> =
        pages.iter().map(|page| page.language.as_ref()).collect();
    if languages.len() < 2 {
        return Vec::new();
    }
    let sums = languages.into_iter().map(|language| {
        let of_language = pages
            .iter()
            .filter(|page| page.language.as_ref() == language);
        sum(language.cloned(), of_language)
    });
    sums.collect()
}

/// By platform, where pages do not fetch the same everywhere.
pub fn by_platform(
    pages: &[PageForecast],
    platforms: &[NamedPlatform],
    windows: usize,
) -> Vec<PageSum> {
    if pages.iter().all(|page| page.everywhere) {
        return Vec::new();
    }
    let sums = platforms.iter().map(|platform| {
        let title = &platform.platform.title;
        let with_window = format!("{title} (");
        let here = |page: &&PageForecast| {
            let mut on = page.on.iter();
            page.everywhere
                || on.any(|on| on == title || windows > 1 && on.starts_with(&with_window))
        };
        sum(Some(title.clone()), pages.iter().filter(here))
    });
    sums.collect()
}

/// Files that pages fetch and that are not packed, as a server packs them.
pub fn unpacked(pages: &[PageForecast], access: Access<'_>) -> Vec<UnpackedFile> {
    let fetched = pages.iter().flat_map(|page| &page.forecast.files);
    let files: BTreeMap<&String, u64> = fetched
        .filter(|file| !file.packed)
        .map(|file| (&file.file, file.bytes))
        .collect();
    let packed = files.into_iter().filter_map(|(file, size)| {
        let bytes = access.read(Path::new(file), LARGEST).ok()?;
        let mut encoder = GzEncoder::new(Vec::new(), Compression::default());
        encoder.write_all(&bytes).ok()?;
        Some(UnpackedFile {
            file: file.clone(),
            bytes: size,
            gzip: encoder.finish().ok()?.len() as u64,
        })
    });
    packed.collect()
}
