//! Bilinear finite elements on a [`Mesh`]: conduction, heat held, and the three rows of films, as a sparse symmetric
//! matrix and its factor (Cholesky, from `faer`).

use super::mesh::{Element, Mesh};
use faer::dyn_stack::{MemBuffer, MemStack};
use faer::linalg::cholesky::llt::factor::LltRegularization;
use faer::perm::PermRef;
use faer::sparse::linalg::SupernodalThreshold;
use faer::sparse::linalg::cholesky::{
    CholeskySymbolicParams, LltRef, SymbolicCholesky, SymmetricOrdering, factorize_symbolic_cholesky,
};
use faer::sparse::{SparseColMat, SymbolicSparseColMat};
use faer::{Conj, Mat, Par, Side, Spec};

/// A node of a grid and those around it that come after it, with room for the tube's rings.
const NEIGHBOURS: usize = 8;

/// Edges of a row of nodes: two nodes and the length between them, m.
pub(super) type Row = Vec<([usize; 2], f64)>;

/// Conduction, without films, and the heat held at each node.
#[derive(Clone)]
pub(super) struct System {
    /// By column: the rows at and below the diagonal.
    columns: Vec<Vec<(usize, f64)>>,
    /// J/mK, the mass of each element shared among its corners.
    pub heat: Vec<f64>,
}

impl System {
    pub fn new(mesh: &Mesh) -> System {
        let n = mesh.nodes.len();
        let mut system =
            System { columns: (0..n).map(|_| Vec::with_capacity(NEIGHBOURS)).collect(), heat: vec![0.0; n] };
        for element in &mesh.elements {
            system.add_element(mesh, element);
        }
        for joint in &mesh.joints {
            let [a, b] = joint.inner.map(|i| mesh.nodes[i as usize]);
            let length = (a[0] - b[0]).hypot(a[1] - b[1]);
            for i in 0..2 {
                for j in 0..2 {
                    let share = joint.conductance * length / if i == j { 3.0 } else { 6.0 };
                    let (inner, outer) = (joint.inner[i] as usize, joint.outer[j] as usize);
                    system.add_upper(inner, joint.inner[j] as usize, share);
                    system.add_upper(joint.outer[i] as usize, outer, share);
                    system.add(inner.max(outer), inner.min(outer), -share);
                }
            }
        }
        system
    }

    fn add(&mut self, row: usize, column: usize, value: f64) {
        let entries = &mut self.columns[column];
        match entries.iter_mut().find(|e| e.0 == row) {
            Some(e) => e.1 += value,
            None => entries.push((row, value)),
        }
    }

    /// One of two mirrored entries: only that at or below the diagonal is kept.
    fn add_upper(&mut self, i: usize, j: usize, value: f64) {
        if i >= j {
            self.add(i, j, value);
        }
    }

    fn add_element(&mut self, mesh: &Mesh, element: &Element) {
        let n = if element.triangle { 3 } else { 4 };
        let at = element.corners.map(|c| mesh.nodes[c as usize]);
        let mut matrix = [[0.0; 4]; 4];
        let area = if element.triangle { triangle(&at, &mut matrix) } else { quadrilateral(&at, &mut matrix) };
        let heat = element.material.heat * area / n as f64;
        let corners = &element.corners[..n];
        for (&i, row) in corners.iter().zip(&matrix) {
            self.heat[i as usize] += heat;
            for (&j, value) in corners.iter().zip(row) {
                self.add_upper(i as usize, j as usize, element.material.conductivity * value);
            }
        }
    }

    /// Adds a film of conductance `h` along a row.
    pub fn add_film(&mut self, row: &Row, h: f64) {
        for &([a, b], length) in row {
            self.add(a, a, h * length / 3.0);
            self.add(b, b, h * length / 3.0);
            self.add(a.max(b), a.min(b), h * length / 6.0);
        }
    }

    /// Adds a conductor between two nodes: `k` times its section, m, over their distance.
    pub fn add_link(&mut self, a: usize, b: usize, k: f64, nodes: &[[f64; 2]]) {
        let length = (nodes[a][0] - nodes[b][0]).hypot(nodes[a][1] - nodes[b][1]);
        let value = k / length;
        self.add(a, a, value);
        self.add(b, b, value);
        self.add(a.max(b), a.min(b), -value);
    }

