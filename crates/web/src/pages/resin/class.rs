//! Another class chosen for a new resin: what was not typed yet becomes what that class has.

use fondant_materials::resin::{Properties, Record, ResinClass, ResinId, shipped};

use super::form::groups;
use crate::ui::entries::{Entries, Refusals};
use crate::ui::field::Fields;
use crate::ui::units::Shown;
use crate::words::resin::CLASSES;

/// What a new resin begins with: the figures of its class, nothing said of times.
pub(super) fn fresh(class: ResinClass) -> Record {
    Record::uncalibrated(Properties {
        id: ResinId(String::new()),
        name: String::new(),
        purpose: String::new(),
        ..shipped::generic(class).properties
    })
}

/// The class that is chosen in a form, or the one that a new resin has until one is.
pub(super) fn class(typed: &Entries) -> ResinClass {
    named(typed, "class").unwrap_or(ResinClass::MediumCasting)
}

fn named(typed: &Entries, field: &str) -> Option<ResinClass> {
    let value = typed.get(field)?;
    CLASSES.iter().find(|(slug, ..)| *slug == value).map(|(.., class)| *class)
}

/// The form with another class, as it is asked for while a new resin is typed; `None` where none is.
pub(super) fn refilled(typed: &Entries, shown: Shown) -> Option<(Record, Entries)> {
    let (chosen, was) = (fresh(named(typed, "class")?), fresh(named(typed, "class_was")?));
    let (new, old) = (as_sent(&chosen, shown), as_sent(&was, shown));
    let is_hazard = |name: &str| name.starts_with("hz_");
    let hazards = |all: &[(String, String)]| -> Vec<String> {
        all.iter().filter(|(name, _)| is_hazard(name)).map(|(name, _)| name.clone()).collect()
    };
    let are_hazards_typed = hazards(typed.pairs()) != hazards(&old);
    let is_typed = |name: &str| {
        if is_hazard(name) {
            return are_hazards_typed;
        }
        let before = old.iter().find(|(n, _)| n == name).map(|(_, value)| value.as_str());
        typed.get(name) != before
    };
    let kept = typed.pairs().iter().filter(|(name, _)| is_typed(name)).cloned();
    let refilled = new.into_iter().filter(|(name, _)| !is_typed(name) || name == "class");
    Some((chosen, Entries::new(refilled.chain(kept).collect())))
}

/// A resin's form as a browser would send it.
fn as_sent(resin: &Record, shown: Shown) -> Vec<(String, String)> {
    let none = Refusals::none();
    let fields = Fields::of(shown, None, &none);
    let sent = groups(&fields, resin).into_iter().flat_map(|group| group.fields);
    sent.filter_map(|field| match field.kind {
        "checkbox" => field.is_ticked.then(|| (field.name, "1".to_owned())),
        "select" => {
            let chosen = field.options.into_iter().find(|option| option.is_chosen)?;
            Some((field.name, chosen.value))
        }
        _ => Some((field.name, field.value)),
    })
    .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use fondant_quantities::units::UnitSystem;

    const SHOWN: Shown = Shown { system: UnitSystem::Metric };

    fn with(class: ResinClass, changes: &[(&str, &str)], chosen: &str) -> Entries {
        let mut pairs = as_sent(&fresh(class), SHOWN);
        let was = CLASSES.iter().find(|(.., c)| *c == class).unwrap().0;
        pairs.push(("class_was".into(), was.into()));
        for (name, value) in changes.iter().chain([&("class", chosen)]) {
            match pairs.iter_mut().find(|(n, _)| n == name) {
                Some(pair) => pair.1 = (*value).to_owned(),
                None => pairs.push(((*name).to_owned(), (*value).to_owned())),
            }
        }
        Entries::new(pairs)
    }

    #[test]
    fn another_class_brings_its_figures_and_leaves_what_was_typed() {
        let typed = [("name", "our coat"), ("viscosity", "777")];
        let typed = with(ResinClass::MediumCasting, &typed, "coating");
        let (record, refilled) = refilled(&typed, SHOWN).unwrap();
        assert_eq!(record.class, ResinClass::Coating);
        assert_eq!(
            (refilled.get("name"), refilled.get("viscosity")),
            (Some("our coat"), Some("777"))
        );
        let coating = Entries::new(as_sent(&fresh(ResinClass::Coating), SHOWN));
        for name in ["by_volume", "limit", "kit", "class"] {
            assert_eq!(refilled.get(name), coating.get(name), "{name}");
        }
        assert_ne!(coating.get("by_volume"), typed.get("by_volume"));
    }

    #[test]
    fn hazards_that_were_ticked_by_hand_stay() {
        let untouched = with(ResinClass::MediumCasting, &[], "polyester");
        let (_, all) = refilled(&untouched, SHOWN).unwrap();
        assert_eq!(all.get("hz_flammable"), Some("1"));
        let by_hand = with(ResinClass::MediumCasting, &[("hz_isocyanate", "1")], "polyester");
        let (_, all) = refilled(&by_hand, SHOWN).unwrap();
        assert_eq!((all.get("hz_isocyanate"), all.get("hz_flammable")), (Some("1"), None));
    }
}
