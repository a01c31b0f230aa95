//! From the plane of a photo to the plane of the bench: a homography from
//! four or more points known in both (direct linear transform with
//! normalisation; Hartley and Zisserman, Multiple View Geometry, 2nd edition,
//! algorithm 4.2).

use super::{Point, signed_area_m2};
use fondant_quantities::Length;

/// Why four corners square nothing up.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, thiserror::Error, serde::Serialize, serde::Deserialize,
)]
pub enum CornersError {
    /// Fewer than four pairs.
    #[error("four corners are needed")]
    TooFew,
    /// Three of them lie on a line, or two on one spot.
    #[error("three corners lie on one line")]
    InLine,
    /// Joined in order they cross, or run the wrong way round.
    #[error("the corners are not in order")]
    OutOfOrder,
    /// A coordinate is not a number.
    #[error("a corner is outside the photo")]
    NotANumber,
}

/// A point of the photo, in pixels from its upper left corner.
#[derive(Debug, Clone, Copy, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Pixel {
    /// Distance from the left edge, px.
    pub x_px: f64,
    /// Downwards.
    pub y_px: f64,
}

/// Maps the photo's plane to the bench's and back.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Homography {
    to_bench: [[f64; 3]; 3],
    to_photo: [[f64; 3]; 3],
}

impl Homography {
    /// From the four corners of a rectangle in the photo, clockwise from the
    /// upper left, and its true size.
    ///
    /// # Errors
    /// [`CornersError`]: what is wrong with the corners.
    pub fn of_rectangle(
        corners: [Pixel; 4],
        length: Length,
        width: Length,
    ) -> Result<Self, CornersError> {
        let ring: Vec<Point> = corners.iter().map(|c| Point { x_m: c.x_px, y_m: c.y_px }).collect();
        if ring.iter().any(|p| !p.x_m.is_finite() || !p.y_m.is_finite()) {
            return Err(CornersError::NotANumber);
        }
        let size = ring.iter().map(|p| p.minus(ring[0]).norm_m()).fold(0.0, f64::max);
        let turns: Vec<f64> = (0..4)
            .map(|i| {
                let (a, b, c) = (ring[i], ring[(i + 1) % 4], ring[(i + 2) % 4]);
                b.minus(a).cross(c.minus(b))
            })
            .collect();
        // Bends below about a degree are not corners.
        if turns.iter().any(|t| t.abs() < 0.004 * size * size) {
            return Err(CornersError::InLine);
        }
        // Clockwise on a screen, where y runs down, is a positive area.
        if signed_area_m2(&ring) <= 0.0 || turns.iter().any(|t| *t <= 0.0) {
            return Err(CornersError::OutOfOrder);
        }
        let (l, w) = (length.m(), width.m());
        let bench = [[0.0, 0.0], [l, 0.0], [l, w], [0.0, w]].map(Point::from);
        let pairs: Vec<_> = corners.into_iter().zip(bench).collect();
        Self::of_pairs(&pairs)
    }

    /// From pairs of points; more than four are met as well as can be.
    ///
    /// # Errors
    /// [`CornersError`] where they do not fix a plane.
    pub fn of_pairs(pairs: &[(Pixel, Point)]) -> Result<Self, CornersError> {
        if pairs.len() < 4 {
            return Err(CornersError::TooFew);
        }
        let from = Scaling::of(pairs.iter().map(|(p, _)| (p.x_px, p.y_px)));
        let to = Scaling::of(pairs.iter().map(|(_, q)| (q.x_m, q.y_m)));
        // Normal equations of the eight unknowns, h33 = 1.
        let mut normal = [[0.0; 9]; 8];
        for (pixel, point) in pairs {
            let (x, y) = from.apply(pixel.x_px, pixel.y_px);
            let (u, v) = to.apply(point.x_m, point.y_m);
            let rows = [
                [x, y, 1.0, 0.0, 0.0, 0.0, -u * x, -u * y, u],
                [0.0, 0.0, 0.0, x, y, 1.0, -v * x, -v * y, v],
            ];
            for row in rows {
                for i in 0..8 {
                    for j in 0..9 {
                        normal[i][j] += row[i] * row[j];
                    }
                }
            }
        }
        let h = solve(normal).ok_or(CornersError::InLine)?;
        let inner = [[h[0], h[1], h[2]], [h[3], h[4], h[5]], [h[6], h[7], 1.0]];
        let to_bench = product(&to.inverse(), &product(&inner, &from.matrix()));
        let to_photo = inverse(&to_bench).ok_or(CornersError::InLine)?;
        Ok(Self { to_bench, to_photo })
    }

