//! Outlines of the timber in a squared-up picture, to be corrected by the maker.
//!
//! Colours are laid along the axis on which they differ most (principal
//! component) and split in two where the two halves are each most alike
//! (N. Otsu, *IEEE Trans. SMC* 9 (1979) 62–66). The warmer half is the timber,
//! unless the maker says otherwise. Specks are voted down by their
//! neighbourhood, patches are followed along their pixels' edges, and the
//! staircase is straightened.

use crate::geometry::overlay::simplified;
use crate::geometry::{Outline, Point, Ring, signed_area_m2};
use fondant_quantities::{Area, Length};

use super::Raster;

/// Which half of the colours is timber.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TimberIs {
    /// The one with more red than blue.
    Warmer,
    /// Timber has the cooler colour.
    Cooler,
}

/// Smallest patch that counts as a board: 15 cm².
const LEAST_PATCH: Area = Area::from_m2(15e-4);
/// Holes smaller than this are grain or glare: 3 cm².
const LEAST_HOLE: Area = Area::from_m2(3e-4);
/// Most outlines that are proposed, the largest.
const MOST_OUTLINES: usize = 12;
/// The neighbourhood that votes, pixels to each side.
const VOTERS: usize = 2;
/// Steps of the histogram that is split.
const STEPS: usize = 256;
/// How far the straightened outline may leave the pixels' edges, pixels: a
/// staircase strays by 0.7; much more would shave off corners.
const STRAY_PX: f64 = 0.9;

/// Finds the timber in a rectified picture of a given resolution, pixels per metre.
/// Largest first; empty where the picture is of one colour.
#[must_use]
pub fn outlines(picture: &Raster, pixels_per_m: f64, timber: TimberIs) -> Vec<Outline> {
    let Some(mut mask) = split(picture, timber) else { return Vec::new() };
    vote(&mut mask);
    vote(&mut mask);
    let pixel = Area::from_m2(1.0 / (pixels_per_m * pixels_per_m));
    drop_patches(&mut mask, true, LEAST_PATCH / pixel);
    drop_patches(&mut mask, false, LEAST_HOLE / pixel);
    let mut found = follow(&mask, pixels_per_m);
    found.sort_by(|a, b| b.area().m2().total_cmp(&a.area().m2()));
    found.truncate(MOST_OUTLINES);
    let stray = Length::from_m(STRAY_PX / pixels_per_m);
    found.iter().map(|outline| simplified(outline, stray)).collect()
}

struct Mask {
    width: usize,
    height: usize,
    is_timber: Vec<bool>,
}

/// Splits the picture's colours in two.
fn split(picture: &Raster, timber: TimberIs) -> Option<Mask> {
    let rgb = picture.rgb();
    let n = (rgb.len() / 3) as f64;
    let pixels = || rgb.chunks_exact(3).map(|p| [0, 1, 2].map(|i| f64::from(p[i])));
    let mut mean = [0.0; 3];
    for p in pixels() {
        for (m, v) in mean.iter_mut().zip(p) {
            *m += v / n;
        }
    }
    let mut spread = [[0.0; 3]; 3];
    for p in pixels() {
        let d = [0, 1, 2].map(|i| p[i] - mean[i]);
        for (i, row) in spread.iter_mut().enumerate() {
            for (j, cell) in row.iter_mut().enumerate() {
                *cell += d[i] * d[j] / n;
            }
        }
    }
    let axis = principal(&spread)?;
    let along = |p: [f64; 3]| (0..3).map(|i| (p[i] - mean[i]) * axis[i]).sum::<f64>();
    let values: Vec<f64> = pixels().map(along).collect();
    let (low, high) =
        values.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), v| (a.min(*v), b.max(*v)));
    if high - low < 8.0 {
        return None;
    }
    let step = |v: f64| (((v - low) / (high - low) * STEPS as f64) as usize).min(STEPS - 1);
    let mut counts = [0.0; STEPS];
    for v in &values {
        counts[step(*v)] += 1.0;
    }
    let threshold = otsu(&counts);
    // Warmth of the two halves: red over blue.
    let mut warmth = [(0.0, 0.0); 2];
    for (v, p) in values.iter().zip(pixels()) {
        let half = &mut warmth[usize::from(step(*v) > threshold)];
        *half = (half.0 + p[0] - p[2], half.1 + 1.0);
    }
    let mean_of = |(sum, count): (f64, f64)| if count > 0.0 { sum / count } else { f64::MIN };
    let upper_is_warm = mean_of(warmth[1]) > mean_of(warmth[0]);
    let upper_is_timber = upper_is_warm == (timber == TimberIs::Warmer);
    Some(Mask {
        width: picture.width(),
        height: picture.height(),
        is_timber: values.iter().map(|v| (step(*v) > threshold) == upper_is_timber).collect(),
    })
}

