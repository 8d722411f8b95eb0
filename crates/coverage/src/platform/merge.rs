//! Cards of one's own on a platform that is built in.

use std::collections::BTreeMap;

use tidy_lattice_glyphs::font::MeasuredIn;

use super::definition::add;
use super::{Definition, DefinitionError, Family, InstalledFace, Known, Likeness, Platform};

/// This device, with whatever is installed on it.
const HERE: &str = "here";

impl Platform {
    /// What browsers call the system of a platform that is built in, or of this device;
    /// `None` for others.
    pub fn system(&self) -> Option<&'static str> {
        if self.name == HERE {
            return cfg!(target_os = "linux").then_some("Linux");
        }
        const SYSTEMS: [(&str, &str); 6] = [
            ("windows", "Windows"),
            ("macos", "macOS"),
            ("ios", "iOS"),
            ("android", "Android"),
            ("gnome", "Linux"),
            ("kde", "Linux"),
        ];
        let known = SYSTEMS.iter().find(|(name, _)| *name == self.name);
        known.map(|(_, system)| *system)
    }

    /// Puts the faces among `own` that belong here in the place of what stood for them, and
    /// tells how many did.
    ///
    /// A face that was measured in a browser belongs to that system; any other one, and one
    /// of Linux, which has many desktops, where the platform lists its family.
    pub fn take_cards(&mut self, cards: &[InstalledFace]) -> usize {
        let Some(system) = self.system() else {
            return 0;
        };
        let mut taken = 0;
        for face in cards {
            let listed = self.lists(face);
            let of_system = |browser: &MeasuredIn| browser.system == system;
            let belongs = match &face.measured_in {
                Some(browser) => of_system(browser) && (listed || system != "Linux"),
                None => listed,
            };
            if belongs {
                self.take(face);
                taken += 1;
            }
        }
        taken
    }

    fn lists(&self, face: &InstalledFace) -> bool {
        let mut families = self.families.iter();
        families.any(|family| face.families.contains(&family.name))
    }

    /// Puts `face` in the place of the one of its name, or beside the others of its family.
    fn take(&mut self, face: &InstalledFace) {
        let described = face.described();
        let place = self.families.iter_mut().find_map(|family| {
            let same = family.faces.iter().position(|known| {
                known.full == described.full
                    || (known.postscript.is_some() && known.postscript == described.postscript)
                    || face.families.contains(&family.name)
                        && known.weight == described.weight
                        && known.stretch == described.stretch
                        && known.style == described.style
            });
            same.map(|index| (family, index))
        });
        match place {
            Some((family, index)) => {
                family.now_known(face);
                let kept = &mut family.faces[index];
                kept.card = described.card;
                kept.card_is = described.card_is;
            }
            None => {
                for name in &face.families {
                    let mut known = self.families.iter_mut();
                    if let Some(family) = known.find(|family| family.name == *name) {
                        family.now_known(face);
                    }
                    add(&mut self.families, name, face);
                }
                self.families
                    .sort_by_cached_key(|family| (family.name.to_lowercase(), family.name.clone()));
            }
        }
    }

    /// This platform with what `definition` says in the place of what stands here, under
    /// the name `name`, and `installed` besides.
    ///
    /// # Errors
    ///
    /// As [`Definition::assemble`].
    pub fn extended(
        &self,
        definition: Definition,
        name: &str,
        card: impl Fn(&str) -> Option<tidy_lattice_glyphs::font::Card>,
        installed: &[InstalledFace],
    ) -> Result<Platform, DefinitionError> {
        let mut families = self.families.clone();
        let (title, about) = (definition.title.clone(), definition.about.clone());
        let (engines, versions) = (definition.engines, definition.versions.clone());
        let says_engines = engines != tidy_lattice_glyphs::font::Engines::default();
        // Generic families may name what is known already, and what is installed.
        let known = self.families.iter().map(|family| &family.name);
        let besides = known.chain(installed.iter().flat_map(|face| &face.families));
        let added = definition.assemble_beside(name, card, besides)?;
        for family in added.families {
            match families.iter_mut().find(|known| known.name == family.name) {
                Some(known) => *known = family,
                None => families.push(family),
            }
        }
        let over = |base: &BTreeMap<String, String>, new: BTreeMap<String, String>| {
            let mut all = base.clone();
            all.extend(new);
            all
        };
        let mut generic_for = self.generic_for.clone();
        for (script, generics) in added.generic_for {
            generic_for.entry(script).or_default().extend(generics);
        }
        let mut extended = Platform {
            name: name.to_owned(),
            title: if title.is_empty() {
                self.title.clone()
            } else {
                title
            },
            about: if about.is_empty() {
                self.about.clone()
            } else {
                about
            },
            versions: if versions.is_empty() {
                self.versions.clone()
            } else {
                versions
            },
            engines: if says_engines { engines } else { self.engines },
            generic: over(&self.generic, added.generic),
            generic_for,
            generic_in: self.generic_in.clone(),
            own: if added.own.is_empty() {
                self.own.clone()
            } else {
                added.own
            },
            aliases: over(&self.aliases, added.aliases),
            families,
        };
        for face in installed {
            extended.take(face);
        }
        extended
            .families
            .sort_by_cached_key(|family| (family.name.to_lowercase(), family.name.clone()));
        Ok(extended)
    }
}

impl Family {
    /// One of its faces is measured as it is now: what the others are measured on stays
    /// theirs.
    fn now_known(&mut self, face: &InstalledFace) {
        if let Known::Measured { likeness, .. } = self.known
            && likeness != Likeness::Itself
        {
            for other in self.faces.iter_mut().filter(|other| other.card.is_some()) {
                other.card_is.get_or_insert(likeness);
            }
        }
        self.known = face.known();
    }
}
