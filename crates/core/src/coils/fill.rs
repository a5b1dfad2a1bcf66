//! The best filling of one coil: pieces whose values are largest together and that go into it.

/// A piece that may be put in.
#[derive(Debug, Clone, Copy)]
pub(super) struct Item {
    /// Its place in the list of pieces.
    pub piece: usize,
    /// mm
    pub size: u64,
    /// What it is worth.
    pub value: f64,
}

/// Values that differ by less, as share, are the same.
const SAME: f64 = 1e-9;

/// What was found.
#[derive(Debug)]
pub(super) struct Filling {
    /// Pieces of the best filling.
    pub pieces: Vec<usize>,
    /// No filling is worth more.
    pub bound: f64,
}

/// The most valuable pieces that go into `room` mm, looked for as long as they may be worth more than `least`; by depth first
/// with the fractional bound (Horowitz and Sahni 1974).
///
/// `items` in falling order of value by size, see [`by_worth`].
pub(super) fn fill(items: &[Item], room: u64, least: f64, most_nodes: usize) -> Filling {
    let mut search = Search { items, best: Vec::new(), value: least, taken: Vec::new(), nodes: 0, most_nodes };
    let root = search.bound(0, room, 0.0);
    search.go(0, room, 0.0);
    let gave_up = search.nodes >= most_nodes;
    // what was pruned is worth no more than the best, or than what was asked for
    let bound = if gave_up { root } else { search.value.min(root) * (1.0 + SAME) };
    Filling { pieces: search.best, bound }
}

/// Falling value by size; what is worth nothing is left out.
pub(super) fn by_worth(items: &mut Vec<Item>) {
    items.retain(|i| i.value > 1e-12);
    let rate = |i: &Item| i.value / i.size as f64;
    items.sort_by(|a, b| rate(b).total_cmp(&rate(a)).then(b.size.cmp(&a.size)).then(a.piece.cmp(&b.piece)));
}

struct Search<'a> {
    items: &'a [Item],
    best: Vec<usize>,
    value: f64,
    taken: Vec<usize>,
    nodes: usize,
    /// Places to look at before it gives up and only bounds the value.
    most_nodes: usize,
}

impl Search<'_> {
    /// What the pieces from `from` on can add to `value` at most, the last of them in part.
    fn bound(&self, from: usize, mut room: u64, mut value: f64) -> f64 {
        for item in &self.items[from..] {
            if item.size > room {
                return value + item.value * room as f64 / item.size as f64;
            }
            room -= item.size;
            value += item.value;
        }
        value
    }

    fn go(&mut self, from: usize, room: u64, value: f64) {
        self.nodes += 1;
        if value > self.value * (1.0 + SAME) {
            self.value = value;
            self.best.clone_from(&self.taken);
        }
        for k in from..self.items.len() {
            if self.nodes >= self.most_nodes || self.bound(k, room, value) <= self.value * (1.0 + SAME) {
                return;
            }
            let item = self.items[k];
            // of equal pieces the first is taken first
            let twin = k > from && self.items[k - 1].size == item.size && self.items[k - 1].value == item.value;
            if item.size <= room && !twin {
                self.taken.push(item.piece);
                self.go(k + 1, room - item.size, value + item.value);
                self.taken.pop();
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn items(of: &[(u64, f64)]) -> Vec<Item> {
        let mut out: Vec<Item> =
            of.iter().enumerate().map(|(piece, (size, value))| Item { piece, size: *size, value: *value }).collect();
        by_worth(&mut out);
        out
    }

    #[test]
    fn it_is_as_good_as_trying_every_choice() {
        let mut chance = fastrand::Rng::with_seed(3);
        for _ in 0..200 {
            let of: Vec<(u64, f64)> = (0..9).map(|_| (chance.u64(1..=60), chance.u64(..40) as f64)).collect();
            let room = chance.u64(40..160);
            let every = (0_u32..512).map(|choice| {
                let chosen = of.iter().enumerate().filter(|(i, _)| choice & (1 << i) != 0).map(|(_, x)| x);
                let (size, value) = chosen.fold((0, 0.0), |(s, v), (size, value)| (s + size, v + value));
                if size <= room { value } else { 0.0 }
            });
            let most = every.fold(0.0, f64::max);
            let got = fill(&items(&of), room, 0.0, 100_000);
            let sum: f64 = got.pieces.iter().map(|p| of[*p].1).sum();
            assert!((sum - most).abs() < 1e-9 && got.bound >= most - 1e-9, "{of:?} {room}: {got:?} {most}");
            assert!(got.pieces.iter().map(|p| of[*p].0).sum::<u64>() <= room);
        }
    }

    #[test]
    fn what_is_not_worth_enough_is_not_told() {
        let got = fill(&items(&[(5, 3.0), (6, 4.0)]), 11, 10.0, 100);
        assert!(got.pieces.is_empty() && got.bound <= 10.0 * (1.0 + 1e-6));
    }
}
