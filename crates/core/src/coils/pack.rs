//! Pieces into coils at the least cost: bin packing with bins of several kinds. First good plans, then a bound, then a search
//! among the fillings that a better plan could have.

use super::bound::{by_length, prices};
use super::plans::{Plans, improve};
use super::search::Search;
use super::sums::Sums;

/// More pieces than these are planned near the bound, not exactly.
const EXACT_PIECES: usize = 100;
/// What is near, as share of the cost.
const CLOSE: f64 = 0.99;
/// Places that the search looks at in all.
const SEARCH_NODES: usize = 1_500_000;

/// A kind of coil.
#[derive(Debug, Clone)]
pub(super) struct Kind {
    /// mm
    pub holds: u64,
    /// In whole units of the objective.
    pub cost: u64,
    /// So many at most.
    pub stock: usize,
}

/// A coil with what is cut from it.
#[derive(Debug, Clone)]
pub(super) struct Bin {
    pub kind: usize,
    pub pieces: Vec<usize>,
}

/// A plan.
#[derive(Debug)]
pub(super) struct Packing {
    pub bins: Vec<Bin>,
    pub cost: u64,
    /// No plan costs less.
    pub bound: u64,
}

/// What comes out.
#[derive(Debug)]
pub(super) enum Packs {
    Into(Packing),
    /// The pieces do not go into the stock: so many mm stay out.
    Short {
        mm: u64,
        /// No plan has them all in.
        proved: bool,
    },
}

/// The cheapest plan that is found; each piece goes into some kind that is in stock. What it costs does not depend on the order of
/// kinds or pieces.
pub(super) fn pack(kinds: &[Kind], pieces: &[u64]) -> Packs {
    let mut long: Vec<usize> = (0..pieces.len()).collect();
    long.sort_by_key(|p| (std::cmp::Reverse(pieces[*p]), *p));
    let mut short: Vec<usize> = (0..kinds.len()).collect();
    short.sort_by_key(|k| (kinds[*k].holds, kinds[*k].cost, kinds[*k].stock, *k));
    let sorted: Vec<Kind> = short.iter().map(|k| kinds[*k].clone()).collect();
    let mut packs = pack_sorted(&sorted, &long.iter().map(|p| pieces[*p]).collect::<Vec<_>>());
    if let Packs::Into(packing) = &mut packs {
        for bin in &mut packing.bins {
            bin.kind = short[bin.kind];
            bin.pieces.iter_mut().for_each(|p| *p = long[*p]);
            bin.pieces.sort_unstable();
        }
        packing.bins.sort_by_key(|b| b.pieces.first().copied());
    }
    packs
}

