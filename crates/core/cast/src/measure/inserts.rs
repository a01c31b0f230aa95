//! Objects in the resin: they take away from it and are pulled by it.

use fondant_quantities::Volume;
use fondant_shapes::timber::Insert;
use fondant_shapes::volume::Profile;
use fondant_shapes::volume::layout::{Laid, What, around, rows};
use fondant_shapes::volume::sizing::{LineKind, UncertaintySource};

use super::measured::{Room, Submerged};
use super::outlines::prism;

/// What an insert displaces is known to about this share of itself.
const INSERT_RATIO: f64 = 0.03;
/// Most objects of a cast that are drawn: more cannot be told apart on a page.
const MOST_DRAWN: usize = 120;

/// Adds inserts to the room that a cast leaves.
pub(super) fn add(inserts: &[Insert], room: &mut Room) {
    let (length, width) = (room.layout.length, room.layout.width);
    let total: u32 = inserts.iter().map(|i| i.count).sum();
    let mut middles = rows((total as usize).min(MOST_DRAWN), length, width, 1.0).into_iter();
    for (index, insert) in inserts.iter().enumerate() {
        let profile = Profile::of_insert(insert);
        let (from, to) = (profile.from, profile.to);
        room.fill = room.fill.clone().with_solid(profile);
        room.submerged.push(Submerged {
            what: What::Insert(index),
            volume: insert.volume_of_all(),
            mass: insert.mass * f64::from(insert.count),
            weighed: None,
        });
        let (l, w) = insert.footprint();
        for middle in middles.by_ref().take(insert.count as usize) {
            let shape = prism(&around(middle, l, w, insert.is_round()));
            room.layout.laid.push(Laid { what: What::Insert(index), shape, from, to });
        }
    }
    let inside: Volume = inserts.iter().map(Insert::volume_of_all).sum();
    room.in_form.line(LineKind::Inserts { count: total }, inside * -1.0);
    room.in_form.uncertain(UncertaintySource::Inserts, inside * (0.5 * INSERT_RATIO));
}
