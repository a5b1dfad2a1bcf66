//! Heat gains of a room hour by hour: the simple hourly method of ISO 13790 (five resistances, one capacity), whose successor
//! EN ISO 52016-1 parts each element. Sun through glass by orientation, sun on walls and roof, people and equipment by the hours
//! of the day, air from outside.

use super::part::{Cooling, Summer};
use super::sun::Sky;
use crate::heat_loss::report::{Cause, LossPart, OtherSide};
use crate::job::{Job, Opening, OpeningKind};
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

/// Heat that a room has without heating, W.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(crate) struct Gains {
    /// Of people and equipment, into the air.
    pub to_air_w: f64,
    /// Of people and equipment, radiant.
    pub radiant_w: f64,
    /// Sun through glass.
    pub sun_w: f64,
    /// Sun on walls and roof, from outside.
    pub to_mass_w: f64,
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
pub(crate) fn bearing(job: &Job, plan: &Plan, room: usize, edge: usize) -> Option<f64> {
    let inward = plan.edge(room, edge)?.inward();
    let degrees = (-inward[0]).atan2(-inward[1]).to_degrees() - job.site.north_deg;
    Some(degrees.rem_euclid(360.0))
}

fn g_of(job: &Job, opening: &Opening) -> f64 {
    let of = |id: &str| job.construction(id).and_then(|c| c.g);
    let own = opening.construction_id.as_deref().and_then(of);
    opening.g.or(own).or_else(|| of(&job.envelope.window_id)).unwrap_or(USUAL_G)
}

/// Share of the sun on a window, frame and all, that comes in.
pub(crate) fn lets_in(job: &Job, opening: &Opening) -> f64 {
    g_of(job, opening) * FRAME * ASLANT
}

impl RoomSummer {
    /// A room of the job; none where it has no floor to stand on.
    pub fn of(study: &Solved, index: usize, cooling: &Cooling) -> RoomSummer {
        let (job, plan) = (&study.job, &study.plan);
        let (room, loss) = (&job.rooms[index], &study.heat.rooms[index]);
        let floor_m2 = study.rooms[index].area_m2.max(0.1);
        let outward = |p: &LossPart| matches!(p.other, OtherSide::Outdoors | OtherSide::Unheated);
        let windows_w_k = loss.conducts_w_k(|p| outward(p) && p.cause.is_window_or_door());
        let solid = |c: Cause| matches!(c, Cause::OutsideWall | Cause::Roof | Cause::Bridge | Cause::Partition);
        let opaque_w_k = loss.conducts_w_k(|p| outward(p) && solid(p.cause));
        let air_w_k = loss.conducts_w_k(|p| outward(p) && p.cause.is_air());
        let glass = room.openings.iter().filter(|o| o.kind.is_window()).map(|o| {
            let m2 = o.width_m * o.height_m * lets_in(job, o) * cooling.shades;
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
                Some(Sunny { bearing_deg: Some(looks), m2: OPAQUE * p.conducts_w_k() })
            }
            Cause::Roof => Some(Sunny { bearing_deg: None, m2: OPAQUE * p.conducts_w_k() }),
            _ => None,
        });
        let zone =
            Zone::new(&Envelope { floor_m2, windows_w_k, opaque_w_k, air_w_k, heavy: job.has_poured_floor(room) });
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

    /// Heat of sun, people and equipment in an hour of the year.
    pub fn gains(&self, hour: usize, sky: &Sky, cooling: &Cooling) -> Gains {
        let used = if self.used(hour) { 1.0 } else { 0.0 };
        let inner = used * (self.summer.people * cooling.person_w + self.summer.equipment_w);
        let sun = |of: &[Sunny]| of.iter().map(|s| s.m2 * sky.on(s.bearing_deg)).sum::<f64>();
        Gains { to_air_w: 0.5 * inner, radiant_w: 0.5 * inner, sun_w: sun(&self.glass), to_mass_w: sun(&self.solid) }
    }

    /// Heat to be taken from it in each hour, W, so that it is no warmer than `most_c`; sky and air by hour.
    pub fn needs(&self, air_c: &[f64], skies: &[Sky], cooling: &Cooling) -> Vec<f64> {
        const HOUR_S: f64 = 3600.0;
        let mut mass_c = self.winter_c;
        let mut out = Vec::with_capacity(air_c.len());
        for (hour, (outdoor_c, sky)) in air_c.iter().zip(skies).enumerate() {
            let gains = self.gains(hour, sky, cooling);
            let run = |given: f64| {
                let drive = Drive {
                    outdoor_c: *outdoor_c,
                    behind_c: *outdoor_c,
                    to_air_w: gains.to_air_w + given,
                    radiant_w: gains.radiant_w + gains.sun_w,
                    to_mass_w: gains.to_mass_w,
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
pub(crate) fn at_outside(plan: &Plan, room: usize, edge: usize) -> bool {
    plan.walls[room].iter().any(|p| p.edge == edge && (p.is_outside() || !matches!(p.behind, Behind::Room { .. })))
}
