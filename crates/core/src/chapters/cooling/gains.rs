//! Heat gains of a room hour by hour: the simple hourly method of ISO 13790 (five resistances, one capacity), whose successor
//! EN ISO 52016-1 parts each element. Sun through glass by orientation, sun on walls and roof, people and equipment by the hours
//! of the day, air from outside.

use super::part::{Cooling, Summer};
use super::sun::Sky;
use crate::heat_loss::report::{Cause, OtherSide};
use crate::job::{Job, OpeningKind, Room};
use crate::plan::Plan;
use crate::plan::walls::Behind;
use crate::study::solved::Solved;

/// Of ISO 13790: inner surfaces over floor area, and the films within a room, W/m²K.
const SURFACES: f64 = 4.5;
const FILM_AIR: f64 = 3.45;
const FILM_MASS: f64 = 9.1;
/// Heat that a room keeps, J/m²K of floor, and the surface that works with it: under a poured floor, and under another.
const HEAVY: (f64, f64) = (260_000.0, 3.0);
const LIGHT: (f64, f64) = (110_000.0, 2.5);
/// Glass in its frame, and sun that does not come straight in.
const FRAME: f64 = 0.75;
const ASLANT: f64 = 0.9;
/// Sun that walls and roofs take in, times their outer film, m²K/W.
const OPAQUE: f64 = 0.6 * 0.04;
/// Share of the sun that comes in where no glass says.
const USUAL_G: f64 = 0.6;
/// Conductances below this are none, W/K.
const NOTHING: f64 = 1e-6;

/// A surface that the sun reaches: where it looks (none: up), and the area that would let all of it in, m².
#[derive(Debug, Clone, Copy, PartialEq)]
struct Sunny {
    bearing_deg: Option<f64>,
    m2: f64,
}

/// A room in summer.
pub(crate) struct RoomSummer {
    floor_m2: f64,
    windows_w_k: f64,
    opaque_w_k: f64,
    air_w_k: f64,
    /// Air that carries its moisture away, m³/h.
    pub air_m3_h: f64,
    pub volume_m3: f64,
    glass: Vec<Sunny>,
    solid: Vec<Sunny>,
    heat_j_k: f64,
    mass_m2: f64,
    pub summer: Summer,
    winter_c: f64,
}

/// Where a wall looks, degrees from north, clockwise.
fn bearing(job: &Job, plan: &Plan, room: usize, edge: usize) -> Option<f64> {
    let inward = plan.edge(room, edge)?.inward();
    let degrees = (-inward[0]).atan2(-inward[1]).to_degrees() - job.site.north_deg;
    Some(degrees.rem_euclid(360.0))
}

fn g_of(job: &Job, opening: &crate::job::Opening) -> f64 {
    let of = |id: &str| job.construction(id).and_then(|c| c.g);
    let own = opening.construction_id.as_deref().and_then(of);
    opening.g.or(own).or_else(|| of(&job.envelope.window_id)).unwrap_or(USUAL_G)
}

impl RoomSummer {
    /// A room of the job; none where it has no floor to stand on.
    pub fn of(study: &Solved, index: usize, cooling: &Cooling) -> RoomSummer {
        let (job, plan) = (&study.job, &study.plan);
        let (room, loss) = (&job.rooms[index], &study.heat.rooms[index]);
        let floor_m2 = study.rooms[index].area_m2.max(0.1);
        let sum = |of: &dyn Fn(Cause) -> bool| {
            let outdoors = |o: OtherSide| matches!(o, OtherSide::Outdoors | OtherSide::Unheated);
            let parts = loss.parts.iter().filter(|p| of(p.cause) && outdoors(p.other));
            parts.map(|p| p.amount * p.per_kelvin).sum::<f64>()
        };
        let windows_w_k = sum(&|c| matches!(c, Cause::Window | Cause::OutsideDoor));
        let opaque_w_k = sum(&|c| matches!(c, Cause::OutsideWall | Cause::Roof | Cause::Bridge | Cause::Partition));
        let air_w_k = sum(&|c| matches!(c, Cause::Air | Cause::Ventilation));
        let glass = room.openings.iter().filter(|o| o.kind.is_window()).map(|o| {
            let m2 = o.width_m * o.height_m * g_of(job, o) * FRAME * ASLANT * cooling.shades;
            let up = o.kind == OpeningKind::RoofWindow;
            let outside = up || at_outside(plan, index, o.edge);
            Sunny {
                bearing_deg: if up { None } else { bearing(job, plan, index, o.edge) },
                m2: if outside { m2 } else { 0.0 },
            }
        });
        let solid = loss.parts.iter().filter(|p| p.other == OtherSide::Outdoors).filter_map(|p| match p.cause {
            Cause::OutsideWall => {
                let looks = bearing(job, plan, index, p.edge?)?;
                Some(Sunny { bearing_deg: Some(looks), m2: OPAQUE * p.amount * p.per_kelvin })
            }
            Cause::Roof => Some(Sunny { bearing_deg: None, m2: OPAQUE * p.amount * p.per_kelvin }),
            _ => None,
        });
        let poured = |r: &Room| {
            let floor = r.floor.as_ref().and_then(|f| job.build_up(&f.build_up_id));
            floor.is_some_and(|b| b.laying.is_poured())
        };
        let (heat, mass) = if poured(room) { HEAVY } else { LIGHT };
        let supplied = room.supply_m3_h.max(room.extract_m3_h);
        RoomSummer {
            floor_m2,
            windows_w_k,
            opaque_w_k,
            air_w_k,
            air_m3_h: loss.air_changes_per_h * loss.volume_m3 + supplied,
            volume_m3: loss.volume_m3.max(1.0),
            glass: glass.filter(|s| s.m2 > 0.0).collect(),
            solid: solid.collect(),
            heat_j_k: heat * floor_m2,
            mass_m2: mass * floor_m2,
            summer: room.summer.unwrap_or_else(|| Summer::usual(room.usage, floor_m2)),
            winter_c: room.room_c.min(cooling.room_c - 1.0),
        }
    }

