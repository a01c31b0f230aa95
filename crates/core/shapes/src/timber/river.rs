//! The river between two boards, by its width at stations along the form.
//!
//! Between stations the width runs straight; before the first and after the
//! last it stays as it is there.

use serde::{Deserialize, Serialize};

use crate::geometry::{Outline, Point};
use fondant_quantities::bounds::STATIONS;
use fondant_quantities::{Area, Length};

/// The width of the river at one place.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Station {
    /// Distance from the form's left end.
    #[serde(rename = "at_m")]
    pub at: Length,
    /// Width of the river there.
    #[serde(rename = "width_m")]
    pub width: Length,
    /// Distance from the form's near wall to the river; `None` where it was
    /// not measured and the river is drawn midway.
    #[serde(rename = "from_wall_m", default, skip_serializing_if = "Option::is_none")]
    pub from_wall: Option<Length>,
}

/// Why stations make no river. Indices count from 0.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
pub enum RiverError {
    /// Fewer than two stations.
    #[error("{found} stations are too few; at least 2 are needed")]
    TooFew {
        /// Number found.
        found: usize,
    },
    /// More stations than are kept.
    #[error("{found} stations are more than {}", STATIONS.end())]
    TooMany {
        /// Number found.
        found: usize,
    },
    /// A station does not lie after the one before it.
    #[error("station {} is out of order", index + 1)]
    OutOfOrder {
        /// Index of the station, from 0.
        index: usize,
        /// Distance of the station along the form.
        at: Length,
        /// Where the one before it lies.
        after: Length,
    },
    /// A station lies beyond the end of the form.
    #[error("station {} lies beyond the form", index + 1)]
    BeyondForm {
        /// Index of the station, from 0.
        index: usize,
        /// Distance of the station along the form.
        at: Length,
        /// Length of the form inside.
        form: Length,
    },
    /// The river is wider than the form.
    #[error("the river is wider than the form at station {}", index + 1)]
    WiderThanForm {
        /// Index of the station, from 0.
        index: usize,
        /// Width of the river there.
        width: Length,
        /// Width of the form inside.
        form: Length,
    },
    /// The river would run through the far wall.
    #[error("the river runs past the far wall at station {}", index + 1)]
    PastFarWall {
        /// Index of the station, from 0.
        index: usize,
        /// Distance from the near wall.
        from_wall: Length,
        /// Width of the river there.
        width: Length,
        /// Width of the form inside.
        form: Length,
    },
}

/// A river that fits its form.
#[derive(Debug, Clone, PartialEq)]
pub struct River {
    stations: Vec<Station>,
    form_length: Length,
    form_width: Length,
}

impl River {
    /// Checks stations against the inside of their form.
    ///
    /// # Errors
    /// Every way in which they do not fit; see [`RiverError`].
    pub fn new(
        stations: Vec<Station>,
        form_length: Length,
        form_width: Length,
    ) -> Result<Self, Vec<RiverError>> {
        let mut errors = Vec::new();
        if stations.len() < *STATIONS.start() {
            errors.push(RiverError::TooFew { found: stations.len() });
        }
        if stations.len() > *STATIONS.end() {
            errors.push(RiverError::TooMany { found: stations.len() });
        }
        // A figure typed in inches and one in millimetres may differ in the last bit.
        let slack = Length::from_mm(1e-6);
        for (index, station) in stations.iter().enumerate() {
            if index > 0 && station.at <= stations[index - 1].at {
                let after = stations[index - 1].at;
                errors.push(RiverError::OutOfOrder { index, at: station.at, after });
            }
            if station.at > form_length + slack {
                errors.push(RiverError::BeyondForm { index, at: station.at, form: form_length });
            }
            let width = station.width;
            if width > form_width + slack {
                errors.push(RiverError::WiderThanForm { index, width, form: form_width });
            } else if let Some(from_wall) = station.from_wall
                && from_wall + width > form_width + slack
            {
                let form = form_width;
                errors.push(RiverError::PastFarWall { index, from_wall, width, form });
            }
        }
        if errors.is_empty() { Ok(Self { stations, form_length, form_width }) } else { Err(errors) }
    }

    /// The stations in order.
    #[must_use]
    pub fn stations(&self) -> &[Station] {
        &self.stations
    }

    /// Inside length of the form.
    #[must_use]
    pub fn form_length(&self) -> Length {
        self.form_length
    }

    /// Inside width of the form.
    #[must_use]
    pub fn form_width(&self) -> Length {
        self.form_width
    }

    /// Width of the river at a place.
    #[must_use]
    pub fn width_at(&self, at: Length) -> Length {
        self.interpolate(at, |station| station.width)
    }

    /// Distance from the near wall to the river at a place.
    #[must_use]
    pub fn near_edge_at(&self, at: Length) -> Length {
        self.interpolate(at, |station| self.near_edge(station))
    }

    /// Distance from the near wall to the river at a station; midway in the
    /// form where it was not measured.
    #[must_use]
    pub fn near_edge(&self, station: &Station) -> Length {
        station.from_wall.unwrap_or((self.form_width - station.width) / 2.0)
    }

    fn interpolate(&self, at: Length, value: impl Fn(&Station) -> Length) -> Length {
        let after = self.stations.partition_point(|s| s.at < at);
        if after == 0 {
            return value(&self.stations[0]);
        }
        let Some(next) = self.stations.get(after) else {
            return value(&self.stations[after - 1]);
        };
        let previous = &self.stations[after - 1];
        let share = (at - previous.at) / (next.at - previous.at);
        value(previous) + (value(next) - value(previous)) * share
    }

