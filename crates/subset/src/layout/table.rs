//! GSUB and GPOS as tables: scripts, features, lookups, and features by position on
//! the axes (OpenType 1.9.1, "OpenType Layout Common Table Formats").

use std::collections::{BTreeMap, BTreeSet};

use super::context::Context;
use super::value::Shift;
use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;
use crate::tents::Span;
use crate::variations::Remap;

/// What GSUB and GPOS have different: their subtables.
pub(crate) trait Subtable: Sized {
    /// The table's tag.
    const TABLE: &'static str;
    /// The lookup type of extensions.
    const EXTENSION: u16;

    /// Whether the table places glyphs.
    const PLACES: bool;

    /// Reads a subtable; `None` for lookup types that nobody knows.
    fn read(kind: u16, view: View<'_>) -> Result<Option<Self>, CutError>;

    /// Its contextual rules, if that is what it is.
    fn context(&self) -> Option<&Context>;

    /// Its lookup type.
    fn kind(&self) -> u16;

    /// What is left of it with the glyphs that stay; `None` where nothing is.
    fn cut(&self, map: &GlyphMap) -> Option<Self>;

    /// All subtables of a lookup with the glyphs that stay.
    fn cut_lookup(subtables: &[Self], map: &GlyphMap) -> Vec<Self> {
        let kept = subtables.iter().filter_map(|subtable| subtable.cut(map));
        kept.collect()
    }

    /// The subtable as bytes.
    fn object(&self, lookups: &LookupMap, remap: &Remap) -> Object;

    /// Visits every delta set that it uses.
    fn variations(&self, visit: &mut dyn FnMut(u16, u16));

    /// Moves its values to where they are at a new default.
    fn shift(&mut self, by: Shift<'_>);
}

/// The new numbers of the lookups that stay.
#[derive(Debug, Default)]
pub(crate) struct LookupMap(BTreeMap<u16, u16>);

impl LookupMap {
    pub(crate) fn get(&self, old: u16) -> Option<u16> {
        self.0.get(&old).copied()
    }
}

/// Which features stay.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Features {
    /// All that the face has.
    All,
    /// Those with these tags.
    Tags(BTreeSet<[u8; 4]>),
}

/// Features that are on where a style sheet asks for nothing (CSS Fonts 4, §7; the
/// shaping models of OpenType 1.9.1 and of HarfBuzz), and those that are on with a
/// fraction slash, in vertical text, and beside full-width punctuation (CSS Text 4,
/// `text-spacing-trim`).
const DEFAULT: &[u8] = b"\
    abvf abvm abvs akhn blwf blwm blws calt ccmp cfar chws cjct clig curs dist dnom \
    fin2 fin3 fina frac half haln halt init isol kern liga ljmo locl ltra ltrm mark \
    med2 medi mkmk mset nukt numr pref pres pstf psts rand rclt rkrf rlig rphf rtla \
    rtlm rvrn stch tjmo valt vatu vchw vert vhal vjmo vkrn vrt2 vrtr";

impl Features {
    /// Those that are on by default, and `more`.
    pub fn of_css(more: impl IntoIterator<Item = [u8; 4]>) -> Self {
        let default = DEFAULT.split(|byte| byte.is_ascii_whitespace());
        let tags = default.filter_map(|tag| <[u8; 4]>::try_from(tag).ok());
        Features::Tags(tags.chain(more).collect())
    }

