//! Numbers of an accessor: of any component kind, normalised or not, sparse or not. Everything is checked against the
//! buffers before a byte is read.

use super::Buffers;
use crate::reading::budget::Budget;
use crate::reading::{ReadFault, damaged};
use gltf::Accessor;
use gltf::accessor::sparse::IndexType;
use gltf::accessor::{DataType, Dimensions};
use gltf::buffer::View;

/// Rows of `N` numbers; refuses an accessor of another shape.
pub(super) fn rows<const N: usize>(
    accessor: &Accessor,
    shape: Dimensions,
    buffers: &Buffers,
    budget: &mut Budget,
) -> Result<Vec<[f64; N]>, ReadFault> {
    if accessor.dimensions() != shape || shape.multiplicity() != N {
        return Err(damaged(format!("accessor {} is {:?} where {shape:?} is needed", accessor.index(), accessor.dimensions())));
    }
    budget.numbers(accessor.count().saturating_mul(N))?;
    let kind = accessor.data_type();
    let row = |bytes: &[u8]| {
        let size = kind.size();
        std::array::from_fn(|k| number(kind, accessor.normalized(), &bytes[k * size..]))
    };
    let mut found: Vec<[f64; N]> = match accessor.view() {
        None => vec![[0.0; N]; accessor.count()],
        Some(view) => {
            let stride = view.stride().unwrap_or(accessor.size());
            let place = Place { offset: accessor.offset(), stride, size: accessor.size(), count: accessor.count() };
            place.chunks(&view, buffers).ok_or_else(|| beyond(accessor))?.map(row).collect()
        }
    };
    if let Some(sparse) = accessor.sparse() {
        let (indices, values) = (sparse.indices(), sparse.values());
        let kind = match indices.index_type() {
            IndexType::U8 => DataType::U8,
            IndexType::U16 => DataType::U16,
            IndexType::U32 => DataType::U32,
        };
        let count = sparse.count();
        budget.numbers(count)?;
        let at = Place { offset: indices.offset(), stride: kind.size(), size: kind.size(), count };
        let of = Place { offset: values.offset(), stride: accessor.size(), size: accessor.size(), count };
        let (iv, vv) = (indices.view(), values.view());
        let at = at.chunks(&iv, buffers).ok_or_else(|| beyond(accessor))?;
        let of = of.chunks(&vv, buffers).ok_or_else(|| beyond(accessor))?;
        for (index, value) in at.zip(of) {
            *found.get_mut(number(kind, false, index) as usize).ok_or_else(|| beyond(accessor))? = row(value);
        }
    }
    if found.iter().flatten().all(|v| v.is_finite()) {
        Ok(found)
    } else {
        Err(damaged(format!("accessor {} holds values that are no numbers", accessor.index())))
    }
}

/// Refuses component kinds other than those that a use allows.
pub(super) fn of_kind(accessor: &Accessor, what: &str, allowed: &[DataType]) -> Result<(), ReadFault> {
    let kind = accessor.data_type();
    if allowed.contains(&kind) { Ok(()) } else { Err(damaged(format!("{what} of the kind {kind:?}"))) }
}

/// The refusal of an accessor that reaches beyond its buffer.
fn beyond(accessor: &Accessor) -> ReadFault {
    damaged(format!("accessor {} reaches beyond its buffer", accessor.index()))
}

/// Where values lie within a view.
struct Place {
    offset: usize,
    stride: usize,
    size: usize,
    count: usize,
}

impl Place {
    /// The bytes of every value; none when they are not all within the view and its buffer.
    fn chunks<'b>(&self, view: &View, buffers: &'b Buffers) -> Option<impl Iterator<Item = &'b [u8]> + use<'b>> {
        let buffer = buffers.get(view.buffer().index())?;
        let bytes = buffer.get(view.offset()..view.offset().checked_add(view.length())?)?;
        let last = match self.count {
            0 => 0,
            n => (n - 1).checked_mul(self.stride)?.checked_add(self.size)?,
        };
        let bytes = bytes.get(self.offset..self.offset.checked_add(last)?)?;
        let (stride, size) = (self.stride, self.size);
        (stride >= size).then(|| (0..self.count).map(move |k| &bytes[k * stride..k * stride + size]))
    }
}

/// One number at the start of `bytes`; normalised integers are shares of their largest value.
fn number(kind: DataType, normalised: bool, bytes: &[u8]) -> f64 {
    let share = |value: f64, most: f64| if normalised { (value / most).max(-1.0) } else { value };
    match kind {
        DataType::I8 => share(f64::from(bytes[0] as i8), 127.0),
        DataType::U8 => share(f64::from(bytes[0]), 255.0),
        DataType::I16 => share(f64::from(i16::from_le_bytes([bytes[0], bytes[1]])), 32767.0),
        DataType::U16 => share(f64::from(u16::from_le_bytes([bytes[0], bytes[1]])), 65535.0),
        DataType::U32 => f64::from(u32::from_le_bytes([bytes[0], bytes[1], bytes[2], bytes[3]])),
        DataType::F32 => f64::from(f32::from_le_bytes([bytes[0], bytes[1], bytes[2], bytes[3]])),
    }
}
