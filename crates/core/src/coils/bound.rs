//! A bound that no plan can be under: the linear relaxation over all fillings of coils (Gilmore and Gomory 1961), by its dual.
//!
//! The dual prices every piece so that no filling of a coil is worth more than the coil costs, and the pieces together as much
//! as can be. Fillings that are worth more are found one by one and become constraints. Where the search for them gives up, all
//! prices are lowered by the share by which a filling may still be over (Farley 1990): what comes out is a bound in any case.

use super::fill::{Filling, Item, by_worth, fill};
use super::pack::{Bin, Kind};
use microlp::{ComparisonOp, OptimizationDirection, Problem, Variable};

/// Rounds of looking for fillings that are worth too much, times the pieces.
const ROUNDS_WORK: usize = 5_000;
/// Fillings of a kind that are taken in a round, each of pieces that the others leave.
const A_ROUND: usize = 6;
/// Places that one search looks at.
const NODES: usize = 20_000;
/// Of the way to the prices of the relaxation.
const TOWARD: f64 = 0.4;
/// Fillings that spare more, as share of the dearest coil, are dropped.
const SPARE: f64 = 0.3;
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

/// Prices by length alone. No tube is cheaper than that of a coil that never ends, and a coil that ends saves what it is cheaper,
/// as often as it is there: the price of length at which that comes to most.
pub(super) fn by_length(kinds: &[Kind], pieces: &[u64]) -> Prices {
    let rate = |k: &Kind| k.cost as f64 / k.holds as f64;
    let ends = |k: &Kind| k.stock < pieces.len();
    let most = kinds.iter().filter(|k| !ends(k)).map(rate).fold(f64::MAX, f64::min);
    let at = |rate: f64| {
        let piece: Vec<f64> = pieces.iter().map(|size| *size as f64 * rate).collect();
        let saves = |k: &Kind| if ends(k) { (k.holds as f64 * rate - k.cost as f64).max(0.0) } else { 0.0 };
        let kind: Vec<f64> = kinds.iter().map(saves).collect();
        Prices { bound: worth(kinds, &piece, &kind), piece, kind }
    };
    let all = kinds.iter().map(rate).filter(|r| *r <= most).map(at);
    all.max_by(|a, b| a.bound.total_cmp(&b.bound)).unwrap_or_else(|| at(0.0))
}

/// What pieces are worth less what the coils in stock save.
fn worth(kinds: &[Kind], piece: &[f64], kind: &[f64]) -> f64 {
    piece.iter().sum::<f64>() - kinds.iter().zip(kind).map(|(k, saves)| k.stock as f64 * saves).sum::<f64>()
}

/// Better prices than `best`. `start` are fillings to begin with; `least` the least cost that a plan over a bound can have;
/// `enough` a cost at which nothing more is asked.
pub(super) fn prices(
    kinds: &[Kind],
    pieces: &[u64],
    mut best: Prices,
    start: &[Bin],
    least: impl Fn(f64) -> u64,
    enough: u64,
) -> Prices {
    let unit = kinds.iter().map(|k| k.cost as f64).fold(0.0, f64::max);
    let relaxed = Relaxed { kinds, pieces, unit };
    let mut rows: Vec<Bin> = start.to_vec();
    for _ in 0..ROUNDS_WORK / pieces.len().max(20) {
        if unit <= 0.0 || least(best.bound) >= enough {
            break;
        }
        let Some((now, most)) = relaxed.solve(&rows) else { break };
        // no prices give more than these would if every filling kept to them
        if least(best.bound) >= least(most) {
            break;
        }
        // between the best prices and these a filling that is over cuts deeper (Wentges 1997)
        let mut over = Vec::new();
        for toward in [TOWARD, 1.0] {
            let (found, lowered) = relaxed.over(&best.toward(&now, toward));
            if lowered.bound > best.bound {
                best = lowered;
            }
            over = found.into_iter().filter(|bin| relaxed.is_over(bin, &now)).collect();
            if !over.is_empty() {
                break;
            }
        }
        if over.is_empty() {
            break;
        }
        // fillings far from binding are dropped
        rows.retain(|bin| relaxed.spare(bin, &now) < SPARE * unit);
        rows.extend(over);
    }
    best
}

impl Prices {
    /// A share of the way to others.
    fn toward(&self, other: &Prices, share: f64) -> Prices {
        let mix = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(a, b)| a + share * (b - a)).collect();
        Prices { piece: mix(&self.piece, &other.piece), kind: mix(&self.kind, &other.kind), bound: 0.0 }
    }
}

