//! A shop's shelf: resins, colours and lots.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};

use fondant_quantities::{Mass, Money, Temperature, Volume};

use super::calibrated::Calibration;
use super::error::ResinError;
use super::properties::ResinId;
use super::record::Record;
use super::shipped;

/// The shop's resins: its own, and the generic ones that it has not changed.
#[derive(Debug, Clone, PartialEq)]
pub struct Shelf {
    resins: Vec<OnShelf>,
}

/// A resin on the shelf.
#[derive(Debug, Clone, PartialEq)]
pub struct OnShelf {
    /// The resin.
    pub resin: Record,
    /// Whether the shop entered or changed it.
    pub is_own: bool,
    /// Whether it is no longer offered for new casts. Old ones still find it.
    pub is_put_away: bool,
}

/// The shop's record of a resin.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct OwnResin {
    /// The resin.
    pub resin: Record,
    /// Whether it is no longer offered.
    #[serde(default)]
    pub is_put_away: bool,
}

impl Shelf {
    /// The shop's own resins, then those that ship and that it has not changed.
    #[must_use]
    pub fn new(own: Vec<OwnResin>) -> Self {
        let mut resins: Vec<OnShelf> = own
            .into_iter()
            .map(|own| OnShelf { resin: own.resin, is_own: true, is_put_away: own.is_put_away })
            .collect();
        for resin in shipped::all() {
            if resins.iter().all(|on| on.resin.id != resin.id) {
                resins.push(OnShelf { resin, is_own: false, is_put_away: false });
            }
        }
        Self { resins }
    }

    /// Without the resins of some short names: the shop's own record of them cannot be read, and the
    /// generic one is not on the shelf.
    #[must_use]
    pub fn without(mut self, names: &[String]) -> Self {
        self.resins.retain(|on| !names.contains(&on.resin.id.0));
        self
    }

    /// All resins of the shelf, in order.
    #[must_use]
    pub fn all(&self) -> &[OnShelf] {
        &self.resins
    }

    /// Those that a cast may be planned with.
    pub fn offered(&self) -> impl Iterator<Item = &Record> {
        self.resins.iter().filter(|on| !on.is_put_away).map(|on| &on.resin)
    }

    /// Those, and the one that a cast is planned with, put away or not.
    pub fn offered_beside(&self, own: &ResinId) -> impl Iterator<Item = &OnShelf> {
        self.resins.iter().filter(move |on| !on.is_put_away || on.resin.id == *own)
    }

    /// What a new cast begins with where `usual` is what its kind is cast of: another of its class
    /// where that is put away, or else the first that is offered.
    #[must_use]
    pub fn begins_with(&self, usual: &ResinId) -> ResinId {
        let class = self.find(usual).map(|resin| resin.class).ok();
        let is_usual = |resin: &&Record| resin.id == *usual;
        let is_alike = |resin: &&Record| Some(resin.class) == class;
        let found = self.offered().find(is_usual).or_else(|| self.offered().find(is_alike));
        let found = found.or_else(|| self.offered().next());
        found.map_or_else(|| usual.clone(), |resin| resin.id.clone())
    }

    /// The resin of a short name, put away or not.
    ///
    /// # Errors
    /// [`ResinError::Unknown`].
    pub fn find(&self, id: &ResinId) -> Result<&Record, ResinError> {
        let found = self.resins.iter().find(|on| on.resin.id == *id);
        found.map(|on| &on.resin).ok_or_else(|| ResinError::Unknown(id.0.clone()))
    }

    /// A short name for a new resin that no other has: its name in small
    /// letters and hyphens, with a number where that is taken.
    #[must_use]
    pub fn free_id(&self, name: &str) -> ResinId {
        let mut slug = String::new();
        for letter in name.to_lowercase().chars() {
            if letter.is_ascii_alphanumeric() {
                slug.push(letter);
            } else if !slug.is_empty() && !slug.ends_with('-') {
                slug.push('-');
            }
        }
        let slug = slug.trim_end_matches('-');
        let slug = if slug.is_empty() { "resin" } else { slug };
        let mut id = ResinId(slug.to_owned());
        let mut number = 2;
        while self.find(&id).is_ok() {
            id = ResinId(format!("{slug}-{number}"));
            number += 1;
        }
        id
    }
}

