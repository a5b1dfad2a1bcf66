//! Loops on a room's lattice: the cells are dealt out to the loops as connected pieces of equal size, each piece
//! gets a spanning tree, and the loop is the outline of its tree. An outline leaves and comes back at the same
//! place, fills its piece at the lattice's spacing and never crosses itself.
//!
//! After: Y. Gabriely and E. Rimon, "Spanning-tree based coverage of continuous areas by a mobile robot",
//! Annals of Mathematics and Artificial Intelligence 31 (2001).

use crate::job::Point;
use crate::layout::fill::lattice::{Cell, Lattice};
use std::cmp::Reverse;
use std::collections::BinaryHeap;

/// How a floor is cut into pieces.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cut {
    /// Along the lines, in whole pairs of runs, where that makes pieces no more than a quarter larger or smaller.
    Straight,
    /// Pieces of equal size, by single cells.
    Even,
}

impl Cut {
    /// A piece may be that much larger or smaller than its share when its edge becomes straight by it.
    fn slack(self) -> f64 {
        match self {
            Cut::Straight => 0.25,
            Cut::Even => 0.05,
        }
    }
}

/// Pieces are even within this share of their mean; a cell is often more.
const EVEN: f64 = 0.04;
/// So many moves of cells between pieces at most.
const MOST_MOVES: usize = 300;

/// How a tree grows.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Growth {
    /// Along the wall round and round: supply beside return.
    Spiral {
        /// Keeps the wall on the left, else on the right.
        left_hand: bool,
    },
    /// Fingers off a spine.
    Comb {
        /// Fingers run up and down, else left and right.
        upright: bool,
        /// The spine lies at the low end of the fingers (bottom or left), else at the high end.
        spine_low: bool,
    },
    /// Bands side by side, each joined to the next at its other end: supply and return run to and fro together.
    Zigzag {
        /// Bands run upward; else to the side.
        upright: bool,
        /// The joint from an even band to the next lies at the lower end.
        even_low: bool,
    },
}

/// Deals the lattice's cells out to `roots`, which stand side by side from left to right: the first `left` pieces
/// take the floor from the left end, the last ones from the right end, the piece between them the rest.
/// Returns the owner of each cell by [`Lattice::index`]; cells that no root can reach have none.
pub fn deal(lattice: &Lattice, roots: &[Cell], left: usize, cut: Cut) -> Vec<Option<usize>> {
    let mut owner: Vec<Option<usize>> = vec![None; lattice.columns() * lattice.rows()];
    let total = reach(lattice, &owner, roots).len();
    let k = roots.len();
    let mut order: Vec<usize> = (0..left).collect();
    order.extend((left + 1..k).rev());
    let mut given = 0;
    for (done, &piece) in order.iter().enumerate() {
        let quota = (total - given) / (k - done);
        let waiting: Vec<Cell> = (0..k).filter(|p| !order[..=done].contains(p)).map(|p| roots[p]).collect();
        given += take(lattice, &mut owner, roots, piece, &waiting, quota, piece < left, cut);
    }
    for c in reach(lattice, &owner, &roots[left..=left]) {
        if owner[lattice.index(c)].is_none() {
            owner[lattice.index(c)] = Some(left);
        }
    }
    // cells that got cut off go to the smallest neighbour
    loop {
        let mut sizes = vec![0; k];
        owner.iter().flatten().for_each(|&o| sizes[o] += 1);
        let mut changed = false;
        for c in lattice.all() {
            if owner[lattice.index(c)].is_some() {
                continue;
            }
            let best = (0..4)
                .filter_map(|d| lattice.step(c, d))
                .filter_map(|n| owner[lattice.index(n)])
                .min_by_key(|&o| (sizes[o], o));
            if let Some(o) = best {
                owner[lattice.index(c)] = Some(o);
                sizes[o] += 1;
                changed = true;
            }
        }
        if !changed {
            break;
        }
    }
    if cut == Cut::Even {
        balance(lattice, &mut owner, roots, &vec![1.0; k]);
    }
    owner
}

