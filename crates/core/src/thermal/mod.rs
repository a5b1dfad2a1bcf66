//! The thermal picture of a level: the surface of its heated floors from the tubes as they are routed, on a grid of 50 mm. In the
//! plane of the tubes heat spreads; from there it goes up and down through the layers; a tube is a line whose water cools as it gives.
//! Finite volumes, solved by conjugate gradients; at rest and in time. Fitted to the section of each floor (`docs/thermal.md`).
//!
//! Each room's floor is a sheet of its own: edge strips and the joints in doorways part them.

mod field;
mod grid;
mod sheet;
mod stencil;
pub mod validation;

pub use grid::Raster;
pub(crate) use grid::{NO_FLOOR, quantised};
pub(crate) use sheet::STEP_M;

use crate::error::FieldError;
use crate::floor::assembly;
use crate::floor::heating::floor_parts;
use crate::fluid;
use crate::geometry::{self, Point};
use crate::job::Job;
use crate::loops::report::LoopDesign;
use crate::study::Study;
use field::{CELL_M2, Field, FloorField};
use grid::Grid;
use sheet::Sheet;
use std::f64::consts::PI;

/// Water and floor are settled within this, K; in so many rounds.
const SETTLED_K: f64 = 0.003;
const MOST_ROUNDS: usize = 40;
/// Water that is hardly warmer than the room: the floor is fitted at this excess, K.
const LEAST_EXCESS_K: f64 = 3.0;
/// Levels of fewer cells are not worth a thread for each core.
const ALONE_CELLS: usize = 20_000;
/// Points along a tube are at most so far apart, in cells.
const ALONG: f64 = 0.25;

/// A patch of sun.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct SunPatch {
    /// The floor, by its place on the level.
    pub floor: usize,
    /// Its corners in turn, as if the room had no other walls, m.
    pub corners: [Point; 4],
    /// What the floor takes in, W/m².
    pub takes_w_m2: f64,
}

/// A stretch of tube within one cell.
#[derive(Debug, Clone, Copy)]
struct Bit {
    floor: u32,
    /// Of that floor.
    cell: u32,
    /// W/K.
    gives: f64,
    length_m: f64,
}

/// A loop on the grid.
#[derive(Debug, Clone)]
pub(crate) struct Course {
    /// Index of the loop in the study.
    pub index: usize,
    /// Its flow times the heat of its water, W/K; 0: it stands.
    pub flow_w_k: f64,
    pub supply_c: f64,
    /// Flows from its return port to its supply port.
    pub reversed: bool,
    /// Heat held by a metre of its water, J/mK.
    holds_j_mk: f64,
    bits: Vec<Bit>,
    water_c: Vec<f64>,
}

/// A level's heated floors with the tubes in them.
pub(crate) struct Level {
    pub grid: Grid,
    /// By floor: the room's index in the job.
    pub rooms: Vec<usize>,
    pub sheets: Vec<Sheet>,
    pub courses: Vec<Course>,
}

impl Course {
    /// Its water as warm as that all along.
    pub fn stand_at(&mut self, c: f64) {
        self.water_c.fill(c);
    }
}

impl Level {
    /// The heated floors of a level as they are laid, their water by the design.
    ///
    /// # Errors
    /// When the level is unknown or too large; as [`fluid::properties`].
    pub fn of(study: &Study, level_id: &str) -> Result<Level, FieldError> {
        let job = &study.job;
        if job.level(level_id).is_none() {
            return Err(FieldError::new("level_id", "names no level of this job"));
        }
        let (mut rooms, mut sheets) = (vec![], vec![]);
        for r in (0..job.rooms.len()).filter(|&r| job.rooms[r].level_id == level_id) {
            let Some(state) = &study.water.heating[r].floor else { continue };
            let Some(parts) = job.rooms[r].heated_floor().and_then(|f| floor_parts(job, f)) else { continue };
            let section = assembly::section(&parts, &|id: &str| job.material(id))?;
            let excess_k = study.water.rooms[r].floor_excess_k.max(LEAST_EXCESS_K);
            if let Some(sheet) = Sheet::new(&section, state.core(), excess_k) {
                rooms.push(r);
                sheets.push(sheet);
            }
        }
        let too_large = || FieldError::new("level_id", "is too large to be mapped");
        let grid = Grid::of(job, &rooms).ok_or_else(too_large)?;
        let mut level = Level { grid, rooms, sheets, courses: vec![] };
        let here = |l: &LoopDesign| {
            let of = l.room_ids.first().and_then(|id| job.room(id));
            of.is_some_and(|r| r.level_id == level_id)
        };
        for (index, l) in study.loops.iter().enumerate().filter(|(_, l)| here(l)) {
            let water = fluid::properties(&job.fluid, f64::midpoint(l.supply_c, l.return_c))?;
            let bore_m = job.tube(&l.tube_id).map_or(0.012, crate::library::Tube::bore_m);
            let per_m3 = water.density * water.specific_heat;
            let bits = level.bits(job, l);
            let water_c = vec![l.supply_c; bits.len()];
            level.courses.push(Course {
                index,
                flow_w_k: l.flow_l_min / 60_000.0 * per_m3,
                supply_c: l.supply_c,
                reversed: false,
                holds_j_mk: PI / 4.0 * bore_m * bore_m * per_m3,
                bits,
                water_c,
            });
        }
        Ok(level)
    }

