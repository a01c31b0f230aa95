//! Any bytes as SVG: a drawing or a refusal, never a panic; what is read is sound enough to be judged.
#![no_main]

use fondant_files::svg;
use fondant_shapes::geometry::Outline;
use fondant_shapes::geometry::faults::faults;

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    if let Ok(drawing) = svg::read(bytes, &Default::default()) {
        for closed in drawing.rings {
            let outline = Outline::new(closed.ring);
            let _ = faults(&outline);
            assert!(outline.area().m2().is_finite());
        }
    }
});
