//! How the moulds of a cast stand in its pressure pot.

use fondant_cast::measure::{standing_in_pot, standing_name};
use fondant_shapes::blanks::pot::{Level, load};

use super::prepared::Prepared;
use crate::run::PotLevel;

/// How the pot is loaded, and how many moulds have no place in it. Nothing where none of them stands in
/// it: station Form says so.
pub(super) fn pot_levels(cast: &Prepared<'_>) -> (Vec<PotLevel>, u32) {
    let document = cast.document;
    let Some(pot) = document.contents.pot() else { return (Vec::new(), 0) };
    let all = standing_in_pot(document, &cast.evaluation.measured);
    let Ok(loading) = load(pot, &all) else { return (Vec::new(), 0) };
    let (first, others) = loading.loads.split_first().map_or((&[][..], &[][..]), |(a, b)| (a, b));
    let level = |level: &Level| PotLevel {
        name: standing_name(document, level.of).to_owned(),
        count: level.count,
    };
    let out = others.iter().flatten().map(|level| level.count).sum();
    (first.iter().map(level).collect(), out)
}

#[cfg(test)]
mod tests {
    use crate::prepare::tests::{evaluated, prepared, worked};
    use fondant_cast::document::Cavities;
    use fondant_cast::{Contents, Kind};
    use fondant_quantities::Length;
    use fondant_shapes::blanks::Hollow;
    use fondant_shapes::blanks::pot::Pot;

    /// In a pot 130 mm across, less 5 mm all round, stands one mould of 70 × 70 mm a level. Cubes 50 mm
    /// deep in walls of 10 mm are 60 mm high, trays 30 mm: with shelves of 5 mm, 65 + 65 + 35 mm are
    /// 165 of 170 mm, and two trays are left over.
    #[test]
    fn tall_moulds_stand_lowest_and_what_is_left_over_waits() {
        let mm = Length::from_mm;
        let (mut document, _) = evaluated(Kind::Moulds, [50.0, 50.0, 50.0]);
        let Contents::Moulds(moulds) = &mut document.contents else { panic!() };
        let row = |name: &str, count, depth| {
            let hollow = Hollow::Box { length: mm(50.0), width: mm(50.0), depth: mm(depth) };
            let name = name.to_owned();
            Cavities { name, ..Cavities::empty(count, hollow) }
        };
        moulds.cavities = vec![row("Trays", 3, 20.0), row("Cubes", 2, 50.0)];
        moulds.wall = mm(10.0);
        moulds.pot =
            Some(Pot { diameter: mm(130.0), height: mm(170.0), shelf: mm(5.0), gap: mm(5.0) });
        let plan = prepared(&worked(document), None).unwrap();
        let levels: Vec<(&str, u32)> =
            plan.pot_levels.iter().map(|level| (level.name.as_str(), level.count)).collect();
        assert_eq!(levels, [("Cubes", 1), ("Cubes", 1), ("Trays", 1)]);
        assert_eq!(plan.out_of_pot, 2);
    }
}
