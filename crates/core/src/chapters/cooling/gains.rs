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
use crate::zone::{Drive, Envelope, Zone};

/// Glass in its frame, and sun that does not come straight in.
const FRAME: f64 = 0.75;
const ASLANT: f64 = 0.9;
/// Sun that walls and roofs take in, times their outer film, m²K/W.
const OPAQUE: f64 = 0.6 * 0.04;
/// Share of the sun that comes in where no glass says.
const USUAL_G: f64 = 0.6;

/// A surface that the sun reaches: where it looks (none: up), and the area that would let all of it in, m².
#[derive(Debug, Clone, Copy, PartialEq)]
struct Sunny {
    bearing_deg: Option<f64>,
    m2: f64,
}

/// A room in summer.
pub(crate) struct RoomSummer {
    floor_m2: f64,
    zone: Zone,
    /// Air that carries its moisture away, m³/h.
    pub air_m3_h: f64,
    pub volume_m3: f64,
    glass: Vec<Sunny>,
    solid: Vec<Sunny>,
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
        let zone = Zone::new(&Envelope { floor_m2, windows_w_k, opaque_w_k, air_w_k, heavy: poured(room) });
        let supplied = room.supply_m3_h.max(room.extract_m3_h);
        RoomSummer {
            floor_m2,
            zone,
            air_m3_h: loss.air_changes_per_h * loss.volume_m3 + supplied,
            volume_m3: loss.volume_m3.max(1.0),
            glass: glass.filter(|s| s.m2 > 0.0).collect(),
            solid: solid.collect(),
            summer: room.summer.unwrap_or_else(|| Summer::usual(room.usage, floor_m2)),
            winter_c: room.room_c.min(cooling.room_c - 1.0),
        }
    }

    /// Whether people are in it in that hour of the year.
    pub fn used(&self, hour: usize) -> bool {
        let clock = (hour % 24) as u32;
        (self.summer.from_h..self.summer.to_h).contains(&clock)
    }

    /// Heat of sun, people and equipment in an hour of the year, W: to the air, radiant within, and to the mass from outside.
    pub fn gains_w(&self, hour: usize, sky: &Sky, cooling: &Cooling) -> [f64; 3] {
        let used = if self.used(hour) { 1.0 } else { 0.0 };
        let inner = used * (self.summer.people * cooling.person_w + self.summer.equipment_w);
        let sun = |of: &[Sunny]| of.iter().map(|s| s.m2 * sky.on(s.bearing_deg)).sum::<f64>();
        [0.5 * inner, 0.5 * inner + sun(&self.glass), sun(&self.solid)]
    }

    /// Heat to be taken from it in each hour, W, so that it is no warmer than `most_c`; sky and air by hour.
    pub fn needs(&self, air_c: &[f64], skies: &[Sky], cooling: &Cooling) -> Vec<f64> {
        const HOUR_S: f64 = 3600.0;
        let mut mass_c = self.winter_c;
        let mut out = Vec::with_capacity(air_c.len());
        for (hour, (outdoor_c, sky)) in air_c.iter().zip(skies).enumerate() {
            let [to_air, radiant_w, to_mass_w] = self.gains_w(hour, sky, cooling);
            let run = |given: f64| {
                let drive = Drive {
                    outdoor_c: *outdoor_c,
                    behind_c: *outdoor_c,
                    to_air_w: to_air + given,
                    radiant_w,
                    to_mass_w,
                };
                self.zone.step(mass_c, HOUR_S, &drive)
            };
            let free = run(0.0);
            let target = if free.air_c > cooling.room_c {
                Some(cooling.room_c)
            } else if free.air_c < self.winter_c {
                Some(self.winter_c)
            } else {
                None
            };
            // straight in what is given
            let given = target.map_or(0.0, |target| {
                let probe = 10.0 * self.floor_m2;
                probe * (target - free.air_c) / (run(probe).air_c - free.air_c)
            });
            mass_c = run(given).mass_c;
            out.push((-given).max(0.0));
        }
        out
    }
}

/// Whether the wall stands to the outside somewhere.
fn at_outside(plan: &Plan, room: usize, edge: usize) -> bool {
    plan.walls[room].iter().any(|p| p.edge == edge && (p.is_outside() || !matches!(p.behind, Behind::Room { .. })))
}
