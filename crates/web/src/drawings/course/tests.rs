use fondant_pours::layers::LayerKind;
use fondant_record::course::PourOn;
use fondant_record::readings::ReadCurve;
use jiff::Timestamp;

use super::*;
use crate::sample::METRIC;
use crate::svg::WIDE;

fn h(hours: f64) -> Span {
    Span::from_h(hours)
}

fn line(hottest_c: f64, pours_h: &[f64]) -> Line {
    let pour = |(at, number): (&f64, usize)| PourOn {
        layer: LayerKind::Main(number),
        at: h(*at),
        window: [h(at + 4.0), h(at + 9.0)],
    };
    let at = |(hours, celsius)| (h(hours), Temperature::from_celsius(celsius));
    Line {
        hottest: [(0.0, 20.0), (6.0, hottest_c), (30.0, 21.0)].map(at).to_vec(),
        pours: pours_h.iter().zip(1..).map(pour).collect(),
        hard: h(30.0),
    }
}

fn lived(events: &[(f64, EventKind)]) -> Lived {
    let event = |(at, what): &(f64, EventKind)| Event { at: h(*at), pour: 0, what: *what };
    Lived {
        course: Course {
            begun: Timestamp::UNIX_EPOCH,
            promised: Some(line(44.0, &[0.0, 7.0])),
            happened: Some(line(51.0, &[0.0, 8.0])),
            events: events.iter().map(event).collect(),
        },
        read: Vec::new(),
    }
}

#[test]
fn what_is_known_is_drawn_and_stands_in_the_legend() {
    let read = EventKind::Bucket(Temperature::from_celsius(24.5));
    let lived = Lived {
        read: vec![ReadCurve {
            place: Place::Surface,
            quantity: Quantity::Temperature,
            points: vec![(h(1.0), 295.0), (h(5.0), 309.0)],
        }],
        ..lived(&[(-0.1, read), (0.0, EventKind::Poured), (6.0, EventKind::Touched(Touch::Tacky))])
    };
    let drawn = Drawn { lived: &lived, shown: METRIC };
    let svg = draw(drawn, WIDE).into_string();
    for class in ["curve-soft", "curve-hot", "curve-resin", "reading", "touch tacky"] {
        assert!(svg.contains(&format!("class=\"{class}\"")), "{class}");
    }
    let names: Vec<&str> = legend(drawn).lines.into_iter().map(|(class, _)| class).collect();
    assert_eq!(names, ["curve-soft", "curve-hot", "curve-resin", "reading"]);
    assert!(!svg.contains("Pressure"), "there was no pot");
    assert!(svg.contains("promised") && svg.contains("happened"));
}

#[test]
fn a_pot_has_its_pressures_in_the_units_of_the_shop() {
    let lived = lived(&[(0.1, EventKind::Gauge(3.0)), (8.0, EventKind::Vented)]);
    let metric = draw(Drawn { lived: &lived, shown: METRIC }, WIDE).into_string();
    let imperial = draw(Drawn { lived: &lived, shown: METRIC.other() }, WIDE).into_string();
    assert!(metric.contains("Pressure of the pot") && imperial.contains("Pressure of the pot"));
    let figures = |svg: &str| {
        let axis = svg.split("Pressure of the pot").nth(1).unwrap();
        axis.split("</svg>").next().unwrap().contains(">50<")
    };
    assert!(figures(&imperial) && !figures(&metric), "50 psi lie on the axis, 50 bar do not");
}

#[test]
fn steps_of_two_casts_stand_side_by_side() {
    let c = Temperature::from_celsius;
    let one = lived(&[(0.0, EventKind::Poured), (0.5, EventKind::Bucket(c(26.0)))]);
    let other = lived(&[(0.0, EventKind::Poured), (50.0, EventKind::Covered)]);
    let found = steps(&one.course, &other.course, METRIC);
    let texts: Vec<[&str; 3]> =
        found.iter().map(|step| [&step.what, &step.one, &step.other].map(String::as_str)).collect();
    assert_eq!(texts[0], ["Layer 1 poured", "+\u{202f}0\u{202f}min", "+\u{202f}0\u{202f}min"]);
    assert_eq!(texts[1][0], "Bucket for layer 1");
    assert!(texts[1][1].starts_with("+\u{202f}30\u{202f}min, 26") && texts[1][2] == "–");
    assert_eq!(texts[2], ["Layer 1 covered", "–", "+\u{202f}2\u{202f}d 2\u{202f}h"]);
    let both_of = [&one, &other].map(|lived| Drawn { lived, shown: METRIC });
    let svg = compared(both_of, ["Top", "Other top"], WIDE).unwrap().into_string();
    assert!(svg.contains("Other top") && svg.contains("curve-resin"));
}
