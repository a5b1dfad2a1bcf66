//! Cells of a grid, each tied to what is around it and to its neighbours: a system that conjugate gradients (M. R. Hestenes and
//! E. Stiefel, J. Res. Nat. Bur. Stand. 49, 1952) solve in few rounds, for a floor's heat spreads over a few cells only. A Cholesky
//! factor of 160 000 cells takes two seconds; the library's own conjugate gradients, made for any matrix, take seven times as long.

/// What is left of the heat that does not balance, as share of all of it: less than a thousandth of a kelvin.
const TOLERANCE: f64 = 1e-5;
const MOST_ROUNDS: usize = 2000;

/// The system.
#[derive(Debug)]
pub(super) struct Stencil {
    /// What ties a cell, W/K.
    pub ties: Vec<f64>,
    /// From a cell to each of its neighbours, W/K.
    link: f64,
    /// Runs of cells each of which is linked to the next: first cell, how many.
    along: Vec<[usize; 2]>,
    /// Cells that are linked to as many others one by one: the first of both, how many.
    across: Vec<[usize; 3]>,
    /// Kept from one solution to the next: what is left, the way, what goes through.
    scratch: [Vec<f64>; 3],
}

fn dot(a: &[f64], b: &[f64]) -> f64 {
    // four sums at a time: the order is fixed, and they go side by side
    let mut sums = [0.0; 4];
    let (a4, b4) = (a.chunks_exact(4), b.chunks_exact(4));
    let rest: f64 = a4.remainder().iter().zip(b4.remainder()).map(|(x, y)| x * y).sum();
    for (x, y) in a4.zip(b4) {
        (0..4).for_each(|k| sums[k] += x[k] * y[k]);
    }
    sums.iter().sum::<f64>() + rest
}

impl Stencil {
    /// Of cells in rows; `beside`: the next cell of its row and the one in the next row, itself where there is none.
    pub fn new(ties: Vec<f64>, link: f64, beside: impl Iterator<Item = [usize; 2]>) -> Stencil {
        let scratch = [0, 1, 2].map(|_| vec![0.0; ties.len()]);
        let (mut along, mut across): (Vec<[usize; 2]>, Vec<[usize; 3]>) = (vec![], vec![]);
        for (cell, [next, over]) in beside.enumerate() {
            if next != cell {
                match along.last_mut().filter(|[first, count]| first + count == next) {
                    Some([_, count]) => *count += 1,
                    None => along.push([cell, 2]),
                }
            }
            if over != cell {
                match across.last_mut().filter(|[a, b, count]| a + count == cell && b + count == over) {
                    Some([_, _, count]) => *count += 1,
                    None => across.push([cell, over, 1]),
                }
            }
        }
        Stencil { ties, link, along, across, scratch }
    }

    /// The system times a field.
    fn times(&self, x: &[f64], out: &mut [f64]) {
        out.iter_mut().zip(x).zip(&self.ties).for_each(|((out, own), ties)| *out = ties * own);
        let mut link = |one: usize, other: usize, count: usize| {
            let pairs = x[one..one + count].iter().zip(&x[other..other + count]);
            let flows = out[one..one + count].iter_mut().zip(pairs);
            flows.for_each(|(out, (own, other))| *out += self.link * (own - other));
        };
        for &[first, count] in &self.along {
            link(first, first + 1, count - 1);
            link(first + 1, first, count - 1);
        }
        for &[one, other, count] in &self.across {
            link(one, other, count);
            link(other, one, count);
        }
    }

    /// Solves it from what the field was; false where it does not settle.
    pub fn solve(&mut self, field: &mut [f64], side: &[f64]) -> bool {
        let [mut left, mut way, mut through] = std::mem::take(&mut self.scratch);
        let settled = self.rounds(field, side, [&mut left, &mut way, &mut through]);
        self.scratch = [left, way, through];
        settled
    }

    fn rounds(&self, field: &mut [f64], side: &[f64], [left, way, through]: [&mut Vec<f64>; 3]) -> bool {
        self.times(field, through);
        for ((r, b), a) in left.iter_mut().zip(side).zip(through.iter()) {
            *r = b - a;
        }
        way.copy_from_slice(left);
        let mut square = dot(left, left);
        let enough = TOLERANCE * TOLERANCE * dot(side, side);
        for _ in 0..MOST_ROUNDS {
            if square <= enough {
                return true;
            }
            self.times(way, through);
            let far = square / dot(way, through);
            if !far.is_finite() {
                return false;
            }
            let mut sums = [0.0; 4];
            let cells = field.iter_mut().zip(way.iter()).zip(left.iter_mut()).zip(through.iter());
            for (k, (((x, w), r), a)) in cells.enumerate() {
                *x += far * w;
                *r -= far * a;
                sums[k & 3] += *r * *r;
            }
            let next = sums.iter().sum::<f64>();
            let turn = next / square;
            way.iter_mut().zip(left.iter()).for_each(|(w, r)| *w = r + turn * *w);
            square = next;
        }
        false
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A strip heated at one end, tied evenly: the fin of a hundred cells, by hand cosh and sinh.
    #[test]
    fn a_fin_loses_heat_as_by_hand() {
        let n = 100;
        let (tie, link) = (1e-4, 1.0);
        let beside = (0..n as usize).map(|i| [(i + 1).min(n as usize - 1), i]);
        let mut stencil = Stencil::new(vec![tie; n as usize], link, beside);
        let mut side = vec![0.0; n as usize];
        side[0] = 1.0;
        let mut field = vec![0.0; n as usize];
        assert!(stencil.solve(&mut field, &side));
        // lattice fin: θ_i ∝ cosh(m(n − ½ − i)), 2·cosh m = 2 + tie/link
        let m = (1.0 + tie / link / 2.0_f64).acosh();
        let shape = |i: u32| (m * (f64::from(n) - 0.5 - f64::from(i))).cosh();
        let sum: f64 = (0..n).map(shape).sum::<f64>() * tie;
        for i in 0..n {
            let by_hand = shape(i) / sum;
            assert!((field[i as usize] - by_hand).abs() < 1e-3 * by_hand, "{i}: {} {by_hand}", field[i as usize]);
        }
        assert!(!Stencil::new(vec![f64::NAN], 0.0, [[0; 2]].into_iter()).solve(&mut [0.0], &[1.0]));
    }

    /// Two rows of three cells, one of them missing: as the matrix by hand.
    #[test]
    fn links_are_those_of_the_rows() {
        // 0 1 2 in the first row, 3 4 under the first and the third
        let beside = [[1, 3], [2, 1], [2, 4], [3, 3], [4, 4]];
        let stencil = Stencil::new(vec![1.0, 2.0, 3.0, 4.0, 5.0], 10.0, beside.into_iter());
        assert_eq!(
            (stencil.along.as_slice(), stencil.across.as_slice()),
            ([[0, 3]].as_slice(), [[0, 3, 1], [2, 4, 1]].as_slice())
        );
        let mut out = vec![0.0; 5];
        stencil.times(&[1.0, 0.0, 2.0, 3.0, 5.0], &mut out);
        assert_eq!(out, [1.0 + 10.0 - 20.0, -10.0 - 20.0, 6.0 + 20.0 - 30.0, 12.0 + 20.0, 25.0 + 30.0]);
    }
}
