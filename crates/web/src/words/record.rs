//! The record in words: its figures, the faults of a piece, their causes, and what helps.

use fondant_quantities::units::trimmed;
use fondant_quantities::{Length, Mass, Money, Span, Temperature, Volume};
use fondant_record::causes::Test;
use fondant_record::diagnose::Evidence;
use fondant_record::fault::FaultKind;
use fondant_record::figures::{Figure, Unit};
use fondant_record::lessons;

use super::measures::absorption;
use crate::ui::numbers::{money, span, with_unit};
use crate::ui::units::Shown;

/// What a figure is called.
pub(crate) const fn figure(figure: Figure) -> &'static str {
    match figure {
        Figure::Bucket => "Coldest bucket when A met B",
        Figure::Air => "Mean air",
        Figure::Humidity => "Mean humidity",
        Figure::DewMargin => "Least distance from the dew point",
        Figure::AirFall => "Fall of the air after the pour",
        Figure::AirRise => "Rise of the air after the pour",
        Figure::Peak => "Highest temperature, by the model",
        Figure::PeakOverLimit => "Highest temperature, from the resin's limit",
        Figure::LayerDepth => "Deepest layer",
        Figure::DepthShare => "Deepest layer, of what is allowed",
        Figure::AfterWindow => "Next layer after the window closed",
        Figure::Mixing => "Shortest mixing",
        Figure::BucketShare => "Longest in the bucket, of its time",
        Figure::RatioError => "Largest error of the ratio",
        Figure::TintShare => "Most colour in a bucket",
        Figure::TintSpread => "Colour between buckets",
        Figure::SecondPot => "Second pot for every bucket",
        Figure::Lots => "Lots",
        Figure::Pressure => "Pressure at the end",
        Figure::PressureLoss => "Pressure lost",
        Figure::Watched => "Watched for bubbles",
        Figure::Covered => "Covered",
        Figure::Sealed => "Live edges sealed",
        Figure::JointsSealed => "Joints of the form sealed",
        Figure::Release => "Release on every side",
        Figure::Level => "Form level",
        Figure::Sanded => "Late layers sanded and washed",
        Figure::Moisture => "Water in the wettest timber",
        Figure::StiffObject => "An object is cast in",
        Figure::NearTimber => "Close to timber",
        Figure::ToppedUp => "Topped up",
        Figure::Absorbed => "Absorbed by bare timber",
        Figure::DemouldMargin => "Glass transition over the room, out of the form",
        Figure::CureShare => "Time to the opening, of what was forecast",
        Figure::LotAge => "Oldest lot",
        Figure::GritStep => "Largest step between grits",
        Figure::Volume => "Mixed volume",
        Figure::Mass => "Mixed mass",
        Figure::Hours => "Time from the first bucket to the last",
        Figure::LeftOver => "Left over, of what was mixed",
        Figure::Finishing => "Work of finishing",
        Figure::ResinCost => "Cost of the resin",
        Figure::TintCost => "Cost of the colours",
        Figure::WorkCost => "Cost of the work",
        Figure::SheetCost => "Cost of the sheet",
        Figure::Consumables => "Cost of what it used up",
    }
}

/// The value of a figure in the shop's units.
pub(crate) fn value(figure: Figure, value: f64, shown: Shown) -> String {
    const PA_PER_BAR: f64 = 1e5;
    match figure.unit() {
        Unit::Temperature => shown.temperature(Temperature::from_k(value)),
        Unit::Kelvin if figure == Figure::PeakOverLimit => {
            let side = if value > 0.0 { "over" } else { "under" };
            format!("{} {side}", shown.degrees(value.abs()))
        }
        Unit::Kelvin => shown.degrees(value),
        Unit::Share => with_unit(&trimmed(value * 100.0, 1), "%"),
        Unit::Absorption => absorption(lessons::as_absorption(value), shown),
        Unit::Length => shown.length(Length::from_m(value)),
        Unit::Time => {
            let text = span(Span::from_s(value.abs()));
            if value < 0.0 { format!("{text} before") } else { text }
        }
        Unit::Pressure => shown.pressure(value / PA_PER_BAR),
        Unit::Volume => shown.volume(Volume::from_m3(value)),
        Unit::Mass => shown.mass(Mass::from_kg(value)),
        Unit::Money => money(Money::from_units(value)),
        Unit::Count => trimmed(value, 0),
        Unit::Ratio => format!("{} ×", trimmed(value, 2)),
        Unit::Flag => if value > 0.5 { "yes" } else { "no" }.to_owned(),
    }
}

