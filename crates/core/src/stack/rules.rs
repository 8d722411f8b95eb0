//! The style sheet of stacks: `@font-face` rules, custom properties, classes.

use tidy_lattice_documents::style::{FontFaceRule, Property, SourceRef, StyleSheet};
use tidy_lattice_glyphs::font::Slope;

use super::of_devices::DeviceStack;
use super::result::{Built, EntryKind, ExtraFont, StandIn, StandInFace, WebFont};

/// The parts of a style sheet.
#[derive(Debug, Clone, PartialEq)]
pub struct Sheets {
    heading: Vec<String>,
    rules: Vec<FontFaceRule>,
    properties: Vec<Property>,
    classes: Vec<(String, Vec<(String, String)>)>,
}

impl Sheets {
    /// Rules and custom properties in one sheet.
    pub fn whole(&self) -> String {
        self.sheet(true, true, false).to_css()
    }

    /// The rules of stand-ins alone, which name installed faces and no file.
    pub fn stand_ins(&self) -> String {
        let local = |source: &SourceRef| matches!(source, SourceRef::Local(_));
        let rules = self.rules.iter();
        let rules = rules.filter(|rule| rule.sources.iter().all(local));
        StyleSheet {
            heading: Vec::new(),
            rules: rules.cloned().collect(),
            properties: Vec::new(),
            classes: Vec::new(),
        }
        .to_css()
    }

    /// Rules, custom properties and classes apart, each a sheet.
    pub fn apart(&self) -> [String; 3] {
        [
            self.sheet(true, false, false).to_css(),
            self.sheet(false, true, false).to_css(),
            self.sheet(false, false, true).to_css(),
        ]
    }

    fn sheet(&self, rules: bool, properties: bool, classes: bool) -> StyleSheet {
        StyleSheet {
            heading: self.heading.clone(),
            rules: if rules {
                self.rules.clone()
            } else {
                Vec::new()
            },
            properties: if properties {
                self.properties.clone()
            } else {
                Vec::new()
            },
            classes: if classes {
                self.classes.clone()
            } else {
                Vec::new()
            },
        }
    }
}

/// How stand-ins come to be seen in Firefox, which leaves faces unloaded behind one that is on
/// its way (`gfxFontGroup::FindFontForChar`); their names hold " via ".
const IN_FIREFOX: [&str; 2] = [
    "Firefox loads local faces only where no font before them is on its way, or by this script:",
    "document.fonts.forEach(font => font.family.includes(\" via \") && font.load())",
];

/// The style sheet of `stacks`; rules that several have stand there once.
pub fn sheets(
    stacks: &[Built],
    of_devices: &[DeviceStack],
    display: &str,
    comments: bool,
) -> Sheets {
    let mut rules: Vec<FontFaceRule> = Vec::new();
    for built in stacks {
        for rule in font_faces(built, display, comments) {
            if !rules.contains(&rule) {
                rules.push(rule);
            }
        }
    }
    for mut rule in of_devices
        .iter()
        .flat_map(|stack| &stack.resized)
        .flat_map(|resized| resized.rules())
    {
        if !comments {
            rule.comment.clear();
        }
        if !rules.contains(&rule) {
            rules.push(rule);
        }
    }
    let names: Vec<&str> = stacks
        .iter()
        .map(|built| built.web.family.as_str())
        .collect();
    let mut families: Vec<&str> = Vec::new();
    for name in names {
        if !families.contains(&name) {
            families.push(name);
        }
    }
    let mut heading = vec![match families.as_slice() {
        [] => "Made by tidy-lattice: families that devices have.".to_owned(),
        _ => format!(
            "Made by tidy-lattice: {} and what stands in for it.",
            families.join(", ")
        ),
    }];
    for built in stacks {
        heading.push(format!(
            "{}: font-family: var({}), widths fitted on {}.",
            built.role,
            built.custom_property,
            built.sample.label()
        ));
    }
    for stack in of_devices {
        heading.push(format!(
            "{}: font-family: var({}), installed families for {}.",
            stack.role,
            stack.custom_property,
            stack.text_use.label()
        ));
    }
    if stacks.iter().any(|built| !built.stand_ins.is_empty()) {
        heading.extend(IN_FIREFOX.map(str::to_owned));
    }
    let comment = |lines: Vec<String>| if comments { lines } else { Vec::new() };
    let properties = stacks.iter().map(|built| Property {
        comment: comment(reasons(built)),
        name: built.custom_property.clone(),
        value: built.font_family.clone(),
    });
    let installed = of_devices.iter().map(|stack| Property {
        comment: comment(reasons_of_device(stack)),
        name: stack.custom_property.clone(),
        value: stack.font_family.clone(),
    });
    let built = stacks.iter();
    let named = built.map(|built| (&built.class_name, &built.custom_property));
    let of_devices = of_devices.iter();
    let named = named.chain(of_devices.map(|stack| (&stack.class_name, &stack.custom_property)));
    Sheets {
        heading,
        rules,
        properties: properties.chain(installed).collect(),
        classes: named
            .map(|(class, property)| {
                let value = format!("var({property})");
                (class.clone(), vec![("font-family".to_owned(), value)])
            })
            .collect(),
    }
}

/// Why each entry of the stack is there, a line each.
fn reasons(built: &Built) -> Vec<String> {
    let entries = built.stack.iter();
    let entries = entries.map(|entry| reason(&entry.family, &entry.why, &entry.platforms));
    in_order(&built.role, entries)
}

