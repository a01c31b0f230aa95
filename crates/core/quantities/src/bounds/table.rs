//! The range of every figure that a maker can enter, one line each. Ranges are conventions: wide
//! enough for every job that a workshop takes, narrow enough to catch a slip of the finger.

use super::bound::{Bound, NumberBound};
use crate::types::{
    Absorption, Density, Length, Mass, Slope, Temperature, TemperatureDelta, Volume,
};

const fn lengths(what: &'static str, min_mm: f64, max_mm: f64) -> Bound<Length> {
    Bound { what, min: Length::from_mm(min_mm), max: Length::from_mm(max_mm) }
}

const fn warmer(what: &'static str, min_k: f64, max_k: f64) -> Bound<TemperatureDelta> {
    let (min, max) = (TemperatureDelta::from_k(min_k), TemperatureDelta::from_k(max_k));
    Bound { what, min, max }
}

/// Finished length of the piece: from a coaster to a bar top.
pub const FINISHED_LENGTH: Bound<Length> = lengths("Finished length", 10.0, 6000.0);
/// Finished width of the piece.
pub const FINISHED_WIDTH: Bound<Length> = lengths("Finished width", 10.0, 2500.0);
/// Finished thickness of the piece.
pub const FINISHED_THICKNESS: Bound<Length> = lengths("Finished thickness", 1.0, 400.0);
/// Extra on every side that is sawn off.
pub const TRIM_MARGIN: Bound<Length> = lengths("Trim margin", 0.0, 100.0);
/// Thickness of a board as it goes into the form.
pub const BOARD_THICKNESS: Bound<Length> = lengths("Board thickness", 3.0, 200.0);
/// Machined off each face.
pub const FLATTENING: Bound<Length> = lengths("Off each face", 0.0, 20.0);
/// Extra height of a block that is squared up.
pub const SQUARING: Bound<Length> = lengths("Extra height", 0.0, 100.0);
/// Length, width or depth of a cavity in timber.
pub const CAVITY_SIDE: Bound<Length> = lengths("A cavity", 0.5, 6000.0);
/// Length, width, height or diameter of an insert.
pub const INSERT_SIDE: Bound<Length> = lengths("An insert", 1.0, 2000.0);
/// Height of an insert above the floor of the form.
pub const ABOVE_FLOOR: Bound<Length> = lengths("Height above the floor", 0.0, 400.0);
/// One coat.
pub const COAT_THICKNESS: Bound<Length> = lengths("A coat", 0.1, 12.0);
/// Depth of a pour under or over the main fill.
pub const STAGE_DEPTH: Bound<Length> = lengths("A stage", 0.3, 100.0);
/// Depth of a mould's cavity.
pub const HOLLOW_DEPTH: Bound<Length> = lengths("Depth of a cavity", 2.0, 6000.0);
/// Length, width or diameter of a mould's cavity.
pub const HOLLOW_SIDE: Bound<Length> = lengths("A cavity", 3.0, 2500.0);
/// Wall of a mould round a cavity.
pub const MOULD_WALL: Bound<Length> = lengths("Wall of the mould", 0.0, 100.0);
/// Outside of a tube.
pub const TUBE_SIDE: Bound<Length> = lengths("A tube", 1.0, 500.0);
/// Length of a tube.
pub const TUBE_LENGTH: Bound<Length> = lengths("A tube", 1.0, 6000.0);
/// Plugs beyond a tube's ends.
pub const TUBE_PLUGS: Bound<Length> = lengths("Plugs", 0.0, 100.0);
/// Thickness of a label's paper with its glue.
pub const LABEL_PAPER: Bound<Length> = lengths("Paper", 0.01, 2.0);
/// Overlap and trim of a label.
pub const LABEL_MARGIN: Bound<Length> = lengths("A label's margin", 0.0, 50.0);
/// Inside of a pressure pot.
pub const POT_SIDE: Bound<Length> = lengths("A pressure pot", 60.0, 1500.0);
/// Shelf of a rack, and gaps on it.
pub const POT_GAP: Bound<Length> = lengths("A gap in the pot", 0.0, 60.0);
/// Side of a blank.
pub const BLANK_SIDE: Bound<Length> = lengths("A blank", 3.0, 2000.0);
/// Width of a saw cut.
pub const KERF: Bound<Length> = lengths("Kerf", 0.0, 12.0);
/// Thickness of a form's sheet.
pub const SHEET_THICKNESS: Bound<Length> = lengths("Sheet", 2.0, 60.0);
/// Side of a stock sheet.
pub const STOCK_SIDE: Bound<Length> = lengths("A stock sheet", 200.0, 6000.0);
/// Side of a sealant's fillet.
pub const SEALANT: Bound<Length> = lengths("Sealant", 1.0, 20.0);
/// Ends of a drawing's lines that are joined: farther apart than a finger is wide, they are not
/// meant to meet (convention).
pub const JOIN: Bound<Length> = lengths("The gap", 0.001, 10.0);
/// Overall width of a drawing.
pub const DRAWN_SIDE: Bound<Length> = lengths("The drawing", 5.0, 9000.0);
/// Coordinate of a point of an outline; boards may reach over the form.
pub const PLACE: Bound<Length> = lengths("A place", -3000.0, 9000.0);
/// How much farther out the underside of a live edge stands than its upper side.
pub const BEVEL: Bound<Length> = lengths("A bevel", -300.0, 300.0);
/// Level that a pour reaches above the floor of the form; 0 for a seal coat.
pub const POURED_TO: Bound<Length> = lengths("A pour's level", 0.0, 1000.0);
/// Bulk of a dry fill.
pub const DRY_FILL: Bound<Volume> = volumes("Dry fill", 0.001, 1000.0);
/// Volume by displaced or filled water.
pub const WATER: Bound<Volume> = volumes("Water", 0.0005, 200.0);
/// Side of a piece pressed into a cavity.
pub const PRESSED_SIDE: Bound<Length> = lengths("A piece", 0.5, 2500.0);
/// Volume of a piece pressed into a cavity of a mould; 0 for none.
pub const PRESSED_TIMBER: Bound<Volume> = volumes("Timber in a cavity", 0.0, 200.0);
/// Volume of an insert by its mesh.
pub const MESH_VOLUME: Bound<Volume> = volumes("The mesh", 1e-6, 8000.0);
/// Mixed volume of a kit.
pub const KIT: Bound<Volume> = volumes("A kit", 0.02, 500.0);
/// Mixed volume that opened stock still gives.
pub const OPENED: Bound<Volume> = volumes("Opened stock", 0.0, 1000.0);
/// Resin of a cast that is looked for in the ledger.
pub const LOOKED_FOR: Bound<Volume> = volumes("Resin of a cast", 0.0, 20_000.0);
/// Mass of a board or an insert.
pub const MASS: Bound<Mass> =
    Bound { what: "Mass", min: Mass::from_kg(0.0001), max: Mass::from_kg(500.0) };
