//! Any plan that keeps its bounds is measured or refused with a reason: no
//! panic, nothing that is no number, and every promise of a volume kept.

use fondant_cast::document::{Cavities, Contents, Pressed, PressedShape, Shaping};
use fondant_cast::mix::buying::{Buying, order};
use fondant_cast::{Document, Kind, Measured, measure};
use fondant_quantities::{Density, Length, Mass, Money, Slope, Volume};
use fondant_shapes::blanks::Hollow;
use fondant_shapes::form::Piece;
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::timber::{Board, BoardShape, Cavity, CavityShape, InsertShape};
use proptest::prelude::*;

fn mm(v: f64) -> Length {
    Length::from_mm(v)
}

fn begun(kind: Kind, sides: [f64; 3], allowances: [f64; 3]) -> Document {
    let piece = Piece {
        flattening: mm(allowances[1]),
        squaring: mm(allowances[2]),
        ..Piece::slab(mm(sides[0]), mm(sides[1]), mm(sides[2]), mm(allowances[0]))
    };
    Document::begin(kind, "any".into(), piece, "2026-11-23T09:00:00Z".parse().expect("a time"))
}

/// Whatever was measured adds up and can be poured layer by layer.
fn keeps_its_promises(measured: &Measured) -> Result<(), TestCaseError> {
    let (sizing, fill) = (&measured.sizing, &measured.fill);
    let sum: Volume = sizing.lines.iter().map(|l| l.volume).sum();
    prop_assert!((sum / sizing.total - 1.0).abs() < 1e-6, "{:?}", sizing.lines);
    prop_assert!(sizing.total.m3().is_finite() && sizing.total > Volume::ZERO);
    prop_assert!(sizing.uncertainty.m3().is_finite() && sizing.uncertainty >= Volume::ZERO);
    prop_assert!(sizing.poured <= sizing.total);
    let mut below = Volume::ZERO;
    for step in 0..=40 {
        let here = fill.volume_to(fill.depth() * (f64::from(step) / 40.0));
        prop_assert!(here.m3() >= below.m3() - 1e-12, "V(z) falls at step {step}");
        below = here;
    }
    for laid in &measured.layout.laid {
        prop_assert!(laid.to >= laid.from, "{laid:?}");
    }
    let cut = measured.layout.cut_at(measured.layout.middle());
    prop_assert!(
        cut.iter().flat_map(|c| c.corners).all(|(x, z)| x.m().is_finite() && z.m().is_finite())
    );
    let buying = Buying {
        kit: Volume::from_l(3.0),
        price: Money::from_units(60.0),
        opened: Volume::from_l(0.5),
    };
    let order = order(&buying, sizing.total, sizing.uncertainty);
    prop_assert!((0.0..=1.0).contains(&order.enough));
    Ok(())
}