    /// Whether people are in it in that hour of the year.
    pub fn used(&self, hour: usize) -> bool {
        let clock = (hour % 24) as u32;
        (self.summer.from_h..self.summer.to_h).contains(&clock)
    }

    /// Heat to be taken from it in each hour, W, so that it is no warmer than `most_c`; sky and air by hour.
    pub fn needs(&self, air_c: &[f64], skies: &[Sky], cooling: &Cooling) -> Vec<f64> {
        let (a, most_c) = (SURFACES * self.floor_m2, cooling.room_c);
        let his = FILM_AIR * a;
        let hms = FILM_MASS * self.mass_m2;
        let opaque = self.opaque_w_k.clamp(NOTHING, 0.98 * hms);
        let hem = 1.0 / (1.0 / opaque - 1.0 / hms);
        let hve = self.air_w_k.max(NOTHING);
        let hw = self.windows_w_k.max(NOTHING);
        let h1 = 1.0 / (1.0 / hve + 1.0 / his);
        let h2 = h1 + hw;
        let h3 = 1.0 / (1.0 / h2 + 1.0 / hms);
        let per_step = self.heat_j_k / 3600.0;
        let mut mass_c = self.winter_c;
        let mut out = Vec::with_capacity(air_c.len());
        for (hour, (outdoor_c, sky)) in air_c.iter().zip(skies).enumerate() {
            let used = if self.used(hour) { 1.0 } else { 0.0 };
            let inner = used * (self.summer.people * cooling.person_w + self.summer.equipment_w);
            let sun = |of: &[Sunny]| of.iter().map(|s| s.m2 * sky.on(s.bearing_deg)).sum::<f64>();
            let glass = sun(&self.glass);
            let radiant = 0.5 * inner + glass;
            let to_air = 0.5 * inner;
            let share = self.mass_m2 / a;
            // sun on walls and roof comes in as through the mass
            let to_mass = share * radiant + sun(&self.solid);
            let to_surface = ((1.0 - share - hw / (FILM_MASS * a)) * radiant).max(0.0);
            let run = |given: f64| {
                let at_air = outdoor_c + (to_air + given) / hve;
                let all = to_mass + hem * outdoor_c + h3 * (to_surface + hw * outdoor_c + h1 * at_air) / h2;
                let next = (mass_c * (per_step - 0.5 * (h3 + hem)) + all) / (per_step + 0.5 * (h3 + hem));
                let middle = f64::midpoint(mass_c, next);
                let surface = (hms * middle + to_surface + hw * outdoor_c + h1 * at_air) / (hms + hw + h1);
                ((his * surface + hve * outdoor_c + to_air + given) / (his + hve), next)
            };
            let (free_c, free_next) = run(0.0);
            let target = if free_c > most_c {
                Some(most_c)
            } else if free_c < self.winter_c {
                Some(self.winter_c)
            } else {
                None
            };
            let (given, next) = match target {
                None => (0.0, free_next),
                Some(target) => {
                    let probe = 10.0 * self.floor_m2;
                    let (probed_c, _) = run(probe);
                    let given = probe * (target - free_c) / (probed_c - free_c);
                    (given, run(given).1)
                }
            };
            mass_c = next;
            out.push((-given).max(0.0));
        }
        out
    }
}

/// Whether the wall stands to the outside somewhere.
fn at_outside(plan: &Plan, room: usize, edge: usize) -> bool {
    plan.walls[room].iter().any(|p| p.edge == edge && (p.is_outside() || !matches!(p.behind, Behind::Room { .. })))
}
