//! Casts of several pours and resins: measured, bought, modelled, scheduled.

use std::ops::ControlFlow;

use fondant_cast::checks::StagesError;
use fondant_cast::document::{Contents, CracksFirst, Flood, Split, Stage, Stages};
use fondant_cast::facts::{Fact, FactRow, by_facts};
use fondant_cast::planning::{FieldTask, Followed};
use fondant_cast::pours::{InBucket, as_given, take};
use fondant_cast::{
    Conflict, Document, Evaluation, Inputs, Kind, NotEvaluated, PourId, Site, Standing, evaluate,
};
use fondant_heat::field::FieldGoal;
use fondant_materials::resin::{ResinId, shipped};
use fondant_numerics::Stop;
use fondant_pours::layers::{LayerKind, Purpose};
use fondant_pours::simulate::observe::Touch;
use fondant_pours::{Joint, ScheduledPour, ShopHours, Workday};
use fondant_quantities::{Length, Mass, Span, Temperature};
use fondant_shapes::form::Piece;
use fondant_shapes::timber::{Cavity, CavityShape};
use jiff::SignedDuration;

fn mm(value: f64) -> Length {
    Length::from_mm(value)
}

fn site() -> Site {
    let day = Workday::read_day("07:00-22:00").expect("hours");
    let week = vec![day; 7].try_into().expect("a week");
    Site::plain(ShopHours::new(week, "UTC").expect("hours"))
}

fn coating() -> Option<ResinId> {
    Some(ResinId(shipped::COATING.into()))
}

/// A block of 320 × 220 mm, 42 mm deep, in a form: a coated base of 3 mm, 39 mm of deep resin, a
/// flood coat of 1.6 mm over the finished face of 300 × 200 mm.
fn block() -> Document {
    let piece = Piece::slab(mm(300.0), mm(200.0), mm(40.0), mm(10.0));
    let begin = "2026-11-23T07:00:00Z".parse().expect("a time");
    let mut document = Document::begin(Kind::Block, "Lamp foot".into(), piece, begin);
    document.form.bucket_residue_ratio = 0.03;
    document.form.overfill = Length::ZERO;
    document.piece.flattening = mm(1.0);
    document.stages.below = vec![Stage { resin: coating(), ..Stage::begin(Purpose::Base) }];
    document.stages.flood = Some(Flood::begin(coating()));
    document
}

fn inputs(document: &Document) -> Inputs {
    let find = |id: &ResinId| shipped::find(id).expect("it ships");
    let stages = document.stages.named_resins().map(find).collect();
    Inputs::new(document.clone(), find(&document.resin), &site()).with_stage_resins(stages)
}

fn worked(document: &Document) -> Evaluation {
    evaluate(&inputs(document), &Stop::NEVER).expect("no conflicts")
}

fn conflicts(document: &Document) -> Vec<Conflict> {
    match evaluate(&inputs(document), &Stop::NEVER) {
        Err(NotEvaluated::Conflicts(conflicts)) => conflicts,
        other => panic!("{}", other.is_ok()),
    }
}

