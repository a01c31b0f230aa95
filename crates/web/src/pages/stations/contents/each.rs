//! What one of many equal cavities takes.

use fondant_cast::mix::parts;
use fondant_quantities::Volume;
use fondant_shapes::blanks::Hollow;

use crate::pages::stations::asked::Asked;
use crate::paths::casts::Station;
use crate::ui::figure::Figure;

/// Resin that one cavity takes, net of the objects in it, mL.
pub(super) fn each(asked: &Asked<'_>, hollow: &Hollow, inside: Volume) -> Figure {
    let shown = asked.shown;
    let net = hollow.volume() - inside;
    let parts = parts(net, &asked.evaluation.resin);
    Figure::new(
        "each",
        shown.weighed(parts.mass),
        format!("in each cavity, {}", shown.volume(net)),
        "What one cavity takes",
    )
    .formula(format!(
        "(cavity − objects) × density\n= ({} − {}) × {}\n= {}",
        shown.volume_fine(hollow.volume()),
        shown.volume_fine(inside),
        shown.density(asked.evaluation.resin.density),
        shown.weighed(parts.mass)
    ))
    .note(format!(
        "{} of A and {} of B for one.",
        shown.weighed(parts.a_mass),
        shown.weighed(parts.b_mass)
    ))
    .change("The cavity", Station::of(asked.cast, "piece").to_string())
}
