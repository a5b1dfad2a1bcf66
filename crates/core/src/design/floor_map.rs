//! The floor seen from above: how far each spot is from the nearest tube, and how warm it gets where tubes lie close.
//!
//! The surface is that of a floor at the spacing that is found round the spot: the tube in a cone of [`REACH_M`] gives
//! metres per square metre, and between core spacing and a bundle of leaders the flux goes with the spacing.

use super::heating::FloorState;
use super::types::{ColdSpot, LoopDesign, WarmSpot};
use super::{Solved, solved};
use crate::error::FieldError;
use crate::geometry;
use crate::geometry::outline;
use crate::job::{Job, Point};
use crate::layout::audit;
use serde::{Deserialize, Serialize};

/// Raster of a map, m.
const STEP_M: f64 = 0.1;
/// Raster on which the warmest spot is looked for with every design, m.
const COARSE_M: f64 = 0.2;
/// Tube within this counts for a spot, m; wider where the spacing is.
const REACH_M: f64 = 0.3;
/// Distances are told up to this, m.
const FAR_M: f64 = 0.8;
/// More spots than this are not mapped.
const MOST_SPOTS: usize = 4_000_000;

/// The floors of one level, in rows from the lowest y on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FloorMap {
    /// Left lower corner of the first spot, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub origin: Point,
    /// Width and height of a spot, m.
    pub step_m: f64,
    /// Spots in a row.
    pub columns: usize,
    /// Rows.
    pub rows: usize,
    /// To the nearest tube, m, up to 0.8; none off the heated floors.
    pub distance_m: Vec<Option<f32>>,
    /// Surface, °C; none off the heated floors.
    pub surface_c: Vec<Option<f32>>,
}

/// Maps the heated floors of a level.
///
/// # Errors
/// As [`super::design`]; and when the level is unknown or too large to be mapped.
pub fn floor_map(job: &Job, level_id: &str) -> Result<FloorMap, FieldError> {
    job.check()?;
    if job.level(level_id).is_none() {
        return Err(FieldError::new("level_id", "names no level of this job"));
    }
    let Solved { layout, heating, water, .. } = solved(job)?;
    let loops = super::loop_designs(job, &layout, &water)?;
    let rooms: Vec<usize> = (0..job.rooms.len()).filter(|&r| job.rooms[r].level_id == level_id).collect();
    let corners: Vec<Point> = rooms.iter().flat_map(|&r| job.rooms[r].outline.iter().copied()).collect();
    if corners.is_empty() {
        return Ok(FloorMap {
            origin: [0.0; 2],
            step_m: STEP_M,
            columns: 0,
            rows: 0,
            distance_m: vec![],
            surface_c: vec![],
        });
    }
    let whole =
        Raster::over(&corners, STEP_M).ok_or_else(|| FieldError::new("level_id", "is too large to be mapped"))?;
    let mut out = FloorMap {
        origin: whole.origin,
        step_m: STEP_M,
        columns: whole.size[0],
        rows: whole.size[1],
        distance_m: vec![None; whole.len()],
        surface_c: vec![None; whole.len()],
    };
    for r in rooms {
        let Some(state) = &heating[r].floor else { continue };
        let Some(spots) = Spots::of(job, r, &loops, STEP_M) else { continue };
        let distances = spots.distances(&loops);
        for (k, (distance, surface)) in distances.iter().zip(spots.surfaces(job, r, state)).enumerate() {
            let at = spots.raster.at(k);
            if let Some(place) = whole.place(at).filter(|_| spots.within[k]) {
                out.distance_m[place] = Some(*distance as f32);
                out.surface_c[place] = Some(((surface * 100.0).round() / 100.0) as f32);
            }
        }
    }
    Ok(out)
}

/// The warmest spot of a room's floor.
pub(super) fn warmest(job: &Job, room: usize, state: &FloorState, loops: &[LoopDesign]) -> Option<WarmSpot> {
    let spots = Spots::of(job, room, loops, COARSE_M)?;
    let surfaces = spots.surfaces(job, room, state);
    let best = (0..surfaces.len()).filter(|&k| spots.within[k]).max_by(|&a, &b| surfaces[a].total_cmp(&surfaces[b]))?;
    (spots.tube[best] > 0.0).then(|| WarmSpot { at: spots.raster.at(best), surface_c: surfaces[best] })
}

