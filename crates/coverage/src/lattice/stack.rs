//! What a stack of families comes down to on a device: an ordered list of faces,
//! and for each family that gives none the reason.
//!
//! CSS Fonts 4, §5.1 (family names), §5.2 (faces), §4.3 (`src`): a family that
//! `@font-face` rules define hides an installed one of the same name; of a rule
//! the first source counts that can be had; of the faces of a family those are
//! used that the style picks, together with all others of the same traits, told
//! apart by their `unicode-range`, the last rule first.

use std::sync::{Arc, Mutex, PoisonError};

use serde::Serialize;
use tidy_lattice_documents::page::{PlacedFace, StyleValue, TextStyle};
use tidy_lattice_documents::style::GENERICS;
use tidy_lattice_documents::style::matching::{
    Asked, AskedSlope, FaceTraits, Faked, faked, matching,
};
use tidy_lattice_documents::style::read::{FaceSource, FaceStyle, FamilyName, FontFace, Range};
use tidy_lattice_glyphs::font::{Body, CharacterSet, Engines, Face, Slope};

use crate::platform::{Device, Family, PlatformFace};

/// An `@font-face` rule with what its files hold.
#[derive(Clone)]
pub struct WebFace {
    /// The rule.
    pub placed: PlacedFace,
    /// For each source of the rule, in order: the face of its file, or why there
    /// is none. `local()` sources have none here.
    pub files: Vec<Option<Result<WebFile, String>>>,
}

/// A file that a rule loads.
#[derive(Clone)]
pub struct WebFile {
    /// Its name for people.
    pub name: String,
    /// Its size as it is loaded, in bytes; `None` where only a card is known.
    pub bytes: Option<u64>,
    /// The face in it.
    pub face: Arc<Face>,
    /// The same face elsewhere in its design space, where it was asked for.
    pub instances: Instances,
}

/// A variable face at the positions that styles have asked for.
#[derive(Clone, Default)]
pub struct Instances(Arc<Mutex<Vec<Instance>>>);

/// Values by axis tag.
type AxisValues = Vec<(String, f32)>;

/// A position, and the face there.
type Instance = (AxisValues, Arc<Face>);

/// The most positions of one face that are kept.
const MOST_INSTANCES: usize = 1_000;

impl Instances {
    /// `face` at those of `values` that it has axes for; itself where there are none.
    fn of(&self, face: &Arc<Face>, values: &[(String, f32)]) -> Arc<Face> {
        let values = face.on_axes(values);
        if values.is_empty() {
            return face.clone();
        }
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, instance)) = known.iter().find(|(at, _)| *at == values) {
            return instance.clone();
        }
        let instance = face.at(&values).map_or_else(|| face.clone(), Arc::new);
        if known.len() < MOST_INSTANCES {
            known.push((values, instance.clone()));
        }
        instance
    }
}

/// How a text asks for its fonts.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Request<'a> {
    /// The families, in order.
    pub families: &'a [FamilyName],
    /// Weight, width and slope.
    pub asked: Asked,
    /// Whether bold may be faked.
    pub fake_bold: bool,
    /// Whether italic may be faked.
    pub fake_italic: bool,
    /// The font size in px, which `opsz` follows; nothing where it does not.
    pub optical: Option<f32>,
    /// `font-variation-settings`.
    pub variations: &'a [(String, f32)],
    /// The script whose generic families the text gets; `None` for the usual ones
    /// ([`Device::script_for`]).
    pub script: Option<&'static str>,
}

/// What tells requests apart, to look them up by; numbers by their bits.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct RequestKey {
    families: Vec<FamilyName>,
    weight: u32,
    stretch: u32,
    slope: (bool, u32),
    fake: (bool, bool),
    optical: Option<u32>,
    variations: Vec<(String, u32)>,
    script: Option<&'static str>,
}

