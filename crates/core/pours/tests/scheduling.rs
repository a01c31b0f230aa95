//! Laws of pours at given times: what the judge says, what a move takes along,
//! what touch tests change, how often a plan holds.

use fondant_heat::Poured;
use fondant_heat::climate::AirSeries;
use fondant_heat::cooling::Cooling;
use fondant_heat::sides::Sides;
use fondant_heat::witness::window_s;
use fondant_materials::resin::{Calibrated, shipped};
use fondant_numerics::Stop;
use fondant_pours::layers::{Ladder, Layer, LayerKind};
use fondant_pours::simulate::observe::{Observed, PouredAt, Touch, Touched, observe, with_poured};
use fondant_pours::simulate::tries::robust;
use fondant_pours::{
    Aim, Allowance, Break, Crew, Given, Joint, Schedule, ScheduleError, ShopHours, Task, Workday,
    judge, refit, search,
};
use fondant_quantities::{Length, Mass, Span, Temperature, Volume};
use jiff::civil::Time;
use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;

/// Everything that a task borrows.
struct Shop {
    resin: Calibrated,
    air: AirSeries,
    ladder: Ladder,
    layers: Vec<Layer>,
    hours: ShopHours,
}

fn begin() -> Timestamp {
    "2026-11-23T08:00:00Z".parse().expect("a moment")
}

fn after(hours: f64) -> Timestamp {
    begin() + SignedDuration::from_secs_f64((hours * 3600.0).round())
}

fn shop(depths_mm: &[f64], (opens, closes): (i8, i8), air_c: f64) -> Shop {
    let day =
        Workday { opens: Time::constant(opens, 0, 0, 0), closes: Time::constant(closes, 0, 0, 0) };
    let mut level = 0.0;
    let layers: Vec<Layer> = depths_mm
        .iter()
        .enumerate()
        .map(|(index, depth)| {
            let from = Length::from_mm(level);
            level += depth;
            let to = Length::from_mm(level);
            Layer::new(LayerKind::Main(index + 1), from, to, Volume::from_l(1.0))
        })
        .collect();
    Shop {
        resin: shipped::models().remove(0),
        air: AirSeries::steady(Temperature::from_celsius(air_c), 50.0),
        ladder: Ladder::of(&layers),
        layers,
        hours: ShopHours::new([Some(day); 7], "UTC").expect("hours"),
    }
}

impl Shop {
    fn task(&self) -> Task<'_> {
        Task {
            resin: &self.resin,
            stage_resins: &[],
            air: &self.air,
            cooling: Cooling::default(),
            sides: Sides::NONE,
            poured: Poured::fresh(293.15),
            air_rule: None,
            limit: self.resin.working.peak_limit,
            ladder: &self.ladder,
            hours: &self.hours,
            not_before: begin(),
            crew: Crew::default(),
            sanding: Span::from_h(1.0),
            finishing: Span::ZERO,
            stop: Stop::NEVER,
        }
    }

    fn at(&self, hours: &[f64]) -> Vec<Given> {
        self.layers.iter().zip(hours).map(|(l, h)| Given::planned(*l, after(*h))).collect()
    }

    fn judged(&self, hours: &[f64]) -> Schedule {
        judge(&self.task(), &self.at(hours)).expect("the model follows")
    }
}

#[test]
fn the_judge_says_what_is_wrong_with_each_pour() {
    // 20 mm at 20 °C: sticky after some 13 h, set after some 22.
    let shop = shop(&[20.0, 20.0], (0, 23), 20.0);
    let breaks = |hours: &[f64]| shop.judged(hours).breaks;
    assert_eq!(breaks(&[1.0, 14.5]), []);
    assert!(matches!(breaks(&[-3.0, 11.0])[0], Break::TooSoon { pour: 0 }));
    assert!(matches!(breaks(&[1.0, 0.5])[0], Break::OutOfOrder { pour: 1 }));
    assert!(matches!(breaks(&[15.5, 29.5])[..], [Break::Closed { pour: 0 }]), "past 23 o'clock");
    let too_soon = breaks(&[1.0, 5.0]);
    let Break::NotSticky { pour: 1, opens } = too_soon[0] else { panic!("{too_soon:?}") };
    assert_eq!(opens, shop.judged(&[1.0, 14.5]).pours[0].opens);
    let too_late = breaks(&[1.0, 26.0]);
    let Break::Set { pour: 1, closes, ready } = too_late[0] else { panic!("{too_late:?}") };
    assert!(closes < after(26.0) && after(26.0) < ready);
}

#[test]
fn a_layer_over_the_limit_is_named_with_its_peak() {
    let shop = shop(&[20.0, 60.0], (0, 23), 20.0);
    let breaks = shop.judged(&[1.0, 14.5]).breaks;
    // It heats the layer below through, too.
    let [Break::TooHot { pour: 0, peak: below }, Break::TooHot { pour: 1, peak }] = breaks[..]
    else {
        panic!("{breaks:?}")
    };
    assert!(peak > below && below > shop.resin.working.peak_limit);
    assert_eq!(breaks[1].pour(), 1);
}