    /// Ties a node to what is behind it.
    pub fn impose(&mut self, node: usize, conductance: f64) {
        self.add(node, node, conductance);
    }

    /// The matrix times a vector.
    pub fn times(&self, v: &[f64]) -> Vec<f64> {
        let mut out = vec![0.0; v.len()];
        for (j, column) in self.columns.iter().enumerate() {
            for &(i, a) in column {
                out[i] += a * v[j];
                if i != j {
                    out[j] += a * v[i];
                }
            }
        }
        out
    }

    /// Factorises the system, its unknowns in the order of a nested dissection by the places of its nodes.
    pub fn factor(&mut self, nodes: &[[f64; 2]]) -> Option<Factor> {
        let n = self.columns.len();
        let mut starts = Vec::with_capacity(n + 1);
        let mut rows = Vec::new();
        let mut values = Vec::new();
        starts.push(0);
        for column in &mut self.columns {
            column.sort_unstable_by_key(|e| e.0);
            rows.extend(column.iter().map(|e| e.0));
            values.extend(column.iter().map(|e| e.1));
            starts.push(rows.len());
        }
        let order = dissection(&self.columns, nodes);
        let mut inverse = vec![0; n];
        for (new, old) in order.iter().enumerate() {
            inverse[*old] = new;
        }
        let matrix = SparseColMat::new(SymbolicSparseColMat::new_checked(n, n, starts, None, rows), values);
        let ordering = SymmetricOrdering::Custom(PermRef::new_checked(&order, &inverse, n));
        // a matrix this small is factorised entry by entry faster than by blocks
        let params = CholeskySymbolicParams {
            supernodal_flop_ratio_threshold: SupernodalThreshold::FORCE_SIMPLICIAL,
            ..CholeskySymbolicParams::default()
        };
        let symbolic = factorize_symbolic_cholesky(matrix.symbolic(), Side::Lower, ordering, params).ok()?;
        let mut factor = vec![0.0; symbolic.len_val()];
        let scratch = symbolic.factorize_numeric_llt_scratch::<f64>(Par::Seq, Spec::default());
        let mut memory = MemBuffer::new(scratch);
        symbolic
            .factorize_numeric_llt(
                &mut factor,
                matrix.as_ref(),
                Side::Lower,
                LltRegularization::default(),
                Par::Seq,
                MemStack::new(&mut memory),
                Spec::default(),
            )
            .ok()?;
        Some(Factor { symbolic, values: factor })
    }
}

/// An order of the unknowns in which a factorisation fills little: halves first, the nodes that part them last, and so
/// on within each half (A. George, "Nested dissection of a regular finite element mesh", SIAM J. Numer. Anal. 10, 1973).
fn dissection(columns: &[Vec<(usize, f64)>], nodes: &[[f64; 2]]) -> Vec<usize> {
    // neighbours of all nodes in one list, and where each node's begin
    let pairs =
        || columns.iter().enumerate().flat_map(|(j, c)| c.iter().map(move |e| (e.0, j))).filter(|(i, j)| i != j);
    let mut starts = vec![0; columns.len() + 1];
    pairs().for_each(|(i, j)| [i, j].iter().for_each(|k| starts[k + 1] += 1));
    for k in 0..columns.len() {
        starts[k + 1] += starts[k];
    }
    let mut filled = starts.clone();
    let mut list = vec![0; starts[columns.len()]];
    for (i, j) in pairs() {
        for (a, b) in [(i, j), (j, i)] {
            list[filled[a]] = b;
            filled[a] += 1;
        }
    }
    let neighbours = |i: usize| &list[starts[i]..starts[i + 1]];
    let mut order = Vec::with_capacity(columns.len());
    let mut left = vec![false; columns.len()];
    dissect((0..columns.len()).collect(), nodes, &neighbours, &mut left, &mut order);
    order
}

/// Parts of this size are left as they are.
const SMALL: usize = 12;

