//! From what was tapped and typed at the bench to what happened.

use fondant_app::records::NewRow;
use fondant_bench::reading::{Quantity, kept};
use fondant_bench::run::ReadyItem;
use fondant_bench::warming::Bath;
use fondant_bench::weighing::{Part, by_volume};
use fondant_bench::{Happening, Run};
use fondant_materials::resin::{MeasuredBy, Properties};
use fondant_pours::simulate::observe::Touch;
use fondant_quantities::bounds::Bound;
use fondant_quantities::units::{
    MassUnit, Measured, TemperatureUnit, UnitSystem, VolumeUnit, parse,
};
use fondant_quantities::{Mass, Temperature, Volume, bounds};
use jiff::{SignedDuration, Timestamp};

use crate::ui::entries::Entries;
use crate::ui::slug::named;
use crate::ui::units::Shown;
use crate::words::measures::{little_resin, read_vacuum, vacuum_range};

/// Longest note, characters.
const NOTE_CHARACTERS: usize = 400;
/// Longest name of a colour or a device, characters.
const NAME_CHARACTERS: usize = 60;
/// Highest pressure of a pot, bar over the air's (convention: no shop pot goes higher).
const MOST_BAR: f64 = 10.0;
/// A row further in the past than this has the time of a clock that is wrong (convention: no device is
/// without a connection for longer).
const AWAY: SignedDuration = SignedDuration::from_hours(7 * 24);

/// What came with a row, read; or the sentence why not.
pub(super) fn read(
    entries: &Entries,
    run: &Run,
    system: UnitSystem,
    now: Timestamp,
) -> Result<NewRow, String> {
    let key = entries.get("key").unwrap_or_default();
    let is_key = (8..=64).contains(&key.len())
        && key.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-');
    if !is_key {
        return Err("This row came without its key. Reload the page and tap again.".to_owned());
    }
    let at = match entries.get("at").filter(|at| !at.is_empty()) {
        None => now,
        Some(text) => {
            let at = text.parse().ok().and_then(|ms| Timestamp::from_millisecond(ms).ok());
            let at = at.filter(|at| now.duration_since(*at) < AWAY);
            at.ok_or_else(|| {
                "The clock of this device is off by days. Set it, then tap again.".to_owned()
            })?
        }
    };
    let by = cut(entries.get("by").unwrap_or_default(), NAME_CHARACTERS);
    let what = Reading { entries, run, system }.what()?;
    Ok(NewRow { key: key.to_owned(), at, by, what })
}

fn cut(text: &str, characters: usize) -> String {
    text.trim().chars().take(characters).collect()
}

struct Reading<'a> {
    entries: &'a Entries,
    run: &'a Run,
    system: UnitSystem,
}