/// Absorption of a bare edge.
pub const ABSORPTION: Bound<Absorption> =
    Bound { what: "Absorption", min: Absorption::ZERO, max: Absorption::from_ml_m2(1000.0) };
/// Kept back for a leak.
pub const LEAK_PERCENT: NumberBound =
    NumberBound { what: "Leak allowance", min: 0.0, max: 30.0, unit: "%" };
/// Fall of the form along its length.
pub const FALL: Bound<Slope> =
    Bound { what: "Fall", min: Slope::ZERO, max: Slope::from_mm_m(20.0) };
/// Runs off a coated face.
pub const RUN_OFF_PERCENT: NumberBound =
    NumberBound { what: "Run-off", min: 0.0, max: 60.0, unit: "%" };
/// Coats.
pub const COATS: NumberBound = NumberBound { what: "Coats", min: 1.0, max: 8.0, unit: "" };
/// Equal things: cavities, inserts.
pub const COUNT: NumberBound = NumberBound { what: "How many", min: 1.0, max: 999.0, unit: "" };
/// Parts of a colour in a swirl.
pub const COLOUR_PARTS: NumberBound =
    NumberBound { what: "Parts", min: 0.1, max: 1000.0, unit: "" };
/// Share of a colour in the mixed mass. What a colour itself stands is the shelf's to say.
pub const TINT_PERCENT: NumberBound =
    NumberBound { what: "Share of the colour", min: 0.001, max: 20.0, unit: "%" };