#[test]
fn a_coated_base_a_deep_fill_and_a_flood_coat_are_measured_bought_and_poured_as_one_cast() {
    let document = block();
    let evaluation = worked(&document);

    // By hand: the form is 320 × 220 mm; a thirtieth stays on the buckets; a tenth of the flood
    // coat runs off. Coating resin: base and flood coat; deep resin: the rest.
    let (form_dm2, face_dm2) = (3.2 * 2.2, 3.0 * 2.0);
    let coating_l = (form_dm2 * 0.03 + face_dm2 * 0.016 * 1.1) / (1.0 - 0.03);
    let deep_l = form_dm2 * 0.39 / (1.0 - 0.03);
    let [deep, coat] = &evaluation.needs[..] else { panic!("two resins") };
    let close = |found: f64, by_hand: f64| (found / by_hand - 1.0).abs() < 0.002;
    assert!(close(deep.parts.volume.l(), deep_l), "{} and {deep_l}", deep.parts.volume.l());
    assert!(close(coat.parts.volume.l(), coating_l), "{} and {coating_l}", coat.parts.volume.l());
    assert!(close(deep.parts.mass.kg(), deep_l * deep.resin.density.kg_m3() * 1e-3));
    assert_eq!(coat.resin.id.0, shipped::COATING);
    assert!(close(evaluation.total().l(), deep_l + coating_l));
    // A coat comes out a tenth thicker or thinner, whatever the form does.
    let flood_l = face_dm2 * 0.016 * 1.1 / (1.0 - 0.03);
    let by_hand = evaluation.measured.sizing.uncertainty.l().hypot(0.1 * flood_l);
    assert!(close(evaluation.uncertainty().l(), by_hand), "{}", evaluation.uncertainty().l());
    let sources = evaluation.contributions();
    let sum = sources.iter().map(|c| (2.0 * c.volume.l()).powi(2)).sum::<f64>().sqrt();
    assert!(close(sum, by_hand), "what is listed makes the whole");

    let schedule = evaluation.pours.as_ref().expect("a plan");
    let layers: Vec<_> = schedule.pours.iter().map(|p| (p.layer.kind, p.layer.resin)).collect();
    let of = |purpose| LayerKind::Stage(purpose, 1);
    assert_eq!(layers, [(of(Purpose::Base), 1), (LayerKind::Main(1), 0), (of(Purpose::Flood), 1)]);
    assert!(schedule.breaks.is_empty());
    // The depth that counts for the deep resin is its own.
    assert!((evaluation.heat.whole.as_ref().expect("a run").depth.mm() - 39.0).abs() < 1e-6);
    // The form opens before the flood coat goes on, which waits for six hours of work.
    let opens = schedule.form_opens();
    assert!(schedule.pours[1].closes < opens && opens < schedule.pours[2].at);
    assert!(matches!(schedule.pours[2].joint, Joint::AfterCure { hard, .. } if hard == opens));
    assert!(schedule.hard > schedule.pours[2].closes);
    // A flood coat is no joint that had to be sanded because a window was missed.
    assert_eq!(schedule.sanded_joints(), usize::from(schedule.pours[1].is_sanded_joint()));
}

#[test]
fn a_taken_plan_of_several_resins_is_the_same_after_it_was_kept() {
    let mut document = block();
    let proposed = worked(&document).pours.expect("a plan");
    let mut next = 1000;
    take(&mut document.pours, &as_given(&proposed), || {
        next += 1;
        PourId(next)
    });
    let kept = serde_json::to_string(&document).expect("JSON");
    let read: Document = serde_json::from_str(&kept).expect("the same document");
    assert_eq!(read, document);
    let evaluation = worked(&read);
    assert_eq!(evaluation.standing, Standing::Taken);
    let schedule = evaluation.pours.as_ref().expect("a plan");
    assert_eq!(schedule.pours.len(), 3);
    for (taken, found) in proposed.pours.iter().zip(&schedule.pours) {
        assert_eq!((taken.at, taken.layer), (found.at, found.layer));
        assert_eq!(taken.opens, found.opens);
    }

    // A touch of the base says how fast the coating resin is, and nothing of the deep one.
    let planned = evaluation.planned.as_deref().expect("it is taken");
    let base = &schedule.pours[0];
    let at = base.opens - SignedDuration::from_mins(40);
    let pour = planned[0].id;
    let poured = Fact::Poured { pour, at: base.at, resin_at: None };
    let touched = Fact::Touched { pour, at, found: Touch::Tacky, cup: None };
    let row = |(number, fact)| FactRow { number, fact, recorded_at: at };
    let rows: Vec<FactRow> = (0..).zip([poured, touched]).map(row).collect();
    let task = evaluation.pour_task.as_ref().expect("a task");
    let observed = by_facts(task, planned, &rows).expect("the model follows");
    assert!(observed.rates.of(1) > 1.02, "{:?}", observed.rates);
    assert!((observed.rates.of(0) - 1.0).abs() < 1e-9, "{:?}", observed.rates);
}

