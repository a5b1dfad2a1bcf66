//! The lines on which tube may lie in a room: in pairs, at the field spacing, closer along outside walls,
//! stretched a little so that the last line meets its wall. Two neighbouring pairs in each direction bound a
//! *cell*; a loop later follows the outline of a tree of cells.

use crate::job::Point;
use crate::layout::fill::region::{Rect, Region};

/// A spacing may be stretched by this factor to fit between walls.
const STRETCH: f64 = 1.1;
/// Rather so much closer than wider: bends cut corners, and the tube of the field should be what the spacing asks for.
const DENSER: f64 = 1.05;
/// Where the tube's bend radius forbids one more pair of lines, by this factor.
const MOST_STRETCH: f64 = 1.35;

/// Spacing across a room along one axis.
#[derive(Debug, Clone)]
pub struct Spacing {
    /// In the core, m.
    pub core: f64,
    /// In the bands, m.
    pub edge: f64,
    /// Tighter than this the tube cannot turn back beside another turn, m.
    pub least: f64,
    /// Distance of the outermost lines from walls, m.
    pub clear: f64,
    /// Stretches along this axis that lie in an perimeter zone, m.
    pub bands: Vec<(f64, f64)>,
}

impl Spacing {
    fn at(&self, x: f64) -> f64 {
        if self.bands.iter().any(|b| b.0 <= x && x <= b.1) { self.edge } else { self.core }
    }

    /// By how much, in spacings, lines may lie farther off the two ends of a stretch, so that the floor beside the first
    /// and the last is half a spacing wide.
    fn margins(&self, from: f64, to: f64) -> [f64; 2] {
        [from, to].map(|end| (0.5 - self.clear / self.at(end)).max(0.0))
    }

    /// Number of spacings between two positions.
    fn count(&self, from: f64, to: f64) -> f64 {
        self.pieces(from, to).iter().map(|&(a, b, s)| (b - a) / s).sum()
    }

    fn pieces(&self, from: f64, to: f64) -> Vec<(f64, f64, f64)> {
        let mut cuts = vec![from, to];
        for b in &self.bands {
            cuts.extend([b.0, b.1].into_iter().filter(|&c| c > from && c < to));
        }
        cuts.sort_by(f64::total_cmp);
        cuts.windows(2).map(|w| (w[0], w[1], self.at((w[0] + w[1]) / 2.0))).collect()
    }

    /// The position after `n` spacings from `from`.
    fn position(&self, from: f64, to: f64, mut n: f64) -> f64 {
        for (a, b, s) in self.pieces(from, to) {
            let here = (b - a) / s;
            if n <= here {
                return a + n * s;
            }
            n -= here;
        }
        to
    }
}

/// Where tube must stop along one axis: a place up to which there is free floor on its low or its high side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stop {
    /// Coordinate that a tube may reach, m.
    pub at: f64,
    /// True when the free floor starts here and goes on to higher coordinates.
    pub opens: bool,
}

/// Tube positions along one axis, an even number; `stops` in any order.
pub fn lines(stops: &[Stop], spacing: &Spacing, least_gap: f64) -> Vec<f64> {
    let fits = |from: f64, to: f64| fits(from, to, spacing);
    let mut out = Vec::new();
    between(stops, spacing, fits, |from, to| {
        fill(from, to, spacing, least_gap, &mut out);
        to
    });
    out
}

/// Tube positions on whole modules only, one of which lies at `one`; otherwise as [`lines`].
pub fn on_modules(stops: &[Stop], spacing: &Spacing, one: f64, module: f64) -> Vec<f64> {
    let mut out = Vec::new();
    let fits = |from: f64, to: f64| modules(from, to, spacing, one, module).len() > 1;
    between(stops, spacing, fits, |from, to| {
        out.extend(modules(from, to, spacing, one, module));
        // the next may follow as soon as the spacing allows
        out.last().copied().unwrap_or(to)
    });
    out
}

