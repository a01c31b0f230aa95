//! What to buy, after what is free on the shelf, and how sure it is.

use fondant_app::stock::Stock;
use fondant_cast::Need;
use fondant_cast::facts::left::left;
use fondant_cast::mix::buying::{Buying, order, order_of};
use fondant_quantities::{Money, Volume};

use crate::pages::stations::asked::Asked;
use crate::paths::shop::Resin;
use crate::ui::numbers::money;
use crate::ui::units::Shown;
use crate::words::counting::counted;
use crate::words::layers::capitalised;

/// What to buy, and how sure it is.
pub(super) struct Buy {
    /// The resin's page on the shelf: its kit and price.
    pub(super) shelf: Resin,
    pub(super) headline: String,
    pub(super) sentences: Vec<String>,
    /// What is bought of the resins of the stages.
    pub(super) others: Vec<String>,
}

pub(super) fn buy(asked: &Asked<'_>, stock: &Stock) -> Buy {
    let shown = asked.shown;
    let needs = left(asked.evaluation, &asked.visit.facts);
    let own = &needs[0];
    let buying = stock.buying(&own.resin.id, own.resin.kit);
    let kits = buying.map_or_else(
        || format!("{} to buy", shown.volume(own.parts.volume)),
        |buying| match order(&buying, own.parts.volume, own.uncertainty).kits {
            0 => "Nothing to buy".to_owned(),
            kits => counted(kits, "kit"),
        },
    );
    let mut sentences: Vec<String> = on_the_shelf(own, stock, shown).into_iter().collect();
    if own.parts.volume < asked.evaluation.own().parts.volume {
        sentences
            .push(format!("Without what is in: {} to be mixed.", shown.volume(own.parts.volume)));
    }
    match buying {
        _ if own.parts.volume <= Volume::ZERO => {}
        Some(buying) => sentences.extend(bought(own, &buying, shown)),
        None => sentences.push("Its kit is not on the shelf yet: enter its size there.".to_owned()),
    }
    Buy {
        shelf: Resin { resin: own.resin.id.0.clone() },
        headline: if needs.len() == 1 { kits } else { format!("{kits} of {}", own.resin.name) },
        sentences,
        others: needs[1..].iter().filter(is_left).map(|need| other(need, stock, shown)).collect(),
    }
}

/// Whether something is to be mixed of it.
fn is_left(need: &&Need) -> bool {
    need.parts.volume > Volume::ZERO
}

/// Bottles of a resin, and for whom.
fn on_the_shelf(need: &Need, stock: &Stock, shown: Shown) -> Option<String> {
    let resin = &need.resin.id;
    let left = stock.left(resin);
    let meant: Vec<String> = stock
        .reserved_of(resin)
        .map(|one| format!("{} for {}", shown.volume(one.volume), one.by))
        .collect();
    if left <= Volume::ZERO {
        return (!meant.is_empty())
            .then(|| format!("None is on the shelf. Other plans need {}.", meant.join(", ")));
    }
    let meant = match meant.as_slice() {
        [] => String::new(),
        all => format!(" Other plans need {}.", all.join(", ")),
    };
    Some(format!("On the shelf: {}.{meant}", shown.volume(left)))
}

fn bought(need: &Need, buying: &Buying, shown: Shown) -> Vec<String> {
    let order = order(buying, need.parts.volume, need.uncertainty);
    let mut all = vec![format!(
        "{} at hand, kits of {} and what is free on the shelf: {}; {} left over on average.",
        shown.volume(order.at_hand),
        shown.volume(buying.kit),
        enough(order.enough),
        shown.volume(order.left)
    )];
    if order.kits > 1 {
        let fewer = order_of(buying, order.kits - 1, need.parts.volume, need.uncertainty);
        all.push(format!("With one kit less: {}.", enough(fewer.enough)));
    }
    if buying.price > Money::ZERO && order.kits > 0 {
        all.push(format!(
            "{} for the kits, {} of it for what is left over.",
            money(order.cost),
            money(order.left_cost)
        ));
    }
    all
}

/// What is bought of the resin of a stage, by the kit that the shelf has.
fn other(need: &Need, stock: &Stock, shown: Shown) -> String {
    let needed =
        format!("{}: {} mixed", capitalised(&need.resin.name), shown.volume(need.parts.volume));
    let Some(buying) = stock.buying(&need.resin.id, need.resin.kit) else {
        return format!("{needed}. Its kit is not on the shelf yet.");
    };
    let order = order(&buying, need.parts.volume, need.uncertainty);
    let cost = match order.cost > Money::ZERO {
        true => format!(" for {}", money(order.cost)),
        false => String::new(),
    };
    let (kits, kit) = (counted(order.kits, "kit"), shown.volume(buying.kit));
    format!("{needed}, {kits} of {kit}{cost}; {}.", enough(order.enough))
}

/// How often an order is enough, said so that it stays true at both ends.
fn enough(chance: f64) -> String {
    match (chance * 100.0).floor() {
        percent if percent < 1.0 => "almost never enough".to_owned(),
        percent if percent > 99.0 => "enough in more than 99 of 100 casts like this".to_owned(),
        percent => format!("enough in {percent:.0} of 100 casts like this"),
    }
}
