//! Kinds whose second station is a handful of figures: blanks sawn from a
//! block, tubes and their labels, pieces pressed into moulds, the coated face.

use fondant_cast::Plan;
use fondant_cast::mix::parts;
use fondant_quantities::units::trimmed;
use fondant_quantities::{Volume, bounds};
use fondant_shapes::blanks::cutting::{Side, lay_out};
use fondant_shapes::form::CastSize;

use super::super::{Asked, Group};
use super::Contents;
use crate::drawings::{WIDE, blanks, both};
use crate::entries::Reader;
use crate::views::figure::Figure;

pub(super) fn apply_block(reader: &mut Reader<'_>, plan: &mut Plan) {
    let cutting = &mut plan.cutting;
    reader.quantity("blank_length", &bounds::BLANK_SIDE, &mut cutting.length);
    reader.quantity("blank_width", &bounds::BLANK_SIDE, &mut cutting.width);
    reader.quantity("blank_height", &bounds::BLANK_SIDE, &mut cutting.height);
    reader.quantity("kerf", &bounds::KERF, &mut cutting.kerf);
    reader.quantity("blank_squaring", &bounds::FLATTENING, &mut cutting.squaring);
}

pub(super) fn block(asked: &Asked<'_>) -> Contents {
    let (plan, fields, shown) = (asked.plan, asked.fields(), asked.shop.shown);
    let (cast, cutting) = (CastSize::of(&plan.piece), &plan.cutting);
    let layout = lay_out([cast.length, cast.width, cast.thickness], cutting);
    let [a, b, c] = layout.rows;
    let mut notes = vec![(
        "Saw at this pitch",
        [("along", a), ("across", b), ("up", c)]
            .into_iter()
            .map(|(way, row)| {
                if row.count > 1 {
                    format!(
                        "{way}: {} of {}, {} from cut to cut, {} over",
                        row.count,
                        shown.length(row.size),
                        shown.length(row.pitch),
                        shown.length(row.offcut)
                    )
                } else {
                    format!(
                        "{way}: {} of {}, {} over",
                        row.count,
                        shown.length(row.size),
                        shown.length(row.offcut)
                    )
                }
            })
            .collect::<Vec<_>>()
            .join("; ")
            + ".",
    )];
    if let Some(less) = layout.one_mm_less {
        let side = match less.side {
            Side::Length => "length",
            Side::Width => "width",
            Side::Height => "height",
        };
        notes.push((
            "A millimetre less",
            format!(
                "{} less on the blank's {side} yields {} instead of {}.",
                shown.length(fondant_quantities::Length::from_mm(1.0)),
                less.count,
                layout.count()
            ),
        ));
    }
    Contents {
        title: "What will be sawn from it?",
        groups: vec![Group::new(
            "One blank",
            vec![
                fields.length("blank_length", "Length", cutting.length),
                fields.length("blank_width", "Width", cutting.width),
                fields.length("blank_height", "Height", cutting.height),
                fields.length("kerf", "Saw cut", cutting.kerf),
                fields
                    .length("blank_squaring", "Off each face first", cutting.squaring)
                    .hint("To square the block before it is divided."),
            ],
        )],
        drawing: both(WIDE, |frame| blanks::cutting(&layout, [cast.length, cast.width, cast.thickness], cutting, shown, frame)),
        caption: "The block from above and from its end, to scale: blanks, cuts, what is left".into(),
        figures: vec![
            Figure::new(
                "blanks",
                layout.count().to_string(),
                format!("blanks, {} % of the block", trimmed(layout.used_ratio * 100.0, 0)),
                "How many blanks the block yields",
            )
            .formula(format!(
                "⌊(side − 2 × squaring + kerf) ÷ (blank + kerf)⌋ each way\n= {} × {} × {}",
                a.count, b.count, c.count
            ))
            .note("The best of the six ways to turn the blank; of equal ones, the longest offcut in one piece."),
        ],
        notes,
        cares: vec![
            "Colours are kept in separate cups and joined when they have begun to thicken: later for \
             crisp edges, too late makes lumps."
                .into(),
            "Saw hot or fresh resin in several light passes; it softens near its glass temperature. \
             Eyes, ears and a dust mask."
                .into(),
        ],
        ..Contents::default()
    }
}

