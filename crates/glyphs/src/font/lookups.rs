//! The lookups behind each feature, read from GSUB and GPOS (OpenType 1.9.1,
//! "OpenType Layout common table formats").

use std::collections::{BTreeMap, BTreeSet};

use skrifa::font::Kind;
use skrifa::raw::tables::gpos::{Gpos, PositionSubtables};
use skrifa::raw::tables::gsub::{Gsub, LigatureSubst, SubstitutionSubtables};
use skrifa::raw::tables::layout::{CoverageTable, Feature, FeatureList, FeatureParams, ScriptList};
use skrifa::raw::types::Offset16;
use skrifa::raw::{FontData, ReadError, TableProvider as _};

use super::Face;

/// The most glyphs and ligatures of a feature that are gathered: more than any
/// font has, fewer than a hostile one can claim.
const MOST: usize = 1 << 17;

/// What the walks over one face's GSUB and GPOS may cost together, in records that are
/// looked at. Tables of a hostile font overlap, so that a few kilobytes hold 10^12 of
/// them; 484 fonts of Debian hold 105,000 at most.
const MOST_STEPS: usize = 1 << 22;

/// What is left of the steps that the walks over one face's tables may take.
#[derive(Debug)]
pub struct Budget(usize);

impl Default for Budget {
    fn default() -> Self {
        Budget(MOST_STEPS)
    }
}

impl Budget {
    /// Takes `steps` off; whether there were as many.
    pub(super) fn pay(&mut self, steps: usize) -> bool {
        let enough = self.0 >= steps;
        self.0 = self.0.saturating_sub(steps);
        enough
    }

    /// Whether nothing is left.
    pub fn is_spent(&self) -> bool {
        self.0 == 0
    }
}

/// One feature of one table, over all its records.
#[derive(Debug, Default)]
pub struct Raw {
    /// Script and language tags, such as `latn/TRK`; `dflt` for a script's
    /// default.
    pub systems: BTreeSet<String>,
    /// The lookups that its records name.
    pub lookups: BTreeSet<u16>,
    /// The name IDs that its parameters give it.
    pub name_id: Option<u16>,
}

/// What the lookups of a feature do.
#[derive(Debug, Default)]
pub struct Effect {
    /// Glyphs that it starts from.
    pub inputs: BTreeSet<u32>,
    /// Ligatures: their components in order.
    pub ligatures: Vec<Vec<u32>>,
    /// Glyphs with several alternates, and the most that one has.
    pub alternates: Option<(usize, usize)>,
    /// Sequences of glyphs in front of which, or at whose start, it acts: one
    /// example of each context.
    pub contexts: Vec<Vec<u32>>,
    /// Pairs of glyphs that positioning names one by one, and subtables that
    /// name them by classes.
    pub pairs: usize,
    /// How many subtables position pairs by classes.
    pub class_tables: usize,
    /// Whether some subtable could not be read.
    pub damaged: bool,
}

/// The features of a table by tag.
///
/// # Errors
///
/// [`ReadError`] where the lists are damaged, or overlap so much that reading them
/// takes more than `budget`.
pub fn features(
    scripts: Result<ScriptList<'_>, ReadError>,
    features: Result<FeatureList<'_>, ReadError>,
    budget: &mut Budget,
) -> Result<BTreeMap<String, Raw>, ReadError> {
    let (scripts, features) = (scripts?, features?);
    let mut by_tag: BTreeMap<String, Raw> = BTreeMap::new();
    let records = features.feature_records();
    // Many systems share a feature; its lookups are the same each time.
    let mut known: BTreeSet<u16> = BTreeSet::new();
    let mut add = |system: &str, index: u16| -> usize {
        let Some(record) = records.get(usize::from(index)) else {
            return 1;
        };
        let raw = by_tag.entry(record.feature_tag().to_string()).or_default();
        raw.systems.insert(system.to_owned());
        if known.insert(index)
            && let Ok(feature) = record.feature(features.offset_data())
        {
            let lookups = feature.lookup_list_indices();
            raw.lookups.extend(lookups.iter().map(|index| index.get()));
            raw.name_id = raw.name_id.or_else(|| name_id(&feature));
            return 1 + lookups.len();
        }
        1
    };
    for script in scripts.script_records() {
        let tag = script.script_tag().to_string();
        let Ok(table) = script.script(scripts.offset_data()) else {
            continue;
        };
        let mut systems = Vec::new();
        if let Some(Ok(default)) = table.default_lang_sys() {
            systems.push(("dflt".to_owned(), default));
        }
        for record in table.lang_sys_records() {
            if !budget.pay(1) {
                return Err(ReadError::OutOfBounds);
            }
            if let Ok(system) = record.lang_sys(table.offset_data()) {
                systems.push((
                    record.lang_sys_tag().to_string().trim_end().to_owned(),
                    system,
                ));
            }
        }
        for (language, system) in systems {
            let name = format!("{}/{language}", tag.trim_end());
            let required = Some(system.required_feature_index()).filter(|index| *index != 0xffff);
            for index in system
                .feature_indices()
                .iter()
                .map(|index| index.get())
                .chain(required)
            {
                if !budget.pay(add(&name, index)) {
                    return Err(ReadError::OutOfBounds);
                }
            }
        }
    }
    Ok(by_tag)
}

