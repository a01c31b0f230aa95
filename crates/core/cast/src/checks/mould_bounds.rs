//! Figures of cavities, of what is pressed into them and of colours against their bounds.

use fondant_quantities::{Length, bounds};
use fondant_shapes::blanks::Hollow;

use super::bounds::Found;
use super::conflict::{Countable, Written};
use crate::document::{Cavities, Colour, Pressed, PressedShape, Recipe, RecipeColour, Swirl};

impl Found {
    pub(super) fn swirl(&mut self, swirl: &Swirl) {
        let Swirl { colours, join } = swirl;
        self.count(Countable::Colours, colours.len(), bounds::MOST_COLOURS);
        for Colour { name, parts } in colours {
            self.text(Written::Tint, name, 1, bounds::NAME_CHARACTERS);
            self.number(&bounds::COLOUR_PARTS, *parts);
        }
        self.within(&bounds::JOIN_TEMPERATURE, *join);
    }

    pub(super) fn recipe(&mut self, recipe: &Recipe) {
        let Recipe { colours } = recipe;
        self.count(Countable::Colours, colours.len(), bounds::MOST_COLOURS);
        for RecipeColour { name, percent, cup } in colours {
            self.text(Written::Tint, name, 1, bounds::NAME_CHARACTERS);
            self.text(Written::Tint, cup, 0, bounds::NAME_CHARACTERS);
            self.number(&bounds::TINT_PERCENT, *percent);
        }
    }

    pub(super) fn cavity_row(&mut self, row: &Cavities, wall: Length) {
        let Cavities { name, count, hollow, pressed, colour } = row;
        self.text(Written::Cavity, name, 0, bounds::NAME_CHARACTERS);
        self.text(Written::Tint, colour, 0, bounds::NAME_CHARACTERS);
        self.moulding(*count, hollow, wall);
        if let Some(Pressed { count, shape, density, is_sealed: _ }) = pressed {
            self.number(&bounds::COUNT, f64::from(*count));
            self.within(&bounds::TIMBER_DENSITY, *density);
            match shape {
                PressedShape::Block { length, width, height } => {
                    for side in [length, width, height] {
                        self.within(&bounds::PRESSED_SIDE, *side);
                    }
                }
                PressedShape::Round { diameter, height } => {
                    self.within(&bounds::PRESSED_SIDE, *diameter);
                    self.within(&bounds::PRESSED_SIDE, *height);
                }
                PressedShape::Volume { volume } => self.within(&bounds::PRESSED_TIMBER, *volume),
            }
        }
    }

    pub(super) fn moulding(&mut self, count: u32, hollow: &Hollow, wall: Length) {
        self.number(&bounds::MOULD_COUNT, f64::from(count));
        match hollow {
            Hollow::Box { length, width, depth } | Hollow::Trough { length, width, depth } => {
                self.within(&bounds::HOLLOW_SIDE, *length);
                self.within(&bounds::HOLLOW_SIDE, *width);
                self.within(&bounds::HOLLOW_DEPTH, *depth);
            }
            Hollow::Round { diameter, depth } => {
                self.within(&bounds::HOLLOW_SIDE, *diameter);
                self.within(&bounds::HOLLOW_DEPTH, *depth);
            }
            Hollow::Water { volume, depth } => {
                self.within(&bounds::WATER, *volume);
                self.within(&bounds::HOLLOW_DEPTH, *depth);
            }
        }
        self.within(&bounds::MOULD_WALL, wall);
    }
}