/// Colours of a swirl at most.
pub const MOST_COLOURS: usize = 12;
/// Cavities of moulds.
pub const MOULD_COUNT: NumberBound =
    NumberBound { what: "Cavities", min: 1.0, max: 2000.0, unit: "" };
/// Price of a kit, in whatever the shop pays with.
pub const PRICE: NumberBound = NumberBound { what: "Price", min: 0.0, max: 1e6, unit: "" };
/// Cost of a cast that is looked for in the ledger.
pub const SPENT: NumberBound = NumberBound { what: "Cost", min: 0.0, max: 1e9, unit: "" };
/// Width of the river at a station; 0 where the boards touch.
pub const RIVER_WIDTH: Bound<Length> = lengths("River width", 0.0, 2500.0);
/// Place of a station, from the left end of the form.
pub const STATION_PLACE: Bound<Length> = lengths("A station's place", 0.0, 6200.0);
/// Distance from the form's near wall to the river.
pub const RIVER_OFFSET: Bound<Length> = lengths("Distance from the near wall", 0.0, 2500.0);
/// How far a reading of the tape may be off.
pub const TAPE_TOLERANCE: Bound<Length> = lengths("Tape tolerance", 0.0, 20.0);
/// Resin under the boards.
pub const BASE_GAP: Bound<Length> = lengths("Base layer", 0.0, 12.0);
/// Resin above the boards' faces, over the river.
pub const OVERFILL: Bound<Length> = lengths("Overfill", 0.0, 20.0);
/// Air of the shop and resin at the pour. Below, most resins crystallise;
/// above, none can be mixed and poured in time.
pub const AIR_TEMPERATURE: Bound<Temperature> = temperatures("Air temperature", 5.0, 40.0);
/// Resin as it leaves the bucket.
pub const RESIN_TEMPERATURE: Bound<Temperature> = temperatures("Resin temperature", 10.0, 40.0);
/// The cups of a swirl when they are joined.
pub const JOIN_TEMPERATURE: Bound<Temperature> = temperatures("The join", 15.0, 80.0);
/// Parts of B to 100 of A: catalysts of polyester to slow hardeners.
pub const PARTS_OF_B: NumberBound =
    NumberBound { what: "Parts of B to 100 of A", min: 0.3, max: 400.0, unit: "" };
/// Liquid resins, their parts and mixes.
pub const LIQUID_DENSITY: Bound<Density> = Bound {
    what: "The density",
    min: Density::from_kg_m3(700.0),
    max: Density::from_kg_m3(2000.0),
};
/// Viscosity of a fresh mix at 25 °C.
pub const VISCOSITY_MPA_S: NumberBound =
    NumberBound { what: "Viscosity", min: 20.0, max: 100_000.0, unit: "mPa·s" };
/// A pot life.
pub const POT_MINUTES: NumberBound =
    NumberBound { what: "Pot life", min: 1.0, max: 2880.0, unit: "min" };
/// The mass that a pot life or a cup is measured with.
pub const CUP: Bound<Mass> =
    Bound { what: "The mass", min: Mass::from_kg(0.02), max: Mass::from_kg(20.0) };
/// Until a layer is sticky, or leaves the form.
pub const LAYER_HOURS: NumberBound =
    NumberBound { what: "The time", min: 0.05, max: 500.0, unit: "h" };
/// The layer that a datasheet measures.
pub const SHEET_DEPTH: Bound<Length> = lengths("The layer", 0.5, 400.0);
/// The hottest that a casting may get.
pub const PEAK_LIMIT: Bound<Temperature> = temperatures("The limit", 40.0, 120.0);
/// Highest relative humidity for working.
pub const HUMIDITY_PERCENT: NumberBound =
    NumberBound { what: "Humidity", min: 20.0, max: 100.0, unit: "%" };
/// Hardness once cured.
pub const SHORE_D: NumberBound =
    NumberBound { what: "Hardness", min: 20.0, max: 100.0, unit: "Shore D" };
