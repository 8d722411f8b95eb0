//! The TOML file that defines a platform.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use tidy_lattice_documents::style::GENERICS;
use tidy_lattice_glyphs::font::{
    Card, Class, ClassJudgement, Engines, Face, MeasuredIn, Names, Slope, writing_scripts,
};

use super::{Family, Known, OwnFamilies, Platform, PlatformFace, SCRIPTS};

/// Bounds on a file of hostile size.
const MOST_FAMILIES: usize = 4000;

/// A platform as a file defines it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Definition {
    /// The built-in platform that this one starts from: what is said here takes the place
    /// of what stands there, and its families come besides.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub extends: Option<String>,
    /// The name for people.
    #[serde(default)]
    pub title: String,
    /// What it covers, in a sentence.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub about: String,
    /// Versions of the system that it tells apart, oldest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub versions: Vec<String>,
    /// The engines of its browsers: `Chromium`, `Firefox`, `WebKit`; all where it is not
    /// said.
    #[serde(default)]
    pub engines: Engines,
    /// Families that generic families stand for, by their CSS keywords.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub generic: BTreeMap<String, String>,
    /// Those that texts in languages of some scripts get in their place, by the script:
    /// `Jpan`, `Kore`, `Hans`, `Hant`, `Deva` (ISO 15924).
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub generic_for: BTreeMap<String, BTreeMap<String, String>>,
    /// The families of its own texts.
    #[serde(default, skip_serializing_if = "OwnFamilies::is_empty")]
    pub own: OwnFamilies,
    /// Other names that the platform takes for its families: `"-apple-system"`, families
    /// in whose place it shows others.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub alias: BTreeMap<String, String>,
    /// Font files, cards, or folders of them, from the folder of this file:
    /// their families are installed, besides those listed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub fonts: Vec<String>,
    /// Families.
    #[serde(default, rename = "family", skip_serializing_if = "Vec::is_empty")]
    pub families: Vec<FamilyDefinition>,
}

/// A family as a file defines it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FamilyDefinition {
    /// The name, as `font-family` takes it.
    pub name: String,
    /// The class.
    pub class: Class,
    /// Scripts that it is made for (Unicode names).
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub scripts: Vec<String>,
    /// The first version of the system that ships it.
    pub since: Option<String>,
    /// The last version that ships it.
    pub until: Option<String>,
    /// What else must be known.
    pub note: Option<String>,
    /// What the cards are to the faces.
    pub cards_are: Option<Likeness>,
    /// The faces whose names are known.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub faces: Vec<FaceDefinition>,
}

/// A face as a file defines it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct FaceDefinition {
    /// The weight on the scale of `font-weight`.
    pub weight: f32,
    /// The slope; `normal` where it is left out.
    pub style: Option<Slope>,
    /// The full name.
    pub full: String,
    /// The PostScript name.
    pub postscript: Option<String>,
    /// The name of its card: of the file without `.card.json`.
    pub card: Option<String>,
}

/// What a card is to a face.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Likeness {
    /// Made from the face.
    Itself,
    /// Made from an open face that was designed to have the same widths and
    /// line metrics. Its characters and kerning may differ.
    SameMetrics,
    /// Made from an open face that was designed to have the same widths; its
    /// line metrics are its own.
    SameWidths,
    /// Made from widths of the face that somebody else measured; nothing else is known.
    WidthsAlone,
}

/// Why a file defines no platform.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum DefinitionError {
    /// It is not TOML, or fields are missing, unknown or of the wrong kind.
    #[error("{0}; `tidy-lattice platforms --export FOLDER` writes examples")]
    Toml(String),
    /// Something in it cannot be.
    #[error("{place}: {reason}")]
    Wrong {
        /// Where.
        place: String,
        /// What, and the way out.
        reason: String,
    },
}

fn wrong(place: impl Into<String>, reason: impl Into<String>) -> DefinitionError {
    DefinitionError::Wrong {
        place: place.into(),
        reason: reason.into(),
    }
}

impl Definition {
    /// Reads the TOML text of a definition.
    ///
    /// # Errors
    ///
    /// [`DefinitionError`], which names the place.
    pub fn read(text: &str) -> Result<Self, DefinitionError> {
        let definition: Definition = toml::from_str(text).map_err(|error| {
            let line = error.span().map(|span| {
                let before = text.get(..span.start).unwrap_or_default();
                before.matches('\n').count() + 1
            });
            let message = error.message().replace('\n', " ");
            DefinitionError::Toml(match line {
                Some(line) => format!("line {line}: {message}"),
                None => message,
            })
        })?;
        definition.check()?;
        Ok(definition)
    }

    /// The TOML text of the definition, signed as this program's.
    pub fn toml(&self) -> String {
        // Structs of ours have keys that are strings, so this does not fail.
        let text = toml::to_string_pretty(self).unwrap_or_default();
        format!("# Made by tidy-lattice: a platform.\n{text}")
    }

