use super::*;

#[test]
fn the_stated_density_is_that_of_the_parts() {
    for resin in all() {
        let mixed = resin.mix.mixed_density();
        let off = (mixed / resin.density - 1.0).abs();
        assert!(off < 0.001, "{}: {} against {}", resin.name, mixed.kg_m3(), resin.density.kg_m3());
    }
}

#[test]
fn ratios_by_volume_are_those_in_the_names() {
    let by_volume: Vec<f64> = all().iter().map(|r| r.mix.b_per_a_by_volume()).collect();
    assert!((by_volume[0] - 0.5).abs() < 0.001);
    for one_to_one in [2, 3, 4] {
        assert!((by_volume[one_to_one] - 1.0).abs() < 0.001, "{by_volume:?}");
    }
}

#[test]
fn every_resin_that_ships_is_possible_and_survives_json() {
    for resin in all() {
        assert_eq!(resin.check(), Ok(()), "{}", resin.name);
        let text = serde_json::to_string(&resin).unwrap();
        assert!(text.contains("\"density_kg_m3\"") && text.contains("\"peak_limit_k\""));
        assert_eq!(serde_json::from_str::<Record>(&text).unwrap(), resin);
    }
    let mut hot = slow_casting();
    hot.cure.heat_j_kg = 1e7;
    assert!(hot.check().unwrap_err().to_string().contains("heat of cure"));
    hot.cure.heat_j_kg = f64::NAN;
    assert!(hot.check().is_err());
}

#[test]
fn an_unknown_resin_is_named_in_the_refusal() {
    let refusal = find(&ResinId("treacle".into())).unwrap_err();
    assert!(refusal.to_string().contains("treacle"));
}