/// The spot farthest from tube, as the audit found it.
pub(super) fn coldest(coverage: &audit::Coverage) -> ColdSpot {
    ColdSpot { at: coverage.coldest.0, distance_m: coverage.coldest.1 }
}

#[derive(Clone, Copy)]
struct Raster {
    origin: Point,
    step: f64,
    size: [usize; 2],
}

impl Raster {
    /// A raster on the sheet's own grid, so that rooms' rasters fall together.
    fn over(corners: &[Point], step: f64) -> Option<Raster> {
        let [x0, y0, x1, y1] = outline::bounds(corners);
        let origin = [x0, y0].map(|v| (v / step).floor() * step);
        let size = [x1 - origin[0], y1 - origin[1]].map(|l| (l / step).ceil() as usize + 1);
        (size[0].saturating_mul(size[1]) <= MOST_SPOTS).then_some(Raster { origin, step, size })
    }

    fn len(&self) -> usize {
        self.size[0] * self.size[1]
    }

    fn at(&self, k: usize) -> Point {
        let (i, j) = (k % self.size[0], k / self.size[0]);
        [self.origin[0] + (i as f64 + 0.5) * self.step, self.origin[1] + (j as f64 + 0.5) * self.step]
    }

    fn place(&self, p: Point) -> Option<usize> {
        let ij = [0, 1].map(|k| ((p[k] - self.origin[k]) / self.step).floor());
        let inside = (0..2).all(|k| ij[k] >= 0.0 && ij[k] < self.size[k] as f64);
        inside.then(|| ij[1] as usize * self.size[0] + ij[0] as usize)
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
    raster: Raster,
    /// On the floor and not under a keep-out.
    within: Vec<bool>,
    /// Metres of tube per square metre.
    tube: Vec<f64>,
    /// Mean excess of that tube's water over the room, K.
    excess: Vec<f64>,
    /// Loops that come near the room.
    near: Vec<usize>,
}

impl Spots {
    fn of(job: &Job, index: usize, loops: &[LoopDesign], step: f64) -> Option<Spots> {
        let room = &job.rooms[index];
        let floor = room.heated_floor()?;
        let raster = Raster::over(&room.outline, step)?;
        let within: Vec<bool> = (0..raster.len())
            .map(|k| outline::within(&room.outline, raster.at(k)) && !room.keep_outs.iter().any(|o| under(o, raster.at(k))))
            .collect();
        let reach = REACH_M.max(1.2 * floor.spacing_core_m);
        let level = |l: &LoopDesign| {
            let of = l.room_ids.first().and_then(|id| job.room(id));
            of.is_some_and(|r| r.level_id == room.level_id)
        };
        let [x0, y0, x1, y1] = outline::bounds(&room.outline);
        let comes_near = |l: &LoopDesign| {
            let [a0, b0, a1, b1] = outline::bounds(&l.path);
            a0 < x1 + FAR_M && a1 > x0 - FAR_M && b0 < y1 + FAR_M && b1 > y0 - FAR_M
        };
        let near: Vec<usize> = (0..loops.len()).filter(|&i| level(&loops[i]) && comes_near(&loops[i])).collect();
        let mut tube = vec![0.0; raster.len()];
        let mut excess = vec![0.0; raster.len()];
        for l in near.iter().map(|&i| &loops[i]) {
            // leaders in sleeves give less here than they would bare
            let bare = if job.rules.insulated_leaders && !l.room_ids.contains(&room.id) { super::SLEEVED } else { 1.0 };
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
        for k in 0..raster.len() {
            if !within[k] {
                continue;
            }
            // the cone over the floor there is: beside a wall it is cut
            let mass: f64 = raster
                .near(raster.at(k), reach)
                .filter(|(n, _)| within[*n])
                .map(|(_, d)| (1.0 - d / reach) * step * step)
                .sum();
            if tube[k] > 0.0 {
                excess[k] /= tube[k];
            }
            tube[k] /= mass.max(step * step);
        }
        Some(Spots { raster, within, tube, excess, near })
    }

    fn surfaces(&self, job: &Job, index: usize, state: &FloorState) -> Vec<f64> {
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

    fn distances(&self, loops: &[LoopDesign]) -> Vec<f64> {
        let mut out = vec![FAR_M; self.raster.len()];
        for l in self.near.iter().map(|&i| &loops[i]) {
            for (p, ..) in samples(l, self.raster.step) {
                for (k, d) in self.raster.near(p, FAR_M) {
                    out[k] = out[k].min(d);
                }
            }
        }
        out
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::design::design;
    use crate::samples::{box_room, doorway, job_of, manifold};

    /// A corridor with the manifold, through which the leaders of four rooms pass.
    fn corridor() -> Job {
        let mut hall = box_room("hall", 0.0, 0.0, 16.0, 1.8);
        let mut rooms = vec![];
        for k in 0..4 {
            let x = 4.0 * f64::from(k);
            hall.openings.push(doorway(&format!("d{k}"), 2, 16.0 - x - 2.4, 0.9));
            rooms.push(box_room(&format!("r{k}"), x, 1.9, x + 3.9, 7.0));
        }
        rooms.insert(0, hall);
        let mut job = job_of(rooms);
        job.manifolds.push(manifold("m", "A", "hall", 0, 8.0));
        job
    }

    #[test]
    fn a_field_of_even_spacing_has_the_surface_of_its_section() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 5.0)]);
        job.manifolds.push(manifold("m", "A", "a", 0, 3.0));
        job.rules.edge_band_m = 0.0;
        let d = design(&job).expect("designs");
        let map = floor_map(&job, "ground").expect("maps");
        let at = |x: f64, y: f64| {
            let k = [0, 1].map(|k| ([x, y][k] - map.origin[k]) / map.step_m).map(|v| v as usize);
            k[1] * map.columns + k[0]
        };
        let mean = d.rooms[0].surface_mean_c.expect("a floor");
        let middle: Vec<f64> =
            (0..20).filter_map(|i| map.surface_c[at(2.0 + 0.1 * f64::from(i), 3.0)]).map(f64::from).collect();
        let found = middle.iter().sum::<f64>() / middle.len() as f64;
        // the water cools along the loop, and a cone of a few spacings sees the raster of the tubes
        assert!((found - mean).abs() < 0.6, "{found} for {mean}");
        assert_eq!(map.surface_c[at(5.99, 4.99) + 1], None, "no floor beyond the wall");
        let far = map.distance_m.iter().flatten().fold(0.0_f32, |a, b| a.max(*b));
        assert!(far < 0.3, "{far}: tube is everywhere near");
        assert_eq!(floor_map(&job, "attic").expect_err("no such level").field, "level_id");
    }