/// The axis of largest spread, by powers; `None` where nothing is spread.
fn principal(m: &[[f64; 3]; 3]) -> Option<[f64; 3]> {
    let mut axis = [0.58, 0.57, 0.55];
    for _ in 0..60 {
        let next = [0, 1, 2].map(|i| (0..3).map(|j| m[i][j] * axis[j]).sum::<f64>());
        let norm = next.iter().map(|v| v * v).sum::<f64>().sqrt();
        if norm < 1e-9 {
            return None;
        }
        axis = next.map(|v| v / norm);
    }
    Some(axis)
}

/// The step at which both halves together vary least within themselves.
fn otsu(counts: &[f64; STEPS]) -> usize {
    let total: f64 = counts.iter().sum();
    let whole: f64 = counts.iter().enumerate().map(|(i, c)| i as f64 * c).sum();
    let (mut below, mut moment) = (0.0, 0.0);
    let mut best = (0.0, 0);
    for (i, count) in counts.iter().enumerate() {
        below += count;
        moment += i as f64 * count;
        let above = total - below;
        if below <= 0.0 || above <= 0.0 {
            continue;
        }
        let apart = moment / below - (whole - moment) / above;
        let between = below * above * apart * apart;
        if between > best.0 {
            best = (between, i);
        }
    }
    best.1
}

/// Each pixel becomes what most of its neighbourhood is, counted by sums over
/// rectangles from the corner.
fn vote(mask: &mut Mask) {
    let (w, h) = (mask.width, mask.height);
    let mut sums = vec![0u32; (w + 1) * (h + 1)];
    for y in 0..h {
        let mut row = 0;
        for x in 0..w {
            row += u32::from(mask.is_timber[y * w + x]);
            sums[(y + 1) * (w + 1) + x + 1] = sums[y * (w + 1) + x + 1] + row;
        }
    }
    for y in 0..h {
        let (y0, y1) = (y.saturating_sub(VOTERS), (y + VOTERS + 1).min(h));
        for x in 0..w {
            let (x0, x1) = (x.saturating_sub(VOTERS), (x + VOTERS + 1).min(w));
            let at = |x: usize, y: usize| sums[y * (w + 1) + x];
            let count = at(x1, y1) + at(x0, y0) - at(x0, y1) - at(x1, y0);
            mask.is_timber[y * w + x] = 2 * count as usize > (x1 - x0) * (y1 - y0);
        }
    }
}

/// Turns patches of one kind that are smaller than `least` pixels into the other.
fn drop_patches(mask: &mut Mask, kind: bool, least: f64) {
    let (w, h) = (mask.width, mask.height);
    let mut seen = vec![false; w * h];
    let mut patch = Vec::new();
    for start in 0..w * h {
        if seen[start] || mask.is_timber[start] != kind {
            continue;
        }
        patch.clear();
        patch.push(start);
        seen[start] = true;
        let mut next = 0;
        while let Some(&here) = patch.get(next) {
            next += 1;
            let (x, y) = (here % w, here / w);
            let mut visit = |other: usize| {
                if !seen[other] && mask.is_timber[other] == kind {
                    seen[other] = true;
                    patch.push(other);
                }
            };
            if x > 0 {
                visit(here - 1);
            }
            if x + 1 < w {
                visit(here + 1);
            }
            if y > 0 {
                visit(here - w);
            }
            if y + 1 < h {
                visit(here + w);
            }
        }
        if (patch.len() as f64) < least {
            for &p in &patch {
                mask.is_timber[p] = !kind;
            }
        }
    }
}