pub(super) fn apply_tubes(reader: &mut Reader<'_>, plan: &mut Plan) {
    let (tube, label) = (&mut plan.moulding.tube, &mut plan.moulding.label);
    reader.quantity("tube_length", &bounds::TUBE_SIDE, &mut tube.length);
    reader.quantity("tube_outside", &bounds::TUBE_SIDE, &mut tube.outside);
    reader.quantity("plugs", &bounds::TUBE_PLUGS, &mut tube.plugs);
    reader.quantity("label_tube", &bounds::TUBE_SIDE, &mut label.tube);
    reader.quantity("paper", &bounds::LABEL_PAPER, &mut label.paper);
    reader.quantity("overlap", &bounds::LABEL_MARGIN, &mut label.overlap);
    reader.quantity("label_trim", &bounds::LABEL_MARGIN, &mut label.trim);
    label.tube_length = tube.length;
}

pub(super) fn tubes(asked: &Asked<'_>) -> Contents {
    let (plan, fields, shown) = (asked.plan, asked.fields(), asked.shop.shown);
    let (moulding, label) = (&plan.moulding, &plan.moulding.label);
    Contents {
        title: "What stands in each cavity?",
        groups: vec![
            Group::new(
                "The tube",
                vec![
                    fields.length("tube_length", "Length", moulding.tube.length),
                    fields
                        .length("tube_outside", "Across, with its label", moulding.tube.outside),
                    fields
                        .length("plugs", "Plugs beyond it, both ends", moulding.tube.plugs)
                        .hint("A plug that leaks fills the tube: seat it and wipe it with a little grease or clay."),
                ],
            ),
            Group::new(
                "Its label",
                vec![
                    fields.length("label_tube", "Bare tube across", label.tube),
                    fields.length("paper", "Paper with its glue", label.paper),
                    fields.length("overlap", "Overlap", label.overlap),
                    fields.length("label_trim", "Beyond each end", label.trim),
                ],
            ),
        ],
        figures: vec![each(asked), label_figure(asked)],
        notes: vec![(
            "All of them",
            {
                let all = &asked.evaluation.parts;
                format!(
                    "{} cavities take {} of A and {} of B, {} in all with what stays in the cup.",
                    moulding.count,
                    shown.mass(all.a_mass),
                    shown.mass(all.b_mass),
                    shown.mass(all.mass)
                )
            },
        )],
        links: vec![
            ("Labels on a sheet, 1:1", format!("/casts/{}/labels", asked.cast.0)),
            ("Labels as SVG", format!("/casts/{}/export/labels.svg", asked.cast.0)),
        ],
        cares: vec!["Clear resin is poured as soon as it is mixed; tubes and plugs stand ready before.".into()],
        ..Contents::default()
    }
}

/// What one cavity takes, net of what stands in it.
fn each(asked: &Asked<'_>) -> Figure {
    let (plan, shown) = (asked.plan, asked.shop.shown);
    let moulding = &plan.moulding;
    let inside = if plan.kind == fondant_cast::Kind::TubeBlanks {
        moulding.tube.volume()
    } else {
        moulding.timber
    };
    let net = moulding.hollow.volume() - inside;
    let parts = parts(net, &asked.evaluation.resin);
    Figure::new(
        "each",
        shown.mass_fine(parts.mass),
        format!("in each cavity, {}", shown.volume(net)),
        "What one cavity takes",
    )
    .formula(format!(
        "(cavity − what stands in it) × density\n= ({} − {}) × {}\n= {}",
        shown.volume_fine(moulding.hollow.volume()),
        shown.volume_fine(inside),
        shown.density(asked.evaluation.resin.density),
        shown.mass_fine(parts.mass)
    ))
    .note(format!(
        "{} of A and {} of B for one.",
        shown.mass_fine(parts.a_mass),
        shown.mass_fine(parts.b_mass)
    ))
    .change("The cavity", asked.address(crate::views::rail::Station::Piece))
}

fn label_figure(asked: &Asked<'_>) -> Figure {
    let (label, shown) = (&asked.plan.moulding.label, asked.shop.shown);
    let fine = |q: fondant_quantities::Length| shown.length_fine(q);
    Figure::new(
        "label",
        format!("{} × {}", fine(label.width()), fine(label.height())),
        "label as cut".into(),
        "The label of one tube",
    )
    .formula(format!(
        "π × (tube + paper) + overlap = π × ({} + {}) + {}\n= {}",
        fine(label.tube),
        fine(label.paper),
        fine(label.overlap),
        fine(label.width())
    ))
    .note("Once round the middle of the paper; the overlap lies on the beginning.")
    .note(format!("As long as the tube and {} beyond each end, trimmed with it.", fine(label.trim)))
}

