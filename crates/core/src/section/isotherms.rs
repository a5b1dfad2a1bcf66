//! The temperature inside a section, as lines to draw: isotherms, and lines along which the heat goes, each pair of
//! neighbours with the same share of it between them.
//!
//! Heat lines are level lines of the stream function ψ: `∇·((1/λ)∇ψ) = 0`, on the boundary the heat that has crossed it
//! so far. It is continuous because the cell is half a period: the tube lies on its edge.
//!
//! ```
//! use fuoco_core::floor::validation::type_a;
//! use fuoco_core::section::Films;
//! use fuoco_core::section::isotherms::{Surroundings, picture};
//! let films = Films { up: 10.8, down: 5.9, water: 1500.0 };
//! let around = Surroundings { room_c: 20.0, below_c: 15.0, water_c: 40.0 };
//! let picture = picture(&type_a(0.2, 0.1, 0.045, 0.016), &films, &around, 1.0, 8)?;
//! assert!(picture.isotherms.iter().all(|line| (15.0..=40.0).contains(&line.value)));
//! assert!(picture.tube_c < 40.0);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::elements::{Row, System};
use super::mesh::{Joint, Mesh};
use super::reduced::{Assembled, bore_film};
use super::{Films, Section};
use crate::error::FieldError;

/// Temperatures around a section, °C.
#[derive(Debug, Clone, Copy, PartialEq)]
#[allow(missing_docs)]
pub struct Surroundings {
    pub room_c: f64,
    pub below_c: f64,
    pub water_c: f64,
}

/// A level line: its value, and pieces from one point to another `[x, z, x, z]`, m from the tube's axis and from the
/// surface.
#[derive(Debug, Clone, PartialEq)]
#[allow(missing_docs)]
pub struct Line {
    pub value: f64,
    pub pieces: Vec<[f64; 4]>,
}

/// What there is to draw of half a cell.
#[derive(Debug, Clone, PartialEq)]
pub struct Picture {
    /// Isotherms, °C.
    pub isotherms: Vec<Line>,
    /// Heat lines; value: the heat between it and midway between two tubes, W/m of tube, upward counted positive.
    pub heat_lines: Vec<Line>,
    /// Mean of the tube's outside, °C.
    pub tube_c: f64,
}

/// A conductance so large that it imposes what is behind it.
const IMPOSED: f64 = 1e8;

/// The picture of a section: isotherms every `step_k`, and `lines` heat lines.
///
/// # Errors
/// As [`Section::check`].
pub fn picture(
    section: &Section,
    films: &Films,
    around: &Surroundings,
    step_k: f64,
    lines: usize,
) -> Result<Picture, FieldError> {
    section.check()?;
    let unsolved = || FieldError::new("section", "cannot be solved");
    let mesh = Mesh::new(section, 2);
    let h = [films.up, films.down, bore_film(section, films.water)];
    let mut all = Assembled::new(&mesh, h);
    let behind = [around.room_c, around.below_c, around.water_c];
    let mut side = vec![0.0; mesh.nodes.len()];
    for p in 0..3 {
        side.iter_mut().zip(all.source(p)).for_each(|(s, v)| *s += h[p] * behind[p] * v);
    }
    let field = all.system.factor(&mesh.nodes).ok_or_else(unsolved)?.solve(&[side]).pop().ok_or_else(unsolved)?;

    let coldest = field.iter().copied().fold(f64::INFINITY, f64::min);
    let warmest = field.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    let first = (coldest / step_k).ceil() as i64;
    let levels = (first..).map(|k| k as f64 * step_k).take_while(|t| *t < warmest).take(200);
    let isotherms = levels.map(|t| level(&mesh, &field, t)).filter(|l| !l.pieces.is_empty()).collect();

    let crossed = |p: usize| -> Vec<f64> {
        let heat = |&([a, b], length): &([usize; 2], f64)| h[p] * length * (0.5 * (field[a] + field[b]) - behind[p]);
        all.rows[p].iter().map(heat).collect()
    };
    let stream = stream(&mesh, section, &all.rows, &[crossed(0), crossed(1), crossed(2)]).ok_or_else(unsolved)?;
    let (least, most) = stream.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), v| (a.min(*v), b.max(*v)));
    let share = (most - least) / lines.max(1) as f64;
    let heat_lines = (0..lines)
        .map(|k| least + (k as f64 + 0.5) * share)
        .map(|v| level(&mesh, &stream, v))
        .filter(|l| !l.pieces.is_empty())
        .collect();
    let radius = section.tube.od_m / 2.0;
    let outside: Vec<f64> = (mesh.nodes.iter().zip(&field))
        .filter(|(n, _)| (n[0].hypot(n[1] - section.tube.axis_depth_m) - radius).abs() < 1e-7)
        .map(|(_, t)| *t)
        .collect();
    let tube_c = outside.iter().sum::<f64>() / outside.len().max(1) as f64;
    Ok(Picture { isotherms, heat_lines, tube_c })
}