impl Reading<'_> {
    fn what(&self) -> Result<Happening, String> {
        Ok(match self.entries.get("what").unwrap_or_default() {
            "ready" => Happening::Ready { item: self.ready_item()? },
            "resized" => Happening::Resized { batch: self.batch()?, mass: self.mass()? },
            "weighed" => {
                let part = self.part()?;
                Happening::Weighed { batch: self.batch()?, part, mass: self.mass_of(part)? }
            }
            "added" => {
                let part = self.part()?;
                Happening::Added { batch: self.batch()?, part, mass: self.mass_of(part)? }
            }
            "tinted" => {
                let colour = self.note("colour", NAME_CHARACTERS)?;
                Happening::Tinted { batch: self.batch()?, colour, mass: self.mass()? }
            }
            "coloured" => Happening::Coloured { batch: self.batch()? },
            "evacuated" => Happening::Evacuated { batch: self.batch()?, mbar: self.mbar()? },
            "aired" => Happening::Aired { batch: self.batch()? },
            "mix_begun" => {
                let resin_at = if self.text("temperature").is_empty() {
                    None
                } else {
                    Some(self.temperature()?)
                };
                let lot = cut(self.text("lot"), NAME_CHARACTERS);
                let lot = (!lot.is_empty()).then_some(lot);
                Happening::MixBegun { batch: self.batch()?, resin_at, lot }
            }
            "second_pot" => Happening::SecondPot { batch: self.batch()? },
            "mix_ended" => Happening::MixEnded { batch: self.batch()? },
            "read" => Happening::Read { batch: self.batch()?, temperature: self.temperature()? },
            "pour_begun" => Happening::PourBegun { batch: self.batch()? },
            "pour_ended" => {
                let left =
                    if self.text("amount").is_empty() { Mass::ZERO } else { self.some_mass()? };
                let is_full = self.entries.get("full").is_some();
                Happening::PourEnded { batch: self.batch()?, left, is_full }
            }
            "lost" => Happening::Lost {
                batch: self.batch()?,
                reason: self.note("note", NOTE_CHARACTERS)?,
            },
            _ => self.of_the_run()?,
        })
    }

    /// What happens to the run as a whole.
    fn of_the_run(&self) -> Result<Happening, String> {
        let note = || self.note("note", NOTE_CHARACTERS);
        Ok(match self.entries.get("what").unwrap_or_default() {
            "ran_short" => Happening::RanShort { volume: self.volume(false)? },
            "leaked" => Happening::Leaked { note: note()? },
            "looked" => Happening::Looked,
            "watched" => Happening::Watched,
            "covered" => Happening::Covered,
            "touched" => Happening::Touched { found: self.touch()?, cup: self.cup()? },
            "bathed" => Happening::Bathed { bath: self.bath()? },
            "bottle_read" => Happening::BottleRead { temperature: self.temperature()? },
            "chilled" => Happening::Chilled { water: self.cold()?, ice: self.ice()? },
            "topped_up" => Happening::ToppedUp { volume: self.volume(true)? },
            "gauge" => Happening::Gauge { over_bar: self.bar()? },
            "vented" => Happening::Vented,
            "rated" => Happening::Rated { edges: named(self.text("edges")).ok_or_else(damaged)? },
            "noted" => Happening::Noted { note: note()? },
            "paused" => Happening::Paused,
            "resumed" => Happening::Resumed,
            "abandoned" => Happening::Abandoned { reason: note()? },
            "finished" => Happening::Finished,
            "withdrawn" => {
                let row = self.text("row").parse().map_err(|_| damaged())?;
                Happening::Withdrawn { row, reason: note()? }
            }
            _ => return Err(damaged()),
        })
    }

    fn text(&self, name: &str) -> &str {
        self.entries.get(name).unwrap_or_default().trim()
    }

    fn batch(&self) -> Result<u32, String> {
        self.text("batch").parse().map_err(|_| damaged())
    }

    fn part(&self) -> Result<Part, String> {
        match self.text("part") {
            "a" => Ok(Part::A),
            "b" => Ok(Part::B),
            _ => Err(damaged()),
        }
    }

    fn ready_item(&self) -> Result<ReadyItem, String> {
        let named = |item: &&ReadyItem| item_name(**item) == self.text("item");
        self.run.plan.ready.iter().find(named).copied().ok_or_else(damaged)
    }

    fn touch(&self) -> Result<Touch, String> {
        match self.text("found") {
            "clear" => Ok(Touch::Clear),
            "tacky" => Ok(Touch::Tacky),
            "hard" => Ok(Touch::Hard),
            _ => Err("Say what you felt: liquid, sticky or hard.".to_owned()),
        }
    }

    fn note(&self, name: &str, characters: usize) -> Result<String, String> {
        let text = cut(self.text(name), characters);
        if text.is_empty() { Err("Say it in a word or two.".to_owned()) } else { Ok(text) }
    }

    /// Grams, unless another unit is typed.
    fn some_mass(&self) -> Result<Mass, String> {
        let text = self.text("amount");
        let mass = quantity(text, MassUnit::Gram, "a mass. Type grams, as 1252")?;
        if mass < Mass::ZERO { Err(no(text, "a mass. Type grams, as 1252")) } else { Ok(mass) }
    }

    fn mass(&self) -> Result<Mass, String> {
        let mass = self.some_mass()?;
        if mass > Mass::ZERO {
            Ok(mass)
        } else {
            Err(no(self.text("amount"), "a mass. Type grams, as 1252"))
        }
    }

    /// What a witness cup holds; empty where the piece itself was touched.
    fn cup(&self) -> Result<Option<Mass>, String> {
        let said = "what the cup holds, as 80 g. Leave it empty where you touched the piece";
        self.maybe_mass("cup", MassUnit::Gram, &bounds::WITNESS_CUP, said)
    }

    fn ice(&self) -> Result<Option<Mass>, String> {
        let said = self.said(
            "a mass of ice, as 2 kg. Leave it empty where you did not look",
            "a mass of ice, as 4 lb. Leave it empty where you did not look",
        );
        self.maybe_mass("ice", self.system.mass(), &bounds::BATH, said)
    }

    fn maybe_mass(
        &self,
        name: &str,
        unit: MassUnit,
        bound: &Bound<Mass>,
        said: &str,
    ) -> Result<Option<Mass>, String> {
        let text = self.text(name);
        if text.is_empty() {
            return Ok(None);
        }
        let mass = quantity(text, unit, said)?;
        bound.check(mass).map(Some).map_err(|_| no(text, said))
    }

    fn bath(&self) -> Result<Bath, String> {
        let mass = |name, what: &str| {
            let found = self.maybe_mass(name, self.system.mass(), &bounds::BATH, what)?;
            found.ok_or_else(|| no("", what))
        };
        Ok(Bath {
            bottle: mass(
                "bottle",
                self.said(
                    "what the largest bottle holds, as 2 kg",
                    "what the largest bottle holds, as 4 lb",
                ),
            )?,
            bottle_at: self.temperature_of("bottle_at", &bounds::RESIN_TEMPERATURE)?,
            water: mass(
                "water",
                self.said(
                    "the water in the tub by its mass, as 10 kg",
                    "the water in the tub by its mass, as 20 lb",
                ),
            )?,
            water_at: self.temperature_of("water_at", &bounds::WARM_WATER)?,
        })
    }

    fn cold(&self) -> Result<Temperature, String> {
        self.temperature_of("temperature", &bounds::COOLING_TEMPERATURE)
    }

    fn temperature_of(
        &self,
        name: &str,
        bound: &Bound<Temperature>,
    ) -> Result<Temperature, String> {
        let text = self.text(name);
        let shown = Shown { system: self.system };
        let said = format!(
            "a temperature between {} and {}. Type degrees, as 24.5",
            shown.temperature(bound.min),
            shown.temperature(bound.max)
        );
        let read: Temperature = quantity(text, self.degrees(), &said)?;
        bound.check(read).map_err(|_| no(text, &said))
    }

    /// What the gauge of a vacuum chamber shows, mbar absolute.
    fn mbar(&self) -> Result<Option<f64>, String> {
        let text = self.text("mbar");
        if text.is_empty() {
            return Ok(None);
        }
        let said = || format!("what the gauge shows, {}", vacuum_range(self.system));
        read_vacuum(text, self.system).map(Some).ok_or_else(|| no(text, &said()))
    }

    /// A sentence with a figure in the shop's units.
    const fn said(&self, metric: &'static str, us_customary: &'static str) -> &'static str {
        match self.system {
            UnitSystem::Metric => metric,
            UnitSystem::UsCustomary => us_customary,
        }
    }

    const fn degrees(&self) -> TemperatureUnit {
        match self.system {
            UnitSystem::Metric => TemperatureUnit::Celsius,
            UnitSystem::UsCustomary => TemperatureUnit::Fahrenheit,
        }
    }

    /// A part by mass, or by volume where the resin is measured so: millilitres, unless another unit
    /// is typed.
    fn mass_of(&self, part: Part) -> Result<Mass, String> {
        let resin: &Properties = &self.run.plan.resin;
        let text = self.text("amount");
        let as_volume =
            |unit| parse::<Volume>(text, unit).map(|volume| by_volume(part, volume, resin));
        if resin.measured_by == MeasuredBy::Volume {
            let said = "an amount. Type millilitres, as 620, or grams, as 620 g";
            return as_volume(VolumeUnit::Millilitre)
                .or_else(|_| parse::<Mass>(text, MassUnit::Gram))
                .ok()
                .filter(|mass| *mass > Mass::ZERO)
                .ok_or_else(|| no(text, said));
        }
        self.mass()
    }

    fn volume(&self, may_be_nothing: bool) -> Result<Volume, String> {
        let text = self.text("amount");
        if text.is_empty() && may_be_nothing {
            return Ok(Volume::ZERO);
        }
        let unit = little_resin(self.system).unit;
        let said = self.said(
            "an amount of resin. Type it as 250 mL",
            "an amount of resin. Type it as 8 fl oz",
        );
        let volume: Volume = quantity(text, unit, said)?;
        let least = if may_be_nothing { 0.0 } else { 1e-7 };
        let is_some = (least..=1.0).contains(&volume.m3());
        if is_some { Ok(volume) } else { Err(no(text, said)) }
    }

    fn temperature(&self) -> Result<Temperature, String> {
        let text = self.text("temperature");
        let said = "a temperature of resin. Type degrees, as 24.5";
        let read: Temperature = quantity(text, self.degrees(), said)?;
        // What the gun reads, up to resin that smokes.
        let (least, most) = (bounds::RESIN_TEMPERATURE.min, Temperature::from_celsius(250.0));
        if read >= least && read <= most { Ok(read) } else { Err(no(text, said)) }
    }

    fn bar(&self) -> Result<f64, String> {
        let text = self.text("bar").replace(',', ".");
        let said = "a pressure over the air's, as 2.8 bar or 40 psi";
        let own = match self.system {
            UnitSystem::Metric => "bar",
            UnitSystem::UsCustomary => "psi",
        };
        let stripped =
            ["psi", "bar"].into_iter().find_map(|unit| Some((text.strip_suffix(unit)?, unit)));
        let (figure, unit) =
            stripped.map_or((text.trim(), own), |(text, unit)| (text.trim(), unit));
        let figure = figure.parse::<f64>().map_err(|_| no(&text, said))?;
        let bar = kept(Quantity::Pressure, figure, unit).map_err(|_| no(&text, said))?;
        if (0.0..=MOST_BAR).contains(&bar) { Ok(bar) } else { Err(no(&text, said)) }
    }
}

/// The name of an item of the ready list in a form.
pub(super) fn item_name(item: ReadyItem) -> String {
    format!("{item:?}").to_lowercase()
}

fn quantity<Q: Measured>(text: &str, unit: Q::Unit, said: &str) -> Result<Q, String> {
    parse::<Q>(text, unit).map_err(|_| no(text, said))
}

fn no(text: &str, said: &str) -> String {
    if text.is_empty() { format!("Type {said}.") } else { format!("“{text}” is not {said}.") }
}

fn damaged() -> String {
    "This row arrived damaged. Reload the page and tap again.".to_owned()
}
