//! Forms and moulds that the shop has, and which of them fits a cast.

use serde::{Deserialize, Serialize};

use super::CastSize;
use fondant_quantities::{Area, Length};

/// Kind of a form that the shop owns.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum OwnedKind {
    /// Base and walls of sheet, which can be sawn smaller.
    SheetForm,
    /// A mould with cavities, which cannot.
    Mould,
}

/// Condition of a form.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Condition {
    /// Clean and sound.
    Ready,
    /// To be cleaned, sealed or mended first.
    NeedsWork,
    /// No longer used.
    Retired,
}

/// A form or mould that the shop has.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct OwnedForm {
    /// What the shop calls it.
    pub name: String,
    /// Kind of form.
    pub kind: OwnedKind,
    /// Inside length, of one cavity where there are several.
    #[serde(rename = "length_m")]
    pub length: Length,
    /// Inside width.
    #[serde(rename = "width_m")]
    pub width: Length,
    /// Inside height.
    #[serde(rename = "height_m")]
    pub height: Length,
    /// Cavities alike.
    pub cavities: u32,
    /// Condition of the form.
    pub condition: Condition,
}

/// How a form serves a cast.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Fit {
    /// Used without a change.
    AsIs,
    /// With its walls moved in.
    CutDown {
        /// Off its length.
        length: Length,
        /// Off its width.
        width: Length,
        /// Sheet of the base that is sawn off.
        waste: Area,
    },
}

/// A form larger by no more than this is used as it is; the piece is trimmed.
pub const SLACK: Length = Length::from_mm(3.0);

/// A form is cut down only where no more of its base than this is lost.
const MOST_LOST_RATIO: f64 = 0.4;

impl OwnedForm {
    /// Whether and how it serves a cast of an inside size and wall height.
    /// `None` where it is too small, or no sheet form and not the size.
    #[must_use]
    pub fn fit(&self, inside: &CastSize, height: Length) -> Option<Fit> {
        if self.condition == Condition::Retired || self.height + Length::from_mm(0.05) < height {
            return None;
        }
        // A form may be turned round.
        [(self.length, self.width), (self.width, self.length)]
            .into_iter()
            .filter_map(|(l, w)| self.fit_as(l - inside.length, w - inside.width, inside))
            .min_by(|a, b| a.waste().m2().total_cmp(&b.waste().m2()))
    }

    fn fit_as(&self, over_length: Length, over_width: Length, inside: &CastSize) -> Option<Fit> {
        let least = Length::from_mm(-0.05);
        if over_length < least || over_width < least {
            return None;
        }
        if over_length <= SLACK && over_width <= SLACK {
            return Some(Fit::AsIs);
        }
        if self.kind == OwnedKind::Mould {
            return None;
        }
        let whole = (inside.length + over_length) * (inside.width + over_width);
        let (length, width) = (over_length.max(Length::ZERO), over_width.max(Length::ZERO));
        let waste = whole - inside.area();
        // Nobody saws up a large form for a small cast.
        (waste <= whole * MOST_LOST_RATIO).then_some(Fit::CutDown { length, width, waste })
    }
}

impl Fit {
    /// Sheet that is lost.
    #[must_use]
    pub fn waste(&self) -> Area {
        match self {
            Self::AsIs => Area::ZERO,
            Self::CutDown { waste, .. } => *waste,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn form(kind: OwnedKind, l: f64, w: f64, h: f64) -> OwnedForm {
        let mm = Length::from_mm;
        OwnedForm {
            name: "form".into(),
            kind,
            length: mm(l),
            width: mm(w),
            height: mm(h),
            cavities: 1,
            condition: Condition::Ready,
        }
    }

    #[test]
    fn forms_fit_as_they_are_turned_or_cut_down() {
        let mm = Length::from_mm;
        let inside = CastSize { length: mm(1000.0), width: mm(500.0), thickness: mm(40.0) };
        let fit = |kind, l, w, h| form(kind, l, w, h).fit(&inside, mm(52.0));
        assert_eq!(fit(OwnedKind::SheetForm, 1002.0, 500.0, 60.0), Some(Fit::AsIs));
        assert_eq!(fit(OwnedKind::SheetForm, 501.0, 1001.0, 60.0), Some(Fit::AsIs));
        assert_eq!(fit(OwnedKind::SheetForm, 1002.0, 500.0, 50.0), None, "too low");
        assert_eq!(fit(OwnedKind::SheetForm, 990.0, 500.0, 60.0), None, "too short");
        let Some(Fit::CutDown { length, width, waste }) =
            fit(OwnedKind::SheetForm, 1200.0, 500.0, 60.0)
        else {
            panic!()
        };
        assert!((length.mm() - 200.0).abs() < 1e-9 && width.mm().abs() < 1e-9);
        assert!((waste.m2() - 0.1).abs() < 1e-12);
        // "Cutting a 1600 × 800 form down to 135 × 148."
        let small = CastSize { length: mm(148.0), width: mm(135.0), thickness: mm(30.0) };
        let large = form(OwnedKind::SheetForm, 1600.0, 800.0, 60.0);
        assert_eq!(large.fit(&small, mm(40.0)), None);
        assert_eq!(fit(OwnedKind::Mould, 1200.0, 500.0, 60.0), None, "silicone is not sawn");
    }
}
