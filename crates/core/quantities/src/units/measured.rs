//! Quantities that people write with units of their own.

/// A quantity that people write with units of their own.
pub trait Measured: Copy + 'static {
    /// The units in which it is written.
    type Unit: Unit<Self>;
    /// What it is called in a sentence: "a length".
    const NOUN: &'static str;
}

/// A unit of one quantity.
pub trait Unit<Q>: Copy + PartialEq + 'static {
    /// All units of the quantity, the commonest first.
    const ALL: &'static [Self];
    /// The spellings that are understood; the first is the one shown.
    fn spellings(self) -> &'static [&'static str];
    /// The quantity for a number of this unit.
    fn read(self, number: f64) -> Q;
    /// The number of this unit in the quantity.
    fn write(self, quantity: Q) -> f64;
    /// The symbol shown after a number.
    fn symbol(self) -> &'static str {
        self.spellings()[0]
    }
}

/// Writes a quantity in one unit, exactly: reading it again gives the same figure.
#[must_use]
pub fn exact<Q: Measured>(quantity: Q, unit: Q::Unit) -> String {
    format!("{} {}", unit.write(quantity), unit.symbol())
}
