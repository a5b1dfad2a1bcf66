//! Conduction in time. The mesh's own stiffness and heat, projected onto its answers to each of the three sides at rates from
//! weeks down to a second (rational Krylov: A. Ruhe, Linear Algebra Appl. 58, 1984), and there taken apart into modes that
//! each decay by themselves. Between changes of what is around it a section is then exact in time, whatever the step.

use super::elements::Factor;
use super::mesh::Mesh;
use super::reduced::{Assembled, DOWN, UP, WATER, bore_film, dot};
use super::{Films, Section};
use faer::linalg::solvers::SelfAdjointEigen;
use faer::{Mat, Side};

/// Rates at which the section is asked, besides the steady state, 1/s: from a thick slab on the ground to a sheet of metal.
const SLOWEST: f64 = 3e-7;
const FASTEST: f64 = 1.0;
const RATES: usize = 13;
/// A direction that adds less than this to those before it is left out.
const NOTHING_NEW: f64 = 1e-7;
/// A mode that carries no more than this share of any answer follows at once.
const LEAST_SHARE: f64 = 2e-5;

/// A section's modes under given films, per half cell.
#[derive(Debug, Clone)]
pub(super) struct Modes {
    /// How fast each decays, 1/s.
    pub rates: Vec<f64>,
    /// How each side drives each mode, and the other way round; W/K to the root of J/K.
    pub gains: [Vec<f64>; 3],
    /// Values at the surface's nodes, a row for each.
    pub surface: Vec<Vec<f64>>,
    /// Of each side to one kelvin of another, all modes together, W/mK.
    pub steady: [[f64; 3]; 3],
    /// Warmth of the surface's nodes to one kelvin of each side.
    pub warmth: [Vec<f64>; 3],
    pub half_m: f64,
}

/// What a section answers at a time.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Answer {
    pub flux_up: f64,
    pub flux_down: f64,
    /// From above the tube to midway, °C.
    pub surface_c: Vec<f64>,
}

/// What is around a section, °C: room, below, water.
pub(super) type Sides = [f64; 3];

/// The mesh with its films, and what drives it.
pub(super) struct Whole {
    all: Assembled,
    nodes: Vec<[f64; 2]>,
    surface: Vec<u32>,
    /// By side at one kelvin, W/m.
    sources: [Vec<f64>; 3],
    half_m: f64,
}

impl Whole {
    pub fn new(section: &Section, refinement: usize, films: &Films) -> Whole {
        let mesh = Mesh::new(section, refinement);
        let h = [films.up, films.down, bore_film(section, films.water)];
        let all = Assembled::new(&mesh, h);
        let sources = [UP, DOWN, WATER].map(|p| all.source(p).into_iter().map(|v| v * h[p]).collect());
        Whole { all, nodes: mesh.nodes, surface: mesh.surface, sources, half_m: section.spacing_m / 2.0 }
    }

    /// Factorised with the heat held times a rate on its diagonal.
    fn at_rate(&self, rate: f64) -> Option<Factor> {
        let mut system = self.all.system.clone();
        for (node, heat) in self.all.system.heat.iter().enumerate() {
            system.impose(node, rate * heat);
        }
        system.factor(&self.nodes)
    }

    fn answer(&self, field: &[f64], sides: Sides) -> Answer {
        let into = |p: usize| {
            let conductance: f64 = self.sources[p].iter().sum();
            (dot(&self.sources[p], field) - conductance * sides[p]) / self.half_m
        };
        Answer {
            flux_up: into(UP),
            flux_down: into(DOWN),
            surface_c: self.surface.iter().map(|i| field[*i as usize]).collect(),
        }
    }

    /// The modes that matter. None where the mesh cannot be factorised.
    pub fn modes(&self) -> Option<Modes> {
        let heat = &self.all.system.heat;
        let weighed = |a: &[f64], b: &[f64]| a.iter().zip(b).zip(heat).map(|((x, y), c)| x * y * c).sum::<f64>();
        let mut basis: Vec<Vec<f64>> = vec![];
        let step = (FASTEST / SLOWEST).powf(1.0 / (RATES - 1) as f64);
        let rates = std::iter::once(0.0).chain((0..RATES).map(|k| SLOWEST * step.powi(k as i32)));
        for rate in rates {
            for mut v in self.at_rate(rate)?.solve(&self.sources) {
                let size = weighed(&v, &v).sqrt();
                // twice: the second pass takes away what rounding left of the first
                for _ in 0..2 {
                    for u in &basis {
                        let along = weighed(u, &v);
                        v.iter_mut().zip(u).for_each(|(a, b)| *a -= along * b);
                    }
                }
                let left = weighed(&v, &v).sqrt();
                if left > NOTHING_NEW * size {
                    v.iter_mut().for_each(|a| *a /= left);
                    basis.push(v);
                }
            }
        }
        let images: Vec<Vec<f64>> = basis.iter().map(|v| self.all.system.times(v)).collect();
        let n = basis.len();
        let projected = Mat::from_fn(n, n, |i, j| dot(&basis[i], &images[j]));
        let taken = SelfAdjointEigen::new(projected.as_ref(), Side::Lower).ok()?;
        let (shapes, rates) = (taken.U(), taken.S().column_vector());
        // a value of the basis, by mode
        let by_mode = |of_basis: &[f64]| -> Vec<f64> {
            (0..n).map(|k| (0..n).map(|i| shapes[(i, k)] * of_basis[i]).sum()).collect()
        };
        let gains =
            [UP, DOWN, WATER].map(|p| by_mode(&basis.iter().map(|v| dot(v, &self.sources[p])).collect::<Vec<_>>()));
        let surface: Vec<Vec<f64>> =
            (self.surface.iter()).map(|i| by_mode(&basis.iter().map(|v| v[*i as usize]).collect::<Vec<_>>())).collect();
        let over_rate = |a: &[f64], b: &[f64], k: usize| a[k] * b[k] / rates[k];
        let sum = |a: &[f64], b: &[f64]| (0..n).map(|k| over_rate(a, b, k)).sum::<f64>();
        let steady = [UP, DOWN, WATER].map(|p| [UP, DOWN, WATER].map(|q| sum(&gains[p], &gains[q])));
        let warmth = [UP, DOWN, WATER].map(|p| surface.iter().map(|s| sum(s, &gains[p])).collect::<Vec<f64>>());
        let matters = |k: usize| {
            let part = |a: &[f64], q: usize, whole: f64| over_rate(a, &gains[q], k).abs() > LEAST_SHARE * whole.abs();
            (0..3).any(|q| {
                part(&gains[UP], q, steady[UP][q])
                    || part(&gains[DOWN], q, steady[DOWN][q])
                    || surface.first().is_some_and(|s| part(s, q, warmth[q][0]))
            })
        };
        let kept: Vec<usize> = (0..n).filter(|k| matters(*k)).collect();
        let of = |v: &[f64]| kept.iter().map(|k| v[*k]).collect::<Vec<f64>>();
        Some(Modes {
            rates: kept.iter().map(|k| rates[*k]).collect(),
            gains: [UP, DOWN, WATER].map(|p| of(&gains[p])),
            surface: surface.iter().map(|s| of(s)).collect(),
            steady,
            warmth,
            half_m: self.half_m,
        })
    }