/// What a sign is and what it weighs: "Coldest bucket when A met B 17 °C, under 20 °C: × 4".
pub(crate) fn evidence(one: &Evidence, shown: Shown) -> String {
    let name = figure(one.sign.figure);
    if let (Figure::PeakOverLimit, Some(found)) = (one.sign.figure, one.value) {
        let side = value(one.sign.figure, found, shown);
        let factor = trimmed(one.factor, 2);
        return format!("Highest temperature {side} the resin's limit: ×\u{202f}{factor}");
    }
    let limit = match one.sign.test {
        Test::Over(limit) => format!(", over {}", value(one.sign.figure, limit, shown)),
        Test::Under(limit) => format!(", under {}", value(one.sign.figure, limit, shown)),
        Test::Yes | Test::No => String::new(),
    };
    match one.value {
        None => format!("{name} is not known: look at it"),
        Some(found) => {
            let holds = one.sign.test.holds(found);
            let told = value(one.sign.figure, found, shown);
            let against = if holds { limit } else { limit.replacen(", ", ", not ", 1) };
            format!("{name} {told}{against}: ×\u{202f}{}", trimmed(one.factor, 2))
        }
    }
}

/// What a fault is called.
pub(crate) const fn fault(kind: FaultKind) -> &'static str {
    match kind {
        FaultKind::Bubbles => "Bubbles inside",
        FaultKind::SoftPlaces => "Soft or sticky places",
        FaultKind::SoftThroughout => "Soft all over",
        FaultKind::Blush => "Blush, greasy film",
        FaultKind::Bloom => "Bloom, milky at the timber",
        FaultKind::Yellow => "Amber or yellow",
        FaultKind::Cracks => "Cracks",
        FaultKind::Warped => "Warped or sunk",
        FaultKind::Stuck => "Stuck to the form",
        FaultKind::Leak => "Leak",
        FaultKind::LayerLine => "Line between layers",
        FaultKind::CameApart => "Came apart",
        FaultKind::ColourDiffers => "Colour differs",
        FaultKind::Dents => "Dents or prints",
        FaultKind::Cloudy => "Cloudy",
        FaultKind::FishEyes => "Fish-eyes",
        FaultKind::Haze => "Haze or scratches",
    }
}

#[cfg(test)]
mod tests {
    use fondant_quantities::units::UnitSystem;
    use fondant_record::causes::Sign;

    use super::*;

    const METRIC: Shown = Shown { system: UnitSystem::Metric };

    fn peak(over_k: f64) -> String {
        let (test, seen, unseen) = (Test::Over(0.0), 7.0, 0.25);
        let sign = Sign { figure: Figure::PeakOverLimit, test, seen, unseen };
        let factor = if sign.test.holds(over_k) { seen } else { unseen };
        let told = Evidence { sign, value: Some(over_k), factor };
        evidence(&told, METRIC)
    }

    #[test]
    fn a_peak_is_so_much_over_or_under_the_limit() {
        let one = |over_k| value(Figure::PeakOverLimit, over_k, METRIC);
        assert_eq!(
            (one(-30.2).as_str(), one(4.0).as_str()),
            ("30\u{202f}°C under", "4\u{202f}°C over")
        );
        assert_eq!(
            peak(-30.2),
            "Highest temperature 30\u{202f}°C under the resin's limit: ×\u{202f}0.25"
        );
        assert_eq!(peak(4.0), "Highest temperature 4\u{202f}°C over the resin's limit: ×\u{202f}7");
    }
}
