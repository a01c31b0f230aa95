//! A made-up photo of two boards in a form, for the demo and for tests: drawn by this code, with the
//! perspective, grain and noise of a camera.

use fondant_quantities::Length;
use fondant_shapes::geometry::Point;
use fondant_shapes::geometry::homography::{CornersError, Homography, Pixel};
use fondant_shapes::picture::Raster;

/// Inside length of the form in the picture.
pub const LENGTH: Length = Length::from_mm(1220.0);
/// Inside width of the form in the picture.
pub const WIDTH: Length = Length::from_mm(620.0);
/// Corners of the form's inside in the picture, for a picture 2000 px wide.
pub const CORNERS: [(f64, f64); 4] =
    [(212.0, 190.0), (1806.0, 164.0), (1908.0, 1130.0), (96.0, 1172.0)];

/// The live edge of the near board, millimetres from the near wall.
#[must_use]
pub fn near_edge_mm(x_mm: f64) -> f64 {
    205.0 + 26.0 * (x_mm * 0.0083).sin() + 9.0 * (x_mm * 0.027 + 1.0).sin()
}

/// The live edge of the far board, millimetres from the near wall.
#[must_use]
pub fn far_edge_mm(x_mm: f64) -> f64 {
    402.0 + 31.0 * (x_mm * 0.0061 + 2.1).sin() + 7.0 * (x_mm * 0.033).sin()
}

/// Area of both boards.
#[must_use]
pub fn timber_m2() -> f64 {
    let steps = LENGTH.mm() as usize;
    (0..steps)
        .map(|i| {
            let x = i as f64 + 0.5;
            near_edge_mm(x) + WIDTH.mm() - far_edge_mm(x)
        })
        .sum::<f64>()
        * 1e-6
}

/// [`CORNERS`] in a picture of another width.
#[must_use]
pub fn corners(width_px: usize) -> [Pixel; 4] {
    let scale = width_px as f64 / 2000.0;
    CORNERS.map(|(x, y)| Pixel { x_px: x * scale, y_px: y * scale })
}

/// The photo, `width_px` wide and two thirds as high.
///
/// # Errors
/// Never for a width of some hundred pixels: the corners are sound.
pub fn slab_photo(width_px: usize) -> Result<Raster, CornersError> {
    let plane = Homography::of_rectangle(corners(width_px), LENGTH, WIDTH)?;
    let height_px = width_px * 2 / 3;
    let mut rgb = Vec::with_capacity(width_px * height_px * 3);
    for y in 0..height_px {
        for x in 0..width_px {
            let at = plane.to_bench(Pixel { x_px: x as f64 + 0.5, y_px: y as f64 + 0.5 });
            let noise = noise(x as u64, y as u64) * 12.0;
            for c in colour(at) {
                rgb.push((c + noise).clamp(0.0, 255.0) as u8);
            }
        }
    }
    Raster::new(width_px, height_px, rgb).ok_or(CornersError::TooFew)
}

fn colour(at: Point) -> [f64; 3] {
    let (x, y) = (at.x_m * 1e3, at.y_m * 1e3);
    let wall = 18.0;
    let inside = (0.0..LENGTH.mm()).contains(&x) && (0.0..WIDTH.mm()).contains(&y);
    let in_walls =
        (-wall..LENGTH.mm() + wall).contains(&x) && (-wall..WIDTH.mm() + wall).contains(&y);
    if inside && (y < near_edge_mm(x) || y > far_edge_mm(x)) {
        let grain =
            16.0 * (y * 0.22 + 3.0 * (x * 0.004).sin()).sin() + 6.0 * (y * 1.3 + x * 0.01).sin();
        [186.0 + grain, 142.0 + grain * 0.9, 94.0 + grain * 0.7]
    } else if inside {
        // The form's floor, in shade towards the edges.
        [104.0, 110.0, 116.0]
    } else if in_walls {
        [226.0, 228.0, 226.0]
    } else {
        let plank = if (y * 0.01).rem_euclid(1.4) < 0.03 { -30.0 } else { 0.0 };
        [122.0 + plank, 116.0 + plank, 108.0 + plank]
    }
}

/// Noise from −1 to 1 that is the same every time.
fn noise(x: u64, y: u64) -> f64 {
    let mut z = x.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ y.wrapping_mul(0xC2B2_AE3D_27D4_EB4F);
    z = (z ^ (z >> 31)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    z = (z ^ (z >> 29)).wrapping_mul(0x94D0_49BB_1331_11EB);
    (z >> 40) as f64 / (1u64 << 23) as f64 - 1.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::photo;
    use fondant_shapes::geometry::Outline;
    use fondant_shapes::picture::square_up;
    use fondant_shapes::picture::trace::{TimberIs, outlines};

    #[test]
    fn from_the_photo_to_the_outlines_within_one_percent() {
        // Through JPEG and back, squared up by its corners, traced.
        let kept = photo::keep(&slab_photo(2000).unwrap()).unwrap();
        let raster = photo::raster(&photo::read(&kept.jpeg).unwrap().jpeg).unwrap();
        let plane = Homography::of_rectangle(corners(2000), LENGTH, WIDTH).unwrap();
        let squared = square_up(&raster, &plane, LENGTH, WIDTH, 1300.0);
        let found = outlines(&squared, 1300.0, TimberIs::Warmer);
        assert_eq!(found.len(), 2);
        let area: f64 = found.iter().map(|o: &Outline| o.area().m2()).sum();
        assert!((area / timber_m2() - 1.0).abs() < 0.01, "{area} against {}", timber_m2());
    }
}
