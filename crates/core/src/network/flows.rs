//! Flows and pressures: Newton on both together, one sparse symmetric system a step (the global gradient algorithm: E. Todini,
//! S. Pilati, "A gradient method for the analysis of pipe networks", 1988).
//!
//! Flows start as a circulation (none at all) and each step changes them by one, so that what flows into a node flows out of
//! it at every step. Among circulations the right one has least energy (the content of J. S. Cross and B. L. Millar, and of
//! M. Collins and others, "Solving the pipe network analysis problem using optimization techniques", Management Science 24,
//! 1978): every part's pressure drop grows with its flow, so that energy is convex, and a step that is cut where energy along
//! it is least cannot go astray. That is why a connected network always has its answer, check valves and pumps included.

use super::pump::Running;
use crate::flow::{GRAVITY, ROUGHNESS_M, friction_and_slope};
use faer::dyn_stack::{MemBuffer, MemStack};
use faer::linalg::cholesky::llt::factor::LltRegularization;
use faer::sparse::linalg::SupernodalThreshold;
use faer::sparse::linalg::cholesky::{
    CholeskySymbolicParams, LltRef, SymbolicCholesky, SymmetricOrdering, factorize_symbolic_cholesky,
};
use faer::sparse::{SparseColMat, SymbolicSparseColMat};
use faer::{Conj, MatMut, Par, Side, Spec};
use std::f64::consts::PI;

/// What is shut lets through one part in a thousand million of what flows elsewhere, or less, Pa per m³/s.
const SHUT: f64 = 1e17;
/// What has no resistance of its own, Pa per m³/s: 1 Pa at 60 L/min.
const OPEN: f64 = 1e3;
/// Below this Reynolds number friction is that of laminar flow, exactly.
const CREEPING: f64 = 1.0;
const MOST_STEPS: usize = 200;
/// Energy that a step would still change, against the energy that flows: flows are then right to ten digits.
const ENOUGH: f64 = 1e-20;

/// Density and viscosity of what a part carries.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Carried {
    /// kg/m³
    pub density: f64,
    /// Pa·s
    pub viscosity: f64,
}

/// How a part resists.
#[derive(Debug, Clone)]
pub(super) enum Law {
    /// A tube: lengths in m.
    Tube { length: f64, bore: f64, roughness: f64, minor: f64, check: bool },
    /// A flow factor, m³/h at 1 bar.
    Kv(f64),
    /// Nothing to speak of.
    Open,
    /// Shut.
    Shut,
    /// A pump.
    Pump(Running),
}

/// One way through the network.
#[derive(Debug, Clone)]
pub(super) struct Way {
    pub from: usize,
    pub to: usize,
    pub law: Law,
}

pub(super) fn area(bore: f64) -> f64 {
    PI * bore * bore / 4.0
}

impl Law {
    /// Pressure drop along a flow, Pa, and its slope, which is positive.
    fn at(&self, q: f64, carried: Carried) -> (f64, f64) {
        let (rho, mu) = (carried.density, carried.viscosity);
        match self {
            Law::Tube { check: true, .. } | Law::Shut if q < 0.0 || matches!(self, Law::Shut) => (SHUT * q, SHUT),
            Law::Tube { length, bore, roughness, minor, .. } => {
                let size = q.abs().max(1e-15);
                let v = size / area(*bore);
                let reynolds = rho * v * bore / mu;
                let dynamic = rho * v * v / 2.0;
                // friction grows with a power of the flow that changes with the regime
                let (friction, power) = if reynolds < CREEPING {
                    (32.0 * mu * length * v / (bore * bore), 1.0)
                } else {
                    let (f, slope) = friction_and_slope(reynolds, roughness / bore);
                    (f * length / bore * dynamic, 2.0 + slope)
                };
                let fittings = minor * dynamic;
                ((friction + fittings) * q / size, (power * friction + 2.0 * fittings) / size)
            }
            Law::Kv(kv) => {
                let k = 1e5 * rho / 1000.0 * (3600.0 / kv).powi(2);
                // a still valve's slope is not nothing
                let size = q.abs().max(1e-9);
                (k * q * size, if q.abs() < size { k * size } else { 2.0 * k * size })
            }
            Law::Open => (OPEN * q, OPEN),
            Law::Shut => (SHUT * q, SHUT),
            Law::Pump(running) => {
                let (head, slope) = running.at(q);
                (-head * rho * GRAVITY, -slope * rho * GRAVITY)
            }
        }
    }