fn reasons_of_device(stack: &DeviceStack) -> Vec<String> {
    let entries = stack.stack.iter();
    let entries = entries.map(|entry| reason(&entry.family, &entry.why, &entry.platforms));
    in_order(&stack.role, entries)
}

fn in_order(role: &str, reasons: impl Iterator<Item = String>) -> Vec<String> {
    std::iter::once(format!("{role}, in order:"))
        .chain(reasons)
        .collect()
}

fn reason(family: &str, why: &str, platforms: &[String]) -> String {
    match platforms {
        [] => format!("- {family}: {why}"),
        on => format!("- {family}: {why} ({})", on.join(", ")),
    }
}

/// The `@font-face` rules of a stack, in order.
pub fn font_faces(built: &Built, display: &str, comments: bool) -> Vec<FontFaceRule> {
    let in_use = |kind: EntryKind, family: &str| {
        let mut entries = built.stack.iter();
        entries.any(|entry| entry.kind == kind && entry.family == family)
    };
    let mut rules = Vec::new();
    for sign in built
        .signs
        .iter()
        .filter(|sign| in_use(EntryKind::Sign, &sign.family))
    {
        rules.push(extra(sign, display));
    }
    for web in &built.web.faces {
        rules.extend(web_rules(&built.web.family, web, display));
    }
    for stand_in in &built.stand_ins {
        for face in &stand_in.faces {
            rules.extend(stand_in_rules(stand_in, face));
        }
    }
    for script in built
        .scripts
        .iter()
        .filter(|s| in_use(EntryKind::Script, &s.family))
    {
        rules.push(extra(script, display));
    }
    if !comments {
        for rule in &mut rules {
            rule.comment.clear();
        }
    }
    rules
}

/// One rule, or one for each of its files.
fn web_rules(family: &str, web: &WebFont, display: &str) -> Vec<FontFaceRule> {
    let comment = if web.pinned.is_some() {
        "The web font, pinned: it states its own line metrics, so that browsers round it and its stand-ins alike."
    } else {
        "The web font."
    };
    let whole = FontFaceRule {
        comment: comment.to_owned(),
        family: family.to_owned(),
        sources: vec![SourceRef::Url {
            url: web.url.clone(),
            format: web.format.clone(),
        }],
        weight: web.weight,
        stretch: web.stretch,
        style: web.face.slope.css(),
        display: Some(display.to_owned()),
        unicode_range: None,
        size_adjust: None,
        overrides: web.pinned,
    };
    if web.slices.is_empty() {
        return vec![whole];
    }
    let slices = web.slices.iter().enumerate();
    slices
        .map(|(number, slice)| FontFaceRule {
            comment: if number == 0 && web.slices.len() == 1 {
                comment.to_owned()
            } else if number == 0 {
                format!("{comment} In {} files.", web.slices.len())
            } else {
                String::new()
            },
            sources: slice
                .sources
                .iter()
                .map(|(url, format)| SourceRef::Url {
                    url: url.clone(),
                    format: format.clone(),
                })
                .collect(),
            unicode_range: Some(slice.range.clone()),
            ..whole.clone()
        })
        .collect()
}

/// One rule a slice; the one without a range first, as later rules win.
fn stand_in_rules(stand_in: &StandIn, face: &StandInFace) -> Vec<FontFaceRule> {
    let sliced = face.width.slices.len();
    let slices = face.width.slices.iter().enumerate();
    slices
        .map(|(index, slice)| FontFaceRule {
            comment: if index == 0 {
                format!(
                    "{}{}: words differ by {:.1} % on average ({:.1} % without){}.",
                    face.face.names.label(),
                    if face.slope == Slope::Normal {
                        " in its place"
                    } else {
                        " for the italic"
                    },
                    face.width.after.word_mean,
                    face.width.before.word_mean,
                    if sliced > 1 {
                        format!(", in {sliced} slices of letters")
                    } else {
                        String::new()
                    }
                )
            } else {
                String::new()
            },
            family: stand_in.family.clone(),
            sources: face.local.iter().cloned().map(SourceRef::Local).collect(),
            weight: (face.weight, face.weight),
            stretch: None,
            style: face.slope.css(),
            display: None,
            unicode_range: slice.range.clone().or_else(|| face.held_to.clone()),
            size_adjust: Some(slice.size_adjust),
            overrides: face.lines.get(index).map(|lines| lines.overrides),
        })
        .collect()
}

fn extra(font: &ExtraFont, display: &str) -> FontFaceRule {
    let size_adjust = Some(font.size_adjust).filter(|size| *size != 100.0);
    let scaled = if font.scaled_by.is_empty() {
        String::new()
    } else {
        format!(", {}", font.scaled_by)
    };
    FontFaceRule {
        comment: format!(
            "{} for {}{scaled}.",
            font.face.names.label(),
            font.serves.join(", ").to_lowercase()
        ),
        family: font.family.clone(),
        sources: vec![SourceRef::Url {
            url: font.url.clone(),
            format: font.format.clone(),
        }],
        weight: (1.0, 1000.0),
        stretch: None,
        style: "normal",
        display: Some(display.to_owned()),
        unicode_range: Some(font.range.clone()),
        size_adjust,
        overrides: font.lines.as_ref().map(|lines| lines.overrides),
    }
}
