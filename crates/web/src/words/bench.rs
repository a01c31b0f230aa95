//! The day of the pour in words.

use fondant_bench::bucket::Runaway;
use fondant_bench::run::{ClockKind, ReadyItem};
use fondant_bench::swirl::Edges;
use fondant_bench::weighing::{Part, RatioVerdict};
use fondant_bench::{Happening, NotPrepared, Refused, Run};
use fondant_materials::resin::Properties;

use super::layers::capitalised;
use super::measures::vacuum;
use super::pours::{by_cup, touch};
use crate::ui::units::Shown;

/// What is to be sure, as a question, and what it would spoil.
pub(crate) const fn ready(item: ReadyItem) -> (&'static str, &'static str) {
    match item {
        ReadyItem::Minded => {
            ("Is what the last one taught taken care of?", "It went wrong here before.")
        }
        ReadyItem::Moisture => (
            "Is the timber dry?",
            "12\u{202f}% or less. Damp timber bubbles, blooms milky and moves later.",
        ),
        ReadyItem::Level => (
            "Does the form stand level?",
            "A slope is a wedge: thin at one end, and it costs resin.",
        ),
        ReadyItem::Sealed => (
            "Are the joints sealed, and has the sealant cured?",
            "Slow resin stays thin for hours and finds every gap.",
        ),
        ReadyItem::Release => (
            "Is the release on, and has its wait passed?",
            "Wax that has not dried marks the face; without release the form stays on.",
        ),
        ReadyItem::HeldDown => (
            "Is everything held down?",
            "Timber floats. It goes up as the level rises, and resin runs under it.",
        ),
        ReadyItem::Tubes => (
            "Are the tubes plugged and seated?",
            "Resin in a tube is a lost blank; a tube that stands off its seat floats.",
        ),
        ReadyItem::Pieces => (
            "Are the pieces sealed, and is their coat dry?",
            "Bare timber breathes bubbles into the resin round it.",
        ),
        ReadyItem::Pot => (
            "Is the pot ready, its rack level, its relief valve free?",
            "It has to be closed before the resin gels. Never above its rated pressure.",
        ),
        ReadyItem::Warm => (
            "Are A and B at their temperature?",
            "Cold resin holds its air; warm resin leaves less time. Never warm what is mixed.",
        ),
        ReadyItem::Air => (
            "Will the air keep, now and over the night?",
            "Cold stops the cure; humid air leaves a greasy film.",
        ),
        ReadyItem::Below => (
            "Is the layer below ready?",
            "Sticky, nothing on the glove: pour. Hard: sand at 80, wipe and dry first.",
        ),
        ReadyItem::Gear => (
            "Gloves, goggles, respirator, sleeves?",
            "Resin sensitises the skin for life, and hardener burns eyes. Let the air move.",
        ),
        ReadyItem::Watch => (
            "Will somebody be here for half an hour after?",
            "Bubbles, leaks and what floats show in the first half hour.",
        ),
    }
}

/// A short name of what is to be sure.
pub(crate) const fn ready_name(item: ReadyItem) -> &'static str {
    match item {
        ReadyItem::Moisture => "timber dry",
        ReadyItem::Level => "form level",
        ReadyItem::Sealed => "joints sealed",
        ReadyItem::Release => "release on",
        ReadyItem::HeldDown => "held down",
        ReadyItem::Tubes => "tubes seated",
        ReadyItem::Pieces => "pieces sealed",
        ReadyItem::Pot => "pot ready",
        ReadyItem::Warm => "A and B warm",
        ReadyItem::Air => "air keeps",
        ReadyItem::Below => "layer below ready",
        ReadyItem::Gear => "gloves, goggles, respirator",
        ReadyItem::Watch => "somebody to watch",
        ReadyItem::Minded => "what the last one taught",
    }
}

/// "A", "B".
pub(crate) const fn part(part: Part) -> &'static str {
    match part {
        Part::A => "A",
        Part::B => "B",
    }
}

