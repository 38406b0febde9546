//! Frames of a rehearsal for the stand and for files, read from the store.

use super::store::{self, Stored};
use crate::error::Failure;
use crate::forms::BodyShelf;
use crate::protocol::PieceSpan;
use crate::session::frames;
use body::Surface;
use costume::Refusal;
use formats::WHOLE_EVERY;
use serde::Serialize;
use sqlx::PgPool;
use std::sync::{Arc, Mutex, PoisonError};
use ts_rs::TS;
use workroom::Assembly;
use workroom::rehearsal::Course;

/// A rehearsal that is being looked at: what stays the same in all its frames, and the frame that was read last.
pub struct ShownRehearsal {
    pub costume_id: i64,
    pub assembly: Assembly,
    pub course: Course,
    pub fused: Vec<u32>,
    pub name: String,
    last: Mutex<Option<(usize, Vec<[i32; 3]>)>>,
}

/// The JSON head of the answer that says what stays the same.
#[derive(Serialize, TS)]
pub struct RehearsalHead {
    /// Vertices and triangles of the body.
    pub body_vertices: usize,
    pub body_triangles: usize,
    pub fps: f64,
    pub pieces: Vec<PieceSpan>,
    pub props: Vec<PropShown>,
}

/// A prop in its own frame.
#[derive(Serialize, TS)]
pub struct PropShown {
    pub name: String,
    /// m.
    pub corners: Vec<[f32; 3]>,
    pub triangles: Vec<[u32; 3]>,
}

impl ShownRehearsal {
    /// Makes it ready; blocks, so call it off the async threads.
    pub fn new(forms: &BodyShelf, stored: Stored) -> Result<Arc<Self>, Refusal> {
        let assembly = forms.hang(&stored.asked.costume)?;
        let figure = assembly.form.figure.clone();
        let motion = stored.asked.motion.on(&figure)?;
        let course = Course::new(figure, &stored.asked.costume.body, motion, stored.asked.plan)?;
        if stored.fused.len() != assembly.scene.positions.len() || stored.fused.iter().any(|v| *v as usize >= stored.fused.len()) {
            return Err(Refusal::elsewhere(stored.name, "was recorded with another cut of the costume", "rehearse it again"));
        }
        let last = Mutex::new(None);
        Ok(Arc::new(Self { costume_id: stored.costume_id, assembly, course, fused: stored.fused, name: stored.name, last }))
    }

    /// Positions of the cloth in a frame, m, as they are stored.
    pub async fn cloth(&self, pool: &PgPool, id: i64, frame: usize) -> Result<Vec<[f32; 3]>, Failure> {
        let mut last = self.last.lock().unwrap_or_else(PoisonError::into_inner).clone();
        let whole = frame - frame % WHOLE_EVERY;
        if last.as_ref().is_none_or(|(at, _)| *at < whole || *at > frame) {
            last = None;
        }
        let from = last.as_ref().map_or(whole, |(at, _)| at + 1);
        if from <= frame {
            let stored = store::cloth(pool, id, from, frame).await?;
            if stored.len() != frame - from + 1 {
                return Err(Failure::NotFound("frame"));
            }
            for (k, bytes) in stored.iter().enumerate() {
                let at = from + k;
                let before = last.as_ref().filter(|_| !at.is_multiple_of(WHOLE_EVERY)).map(|l| l.1.as_slice());
                let places = formats::unpacked(bytes, before).filter(|p| p.len() == self.fused.len());
                last = Some((at, places.ok_or_else(|| Failure::Internal(format!("frame {at} of rehearsal {id} is damaged")))?));
            }
            self.last.lock().unwrap_or_else(PoisonError::into_inner).clone_from(&last);
        }
        Ok(last.map(|l| formats::off_lattice(&l.1)).unwrap_or_default())
    }

    /// The body in a frame, m.
    pub fn body(&self, frame: usize) -> Surface {
        let (posed, way) = self.course.body_at(frame);
        let mut surface = posed.surface;
        for p in &mut surface.positions {
            *p = [0, 1, 2].map(|k| p[k] + way[k] as f32);
        }
        surface
    }

    /// What stays the same: JSON length (u32, little-endian), JSON padded with spaces to a multiple of four, the layout message
    /// of the cloth with its length before it, triangles of the body.
    pub fn layout(&self, generation: u32) -> Vec<u8> {
        let body = &self.course.figure.surface;
        let prop = |(name, corners, triangles): (String, Vec<glam::Vec3>, Vec<[u32; 3]>)| PropShown {
            name,
            corners: corners.iter().map(|p| p.to_array()).collect(),
            triangles,
        };
        let head = RehearsalHead {
            body_vertices: body.positions.len(),
            body_triangles: body.triangles.len(),
            fps: self.course.plan.fps,
            pieces: PieceSpan::all(&self.assembly),
            props: self.course.props().into_iter().map(prop).collect(),
        };
        let cloth = frames::layout(generation, &self.assembly);
        let mut bytes = Vec::with_capacity(8 + cloth.len() + 12 * body.triangles.len());
        frames::put_head(&mut bytes, &head);
        // a layout is a multiple of four bytes long
        frames::put_message(&mut bytes, &cloth);
        bytes.extend(body.triangles.iter().flatten().flat_map(|v| v.to_le_bytes()));
        bytes
    }

    /// A frame: the message of the cloth and one alike of the body, each with its length before it (u32, little-endian), then
    /// twelve f32 a prop: the columns of where it is.
    pub fn frame(&self, generation: u32, frame: usize, cloth: &[[f32; 3]]) -> Vec<u8> {
        let scene = &self.assembly.scene;
        let body = self.body(frame);
        let alone: Vec<u32> = (0..body.positions.len() as u32).collect();
        let messages = [
            frames::cloth(generation, cloth, &scene.triangles, &self.fused),
            frames::cloth(generation, &body.positions, &body.triangles, &alone),
        ];
        let mut bytes = Vec::with_capacity(messages.iter().map(|m| m.len() + 8).sum());
        messages.iter().for_each(|message| frames::put_message(&mut bytes, message));
        for place in self.course.props_at(frame) {
            bytes.extend(place.to_cols_array().iter().flat_map(|v| (*v as f32).to_le_bytes()));
        }
        bytes
    }
}
