//! Why a figure stands in a field before anything was typed, for a workshop's first cast.

/// The reason for what a field begins with, by its name without the number of its row; `None` where
/// the maker has to say, or where the label says it all.
pub(crate) fn why(field: &str) -> Option<&'static str> {
    let name = field.split('-').next().unwrap_or(field);
    Some(match name {
        "trim_margin" => "Edges are never clean: this much is sawn off all round.",
        "flattening" => "A router sled takes about this off each face.",
        "squaring" => "The top of a block is never level; this much is sawn off.",
        "river" => "A guess: a quarter of the width. Measure it at each station.",
        "tape" => "A tape is read to about this; it sets the ± of the volume.",
        "points_tolerance" => "A traced edge is off by about this.",
        "b_thickness" => "As thick as the cast, so that both faces can be flattened.",
        "b_density" => "Medium hardwood. Weigh an offcut and measure its sides to know.",
        "b_moisture" | "moisture" => {
            "Dry timber. Put a meter on it: over 12\u{202f}% it moves and bubbles."
        }
        "b_absorbs" | "absorption" => "Bare hardwood; 0 where the edge is sealed.",
        "base_gap" => "A thin base keeps the boards off the floor of the form.",
        "overfill" => "Resin sinks as it soaks in; what stands proud is machined off.",
        "residue" => "This share stays in the bucket and on the stick.",
        "leak" => "Nothing is kept back: test the form with water or light.",
        "fall" => "0 for a level floor. Put a level on it.",
        "sheet" => "Cheap and flat; resin lets go of it with tape or wax.",
        "sheet_thickness" => "The usual sheet; thick enough for this depth or the page says so.",
        "release" => "Tape is the surest; wax needs a wait, bare plastic lets go by itself.",
        "sealant" => "Side of the fillet in each corner.",
        "stock_length" | "stock_width" => "The sheet as it is sold.",
        "saw" | "kerf" => "Width of a saw cut.",
        "air" => "A shop in winter with its heating on. Measure yours.",
        "resin" => "As warm as the room. Bottles can be warmed before they are mixed.",
        "humidity" => "Medium. Over the resin's limit a film forms.",
        "cooling" => "Still air. A fan or a bath of water takes the peak down.",
        "bucket" => "Two thirds of this is mixed at a time.",
        "waits" => "Poured as soon as it is mixed.",
        "sanding" => "Time to sand, wipe and dry a layer that has set hard.",
        "lead" => "Building, sealant, release and glue, added up.",
        "people" => "How many hands mix and pour.",
        "split" => "As few layers as stay cool enough.",
        "coat" => "About where a self-levelling resin settles by itself.",
        "coats" => "One coat levels; a second hides what the first raised.",
        "run_off" => "This share drips over the edges.",
        "count" => "Six to begin with.",
        "mould_wall" => "A usual silicone wall.",
        "plugs" => "Both plugs together, beyond the tube.",
        "paper" => "A printed label with its glue.",
        "overlap" => "So that no gap shows where the label meets.",
        "ins_density" => "Timber that floats; type its own.",
        "ins_above" => "So that resin lies under it.",
        "price" => "0 until you type what you pay.",
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_of_a_list_are_explained_like_their_field() {
        assert_eq!(why("b_density-3"), why("b_density"));
        assert!(why("trim_margin").unwrap().contains("sawn off"));
        assert_eq!(why("name"), None);
    }
}
