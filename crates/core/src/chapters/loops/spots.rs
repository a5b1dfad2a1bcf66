//! Spots of a floor: the tube round each, and how warm it makes them.
//!
//! The surface is that of a floor at the spacing that is found round the spot: the tube in a cone of [`REACH_M`] gives
//! metres per square metre, and between field spacing and a bundle of leaders the flux goes with the spacing.

use super::report::{ColdSpot, LoopDesign, WarmSpot};
use crate::floor::heating::{FloorState, SLEEVED};
use crate::geometry::outline::{self, bounds};
use crate::geometry::{self, Point};
use crate::job::{FloorLattice, Job, Room};
use crate::layout::rules::audit;

/// Raster on which the warmest spot is looked for with every design, m.
const COARSE_M: f64 = 0.2;
/// Tube within this counts for a spot, m; wider where the spacing is.
const REACH_M: f64 = 0.3;
/// More spots than this are not mapped.
const MOST_SPOTS: usize = 4_000_000;

/// The warmest spot of a room's floor.
pub(crate) fn warmest(job: &Job, room: usize, state: &FloorState, loops: &[LoopDesign]) -> Option<WarmSpot> {
    let spots = Spots::of(job, room, loops, COARSE_M)?;
    let surfaces = spots.surfaces(job, room, state);
    let best = (0..surfaces.len()).filter(|&k| spots.within[k]).max_by(|&a, &b| surfaces[a].total_cmp(&surfaces[b]))?;
    (spots.tube[best] > 0.0).then(|| WarmSpot { at: spots.raster.at(best), surface_c: surfaces[best] })
}

/// The spot farthest from tube, as the audit found it.
pub(crate) fn coldest(coverage: &audit::Coverage) -> ColdSpot {
    ColdSpot { at: coverage.coldest.0, distance_m: coverage.coldest.1 }
}

#[derive(Clone, Copy)]
struct Raster {
    pub origin: Point,
    pub step: f64,
    pub size: [usize; 2],
}

impl Raster {
    /// A raster on the sheet's own grid, so that rooms' rasters fall together.
    pub fn over(corners: &[Point], step: f64) -> Option<Raster> {
        let [x0, y0, x1, y1] = bounds(corners);
        let origin = [x0, y0].map(|v| (v / step).floor() * step);
        let size = [x1 - origin[0], y1 - origin[1]].map(|l| (l / step).ceil() as usize + 1);
        (size[0].saturating_mul(size[1]) <= MOST_SPOTS).then_some(Raster { origin, step, size })
    }

    pub fn len(&self) -> usize {
        self.size[0] * self.size[1]
    }

    pub fn at(&self, k: usize) -> Point {
        let (i, j) = (k % self.size[0], k / self.size[0]);
        [self.origin[0] + (i as f64 + 0.5) * self.step, self.origin[1] + (j as f64 + 0.5) * self.step]
    }

    /// The spots within `reach` of a spot, by columns and rows from it, with a weight that falls from 1 there to 0.
    fn cone(&self, reach: f64) -> Vec<(isize, isize, f64)> {
        let far = (reach / self.step).floor() as isize;
        let weight = |di: isize, dj: isize| 1.0 - (di as f64).hypot(dj as f64) * self.step / reach;
        let all = (-far..=far).flat_map(|dj| (-far..=far).map(move |di| (di, dj)));
        all.map(|(di, dj)| (di, dj, weight(di, dj))).filter(|(.., w)| *w > 0.0).collect()
    }

    fn spot(&self, i: isize, j: isize) -> Option<usize> {
        let inside = (0..self.size[0] as isize).contains(&i) && (0..self.size[1] as isize).contains(&j);
        inside.then(|| j as usize * self.size[0] + i as usize)
    }

    /// The spots within `reach` of a point and their distances.
    fn near(&self, p: Point, reach: f64) -> impl Iterator<Item = (usize, f64)> + '_ {
        let range = |k: usize| {
            let lo = ((p[k] - reach - self.origin[k]) / self.step).floor().max(0.0) as usize;
            let hi = ((p[k] + reach - self.origin[k]) / self.step).ceil().clamp(0.0, self.size[k] as f64) as usize;
            lo..hi.max(lo)
        };
        let (columns, rows) = (range(0), range(1));
        rows.flat_map(move |j| columns.clone().map(move |i| j * self.size[0] + i))
            .map(move |k| (k, geometry::distance(self.at(k), p)))
            .filter(move |(_, d)| *d < reach)
    }
}

/// The spots of one room with the tube round them.
struct Spots {
    pub raster: Raster,
    /// On the floor and not under a keep-out.
    pub within: Vec<bool>,
    /// Metres of tube per square metre.
    tube: Vec<f64>,
    /// Mean excess of that tube's water over the room, K.
    excess: Vec<f64>,
}

