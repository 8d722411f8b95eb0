//! Stacks for apps that draw their own text: which files and installed faces, in
//! which order, and how each is brought to the web font's size and line.

use serde::Serialize;

use super::{Built, EntryKind, ExtraFont, StackFace};

/// A stack without CSS.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct AppStack {
    /// The role that it is for.
    pub role: String,
    /// The line of all text, in em of the font size.
    pub line: AppLine,
    /// The fonts, in the order in which they are asked.
    pub fonts: Vec<AppFont>,
    /// Installed families that are asked as they are, then.
    pub families: Vec<String>,
    /// The generic family at the end.
    pub generic: String,
}

/// A font of the stack.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct AppFont {
    /// The family of the stack that it belongs to.
    pub family: String,
    /// What it is there for.
    pub kind: EntryKind,
    /// The path or URL of the file; `None` where it is installed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub file: Option<String>,
    /// Names of the installed face, full or PostScript.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub installed: Vec<String>,
    /// Platforms that have it; empty for all.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub platforms: Vec<String>,
    /// Weights, least and most.
    pub weight: (f32, f32),
    /// `normal`, `italic` or `oblique`.
    pub style: &'static str,
    /// The characters it is asked for, as in `unicode-range`; all where empty.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub characters: String,
    /// What its size is multiplied by.
    pub scale: f64,
    /// How far down its baseline is moved, in em of the font size, where a
    /// renderer places a run by the font's own ascent; 0 where it places
    /// baselines.
    pub baseline_shift: f64,
    /// The line that it is given, in em of the font size.
    pub line_em: AppLine,
    /// The same in units of this font, as its own tables would state it.
    pub line_units: AppLine,
}

/// Ascent, descent (positive) and gap.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, schemars::JsonSchema)]
pub struct AppLine {
    /// Above the baseline.
    pub ascent: f64,
    /// Below the baseline.
    pub descent: f64,
    /// Between lines.
    pub line_gap: f64,
}

/// The stack of `built` for an app.
pub fn app_stack(built: &Built) -> AppStack {
    let line = line(built);
    let mut fonts = Vec::new();
    for entry in &built.stack {
        match entry.kind {
            EntryKind::Sign => {
                fonts.extend(extra(&built.signs, &entry.family, entry.kind, line));
            }
            EntryKind::Script => {
                fonts.extend(extra(&built.scripts, &entry.family, entry.kind, line));
            }
            EntryKind::Web => fonts.extend(built.web.faces.iter().map(|web| {
                let mut font = font(&entry.family, entry.kind, &web.face, 1.0, line);
                font.file = Some(web.url.clone());
                font.weight = web.weight;
                font.characters = web.characters.css();
                font
            })),
            EntryKind::StandIn => {
                let stand_in = built.stand_ins.iter().find(|s| s.family == entry.family);
                for face in stand_in.iter().flat_map(|stand_in| &stand_in.faces) {
                    fonts.extend(face.width.slices.iter().map(|slice| {
                        let scale = slice.size_adjust / 100.0;
                        let mut font = font(&entry.family, entry.kind, &face.face, scale, line);
                        font.installed.clone_from(&face.local);
                        font.platforms.clone_from(&entry.platforms);
                        font.weight = (face.weight, face.weight);
                        font.style = face.slope.css();
                        font.characters = slice
                            .range
                            .as_ref()
                            .map_or_else(String::new, |range| range.css());
                        font
                    }));
                }
            }
            // Families by name only have no measurements; what pages declare is theirs.
            EntryKind::Kept | EntryKind::Local | EntryKind::Generic => {}
        }
    }
    AppStack {
        role: built.role.clone(),
        line,
        fonts,
        families: built
            .stack
            .iter()
            .filter(|entry| entry.kind == EntryKind::Local)
            .map(|entry| entry.family.clone())
            .collect(),
        generic: built
            .stack
            .last()
            .map_or_else(String::new, |entry| entry.family.clone()),
    }
}

/// The line that everything is given: the pinned one, else the web font's own.
fn line(built: &Built) -> AppLine {
    let web = &built.web.faces[0];
    match web.pinned {
        // Overrides have five decimals at most.
        Some(pinned) => {
            let em = |percent: f64| (percent * 1e5).round() / 1e7;
            AppLine {
                ascent: em(pinned.ascent),
                descent: em(pinned.descent),
                line_gap: em(pinned.line_gap),
            }
        }
        None => AppLine {
            ascent: web.face.line.ascent,
            descent: web.face.line.descent,
            line_gap: web.face.line.line_gap,
        },
    }
}

fn extra(fonts: &[ExtraFont], family: &str, kind: EntryKind, line: AppLine) -> Option<AppFont> {
    let found = fonts.iter().find(|font| font.family == family)?;
    let mut font = font(family, kind, &found.face, found.size_adjust / 100.0, line);
    font.file = Some(found.url.clone());
    font.weight = (1.0, 1000.0);
    font.characters = found.range.css();
    Some(font)
}

fn font(family: &str, kind: EntryKind, face: &StackFace, scale: f64, line: AppLine) -> AppFont {
    let units = |em: f64| (em / scale * f64::from(face.units_per_em)).round();
    let shift = line.ascent - face.line.ascent * scale;
    AppFont {
        family: family.to_owned(),
        kind,
        file: None,
        installed: Vec::new(),
        platforms: Vec::new(),
        weight: (face.weight, face.weight),
        style: face.slope.css(),
        characters: String::new(),
        scale,
        baseline_shift: (shift * 10_000.0).round() / 10_000.0,
        line_em: line,
        line_units: AppLine {
            ascent: units(line.ascent),
            descent: units(line.descent),
            line_gap: units(line.line_gap),
        },
    }
}
