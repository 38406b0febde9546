//! Blocks of the upper body. The point where neck and shoulder meet is at y = 0, lengths run down from it; fronts are
//! drafted as their right half (x > 0), backs as their left half.

use super::drafting::{Draft, PieceDraft, at, curved, on};
use super::frame::{MEASURES, frame};
use super::sleeves::sleeve;
use super::{BlockValue, Recipe, Sheet};
use crate::Point;

const LENGTH: BlockValue = BlockValue::mm("length", "Length from the shoulder", 620.0, 300.0, 1500.0).share_of("back-waist", 1.53);
pub(super) const NECK: BlockValue = BlockValue::mm("neck", "Neck opened by", 15.0, 0.0, 100.0);

/// Front and back with side and shoulder seams, and a sleeve in the armhole. Lines of the front: hem, side, armhole,
/// shoulder, neck, fold; of the back: neck, shoulder, armhole, side, hem, fold.
fn sewn_body(front: PieceDraft, back: PieceDraft, sleeve: Option<PieceDraft>) -> Draft {
    let mut seams = vec![[vec![on(0, 1)], vec![on(1, 3).back()]], [vec![on(0, 3)], vec![on(1, 1).back()]]];
    let mut pieces = vec![front, back];
    if let Some(sleeve) = sleeve {
        pieces.push(sleeve);
        seams.push([vec![on(0, 2)], vec![on(2, 3).back()]]);
        seams.push([vec![on(1, 2)], vec![on(2, 2).back()]]);
        seams.push([vec![on(2, 1)], vec![on(2, 4).back()]]);
    }
    Draft { pieces, seams }
}

pub(super) const TEE: Recipe = Recipe {
    key: "tee",
    name: "T-shirt",
    help: "Front and back on the fold, sleeves with a cap that fits the armhole",
    measures: MEASURES,
    values: &[
        BlockValue::mm("ease", "Ease at the chest", 80.0, 0.0, 500.0).grown_from(20.0, "bust", 0.068),
        LENGTH,
        BlockValue::mm("sleeve", "Length of the sleeve", 240.0, 120.0, 800.0).share_of("arm-length", 0.425),
        BlockValue::mm("arm-ease", "Ease at the upper arm", 60.0, 20.0, 300.0).grown_from(-10.0, "upper-arm", 0.25),
        BlockValue::mm("cap-ease", "Ease of the cap", 5.0, 0.0, 60.0),
        NECK,
    ],
    draft: |s: &Sheet| {
        let f = frame(s, s.v("ease"), s.v("neck"));
        let low = -s.v("length").max(f.depth + 60.0);
        let mut front = vec![at(0.0, low), at(f.quarter, low)];
        front.extend(f.front_top());
        let mut back = f.back_top();
        back.extend([at(-f.quarter, low), at(0.0, low)]);
        let hung = |name, points, station| {
            let mut piece = PieceDraft::new(name, points);
            piece.fold = Some(5);
            piece.hang = Some((station, Point::new(0.0, -f.bust)));
            piece
        };
        let cap = sleeve(s, f.armhole_length(), s.v("cap-ease"), s.v("arm-ease"), s.v("sleeve"));
        sewn_body(hung("Front", front, "chest-front"), hung("Back", back, "chest-back"), Some(cap))
    },
};

