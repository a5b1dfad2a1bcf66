//! A house in time: every room's floor by the modes of its section, its air, surfaces and mass by [`Zone`], its water by
//! what drives it.

use crate::cooling::gains::Gains;
use crate::error::FieldError;
use crate::floor::assembly;
use crate::floor::heating::floor_parts;
use crate::heat_loss::report::{LossPart, OtherSide};
use crate::job::Room;
use crate::section::Films;
use crate::section::film::REFERENCE;
use crate::section::running::{Running, Sides};
use crate::study::Study;
use crate::zone::{Drive, Envelope, Zone};

/// Heat of a floor that reaches the air at once; the rest is radiant.
const TO_AIR: f64 = 0.5;
/// Water that flows so little is none, W/K.
const NO_FLOW: f64 = 0.1;

/// A floor in time.
#[derive(Clone)]
struct Floor {
    running: Running,
    area_m2: f64,
    below_c: f64,
    /// Its flow times the heat of its water, W/K.
    flow_w_k: f64,
    water_c: f64,
    film_up: f64,
    /// Sun that it takes in, W.
    sun_w: f64,
}

impl Floor {
    /// What is above its film, °C: sun that it takes in counts as so much warmer a room (a sol-air temperature; exact, for the film is
    /// constant).
    fn above_c(&self, felt_c: f64) -> f64 {
        felt_c + self.sun_w / (self.area_m2 * self.film_up)
    }

    /// Heat out of its water at that supply, W, the water's mean, °C, and how much less for each kelvin less, W/K.
    fn water_of(&self, felt_c: f64, supply_c: f64) -> (f64, f64, f64) {
        let (line, up) = (self.running.line(), self.above_c(felt_c));
        let heat = |water: f64| line.at(&Sides { up, down: self.below_c, water }).water_w_m2 * self.area_m2;
        let at_zero = heat(0.0);
        let per_k = heat(1.0) - at_zero;
        // what the water gives cools it: its mean lies half of its drop under the supply
        let half = 0.5 / self.flow_w_k;
        let mean = (supply_c - half * at_zero) / (1.0 + half * per_k);
        (at_zero + per_k * mean, mean, per_k / (1.0 + half * per_k))
    }
}

/// A room in time.
#[derive(Clone)]
pub(super) struct RoomNow {
    /// Index in the job.
    pub index: usize,
    zone: Zone,
    floor_m2: f64,
    floor: Option<Floor>,
    /// What leads through walls, floor and ceiling: to outdoors, W/K, …
    to_outdoors_w_k: f64,
    /// … and to what is neither outdoors nor its own, W/K.
    others: Vec<(f64, Behind)>,
    /// Emitters and fields beside its floor on the design day, W.
    beside_w: f64,
    /// Heat of neighbours' floors on the design day, W.
    neighbours_w: f64,
    mass_c: f64,
    /// Air, surfaces, what is felt, °C.
    pub air_c: f64,
    pub felt_c: f64,
    /// Mean of its floor's surface, °C.
    pub surface_c: Option<f64>,
    /// Heat out of its water, W.
    pub heat_w: f64,
    /// Of it downward, W.
    pub down_w: f64,
    /// Heat lost to outdoors and others, W.
    pub lost_w: f64,
    /// Its water comes back, °C.
    pub return_c: Option<f64>,
    /// Heat that it has beside its water, W: gains, neighbours, what stands beside.
    pub given_w: f64,
}

/// What is on the other side.
#[derive(Clone, Copy)]
enum Behind {
    /// A room that is followed too, by its index in the job.
    Room(usize),
    /// Of one temperature, °C.
    Fixed(f64),
}

/// What a room's floor would take for its water at a supply: at that, and per kelvin less, W.
pub(super) struct Draw {
    pub heat_w: f64,
    pub per_k: f64,
}