fn kinds() -> impl Strategy<Value = Kind> {
    proptest::sample::select(Kind::ALL.to_vec())
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    #[test]
    fn any_kind_of_any_size(
        kind in kinds(),
        sides in [10.0f64..6000.0, 10.0f64..2500.0, 1.0f64..400.0],
        allowances in [0.0f64..100.0, 0.0f64..20.0, 0.0f64..100.0],
        base in 0.0f64..12.0, overfill in 0.0f64..20.0, fall in 0.0f64..20.0, share in 0.0f64..0.2,
    ) {
        let mut plan = begun(kind, sides, allowances);
        if let Some(river) = plan.contents.river_mut() {
            river.base_gap = mm(base);
        }
        plan.form.overfill = mm(overfill);
        plan.form.fall = Slope::from_mm_m(fall);
        plan.form.bucket_residue_ratio = share;
        plan.form.leak_ratio = share;
        match measure(&plan) {
            Ok(measured) => keeps_its_promises(&measured)?,
            Err(conflicts) => prop_assert!(!conflicts.is_empty()),
        }
    }

    #[test]
    fn any_boards_in_any_form(
        boards in proptest::collection::vec(
            (-200.0f64..1300.0, -200.0f64..700.0, 20.0f64..900.0, 20.0f64..500.0, 0.0f64..6.3, -60.0f64..60.0, 5.0f64..90.0),
            1..6,
        ),
        ball in 5.0f64..200.0, balls in 0u32..4, above in 0.0f64..40.0,
    ) {
        let mut plan = begun(Kind::River, [1200.0, 600.0, 5.0], [10.0, 2.0, 0.0]);
        plan.contents.river_mut().unwrap().shaping = Shaping::Outlines;
        plan.contents.river_mut().unwrap().boards = boards
            .iter()
            .map(|(x, y, l, w, turn, bevel, thick)| {
                let (sin, cos) = turn.sin_cos();
                let outline = Outline::rectangle(mm(*l), mm(*w)).map(|p| {
                    Point { x_m: p.x_m * cos - p.y_m * sin, y_m: p.x_m * sin + p.y_m * cos }
                        .plus(Point::from_mm(*x, *y))
                });
                let underside = Underside::Bevels(vec![mm(*bevel); 4]);
                let shape = Some(BoardShape { outline: outline.cleaned(), underside });
                Board { shape, ..Board::usual(mm(*thick)) }
            })
            .collect();
        if balls > 0 {
            let embed = begun(Kind::Embed, [300.0, 250.0, 280.0], [5.0, 0.0, 25.0]);
            let mut insert = embed.contents.inserts()[0].clone();
            insert.shape = InsertShape::Ball { diameter: mm(ball) };
            insert.above_floor = mm(above);
            insert.count = balls;
            *plan.contents.inserts_mut().unwrap() = vec![insert];
        }
        match measure(&plan) {
            Ok(measured) => keeps_its_promises(&measured)?,
            Err(conflicts) => prop_assert!(!conflicts.is_empty()),
        }
    }

    #[test]
    fn any_cavities_moulds_and_inserts(
        shape in proptest::sample::select(CavityShape::ALL.to_vec()),
        sides in [0.5f64..6000.0, 0.5f64..600.0, 0.5f64..300.0],
        count in 1u32..200, water_ml in 0.5f64..5000.0, inside_ml in 0.0f64..5000.0,
        ball in 1.0f64..400.0, above in 0.0f64..300.0, grams in 0.1f64..5000.0,
    ) {
        let mut inlay = begun(Kind::Inlay, [800.0, 300.0, 60.0], [0.0, 0.0, 0.0]);
        *inlay.contents.cavities_mut().unwrap() = vec![Cavity {
            name: "any".into(),
            count,
            shape,
            length: mm(sides[0]),
            width: mm(sides[1]),
            depth: mm(sides[2]),
            is_through: false,
        }];
        let mut moulds = begun(Kind::Moulds, [100.0, 100.0, 20.0], [0.0, 0.0, 0.0]);
        let Contents::Moulds(contents) = &mut moulds.contents else { unreachable!() };
        let hollow =
            Hollow::Water { volume: Volume::from_l(water_ml * 1e-3), depth: mm(sides[2].max(2.0)) };
        let shape = PressedShape::Volume { volume: Volume::from_l(inside_ml * 1e-3) };
        let density = Density::from_kg_m3(650.0);
        let pressed = Some(Pressed { count: 1, shape, density, is_sealed: false });
        contents.cavities = vec![Cavities { pressed, ..Cavities::empty(count, hollow) }];
        let mut embed = begun(Kind::Embed, [300.0, 250.0, 280.0], [5.0, 0.0, 25.0]);
        embed.contents.inserts_mut().unwrap()[0].shape = InsertShape::Ball { diameter: mm(ball) };
        embed.contents.inserts_mut().unwrap()[0].above_floor = mm(above);
        embed.contents.inserts_mut().unwrap()[0].mass = Mass::from_kg(grams * 1e-3);
        embed.contents.inserts_mut().unwrap()[0].count = count.min(4);
        for plan in [inlay, moulds, embed] {
            match measure(&plan) {
                Ok(measured) => keeps_its_promises(&measured)?,
                Err(conflicts) => prop_assert!(!conflicts.is_empty()),
            }
        }
    }
}