/// The name of a stylistic set or character variant.
fn name_id(feature: &Feature<'_>) -> Option<u16> {
    match feature.feature_params()?.ok()? {
        FeatureParams::StylisticSet(set) => Some(set.ui_name_id().to_u16()),
        FeatureParams::CharacterVariant(variant) => Some(variant.feat_ui_label_name_id().to_u16()),
        FeatureParams::Size(_) => None,
    }
    .filter(|id| *id >= 256)
}

/// The data of each subtable.
macro_rules! data_of {
    ($tables:expr) => {
        $tables
            .iter()
            .map(|table| table.map(|table| table.offset_data()))
    };
}

/// What `lookups` of a table do, where `each` tells what those of one type do;
/// `$table` is GSUB or GPOS.
macro_rules! effect_of {
    ($table:expr, $lookups:expr, $budget:expr, $each:expr) => {{
        let mut reading = Reading {
            effect: Effect::default(),
            budget: $budget,
        };
        match $table.lookup_list() {
            Ok(list) => {
                for index in $lookups {
                    if !reading.pay(1) {
                        break;
                    }
                    let lookup = list.lookups().get(usize::from(*index));
                    match lookup.and_then(|lookup| lookup.subtables()) {
                        Ok(subtables) => $each(subtables, &mut reading),
                        Err(_) => reading.effect.damaged = true,
                    }
                }
            }
            Err(_) => reading.effect.damaged = true,
        }
        reading.effect
    }};
}

/// What the substitutions `lookups` do; damaged, too, where telling takes more than
/// `budget`.
pub fn substitutions(gsub: &Gsub<'_>, lookups: &BTreeSet<u16>, budget: &mut Budget) -> Effect {
    use SubstitutionSubtables as Subtables;
    effect_of!(
        gsub,
        lookups,
        budget,
        |subtables, reading: &mut Reading<'_>| {
            match subtables {
                Subtables::Single(tables) => reading.cover(data_of!(tables)),
                Subtables::Multiple(tables) => reading.cover(data_of!(tables)),
                Subtables::Alternate(tables) => {
                    data_of!(tables).for_each(|table| reading.alternates(table));
                    reading.cover(data_of!(tables));
                }
                Subtables::Ligature(tables) => {
                    for table in tables.iter() {
                        match table {
                            Ok(LigatureSubst::Format1(table)) => {
                                let read = reading.ligatures_of(&table);
                                reading.effect.damaged |= read.is_err();
                            }
                            Ok(_) => {}
                            Err(_) => reading.effect.damaged = true,
                        }
                    }
                    reading.cover(data_of!(tables));
                }
                Subtables::Contextual(tables) => reading.contexts(data_of!(tables), false),
                Subtables::ChainContextual(tables) => reading.contexts(data_of!(tables), true),
                Subtables::Reverse(tables) => reading.cover(data_of!(tables)),
                Subtables::EmptyExtension => {}
            }
        }
    )
}

/// What the positionings `lookups` do; damaged, too, where telling takes more than
/// `budget`.
pub fn positionings(gpos: &Gpos<'_>, lookups: &BTreeSet<u16>, budget: &mut Budget) -> Effect {
    use PositionSubtables as Subtables;
    effect_of!(
        gpos,
        lookups,
        budget,
        |subtables, reading: &mut Reading<'_>| {
            match subtables {
                Subtables::Single(tables) => reading.cover(data_of!(tables)),
                Subtables::Pair(tables) => {
                    data_of!(tables)
                        .flatten()
                        .for_each(|table| reading.pairs(table));
                    reading.cover(data_of!(tables));
                }
                Subtables::Cursive(tables) => reading.cover(data_of!(tables)),
                // The first coverage of these is that of the marks.
                Subtables::MarkToBase(tables) => reading.cover(data_of!(tables)),
                Subtables::MarkToLig(tables) => reading.cover(data_of!(tables)),
                Subtables::MarkToMark(tables) => reading.cover(data_of!(tables)),
                Subtables::Contextual(tables) => reading.contexts(data_of!(tables), false),
                Subtables::ChainContextual(tables) => reading.contexts(data_of!(tables), true),
                Subtables::EmptyExtension => {}
            }
        }
    )
}

