//! A bound that no plan can be under: the linear relaxation over all fillings of coils (Gilmore and Gomory 1961), by its dual.
//!
//! The dual prices every piece so that no filling of a coil is worth more than the coil costs, and the pieces together as much
//! as can be. Fillings that are worth more are found one by one and become constraints. Where the search for them gives up, all
//! prices are lowered by the share by which a filling may still be over (Farley 1990): what comes out is a bound in any case.

use super::fill::{Filling, Item, by_worth, fill};
use super::pack::{Bin, Kind};
use microlp::{ComparisonOp, OptimizationDirection, Problem, Solution, Variable};

/// Rounds of looking for fillings that are worth too much.
const MOST_ROUNDS: usize = 400;
/// Fillings of a kind that are taken in a round, each of pieces that the others leave.
const A_ROUND: usize = 12;
/// Places that one search looks at.
const NODES: usize = 60_000;
/// A filling is worth too much from this share on.
const OVER: f64 = 1e-7;

/// What pieces are worth, in units of the objective.
#[derive(Debug, Clone)]
pub(super) struct Prices {
    /// By piece.
    pub piece: Vec<f64>,
    /// What another coil of a limited kind would save, by kind.
    pub kind: Vec<f64>,
    /// No plan costs less.
    pub bound: f64,
}

/// Prices of the pieces. `start` are fillings to begin with; `enough` says whether a bound settles the matter.
pub(super) fn prices(kinds: &[Kind], pieces: &[u64], start: &[Bin], enough: impl Fn(f64) -> bool) -> Prices {
    let nothing = Prices { piece: vec![0.0; pieces.len()], kind: vec![0.0; kinds.len()], bound: 0.0 };
    let unit = kinds.iter().map(|k| k.cost as f64).fold(0.0, f64::max);
    if unit <= 0.0 {
        return nothing;
    }
    let relaxed = Relaxed { kinds, pieces, unit };
    let mut best = nothing;
    let Some((piece_of, kind_of, mut solution)) = relaxed.begin(start) else { return best };
    for _ in 0..MOST_ROUNDS {
        let value = |v: &Variable| solution.var_value(*v).max(0.0);
        let now = Prices {
            piece: piece_of.iter().map(value).collect(),
            kind: kind_of.iter().map(value).collect(),
            bound: 0.0,
        };
        let (over, lowered) = relaxed.over(&now);
        if lowered.bound > best.bound {
            best = lowered;
        }
        if over.is_empty() || enough(best.bound) {
            break;
        }
        for (kind, filling) in over {
            let row = relaxed.row(kind, &filling, &piece_of, &kind_of);
            let added = solution.add_constraint(row.as_slice(), ComparisonOp::Le, kinds[kind].cost as f64 / unit);
            match added.ok().and_then(|outcome| outcome.into_solution().ok()) {
                Some(next) => solution = next,
                None => return best,
            }
        }
    }
    best
}

struct Relaxed<'a> {
    kinds: &'a [Kind],
    pieces: &'a [u64],
    /// The dearest coil: prices are solved as shares of it.
    unit: f64,
}

impl Relaxed<'_> {
    fn limited(&self, kind: usize) -> bool {
        self.kinds[kind].stock < self.pieces.len()
    }

    /// The dual with the constraints of some fillings.
    fn begin(&self, start: &[Bin]) -> Option<(Vec<Variable>, Vec<Variable>, Solution)> {
        let mut problem = Problem::new(OptimizationDirection::Maximize);
        let alone = |size: u64| {
            let holds = self.kinds.iter().enumerate().filter(|(i, k)| k.holds >= size && !self.limited(*i));
            // a piece alone on the cheapest coil; where stocks end it may be worth more than all of them
            holds.map(|(_, k)| k.cost as f64 / self.unit).fold(self.pieces.len() as f64, f64::min)
        };
        let piece_of: Vec<Variable> =
            self.pieces.iter().map(|size| problem.add_var(1.0, (0.0, alone(*size)))).collect();
        let of_kind = |(i, k): (usize, &Kind)| {
            let most = if self.limited(i) { self.pieces.len() as f64 * self.pieces.len() as f64 } else { 0.0 };
            problem.add_var(-(k.stock as f64), (0.0, most))
        };
        let kind_of: Vec<Variable> = self.kinds.iter().enumerate().map(of_kind).collect();
        for bin in start {
            let row = self.row(bin.kind, &bin.pieces, &piece_of, &kind_of);
            problem.add_constraint(row.as_slice(), ComparisonOp::Le, self.kinds[bin.kind].cost as f64 / self.unit);
        }
        let solution = problem.solve().ok()?.into_solution().ok()?;
        Some((piece_of, kind_of, solution))
    }

    fn row(&self, kind: usize, filling: &[usize], piece_of: &[Variable], kind_of: &[Variable]) -> Vec<(Variable, f64)> {
        let mut row: Vec<(Variable, f64)> = filling.iter().map(|p| (piece_of[*p], 1.0)).collect();
        if self.limited(kind) {
            row.push((kind_of[kind], -1.0));
        }
        row
    }

    /// Fillings that are worth more than their coil, and the prices lowered until none is.
    fn over(&self, now: &Prices) -> (Vec<(usize, Vec<usize>)>, Prices) {
        let (mut out, mut share) = (Vec::new(), 1.0_f64);
        for (i, kind) in self.kinds.iter().enumerate() {
            let cost = kind.cost as f64 / self.unit;
            let most = (cost + now.kind[i]) * (1.0 + OVER);
            let mut items: Vec<Item> = self.items(now);
            for round in 0..A_ROUND {
                let Filling { pieces, bound, .. } = fill(&items, kind.holds, most.max(OVER), NODES);
                if round == 0 && bound > cost + now.kind[i] {
                    share = share.min(cost / (bound - now.kind[i]));
                }
                if pieces.is_empty() {
                    break;
                }
                items.retain(|item| !pieces.contains(&item.piece));
                out.push((i, pieces));
            }
        }
        let scale = share * self.unit;
        let piece: Vec<f64> = now.piece.iter().map(|p| p * scale).collect();
        let kind: Vec<f64> = now.kind.iter().map(|k| k * scale).collect();
        let stocks = |(k, saves): (&Kind, &f64)| k.stock as f64 * saves;
        let bound = piece.iter().sum::<f64>() - self.kinds.iter().zip(&kind).map(stocks).sum::<f64>();
        (out, Prices { piece, kind, bound })
    }

    fn items(&self, now: &Prices) -> Vec<Item> {
        let of = |(piece, (size, value)): (usize, (&u64, &f64))| Item { piece, size: *size, value: *value };
        let mut items: Vec<Item> = self.pieces.iter().zip(&now.piece).enumerate().map(of).collect();
        by_worth(&mut items);
        items
    }
}