/// Most of a colour, percent of the mixed mass.
pub const DOSE_PERCENT: NumberBound =
    NumberBound { what: "The dose", min: 0.01, max: 30.0, unit: "%" };
/// What is mixed in one bucket.
pub const BUCKET: Bound<Mass> =
    Bound { what: "A bucket", min: Mass::from_kg(0.005), max: Mass::from_kg(60.0) };
/// How long a mix waits in its bucket before the pour.
pub const WAITS_MINUTES: NumberBound =
    NumberBound { what: "The wait", min: 0.0, max: 600.0, unit: "min" };
/// Cold water, or the air of a cooler box.
pub const COOLING_TEMPERATURE: Bound<Temperature> = temperatures("Cooling", 0.0, 30.0);
/// Duration of cooling; 0 lasts until the form is opened.
pub const COOLING_HOURS: NumberBound =
    NumberBound { what: "Cooling", min: 0.0, max: 400.0, unit: "h" };
/// A depth that the maker takes on himself.
pub const TAKEN_DEPTH: Bound<Length> = lengths("The depth", 1.0, 400.0);
/// Timber from balsa to the heaviest tropical woods.
pub const TIMBER_DENSITY: Bound<Density> = Bound {
    what: "Timber density",
    min: Density::from_kg_m3(100.0),
    max: Density::from_kg_m3(1300.0),
};
/// Anything embedded in resin, from cork to gold.
pub const OBJECT_DENSITY: Bound<Density> = Bound {
    what: "The object's density",
    min: Density::from_kg_m3(10.0),
    max: Density::from_kg_m3(25_000.0),
};
/// Moisture of the timber by a meter, in percent of its dry mass.
pub const TIMBER_MOISTURE_PERCENT: NumberBound =
    NumberBound { what: "Moisture", min: 0.0, max: 40.0, unit: "%" };
/// Resin that stays in buckets and on sticks, in percent of what is poured.
pub const BUCKET_RESIDUE_PERCENT: NumberBound =
    NumberBound { what: "Left in the buckets", min: 0.0, max: 20.0, unit: "%" };
/// How much a heater warms the shop's air.
pub const HEATED: Bound<TemperatureDelta> = warmer("Heating", -15.0, 20.0);
/// Humidity that a dehumidifier keeps.
pub const DRIED_PERCENT: NumberBound =
    NumberBound { what: "The dried air", min: 20.0, max: 95.0, unit: "%" };
/// Work and waits before the first pour.
pub const LEAD_HOURS: NumberBound =
    NumberBound { what: "The work before the first pour", min: 0.0, max: 1000.0, unit: "h" };
/// A level at which a layer ends.
pub const LEVEL: Bound<Length> = lengths("A layer's end", 1.0, 1000.0);
/// Equal main layers.
pub const LAYER_COUNT: NumberBound =
    NumberBound { what: "The number of layers", min: 1.0, max: 12.0, unit: "" };
/// People who mix and pour at the same time.
pub const HANDS: NumberBound =
    NumberBound { what: "The number of people", min: 1.0, max: 12.0, unit: "" };
/// Minutes that a bucket takes.
pub const BUCKET_MINUTES: NumberBound =
    NumberBound { what: "The time for a bucket", min: 1.0, max: 120.0, unit: "min" };
/// Rated pressure of a pressure pot.
pub const POT_BAR: NumberBound =
    NumberBound { what: "The rated pressure", min: 0.5, max: 8.0, unit: "bar" };
/// The same, for shops that read it in pounds per square inch.
pub const POT_PSI: NumberBound =
    NumberBound { what: "The rated pressure", min: 7.0, max: 116.0, unit: "psi" };
/// What a witness cup holds.
pub const WITNESS_CUP: Bound<Mass> =
    Bound { what: "The cup", min: Mass::from_kg(0.005), max: Mass::from_kg(2.0) };
/// Bottles, water and ice of a bath.
pub const BATH: Bound<Mass> =
    Bound { what: "The mass", min: Mass::from_kg(0.05), max: Mass::from_kg(500.0) };
