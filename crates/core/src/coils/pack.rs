//! Pieces into coils at the least cost: bin packing with bins of several kinds. First good plans, then a bound, then a search
//! among the fillings that a better plan could have.

use super::bound::{Prices, by_length, prices};
use super::fill::{Item, by_worth, fill};
use std::collections::BTreeMap;

/// Plans made before the search, each with other worths.
const PLANS: u64 = 120;
/// Places that the filling of one coil of such a plan looks at.
const PLAN_NODES: usize = 2_000;
/// Places that the search looks at in all.
const SEARCH_NODES: usize = 1_500_000;
/// Choices of coils of one cost that are tried.
const CHOICES: usize = 8;
/// Places that the search for them looks at.
const CHOICE_NODES: usize = 20_000;
/// Plans made of them, times the pieces.
const CHOICE_WORK: usize = 60_000;
/// Costs that are looked at in one sweep.
const A_SWEEP: usize = 24;
/// Times that some coils of the best plan are packed anew.
const REPACKS: usize = 500;
/// Of so many pieces, about.
const REPACKED: usize = 16;
/// Places that one such search looks at.
const REPACK_NODES: usize = 20_000;
/// Sums of costs are listed up to so many steps.
const MOST_SUMS: u64 = 2_000_000;
/// Of a coil's cost, for the arithmetic.
const EPS: f64 = 1e-6;

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
    let useful = useful(kinds, pieces.len());
    let of: Vec<Kind> = useful.iter().map(|i| kinds[*i].clone()).collect();
    let there: u64 = of.iter().map(|k| k.holds.saturating_mul(k.stock as u64)).fold(0, u64::saturating_add);
    if there < all {
        return Packs::Short { mm: all - there, proved: true };
    }
    let mut plans = Plans { kinds: &of, pieces, best: None, least_out: all };
    let sizes: Vec<f64> = pieces.iter().map(|p| *p as f64).collect();
    plans.make(&sizes, |cost, size, _| cost / size);
    plans.make(&sizes, |_, size, room| (room as f64 - size) / size);
    let sums = Sums::of(&of, all);
    let cost_of = |bins: &[Bin]| bins.iter().map(|b| of[b.kind].cost).sum::<u64>();
    let mut dual = by_length(&of, pieces);
    plans.by_choice(&sums, sums.least(dual.bound));
    let start = plans.best.clone().unwrap_or_default();
    let enough = if start.is_empty() { u64::MAX } else { cost_of(&start) };
    dual = prices(&of, pieces, dual, &start, |bound| sums.least(bound), enough);
    let bound = sums.least(dual.bound);
    plans.by_choice(&sums, bound);
    plans.vary(&dual, bound);
    let least_out = plans.least_out;
    let mut best = plans.best.take();
    if let Some(bins) = &mut best {
        improve(&of, pieces, &dual, sums.step, bins, bound);
    }
    let mut complete = best.as_ref().is_some_and(|bins| cost_of(bins) <= bound);
    if !complete {
        let stock = of.iter().map(|k| k.stock).collect();
        let mut search = Search::new(&of, pieces, &dual, sums.step, stock, SEARCH_NODES);
        complete = search.run(&(0..pieces.len()).collect::<Vec<_>>(), &mut best, 0);
    }
    let Some(mut bins) = best else {
        return Packs::Short { mm: least_out.max(1), proved: complete };
    };
    let cost = cost_of(&bins);
    let bound = if complete { cost } else { bound.min(cost) };
    bins.iter_mut().for_each(|bin| bin.kind = useful[bin.kind]);
    Packs::Into(Packing { bins, cost, bound })
}

/// Kinds without those for which a longer one is always there and no dearer.
fn useful(kinds: &[Kind], pieces: usize) -> Vec<usize> {
    let beats = |a: usize, b: usize| {
        let (x, y) = (&kinds[a], &kinds[b]);
        let as_good = x.stock >= pieces && x.holds >= y.holds && x.cost <= y.cost;
        as_good && (x.holds > y.holds || x.cost < y.cost || a < b)
    };
    (0..kinds.len()).filter(|b| kinds[*b].stock > 0 && !(0..kinds.len()).any(|a| a != *b && beats(a, *b))).collect()
}

/// Costs that any choice of coils with enough tube on it comes to.
struct Sums {
    step: u64,
    /// By cost in steps: the most tube that coils of that cost hold, mm. Empty where there are too many.
    holds: Vec<u64>,
    all: u64,
}

