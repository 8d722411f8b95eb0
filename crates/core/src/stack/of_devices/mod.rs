//! Stacks without a web font: each platform's own best family first, then what other scripts
//! and signs need, the generic family last.

mod order;
mod resized;
mod scripts;
mod served;
mod shows;

use serde::{Deserialize, Serialize};
use tidy_lattice_coverage::need::{ClusterNeed, Need};
use tidy_lattice_coverage::platform::Device;
use tidy_lattice_documents::style::{class_name, is_generic, quoted};
use tidy_lattice_glyphs::font::Class;

use super::{Note, stack_property};
use order::Wanted;

pub use resized::{InstalledFamily, ResizeRequest, ResizedFamily, ResizedOne, SAME, resize};
pub use served::{OnPlatform, Served, Styles, Unserved};

/// What a text is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum TextUse {
    /// Buttons, menus and forms: as the system's own.
    Interface,
    /// Running text.
    Reading,
    /// Code.
    Code,
}

impl TextUse {
    /// The word for it.
    pub fn label(self) -> &'static str {
        match self {
            TextUse::Interface => "interface",
            TextUse::Reading => "reading",
            TextUse::Code => "code",
        }
    }

    /// The class of its fonts where none is asked for.
    pub fn class(self) -> Class {
        match self {
            TextUse::Interface => Class::Sans,
            TextUse::Reading => Class::Serif,
            TextUse::Code => Class::Monospace,
        }
    }
}

/// What a text in one language asks for.
#[derive(Debug, Clone)]
pub struct LanguageNeed {
    /// The language (BCP 47), where it is known.
    pub language: Option<String>,
    /// Its clusters.
    pub need: Need,
    /// Whether they are those of a text. What a language may need is more: signs of it are
    /// not missed, nor is a family named for them.
    pub of_text: bool,
}

/// What a stack of installed families is built from.
pub struct DeviceStackRequest<'a> {
    /// The role that it is for.
    pub role: String,
    /// What the text is for.
    pub text_use: TextUse,
    /// The class of the fonts.
    pub class: Class,
    /// The devices.
    pub devices: &'a [Device<'a>],
    /// Of each device the family that looks most like a wanted one; `None` for the device's
    /// own. Empty where none is wanted.
    pub alike: Vec<Option<String>>,
    /// The name of the wanted look.
    pub like: Option<String>,
    /// Families that are brought to the wanted font's size and line, and what was noted of
    /// it; see [`resize`].
    pub resized: (Vec<ResizedFamily>, Vec<Note>),
    /// What must show, by language.
    pub needs: &'a [LanguageNeed],
    /// The generic family at the end; that of the class where `None`.
    pub generic: Option<String>,
}

/// A stack of installed families.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct DeviceStack {
    /// The role that it is for.
    pub role: String,
    /// What the text is for.
    #[serde(rename = "use")]
    pub text_use: TextUse,
    /// The class of the fonts.
    pub class: Class,
    /// The face whose look was wanted.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub like: Option<String>,
    /// Languages of the texts (BCP 47).
    pub languages: Vec<String>,
    /// All families in order, the generic last, with why each is there.
    pub stack: Vec<DeviceEntry>,
    /// The value for `font-family`.
    pub font_family: String,
    /// The families of the stack that stand for installed ones at the wanted font's size and
    /// line.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub resized: Vec<ResizedFamily>,
    /// The name of the custom property that holds it.
    pub custom_property: String,
    /// The name of the class that sets it.
    pub class_name: String,
    /// Who shows what on each platform.
    pub platforms: Vec<OnPlatform>,
    /// What the user should know.
    pub notes: Vec<Note>,
}

/// One family of such a stack.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
pub struct DeviceEntry {
    /// The name, or the keyword of a generic family.
    pub family: String,
    /// Why it is there.
    pub why: String,
    /// The platforms that it serves, by their names for people; empty for all.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub platforms: Vec<String>,
}

impl DeviceStack {
    /// The value for `font-family` where `@font-face` cannot be used: installed families as
    /// they are.
    pub fn plain(&self) -> String {
        let entries = self.stack.iter().map(|entry| {
            let resized = self.resized.iter();
            let mut resized = resized.filter(|resized| resized.family == entry.family);
            DeviceEntry {
                family: resized
                    .next()
                    .map_or_else(|| entry.family.clone(), |resized| resized.over.clone()),
                ..entry.clone()
            }
        });
        listed(&entries.collect::<Vec<_>>())
    }
}