/// Water that bottles are warmed in.
pub const WARM_WATER: Bound<Temperature> = temperatures("The water", 20.0, 60.0);
/// The lowest pressure of a vacuum chamber.
pub const VACUUM_MBAR: NumberBound =
    NumberBound { what: "The lowest pressure", min: 1.0, max: 900.0, unit: "mbar" };
/// How late a room follows the weather.
pub const LAG_HOURS: NumberBound = NumberBound { what: "The lag", min: 0.3, max: 72.0, unit: "h" };
/// How much warmer a room is than the weather.
pub const OFFSET: Bound<TemperatureDelta> = warmer("The offset", -8.0, 20.0);
/// From the open form to a face that takes a flood coat.
pub const FINISHING_HOURS: NumberBound =
    NumberBound { what: "Finishing before the coat", min: 0.5, max: 200.0, unit: "h" };
/// Time to sand, wipe and dry a hard layer before the next.
pub const SANDING_MINUTES: NumberBound =
    NumberBound { what: "Sanding between layers", min: 5.0, max: 480.0, unit: "min" };

const fn volumes(what: &'static str, min_l: f64, max_l: f64) -> Bound<Volume> {
    Bound { what, min: Volume::from_l(min_l), max: Volume::from_l(max_l) }
}

const fn temperatures(what: &'static str, min_c: f64, max_c: f64) -> Bound<Temperature> {
    Bound { what, min: Temperature::from_celsius(min_c), max: Temperature::from_celsius(max_c) }
}

/// Temperatures of air and fresh resin that the heat model takes, K: beyond
/// them no resin is liquid.
pub const AIR_MODELLED: std::ops::RangeInclusive<f64> = 230.0..=450.0;

/// Years in which pours are planned: a date outside is a slip of the finger.
pub const PLANNED_YEARS: std::ops::RangeInclusive<i16> = 2000..=2199;
/// Fewest and most stations of a river.
pub const STATIONS: std::ops::RangeInclusive<usize> = 2..=60;
/// Fewest and most boards of a cast.
pub const BOARDS: std::ops::RangeInclusive<usize> = 1..=40;
/// How high a fault is, above the floor of the form.
pub const FAULT_HEIGHT: Bound<Length> = lengths("The height", 0.0, 1000.0);
/// Where on a piece a fault is, from a wall of the form.
pub const FAULT_PLACE: Bound<Length> = lengths("The place", 0.0, 6500.0);
/// How large a fault is across.
pub const FAULT_SIZE: Bound<Length> = lengths("The size", 0.1, 6500.0);
/// From one grit to the next: from P80 to P120 is 1.5.
pub const GRIT_STEP: NumberBound =
    NumberBound { what: "The step between grits", min: 1.0, max: 50.0, unit: "" };
/// Most cavities, and most inserts, of a cast.
pub const MOST_ROWS: usize = 60;
/// Most cavities of all rows together, and most inserts: a tray of a thousand beads twice over.
pub const MOST_THINGS: usize = 2000;
/// Most points of all outlines of a cast together: forty boards of a thousand points each.
pub const MOST_POINTS: usize = 40_000;
/// Most levels at which layers set by hand may end.
pub const MOST_LEVELS: usize = 11;
/// By how much a drawing is moved into a form: it may lie on a map.
pub const DRAWN_AT_M: NumberBound =
    NumberBound { what: "The place of a drawing", min: -1e7, max: 1e7, unit: "m" };
/// Pours under and over the main fill.
pub const MOST_STAGES: usize = 6;
/// Rows of equal cavities that are filled together.
pub const MOST_CAVITY_ROWS: usize = 12;
/// Most pours of a plan: twelve main layers, a base and a seal coat.
pub const MOST_POURS: usize = 20;
/// Longest sentence of a maker's own, in characters: a reason, a finish, a file's name.
pub const REASON_CHARACTERS: usize = 300;
/// Longest text of what is to be minded at the bench.
pub const MINDED_CHARACTERS: usize = 1000;
/// Longest name of a cast, in characters.
pub const NAME_CHARACTERS: usize = 80;
/// The deepest river the heat search looks at.
pub const SEARCHED_DEPTH: std::ops::RangeInclusive<f64> = 0.001..=0.4;
