//! Resin in a piece of timber.

use super::maker::{PHONE, SHOWN, agrees, job};

/// A serving board with two knots, on a telephone.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_serving_board() {
    job(PHONE, |maker| async move {
        let sides = [("length", "420"), ("width", "220"), ("thickness", "24")];
        maker.begins("inlay", "Serving board", &sides).await;
        maker.at("timber").await;
        for (field, text) in [
            ("cav_length-0", "64"),
            ("cav_width-0", "40"),
            ("cav_depth-0", "15"),
            ("cav_count-0", "2"),
            ("absorption", "0"),
        ] {
            maker.types(field, text).await;
        }
        // Two paraboloids: half of a cylinder of 64 × 40 mm across and 15 mm deep each.
        let hollow = 2.0 * 0.5 * std::f64::consts::FRAC_PI_4 * 64.0 * 40.0 * 15.0 / 1e3;
        agrees("hollow, mL", maker.reads("#f-hollow").await, hollow, SHOWN);
        maker.at("piece").await;
        maker.clicks("#food").await;
        let asides = maker.said("aside.notes").await;
        assert!(asides.contains("Food: only after full cure"), "{asides}");
        maker.at("form").await;
        maker.types("overfill", "0").await;
        maker.types("residue", "10").await;
        agrees("resin, mL", maker.figure("volume").await, hollow * 1.1, SHOWN);
        maker.takes_the_plan().await;
    })
    .await;
}

/// A channel for a strip of light, on a telephone.
#[tokio::test(flavor = "multi_thread", worker_threads = 2)]
async fn a_lit_inlay() {
    job(PHONE, |maker| async move {
        let sides = [("length", "900"), ("width", "180"), ("thickness", "36")];
        maker.begins("inlay", "Night shelf", &sides).await;
        maker.at("timber").await;
        maker.chooses("cav_shape-0", "channel").await;
        for (field, text) in [
            ("cav_length-0", "820"),
            ("cav_width-0", "14"),
            ("cav_depth-0", "20"),
            ("absorption", "0"),
        ] {
            maker.types(field, text).await;
        }
        let channel = 820.0 * 14.0 * 20.0 / 1e3;
        agrees("hollow, mL", maker.reads("#f-hollow").await, channel, SHOWN);
        maker.at("form").await;
        maker.types("overfill", "0").await;
        agrees("resin, mL", maker.figure("volume").await, channel * 1.03, SHOWN);
        maker.at("piece").await;
        maker.clicks("#lit").await;
        let asides = maker.said("aside.notes").await;
        assert!(asides.contains("licensed electrician"), "{asides}");
        maker.takes_the_plan().await;
        let pours = maker.said("#workspace").await;
        assert!(pours.contains("low voltage only"), "the caution stands at the pour");
    })
    .await;
}
