//! What a cast costs: resin by its lots and kits, its colours, work by the shop's rate, the sheet of a
//! form that was built for it, and what it uses up.

use fondant_bench::Run;
use fondant_bench::run::Batch;
use fondant_cast::shop::Prices;
use fondant_cast::{Contents, Document};
use fondant_materials::resin::Properties;
use fondant_quantities::{Area, Money, Span, Volume};
use fondant_shapes::form::FREEBOARD;
use fondant_shapes::form::cut_list::{Cut, cut_list};

use crate::figures::{Figure, Figures};
use crate::gather::{Gathered, buckets};

/// What a cast costs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cost {
    /// Resin that was poured, or is planned where nothing was.
    pub resin: Money,
    /// Colours that were weighed into it.
    pub tint: Money,
    /// Work at the bench and of finishing.
    pub work: Money,
    /// Sheet of the form.
    pub sheet: Money,
    /// What it uses up beside: discs, gloves, cups, tape.
    pub consumables: Money,
}

impl Cost {
    /// Sum of all parts of the cost.
    #[must_use]
    pub fn total(&self) -> Money {
        self.resin + self.tint + self.work + self.sheet + self.consumables
    }

    /// Its parts as figures; what costs nothing here has no price, and stays unknown.
    pub fn tell(&self, figures: &mut Figures) {
        for (figure, money) in [
            (Figure::ResinCost, self.resin),
            (Figure::TintCost, self.tint),
            (Figure::WorkCost, self.work),
            (Figure::SheetCost, self.sheet),
            (Figure::Consumables, self.consumables),
        ] {
            figures.set_if(figure, Some(money.units()).filter(|units| *units > 0.0));
        }
    }
}

/// What a cast costs. `work` is the time of the bench and of finishing; `is_built` is whether its form
/// was built for it.
#[must_use]
pub fn cost(from: &Gathered<'_>, prices: &Prices, work: Span, is_built: bool) -> Cost {
    Cost {
        resin: resin(from),
        tint: tint(from),
        work: prices.hour * work.h(),
        sheet: match sheet(from).filter(|_| is_built) {
            Some(area) => prices.sheet_m2 * area.m2(),
            None => Money::ZERO,
        },
        consumables: prices.consumables,
    }
}

/// What the resin costs: by the price of the lot that a bucket was taken from, where that is known, else by
/// that of its kits.
fn resin(from: &Gathered<'_>) -> Money {
    let price = |volume: Volume, resin: &Properties| {
        let kit = resin.kit.filter(|kit| kit.volume > Volume::ZERO);
        kit.map_or(Money::ZERO, |kit| kit.price * (volume.m3() / kit.volume.m3()))
    };
    let runs: Vec<&Run> = from.runs.iter().collect();
    let mut poured = buckets(&runs).peekable();
    if poured.peek().is_none() {
        let needs = from.evaluation.needs.iter();
        return needs.map(|need| price(need.parts.volume, &need.resin)).sum();
    }
    let of = |(run, batch): (&Run, &Batch)| {
        let volume = batch.mass(&run.plan) / run.plan.resin.density;
        let lot = batch.lot.as_deref().and_then(|slug| from.lot(slug));
        lot.and_then(|lot| lot.price(volume)).unwrap_or_else(|| price(volume, &run.plan.resin))
    };
    poured.map(of).sum()
}

/// What its colours cost by what was weighed into its buckets, as far as the shelf knows their price.
fn tint(from: &Gathered<'_>) -> Money {
    let price = |name: &str| {
        let colour = from.colours.iter().find(|colour| colour.name == name);
        colour.and_then(|colour| colour.price_kg).unwrap_or(Money::ZERO)
    };
    let runs: Vec<&Run> = from.runs.iter().collect();
    let tints = buckets(&runs).flat_map(|(_, batch)| &batch.tints);
    tints.map(|tint| price(&tint.colour) * tint.mass.kg()).sum()
}

/// Sheet that a built form takes; `None` where the kind has no form of sheet.
fn sheet(from: &Gathered<'_>) -> Option<Area> {
    let build = form(from.document)?;
    let measured = &from.evaluation.measured;
    let height = measured.fill.depth() + FREEBOARD;
    let list = cut_list(&measured.cast, height, build.thickness, build.stock());
    let cut = |cut: &Cut| cut.length * cut.width * cut.count as f64;
    Some(list.cuts.iter().map(cut).sum())
}

