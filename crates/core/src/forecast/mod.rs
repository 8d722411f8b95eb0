//! What a page fetches of fonts: which files, for which characters, how many bytes, and
//! what of it is hardly needed.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use tidy_lattice_coverage::lattice::{Arrival, Fonts, Origin, Request, WebFace, fetched, resolve};
use tidy_lattice_coverage::platform::Device;
use tidy_lattice_documents::page::{
    Control, Display, Flow, FlowKind, FlowNode, TablePart, TextStyle,
};
use tidy_lattice_documents::style::read::FaceSource;
use tidy_lattice_glyphs::font::Container;
use tidy_lattice_layout::Engine;

/// Up to how many different characters a file counts as fetched for a few only.
pub const FEW: usize = 8;

/// A file that a page fetches.
#[derive(Debug, Clone, PartialEq, Serialize, schemars::JsonSchema)]
pub struct ForecastFile {
    /// The file.
    pub file: String,
    /// The family in the style sheet.
    pub family: String,
    /// Where its rule stands: sheet and line.
    pub rule: String,
    /// The URL as the rule has it.
    pub url: String,
    /// Its size as it lies, in bytes.
    pub bytes: u64,
    /// Whether it is packed already, so that it travels as it lies (WOFF, WOFF2).
    pub packed: bool,
    /// How many files a browser reads before it learns of it: the page alone, the page and a
    /// sheet, one more for each import between.
    pub found_after: usize,
    /// Characters that it is fetched for, repeats included.
    pub characters: u64,
    /// How many different ones.
    pub distinct: usize,
    /// These, where they are a few; without blanks.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub only_for: Vec<String>,
    /// Characters that it is fetched for and does not have, as its rule states no
    /// `unicode-range` that leaves them out.
    #[serde(skip_serializing_if = "is_zero")]
    pub in_vain: usize,
}

fn is_zero(count: &usize) -> bool {
    *count == 0
}

/// What a page fetches on a device.
#[derive(Debug, Clone, Default, PartialEq, Serialize, schemars::JsonSchema)]
pub struct Forecast {
    /// The files, those for most characters first.
    pub files: Vec<ForecastFile>,
    /// Their sizes together, in bytes.
    pub bytes: u64,
    /// URLs of rules that are asked for and cannot be read here: not there, or on the
    /// network.
    pub not_known: Vec<String>,
    /// Style sheets that could not be read and may declare more fonts.
    pub unread_sheets: Vec<String>,
}

impl Forecast {
    /// Whether there is more to fetch than is known.
    pub fn is_open(&self) -> bool {
        !self.not_known.is_empty() || !self.unread_sheets.is_empty()
    }
}

/// A file of a rule, wherever it is used.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct DeclaredFont {
    /// The file.
    pub file: String,
    /// The family.
    pub family: String,
    /// Where its rule stands.
    pub rule: String,
    /// Its size in bytes.
    pub bytes: u64,
}

/// What a style has to show.
#[derive(Default)]
struct Shown {
    /// Its text, blanks between words included.
    text: Vec<char>,
    /// Whether a line or a box is measured with its font, text or not.
    measured: bool,
}

/// The styles of a page and what they show.
fn shown_by_style(flow: &Flow, engine: Engine) -> Vec<(&TextStyle, Shown)> {
    let mut by_style: Vec<(&TextStyle, Shown)> = Vec::new();
    for node in &flow.nodes {
        let choices;
        let text = match &node.kind {
            FlowKind::Text(text, _) | FlowKind::Marker(text) => text.as_str(),
            FlowKind::Control(Control::Button(label)) => label.as_str(),
            FlowKind::Control(Control::Choice(options)) => {
                choices = options.join(" ");
                choices.as_str()
            }
            _ => "",
        };
        let measured = is_measured(flow, node, engine);
        if is_blank(text) && !measured {
            continue;
        }
        let shown = of_style(&mut by_style, &node.text);
        shown.measured |= measured;
        // Blanks alone between boxes are not drawn.
        if !is_blank(text) {
            shown.add(text, &node.text);
        }
    }
    for field in &flow.in_fields {
        if !is_blank(&field.text) {
            of_style(&mut by_style, &field.style).add(&field.text, &field.style);
        }
        // Chromium measures a field of one line whatever its text; Firefox measures the
        // placeholder's box, too.
        let field_node = &flow.nodes[field.node];
        let one_line = matches!(field_node.kind, FlowKind::Control(Control::Field(_)));
        if field.placeholder && engine == Engine::Firefox {
            of_style(&mut by_style, &field.style).measured = true;
        } else if one_line && engine != Engine::Firefox {
            of_style(&mut by_style, &field_node.text).text.push(' ');
        }
    }
    by_style
}