    /// A loop's tube by the cells that it crosses.
    fn bits(&self, job: &Job, l: &LoopDesign) -> Vec<Bit> {
        let mut out: Vec<Bit> = vec![];
        for w in l.path.windows(2) {
            let length = geometry::distance(w[0], w[1]);
            let n = (length / (ALONG * STEP_M)).ceil().max(1.0);
            for i in 0..n as usize {
                let x = (i as f64 + 0.5) / n;
                let p = [0, 1].map(|k| w[0][k] + (w[1][k] - w[0][k]) * x);
                let Some((floor, cell)) = self.grid.cell(p).map(|c| self.grid.within(c)) else { continue };
                let foreign = !l.room_ids.contains(&job.rooms[self.rooms[floor]].id);
                let sheet = &self.sheets[floor];
                let per_m = if job.rules.insulated_leaders && foreign { sheet.sleeved_w_mk() } else { sheet.tube_w_mk };
                match out.last_mut().filter(|b| (b.floor as usize, b.cell as usize) == (floor, cell)) {
                    Some(b) => {
                        b.gives += per_m * length / n;
                        b.length_m += length / n;
                    }
                    None => out.push(Bit {
                        floor: floor as u32,
                        cell: cell as u32,
                        gives: per_m * length / n,
                        length_m: length / n,
                    }),
                }
            }
        }
        out
    }

    /// The level to be driven in steps of so many seconds, everything as warm as `begin_c`; without a step it is only ever at rest.
    pub fn field(&self, step_s: Option<f64>, begin_c: f64) -> Field {
        let mut field = Field::new(step_s);
        for (sheet, cells) in self.sheets.iter().zip(&self.grid.floors) {
            let beside = cells.clone().map(|c| self.grid.beside(cells, c));
            field.floors.push(FloorField::new(sheet, beside, field.per_s, begin_c));
        }
        for b in self.courses.iter().filter(|l| l.flow_w_k > 0.0).flat_map(|l| &l.bits) {
            field.floors[b.floor as usize].stencil.ties[b.cell as usize] += b.gives;
        }
        field
    }

    /// The water along every loop, by the floor as it is.
    fn flow(&mut self, field: &Field) {
        for course in self.courses.iter_mut().filter(|c| c.flow_w_k > 0.0) {
            let mut comes = course.supply_c;
            let n = course.bits.len();
            for k in 0..n {
                let i = if course.reversed { n - 1 - k } else { k };
                let b = course.bits[i];
                let kept = course.holds_j_mk * b.length_m * field.per_s;
                let sum = course.flow_w_k + b.gives + kept;
                let leaves = (course.flow_w_k * comes + b.gives * plane_c(field, &b) + kept * course.water_c[i]) / sum;
                course.water_c[i] = leaves;
                comes = leaves;
            }
        }
    }

