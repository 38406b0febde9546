//! USD text: meshes with their transforms, metres per unit and up axis. Layers, references and variants are not read.

use super::{FoundMesh, ReadFault, damaged, fan};
use glam::{DAffine3, DMat4, DQuat, DVec3};
use std::collections::HashMap;

/// A word, a text in quotes, or one of the signs `( ) [ ] { } = ,`.
#[derive(Clone, Debug, PartialEq)]
enum Token<'a> {
    Word(&'a str),
    Text(&'a str),
    Sign(char),
}

pub(super) fn read(bytes: &[u8]) -> Result<FoundMesh, ReadFault> {
    if bytes.starts_with(b"PXR-USDC") {
        return Err(ReadFault::Unsupported("the binary form of USD".into()));
    }
    let text = std::str::from_utf8(bytes).map_err(|_| damaged("it is no text"))?;
    if !text.starts_with("#usda") {
        return Err(damaged("it does not begin with `#usda`"));
    }
    let mut reader = Reader { tokens: tokens(text)?, at: 0, mesh: FoundMesh::default() };
    reader.layer()?;
    Ok(reader.mesh)
}

fn tokens(text: &str) -> Result<Vec<Token<'_>>, ReadFault> {
    let bytes = text.as_bytes();
    let mut found = Vec::new();
    let mut at = 0;
    while at < bytes.len() {
        match bytes[at] {
            b if b.is_ascii_whitespace() || b == b';' => at += 1,
            b'#' => at += text[at..].find('\n').unwrap_or(text.len() - at),
            quote @ (b'"' | b'\'' | b'@') => {
                let triple = text[at..].starts_with("\"\"\"");
                let (from, end) = if triple { (at + 3, "\"\"\"") } else { (at + 1, &text[at..at + 1]) };
                let length = text[from..].find(end).ok_or_else(|| damaged("a text that does not end"))?;
                if quote != b'@' {
                    found.push(Token::Text(&text[from..from + length]));
                }
                at = from + length + end.len();
            }
            b @ (b'(' | b')' | b'[' | b']' | b'{' | b'}' | b'=' | b',') => {
                found.push(Token::Sign(char::from(b)));
                at += 1;
            }
            _ => {
                let stops = |c: char| c.is_whitespace() || "()[]{}=,;\"'@#".contains(c);
                let length = text[at..].find(stops).unwrap_or(text.len() - at);
                found.push(Token::Word(&text[at..at + length.max(1)]));
                at += length.max(1);
            }
        }
    }
    Ok(found)
}

struct Reader<'a> {
    tokens: Vec<Token<'a>>,
    at: usize,
    mesh: FoundMesh,
}

/// Numbers and words of an attribute's value, flat.
#[derive(Default)]
struct Value<'a> {
    numbers: Vec<f64>,
    words: Vec<&'a str>,
}

