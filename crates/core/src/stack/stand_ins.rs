//! Which local families stand in, in what order, and how each face is fitted.

use std::collections::BTreeSet;

use rayon::prelude::*;
use tidy_lattice_documents::style::matching::{Asked, AskedSlope, FaceTraits, matching};
use tidy_lattice_documents::style::read::{FaceStyle, Range};
use tidy_lattice_glyphs::font::{Face, Slope};
use tidy_lattice_layout::firefox::Design;

use super::request::{BuildRequest, LocalFamily};
use super::result::{StackFace, StandIn, StandInFace};
use super::{Note, WithoutOverrides};
use crate::rank::{Candidate, Ranked, Ranking, Weights};
use tidy_lattice_standin::{FitOptions, Fitting, SetText, largest_even_factor};

/// The `size-adjust` that a stand-in may have, in %; fonts for text are within
/// 50 and 200, and a damaged one could ask for nothing or for thousands.
const SIZE_ADJUSTS: std::ops::RangeInclusive<f64> = 10.0..=1000.0;

/// How many points of score behind its best a platform's family may be that other platforms
/// share, so that stacks stay short.
const SHARED: f64 = 3.0;

/// A stand-in before its lines are fitted.
pub struct Fitted {
    /// The result, without lines.
    pub stand_in: StandIn,
    /// What Firefox takes from the local faces of each of its faces, several
    /// where equal metrics come with different tables.
    pub designs: Vec<Vec<Design>>,
}

/// A local family that is used.
struct Chosen<'r, 'a> {
    family: &'r LocalFamily<'a>,
    rank: Ranked,
}

/// The place in `faces` of the one that most text is set in: of the first file, nearest to
/// weight 400.
pub fn main_place(faces: &[(usize, &Face)]) -> usize {
    let off = |place: &usize| (faces[*place].1.weight() - 400.0).abs();
    let of_first = (0..faces.len()).filter(|place| faces[*place].0 == 0);
    of_first
        .min_by(|a, b| off(a).total_cmp(&off(b)))
        .unwrap_or(0)
}

/// The web font's faces that stand-ins are fitted to: which file, and the face.
pub fn web_faces<'a>(request: &BuildRequest<'a>) -> Vec<(usize, &'a Face)> {
    let files = request.web.iter().enumerate();
    files
        .flat_map(|(index, source)| source.faces.iter().map(move |face| (index, *face)))
        .collect()
}

/// The texts that pages set in each of the web font's `faces` (CSS Fonts 4, §5.2).
pub fn set_by_face<'a>(
    request: &BuildRequest<'a>,
    faces: &[(usize, &Face)],
) -> Vec<Vec<&'a SetText>> {
    let traits: Vec<FaceTraits> = faces.iter().map(|(_, face)| traits_of(face)).collect();
    let mut set = vec![Vec::new(); faces.len()];
    for text in request.set {
        let asked = Asked {
            weight: text.weight,
            stretch: 100.0,
            slope: if text.sloped {
                AskedSlope::Italic
            } else {
                AskedSlope::Normal
            },
        };
        if let Some(place) = matching(&traits, asked).first() {
            set[*place].push(text);
        }
    }
    set
}

/// What widths are fitted on, face by face: the web font on its texts, and the texts that
/// pages set in it.
type FittedOn<'f, 'a> = (&'f [Fitting<'a>], &'f [Vec<&'f SetText>]);

