//! Charstrings: outlines of CFF as programs, with their subroutines written out where
//! they are called (Adobe Technical Note 5177; OpenType 1.9.1, CFF2 CharString format).
//!
//! A font cut to some hundreds of glyphs has few subroutines left that are called more
//! than once, and the compression of WOFF2 finds what repeats by itself.

use super::dict::Index;
use crate::CutError;
use crate::bytes::View;

/// Subroutines that call subroutines, at most (Technical Note 5177, appendix B).
const DEEPEST: usize = 10;

/// What a charstring may call, and how it is read.
pub(crate) struct Programs<'a> {
    pub(crate) global: &'a Index<'a>,
    pub(crate) local: Option<&'a Index<'a>>,
    /// Whether these are charstrings of CFF2.
    pub(crate) second: bool,
    /// Regions for each `vsindex`, and which one is the default.
    pub(crate) regions: &'a [usize],
    pub(crate) default_regions: usize,
    pub(crate) hints: bool,
}

/// The operands that wait for their operator.
#[derive(Default)]
struct Operands {
    bytes: Vec<u8>,
    /// Where each number starts in the bytes.
    starts: Vec<usize>,
    depth: i64,
    /// The last number, if it was written as one.
    top: Option<i32>,
    /// Whether something was computed, so that starts and depth are not the same.
    computed: bool,
}

struct Flattener<'a> {
    programs: &'a Programs<'a>,
    out: Vec<u8>,
    operands: Operands,
    stems: usize,
    regions: usize,
    /// Whether an operator has taken the operands before: the first may hold the
    /// advance in addition.
    begun: bool,
    ended: bool,
}

/// The charstring without calls.
pub(crate) fn flatten(charstring: View<'_>, programs: &Programs<'_>) -> Result<Vec<u8>, CutError> {
    let mut flattener = Flattener {
        programs,
        out: Vec::with_capacity(charstring.data.len()),
        operands: Operands::default(),
        stems: 0,
        regions: programs.default_regions,
        begun: false,
        ended: false,
    };
    flattener.run(charstring, 0)?;
    if !flattener.ended {
        // What is left without an operator does nothing, but the advance may be there.
        flattener.out.append(&mut flattener.operands.bytes);
        if !programs.second {
            flattener.out.push(14);
        }
    }
    Ok(flattener.out)
}