    pub(crate) fn keeps(&self, tag: [u8; 4]) -> bool {
        match self {
            Features::All => true,
            Features::Tags(tags) => tags.contains(&tag),
        }
    }
}

pub(crate) struct Lookup<S> {
    flag: u16,
    /// The set of marks that are not skipped, by its number in GDEF.
    mark_set: Option<u16>,
    pub(crate) subtables: Vec<S>,
}

struct Feature {
    tag: [u8; 4],
    lookups: Vec<u16>,
}

#[derive(Clone, PartialEq, Eq)]
struct LanguageSystem {
    required: Option<u16>,
    features: Vec<u16>,
}

struct Script {
    tag: [u8; 4],
    default: Option<LanguageSystem>,
    languages: Vec<([u8; 4], LanguageSystem)>,
}

impl Script {
    /// Whether there is more to the script than letters beside each other.
    fn is_shaped(&self) -> bool {
        ![b"DFLT", b"latn", b"cyrl", b"grek"].contains(&&self.tag)
    }
}

/// Features that are others at some positions on the axes.
struct Variation {
    /// Conditions: axis, least and most, in normalised coordinates. `None` where one
    /// is of a kind that nobody knows, so that it never holds.
    conditions: Option<Vec<(u16, i16, i16)>>,
    features: Vec<(u16, Vec<u16>)>,
}

/// GSUB or GPOS.
pub(crate) struct Layout<S> {
    pub(crate) lookups: Vec<Lookup<S>>,
    features: Vec<Feature>,
    scripts: Vec<Script>,
    variations: Vec<Variation>,
}

fn read_lookup<S: Subtable>(view: View<'_>) -> Result<Lookup<S>, CutError> {
    let (kind, flag) = (view.u16(0)?, view.u16(2)?);
    let count = usize::from(view.u16(4)?);
    let mut subtables = Vec::new();
    for index in 0..count {
        view.spend(32)?;
        let subtable = view.follow16(6 + index * 2)?;
        let read = if kind == S::EXTENSION {
            let (kind, offset) = (subtable.u16(2)?, subtable.u32(4)?);
            S::read(kind, subtable.from(offset as usize)?)?
        } else {
            S::read(kind, subtable)?
        };
        subtables.extend(read);
    }
    // Bit 4: a filtering set follows.
    let mark_set = (flag & 0x10 != 0)
        .then(|| view.u16(6 + count * 2))
        .transpose()?;
    Ok(Lookup {
        flag,
        mark_set,
        subtables,
    })
}

fn lookups_of(view: View<'_>) -> Result<Vec<u16>, CutError> {
    view.spend(8)?;
    view.u16s(4, usize::from(view.u16(2)?))
}

fn language_system(view: View<'_>) -> Result<LanguageSystem, CutError> {
    view.spend(8)?;
    let required = view.u16(2)?;
    Ok(LanguageSystem {
        required: (required != u16::MAX).then_some(required),
        features: view.u16s(6, usize::from(view.u16(4)?))?,
    })
}

fn script(tag: [u8; 4], view: View<'_>) -> Result<Script, CutError> {
    let default = view.link16(0)?.map(language_system).transpose()?;
    let count = usize::from(view.u16(2)?);
    let read = |index: usize| {
        let at = 4 + index * 6;
        Ok((view.tag(at)?, language_system(view.follow16(at + 4)?)?))
    };
    Ok(Script {
        tag,
        default,
        languages: (0..count).map(read).collect::<Result<_, CutError>>()?,
    })
}

fn variation(record: (Option<View<'_>>, Option<View<'_>>)) -> Result<Variation, CutError> {
    let (conditions, substitution) = record;
    let mut known = Some(Vec::new());
    if let Some(set) = conditions {
        for index in 0..usize::from(set.u16(0)?) {
            let condition = set.link32(2 + index * 4)?;
            let read = match condition {
                Some(condition) if condition.u16(0)? == 1 => {
                    Some((condition.u16(2)?, condition.i16(4)?, condition.i16(6)?))
                }
                _ => None,
            };
            known = known.zip(read).map(|(mut all, one)| {
                all.push(one);
                all
            });
        }
    }
    let mut features = Vec::new();
    if let Some(table) = substitution {
        for index in 0..usize::from(table.u16(4)?) {
            let at = 6 + index * 6;
            if let Some(feature) = table.link32(at + 2)? {
                features.push((table.u16(at)?, lookups_of(feature)?));
            }
        }
    }
    Ok(Variation {
        conditions: known,
        features,
    })
}

/// A condition on limited axes: `None` where it never holds any more, nothing where it
/// always does.
#[expect(clippy::option_option, reason = "never and always are two things")]
fn limited_condition(
    (axis, least, most): (u16, i16, i16),
    spans: &[Span],
) -> Option<Option<(u16, i16, i16)>> {
    let Some(span) = spans.get(usize::from(axis)) else {
        return Some(Some((axis, least, most)));
    };
    let number = |value: i16| f64::from(value) / 16384.0;
    let fixed = |value: f64| (value * 16384.0).round() as i16;
    let (from, to) = (number(least), number(most));
    if to < span.from || from > span.to {
        return None;
    }
    if from <= span.from && to >= span.to {
        return Some(None);
    }
    let before = &spans[..usize::from(axis)];
    let gone = before.iter().filter(|span| span.is_pinned()).count() as u16;
    Some(Some((
        axis - gone,
        fixed(span.moved(from)),
        fixed(span.moved(to)),
    )))
}

impl<S: Subtable> Layout<S> {
    pub(crate) fn read(view: View<'_>) -> Result<Self, CutError> {
        let mut layout = Layout {
            lookups: Vec::new(),
            features: Vec::new(),
            scripts: Vec::new(),
            variations: Vec::new(),
        };
        if let Some(list) = view.link16(8)? {
            for index in 0..usize::from(list.u16(0)?) {
                list.spend(16)?;
                layout
                    .lookups
                    .push(read_lookup(list.follow16(2 + index * 2)?)?);
            }
        }
        if let Some(list) = view.link16(6)? {
            for index in 0..usize::from(list.u16(0)?) {
                let at = 2 + index * 6;
                let (tag, feature) = (list.tag(at)?, list.follow16(at + 4)?);
                layout.features.push(Feature {
                    tag,
                    lookups: lookups_of(feature)?,
                });
            }
        }
        if let Some(list) = view.link16(4)? {
            for index in 0..usize::from(list.u16(0)?) {
                let at = 2 + index * 6;
                (layout.scripts).push(script(list.tag(at)?, list.follow16(at + 4)?)?);
            }
        }
        if view.u16(2)? >= 1
            && let Some(list) = view.link32(10)?
        {
            for index in 0..list.u32(4)? as usize {
                let at = 8 + index * 8;
                list.spend(16)?;
                let record = (list.link32(at)?, list.link32(at + 4)?);
                layout.variations.push(variation(record)?);
            }
        }
        Ok(layout)
    }

