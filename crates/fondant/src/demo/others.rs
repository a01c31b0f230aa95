//! Casts of the other kinds.

use fondant_cast::document::{Colour, Pressed, PressedShape, RecipeColour, Stage};
use fondant_cast::{Contents, Document, Kind};
use fondant_materials::resin::{ResinId, shipped};
use fondant_materials::sheet::Sheet;
use fondant_pours::layers::Purpose;
use fondant_quantities::{Density, Length, Mass, Temperature, Volume};
use fondant_shapes::blanks::Hollow;
use fondant_shapes::blanks::pot::Pot;
use fondant_shapes::form::Piece;
use fondant_shapes::timber::{Cavity, CavityShape, Insert, InsertShape};
use jiff::Timestamp;

fn mm(v: f64) -> Length {
    Length::from_mm(v)
}

fn piece(sides_mm: [f64; 3], trim_mm: f64, squaring_mm: f64) -> Piece {
    let [length, width, thickness] = sides_mm.map(mm);
    Piece {
        flattening: Length::ZERO,
        squaring: mm(squaring_mm),
        ..Piece::slab(length, width, thickness, mm(trim_mm))
    }
}

/// A base under the main fill, in a resin of its own where one is named.
fn base(depth_mm: f64, resin: Option<&str>, tint: &str) -> Stage {
    let resin = resin.map(|id| ResinId(id.into()));
    Stage { depth: mm(depth_mm), resin, tint: tint.into(), ..Stage::begin(Purpose::Base) }
}

pub(super) fn inlay(begin: Timestamp) -> Document {
    let piece = piece([780.0, 240.0, 32.0], 0.0, 0.0);
    let mut document =
        Document::begin(Kind::Inlay, "Bread board rail, three knots".into(), piece, begin);
    let cavity = |name: &str, count, shape, sides: [f64; 3], is_through| {
        let [length, width, depth] = sides.map(mm);
        Cavity { name: name.into(), count, shape, length, width, depth, is_through }
    };
    let cavities = vec![
        cavity("knots", 3, CavityShape::Knot, [42.0, 30.0, 18.0], false),
        cavity("long crack", 1, CavityShape::Crack, [310.0, 7.0, 32.0], true),
        cavity("inlay channel", 2, CavityShape::Channel, [420.0, 6.0, 6.0], false),
    ];
    if let Contents::Inlay(inlay) = &mut document.contents {
        inlay.cavities = cavities;
    }
    document.brief.touches_food = true;
    document
}

pub(super) fn block(begin: Timestamp) -> Document {
    let piece = piece([280.0, 120.0, 44.0], 3.0, 4.0);
    let mut document =
        Document::begin(Kind::Block, "Tide-line block for handles".into(), piece, begin);
    if let Contents::Block(block) = &mut document.contents {
        block.cutting.width = mm(21.0);
        block.cutting.height = mm(21.0);
        let colour = |name: &str, parts| Colour { name: name.into(), parts };
        block.swirl.colours = vec![colour("sea glass", 4.0), colour("foam", 1.0)];
        block.swirl.join = Temperature::from_celsius(30.0);
    }
    document.stages.below = vec![base(6.0, None, "wet sand")];
    document
}

pub(super) fn tubes(begin: Timestamp) -> Document {
    let piece = piece([75.0, 22.0, 22.0], 0.0, 0.0);
    let mut document =
        Document::begin(Kind::Tubes, "Chart-paper blanks, two dozen".into(), piece, begin);
    if let Contents::Tubes(tubes) = &mut document.contents {
        tubes.count = 24;
        tubes.hollow = Hollow::Round { diameter: mm(22.0), depth: mm(75.0) };
        tubes.pot =
            Some(Pot { diameter: mm(240.0), height: mm(260.0), shelf: mm(6.0), gap: mm(5.0) });
    }
    document
}

pub(super) fn embed(begin: Timestamp) -> Document {
    let piece = piece([90.0, 90.0, 110.0], 5.0, 25.0);
    let mut document =
        Document::begin(Kind::Embed, "Fir cone for the reading room".into(), piece, begin);
    let cone = Insert {
        name: "fir cone".into(),
        count: 1,
        shape: InsertShape::Water { volume: Volume::from_l(0.062), height: mm(78.0) },
        mass: Mass::from_kg(0.031),
        density: Density::from_kg_m3(500.0),
        above_floor: mm(18.0),
    };
    if let Contents::Embed(embed) = &mut document.contents {
        embed.inserts = vec![cone];
        embed.build.sheet = Sheet::Acrylic;
        embed.build.thickness = mm(6.0);
    }
    document.stages.below = vec![base(4.0, Some(shipped::COATING), "sea green")];
    document
}

pub(super) fn coasters(begin: Timestamp) -> Document {
    let piece = piece([100.0, 100.0, 10.0], 0.0, 0.0);
    let mut document = Document::begin(Kind::Moulds, "Driftwood coasters".into(), piece, begin);
    if let Contents::Moulds(moulds) = &mut document.contents {
        let row = &mut moulds.cavities[0];
        let side = |mm: f64| Length::from_mm(mm);
        let shape =
            PressedShape::Block { length: side(70.0), width: side(50.0), height: side(6.0) };
        let density = Density::from_kg_m3(650.0);
        row.count = 8;
        row.pressed = Some(Pressed { count: 1, shape, density, is_sealed: true });
    }
    let colour = RecipeColour::of_all;
    document.recipe.colours = vec![colour("lagoon blue", 0.06), colour("pearl flakes", 0.8)];
    document
}

pub(super) fn coat(begin: Timestamp) -> Document {
    let piece = piece([1380.0, 610.0, 26.0], 0.0, 0.0);
    let mut document =
        Document::begin(Kind::Coat, "Counter by the door, flood coat".into(), piece, begin);
    if let Contents::Coat(coat) = &mut document.contents {
        coat.coats = 2;
    }
    document
}