    /// The floors follow the water, among rooms of those temperatures, by floor, °C; `then` is done to each, and what it was
    /// before is kept for that.
    fn spread(
        &self,
        field: &mut Field,
        rooms_c: &[f64],
        keep: bool,
        then: impl Fn(&mut FloorField) + Sync,
    ) -> Result<(), FieldError> {
        for f in &mut field.floors {
            f.tubes_w.fill(0.0);
        }
        for course in self.courses.iter().filter(|l| l.flow_w_k > 0.0) {
            for (b, water) in course.bits.iter().zip(&course.water_c) {
                field.floors[b.floor as usize].tubes_w[b.cell as usize] += b.gives * water;
            }
        }
        let one = |(k, f): (usize, &mut FloorField)| {
            if keep {
                f.keep();
            }
            let settled = f.solve(rooms_c[k]);
            then(f);
            settled
        };
        let settled = if self.grid.len() < ALONE_CELLS {
            field.floors.iter_mut().enumerate().all(one)
        } else {
            // no floor touches another: each core has its share of them
            let workers = std::thread::available_parallelism().map_or(1, std::num::NonZero::get).min(8);
            let mut shares: Vec<Vec<(usize, &mut FloorField)>> = (0..workers).map(|_| vec![]).collect();
            let mut by_size: Vec<_> = field.floors.iter_mut().enumerate().collect();
            by_size.sort_by_key(|(_, f)| std::cmp::Reverse(f.plane_c.len()));
            for part in by_size {
                let size = |s: &Vec<(usize, &mut FloorField)>| s.iter().map(|(_, f)| f.plane_c.len()).sum::<usize>();
                if let Some(least) = shares.iter_mut().min_by_key(|s| size(s)) {
                    least.push(part);
                }
            }
            let one = &one;
            std::thread::scope(|scope| {
                let mut all = vec![];
                for share in shares {
                    all.push(scope.spawn(move || share.into_iter().all(one)));
                }
                all.into_iter().all(|h| h.join().unwrap_or(false))
            })
        };
        if settled { Ok(()) } else { Err(FieldError::new("level_id", "its floors find no balance")) }
    }

    /// A step in time: two implicit stages of 1 − 1/√2 of it each, the second from where the first leads (R. Alexander, SIAM J. Numer.
    /// Anal. 14, 1977: of second order, and it forgets what is quicker than the step).
    ///
    /// # Errors
    /// Where it finds no balance.
    pub fn step(&mut self, field: &mut Field, rooms_c: &[f64]) -> Result<(), FieldError> {
        let water: Vec<Vec<f64>> = self.courses.iter().map(|c| c.water_c.clone()).collect();
        self.flow(field);
        self.spread(field, rooms_c, true, FloorField::lead_on)?;
        for (c, began) in self.courses.iter_mut().zip(&water) {
            c.water_c.iter_mut().zip(began).for_each(|(now, began)| field::beyond(now, *began));
        }
        self.flow(field);
        self.spread(field, rooms_c, false, |_| ())
    }

    /// At rest among rooms of those temperatures, by floor, °C: water and floors in turn until neither moves.
    ///
    /// # Errors
    /// Where it finds no balance.
    pub fn at_rest(&mut self, rooms_c: &[f64]) -> Result<Field, FieldError> {
        let mut field = self.field(None, 20.0);
        for round in 0..MOST_ROUNDS {
            let before: Vec<Vec<f64>> = field.floors.iter().map(|f| f.plane_c.clone()).collect();
            // the design's water is near enough to begin with
            if round > 0 {
                self.flow(&field);
            }
            self.spread(&mut field, rooms_c, false, |_| ())?;
            let pairs = before.iter().flatten().zip(field.floors.iter().flat_map(|f| &f.plane_c));
            let moved = pairs.map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
            if moved < SETTLED_K {
                break;
            }
        }
        Ok(field)
    }

    /// Sun on the floors from now on. Gives the heat of it by floor, W.
    pub fn shine(&self, field: &mut Field, patches: &[SunPatch]) -> Vec<f64> {
        field.floors.iter_mut().for_each(|f| f.sun_k.clear());
        let mut takes_w = vec![0.0; field.floors.len()];
        for p in patches {
            let (Some(f), cells) = (field.floors.get_mut(p.floor), &self.grid.floors[p.floor]) else { continue };
            f.sun_k.resize(f.plane_c.len(), 0.0);
            let k = (p.takes_w_m2 / self.sheets[p.floor].film_up) as f32;
            for cell in self.grid.cells_within(&p.corners).filter(|c| cells.contains(c)) {
                f.sun_k[cell - cells.start] += k;
                takes_w[p.floor] += p.takes_w_m2 * CELL_M2;
            }
        }
        takes_w
    }

