//! What is printed on cloth, as pictures of a whole repeat: a motif of ours or a picture of the designer's over the colour of the
//! fabric. Table, stand, pictures and deliveries show the same.

mod motif;

pub use motif::{MOTIFS, Motif, motif};

use costume::{Costume, Fabric, FabricId, Print, Refusal};
use formats::{ColourPicture, Texture};
use std::collections::BTreeMap;
use std::sync::Arc;

/// Most pixels along a side of one repeat.
const FINEST: usize = 1024;
/// As many pixels along the longer side of a repeat of a motif.
const DRAWN: usize = 512;

/// The printed fabrics of a costume with their pictures.
#[derive(Clone, Debug, Default)]
pub struct Prints(BTreeMap<FabricId, Arc<Texture>>);

/// Files of pictures by their hashes.
pub type PictureFiles = BTreeMap<String, Vec<u8>>;

impl Prints {
    /// The hashes of the pictures that a costume prints.
    pub fn pictures(costume: &Costume) -> Vec<&str> {
        costume.fabrics.iter().filter_map(|f| f.print.as_ref()?.image.as_deref()).collect()
    }

    /// All prints of a costume; refused when a picture is missing or cannot be read.
    pub fn of(costume: &Costume, files: &PictureFiles) -> Result<Self, Refusal> {
        let mut made = BTreeMap::new();
        for fabric in &costume.fabrics {
            let Some(print) = &fabric.print else { continue };
            let file = print.image.as_ref().map(|hash| {
                files
                    .get(hash)
                    .ok_or_else(|| Refusal::elsewhere(&fabric.name, "the picture printed on it is missing", "bring the picture again"))
            });
            let file = file.transpose()?.map(Vec::as_slice);
            let picture = print_tile(&fabric.name, &fabric.colour, print, file)?;
            made.insert(fabric.id, Arc::new(Texture { name: format!("print {} {}", fabric.name, fabric.id.0), picture, once: print.once }));
        }
        Ok(Self(made))
    }

    /// Those with motifs of ours; fabrics with pictures of the designer's are plain.
    pub fn of_motifs(costume: &Costume) -> Self {
        let mut own = costume.clone();
        own.fabrics.iter_mut().filter(|f| f.print.as_ref().is_some_and(|p| p.image.is_some())).for_each(|f| f.print = None);
        Self::of(&own, &PictureFiles::new()).unwrap_or_default()
    }

    /// With pixels of so many mm, for pictures that show no finer ones.
    pub fn coarser(&self, costume: &Costume, mm: f64) -> Self {
        let coarse = |(id, texture): (&FabricId, &Arc<Texture>)| {
            let [width, height] = costume.fabric(*id)?.print.as_ref()?.tile().map(|side| (side / mm).ceil() as usize);
            let size = (width.clamp(1, texture.picture.width), height.clamp(1, texture.picture.height));
            Some((*id, Arc::new(Texture { picture: texture.picture.resized(size.0, size.1), ..(**texture).clone() })))
        };
        Self(self.0.iter().filter_map(coarse).collect())
    }

    /// What is printed on a fabric.
    pub fn on<'a>(&'a self, fabric: &'a Fabric) -> Option<(&'a Print, &'a Arc<Texture>)> {
        fabric.print.as_ref().zip(self.0.get(&fabric.id))
    }
}

/// A whole repeat of a print over a colour (`#rrggbb`): one column, or two with a half drop. `file` is the designer's picture;
/// `name` is who is told when it cannot be read.
pub fn print_tile(name: &str, base: &str, print: &Print, file: Option<&[u8]>) -> Result<ColourPicture, Refusal> {
    let under = bytes_of_colour(base);
    let cell = match file {
        Some(bytes) => {
            let read = |fault: formats::ReadFault| {
                Refusal::elsewhere(name, format!("its print: {fault}"), "bring the picture anew, as PNG or JPEG")
            };
            let found = formats::scan_colours(bytes).map_err(read)?;
            let (width, height) = sides(print, found.width.max(found.height).min(FINEST));
            let mut cell = found.resized(width, height);
            cell.pixels.iter_mut().for_each(|p| *p = over(under, *p, f64::from(p[3]) / 255.0));
            cell
        }
        None => {
            let unknown =
                || Refusal::elsewhere(name, format!("there is no motif `{}`", print.motif), "choose one of the motifs, or bring a picture");
            let (width, height) = sides(print, DRAWN);
            let ink = bytes_of_colour(&print.colour);
            let shares = motif(&print.motif).ok_or_else(unknown)?.ink(width, height);
            ColourPicture { width, height, pixels: shares.iter().map(|share| over(under, [ink[0], ink[1], ink[2], 255], *share)).collect() }
        }
    };
    Ok(if print.once {
        bordered(cell, under)
    } else if print.half_drop {
        half_dropped(&cell)
    } else {
        cell
    })
}

