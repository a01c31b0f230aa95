//! Clear and coloured blocks: heat, bubbles, amber.

use super::maker::{INCHES, METRIC, SHOWN, agrees, job};

/// A stone in a clear block, in inches.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_deep_embed() {
    job(INCHES, |maker| async move {
        let sides = [("length", "3"), ("width", "3"), ("thickness", "4"), ("trim_margin", "1/4")];
        maker.begins("embed", "Shore stone", &sides).await;
        maker.at("piece").await;
        maker.types("squaring", "1/2").await;
        maker.at("timber").await;
        maker.types("ins_name-0", "stone").await;
        maker.types("ins_a-0", "2").await;
        maker.types("ins_mass-0", "180 g").await;
        maker.types("ins_above-0", "1").await;
        // 3 1/2 × 3 1/2 × 4 1/2 in less a ball of 2 in, 3 % stays in the cup.
        let ball = std::f64::consts::PI / 6.0 * 8.0;
        let cubic_inch_l = 0.016_387_064;
        let net = (3.5 * 3.5 * 4.5 - ball) * cubic_inch_l;
        let shown = maker.figure("volume").await;
        agrees("resin, fl oz", shown, net * 1.03 / 0.029_573_53, SHOWN);
        // 180 g displace 68.6 mL of resin at 1.1: 75.5 g. It stays down.
        maker.at("form").await;
        let lift = maker.said("#f-lift-0").await;
        assert!(ball * cubic_inch_l * 1.1 < 0.18 && lift.contains("stays down"), "{lift}");
        maker.takes_the_plan().await;
    })
    .await;
}

/// A block of several colours, sawn into handles.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_swirl_block() {
    job(METRIC, |maker| async move {
        let sides =
            [("length", "266"), ("width", "117"), ("thickness", "46"), ("trim_margin", "0")];
        maker.begins("block", "Tide swirl", &sides).await;
        maker.at("piece").await;
        maker.types("squaring", "6").await;
        agrees("resin, L", maker.figure("volume").await, 2.66 * 1.17 * 0.52 * 1.03, SHOWN);
        maker.at("timber").await;
        for (field, text) in
            [("blank_length", "128"), ("blank_width", "25"), ("blank_height", "22"), ("kerf", "3")]
        {
            maker.types(field, text).await;
        }
        // 2 along (2 × 128 + 3), 4 across (4 × 25 + 3 × 3), 2 high (2 × 22 + 3 = 47 of 52).
        let blanks = maker.figure("blanks").await;
        assert!((blanks - 16.0).abs() < 1e-9, "{blanks} blanks");
        maker.takes_the_plan().await;
    })
    .await;
}

/// A block that was amber last time: too deep for one pour of a fast resin.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn amber_from_heat() {
    job(METRIC, |maker| async move {
        let sides =
            [("length", "220"), ("width", "140"), ("thickness", "60"), ("trim_margin", "0")];
        maker.begins("block", "Amber once", &sides).await;
        maker.at("piece").await;
        maker.types("squaring", "0").await;
        maker.at("resin").await;
        maker.clicks("#resin-medium-casting-epoxy").await;
        agrees("resin, L", maker.figure("volume").await, 2.2 * 1.4 * 0.6 * 1.03, SHOWN);
        maker.at("heat").await;
        let hottest = maker.said("#f-hottest").await;
        assert!(hottest.contains("limit 55"), "{hottest}");
        // As many layers as the deepest one allows, each under the limit.
        let (layers, deepest) = (maker.figure("layers").await, maker.figure("deepest").await);
        let needed = (60.0 / deepest).ceil();
        assert!(layers >= 2.0 && layers >= needed, "{layers} layers, {deepest} mm allowed");
        assert!(maker.figure("hottest").await <= 55.0, "{hottest}");
        maker.takes_the_plan().await;
    })
    .await;
}

/// Bubbles that stayed: the resin was too cold and thick for its depth.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn bubbles_that_stayed() {
    job(METRIC, |maker| async move {
        let sides = [("length", "160"), ("width", "90"), ("thickness", "40"), ("trim_margin", "0")];
        maker.begins("block", "Clear wedge", &sides).await;
        maker.at("piece").await;
        maker.types("squaring", "0").await;
        agrees("resin, mL", maker.figure("volume").await, 160.0 * 90.0 * 40.0 / 1e3 * 1.03, SHOWN);
        maker.at("heat").await;
        let cold = minutes(&maker.said("#bubbles").await);
        maker.types("resin", "27").await;
        let warm = minutes(&maker.said("#bubbles").await);
        // By Stokes a bubble of 0.5 mm rises 40 mm in 18 μ h ÷ (ρ g d²): at 0.45 Pa·s of 25 °C and
        // 45 kJ/mol that is 3 min at 20 °C, 2 min at 27 °C; the layer warms the latter no further by then.
        let by_hand = |celsius: f64| {
            let viscosity =
                0.45 * (45_000.0 / 8.314 * (1.0 / (celsius + 273.15) - 1.0 / 298.15)).exp();
            18.0 * viscosity * 0.040 / (1100.0 * 9.81 * 0.0005_f64.powi(2)) / 60.0
        };
        assert!((cold - by_hand(20.0)).abs() <= 0.6, "{cold} min cold, {} by hand", by_hand(20.0));
        assert!((warm - by_hand(27.0)).abs() <= 0.6, "{warm} min warm, {} by hand", by_hand(27.0));
        maker.takes_the_plan().await;
    })
    .await;
}

/// When bubbles of half a millimetre are out, min.
fn minutes(said: &str) -> f64 {
    let (_, after) = said.split_once("are out after ").unwrap_or_else(|| panic!("{said}"));
    let (figure, _) = after.split_once(" min").unwrap_or_else(|| panic!("{said}"));
    figure.parse().expect("a number")
}
