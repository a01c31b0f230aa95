//! A face sanded: which grits, how long, how many discs.

use fondant_quantities::{Area, Span};

/// Grits of the trade, by the FEPA scale.
pub const GRITS: [u32; 13] = [80, 120, 180, 240, 320, 400, 600, 800, 1000, 1500, 2000, 2500, 3000];
/// Largest ratio of a grit to the one before it, up to [`FINE`]: its scratches have to come out.
pub const COARSE_STEP: f64 = 2.0;
/// The same above [`FINE`].
pub const FINE_STEP: f64 = 1.5;
/// Where the small steps begin.
pub const FINE: u32 = 400;
/// What a disc of 150 mm sands before it is dull.
const DISC_M2: f64 = 0.3;
/// Minutes a square metre at P80 and at P400 and above.
const MINUTES_M2: (f64, f64) = (15.0, 6.0);

/// One grit over a face.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Grit {
    /// The grit.
    pub grit: u32,
    /// Time of sanding.
    pub takes: Span,
    /// Discs used up.
    pub discs: u32,
}

/// Grits from the one that the surface asks for to the one that is wanted, with as few steps as leave no
/// scratch behind.
#[must_use]
pub fn grits(from: u32, to: u32) -> Vec<u32> {
    let mut chosen = vec![from];
    let mut last = from;
    while last < to {
        // Of fine grits there are a few that are closer than 1.5: the largest step allowed, or the next.
        let step = if last >= FINE { FINE_STEP } else { COARSE_STEP };
        let reach = |grit: &&u32| f64::from(**grit) <= f64::from(last) * step + 1e-9;
        let later = || GRITS.iter().filter(|grit| **grit > last && **grit <= to);
        let Some(next) = later().rfind(reach).or_else(|| later().next()) else { break };
        chosen.push(*next);
        last = *next;
    }
    chosen
}

/// Sands an area with some grits.
#[must_use]
pub fn sand(area: Area, grits: &[u32]) -> Vec<Grit> {
    let one = |grit: &u32| Grit {
        grit: *grit,
        takes: Span::from_s(60.0 * minutes_m2(*grit) * area.m2()),
        discs: (area.m2() / DISC_M2).ceil().clamp(1.0, 1e4) as u32,
    };
    grits.iter().map(one).collect()
}

/// Minutes a square metre: falling in equal steps of the grit's logarithm.
fn minutes_m2(grit: u32) -> f64 {
    let (coarse, fine) = MINUTES_M2;
    let share = (f64::from(grit) / 80.0).ln() / (f64::from(FINE) / 80.0).ln();
    coarse + (fine - coarse) * share.clamp(0.0, 1.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn steps_leave_no_scratch_behind() {
        assert_eq!(grits(80, 400), [80, 120, 240, 400]);
        assert_eq!(grits(120, 3000), [120, 240, 400, 600, 800, 1000, 1500, 2000, 3000]);
        assert_eq!(grits(400, 240), [400]);
        for from in GRITS {
            for pair in grits(from, 3000).windows(2) {
                let most = if pair[0] >= FINE { FINE_STEP } else { COARSE_STEP };
                let step = f64::from(pair[1]) / f64::from(pair[0]);
                // The scale itself has no grit between some that lie further apart.
                let next = GRITS.iter().find(|grit| **grit > pair[0]).unwrap();
                assert!(step <= most + 1e-9 || pair[1] == *next, "{pair:?}");
            }
        }
    }

    /// 0.72 m²: 15 min × 0.72 at P80; 6 min × 0.72 at P400; three discs each.
    #[test]
    fn times_and_discs_by_hand() {
        let found = sand(Area::from_m2(0.72), &[80, 400, 800]);
        let minutes: Vec<f64> = found.iter().map(|grit| grit.takes.s() / 60.0).collect();
        for (found, expected) in minutes.into_iter().zip([10.8, 4.32, 4.32]) {
            assert!((found - expected).abs() < 1e-9);
        }
        assert!(found.iter().all(|grit| grit.discs == 3));
    }
}