impl<'a> Request<'a> {
    /// What tells it apart from others.
    pub fn key(&self) -> RequestKey {
        let variations = self.variations.iter();
        RequestKey {
            families: self.families.to_vec(),
            weight: self.asked.weight.to_bits(),
            stretch: self.asked.stretch.to_bits(),
            slope: match self.asked.slope {
                AskedSlope::Normal => (false, 0),
                AskedSlope::Italic => (true, 0),
                AskedSlope::Oblique(angle) => (false, angle.to_bits()),
            },
            fake: (self.fake_bold, self.fake_italic),
            optical: self.optical.map(f32::to_bits),
            variations: variations
                .map(|(axis, value)| (axis.clone(), value.to_bits()))
                .collect(),
            script: self.script,
        }
    }
    /// What `style` asks for.
    pub fn of(style: &'a TextStyle) -> Self {
        Request {
            families: &style.families,
            asked: Asked {
                weight: style.weight,
                stretch: style.stretch,
                slope: match style.style {
                    StyleValue::Normal => AskedSlope::Normal,
                    StyleValue::Italic => AskedSlope::Italic,
                    StyleValue::Oblique(angle) => AskedSlope::Oblique(angle),
                },
            },
            fake_bold: style.fake_bold,
            fake_italic: style.fake_italic,
            optical: style.optical.then_some(style.size),
            variations: &style.variations,
            script: None,
        }
    }

    /// The same for a text in `language` (BCP 47) on `device`.
    pub fn in_language(self, language: Option<&str>, device: Option<&Device<'_>>) -> Self {
        Request {
            script: device.and_then(|device| device.script_for(language)),
            ..self
        }
    }

    /// The position in the design space of a variable face that `rule` brings (CSS
    /// Fonts 4, §5.2.1 step 4, §8.2, §7.1): what the properties ask for within what
    /// the rule states, then what the style sets by axis.
    fn position(&self, rule: &FontFace) -> AxisValues {
        let within = |asked: f32, range: Range, declared: bool| {
            if declared {
                asked.min(range.to).max(range.from)
            } else {
                asked
            }
        };
        let [weight, style, stretch] = rule.declared;
        let mut values = vec![
            (
                "wght".to_owned(),
                within(self.asked.weight, rule.weight, weight),
            ),
            (
                "wdth".to_owned(),
                within(self.asked.stretch, rule.stretch, stretch),
            ),
        ];
        let angle = match self.asked.slope {
            AskedSlope::Normal => 0.0,
            AskedSlope::Italic => ITALIC,
            AskedSlope::Oblique(angle) => angle,
        };
        let angle = match rule.style {
            FaceStyle::Oblique { angles } => within(angle, angles, style),
            FaceStyle::Normal if style => 0.0,
            FaceStyle::Normal | FaceStyle::Italic => angle,
        };
        // Both lean to the right, one counts against the clock.
        values.push(("slnt".to_owned(), -angle));
        if let Some(size) = self.optical {
            values.push(("opsz".to_owned(), size));
        }
        for (tag, value) in self.variations {
            values.retain(|(known, _)| known != tag);
            values.push((tag.clone(), *value));
        }
        values
    }
}

/// The angle in degrees that an italic stands for.
const ITALIC: f32 = 14.0;

/// The fonts that exist for a text: web fonts, and those of a device.
#[derive(Clone, Copy)]
pub struct Fonts<'a> {
    /// The `@font-face` rules, in the order of the sheets.
    pub web: &'a [WebFace],
    /// The device; `None` where nothing is installed.
    pub device: Option<&'a Device<'a>>,
    /// How far web fonts are.
    pub arrival: Arrival,
    /// Whether a style sheet lies on the network and was not read: families that are
    /// not known may be defined there.
    pub hosted: bool,
}

impl Fonts<'_> {
    /// Whether a file of a rule with this `font-display` does not show.
    fn awaits(&self, display: Option<&str>) -> bool {
        match self.arrival {
            Arrival::Here => false,
            Arrival::Awaited => true,
            Arrival::Late => display == Some("optional"),
        }
    }
}

/// How far web fonts are on their way.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub enum Arrival {
    /// They were there when the page was first drawn.
    #[default]
    Here,
    /// They are still on their way.
    Awaited,
    /// They came after the page was first drawn, when `font-display: optional` lets
    /// go of them (CSS Fonts 4, §11).
    Late,
}