/// Rims and holes of the patches along their pixels' edges, timber on the left.
fn follow(mask: &Mask, pixels_per_m: f64) -> Vec<Outline> {
    let (w, h) = (mask.width, mask.height);
    let timber = |x: i64, y: i64| {
        x >= 0
            && y >= 0
            && x < w as i64
            && y < h as i64
            && mask.is_timber[y as usize * w + x as usize]
    };
    // Edges to the right (0), down (1), to the left (2) and up (3) from each
    // corner of the grid; with y down, timber on the left of "right" is above.
    let corners = (w + 1) * (h + 1);
    let mut edges = vec![0u8; corners];
    let corner = |x: usize, y: usize| y * (w + 1) + x;
    for y in 0..=h {
        for x in 0..=w {
            let (xi, yi) = (x as i64, y as i64);
            if timber(xi, yi - 1) && !timber(xi, yi) && x < w {
                edges[corner(x, y)] |= 1;
            }
            if timber(xi, yi) && !timber(xi - 1, yi) && y < h {
                edges[corner(x, y)] |= 2;
            }
            if timber(xi - 1, yi) && !timber(xi - 1, yi - 1) && x > 0 {
                edges[corner(x, y)] |= 4;
            }
            if timber(xi - 1, yi - 1) && !timber(xi, yi - 1) && y > 0 {
                edges[corner(x, y)] |= 8;
            }
        }
    }
    let mut rings: Vec<Ring> = Vec::new();
    for start in 0..corners {
        while edges[start] != 0 {
            let ring = walk(&mut edges, start, w + 1);
            rings.push(
                ring.into_iter()
                    .map(|c| Point {
                        x_m: (c % (w + 1)) as f64 / pixels_per_m,
                        y_m: (c / (w + 1)) as f64 / pixels_per_m,
                    })
                    .collect(),
            );
        }
    }
    assembled(rings)
}

/// Follows edges from a corner until they are back there; where two ways lead
/// on, the sharper turn to the left keeps patches apart that touch at a corner.
fn walk(edges: &mut [u8], start: usize, stride: usize) -> Vec<usize> {
    let mut ring = Vec::new();
    let (mut here, mut heading) = (start, None::<usize>);
    loop {
        let order = match heading {
            None => [0, 1, 2, 3],
            // Left, straight on, right: with y down, left of "right" is up.
            Some(d) => [(d + 3) % 4, d, (d + 1) % 4, (d + 2) % 4],
        };
        let Some(&way) = order.iter().find(|&&d| edges[here] & (1 << d) != 0) else { break };
        edges[here] &= !(1 << way);
        if heading != Some(way) {
            ring.push(here);
        }
        heading = Some(way);
        here = match way {
            0 => here + 1,
            1 => here + stride,
            2 => here - 1,
            _ => here - stride,
        };
        if here == start {
            break;
        }
    }
    ring
}

/// Holes given to the rim that encloses them.
fn assembled(rings: Vec<Ring>) -> Vec<Outline> {
    // Timber on the left with y down: rims run clockwise to the eye, which is
    // a negative area in these coordinates.
    let (rims, holes): (Vec<_>, Vec<_>) = rings.into_iter().partition(|r| signed_area_m2(r) < 0.0);
    let mut outlines: Vec<Outline> = rims.into_iter().map(Outline::new).collect();
    for hole in holes {
        let inside = hole[0].towards(hole[hole.len() / 2], 0.5);
        let home = outlines
            .iter_mut()
            .filter(|o| crate::geometry::faults::contains(&o.outer, inside))
            .min_by(|a, b| {
                let area = |o: &Outline| signed_area_m2(&o.outer).abs();
                area(a).total_cmp(&area(b))
            });
        if let Some(outline) = home {
            outline.holes.push(hole);
        }
    }
    outlines.iter().map(Outline::cleaned).collect()
}

#[cfg(test)]
mod tests;