impl RoomNow {
    fn of(study: &Study, index: usize, step_s: f64) -> Result<RoomNow, FieldError> {
        let (job, design, loss) = (&study.job, &study.rooms[index], &study.heat.rooms[index]);
        let room = &job.rooms[index];
        let outdoors = |p: &LossPart| p.other == OtherSide::Outdoors;
        let windows_w_k = loss.conducts_w_k(|p| outdoors(p) && p.cause.is_window_or_door());
        let air_w_k = loss.conducts_w_k(|p| outdoors(p) && p.cause.is_air());
        let mut to_outdoors_w_k = loss.conducts_w_k(outdoors) - windows_w_k - air_w_k;
        let mut others = vec![];
        let over = (room.room_c - job.site.outdoor_c).max(1.0);
        for p in loss.parts.iter().filter(|p| !matches!(p.other, OtherSide::Outdoors | OtherSide::Same)) {
            let conducts = p.conducts_w_k();
            let neighbour = p.subject.as_ref().and_then(|id| job.rooms.iter().position(|r| r.id == *id));
            match (p.other, neighbour) {
                (OtherSide::Room, Some(n)) if followed(&job.rooms[n]) => others.push((conducts, Behind::Room(n))),
                // it is as far on the way to outdoors as on the design day, in all weather
                (OtherSide::Unheated | OtherSide::CrawlSpace, _) => {
                    let share = (p.difference_k / over).clamp(0.0, 1.0);
                    to_outdoors_w_k += conducts * share;
                }
                _ => others.push((conducts, Behind::Fixed(p.other_c))),
            }
        }
        let zone = Zone::new(&Envelope {
            floor_m2: design.area_m2.max(0.1),
            windows_w_k,
            opaque_w_k: to_outdoors_w_k + others.iter().map(|o| o.0).sum::<f64>(),
            air_w_k,
            heavy: job.has_poured_floor(room),
        });
        let floor = floor_of(study, index, step_s)?;
        let fields: f64 = design.fields.iter().map(|f| f.heat_w).sum();
        Ok(RoomNow {
            index,
            zone,
            floor_m2: design.area_m2.max(0.1),
            floor,
            to_outdoors_w_k,
            others,
            beside_w: design.beside_w + fields + design.supplement_w,
            neighbours_w: design.neighbour_heat_w + design.leader_heat_w,
            mass_c: room.room_c,
            air_c: room.room_c,
            felt_c: room.room_c,
            surface_c: None,
            heat_w: 0.0,
            down_w: 0.0,
            lost_w: 0.0,
            return_c: None,
            given_w: 0.0,
        })
    }

    /// Whether it has a floor with water.
    pub fn is_heated(&self) -> bool {
        self.floor.as_ref().is_some_and(|f| f.flow_w_k > NO_FLOW)
    }

    /// Temperature behind its walls, mixed of all that is there, °C; `felt_c` of the rooms that are followed, by index in the job.
    fn behind_c(&self, outdoor_c: f64, felt_c: &dyn Fn(usize) -> f64) -> f64 {
        let of = |behind: Behind| match behind {
            Behind::Room(r) => felt_c(r),
            Behind::Fixed(c) => c,
        };
        let all = self.to_outdoors_w_k + self.others.iter().map(|o| o.0).sum::<f64>();
        let sum = self.to_outdoors_w_k * outdoor_c + self.others.iter().map(|(h, b)| h * of(*b)).sum::<f64>();
        if all > 1e-9 { sum / all } else { outdoor_c }
    }

    /// Puts it into rest without heat, in that weather and among neighbours of those temperatures; its floor is as warm as what it feels.
    /// Returns by how much that moved it, K.
    pub fn cold(&mut self, outdoor_c: f64, felt_c: &dyn Fn(usize) -> f64) -> f64 {
        let drive = Drive { outdoor_c, behind_c: self.behind_c(outdoor_c, felt_c), ..Drive::default() };
        self.mass_c = self.zone.at_rest(&drive);
        let now = self.zone.step(self.mass_c, 1.0, &drive);
        let moved = (now.felt_c - self.felt_c).abs();
        (self.air_c, self.felt_c) = (now.air_c, now.felt_c);
        self.floor_at(self.felt_c);
        moved
    }

    /// Puts it to that temperature, floor and all; a floor with a supply is at rest with it.
    pub fn warm(&mut self, room_c: f64, supply_c: Option<f64>) {
        (self.mass_c, self.air_c, self.felt_c) = (room_c, room_c, room_c);
        self.floor_at(room_c);
        let Some(f) = self.floor.as_mut().filter(|f| f.flow_w_k > NO_FLOW) else { return };
        let Some(supply) = supply_c else { return };
        // heat at rest is a straight line in the water, and so is what its drop leaves of the supply
        let mut heat = |water: f64| {
            let sides = Sides { up: room_c, down: f.below_c, water };
            f.running.settle(sides);
            f.running.expected(&sides).water_w_m2 * f.area_m2
        };
        let (none, some) = (heat(room_c), heat(supply));
        let per_k = (some - none) / (supply - room_c).max(0.1);
        let half = 0.5 / f.flow_w_k;
        let mean = (supply + half * (per_k * room_c - none)) / (1.0 + half * per_k);
        if none + per_k * (mean - room_c) > 0.0 {
            heat(mean);
            f.water_c = mean;
        } else {
            self.floor_at(room_c);
        }
    }

    /// Sun that its floor takes in from now on, W, as far as tube lies under it.
    pub fn shine(&mut self, sun_w: f64) {
        if let Some(f) = &mut self.floor {
            f.sun_w = sun_w * (f.area_m2 / self.floor_m2).min(1.0);
        }
    }

    fn floor_at(&mut self, c: f64) {
        if let Some(f) = &mut self.floor {
            let sides = Sides { up: c, down: f.below_c, water: c };
            f.running.settle(sides);
            f.water_c = c;
        }
    }