/// A face of a stack.
#[derive(Clone)]
pub struct Candidate {
    /// The entry of the stack that it comes from, counted from 0.
    pub entry: usize,
    /// The family, as the stack names it.
    pub family: String,
    /// The face, as it names itself.
    pub name: String,
    /// Its PostScript name, where it has one.
    pub postscript: Option<String>,
    /// Where it comes from.
    pub origin: Origin,
    /// The size of the file that is loaded, in bytes.
    pub bytes: Option<u64>,
    /// Its `unicode-range`.
    pub range: Option<CharacterSet>,
    /// Its measurements; `None` where it is known by name only.
    pub face: Option<Arc<Face>>,
    /// Of a face known by name only, the scripts that it is made for.
    pub scripts: Vec<String>,
    /// Whether even the family is not known: what a browser takes for a generic
    /// family has at least the characters of ASCII.
    pub unknown: bool,
    /// What it offers.
    pub traits: FaceTraits,
    /// What the browser fakes with it.
    pub faked: Faked,
    /// How the rule that brings it resizes and re-measures it.
    pub adjusted: Adjusted,
}

/// What an `@font-face` rule changes of the measurements of a face (CSS Fonts 5,
/// §2).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Adjusted {
    /// `size-adjust` as a factor.
    pub size: f32,
    /// `ascent-override` as a factor of the em.
    pub ascent: Option<f32>,
    /// `descent-override` as a factor of the em.
    pub descent: Option<f32>,
    /// `line-gap-override` as a factor of the em.
    pub line_gap: Option<f32>,
    /// Whether an `@font-face` rule brings it at all: engines treat installed
    /// faces by other rules.
    pub by_rule: bool,
}

impl Default for Adjusted {
    fn default() -> Self {
        Adjusted {
            size: 1.0,
            ascent: None,
            descent: None,
            line_gap: None,
            by_rule: false,
        }
    }
}

/// Where a face comes from.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "kind")]
pub enum Origin {
    /// A file that an `@font-face` rule loads.
    Web {
        /// The file.
        file: String,
        /// The rule: its sheet and line.
        rule: String,
    },
    /// An installed face that an `@font-face` rule names.
    Local {
        /// The name in `local()`.
        name: String,
        /// The rule: its sheet and line.
        rule: String,
    },
    /// An installed family.
    Installed,
    /// A font given by itself.
    Given,
}

/// Why an entry of a stack gives no face.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, schemars::JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "why")]
pub enum Absent {
    /// No `@font-face` rule defines the family, and it is not installed.
    NotInstalled,
    /// It is no family but a generic one, written in quotation marks or otherwise than
    /// the keyword.
    Mistyped {
        /// The keyword.
        keyword: String,
    },
    /// The device has nothing for the generic family, or it is not known what.
    NoGeneric,
    /// No source of its rules can be had.
    NoSource {
        /// What was tried, with the reason.
        tried: Vec<String>,
    },
    /// Its files are still on their way.
    Loading {
        /// `font-display` of the rule.
        display: String,
    },
}

impl Absent {
    /// The reason in words.
    pub fn label(&self) -> String {
        match self {
            Absent::NotInstalled => "not installed".to_owned(),
            Absent::Mistyped { keyword } => {
                format!("not installed; the generic family is {keyword}, without quotation marks")
            }
            Absent::NoGeneric => "not known what this platform uses for it".to_owned(),
            Absent::NoSource { tried } => format!("cannot be had ({})", tried.join("; ")),
            Absent::Loading { display } => {
                // CSS Fonts 4, §11: the block period.
                let hidden = match display.as_str() {
                    "auto" | "block" => "; text may be invisible for up to 3 s first",
                    _ => "",
                };
                format!("still loading (font-display: {display}{hidden})")
            }
        }
    }
}