/// Tube that each of `k` pieces takes by its cells, m.
pub fn loads(lattice: &Lattice, owner: &[Option<usize>], k: usize) -> Vec<f64> {
    let mut load = vec![0.0; k];
    for c in lattice.all() {
        if let Some(o) = owner[lattice.index(c)] {
            load[o] += tube(lattice, c);
        }
    }
    load
}

/// Tube that a cell takes, m: its pitch in both directions.
pub fn tube(lattice: &Lattice, c: Cell) -> f64 {
    let pitch = |lines: &[f64], i: usize| {
        let low = if i == 0 { lines[0] } else { f64::midpoint(lines[2 * i - 1], lines[2 * i]) };
        let high =
            if 2 * i + 2 < lines.len() { f64::midpoint(lines[2 * i + 1], lines[2 * i + 2]) } else { lines[2 * i + 1] };
        high - low
    };
    pitch(&lattice.xs, c.0) + pitch(&lattice.ys, c.1)
}

/// Moves cells between neighbouring pieces until all take about the same tube, where a piece's tube is that of its cells
/// times its factor (measured length over calculated length). Pieces stay in one piece and keep their roots.
pub fn balance(lattice: &Lattice, owner: &mut [Option<usize>], roots: &[Cell], factors: &[f64]) {
    let k = roots.len();
    if k < 2 {
        return;
    }
    let mut load: Vec<f64> = loads(lattice, owner, k).iter().zip(factors).map(|(l, f)| l * f).collect();
    let mean = load.iter().sum::<f64>() / k as f64;
    let mut touch = Touch::of(lattice, owner, k);
    for _ in 0..MOST_MOVES {
        let by_load = |a: &usize, b: &usize| load[*a].total_cmp(&load[*b]);
        let (Some(from), Some(to)) = ((0..k).max_by(by_load), (0..k).min_by(by_load)) else { return };
        if load[from] < mean * (1.0 + EVEN) && load[to] > mean * (1.0 - EVEN) {
            return;
        }
        // from the fullest toward the emptiest, over pieces that touch
        let Some(way) = way_between(&touch, from, to) else { return };
        let mut moved = false;
        for step in way.windows(2) {
            let Some(c) = best_move(lattice, owner, step[0], step[1], roots[step[0]]) else { break };
            let t = tube(lattice, c);
            touch.hand_over(lattice, owner, c, step[0], step[1]);
            load[step[0]] -= t * factors[step[0]];
            load[step[1]] += t * factors[step[1]];
            moved = true;
        }
        if !moved {
            return;
        }
    }
}

/// How many steps lead from each of `k` pieces to each other one.
struct Touch {
    k: usize,
    steps: Vec<u32>,
}

impl Touch {
    fn of(lattice: &Lattice, owner: &[Option<usize>], k: usize) -> Touch {
        let mut touch = Touch { k, steps: vec![0; k * k] };
        for c in lattice.all() {
            let Some(a) = owner[lattice.index(c)] else { continue };
            for b in (0..2).filter_map(|d| lattice.step(c, d)).filter_map(|n| owner[lattice.index(n)]) {
                touch.steps[a * k + b] += 1;
                touch.steps[b * k + a] += 1;
            }
        }
        touch
    }

    /// A cell goes from one piece to another.
    fn hand_over(&mut self, lattice: &Lattice, owner: &mut [Option<usize>], c: Cell, from: usize, to: usize) {
        for o in (0..4).filter_map(|d| lattice.step(c, d)).filter_map(|n| owner[lattice.index(n)]) {
            for (a, b) in [(from, o), (o, from)] {
                self.steps[a * self.k + b] -= 1;
            }
            for (a, b) in [(to, o), (o, to)] {
                self.steps[a * self.k + b] += 1;
            }
        }
        owner[lattice.index(c)] = Some(to);
    }
}

