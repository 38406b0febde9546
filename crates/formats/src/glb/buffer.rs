//! The binary part of a glTF file: rows of numbers with their views and accessors.

use crate::Texture;
use gltf::json::accessor::{ComponentType, GenericComponentType, Type};
use gltf::json::buffer::{Buffer, Target, View};
use gltf::json::image::MimeType;
use gltf::json::texture::{MagFilter, MinFilter, Sampler, WrappingMode};
use gltf::json::validation::{Checked, USize64};
use gltf::json::{Accessor, Image, Index, Root, Value};

/// A document in the making with the bytes of its one buffer.
pub(super) struct Draft {
    /// The JSON part so far.
    pub root: Root,
    bytes: Vec<u8>,
}

/// What rows are for.
#[derive(Clone, Copy, PartialEq)]
pub(super) enum Use {
    /// An attribute of vertices; positions and times also tell their bounds.
    Vertices,
    Faces,
    Data,
}

impl Draft {
    /// Without any content.
    pub fn new() -> Self {
        Self { root: Root::default(), bytes: Vec::new() }
    }

    /// Appends bytes at a multiple of four.
    fn view(&mut self, bytes: Vec<u8>, target: Option<Target>) -> Index<View> {
        self.bytes.resize(self.bytes.len().next_multiple_of(4), 0);
        let view = self.root.push(View {
            buffer: Index::new(0),
            byte_length: USize64::from(bytes.len()),
            byte_offset: Some(USize64::from(self.bytes.len())),
            byte_stride: None,
            name: None,
            target: target.map(Checked::Valid),
            extensions: None,
            extras: Default::default(),
        });
        self.bytes.extend(bytes);
        view
    }

    /// A picture in the file, and how it lies on what is drawn with it.
    pub fn texture(&mut self, of: &Texture) -> Index<gltf::json::Texture> {
        let view = self.view(of.picture.png(), None);
        let source = self.root.push(Image {
            buffer_view: Some(view),
            mime_type: Some(MimeType("image/png".into())),
            name: Some(of.name.clone()),
            uri: None,
            extensions: None,
            extras: Default::default(),
        });
        let wrap = Checked::Valid(if of.once { WrappingMode::ClampToEdge } else { WrappingMode::Repeat });
        let filters = (Some(Checked::Valid(MagFilter::Linear)), Some(Checked::Valid(MinFilter::LinearMipmapLinear)));
        let sampler = Sampler { mag_filter: filters.0, min_filter: filters.1, wrap_s: wrap, wrap_t: wrap, ..Sampler::default() };
        let sampler = Some(self.root.push(sampler));
        self.root.push(gltf::json::Texture { name: Some(of.name.clone()), sampler, source, extensions: None, extras: Default::default() })
    }

    /// Appends bytes and describes them as `count` values of a kind.
    fn add(&mut self, bytes: Vec<u8>, to: Use, count: usize, kind: (ComponentType, Type)) -> Index<Accessor> {
        let target = match to {
            Use::Vertices => Some(Target::ArrayBuffer),
            Use::Faces => Some(Target::ElementArrayBuffer),
            Use::Data => None,
        };
        let view = self.view(bytes, target);
        self.root.push(Accessor {
            buffer_view: Some(view),
            byte_offset: None,
            count: USize64::from(count),
            component_type: Checked::Valid(GenericComponentType(kind.0)),
            type_: Checked::Valid(kind.1),
            min: None,
            max: None,
            name: None,
            normalized: false,
            sparse: None,
            extensions: None,
            extras: Default::default(),
        })
    }

    /// Rows of floats.
    pub fn floats<const N: usize>(&mut self, rows: &[[f32; N]], to: Use) -> Index<Accessor> {
        let shape = match N {
            1 => Type::Scalar,
            2 => Type::Vec2,
            3 => Type::Vec3,
            4 => Type::Vec4,
            _ => Type::Mat4,
        };
        self.add(rows.iter().flatten().flat_map(|v| v.to_le_bytes()).collect(), to, rows.len(), (ComponentType::F32, shape))
    }

    /// The same with smallest and largest values, as positions and times need them.
    pub fn bounded<const N: usize>(&mut self, rows: &[[f32; N]], to: Use) -> Index<Accessor> {
        let bound = |pick: fn(f32, f32) -> f32, start: f32| {
            Value::from((0..N).map(|k| rows.iter().map(|r| r[k]).fold(start, pick)).collect::<Vec<f32>>())
        };
        let at = self.floats(rows, to);
        let accessor = &mut self.root.accessors[at.value()];
        (accessor.min, accessor.max) = (Some(bound(f32::min, f32::INFINITY)), Some(bound(f32::max, f32::NEG_INFINITY)));
        at
    }

    /// Numbers of bones, four a vertex.
    pub fn bones(&mut self, rows: &[[u16; 4]]) -> Index<Accessor> {
        let bytes = rows.iter().flatten().flat_map(|v| v.to_le_bytes()).collect();
        self.add(bytes, Use::Vertices, rows.len(), (ComponentType::U16, Type::Vec4))
    }

    /// Triangle corners, as u32.
    pub fn indices(&mut self, indices: &[u32]) -> Index<Accessor> {
        let bytes = indices.iter().flat_map(|v| v.to_le_bytes()).collect();
        self.add(bytes, Use::Faces, indices.len(), (ComponentType::U32, Type::Scalar))
    }

    /// Header, JSON chunk (padded with spaces) and binary chunk (padded with zeros).
    pub fn finish(mut self) -> Vec<u8> {
        self.root.buffers = vec![Buffer {
            byte_length: USize64::from(self.bytes.len()),
            name: None,
            uri: None,
            extensions: None,
            extras: Default::default(),
        }];
        // every value in it is a finite number, a name or an index
        let mut json = self.root.to_vec().unwrap_or_default();
        json.resize(json.len().next_multiple_of(4), b' ');
        self.bytes.resize(self.bytes.len().next_multiple_of(4), 0);
        let total = 12 + 8 + json.len() + 8 + self.bytes.len();
        let mut out = Vec::with_capacity(total);
        out.extend_from_slice(b"glTF");
        for v in [2u32, total as u32, json.len() as u32] {
            out.extend_from_slice(&v.to_le_bytes());
        }
        out.extend_from_slice(b"JSON");
        out.extend(json);
        out.extend_from_slice(&(self.bytes.len() as u32).to_le_bytes());
        out.extend_from_slice(b"BIN\0");
        out.extend(self.bytes);
        out
    }
}
