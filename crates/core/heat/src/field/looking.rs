//! What there is to see in a field at the end of a step: hottest points, the
//! window of the surface, pictures.

use crate::conventions::CLOSE_MARGIN_K;

use super::body::{Content, Face};
use super::frames::{Frame, Sample};
use super::peak::{Peak, around};
use super::state::{Field, Gaps, Meeting, Surface};

impl Field {
    /// Looks at where the field now stands.
    pub(super) fn look(&mut self) {
        let Some(hottest) = self.hottest_now() else { return };
        self.hottest.see(hottest);
        self.hottest_in_segment.see(hottest);
        let face = self.hottest_face();
        if let Some(face) = face {
            self.face.see(face);
        }
        self.look_at_events();
        if self.frames.is_some() {
            let surface = self.surface.get(self.main);
            let main = surface.map_or(hottest.t_k, |s| s.t_k);
            let sample = Sample {
                t_s: self.time_s,
                hottest,
                surface_k: main,
                glass_k: self.surface_glass_k(surface),
                base_k: self.hottest_base(),
                face_k: face.map(|face| face.t_k),
                air_k: self.around.air.at(self.time_s),
            };
            let (body, poured) = (&self.body, &self.poured);
            let (t_k, conversion) = (&self.t_k, &self.conversion);
            if let Some(frames) = &mut self.frames {
                frames.keep(sample, || Frame::of(hottest, body, poured, t_k, conversion));
            }
        }
    }

    fn hottest_now(&self) -> Option<Peak> {
        let all = self.wet.iter().map(|cell| (self.t_k[*cell], *cell));
        let (_, cell) = all.reduce(|best, one| if one.0 > best.0 { one } else { best })?;
        let closed = |f: &Face| !f.resistance_m2k_w.is_finite();
        let mirrored = [
            self.around.x.each_ref().map(closed),
            self.around.y.each_ref().map(closed),
            [false; 2],
        ];
        let (place_m, t_k) = around(&self.body.mesh, cell, mirrored, |other| {
            self.poured[other].then(|| self.t_k[other])
        });
        Some(Peak { t_k, at_s: self.time_s, place_m })
    }

    /// Where resin meets a solid, once it has been poured.
    pub(super) fn find_faces(&mut self) {
        let mesh = &self.body.mesh;
        let mut faces = std::mem::take(&mut self.faces);
        faces.clear();
        for direction in 0..3 {
            let stride = mesh.strides()[direction];
            let axis = mesh.axis(direction);
            for cell in &self.wet {
                let at = mesh.place(*cell)[direction];
                let sides = [
                    (at > 0).then(|| (cell.wrapping_sub(stride), at.wrapping_sub(1), at)),
                    (at + 1 < axis.cells()).then(|| (cell + stride, at + 1, at + 1)),
                ];
                for (other, beside, face) in sides.into_iter().flatten() {
                    let Content::Solid(material) = self.body.contents[other] else { continue };
                    let k_resin = self.at(*cell).resin.conductivity_w_m_k;
                    let (a, b) = (
                        k_resin / axis.width_m(at),
                        material.conductivity_w_m_k / axis.width_m(beside),
                    );
                    let mut place_m = mesh.middle_m(*cell);
                    place_m[direction] = axis.faces_m()[face];
                    let share = a / (a + b);
                    faces.push(Meeting { cell: *cell, solid: other, share, place_m });
                }
            }
        }
        self.faces = faces;
    }

    /// The hottest place at which resin meets a solid beside it.
    fn hottest_face(&self) -> Option<Peak> {
        let at_k = |face: &Meeting| {
            self.t_k[face.solid] + face.share * (self.t_k[face.cell] - self.t_k[face.solid])
        };
        let all = self.faces.iter().map(|face| (at_k(face), face));
        let (t_k, face) = all.reduce(|best, one| if one.0 > best.0 { one } else { best })?;
        Some(Peak { t_k, at_s: self.time_s, place_m: face.place_m })
    }

    /// The hottest place of the underside of the resin, on the form board, K.
    fn hottest_base(&self) -> f64 {
        let plane = self.body.mesh.strides()[2];
        let half_m = 0.5 * self.body.mesh.z.width_m(0);
        let below = self.around.base.resistance_m2k_w;
        let under_k = self.around.base.beyond_k.unwrap_or_else(|| self.around.air.at(self.time_s));
        let at_k = |cell: &usize| {
            let half = half_m / self.at(*cell).resin.conductivity_w_m_k;
            let share = if below.is_finite() { half / (half + below) } else { 0.0 };
            self.t_k[*cell] + share * (under_k - self.t_k[*cell])
        };
        self.wet.iter().take_while(|cell| **cell < plane).map(at_k).fold(f64::MIN, f64::max)
    }

    fn look_at_events(&mut self) {
        let over_gel = |s: &Surface| s.conversion - self.at(s.cell).cure.gel_conversion();
        let main = self.surface.get(self.main);
        let gaps = Gaps {
            at_s: self.time_s,
            open: main.map_or(-1.0, over_gel),
            open_everywhere: self.surface.iter().map(over_gel).fold(f64::INFINITY, f64::min),
            set_k: main.map_or(-1.0, |s| self.surface_glass_k(Some(s)) - (s.t_k - CLOSE_MARGIN_K)),
        };
        let before = self.gaps.replace(gaps).unwrap_or(gaps);
        let known = self.segments.last().is_some_and(|s| s.hard_s.is_some());
        let hard = !known && gaps.open >= 0.0 && self.is_hard();
        let peak = self.hottest_in_segment.best();
        let Some(segment) = self.segments.last_mut() else { return };
        segment.peak = peak;
        let crossed = |event: &mut Option<f64>, gap: fn(&Gaps) -> f64| {
            let (low, high) = (gap(&before), gap(&gaps));
            if event.is_none() && high >= 0.0 {
                let share = if low < 0.0 { -low / (high - low) } else { 1.0 };
                *event = Some(before.at_s + share * (gaps.at_s - before.at_s));
            }
        };
        crossed(&mut segment.opens_s, |g| g.open);
        crossed(&mut segment.opens_everywhere_s, |g| g.open_everywhere);
        if let Some(opens_s) = segment.opens_s {
            crossed(&mut segment.closes_s, |g| g.set_k);
            segment.closes_s = segment.closes_s.map(|closes_s| closes_s.max(opens_s));
        }
        if hard {
            segment.hard_s = Some(gaps.at_s);
        }
    }

    fn is_hard(&self) -> bool {
        let air_k = self.around.air.at(self.time_s);
        let hard = |cell: usize, a: f64, t: f64| {
            let of = self.at(cell);
            of.cure.glass_k(a) - t.max(air_k) >= of.resin.working.demould_margin.k()
        };
        self.surface.iter().all(|s| hard(s.cell, s.conversion, s.t_k))
            && self.wet.iter().all(|c| hard(*c, self.conversion[*c], self.t_k[*c]))
    }

    /// Glass transition of a place of the surface, K; that of fresh resin where there is none.
    fn surface_glass_k(&self, surface: Option<&Surface>) -> f64 {
        let (of, conversion) =
            surface.map_or((&self.resins[0], 0.0), |s| (self.at(s.cell), s.conversion));
        of.cure.glass_k(conversion)
    }
}