/// The entries as `font-family` takes them.
fn listed(stack: &[DeviceEntry]) -> String {
    let css: Vec<String> = stack.iter().map(DeviceEntry::css).collect();
    css.join(", ")
}

impl DeviceEntry {
    /// The entry as `font-family` takes it.
    fn css(&self) -> String {
        if is_generic(&self.family) {
            self.family.clone()
        } else {
            quoted(&self.family)
        }
    }
}

/// Builds the stack.
pub fn device_stack(request: &DeviceStackRequest<'_>) -> DeviceStack {
    let generic = request.generic.clone().unwrap_or_else(|| {
        let of_class = request.class.generic();
        of_class.unwrap_or("sans-serif").to_owned()
    });
    let families: Vec<String> = (0..request.devices.len())
        .map(|number| own_of(request, number, &generic))
        .collect();
    let families: Vec<String> = (request.devices.iter().zip(&families))
        .map(|(device, family)| shared_name(device, family, &families))
        .collect();
    let mut notes = Vec::new();
    let further = scripts::further(request, &families, &mut notes);
    let entries = order::ordered(
        wished(request, &families, &further, &generic),
        request.devices,
    );
    let further = order::ordered(further, request.devices);
    let mut stack = once_each(entries.into_iter().chain(further), request.devices);
    stack.push(DeviceEntry {
        family: generic,
        why: "where none of these is installed".to_owned(),
        platforms: Vec::new(),
    });
    // A family at another size has the letters that it has at its own.
    let platforms = served::on_platforms(request, &listed(&stack));
    let (resized, said) = &request.resized;
    notes.extend(said.iter().cloned());
    let resized = named_in(&mut stack, resized, request.like.as_deref());
    let font_family = listed(&stack);
    notes.extend(served::notes(
        &platforms,
        &scripts::left_to_language(request),
    ));
    notes.extend(passed_over(request, &families, &platforms));
    let languages = request
        .needs
        .iter()
        .filter_map(|need| need.language.clone());
    DeviceStack {
        role: request.role.clone(),
        text_use: request.text_use,
        class: request.class,
        like: request.like.clone(),
        languages: languages.collect(),
        stack,
        font_family,
        resized,
        custom_property: stack_property(&request.role),
        class_name: class_name(&request.role),
        platforms,
        notes,
    }
}

/// The families that the devices' roles come to, but those that the generic family or one
/// before brings by itself; `further` families for scripts come behind.
fn wished(
    request: &DeviceStackRequest<'_>,
    families: &[String],
    further: &[order::Entry<'_>],
    generic: &str,
) -> Vec<order::Entry<'static>> {
    let mut entries = Vec::new();
    let of_scripts = further.iter().map(|entry| &entry.family);
    let every: Vec<&String> = families.iter().chain(of_scripts).collect();
    for (number, (device, family)) in request.devices.iter().zip(families).enumerate() {
        // What stands for the generic family needs no name, but where something before that
        // is installed, too.
        let given = is_given(request, device, family, generic);
        let before = |name: &&String| !is_generic(name) && device.family(name).is_some();
        let unknown = scripts::is_unknown(device, family);
        if given && (unknown || !every.iter().copied().any(|name| before(&name))) {
            continue;
        }
        let family = match device.generic(family, None) {
            Some(stands_for) if given && is_generic(family) => &stands_for.name,
            _ => family,
        };
        let why = match (&request.like, request.alike.get(number)) {
            (Some(like), Some(Some(family))) if *family == *like => "the font itself".to_owned(),
            (Some(like), Some(Some(_))) => format!("closest to {like} there"),
            _ => match request.text_use {
                TextUse::Interface => "its interface font".to_owned(),
                TextUse::Reading => "its font for reading".to_owned(),
                TextUse::Code => "its font for code".to_owned(),
            },
        };
        let wanted = Wanted {
            device: number,
            clusters: None,
        };
        order::add(&mut entries, family, wanted, &why);
    }
    entries
}