/// The stream function at the nodes. `crossed`: heat out through each edge of surface, underside and bore.
fn stream(mesh: &Mesh, section: &Section, rows: &[Row; 3], crossed: &[Vec<f64>; 3]) -> Option<Vec<f64>> {
    let half = section.spacing_m / 2.0;
    let mut known = vec![None; mesh.nodes.len()];
    let up: f64 = crossed[0].iter().sum();
    let down: f64 = crossed[1].iter().sum();
    for (i, [x, z]) in mesh.nodes.iter().enumerate() {
        if *x > half - 1e-9 {
            known[i] = Some(0.0);
        } else if *x < 1e-12 {
            known[i] = Some(if *z < section.tube.axis_depth_m { up } else { -down });
        }
    }
    let mut along = |row: &Row, heats: &[f64], from: f64, sign: f64| {
        let mut sum = from;
        for (([a, b], _), heat) in row.iter().zip(heats) {
            known[*a] = Some(sum);
            sum += sign * heat;
            known[*b] = Some(sum);
        }
    };
    along(&rows[0], &crossed[0], up, -1.0);
    along(&rows[1], &crossed[1], -down, 1.0);
    // the heat out of the bore is what goes up and down, but for rounding, and counts as a loss of the field
    let bore: f64 = crossed[2].iter().sum();
    let scale = if bore.abs() > 0.0 { (up + down) / bore } else { 0.0 };
    let scaled: Vec<f64> = crossed[2].iter().map(|h| h * scale).collect();
    along(&rows[2], &scaled, up, -1.0);

    let dual = Mesh {
        nodes: mesh.nodes.clone(),
        elements: mesh
            .elements
            .iter()
            .map(|e| {
                let mut e = *e;
                e.material.conductivity = 1.0 / e.material.conductivity;
                e
            })
            .collect(),
        // the stream passes a joint unchanged
        joints: mesh.joints.iter().map(|j| Joint { conductance: IMPOSED, ..*j }).collect(),
        ..Mesh::default()
    };
    let mut system = System::new(&dual);
    for j in &mesh.joints {
        // along a joint that resists, the stream resists by its conductance
        let [a, b] = j.inner;
        system.add_link(a as usize, b as usize, 1.0 / j.conductance, &mesh.nodes);
    }
    let mut side = vec![0.0; mesh.nodes.len()];
    for (i, value) in known.iter().enumerate() {
        if let Some(v) = value {
            system.impose(i, IMPOSED);
            side[i] = IMPOSED * v;
        }
    }
    system.factor(&mesh.nodes)?.solve(&[side]).pop()
}

/// Where a field has that value: across each triangle, each half of a quadrilateral, a straight piece.
fn level(mesh: &Mesh, field: &[f64], value: f64) -> Line {
    let mut pieces = Vec::new();
    for e in &mesh.elements {
        let c = e.corners.map(|i| i as usize);
        let halves: &[[usize; 3]] =
            if e.triangle { &[[c[0], c[1], c[2]]] } else { &[[c[0], c[1], c[2]], [c[0], c[2], c[3]]] };
        for t in halves {
            let mut ends = Vec::with_capacity(2);
            for (a, b) in [(t[0], t[1]), (t[1], t[2]), (t[2], t[0])] {
                let (u, v) = (field[a] - value, field[b] - value);
                if (u < 0.0) != (v < 0.0) {
                    let part = u / (u - v);
                    let (p, q) = (mesh.nodes[a], mesh.nodes[b]);
                    ends.push([p[0] + (q[0] - p[0]) * part, p[1] + (q[1] - p[1]) * part]);
                }
            }
            if let [p, q] = ends[..] {
                pieces.push([p[0], p[1], q[0], q[1]]);
            }
        }
    }
    Line { value, pieces }
}
