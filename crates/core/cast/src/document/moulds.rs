//! Moulds: rows of equal cavities, with pieces pressed into them.

use fondant_quantities::{Density, Length, Volume};
use fondant_shapes::blanks::Hollow;
use fondant_shapes::blanks::pot::Pot;
use serde::{Deserialize, Serialize};

/// Cavities of one mould or of several that are filled together.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(from = "KeptMoulds")]
pub struct Moulds {
    /// Rows of equal cavities, one at least.
    pub cavities: Vec<Cavities>,
    /// Wall of the mould round a cavity, for its heat and for the pressure pot.
    #[serde(rename = "wall_m")]
    pub wall: Length,
    /// The pressure pot, where one is used.
    pub pot: Option<Pot>,
}

/// Equal cavities.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Cavities {
    /// What the maker calls them; may be empty.
    #[serde(default)]
    pub name: String,
    /// Number of cavities.
    pub count: u32,
    /// The inside of one.
    pub hollow: Hollow,
    /// What is pressed into each; `None` for nothing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pressed: Option<Pressed>,
    /// Colour of their resin, in the maker's words; empty for clear, or for that of the cast.
    #[serde(default)]
    pub colour: String,
}

/// Equal pieces pressed into each cavity.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Pressed {
    /// Number of pieces in one cavity.
    pub count: u32,
    /// Size of one.
    pub shape: PressedShape,
    /// Density of the material.
    #[serde(rename = "density_kg_m3")]
    pub density: Density,
    /// Sealed before it is pressed in, so that no air comes out of it.
    #[serde(default)]
    pub is_sealed: bool,
}

/// Size of a piece.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "by")]
pub enum PressedShape {
    /// A box.
    Block {
        /// Length as it lies.
        #[serde(rename = "length_m")]
        length: Length,
        /// Width as it lies.
        #[serde(rename = "width_m")]
        width: Length,
        /// Height as it lies.
        #[serde(rename = "height_m")]
        height: Length,
    },
    /// A disc or dowel that stands.
    Round {
        /// Diameter of the piece.
        #[serde(rename = "diameter_m")]
        diameter: Length,
        /// Height as it lies.
        #[serde(rename = "height_m")]
        height: Length,
    },
    /// Any shape, by the volume it takes.
    Volume {
        /// Volume of one.
        #[serde(rename = "volume_m3")]
        volume: Volume,
    },
}

impl Pressed {
    /// Volume of one piece.
    #[must_use]
    pub fn each(&self) -> Volume {
        match self.shape {
            PressedShape::Block { length, width, height } => length * width * height,
            PressedShape::Round { diameter, height } => {
                diameter * diameter * height * (std::f64::consts::PI / 4.0)
            }
            PressedShape::Volume { volume } => volume,
        }
    }

    /// Volume of the pieces in one cavity.
    #[must_use]
    pub fn volume(&self) -> Volume {
        self.each() * f64::from(self.count)
    }

    /// Height of a piece as it lies; `None` where only its volume is known.
    #[must_use]
    pub const fn height(&self) -> Option<Length> {
        match self.shape {
            PressedShape::Block { height, .. } | PressedShape::Round { height, .. } => Some(height),
            PressedShape::Volume { .. } => None,
        }
    }
}

impl Pressed {
    /// Length and width of a piece seen from above; `None` where only its volume is known.
    #[must_use]
    pub const fn footprint(&self) -> Option<(Length, Length)> {
        match self.shape {
            PressedShape::Block { length, width, .. } => Some((length, width)),
            PressedShape::Round { diameter, .. } => Some((diameter, diameter)),
            PressedShape::Volume { .. } => None,
        }
    }
}

impl Cavities {
    /// Level above the deepest point of a cavity on which its pieces lie: on a round floor a piece lies
    /// where the floor is as wide as itself.
    #[must_use]
    pub fn lies_at(&self) -> Length {
        let (Hollow::Trough { width, .. }, Some((_, across))) =
            (self.hollow, self.pressed.and_then(|pressed| pressed.footprint()))
        else {
            return Length::ZERO;
        };
        let radius = 0.5 * width.m();
        let half = (0.5 * across.m()).min(radius);
        Length::from_m(radius - (radius * radius - half * half).sqrt())
    }

    /// Whether its pieces fit beside one another, seen from above.
    #[must_use]
    pub fn fits_beside(&self) -> bool {
        let Some((pressed, (length, width))) =
            self.pressed.and_then(|pressed| Some((pressed, pressed.footprint()?)))
        else {
            return true;
        };
        let (along, across) = self.hollow.mouth();
        let within = |l: Length, w: Length| l <= along && w <= across;
        // Of any shape only the area of the mouth is known.
        let is_shaped = !matches!(self.hollow, Hollow::Water { .. });
        let fits = !is_shaped || within(length, width) || within(width, length);
        let mouth = match self.hollow {
            Hollow::Trough { .. } => along * across,
            _ => self.hollow.volume() / self.hollow.depth(),
        };
        let area = pressed.each() / pressed.height().unwrap_or(self.hollow.depth());
        fits && area * f64::from(pressed.count) < mouth
    }

    /// Equal cavities with nothing in them.
    #[must_use]
    pub const fn empty(count: u32, hollow: Hollow) -> Self {
        Self { name: String::new(), count, hollow, pressed: None, colour: String::new() }
    }

