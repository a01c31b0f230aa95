//! Pictures of the bench: squaring one up, and finding the timber in it.
//!
//! - this file: a picture in memory, and squaring it up
//! - [`squaring`]: how a photo was squared up
//! - [`trace`]: outlines of the timber by its contrast with what lies under it

pub mod squaring;
pub mod trace;

use crate::geometry::Point;
use crate::geometry::homography::{Homography, Pixel};
use fondant_quantities::Length;

/// A picture: rows from the top, three bytes a pixel, red, green and blue.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Raster {
    width: usize,
    height: usize,
    rgb: Vec<u8>,
}

impl Raster {
    /// From its bytes; `None` where their number is not that of the size.
    #[must_use]
    pub fn new(width: usize, height: usize, rgb: Vec<u8>) -> Option<Self> {
        let bytes = width.checked_mul(height)?.checked_mul(3)?;
        (bytes == rgb.len() && bytes > 0).then_some(Self { width, height, rgb })
    }

    /// Pixels across.
    #[must_use]
    pub fn width(&self) -> usize {
        self.width
    }

    /// Pixels down.
    #[must_use]
    pub fn height(&self) -> usize {
        self.height
    }

    /// Pixels as RGB bytes, row by row.
    #[must_use]
    pub fn rgb(&self) -> &[u8] {
        &self.rgb
    }

    fn at(&self, x: usize, y: usize) -> [f64; 3] {
        let i = 3 * (y.min(self.height - 1) * self.width + x.min(self.width - 1));
        [0, 1, 2].map(|c| f64::from(self.rgb[i + c]))
    }

    /// The colour between pixels, by its four neighbours; beyond the picture,
    /// that of its edge.
    fn between(&self, x: f64, y: f64) -> [f64; 3] {
        let held = |v: f64, most: usize| {
            if v.is_finite() { v.clamp(0.0, (most - 1) as f64) } else { 0.0 }
        };
        let (x, y) = (held(x - 0.5, self.width), held(y - 0.5, self.height));
        let (x0, y0) = (x.floor(), y.floor());
        let (dx, dy) = (x - x0, y - y0);
        let (x0, y0) = (x0 as usize, y0 as usize);
        let (a, b) = (self.at(x0, y0), self.at(x0 + 1, y0));
        let (c, d) = (self.at(x0, y0 + 1), self.at(x0 + 1, y0 + 1));
        [0, 1, 2].map(|i| {
            (a[i] * (1.0 - dx) + b[i] * dx) * (1.0 - dy) + (c[i] * (1.0 - dx) + d[i] * dx) * dy
        })
    }
}

/// Samples along each side of a squared-up pixel: a photo has some two pixels
/// to one of it, and grain would turn to noise with one.
const SAMPLES: usize = 2;

/// The picture seen straight from above: a rectangle of the bench from its
/// origin, at a given resolution, pixels per metre.
#[must_use]
pub fn square_up(
    photo: &Raster,
    plane: &Homography,
    length: Length,
    width: Length,
    pixels_per_m: f64,
) -> Raster {
    let columns = (length.m() * pixels_per_m).round().max(1.0) as usize;
    let rows = (width.m() * pixels_per_m).round().max(1.0) as usize;
    let mut rgb = Vec::with_capacity(columns * rows * 3);
    let step = 1.0 / (pixels_per_m * SAMPLES as f64);
    for row in 0..rows {
        for column in 0..columns {
            let mut sum = [0.0; 3];
            for sample in 0..SAMPLES * SAMPLES {
                let x = (column * SAMPLES + sample % SAMPLES) as f64 + 0.5;
                let y = (row * SAMPLES + sample / SAMPLES) as f64 + 0.5;
                let Pixel { x_px, y_px } = plane.to_photo(Point { x_m: x * step, y_m: y * step });
                for (total, value) in sum.iter_mut().zip(photo.between(x_px, y_px)) {
                    *total += value;
                }
            }
            rgb.extend(sum.map(|v| (v / (SAMPLES * SAMPLES) as f64).round() as u8));
        }
    }
    Raster { width: columns, height: rows, rgb }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_picture_has_as_many_bytes_as_pixels_times_three() {
        assert!(Raster::new(2, 2, vec![0; 12]).is_some());
        assert!(Raster::new(2, 2, vec![0; 11]).is_none());
        assert!(Raster::new(0, 2, Vec::new()).is_none());
        assert!(Raster::new(usize::MAX, 2, vec![0; 12]).is_none());
    }

    #[test]
    fn a_squared_up_picture_shows_each_corner_in_its_corner() {
        // Four coloured quarters, seen straight on at 1 px per mm, mirrored in
        // nothing and turned by nothing.
        let mut rgb = Vec::new();
        for y in 0..100 {
            for x in 0..200 {
                rgb.extend([if x < 100 { 200 } else { 20 }, if y < 50 { 180 } else { 30 }, 90]);
            }
        }
        let photo = Raster::new(200, 100, rgb).unwrap();
        let at = |x_px: f64, y_px: f64| Pixel { x_px, y_px };
        let corners = [at(0.0, 0.0), at(200.0, 0.0), at(200.0, 100.0), at(0.0, 100.0)];
        let (l, w) = (Length::from_mm(200.0), Length::from_mm(100.0));
        let plane = Homography::of_rectangle(corners, l, w).unwrap();
        let squared = square_up(&photo, &plane, l, w, 500.0);
        assert_eq!((squared.width(), squared.height()), (100, 50));
        assert_eq!(&squared.rgb()[..3], &[200, 180, 90]);
        assert_eq!(&squared.rgb()[squared.rgb().len() - 3..], &[20, 30, 90]);
    }
}
