//! A bucket under vacuum: its air swells, rises and breaks.

use fondant_quantities::Volume;

/// Volume of the container for foaming resin, in volumes of the resin: at least, and better (convention).
const ROOM_RATIO: [f64; 2] = [3.0, 4.0];

/// The size of the container that foaming resin of a volume needs, at least and better.
#[must_use]
pub fn room(mixed: Volume) -> [Volume; 2] {
    ROOM_RATIO.map(|ratio| mixed * ratio)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn two_litres_want_a_container_of_six_to_eight() {
        let [least, better] = room(Volume::from_l(2.0)).map(Volume::l);
        assert!((least - 6.0).abs() < 1e-9 && (better - 8.0).abs() < 1e-9);
    }
}
