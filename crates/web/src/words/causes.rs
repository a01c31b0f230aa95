//! The causes of faults in words: what each is called, what to do now, and what to do the next time.

use fondant_record::causes::Cause;

/// A cause in words.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Told {
    /// What it is called.
    pub(crate) name: &'static str,
    /// What helps the piece that is there.
    pub(crate) now: &'static str,
    /// What to do the next time.
    pub(crate) next: &'static str,
}

const DRILL: &str = "Open single bubbles with a needle or drill, fill and polish.";
const CUT_OUT: &str = "Cut the soft resin out to the hard, wash, fill again.";
const WASH: &str = "Wash with warm water and a pad, let it dry, sand.";
const FILL: &str = "Fill the crack with thin resin.";
const NOTHING: &str = "Nothing takes it out.";
const CLEAR_COAT: &str = "A coat that keeps ultraviolet out slows it.";

/// A cause in words.
pub(crate) fn told(cause: Cause) -> Told {
    let found = TABLE.iter().find(|(one, _)| *one == cause);
    found.map_or(Told { name: "", now: "", next: "" }, |(_, told)| *told)
}

const fn says(name: &'static str, now: &'static str, next: &'static str) -> Told {
    Told { name, now, next }
}

static TABLE: [(Cause, Told); 50] = [
    (
        Cause::BareEdge,
        says(
            "Air from a bare edge or pocket",
            DRILL,
            "Seal live edges and pockets with a brushed coat, and pour while the room cools.",
        ),
    ),
    (
        Cause::ColdResin,
        says("Cold, thick resin", DRILL, "Warm A and B to 24 °C (75 °F) before they meet."),
    ),
    (
        Cause::TooDeep,
        says(
            "Too deep a layer",
            DRILL,
            "Pour in layers, each within the depth that the model allows.",
        ),
    ),
    (
        Cause::StirredFast,
        says(
            "Stirred too short or too fast for its air to leave",
            DRILL,
            "Stir slowly for as long as asked, let it stand, use pressure or vacuum where there is some.",
        ),
    ),
    (
        Cause::PouredHigh,
        says(
            "Poured from high up or fast",
            DRILL,
            "Pour in a thin thread near the surface, at one place.",
        ),
    ),
    (
        Cause::NotWatched,
        says(
            "Nobody watched while they rose",
            DRILL,
            "Stay for half an hour and pass a flame or warm air over it.",
        ),
    ),
    (
        Cause::PressureLost,
        says(
            "Pressure lost, or there too late",
            DRILL,
            "Check seal and valve; full pressure before the gel, until it is hard.",
        ),
    ),
    (
        Cause::DampTimber,
        says(
            "Damp timber",
            "Nothing takes it out; a coat over it makes it less plain.",
            "Dry the timber to 12\u{202f}% or less, and measure it.",
        ),
    ),
    (
        Cause::Boiled,
        says(
            "It boiled",
            DRILL,
            "Shallower layers, cooler air, a bath: keep the peak under the resin's limit.",
        ),
    ),
    (
        Cause::Unmixed,
        says(
            "Not mixed through",
            CUT_OUT,
            "Scrape walls and bottom, mix on in a second pot, three minutes at least.",
        ),
    ),
    (
        Cause::Ratio,
        says(
            "A and B in the wrong ratio",
            CUT_OUT,
            "Weigh each part, at the bench's figure, on a scale that is checked.",
        ),
    ),
    (
        Cause::TooMuchColour,
        says(
            "More colour than the resin takes",
            CUT_OUT,
            "Stay under the ceiling of the colour; ask for its carrier.",
        ),
    ),
    (
        Cause::ColdRim,
        says(
            "A rim that stayed cold",
            "Warm the piece gently for days; it may still harden.",
            "Warm the form and the room; insulate thin rims.",
        ),
    ),
    (
        Cause::ColdAir,
        says(
            "Too cold for the cure",
            "Warm the piece gently for days; it may still harden.",
            "Keep the room over the resin's least temperature, the nights too.",
        ),
    ),
    (Cause::OldLot, says("An old lot", CUT_OUT, "Try a cup of an old lot before a pour.")),
    (
        Cause::WrongPart,
        says(
            "The same part twice, or another's hardener",
            "It will not harden: take it off to the last of it.",
            "Mark each bucket when a part is in; keep one hardener to one resin.",
        ),
    ),
    (
        Cause::NotYetCured,
        says(
            "Not cured yet",
            "Wait, warmer if you can.",
            "Open at the hour that the model gives, after a thumbnail test.",
        ),
    ),
    (
        Cause::DewPoint,
        says(
            "Close to the dew point",
            WASH,
            "Keep the air three degrees over its dew point until it has set.",
        ),
    ),
    (
        Cause::DampAir,
        says("Damp air", WASH, "Dry the room below 65\u{202f}%, or wait for a drier day."),
    ),
    (
        Cause::AirFell,
        says(
            "The air grew colder before it set",
            WASH,
            "Hold the temperature through the first night.",
        ),
    ),
    (
        Cause::UnfluedHeat,
        says("A heater without a flue", WASH, "Heat without flame: burning gas makes water."),
    ),
    (Cause::Uncovered, says("Nothing covered it", WASH, "A vented lid once it no longer levels.")),
    (
        Cause::WetObject,
        says("Bark or a wet object", NOTHING, "Take bark off, dry and seal what goes in."),
    ),
    (
        Cause::Hot,
        says(
            "It got hot",
            "Nothing takes amber out; cracks can be filled.",
            "Shallower layers, cooler air, a bath.",
        ),
    ),
    (Cause::LongInBucket, says("Long in the bucket", NOTHING, "Smaller buckets, poured at once.")),
    (
        Cause::Sunlight,
        says(
            "Sunlight",
            CLEAR_COAT,
            "A resin that is stabilised, a coat that keeps ultraviolet out, no window.",
        ),
    ),
    (
        Cause::ResinClass,
        says(
            "This class of resin turns yellow",
            CLEAR_COAT,
            "Another class for what has to stay clear.",
        ),
    ),
    (
        Cause::SteepHeat,
        says("Warm within, cold at the rim", FILL, "Insulate the sides, hold the room even."),
    ),
    (
        Cause::BathEnded,
        says("The bath was taken away early", FILL, "Leave the bath until the peak has passed."),
    ),
    (
        Cause::StiffObject,
        says(
            "A stiff object held it while it shrank",
            FILL,
            "Pour in layers round it, slowly; a soft coat on the object.",
        ),
    ),
    (
        Cause::NotToppedUp,
        says(
            "The timber absorbed resin, and nothing was topped up",
            "Level it with a further layer.",
            "Look at the level after an hour and top up.",
        ),
    ),
    (
        Cause::EarlyOut,
        says(
            "Out of the form too early",
            "Lay it flat under weights, warm it, let it cool there.",
            "Open when its glass transition is ten degrees over the room.",
        ),
    ),
    (
        Cause::OneSided,
        says(
            "Heat or drying from one side",
            "Turn it, and let both sides have air.",
            "Air on both sides; no heater at one.",
        ),
    ),
    (
        Cause::NoRelease,
        says(
            "No release on a side",
            "Wedges and patience; plane the sheet off.",
            "Tick release only after every side was looked at.",
        ),
    ),
    (
        Cause::FreshWax,
        says(
            "Wax that had not dried",
            "Wedges and patience.",
            "Let wax haze and dry before the form closes.",
        ),
    ),
    (
        Cause::OpenJoint,
        says(
            "An open joint",
            "Stop it with sealant or clay; top up.",
            "A bead of sealant in every joint, cured, tried with water or light.",
        ),
    ),
    (
        Cause::NotLevel,
        says(
            "The form was not level",
            "Shim it while it is liquid.",
            "Level it in both directions, and look again once it is heavy.",
        ),
    ),
    (
        Cause::TooMuchHead,
        says(
            "More head than the joint holds",
            "Stop it; let the level stand until it gels.",
            "A shallow first layer seals the joint for the next.",
        ),
    ),
    (
        Cause::Late,
        says(
            "Poured after the window had closed",
            "Nothing takes a line out; layers that come apart are glued.",
            "Pour within the window, or sand at 80 and wash.",
        ),
    ),
    (
        Cause::NotSanded,
        says(
            "Not sanded or washed before the next layer",
            "Glue with thin resin, clamp.",
            "Sand at 80, wash, dry, then pour.",
        ),
    ),
    (
        Cause::UnevenColour,
        says(
            "The buckets were coloured differently",
            "Nothing takes it out; an opaque coat hides it.",
            "Colour all of A at once, or weigh the colour for each bucket.",
        ),
    ),
    (
        Cause::UnlikeDepth,
        says("Layers of unlike depth", NOTHING, "Equal layers, or colour by depth."),
    ),
    (Cause::SeveralLots, says("Several lots", NOTHING, "One lot for all that is seen together.")),
    (
        Cause::Order,
        says("The order in which it was poured", NOTHING, "Note the order, and keep to it."),
    ),
    (
        Cause::Touched,
        says(
            "A cover or a hand touched it",
            "Sand and polish.",
            "A lid that stands off the surface.",
        ),
    ),
    (
        Cause::BathWater,
        says(
            "Water from the bath",
            "Sand it off where it is at the surface.",
            "Dry the bottles, keep the bath away from the bucket.",
        ),
    ),
    (
        Cause::Silicone,
        says(
            "Wax or silicone near it",
            "Sand it off, wash with alcohol, coat again.",
            "No silicone in the room; wash the face before it is coated.",
        ),
    ),
    (
        Cause::Unwashed,
        says(
            "Release or dust was not washed off",
            "Sand it off, wash with alcohol, coat again.",
            "Wash the face, then touch it no more.",
        ),
    ),
    (
        Cause::GritLeftOut,
        says(
            "A grit was left out",
            "Go back to the last grit that left none, in both directions.",
            "Each grit at most twice the one before.",
        ),
    ),
    (
        Cause::WarmCompound,
        says(
            "Compound on a warm face",
            "Let it cool; go back one step.",
            "Short passes; feel the face with the hand.",
        ),
    ),
];

#[cfg(test)]
mod tests {
    use fondant_record::causes::rows;
    use fondant_record::fault::FaultKind;

    use super::*;

    #[test]
    fn every_cause_has_its_words() {
        for row in FaultKind::ALL.into_iter().flat_map(rows) {
            let told = told(row.cause);
            let all = [told.name, told.now, told.next];
            assert!(all.iter().all(|words| !words.is_empty()), "{:?}", row.cause);
        }
    }
}