    /// Area of the river over the whole form.
    #[must_use]
    pub fn area(&self) -> Area {
        self.area_between(Length::ZERO, self.form_length)
    }

    /// Area of the river between two places, exact for straight runs.
    #[must_use]
    pub fn area_between(&self, from: Length, to: Length) -> Area {
        self.integrate(from, to, |at| self.width_at(at))
    }

    /// Area of the near board over the whole form.
    #[must_use]
    pub fn near_board_area(&self) -> Area {
        self.integrate(Length::ZERO, self.form_length, |at| self.near_edge_at(at))
    }

    /// Area of the far board over the whole form.
    #[must_use]
    pub fn far_board_area(&self) -> Area {
        self.form_length * self.form_width - self.area() - self.near_board_area()
    }

    /// The near and the far board as they lie in the form.
    #[must_use]
    pub fn boards(&self) -> [Outline; 2] {
        let inner = self.stations.iter().map(|s| s.at);
        let mut places: Vec<Length> = std::iter::once(Length::ZERO).chain(inner).collect();
        places.push(self.form_length);
        places.dedup_by(|a, b| (*a - *b).mm().abs() < 1e-6);
        let point = |x: Length, y: Length| Point { x_m: x.m(), y_m: y.m() };
        let edge = |f: &dyn Fn(Length) -> Length| -> Vec<Point> {
            places.iter().map(|x| point(*x, f(*x))).collect()
        };
        let mut near = edge(&|x| self.near_edge_at(x));
        near.reverse();
        near.extend([Length::ZERO, self.form_length].map(|x| point(x, Length::ZERO)));
        let mut far = edge(&|x| self.near_edge_at(x) + self.width_at(x));
        far.extend([self.form_length, Length::ZERO].map(|x| point(x, self.form_width)));
        [Outline::new(near).cleaned(), Outline::new(far).cleaned()]
    }

    /// Trapezoids between the stations that lie within.
    fn integrate(&self, from: Length, to: Length, f: impl Fn(Length) -> Length) -> Area {
        let inner = self.stations.iter().map(|s| s.at).filter(|at| *at > from && *at < to);
        let places: Vec<Length> =
            std::iter::once(from).chain(inner).chain(std::iter::once(to)).collect();
        places.windows(2).map(|pair| (f(pair[0]) + f(pair[1])) / 2.0 * (pair[1] - pair[0])).sum()
    }

    /// Mean width over the form.
    #[must_use]
    pub fn mean_width(&self) -> Length {
        self.area() / self.form_length
    }

    /// The station where the river is widest.
    #[must_use]
    pub fn widest(&self) -> &Station {
        self.stations
            .iter()
            .max_by(|a, b| a.width.m().total_cmp(&b.width.m()))
            .unwrap_or(&self.stations[0])
    }

    /// Standard uncertainty of the area from reading each width with a tape
    /// whose error lies within ± `tolerance`, any value equally likely.
    ///
    /// Each reading counts with the length of form that it stands for;
    /// independent errors add in quadrature (JCGM 100:2008, 4.3.7 and 5.1.2).
    #[must_use]
    pub fn area_uncertainty_from_tape(&self, tolerance: Length) -> Area {
        let n = self.stations.len();
        let each = tolerance.m() / 3f64.sqrt();
        let sum: f64 = (0..n)
            .map(|i| {
                let from =
                    if i == 0 { 0.0 } else { midpoint(&self.stations[i - 1], &self.stations[i]) };
                let to = if i + 1 == n {
                    self.form_length.m()
                } else {
                    midpoint(&self.stations[i], &self.stations[i + 1])
                };
                ((to - from) * each).powi(2)
            })
            .sum();
        Area::from_m2(sum.sqrt())
    }

    /// Standard uncertainty of the area from what the edge does between stations.
    ///
    /// The error of a trapezoid of length h is h³/12 times the curvature of the
    /// edge, which is estimated by the second differences of the widths. The
    /// ends beyond the outer stations count with the slope next to them. Two
    /// stations say nothing of the curve between them: there a tenth of the
    /// area is taken.
    #[must_use]
    pub fn area_uncertainty_from_spacing(&self) -> Area {
        let s = &self.stations;
        let n = s.len();
        if n < 3 {
            return self.area() * 0.1;
        }
        let slope = |i: usize| (s[i + 1].width - s[i].width) / (s[i + 1].at - s[i].at);
        let step = |i: usize| (s[i + 1].at - s[i].at).m();
        let curvature: Vec<f64> =
            (1..n - 1).map(|i| 2.0 * (slope(i) - slope(i - 1)) / (step(i) + step(i - 1))).collect();
        let mut sum = 0.0;
        for i in 0..n - 1 {
            let left = curvature[i.saturating_sub(1)].abs();
            let right = curvature[i.min(n - 3)].abs();
            sum += (step(i).powi(3) / 12.0 * 0.5 * (left + right)).powi(2);
        }
        let before = s[0].at.m();
        let after = (self.form_length - s[n - 1].at).m();
        sum += (0.5 * before.powi(2) * slope(0)).powi(2);
        sum += (0.5 * after.powi(2) * slope(n - 2)).powi(2);
        Area::from_m2(sum.sqrt())
    }
}

fn midpoint(a: &Station, b: &Station) -> f64 {
    0.5 * (a.at.m() + b.at.m())
}

#[cfg(test)]
mod tests;
