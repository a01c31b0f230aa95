//! What measuring costs. The figures asked for: the volume curve of 20 boards
//! of 500 points at 200 levels at most 20 ms, the outline of a photo of 12
//! megapixels at most 1.5 s.
#![allow(missing_docs, reason = "criterion's macros make undocumented functions")]

use criterion::{Criterion, criterion_group, criterion_main};
use fondant_cast::document::Shaping;
use fondant_cast::{Document, Kind, measure};
use fondant_quantities::Length;
use fondant_shapes::form::Piece;
use fondant_shapes::geometry::homography::{Homography, Pixel};
use fondant_shapes::geometry::ruled::Underside;
use fondant_shapes::geometry::{Outline, Point};
use fondant_shapes::picture::trace::{TimberIs, outlines};
use fondant_shapes::picture::{Raster, square_up};
use fondant_shapes::timber::{Board, BoardShape};

/// A wavy board of `points` points, its edges leaning out below.
fn wavy(middle: Point, points: usize, slope: bool) -> BoardShape {
    let outline = Outline::new(
        (0..points)
            .map(|i| {
                let angle = std::f64::consts::TAU * i as f64 / points as f64;
                let r = 0.09 + 0.004 * (angle * 9.0).sin();
                middle.plus(Point { x_m: 2.0 * r * angle.cos(), y_m: r * angle.sin() })
            })
            .collect(),
    );
    let underside = match slope {
        true => Underside::Bevels(vec![Length::from_mm(4.0); points]),
        false => Underside::Same,
    };
    BoardShape { outline, underside }
}

fn twenty_boards(over_the_wall: f64) -> Document {
    let mm = Length::from_mm;
    let piece = Piece::slab(mm(2480.0), mm(1180.0), mm(36.0), mm(10.0));
    let begin = "2026-11-23T09:00:00Z".parse().expect("a time");
    let mut plan = Document::begin(Kind::River, "bench".into(), piece, begin);
    plan.contents.river_mut().expect("a river").shaping = Shaping::Outlines;
    plan.contents.river_mut().expect("a river").boards = (0..20)
        .map(|i| {
            let (column, row) = (i % 5, i / 5);
            let middle = Point {
                x_m: 0.25 + 0.5 * column as f64 - over_the_wall,
                y_m: 0.15 + 0.29 * row as f64,
            };
            Board { shape: Some(wavy(middle, 500, true)), ..Board::usual(mm(40.0)) }
        })
        .collect();
    plan
}

fn volumes(c: &mut Criterion) {
    for (name, over) in [("inside", 0.0), ("five of them over a wall", 0.12)] {
        let plan = twenty_boards(over);
        assert_eq!(plan.conflicts(), []);
        c.bench_function(&format!("20 boards of 500 points at 200 levels, {name}"), |b| {
            b.iter(|| {
                let fill = measure(&plan).expect("a plan in order").fill;
                (0..=200)
                    .map(|i| fill.volume_to(fill.depth() * (f64::from(i) / 200.0)).m3())
                    .sum::<f64>()
            });
        });
    }
}

/// Two boards on a bench, seen from above at 12 megapixels.
fn photo() -> Raster {
    let (w, h) = (4000, 3000);
    let mut rgb = Vec::with_capacity(w * h * 3);
    for y in 0..h {
        for x in 0..w {
            let edge = 900.0 + 120.0 * (x as f64 * 0.003).sin();
            let timber = (y as f64) < edge || y as f64 > edge + 900.0;
            let grain = 14.0 * (y as f64 * 0.11).sin() + ((x * 7919 + y * 104_729) % 23) as f64;
            let colour = if timber { [180.0, 140.0, 95.0] } else { [96.0, 102.0, 108.0] };
            rgb.extend(colour.map(|c| (c + grain) as u8));
        }
    }
    Raster::new(w, h, rgb).expect("as many bytes as pixels")
}

fn pictures(c: &mut Criterion) {
    let photo = photo();
    let corner = |x_px, y_px| Pixel { x_px, y_px };
    let corners =
        [corner(120.0, 90.0), corner(3880.0, 60.0), corner(3960.0, 2900.0), corner(40.0, 2950.0)];
    let (l, w) = (Length::from_mm(1600.0), Length::from_mm(1200.0));
    let plane = Homography::of_rectangle(corners, l, w).expect("sound corners");
    let mut group = c.benchmark_group("a photo of 12 megapixels");
    group.sample_size(10);
    group.bench_function("squared up and traced", |b| {
        b.iter(|| {
            let squared = square_up(&photo, &plane, l, w, 1000.0);
            outlines(&squared, 1000.0, TimberIs::Warmer).len()
        });
    });
    group.finish();
}

criterion_group!(benches, volumes, pictures);
criterion_main!(benches);
