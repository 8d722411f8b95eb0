//! `compare`: faces side by side.

use tidy_lattice_core::compare::{Candidate, compare};
use tidy_lattice_core::font::Face;
use tidy_lattice_core::standin::TextSample;
use tidy_lattice_project::faces::open_weighed;
use tidy_lattice_project::languages::languages;
use tidy_lattice_project::texts::text_to_measure;

use crate::args::CompareArgs;
use crate::error::{CliError, Outcome};
use crate::progress::while_working;
use crate::results::Compared;
use crate::show;
use crate::show::picture::{self, Form};
use crate::writing;
use crate::{input, output, screen};

/// Runs the command.
pub fn run(args: &CompareArgs, json: bool) -> Result<Outcome, CliError> {
    if args.faces.len() < 2 {
        return Err(CliError::Usage(
            "name two or more faces to compare".to_owned(),
        ));
    }
    if args
        .word
        .as_ref()
        .is_some_and(|word| word.trim().is_empty())
    {
        return Err(CliError::Usage("--word: the word is empty".to_owned()));
    }
    let form = args.drawing.picture.as_deref().map(Form::of).transpose()?;
    let languages = languages(&args.languages)?;
    let access = input::access(&args.limits);
    let (sample, text) = text_to_measure(
        &input::measured_text(&args.texts, &args.text_files)?,
        &args.text_language,
        false,
        access,
    )?;
    let opened = args
        .faces
        .iter()
        .map(|named| open_weighed(named, access))
        .collect::<Result<Vec<_>, _>>()?;
    let candidates = opened.iter().map(|opened| Candidate {
        face: &opened.face,
        bytes: opened.bytes.clone(),
    });
    let candidates: Vec<Candidate<'_>> = candidates.collect();
    let comparison = while_working("Comparing faces", || {
        compare(candidates, &sample, languages.as_deref())
    });
    let compared = Compared { text, comparison };
    if let (Some(path), Some(form)) = (&args.drawing.picture, form) {
        let faces: Vec<&Face> = opened.iter().map(|opened| &opened.face).collect();
        let word = args.word.clone().unwrap_or_else(|| word(&faces, &sample));
        let svg = picture::comparison(&compared.comparison, &faces, &word);
        writing::write_file(path, &form.encode(&svg)?, args.drawing.force)?;
        output::note(&format!("the picture is in {}", path.display()));
    }
    screen::tell_whole_names(args.all);
    super::tell(json, "compare", &compared, || {
        show::compare::view(&compared, args.all)
    })?;
    Ok(Outcome::Clean)
}

/// A word that all faces have: one that shows the typical letters, else the
/// longest of the text's most frequent ones.
fn word(faces: &[&Face], sample: &TextSample) -> String {
    const TYPICAL: &str = "Hamgx";
    let all_have = |word: &str| word.chars().all(|c| faces.iter().all(|face| face.maps(c)));
    if all_have(TYPICAL) {
        return TYPICAL.to_owned();
    }
    let words = sample
        .words()
        .iter()
        .take(200)
        .map(|(word, _)| word.as_str());
    let shared = words.filter(|word| all_have(word) && word.chars().count() <= 9);
    let longest = shared.max_by_key(|word| word.chars().count());
    longest.unwrap_or(TYPICAL).to_owned()
}
