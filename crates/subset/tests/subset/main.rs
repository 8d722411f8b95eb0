//! Faces cut on real and made-up fonts.
#![allow(clippy::unwrap_used)]

mod axes;
mod cut;
mod hostile;
mod layout;
mod lookups;
mod many_cuts;
mod packed;
mod recorded;

use tidy_lattice_glyphs::font::{CharacterSet, Face, FacePick, FontFile, Limits};
use tidy_lattice_subset::proof::{Proof, neighbours, prove};
use tidy_lattice_subset::{Cut, CutError, Features, Source, Want};

/// A font of the demo.
fn demo(name: &str) -> FontFile {
    let bytes = tidy_lattice_demo::file(&format!("fonts/{name}")).unwrap();
    opened(bytes)
}

fn opened(bytes: &[u8]) -> FontFile {
    FontFile::read(bytes.to_vec(), Limits::DEFAULT).unwrap()
}

fn text(text: &str) -> CharacterSet {
    CharacterSet::of(text.chars().map(u32::from))
}

fn want(characters: CharacterSet) -> Want {
    Want {
        characters,
        literal: false,
        features: Features::of_css([]),
        hints: true,
        family: None,
    }
}

fn cut(file: &FontFile, want: &Want) -> Result<Cut, CutError> {
    Source::read(file, 0)?.cut(want)
}

/// Compares a part with its source, every character beside others.
fn proven(file: &FontFile, cut: &Cut, asked: &[[u8; 4]]) -> Result<Proof, CutError> {
    let characters = cut.characters.iter().filter_map(char::from_u32);
    prove(file, 0, cut, &neighbours(characters), asked, &[])
}

fn face(cut: &Cut) -> Face {
    let file = opened(&cut.sfnt);
    Face::open(&file, &FacePick::default()).unwrap()
}