/// Kinds from the shortest, pieces from the longest on.
fn pack_sorted(kinds: &[Kind], pieces: &[u64]) -> Packs {
    let all: u64 = pieces.iter().sum();
    let in_stock = |kinds: &[Kind]| -> u64 {
        kinds.iter().map(|k| k.holds.saturating_mul(k.stock as u64)).fold(0, u64::saturating_add)
    };
    let there = in_stock(kinds);
    if there < all {
        return Packs::Short { mm: all - there, proved: true };
    }
    let kinds = &holding(kinds, pieces)[..];
    let useful = useful(kinds, pieces.len());
    let of: Vec<Kind> = useful.iter().map(|i| kinds[*i].clone()).collect();
    let there = in_stock(&of);
    if there < all {
        return Packs::Short { mm: all - there, proved: true };
    }
    let mut plans = Plans { kinds: &of, pieces, best: None, least_out: all };
    let sizes: Vec<f64> = pieces.iter().map(|p| *p as f64).collect();
    plans.make(&sizes, |cost, size, _| cost / size);
    plans.make(&sizes, |_, size, room| (room as f64 - size) / size);
    let cost = |bins: &Vec<Bin>| cost_of(&of, bins);
    // where stocks end, and no plan is known, it may cost all of them
    let stocks = || of.iter().map(|k| k.cost.saturating_mul(k.stock as u64)).fold(0, u64::saturating_add);
    let sums = Sums::of(&of, all, plans.best.as_ref().map_or_else(stocks, cost));
    let mut dual = by_length(&of, pieces);
    plans.by_choice(&sums, sums.least(dual.bound));
    let start = plans.best.clone().unwrap_or_default();
    let enough = if start.is_empty() { u64::MAX } else { cost(&start) };
    // of many pieces the relaxation is long to solve: there a bound that is close is enough
    let enough = if pieces.len() > EXACT_PIECES { (CLOSE * enough as f64) as u64 } else { enough };
    let by_length = sums.least(dual.bound);
    dual = prices(&of, pieces, dual, &start, |bound| sums.least(bound), enough);
    let bound = sums.least(dual.bound);
    if bound > by_length {
        plans.by_choice(&sums, bound);
    }
    plans.vary(&dual, bound);
    let least_out = plans.least_out;
    let mut best = plans.best.take();
    if let Some(bins) = &mut best {
        improve(&of, pieces, &dual, sums.step, bins, bound);
    }
    let mut complete = best.as_ref().is_some_and(|bins| cost(bins) <= bound);
    if !complete {
        let stock = of.iter().map(|k| k.stock).collect();
        let mut search = Search::new(&of, pieces, &dual, sums.step, stock, SEARCH_NODES);
        complete = search.run(&(0..pieces.len()).collect::<Vec<_>>(), &mut best, 0);
    }
    let Some(mut bins) = best else {
        return Packs::Short { mm: least_out.max(1), proved: complete };
    };
    let cost = cost(&bins);
    let bound = if complete { cost } else { bound.min(cost) };
    bins.iter_mut().for_each(|bin| bin.kind = useful[bin.kind]);
    Packs::Into(Packing { bins, cost, bound })
}

/// What the coils of a plan cost.
pub(super) fn cost_of(kinds: &[Kind], bins: &[Bin]) -> u64 {
    bins.iter().map(|b| kinds[b.kind].cost).sum()
}

/// Kinds with no more on them than pieces can fill: 120 m from which only a piece of 97 m can be cut hold 97 m. Nothing is lost, and
/// what no plan can be under gets nearer to the plans.
fn holding(kinds: &[Kind], pieces: &[u64]) -> Vec<Kind> {
    let most = kinds.iter().map(|k| k.holds).max().unwrap_or(0).min(pieces.iter().sum());
    // a bit for every sum of pieces
    let mut sums = vec![0_u64; (most / 64 + 1) as usize];
    sums[0] = 1;
    for piece in pieces.iter().filter(|p| **p <= most) {
        let (words, bits) = ((piece / 64) as usize, piece % 64);
        for to in (words..sums.len()).rev() {
            let low = sums[to - words] << bits;
            let high = if bits > 0 && to > words { sums[to - words - 1] >> (64 - bits) } else { 0 };
            sums[to] |= low | high;
        }
    }
    let largest = |within: u64| (0..=within.min(most)).rev().find(|s| sums[(s / 64) as usize] >> (s % 64) & 1 == 1);
    kinds.iter().map(|k| Kind { holds: largest(k.holds).unwrap_or(0), ..k.clone() }).collect()
}

/// Kinds without those for which a longer one is always there and no dearer.
fn useful(kinds: &[Kind], pieces: usize) -> Vec<usize> {
    let beats = |a: usize, b: usize| {
        let (x, y) = (&kinds[a], &kinds[b]);
        let as_good = x.stock >= pieces && x.holds >= y.holds && x.cost <= y.cost;
        as_good && (x.holds > y.holds || x.cost < y.cost || a < b)
    };
    (0..kinds.len())
        .filter(|b| kinds[*b].stock > 0 && kinds[*b].holds > 0 && !(0..kinds.len()).any(|a| a != *b && beats(a, *b)))
        .collect()
}