impl Spots {
    pub fn of(job: &Job, index: usize, loops: &[LoopDesign], step: f64) -> Option<Spots> {
        let room = &job.rooms[index];
        let floor = room.heated_floor()?;
        let raster = Raster::over(&room.outline, step)?;
        let within: Vec<bool> = (0..raster.len())
            .map(|k| {
                outline::within(&room.outline, raster.at(k)) && !room.keep_outs.iter().any(|o| under(o, raster.at(k)))
            })
            .collect();
        let reach = REACH_M.max(1.2 * floor.spacing_core_m);
        let level = |l: &LoopDesign| {
            let of = l.room_ids.first().and_then(|id| job.room(id));
            of.is_some_and(|r| r.level_id == room.level_id)
        };
        let around @ [x0, y0, x1, y1] = bounds(&room.outline);
        let comes_near = |l: &LoopDesign| outline::comes_near(&l.path, around, reach);
        let mut tube = vec![0.0; raster.len()];
        let mut excess = vec![0.0; raster.len()];
        for l in loops.iter().filter(|l| level(l) && comes_near(l)) {
            // leaders in sleeves give less here than they would bare
            let bare = if job.rules.insulated_leaders && !l.room_ids.contains(&room.id) { SLEEVED } else { 1.0 };
            for (p, c, dl) in samples(l, step) {
                // what lies behind a wall does not warm this floor
                let beside = p[0] < x0 || p[0] > x1 || p[1] < y0 || p[1] > y1;
                if beside || !outline::within(&room.outline, p) {
                    continue;
                }
                for (k, d) in raster.near(p, reach) {
                    let w = (1.0 - d / reach) * dl * bare;
                    tube[k] += w;
                    excess[k] += w * (c - room.room_c);
                }
            }
        }
        let cone = raster.cone(reach);
        let whole: f64 = cone.iter().map(|(_, _, w)| w * step * step).sum();
        for k in 0..raster.len() {
            if !within[k] {
                continue;
            }
            // the cone over the floor there is: beside a wall it is cut
            let (i, j) = ((k % raster.size[0]) as isize, (k / raster.size[0]) as isize);
            let on_floor = |di: isize, dj: isize| raster.spot(i + di, j + dj).is_some_and(|n| within[n]);
            let cut: f64 = cone.iter().filter(|(di, dj, _)| !on_floor(*di, *dj)).map(|(.., w)| w * step * step).sum();
            if tube[k] > 0.0 {
                excess[k] /= tube[k];
            }
            tube[k] /= (whole - cut).max(step * step);
        }
        Some(Spots { raster, within, tube, excess })
    }

    pub fn surfaces(&self, job: &Job, index: usize, state: &FloorState) -> Vec<f64> {
        let core_m = job.rooms[index].heated_floor().map_or(0.2, |f| f.spacing_core_m);
        let lane_m = job.rules.lane_spacing_m.max(0.05);
        let core = state.core();
        (0..self.raster.len())
            .map(|k| {
                let (tube, excess) = (self.tube[k], self.excess[k]);
                if !self.within[k] || tube <= 0.0 || excess <= 0.0 {
                    return core.surface_mean(0.0);
                }
                let spacing = 1.0 / tube;
                let bare = core.flux_up(excess).max(0.0);
                let flux = match &state.lanes {
                    _ if spacing >= core_m => bare * core_m / spacing,
                    Some(lanes) if core_m > lane_m => {
                        let t = ((core_m - spacing) / (core_m - lane_m)).clamp(0.0, 1.0);
                        bare + t * (lanes.flux_up(excess).max(bare) - bare)
                    }
                    _ => bare,
                };
                core.surface_mean(flux)
            })
            .collect()
    }
}

fn under(k: &crate::job::KeepOut, p: Point) -> bool {
    p[0] >= k.x0_m && p[0] <= k.x1_m && p[1] >= k.y0_m && p[1] <= k.y1_m
}

/// Points along a loop at most half a raster apart, the water's temperature there, and the tube that each stands for.
fn samples(l: &LoopDesign, step: f64) -> impl Iterator<Item = (Point, f64, f64)> + '_ {
    l.path.windows(2).zip(l.path_c.windows(2)).flat_map(move |(w, c)| {
        let length = geometry::distance(w[0], w[1]);
        let n = (length / (step / 2.0)).ceil().max(1.0);
        (0..n as usize).map(move |i| {
            let x = (i as f64 + 0.5) / n;
            ([0, 1].map(|k| w[0][k] + (w[1][k] - w[0][k]) * x), c[0] + (c[1] - c[0]) * x, length / n)
        })
    })
}
/// Nearer to a joist's end than this share of its span a hole weakens it where it carries most shear.
pub(crate) const END_SHARE: f64 = 0.25;

/// How many of the holes in a room's joists lie near a joist's end, as far as the room shows it: joists are taken to bear on
/// the walls at which they end.
pub(crate) fn near_ends(room: &Room, holes: &[Point]) -> usize {
    let Some(FloorLattice::Joists { along, .. }) = room.heated_floor().and_then(|f| f.lattice) else { return 0 };
    let (a, across) = (along.index(), 1 - along.index());
    let n = room.outline.len();
    let near = |hole: &&Point| {
        let walls = (0..n).map(|i| (room.outline[i], room.outline[(i + 1) % n]));
        let ends = walls.filter(|(p, q)| (p[across] > hole[across]) != (q[across] > hole[across]));
        let at = |(p, q): (Point, Point)| p[a] + (q[a] - p[a]) * (hole[across] - p[across]) / (q[across] - p[across]);
        let (before, after): (Vec<f64>, Vec<f64>) = ends.map(at).partition(|s| *s <= hole[a]);
        let from = before.into_iter().fold(f64::NEG_INFINITY, f64::max);
        let to = after.into_iter().fold(f64::INFINITY, f64::min);
        (hole[a] - from).min(to - hole[a]) < END_SHARE * (to - from)
    };
    holes.iter().filter(near).count()
}