    /// The tags of all features, each once.
    pub(crate) fn tags(&self) -> BTreeSet<[u8; 4]> {
        self.features.iter().map(|feature| feature.tag).collect()
    }

    /// The lookups that the features which stay apply, wherever on the axes; without
    /// those that contexts apply.
    pub(crate) fn entry_lookups(&self, features: &Features) -> BTreeSet<u16> {
        let kept = |index: u16| {
            let feature = self.features.get(usize::from(index));
            feature.is_some_and(|feature| features.keeps(feature.tag))
        };
        let plain = (self.features.iter())
            .filter(|feature| features.keeps(feature.tag))
            .flat_map(|feature| &feature.lookups);
        let varied = (self.variations.iter())
            .flat_map(|variation| &variation.features)
            .filter(|(index, _)| kept(*index))
            .flat_map(|(_, lookups)| lookups);
        plain.chain(varied).copied().collect()
    }

    /// Moves all values to where they are at a new default.
    pub(crate) fn shift(&mut self, by: Shift<'_>) {
        for subtable in self.lookups.iter_mut().flat_map(|l| &mut l.subtables) {
            subtable.shift(by);
        }
    }

    /// Holds the positions at which features are others to limited axes.
    pub(crate) fn limit(&mut self, spans: &[Span]) {
        let mut left: Vec<Variation> = Vec::new();
        for variation in std::mem::take(&mut self.variations) {
            let Some(conditions) = variation.conditions else {
                continue;
            };
            let limited = conditions
                .into_iter()
                .map(|it| limited_condition(it, spans));
            let Some(conditions) = limited.collect::<Option<Vec<_>>>() else {
                continue;
            };
            let conditions: Vec<_> = conditions.into_iter().flatten().collect();
            let always = conditions.is_empty();
            if always && left.is_empty() {
                for (feature, lookups) in variation.features {
                    if let Some(feature) = self.features.get_mut(usize::from(feature)) {
                        feature.lookups = lookups;
                    }
                }
            } else {
                left.push(Variation {
                    conditions: Some(conditions),
                    features: variation.features,
                });
            }
            if always {
                // The first that holds is taken: those behind it are never asked.
                break;
            }
        }
        self.variations = left;
    }