struct Relaxed<'a> {
    kinds: &'a [Kind],
    pieces: &'a [u64],
    /// The dearest coil: the relaxation is solved in shares of it.
    unit: f64,
}

impl Relaxed<'_> {
    fn limited(&self, kind: usize) -> bool {
        self.kinds[kind].stock < self.pieces.len()
    }

    /// The prices that are worth most together while some fillings keep to their coil's cost, and what they are worth.
    fn solve(&self, rows: &[Bin]) -> Option<(Prices, f64)> {
        let mut problem = Problem::new(OptimizationDirection::Maximize);
        let n = self.pieces.len() as f64;
        let alone = |size: u64| {
            let holds = self.kinds.iter().enumerate().filter(|(i, k)| k.holds >= size && !self.limited(*i));
            // a piece alone on the cheapest coil; where stocks end it may be worth more than all of them
            holds.map(|(_, k)| k.cost as f64 / self.unit).fold(n, f64::min)
        };
        let piece_of: Vec<Variable> =
            self.pieces.iter().map(|size| problem.add_var(1.0, (0.0, alone(*size)))).collect();
        let of_kind = |(i, k): (usize, &Kind)| {
            problem.add_var(-(k.stock as f64), (0.0, if self.limited(i) { n * n } else { 0.0 }))
        };
        let kind_of: Vec<Variable> = self.kinds.iter().enumerate().map(of_kind).collect();
        for bin in rows {
            let mut row: Vec<(Variable, f64)> = bin.pieces.iter().map(|p| (piece_of[*p], 1.0)).collect();
            if self.limited(bin.kind) {
                row.push((kind_of[bin.kind], -1.0));
            }
            problem.add_constraint(row.as_slice(), ComparisonOp::Le, self.kinds[bin.kind].cost as f64 / self.unit);
        }
        let solution = problem.solve().ok()?.into_solution().ok()?;
        let value = |v: &Variable| solution.var_value(*v).max(0.0) * self.unit;
        let prices = Prices {
            piece: piece_of.iter().map(value).collect(),
            kind: kind_of.iter().map(value).collect(),
            bound: 0.0,
        };
        Some((prices, solution.objective() * self.unit))
    }

    /// By how much a filling is worth less than its coil costs.
    fn spare(&self, bin: &Bin, prices: &Prices) -> f64 {
        self.kinds[bin.kind].cost as f64 + prices.kind[bin.kind]
            - bin.pieces.iter().map(|p| prices.piece[*p]).sum::<f64>()
    }

    fn is_over(&self, bin: &Bin, prices: &Prices) -> bool {
        self.spare(bin, prices) < -OVER * self.unit
    }

    /// Fillings that are worth more than their coil, and the prices lowered until none is.
    fn over(&self, now: &Prices) -> (Vec<Bin>, Prices) {
        let (mut out, mut share, mut kind_of) = (Vec::new(), 1.0_f64, now.kind.clone());
        for (i, kind) in self.kinds.iter().enumerate() {
            let cost = kind.cost as f64;
            let most = (cost + now.kind[i]) * (1.0 + OVER);
            let mut items: Vec<Item> = self.items(now);
            for round in 0..A_ROUND {
                let Filling { pieces, bound } = fill(&items, kind.holds, most.max(OVER * self.unit), NODES);
                if round == 0 && bound > cost + now.kind[i] {
                    // one that ends may save more; of one that does not every price goes down
                    if self.limited(i) {
                        kind_of[i] = bound - cost;
                    } else {
                        share = share.min(cost / (bound - now.kind[i]));
                    }
                }
                if pieces.is_empty() {
                    break;
                }
                items.retain(|item| !pieces.contains(&item.piece));
                out.push(Bin { kind: i, pieces });
            }
        }
        let piece: Vec<f64> = now.piece.iter().map(|p| p * share).collect();
        let kind: Vec<f64> = kind_of.iter().map(|k| k * share).collect();
        (out, Prices { bound: worth(self.kinds, &piece, &kind), piece, kind })
    }

    fn items(&self, now: &Prices) -> Vec<Item> {
        let of = |(piece, (size, value)): (usize, (&u64, &f64))| Item { piece, size: *size, value: *value };
        let mut items: Vec<Item> = self.pieces.iter().zip(&now.piece).enumerate().map(of).collect();
        by_worth(&mut items);
        items
    }
}
