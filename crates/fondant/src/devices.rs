//! `fondant devices`: simulated instruments that send through the same door as real ones.
//!
//! It adds its instruments to the workshop with new tokens (those of a former run are revoked), then
//! sends what each would read of the run that is in hand, once a second.

use std::time::Duration;

use clap::Args;
use fondant_app::{App, AppError, bench, devices};
use fondant_bench::reading::{Place, Quantity};
use fondant_bench::run::{Act, acts};
use fondant_bench::{Run, bucket};
use fondant_devices::instrument::{Instrument, Misbehaviour};
use fondant_quantities::Span;
use http_body_util::Full;
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;
use jiff::Timestamp;

use crate::running::{RunArguments, RunError, workshop};

/// Readings of each instrument a second, by default.
const EVERY: Duration = Duration::from_secs(1);
/// What a hand pours in a second, g: a thin stream.
const STREAM_G: f64 = 60.0;
/// A hand pours the last of it slower: this share of what is missing a second.
const LAST_RATIO: f64 = 0.25;
/// What a pot loses of its pressure an hour.
const LEAK_PER_H: f64 = 0.02;

#[derive(Debug, Args)]
pub(crate) struct DevicesArguments {
    #[command(flatten)]
    run: RunArguments,
    /// Address of the server that they send to.
    #[arg(long, default_value = "http://127.0.0.1:7350")]
    server: String,
    /// An instrument that misbehaves, such as `Scale=jump`: drift, drop-out, jump, stick, repeat, lie.
    #[arg(long = "misbehave", value_parser = misbehaving)]
    misbehave: Vec<(String, Misbehaviour)>,
}

fn misbehaving(text: &str) -> Result<(String, Misbehaviour), String> {
    let (name, how) = text.split_once('=').ok_or("write it as NAME=HOW")?;
    let how = Misbehaviour::named(how)
        .ok_or("one of drift, drop-out, jump, stick, repeat, lie is needed")?;
    Ok((name.to_owned(), how))
}

/// The instruments of a bench.
const ALL: [(&str, Place, Quantity); 6] = [
    ("Scale", Place::Scale, Quantity::Mass),
    ("Infrared gun", Place::Bucket, Quantity::Temperature),
    ("Surface probe", Place::Surface, Quantity::Temperature),
    ("Hygrometer", Place::Air, Quantity::Humidity),
    ("Thermometer", Place::Air, Quantity::Temperature),
    ("Pot gauge", Place::Gauge, Quantity::Pressure),
];

type Sender = Client<HttpConnector, Full<std::io::Cursor<Vec<u8>>>>;

/// Sends until the process is told to stop.
pub(crate) fn run(arguments: &DevicesArguments) -> Result<(), RunError> {
    arguments.run.run(|app, end| async move {
        let mut all = add(&app, &arguments.misbehave).await?;
        let sender: Sender = Client::builder(TokioExecutor::new()).build(HttpConnector::new());
        let door = format!("{}/devices/readings", arguments.server.trim_end_matches('/'));
        let mut beat = tokio::time::interval(EVERY);
        let mut scale_g = 0.0;
        loop {
            tokio::select! {
                _ = beat.tick() => {}
                () = end.cancelled() => return Ok(()),
            }
            // A database that is away comes back; instruments go on reading.
            let truths = match truths(&app, &mut scale_g).await {
                Ok(truths) => truths,
                Err(error) => {
                    tracing::warn!(%error, "nothing is read");
                    continue;
                }
            };
            for (instrument, token) in &mut all {
                let truth = truths.of(instrument.place, instrument.quantity());
                let lines = instrument.read(truth, app.now());
                if !lines.is_empty()
                    && let Err(error) = send(&sender, &door, token, lines).await
                {
                    tracing::warn!(%error, device = instrument.name, "not sent");
                }
            }
        }
    })
}