/// The shortest way from one piece to another over pieces that touch.
fn way_between(touch: &Touch, from: usize, to: usize) -> Option<Vec<usize>> {
    let k = touch.k;
    let mut before = vec![usize::MAX; k];
    before[from] = from;
    let mut queue = std::collections::VecDeque::from([from]);
    while let Some(a) = queue.pop_front() {
        for b in (0..k).filter(|b| *b != a && touch.steps[a * k + b] > 0) {
            if before[b] == usize::MAX {
                before[b] = a;
                queue.push_back(b);
            }
        }
    }
    if before[to] == usize::MAX {
        return None;
    }
    let mut way = vec![to];
    while way[way.len() - 1] != from {
        way.push(before[way[way.len() - 1]]);
    }
    way.reverse();
    Some(way)
}

/// The cell of piece `from` that goes to `to` with the straightest boundary and without tearing `from` apart.
fn best_move(lattice: &Lattice, owner: &[Option<usize>], from: usize, to: usize, root: Cell) -> Option<Cell> {
    let of = |c: Cell, p: usize| {
        (0..4).filter_map(|d| lattice.step(c, d)).filter(|n| owner[lattice.index(*n)] == Some(p)).count()
    };
    let loose = loose_cells(lattice, owner, from, root)?;
    let gains = loose.into_iter().map(|c| (of(c, to), c)).filter(|x| x.0 > 0);
    gains.map(|(gains, c)| (of(c, from) as i32 - gains as i32, c)).min().map(|x| x.1)
}

/// The cells of a piece, its root aside, without each of which the others still hang together: those that are no cut
/// vertices (Hopcroft and Tarjan, CACM 16, 1973). None where the piece does not hang together with its root.
fn loose_cells(lattice: &Lattice, owner: &[Option<usize>], piece: usize, root: Cell) -> Option<Vec<Cell>> {
    const NEW: u32 = u32::MAX;
    let mine = |c: Cell| owner[lattice.index(c)] == Some(piece);
    if !lattice.has(root) || !mine(root) {
        return None;
    }
    // when a cell was found, and the earliest found that can be reached from below it
    let (mut found, mut low) = (vec![NEW; owner.len()], vec![NEW; owner.len()]);
    let mut cut = vec![false; owner.len()];
    let mut order: Vec<Cell> = vec![root];
    let mut path: Vec<(Cell, usize)> = vec![(root, 0)];
    (found[lattice.index(root)], low[lattice.index(root)]) = (0, 0);
    while let Some(&mut (at, ref mut next_way)) = path.last_mut() {
        let (i, d) = (lattice.index(at), *next_way);
        *next_way += 1;
        if d < 4 {
            let Some(next) = lattice.step(at, d).filter(|&n| mine(n)) else { continue };
            let j = lattice.index(next);
            if found[j] == NEW {
                (found[j], low[j]) = (order.len() as u32, order.len() as u32);
                order.push(next);
                path.push((next, 0));
            } else {
                low[i] = low[i].min(found[j]);
            }
            continue;
        }
        path.pop();
        if let Some(&(above, _)) = path.last() {
            let a = lattice.index(above);
            low[a] = low[a].min(low[i]);
            cut[a] |= low[i] >= found[a];
        }
    }
    let all = owner.iter().filter(|o| **o == Some(piece)).count();
    order.len().eq(&all).then(|| order.into_iter().skip(1).filter(|&c| !cut[lattice.index(c)]).collect())
}

/// Cells without owner that can be reached from the given roots through cells without owner.
fn reach(lattice: &Lattice, owner: &[Option<usize>], roots: &[Cell]) -> Vec<Cell> {
    let mut seen = vec![false; owner.len()];
    let mut stack: Vec<Cell> = roots.to_vec();
    let mut out = Vec::new();
    while let Some(c) = stack.pop() {
        if !lattice.has(c) || owner[lattice.index(c)].is_some() || std::mem::replace(&mut seen[lattice.index(c)], true)
        {
            continue;
        }
        out.push(c);
        stack.extend((0..4).filter_map(|d| lattice.step(c, d)));
    }
    out
}

