//! What of a cast stands in a pressure pot.

use fondant_quantities::Length;
use fondant_shapes::blanks::Hollow;
use fondant_shapes::blanks::pot::Standing;

use super::measured::Measured;
use crate::document::{Contents, Document};

/// The moulds of a cast by their outside, size by size: the rows of cavities in their order, or the block
/// in its form. Empty for kinds that go into no pot.
#[must_use]
pub fn standing(document: &Document, measured: &Measured) -> Vec<Standing> {
    match &document.contents {
        Contents::Tubes(tubes) => vec![mould(tubes.hollow, tubes.wall, tubes.count)],
        Contents::Moulds(moulds) => {
            moulds.cavities.iter().map(|row| mould(row.hollow, moulds.wall, row.count)).collect()
        }
        Contents::Block(block) => {
            let (sheet, cast) = (block.build.thickness, measured.cast);
            vec![Standing {
                length: cast.length + sheet * 2.0,
                width: cast.width + sheet * 2.0,
                height: measured.layout.height + sheet,
                count: 1,
            }]
        }
        _ => Vec::new(),
    }
}

/// What the maker calls the moulds of a size, by its place; empty where they have no name.
#[must_use]
pub fn standing_name(document: &Document, of: usize) -> &str {
    match &document.contents {
        Contents::Moulds(moulds) => moulds.cavities.get(of).map_or("", |row| &row.name),
        _ => "",
    }
}

/// A cavity with a wall round it and under it.
fn mould(hollow: Hollow, wall: Length, count: u32) -> Standing {
    let (length, width) = hollow.mouth();
    Standing {
        length: length + wall * 2.0,
        width: width + wall * 2.0,
        height: hollow.depth() + wall,
        count,
    }
}
