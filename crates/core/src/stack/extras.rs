//! Web fonts beside the main one: for some signs, before it, and for other
//! scripts, behind it. They stand before its stand-ins, whose local faces may have
//! letters of other scripts, too, which are not as they are meant to look.

use std::collections::{BTreeMap, BTreeSet};

use tidy_lattice_coverage::lattice::{Fit, fit};
use tidy_lattice_coverage::need::Need;
use tidy_lattice_glyphs::font::{CharacterSet, Face};
use tidy_lattice_glyphs::shaping::Shaper;
use tidy_lattice_glyphs::text::Group;

use super::request::{BuildRequest, ScriptSource, SignSource};
use super::result::{ExtraFont, StackFace};
use super::{Note, scripts};
use crate::describe::LetterShape;

/// Ranges are joined over holes of so many characters that the font lacks, so
/// that lists stay short; where it has no glyph it is passed over anyway.
const HOLE: u32 = 16;

/// An extra font and its face.
pub struct Extra<'a> {
    /// The result, without lines.
    pub font: ExtraFont,
    /// The face.
    pub face: &'a Face,
    /// Whether the role itself needs it.
    pub needed: bool,
}

/// The sign fonts.
pub fn signs<'a>(
    request: &BuildRequest<'a>,
    shared: &Need,
    notes: &mut Vec<Note>,
) -> Vec<Extra<'a>> {
    let mut found: Vec<Extra<'a>> = Vec::new();
    for source in &request.signs {
        let has = source.face.characters();
        let wanted = match &source.wanted {
            Some(wanted) => {
                let lacked: Vec<char> = wanted
                    .iter()
                    .filter(|point| !has.contains(*point))
                    .filter_map(char::from_u32)
                    .collect();
                if !lacked.is_empty() {
                    notes.push(Note::finding(
                        "signs-lacking",
                        format!(
                            "{} has no {}, which it is wanted for; take another font or leave \
                             that sign out",
                            source.face.names().label(),
                            characters(&lacked)
                        ),
                    ));
                }
                CharacterSet::of(wanted.iter().filter(|point| has.contains(*point)))
            }
            None => wanted_signs(request, source, shared),
        };
        let used = used_by(request.need, &wanted);
        if wanted.is_empty() {
            notes.push(Note::remark(
                "sign-font-unused",
                format!(
                    "{} has no sign that the texts of {} need and {} lacks, so it is left out",
                    source.face.names().label(),
                    request.role,
                    request.family
                ),
            ));
            continue;
        }
        let family = source.face.names().family.clone();
        found.push(Extra {
            font: extra(
                format!("{} signs of {family}", request.family),
                source.face,
                &source.url,
                wanted,
                used.0,
            ),
            face: source.face,
            // Signs that are asked for by name stay, whatever the texts hold now.
            needed: used.1 > 0 || source.wanted.is_some(),
        });
    }
    found
}

/// Signs of the texts that the web font lacks and the sign font has.
fn wanted_signs(request: &BuildRequest<'_>, source: &SignSource<'_>, need: &Need) -> CharacterSet {
    let web = request.web[0].faces[0];
    let points = need.clusters.iter().filter_map(|cluster| {
        let mut characters = cluster.text.chars();
        let only = characters.next()?;
        // A selector may follow.
        let rest_is_selector = characters.all(|c| ('\u{fe00}'..='\u{fe0f}').contains(&c));
        let is_sign = !matches!(cluster.group, Group::Script(_));
        (rest_is_selector && is_sign && !web.maps(only) && source.face.maps(only))
            .then_some(u32::from(only))
    });
    CharacterSet::of(points.collect::<BTreeSet<u32>>())
}

/// The fonts for other scripts, in order of need.
pub fn scripts<'a>(
    request: &BuildRequest<'a>,
    shared: &Need,
    shape: &LetterShape,
    notes: &mut Vec<Note>,
) -> Vec<Extra<'a>> {
    let web = request.web[0].faces[0];
    let mut found: Vec<(u64, Extra<'a>)> = Vec::new();
    for source in &request.scripts {
        let served = serves(web, source, shared);
        let Some((first, _)) = served.first() else {
            notes.push(Note::remark(
                "script-font-unused",
                format!(
                    "{} adds nothing that the texts need and {} lacks, so it is left out",
                    source.face.names().label(),
                    request.family
                ),
            ));
            continue;
        };
        let range = script_range(web, source.face, &served);
        let (size_adjust, scaled_by) = scripts::scale(shape, source.face, first);
        let served_here = serves(web, source, request.need);
        let count: u64 = served_here.iter().map(|(_, served)| served.1).sum();
        let mut font = extra(
            format!("{} with {}", request.family, source.face.names().family),
            source.face,
            &source.url,
            range,
            served.into_iter().map(|(label, _)| label).collect(),
        );
        (font.size_adjust, font.scaled_by) = (size_adjust, scaled_by);
        found.push((
            count,
            Extra {
                font,
                face: source.face,
                needed: count > 0,
            },
        ));
    }
    found.sort_by_key(|(count, _)| std::cmp::Reverse(*count));
    found.into_iter().map(|(_, extra)| extra).collect()
}