/// Pixels of a repeat whose longer side has so many.
fn sides(print: &Print, longest: usize) -> (usize, usize) {
    let (width, height) = (print.repeat, print.height.unwrap_or(print.repeat));
    let side = |mm: f64| ((mm / width.max(height) * longest as f64).round() as usize).clamp(1, longest.max(1));
    (side(width), side(height))
}

fn over(under: [u8; 4], ink: [u8; 4], share: f64) -> [u8; 4] {
    let mix = |k: usize| (f64::from(under[k]) + (f64::from(ink[k]) - f64::from(under[k])) * share).round() as u8;
    [mix(0), mix(1), mix(2), 255]
}

/// The outermost pixels in the colour of the cloth, which goes on from there.
fn bordered(mut cell: ColourPicture, under: [u8; 4]) -> ColourPicture {
    let (width, height) = (cell.width, cell.height);
    for (k, pixel) in cell.pixels.iter_mut().enumerate() {
        let (x, y) = (k % width, k / width);
        if x == 0 || y == 0 || x + 1 == width || y + 1 == height {
            *pixel = under;
        }
    }
    cell
}

/// Two columns, the second half a repeat lower.
fn half_dropped(cell: &ColourPicture) -> ColourPicture {
    let (width, height) = (cell.width, cell.height);
    let at = |k: usize| {
        let (x, y) = (k % (2 * width), k / (2 * width));
        let row = if x < width { y } else { (y + height - height / 2) % height };
        cell.pixels[row * width + x % width]
    };
    ColourPicture { width: 2 * width, height, pixels: (0..2 * width * height).map(at).collect() }
}

/// `#rrggbb`, opaque.
pub(crate) fn bytes_of_colour(hex: &str) -> [u8; 4] {
    let byte = |k: usize| hex.get(k..k + 2).and_then(|d| u8::from_str_radix(d, 16).ok()).unwrap_or(200);
    [byte(1), byte(3), byte(5), 255]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_picture_is_laid_over_the_colour_dropped_by_half_and_printed_once_with_a_border() {
        // four rows: red, clear, green, blue
        let rows = [[255, 0, 0, 255], [9, 9, 9, 0], [0, 255, 0, 255], [0, 0, 255, 255]];
        let file = ColourPicture { width: 4, height: 4, pixels: rows.iter().flat_map(|r| [*r; 4]).collect() }.png();
        let mut p = Print { image: Some("00".into()), half_drop: true, ..Print::of_motif("Mine", 40.0, "#000000") };
        let tile = print_tile("Canvas", "#102030", &p, Some(&file)).expect("a tile");
        assert_eq!((tile.width, tile.height, p.tile()), (8, 4, [80.0, 40.0]));
        let at = |t: &ColourPicture, x: usize, y: usize| t.pixels[y * t.width + x];
        assert_eq!([at(&tile, 0, 0), at(&tile, 0, 1)], [[255, 0, 0, 255], [16, 32, 48, 255]]);
        assert_eq!([at(&tile, 4, 2), at(&tile, 7, 3)], [[255, 0, 0, 255], [16, 32, 48, 255]], "two rows lower");
        (p.once, p.half_drop) = (true, false);
        let tile = print_tile("Canvas", "#102030", &p, Some(&file)).expect("a tile");
        assert_eq!([at(&tile, 0, 2), at(&tile, 1, 2)], [[16, 32, 48, 255], [0, 255, 0, 255]]);
        let refused = print_tile("Canvas", "#102030", &p, Some(&file[..50])).expect_err("refused");
        assert!(refused.to_string().contains("Canvas"), "{refused}");
        assert!(print_tile("Canvas", "#102030", &p, None).is_err_and(|r| r.to_string().contains("no motif `Mine`")));
    }

    #[test]
    fn a_repeat_is_as_wide_and_high_as_told() {
        let p = Print { height: Some(100.0), ..Print::of_motif("floats", 50.0, "#ffffff") };
        let tile = print_tile("Canvas", "#000000", &p, None).expect("a tile");
        assert_eq!((tile.width, tile.height), (256, 512));
    }
}