#[allow(clippy::too_many_arguments, reason = "the state of a deal, used here alone")]
/// Gives `piece` about `quota` cells from one end of the room and a way to them, and leaves those that wait for
/// their turn a way out of their roots. Returns how many it got.
fn take(
    lattice: &Lattice,
    owner: &mut [Option<usize>],
    roots: &[Cell],
    piece: usize,
    waiting: &[Cell],
    quota: usize,
    from_left: bool,
    cut: Cut,
) -> usize {
    let root = roots[piece];
    let reserved = |c: Cell| waiting.iter().any(|r| r.0 == c.0 && c.1 <= r.1 + roots.len());
    // cheapest way from the root to every free cell; low rows are so much cheaper that ways hug the
    // entry wall and leave no floor between
    let n = owner.len();
    let mut cost = vec![u32::MAX; n];
    let mut from: Vec<Option<Cell>> = vec![None; n];
    let mut heap = BinaryHeap::from([(Reverse(0u32), root)]);
    cost[lattice.index(root)] = 0;
    while let Some((Reverse(c), at)) = heap.pop() {
        if c > cost[lattice.index(at)] {
            continue;
        }
        for next in (0..4).filter_map(|d| lattice.step(at, d)) {
            let i = lattice.index(next);
            if owner[i].is_some() || reserved(next) {
                continue;
            }
            let total = c + 10 + 50 * next.1 as u32;
            if total < cost[i] {
                cost[i] = total;
                from[i] = Some(at);
                heap.push((Reverse(total), next));
            }
        }
    }
    let mut cells: Vec<Cell> = lattice.all().filter(|&c| cost[lattice.index(c)] < u32::MAX).collect();
    // the last column, of which only a part is taken, is taken from its far end: its near end stays open for others
    cells.sort_by_key(|c| (if from_left { c.0 } else { lattice.columns() - c.0 }, Reverse(c.1)));
    let (mut got, mut quota_here) = (0, quota);
    let claim = |owner: &mut [Option<usize>], c: Cell, got: &mut usize| {
        let i = lattice.index(c);
        if owner[i].is_none() {
            owner[i] = Some(piece);
            *got += 1;
        }
    };
    claim(owner, root, &mut got);
    let mut column = usize::MAX;
    for (n, &c) in cells.iter().enumerate() {
        if c.0 != column {
            // a straight edge between pieces is worth a little inequality: whole columns where they nearly fit
            column = c.0;
            let tall = cells[n..].iter().take_while(|d| d.0 == column && owner[lattice.index(**d)].is_none()).count();
            let over = (got + tall).saturating_sub(quota) as f64;
            let under = quota.saturating_sub(got) as f64;
            let slack = cut.slack() * quota as f64;
            if under <= slack && over > under {
                break;
            }
            if over <= slack {
                quota_here = quota.max(got + tall);
            }
        }
        if got >= quota_here {
            break;
        }
        // next to what the piece has already, else by the way from its root
        if (0..4).filter_map(|d| lattice.step(c, d)).any(|n| owner[lattice.index(n)] == Some(piece)) {
            claim(owner, c, &mut got);
            continue;
        }
        let mut at = Some(c);
        while let Some(step) = at {
            claim(owner, step, &mut got);
            at = from[lattice.index(step)];
        }
    }
    got
}

/// A spanning tree of the piece, as the set of steps `(cell, direction)` with direction 0 (right) or 1 (up).
pub struct Links {
    right: Vec<bool>,
    up: Vec<bool>,
}

impl Links {
    fn new(lattice: &Lattice) -> Links {
        let n = lattice.columns() * lattice.rows();
        Links { right: vec![false; n], up: vec![false; n] }
    }