fn dissect<'n>(
    mut set: Vec<usize>,
    nodes: &[[f64; 2]],
    neighbours: &impl Fn(usize) -> &'n [usize],
    left: &mut [bool],
    order: &mut Vec<usize>,
) {
    if set.len() <= SMALL {
        order.append(&mut set);
        return;
    }
    let mut best: Option<[Vec<usize>; 3]> = None;
    let along: [fn(&[f64; 2]) -> f64; 2] = [|p| p[0], |p| p[1]];
    for at in along {
        let half = set.len() / 2;
        let (_, middle, _) = set.select_nth_unstable_by(half, |a, b| at(&nodes[*a]).total_cmp(&at(&nodes[*b])));
        let middle = at(&nodes[*middle]);
        let (low, high): (Vec<usize>, Vec<usize>) = set.iter().partition(|i| at(&nodes[**i]) < middle);
        if low.is_empty() {
            continue;
        }
        low.iter().for_each(|i| left[*i] = true);
        let (between, high): (Vec<usize>, Vec<usize>) =
            high.iter().partition(|i| neighbours(**i).iter().any(|j| left[*j]));
        low.iter().for_each(|i| left[*i] = false);
        if best.as_ref().is_none_or(|b| between.len() < b[2].len()) {
            best = Some([low, high, between]);
        }
    }
    match best {
        Some([low, high, mut between]) if !high.is_empty() => {
            dissect(low, nodes, neighbours, left, order);
            dissect(high, nodes, neighbours, left, order);
            order.append(&mut between);
        }
        _ => order.append(&mut set),
    }
}

/// A factorised system.
pub(super) struct Factor {
    symbolic: SymbolicCholesky<usize>,
    values: Vec<f64>,
}

impl Factor {
    pub fn solve(&self, sides: &[Vec<f64>]) -> Vec<Vec<f64>> {
        let Some(first) = sides.first() else { return vec![] };
        let mut matrix = Mat::from_fn(first.len(), sides.len(), |i, j| sides[j][i]);
        let mut memory = MemBuffer::new(self.symbolic.solve_in_place_scratch::<f64>(sides.len(), Par::Seq));
        LltRef::new(&self.symbolic, &self.values).solve_in_place_with_conj(
            Conj::No,
            matrix.as_mut(),
            Par::Seq,
            MemStack::new(&mut memory),
        );
        (0..sides.len()).map(|j| matrix.col(j).iter().copied().collect()).collect()
    }
}

/// Nodes of a row as edges with their lengths.
pub(super) fn row(mesh: &Mesh, nodes: &[u32]) -> Row {
    nodes
        .windows(2)
        .map(|w| {
            let [a, b] = [w[0] as usize, w[1] as usize];
            let (p, q) = (mesh.nodes[a], mesh.nodes[b]);
            ([a, b], (p[0] - q[0]).hypot(p[1] - q[1]))
        })
        .collect()
}

/// ∫∇Nᵢ·∇Nⱼ over a triangle with linear shape functions; gives its area.
fn triangle(p: &[[f64; 2]; 4], out: &mut [[f64; 4]; 4]) -> f64 {
    let b = [p[1][1] - p[2][1], p[2][1] - p[0][1], p[0][1] - p[1][1]];
    let c = [p[2][0] - p[1][0], p[0][0] - p[2][0], p[1][0] - p[0][0]];
    let double = c[2] * b[1] - c[1] * b[2];
    for i in 0..3 {
        for j in 0..3 {
            out[i][j] = (b[i] * b[j] + c[i] * c[j]) / (2.0 * double.abs());
        }
    }
    double.abs() / 2.0
}

