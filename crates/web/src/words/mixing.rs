//! What is weighed or measured out, in words.

use fondant_cast::mix::{Parts, parts};
use fondant_materials::resin::{MeasuredBy, Properties};

use crate::ui::units::Shown;

/// Parts A and B by mass, "620 g A + 310 g B", and by volume where the resin is measured so.
#[must_use]
pub(crate) fn a_and_b(parts: &Parts, resin: &Properties, shown: Shown) -> String {
    in_lines(parts, resin, shown).join(", ")
}

/// The same, each measure a line of its own where there are two.
fn in_lines(parts: &Parts, resin: &Properties, shown: Shown) -> Vec<String> {
    let by_mass = format!("{} A + {} B", shown.weighed(parts.a_mass), shown.weighed(parts.b_mass));
    let by_volume = || {
        format!("{} A + {} B", shown.volume_fine(parts.a_volume), shown.volume_fine(parts.b_volume))
    };
    match resin.measured_by {
        MeasuredBy::Weight => vec![by_mass],
        MeasuredBy::Either => vec![by_mass, format!("or {}", by_volume())],
        MeasuredBy::Volume => vec![by_volume(), format!("by mass {by_mass}")],
    }
}

/// Parts A and B of each bucket.
#[must_use]
pub(crate) fn of_each_bucket(
    whole: &Parts,
    batches: u32,
    resin: &Properties,
    shown: Shown,
) -> String {
    lines_of_each_bucket(whole, batches, resin, shown).join(", ")
}

/// The same, each measure a line of its own where there are two.
#[must_use]
pub(crate) fn lines_of_each_bucket(
    whole: &Parts,
    batches: u32,
    resin: &Properties,
    shown: Shown,
) -> Vec<String> {
    if batches <= 1 {
        return in_lines(whole, resin, shown);
    }
    let one = parts(whole.volume / f64::from(batches), resin);
    let mut lines = in_lines(&one, resin, shown);
    lines[0] = format!("each bucket {}", lines[0]);
    lines
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ui::numbers::THIN;
    use fondant_materials::resin::ResinClass;
    use fondant_materials::resin::shipped::generic;
    use fondant_quantities::Volume;
    use fondant_quantities::units::UnitSystem;

    /// "0.07 lb of A and 0.04 lb of B" is a tenth off: a scale shows grams, and tenths of small ones.
    #[test]
    fn grams_stand_beside_pounds_as_a_scale_shows_them() {
        let mut resin = generic(ResinClass::SlowCasting).properties;
        resin.measured_by = MeasuredBy::Weight;
        let us = Shown { system: UnitSystem::UsCustomary };
        let little = parts(Volume::from_l(0.045), &resin);
        let told = a_and_b(&little, &resin, us).replace(THIN, " ");
        let grams = format!("{:.1} g", little.a_mass.kg() * 1e3);
        assert!(told.starts_with(&grams) && told.contains(" oz) A + "), "{told}");
        let much = parts(Volume::from_l(4.0), &resin);
        let told = a_and_b(&much, &resin, us).replace(THIN, " ");
        assert!(told.contains(&format!("{:.0} g", much.b_mass.kg() * 1e3)), "{told}");
        assert!(told.contains(" lb) B"), "{told}");
    }

    #[test]
    fn a_resin_measured_by_volume_has_its_volumes_and_each_bucket_its_share() {
        let mut resin = generic(ResinClass::Coating).properties;
        resin.measured_by = MeasuredBy::Volume;
        let whole = parts(Volume::from_l(1.2), &resin);
        let told = of_each_bucket(&whole, 3, &resin, Shown::METRIC).replace(THIN, " ");
        let each = format!("each bucket {:.1} mL A", whole.a_volume.l() * 1e3 / 3.0);
        assert!(told.starts_with(&each.replace(".0 mL", " mL")), "{told} {each}");
        let lines = lines_of_each_bucket(&whole, 3, &resin, Shown::METRIC);
        assert_eq!(lines.len(), 2, "{lines:?}");
        assert!(
            lines[0].starts_with("each bucket ") && lines[1].starts_with("by mass "),
            "{lines:?}"
        );
    }
}
