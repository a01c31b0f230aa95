//! Objects embedded in the resin: what they displace and whether they stay.

use serde::{Deserialize, Serialize};

use fondant_quantities::{Area, Density, Length, Mass, Volume};

/// How an insert's volume is known.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case", tag = "by")]
pub enum InsertShape {
    /// A ball.
    Ball {
        /// Diameter of the object.
        #[serde(rename = "diameter_m")]
        diameter: Length,
    },
    /// A standing cylinder.
    Cylinder {
        /// Diameter of the object.
        #[serde(rename = "diameter_m")]
        diameter: Length,
        /// Height of the object.
        #[serde(rename = "height_m")]
        height: Length,
    },
    /// A block.
    Block {
        /// Along the form.
        #[serde(rename = "length_m")]
        length: Length,
        /// Across the form.
        #[serde(rename = "width_m")]
        width: Length,
        /// Height of the object.
        #[serde(rename = "height_m")]
        height: Length,
    },
    /// A closed mesh from a file.
    Mesh {
        /// The file's name.
        file: String,
        /// Volume of one object.
        #[serde(rename = "volume_m3")]
        volume: Volume,
        /// Size along x, y, z.
        #[serde(rename = "size_m")]
        size: [Length; 3],
        /// Number of triangles of the mesh.
        triangles: u32,
        /// They were inside out in the file, and were turned.
        was_inside_out: bool,
    },
    /// Water that it displaces.
    Water {
        /// Volume of the object.
        #[serde(rename = "volume_m3")]
        volume: Volume,
        /// Height as it lies.
        #[serde(rename = "height_m")]
        height: Length,
    },
    /// Its mass over its density.
    Weight {
        /// Height as it lies.
        #[serde(rename = "height_m")]
        height: Length,
    },
}

/// An object in the resin, or several alike.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Insert {
    /// What the maker calls it.
    pub name: String,
    /// Number of equal pieces.
    pub count: u32,
    /// How its volume is known.
    pub shape: InsertShape,
    /// Mass of one.
    #[serde(rename = "mass_kg")]
    pub mass: Mass,
    /// Density of its material; used for [`InsertShape::Weight`] alone.
    #[serde(rename = "density_kg_m3")]
    pub density: Density,
    /// Height of its underside above the floor of the form.
    #[serde(rename = "above_floor_m")]
    pub above_floor: Length,
}

/// What an insert does in liquid resin.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Buoyancy {
    /// It rises, and must be held down.
    Floats,
    /// It sinks, and must stand on something.
    Sinks,
    /// Within three percent of the resin: it drifts.
    Hovers,
}

/// Densities closer than this share of the resin's are as good as equal: a
/// kitchen scale and a measuring jug tell no more.
const HOVER_RATIO: f64 = 0.03;

impl Insert {
    /// Volume of one.
    #[must_use]
    pub fn volume(&self) -> Volume {
        use std::f64::consts::PI;
        match &self.shape {
            InsertShape::Ball { diameter } => *diameter * *diameter * *diameter * (PI / 6.0),
            InsertShape::Cylinder { diameter, height } => {
                *diameter * *diameter * *height * (PI / 4.0)
            }
            InsertShape::Block { length, width, height } => *length * *width * *height,
            InsertShape::Mesh { volume, .. } | InsertShape::Water { volume, .. } => *volume,
            InsertShape::Weight { .. } => self.mass / self.density,
        }
    }

    /// Volume of all alike.
    #[must_use]
    pub fn volume_of_all(&self) -> Volume {
        self.volume() * f64::from(self.count)
    }

    /// Height as it lies.
    #[must_use]
    pub fn height(&self) -> Length {
        match &self.shape {
            InsertShape::Ball { diameter } => *diameter,
            InsertShape::Cylinder { height, .. }
            | InsertShape::Block { height, .. }
            | InsertShape::Water { height, .. }
            | InsertShape::Weight { height } => *height,
            InsertShape::Mesh { size, .. } => size[2],
        }
    }

    /// Length and width to draw it with.
    #[must_use]
    pub fn footprint(&self) -> (Length, Length) {
        match &self.shape {
            InsertShape::Ball { diameter } | InsertShape::Cylinder { diameter, .. } => {
                (*diameter, *diameter)
            }
            InsertShape::Block { length, width, .. } => (*length, *width),
            InsertShape::Mesh { size, .. } => (size[0], size[1]),
            InsertShape::Water { .. } | InsertShape::Weight { .. } => {
                let side = (self.volume() / self.height()).m2().max(0.0).sqrt();
                (Length::from_m(side), Length::from_m(side))
            }
        }
    }