impl Sums {
    fn of(kinds: &[Kind], all: u64) -> Sums {
        let step = kinds.iter().map(|k| k.cost).fold(0, gcd).max(1);
        // a coil for each kind's share of all: no better plan costs more than the dearest way to hold all
        let most =
            kinds.iter().filter(|k| k.holds > 0).map(|k| (all / k.holds + 1).saturating_mul(k.cost) / step).max();
        let most = most.unwrap_or(0).saturating_mul(2);
        if most > MOST_SUMS || kinds.iter().any(|k| k.cost == 0) {
            return Sums { step, holds: Vec::new(), all };
        }
        let mut holds = vec![0; most as usize + 1];
        for at in 0..holds.len() {
            for kind in kinds {
                let cost = (kind.cost / step) as usize;
                if cost <= at && (at == cost || holds[at - cost] > 0) {
                    holds[at] = holds[at].max(holds[at - cost] + kind.holds);
                }
            }
        }
        Sums { step, holds, all }
    }

    /// The least such cost that is no less than `bound`.
    fn least(&self, bound: f64) -> u64 {
        let from = ((bound - EPS * (1.0 + bound)) / self.step as f64).ceil().max(0.0) as u64;
        let listed = self.holds.iter().enumerate().skip(from as usize).find(|(_, holds)| **holds >= self.all);
        listed.map_or(from, |(at, _)| at as u64) * self.step
    }
}

impl Sums {
    /// Choices of coils, by kind how many, that cost so much and hold all; a few of them.
    fn choices(&self, kinds: &[Kind], cost: u64) -> Vec<Vec<usize>> {
        let mut out = Vec::new();
        if !self.holds.is_empty() {
            self.choose(kinds, 0, cost, self.all, &mut vec![0; kinds.len()], &mut out, &mut 0);
        }
        out
    }

    #[allow(clippy::too_many_arguments, reason = "a recursion with what it carries")]
    fn choose(
        &self,
        kinds: &[Kind],
        from: usize,
        cost: u64,
        all: u64,
        counts: &mut Vec<usize>,
        out: &mut Vec<Vec<usize>>,
        nodes: &mut usize,
    ) {
        *nodes += 1;
        // what is left of the cost can hold so much at most
        let holds = self.holds.get((cost / self.step) as usize).copied().unwrap_or(0);
        if *nodes > CHOICE_NODES || out.len() >= CHOICES || holds < all {
            return;
        }
        let Some(kind) = kinds.get(from) else {
            if cost == 0 && all == 0 {
                out.push(counts.clone());
            }
            return;
        };
        for n in (0..=kind.stock.min((cost / kind.cost) as usize)).rev() {
            counts[from] = n;
            let (paid, held) = (n as u64 * kind.cost, n as u64 * kind.holds);
            self.choose(kinds, from + 1, cost - paid, all.saturating_sub(held), counts, out, nodes);
        }
        counts[from] = 0;
    }

    /// Costs in steps from one to below another.
    fn between(&self, from: u64, to: u64) -> impl Iterator<Item = u64> {
        let step = self.step;
        let listed = !self.holds.is_empty();
        (from / step..to / step).map(move |c| c * step).take_while(move |_| listed)
    }
}

fn gcd(a: u64, b: u64) -> u64 {
    if b == 0 { a } else { gcd(b, a % b) }
}

/// Plans made coil by coil, the largest piece that is left in each.
struct Plans<'a> {
    kinds: &'a [Kind],
    pieces: &'a [u64],
    best: Option<Vec<Bin>>,
    /// The least tube that any plan left out, mm.
    least_out: u64,
}