    #[test]
    fn where_leaders_meet_the_floor_is_warmest_and_sleeves_cool_it() {
        let mut job = corridor();
        let bare = design(&job).expect("designs");
        let hall = bare.rooms.iter().find(|r| r.id == "hall").expect("hall");
        let warm = hall.warmest.expect("tube");
        assert!(geometry::distance(warm.at, [8.0, 0.3]) < 2.5, "near the manifold: {:?}", warm.at);
        assert!(
            hall.surface_mean_c.is_none_or(|m| warm.surface_c > m + 1.0),
            "{warm:?} over {:?}",
            hall.surface_mean_c
        );
        job.rules.insulated_leaders = true;
        let sleeved = design(&job).expect("designs");
        let found = sleeved.rooms.iter().find(|r| r.id == "hall").expect("hall");
        assert!(found.leader_heat_w < 0.7 * hall.leader_heat_w, "{} of {}", found.leader_heat_w, hall.leader_heat_w);
        let at_the_spot = |job: &Job| {
            let map = floor_map(job, "ground").expect("maps");
            let raster = Raster { origin: map.origin, step: map.step_m, size: [map.columns, map.rows] };
            raster.place(warm.at).and_then(|k| map.surface_c[k]).expect("floor")
        };
        let (sleeved, bare) = (at_the_spot(&job), at_the_spot(&corridor()));
        assert!(sleeved < bare - 0.3, "{sleeved} instead of {bare}");
    }
}