#[test]
fn nothing_poured_is_no_plan() {
    let shop = shop(&[20.0], (8, 18), 20.0);
    assert!(matches!(judge(&shop.task(), &[]), Err(ScheduleError::Heat(_))));
}

#[test]
fn a_joint_after_cure_waits_for_hard_and_for_the_sanding() {
    let shop = shop(&[20.0, 20.0], (0, 23), 20.0);
    let schedule = shop.judged(&[1.0, 60.0]);
    assert_eq!(schedule.breaks, []);
    let Joint::AfterCure { hard, sanding } = schedule.pours[1].joint else {
        panic!("{:?}", schedule.pours[1].joint)
    };
    assert!(schedule.pours[0].closes < hard && hard <= sanding);
    assert!(sanding + SignedDuration::from_hours(1) <= schedule.pours[1].at);
}

fn touched(shop: &Shop, at: Timestamp, touch: Touch) -> Observed {
    let given = shop.at(&[1.0, 15.0]);
    let poured = [PouredAt { pour: 0, at: given[0].at, resin_at: None }];
    observe(
        &shop.task(),
        &with_poured(&given, &poured),
        &[Touched { pour: 0, at, touch, cup: None }],
    )
    .expect("followed")
}

#[test]
fn a_warm_bucket_opens_the_window_sooner() {
    let shop = shop(&[20.0, 20.0], (0, 23), 20.0);
    let given = shop.at(&[1.0, 15.0]);
    let opens = |resin_at: Option<f64>| {
        let resin_at = resin_at.map(Temperature::from_celsius);
        let poured = [PouredAt { pour: 0, at: given[0].at, resin_at }];
        observe(&shop.task(), &with_poured(&given, &poured), &[]).expect("followed").schedule.pours
            [0]
        .opens
    };
    assert!(opens(Some(32.0)) < opens(None) && opens(None) < opens(Some(12.0)));
}

#[test]
fn touches_that_contradict_one_another_are_told_of_and_the_last_is_believed() {
    let shop = shop(&[20.0, 20.0], (0, 23), 20.0);
    let given = shop.at(&[1.0, 15.0]);
    let touch = |hours: f64, touch| Touched { pour: 0, at: after(hours), touch, cup: None };
    let both = [touch(12.0, Touch::Hard), touch(16.0, Touch::Clear)];
    let found = observe(&shop.task(), &given, &both).expect("followed");
    assert!(found.contradictory);
    assert!(found.schedule.pours[0].opens > after(16.0), "liquid at 16 h is the last word");
}

/// Resin that cures a quarter faster than its model: what a finger finds in a witness cup of 80 g says
/// so, by the cup's own time, which is not the layer's.
#[test]
fn a_witness_cup_keeps_its_own_time_and_tells_the_rate_of_its_resin() {
    let shop = shop(&[20.0, 20.0], (0, 23), 20.0);
    let given = shop.at(&[1.0, 15.0]);
    let (task, mass) = (shop.task(), Mass::from_kg(0.08));
    let (fast, air) = (task.resin.scaled(1.25, 1.0), Temperature::from_celsius(20.0));
    let window = window_s(&fast, mass, air, task.poured, &Stop::NEVER).unwrap().unwrap();
    let opens = given[0].at + SignedDuration::from_secs(window.0 as i64);
    let rate = |cup: Option<Mass>| {
        let touch = |minutes: i64, touch| {
            let at = opens + SignedDuration::from_mins(minutes);
            Touched { pour: 0, at, touch, cup }
        };
        let touches = [touch(-22, Touch::Clear), touch(2, Touch::Tacky)];
        let found = observe(&task, &given, &touches).expect("followed");
        assert!(!found.contradictory, "{cup:?}");
        found.rates.of(0)
    };
    assert!((rate(Some(mass)) - 1.25).abs() < 0.02, "{}", rate(Some(mass)));
    assert!((rate(None) / rate(Some(mass)) - 1.0).abs() > 0.05, "{}", rate(None));
}