/// One entry of a stack on a device.
#[derive(Clone)]
pub struct Entry {
    /// The family, as the stack names it.
    pub family: FamilyName,
    /// The installed family that a generic one stands for.
    pub stands_for: Option<String>,
    /// Why it gives no face; `None` where it gives some.
    pub absent: Option<Absent>,
}

/// A stack on a device.
#[derive(Clone)]
pub struct Resolved {
    /// The entries, in order.
    pub entries: Vec<Entry>,
    /// The faces, in the order in which they are tried.
    pub candidates: Vec<Candidate>,
    /// The engines of browsers on the device.
    pub engines: Engines,
}

/// Generic families that stand for fonts of text in every browser.
const TEXT_GENERICS: [&str; 4] = ["serif", "sans-serif", "monospace", "system-ui"];

/// What `request` comes down to with `fonts`.
pub fn resolve(request: &Request<'_>, fonts: Fonts<'_>) -> Resolved {
    let mut resolved = Resolved {
        entries: Vec::with_capacity(request.families.len()),
        candidates: Vec::new(),
        engines: fonts
            .device
            .map_or(Engines::USUAL, |device| device.platform().engines),
    };
    for (number, family) in request.families.iter().enumerate() {
        let mut entry = Entry {
            family: family.clone(),
            stands_for: None,
            absent: None,
        };
        let before = resolved.candidates.len();
        entry.absent = match family {
            FamilyName::Generic(keyword) => {
                let on_device = fonts.device;
                match on_device.and_then(|device| device.generic(keyword, request.script)) {
                    Some(family) => {
                        entry.stands_for = Some(family.name.clone());
                        installed(request, number, keyword, family, fonts, &mut resolved)
                    }
                    // Every browser has a font for text.
                    None if fonts.device.is_some() && TEXT_GENERICS.contains(&keyword.as_str()) => {
                        resolved
                            .candidates
                            .push(Candidate::unknown(number, keyword));
                        None
                    }
                    None => Some(Absent::NoGeneric),
                }
            }
            FamilyName::Named(name) => named(request, number, name, fonts, &mut resolved),
        };
        debug_assert!(entry.absent.is_some() || resolved.candidates.len() > before);
        resolved.entries.push(entry);
    }
    resolved
}

fn named(
    request: &Request<'_>,
    number: usize,
    name: &str,
    fonts: Fonts<'_>,
    resolved: &mut Resolved,
) -> Option<Absent> {
    let rules: Vec<&WebFace> = fonts
        .web
        .iter()
        .filter(|rule| {
            let family = rule.placed.face.family.as_deref();
            family.is_some_and(|family| same_family(family, name))
        })
        .collect();
    let of_device = fonts.device.and_then(|device| device.family(name));
    if rules.is_empty() {
        return match of_device {
            Some(family) => installed(request, number, name, family, fonts, resolved),
            // Whatever that sheet defines, it has letters of plain text.
            None if fonts.hosted => {
                resolved.candidates.push(Candidate::unknown(number, name));
                None
            }
            None => Some(match meant_generic(name) {
                Some(keyword) => Absent::Mistyped {
                    keyword: keyword.to_owned(),
                },
                None => Absent::NotInstalled,
            }),
        };
    }
    let absent = defined(request, number, name, &rules, fonts, resolved);
    match (&absent, of_device) {
        // Chromium turns to an installed family of that name where no source of
        // the rules can be had.
        (Some(Absent::NoSource { .. }), Some(family)) => {
            installed(request, number, name, family, fonts, resolved)
        }
        _ => absent,
    }
}

/// Family names are compared without regard to case (CSS Fonts 4, §5.1).
fn same_family(a: &str, b: &str) -> bool {
    a == b || a.to_lowercase() == b.to_lowercase()
}

/// What a source of a rule gives.
enum Source {
    Web(WebFile),
    Local(String, Option<String>, Option<Arc<Face>>, Vec<String>),
}