/// Chooses, orders and fits the local families.
pub fn stand_ins(
    request: &BuildRequest<'_>,
    ranked: Vec<(&LocalFamily<'_>, Ranked)>,
    fitted_on: FittedOn<'_, '_>,
    notes: &mut Vec<Note>,
) -> Vec<Fitted> {
    let faces = web_faces(request);
    let chosen = choose(request, ranked, notes);
    let fits: Vec<(Option<Fitted>, Vec<Note>)> = chosen
        .into_par_iter()
        .map(|chosen| {
            let mut notes_of_fit = Vec::new();
            let fitted = fit_family(request, chosen, &faces, fitted_on, &mut notes_of_fit);
            (fitted, notes_of_fit)
        })
        .collect();
    let mut fitted: Vec<Fitted> = Vec::new();
    for (new, notes_of_fit) in fits {
        notes.extend(notes_of_fit);
        let Some(new) = new else { continue };
        let same = fitted.iter_mut().find(|known| {
            let pairs = known.stand_in.faces.iter().zip(&new.stand_in.faces);
            known.stand_in.faces.len() == new.stand_in.faces.len()
                && pairs.into_iter().all(|(a, b)| a.width == b.width)
        });
        match same {
            Some(known) => join(known, new),
            None => fitted.push(new),
        }
    }
    name_families(request, &mut fitted);
    fitted
}

/// The local families, measured against the web font; those that cannot stand in
/// are noted and left out.
pub fn rank_families<'r, 'a>(
    request: &'r BuildRequest<'a>,
    (web, fitting): (&Face, &Fitting<'_>),
    notes: &mut Vec<Note>,
) -> Vec<(&'r LocalFamily<'a>, Ranked)> {
    let mut ranking = Ranking::new(web, fitting, None, Weights::default());
    if request.pin && !request.line_height_specified {
        ranking = ranking.with_room(most_factor(request, web));
    }
    let measured: Vec<_> = request
        .locals
        .par_iter()
        .filter_map(|family| {
            let face = pick(family, web)?;
            let candidate = Candidate {
                face,
                platforms: family.platforms.clone(),
            };
            Some((family, face, ranking.measure(&candidate)))
        })
        .collect();
    let mut ranked = Vec::new();
    for (family, face, measured) in measured {
        let unsuited = measured.widths.is_none() || measured.made_for.is_some();
        if unsuited && !request.keep_order {
            // One of a platform's many families for other scripts.
            continue;
        }
        if measured.widths.is_none() {
            notes.push(Note::finding(
                "nothing-in-common",
                format!(
                    "{} and {} have no whole word of {} in common whose width is known, so {0} \
                     cannot stand in; leave it out, or give text that both can show",
                    face.names().label(),
                    web.names().label(),
                    request.sample_kind.label()
                ),
            ));
            continue;
        }
        ranked.push((family, measured));
    }
    ranking.settle(ranked.iter_mut().map(|(_, ranked)| ranked));
    ranked
}

/// The families that are used, in order.
fn choose<'r, 'a>(
    request: &BuildRequest<'_>,
    mut ranked: Vec<(&'r LocalFamily<'a>, Ranked)>,
    notes: &mut Vec<Note>,
) -> Vec<Chosen<'r, 'a>> {
    if request.keep_order {
        let chosen = ranked
            .into_iter()
            .map(|(family, rank)| Chosen { family, rank });
        return chosen.collect();
    }
    ranked.sort_by(|(a, x), (b, y)| {
        (x.rejected.cmp(&y.rejected))
            .then(y.score.total_cmp(&x.score))
            .then_with(|| a.name.cmp(&b.name))
    });
    let best = |platform: &String| {
        let mut all = ranked.iter();
        all.find(|(family, _)| family.platforms.contains(platform))
            .map(|(_, measured)| (measured.rejected, measured.score))
    };
    let near = |measured: &Ranked, platform: &String| {
        best(platform).is_some_and(|(rejected, score)| {
            rejected == measured.rejected && measured.score >= score - SHARED
        })
    };
    // As few families as serve every platform with one that is near its best: the one that
    // serves most of those that are left comes first, the closest of equals.
    let mut left: BTreeSet<&String> = ranked.iter().flat_map(|(f, _)| &f.platforms).collect();
    let mut kept: Vec<(usize, Vec<&String>)> = Vec::new();
    while !left.is_empty() {
        let serves = |place: &usize| -> Vec<&String> {
            let (family, measured) = &ranked[*place];
            let of_family = family.platforms.iter();
            of_family
                .filter(|p| left.contains(p) && near(measured, p))
                .collect()
        };
        let most =
            (0..ranked.len()).max_by_key(|place| (serves(place).len(), std::cmp::Reverse(*place)));
        let Some(most) = most else { break };
        let serves = serves(&most);
        if serves.is_empty() {
            break;
        }
        left.retain(|platform| !serves.contains(platform));
        kept.push((most, serves));
    }
    // The order is one for all platforms, and each shows the first that it has.
    kept.sort_by_key(|(place, _)| *place);
    let mut moved = true;
    while moved {
        moved = false;
        for at in 1..kept.len() {
            let (before, after) = (&kept[at - 1], &kept[at]);
            let has = |platform: &&String| ranked[after.0].0.platforms.contains(platform);
            if after.1.len() > before.1.len() && !before.1.iter().any(has) {
                kept.swap(at - 1, at);
                moved = true;
            }
        }
    }
    for (place, platforms) in &kept {
        let (family, measured) = &ranked[*place];
        if measured.rejected {
            notes.push(Note::remark(
                "no-close-fallback",
                format!(
                    "nothing on {} is close to {}: {} comes closest, though {}",
                    list(platforms),
                    request.family,
                    family.name,
                    measured.reason
                ),
            ));
        }
    }
    let mut all: Vec<Option<_>> = ranked.into_iter().map(Some).collect();
    let kept = kept.into_iter().filter_map(|(place, _)| all[place].take());
    kept.map(|(family, rank)| Chosen { family, rank }).collect()
}

fn list(names: &[&String]) -> String {
    names
        .iter()
        .map(|name| name.as_str())
        .collect::<Vec<_>>()
        .join(", ")
}

/// The face of `family` that a text in `web` would show (CSS Fonts 4, §5.2).
fn pick<'a>(family: &LocalFamily<'a>, web: &Face) -> Option<&'a Face> {
    let traits: Vec<FaceTraits> = family.faces.iter().map(|face| traits_of(face)).collect();
    let asked = Asked {
        weight: web.weight(),
        stretch: web.width(),
        slope: match web.slope() {
            Slope::Normal => AskedSlope::Normal,
            Slope::Italic => AskedSlope::Italic,
            Slope::Oblique => AskedSlope::Oblique(14.0),
        },
    };
    matching(&traits, asked)
        .first()
        .map(|place| family.faces[*place])
}

