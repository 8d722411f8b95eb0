//! Lookups of GSUB (OpenType 1.9.1, GSUB, lookup types 1 to 8).

use super::common::{coverage, coverage_object, kept_set};
use super::context::Context;
use super::table::{LookupMap, Subtable};
use crate::CutError;
use crate::bytes::{Object, View};
use crate::glyphs::GlyphMap;
use crate::variations::Remap;

use super::value::Shift;

/// A ligature: the parts after the first, and the glyph that they become.
#[derive(Debug, Clone)]
pub(crate) struct Ligature {
    pub(crate) parts: Vec<u16>,
    pub(crate) glyph: u16,
}

/// A subtable of GSUB.
#[derive(Debug, Clone)]
pub(crate) enum Substitution {
    /// One glyph for one.
    Single(Vec<(u16, u16)>),
    /// Several glyphs for one.
    Multiple(Vec<(u16, Vec<u16>)>),
    /// One of several glyphs for one.
    Alternate(Vec<(u16, Vec<u16>)>),
    /// One glyph for several, by the first.
    Ligature(Vec<(u16, Vec<Ligature>)>),
    /// Other lookups in a context.
    Context(Context),
    /// One glyph for one in a context, from the end of the text.
    Reverse {
        pairs: Vec<(u16, u16)>,
        backtrack: Vec<Vec<u16>>,
        lookahead: Vec<Vec<u16>>,
    },
}