fn defined(
    request: &Request<'_>,
    number: usize,
    name: &str,
    rules: &[&WebFace],
    fonts: Fonts<'_>,
    resolved: &mut Resolved,
) -> Option<Absent> {
    let mut tried = Vec::new();
    let offers: Vec<FaceTraits> = rules.iter().map(|rule| traits(&rule.placed)).collect();
    // Chromium picks before it knows what can be had: where the picked faces
    // cannot, others of the family do not step in, whatever §4.3 says.
    let picked = matching(&offers, request.asked);
    let mut loading = None;
    // The last rule is looked at first.
    for place in picked.into_iter().rev() {
        let rule = rules[place];
        let placed = &rule.placed;
        let Some(source) = source(rule, fonts, &mut tried) else {
            continue;
        };
        let source = &source;
        let line = format!("{}:{}", placed.file, placed.line);
        let (origin, face, scripts, label, postscript) = match source {
            Source::Web(_) if fonts.awaits(placed.face.display.as_deref()) => {
                let display = placed
                    .face
                    .display
                    .clone()
                    .unwrap_or_else(|| "auto".to_owned());
                loading.get_or_insert(Absent::Loading { display });
                continue;
            }
            Source::Web(file) => (
                Origin::Web {
                    file: file.name.clone(),
                    rule: line,
                },
                Some(
                    file.instances
                        .of(&file.face, &request.position(&placed.face)),
                ),
                Vec::new(),
                web_name(name, &file.face),
                file.face.names().postscript.clone(),
            ),
            Source::Local(local, postscript, face, scripts) => (
                Origin::Local {
                    name: local.clone(),
                    rule: line,
                },
                face.clone(),
                scripts.clone(),
                local.clone(),
                postscript.clone(),
            ),
        };
        resolved.candidates.push(Candidate {
            entry: number,
            family: name.to_owned(),
            name: label,
            postscript,
            origin,
            bytes: match source {
                Source::Web(file) => file.bytes,
                Source::Local(..) => None,
            },
            range: placed.face.range.clone(),
            face,
            unknown: false,
            scripts,
            traits: offers[place],
            faked: faked(
                &offers[place],
                request.asked,
                request.fake_bold,
                request.fake_italic,
            ),
            adjusted: Adjusted {
                size: placed.face.size_adjust,
                ascent: placed.face.ascent,
                descent: placed.face.descent,
                line_gap: placed.face.line_gap,
                by_rule: true,
            },
        });
    }
    let gave = resolved
        .candidates
        .last()
        .is_some_and(|last| last.entry == number);
    match (gave, loading) {
        (true, _) => None,
        (false, Some(loading)) => Some(loading),
        (false, None) => Some(Absent::NoSource { tried }),
    }
}

/// The generic family that a name was meant for.
fn meant_generic(name: &str) -> Option<&'static str> {
    let bare = |name: &str| -> String {
        let letters = name.chars().filter(|c| !matches!(c, ' ' | '-' | '_'));
        letters.collect::<String>().to_lowercase()
    };
    let name = bare(name);
    let name = match name.as_str() {
        "sans" => "sansserif",
        "mono" | "monospaced" => "monospace",
        name => name,
    };
    GENERICS.into_iter().find(|keyword| bare(keyword) == name)
}

/// What a face of a web font is called: as the style sheet has it, where the file says
/// otherwise.
fn web_name(family: &str, face: &Face) -> String {
    let names = face.names();
    if same_family(&names.family, family) {
        names.label()
    } else if matches!(names.style.as_str(), "Regular" | "") {
        family.to_owned()
    } else {
        format!("{family} {}", names.style)
    }
}

/// The first source of `rule` that can be had.
fn source(rule: &WebFace, fonts: Fonts<'_>, tried: &mut Vec<String>) -> Option<Source> {
    for (source, file) in rule.placed.face.sources.iter().zip(&rule.files) {
        match (source, file) {
            (FaceSource::Url { url, .. }, Some(Err(reason))) => {
                tried.push(format!("{url}: {reason}"));
            }
            (FaceSource::Url { .. }, Some(Ok(file))) => return Some(Source::Web(file.clone())),
            (FaceSource::Url { url, .. }, None) => tried.push(format!("{url}: not read")),
            (FaceSource::Local { name }, _) => {
                let found = fonts
                    .device
                    .and_then(|device| Some((device, device.local(name)?)));
                match found {
                    Some((device, (family, face))) => {
                        let measured = device.face(family, face);
                        let (name, postscript) = (name.clone(), face.postscript.clone());
                        let scripts = family.scripts.clone();
                        return Some(Source::Local(name, postscript, measured, scripts));
                    }
                    None => tried.push(format!("local({name}): not installed")),
                }
            }
        }
    }
    None
}

