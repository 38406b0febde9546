//! One costume hung, draped and looked at.

use crate::draping::drape_while;
use crate::{Assembly, DrapeReport, Prints, carry, drape_report};
use cloth::Drape;
use costume::{Costume, Refusal};

/// A drape that moves for longer than this is judged as it hangs, simulated seconds.
pub const LIMIT: f64 = 20.0;

/// A costume at rest, or as it hung when its time was over.
pub struct Trial {
    /// As it was hung.
    pub assembly: Assembly,
    pub drape: Drape,
    /// What was found.
    pub report: DrapeReport,
}

impl Trial {
    /// Hangs a costume and drapes it. `before` is cloth of the same pieces on the same body from which it goes on. None when `keep_on`,
    /// asked at every step, said no.
    pub fn of(
        costume: &Costume,
        hang: &mut dyn FnMut(&Costume) -> Result<Assembly, Refusal>,
        before: Option<(&Assembly, &[[f32; 3]])>,
        keep_on: &mut dyn FnMut() -> bool,
    ) -> Result<Option<Self>, Refusal> {
        let mut assembly = hang(costume)?;
        let mut scene = assembly.scene.clone();
        if let Some(carried) = before.and_then(|(old, at)| carry(old, at, &assembly)) {
            scene.positions = carried;
        }
        let mut drape = Drape::new(scene).map_err(|e| Refusal::elsewhere(&costume.name, e.to_string(), "look at the pieces' stations"))?;
        if !drape_while(&mut assembly, &mut drape, LIMIT, |_| keep_on())? {
            return Ok(None);
        }
        let report = drape_report(&assembly, &drape, 0.0);
        Ok(Some(Self { assembly, drape, report }))
    }

    /// A picture (PNG) from `turn` degrees beside the front.
    pub fn picture(&self, width: usize, height: usize, turn: f32) -> Vec<u8> {
        crate::picture(
            &self.assembly,
            &self.drape.positions(),
            self.drape.fused_with(),
            &Prints::of_motifs(&self.assembly.costume),
            (width, height),
            turn,
        )
    }
}