/// Goes through the stretches between stops. `fill` is given each and tells where its last line lies.
fn between(stops: &[Stop], spacing: &Spacing, fits: impl Fn(f64, f64) -> bool, mut fill: impl FnMut(f64, f64) -> f64) {
    let mut stops: Vec<Stop> = stops.to_vec();
    stops.sort_by(|a, b| a.at.total_cmp(&b.at).then(a.opens.cmp(&b.opens)));
    let (Some(first), Some(last)) = (stops.iter().find(|s| s.opens), stops.iter().rev().find(|s| !s.opens)) else {
        return;
    };
    let (first, last) = (*first, *last);
    let mut from = first.at;
    for stop in stops.iter().filter(|s| s.at > first.at && s.at < last.at) {
        // the interval before ends with the stop, or one spacing before it
        let s = spacing.at(stop.at);
        let to = if stop.opens { stop.at - s } else { stop.at };
        let next = if stop.opens { stop.at } else { stop.at + s };
        // too narrow a strip on either side: leave the stop to the cells' own test
        if !fits(from, to) || last.at - next < 0.7 * s {
            continue;
        }
        let ended = fill(from, to);
        from = if stop.opens { next } else { ended + s };
    }
    fill(from, last.at);
}

/// An even number of positions on whole modules in a stretch.
fn modules(low: f64, high: f64, spacing: &Spacing, one: f64, module: f64) -> Vec<f64> {
    let first = one + ((low - one) / module - 1e-6).ceil() * module;
    let modules = ((high - first) / module + 1e-6).floor();
    if modules < 1.0 {
        return vec![];
    }
    let to = first + modules * module;
    // a step that is a little too tight swells a little more
    let least = (0.9 * spacing.least / module - 1e-6).ceil().max(1.0);
    let core = (spacing.core / module).round().max(least);
    let wanted = spacing.count(first, to);
    // even steps of the core where they leave no more than a module at the walls; else steps that differ by one
    let even = odd_below(modules / core);
    let left = modules - even * core;
    if even >= 1.0 && spacing.bands.is_empty() && left < 2.0 {
        let from = (left / 2.0).floor();
        return (0..=even as usize).map(|k| first + (from + k as f64 * core) * module).collect();
    }
    // none where they are too many
    let places = |n: f64| -> Option<Vec<f64>> {
        let mut at = -least;
        let places: Vec<f64> = (0..=n as usize)
            .map(|k| {
                let ideal = (spacing.position(first, to, wanted * k as f64 / n) - first) / module;
                at = ideal.round().max(at + least);
                at
            })
            .collect();
        (at <= modules).then_some(places)
    };
    let widest = |places: &[f64]| places.windows(2).map(|w| w[1] - w[0]).fold(0.0, f64::max);
    let fewest = odd_below(wanted.round().max(1.0)).min(odd_below(modules / least));
    // rather two lines more than steps wider than a spacing may be stretched
    let most = (STRETCH * spacing.core / module + 1e-6).floor().max(core);
    let denser = places(fewest + 2.0).filter(|p| widest(p) <= most);
    let few = (0..).map(|k| fewest - 2.0 * f64::from(k)).take_while(|n| *n >= 1.0).find_map(places);
    let chosen = few.map(|few| if widest(&few) > most { denser.unwrap_or(few) } else { few });
    chosen.unwrap_or_default().into_iter().map(|k| first + k * module).collect()
}

/// The largest odd number up to a figure; below 1 there is none.
fn odd_below(x: f64) -> f64 {
    let n = (x + 1e-6).floor();
    if n % 2.0 == 0.0 { n - 1.0 } else { n }
}

/// Two tubes in every bay between joists, one of whose centre lines lies at `one`: a quarter of the joists' distance
/// from each, nearer to each other in the bays beside walls.
pub fn in_bays(stops: &[Stop], least: f64, one: f64, centres: f64) -> Vec<f64> {
    let Some((low, high)) = outermost(stops) else { return vec![] };
    let first = ((low - one) / centres).floor() as i64;
    let last = ((high - one) / centres).ceil() as i64;
    (first..last)
        .map(|n| one + n as f64 * centres)
        .map(|joist| [(joist + centres / 4.0).max(low), (joist + 0.75 * centres).min(high)])
        .filter(|[a, b]| b - a >= least - 1e-9)
        .flatten()
        .collect()
}