    /// Heat that its floor and its mass keep, over 0 °C, J.
    pub fn held_j(&self) -> f64 {
        let floor = self.floor.as_ref().map_or(0.0, |f| f.running.held_j_m2() * f.area_m2);
        floor + self.zone.heat_j_k() * self.mass_c
    }

    /// What its floor would take at a supply.
    pub fn draws(&self, supply_c: f64) -> Draw {
        let Some(f) = self.floor.as_ref().filter(|f| f.flow_w_k > NO_FLOW) else {
            return Draw { heat_w: 0.0, per_k: 0.0 };
        };
        let (heat_w, _, per_k) = f.water_of(self.felt_c, supply_c);
        Draw { heat_w: heat_w.max(0.0), per_k }
    }

    /// A step over a floor that gives that heat by somebody else's account, W, its share of the sun with it: `gains` are the rest.
    pub fn step_over(&mut self, step_s: f64, around: &Around, up_w: f64, gains: &Gains, share: f64) {
        let drive = self.drive(around, gains, share);
        (self.heat_w, self.down_w, self.surface_c, self.return_c) = (0.0, 0.0, None, None);
        self.receive(step_s, up_w, drive);
    }

    /// What drives it beside its floor: sun that the floor takes in is the floor's to give.
    fn drive(&mut self, around: &Around, gains: &Gains, share: f64) -> Drive {
        let to_air_w = (self.beside_w + self.neighbours_w) * share + gains.to_air_w;
        self.given_w = to_air_w + gains.radiant_w + gains.sun_w + gains.to_mass_w;
        Drive {
            outdoor_c: around.outdoor_c,
            behind_c: self.behind_c(around.outdoor_c, around.felt_c),
            to_air_w,
            radiant_w: gains.radiant_w + gains.sun_w - self.floor.as_ref().map_or(0.0, |f| f.sun_w),
            to_mass_w: gains.to_mass_w,
        }
    }

    /// Heat of the floor, and what drives the room besides.
    fn receive(&mut self, step_s: f64, up_w: f64, mut drive: Drive) {
        drive.to_air_w += TO_AIR * up_w;
        drive.radiant_w += (1.0 - TO_AIR) * up_w;
        let before = self.mass_c;
        let after = self.zone.step(before, step_s, &drive);
        self.lost_w = self.zone.loses_w(before, &after, &drive);
        (self.mass_c, self.air_c, self.felt_c) = (after.mass_c, after.air_c, after.felt_c);
    }

    /// A step: water of that supply, or none; `share` of the design day's need. Of the sun in `gains` its floor takes what it was told by
    /// [`RoomNow::shine`].
    pub fn step(&mut self, step_s: f64, around: &Around, supply_c: Option<f64>, gains: &Gains, share: f64) {
        let drive = self.drive(around, gains, share);
        let mut up_w = 0.0;
        (self.heat_w, self.down_w, self.surface_c, self.return_c) = (0.0, 0.0, None, None);
        if let Some(f) = &mut self.floor {
            let line = f.running.line();
            let mut sides = Sides { up: f.above_c(self.felt_c), down: f.below_c, water: f.water_c };
            match supply_c.filter(|_| f.flow_w_k > NO_FLOW) {
                // water that is cooler than the floor would cool it: the valve sees to it that none comes
                Some(supply) => {
                    let (heat, mean, _) = f.water_of(self.felt_c, supply);
                    sides.water = if heat > 0.0 { mean } else { line.water_for(&sides, 0.0) };
                }
                None => sides.water = line.water_for(&sides, 0.0),
            }
            f.water_c = sides.water;
            let now = f.running.step(&sides);
            self.heat_w = now.water_w_m2 * f.area_m2;
            self.down_w = now.down_w_m2 * f.area_m2;
            self.surface_c = Some(now.surface_c);
            self.return_c = supply_c.filter(|_| self.heat_w > 0.0).map(|s| s - self.heat_w / f.flow_w_k.max(NO_FLOW));
            up_w = now.up_w_m2 * f.area_m2 + f.sun_w;
        }
        self.receive(step_s, up_w, drive);
    }
}

