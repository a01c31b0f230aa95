//! What colours a pour: all of its batches alike, or cups of their own.

use fondant_cast::document::RecipeColour;
use fondant_cast::{Contents, Document};
use fondant_heat::HeatError;
use fondant_materials::resin::Calibrated;
use fondant_pours::ScheduledPour;
use fondant_pours::layers::LayerKind;
use fondant_quantities::Temperature;

use super::prepared::{Prepared, bucket};
use crate::batches::split;
use crate::bucket::Mixed;
use crate::run::{Cup, Tinting};
use crate::swirl::order;

/// The colours of each batch of the main fill, or of each of its cups, with what the shelf says is the
/// most of them. Those of cups that are there no more go nowhere.
pub(super) fn recipe(cast: &Prepared<'_>, kind: LayerKind, cups: &[Cup]) -> Vec<Tinting> {
    if !matches!(kind, LayerKind::Main(_)) {
        return Vec::new();
    }
    let goes = |one: &&RecipeColour| match cups.is_empty() {
        true => one.cup.is_empty(),
        false => cups.iter().any(|cup| cup.colour == one.cup),
    };
    let tinting = |one: &RecipeColour| {
        let shelved = cast.colours.iter().find(|colour| colour.name == one.name);
        Tinting {
            colour: one.name.clone(),
            share: one.percent / 100.0,
            ceiling: shelved.map(|colour| colour.ceiling_percent / 100.0),
            cup: one.cup.clone(),
        }
    };
    cast.document.recipe.colours.iter().filter(goes).map(tinting).collect()
}

/// Cups of several colours in the order in which they are mixed, none larger than a bucket, and how
/// warm they are joined. None where the cast is of one colour, and for what is no part of its main fill.
///
/// # Errors
/// [`HeatError`] of the solver.
pub fn cups(
    document: &Document,
    pour: &ScheduledPour,
    resin: &Calibrated,
) -> Result<(Vec<Cup>, Option<Temperature>), HeatError> {
    let shares = document.cups();
    if !matches!(pour.layer.kind, LayerKind::Main(_)) || shares.is_empty() {
        return Ok((Vec::new(), None));
    }
    let join = match &document.contents {
        Contents::Block(block) => Some(block.swirl.join),
        _ => None,
    };
    let (mixed, bucket) = (pour.mixed * resin.density, bucket(document, pour, resin));
    let cups = shares.iter().flat_map(|(colour, share)| {
        let count = split(mixed * *share, bucket).count.max(1);
        let mass = mixed * *share / f64::from(count);
        std::iter::repeat_n(Cup { colour: (*colour).to_owned(), mass }, count as usize)
    });
    let cups: Vec<Cup> = cups.collect();
    let Some(at) = join else { return Ok((cups, None)) };
    let conditions = &document.conditions;
    let as_mixed = |cup: &Cup| Mixed { mass: cup.mass, at: conditions.resin, air: conditions.air };
    let places = order(resin, &cups.iter().map(as_mixed).collect::<Vec<_>>(), at)?;
    Ok((places.into_iter().map(|place| cups[place].clone()).collect(), join))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::prepare::tests::{evaluated, prepared, worked};
    use fondant_cast::Kind;
    use fondant_cast::document::{Colour, Stage};
    use fondant_pours::layers::Purpose;
    use fondant_quantities::Mass;

    #[test]
    fn colours_of_a_block_are_cups_of_their_share_the_slowest_first() {
        let (mut document, _) = evaluated(Kind::Block, [200.0, 120.0, 20.0]);
        let Contents::Block(block) = &mut document.contents else { panic!() };
        let colour = |name: &str, parts| Colour { name: name.into(), parts };
        block.swirl.colours = vec![colour("sand", 5.0), colour("sea", 2.0), colour("foam", 1.0)];
        block.swirl.join = Temperature::from_celsius(26.0);
        let cast = worked(document);
        let plan = prepared(&cast, None).unwrap();
        let names: Vec<&str> = plan.cups.iter().map(|cup| cup.colour.as_str()).collect();
        assert_eq!(names, ["foam", "sea", "sand"]);
        let mixed: Mass = plan.cups.iter().map(|cup| cup.mass).sum();
        assert!((mixed.kg() - plan.mass().kg()).abs() < 1e-9);
        assert!((plan.cups[2].mass / plan.cups[0].mass - 5.0).abs() < 1e-9);
        assert_eq!(plan.join, Some(Temperature::from_celsius(26.0)));
    }

    /// Of three colours one is weighed by a recipe, and one is of a cup that was removed.
    #[test]
    fn a_recipe_goes_into_its_cup() {
        let (mut document, _) = evaluated(Kind::Block, [200.0, 120.0, 20.0]);
        let Contents::Block(block) = &mut document.contents else { panic!() };
        let colour = |name: &str| Colour { name: name.into(), parts: 1.0 };
        block.swirl.colours = vec![colour("sea"), colour("foam")];
        let tint = |name: &str, cup: &str| RecipeColour {
            cup: cup.into(),
            ..RecipeColour::of_all(name, 0.4)
        };
        document.recipe.colours = vec![tint("lagoon blue", "sea"), tint("soot", "night")];
        let plan = prepared(&worked(document), None).unwrap();
        let told: Vec<_> = plan.recipe.iter().map(|one| (&*one.colour, &*one.cup)).collect();
        assert_eq!(told, [("lagoon blue", "sea")]);
    }

    #[test]
    fn a_base_under_a_swirl_is_of_its_own_colour() {
        let (mut document, _) = evaluated(Kind::Block, [200.0, 120.0, 20.0]);
        let Contents::Block(block) = &mut document.contents else { panic!() };
        let colour = |name: &str| Colour { name: name.into(), parts: 1.0 };
        block.swirl.colours = vec![colour("sea"), colour("foam")];
        document.stages.below = vec![Stage::begin(Purpose::Base)];
        let (document, evaluation) = worked(document);
        let pours = &evaluation.pours.as_ref().unwrap().pours;
        let counts: Vec<(bool, usize)> = pours
            .iter()
            .map(|pour| {
                let resin = &evaluation.need_of(&pour.layer).resin;
                let is_main = matches!(pour.layer.kind, LayerKind::Main(_));
                (is_main, cups(&document, pour, resin).unwrap().0.len())
            })
            .collect();
        assert!(counts.len() > 1 && counts.iter().all(|(is_main, n)| *is_main == (*n == 2)));
        assert!(counts.iter().any(|(is_main, _)| !is_main), "{counts:?}");
    }

    #[test]
    fn moulds_of_two_colours_are_mixed_apart_and_joined_by_nobody() {
        let (mut document, _) = evaluated(Kind::Moulds, [120.0, 80.0, 20.0]);
        let Contents::Moulds(moulds) = &mut document.contents else { panic!() };
        let mut clear = moulds.cavities[0].clone();
        (clear.count, clear.colour) = (2, String::new());
        moulds.cavities[0].colour = "sea".into();
        moulds.cavities.push(clear);
        let plan = prepared(&worked(document), None).unwrap();
        let cups: Vec<(&str, f64)> =
            plan.cups.iter().map(|cup| (cup.colour.as_str(), cup.mass / plan.mass())).collect();
        assert_eq!(cups.iter().map(|(colour, _)| *colour).collect::<Vec<_>>(), ["sea", ""]);
        assert!((cups[0].1 - 0.75).abs() < 1e-9 && plan.join.is_none(), "{cups:?}");
        let one = prepared(&evaluated(Kind::Moulds, [120.0, 80.0, 20.0]), None).unwrap();
        assert!(one.cups.is_empty());
    }
}