fn outermost(stops: &[Stop]) -> Option<(f64, f64)> {
    let low = stops.iter().filter(|s| s.opens).map(|s| s.at).min_by(f64::total_cmp)?;
    let high = stops.iter().filter(|s| !s.opens).map(|s| s.at).max_by(f64::total_cmp)?;
    (low < high).then_some((low, high))
}

/// An odd number of gaps (an even number of lines) that comes nearest to the wanted spacing, is not stretched much,
/// and never tighter than the tube can turn.
fn gaps(from: f64, to: f64, spacing: &Spacing) -> f64 {
    let wanted = spacing.count(from, to);
    // a line has half a spacing of floor on either side: at the walls there may be less
    let fewer: f64 = spacing.margins(from, to).iter().sum();
    let mut gaps = 1.0;
    let off = |gaps: f64| (DENSER * wanted - fewer - gaps).abs();
    while (wanted - fewer) / gaps > STRETCH || off(gaps) > off(gaps + 2.0) {
        gaps += 2.0;
    }
    let tightest = |gaps: f64| {
        let p = |k: f64| spacing.position(from, to, wanted * k / gaps);
        (0..gaps as usize).map(|k| p(k as f64 + 1.0) - p(k as f64)).fold(f64::INFINITY, f64::min)
    };
    while gaps > 1.0 && tightest(gaps) < spacing.least - 1e-9 {
        gaps -= 2.0;
    }
    gaps
}

/// Whether lines fill the stretch without being torn apart.
fn fits(from: f64, to: f64, spacing: &Spacing) -> bool {
    to - from >= spacing.least - 1e-9 && spacing.count(from, to) / gaps(from, to, spacing) <= MOST_STRETCH
}

fn fill(from: f64, to: f64, spacing: &Spacing, least_gap: f64, out: &mut Vec<f64>) {
    if to - from < least_gap.max(spacing.least - 1e-9) {
        return;
    }
    let n = gaps(from, to, spacing);
    let all = spacing.count(from, to);
    // rather off the walls, up to half a spacing, or a margin at the far end, than lines torn apart
    let [near, far] = spacing.margins(from, to);
    let spare = (all - STRETCH * n).max(0.0);
    let first = near.min(spare * near / (near + far).max(1e-9));
    let last = far.min(spare * far / (near + far).max(1e-9));
    let wanted = (all - first - last).min(MOST_STRETCH * n);
    out.extend((0..=n as usize).map(|k| spacing.position(from, to, first + wanted * k as f64 / n)));
}

/// The lattice of one room.
#[derive(Debug, Clone)]
pub struct Lattice {
    /// Tube positions across, m; cell column `i` lies between lines `2i` and `2i + 1`.
    pub xs: Vec<f64>,
    /// Tube positions upward, m.
    pub ys: Vec<f64>,
    cells: Vec<bool>,
    right: Vec<bool>,
    up: Vec<bool>,
}

/// A cell by column and row.
pub type Cell = (usize, usize);

impl Lattice {
    /// Finds which cells, and which steps from cell to cell, lie on free floor.
    pub fn new(xs: Vec<f64>, ys: Vec<f64>, region: &Region) -> Lattice {
        let (nx, ny) = (xs.len() / 2, ys.len() / 2);
        let mut lattice =
            Lattice { xs, ys, cells: vec![false; nx * ny], right: vec![false; nx * ny], up: vec![false; nx * ny] };
        for j in 0..ny {
            for i in 0..nx {
                let at = j * nx + i;
                lattice.cells[at] = region.is_free(&lattice.rect((i, j), (i, j)));
                lattice.right[at] = i + 1 < nx && region.is_free(&lattice.rect((i, j), (i + 1, j)));
                lattice.up[at] = j + 1 < ny && region.is_free(&lattice.rect((i, j), (i, j + 1)));
            }
        }
        lattice
    }

    fn rect(&self, a: Cell, b: Cell) -> Rect {
        Rect { x0: self.xs[2 * a.0], y0: self.ys[2 * a.1], x1: self.xs[2 * b.0 + 1], y1: self.ys[2 * b.1 + 1] }
    }

