//! DICT and INDEX structures of CFF (Adobe Technical Note 5176, sections 4 and 5;
//! OpenType 1.9.1, CFF2).

use crate::CutError;
use crate::bytes::View;

/// An entry of a DICT: its operator and its operands, as bytes and as numbers.
#[derive(Debug, Clone)]
pub(crate) struct Entry {
    /// One byte, or 12 and another in the upper and the lower byte.
    pub(crate) operator: u16,
    pub(crate) bytes: Vec<u8>,
    /// Whole numbers; others as 0.
    pub(crate) numbers: Vec<i32>,
}

/// An operator that takes two bytes.
pub(crate) const fn escaped(operator: u16) -> u16 {
    0x0C00 | operator
}

/// Reads a DICT to its end.
pub(crate) fn read_dict(view: View<'_>) -> Result<Vec<Entry>, CutError> {
    let mut entries = Vec::new();
    let (mut at, mut start) = (0, 0);
    let mut numbers = Vec::new();
    while at < view.data.len() {
        let byte = view.u8(at)?;
        at += 1;
        match byte {
            // 22 and 23 are vsindex and blend in CFF2; 25 to 27 are reserved.
            0..=27 => {
                let end = at - 1;
                let operator = if byte == 12 {
                    at += 1;
                    escaped(u16::from(view.u8(at - 1)?))
                } else {
                    u16::from(byte)
                };
                view.spend(8)?;
                entries.push(Entry {
                    operator,
                    bytes: view.slice(start, end - start)?.to_vec(),
                    numbers: std::mem::take(&mut numbers),
                });
                start = at;
            }
            28 => {
                numbers.push(i32::from(view.i16(at)?));
                at += 2;
            }
            29 => {
                numbers.push(view.u32(at)? as i32);
                at += 4;
            }
            30 => {
                // A real number in half bytes, to a half byte of 15.
                numbers.push(0);
                while {
                    let pair = view.u8(at)?;
                    at += 1;
                    pair & 15 != 15 && pair >> 4 != 15
                } {}
            }
            32..=246 => numbers.push(i32::from(byte) - 139),
            247..=250 => {
                numbers.push((i32::from(byte) - 247) * 256 + i32::from(view.u8(at)?) + 108);
                at += 1;
            }
            251..=254 => {
                numbers.push(-(i32::from(byte) - 251) * 256 - i32::from(view.u8(at)?) - 108);
                at += 1;
            }
            31 | 255 => return Err(view.damaged("a DICT has a byte that means nothing")),
        }
    }
    Ok(entries)
}

/// The entry with this operator.
pub(crate) fn entry(entries: &[Entry], operator: u16) -> Option<&Entry> {
    entries.iter().find(|entry| entry.operator == operator)
}

/// The number of the entry with this operator as an offset.
pub(crate) fn offset(entries: &[Entry], operator: u16) -> Option<usize> {
    let number = entry(entries, operator)?.numbers.last()?;
    usize::try_from(*number).ok()
}

pub(crate) fn write_operator(dict: &mut Vec<u8>, operator: u16) {
    if operator >= 0x0C00 {
        dict.push(12);
    }
    dict.push(operator as u8);
}

/// A number in the five bytes that any offset fits.
pub(crate) fn write_offset(dict: &mut Vec<u8>, offset: usize) {
    dict.push(29);
    dict.extend_from_slice(&(offset as u32).to_be_bytes());
}

/// A number in as few bytes as it needs.
pub(crate) fn write_number(dict: &mut Vec<u8>, number: i32) {
    match number {
        -107..=107 => dict.push((number + 139) as u8),
        108..=1131 => {
            let rest = number - 108;
            dict.extend_from_slice(&[(rest >> 8) as u8 + 247, rest as u8]);
        }
        -32768..=32767 => {
            dict.push(28);
            dict.extend_from_slice(&(number as i16).to_be_bytes());
        }
        _ => write_offset(dict, number as usize),
    }
}

/// An INDEX: where its objects are.
pub(crate) struct Index<'a> {
    view: View<'a>,
    /// Bytes of an offset, and where the offsets start.
    size: usize,
    offsets: usize,
    pub(crate) count: usize,
    /// Where the INDEX ends.
    pub(crate) end: usize,
}

impl<'a> Index<'a> {
    /// The INDEX at `at`; counts are 16 bits in CFF and 32 in CFF2.
    pub(crate) fn read(view: View<'a>, at: usize, wide: bool) -> Result<Self, CutError> {
        let (count, head) = if wide {
            (view.u32(at)? as usize, 4)
        } else {
            (usize::from(view.u16(at)?), 2)
        };
        let mut index = Index {
            view,
            size: 1,
            offsets: at + head + 1,
            count,
            end: at + head,
        };
        if count > 0 {
            index.size = usize::from(view.u8(at + head)?);
            if !(1..=4).contains(&index.size) || count > 1 << 16 {
                return Err(view.damaged("an INDEX has an impossible size"));
            }
            index.end = index.start(count)?;
        }
        Ok(index)
    }

    /// Where object `number` starts.
    fn start(&self, number: usize) -> Result<usize, CutError> {
        let bytes = self
            .view
            .slice(self.offsets + number * self.size, self.size)?;
        let offset = bytes
            .iter()
            .fold(0usize, |value, byte| value << 8 | usize::from(*byte));
        // Offsets count from the byte before the objects.
        Ok(self.offsets + (self.count + 1) * self.size + offset.max(1) - 1)
    }

    pub(crate) fn get(&self, number: usize) -> Result<View<'a>, CutError> {
        if number >= self.count {
            return Err(self.view.damaged("an INDEX has no such object"));
        }
        let (start, end) = (self.start(number)?, self.start(number + 1)?);
        let data = self.view.slice(start, end.saturating_sub(start))?;
        Ok(View { data, ..self.view })
    }
}

/// An INDEX of `objects`.
pub(crate) fn write_index<B: AsRef<[u8]>>(objects: &[B], wide: bool) -> Vec<u8> {
    let mut bytes = Vec::new();
    if wide {
        bytes.extend_from_slice(&(objects.len() as u32).to_be_bytes());
    } else {
        bytes.extend_from_slice(&(objects.len() as u16).to_be_bytes());
    }
    if objects.is_empty() {
        return bytes;
    }
    let total: usize = objects.iter().map(|object| object.as_ref().len()).sum();
    let size = match total + 1 {
        0..=0xFF => 1,
        0x100..=0xFFFF => 2,
        0x1_0000..=0xFF_FFFF => 3,
        _ => 4,
    };
    bytes.push(size as u8);
    let mut offset = 1u32;
    bytes.extend_from_slice(&offset.to_be_bytes()[4 - size..]);
    for object in objects {
        offset += object.as_ref().len() as u32;
        bytes.extend_from_slice(&offset.to_be_bytes()[4 - size..]);
    }
    for object in objects {
        bytes.extend_from_slice(object.as_ref());
    }
    bytes
}