/// What is shown in a style, which may be new.
fn of_style<'s, 'f>(
    by_style: &'s mut Vec<(&'f TextStyle, Shown)>,
    style: &'f TextStyle,
) -> &'s mut Shown {
    let place = by_style.iter().position(|(known, _)| *known == style);
    let place = place.unwrap_or_else(|| {
        by_style.push((style, Shown::default()));
        by_style.len() - 1
    });
    &mut by_style[place].1
}

impl Shown {
    /// Adds a text, as it is drawn in `style`.
    fn add(&mut self, text: &str, style: &TextStyle) {
        let small = (style.variants.iter())
            .any(|(_, keywords)| keywords.iter().any(|word| word.ends_with("small-caps")));
        let drawn = text.chars().map(|c| {
            if c.is_whitespace() && c != '\u{A0}' {
                ' '
            } else {
                c
            }
        });
        for character in drawn.filter(|c| !c.is_control()) {
            self.text.push(character);
            // Where a font has no small capitals, its capitals are set smaller.
            if small {
                self.text.extend(character.to_uppercase());
            }
        }
    }
}

fn is_blank(text: &str) -> bool {
    text.chars().all(|c| c.is_ascii_whitespace())
}

/// Whether a box is measured with the font of its style. Chromium does so for boxes in
/// lines and for what holds lines; Firefox for every box but those that lay out
/// flexible items and grids (measured with 35 small pages in each).
fn is_measured(flow: &Flow, node: &FlowNode, engine: Engine) -> bool {
    let boxes = &node.boxes;
    match &node.kind {
        FlowKind::Element(_) => {}
        FlowKind::Marker(_) => return true,
        FlowKind::Control(control) => {
            return !matches!(control, Control::Tick | Control::Slider | Control::Sign(_));
        }
        _ => return false,
    }
    let lays_out = match boxes.display {
        Display::Flex { .. } | Display::Grid { .. } | Display::Contents | Display::None => true,
        Display::Table(part) => !matches!(part, TablePart::Cell | TablePart::Caption),
        _ => false,
    };
    if engine == Engine::Firefox {
        return !lays_out;
    }
    if boxes.display == Display::Inline {
        return boxes.float.is_none();
    }
    let in_line = |child: &FlowNode| match &child.kind {
        FlowKind::Text(text, _) => !is_blank(text),
        FlowKind::Element(_) | FlowKind::Replaced(_) | FlowKind::Control(_) => {
            child.boxes.float.is_none()
                && !child.boxes.position.is_out()
                && matches!(
                    child.boxes.display,
                    Display::Inline
                        | Display::InlineBlock
                        | Display::Flex { inline: true }
                        | Display::Grid { inline: true }
                )
        }
        FlowKind::Marker(_) => false,
        FlowKind::Break => true,
    };
    !lays_out
        && node
            .children
            .iter()
            .any(|child| in_line(&flow.nodes[*child]))
}

