//! Swatches in the textile laboratory: what they were measured to do.

use workroom::cloth_fabric;
use workroom::laboratory::{bending_length, drape_test, expected_elongation, peirce, strip_elongation};

fn cloth(key: &str) -> cloth::Fabric {
    cloth_fabric(costume::swatch(key).expect("a swatch"))
}

#[test]
fn a_cantilever_reads_peirces_bending_length() {
    for key in ["calico", "denim", "silk-charmeuse", "soft-leather", "tulle"] {
        for warp in [true, false] {
            let ratio = bending_length(&cloth(key), warp, 0.005).expect("a test") / peirce(&cloth(key), warp);
            assert!((ratio - 1.0).abs() < 0.05, "{key}, warp {warp}: {ratio}");
        }
    }
}

#[test]
fn a_strip_stretches_by_its_weight_over_its_stiffness_warp_and_weft() {
    for key in ["single-jersey", "wool-flannel"] {
        for warp in [true, false] {
            let fabric = cloth(key);
            let ratio = strip_elongation(&fabric, warp, 1.0).expect("a test") / expected_elongation(&fabric, warp, 1.0);
            assert!((ratio - 1.0).abs() < 0.02, "{key}, warp {warp}: {ratio}");
        }
    }
}

#[test]
fn soft_cloth_hangs_and_stiff_cloth_stands_in_the_order_of_the_book() {
    let coefficient = |key: &str| 100.0 * drape_test(&cloth(key), 0.01).expect("a test").coefficient;
    let mut before = 0.0;
    for key in ["single-jersey", "wool-flannel", "denim", "soft-leather"] {
        let (c, swatch) = (coefficient(key), costume::swatch(key).expect("a swatch"));
        assert!((swatch.drape_low..=swatch.drape_high).contains(&c), "{key}: {c:.0} %");
        assert!(c > before, "{key}: {c:.0} % after {before:.0} %");
        before = c;
    }
}
