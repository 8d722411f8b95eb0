//! The one place that calls the shaper.

use std::collections::HashMap;
use std::hash::Hash;
use std::str::FromStr as _;

use harfrust::{
    Buffer, Direction, Feature, Language, Script, ShapeOptions, ShapePlan, ShaperFont, Tag, shape,
};

/// What a run is shaped as; whatever is not said is guessed from its letters.
#[derive(Debug, Default)]
pub(super) struct Segment {
    pub script: Option<Script>,
    pub direction: Option<Direction>,
    pub language: Option<Language>,
    pub features: Vec<Feature>,
}

/// Shapes runs of one font; plans are kept by `K`, which must tell segments apart.
pub(super) struct Engine<K> {
    plans: HashMap<K, ShapePlan>,
    buffer: Buffer,
}

/// A feature by its tag; `None` where that is none.
pub(super) fn feature(tag: &str, value: u32) -> Option<Feature> {
    let tag = Tag::new_checked(tag.as_bytes()).ok()?;
    Some(Feature::new(tag, value, ..))
}

/// A script by its ISO 15924 code or OpenType tag.
pub(super) fn script(tag: &str) -> Option<Script> {
    Script::from_str(tag).ok()
}

impl<K: Eq + Hash> Engine<K> {
    pub fn new() -> Self {
        Engine {
            plans: HashMap::new(),
            buffer: Buffer::new(),
        }
    }

    /// Shapes `text`; `None` where it cannot be shaped. `key` tells what the plan for
    /// what the run turned out to be is kept as; it is not kept where that is nothing.
    pub fn shape(
        &mut self,
        font: &ShaperFont<'_, '_>,
        text: &str,
        segment: &Segment,
        key: impl FnOnce(Option<Script>, Direction) -> Option<K>,
    ) -> Option<&Buffer> {
        let buffer = &mut self.buffer;
        buffer.reset();
        buffer.push_str(text);
        if let Some(direction) = segment.direction {
            // All is said where the direction is.
            buffer.set_script(segment.script);
            buffer.set_language(segment.language.clone());
            buffer.set_direction(direction);
        } else {
            if segment.script.is_some() {
                buffer.set_script(segment.script);
            }
            if segment.language.is_some() {
                buffer.set_language(segment.language.clone());
            }
            buffer.guess_segment_properties();
        }
        let (script, direction) = (buffer.script(), buffer.direction());
        let new = || {
            let language = segment.language.as_ref();
            ShapePlan::new(font, direction, script, language, &segment.features)
        };
        let passing;
        let plan = match key(script, direction) {
            Some(key) => &*self.plans.entry(key).or_insert_with(new),
            None => {
                passing = new();
                &passing
            }
        };
        let options = ShapeOptions::new()
            .plan(Some(plan))
            .features(&segment.features);
        shape(font, buffer, options).is_ok().then_some(&self.buffer)
    }
}