impl Flattener<'_> {
    fn number(&mut self, bytes: &[u8], value: Option<i32>) {
        let operands = &mut self.operands;
        operands.starts.push(operands.bytes.len());
        operands.bytes.extend_from_slice(bytes);
        operands.depth += 1;
        operands.top = value;
    }

    /// Takes the number of a subroutine from the operands.
    fn callee<'i>(
        &mut self,
        view: View<'_>,
        index: Option<&Index<'i>>,
    ) -> Result<View<'i>, CutError> {
        let missing = || view.damaged("a charstring calls a subroutine that is not there");
        let index = index.ok_or_else(missing)?;
        let bias = match index.count {
            0..=1239 => 107,
            1240..=33899 => 1131,
            _ => 32768,
        };
        let number = self.operands.top.take().ok_or(CutError::NotSupported {
            what: "a font whose charstrings compute the numbers of their subroutines",
        })?;
        let start = self.operands.starts.pop().ok_or_else(missing)?;
        self.operands.bytes.truncate(start);
        self.operands.depth -= 1;
        let number = usize::try_from(number + bias).map_err(|_| missing())?;
        index.get(number)
    }

    fn run(&mut self, view: View<'_>, depth: usize) -> Result<(), CutError> {
        if depth > DEEPEST {
            return Err(view.damaged("subroutines call each other without an end"));
        }
        let mut at = 0;
        while at < view.data.len() && !self.ended {
            let byte = view.u8(at)?;
            at += 1;
            match byte {
                28 => {
                    let value = view.i16(at)?;
                    self.number(&view.data[at - 1..at + 2], Some(i32::from(value)));
                    at += 2;
                }
                32..=246 => {
                    self.number(&view.data[at - 1..at], Some(i32::from(byte) - 139));
                }
                247..=254 => {
                    let low = i32::from(view.u8(at)?);
                    let high = i32::from(byte);
                    let value = match byte {
                        247..=250 => (high - 247) * 256 + low + 108,
                        _ => -(high - 251) * 256 - low - 108,
                    };
                    self.number(&view.data[at - 1..at + 1], Some(value));
                    at += 1;
                }
                255 => {
                    // 16.16 fixed point.
                    view.u32(at)?;
                    self.number(&view.data[at - 1..at + 4], None);
                    at += 4;
                }
                10 | 29 => {
                    let index = if byte == 10 {
                        self.programs.local
                    } else {
                        Some(self.programs.global)
                    };
                    let callee = self.callee(view, index)?;
                    self.run(callee, depth + 1)?;
                }
                11 if !self.programs.second => return Ok(()),
                1 | 3 | 18 | 23 => {
                    self.stems += self.operands.depth.max(0) as usize / 2;
                    self.hint(&[byte]);
                }
                19 | 20 => {
                    self.stems += self.operands.depth.max(0) as usize / 2;
                    let mask = view.slice(at, self.stems.div_ceil(8))?;
                    at += mask.len();
                    self.hint(&[&[byte], mask].concat());
                }
                12 => {
                    let second = view.u8(at)?;
                    at += 1;
                    self.escaped(second);
                }
                14 if !self.programs.second => {
                    if self.operands.depth >= 4 {
                        return Err(CutError::NotSupported {
                            what: "a font with accents put together in the way of Type 1 fonts",
                        });
                    }
                    self.operator(&[byte]);
                    self.ended = true;
                }
                15 if self.programs.second => {
                    let index = usize::try_from(self.operands.top.unwrap_or(0)).unwrap_or(0);
                    self.regions = self.programs.regions.get(index).copied().unwrap_or(0);
                    self.operator(&[byte]);
                }
                16 if self.programs.second => {
                    let values = i64::from(self.operands.top.unwrap_or(0));
                    let operands = &mut self.operands;
                    operands.bytes.push(byte);
                    operands.depth -= 1 + values * self.regions as i64;
                    operands.top = None;
                    operands.computed = true;
                }
                _ => self.operator(&[byte]),
            }
            view.spend(self.out.len() as u64 / 4096)?;
        }
        Ok(())
    }

    /// An operator that takes all operands.
    fn operator(&mut self, bytes: &[u8]) {
        self.out.append(&mut self.operands.bytes);
        self.out.extend_from_slice(bytes);
        self.operands = Operands::default();
        self.begun = true;
    }

    /// Stems and their masks: left out without hints, but for the advance.
    fn hint(&mut self, bytes: &[u8]) {
        if self.programs.hints || self.operands.computed && !self.programs.second {
            self.operator(bytes);
            return;
        }
        let advance = !self.programs.second && !self.begun && self.operands.depth % 2 == 1;
        let mut left = Operands::default();
        if advance {
            let end = self.operands.starts.get(1).copied();
            let end = end.unwrap_or(self.operands.bytes.len());
            left.bytes = self.operands.bytes[..end].to_vec();
            left.starts = vec![0];
            left.depth = 1;
        }
        self.operands = left;
        self.begun = true;
    }

    /// Operators of two bytes: flexes take all operands, the others compute.
    fn escaped(&mut self, second: u8) {
        let change = match second {
            34..=37 => {
                self.operator(&[12, second]);
                return;
            }
            // and, or, add, sub, div, eq, drop, mul
            3 | 4 | 10 | 11 | 12 | 15 | 18 | 24 => -1,
            // put, roll
            20 | 30 => -2,
            // ifelse
            22 => -3,
            // random, dup
            23 | 27 => 1,
            _ => 0,
        };
        let operands = &mut self.operands;
        operands.bytes.extend_from_slice(&[12, second]);
        operands.depth += change;
        operands.top = None;
        operands.computed = true;
    }
}
