//! Any bytes as STL: a solid with a volume, or a refusal.
#![no_main]

use fondant_files::stl;

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    if let Ok(solid) = stl::read(bytes) {
        assert!(solid.volume.m3() > 0.0);
    }
});