    /// A point of the photo on the bench.
    #[must_use]
    pub fn to_bench(&self, p: Pixel) -> Point {
        let (x_m, y_m) = apply(&self.to_bench, p.x_px, p.y_px);
        Point { x_m, y_m }
    }

    /// A point of the bench in the photo.
    #[must_use]
    pub fn to_photo(&self, p: Point) -> Pixel {
        let (x_px, y_px) = apply(&self.to_photo, p.x_m, p.y_m);
        Pixel { x_px, y_px }
    }

    /// How much of the bench one pixel shows at a place: the side of a square
    /// of the same area.
    #[must_use]
    pub fn pixel_size(&self, p: Pixel) -> Length {
        let here = self.to_bench(p);
        let right = self.to_bench(Pixel { x_px: p.x_px + 1.0, ..p }).minus(here);
        let down = self.to_bench(Pixel { y_px: p.y_px + 1.0, ..p }).minus(here);
        Length::from_m(right.cross(down).abs().sqrt())
    }
}

/// Moves points to their middle and to a mean distance of √2, without which
/// the equations lose half their digits.
struct Scaling {
    factor: f64,
    x: f64,
    y: f64,
}

impl Scaling {
    fn of(points: impl Iterator<Item = (f64, f64)> + Clone) -> Self {
        let n = points.clone().count() as f64;
        let (sx, sy) = points.clone().fold((0.0, 0.0), |(a, b), (x, y)| (a + x, b + y));
        let (x, y) = (sx / n, sy / n);
        let mean = points.map(|(a, b)| (a - x).hypot(b - y)).sum::<f64>() / n;
        Self { factor: 2f64.sqrt() / mean.max(1e-12), x, y }
    }
    fn apply(&self, x: f64, y: f64) -> (f64, f64) {
        ((x - self.x) * self.factor, (y - self.y) * self.factor)
    }
    fn matrix(&self) -> [[f64; 3]; 3] {
        let f = self.factor;
        [[f, 0.0, -f * self.x], [0.0, f, -f * self.y], [0.0, 0.0, 1.0]]
    }
    fn inverse(&self) -> [[f64; 3]; 3] {
        let f = 1.0 / self.factor;
        [[f, 0.0, self.x], [0.0, f, self.y], [0.0, 0.0, 1.0]]
    }
}

fn apply(h: &[[f64; 3]; 3], x: f64, y: f64) -> (f64, f64) {
    let row = |r: &[f64; 3]| r[0] * x + r[1] * y + r[2];
    let w = row(&h[2]);
    (row(&h[0]) / w, row(&h[1]) / w)
}

fn product(a: &[[f64; 3]; 3], b: &[[f64; 3]; 3]) -> [[f64; 3]; 3] {
    let mut c = [[0.0; 3]; 3];
    for (i, row) in c.iter_mut().enumerate() {
        for (j, cell) in row.iter_mut().enumerate() {
            *cell = (0..3).map(|k| a[i][k] * b[k][j]).sum();
        }
    }
    c
}

fn inverse(m: &[[f64; 3]; 3]) -> Option<[[f64; 3]; 3]> {
    let minor = |r: usize, c: usize| {
        let (r1, r2, c1, c2) = ((r + 1) % 3, (r + 2) % 3, (c + 1) % 3, (c + 2) % 3);
        m[r1][c1] * m[r2][c2] - m[r1][c2] * m[r2][c1]
    };
    let determinant: f64 = (0..3).map(|c| m[0][c] * minor(0, c)).sum();
    if !determinant.is_finite() || determinant.abs() < 1e-300 {
        return None;
    }
    let mut inverse = [[0.0; 3]; 3];
    for (i, row) in inverse.iter_mut().enumerate() {
        for (j, cell) in row.iter_mut().enumerate() {
            *cell = minor(j, i) / determinant;
        }
    }
    Some(inverse)
}