/// A lesson that was accepted, with the log that taught it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LessonRecord {
    /// Id of the resin.
    pub resin: ResinId,
    /// What was learnt, with its lot and date.
    #[serde(rename = "learnt")]
    pub calibration: Calibration,
    /// What was mixed in the cup.
    #[serde(rename = "mass_kg")]
    pub mass: Mass,
    /// The air around it.
    #[serde(rename = "air_k")]
    pub air: Temperature,
    /// The log: seconds from mixing and K.
    pub readings: Vec<(f64, f64)>,
}

/// A pigment or dye on the shelf.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Colour {
    /// What the shop calls it.
    pub name: String,
    /// What it is made of.
    pub kind: ColourKind,
    /// What it is ground or dissolved in.
    pub base: ColourBase,
    /// Most of it, percent of the mixed mass.
    pub ceiling_percent: f64,
    /// Price of a kilogram of it, where the shop says.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price_kg: Option<Money>,
}

/// What a colour is made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum ColourKind {
    /// Flakes or powder, such as mica.
    Powder,
    /// Pigment paste.
    Paste,
    /// Dissolved dye or ink.
    Dye,
    /// Paint.
    Paint,
}

/// What a colour is ground or dissolved in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum ColourBase {
    /// Nothing: dry.
    Dry,
    /// Resin.
    Resin,
    /// Alcohol or another solvent.
    Solvent,
    /// Water.
    Water,
}

impl ColourKind {
    /// What is usually the most, percent of the mixed mass.
    #[must_use]
    pub fn usual_ceiling_percent(self) -> f64 {
        match self {
            Self::Powder | Self::Paste => 5.0,
            Self::Dye => 2.0,
            Self::Paint => 3.0,
        }
    }
}

/// A bottle or kit of a resin.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Lot {
    /// Id of the resin.
    pub resin: ResinId,
    /// The maker's mark on the bottle.
    pub lot: String,
    /// Date of purchase.
    pub bought: Date,
    /// When it was opened, if it was.
    pub opened: Option<Date>,
    /// Mixed volume left in it.
    #[serde(rename = "left_m3")]
    pub left: Volume,
    /// Price paid for the lot.
    pub cost: Money,
    /// Mixed volume that it held when it was bought, where somebody said.
    #[serde(rename = "held_m3", default, skip_serializing_if = "Option::is_none")]
    pub held: Option<Volume>,
}

impl Lot {
    /// What a mixed volume of it cost; `None` where price or volume of the lot is not known.
    #[must_use]
    pub fn price(&self, volume: Volume) -> Option<Money> {
        let held = self.held.filter(|held| *held > Volume::ZERO && self.cost > Money::ZERO)?;
        Some(self.cost * (volume.m3() / held.m3()))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::resin::ResinClass;

    #[test]
    fn an_own_record_takes_the_place_of_the_generic_one() {
        let mut resin = shipped::generic(ResinClass::Coating);
        resin.name = "our coat".into();
        let shelf = Shelf::new(vec![OwnResin { resin: resin.clone(), is_put_away: true }]);
        assert_eq!(shelf.all().len(), 7);
        assert_eq!(shelf.find(&resin.id).unwrap().name, "our coat");
        assert!(shelf.offered().all(|r| r.id != resin.id));
        assert!(shelf.find(&ResinId("treacle".into())).is_err());
    }

    #[test]
    fn what_is_put_away_is_planned_with_by_its_casts_alone() {
        let away = shipped::generic(ResinClass::SlowCasting);
        let mut own = away.clone();
        (own.id, own.name) = (ResinId("harbour".into()), "Harbour".into());
        let shelf = Shelf::new(vec![
            OwnResin { resin: own.clone(), is_put_away: false },
            OwnResin { resin: away.clone(), is_put_away: true },
        ]);
        let beside =
            |id: &ResinId| shelf.offered_beside(id).filter(|on| on.resin.id == away.id).count();
        assert_eq!((beside(&away.id), beside(&own.id)), (1, 0));
        assert_eq!(shelf.begins_with(&away.id), own.id, "another of its class");
        let coating = ResinId(shipped::COATING.into());
        assert_eq!(shelf.begins_with(&coating), coating);
        let all_away =
            shipped::all().into_iter().map(|resin| OwnResin { resin, is_put_away: true }).collect();
        assert_eq!(Shelf::new(all_away).begins_with(&coating), coating, "there is no other");
    }

    #[test]
    fn short_names_are_plain_and_free() {
        let shelf = Shelf::new(Vec::new());
        assert_eq!(shelf.free_id("Deep clear, 3:1").0, "deep-clear-3-1");
        assert_eq!(shelf.free_id("Coating epoxy").0, "coating-epoxy-2");
        assert_eq!(shelf.free_id("—").0, "resin");
    }
}
