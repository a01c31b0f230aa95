//! What to buy, and how sure it is.

use fondant_cast::Need;
use fondant_cast::mix::buying::order_of;
use fondant_quantities::{Money, bounds};

use crate::pages::stations::asked::Asked;
use crate::ui::group::Group;
use crate::ui::units::money;
use crate::words::counting::counted;
use crate::words::layers::capitalised;

/// What to buy, and how sure it is.
pub(super) struct Buy {
    pub(super) fields: Group,
    pub(super) headline: String,
    pub(super) sentences: Vec<String>,
    /// What is bought of the resins of the stages.
    pub(super) others: Vec<String>,
}

pub(super) fn buy(asked: &Asked<'_>) -> Buy {
    let (shown, fields) = (asked.shown, asked.fields());
    let own = asked.evaluation.own();
    let (buying, order) = (&own.buying, &own.order);
    let mut sentences = vec![format!(
        "{} at hand with opened stock: {}; {} left over on average.",
        shown.volume(order.at_hand),
        enough(order.enough),
        shown.volume(order.left)
    )];
    if order.kits > 1 {
        let fewer = order_of(buying, order.kits - 1, own.parts.volume, own.uncertainty);
        sentences.push(format!("One kit less would be {}.", enough(fewer.enough)));
    }
    if buying.price > Money::ZERO {
        sentences.push(format!(
            "{} for the kits, {} of it for what is left over.",
            money(order.cost),
            money(order.left_cost)
        ));
    }
    Buy {
        fields: Group::new(
            "",
            vec![
                fields.volume("kit", "One kit, mixed", buying.kit),
                fields
                    .money("price", "Price of a kit", buying.price, &bounds::PRICE)
                    .hint("In whatever the shop pays with."),
                fields
                    .volume("opened", "Opened stock still gives", buying.opened)
                    .hint("As much as both parts together still make."),
            ],
        ),
        headline: match asked.evaluation.needs.len() {
            1 => kits(order.kits),
            _ => format!("{} of {}", kits(order.kits), own.resin.name),
        },
        others: asked.evaluation.needs[1..].iter().map(|need| other(asked, need)).collect(),
        sentences,
    }
}

fn kits(n: u32) -> String {
    counted(n, "kit")
}

/// What is bought of the resin of a stage, by the kit that the shelf has.
fn other(asked: &Asked<'_>, need: &Need) -> String {
    let shown = asked.shown;
    let needed =
        format!("{}: {} mixed", capitalised(&need.resin.name), shown.volume(need.parts.volume));
    if need.resin.kit.is_none() {
        return format!("{needed}. Its kit is not on the shelf yet.");
    }
    let (kit, order) = (shown.volume(need.buying.kit), &need.order);
    let cost = match order.cost > Money::ZERO {
        true => format!(" for {}", money(order.cost)),
        false => String::new(),
    };
    format!("{needed}, {} of {kit}{cost}; {}.", kits(order.kits), enough(order.enough))
}

/// How often an order is enough, said so that it stays true at both ends.
fn enough(chance: f64) -> String {
    match (chance * 100.0).floor() {
        percent if percent < 1.0 => "almost never enough".to_owned(),
        percent if percent > 99.0 => "enough in more than 99 of 100 casts like this".to_owned(),
        percent => format!("enough in {percent:.0} of 100 casts like this"),
    }
}