/// Gauss's elimination with pivots; `None` for a singular system.
fn solve(mut m: [[f64; 9]; 8]) -> Option<[f64; 8]> {
    for column in 0..8 {
        let pivot =
            (column..8).max_by(|a, b| m[*a][column].abs().total_cmp(&m[*b][column].abs()))?;
        m.swap(column, pivot);
        if m[column][column].abs() < 1e-12 {
            return None;
        }
        for row in column + 1..8 {
            let factor = m[row][column] / m[column][column];
            let above = m[column];
            for (cell, value) in m[row].iter_mut().zip(above) {
                *cell -= factor * value;
            }
        }
    }
    let mut x = [0.0; 8];
    for row in (0..8).rev() {
        let known: f64 = (row + 1..8).map(|j| m[row][j] * x[j]).sum();
        x[row] = (m[row][8] - known) / m[row][row];
    }
    Some(x)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// A camera over a bench of 1.2 × 0.6 m: the corners as it sees them.
    fn seen() -> [Pixel; 4] {
        [(412.0, 388.0), (3590.0, 350.0), (3850.0, 2260.0), (180.0, 2330.0)]
            .map(|(x_px, y_px)| Pixel { x_px, y_px })
    }

    /// Root mean square distance on the bench between pairs that should agree.
    fn residual(plane: &Homography, pairs: &[(Pixel, Point)]) -> f64 {
        let off = |(p, q): &(Pixel, Point)| plane.to_bench(*p).minus(*q).norm_m().powi(2);
        (pairs.iter().map(off).sum::<f64>() / pairs.len() as f64).sqrt()
    }

    const L: Length = Length::from_m(1.2);
    const W: Length = Length::from_m(0.6);

    #[test]
    fn corners_land_where_they_are() {
        let h = Homography::of_rectangle(seen(), L, W).unwrap();
        let far = h.to_bench(seen()[2]);
        assert!((far.x_m - 1.2).abs() < 1e-9 && (far.y_m - 0.6).abs() < 1e-9);
        let back = h.to_photo(far);
        assert!((back.x_px - 3850.0).abs() < 1e-6 && (back.y_px - 2260.0).abs() < 1e-6);
        let size = h.pixel_size(seen()[0]).mm();
        assert!(size > 0.2 && size < 0.6, "{size}");
    }

    #[test]
    fn corners_in_line_crossed_or_the_wrong_way_round_are_refused() {
        let [a, b, c, d] = seen();
        let of = |corners| Homography::of_rectangle(corners, L, W).map(|_| ());
        assert_eq!(of([a, c, b, d]), Err(CornersError::OutOfOrder));
        assert_eq!(of([d, c, b, a]), Err(CornersError::OutOfOrder));
        let between = Pixel { x_px: 2001.0, y_px: 369.0 };
        assert_eq!(of([a, between, b, d]), Err(CornersError::InLine));
        assert_eq!(of([a, a, c, d]), Err(CornersError::InLine));
        let odd = Pixel { x_px: f64::NAN, y_px: 0.0 };
        assert_eq!(of([a, b, c, odd]), Err(CornersError::NotANumber));
        assert_eq!(Homography::of_pairs(&[]).map(|_| ()), Err(CornersError::TooFew));
    }

    proptest! {
        #[test]
        fn lengths_hold_to_half_a_percent_with_four_pixels_of_noise(
            noise in proptest::array::uniform8(-1.0f64..1.0),
            ax in 0.05f64..0.4, ay in 0.05f64..0.55, bx in 0.8f64..1.15, by in 0.05f64..0.55,
        ) {
            let true_plane = Homography::of_rectangle(seen(), L, W).unwrap();
            let mut corners = seen();
            for (i, corner) in corners.iter_mut().enumerate() {
                // Off by 4 px in some direction.
                let length = noise[2 * i].hypot(noise[2 * i + 1]).max(1e-9);
                corner.x_px += 4.0 * noise[2 * i] / length;
                corner.y_px += 4.0 * noise[2 * i + 1] / length;
            }
            let found = Homography::of_rectangle(corners, L, W).unwrap();
            let (a, b) = (Point { x_m: ax, y_m: ay }, Point { x_m: bx, y_m: by });
            let measured = found.to_bench(true_plane.to_photo(a)).minus(found.to_bench(true_plane.to_photo(b)));
            let truth = a.minus(b).norm_m();
            prop_assert!((measured.norm_m() / truth - 1.0).abs() < 0.005 * (0.8 / truth).max(1.0));
        }

        #[test]
        fn more_pairs_than_four_are_met_and_their_misfit_is_told(shift in 0.001f64..0.01) {
            let plane = Homography::of_rectangle(seen(), L, W).unwrap();
            let mut pairs: Vec<_> = (0..12)
                .map(|i| {
                    let p = Point { x_m: 0.1 + 0.08 * f64::from(i), y_m: 0.1 + 0.04 * f64::from(i * 5 % 12) };
                    (plane.to_photo(p), p)
                })
                .collect();
            let exact = Homography::of_pairs(&pairs).unwrap();
            prop_assert!(residual(&exact, &pairs) < 1e-9);
            pairs[5].1.x_m += shift;
            let off = Homography::of_pairs(&pairs).unwrap();
            let residual = residual(&off, &pairs);
            prop_assert!(residual > 0.05 * shift && residual < shift);
        }
    }
}
