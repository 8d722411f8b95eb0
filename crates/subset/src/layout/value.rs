//! Value records, anchors and device tables of GPOS and GDEF (OpenType 1.9.1, GPOS,
//! "Shared tables"; "Device and VariationIndex tables").

use std::sync::Arc;

use crate::CutError;
use crate::bytes::{Object, View};
use crate::variations::Remap;

/// A correction of a value: by pixel size, or along the axes of a variable font.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) enum Device {
    /// A device table as it stands, for sizes in pixels.
    Pixels(Vec<u8>),
    /// A delta set of the item variation store in GDEF.
    Variation { outer: u16, inner: u16 },
}

impl Device {
    fn read(view: View<'_>) -> Result<Option<Self>, CutError> {
        let (first, second, format) = (view.u16(0)?, view.u16(2)?, view.u16(4)?);
        Ok(match format {
            0x8000 => Some(Device::Variation {
                outer: first,
                inner: second,
            }),
            1..=3 if first <= second => {
                // 2, 4 or 8 bits for each size, packed into 16-bit words.
                let sizes = usize::from(second - first) + 1;
                let words = sizes.div_ceil(16 >> format);
                Some(Device::Pixels(view.slice(0, 6 + words * 2)?.to_vec()))
            }
            // Readers ignore what they do not know.
            _ => None,
        })
    }

    /// The device table that the offset at `at` leads to.
    pub(crate) fn at(view: View<'_>, at: usize) -> Result<Option<Arc<Self>>, CutError> {
        Ok(match view.link16(at)? {
            Some(device) => Device::read(device)?.map(Arc::new),
            None => None,
        })
    }

    pub(crate) fn object(&self, remap: &Remap) -> Option<Object> {
        let mut object = Object::new();
        match self {
            Device::Pixels(bytes) => {
                object.raw(bytes);
            }
            Device::Variation { outer, inner } => {
                let (outer, inner) = remap.get(*outer, *inner)?;
                object.u16(outer).u16(inner).u16(0x8000);
            }
        }
        Some(object)
    }
}

/// What the default is moved by, of a delta set: units, and whether it still varies.
pub(crate) type Shift<'s> = &'s mut dyn FnMut(u16, u16) -> (i32, bool);

/// Adds to a value what its device says of the new default.
pub(crate) fn shift(value: &mut i16, device: &mut Option<Arc<Device>>, shift: Shift<'_>) {
    let Some(Device::Variation { outer, inner }) = device.as_deref() else {
        return;
    };
    let (by, varies) = shift(*outer, *inner);
    let moved = i32::from(*value).saturating_add(by);
    *value = moved.clamp(i32::from(i16::MIN), i32::from(i16::MAX)) as i16;
    if !varies {
        *device = None;
    }
}

fn device(device: Option<&Arc<Device>>, remap: &Remap) -> Option<Object> {
    device.and_then(|device| device.object(remap))
}

/// A value record: placement x and y, advance x and y, and a device for each.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) struct Value {
    pub(crate) values: [i16; 4],
    pub(crate) devices: [Option<Arc<Device>>; 4],
}

impl Value {
    /// Reads a record of `format` at `at`; its devices lie from the start of `parent`.
    pub(crate) fn read(parent: View<'_>, at: usize, format: u16) -> Result<Self, CutError> {
        let mut value = Value::default();
        let mut at = at;
        parent.spend(2)?;
        for bit in 0..4 {
            if format >> bit & 1 == 1 {
                value.values[bit] = parent.i16(at)?;
                at += 2;
            }
        }
        for bit in 0..4 {
            if format >> (bit + 4) & 1 == 1 {
                value.devices[bit] = Device::at(parent, at)?;
                at += 2;
            }
        }
        Ok(value)
    }

    /// How many bytes a record of `format` takes.
    pub(crate) fn size(format: u16) -> usize {
        (format & 0xff).count_ones() as usize * 2
    }

    /// The least format that holds the record.
    pub(crate) fn format(&self) -> u16 {
        (0..4).fold(0, |format, bit| {
            let value = u16::from(self.values[bit] != 0) << bit;
            let device = u16::from(self.devices[bit].is_some()) << (bit + 4);
            format | value | device
        })
    }

    pub(crate) fn write(&self, object: &mut Object, format: u16, remap: &Remap) {
        for bit in 0..4 {
            if format >> bit & 1 == 1 {
                object.i16(self.values[bit]);
            }
        }
        for bit in 0..4 {
            if format >> (bit + 4) & 1 == 1 {
                object.maybe16(device(self.devices[bit].as_ref(), remap));
            }
        }
    }

    pub(crate) fn variations(&self, visit: &mut dyn FnMut(u16, u16)) {
        for device in self.devices.iter().flatten() {
            if let Device::Variation { outer, inner } = **device {
                visit(outer, inner);
            }
        }
    }

    pub(crate) fn shift(&mut self, by: Shift<'_>) {
        for (value, device) in self.values.iter_mut().zip(&mut self.devices) {
            shift(value, device, by);
        }
    }
}

/// An anchor: a point of a glyph, in font units.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(crate) struct Anchor {
    x: i16,
    y: i16,
    /// The outline's point that it follows where hints move points.
    point: Option<u16>,
    devices: [Option<Arc<Device>>; 2],
}

impl Anchor {
    /// The anchor that the offset at `at` leads to.
    pub(crate) fn at(view: View<'_>, at: usize) -> Result<Option<Arc<Self>>, CutError> {
        let Some(view) = view.link16(at)? else {
            return Ok(None);
        };
        let format = view.u16(0)?;
        let mut anchor = Anchor {
            x: view.i16(2)?,
            y: view.i16(4)?,
            point: None,
            devices: [None, None],
        };
        match format {
            1 => {}
            2 => anchor.point = Some(view.u16(6)?),
            3 => anchor.devices = [Device::at(view, 6)?, Device::at(view, 8)?],
            _ => return Err(view.damaged("an anchor has an unknown format")),
        }
        Ok(Some(Arc::new(anchor)))
    }

    pub(crate) fn shift(&mut self, by: Shift<'_>) {
        let [x, y] = &mut self.devices;
        shift(&mut self.x, x, by);
        shift(&mut self.y, y, by);
    }

    pub(crate) fn object(&self, remap: &Remap) -> Object {
        let devices = [
            device(self.devices[0].as_ref(), remap),
            device(self.devices[1].as_ref(), remap),
        ];
        let mut object = Object::new();
        let format = match (self.point, &devices) {
            (Some(_), _) => 2,
            (None, [None, None]) => 1,
            _ => 3,
        };
        object.u16(format).i16(self.x).i16(self.y);
        if let Some(point) = self.point {
            object.u16(point);
        } else if format == 3 {
            for device in devices {
                object.maybe16(device);
            }
        }
        object
    }

    pub(crate) fn variations(&self, visit: &mut dyn FnMut(u16, u16)) {
        for device in self.devices.iter().flatten() {
            if let Device::Variation { outer, inner } = **device {
                visit(outer, inner);
            }
        }
    }
}
