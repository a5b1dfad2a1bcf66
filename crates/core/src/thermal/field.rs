//! What the cells of floors hold and how they follow water and rooms: the tubes' plane by the stencil, the layers above and below it with
//! their nodes taken out.

use super::sheet::{SLICES, STEP_M, Sheet, Slice};
use super::stencil::Stencil;

/// Part of a step that each of its two stages takes: 1 − 1/√2.
const STAGE: f64 = 1.0 - std::f64::consts::FRAC_1_SQRT_2;
/// What the second stage begins with lies so much beyond the first.
const BEYOND: f64 = (1.0 - STAGE) / STAGE;
pub(super) const CELL_M2: f64 = STEP_M * STEP_M;
/// Cells at a time: their layers stay in the processor's nearest store.
const BLOCK: usize = 1024;

/// The nodes of one side's layers, outward from the plane: each by cell.
type Layers = [Vec<f32>; SLICES];

/// A level in equal steps of time, or at rest: by floor.
pub(crate) struct Field {
    pub(super) floors: Vec<FloorField>,
    /// 1 over a stage, 1/s; 0 at rest.
    pub(super) per_s: f64,
}

impl Field {
    /// Steps of so many seconds; none: at rest.
    pub(super) fn new(step_s: Option<f64>) -> Field {
        Field { floors: vec![], per_s: step_s.map_or(0.0, |s| 1.0 / (STAGE * s)) }
    }

    /// Begins where another one of the same level stands.
    pub(crate) fn begin_as(&mut self, other: &Field) {
        for (own, theirs) in self.floors.iter_mut().zip(&other.floors) {
            own.plane_c.clone_from(&theirs.plane_c);
            own.layers_c.clone_from(&theirs.layers_c);
        }
    }
}

/// From where a step began and what its first stage has come to, to what the second one begins with.
pub(super) fn beyond(now: &mut f64, began: f64) {
    *now = began + BEYOND * (*now - began);
}

/// A floor's cells.
pub(super) struct FloorField {
    pub stencil: Stencil,
    /// Up and down.
    chains: [Chain; 2],
    holds_per_s: f64,
    below_c: f64,
    pub plane_c: Vec<f64>,
    /// The layers above and below.
    layers_c: [Layers; 2],
    /// Heat of the tubes' water, W.
    pub tubes_w: Vec<f64>,
    /// By cell: sun on it counts as so much warmer a room, K; empty where none shines.
    pub sun_k: Vec<f32>,
    /// Plane and layers at the beginning of a step.
    began: (Vec<f64>, [Layers; 2]),
}

/// Layers to one side of the plane with their nodes taken out, outermost first: what each takes over from the one inside it.
#[derive(Debug, Clone, Copy)]
struct Chain {
    /// Share of the inner node that each node takes.
    alpha: [f64; SLICES],
    /// 1 over the sum of what holds each node, m²K/W.
    over: [f64; SLICES],
    conducts: [f64; SLICES],
    holds_per_s: [f64; SLICES],
    film: f64,
}

impl Chain {
    fn new(slices: &[Slice; SLICES], film: f64, per_s: f64) -> Chain {
        let conducts = slices.map(|s| s.conducts);
        let holds_per_s = slices.map(|s| s.holds * per_s);
        let (mut alpha, mut over) = ([0.0; SLICES], [0.0; SLICES]);
        let mut beyond = film;
        for k in (0..SLICES).rev() {
            over[k] = 1.0 / (holds_per_s[k] + conducts[k] + beyond);
            alpha[k] = conducts[k] * over[k];
            beyond = conducts[k] * (1.0 - alpha[k]);
        }
        Chain { alpha, over, conducts, holds_per_s, film }
    }

    /// What ties the plane, W/m²K.
    fn ties(&self) -> f64 {
        self.conducts[0] * (1.0 - self.alpha[0])
    }

    /// What each node has besides its share of the one inside it; what of that reaches the plane is added to `reaches`, W/m². Beyond the
    /// film it is `beyond_c`, warmer by `sun_k` where that is not empty.
    fn comes(&self, nodes: [&mut [f32]; SLICES], beyond_c: f64, sun_k: &[f32], reaches: &mut [f64]) {
        let mut from = [0.0; BLOCK];
        let from = &mut from[..reaches.len()];
        from.fill(self.film * beyond_c);
        from.iter_mut().zip(sun_k).for_each(|(from, sun)| *from += self.film * f64::from(*sun));
        for (k, nodes) in nodes.into_iter().enumerate().rev() {
            let (holds, over, conducts) = (self.holds_per_s[k], self.over[k], self.conducts[k]);
            for (node, from) in nodes.iter_mut().zip(from.iter_mut()) {
                let comes = (holds * f64::from(*node) + *from) * over;
                *node = comes as f32;
                *from = conducts * comes;
            }
        }
        reaches.iter_mut().zip(from.iter()).for_each(|(r, f)| *r += f);
    }