    /// Number of columns.
    pub fn columns(&self) -> usize {
        self.xs.len() / 2
    }

    /// Number of rows.
    pub fn rows(&self) -> usize {
        self.ys.len() / 2
    }

    /// A number for a cell, below `columns · rows`.
    pub fn index(&self, c: Cell) -> usize {
        c.1 * self.columns() + c.0
    }

    /// Whether the cell is free floor.
    pub fn has(&self, c: Cell) -> bool {
        c.0 < self.columns() && c.1 < self.rows() && self.cells[self.index(c)]
    }

    /// Takes a cell out.
    pub fn remove(&mut self, c: Cell) {
        let at = self.index(c);
        self.cells[at] = false;
    }

    /// All free cells, row by row.
    pub fn all(&self) -> impl Iterator<Item = Cell> + '_ {
        (0..self.rows()).flat_map(move |j| (0..self.columns()).map(move |i| (i, j))).filter(|&c| self.has(c))
    }

    /// The cell one step on in direction `d` (0 right, 1 up, 2 left, 3 down), if one may step there.
    pub fn step(&self, c: Cell, d: usize) -> Option<Cell> {
        let to = match d {
            0 => (c.0 + 1, c.1),
            1 => (c.0, c.1 + 1),
            2 => (c.0.checked_sub(1)?, c.1),
            _ => (c.0, c.1.checked_sub(1)?),
        };
        if !self.has(c) || !self.has(to) {
            return None;
        }
        let open = match d {
            0 => self.right[self.index(c)],
            1 => self.up[self.index(c)],
            2 => self.right[self.index(to)],
            _ => self.up[self.index(to)],
        };
        open.then_some(to)
    }

    /// Middle of a cell, m.
    pub fn middle(&self, c: Cell) -> Point {
        [(self.xs[2 * c.0] + self.xs[2 * c.0 + 1]) / 2.0, (self.ys[2 * c.1] + self.ys[2 * c.1 + 1]) / 2.0]
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn even(core: f64) -> Spacing {
        Spacing { core, edge: core, least: 0.0, clear: 0.1, bands: vec![] }
    }

    fn open(at: f64) -> Stop {
        Stop { at, opens: true }
    }

    fn close(at: f64) -> Stop {
        Stop { at, opens: false }
    }

    #[test]
    fn lines_reach_both_walls_in_pairs_near_the_wanted_spacing() {
        for width in [0.9, 1.37, 2.0, 3.3, 4.8, 7.77, 12.0] {
            let l = lines(&[open(0.1), close(0.1 + width)], &even(0.2), 0.04);
            assert!(l.len() >= 2 && l.len().is_multiple_of(2));
            assert!((l[0] - 0.1).abs() < 1e-9 && (l[l.len() - 1] - 0.1 - width).abs() < 1e-9);
            for w in l.windows(2) {
                assert!(w[1] - w[0] <= 0.2 * STRETCH + 1e-9, "{width}: {}", w[1] - w[0]);
            }
        }
    }

    #[test]
    fn a_notch_gets_tube_on_both_of_its_sides() {
        let l = lines(&[open(0.1), close(2.9), close(5.9)], &even(0.2), 0.04);
        let k = l.iter().position(|x| (x - 2.9).abs() < 1e-9).expect("a line at the notch");
        assert_eq!(k % 2, 1, "it closes a pair");
        assert!((l[k + 1] - 3.1).abs() < 1e-9);
    }

    #[test]
    fn the_band_is_tighter() {
        let s = Spacing { core: 0.3, edge: 0.15, least: 0.0, clear: 0.1, bands: vec![(0.0, 0.8)] };
        let l = lines(&[open(0.1), close(5.9)], &s, 0.04);
        assert!(l[1] - l[0] < 0.17 && l[l.len() - 1] - l[l.len() - 2] > 0.25);
    }

    #[test]
    fn tube_on_a_mesh_lies_on_its_wires() {
        for (width, module, core) in
            [(4.0, 0.15, 0.15), (3.33, 0.15, 0.3), (5.17, 0.05, 0.2), (2.9, 0.1, 0.15), (7.7, 0.03, 0.2)]
        {
            for edge in [core, 0.7 * core] {
                let bands = if edge < core { vec![(0.0, 0.8)] } else { vec![] };
                let s = Spacing { core, edge, least: 0.1, clear: 0.1, bands };
                let l = on_modules(&[open(0.1), close(0.1 + width)], &s, 0.02, module);
                assert!(l.len() >= 2 && l.len().is_multiple_of(2), "{width} {module}: {l:?}");
                assert!(l[0] >= 0.1 - 1e-6 && l[l.len() - 1] <= 0.1 + width + 1e-6);
                for x in &l {
                    let n = (x - 0.02) / module;
                    assert!((n - n.round()).abs() < 1e-6, "{x} is off the wires");
                }
                for w in l.windows(2) {
                    let gap = w[1] - w[0];
                    assert!(gap > 0.1 - 1e-6 && gap < 1.35 * core.max(module) + module, "{gap} at {core} on {module}");
                }
                let margin = (l[0] - 0.1).max(0.1 + width - l[l.len() - 1]);
                assert!(margin < core.max(module) + module, "{margin}");
            }
        }
        assert!(on_modules(&[open(0.1), close(0.15)], &even(0.2), 0.0, 0.15).is_empty());
        assert!(on_modules(&[open(0.1)], &even(0.2), 0.0, 0.15).is_empty());
    }

    /// At wide spacings the outermost lines may lie farther off the walls than they must: each line has its floor.
    #[test]
    fn wide_spacings_take_the_tube_they_ask_for() {
        let mut off: Vec<f64> = vec![];
        for k in 0..120 {
            let width = 2.0 + 0.05 * f64::from(k);
            let l = lines(&[open(0.1), close(width - 0.1)], &even(0.3), 0.04);
            assert!(l[0] >= 0.1 - 1e-9 && l[0] <= 0.15 + 1e-9 && l[l.len() - 1] <= width - 0.1 + 1e-9);
            assert!(width - l[l.len() - 1] <= 0.15 + 1e-9, "{width}: {l:?}");
            assert!(l.windows(2).all(|w| w[1] - w[0] <= 0.3 * STRETCH + 1e-9), "{width}: {l:?}");
            off.push(l.len() as f64 * 0.3 / width - 1.0);
        }
        // a twentieth more than the floor asks for, which bends cut off again
        let mean = off.iter().sum::<f64>() / off.len() as f64;
        assert!((0.03..0.07).contains(&mean), "{mean}");
    }

    #[test]
    fn steps_on_modules_are_no_wider_than_a_spacing_may_be() {
        let s = Spacing { least: 0.16, ..even(0.2) };
        for k in 0..80 {
            let width = 2.0 + 0.05 * f64::from(k);
            let l = on_modules(&[open(0.1), close(0.1 + width)], &s, 0.025, 0.05);
            let widest = l.windows(2).map(|w| w[1] - w[0]).fold(0.0, f64::max);
            assert!(widest < 0.2 + 1e-6, "{width}: {l:?}");
        }
    }

    #[test]
    fn two_tubes_lie_in_every_bay() {
        let l = in_bays(&[open(0.1), close(3.9)], 0.12, 0.4, 0.4);
        // joists at 0, 0.4, 0.8 …: quarter points of each bay
        assert_eq!(l.len(), 20);
        for pair in l.chunks(2) {
            let bay = (pair[0] / 0.4).floor();
            assert!((pair[0] - (bay + 0.25) * 0.4).abs() < 1e-9 && (pair[1] - (bay + 0.75) * 0.4).abs() < 1e-9);
        }
        // the bays at the walls are cut: narrower than the tube can turn they stay free
        assert_eq!(in_bays(&[open(0.25), close(3.9)], 0.12, 0.4, 0.4).len(), 18);
        assert!((in_bays(&[open(0.15), close(3.9)], 0.12, 0.4, 0.4)[0] - 0.15).abs() < 1e-9);
    }

    #[test]
    fn too_narrow_a_room_has_no_lines() {
        assert!(lines(&[open(0.1), close(0.12)], &even(0.2), 0.04).is_empty());
        assert!(lines(&[], &even(0.2), 0.04).is_empty());
    }
}