    /// The part that shows the glyphs that stay with the features that stay.
    pub(crate) fn cut(&self, map: &GlyphMap, features: &Features) -> CutLayout<'_, S> {
        let mut reached = self.entry_lookups(features);
        let mut queue: Vec<u16> = reached.iter().copied().collect();
        while let Some(index) = queue.pop() {
            let Some(lookup) = self.lookups.get(usize::from(index)) else {
                continue;
            };
            let contexts = lookup.subtables.iter().filter_map(Subtable::context);
            for nested in contexts.flat_map(Context::lookups) {
                if reached.insert(nested) {
                    queue.push(nested);
                }
            }
        }
        let mut lookups: BTreeMap<u16, Vec<S>> = BTreeMap::new();
        for index in reached {
            if let Some(lookup) = self.lookups.get(usize::from(index)) {
                let kept = S::cut_lookup(&lookup.subtables, map);
                if !kept.is_empty() {
                    lookups.insert(index, kept);
                }
            }
        }
        // A context that applies nothing any more does nothing.
        let acts = |lookup: &Vec<S>, alive: &BTreeSet<u16>| {
            (lookup.iter()).any(|subtable| match subtable.context() {
                Some(context) => context.lookups().any(|nested| alive.contains(&nested)),
                None => true,
            })
        };
        loop {
            let alive: BTreeSet<u16> = lookups.keys().copied().collect();
            lookups.retain(|_, lookup| acts(lookup, &alive));
            if lookups.len() == alive.len() {
                break;
            }
        }
        CutLayout {
            whole: self,
            numbers: LookupMap(lookups.keys().copied().zip(0..).collect()),
            lookups,
            features: features.clone(),
        }
    }
}

/// A part of GSUB or GPOS.
pub(crate) struct CutLayout<'a, S> {
    whole: &'a Layout<S>,
    numbers: LookupMap,
    /// By old number.
    lookups: BTreeMap<u16, Vec<S>>,
    features: Features,
}

/// A feature as it is written. Its parameters are names for font menus, which no text
/// needs.
#[derive(PartialEq)]
struct WrittenFeature {
    tag: [u8; 4],
    lookups: Vec<u16>,
    /// What stands in for the lookups in each variation.
    varied: Vec<Option<Vec<u16>>>,
}

/// Features as they are written: equal ones once.
#[derive(Default)]
struct Written {
    features: Vec<WrittenFeature>,
    /// The old index of each, to be found again.
    of: BTreeMap<u16, u16>,
}