    /// A flow such as it usually carries, m³/s.
    fn typical(&self) -> f64 {
        match self {
            Law::Tube { bore, .. } => 0.4 * area(*bore),
            // at 5 kPa
            Law::Kv(kv) => kv / 3600.0 * 0.05_f64.sqrt(),
            Law::Open | Law::Shut => 1e-4,
            Law::Pump(running) => running.typical(),
        }
    }
}

/// The same where rounding allows no better.
const NEAR: f64 = 1e-14;

/// The steps' system, its pattern worked out once.
pub(super) struct Flows {
    /// The unknown of a node; none where its pressure is given.
    unknown: Vec<Option<usize>>,
    /// Where a way's off-diagonal stands, and its ends' diagonals.
    places: Vec<[Option<usize>; 3]>,
    pattern: SymbolicSparseColMat<usize>,
    symbolic: SymbolicCholesky<usize>,
    values: Vec<f64>,
    factor: Vec<f64>,
    memory: MemBuffer,
}

/// Flows in m³/s along each way, pressures in Pa at each node.
pub(super) struct Found {
    pub steps: usize,
    /// Share of the energy that flows by which the last step would have changed it, as its root.
    pub residual: f64,
}

impl Flows {
    /// Of ways between so many nodes; `grounds` are nodes whose pressure is nought, one for each part that hangs together.
    pub fn new(nodes: usize, grounds: &[usize], ways: &[Way]) -> Option<Flows> {
        let mut unknown = vec![None; nodes];
        let mut n = 0;
        for (node, slot) in unknown.iter_mut().enumerate() {
            if !grounds.contains(&node) {
                *slot = Some(n);
                n += 1;
            }
        }
        // columns of the lower half
        let mut columns: Vec<Vec<usize>> = (0..n).map(|i| vec![i]).collect();
        for way in ways {
            if let (Some(i), Some(j)) = (unknown[way.from], unknown[way.to])
                && i != j
            {
                columns[i.min(j)].push(i.max(j));
            }
        }
        let (mut starts, mut rows) = (vec![0], Vec::new());
        for column in &mut columns {
            column.sort_unstable();
            column.dedup();
            rows.extend(column.iter().copied());
            starts.push(rows.len());
        }
        let place = |i: usize, j: usize| {
            let (row, column) = (i.max(j), i.min(j));
            starts[column] + rows[starts[column]..starts[column + 1]].partition_point(|r| *r < row)
        };
        let places = ways
            .iter()
            .map(|w| {
                let (i, j) = (unknown[w.from], unknown[w.to]);
                let between = i.zip(j).filter(|(i, j)| i != j).map(|(i, j)| place(i, j));
                [between, i.map(|i| place(i, i)), j.map(|j| place(j, j))]
            })
            .collect();
        let values = vec![0.0; rows.len()];
        let pattern = SymbolicSparseColMat::new_checked(n, n, starts, None, rows);
        let params = CholeskySymbolicParams {
            supernodal_flop_ratio_threshold: SupernodalThreshold::FORCE_SIMPLICIAL,
            ..CholeskySymbolicParams::default()
        };
        let symbolic =
            factorize_symbolic_cholesky(pattern.as_ref(), Side::Lower, SymmetricOrdering::Amd, params).ok()?;
        let scratch = symbolic
            .factorize_numeric_llt_scratch::<f64>(Par::Seq, Spec::default())
            .or(symbolic.solve_in_place_scratch::<f64>(1, Par::Seq));
        let factor = vec![0.0; symbolic.len_val()];
        Some(Flows { unknown, places, pattern, symbolic, values, factor, memory: MemBuffer::new(scratch) })
    }

