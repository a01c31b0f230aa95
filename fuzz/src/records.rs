//! Any bytes as a cast and as a resin: what is read is written and read again as the same, or it is
//! refused.
#![no_main]

use fondant_files::records::{cast, resin};

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    if let Ok(file) = cast::read(bytes) {
        let text = cast::write(&file.document, file.resins.clone()).expect("a cast is written");
        assert_eq!(cast::read(text.as_bytes()), Ok(file));
    }
    if let Ok(record) = resin::read(bytes) {
        let text = resin::write(&record).expect("a resin is written");
        assert_eq!(resin::read(text.as_bytes()), Ok(record));
    }
});