/// The tags of all features of `face`, in GSUB or GPOS.
pub fn tags(face: &Face) -> BTreeSet<String> {
    let Some(Kind::Sfnt(tables, _)) = face.font().map(skrifa::font::Font::kind) else {
        return BTreeSet::new();
    };
    let mut budget = Budget::default();
    let substituting = tables
        .gsub()
        .map(|t| features(t.script_list(), t.feature_list(), &mut budget));
    let positioning = tables
        .gpos()
        .map(|t| features(t.script_list(), t.feature_list(), &mut budget));
    [substituting, positioning]
        .into_iter()
        .flatten()
        .flatten()
        .flat_map(BTreeMap::into_keys)
        .collect()
}

/// What the features `tags` of GPOS do together.
pub fn positioned_by(face: &Face, tags: &[&str]) -> Effect {
    let Some(Kind::Sfnt(tables, _)) = face.font().map(skrifa::font::Font::kind) else {
        return Effect::default();
    };
    let Ok(gpos) = tables.gpos() else {
        return Effect::default();
    };
    let mut budget = Budget::default();
    let features = features(gpos.script_list(), gpos.feature_list(), &mut budget);
    positionings(&gpos, &lookups_of(features, tags), &mut budget)
}

/// What the features `tags` of GSUB do together.
pub fn substituted_by(face: &Face, tags: &[&str]) -> Effect {
    let Some(Kind::Sfnt(tables, _)) = face.font().map(skrifa::font::Font::kind) else {
        return Effect::default();
    };
    let Ok(gsub) = tables.gsub() else {
        return Effect::default();
    };
    let mut budget = Budget::default();
    let features = features(gsub.script_list(), gsub.feature_list(), &mut budget);
    substitutions(&gsub, &lookups_of(features, tags), &mut budget)
}

fn lookups_of(features: Result<BTreeMap<String, Raw>, ReadError>, tags: &[&str]) -> BTreeSet<u16> {
    let features = features.unwrap_or_default().into_iter();
    features
        .filter(|(tag, _)| tags.contains(&tag.as_str()))
        .flat_map(|(_, raw)| raw.lookups)
        .collect()
}

/// The big-endian number at `at`.
fn number(data: FontData<'_>, at: usize) -> Option<u16> {
    data.read_at::<u16>(at).ok()
}

/// The coverage table that the offset at `at` leads to.
fn coverage<'a>(data: FontData<'a>, at: usize) -> Option<CoverageTable<'a>> {
    use skrifa::raw::ResolveOffset as _;
    let offset = Offset16::new(number(data, at)?);
    offset.resolve::<CoverageTable<'a>>(data).ok()
}

/// What lookups do, as it is read.
struct Reading<'b> {
    effect: Effect,
    budget: &'b mut Budget,
}