pub(super) const TUNIC: Recipe = Recipe {
    key: "tunic",
    name: "T-shaped tunic",
    help: "Front and back on the fold with sleeves cut in one",
    measures: MEASURES,
    values: &[
        BlockValue::mm("ease", "Ease at the chest", 220.0, 100.0, 800.0),
        LENGTH.share_of("back-waist", 2.1),
        BlockValue::mm("sleeve", "Length of the sleeve", 380.0, 150.0, 900.0).share_of("arm-length", 0.67),
        BlockValue::mm("cuff", "Width of the sleeve", 210.0, 120.0, 500.0).share_of("wrist", 1.45),
        NECK.grown_from(-73.0, "bust", 0.1),
        BlockValue::mm("flare", "Flare at the hem", 200.0, 0.0, 1200.0),
    ],
    draft: |s: &Sheet| {
        let f = frame(s, s.v("ease"), s.v("neck"));
        // the upper edge falls by 34 degrees, as a raised arm hangs
        let (sin, cos) = 34f64.to_radians().sin_cos();
        let out = (f.shoulder - f.neck) / cos + s.v("sleeve");
        let top = (f.neck + out * cos, -out * sin);
        let cuff = (top.0 - s.v("cuff") * sin, top.1 - s.v("cuff") * cos);
        let foot = (f.quarter, -f.depth - 110.0);
        let low = -s.v("length").max(f.depth + 150.0);
        let hem = f.quarter + 0.25 * s.v("flare");
        let neck = |deep: f64| [(f.neck - 4.0, -0.6 * deep), (0.55 * f.neck, -deep)];
        let [a, b] = neck(f.before);
        let front = vec![
            at(0.0, low),
            at(hem, low),
            at(foot.0, foot.1),
            at(cuff.0, cuff.1),
            at(top.0, top.1),
            curved(f.neck, 0.0, a, b),
            at(0.0, -f.before),
        ];
        let [a, b] = neck(f.behind).map(|(x, y)| (-x, y));
        let back = vec![
            curved(0.0, -f.behind, b, a),
            at(-f.neck, 0.0),
            at(-top.0, top.1),
            at(-cuff.0, cuff.1),
            at(-foot.0, foot.1),
            at(-hem, low),
            at(0.0, low),
        ];
        let hung = |name, points, station| {
            let mut piece = PieceDraft::new(name, points);
            piece.fold = Some(6);
            piece.hang = Some((station, Point::new(0.0, -f.bust)));
            piece
        };
        let seams = vec![[vec![on(0, 1), on(0, 2)], vec![on(1, 4).back(), on(1, 3).back()]], [vec![on(0, 4)], vec![on(1, 1).back()]]];
        Draft { pieces: vec![hung("Front", front, "chest-front"), hung("Back", back, "chest-back")], seams }
    },
};

pub(super) const BODICE: Recipe = Recipe {
    key: "bodice",
    name: "Bodice",
    help: "Front and back to the waist, with waist darts and a bust dart in the side",
    measures: MEASURES,
    values: &[
        BlockValue::mm("ease", "Ease at the chest", 90.0, 20.0, 300.0),
        BlockValue::mm("waist-ease", "Ease at the waist", 90.0, 20.0, 300.0),
        BlockValue::mm("bust-dart", "Width of the bust dart", 20.0, 5.0, 60.0),
        NECK,
    ],
    draft: |s: &Sheet| {
        let f = frame(s, s.v("ease"), s.v("neck"));
        let waist = (0.25 * (s.m("waist") + s.v("waist-ease"))).min(f.quarter);
        let low = -s.m("back-waist") - 10.0;
        // half of what is over goes into the dart, the rest into the side
        let over = f.quarter - waist;
        // a narrow one stays where there is nothing over, so that the block has the same lines on every body
        let dart = (0.5 * over).clamp(6.0, 45.0);
        let bust = s.v("bust-dart").min(0.3 * (-f.depth - low));
        let mut front = vec![at(0.0, low - bust), at(waist + dart, low - bust)];
        front.extend(f.front_top());
        let mut back = f.back_top();
        back.extend([at(-waist - dart, low), at(0.0, low)]);
        let hung = |name, points, station| {
            let mut piece = PieceDraft::new(name, points);
            piece.fold = Some(5);
            piece.hang = Some((station, Point::new(0.0, -f.bust)));
            piece
        };
        let (mut one, mut two) = (hung("Front", front, "chest-front"), hung("Back", back, "chest-back"));
        let side = -f.depth - low;
        one.darts = vec![(1, 0.62, bust, 0.45 * f.quarter)];
        one.darts.push((0, 0.52, dart, 0.6 * side));
        two.darts = vec![(4, 0.5, dart, 0.8 * side)];
        sewn_body(one, two, None)
    },
};
