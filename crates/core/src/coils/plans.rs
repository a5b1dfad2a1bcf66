//! Good plans: made coil by coil, by choice of coils, and by packing some coils of a plan anew.
//!
//! Chance comes from a seed: the same plans on every machine.

use super::bound::Prices;
use super::fill::{Item, by_worth, fill};
use super::pack::{Bin, Kind, cost_of};
use super::search::Search;
use super::sums::Sums;
use fastrand::Rng;
use std::collections::BTreeMap;

/// Plans made before the search, each with other worths.
const PLANS: u64 = 120;
/// Places that the filling of one coil of such a plan looks at.
const PLAN_NODES: usize = 2_000;
/// Plans made of them, times the pieces.
const CHOICE_WORK: usize = 40_000;
/// Costs that are looked at in one sweep.
const A_SWEEP: usize = 24;
/// Pieces are worth up to this share more than their length, so that other fillings come out.
const NOISE: f64 = 0.01;
/// Times that some coils of the best plan are packed anew.
const REPACKS: usize = 500;
/// Of so many pieces, about.
const REPACKED: usize = 16;
/// Places that one such search looks at.
const REPACK_NODES: usize = 20_000;

/// Plans made coil by coil, the largest piece that is left in each.
pub(super) struct Plans<'a> {
    pub kinds: &'a [Kind],
    pub pieces: &'a [u64],
    /// The cheapest so far.
    pub best: Option<Vec<Bin>>,
    /// The least tube that any plan left out, mm.
    pub least_out: u64,
}

impl Plans<'_> {
    fn cost(&self, bins: &[Bin]) -> u64 {
        cost_of(self.kinds, bins)
    }

    /// A plan by what pieces are worth; of the kinds the one with the least score by its cost, what is in it, its length.
    pub fn make(&mut self, worth: &[f64], mut score: impl FnMut(f64, f64, u64) -> f64) {
        let mut left: Vec<usize> = (0..self.pieces.len()).collect();
        left.sort_by_key(|p| std::cmp::Reverse(self.pieces[*p]));
        let mut stock: Vec<usize> = self.kinds.iter().map(|k| k.stock).collect();
        let mut bins: Vec<Bin> = Vec::new();
        let mut out = 0;
        while let Some(&first) = left.first() {
            let mut chosen: Option<(f64, Bin)> = None;
            let mut items: Vec<Item> =
                left[1..].iter().map(|p| Item { piece: *p, size: self.pieces[*p], value: worth[*p] }).collect();
            by_worth(&mut items);
            for (i, kind) in
                self.kinds.iter().enumerate().filter(|(i, k)| stock[*i] > 0 && k.holds >= self.pieces[first])
            {
                let mut pieces = fill(&items, kind.holds - self.pieces[first], 0.0, PLAN_NODES).pieces;
                pieces.push(first);
                let size: u64 = pieces.iter().map(|p| self.pieces[*p]).sum();
                let score = score(kind.cost as f64, size as f64, kind.holds);
                if chosen.as_ref().is_none_or(|(least, _)| score < *least) {
                    chosen = Some((score, Bin { kind: i, pieces }));
                }
            }
            let Some((_, bin)) = chosen else {
                out += self.pieces[first];
                left.remove(0);
                continue;
            };
            stock[bin.kind] -= 1;
            left.retain(|p| !bin.pieces.contains(p));
            bins.push(bin);
        }
        if out > 0 {
            self.least_out = self.least_out.min(out);
            return;
        }
        self.exchange(&mut bins, &mut stock);
        if self.best.as_ref().is_none_or(|best| self.cost(&bins) < self.cost(best)) {
            self.best = Some(bins);
        }
    }

    /// Plans from choices of coils of rising cost: each coil is filled as full as can be, the largest piece that is left first
    /// (minimum bin slack, Gupta and Ho 1999), a little otherwise each time.
    pub fn by_choice(&mut self, sums: &Sums, bound: u64) {
        let mut chance = Rng::with_seed(31);
        let mut tries = CHOICE_WORK / self.pieces.len().max(1);
        let (mut each, mut known) = (2, BTreeMap::new());
        // few costs with few plans of each first: where one is found, the costs below it more closely
        let mut apart = usize::MAX;
        while let Some(most) = self.best.as_ref().map(|best| self.cost(best)) {
            let costs = sums.between(bound, most);
            if costs.is_empty() {
                return;
            }
            apart = apart.min(costs.len().div_ceil(A_SWEEP)).max(1);
            let (mut found, before) = (None, tries);
            'sweep: for cost in costs.into_iter().step_by(apart).take(2 * A_SWEEP) {
                let choices = known.entry(cost).or_insert_with(|| sums.choices(self.kinds, cost));
                for counts in choices.iter() {
                    for _ in 0..each {
                        if tries == 0 {
                            return;
                        }
                        tries -= 1;
                        found = self.fill_choice(counts, &mut chance);
                        if found.is_some() {
                            break 'sweep;
                        }
                    }
                }
            }
            match found {
                Some(bins) => self.best = Some(bins),
                None if apart > 1 => apart = apart.div_ceil(4),
                // no choice of coils comes to any of these costs
                None if tries == before => return,
                None => each *= 3,
            }
        }
    }

    /// All pieces into so many coils of each kind.
    fn fill_choice(&self, counts: &[usize], chance: &mut Rng) -> Option<Vec<Bin>> {
        let mut coils: Vec<usize> = counts.iter().enumerate().flat_map(|(kind, n)| vec![kind; *n]).collect();
        let mut spare = coils.iter().map(|k| self.kinds[*k].holds).sum::<u64>() - self.pieces.iter().sum::<u64>();
        let mut left: Vec<usize> = (0..self.pieces.len()).collect();
        left.sort_by_key(|p| std::cmp::Reverse(self.pieces[*p]));
        let mut bins = Vec::new();
        while !coils.is_empty() && !left.is_empty() {
            let kind = coils.swap_remove(chance.usize(..coils.len()));
            let holds = self.kinds[kind].holds;
            // the largest piece, or one a little smaller
            let first = left[chance.usize(..left.len().min(3))];
            if self.pieces[first] > holds {
                return None;
            }
            let mut a_little_more = |size: u64| size as f64 * (1.0 + NOISE * chance.f64());
            let others = left.iter().filter(|p| **p != first).map(|p| (*p, self.pieces[*p]));
            let mut items: Vec<Item> =
                others.map(|(piece, size)| Item { piece, size, value: a_little_more(size) }).collect();
            by_worth(&mut items);
            let mut pieces = fill(&items, holds - self.pieces[first], 0.0, PLAN_NODES).pieces;
            pieces.push(first);
            let size: u64 = pieces.iter().map(|p| self.pieces[*p]).sum();
            spare = spare
                .checked_sub(holds - size)
                .or_else(|| (size == left.iter().map(|p| self.pieces[*p]).sum::<u64>()).then_some(0))?;
            left.retain(|p| !pieces.contains(p));
            bins.push(Bin { kind, pieces });
        }
        left.is_empty().then_some(bins)
    }

    /// Every coil becomes the cheapest that holds what is cut from it.
    fn exchange(&self, bins: &mut [Bin], stock: &mut [usize]) {
        for bin in bins {
            let size: u64 = bin.pieces.iter().map(|p| self.pieces[*p]).sum();
            let fits =
                (0..self.kinds.len()).filter(|i| (stock[*i] > 0 || *i == bin.kind) && self.kinds[*i].holds >= size);
            if let Some(kind) = fits.min_by_key(|i| (self.kinds[*i].cost, *i != bin.kind)) {
                stock[bin.kind] += 1;
                stock[kind] -= 1;
                bin.kind = kind;
            }
        }
    }

    /// Plans by the prices of the bound, a little off each time, until one costs no more than the bound.
    pub fn vary(&mut self, dual: &Prices, bound: u64) {
        let mut chance = Rng::with_seed(11);
        let mut off = move |by: f64| 1.0 + by * (2.0 * chance.f64() - 1.0);
        for n in 0..PLANS {
            if self.best.as_ref().is_some_and(|best| self.cost(best) <= bound) {
                return;
            }
            let by = 0.04 * (n % 6) as f64;
            let mut worth: Vec<f64> = dual.piece.iter().map(|p| p * off(by)).collect();
            if n % 3 == 2 || dual.bound <= 0.0 {
                worth = self.pieces.iter().map(|p| *p as f64 * off(by)).collect();
            }
            self.make(&worth, |cost, size, _| cost / size * off(by));
        }
    }
}

