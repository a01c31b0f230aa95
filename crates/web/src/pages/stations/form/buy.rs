//! What to buy, and how sure it is.

use fondant_cast::mix::buying::order_of;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Money, bounds};

use crate::pages::stations::asked::Asked;
use crate::ui::group::Group;
use crate::ui::units::money;

/// What to buy, and how sure it is.
pub(super) struct Buy {
    pub(super) fields: Group,
    pub(super) headline: String,
    pub(super) sentences: Vec<String>,
}

pub(super) fn buy(asked: &Asked<'_>) -> Buy {
    let (shown, fields) = (asked.shown, asked.fields());
    let (buying, order) = (&asked.document.buying, &asked.evaluation.order);
    let sizing = &asked.measured().sizing;
    let tenths = |chance: f64| format!("{} in 100", trimmed((chance * 100.0).floor(), 0));
    let kits = |n: u32| if n == 1 { "1 kit".to_owned() } else { format!("{n} kits") };
    let mut sentences = vec![format!(
        "{} at hand with what is open: in {} such casts it is enough; {} over on average.",
        shown.volume(order.at_hand),
        tenths(order.enough),
        shown.volume(order.left)
    )];
    if order.enough < 0.9 {
        let more = order_of(buying, order.kits + 1, sizing.total, sizing.uncertainty);
        sentences.push(format!(
            "That is short of 90 in 100. {} would be enough in {}.",
            kits(order.kits + 1),
            tenths(more.enough)
        ));
    } else if order.kits > 1 {
        let fewer = order_of(buying, order.kits - 1, sizing.total, sizing.uncertainty);
        sentences.push(format!("One fewer would be enough in {}.", tenths(fewer.enough)));
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
        headline: kits(order.kits),
        sentences,
    }
}