const fn form(document: &Document) -> Option<&fondant_cast::document::FormBuild> {
    match &document.contents {
        Contents::River(river) => Some(&river.build),
        Contents::Block(block) => Some(&block.build),
        Contents::Embed(embed) => Some(&embed.build),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use fondant_cast::{Inputs, Kind, Site, evaluate};
    use fondant_materials::resin::shelf::{Colour, ColourBase, ColourKind, Lot};
    use fondant_materials::resin::{Kit, shipped};
    use fondant_numerics::Stop;
    use fondant_pours::{ShopHours, Workday};
    use fondant_quantities::Length;
    use fondant_shapes::form::Piece;

    use super::*;
    use crate::gather::tests::{block, run};

    /// A block of 200 × 100 × 30 mm inside. Melamine of 16 mm: a base of 232 × 132 mm, walls of 30 mm
    /// and the freeboard.
    #[test]
    fn a_block_by_hand() {
        let mm = Length::from_mm;
        let piece = Piece {
            flattening: Length::ZERO,
            ..Piece::slab(mm(200.0), mm(100.0), mm(30.0), Length::ZERO)
        };
        let begin = "2026-11-23T09:00:00Z".parse().unwrap();
        let document = Document::begin(Kind::Block, "Block".into(), piece, begin);
        let day = Workday::read_day("08:00-18:00").unwrap();
        let hours = ShopHours::new(vec![day; 7].try_into().unwrap(), "UTC").unwrap();
        let mut resin = shipped::find(&document.resin).unwrap();
        let kit = Kit { volume: Volume::from_l(6.0), price: Money::from_units(120.0) };
        resin.properties.kit = Some(kit);
        let inputs = Inputs::new(document.clone(), resin, &Site::plain(hours));
        let evaluation = evaluate(&inputs, &Stop::NEVER).unwrap();
        let from = Gathered {
            document: &document,
            evaluation: &evaluation,
            runs: &[],
            lots: &[],
            colours: &[],
            opened: None,
        };
        let prices = Prices {
            hour: Money::from_units(40.0),
            sheet_m2: Money::from_units(15.0),
            consumables: Money::from_units(6.0),
        };
        let found = cost(&from, &prices, Span::from_h(1.5), true);
        let total = evaluation.total().l();
        assert!((found.resin.units() - total * 20.0).abs() < 1e-9);
        assert!((found.work.units() - 60.0).abs() < 1e-9);
        let Contents::Block(block) = &document.contents else { panic!() };
        let (t, wall) = (block.build.thickness.m(), 0.03 + FREEBOARD.m());
        let area =
            (0.2 + 2.0 * t) * (0.1 + 2.0 * t) + 2.0 * wall * (0.2 + 2.0 * t) + 2.0 * wall * 0.1;
        assert!((found.sheet.units() - 15.0 * area).abs() < 1e-6, "{found:?}");
        let sum = found.resin.units() + 60.0 + found.sheet.units() + 6.0;
        assert!((found.total().units() - sum).abs() < 1e-9);
        assert_eq!(found.tint, Money::ZERO);
        let reused = cost(&from, &prices, Span::ZERO, false);
        assert_eq!((reused.sheet, reused.work), (Money::ZERO, Money::ZERO));
        let mut figures = Figures::default();
        reused.tell(&mut figures);
        assert_eq!(figures.get(Figure::SheetCost), None, "what has no price is not known");
        assert_eq!(figures.get(Figure::Consumables), Some(6.0));
    }

    /// 90 for 6 L is 15 a litre; colour at 100 a kilogram. A lot whose size nobody said costs as its kit.
    #[test]
    fn a_bucket_costs_what_its_lot_and_its_colour_cost() {
        let (document, evaluation) = block();
        let runs = [run()];
        let lot = |held| Lot {
            resin: document.resin.clone(),
            lot: "S-1".into(),
            bought: jiff::civil::date(1969, 6, 1),
            opened: None,
            left: Volume::from_l(2.0),
            cost: Money::from_units(90.0),
            held,
        };
        let blue = Colour {
            name: "blue".into(),
            kind: ColourKind::Paste,
            base: ColourBase::Resin,
            ceiling_percent: 5.0,
            price_kg: Some(Money::from_units(100.0)),
        };
        let costs = |held| {
            let from = Gathered {
                document: &document,
                evaluation: &evaluation,
                runs: &runs,
                lots: &[("L7".to_owned(), lot(held))],
                colours: std::slice::from_ref(&blue),
                opened: None,
            };
            cost(&from, &Prices::default(), Span::ZERO, false)
        };
        let plan = &runs[0].plan;
        let batches = &runs[0].batches;
        let mass: f64 = batches.iter().map(|batch| batch.mass(plan).kg()).sum();
        let tint: f64 = batches.iter().map(|batch| batch.tint().kg()).sum();
        let by_lot = costs(Some(Volume::from_l(6.0)));
        let litres = mass / plan.resin.density.kg_m3() * 1e3;
        assert!((by_lot.resin.units() - 15.0 * litres).abs() < 1e-6, "{by_lot:?}");
        assert!((by_lot.tint.units() - 100.0 * tint).abs() < 1e-6 && tint > 0.04);
        let kit = plan.resin.kit.map_or(0.0, |kit| kit.price.units() / kit.volume.l());
        assert!((costs(None).resin.units() - kit * litres).abs() < 1e-6);
    }
}