    /// All generic families: where they stand, their keywords, the families.
    fn generics(&self) -> impl Iterator<Item = (String, &str, &str)> {
        let usual = self.generic.iter();
        let usual = usual.map(|(key, family)| (format!("generic.{key}"), key, family));
        let by_script = self.generic_for.iter().flat_map(|(script, generics)| {
            let generics = generics.iter();
            generics.map(move |(key, family)| (format!("generic_for.{script}.{key}"), key, family))
        });
        let all = usual.chain(by_script);
        all.map(|(place, key, family)| (place, key.as_str(), family.as_str()))
    }

    fn check(&self) -> Result<(), DefinitionError> {
        if self.title.trim().is_empty() && self.extends.is_none() {
            return Err(wrong("title", "a platform has a name for people"));
        }
        if self.families.len() > MOST_FAMILIES {
            return Err(wrong(
                "family",
                format!("there are more than {MOST_FAMILIES}"),
            ));
        }
        let other = |script: &&String| !SCRIPTS.contains(&script.as_str());
        if let Some(script) = self.generic_for.keys().find(other) {
            return Err(wrong(
                format!("generic_for.{script}"),
                format!(
                    "browsers have generic families of their own for {}; all other texts get \
                     those of [generic]",
                    SCRIPTS.join(", ")
                ),
            ));
        }
        for (place, key, _) in self.generics() {
            if !GENERICS.contains(&key) {
                let known = GENERICS.join(", ");
                return Err(wrong(
                    place,
                    format!("this is no generic family; there are {known}"),
                ));
            }
        }
        for family in &self.families {
            family.check(&self.versions)?;
        }
        Ok(())
    }

    /// The platform called `name`, with the cards that `card` finds and what
    /// `installed` says is there besides: faces, and where they came from.
    ///
    /// # Errors
    ///
    /// [`DefinitionError::Wrong`] where a card or a generic's family is missing.
    pub fn assemble(
        self,
        name: &str,
        card: impl Fn(&str) -> Option<Card>,
        installed: &[InstalledFace],
    ) -> Result<Platform, DefinitionError> {
        let installed_families = installed.iter().flat_map(|face| &face.families);
        let mut platform = self.assemble_beside(name, card, installed_families)?;
        for face in installed {
            for family in &face.families {
                add(&mut platform.families, family, face);
            }
        }
        platform.families.sort_by_cached_key(|family: &Family| {
            (family.name.to_lowercase(), family.name.clone())
        });
        Ok(platform)
    }

    /// The platform with what the definition lists alone, where families of the names
    /// `besides` will be there, too.
    pub(super) fn assemble_beside<'a>(
        self,
        name: &str,
        card: impl Fn(&str) -> Option<Card>,
        besides: impl Iterator<Item = &'a String>,
    ) -> Result<Platform, DefinitionError> {
        let mut definition = self;
        let listed = std::mem::take(&mut definition.families);
        let mut families = Vec::with_capacity(listed.len());
        for family in listed {
            families.push(family.assemble(&card)?);
        }
        let mut known: BTreeSet<&str> = besides.map(String::as_str).collect();
        known.extend(families.iter().map(|family: &Family| family.name.as_str()));
        let aliases = definition.alias.iter();
        let aliases = aliases.map(|(alias, family)| (format!("alias.{alias}"), family.as_str()));
        let generics = definition.generics();
        let mapped = generics.map(|(place, _, family)| (place, family));
        let keyword = |family: &str| definition.generic.contains_key(family);
        let roles = definition.own.all();
        let roles = roles.filter(|(_, family)| !keyword(family));
        for (place, family) in mapped.chain(aliases).chain(roles) {
            if !known.contains(family) {
                return Err(wrong(
                    place,
                    format!("the platform has no family {family:?}; add it or map another"),
                ));
            }
        }
        Ok(Platform {
            name: name.to_owned(),
            title: definition.title,
            about: definition.about,
            versions: definition.versions,
            engines: definition.engines,
            generic: definition.generic,
            generic_for: definition.generic_for,
            generic_in: BTreeMap::new(),
            own: definition.own,
            aliases: definition.alias,
            families,
        })
    }
}

