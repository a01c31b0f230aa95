//! The solid between an outline at the top and one at the underside: a board
//! with sloping edges. Straight lines join matching points, so the area at a
//! level is a quadratic function of the level and three areas say everything.

use serde::{Deserialize, Serialize};

use super::{Outline, Point, Ring, edges, signed_area_m2};
use fondant_quantities::{Area, Length, Volume};

/// What a board's underside looks like beside its upper face.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Underside {
    /// Square edges: as above.
    #[default]
    Same,
    /// One offset per edge of the rim, from point i to point i + 1: how much
    /// farther out the underside stands, metres; negative where it is undercut.
    /// Edges beyond the list are square.
    #[serde(rename = "bevels_m")]
    Bevels(Vec<Length>),
    /// An outline of its own.
    Outline(Outline),
}

/// A solid between two outlines with matching points.
#[derive(Debug, Clone, PartialEq)]
pub struct Ruled {
    /// At the underside.
    pub lower: Outline,
    /// At the upper face.
    pub upper: Outline,
}

impl Ruled {
    /// From an upper face and what its underside looks like.
    #[must_use]
    pub fn new(upper: &Outline, underside: &Underside) -> Self {
        match underside {
            Underside::Same => Self { lower: upper.clone(), upper: upper.clone() },
            Underside::Bevels(bevels) => {
                let mut lower = upper.clone();
                lower.outer = bevelled(&upper.outer, bevels);
                Self { lower, upper: upper.clone() }
            }
            Underside::Outline(lower) => {
                let lower = lower.cleaned();
                let (low, high) = matched(&lower.outer, &upper.outer);
                Self {
                    // Knot holes go straight through: those of the upper face count.
                    lower: Outline { outer: low, holes: upper.holes.clone() },
                    upper: Outline { outer: high, holes: upper.holes.clone() },
                }
            }
        }
    }

    /// Whether its edges are square.
    #[must_use]
    pub fn is_prism(&self) -> bool {
        self.lower == self.upper
    }

    /// The outline at a share of the height, 0 at the underside, 1 at the top.
    #[must_use]
    pub fn at(&self, share: f64) -> Outline {
        let ring = |low: &Ring, high: &Ring| {
            low.iter().zip(high).map(|(a, b)| a.towards(*b, share)).collect()
        };
        Outline {
            outer: ring(&self.lower.outer, &self.upper.outer),
            holes: self
                .lower
                .holes
                .iter()
                .zip(&self.upper.holes)
                .map(|(a, b)| ring(a, b))
                .collect(),
        }
    }

    /// Area at a share of the height.
    #[must_use]
    pub fn area_at(&self, share: f64) -> Area {
        if self.is_prism() { self.upper.area() } else { self.at(share).area() }
    }

    /// Volume for a thickness, exact for straight sides (Simpson's rule; the
    /// prismoidal formula).
    #[must_use]
    pub fn volume(&self, thickness: Length) -> Volume {
        let mean = (self.area_at(0.0) + self.area_at(0.5) * 4.0 + self.area_at(1.0)) / 6.0;
        mean * thickness
    }
}

/// The rim with every edge moved outwards by its offset; corners are where the
/// moved edges meet. Where two edges run in one line they are joined square to
/// it. A corner so sharp that its point would run away is held to three times
/// the larger offset.
fn bevelled(ring: &Ring, offsets: &[Length]) -> Ring {
    let n = ring.len();
    let outwards = if signed_area_m2(ring) >= 0.0 { 1.0 } else { -1.0 };
    let offset = |i: usize| offsets.get(i).map_or(0.0, |o| o.m()) * outwards;
    let unit = |i: usize| {
        let u = ring[(i + 1) % n].minus(ring[i]);
        u.times(1.0 / u.norm_m().max(1e-12))
    };
    (0..n)
        .map(|i| {
            let before = (i + n - 1) % n;
            let (u, v) = (unit(before), unit(i));
            let (du, dv) = (offset(before), offset(i));
            // Right-hand normals of the two edges point outwards.
            let (nu, nv) = (normal(u), normal(v));
            let sine = u.cross(v);
            let moved = if sine.abs() < 0.05 {
                nu.plus(nv).times(0.25 * (du + dv))
            } else {
                // Solves x·nu = du, x·nv = dv.
                u.times(-dv / sine).plus(v.times(du / sine)).times(-1.0)
            };
            let most = 3.0 * du.abs().max(dv.abs());
            let length = moved.norm_m();
            let held = if length > most { moved.times(most / length.max(1e-12)) } else { moved };
            ring[i].plus(held)
        })
        .collect()
}

fn normal(u: Point) -> Point {
    Point { x_m: u.y_m, y_m: -u.x_m }
}

