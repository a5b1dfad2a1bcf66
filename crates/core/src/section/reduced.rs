//! A solved mesh as a handful of numbers that hold for any films.
//!
//! The films enter the system only through its three boundaries: `K = K_c + Σ h_p·M_p` over surface, underside and bore.
//! Projected onto the solutions for one set of films and their answers to a change of each film (matching of moments:
//! the first derivatives of the solution by the films are exact), the system keeps its symmetry and its
//! balance of heat, and shrinks to about a dozen unknowns. The tests compare it with solutions made afresh.

use super::elements::{Factor, Row, System, row};
use super::mesh::Mesh;
use super::{Films, Profile, Section};
use faer::linalg::solvers::Solve;
use faer::{Mat, Side};

/// Films about which the system is reduced, W/m²K: of a heated floor, of an underside, of water between laminar and
/// turbulent.
const ABOUT: [f64; 3] = [9.0, 4.0, 600.0];
/// A bore as warm as the water.
const IMPOSED: f64 = 1e7;
/// A direction that adds less than this to those before it is left out.
const NOTHING_NEW: f64 = 1e-9;

pub(super) const UP: usize = 0;
pub(super) const DOWN: usize = 1;
pub(super) const WATER: usize = 2;

#[derive(Debug)]
pub(super) struct Reduced {
    /// Conduction without films.
    conduction: Mat<f64>,
    /// Films of unit conductance: matrix and right-hand side.
    films: [(Mat<f64>, Vec<f64>); 3],
    heat: Mat<f64>,
    heat_of_all: Vec<f64>,
    /// Values of the basis at the surface's nodes.
    surface: Vec<Vec<f64>>,
    x_m: Vec<f64>,
    half: f64,
    /// Half the bore's circumference as the mesh has it, m.
    bore_m: f64,
    imposed_bore: bool,
}

/// What one mesh says; names as in [`super::Conductances`].
#[derive(Debug, Clone, Copy)]
pub(super) struct Response {
    pub up: f64,
    pub through: f64,
    pub down: f64,
    pub balance: f64,
    pub heat: f64,
    pub delay: f64,
}

pub(super) fn dot(a: &[f64], b: &[f64]) -> f64 {
    a.iter().zip(b).map(|(x, y)| x * y).sum()
}

/// A film of unit conductance on a vector.
fn film(row: &Row, v: &[f64]) -> Vec<f64> {
    let mut out = vec![0.0; v.len()];
    for &([a, b], length) in row {
        out[a] += length * (v[a] / 3.0 + v[b] / 6.0);
        out[b] += length * (v[b] / 3.0 + v[a] / 6.0);
    }
    out
}

/// The system of a mesh with its films put on.
pub(super) struct Assembled {
    pub system: System,
    pub rows: [Row; 3],
}

impl Assembled {
    pub fn new(mesh: &Mesh, films: [f64; 3]) -> Assembled {
        let rows = [row(mesh, &mesh.surface), row(mesh, &mesh.underside), row(mesh, &mesh.bore)];
        let mut system = System::new(mesh);
        for (row, h) in rows.iter().zip(films) {
            system.add_film(row, h);
        }
        Assembled { system, rows }
    }

    /// Right-hand side of one side at one kelvin behind a film of unit conductance.
    pub fn source(&self, side: usize) -> Vec<f64> {
        film(&self.rows[side], &vec![1.0; self.system.heat.len()])
    }
}

/// The bore's film, or one that imposes its temperature.
pub(super) fn bore_film(section: &Section, film: f64) -> f64 {
    if section.imposed_bore { IMPOSED } else { film }
}