    /// Begins with the water as the design has it along every loop.
    pub fn begin_as_designed(&mut self, study: &Study) {
        for course in &mut self.courses {
            let l = &study.loops[course.index];
            let whole: f64 = course.bits.iter().map(|b| b.gives).sum::<f64>().max(1e-9);
            let mut along = 0.0;
            for (b, water) in course.bits.iter().zip(&mut course.water_c) {
                *water = l.supply_c + (l.return_c - l.supply_c) * (along + b.gives / 2.0) / whole;
                along += b.gives;
            }
        }
    }

    /// Mean of the surface and heat into the room, by floor: °C, W.
    pub fn floors(&self, field: &Field, rooms_c: &[f64]) -> Vec<(f64, f64)> {
        let of = |(k, f): (usize, &FloorField)| {
            let n = f.plane_c.len();
            let mean = f.surface_c().iter().copied().map(f64::from).sum::<f64>() / n.max(1) as f64;
            (mean, (mean - rooms_c[k]) * self.sheets[k].film_up * n as f64 * CELL_M2)
        };
        field.floors.iter().enumerate().map(of).collect()
    }

    /// Heat out of the water of every loop, W, and what comes back, °C.
    pub fn loops(&self, field: &Field) -> Vec<(f64, f64)> {
        let of = |c: &Course| {
            if c.flow_w_k <= 0.0 || c.bits.is_empty() {
                return (0.0, c.supply_c);
            }
            let heat = c.bits.iter().zip(&c.water_c).map(|(b, t)| b.gives * (t - plane_c(field, b))).sum();
            let last = if c.reversed { 0 } else { c.bits.len() - 1 };
            (heat, c.water_c[last])
        };
        self.courses.iter().map(of).collect()
    }

    /// Heat downward out of all floors, W.
    fn down_w(&self, field: &Field) -> f64 {
        field.floors.iter().map(FloorField::down_w).sum()
    }

    /// The floor of a cell, and its surface, °C.
    pub fn surface_of(&self, field: &Field, cell: u32) -> (usize, f64) {
        (self.grid.within(cell).0, self.surface_c(field, cell))
    }

    /// Surface of a cell, °C.
    pub fn surface_c(&self, field: &Field, cell: u32) -> f64 {
        let (floor, cell) = self.grid.within(cell);
        f64::from(field.floors[floor].surface_c()[cell])
    }
}

fn plane_c(field: &Field, b: &Bit) -> f64 {
    field.floors[b.floor as usize].plane_c[b.cell as usize]
}

#[cfg(test)]
mod tests {
    use super::validation::room;
    use super::*;

    #[test]
    fn a_routed_room_gives_its_design_and_its_water_cools() {
        for (build_up, spacing_m) in [("slab", 0.2), ("panel-board", 0.15), ("sleepers", 0.2)] {
            let study = room(build_up, spacing_m).expect("solves");
            let mut level = Level::of(&study, "ground").expect("a level");
            level.begin_as_designed(&study);
            let room_c = study.job.rooms[0].room_c;
            let field = level.at_rest(&[room_c]).expect("rests");
            let water: f64 = level.loops(&field).iter().map(|l| l.0).sum();
            let design: f64 = study.loops.iter().map(|l| l.output_up_w + l.output_down_w).sum();
            // turns, edges and the bundle at the manifold are no even field
            assert!((water - design).abs() < 0.04 * design, "{build_up}: {water} for {design}");
            for (course, (_, back_c)) in level.courses.iter().zip(level.loops(&field)) {
                let l = &study.loops[course.index];
                assert!((back_c - l.return_c).abs() < 0.1 * (l.supply_c - l.return_c) + 0.1, "{back_c} {}", l.return_c);
            }
        }
    }

    #[test]
    fn standing_water_warms_nothing_and_unknown_levels_are_named() {
        let study = room("slab", 0.2).expect("solves");
        let mut level = Level::of(&study, "ground").expect("a level");
        level.courses.iter_mut().for_each(|c| c.flow_w_k = 0.0);
        let sheet = level.sheets[0].clone();
        let field = level.at_rest(&[sheet.below_c]).expect("rests");
        let all = level.grid.cell_at.iter().flatten().map(|c| level.surface_c(&field, *c));
        assert!(all.into_iter().all(|c| (c - sheet.below_c).abs() < 0.01));
        assert_eq!(Level::of(&study, "attic").err().expect("no such level").field, "level_id");
    }
}
