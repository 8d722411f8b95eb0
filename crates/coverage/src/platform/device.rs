//! A platform with the measurements of its faces at hand.

use std::collections::{BTreeMap, HashMap};
use std::sync::{Arc, Mutex, PoisonError};

use tidy_lattice_documents::style::matching::FaceTraits;
use tidy_lattice_documents::style::read::{FaceStyle, Range};
use tidy_lattice_glyphs::font::{Card, Face, Slope};

use super::{Family, Found, Known, Platform, PlatformFace};
use crate::platform::as_face;

/// Families by the keywords of generic ones.
type ByKeyword = BTreeMap<String, String>;

/// Where the measurements of a platform's faces come from.
pub type Measure<'a> = dyn Fn(Found<'_>) -> Option<Face> + Send + Sync + 'a;

/// A platform whose faces can be looked at.
pub struct Device<'a> {
    platform: &'a Platform,
    /// The engine of the browser, by name, where it is known.
    engine: Option<&'static str>,
    measure: Box<Measure<'a>>,
    measured: Mutex<HashMap<String, Option<Arc<Face>>>>,
}

impl<'a> Device<'a> {
    /// A device of the built-in catalogue.
    pub fn built_in(platform: &'a Platform) -> Self {
        Self::new(platform, |found| {
            let card: Card = super::builtin_card(found.face.card.as_deref()?)?;
            as_face(found, card).ok()
        })
    }

    /// A device whose faces `measure` knows.
    pub fn new(
        platform: &'a Platform,
        measure: impl Fn(Found<'_>) -> Option<Face> + Send + Sync + 'a,
    ) -> Self {
        Device {
            platform,
            engine: None,
            measure: Box::new(measure),
            measured: Mutex::default(),
        }
    }

    /// As a browser of `engine` has it: `Chromium`, `Firefox`, `WebKit`.
    pub fn seen_in(mut self, engine: &'static str) -> Self {
        self.engine = Some(engine);
        self
    }

    /// The platform.
    pub fn platform(&self) -> &'a Platform {
        self.platform
    }

    /// The installed family called `name`, whatever its case (CSS Fonts 4,
    /// §5.1), or taken for one of that name; else the one that Chromium tries in its place, or
    /// that stands for it as it has the same metrics, as systems with free fonts have it.
    pub fn family(&self, name: &str) -> Option<&'a Family> {
        self.named(name)
            .or_else(|| self.named(alternate(name)?))
            .or_else(|| self.platform.stand_in(name))
            .or_else(|| self.platform.stand_in(alternate(name)?))
    }

    fn named(&self, name: &str) -> Option<&'a Family> {
        self.platform.called(name)
    }

    /// The family that a generic family stands for, in texts of `script` (see
    /// [`Device::script_for`]) where that has its own.
    pub fn generic(&self, keyword: &str, script: Option<&str>) -> Option<&'a Family> {
        let (usual, by_script) = self.generics();
        let of_script = script.and_then(|script| by_script.get(script)?.get(keyword));
        self.family(of_script.or_else(|| usual.get(keyword))?)
    }

    /// What generic families stand for in the engine: usually, and by script.
    fn generics(&self) -> (&'a ByKeyword, &'a BTreeMap<String, ByKeyword>) {
        let of_engine = self
            .engine
            .and_then(|engine| self.platform.generic_in.get(engine));
        match of_engine {
            Some(of_engine) => (&of_engine.generic, &of_engine.generic_for),
            None => (&self.platform.generic, &self.platform.generic_for),
        }
    }

    /// The script of `language` where it has generic families of its own here.
    pub fn script_for(&self, language: Option<&str>) -> Option<&'static str> {
        let (_, by_script) = self.generics();
        if by_script.is_empty() {
            return None;
        }
        let script = super::script_for_generics(language?)?;
        by_script.contains_key(script).then_some(script)
    }

    /// The face that `local(name)` means: by full or PostScript name.
    pub fn local(&self, name: &str) -> Option<(&'a Family, &'a PlatformFace)> {
        let same = |other: &str| other.eq_ignore_ascii_case(name);
        self.platform.families.iter().find_map(|family| {
            let named = |face: &&PlatformFace| {
                same(&face.full) || face.postscript.as_deref().is_some_and(same)
            };
            family.faces.iter().find(named).map(|face| (family, face))
        })
    }

    /// The measurements of a face; `None` where it is known by name only.
    pub fn face(&self, family: &Family, face: &PlatformFace) -> Option<Arc<Face>> {
        if family.known == Known::ByName && face.card.is_none() {
            return None;
        }
        let mut measured = self.measured.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = measured.get(&face.full) {
            return known.clone();
        }
        let found = (self.measure)(Found { family, face }).map(Arc::new);
        measured.insert(face.full.clone(), found.clone());
        found
    }
}

/// The name that Chromium tries where no family has another, on every system.
fn alternate(name: &str) -> Option<&'static str> {
    const ALTERNATES: [(&str, &str); 3] = [
        ("Arial", "Helvetica"),
        ("Times New Roman", "Times"),
        ("Courier New", "Courier"),
    ];
    ALTERNATES.iter().find_map(|(one, other)| {
        if one.eq_ignore_ascii_case(name) {
            Some(*other)
        } else {
            other.eq_ignore_ascii_case(name).then_some(*one)
        }
    })
}

/// Names are compared without regard to case, whatever the letters.
pub(super) fn same_name(a: &str, b: &str) -> bool {
    a.eq_ignore_ascii_case(b) || (!a.is_ascii() && a.to_lowercase() == b.to_lowercase())
}

impl Device<'_> {
    /// Whether any measured face has `character`.
    pub fn any_has(&self, character: char) -> bool {
        self.platform.families.iter().any(|family| {
            let mut faces = family.faces.iter();
            faces.any(|face| {
                self.face(family, face)
                    .is_some_and(|face| face.maps(character))
            })
        })
    }
}

impl PlatformFace {
    /// What the face offers to font matching.
    pub fn traits(&self) -> FaceTraits {
        FaceTraits {
            weight: Range::only(self.weight),
            stretch: Range::only(self.stretch),
            style: match self.style {
                Slope::Normal => FaceStyle::Normal,
                Slope::Italic => FaceStyle::Italic,
                Slope::Oblique => FaceStyle::Oblique {
                    angles: Range::only(14.0),
                },
            },
        }
    }
}
