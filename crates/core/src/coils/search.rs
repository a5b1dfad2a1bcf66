//! The search among the fillings that a better plan could have.

use super::bound::Prices;
use super::pack::{Bin, Kind, cost_of};

/// Of a coil's cost, for the arithmetic.
const EPS: f64 = 1e-6;

/// Depth first over fillings: each coil begins with the largest piece that is left, and a filling costs what its coil costs more
/// than its pieces are worth. What all of these may come to is the gap between bound and best plan, and that is small.
pub(super) struct Search<'a> {
    kinds: &'a [Kind],
    pieces: &'a [u64],
    dual: &'a Prices,
    /// Costs differ by this at least.
    step: u64,
    stock: Vec<usize>,
    most_nodes: usize,
    /// What the pieces are worth less what the coils in stock save: no plan of them costs less.
    worth: f64,
    best_cost: Option<u64>,
    best: Vec<Bin>,
    bins: Vec<Bin>,
    nodes: usize,
}

/// A filling with what it costs beyond its worth.
struct Choice {
    over: f64,
    bin: Bin,
}

impl<'a> Search<'a> {
    pub fn new(
        kinds: &'a [Kind],
        pieces: &'a [u64],
        dual: &'a Prices,
        step: u64,
        stock: Vec<usize>,
        most_nodes: usize,
    ) -> Self {
        Search {
            kinds,
            pieces,
            dual,
            step,
            stock,
            most_nodes,
            worth: 0.0,
            best_cost: None,
            best: vec![],
            bins: vec![],
            nodes: 0,
        }
    }

    /// Looks for a plan of some pieces that costs less than `best` by more than `above` less a step; `best` takes it. Whether the
    /// search came to its end.
    pub fn run(&mut self, of: &[usize], best: &mut Option<Vec<Bin>>, above: u64) -> bool {
        let mut left = of.to_vec();
        left.sort_by(|a, b| self.pieces[*b].cmp(&self.pieces[*a]).then(a.cmp(b)));
        let saved: f64 = self.stock.iter().zip(&self.dual.kind).map(|(n, saves)| *n as f64 * saves).sum();
        self.worth = left.iter().map(|p| self.dual.piece[*p]).sum::<f64>() - saved;
        self.best_cost = best.as_ref().map(|bins| cost_of(self.kinds, bins) + above);
        self.go(&left, 0.0);
        if !self.best.is_empty() {
            *best = Some(std::mem::take(&mut self.best));
        }
        self.nodes < self.most_nodes
    }

    /// What fillings may still cost beyond their worth for a plan that is better than the best.
    fn allowed(&self) -> f64 {
        let Some(cost) = self.best_cost else { return f64::INFINITY };
        let better = cost as f64 - self.step as f64;
        better - self.worth + EPS * (1.0 + better.abs())
    }

    fn go(&mut self, left: &[usize], over: f64) {
        let Some((&first, rest)) = left.split_first() else {
            let cost = cost_of(self.kinds, &self.bins);
            if self.best_cost.is_none_or(|best| cost < best) {
                (self.best, self.best_cost) = (self.bins.clone(), Some(cost));
            }
            return;
        };
        let mut choices = Vec::new();
        for kind in 0..self.kinds.len() {
            let of = &self.kinds[kind];
            if self.stock[kind] == 0 || of.holds < self.pieces[first] {
                continue;
            }
            let begun = of.cost as f64 + self.dual.kind[kind] - self.dual.piece[first];
            let rates = rates(rest, self.pieces, &self.dual.piece);
            let mut filling = Fillings {
                search: self,
                rest,
                rates: &rates,
                kind,
                most: 0.0,
                taken: vec![first],
                out: Vec::new(),
                nodes: 0,
            };
            filling.most = filling.search.allowed() - over;
            filling.go(0, of.holds - self.pieces[first], begun);
            let (found, nodes) = (filling.out, filling.nodes);
            choices.extend(found);
            self.nodes += nodes;
            if self.nodes >= self.most_nodes {
                return;
            }
        }
        choices.sort_by(|a, b| a.over.total_cmp(&b.over));
        for Choice { over: more, bin } in choices {
            if over + more > self.allowed() || self.nodes >= self.most_nodes {
                return;
            }
            let left: Vec<usize> = rest.iter().copied().filter(|p| !bin.pieces.contains(p)).collect();
            self.stock[bin.kind] -= 1;
            let kind = bin.kind;
            self.bins.push(bin);
            self.go(&left, over + more);
            self.bins.pop();
            self.stock[kind] += 1;
        }
    }
}

/// The largest worth by size from each place on.
fn rates(rest: &[usize], pieces: &[u64], worth: &[f64]) -> Vec<f64> {
    let mut out = vec![0.0; rest.len() + 1];
    for (k, p) in rest.iter().enumerate().rev() {
        out[k] = f64::max(out[k + 1], worth[*p] / pieces[*p] as f64);
    }
    out
}

/// All fillings of a coil that are allowed.
struct Fillings<'s, 'a> {
    search: &'s Search<'a>,
    rest: &'s [usize],
    rates: &'s [f64],
    kind: usize,
    /// What it may cost beyond its worth.
    most: f64,
    taken: Vec<usize>,
    out: Vec<Choice>,
    nodes: usize,
}

impl Fillings<'_, '_> {
    fn go(&mut self, from: usize, room: u64, over: f64) {
        self.nodes += 1;
        if self.search.nodes + self.nodes >= self.search.most_nodes || over - self.rates[from] * room as f64 > self.most
        {
            return;
        }
        let pieces = self.search.pieces;
        // a filling into which another piece goes is no better than with it
        let full = self.rest.iter().rev().find(|p| !self.taken.contains(p)).is_none_or(|p| pieces[*p] > room);
        if full {
            if over <= self.most {
                let bin = Bin { kind: self.kind, pieces: self.taken.clone() };
                self.out.push(Choice { over: over.max(0.0), bin });
            }
            return;
        }
        let mut last = 0;
        for k in from..self.rest.len() {
            let (piece, size) = (self.rest[k], pieces[self.rest[k]]);
            // of equal pieces the first is taken first, if they are worth the same
            if size > room || size == last {
                continue;
            }
            last = size;
            if over - self.rates[k] * room as f64 > self.most {
                return;
            }
            self.taken.push(piece);
            self.go(k + 1, room - size, over - self.search.dual.piece[piece]);
            self.taken.pop();
        }
    }
}