/// Takes a few coils at a time, those that cost most beyond their worth more often, and packs what is in them anew, the fullest
/// first, until the plan costs no more than the bound. A plan that costs the same is taken too: what is left over gathers in few
/// coils so, and one of them becomes a shorter one.
pub(super) fn improve(kinds: &[Kind], pieces: &[u64], dual: &Prices, step: u64, bins: &mut Vec<Bin>, bound: u64) {
    let mut chance = Rng::with_seed(23);
    for _ in 0..REPACKS {
        if cost_of(kinds, bins) <= bound || bins.len() < 2 {
            return;
        }
        let over = |b: &Bin| kinds[b.kind].cost as f64 - b.pieces.iter().map(|p| dual.piece[*p]).sum::<f64>();
        bins.sort_by(|a, b| over(b).total_cmp(&over(a)));
        // two draws, of which the coil that costs more is taken
        let first = chance.usize(..bins.len()).min(chance.usize(..bins.len()));
        let mut out = vec![bins.swap_remove(first)];
        while !bins.is_empty() && out.iter().map(|b| b.pieces.len()).sum::<usize>() < REPACKED {
            out.push(bins.swap_remove(chance.usize(..bins.len())));
        }
        let left: Vec<usize> = out.iter().flat_map(|b| b.pieces.iter().copied()).collect();
        let free = |(i, k): (usize, &Kind)| k.stock - bins.iter().filter(|b| b.kind == i).count();
        let stock = kinds.iter().enumerate().map(free).collect();
        let mut plan = Some(out);
        Search::new(kinds, pieces, dual, step, stock, REPACK_NODES).run(&left, &mut plan, step);
        bins.extend(plan.into_iter().flatten());
    }
}
