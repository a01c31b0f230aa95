//! Factors by which a resin differs from the generic model of its class.

/// Factors on the generic model.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Factors {
    /// Factor on both frequency factors.
    pub rate: f64,
    /// Factor on the heat of cure.
    pub heat: f64,
    /// Factor on the loss of the cup.
    pub loss: f64,
}

impl Factors {
    /// The generic model.
    pub const ONE: Self = Self { rate: 1.0, heat: 1.0, loss: 1.0 };
}
