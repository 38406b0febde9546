//! PLY, text and binary in both byte orders: vertices with x, y, z and faces with a list of indices.

use super::{FoundMesh, ReadFault, at_most, damaged, fan, figure_limits};

#[derive(Clone, Copy, PartialEq)]
enum Coding {
    Text,
    Little,
    Big,
}

#[derive(Clone, Copy)]
enum Number {
    I8,
    U8,
    I16,
    U16,
    I32,
    U32,
    F32,
    F64,
}

enum Property {
    Single(Number, String),
    List { count: Number, item: Number, name: String },
}

struct Element {
    name: String,
    count: usize,
    properties: Vec<Property>,
}

pub(super) fn read(bytes: &[u8]) -> Result<FoundMesh, ReadFault> {
    let (coding, elements, rest) = header(bytes)?;
    let mut source = Source { coding, bytes: rest, at: 0 };
    let mut mesh = FoundMesh::default();
    for element in &elements {
        match element.name.as_str() {
            "vertex" => at_most("vertices", element.count, figure_limits::VERTICES)?,
            "face" => at_most("faces", element.count, figure_limits::TRIANGLES)?,
            _ => at_most("entries", element.count, 16 * figure_limits::VERTICES)?,
        }
        for _ in 0..element.count {
            entry(element, &mut source, &mut mesh)?;
        }
    }
    Ok(mesh)
}

fn entry(element: &Element, source: &mut Source, mesh: &mut FoundMesh) -> Result<(), ReadFault> {
    let mut at = [f32::NAN; 3];
    let mut polygon = Vec::new();
    for property in &element.properties {
        match property {
            Property::Single(kind, name) => {
                let value = source.number(*kind)?;
                if let Some(k) = ["x", "y", "z"].iter().position(|axis| axis == name) {
                    at[k] = value as f32;
                }
            }
            Property::List { count, item, name } => {
                let length = source.number(*count)?;
                if !(0.0..=1000.0).contains(&length) {
                    return Err(damaged(format!("a face with {length} corners")));
                }
                for _ in 0..length as usize {
                    let value = source.number(*item)?;
                    if name == "vertex_indices" || name == "vertex_index" {
                        if value < 0.0 {
                            return Err(damaged("a face names a vertex below 0"));
                        }
                        polygon.push(value as u32);
                    }
                }
            }
        }
    }
    match element.name.as_str() {
        "vertex" => mesh.positions.push(at),
        "face" => fan(&polygon, &mut mesh.triangles),
        _ => {}
    }
    Ok(())
}

fn header(bytes: &[u8]) -> Result<(Coding, Vec<Element>, &[u8]), ReadFault> {
    let mut coding = None;
    let mut elements: Vec<Element> = Vec::new();
    let mut rest = bytes;
    let mut number = 0;
    loop {
        let end = rest.iter().take(4096).position(|b| *b == b'\n').ok_or_else(|| damaged("its header does not end"))?;
        let line = std::str::from_utf8(&rest[..end]).map_err(|_| damaged("its header is no text"))?.trim();
        rest = &rest[end + 1..];
        number += 1;
        let words: Vec<&str> = line.split_whitespace().collect();
        match (number, words.as_slice()) {
            (1, ["ply"]) => {}
            (1, _) => return Err(damaged("it does not begin with `ply`")),
            (_, ["format", kind, _]) => {
                coding = Some(match *kind {
                    "ascii" => Coding::Text,
                    "binary_little_endian" => Coding::Little,
                    "binary_big_endian" => Coding::Big,
                    other => return Err(ReadFault::Unsupported(format!("the coding {other}"))),
                });
            }
            (_, ["element", name, count]) => {
                let count = count.parse().map_err(|_| damaged(format!("`{line}`")))?;
                elements.push(Element { name: (*name).to_owned(), count, properties: Vec::new() });
            }
            (_, ["property", "list", count, item, name]) => {
                let (count, item, name) = (kind_of(count)?, kind_of(item)?, (*name).to_owned());
                let last = elements.last_mut().ok_or_else(|| damaged(format!("`{line}`")))?;
                last.properties.push(Property::List { count, item, name });
            }
            (_, ["property", kind, name]) => {
                let last = elements.last_mut().ok_or_else(|| damaged(format!("`{line}`")))?;
                last.properties.push(Property::Single(kind_of(kind)?, (*name).to_owned()));
            }
            (_, ["end_header"]) => break,
            (_, ["comment" | "obj_info", ..] | []) => {}
            _ => return Err(damaged(format!("`{line}`"))),
        }
        if number > 1000 {
            return Err(damaged("its header does not end"));
        }
    }
    Ok((coding.ok_or_else(|| damaged("it does not name its coding"))?, elements, rest))
}

fn kind_of(word: &str) -> Result<Number, ReadFault> {
    Ok(match word {
        "char" | "int8" => Number::I8,
        "uchar" | "uint8" => Number::U8,
        "short" | "int16" => Number::I16,
        "ushort" | "uint16" => Number::U16,
        "int" | "int32" => Number::I32,
        "uint" | "uint32" => Number::U32,
        "float" | "float32" => Number::F32,
        "double" | "float64" => Number::F64,
        other => return Err(damaged(format!("the number kind `{other}`"))),
    })
}

struct Source<'a> {
    coding: Coding,
    bytes: &'a [u8],
    at: usize,
}

impl Source<'_> {
    fn number(&mut self, kind: Number) -> Result<f64, ReadFault> {
        if self.coding == Coding::Text { self.word() } else { self.binary(kind) }
    }

    fn word(&mut self) -> Result<f64, ReadFault> {
        let rest = &self.bytes[self.at..];
        let start = rest.iter().position(|b| !b.is_ascii_whitespace()).ok_or_else(|| damaged("it ends too early"))?;
        let length = rest[start..].iter().position(u8::is_ascii_whitespace).unwrap_or(rest.len() - start);
        self.at += start + length;
        let word = std::str::from_utf8(&rest[start..start + length]).map_err(|_| damaged("it is no text"))?;
        word.parse().map_err(|_| damaged(format!("`{word}` is no number")))
    }

    fn binary(&mut self, kind: Number) -> Result<f64, ReadFault> {
        macro_rules! value {
            ($t:ty) => {{
                const SIZE: usize = size_of::<$t>();
                let bytes = self.bytes.get(self.at..self.at + SIZE).and_then(|b| <[u8; SIZE]>::try_from(b).ok());
                let bytes = bytes.ok_or_else(|| damaged("it ends too early"))?;
                self.at += SIZE;
                (if self.coding == Coding::Little { <$t>::from_le_bytes(bytes) } else { <$t>::from_be_bytes(bytes) }) as f64
            }};
        }
        Ok(match kind {
            Number::I8 => value!(i8),
            Number::U8 => value!(u8),
            Number::I16 => value!(i16),
            Number::U16 => value!(u16),
            Number::I32 => value!(i32),
            Number::U32 => value!(u32),
            Number::F32 => value!(f32),
            Number::F64 => value!(f64),
        })
    }
}