    fn join(&mut self, lattice: &Lattice, a: Cell, b: Cell) {
        if a.1 == b.1 {
            self.right[lattice.index(if a.0 < b.0 { a } else { b })] = true;
        } else {
            self.up[lattice.index(if a.1 < b.1 { a } else { b })] = true;
        }
    }

    /// Cuts the leaf nearest to `at` off the tree, if one lies within `reach` of it. The root stays.
    pub fn trim(&mut self, lattice: &Lattice, root: Cell, at: Point, reach: f64) -> bool {
        let leaf = lattice
            .all()
            .filter(|&c| c != root && (0..4).filter(|&d| self.joined(lattice, c, d)).count() == 1)
            .map(|c| (crate::geometry::distance(lattice.middle(c), at), c))
            .filter(|&(d, _)| d <= reach)
            .min_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
        let Some((_, c)) = leaf else { return false };
        self.right[lattice.index(c)] = false;
        self.up[lattice.index(c)] = false;
        if c.0 > 0 {
            self.right[lattice.index((c.0 - 1, c.1))] = false;
        }
        if c.1 > 0 {
            self.up[lattice.index((c.0, c.1 - 1))] = false;
        }
        true
    }

    fn joined(&self, lattice: &Lattice, c: Cell, d: usize) -> bool {
        match d {
            0 => self.right[lattice.index(c)],
            1 => self.up[lattice.index(c)],
            2 => c.0 > 0 && self.right[lattice.index((c.0 - 1, c.1))],
            _ => c.1 > 0 && self.up[lattice.index((c.0, c.1 - 1))],
        }
    }
}

/// Grows a tree over the cells of `piece` that hang together with `root`.
pub fn grow(lattice: &Lattice, owner: &[Option<usize>], piece: usize, root: Cell, tree: Growth) -> Links {
    let mine = |c: Cell| owner[lattice.index(c)] == Some(piece);
    let mut links = Links::new(lattice);
    match tree {
        Growth::Spiral { left_hand } => {
            let mut seen = vec![false; owner.len()];
            seen[lattice.index(root)] = true;
            let mut stack = vec![(root, 1usize)];
            while let Some(&(c, heading)) = stack.last() {
                let turns: [usize; 3] = if left_hand { [1, 0, 3] } else { [3, 0, 1] };
                let next = turns.iter().map(|t| (heading + t) % 4).find_map(|d| {
                    let n = lattice.step(c, d)?;
                    (mine(n) && !seen[lattice.index(n)]).then_some((n, d))
                });
                match next {
                    Some((n, d)) => {
                        seen[lattice.index(n)] = true;
                        links.join(lattice, c, n);
                        stack.push((n, d));
                    }
                    None => {
                        stack.pop();
                    }
                }
            }
        }
        Growth::Comb { .. } | Growth::Zigzag { .. } => {
            let (Growth::Comb { upright, .. } | Growth::Zigzag { upright, .. }) = tree else { return links };
            // at which end a band is joined to the next
            let low = |band: usize| match tree {
                Growth::Zigzag { even_low, .. } => even_low == band.is_multiple_of(2),
                Growth::Comb { spine_low, .. } => spine_low,
                Growth::Spiral { .. } => true,
            };
            let finger = usize::from(upright);
            let mut steps: Vec<(usize, Cell, Cell)> = Vec::new();
            for c in lattice.all().filter(|&c| mine(c)) {
                for d in [0, 1] {
                    if let Some(n) = lattice.step(c, d).filter(|&n| mine(n)) {
                        let (along, band) =
                            if upright { ((c.1, lattice.rows()), c.0) } else { ((c.0, lattice.columns()), c.1) };
                        let away = if low(band) { along.0 } else { along.1 - along.0 };
                        steps.push((if d == finger { 0 } else { 1 + away }, c, n));
                    }
                }
            }
            steps.sort();
            let mut set: Vec<usize> = (0..owner.len()).collect();
            fn find(set: &mut [usize], mut i: usize) -> usize {
                while set[i] != i {
                    set[i] = set[set[i]];
                    i = set[i];
                }
                i
            }
            for (_, a, b) in steps {
                let (x, y) = (find(&mut set, lattice.index(a)), find(&mut set, lattice.index(b)));
                if x != y {
                    set[x] = y;
                    links.join(lattice, a, b);
                }
            }
        }
    }
    links
}