/// The same over a quadrilateral with bilinear shape functions, two Gauss points each way.
fn quadrilateral(p: &[[f64; 2]; 4], out: &mut [[f64; 4]; 4]) -> f64 {
    const G: f64 = 0.577_350_269_189_625_8;
    let mut area = 0.0;
    for (s, t) in [(-G, -G), (G, -G), (G, G), (-G, G)] {
        let ds = [-(1.0 - t), 1.0 - t, 1.0 + t, -(1.0 + t)].map(|v| v / 4.0);
        let dt = [-(1.0 - s), -(1.0 + s), 1.0 + s, 1.0 - s].map(|v| v / 4.0);
        let sum = |d: &[f64; 4], axis: usize| (0..4).map(|i| d[i] * p[i][axis]).sum::<f64>();
        let (xs, zs, xt, zt) = (sum(&ds, 0), sum(&ds, 1), sum(&dt, 0), sum(&dt, 1));
        let det = xs * zt - zs * xt;
        let (mut gx, mut gz) = ([0.0; 4], [0.0; 4]);
        for i in 0..4 {
            gx[i] = (zt * ds[i] - zs * dt[i]) / det;
            gz[i] = (xs * dt[i] - xt * ds[i]) / det;
        }
        for i in 0..4 {
            for j in 0..4 {
                out[i][j] += (gx[i] * gx[j] + gz[i] * gz[j]) * det.abs();
            }
        }
        area += det.abs();
    }
    area
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::section::mesh::CellMaterial;

    /// A strip of three nodes by two, a quadrilateral out of square beside two triangles.
    fn strip(conductivity: f64) -> Mesh {
        let material = CellMaterial { conductivity, heat: 1000.0, is_plate: false };
        let element = |corners: [u32; 4], triangle| Element { corners, triangle, material };
        Mesh {
            nodes: vec![[0.0, 0.0], [1.3, 0.0], [2.0, 0.0], [2.0, 1.0], [0.7, 1.0], [0.0, 1.0]],
            elements: vec![element([0, 1, 4, 5], false), element([1, 2, 3, 3], true), element([1, 3, 4, 4], true)],
            surface: vec![5, 4, 3],
            underside: vec![0, 1, 2],
            ..Mesh::default()
        }
    }

    /// The patch test: a field that falls evenly is a solution on any elements, and its energy is exact.
    #[test]
    fn an_even_fall_of_temperature_is_a_solution() {
        let mesh = strip(2.0);
        let system = System::new(&mesh);
        let field: Vec<f64> = mesh.nodes.iter().map(|p| 3.0 * p[0] - 5.0 * p[1] + 1.0).collect();
        let out = system.times(&field);
        let energy: f64 = field.iter().zip(&out).map(|(a, b)| a * b).sum();
        // λ·|∇θ|²·A
        assert!((energy - 2.0 * 34.0 * 2.0).abs() < 1e-9, "{energy}");
        assert!(system.times(&[4.0; 6]).iter().all(|v| v.abs() < 1e-12), "an even temperature sends no heat");
        assert!((system.heat.iter().sum::<f64>() - 2000.0).abs() < 1e-9);
    }

    /// A wall between two films: 1/(1/h1 + d/λ + 1/h2), heat and temperatures by hand.
    #[test]
    fn films_and_factor_give_a_plain_wall() {
        let mesh = strip(2.0);
        let mut system = System::new(&mesh);
        let (up, down) = (row(&mesh, &mesh.surface), row(&mesh, &mesh.underside));
        system.add_film(&up, 4.0);
        system.add_film(&down, 10.0);
        // 1 K behind the film below: 1/(0.25 + 0.5 + 0.1) W/m²
        let mut side = vec![0.0; 6];
        for &([a, b], length) in &down {
            side[a] += 10.0 * length / 2.0;
            side[b] += 10.0 * length / 2.0;
        }
        let solved = system.factor(&mesh.nodes).expect("factors").solve(&[side]).remove(0);
        let flux = 1.0 / 0.85;
        for (i, p) in mesh.nodes.iter().enumerate() {
            let want = 1.0 - flux * (0.1 + 0.5 * p[1]);
            assert!((solved[i] - want).abs() < 1e-12, "{i}: {} {want}", solved[i]);
        }
    }

    #[test]
    fn a_dissection_names_every_node_once_and_parts_the_halves() {
        let n = 20;
        let nodes: Vec<[f64; 2]> = (0..n * n).map(|k| [(k % n) as f64, (k / n) as f64]).collect();
        let mut columns = vec![vec![]; n * n];
        for (k, column) in columns.iter_mut().enumerate() {
            column.push((k, 4.0));
            if k % n + 1 < n {
                column.push((k + 1, -1.0));
            }
            if k + n < n * n {
                column.push((k + n, -1.0));
            }
        }
        let order = dissection(&columns, &nodes);
        let mut sorted = order.clone();
        sorted.sort_unstable();
        assert!(sorted.iter().enumerate().all(|(k, i)| k == *i));
        // the last twenty are one line of the grid: without it the rest falls in two
        let last = &order[n * n - n..];
        let line = |axis: usize| last.iter().all(|i| nodes[*i][axis] == nodes[last[0]][axis]);
        assert!(line(0) || line(1));
    }
}