/// Of a row of a cast that is gone.
pub(crate) const DELETED: &str = "This cast has been deleted, so this was not written down. Bring it back at Casts, deleted, and tap again.";

/// Why something was not written down.
pub(crate) fn refused(why: &Refused, shown: Shown) -> String {
    match why {
        Refused::Over => "This run is over. Only a note can be added.".to_owned(),
        Refused::Resting => "This run rests. Resume it, then weigh.".to_owned(),
        Refused::Taken { part: of, mass, .. } => format!(
            "{} is in this bucket already: {}. Nothing was added. If that row is wrong, undo it below.",
            part(*of),
            shown.weighed(*mass)
        ),
        Refused::NothingLeft => {
            "Nothing is left to be mixed for this pour. If it ran short, say how much is missing."
                .to_owned()
        }
        Refused::NotTaken { part: of } => {
            format!("{} is not in this bucket yet. Weigh it first.", part(*of))
        }
        Refused::Met => "A and B are together already in this bucket.".to_owned(),
        Refused::NotMet => "This bucket is not mixed yet.".to_owned(),
        Refused::Empty => "This bucket is empty or given up.".to_owned(),
        Refused::Done => "That is written down already.".to_owned(),
        Refused::NothingIn => "Nothing of this pour is in the form yet.".to_owned(),
        Refused::StillToPour => {
            "A bucket is still to be poured. If the form is full, say so when you empty one."
                .to_owned()
        }
        Refused::ChamberOpen => "The vacuum chamber is not closed.".to_owned(),
        Refused::NoBath => {
            "No bottles are in warm water. Write down first how they went in.".to_owned()
        }
        Refused::PotOpen => "The pot is not closed.".to_owned(),
        Refused::NoRow => "There is no such row, or it is undone already.".to_owned(),
        Refused::Mass => "No bucket holds that. Check the figure and its unit.".to_owned(),
    }
}

/// Why no run can begin.
pub(crate) fn not_prepared(why: &NotPrepared) -> String {
    match why {
        NotPrepared::NoPlan { pours } => format!(
            "This cast is poured in {pours} layers. Take their times at the station Pours first."
        ),
        NotPrepared::NoTimes => {
            "No pour times hold for this cast. See the station Pours for what would help."
                .to_owned()
        }
        NotPrepared::NoPour => "The plan that was taken has no such pour.".to_owned(),
        NotPrepared::Outdated => {
            "The form has changed since the plan was taken. Take times that fit it first."
                .to_owned()
        }
        NotPrepared::Heat(_) => {
            "The model cannot follow this resin. Check it on the shelf.".to_owned()
        }
    }
}

/// What a batch is called: "bucket 2", or "cup 2 (blue)" where colours have cups of their own.
pub(crate) fn vessel(run: &Run, batch: u32) -> String {
    match run.cup_of(batch) {
        None => format!("bucket {batch}"),
        Some(cup) if cup.colour.is_empty() => format!("cup {batch} (clear)"),
        Some(cup) => format!("cup {batch} ({})", cup.colour),
    }
}

/// How the edges of a swirl came out.
pub(crate) const fn edges(edges: Edges) -> &'static str {
    match edges {
        Edges::Crisp => "crisp",
        Edges::Soft => "soft",
        Edges::Merged => "merged",
    }
}

/// What a clock is of.
pub(crate) fn clock(kind: ClockKind, run: &Run) -> String {
    let title = |batch| capitalised(&vessel(run, batch));
    match kind {
        ClockKind::Bucket { batch } => format!("{}: can be poured for", title(batch)),
        ClockKind::Join { batch } => format!("{}: warm enough to join in", title(batch)),
        ClockKind::Vacuum { batch } => format!("{}: under vacuum", title(batch)),
        ClockKind::Warming => "Bottles are warm in".to_owned(),
        ClockKind::Chill => "Keep the form cold for".to_owned(),
        ClockKind::Mixing { batch } => format!("{}: keep mixing", title(batch)),
        ClockKind::Opens => "Window of the layer below opens in".to_owned(),
        ClockKind::Window => "Window of the layer below closes in".to_owned(),
        ClockKind::Watch => "Watch for bubbles and leaks".to_owned(),
        ClockKind::Cover => "Lid on in".to_owned(),
        ClockKind::Pot => "It gels: pot closed before".to_owned(),
    }
}