impl<'a> Reader<'a> {
    fn peek(&self) -> Option<&Token<'a>> {
        self.tokens.get(self.at)
    }

    fn layer(&mut self) -> Result<(), ReadFault> {
        if self.peek() == Some(&Token::Sign('(')) {
            let settings = self.settings()?;
            self.mesh.unit = settings.get("metersPerUnit").and_then(|v| v.numbers.first().copied()).filter(|u| *u > 0.0).or(Some(0.01));
            self.mesh.z_up = settings.get("upAxis").and_then(|v| v.words.first()).map(|axis| *axis == "Z");
        }
        while self.peek().is_some() {
            if !self.prim(DAffine3::IDENTITY, 0)? {
                self.at += 1;
            }
        }
        Ok(())
    }

    /// The bracketed settings of a layer.
    fn settings(&mut self) -> Result<HashMap<&'a str, Value<'a>>, ReadFault> {
        self.at += 1;
        let mut found = HashMap::new();
        loop {
            match self.peek().cloned() {
                None => return Err(damaged("a bracket that does not close")),
                Some(Token::Sign(')')) => {
                    self.at += 1;
                    return Ok(found);
                }
                Some(Token::Word(name)) if self.tokens.get(self.at + 1) == Some(&Token::Sign('=')) => {
                    self.at += 2;
                    found.insert(name, self.value()?);
                }
                Some(Token::Sign('(' | '[' | '{')) => drop(self.value()?),
                Some(_) => self.at += 1,
            }
        }
    }

    /// One value: a word, a text or anything in brackets.
    fn value(&mut self) -> Result<Value<'a>, ReadFault> {
        let mut value = Value::default();
        let mut depth = 0usize;
        loop {
            match self.peek().ok_or_else(|| damaged("it ends too early"))? {
                Token::Sign('(' | '[' | '{') => depth += 1,
                Token::Sign(')' | ']' | '}') => depth = depth.checked_sub(1).ok_or_else(|| damaged("a bracket that was not opened"))?,
                Token::Sign(_) => {}
                Token::Text(text) => value.words.push(text),
                Token::Word(word) => match word.parse::<f64>() {
                    Ok(number) => value.numbers.push(number),
                    Err(_) => value.words.push(word),
                },
            }
            self.at += 1;
            if depth == 0 {
                return Ok(value);
            }
        }
    }

    /// A `def`, `over` or `class` with what it holds; false when there is none here.
    fn prim(&mut self, frame: DAffine3, depth: usize) -> Result<bool, ReadFault> {
        if !matches!(self.peek(), Some(Token::Word("def" | "over" | "class"))) {
            return Ok(false);
        }
        if depth > 64 {
            return Err(damaged("it nests too deep"));
        }
        self.at += 1;
        let mut kind = "";
        while let Some(token) = self.peek().cloned() {
            match token {
                Token::Sign('{') => break,
                Token::Sign('(') => drop(self.settings()?),
                Token::Word(word) => {
                    kind = word;
                    self.at += 1;
                }
                _ => self.at += 1,
            }
        }
        self.at += 1;
        self.body(kind, frame, depth)?;
        Ok(true)
    }

    fn body(&mut self, kind: &str, frame: DAffine3, depth: usize) -> Result<(), ReadFault> {
        let start = self.at;
        let attributes = self.attributes()?;
        let frame = frame * transform(&attributes);
        if kind == "Mesh" {
            self.add(&attributes, &frame)?;
        }
        let end = self.at;
        self.at = start;
        let mut open = 0usize;
        while self.at < end {
            if open == 0 && self.prim(frame, depth + 1)? {
                continue;
            }
            match self.peek() {
                Some(Token::Sign('{' | '(' | '[')) => open += 1,
                Some(Token::Sign('}' | ')' | ']')) => open = open.saturating_sub(1),
                _ => {}
            }
            self.at += 1;
        }
        self.at = end;
        Ok(())
    }

    /// Attributes directly in a prim, up to its closing bracket; nested prims are passed over.
    fn attributes(&mut self) -> Result<HashMap<&'a str, Value<'a>>, ReadFault> {
        let mut found = HashMap::new();
        let mut open = 0usize;
        loop {
            let token = self.peek().cloned().ok_or_else(|| damaged("a bracket that does not close"))?;
            let next = self.tokens.get(self.at + 1);
            match token {
                Token::Sign('}') if open == 0 => {
                    self.at += 1;
                    return Ok(found);
                }
                Token::Word(name) if open == 0 && next == Some(&Token::Sign('=')) => {
                    self.at += 2;
                    found.insert(name, self.value()?);
                    continue;
                }
                Token::Sign('{' | '(') => open += 1,
                Token::Sign('}' | ')') => open = open.saturating_sub(1),
                _ => {}
            }
            self.at += 1;
        }
    }

    fn add(&mut self, attributes: &HashMap<&str, Value>, frame: &DAffine3) -> Result<(), ReadFault> {
        let numbers = |name: &str| attributes.get(name).map_or(&[][..], |v| &v.numbers[..]);
        let first = self.mesh.positions.len() as u32;
        let points = numbers("points");
        self.mesh
            .positions
            .extend(points.chunks_exact(3).map(|p| frame.transform_point3(DVec3::new(p[0], p[1], p[2])).as_vec3().to_array()));
        let left_handed = attributes.get("orientation").is_some_and(|v| v.words.contains(&"leftHanded"));
        let mirrored = left_handed != (frame.matrix3.determinant() < 0.0);
        let indices = numbers("faceVertexIndices");
        let mut at = 0;
        for count in numbers("faceVertexCounts") {
            let count = *count as usize;
            let corners = indices.get(at..at + count).ok_or_else(|| damaged("a face without all its corners"))?;
            if corners.iter().any(|v| *v < 0.0 || *v >= (points.len() / 3) as f64) {
                return Err(damaged("a face names a vertex that is not there"));
            }
            let mut polygon: Vec<u32> = corners.iter().map(|v| first + *v as u32).collect();
            if mirrored {
                polygon.reverse();
            }
            fan(&polygon, &mut self.mesh.triangles);
            at += count;
        }
        Ok(())
    }
}

/// The transform of a prim from its `xformOp` attributes in their order.
fn transform(attributes: &HashMap<&str, Value>) -> DAffine3 {
    let Some(order) = attributes.get("xformOpOrder") else { return DAffine3::IDENTITY };
    let mut frame = DAffine3::IDENTITY;
    for name in &order.words {
        let (inverted, key) = name.strip_prefix("!invert!").map_or((false, *name), |key| (true, key));
        let Some(value) = attributes.get(key) else { continue };
        let n = &value.numbers[..];
        let vector = if n.len() >= 3 { DVec3::new(n[0], n[1], n[2]) } else { DVec3::ZERO };
        let radians = vector * std::f64::consts::PI / 180.0;
        let single = n.first().copied().unwrap_or(0.0).to_radians();
        let (x, y, z) = (DQuat::from_rotation_x(radians.x), DQuat::from_rotation_y(radians.y), DQuat::from_rotation_z(radians.z));
        let own = match key.split(':').nth(1).unwrap_or("") {
            "translate" => DAffine3::from_translation(vector),
            "scale" => DAffine3::from_scale(vector),
            "rotateXYZ" => DAffine3::from_quat(z * y * x),
            "rotateZYX" => DAffine3::from_quat(x * y * z),
            "rotateX" => DAffine3::from_rotation_x(single),
            "rotateY" => DAffine3::from_rotation_y(single),
            "rotateZ" => DAffine3::from_rotation_z(single),
            "orient" if n.len() == 4 => DAffine3::from_quat(DQuat::from_xyzw(n[1], n[2], n[3], n[0]).normalize()),
            // rows are written one after the other, points are rows
            "transform" if n.len() == 16 => DAffine3::from_mat4(DMat4::from_cols_slice(n)),
            _ => DAffine3::IDENTITY,
        };
        frame *= if inverted { own.inverse() } else { own };
    }
    frame
}