/// What the offsets behind the coverage table lead to, with their glyphs.
fn by_glyph<T>(
    view: View<'_>,
    read: impl Fn(View<'_>) -> Result<T, CutError>,
) -> Result<Vec<(u16, T)>, CutError> {
    if view.u16(0)? != 1 {
        return Err(view.damaged("a lookup has an unknown format"));
    }
    let glyphs = coverage(view.follow16(2)?)?;
    let count = usize::from(view.u16(4)?);
    glyphs
        .into_iter()
        .take(count)
        .enumerate()
        .map(|(index, glyph)| {
            view.spend(8)?;
            Ok((glyph, read(view.follow16(6 + index * 2)?)?))
        })
        .collect()
}

fn sequence(view: View<'_>) -> Result<Vec<u16>, CutError> {
    view.u16s(2, usize::from(view.u16(0)?))
}

fn ligatures(view: View<'_>) -> Result<Vec<Ligature>, CutError> {
    (0..usize::from(view.u16(0)?))
        .map(|index| {
            let ligature = view.follow16(2 + index * 2)?;
            view.spend(8)?;
            let parts = usize::from(ligature.u16(2)?).saturating_sub(1);
            Ok(Ligature {
                glyph: ligature.u16(0)?,
                parts: ligature.u16s(4, parts)?,
            })
        })
        .collect()
}

fn single(view: View<'_>) -> Result<Vec<(u16, u16)>, CutError> {
    let glyphs = coverage(view.follow16(2)?)?;
    match view.u16(0)? {
        1 => {
            let delta = view.u16(4)?;
            let shifted = |glyph: u16| (glyph, glyph.wrapping_add(delta));
            Ok(glyphs.into_iter().map(shifted).collect())
        }
        2 => {
            let to = view.u16s(6, usize::from(view.u16(4)?))?;
            Ok(glyphs.into_iter().zip(to).collect())
        }
        _ => Err(view.damaged("a single substitution has an unknown format")),
    }
}

fn reverse(view: View<'_>) -> Result<Substitution, CutError> {
    if view.u16(0)? != 1 {
        return Err(view.damaged("a reverse substitution has an unknown format"));
    }
    let glyphs = coverage(view.follow16(2)?)?;
    let mut at = 4;
    let mut sets = || -> Result<Vec<Vec<u16>>, CutError> {
        let count = usize::from(view.u16(at)?);
        let start = at + 2;
        at = start + count * 2;
        (0..count)
            .map(|index| coverage(view.follow16(start + index * 2)?))
            .collect()
    };
    let (backtrack, lookahead) = (sets()?, sets()?);
    let to = view.u16s(at + 2, usize::from(view.u16(at)?))?;
    Ok(Substitution::Reverse {
        pairs: glyphs.into_iter().zip(to).collect(),
        backtrack,
        lookahead,
    })
}

impl Subtable for Substitution {
    const TABLE: &'static str = "GSUB";
    const EXTENSION: u16 = 7;
    const PLACES: bool = false;

    fn read(kind: u16, view: View<'_>) -> Result<Option<Self>, CutError> {
        Ok(Some(match kind {
            1 => Substitution::Single(single(view)?),
            2 => Substitution::Multiple(by_glyph(view, sequence)?),
            3 => Substitution::Alternate(by_glyph(view, sequence)?),
            4 => Substitution::Ligature(by_glyph(view, ligatures)?),
            5 => Substitution::Context(Context::read(view, false)?),
            6 => Substitution::Context(Context::read(view, true)?),
            8 => reverse(view)?,
            _ => return Ok(None),
        }))
    }

    fn context(&self) -> Option<&Context> {
        match self {
            Substitution::Context(context) => Some(context),
            _ => None,
        }
    }

    fn cut(&self, map: &GlyphMap) -> Option<Self> {
        let all = |glyphs: &[u16]| -> Option<Vec<u16>> {
            glyphs.iter().map(|glyph| map.get(*glyph)).collect()
        };
        let pairs = |pairs: &[(u16, u16)]| {
            kept(pairs, map, |to| map.get(*to)).filter(|kept| !kept.is_empty())
        };
        Some(match self {
            Substitution::Single(of) => Substitution::Single(pairs(of)?),
            Substitution::Multiple(of) => Substitution::Multiple(kept(of, map, |to| all(to))?),
            Substitution::Alternate(of) => {
                let some = |to: &Vec<u16>| {
                    let left: Vec<u16> = to.iter().filter_map(|glyph| map.get(*glyph)).collect();
                    Some(left).filter(|left| !left.is_empty())
                };
                Substitution::Alternate(kept(of, map, some)?)
            }
            Substitution::Ligature(of) => {
                let some = |ligatures: &Vec<Ligature>| {
                    let cut = |ligature: &Ligature| {
                        Some(Ligature {
                            parts: all(&ligature.parts)?,
                            glyph: map.get(ligature.glyph)?,
                        })
                    };
                    let left: Vec<Ligature> = ligatures.iter().filter_map(cut).collect();
                    Some(left).filter(|left| !left.is_empty())
                };
                Substitution::Ligature(kept(of, map, some)?)
            }
            Substitution::Context(context) => Substitution::Context(context.cut(map)?),
            Substitution::Reverse {
                pairs: of,
                backtrack,
                lookahead,
            } => {
                let sets = |sets: &[Vec<u16>]| -> Option<Vec<Vec<u16>>> {
                    sets.iter().map(|set| kept_set(set, map)).collect()
                };
                Substitution::Reverse {
                    pairs: pairs(of)?,
                    backtrack: sets(backtrack)?,
                    lookahead: sets(lookahead)?,
                }
            }
        })
    }

    fn kind(&self) -> u16 {
        match self {
            Substitution::Single(_) => 1,
            Substitution::Multiple(_) => 2,
            Substitution::Alternate(_) => 3,
            Substitution::Ligature(_) => 4,
            Substitution::Context(context) => context.kind([5, 6]),
            Substitution::Reverse { .. } => 8,
        }
    }

    fn object(&self, lookups: &LookupMap, _: &Remap) -> Object {
        let mut object = Object::new();
        match self {
            Substitution::Single(pairs) => write_single(&mut object, pairs),
            Substitution::Multiple(of) | Substitution::Alternate(of) => {
                write_by_glyph(&mut object, of, |to| {
                    let mut sequence = Object::new();
                    sequence.count(to.len()).u16s(to.iter().copied());
                    sequence
                });
            }
            Substitution::Ligature(of) => write_by_glyph(&mut object, of, |ligatures| {
                let mut set = Object::new();
                set.count(ligatures.len());
                for ligature in ligatures {
                    let mut written = Object::new();
                    written.u16(ligature.glyph).count(ligature.parts.len() + 1);
                    written.u16s(ligature.parts.iter().copied());
                    set.link16(written);
                }
                set
            }),
            Substitution::Context(context) => return context.object(lookups),
            Substitution::Reverse {
                pairs,
                backtrack,
                lookahead,
            } => {
                let glyphs: Vec<u16> = pairs.iter().map(|(from, _)| *from).collect();
                object.u16(1).link16(coverage_object(&glyphs));
                for sets in [backtrack, lookahead] {
                    object.count(sets.len());
                    for set in sets {
                        object.link16(coverage_object(set));
                    }
                }
                object.count(pairs.len());
                object.u16s(pairs.iter().map(|(_, to)| *to));
            }
        }
        object
    }

    fn variations(&self, _: &mut dyn FnMut(u16, u16)) {}

    fn shift(&mut self, _: Shift<'_>) {}
}

/// What stays of records by glyph, by new id; `None` where nothing does.
pub(super) fn kept<T, U>(
    records: &[(u16, T)],
    map: &GlyphMap,
    cut: impl Fn(&T) -> Option<U>,
) -> Option<Vec<(u16, U)>> {
    let mut kept: Vec<(u16, U)> = (records.iter())
        .filter_map(|(glyph, record)| Some((map.get(*glyph)?, cut(record)?)))
        .collect();
    kept.sort_by_key(|(glyph, _)| *glyph);
    kept.dedup_by_key(|(glyph, _)| *glyph);
    (!kept.is_empty()).then_some(kept)
}

fn write_single(object: &mut Object, pairs: &[(u16, u16)]) {
    let glyphs: Vec<u16> = pairs.iter().map(|(from, _)| *from).collect();
    let mut deltas = pairs.iter().map(|(from, to)| to.wrapping_sub(*from));
    let first = deltas.next();
    match first.filter(|first| deltas.all(|delta| delta == *first)) {
        Some(delta) => {
            object.u16(1).link16(coverage_object(&glyphs)).u16(delta);
        }
        None => {
            object.u16(2).link16(coverage_object(&glyphs));
            object.count(pairs.len());
            object.u16s(pairs.iter().map(|(_, to)| *to));
        }
    }
}

fn write_by_glyph<T>(object: &mut Object, of: &[(u16, T)], write: impl Fn(&T) -> Object) {
    let glyphs: Vec<u16> = of.iter().map(|(glyph, _)| *glyph).collect();
    object.u16(1).link16(coverage_object(&glyphs));
    object.count(of.len());
    for (_, record) in of {
        object.link16(write(record));
    }
}
