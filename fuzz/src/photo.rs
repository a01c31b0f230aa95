//! Any bytes as a photo: a picture that can be read again, or a refusal.
#![no_main]

use fondant_files::photo;

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    if let Ok(photo) = photo::read(bytes) {
        assert!(photo::raster(&photo.jpeg).is_ok());
    }
});