impl FamilyDefinition {
    fn check(&self, versions: &[String]) -> Result<(), DefinitionError> {
        let place = || format!("family {:?}", self.name);
        if self.name.trim().is_empty() {
            return Err(wrong("family", "a name is empty"));
        }
        let unknown = [&self.since, &self.until];
        let unknown = unknown
            .into_iter()
            .flatten()
            .find(|v| !versions.contains(v));
        if let Some(version) = unknown {
            let known = versions.join(", ");
            return Err(wrong(
                place(),
                format!("version {version:?} is not among the platform's versions ({known})"),
            ));
        }
        if let Some(face) = self
            .faces
            .iter()
            .find(|f| !(1.0..=1000.0).contains(&f.weight))
        {
            return Err(wrong(
                place(),
                format!(
                    "weight {} of {:?} is not from 1 to 1000",
                    face.weight, face.full
                ),
            ));
        }
        let carded = self.faces.iter().any(|face| face.card.is_some());
        if carded != self.cards_are.is_some() {
            return Err(wrong(
                place(),
                "cards_are goes with cards: itself, same-metrics, same-widths or widths-alone",
            ));
        }
        Ok(())
    }

    fn assemble(self, card: &impl Fn(&str) -> Option<Card>) -> Result<Family, DefinitionError> {
        let mut known = Known::ByName;
        for face in &self.faces {
            let (Some(name), Some(likeness)) = (&face.card, self.cards_are) else {
                continue;
            };
            let found = card(name).ok_or_else(|| {
                wrong(
                    format!("family {:?}", self.name),
                    format!(
                        "there is no card {name}.card.json; make it with `tidy-lattice record`"
                    ),
                )
            })?;
            if known == Known::ByName {
                known = Known::Measured {
                    likeness,
                    in_browser: found.measured_in.is_some(),
                    from: origin(&found),
                    family: found.names.family,
                };
            }
        }
        Ok(Family {
            name: self.name,
            class: self.class,
            scripts: self.scripts,
            since: self.since,
            until: self.until,
            note: self.note,
            known,
            faces: self
                .faces
                .into_iter()
                .map(|face| PlatformFace {
                    weight: face.weight,
                    stretch: 100.0,
                    style: face.style.unwrap_or(Slope::Normal),
                    full: face.full,
                    postscript: face.postscript,
                    card: face.card,
                    card_is: None,
                })
                .collect(),
        })
    }
}

/// Where a card's face came from.
fn origin(card: &Card) -> String {
    let source = &card.source;
    if let Some(browser) = &card.measured_in {
        return browser.label();
    }
    match (&source.package, &source.package_version) {
        (Some(package), Some(version)) => format!("{package} {version}"),
        (Some(package), None) => package.clone(),
        _ => source.file.clone(),
    }
}

/// What a platform keeps of an installed face.
#[derive(Debug, Clone)]
pub struct InstalledFace {
    /// Its families: what it calls itself, and the other names that it is found by.
    pub families: Vec<String>,
    /// Its names.
    pub names: Names,
    /// The weight on the scale of `font-weight`.
    pub weight: f32,
    /// The width in %.
    pub stretch: f32,
    /// The slope.
    pub style: Slope,
    /// The class.
    pub class: Class,
    /// Scripts that it has letters of.
    pub scripts: Vec<String>,
    /// Where it came from: a file, with the number of the face in it.
    pub origin: String,
    /// The browser that it was measured in, where nobody read the font.
    pub measured_in: Option<MeasuredIn>,
}

impl InstalledFace {
    /// `face`, which came from `origin`.
    pub fn of(face: &Face, origin: String) -> Self {
        InstalledFace {
            families: vec![face.names().family.clone()],
            names: face.names().clone(),
            weight: face.weight(),
            stretch: face.width(),
            style: face.slope(),
            class: ClassJudgement::of(face),
            scripts: writing_scripts(face),
            origin,
            measured_in: face.measured_in().cloned(),
        }
    }
}

impl InstalledFace {
    /// The face of a platform.
    pub(super) fn described(&self) -> PlatformFace {
        let names = &self.names;
        PlatformFace {
            weight: self.weight,
            stretch: self.stretch,
            style: self.style,
            full: names.full.clone().unwrap_or_else(|| names.label()),
            postscript: names.postscript.clone(),
            card: Some(self.origin.clone()),
            card_is: Some(Likeness::Itself),
        }
    }

    /// How well it is known.
    pub(super) fn known(&self) -> Known {
        let browser = self.measured_in.as_ref();
        Known::Measured {
            likeness: Likeness::Itself,
            family: self.names.family.clone(),
            from: browser.map_or_else(|| self.origin.clone(), MeasuredIn::label),
            in_browser: browser.is_some(),
        }
    }
}

/// Adds an installed face to the family called `name`.
pub(super) fn add(families: &mut Vec<Family>, name: &str, face: &InstalledFace) {
    let described = face.described();
    if let Some(family) = families.iter_mut().find(|family| family.name == name) {
        family.faces.push(described);
        family.faces.sort_by(|a, b| {
            a.weight
                .total_cmp(&b.weight)
                .then_with(|| a.full.cmp(&b.full))
        });
        return;
    }
    families.push(Family {
        name: name.to_owned(),
        class: face.class,
        scripts: face.scripts.clone(),
        since: None,
        until: None,
        note: None,
        known: face.known(),
        faces: vec![described],
    });
}