pub(super) fn apply_pieces(reader: &mut Reader<'_>, plan: &mut Plan) {
    let moulding = &mut plan.moulding;
    let mut timber = (moulding.timber > Volume::ZERO).then_some(moulding.timber);
    reader.maybe("timber", &bounds::WATER, &mut timber);
    moulding.timber = timber.unwrap_or(Volume::ZERO);
    reader.quantity("timber_density", &bounds::TIMBER_DENSITY, &mut moulding.timber_density);
}

pub(super) fn pieces(asked: &Asked<'_>) -> Contents {
    let (plan, fields, shown) = (asked.plan, asked.fields(), asked.shop.shown);
    let moulding = &plan.moulding;
    let timber = (moulding.timber > Volume::ZERO).then_some(moulding.timber);
    let mut notes = Vec::new();
    if let Some(held) = asked.evaluation.held.first() {
        let each = held.lift.hold_down / f64::from(moulding.count);
        notes.push((
            "They float",
            format!(
                "Each piece wants {} on it, twice its lift, until the layer holds it.",
                shown.mass_fine(each)
            ),
        ));
    }
    Contents {
        title: "What is pressed into each?",
        groups: vec![Group::new(
            "Timber in one cavity",
            vec![
                fields
                    .maybe_volume("timber", "Its volume", timber)
                    .hint("Length × width × thickness, or mass ÷ density. Empty where there is none."),
                fields.density("timber_density", "Its density", moulding.timber_density),
            ],
        )],
        figures: vec![each(asked)],
        notes,
        cares: vec![
            "A thin layer first, then the pieces pressed in and weighted, then the rest: no air is \
             caught under them."
                .into(),
            "Silicone: a heat gun, not a flame, takes the bubbles; a flame scorches the mould.".into(),
        ],
        ..Contents::default()
    }
}

pub(super) fn apply_face(reader: &mut Reader<'_>, plan: &mut Plan) {
    let coat = &mut plan.coat;
    reader.quantity("coat", &bounds::COAT_THICKNESS, &mut coat.thickness);
    reader.count("coats", &bounds::COATS, &mut coat.coats);
    reader.percent("run_off", &bounds::RUN_OFF_PERCENT, &mut coat.run_off_ratio);
    coat.edges = reader.entries.get("edges").is_some();
}

pub(super) fn face(asked: &Asked<'_>) -> Contents {
    let (plan, fields, shown) = (asked.plan, asked.fields(), asked.shop.shown);
    let coat = &plan.coat;
    Contents {
        title: "How thick a coat?",
        groups: vec![Group::new(
            "The coat",
            vec![
                fields
                    .length("coat", "One coat", coat.thickness)
                    .hint("A self-levelling resin settles at 1.5–3 mm by itself."),
                fields.number("coats", "Coats", f64::from(coat.coats), &bounds::COATS),
                fields
                    .number("run_off", "Runs off", coat.run_off_ratio * 100.0, &bounds::RUN_OFF_PERCENT)
                    .hint("What drips over the edge, of what is poured."),
                fields.tick("edges", "Coat the edges too", coat.edges),
            ],
        )],
        figures: vec![
            Figure::new("face", shown.area(asked.measured().cast.area()), "face".into(), "What is coated")
                .formula("length × width".into())
                .note("On an upright edge half of a coat stays."),
        ],
        notes: vec![(
            "The next coat",
            "While the first is sticky, or after it is hard and sanded dull; the Pours station says when."
                .into(),
        )],
        cares: vec![
            "Level the piece, mask underneath, pour in the middle and spread; watch for half an hour \
             for bubbles. A casting resin used as a coat runs off: choose a coating resin."
                .into(),
        ],
        ..Contents::default()
    }
}

#[cfg(test)]
mod tests {
    use crate::sample::{METRIC, of_kind};
    use crate::views::format::Shown;
    use fondant_cast::Kind;

    #[test]
    fn small_figures_keep_their_digits() {
        let shown: Shown = METRIC;
        assert_eq!(shown.mass_fine(fondant_quantities::Mass::from_kg(0.017_63)), "17.6\u{202f}g");
        let plan = of_kind(Kind::TubeBlanks);
        assert!(shown.length_fine(plan.moulding.label.width()).contains("mm"));
    }
}