fn traits_of(face: &Face) -> FaceTraits {
    FaceTraits {
        weight: Range::only(face.weight()),
        stretch: Range::only(face.width()),
        style: match face.slope() {
            Slope::Normal => FaceStyle::Normal,
            Slope::Italic => FaceStyle::Italic,
            Slope::Oblique => FaceStyle::Oblique {
                angles: Range::only(14.0),
            },
        },
    }
}

fn fit_family(
    request: &BuildRequest<'_>,
    Chosen { family, rank }: Chosen<'_, '_>,
    faces: &[(usize, &Face)],
    (fittings, set): FittedOn<'_, '_>,
    notes: &mut Vec<Note>,
) -> Option<Fitted> {
    let (mut made, mut designs) = (Vec::new(), Vec::new());
    for (((web, web_face), fitting), set) in faces.iter().zip(fittings).zip(set) {
        let Some(face) = pick(family, web_face) else {
            continue;
        };
        let local = local_names(face);
        if local.is_empty() {
            notes.push(Note::finding(
                "nameless",
                format!(
                    "{} has neither a full nor a PostScript name, so local() cannot find it; of a \
                     variable font pick a named position",
                    face.names().label()
                ),
            ));
            continue;
        }
        let Some(width) = fitting.fit(face, &options(request, web_face, set)) else {
            continue;
        };
        if !SIZE_ADJUSTS.contains(&width.mean_size_adjust()) {
            notes.push(Note::finding(
                "too-different",
                format!(
                    "{} would have to be resized to {:.2} % to set text as wide as {}; leave it \
                     out, or check that both files are what they should be",
                    face.names().label(),
                    width.mean_size_adjust(),
                    web_face.names().label()
                ),
            ));
            continue;
        }
        let without_overrides =
            WithoutOverrides::of(&web_face.line(), &face.line(), width.mean_size_adjust());
        made.push(StandInFace {
            web: *web,
            weight: web_face.weight(),
            slope: web_face.slope(),
            local,
            face: StackFace::of(face),
            held_to: None,
            width,
            lines: Vec::new(),
            line_height_specified: line_height_specified(request, set),
            without_overrides,
        });
        designs.push(vec![Design::of(face)]);
    }
    (!made.is_empty()).then(|| Fitted {
        stand_in: StandIn {
            family: String::new(),
            over: vec![family.name.clone()],
            platforms: family.platforms.clone(),
            rank,
            faces: made,
        },
        designs,
    })
}

/// How the stand-ins of `web` are fitted, in which pages set the texts `set`.
fn options(request: &BuildRequest<'_>, web: &Face, set: &[&SetText]) -> FitOptions {
    let decides = request.pin && !line_height_specified(request, set);
    FitOptions {
        most_factor: decides.then(|| most_factor(request, web)),
        exact: request.fit.exact || !set.is_empty(),
        ..request.fit.clone()
    }
}

/// Whether the `line-height` of all text in a face is stated.
fn line_height_specified(request: &BuildRequest<'_>, set: &[&SetText]) -> bool {
    let on_pages = !set.is_empty() && set.iter().all(|text| text.line_height_specified);
    request.line_height_specified || on_pages
}

/// See [`largest_even_factor`].
fn most_factor(request: &BuildRequest<'_>, web: &Face) -> f64 {
    let line = web.line();
    let line = line.ascent + line.descent + line.line_gap + request.taller / 100.0;
    largest_even_factor(line, &request.sizes)
}

/// Adds families of the same metrics to those that are known.
fn join(known: &mut Fitted, new: Fitted) {
    let add = |list: &mut Vec<String>, more: Vec<String>| {
        for name in more {
            if !list.contains(&name) {
                list.push(name);
            }
        }
    };
    add(&mut known.stand_in.over, new.stand_in.over);
    add(&mut known.stand_in.platforms, new.stand_in.platforms);
    let faces = known.stand_in.faces.iter_mut().zip(new.stand_in.faces);
    for (index, (face, other)) in faces.enumerate() {
        add(&mut face.local, other.local);
        for design in &new.designs[index] {
            if !known.designs[index].contains(design) {
                known.designs[index].push(*design);
            }
        }
    }
}

/// `"<web family> via <local family>"`; a name that two would have takes a number.
fn name_families(request: &BuildRequest<'_>, fitted: &mut [Fitted]) {
    let mut taken: Vec<String> = Vec::new();
    for Fitted { stand_in, .. } in fitted {
        let stem = format!("{} via {}", request.family, stand_in.over[0]);
        let mut name = stem.clone();
        let mut number = 2;
        while taken.contains(&name) {
            name = format!("{stem} {number}");
            number += 1;
        }
        taken.push(name.clone());
        stand_in.family = name;
    }
}

/// What `local()` can match: the full and the PostScript name.
pub(super) fn local_names(face: &Face) -> Vec<String> {
    let names = face.names();
    let mut local: Vec<String> = Vec::new();
    for name in [&names.full, &names.postscript].into_iter().flatten() {
        if !local.contains(name) {
            local.push(name.clone());
        }
    }
    local
}
