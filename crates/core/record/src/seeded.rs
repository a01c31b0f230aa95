//! Numbers for tests that look random and are the same every time.

/// The generator of D. H. Lehmer (1951) with the factor of S. Park and K. Miller's revision (1993).
pub(crate) struct Seeded(u64);

impl Seeded {
    pub(crate) const fn new(seed: u64) -> Self {
        Self(seed)
    }

    /// A number below `count`.
    pub(crate) fn below(&mut self, count: usize) -> usize {
        (self.share() * count as f64) as usize
    }

    /// A share from 0 up to 1.
    pub(crate) fn share(&mut self) -> f64 {
        const MODULUS: u64 = 2_147_483_647;
        self.0 = self.0 * 48_271 % MODULUS;
        self.0 as f64 / MODULUS as f64
    }
}