/// How the ratio of a weighed pair is judged; nothing where it is good.
pub(crate) fn ratio(error: f64, verdict: RatioVerdict) -> String {
    let percent = format!("{:.1}\u{202f}%", error.abs() * 100.0);
    let side = if error > 0.0 { "too much" } else { "too little" };
    match verdict {
        RatioVerdict::Good => String::new(),
        RatioVerdict::Marked => format!("{percent} {side} B. It cures, and stands in the record."),
        RatioVerdict::Trouble => {
            let becomes = if error > 0.0 { "brittle or sticky" } else { "soft" };
            format!(
                "{percent} {side} B: it stays {becomes}. Bring the ratio back before A meets B."
            )
        }
    }
}

/// What to do about a bucket that runs away.
pub(crate) fn runaway(found: &Runaway, shown: Shown) -> String {
    format!(
        "This bucket runs away: {}, rising {} a minute. Do not pour it. Outdoors with it, on stone, \
         spread thin, never sealed, and stay out of its vapour.",
        shown.temperature(found.at),
        shown.degrees(found.rise_k_min.max(0.0))
    )
}

/// What happened, as a line of the log.
pub(crate) fn happened(what: &Happening, resin: &Properties, shown: Shown) -> String {
    match what.batch() {
        Some(batch) => happened_to(what, batch, shown),
        None => happened_in_run(what, resin, shown),
    }
}

fn happened_to(what: &Happening, batch: u32, shown: Shown) -> String {
    let (into, bucket) = (format!("into bucket {batch}"), format!("Bucket {batch}"));
    match what {
        Happening::Resized { mass, .. } => format!("{bucket} is to be {}", shown.weighed(*mass)),
        Happening::Weighed { part: of, mass, .. } => {
            format!("{} {} {into}", shown.weighed(*mass), part(*of))
        }
        Happening::Added { part: of, mass, .. } => {
            format!("{} {} more {into}", shown.weighed(*mass), part(*of))
        }
        Happening::Tinted { colour, mass, .. } => {
            format!("{} of {colour} {into}", shown.weighed(*mass))
        }
        Happening::Coloured { .. } => format!("{bucket}: the colour is right"),
        Happening::Evacuated { mbar, .. } => match mbar {
            Some(mbar) => format!("{bucket} under vacuum: {}", vacuum(*mbar, shown)),
            None => format!("{bucket} under vacuum"),
        },
        Happening::Aired { .. } => format!("{bucket}: air let in"),
        Happening::MixBegun { resin_at, .. } => match resin_at {
            Some(at) => format!("A met B in bucket {batch} at {}", shown.temperature(*at)),
            None => format!("A met B in bucket {batch}"),
        },
        Happening::SecondPot { .. } => format!("{bucket} into a second pot"),
        Happening::MixEnded { .. } => format!("{bucket} mixed through"),
        Happening::Read { temperature, .. } => {
            format!("{bucket} reads {}", shown.temperature(*temperature))
        }
        Happening::PourBegun { .. } => format!("{bucket} goes in"),
        Happening::PourEnded { left, is_full, .. } => {
            let left = if left.kg() > 0.0 {
                format!(", {} left over", shown.weighed(*left))
            } else {
                String::new()
            };
            let full = if *is_full { ", the form is full" } else { "" };
            format!("{bucket} is in{left}{full}")
        }
        Happening::Lost { reason, .. } => format!("{bucket} given up: {reason}"),
        _ => String::new(),
    }
}