/// Each family once, where it is first, with the platforms of all its entries.
fn once_each<'n>(
    entries: impl Iterator<Item = order::Entry<'n>>,
    devices: &[Device<'_>],
) -> Vec<DeviceEntry> {
    let mut stack: Vec<DeviceEntry> = Vec::new();
    for entry in entries {
        let titles = entry.wanted.iter();
        let titles = titles.map(|wanted| &devices[wanted.device].platform().title);
        let known = stack.iter_mut().find(|known| known.family == entry.family);
        let platforms = match known {
            Some(known) => &mut known.platforms,
            None => {
                stack.push(DeviceEntry {
                    family: entry.family,
                    why: entry.why,
                    platforms: Vec::new(),
                });
                &mut stack.last_mut().expect("one was just put in").platforms
            }
        };
        for title in titles {
            if !platforms.contains(title) {
                platforms.push(title.clone());
            }
        }
    }
    stack
}

/// Puts the names of `resized` families in place of those that they stand for; the ones that
/// the stack names.
fn named_in(
    stack: &mut [DeviceEntry],
    resized: &[ResizedFamily],
    like: Option<&str>,
) -> Vec<ResizedFamily> {
    let mut named = Vec::new();
    for entry in stack {
        let mut of_entry = resized.iter();
        let of_entry = of_entry.find(|one| one.over.eq_ignore_ascii_case(&entry.family));
        if let Some(one) = of_entry {
            entry.family.clone_from(&one.family);
            if like != Some(one.over.as_str()) {
                entry.why.push_str(", at its size and line");
            }
            named.push(one.clone());
        }
    }
    named
}

/// The family or keyword that comes first on a device.
fn own_of(request: &DeviceStackRequest<'_>, number: usize, generic: &str) -> String {
    if let Some(Some(alike)) = request.alike.get(number) {
        return alike.clone();
    }
    let platform = request.devices[number].platform();
    let family = match request.text_use {
        TextUse::Interface if request.class == Class::Sans => {
            let of_system = || {
                platform
                    .generic
                    .contains_key("system-ui")
                    .then_some("system-ui")
            };
            platform.own.interface.as_deref().or_else(of_system)
        }
        _ => platform.own.of_class(request.class),
    };
    family.unwrap_or(generic).to_owned()
}

/// Platforms on which another family shows than was wanted, as that one is installed there, too,
/// and comes before.
fn passed_over(
    request: &DeviceStackRequest<'_>,
    families: &[String],
    platforms: &[OnPlatform],
) -> Option<Note> {
    let main: Vec<&ClusterNeed> = request.needs.first()?.need.clusters.iter().collect();
    let devices = request.devices.iter().zip(families).zip(platforms);
    let passed = devices.filter_map(|((device, families), on)| {
        let wanted = if is_generic(families) {
            device.generic(families, None)
        } else {
            device.family(families)
        };
        let wanted = &wanted?.name;
        let first = on.served.first()?;
        let shown = on.served.iter().any(|served| served.family == *wanted);
        (!shown && shows::share(device, families, &main) > 0.5)
            .then(|| format!("{} instead of {wanted} on {}", first.family, on.title))
    });
    let passed: Vec<String> = passed.collect();
    (!passed.is_empty()).then(|| {
        Note::remark(
            "passed-over",
            format!(
                "no order gives every platform its own: there is {}; fewer platforms, or a stack \
                 for each, can do better",
                passed.join(", ")
            ),
        )
    })
}

/// The name by which another device asks for what is `family` here, where one does.
fn shared_name(device: &Device<'_>, family: &str, families: &[String]) -> String {
    let meant = |name: &str| device.family(name).map(|family| &family.name);
    let here = meant(family);
    let mut names = families.iter().filter(|name| !is_generic(name));
    let same = names.find(|name| here.is_some() && meant(name) == here);
    same.map_or_else(|| family.to_owned(), String::clone)
}

/// Whether the generic family at the end is `own` on the device, whatever the language, so
/// that nothing need be named.
fn is_given(
    request: &DeviceStackRequest<'_>,
    device: &Device<'_>,
    role_family: &str,
    generic: &str,
) -> bool {
    if role_family == generic {
        return true;
    }
    if is_generic(role_family) {
        return false;
    }
    let scripts = request.needs.iter();
    let mut scripts = scripts.map(|need| device.script_for(need.language.as_deref()));
    scripts.all(|script| {
        let family = device.generic(generic, script);
        family.is_some_and(|family| family.name.eq_ignore_ascii_case(role_family))
    })
}