#[test]
fn a_plan_at_the_edge_of_its_window_holds_less_often_than_one_inside() {
    let shop = shop(&[20.0, 20.0], (0, 23), 20.0);
    let opens = shop.judged(&[1.0, 15.0]).pours[0].opens;
    let second_h = |at: Timestamp| at.duration_since(begin()).as_secs_f64() / 3600.0;
    let edge = robust(&shop.task(), &shop.at(&[1.0, second_h(opens)]), 100);
    let inside = robust(&shop.task(), &shop.at(&[1.0, second_h(opens) + 4.0]), 100);
    assert!(edge.held + 20 < inside.held, "{edge:?} {inside:?}");
    assert_eq!(inside, robust(&shop.task(), &shop.at(&[1.0, second_h(opens) + 4.0]), 100));
    assert_eq!((edge.tries, inside.too_hot), (100, 0));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// The window that is given back is one that the touch allows.
    #[test]
    fn the_window_agrees_with_the_finger(hours in 9.0..30.0f64, found in 0usize..3) {
        let shop = shop(&[20.0, 20.0], (0, 23), 20.0);
        let touch = [Touch::Clear, Touch::Tacky, Touch::Hard][found];
        let at = after(hours);
        let observed = touched(&shop, at, touch);
        let window = &observed.schedule.pours[0];
        let slack = SignedDuration::from_mins(2);
        prop_assert!((0.49..=2.01).contains(&observed.rates.of(0)));
        // At the ends of what a resin does the touch cannot be met.
        if (0.51..1.98).contains(&observed.rates.of(0)) {
            match touch {
                Touch::Clear => prop_assert!(window.opens + slack > at),
                Touch::Tacky => {
                    prop_assert!(window.opens < at + slack && at < window.closes + slack);
                }
                Touch::Hard => prop_assert!(window.closes < at + slack),
            }
        }
        // A touch that the model predicted does not change it.
        let plain = &shop.judged(&[1.0, 15.0]).pours[0];
        let agrees = match touch {
            Touch::Clear => at + SignedDuration::from_mins(25) < plain.opens,
            Touch::Tacky => plain.opens + slack < at && at + slack < plain.closes,
            Touch::Hard => plain.closes + slack < at,
        };
        prop_assert!(!agrees || (observed.rates.of(0) - 1.0).abs() < 1e-3, "{}", observed.rates.of(0));
    }

    /// A pour that is moved takes what follows along: nothing that held is
    /// broken but by the move itself, and nothing before it stirs.
    #[test]
    fn what_follows_a_move_finds_its_place(quarters in -8i64..40, moved in 0usize..3) {
        let shop = shop(&[12.0, 12.0, 12.0], (7, 21), 21.0);
        let schedule = search(&shop.task(), &Allowance::quick()).expect("thin layers, long days");
        let mut given: Vec<Given> =
            schedule.pours.iter().map(|p| Given::planned(p.layer, p.at)).collect();
        given[moved].at += SignedDuration::from_mins(15) * i32::try_from(quarters).unwrap();
        let refitted = refit(&shop.task(), &given, moved).expect("the model follows");
        for (before, after) in given[..=moved].iter().zip(&refitted) {
            prop_assert_eq!(before.at, after.at);
        }
        let judged = judge(&shop.task(), &refitted).expect("the model follows");
        let first_broken = judged.breaks.iter().map(Break::pour).min().unwrap_or(usize::MAX);
        prop_assert!(
            judged.breaks.is_empty() || first_broken <= moved + 1,
            "{quarters} {moved}: {:?}",
            judged.breaks
        );
        prop_assert_eq!(refit(&shop.task(), &given, moved).expect("again"), refitted);
    }

    /// Warmer air opens and closes every window sooner, and never makes a
    /// single layer harder later.
    #[test]
    fn warmer_air_hurries_everything(air_c in 14.0..26.0f64, warmer_k in 0.5..4.0f64) {
        let cool = shop(&[15.0], (0, 23), air_c).judged(&[1.0]);
        let warm = shop(&[15.0], (0, 23), air_c + warmer_k).judged(&[1.0]);
        prop_assert!(warm.pours[0].opens < cool.pours[0].opens);
        prop_assert!(warm.pours[0].closes < cool.pours[0].closes);
        prop_assert!(warm.peak() > cool.peak());
    }

    /// No other wish finds a form that opens sooner than the soonest does, by
    /// more than both searches were allowed to leave.
    #[test]
    fn soonest_is_soonest(depth in 8.0..20.0f64, opens in 6i8..10, open_for in 8i8..13) {
        let shop = shop(&[depth, depth], (opens, opens + open_for), 20.0);
        let hard = |aim| search(&shop.task(), &Allowance::thorough(aim)).map(|s| s.hard);
        let soonest = hard(Aim::Soonest).expect("a plan");
        for other in [Aim::FewestPours, Aim::QuietNights] {
            let other = hard(other).expect("a plan");
            prop_assert!(soonest <= other + SignedDuration::from_mins(31), "{soonest} {other}");
        }
    }
}

/// Slack on a layer that is sanded anyway was counted as a failure: one that hardens later is
/// sanded and poured later.
#[test]
fn a_joint_that_is_sanded_loses_nothing_by_waiting() {
    let shop = shop(&[12.0, 12.0], (0, 24 - 1), 20.0);
    let soonest = |aim| search(&shop.task(), &Allowance::thorough(aim)).expect("a plan");
    let wet = soonest(Aim::Soonest);
    assert_eq!(wet.pours[1].joint, Joint::WetOnTacky);
    // Poured the minute that it is hard and sanded, by the model.
    let first = shop.judged(&[0.0, 400.0]);
    let Joint::AfterCure { sanding, .. } = first.pours[1].joint else { panic!("{first:?}") };
    let ready = sanding.duration_since(begin()).as_secs_f64() / 3600.0 + 1.0;
    let given = shop.at(&[0.0, ready]);
    let held = robust(&shop.task(), &given, 40);
    assert_eq!(held.held, 40, "{held:?}");
}