fn extra(
    family: String,
    face: &Face,
    url: &str,
    range: CharacterSet,
    serves: Vec<String>,
) -> ExtraFont {
    ExtraFont {
        family,
        face: StackFace::of(face),
        url: url.to_owned(),
        format: face.container().css_format().to_owned(),
        range,
        serves,
        size_adjust: 100.0,
        scaled_by: String::new(),
        lines: None,
    }
}

/// Characters by group, with how often the texts have them.
type Served = Vec<(String, (BTreeSet<u32>, u64))>;

/// What of `need` the web font lacks and `source` shows, most frequent first.
fn serves(web: &Face, source: &ScriptSource<'_>, need: &Need) -> Served {
    let mut shapers = (Shaper::new(web), Shaper::new(source.face));
    let mut served: BTreeMap<String, (BTreeSet<u32>, u64)> = BTreeMap::new();
    for cluster in &need.clusters {
        if fit(web, &mut shapers.0, &cluster.text) == Fit::Whole
            || fit(source.face, &mut shapers.1, &cluster.text) != Fit::Whole
        {
            continue;
        }
        let entry = served.entry(cluster.group.label().to_owned()).or_default();
        entry.0.extend(cluster.text.chars().map(u32::from));
        entry.1 += cluster.count;
    }
    let mut served: Served = served.into_iter().collect();
    served.sort_by(|a, b| b.1.1.cmp(&a.1.1).then_with(|| a.0.cmp(&b.0)));
    // A script decides about the size before signs do.
    let is_script = |label: &str| {
        need.clusters
            .iter()
            .any(|cluster| matches!(&cluster.group, Group::Script(name) if name == label))
    };
    served.sort_by_key(|(label, _)| !is_script(label));
    served
}

/// All characters of `face` in the scripts that it serves and `web` lacks, and the other
/// characters that it serves: what the web font has must not be asked of it while the
/// web font is on its way.
fn script_range(web: &Face, face: &Face, served: &Served) -> CharacterSet {
    use icu_properties::CodePointMapData;
    use icu_properties::props::Script;
    let scripts = CodePointMapData::<Script>::new();
    let labels: Vec<&str> = served.iter().map(|(label, _)| label.as_str()).collect();
    let mut points: BTreeSet<u32> = served
        .iter()
        .flat_map(|(_, (points, _))| points.clone())
        .collect();
    let mut known: BTreeMap<Script, bool> = BTreeMap::new();
    for point in face.characters().iter() {
        let script = scripts.get32(point);
        let wanted = *known.entry(script).or_insert_with(|| {
            labels.contains(&tidy_lattice_glyphs::text::script_name(script).as_str())
        });
        if wanted && !char::from_u32(point).is_some_and(|c| web.maps(c)) {
            points.insert(point);
        }
    }
    let mut ranges: Vec<(u32, u32)> = Vec::new();
    for point in points {
        match ranges.last_mut() {
            Some((_, end)) if point - *end <= HOLE && !any_mapped(web, *end + 1, point) => {
                *end = point;
            }
            _ => ranges.push((point, point)),
        }
    }
    CharacterSet::of_ranges(ranges)
}

/// Whether `face` has a character from `start` to before `end`.
fn any_mapped(face: &Face, start: u32, end: u32) -> bool {
    (start..end).any(|point| char::from_u32(point).is_some_and(|c| face.maps(c)))
}

/// The groups of `need` within `range`, most frequent first, and how often.
fn used_by(need: &Need, range: &CharacterSet) -> (Vec<String>, u64) {
    let mut groups: BTreeMap<String, u64> = BTreeMap::new();
    for cluster in &need.clusters {
        if cluster
            .text
            .chars()
            .next()
            .is_some_and(|c| range.contains(u32::from(c)))
        {
            *groups.entry(cluster.group.label().to_owned()).or_default() += cluster.count;
        }
    }
    let total = groups.values().sum();
    let mut groups: Vec<(String, u64)> = groups.into_iter().collect();
    groups.sort_by(|a, b| b.1.cmp(&a.1).then_with(|| a.0.cmp(&b.0)));
    (groups.into_iter().map(|(label, _)| label).collect(), total)
}

/// Characters as people and programs know them.
pub fn characters(list: &[char]) -> String {
    const SHOWN: usize = 6;
    let mut named: Vec<String> = list
        .iter()
        .take(SHOWN)
        .map(|c| {
            let name = unicode_names2::name(*c).map(|name| format!(" {name}"));
            format!("{c} U+{:04X}{}", u32::from(*c), name.unwrap_or_default())
        })
        .collect();
    if list.len() > SHOWN {
        named.push(format!("{} more", list.len() - SHOWN));
    }
    named.join(", ")
}
