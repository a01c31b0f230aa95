//! Any bytes as logs of the air and of a cup, in every order of dates: readings in order of time, or
//! a refusal.
#![no_main]

use fondant_files::logs::air::{self, AirOptions, Clock};
use fondant_files::logs::cup::{self, CupOptions};
use fondant_files::text::decoded;

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    let text = decoded(bytes, None);
    let clocks = [Clock::Written, Clock::Fixed(3600), Clock::Place("Europe/Lisbon".into())];
    for clock in clocks {
        let options = AirOptions { clock, scale: None, order: None };
        if let Ok(read) = air::read(&text, &options) {
            assert!(!read.log.readings.is_empty());
            assert!(read.log.readings.is_sorted_by(|a, b| a.at < b.at));
        }
    }
    if let Ok(log) = cup::read(&text, CupOptions::default()) {
        assert!(log.readings.is_sorted_by(|a, b| a.t_s <= b.t_s));
    }
});
