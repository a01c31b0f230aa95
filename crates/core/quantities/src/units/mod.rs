//! Reading quantities as makers type them ("38", "1 1/2 in", "3.8cm") and
//! writing them back.
//!
//! - `measured`: a quantity and its units; `each`: the units of each quantity
//! - `system`: the units that a workshop thinks in
//! - `parse`, `print`: text to quantity and back

mod each;
mod measured;
mod parse;
mod print;
mod system;

pub use each::{
    AbsorptionUnit, DensityUnit, LengthUnit, MassUnit, SlopeUnit, TemperatureDeltaUnit,
    TemperatureUnit, VolumeUnit,
};
pub use measured::{Measured, Unit, exact};
pub use parse::{ParseQuantityError, parse};
pub use print::{fraction_of_inch, trimmed};
pub use system::UnitSystem;

#[cfg(test)]
mod tests;