fn floor_of(study: &Study, index: usize, step_s: f64) -> Result<Option<Floor>, FieldError> {
    let job = &study.job;
    let Some(parts) = job.rooms[index].heated_floor().and_then(|f| floor_parts(job, f)) else { return Ok(None) };
    let Some(state) = study.water.heating[index].floor.as_ref() else { return Ok(None) };
    let (duty, water) = (state.core().duty(), &study.water.rooms[index]);
    let section = assembly::section(&parts, &|id: &str| job.material(id))?;
    let films = Films { up: REFERENCE, down: duty.film_down(), water: duty.water_film_w_m2k };
    let start = Sides { up: duty.room_c, down: duty.below_c, water: duty.room_c };
    let running = Running::kept(&section, &films, step_s, start)?;
    let area_m2 = water.field_area.max(0.1);
    let design = (state.flux_up(water.floor_excess_k) + state.flux_down(water.floor_excess_k)) * area_m2;
    let flow_w_k = water.drop_k.filter(|d| *d > 0.1).map_or(0.0, |d| design / d);
    Ok(Some(Floor {
        running,
        area_m2,
        below_c: duty.below_c,
        flow_w_k,
        water_c: duty.room_c,
        film_up: films.up,
        sun_w: 0.0,
    }))
}

/// What is around a room in a step.
pub(super) struct Around<'a> {
    pub outdoor_c: f64,
    /// Of the rooms that are followed, by their index in the job.
    pub felt_c: &'a dyn Fn(usize) -> f64,
}

/// Rooms with tube in their floor are followed; others keep their temperature by what else heats them.
fn followed(room: &Room) -> bool {
    room.heated_floor().is_some()
}

/// All rooms that are followed, in the job's order.
///
/// # Errors
/// Where a section cannot be solved.
pub(super) fn rooms(study: &Study, step_s: f64) -> Result<Vec<RoomNow>, FieldError> {
    let with_tube = (0..study.job.rooms.len()).filter(|i| followed(&study.job.rooms[*i]));
    with_tube.map(|i| RoomNow::of(study, i, step_s)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, job_of, manifold, studied};

    const STEP_S: f64 = 300.0;

    fn room() -> RoomNow {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
        let study = studied(&job).expect("solved");
        rooms(&study, STEP_S).expect("rooms").remove(0)
    }

    fn around(outdoor_c: f64) -> Around<'static> {
        Around { outdoor_c, felt_c: &|_| 20.0 }
    }

    #[test]
    fn a_warm_floor_begins_at_rest_with_its_water() {
        let mut r = room();
        r.warm(20.0, Some(36.0));
        r.step(STEP_S, &around(-5.0), Some(36.0), &Gains::default(), 0.0);
        let first = r.heat_w;
        // the room is held where it was: the floor goes on as it began
        for _ in 0..20 {
            r.felt_c = 20.0;
            r.step(STEP_S, &around(-5.0), Some(36.0), &Gains::default(), 0.0);
        }
        r.felt_c = 20.0;
        assert!(first > 300.0 && (r.heat_w - first).abs() < 0.01 * first, "{first} {}", r.heat_w);
        // water that is no warmer than the room leaves the floor as the room is
        let mut cool = room();
        cool.warm(20.0, Some(15.0));
        assert!((cool.draws(20.0).heat_w - room_at(20.0).draws(20.0).heat_w).abs() < 1e-6);
    }

    fn room_at(c: f64) -> RoomNow {
        let mut r = room();
        r.warm(c, None);
        r
    }

    #[test]
    fn sun_on_the_floor_is_as_much_heat_as_sun_elsewhere_and_comes_later() {
        let gains = Gains { sun_w: 800.0, ..Gains::default() };
        let run = |on_floor: f64| {
            let mut r = room_at(20.0);
            let held = r.held_j();
            let (mut lost_j, mut given_j, mut first_c) = (0.0, 0.0, 0.0);
            for k in 0..288 {
                r.shine(on_floor * gains.sun_w);
                r.step(STEP_S, &around(5.0), None, &gains, 0.0);
                lost_j += (r.lost_w + r.down_w) * STEP_S;
                given_j += (r.given_w + r.heat_w) * STEP_S;
                if k == 6 {
                    first_c = r.felt_c;
                }
            }
            // the floor's heat is that of each step's end: 0.4 % apart while it warms up, nothing over a year (`TimeRun::balance_error`)
            let apart = given_j - lost_j - (r.held_j() - held);
            assert!(apart.abs() < 5e-3 * given_j, "{on_floor}: {apart} of {given_j}");
            (first_c, r.surface_c.expect("a floor"))
        };
        let (beside, onto) = (run(0.0), run(0.6));
        assert!(onto.0 < beside.0 - 0.1, "later: {} {}", onto.0, beside.0);
        assert!(onto.1 > beside.1 + 0.5, "on a warmer floor: {} {}", onto.1, beside.1);
    }

    #[test]
    fn a_room_whose_loops_are_shut_cools_to_what_is_around_it() {
        let mut r = room_at(20.0);
        for _ in 0..4000 {
            r.step(STEP_S, &around(0.0), None, &Gains::default(), 0.0);
        }
        assert_eq!(r.return_c, None);
        assert!(r.heat_w.abs() < 1e-6, "a shut loop neither takes nor gives: {}", r.heat_w);
        assert!(r.felt_c < 5.0 && r.felt_c > -0.5, "{}", r.felt_c);
    }
}