    /// Volume of what is pressed into one.
    #[must_use]
    pub fn taken(&self) -> Volume {
        self.pressed.map_or(Volume::ZERO, |pressed| pressed.volume())
    }

    /// Resin that one takes.
    #[must_use]
    pub fn each(&self) -> Volume {
        self.hollow.volume() - self.taken()
    }
}

impl Moulds {
    /// Number of cavities of all rows.
    #[must_use]
    pub fn count(&self) -> u32 {
        self.cavities.iter().fold(0, |sum, row| sum.saturating_add(row.count))
    }

    /// Number of pieces that are still to be sealed.
    #[must_use]
    pub fn bare_pieces(&self) -> u32 {
        let bare = |row: &Cavities| {
            let pressed = row.pressed.filter(|pressed| !pressed.is_sealed)?;
            Some(row.count.saturating_mul(pressed.count))
        };
        self.cavities.iter().filter_map(bare).fold(0, u32::saturating_add)
    }

    /// The row whose resin gets hottest: the one with the least wall for its volume.
    ///
    /// A cavity loses its heat through floor, sides and surface; half-spaces `1/l + 1/w + 1/d` rank
    /// equal shapes as the field does.
    #[must_use]
    pub fn hottest(&self) -> Option<&Cavities> {
        let walls = |row: &Cavities| {
            let (length, width) = row.hollow.mouth();
            1.0 / length.m() + 1.0 / width.m() + 1.0 / row.hollow.depth().m()
        };
        self.cavities.iter().min_by(|a, b| walls(a).total_cmp(&walls(b)))
    }
}

/// Moulds as they are kept: as they are now, and as one row with timber by its volume, which is how
/// they were kept before there were several.
#[derive(Deserialize)]
#[serde(untagged)]
enum KeptMoulds {
    Now {
        cavities: Vec<Cavities>,
        #[serde(rename = "wall_m")]
        wall: Length,
        pot: Option<Pot>,
    },
    OneRow {
        count: u32,
        hollow: Hollow,
        #[serde(rename = "wall_m")]
        wall: Length,
        #[serde(rename = "timber_m3")]
        timber: Volume,
        #[serde(rename = "timber_density_kg_m3")]
        timber_density: Density,
        pot: Option<Pot>,
    },
}

impl From<KeptMoulds> for Moulds {
    fn from(kept: KeptMoulds) -> Self {
        match kept {
            KeptMoulds::Now { cavities, wall, pot } => Self { cavities, wall, pot },
            KeptMoulds::OneRow { count, hollow, wall, timber, timber_density, pot } => {
                let pressed = by_volume(timber, timber_density);
                Self {
                    cavities: vec![Cavities { pressed, ..Cavities::empty(count, hollow) }],
                    wall,
                    pot,
                }
            }
        }
    }
}

/// Timber of a volume pressed into each cavity; `None` for none.
pub(super) fn by_volume(volume: Volume, density: Density) -> Option<Pressed> {
    let shape = PressedShape::Volume { volume };
    (volume > Volume::ZERO).then_some(Pressed { count: 1, shape, density, is_sealed: false })
}

#[cfg(test)]
mod tests {
    use super::*;

    const fn mm(value: f64) -> Length {
        Length::from_mm(value)
    }

    #[test]
    fn pieces_take_up_their_size_as_often_as_they_lie_there() {
        let density = Density::from_kg_m3(700.0);
        let shape = PressedShape::Block { length: mm(40.0), width: mm(20.0), height: mm(8.0) };
        let two = Pressed { count: 2, shape, density, is_sealed: true };
        assert!((two.volume().l() * 1e3 - 12.8).abs() < 1e-9);
        let shape = PressedShape::Round { diameter: mm(20.0), height: mm(10.0) };
        let disc = Pressed { count: 1, shape, density, is_sealed: false };
        assert!((disc.volume().l() * 1e3 - std::f64::consts::PI).abs() < 1e-9);
    }

    /// What a document of schema 3 kept before moulds had rows.
    #[test]
    fn moulds_of_one_row_are_read_as_they_were_kept() {
        let kept = r#"{"count": 8, "wall_m": 0.01, "timber_m3": 2.1e-5, "timber_density_kg_m3": 650,
            "hollow": {"by": "box", "length_m": 0.1, "width_m": 0.1, "depth_m": 0.01}, "pot": null}"#;
        let moulds: Moulds = serde_json::from_str(kept).unwrap();
        assert_eq!((moulds.cavities.len(), moulds.count()), (1, 8));
        assert!((moulds.cavities[0].each().l() * 1e3 - 79.0).abs() < 1e-9);
        let again: Moulds = serde_json::from_str(&serde_json::to_string(&moulds).unwrap()).unwrap();
        assert_eq!(again, moulds);
        let nothing = kept.replace("2.1e-5", "0");
        let moulds: Moulds = serde_json::from_str(&nothing).unwrap();
        assert_eq!(moulds.cavities[0].pressed, None);
    }

    #[test]
    fn the_deepest_and_widest_cavity_is_the_hottest() {
        let cube = |side: f64| Hollow::Box { length: mm(side), width: mm(side), depth: mm(side) };
        let rows = [cube(20.0), cube(45.0), cube(30.0)].map(|hollow| Cavities::empty(2, hollow));
        let moulds = Moulds { cavities: rows.to_vec(), wall: mm(5.0), pot: None };
        assert_eq!(moulds.hottest(), Some(&moulds.cavities[1]));
    }
}
