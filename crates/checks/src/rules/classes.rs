//! The classes of fonts, each judged once: outlines take long to measure.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};

use tidy_lattice_glyphs::font::{Class, ClassJudgement, Face, Sureness};

/// What was judged, by where the face is.
#[derive(Default)]
pub struct Classes(Mutex<BTreeMap<usize, (Class, Sureness)>>);

impl Classes {
    /// The class of `face`, and how sure that is.
    pub fn of(&self, face: &Arc<Face>) -> (Class, Sureness) {
        let place = Arc::as_ptr(face).addr();
        let known = || self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = known().get(&place) {
            return *known;
        }
        // Judged outside of the lock, so that others go on; twice at worst.
        let judged = ClassJudgement::judge(face, true);
        let judged = (judged.class, judged.sureness);
        known().insert(place, judged);
        judged
    }
}
