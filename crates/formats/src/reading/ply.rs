//! PLY, text and binary in both byte orders: vertices with x, y, z and faces with a list of indices.
//!
//! Numbers of any kind are taken as f64 first; what is no finite number is refused. Elements and properties of other names are
//! passed over at no cost of memory. The header is limited, and counts are held against the length of the file before anything is kept.

use super::budget::Budget;
use super::left_out::LeftOut;
use super::polygon::Cutter;
use super::{ImportedMesh, ReadFault, at_most, damaged, figure_limits};
use ply_rs_bw::parser::{Parser, Reader};
use ply_rs_bw::ply::{ElementDef, Encoding, Header, Property, PropertyAccess, PropertyAccessResult, PropertyType, ScalarType};

/// Longest line of a text file, bytes; the parser keeps the words of a line.
const LONGEST_LINE: usize = 1 << 20;

/// A vertex or a face; what else a file says about either is passed over.
#[derive(Debug)]
struct Entry {
    at: [f64; 3],
    corners: Vec<u32>,
    /// An index that no vertex can have.
    wrong: bool,
}

/// Reads PLY as text or binary: vertices and faces; other elements are passed over.
pub(super) fn read(bytes: &[u8], budget: &mut Budget) -> Result<ImportedMesh, ReadFault> {
    let mut reader = Reader::new(bytes);
    let parser = Parser::<Entry>::new();
    let header = header(&parser, &mut reader, bytes)?;
    afford(&header, bytes.len(), budget)?;
    if header.encoding == Encoding::Ascii && bytes.split(|b| *b == b'\n').any(|line| line.len() > LONGEST_LINE) {
        return Err(damaged("a line of more than a megabyte"));
    }
    let mut mesh = ImportedMesh::default();
    let mut faces = Vec::new();
    for element in header.elements.values() {
        let entries = parser.read_payload_for_element(&mut reader, element, &header).map_err(damaged)?;
        match element.name.as_str() {
            "vertex" => mesh.positions = entries.into_iter().map(|e| e.at.map(|v| v as f32)).collect(),
            "face" => faces = entries,
            _ if !entries.is_empty() => drop(mesh.left_out.insert(LeftOut::PointsAndLines)),
            _ => {}
        }
    }
    let mut cutter = Cutter::new();
    for face in &faces {
        if face.wrong {
            return Err(damaged("a face names a vertex below 0"));
        }
        cutter.cut(&face.corners, &mesh.positions, budget, (&mut mesh.triangles, &mut mesh.left_out))?;
    }
    Ok(mesh)
}

/// The header, read from no more than its own bytes.
fn header(parser: &Parser<Entry>, reader: &mut Reader<&[u8]>, bytes: &[u8]) -> Result<Header, ReadFault> {
    /// Longest header, bytes.
    const LONGEST: usize = 64 << 10;
    let end = b"end_header";
    let head = &bytes[..bytes.len().min(LONGEST)];
    if !head.windows(end.len()).any(|w| w == end) {
        return Err(damaged("its header does not end"));
    }
    let header = parser.read_header(reader).map_err(damaged)?;
    // of several elements of one name the parser keeps the last, and would read the wrong bytes
    let names = head.split(|b| *b == b'\n').take_while(|l| !l.starts_with(end)).filter(|l| l.starts_with(b"element ")).count();
    if names != header.elements.len() {
        return Err(damaged("two of its elements have the same name"));
    }
    Ok(header)
}

/// Refuses what the header announces before anything is read; what is announced must also be there.
fn afford(header: &Header, bytes: usize, budget: &mut Budget) -> Result<(), ReadFault> {
    for element in header.elements.values() {
        match element.name.as_str() {
            "vertex" => budget.vertices(element.count)?,
            "face" => at_most("faces", element.count, figure_limits::TRIANGLES)?,
            _ => at_most("entries", element.count, figure_limits::VERTICES)?,
        }
        if element.properties.is_empty() && element.count > 0 {
            return Err(damaged(format!("its element `{}` has no properties", element.name)));
        }
        budget.numbers(element.count.saturating_mul(element.properties.len()))?;
        // an entry takes a byte at least
        if element.count > bytes {
            return Err(damaged("it ends too early"));
        }
        kinds(element)?;
    }
    Ok(())
}

/// Lists are counted by whole numbers.
fn kinds(element: &ElementDef) -> Result<(), ReadFault> {
    let real = |kind: &ScalarType| matches!(kind, ScalarType::Float | ScalarType::Double);
    let wrong = element.properties.values().any(|p| matches!(&p.data_type, PropertyType::List(count, _) if real(count)));
    if wrong { Err(damaged("a list that is counted by fractions")) } else { Ok(()) }
}

impl Entry {
    /// One number of a vertex or a face.
    fn single(&mut self, name: &str, value: f64) -> PropertyAccessResult {
        match ["x", "y", "z"].iter().position(|axis| *axis == name) {
            Some(k) => self.at[k] = value,
            None => return PropertyAccessResult::Ignored,
        }
        PropertyAccessResult::Set
    }

    /// A list of a face: its corners.
    fn list<T: Copy + TryInto<u32>>(&mut self, name: &str, values: &[T]) -> PropertyAccessResult {
        if name != "vertex_indices" && name != "vertex_index" {
            return PropertyAccessResult::Ignored;
        }
        self.corners = values.iter().map_while(|v| (*v).try_into().ok()).collect();
        self.wrong = self.corners.len() != values.len();
        PropertyAccessResult::Set
    }
}

macro_rules! singles {
    ($($name:ident: $t:ty),*) => {
        $(fn $name(&mut self, name: &str, value: $t) -> PropertyAccessResult {
            self.single(name, f64::from(value))
        })*
    };
}

macro_rules! lists {
    ($($name:ident: $t:ty),*) => {
        $(fn $name(&mut self, name: &str, values: Vec<$t>) -> PropertyAccessResult {
            self.list(name, &values)
        })*
    };
}

impl PropertyAccess for Entry {
    /// Without any value yet.
    fn new() -> Self {
        Self { at: [f64::NAN; 3], corners: Vec::new(), wrong: false }
    }
    /// Called for each property by the library; those that are not wanted are dropped.
    fn set_property(&mut self, _: &str, _: Property) -> PropertyAccessResult {
        PropertyAccessResult::Ignored
    }
    singles!(set_char: i8, set_uchar: u8, set_short: i16, set_ushort: u16, set_int: i32, set_uint: u32, set_float: f32, set_double: f64);
    lists!(
        set_list_char: i8, set_list_uchar: u8, set_list_short: i16, set_list_ushort: u16, set_list_int: i32, set_list_uint: u32
    );
}