fn traits(placed: &PlacedFace) -> FaceTraits {
    FaceTraits {
        weight: placed.face.weight,
        stretch: placed.face.stretch,
        style: placed.face.style,
    }
}

fn installed(
    request: &Request<'_>,
    number: usize,
    name: &str,
    family: &Family,
    fonts: Fonts<'_>,
    resolved: &mut Resolved,
) -> Option<Absent> {
    let device = fonts.device?;
    let traits: Vec<FaceTraits> = family.faces.iter().map(PlatformFace::traits).collect();
    let plain = PlatformFace {
        // The names of its faces are not known, only that it is there.
        full: family.name.clone(),
        weight: 400.0,
        stretch: 100.0,
        style: Slope::Normal,
        postscript: None,
        card: None,
        card_is: None,
    };
    // The system's own matching knows italics, but no angles.
    let asked = match request.asked.slope {
        AskedSlope::Oblique(_) => Asked {
            slope: AskedSlope::Italic,
            ..request.asked
        },
        _ => request.asked,
    };
    let picked = matching(&traits, asked).first().copied();
    let face = picked.map_or(&plain, |place| &family.faces[place]);
    let traits = face.traits();
    resolved.candidates.push(Candidate {
        entry: number,
        family: name.to_owned(),
        name: face.full.clone(),
        postscript: face.postscript.clone(),
        origin: Origin::Installed,
        bytes: None,
        range: None,
        face: device.face(family, face),
        scripts: family.scripts.clone(),
        unknown: false,
        traits,
        faked: match picked {
            Some(_) => faked(
                &traits,
                request.asked,
                request.fake_bold,
                request.fake_italic,
            ),
            None => Faked::default(),
        },
        adjusted: Adjusted::default(),
    });
    None
}

impl Candidate {
    /// A face by itself, at this place of a stack.
    pub fn given(entry: usize, face: Arc<Face>) -> Self {
        use tidy_lattice_documents::style::read::{FaceStyle, Range};
        Candidate {
            entry,
            family: face.names().family.clone(),
            name: face.names().label(),
            postscript: face.names().postscript.clone(),
            origin: Origin::Given,
            bytes: None,
            range: None,
            scripts: Vec::new(),
            unknown: false,
            traits: FaceTraits {
                weight: Range::only(face.weight()),
                stretch: Range::only(face.width()),
                style: FaceStyle::Normal,
            },
            faked: Faked::default(),
            adjusted: Adjusted::default(),
            face: Some(face),
        }
    }

    /// Whether another face was measured in its place, or a part of it alone, so that its
    /// characters may differ.
    pub fn is_twin(&self) -> bool {
        self.face.as_deref().is_some_and(|face| match face.body() {
            Body::Card(card) => card.card().measured_on.is_some() || card.card().only_widths,
            Body::Font(_) => false,
        })
    }

    /// What the browser takes for a generic family where that is not known.
    fn unknown(entry: usize, keyword: &str) -> Self {
        use tidy_lattice_documents::style::read::{FaceStyle, Range};
        Candidate {
            entry,
            family: keyword.to_owned(),
            name: keyword.to_owned(),
            postscript: None,
            origin: Origin::Installed,
            bytes: None,
            range: None,
            face: None,
            scripts: Vec::new(),
            unknown: true,
            traits: FaceTraits {
                weight: Range {
                    from: 1.0,
                    to: 1000.0,
                },
                stretch: Range::only(100.0),
                style: FaceStyle::Normal,
            },
            faked: Faked::default(),
            adjusted: Adjusted::default(),
        }
    }
}
