//! Layers by name.

use fondant_pours::Schedule;
use fondant_pours::layers::{LayerKind, Purpose};

/// "the base", "layer 2".
pub(crate) fn name(kind: LayerKind) -> String {
    match kind {
        LayerKind::Seal => "the seal coat".to_owned(),
        LayerKind::Base => "the base".to_owned(),
        LayerKind::Main(number) => format!("layer {number}"),
        LayerKind::Stage(purpose, 1) => format!("the {}", of_purpose(purpose)),
        LayerKind::Stage(purpose, number) => format!("{} {number}", of_purpose(purpose)),
    }
}

/// What a pour beside the main fill is, by its purpose.
pub(crate) const fn of_purpose(purpose: Purpose) -> &'static str {
    match purpose {
        Purpose::Cracks => "fill of cracks",
        Purpose::Base => "base",
        Purpose::Inclusions => "inclusion layer",
        Purpose::Top => "top",
        Purpose::Flood => "flood coat",
    }
}

/// The layer of a pour of a schedule.
pub(crate) fn of(index: usize, schedule: &Schedule) -> String {
    name(schedule.pours[index].layer.kind)
}

/// "Base", "Layer 2": for a table or the beginning of a line.
pub(crate) fn heading(kind: LayerKind) -> String {
    capitalised(name(kind).trim_start_matches("the "))
}

/// With a capital at its beginning.
pub(crate) fn capitalised(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map_or_else(String::new, |first| first.to_uppercase().chain(chars).collect())
}