impl Reduced {
    pub fn new(mesh: &Mesh, section: &Section) -> Option<Reduced> {
        let about = [ABOUT[UP], ABOUT[DOWN], bore_film(section, ABOUT[WATER])];
        let mut all = Assembled::new(mesh, about);
        let factor = all.system.factor(&mesh.nodes)?;
        let basis = basis(&all, &factor, section.imposed_bore);
        let n = basis.len();
        // both matrices are symmetric: one triangle tells the other
        let project = |images: &[Vec<f64>]| {
            let mut out = Mat::zeros(n, n);
            for i in 0..n {
                for j in 0..=i {
                    let value = dot(&basis[i], &images[j]);
                    out[(i, j)] = value;
                    out[(j, i)] = value;
                }
            }
            out
        };
        let whole: Vec<Vec<f64>> = basis.iter().map(|v| all.system.times(v)).collect();
        let mut conduction = project(&whole);
        let films = [UP, DOWN, WATER].map(|p| {
            let mut matrix = Mat::zeros(n, n);
            let mut source = vec![0.0; n];
            for &([a, b], length) in &all.rows[p] {
                for i in 0..n {
                    let (u, v) = (basis[i][a] * length, basis[i][b] * length);
                    source[i] += 0.5 * (u + v);
                    for j in 0..n {
                        let (s, t) = (basis[j][a], basis[j][b]);
                        matrix[(i, j)] += u * (s / 3.0 + t / 6.0) + v * (t / 3.0 + s / 6.0);
                    }
                }
            }
            (matrix, source)
        });
        for (p, h) in about.iter().enumerate() {
            conduction -= faer::Scale(*h) * &films[p].0;
        }
        let held: Vec<Vec<f64>> =
            basis.iter().map(|v| v.iter().zip(&all.system.heat).map(|(a, c)| a * c).collect()).collect();
        let heat = project(&held);
        let heat_of_all = held.iter().map(|h| h.iter().sum()).collect();
        Some(Reduced {
            conduction,
            films,
            heat,
            heat_of_all,
            surface: mesh.surface.iter().map(|&i| basis.iter().map(|v| v[i as usize]).collect()).collect(),
            x_m: mesh.surface.iter().map(|&i| mesh.nodes[i as usize][0]).collect(),
            half: section.spacing_m / 2.0,
            bore_m: all.rows[WATER].iter().map(|(_, length)| length).sum(),
            imposed_bore: section.imposed_bore,
        })
    }

    /// The three states of the section: room, below and water at one kelvin, the others at none.
    fn states(&self, films: &Films) -> ([f64; 3], [Vec<f64>; 3]) {
        let h = [films.up, films.down, if self.imposed_bore { IMPOSED } else { films.water }];
        let n = self.conduction.nrows();
        let mut matrix = self.conduction.clone();
        for (p, h) in h.iter().enumerate() {
            matrix += faer::Scale(*h) * &self.films[p].0;
        }
        let sides = Mat::from_fn(n, 3, |i, p| h[p] * self.films[p].1[i]);
        let solved = match matrix.llt(Side::Lower) {
            Ok(factor) => factor.solve(&sides),
            Err(_) => matrix.partial_piv_lu().solve(&sides),
        };
        (h, [UP, DOWN, WATER].map(|p| solved.col(p).iter().copied().collect()))
    }

    pub fn at(&self, films: &Films) -> (Response, Profile) {
        let (h, state) = self.states(films);
        let half = self.half;
        let between = |p: usize, q: usize| h[p] * dot(&self.films[p].1, &state[q]) / half;
        let up = between(UP, WATER);
        let held = &self.heat * Mat::from_fn(state[WATER].len(), 1, |i, _| state[WATER][i]);
        let late: f64 = state[UP].iter().enumerate().map(|(i, a)| a * held[(i, 0)]).sum();
        let down = between(DOWN, WATER);
        let given = h[WATER] * (self.bore_m - dot(&self.films[WATER].1, &state[WATER])) / half;
        let response = Response {
            up,
            through: between(UP, DOWN),
            down,
            balance: ((given - up - down) / given).abs(),
            heat: dot(&self.heat_of_all, &state[WATER]) / half,
            delay: late / (up * half),
        };
        let across = |p: usize| self.surface.iter().map(|v| dot(v, &state[p])).collect();
        (response, Profile { x_m: self.x_m.clone(), water: across(WATER), below: across(DOWN) })
    }
}