#[test]
fn stages_that_cannot_be_are_refused() {
    let mut deep = block();
    deep.stages.below[0].depth = mm(41.5);
    assert!(matches!(conflicts(&deep)[..], [Conflict::Stages(StagesError::TooDeep { .. })]));
    let mut bare = block();
    bare.stages.above = vec![Stage::begin(Purpose::Inclusions)];
    assert_eq!(conflicts(&bare), [Conflict::Stages(StagesError::NothingCovers)]);
    let mut tubes = Document::begin(
        Kind::Tubes,
        "Pens".into(),
        Piece::slab(mm(60.0), mm(20.0), mm(20.0), mm(0.0)),
        block().pours.not_before,
    );
    tubes.stages = Stages { flood: Some(Flood::begin(None)), ..Stages::default() };
    assert_eq!(conflicts(&tubes), [Conflict::Stages(StagesError::NoSuch)]);
    let mut unknown = inputs(&block());
    unknown.stage_resins.clear();
    let found = evaluate(&unknown, &Stop::NEVER).err();
    let missing = Conflict::UnknownResin(shipped::COATING.into());
    assert_eq!(found, Some(NotEvaluated::Conflicts(vec![missing])));
}

/// A river sealed and based in one session: one pour fewer, the same resin, a night less.
#[test]
fn a_seal_coat_and_the_base_in_one_session_are_one_act() {
    let begin = "2026-11-23T07:00:00Z".parse().expect("a time");
    let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
    let mut apart = Document::river_top("Top".into(), piece, begin);
    apart.conditions.air = Temperature::from_celsius(21.0);
    let Contents::River(river) = &mut apart.contents else { panic!("a river") };
    river.seal = true;
    river.seal_with_base = false;
    let mut together = apart.clone();
    together.contents.river_mut().expect("a river").seal_with_base = true;
    let (apart, together) = (worked(&apart), worked(&together));
    let mixed = |evaluation: &Evaluation| -> f64 {
        evaluation.pours.as_ref().expect("a plan").pours.iter().map(|p| p.mixed.l()).sum()
    };
    assert!((mixed(&apart) - mixed(&together)).abs() < 1e-9, "the same resin");
    assert!((mixed(&together) - together.total().l()).abs() < 1e-9);
    let (apart, together) = (apart.pours.expect("a plan"), together.pours.expect("a plan"));
    assert_eq!(apart.pours.len(), together.pours.len() + 1);
    assert_eq!(apart.pours[0].layer.kind, LayerKind::Seal);
    assert_eq!(together.pours[0].layer.kind, LayerKind::Base);
    assert!(together.pours[0].layer.brushed > fondant_quantities::Volume::ZERO);
    assert!(together.hard < apart.hard);
}

/// Knots of a river filled first, in a resin of their own: a pour apart, counted once.
#[test]
fn cracks_filled_first_are_taken_from_the_main_fill_and_hard_before_it() {
    let begin = "2026-11-23T07:00:00Z".parse().expect("a time");
    let piece = Piece::slab(mm(1200.0), mm(600.0), mm(36.0), mm(10.0));
    let mut document = Document::river_top("Top".into(), piece, begin);
    let knot = Cavity {
        name: "knots".into(),
        count: 4,
        shape: CavityShape::Pocket,
        length: mm(60.0),
        width: mm(40.0),
        depth: mm(12.0),
        is_through: false,
    };
    document.contents.river_mut().expect("a river").cavities = vec![knot];
    let together = worked(&document);
    document.stages.cracks = Some(CracksFirst { resin: coating(), tint: "black".into() });
    let apart = worked(&document);
    assert!((apart.total() / together.total() - 1.0).abs() < 1e-9, "the same resin in all");
    // Four pockets of 60 × 40 × 12 mm, and what stays in buckets.
    let [own, cracks] = &apart.needs[..] else { panic!("two resins") };
    let lost = apart.measured.sizing.total / apart.measured.sizing.poured;
    let by_hand = 4.0 * 0.6 * 0.4 * 0.12 * lost;
    assert!((cracks.parts.volume.l() - by_hand).abs() < 1e-9, "{}", cracks.parts.volume.l());
    assert!((own.parts.volume.l() + by_hand - together.total().l()).abs() < 1e-9);

    let schedule = apart.pours.as_ref().expect("a plan");
    assert_eq!(schedule.pours[0].layer.kind, LayerKind::Stage(Purpose::Cracks, 1));
    let after = &schedule.pours[1];
    assert!(matches!(after.joint, Joint::AfterCure { hard, .. } if hard < after.at));
    assert!(!after.is_sanded_joint(), "no window was missed");
    // What fills knots is no part of the column of the form: the rest is as without them.
    let alone = together.pours.as_ref().expect("a plan");
    assert_eq!(schedule.pours.len(), alone.pours.len() + 1);
    for (with, without) in schedule.pours[1..].iter().zip(&alone.pours) {
        let window = |pour: &ScheduledPour| pour.opens.duration_since(pour.at).as_secs();
        assert!((window(with) - window(without)).abs() < 120, "{:?}", with.layer);
    }
}