/// The loop round the tree: corners from the lower left to the lower right of `root`, m.
pub fn outline(lattice: &Lattice, links: &Links, root: Cell) -> Vec<Point> {
    // nodes are the tube crossings of the lattice; each has up to two neighbours on the loop
    let width = lattice.xs.len();
    let node = |a: usize, b: usize| b * width + a;
    // walk from the root's lower left node; at each node of a cell the next side is known from the links
    let mut out = Vec::new();
    let (mut cell, mut corner) = (root, 0usize); // corners: 0 lower left, 1 upper left, 2 upper right, 3 lower right
    let position = |c: Cell, k: usize| {
        let (dx, dy) = [(0, 0), (0, 1), (1, 1), (1, 0)][k];
        (2 * c.0 + dx, 2 * c.1 + dy)
    };
    let goal = position(root, 3);
    // going clockwise round the cell: from corner k along side k (0 left, 1 top, 2 right, 3 bottom)
    let side_direction = [2usize, 1, 0, 3];
    let limit = 4 * lattice.columns() * lattice.rows() + 8;
    let mut last = usize::MAX;
    for _ in 0..limit {
        let (a, b) = position(cell, corner);
        if node(a, b) != last {
            out.push([lattice.xs[a], lattice.ys[b]]);
            last = node(a, b);
        }
        if (a, b) == goal {
            break;
        }
        let d = side_direction[corner];
        if links.joined(lattice, cell, d)
            && let Some(next) = lattice.step(cell, d)
        {
            // cross into the neighbour and go on along its side
            cell = next;
            corner = [3, 0, 1, 2][corner];
        } else {
            corner = (corner + 1) % 4;
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geometry::distance;
    use crate::geometry::outline::signed_area;
    use crate::layout::fill::lattice::{Lattice, Spacing, Stop, lines};
    use crate::layout::fill::region::{Frame, Region};

    fn room(outline: &[Point]) -> Lattice {
        let region = Region::new(outline, &[], &Frame::new([0.0, 1.0]), [0.5, 0.0], 0.1, 0.0).expect("free");
        let spacing = Spacing { core: 0.2, edge: 0.2, least: 0.0, clear: 0.1, bands: vec![] };
        let axis = |k: usize| {
            let (lo, hi) = outline.iter().fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p[k]), h.max(p[k])));
            lines(&[Stop { at: lo + 0.1, opens: true }, Stop { at: hi - 0.1, opens: false }], &spacing, 0.04)
        };
        Lattice::new(axis(0), axis(1), &region)
    }

    const HALL: [Point; 4] = [[0.0, 0.0], [6.0, 0.0], [6.0, 5.0], [0.0, 5.0]];

    #[test]
    fn pieces_are_equal_and_leave_nothing() {
        let lattice = room(&HALL);
        let columns = lattice.columns();
        for k in 1..=5usize {
            for front in 0..columns {
                // as the caller does: so many pieces on the left as the floor there feeds
                let left = (front * k / columns).min(k - 1);
                let first = (front - left).min(columns - k);
                let roots: Vec<Cell> = (0..k).map(|p| (first + p, 0)).collect();
                let owner = deal(&lattice, &roots, left, Cut::Even);
                assert!(lattice.all().all(|c| owner[lattice.index(c)].is_some()));
                let size = |p: usize| owner.iter().filter(|o| **o == Some(p)).count();
                let (least, most) = ((0..k).map(size).min().unwrap_or(0), (0..k).map(size).max().unwrap_or(0));
                assert!(most - least <= most / 10 + 1, "{k} {front}: {least}…{most}");
            }
        }
    }

    /// Cut straight, pieces lie side by side in whole columns, but for their ways to the entry along the lowest rows.
    #[test]
    fn straight_cuts_run_from_wall_to_wall() {
        let lattice = room(&HALL);
        for k in 2..=4usize {
            let first = (lattice.columns() - k) / 2;
            let roots: Vec<Cell> = (0..k).map(|p| (first + p, 0)).collect();
            let owner = deal(&lattice, &roots, k / 2, Cut::Straight);
            assert!(lattice.all().all(|c| owner[lattice.index(c)].is_some()));
            for column in 0..lattice.columns() {
                let of = |row: usize| owner[lattice.index((column, row))];
                assert!((k..lattice.rows()).all(|row| of(row) == of(k)), "{k} loops, column {column}");
            }
            let size = |p: usize| owner.iter().filter(|o| **o == Some(p)).count() as f64;
            let mean = owner.len() as f64 / k as f64;
            assert!(
                (0..k).all(|p| (size(p) / mean - 1.0).abs() < 0.4),
                "{k}: {:?}",
                (0..k).map(size).collect::<Vec<_>>()
            );
        }
    }

    #[test]
    fn every_tree_gives_one_loop_through_every_cell() {
        let lattice = room(&HALL);
        let owner: Vec<Option<usize>> = vec![Some(0); lattice.columns() * lattice.rows()];
        for tree in [
            Growth::Spiral { left_hand: true },
            Growth::Spiral { left_hand: false },
            Growth::Comb { upright: true, spine_low: true },
            Growth::Comb { upright: false, spine_low: false },
        ] {
            let links = grow(&lattice, &owner, 0, (3, 0), tree);
            let path = outline(&lattice, &links, (3, 0));
            // four crossings a cell, each visited once
            assert_eq!(path.len(), 4 * owner.len(), "{tree:?}");
            // the loop encloses its tree only: a cell each and a gap for each link
            let cell = |v: &[f64]| v[1] - v[0];
            let (w, h) = (cell(&lattice.xs), cell(&lattice.ys));
            let joined = owner.len() as f64 - 1.0;
            let area = signed_area(&path).abs();
            assert!(area > owner.len() as f64 * w * h && area < owner.len() as f64 * w * h + joined * 0.25 * 0.25);
            assert!(distance(path[0], path[path.len() - 1]) < 0.25);
        }
    }

    #[test]
    fn uneven_pieces_are_evened_and_stay_whole() {
        let lattice = room(&HALL);
        let (columns, rows) = (lattice.columns(), lattice.rows());
        // the first has one column, the second two, the third the rest
        let mut owner: Vec<Option<usize>> = (0..columns * rows)
            .map(|i| {
                Some(match i % columns {
                    0 => 0,
                    1 | 2 => 1,
                    _ => 2,
                })
            })
            .collect();
        let roots = [(0, 0), (1, 0), (3, 0)];
        balance(&lattice, &mut owner, &roots, &[1.0; 3]);
        let load = loads(&lattice, &owner, 3);
        let mean = load.iter().sum::<f64>() / 3.0;
        for (p, l) in load.iter().enumerate() {
            // within the even share and half a cell's tube
            assert!((l / mean - 1.0).abs() < EVEN + 0.5 * 0.8 / mean, "{load:?}");
            assert_eq!(owner[lattice.index(roots[p])], Some(p));
            assert!(loose_cells(&lattice, &owner, p, roots[p]).is_some(), "{p} fell apart");
        }
        // a piece whose cells take twice the tube gets half the cells
        balance(&lattice, &mut owner, &roots, &[2.0, 1.0, 1.0]);
        let load = loads(&lattice, &owner, 3);
        assert!((2.0 * load[0] / load[2] - 1.0).abs() < 0.2, "{load:?}");
    }
}
