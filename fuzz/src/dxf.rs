//! Any bytes as DXF: outlines or a refusal, never a panic; what is read is sound enough to be judged.
#![no_main]

use fondant_shapes::geometry::faults::faults;
use fondant_files::dxf;

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    if let Ok(outlines) = dxf::read(bytes) {
        for outline in &outlines {
            let _ = faults(outline);
            assert!(outline.area().m2().is_finite());
        }
    }
});