/// Two rims given the same number of points: each gets a point at the other's
/// share of the way round, counted from the pair of points that lie closest.
fn matched(low: &Ring, high: &Ring) -> (Ring, Ring) {
    if low.len() == high.len() {
        return (low.clone(), high.clone());
    }
    let start = high[0];
    let nearest = (0..low.len())
        .min_by(|a, b| low[*a].minus(start).norm_m().total_cmp(&low[*b].minus(start).norm_m()))
        .unwrap_or(0);
    let mut turned = low.clone();
    turned.rotate_left(nearest);
    let mut shares: Vec<f64> = shares(&turned).into_iter().chain(self::shares(high)).collect();
    shares.sort_by(f64::total_cmp);
    shares.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
    (along(&turned, &shares), along(high, &shares))
}

/// Each point's share of the way round.
fn shares(ring: &Ring) -> Vec<f64> {
    let total: f64 = edges(ring).map(|(a, b)| b.minus(a).norm_m()).sum();
    let mut done = 0.0;
    edges(ring)
        .map(|(a, b)| {
            let here = done / total.max(1e-12);
            done += b.minus(a).norm_m();
            here
        })
        .collect()
}

/// Points at shares of the way round, both ascending.
fn along(ring: &Ring, wanted: &[f64]) -> Ring {
    let own = shares(ring);
    let mut edge = 0;
    wanted
        .iter()
        .map(|&share| {
            while edge + 1 < own.len() && own[edge + 1] <= share {
                edge += 1;
            }
            let end = own.get(edge + 1).copied().unwrap_or(1.0);
            let within = (share - own[edge]) / (end - own[edge]).max(1e-12);
            ring[edge].towards(ring[(edge + 1) % ring.len()], within.clamp(0.0, 1.0))
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn mm(v: f64) -> Length {
        Length::from_mm(v)
    }

    fn square(side_mm: f64, middle_mm: f64) -> Outline {
        let (a, b) = (middle_mm - side_mm / 2.0, middle_mm + side_mm / 2.0);
        Outline::new([(a, a), (b, a), (b, b), (a, b)].map(|(x, y)| Point::from_mm(x, y)).to_vec())
    }

    #[test]
    fn a_frustum_of_a_pyramid() {
        // V = h/3 (A + √(AB) + B) = 40/3 (100² + 100·60 + 60²) mm³.
        let lower = Underside::Outline(square(100.0, 200.0));
        let frustum = Ruled::new(&square(60.0, 200.0), &lower);
        let expected = 40.0 / 3.0 * (10_000.0 + 6_000.0 + 3_600.0) * 1e-9;
        assert!((frustum.volume(mm(40.0)).m3() - expected).abs() < 1e-15);
    }

    #[test]
    fn bevels_on_every_edge_make_the_same_frustum() {
        let bevels = Underside::Bevels(vec![mm(20.0); 4]);
        let frustum = Ruled::new(&square(60.0, 200.0), &bevels);
        assert!((frustum.lower.area().m2() - 0.01).abs() < 1e-12);
    }

    #[test]
    fn one_bevel_makes_a_wedge_on_a_block() {
        // 300 × 100 × 40 with one long edge 30 mm farther out below.
        let board = Outline::rectangle(mm(300.0), mm(100.0));
        let wedge = Ruled::new(&board, &Underside::Bevels(vec![mm(30.0)]));
        let expected = (300.0 * 100.0 * 40.0 + 0.5 * 300.0 * 30.0 * 40.0) * 1e-9;
        assert!((wedge.volume(mm(40.0)).m3() - expected).abs() < 1e-12, "{:?}", wedge.lower);
        assert!(!wedge.is_prism());
    }

    #[test]
    fn a_cone_between_circles_with_different_numbers_of_points() {
        let circle = |d, n| Outline::circle(Point::from_mm(100.0, 100.0), mm(d), n);
        let cone = Ruled::new(&circle(60.0, 90), &Underside::Outline(circle(100.0, 137)));
        let expected = std::f64::consts::PI * 50.0 / 3.0 * (2500.0 + 1500.0 + 900.0) * 1e-9;
        assert!((cone.volume(mm(50.0)).m3() / expected - 1.0).abs() < 2e-3);
    }

    #[test]
    fn a_sharp_corner_does_not_run_away() {
        let needle = Outline::new(
            [(0.0, 0.0), (200.0, 1.0), (200.0, -1.0)].map(|(x, y)| Point::from_mm(x, y)).to_vec(),
        );
        let low = Ruled::new(&needle.cleaned(), &Underside::Bevels(vec![mm(5.0); 3])).lower;
        assert!(low.outer.iter().all(|p| p.x_m > -0.016 && p.x_m < 0.216), "{low:?}");
    }
}
