//! What a shop brings to its casts, worked out.

use fondant_cast::Site;
use fondant_heat::climate::profile::ProfileError;
use fondant_materials::resin::shelf::Shelf;

use crate::compute::Key;

/// The resins of a shop.
#[derive(Debug, Clone)]
pub struct Stock {
    /// Those that can be used.
    pub shelf: Shelf,
    /// Short names of records that cannot be read.
    pub unreadable: Vec<String>,
}

/// What a shop brings to its casts, worked out.
#[derive(Debug, Clone)]
pub struct Surroundings {
    /// Hours, air and hands.
    pub site: Site,
    /// Why the air is not as the shop wishes; 20 °C stand for it then.
    pub air_trouble: Option<ProfileError>,
    /// By what the site is known.
    pub(crate) key: Key,
}

impl Stock {
    pub(crate) fn bytes(&self) -> usize {
        // A record is some two hundred figures and its texts.
        1024 + self.shelf.all().len() * 8 * 1024
    }
}

impl Surroundings {
    pub(crate) fn bytes(&self) -> usize {
        4096 + size_of_val(self.site.air.moments())
    }
}