/// Adds the instruments with new tokens.
async fn add(
    app: &App,
    misbehave: &[(String, Misbehaviour)],
) -> Result<Vec<(Instrument, String)>, AppError> {
    let shop = workshop(app).await?;
    let mut all = Vec::new();
    for (seed, (name, place, quantity)) in (1..).zip(ALL) {
        let added = devices::renew(app, &shop, name, place).await?;
        let mut instrument = Instrument::new(name, (place, quantity), 0, seed * 7919);
        instrument.misbehaves = misbehave.iter().find(|(of, _)| of == name).map(|(_, how)| *how);
        all.push((instrument, added.token));
    }
    Ok(all)
}

/// What is true at the bench, as instruments show it.
struct Truths {
    air_c: f64,
    humidity_percent: f64,
    bucket_c: f64,
    scale_g: f64,
    over_bar: f64,
}

impl Truths {
    const fn of(&self, place: Place, quantity: Quantity) -> f64 {
        match (place, quantity) {
            (_, Quantity::Humidity) => self.humidity_percent,
            (Place::Scale, _) => self.scale_g,
            (Place::Gauge, _) => self.over_bar,
            (Place::Bucket | Place::Cup, _) => self.bucket_c,
            _ => self.air_c,
        }
    }
}

/// What is true now: the newest run in hand decides what is weighed and how warm the bucket is.
async fn truths(app: &App, scale_g: &mut f64) -> Result<Truths, AppError> {
    let (shop, now) = (app.shop().await?, app.now());
    let air = shop.site().air.at(now);
    let kept = bench::in_hand(app, shop.id).await?;
    let run = kept.last().map(bench::folded);
    let target = run.as_ref().and_then(|run| weighed(run, shop.workshop.settings.shop.parts));
    *scale_g = match target {
        Some(target) if *scale_g < target => {
            let missing = target - *scale_g;
            // The last grams come slowly, and a little too much comes in the end.
            *scale_g + (LAST_RATIO * missing).clamp(0.4, STREAM_G)
        }
        Some(target) if *scale_g < target * 1.02 => *scale_g,
        _ => 0.0,
    };
    let warm = run.as_ref().and_then(|run| bucket_c(run, now));
    let closed = run.as_ref().and_then(|run| run.gauge.first().copied());
    let over_bar = closed.map_or(0.0, |first| {
        let hours = now.duration_since(first.at).as_secs_f64() / 3600.0;
        first.over_bar * (1.0 - LEAK_PER_H * hours).max(0.0)
    });
    Ok(Truths {
        air_c: air.temperature.celsius(),
        humidity_percent: air.humidity_percent,
        bucket_c: warm.unwrap_or(air.temperature.celsius()),
        scale_g: *scale_g,
        over_bar,
    })
}

/// What goes on the scale next, g.
fn weighed(run: &Run, order: fondant_cast::shop::PartOrder) -> Option<f64> {
    match acts(run, order).first() {
        Some(Act::Weigh { target, .. }) => Some(target.kg() * 1e3),
        _ => None,
    }
}

/// How warm the first open bucket is by the model.
fn bucket_c(run: &Run, now: Timestamp) -> Option<f64> {
    let open = run.batches.iter().find(|batch| !batch.is_over() && batch.met.is_some())?;
    let (met, mixed) = open.bucket(&run.plan)?;
    let clock = bucket::clock(&run.plan.resin, mixed, &[]).ok()?;
    let (at, _) = clock.after(&run.plan.resin, mixed, Span::between(met, now)).ok()?;
    Some(at.celsius())
}

/// Posts lines; an answer that is no success is an error with its text.
async fn send(sender: &Sender, door: &str, token: &str, lines: String) -> Result<(), String> {
    let request = http::Request::post(door)
        .header(http::header::AUTHORIZATION, format!("Bearer {token}"))
        .body(Full::new(std::io::Cursor::new(lines.into_bytes())))
        .map_err(|error| error.to_string())?;
    let answer = sender.request(request).await.map_err(|error| error.to_string())?;
    if answer.status().is_success() { Ok(()) } else { Err(answer.status().to_string()) }
}