/// What fills deep cavities is no layer of the form: neither its sides nor its thickest layer go by
/// it, and its bucket is looked at like any other.
#[test]
fn a_deep_knot_of_the_casts_own_resin_is_not_its_thickest_layer() {
    let begin = "2026-11-23T07:00:00Z".parse().expect("a time");
    let piece = Piece::slab(mm(1200.0), mm(600.0), mm(20.0), mm(10.0));
    let mut document = Document::river_top("Top".into(), piece, begin);
    let knot = Cavity {
        name: "bore".into(),
        count: 60,
        shape: CavityShape::Bore,
        length: mm(60.0),
        width: mm(60.0),
        depth: mm(23.0),
        is_through: true,
    };
    document.contents.river_mut().expect("a river").cavities = vec![knot];
    document.pours.split = Split::Equal { count: 3 };
    document.stages.cracks = Some(CracksFirst::default());
    let schedule = worked(&document).pours.expect("a plan");
    assert!(schedule.pours[0].layer.heat_depth > mm(20.0), "the bores are deeper than any layer");
    let deepest = schedule.pours[1..].iter().map(|pour| pour.layer.depth().mm());
    assert!((schedule.thickest().mm() - deepest.fold(0.0, f64::max)).abs() < 1e-9);

    // Two litres of coating resin cannot be poured of one bucket of twelve kilograms in time.
    document.conditions.bucket = Mass::from_kg(12.0);
    let mut site = site();
    (site.mixing, site.pouring) = (Span::from_s(1440.0), Span::from_s(1440.0));
    document.stages.cracks = Some(CracksFirst { resin: coating(), tint: String::new() });
    let evaluation = evaluate(&Inputs { site, ..inputs(&document) }, &Stop::NEVER);
    let task = evaluation.expect("no conflicts").pour_task.expect("a task");
    assert!(matches!(task.in_bucket(), InBucket::Smaller { .. }), "{:?}", task.in_bucket());
}

#[test]
fn a_stage_of_the_casts_own_resin_needs_no_other() {
    let mut document = block();
    document.stages.below[0].resin = None;
    document.stages.flood = None;
    let evaluation = worked(&document);
    assert_eq!(evaluation.needs.len(), 1);
    let total = evaluation.measured.sizing.total;
    assert!((evaluation.total() / total - 1.0).abs() < 1e-9);
    let schedule = evaluation.pours.expect("a plan");
    assert_eq!(schedule.pours[0].layer.kind, LayerKind::Stage(Purpose::Base, 1));
    assert!((schedule.pours[0].layer.to.mm() - 3.0).abs() < 1e-9);
}

/// The field of a block took a base of another resin for long cured, and said nothing of its window.
#[test]
fn a_base_of_another_resin_cures_in_the_field_as_in_the_plan() {
    let document = block();
    let (inputs, evaluation) = (inputs(&document), worked(&document));
    let schedule = evaluation.pours.as_ref().expect("pour times");
    let task = FieldTask::of(&inputs, &evaluation, Length::ZERO, Followed::Planned);
    let task = task.expect("a block is not wide");
    // The base alone: in the plan the next pour comes as soon as it is sticky.
    let mut field = task.field().expect("in range");
    task.pour(&mut field, &task.pours()[0]).expect("it holds resin");
    let go_on = &mut |_| ControlFlow::Continue(());
    field.run(12.0 * 3600.0, FieldGoal::Time, go_on).expect("the solver goes on");
    let base = &schedule.pours[0];
    assert_eq!(base.layer.kind, LayerKind::Stage(Purpose::Base, 1));
    let opens_s = field.segments()[0].opens_s.expect("it gels within half a day");
    let planned_s = base.opens.duration_since(base.at).as_secs_f64();
    // It is 3 mm deep and 220 mm wide: its sides take nothing from it.
    assert!((opens_s - planned_s).abs() < 15.0 * 60.0, "{opens_s} s in the field, {planned_s} s");
}
