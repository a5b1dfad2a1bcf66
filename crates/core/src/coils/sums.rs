//! Sums of costs of coils: a plan costs one of them, and never less than the least that holds all the tube.

use super::pack::Kind;

/// Sums of costs are listed up to so many steps.
const MOST_SUMS: u64 = 4_000_000;
/// Choices of coils of one cost that are tried.
const CHOICES: usize = 8;
/// Places that the search for them looks at.
const CHOICE_NODES: usize = 20_000;
/// Of a cost, for the arithmetic.
const EPS: f64 = 1e-6;

/// Costs that any choice of coils with enough tube on it comes to.
pub(super) struct Sums {
    /// All costs are multiples of it.
    pub step: u64,
    /// By cost in steps: the most tube that coils of that cost hold, mm, no more than all; none where no coils cost that. Empty where
    /// there are too many.
    holds: Vec<Option<u64>>,
    /// Tube that is wanted, mm.
    all: u64,
}

impl Sums {
    /// Up to a cost at which there is a plan.
    pub fn of(kinds: &[Kind], all: u64, most: u64) -> Sums {
        let step = kinds.iter().map(|k| k.cost).fold(0, gcd).max(1);
        if most / step > MOST_SUMS {
            return Sums { step, holds: Vec::new(), all };
        }
        let mut holds = vec![None; (most / step) as usize + 1];
        // what costs nothing is there in any case
        holds[0] = Some(kinds.iter().filter(|k| k.cost == 0).map(|k| k.holds * k.stock as u64).sum::<u64>().min(all));
        for at in 1..holds.len() {
            let with = |k: &Kind| {
                at.checked_sub((k.cost / step) as usize)
                    .and_then(|before| holds[before])
                    .map(|h: u64| (h + k.holds).min(all))
            };
            holds[at] = kinds.iter().filter(|k| k.cost > 0).filter_map(with).max();
        }
        Sums { step, holds, all }
    }

    /// The least such cost that is no less than `bound`.
    pub fn least(&self, bound: f64) -> u64 {
        let from = ((bound - EPS * (1.0 + bound)) / self.step as f64).ceil().max(0.0) as u64;
        let listed = (from as usize..self.holds.len()).find(|at| self.holds[*at] == Some(self.all));
        listed.map_or(from, |at| at as u64) * self.step
    }

    /// Choices of coils, by kind how many, that cost so much and hold all; a few of them.
    pub fn choices(&self, kinds: &[Kind], cost: u64) -> Vec<Vec<usize>> {
        let mut out = Vec::new();
        self.choose(kinds, 0, cost, self.all, &mut vec![0; kinds.len()], &mut out, &mut 0);
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
        let holds = self.holds.get((cost / self.step) as usize).copied().flatten().unwrap_or(0);
        if *nodes > CHOICE_NODES || out.len() >= CHOICES || holds < all {
            return;
        }
        let Some(kind) = kinds.get(from) else {
            if cost == 0 && all == 0 {
                out.push(counts.clone());
            }
            return;
        };
        let most = cost.checked_div(kind.cost).map_or(kind.stock, |n| kind.stock.min(n as usize));
        // of what costs nothing all
        for n in (if kind.cost == 0 { most } else { 0 }..=most).rev() {
            counts[from] = n;
            let (paid, held) = (n as u64 * kind.cost, n as u64 * kind.holds);
            self.choose(kinds, from + 1, cost - paid, all.saturating_sub(held), counts, out, nodes);
        }
        counts[from] = 0;
    }

    /// Such costs from one to below another.
    pub fn between(&self, from: u64, to: u64) -> Vec<u64> {
        let steps = from / self.step..(to / self.step).min(self.holds.len() as u64);
        steps.filter(|at| self.holds[*at as usize] == Some(self.all)).map(|at| at * self.step).collect()
    }
}

fn gcd(a: u64, b: u64) -> u64 {
    if b == 0 { a } else { gcd(b, a % b) }
}