/// What a page with the rules `web` fetches on `device`.
pub fn forecast(
    flow: &Flow,
    web: &[WebFace],
    device: Option<&Device<'_>>,
    engine: Engine,
) -> Forecast {
    struct Found {
        file: ForecastFile,
        shown: BTreeMap<char, u64>,
        lacked: BTreeSet<char>,
    }
    let mut found: BTreeMap<(String, String), Found> = BTreeMap::new();
    let mut not_known: BTreeSet<String> = BTreeSet::new();
    for (style, shown) in shown_by_style(flow, engine) {
        let Shown { mut text, measured } = shown;
        let fonts = Fonts {
            web,
            device,
            arrival: Arrival::Here,
            hosted: false,
        };
        let candidates = resolve(&Request::of(style), fonts).candidates;
        // Lines are measured with the first font that has a blank. Chromium lets be where
        // a file of the style is on its way already.
        let on_its_way = |text: &[char]| !fetched(&candidates, text.iter().copied()).is_empty();
        if measured && (engine == Engine::Firefox || !on_its_way(&text)) {
            text.push(' ');
        }
        not_known.extend(unread(style, web, &text));
        for (number, shown) in fetched(&candidates, text) {
            let candidate = &candidates[number];
            let (Origin::Web { file, rule }, Some(bytes)) = (&candidate.origin, candidate.bytes)
            else {
                continue;
            };
            let entry = found
                .entry((file.clone(), rule.clone()))
                .or_insert_with(|| Found {
                    file: ForecastFile {
                        file: file.clone(),
                        family: candidate.family.clone(),
                        rule: rule.clone(),
                        url: url_of(web, file),
                        bytes,
                        packed: candidate.face.as_ref().is_none_or(|face| {
                            matches!(face.container(), Container::Woff | Container::Woff2)
                        }),
                        found_after: found_after(web, rule),
                        characters: 0,
                        distinct: 0,
                        only_for: Vec::new(),
                        in_vain: 0,
                    },
                    shown: BTreeMap::new(),
                    lacked: BTreeSet::new(),
                });
            for (character, count) in shown {
                let has = candidate
                    .face
                    .as_ref()
                    .is_none_or(|face| face.maps(character));
                if has {
                    *entry.shown.entry(character).or_default() += count;
                } else {
                    entry.lacked.insert(character);
                }
            }
        }
    }
    let mut files: Vec<ForecastFile> = (found.into_values())
        .map(|found| {
            let letters: Vec<String> = (found.shown.keys())
                .filter(|c| !c.is_whitespace())
                .map(char::to_string)
                .collect();
            ForecastFile {
                characters: found.shown.values().sum(),
                distinct: found.shown.len(),
                only_for: if letters.len() <= FEW {
                    letters
                } else {
                    Vec::new()
                },
                in_vain: found.lacked.len(),
                ..found.file
            }
        })
        .collect();
    files.sort_by(|a, b| b.characters.cmp(&a.characters).then(a.file.cmp(&b.file)));
    // Two rules may name one file, which travels once.
    let once: BTreeMap<&str, u64> = files.iter().map(|f| (f.file.as_str(), f.bytes)).collect();
    Forecast {
        bytes: once.values().sum(),
        not_known: not_known.into_iter().collect(),
        unread_sheets: Vec::new(),
        files,
    }
}

/// How many files are read before the rule is known.
fn found_after(web: &[WebFace], rule: &str) -> usize {
    let mut placed = web.iter().map(|face| &face.placed);
    let placed = placed.find(|placed| format!("{}:{}", placed.file, placed.line) == rule);
    placed.map_or(1, |placed| placed.depth + 1)
}

/// The URL of a file as its rule has it.
fn url_of(web: &[WebFace], file: &str) -> String {
    for rule in web {
        for (source, loaded) in rule.placed.face.sources.iter().zip(&rule.files) {
            if let (FaceSource::Url { url, .. }, Some(Ok(loaded))) = (source, loaded)
                && loaded.name == file
            {
                return url.clone();
            }
        }
    }
    String::new()
}

/// URLs of the families of a style that cannot be read and that its text asks for.
fn unread(style: &TextStyle, web: &[WebFace], text: &[char]) -> Vec<String> {
    let mut urls = Vec::new();
    for rule in web {
        let face = &rule.placed.face;
        let declared_family = face.family.as_deref().unwrap_or_default();
        let named =
            (style.families.iter()).any(|name| name.as_str().eq_ignore_ascii_case(declared_family));
        let within = (face.range.as_ref())
            .is_none_or(|range| text.iter().any(|c| range.contains(u32::from(*c))));
        if !named || !within || rule.files.iter().flatten().any(Result::is_ok) {
            continue;
        }
        urls.extend(face.sources.iter().filter_map(|source| match source {
            FaceSource::Url { url, .. } => Some(url.clone()),
            FaceSource::Local { .. } => None,
        }));
    }
    urls
}

/// The files that rules name and that can be read.
pub fn declared(web: &[WebFace]) -> BTreeSet<DeclaredFont> {
    let mut fonts = BTreeSet::new();
    for rule in web {
        // The first source that a browser can load is the one that it takes.
        let first = rule
            .files
            .iter()
            .flatten()
            .find_map(|file| file.as_ref().ok());
        if let Some((file, bytes)) = first.and_then(|file| Some((file, file.bytes?))) {
            fonts.insert(DeclaredFont {
                file: file.name.clone(),
                family: rule.placed.face.family.clone().unwrap_or_default(),
                rule: format!("{}:{}", rule.placed.file, rule.placed.line),
                bytes,
            });
        }
    }
    fonts
}