impl Reading<'_> {
    /// Takes `steps` off the budget; whether there were as many. What goes beyond is
    /// as good as damaged.
    fn pay(&mut self, steps: usize) -> bool {
        let enough = self.budget.pay(steps);
        self.effect.damaged |= !enough;
        enough
    }

    /// Every subtable of formats 1 and 2 starts with its format and the offset
    /// of its coverage. Later formats, for more than 65,535 glyphs, are not
    /// gathered.
    fn cover<'a>(&mut self, tables: impl Iterator<Item = Result<FontData<'a>, ReadError>>) {
        for table in tables {
            if !self.pay(1) {
                return;
            }
            let covered = table.ok().and_then(|data| coverage(data, 2));
            match covered {
                Some(covered) => self.add(&covered),
                None => self.effect.damaged = true,
            }
        }
    }

    fn add(&mut self, covered: &CoverageTable<'_>) {
        for glyph in covered.iter() {
            if self.effect.inputs.len() >= MOST || !self.pay(1) {
                return;
            }
            self.effect.inputs.insert(glyph.to_u32());
        }
    }

    /// An alternate set starts with its number of glyphs; the sets' offsets
    /// follow format, coverage and count.
    fn alternates(&mut self, table: Result<FontData<'_>, ReadError>) {
        let Some((data, count)) = table.ok().and_then(|data| Some((data, number(data, 4)?))) else {
            return;
        };
        if !self.pay(usize::from(count)) {
            return;
        }
        let (mut sets, mut most) = self.effect.alternates.unwrap_or((0, 0));
        for set in 0..usize::from(count) {
            let size =
                number(data, 6 + set * 2).and_then(|offset| number(data, usize::from(offset)));
            sets += 1;
            most = most.max(usize::from(size.unwrap_or(0)));
        }
        self.effect.alternates = Some((sets, most));
    }

    fn ligatures_of(
        &mut self,
        table: &skrifa::raw::tables::gsub::LigatureSubstFormat1<'_>,
    ) -> Result<(), ReadError> {
        let covered = table.coverage()?;
        for (first, set) in covered.iter().zip(table.ligature_sets().iter()) {
            if !self.pay(1) {
                return Ok(());
            }
            for ligature in set?.ligatures().iter() {
                if self.effect.ligatures.len() >= MOST {
                    return Ok(());
                }
                let components = ligature?.component_glyph_ids();
                if !self.pay(1 + components.len()) {
                    return Ok(());
                }
                let mut glyphs = vec![first.to_u32()];
                glyphs.extend(
                    components
                        .iter()
                        .map(|glyph| u32::from(glyph.get().to_u16())),
                );
                self.effect.ligatures.push(glyphs);
            }
        }
        Ok(())
    }

    /// Contexts of format 3 name a coverage for every place; one glyph of each
    /// makes an example. Formats 1 and 2 name only where they start.
    fn contexts<'a>(
        &mut self,
        tables: impl Iterator<Item = Result<FontData<'a>, ReadError>>,
        chained: bool,
    ) {
        const MOST_CONTEXTS: usize = 512;
        for data in tables {
            if !self.pay(1) {
                return;
            }
            let Ok(data) = data else {
                self.effect.damaged = true;
                continue;
            };
            if number(data, 0) != Some(3) {
                if let Some(covered) = coverage(data, 2) {
                    self.add(&covered);
                }
                continue;
            }
            let places = if chained {
                chained_places(data)
            } else {
                plain_places(data)
            };
            let Some((before, input, after)) = places else {
                self.effect.damaged = true;
                continue;
            };
            if let Some(covered) = input.first().and_then(|at| coverage(data, *at)) {
                self.add(&covered);
            }
            if self.effect.contexts.len() < MOST_CONTEXTS {
                let places = before.iter().rev().chain(&input).chain(&after);
                let example: Option<Vec<u32>> = places
                    .map(|at| {
                        coverage(data, *at)?
                            .iter()
                            .next()
                            .map(|glyph| glyph.to_u32())
                    })
                    .collect();
                self.effect.contexts.extend(example);
            }
        }
    }

    /// Pair adjustment: format 1 lists pairs by first glyph, format 2 classes.
    fn pairs(&mut self, data: FontData<'_>) {
        match number(data, 0) {
            Some(1) => {
                let sets = usize::from(number(data, 8).unwrap_or(0));
                if !self.pay(sets) {
                    return;
                }
                for set in 0..sets {
                    let size = number(data, 10 + set * 2)
                        .and_then(|offset| number(data, usize::from(offset)));
                    self.effect.pairs += usize::from(size.unwrap_or(0));
                }
            }
            Some(2) => self.effect.class_tables += 1,
            _ => {}
        }
    }
}

/// Where the offsets of coverages before, at and after the input stand.
type Places = (Vec<usize>, Vec<usize>, Vec<usize>);

/// Sequence context format 3: format, count, count of actions, offsets.
fn plain_places(data: FontData<'_>) -> Option<Places> {
    let input = offsets(data, 2, 6)?.0;
    Some((Vec::new(), input, Vec::new()))
}

/// Chained sequence context format 3: format, then three lists.
fn chained_places(data: FontData<'_>) -> Option<Places> {
    let (before, next) = offsets(data, 2, 4)?;
    let (input, next) = offsets(data, next, next + 2)?;
    let (after, _) = offsets(data, next, next + 2)?;
    Some((before, input, after))
}

/// The places of a list of offsets whose length stands at `count_at` and that
/// starts at `first`, and the place after it. Contexts longer than 64 glyphs
/// are not followed.
fn offsets(data: FontData<'_>, count_at: usize, first: usize) -> Option<(Vec<usize>, usize)> {
    let count = usize::from(number(data, count_at)?);
    (count <= 64).then(|| {
        let places: Vec<usize> = (0..count).map(|index| first + index * 2).collect();
        (places, first + count * 2)
    })
}