impl Plans<'_> {
    fn cost(&self, bins: &[Bin]) -> u64 {
        bins.iter().map(|b| self.kinds[b.kind].cost).sum()
    }

    /// A plan by what pieces are worth; of the kinds the one with the least score by its cost, what is in it, its length.
    fn make(&mut self, worth: &[f64], mut score: impl FnMut(f64, f64, u64) -> f64) {
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
    fn by_choice(&mut self, sums: &Sums, bound: u64) {
        let mut pick = numbers(31);
        let mut tries = CHOICE_WORK / self.pieces.len().max(1);
        let (mut each, mut known) = (2, BTreeMap::new());
        // few costs with few plans of each first: where one is found, the costs below it more closely
        let mut apart = usize::MAX;
        while let Some(most) = self.best.as_ref().map(|best| self.cost(best)) {
            let costs: Vec<u64> = sums.between(bound, most).collect();
            if costs.is_empty() {
                return;
            }
            apart = apart.min(costs.len().div_ceil(A_SWEEP)).max(1);
            let (mut found, before) = (None, tries);
            'sweep: for cost in costs.into_iter().step_by(apart) {
                let choices = known.entry(cost).or_insert_with(|| sums.choices(self.kinds, cost));
                for counts in choices.iter() {
                    for _ in 0..each {
                        if tries == 0 {
                            return;
                        }
                        tries -= 1;
                        found = self.fill_choice(counts, &mut pick);
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
    fn fill_choice(&self, counts: &[usize], pick: &mut impl FnMut(usize) -> usize) -> Option<Vec<Bin>> {
        let mut coils: Vec<usize> = counts.iter().enumerate().flat_map(|(kind, n)| vec![kind; *n]).collect();
        let mut spare = coils.iter().map(|k| self.kinds[*k].holds).sum::<u64>() - self.pieces.iter().sum::<u64>();
        let mut left: Vec<usize> = (0..self.pieces.len()).collect();
        left.sort_by_key(|p| std::cmp::Reverse(self.pieces[*p]));
        let mut bins = Vec::new();
        while !coils.is_empty() && !left.is_empty() {
            let kind = coils.swap_remove(pick(coils.len()));
            let holds = self.kinds[kind].holds;
            // the largest piece, or one a little smaller
            let first = left[pick(left.len().min(3))];
            if self.pieces[first] > holds {
                return None;
            }
            let noise = |pick: &mut dyn FnMut(usize) -> usize| 1.0 + 1e-4 * pick(100) as f64;
            let mut items: Vec<Item> = Vec::new();
            for p in left.iter().filter(|p| **p != first) {
                items.push(Item { piece: *p, size: self.pieces[*p], value: self.pieces[*p] as f64 * noise(pick) });
            }
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
    fn vary(&mut self, dual: &Prices, bound: u64) {
        let mut pick = numbers(11);
        const FINE: usize = 1 << 20;
        let mut off = move |by: f64| 1.0 + by * (2.0 * pick(FINE) as f64 / FINE as f64 - 1.0);
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
fn improve(kinds: &[Kind], pieces: &[u64], dual: &Prices, step: u64, bins: &mut Vec<Bin>, bound: u64) {
    let mut pick = numbers(23);
    let cost = |bins: &[Bin]| bins.iter().map(|b| kinds[b.kind].cost).sum::<u64>();
    for _ in 0..REPACKS {
        if cost(bins) <= bound || bins.len() < 2 {
            return;
        }
        let over = |b: &Bin| kinds[b.kind].cost as f64 - b.pieces.iter().map(|p| dual.piece[*p]).sum::<f64>();
        bins.sort_by(|a, b| over(b).total_cmp(&over(a)));
        // two draws, of which the coil that costs more is taken
        let first = pick(bins.len()).min(pick(bins.len()));
        let mut out = vec![bins.swap_remove(first)];
        while !bins.is_empty() && out.iter().map(|b| b.pieces.len()).sum::<usize>() < REPACKED {
            out.push(bins.swap_remove(pick(bins.len())));
        }
        let left: Vec<usize> = out.iter().flat_map(|b| b.pieces.iter().copied()).collect();
        let free = |(i, k): (usize, &Kind)| k.stock - bins.iter().filter(|b| b.kind == i).count();
        let stock = kinds.iter().enumerate().map(free).collect();
        let mut plan = Some(out);
        Search::new(kinds, pieces, dual, step, stock, REPACK_NODES).run(&left, &mut plan, step);
        bins.extend(plan.into_iter().flatten());
    }
}

/// A small generator: the same numbers on every machine.
fn numbers(mut seed: u64) -> impl FnMut(usize) -> usize {
    move |n| {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (seed >> 33) as usize % n
    }
}

/// Depth first over fillings: each coil begins with the largest piece that is left, and a filling costs what its coil costs more
/// than its pieces are worth. What all of these may come to is the gap between bound and best plan, and that is small.
struct Search<'a> {
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
    fn new(
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
    fn run(&mut self, of: &[usize], best: &mut Option<Vec<Bin>>, above: u64) -> bool {
        let mut left = of.to_vec();
        left.sort_by(|a, b| self.pieces[*b].cmp(&self.pieces[*a]).then(a.cmp(b)));
        let saved: f64 = self.stock.iter().zip(&self.dual.kind).map(|(n, saves)| *n as f64 * saves).sum();
        self.worth = left.iter().map(|p| self.dual.piece[*p]).sum::<f64>() - saved;
        self.best_cost = best.as_ref().map(|bins| bins.iter().map(|b| self.kinds[b.kind].cost).sum::<u64>() + above);
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
            let cost = self.bins.iter().map(|b| self.kinds[b.kind].cost).sum();
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
