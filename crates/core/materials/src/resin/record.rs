//! A resin as it stands on the shelf: its properties, and what the shop's readings say of it.

use std::ops::{Deref, DerefMut};

use fondant_quantities::{Density, bounds};
use serde::{Deserialize, Serialize};

use super::calibrated::{Calibrated, Calibration, HEAT_RANGE, RATE_RANGE};
use super::cure::{CureParameters, Viscosity};
use super::datasheet::Datasheet;
use super::error::{ResinError, within};
use super::mix::{MeasuredBy, MixRatio};
use super::properties::{Cured, Hazard, Kit, Properties, ResinClass, ResinId, Working};

/// A resin on the shelf. The model does not run on it: see [`Record::calibrated`].
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(from = "Kept", into = "Kept")]
pub struct Record {
    /// What its datasheet and its class say.
    pub properties: Properties,
    /// What readings of the shop's own have taught about it.
    pub calibration: Option<Calibration>,
}

impl Record {
    /// A resin of which there are no readings.
    #[must_use]
    pub const fn uncalibrated(properties: Properties) -> Self {
        Self { properties, calibration: None }
    }

    /// Whether a resin can be as it is told to be: for records that come from outside.
    ///
    /// # Errors
    /// [`ResinError`] with the first figure that is not.
    pub fn check(&self) -> Result<(), ResinError> {
        self.properties.check()?;
        let calibration = self.calibration.iter().flat_map(|calibration| {
            let [rate, heat, _] = calibration.covariance;
            [
                ("factor on the rate", calibration.rate, RATE_RANGE.0, RATE_RANGE.1),
                ("factor on the heat", calibration.heat, HEAT_RANGE.0, HEAT_RANGE.1),
                ("variance of the rate", rate, 0.0, 1.0),
                ("variance of the heat", heat, 0.0, 1.0),
            ]
        });
        let kit = self.kit.iter().flat_map(|kit| {
            [
                ("kit, litres", kit.volume.l(), bounds::KIT.min.l(), bounds::KIT.max.l()),
                ("price", kit.price.units(), bounds::PRICE.min, bounds::PRICE.max),
            ]
        });
        let times = self.datasheet.figures();
        for (what, found, from, to) in calibration.chain(kit).chain(times) {
            within(what, found, from, to)?;
        }
        Ok(())
    }

    /// The resin as the model runs on it: with the shop's readings, where there are any.
    #[must_use]
    pub fn calibrated(&self) -> Calibrated {
        match &self.calibration {
            Some(calibration) => Calibrated::by(self.properties.clone(), calibration),
            None => self.generic(),
        }
    }

    /// The resin as the model runs on it without the shop's readings.
    #[must_use]
    pub fn generic(&self) -> Calibrated {
        Calibrated::of_class(self.properties.clone())
    }
}

impl Deref for Record {
    type Target = Properties;

    fn deref(&self) -> &Properties {
        &self.properties
    }
}

impl DerefMut for Record {
    fn deref_mut(&mut self) -> &mut Properties {
        &mut self.properties
    }
}

/// The record as documents keep it: one flat object, so that an unknown field is refused by name.
// Many fields: the fields of `Properties` beside the calibration.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Kept {
    id: ResinId,
    name: String,
    class: ResinClass,
    purpose: String,
    mix: MixRatio,
    #[serde(default)]
    measured_by: MeasuredBy,
    #[serde(rename = "density_kg_m3")]
    density: Density,
    heat_capacity_j_kg_k: f64,
    conductivity_w_m_k: f64,
    cure: CureParameters,
    viscosity: Viscosity,
    working: Working,
    #[serde(rename = "sheet", default)]
    datasheet: Datasheet,
    cured: Cured,
    #[serde(default)]
    hazards: Vec<Hazard>,
    #[serde(default)]
    colouring: String,
    #[serde(default)]
    kit: Option<Kit>,
    #[serde(default)]
    learnt: Option<Calibration>,
}

impl From<Kept> for Record {
    fn from(kept: Kept) -> Self {
        let properties = Properties {
            id: kept.id,
            name: kept.name,
            class: kept.class,
            purpose: kept.purpose,
            mix: kept.mix,
            measured_by: kept.measured_by,
            density: kept.density,
            heat_capacity_j_kg_k: kept.heat_capacity_j_kg_k,
            conductivity_w_m_k: kept.conductivity_w_m_k,
            cure: kept.cure,
            viscosity: kept.viscosity,
            working: kept.working,
            datasheet: kept.datasheet,
            cured: kept.cured,
            hazards: kept.hazards,
            colouring: kept.colouring,
            kit: kept.kit,
        };
        Self { properties, calibration: kept.learnt }
    }
}

impl From<Record> for Kept {
    fn from(record: Record) -> Self {
        let properties = record.properties;
        Self {
            id: properties.id,
            name: properties.name,
            class: properties.class,
            purpose: properties.purpose,
            mix: properties.mix,
            measured_by: properties.measured_by,
            density: properties.density,
            heat_capacity_j_kg_k: properties.heat_capacity_j_kg_k,
            conductivity_w_m_k: properties.conductivity_w_m_k,
            cure: properties.cure,
            viscosity: properties.viscosity,
            working: properties.working,
            datasheet: properties.datasheet,
            cured: properties.cured,
            hazards: properties.hazards,
            colouring: properties.colouring,
            kit: properties.kit,
            learnt: record.calibration,
        }
    }
}