impl<S: Subtable> CutLayout<'_, S> {
    /// The tags of the features that are left.
    pub(crate) fn tags(&self) -> BTreeSet<[u8; 4]> {
        let written = self.written();
        written.features.iter().map(|feature| feature.tag).collect()
    }

    /// The sets of marks in GDEF that are used.
    pub(crate) fn mark_sets(&self) -> BTreeSet<u16> {
        (self.lookups.keys())
            .filter_map(|index| self.whole.lookups[usize::from(*index)].mark_set)
            .collect()
    }

    /// Visits every delta set that it uses.
    pub(crate) fn variations(&self, visit: &mut dyn FnMut(u16, u16)) {
        for subtable in self.lookups.values().flatten() {
            subtable.variations(visit);
        }
    }

    fn numbers_of(&self, lookups: &[u16]) -> Vec<u16> {
        let kept: BTreeSet<u16> = (lookups.iter())
            .filter_map(|lookup| self.numbers.get(*lookup))
            .collect();
        kept.into_iter().collect()
    }

    /// What each feature that stays applies, equal ones once, by tag. A feature that
    /// applies nothing goes.
    fn written(&self) -> Written {
        let mut written = Written::default();
        let mut order: Vec<(u16, &Feature)> = (0u16..).zip(&self.whole.features).collect();
        order.retain(|(_, feature)| self.features.keeps(feature.tag));
        order.sort_by_key(|(_, feature)| feature.tag);
        for (index, feature) in order {
            let lookups = self.numbers_of(&feature.lookups);
            let varied: Vec<Option<Vec<u16>>> = (self.whole.variations.iter())
                .map(|variation| {
                    let of = variation.features.iter().find(|(old, _)| *old == index);
                    of.map(|(_, lookups)| self.numbers_of(lookups))
                })
                .collect();
            let nothing = |of: &Option<Vec<u16>>| of.as_ref().is_none_or(Vec::is_empty);
            if lookups.is_empty() && varied.iter().all(nothing) {
                continue;
            }
            let record = WrittenFeature {
                tag: feature.tag,
                lookups,
                varied,
            };
            let place = (written.features.iter()).position(|known| *known == record);
            let place = place.unwrap_or_else(|| {
                written.features.push(record);
                written.features.len() - 1
            });
            written.of.insert(index, place as u16);
        }
        written
    }

    /// The table; `None` where nothing is left of it. A table without features is left
    /// where its being there says something: without any GPOS shapers place marks by
    /// themselves, and without its scripts in GSUB a script is shaped as if it were Latin.
    pub(crate) fn write(
        &self,
        mark_sets: &BTreeMap<u16, u16>,
        remap: &Remap,
    ) -> Result<Option<Vec<u8>>, CutError> {
        let written = self.written();
        let says_something = S::PLACES || self.whole.scripts.iter().any(Script::is_shaped);
        if written.features.is_empty() && !says_something {
            return Ok(None);
        }
        let plain = self.root(&written, mark_sets, remap, false);
        match plain.pack(S::TABLE) {
            Ok(bytes) => Ok(Some(bytes)),
            // With extensions, each subtable has 64 KiB for itself.
            Err(_) => (self.root(&written, mark_sets, remap, true))
                .pack(S::TABLE)
                .map(Some),
        }
    }

    fn root(
        &self,
        written: &Written,
        mark_sets: &BTreeMap<u16, u16>,
        remap: &Remap,
        extended: bool,
    ) -> Object {
        let variations = self.variations_object(written);
        let mut root = Object::new();
        root.u16(1).u16(u16::from(variations.is_some()));
        root.link16(self.scripts_object(written));
        root.link16(features_object(written));
        root.link16(self.lookups_object(mark_sets, remap, extended));
        if let Some(variations) = variations {
            root.link32(variations);
        }
        root
    }

    fn scripts_object(&self, written: &Written) -> Object {
        let mut list = Object::new();
        list.count(self.whole.scripts.len());
        for script in &self.whole.scripts {
            let system = |system: &LanguageSystem| {
                let mut features: Vec<u16> = (system.features.iter())
                    .filter_map(|index| written.of.get(index).copied())
                    .collect();
                features.sort_unstable();
                features.dedup();
                LanguageSystem {
                    required: (system.required).and_then(|index| written.of.get(&index).copied()),
                    features,
                }
            };
            let default = script.default.as_ref().map(system);
            // Where a language has nothing of its own, the default answers for it.
            // Several tags may stand for one form of Chinese, so these stay.
            let kept = |(tag, of): &([u8; 4], LanguageSystem)| {
                default.as_ref() != Some(of) || tag.starts_with(b"ZH")
            };
            let languages: Vec<([u8; 4], LanguageSystem)> = (script.languages.iter())
                .map(|(tag, of)| (*tag, system(of)))
                .filter(kept)
                .collect();
            let mut object = Object::new();
            object.maybe16(default.as_ref().map(system_object));
            object.count(languages.len());
            for (tag, of) in &languages {
                object.raw(tag).link16(system_object(of));
            }
            list.raw(&script.tag).link16(object);
        }
        list
    }

    fn lookups_object(
        &self,
        mark_sets: &BTreeMap<u16, u16>,
        remap: &Remap,
        extended: bool,
    ) -> Object {
        let mut list = Object::new();
        list.count(self.lookups.len());
        for (index, subtables) in &self.lookups {
            let whole = &self.whole.lookups[usize::from(*index)];
            let kind = subtables.first().map_or(1, Subtable::kind);
            let mark_set = whole.mark_set.and_then(|set| mark_sets.get(&set));
            let flag = match mark_set {
                Some(_) => whole.flag,
                None => whole.flag & !0x10,
            };
            let mut lookup = Object::new();
            lookup.u16(if extended { S::EXTENSION } else { kind });
            lookup.u16(flag).count(subtables.len());
            for subtable in subtables {
                let object = subtable.object(&self.numbers, remap);
                if extended {
                    let mut extension = Object::new();
                    extension.u16(1).u16(kind).link32(object);
                    lookup.link16(extension);
                } else {
                    lookup.link16(object);
                }
            }
            if let Some(set) = mark_set {
                lookup.u16(*set);
            }
            list.link16(lookup);
        }
        list
    }

    fn variations_object(&self, written: &Written) -> Option<Object> {
        let mut records = Vec::new();
        for (index, variation) in self.whole.variations.iter().enumerate() {
            let Some(conditions) = &variation.conditions else {
                continue;
            };
            let features: Vec<(u16, &Vec<u16>)> = (0u16..)
                .zip(&written.features)
                .filter_map(|(place, feature)| Some((place, feature.varied[index].as_ref()?)))
                .collect();
            records.push((conditions, features));
        }
        // A record that changes nothing still keeps later ones from being asked.
        while records
            .last()
            .is_some_and(|(_, features)| features.is_empty())
        {
            records.pop();
        }
        if records.is_empty() {
            return None;
        }
        let mut table = Object::new();
        table.u16(1).u16(0).u32(records.len() as u32);
        for (conditions, features) in records {
            let mut set = Object::new();
            set.count(conditions.len());
            for (axis, least, most) in conditions {
                let mut condition = Object::new();
                condition.u16(1).u16(*axis).i16(*least).i16(*most);
                set.link32(condition);
            }
            let mut substitution = Object::new();
            substitution.u16(1).u16(0).count(features.len());
            for (place, lookups) in features {
                substitution.u16(place);
                substitution.link32(feature_object(lookups));
            }
            table.link32(set).link32(substitution);
        }
        Some(table)
    }
}

fn feature_object(lookups: &[u16]) -> Object {
    let mut object = Object::new();
    object.u16(0).count(lookups.len());
    object.u16s(lookups.iter().copied());
    object
}

fn features_object(written: &Written) -> Object {
    let mut list = Object::new();
    list.count(written.features.len());
    for feature in &written.features {
        list.raw(&feature.tag)
            .link16(feature_object(&feature.lookups));
    }
    list
}

fn system_object(system: &LanguageSystem) -> Object {
    let mut object = Object::new();
    object.u16(0).u16(system.required.unwrap_or(u16::MAX));
    object.count(system.features.len());
    object.u16s(system.features.iter().copied());
    object
}