/// Solutions for the films about which the system is reduced and their first derivatives by the films; orthonormal.
fn basis(all: &Assembled, factor: &Factor, imposed_bore: bool) -> Vec<Vec<f64>> {
    let first = factor.solve(&[UP, DOWN, WATER].map(|p| all.source(p)));
    // what one film does to the solution of another counts where the two meet: surface and bore
    let mut pairs = vec![(UP, UP), (DOWN, DOWN), (UP, WATER), (DOWN, WATER)];
    if !imposed_bore {
        pairs.extend([(WATER, WATER), (WATER, UP), (WATER, DOWN)]);
    }
    let second = factor.solve(&pairs.iter().map(|&(p, q)| film(&all.rows[p], &first[q])).collect::<Vec<_>>());
    let mut out: Vec<Vec<f64>> = Vec::new();
    for mut v in first.into_iter().chain(second) {
        let size = dot(&v, &v).sqrt();
        // twice: the second pass takes away what rounding left of the first
        for _ in 0..2 {
            for u in &out {
                let along = dot(u, &v);
                v.iter_mut().zip(u).for_each(|(a, b)| *a -= along * b);
            }
        }
        let left = dot(&v, &v).sqrt();
        if left > NOTHING_NEW * size {
            v.iter_mut().for_each(|a| *a /= left);
            out.push(v);
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::floor::{self, Parts};
    use crate::library;

    /// The same mesh solved with those films on it: heat up, through and down per kelvin, and warmth of the surface.
    fn directly(mesh: &Mesh, section: &Section, films: &Films) -> ([f64; 3], f64) {
        let h = [films.up, films.down, bore_film(section, films.water)];
        let mut all = Assembled::new(mesh, h);
        let sides: Vec<Vec<f64>> =
            [DOWN, WATER].iter().map(|&p| all.source(p).iter().map(|v| v * h[p]).collect()).collect();
        let solved = all.system.factor(&mesh.nodes).expect("factors").solve(&sides);
        let into = |p: usize, v: &[f64]| h[p] * dot(&all.source(p), v) / (section.spacing_m / 2.0);
        let crest = solved[1][mesh.surface[0] as usize];
        ([into(UP, &solved[1]), into(UP, &solved[0]), into(DOWN, &solved[1])], crest)
    }

    /// Films from those of a cool floor to outdoor air, from soil to wind, from laminar to fast water: what is left out
    /// of the basis stays far below the error of the grid.
    #[test]
    fn the_reduced_section_is_the_section_under_any_films() {
        for id in ["slab-raised", "panel-board", "joist-extruded", "joist-bare", "wall-board"] {
            let build_up = library::build_up(id).expect("there");
            let tube = library::tube(if id == "wall-board" { "pex-12x1.3" } else { "pex-16x2" }).expect("tube");
            let covering = library::covering("tile");
            let parts = Parts { build_up, covering, rug_m2k_w: 0.0, tube, spacing_m: 0.25, insulation_m2k_w: None };
            let section = floor::section(&parts, &library::material).expect("builds");
            let mesh = Mesh::new(&section, 1);
            let reduced = Reduced::new(&mesh, &section).expect("solves");
            for up in [5.0, 10.8, 25.0] {
                for down in [0.3, 5.9, 25.0, 100.0] {
                    for water in [160.0, 700.0, 6000.0] {
                        let films = Films { up, down, water };
                        let (want, crest) = directly(&mesh, &section, &films);
                        let (got, profile) = reduced.at(&films);
                        for (got, want) in [got.up, got.through, got.down].iter().zip(want) {
                            // ground that touches it is far from the films about which it is reduced
                            let near = if down > 50.0 { 5e-3 } else { 5e-4 };
                            assert!((got / want - 1.0).abs() < near, "{id} {films:?}: {got} {want}");
                        }
                        let got = profile.water[0];
                        // 0.3 % of the least warmth there is, that over a bare tube under a cold wind
                        assert!((got / crest - 1.0).abs() < 4e-3, "{id} {films:?}: {got} {crest}");
                    }
                }
            }
        }
    }
}