fn happened_in_run(what: &Happening, resin: &Properties, shown: Shown) -> String {
    match what {
        Happening::Ready { item } => format!("Ready: {}", ready_name(*item)),
        Happening::RanShort { volume } => format!("Ran short by {}", shown.volume(*volume)),
        Happening::Leaked { note } => format!("Leak: {note}"),
        Happening::Looked => "Looked for bubbles".to_owned(),
        Happening::Watched => "The watch is over".to_owned(),
        Happening::Covered => "Lid on".to_owned(),
        Happening::Touched { found, cup } => {
            let cup = cup.map_or_else(String::new, |cup| by_cup(cup, shown));
            format!("Touched: {}{cup}", touch(*found))
        }
        Happening::Bathed { bath } => format!(
            "Bottles of {} at {} into {} of water at {}",
            shown.weighed(bath.bottle),
            shown.temperature(bath.bottle_at),
            shown.mass(bath.water),
            shown.temperature(bath.water_at)
        ),
        Happening::BottleRead { temperature } => {
            format!("A bottle reads {}", shown.temperature(*temperature))
        }
        Happening::Chilled { water, ice } => {
            let ice =
                ice.map_or_else(String::new, |ice| format!(", {} of ice left", shown.mass(ice)));
            format!("The bath reads {}{ice}", shown.temperature(*water))
        }
        Happening::ToppedUp { volume } if volume.l() > 0.0 => format!(
            "Topped up {}, {}",
            shown.volume(*volume),
            shown.weighed(*volume * resin.density)
        ),
        Happening::ToppedUp { .. } => "Level looked at: nothing to top up".to_owned(),
        Happening::Gauge { over_bar } => {
            format!("Gauge: {}", shown.pressure(*over_bar))
        }
        Happening::Vented => "Pot vented".to_owned(),
        Happening::Rated { edges: found } => format!("The edges came out {}", edges(*found)),
        Happening::Noted { note } => note.clone(),
        Happening::Paused => "Paused".to_owned(),
        Happening::Resumed => "Resumed".to_owned(),
        Happening::Abandoned { reason } => format!("Run given up: {reason}"),
        Happening::Finished => "Done".to_owned(),
        Happening::Withdrawn { reason, .. } => format!("Undone: {reason}"),
        _ => String::new(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ui::numbers::THIN;
    use fondant_materials::resin::ResinClass;
    use fondant_materials::resin::shipped::generic;
    use fondant_quantities::{Mass, Temperature};

    #[test]
    fn the_log_reads_as_it_is_said() {
        let resin = generic(ResinClass::SlowCasting);
        let said = |what: &Happening| happened(what, &resin, Shown::METRIC).replace(THIN, " ");
        let mass = Mass::from_kg(1.252);
        assert_eq!(
            said(&Happening::Weighed { batch: 2, part: Part::B, mass }),
            "1252 g B into bucket 2"
        );
        let left = Mass::from_kg(0.1);
        assert_eq!(
            said(&Happening::PourEnded { batch: 3, left, is_full: true }),
            "Bucket 3 is in, 100 g left over, the form is full"
        );
        let resin_at = Some(Temperature::from_celsius(22.0));
        assert_eq!(
            said(&Happening::MixBegun { batch: 1, resin_at, lot: None }),
            "A met B in bucket 1 at 22 °C"
        );
    }

    #[test]
    fn what_is_refused_says_what_to_do() {
        let taken = Refused::Taken { part: Part::A, mass: Mass::from_kg(0.812), row: 4 };
        let said = refused(&taken, Shown::METRIC).replace(THIN, " ");
        assert!(
            said.starts_with("A is in this bucket already: 812 g.") && said.contains("undo it"),
            "{said}"
        );
        assert!(ratio(0.06, RatioVerdict::Trouble).starts_with("6.0\u{202f}% too much B"));
        assert!(ratio(-0.06, RatioVerdict::Trouble).contains("soft"));
        assert!(ratio(0.001, RatioVerdict::Good).is_empty());
    }
}