    /// Whether it is drawn round.
    #[must_use]
    pub fn is_round(&self) -> bool {
        matches!(self.shape, InsertShape::Ball { .. } | InsertShape::Cylinder { .. })
    }

    /// Areas at its underside, half way up and at its top, of all alike: exact
    /// for the ball, the mean over the height for what has no formula.
    #[must_use]
    pub fn areas(&self) -> [Area; 3] {
        let mean = self.volume_of_all() / self.height();
        match self.shape {
            InsertShape::Ball { .. } => [Area::ZERO, mean * 1.5, Area::ZERO],
            _ => [mean; 3],
        }
    }

    /// Density of its material: what it was weighed by, or what its mass and volume come to.
    #[must_use]
    pub fn stuff(&self) -> Density {
        match self.shape {
            InsertShape::Weight { .. } => self.density,
            _ => self.mean_density(),
        }
    }

    /// Mass over volume.
    #[must_use]
    pub fn mean_density(&self) -> Density {
        let volume = self.volume().m3();
        if volume > 0.0 { Density::from_kg_m3(self.mass.kg() / volume) } else { Density::ZERO }
    }

    /// What it does in liquid resin.
    #[must_use]
    pub fn buoyancy(&self, resin: Density) -> Buoyancy {
        let ratio = self.mean_density() / resin;
        if (ratio - 1.0).abs() <= HOVER_RATIO {
            Buoyancy::Hovers
        } else if ratio < 1.0 {
            Buoyancy::Floats
        } else {
            Buoyancy::Sinks
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn insert(shape: InsertShape, grams: f64) -> Insert {
        Insert {
            name: "thing".into(),
            count: 1,
            shape,
            mass: Mass::from_kg(grams * 1e-3),
            density: Density::from_kg_m3(500.0),
            above_floor: Length::ZERO,
        }
    }

    #[test]
    fn volumes_of_primitives_and_of_weight_over_density() {
        let mm = Length::from_mm;
        let ml = |shape| insert(shape, 10.0).volume().l() * 1e3;
        assert!((ml(InsertShape::Ball { diameter: mm(60.0) }) - 113.097_335_5).abs() < 1e-6);
        let block = InsertShape::Block { length: mm(30.0), width: mm(20.0), height: mm(10.0) };
        assert!((ml(block) - 6.0).abs() < 1e-9);
        assert!((ml(InsertShape::Weight { height: mm(10.0) }) - 20.0).abs() < 1e-9);
    }

    #[test]
    fn a_ball_has_the_volume_of_its_areas() {
        let ball = insert(InsertShape::Ball { diameter: Length::from_mm(50.0) }, 10.0);
        let [a, b, c] = ball.areas();
        let volume = (a + b * 4.0 + c) / 6.0 * ball.height();
        assert!((volume / ball.volume() - 1.0).abs() < 1e-12);
    }

    /// Metal and stone were taken for timber: their density stands in their mass, and the field
    /// beside it is meant for things known by weight alone.
    #[test]
    fn a_thing_is_of_what_its_mass_says() {
        let ball = InsertShape::Ball { diameter: Length::from_mm(30.0) };
        let brass = insert(ball, 120.0);
        assert!((brass.stuff().kg_m3() - 8488.0).abs() < 1.0, "{}", brass.stuff().kg_m3());
        let by_weight = insert(InsertShape::Weight { height: Length::from_mm(10.0) }, 120.0);
        assert!((by_weight.stuff().kg_m3() - 500.0).abs() < 1e-9);
    }

    #[test]
    fn cork_floats_stone_sinks_and_bone_hovers() {
        let resin = Density::from_kg_m3(1100.0);
        let ball = |grams| insert(InsertShape::Ball { diameter: Length::from_mm(60.0) }, grams);
        assert_eq!(ball(30.0).buoyancy(resin), Buoyancy::Floats);
        assert_eq!(ball(300.0).buoyancy(resin), Buoyancy::Sinks);
        assert_eq!(ball(125.0).buoyancy(resin), Buoyancy::Hovers);
    }
}
