use super::*;
use crate::air::Air;
use crate::field::mesh::Axis;

const BLOCK: Material = Material { conductivity_w_m_k: 0.2, capacity_j_m3_k: 2e6 };

fn block(n: usize) -> Mesh {
    let axis = || Axis::equal(&[(0.0, 0.1, n)]);
    Mesh { is_round: false, x: axis(), y: axis(), z: axis() }
}

fn closed() -> Around {
    Around { top_film_w_m2k: 0.0, base: Face::CLOSED, ..Around::on_a_board(Air::Steady(293.0)) }
}

/// Chains of any number and length, their cells beside one another in memory or not, whole or cut by a
/// hole: what (1 − s·L/C) has made of temperatures is made into them again.
#[test]
fn every_chain_is_solved_in_every_direction() {
    const SCALE_S: f64 = 1000.0;
    for sizes in [[1, 1, 9], [9, 1, 1], [5, 3, 2], [4, 7, 3], [3, 1, 8], [2, 9, 9]] {
        let [x, y, z] = sizes.map(|n| Axis::equal(&[(0.0, 0.1, n)]));
        let mesh = Mesh { is_round: false, x, y, z };
        let mut materials = vec![Some(BLOCK); mesh.cells()];
        materials[mesh.cells() / 2] = None;
        let around = Around::on_a_board(Air::Steady(293.0));
        let mut conduction = Conduction::new(&mesh, &materials, &around);
        let inverse_capacity = conduction.inverse_capacity.clone();
        let t: Vec<f64> = (0..mesh.cells()).map(|i| (i * 37 % 11) as f64).collect();
        assert!(!conduction.directions.is_empty());
        for one in 0..conduction.directions.len() {
            let mut rates = vec![0.0; t.len()];
            conduction.rates(one..one + 1, &t, 0.0, 1.0, &mut rates);
            let mut made: Vec<f64> = t.iter().zip(&rates).map(|(t, r)| t - SCALE_S * r).collect();
            let direction = &mut conduction.directions[one];
            direction.prepare(SCALE_S, &inverse_capacity);
            direction.solve(&mut made);
            let off = made.iter().zip(&t).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
            assert!(off < 1e-9, "{sizes:?}, direction {one}: {off}");
        }
    }
}

#[test]
fn a_closed_box_keeps_its_heat() {
    let mesh = block(6);
    let materials = vec![Some(BLOCK); mesh.cells()];
    let mut conduction = Conduction::new(&mesh, &materials, &closed());
    let mut t: Vec<f64> = (0..mesh.cells()).map(|i| 293.0 + (i % 17) as f64).collect();
    let before: f64 = t.iter().sum();
    for h in [1.0, 30.0, 900.0, 9000.0] {
        conduction.step(&mut t, h, 293.0);
    }
    assert!((t.iter().sum::<f64>() / before - 1.0).abs() < 1e-12);
}

#[test]
fn a_steady_state_stays_whatever_the_step() {
    let mesh = block(5);
    let materials = vec![Some(BLOCK); mesh.cells()];
    let cold = Face { resistance_m2k_w: 0.05, beyond_k: Some(277.0) };
    let around = Around { x: [cold; 2], ..Around::on_a_board(Air::Steady(300.0)) };
    let mut conduction = Conduction::new(&mesh, &materials, &around);
    let mut t = vec![290.0; mesh.cells()];
    for _ in 0..4000 {
        conduction.step(&mut t, 500.0, 300.0);
    }
    let steady = t.clone();
    assert!(conduction.loss_w(&t, 300.0).abs() < 1e-6);
    conduction.step(&mut t, 40_000.0, 300.0);
    let moved = t.iter().zip(&steady).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
    assert!(moved < 1e-7, "{moved} K");
}