    /// Changes `q` from a circulation to the one at which every pressure has one value; `p` takes the pressures.
    ///
    /// # Errors
    /// The way that was farthest from it, where that is not found.
    pub fn solve(&mut self, ways: &[Way], carried: &[Carried], q: &mut [f64], p: &mut [f64]) -> Result<Found, usize> {
        let mut moved = vec![0.0; ways.len()];
        let mut laws = vec![(0.0, 0.0); ways.len()];
        let mut last = f64::INFINITY;
        let still = q.iter().all(|q| *q == 0.0);
        for step in 0..MOST_STEPS {
            for (i, (way, carried)) in ways.iter().zip(carried).enumerate() {
                laws[i] = way.law.at(q[i], *carried);
                if step == 0 && still {
                    // at rest most parts resist little: the first step goes by what they do in use
                    laws[i].1 = laws[i].1.max(way.law.at(way.law.typical(), *carried).1);
                }
            }
            self.step(ways, &laws, q, p).ok_or(0_usize)?;
            let (mut change, mut energy) = (0.0, 0.0);
            for (i, way) in ways.iter().enumerate() {
                let (drop, slope) = laws[i];
                moved[i] = (p[way.from] - p[way.to] - drop) / slope;
                change += slope * moved[i] * moved[i];
                energy += (drop * q[i]).abs();
            }
            if !change.is_finite() {
                return Err(farthest(&laws, &moved));
            }
            // as near as figures of this length come: the next step would change as much
            let at_rest = change <= NEAR * energy && change > 0.25 * last;
            last = change;
            if change <= ENOUGH * energy || change < 1e-24 || at_rest {
                let residual = if energy > 0.0 { (change / energy).sqrt() } else { 0.0 };
                return Ok(Found { steps: step, residual });
            }
            let t = share_of_step(ways, carried, q, &moved, p, change);
            for (q, by) in q.iter_mut().zip(&moved) {
                *q += t * by;
            }
        }
        Err(farthest(&laws, &moved))
    }

    /// Pressures of a step, by the laws' drops and slopes at the flows as they are.
    fn step(&mut self, ways: &[Way], laws: &[(f64, f64)], q: &[f64], p: &mut [f64]) -> Option<()> {
        self.values.fill(0.0);
        let mut right = vec![0.0; self.pattern.nrows()];
        for (i, way) in ways.iter().enumerate() {
            if way.from == way.to {
                continue;
            }
            let (drop, slope) = laws[i];
            let yields = 1.0 / slope;
            let flow = drop * yields - q[i];
            let [between, from, to] = self.places[i];
            for (place, node, sign) in [(from, way.from, 1.0), (to, way.to, -1.0)] {
                if let (Some(place), Some(k)) = (place, self.unknown[node]) {
                    self.values[place] += yields;
                    right[k] += sign * flow;
                }
            }
            if let Some(place) = between {
                self.values[place] -= yields;
            }
        }
        if right.is_empty() {
            return Some(());
        }
        let matrix = SparseColMat::new(self.pattern.clone(), self.values.clone());
        let stack = MemStack::new(&mut self.memory);
        let n = right.len();
        self.symbolic
            .factorize_numeric_llt(
                &mut self.factor,
                matrix.as_ref(),
                Side::Lower,
                LltRegularization::default(),
                Par::Seq,
                stack,
                Spec::default(),
            )
            .ok()?;
        LltRef::new(&self.symbolic, &self.factor).solve_in_place_with_conj(
            Conj::No,
            MatMut::from_column_major_slice_mut(&mut right, n, 1),
            Par::Seq,
            MemStack::new(&mut self.memory),
        );
        for (node, unknown) in self.unknown.iter().enumerate() {
            p[node] = unknown.map_or(0.0, |k| right[k]);
        }
        Some(())
    }
}

/// The way whose step weighs most.
fn farthest(laws: &[(f64, f64)], moved: &[f64]) -> usize {
    let weight = |i: &usize| laws[*i].1 * moved[*i] * moved[*i];
    (0..moved.len()).max_by(|a, b| weight(a).total_cmp(&weight(b))).unwrap_or(0)
}

/// How much of a step is taken: all of it where energy still falls at its end or hardly rises there, else as far as energy
/// falls. Its slope along the step grows steadily, so that halving finds the place; the end at which energy rises is taken,
/// so that a check valve is left shut and not just open.
fn share_of_step(ways: &[Way], carried: &[Carried], q: &[f64], moved: &[f64], p: &[f64], change: f64) -> f64 {
    let slope = |t: f64| -> f64 {
        let of = ways.iter().zip(carried).zip(q).zip(moved);
        // along a circulation pressures add up to nothing: with them the small difference is not one of large sums
        of.map(|(((way, carried), q), by)| (way.law.at(q + t * by, *carried).0 - (p[way.from] - p[way.to])) * by).sum()
    };
    // at its beginning energy falls by what the step would change
    if slope(1.0) <= 0.5 * change {
        return 1.0;
    }
    let (mut low, mut high) = (0.0, 1.0);
    for _ in 0..60 {
        let middle = f64::midpoint(low, high);
        let s = slope(middle);
        if s <= 0.0 {
            low = middle
        } else {
            high = middle
        }
        if s > 0.0 && s < 0.1 * change {
            break;
        }
    }
    high
}

/// Roughness where none is given: plastic tube.
pub(super) const SMOOTH: f64 = ROUGHNESS_M;