    /// The whole mesh in time, from its steady state between `before` to what is around it from then on: its answers at times
    /// that grow by a half up to `last_s`. Implicit Euler with 1 to 4 steps, extrapolated (P. Deuflhard, SIAM Rev. 27, 1985). Dear: for
    /// measuring what the modes leave out.
    pub fn in_time(&self, before: Sides, after: Sides, last_s: f64) -> Option<Vec<(f64, Answer)>> {
        const RATIO: f64 = 1.5;
        const FIRST_S: f64 = 2.0;
        const STEPS: usize = 4;
        let steady = self.at_rate(0.0)?.solve(&self.sources);
        let mixed = |of: &[Vec<f64>], sides: Sides| -> Vec<f64> {
            (0..self.nodes.len()).map(|i| (0..3).map(|p| of[p][i] * sides[p]).sum()).collect()
        };
        let mut field = mixed(&steady, before);
        let drive = mixed(&self.sources, after);
        let mut times = vec![last_s];
        while times[times.len() - 1] > FIRST_S * RATIO {
            times.push(times[times.len() - 1] / RATIO);
        }
        times.reverse();
        let mut out = vec![];
        let mut now = 0.0;
        for time in times {
            let mut tried: Vec<Vec<f64>> = vec![];
            for n in 1..=STEPS {
                let rate = n as f64 / (time - now);
                let factor = self.at_rate(rate)?;
                let mut v = field.clone();
                for _ in 0..n {
                    let side: Vec<f64> =
                        (0..v.len()).map(|i| rate * self.all.system.heat[i] * v[i] + drive[i]).collect();
                    v = factor.solve(&[side]).remove(0);
                }
                tried.push(v);
            }
            // Aitken and Neville: errors in powers of the step
            for j in 1..STEPS {
                for k in (j..STEPS).rev() {
                    let ratio = (k + 1) as f64 / (k + 1 - j) as f64 - 1.0;
                    let gained: Vec<f64> = (0..field.len()).map(|i| (tried[k][i] - tried[k - 1][i]) / ratio).collect();
                    tried[k].iter_mut().zip(gained).for_each(|(a, g)| *a += g);
                }
            }
            field = tried.swap_remove(STEPS - 1);
            now = time;
            out.push((time, self.answer(&field, after)));
        }
        Some(out)
    }
}

impl Modes {
    /// What all modes together make of an answer to one kelvin of a side, once they have come to rest.
    pub fn slow(&self, answer: &[f64], side: usize) -> f64 {
        (0..self.rates.len()).map(|k| answer[k] * self.gains[side][k] / self.rates[k]).sum()
    }

    /// So long after what is around it went at once from `before`, with the section in its steady state, to `after`.
    pub fn after_step(&self, before: Sides, after: Sides, time_s: f64) -> Answer {
        // what is not there yet, by mode
        let missing: Vec<f64> = (0..self.rates.len())
            .map(|k| {
                let step: f64 = (0..3).map(|p| self.gains[p][k] * (after[p] - before[p])).sum();
                step / self.rates[k] * (-self.rates[k] * time_s).exp()
            })
            .collect();
        let into = |p: usize| {
            let steady: f64 = (0..3).map(|q| self.steady[p][q] * after[q]).sum();
            let own: f64 = self.steady[p].iter().sum::<f64>() * after[p];
            (steady - own - dot(&self.gains[p], &missing)) / self.half_m
        };
        let surface = |i: usize| {
            let steady: f64 = (0..3).map(|p| self.warmth[p][i] * after[p]).sum();
            steady - dot(&self.surface[i], &missing)
        };
        Answer { flux_up: into(UP), flux_down: into(DOWN), surface_c: (0..self.surface.len()).map(surface).collect() }
    }
}
