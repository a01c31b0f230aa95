//! Any text as a quantity: a number within its bounds, or a sentence.
#![no_main]

use fondant_quantities::bounds::{
    BOARD_THICKNESS, DRY_FILL, MASS, RESIN_TEMPERATURE, TIMBER_DENSITY, TIMBER_MOISTURE_PERCENT,
};
use fondant_quantities::units::UnitSystem;

libfuzzer_sys::fuzz_target!(|text: &str| {
    for system in [UnitSystem::Metric, UnitSystem::UsCustomary] {
        if let Ok(length) = BOARD_THICKNESS.read(text, system) {
            assert!(BOARD_THICKNESS.contains(length));
        }
        let _ = DRY_FILL.read(text, system);
        let _ = MASS.read(text, system);
        let _ = RESIN_TEMPERATURE.read(text, system);
        let _ = TIMBER_DENSITY.read(text, system);
    }
    if let Ok(percent) = TIMBER_MOISTURE_PERCENT.read(text) {
        assert!((0.0..=40.0).contains(&percent));
    }
});