    /// The nodes, once the plane is known.
    fn follow(&self, nodes: [&mut [f32]; SLICES], plane_c: &[f64]) {
        let mut inner = [0.0; BLOCK];
        let inner = &mut inner[..plane_c.len()];
        inner.copy_from_slice(plane_c);
        for (nodes, share) in nodes.into_iter().zip(&self.alpha) {
            for (node, inner) in nodes.iter_mut().zip(inner.iter_mut()) {
                *inner = f64::from(*node) + share * *inner;
                *node = *inner as f32;
            }
        }
    }
}

fn block(layers: &mut Layers, from: usize, to: usize) -> [&mut [f32]; SLICES] {
    layers.each_mut().map(|l| &mut l[from..to])
}

impl FloorField {
    /// A sheet's cells with their neighbours, everything as warm as `begin_c`.
    pub fn new(
        sheet: &Sheet,
        beside: impl ExactSizeIterator<Item = [usize; 2]>,
        per_s: f64,
        begin_c: f64,
    ) -> FloorField {
        let n = beside.len();
        let chains = [Chain::new(&sheet.above, sheet.film_up, per_s), Chain::new(&sheet.below, sheet.film_down, per_s)];
        let tied = chains[0].ties() + chains[1].ties() + sheet.holds * per_s;
        let nodes = || std::array::from_fn(|_| vec![begin_c as f32; n]);
        FloorField {
            stencil: Stencil::new(vec![tied * CELL_M2; n], sheet.plane_w_k, beside),
            chains,
            holds_per_s: sheet.holds * per_s,
            below_c: sheet.below_c,
            plane_c: vec![begin_c; n],
            layers_c: [nodes(), nodes()],
            tubes_w: vec![0.0; n],
            sun_k: vec![],
            began: (vec![], Default::default()),
        }
    }

    /// Keeps where a step begins.
    pub fn keep(&mut self) {
        self.began.0.clone_from(&self.plane_c);
        for (kept, now) in self.began.1.iter_mut().flatten().zip(self.layers_c.iter().flatten()) {
            kept.clone_from(now);
        }
    }

    /// From the first stage to what the second begins with.
    pub fn lead_on(&mut self) {
        self.plane_c.iter_mut().zip(&self.began.0).for_each(|(now, began)| beyond(now, *began));
        for (now, began) in self.layers_c.iter_mut().flatten().zip(self.began.1.iter().flatten()) {
            now.iter_mut().zip(began).for_each(|(now, began)| *now = began + BEYOND as f32 * (*now - began));
        }
    }

    /// A stage, under a room of that temperature; false where it finds no balance.
    pub fn solve(&mut self, room_c: f64) -> bool {
        let ([up, down], [above, below]) = (&self.chains, &mut self.layers_c);
        let n = self.plane_c.len();
        let blocks = || (0..n).step_by(BLOCK).map(|from| (from, (from + BLOCK).min(n)));
        let mut reaches = [0.0; BLOCK];
        for (from, to) in blocks() {
            let reaches = &mut reaches[..to - from];
            reaches.fill(0.0);
            let sun_k = self.sun_k.get(from..to).unwrap_or(&[]);
            up.comes(block(above, from, to), room_c, sun_k, reaches);
            down.comes(block(below, from, to), self.below_c, &[], reaches);
            let cells = self.tubes_w[from..to].iter_mut().zip(&self.plane_c[from..to]).zip(reaches.iter());
            cells.for_each(|((w, plane), reaches)| *w += (reaches + self.holds_per_s * plane) * CELL_M2);
        }
        let settled = self.stencil.solve(&mut self.plane_c, &self.tubes_w);
        for (from, to) in blocks() {
            up.follow(block(above, from, to), &self.plane_c[from..to]);
            down.follow(block(below, from, to), &self.plane_c[from..to]);
        }
        settled
    }

    /// Its surface, by cell, °C.
    pub fn surface_c(&self) -> &[f32] {
        &self.layers_c[0][SLICES - 1]
    }

    /// Heat into its lowest slice, W. (By the film under it, it could not be told where that is next to nothing.)
    pub fn down_w(&self) -> f64 {
        let [.., inner, outer] = &self.layers_c[1];
        let pairs = inner.iter().zip(outer).map(|(a, b)| f64::from(*a) - f64::from(*b));
        pairs.sum::<f64>() * self.chains[1].conducts[SLICES - 1] * CELL_M2
    }
}