/// The slowest mode of a long cylinder whose face is held at 0 K, J₀(2.4048 r/R), decays as
/// e^(−D (2.4048/R)² t).
#[test]
fn a_cylinder_cools_as_bessel_says() {
    let radius_m = 0.05;
    let mesh = Mesh {
        is_round: true,
        x: Axis::equal(&[(0.0, radius_m, 60)]),
        y: Axis::single(1.0),
        z: Axis::single(0.1),
    };
    let materials = vec![Some(BLOCK); mesh.cells()];
    let cold = Face { resistance_m2k_w: 0.0, beyond_k: Some(0.0) };
    let mut conduction = Conduction::new(&mesh, &materials, &Around { x: [cold; 2], ..closed() });
    let area_m2: f64 = (0..mesh.cells()).map(|cell| mesh.volume_m3(cell) / 0.1).sum();
    assert!((area_m2 - 0.5 * radius_m * radius_m).abs() < 1e-12, "of one radian");
    let mut t = vec![100.0; mesh.cells()];
    let mut after = |seconds: f64| {
        let steps = 4000;
        for _ in 0..steps {
            conduction.step(&mut t, seconds / f64::from(steps), 293.0);
        }
        t[0]
    };
    let (one, other) = (after(8000.0), after(2000.0));
    let rate = (one / other).ln() / 2000.0;
    let exact = 1e-7 * (2.404_825_6 / radius_m).powi(2);
    assert!((rate / exact - 1.0).abs() < 1e-3, "{rate} for {exact}");
}

/// A sine over the closed box decays as e^(−3 D (π/L)² t).
#[test]
fn a_mode_of_a_closed_box_decays_at_its_own_rate_to_second_order() {
    let n = 24;
    let mesh = block(n);
    let materials = vec![Some(BLOCK); mesh.cells()];
    let mode = |cell: usize| {
        mesh.middle_m(cell).iter().map(|x| (std::f64::consts::PI * x / 0.1).cos()).product::<f64>()
    };
    // The rate of the mode on this mesh, so that only time is tested.
    let width = 0.1 / n as f64;
    let on_mesh = (2.0 / width * (std::f64::consts::PI * width / 0.2).sin()).powi(2);
    let rate = 3.0 * 1e-7 * on_mesh;
    let error = |steps: u32| {
        let mut conduction = Conduction::new(&mesh, &materials, &closed());
        let mut t: Vec<f64> = (0..mesh.cells()).map(|c| 293.0 + 10.0 * mode(c)).collect();
        let h = 3600.0 / f64::from(steps);
        for _ in 0..steps {
            conduction.step(&mut t, h, 293.0);
        }
        let expected = 10.0 * (-rate * 3600.0).exp();
        ((t[0] - 293.0) / mode(0) - expected).abs()
    };
    let (coarse, fine) = (error(16), error(32));
    let order = (coarse / fine).log2();
    assert!(coarse < 0.05 && (1.8..2.3).contains(&order), "order {order}, {coarse} K");
}

#[test]
fn metal_beside_resin_is_followed_at_any_step() {
    let mesh = block(9);
    let steel = Material::STEEL;
    let materials: Vec<_> = (0..mesh.cells())
        .map(|c| Some(if mesh.place(c).iter().all(|i| (2..6).contains(i)) { steel } else { BLOCK }))
        .collect();
    let mut conduction = Conduction::new(&mesh, &materials, &closed());
    let mut t: Vec<f64> = (0..mesh.cells()).map(|i| 293.0 + (i % 13) as f64 * 4.0).collect();
    let heat = |t: &[f64], c: &Conduction| -> f64 {
        t.iter().zip(c.capacity_j_k()).map(|(t, c)| t * c).sum()
    };
    let (before, most) = (heat(&t, &conduction), 293.0 + 48.0);
    for h in [1.0, 60.0, 900.0, 900.0, 9e4, 9e4] {
        conduction.step(&mut t, h, 293.0);
        assert!(t.iter().all(|k| *k > 285.0 && *k < most + 8.0), "{h}");
    }
    assert!((heat(&t, &conduction) / before - 1.0).abs() < 1e-12);
}

#[test]
fn cells_without_content_exchange_nothing() {
    let mesh = block(4);
    let half = mesh.cells() / 2;
    let materials: Vec<_> = (0..mesh.cells()).map(|c| (c < half).then_some(BLOCK)).collect();
    let mut conduction = Conduction::new(&mesh, &materials, &closed());
    let mut t: Vec<f64> = (0..mesh.cells()).map(|c| if c < half { 300.0 } else { 0.0 }).collect();
    conduction.step(&mut t, 600.0, 293.0);
    assert!(t[..half].iter().all(|k| (k - 300.0).abs() < 1e-9));
    assert!(t[half..].iter().all(|k| k.abs() < 1e-12));
}
