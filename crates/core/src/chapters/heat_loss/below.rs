//! What lies below a heated floor, for the floor stage: its downward loss is no need of the room.

use super::construction::Direction;
use super::ground;
use super::surfaces::Reading;
use crate::job::{Beyond, GroundMethod, Job};
use crate::plan::Plan;

/// What lies below a room's heated floor: the temperature, and the resistance under the floor's own insulation.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Below {
    /// Temperature, °C.
    pub temperature_c: f64,
    /// Resistance of the ground, as a part on top of that of the insulation under the tube and the film under a floor,
    /// m²K/W, for an insulation of any thickness: none where air is below.
    pub ground: Option<GroundBelow>,
}

/// Ground under a heated floor, for its resistance depends on the floor's own insulation.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GroundBelow {
    dimension_m: f64,
    depth_m: f64,
}

impl Below {
    /// From the underside of the insulation to the temperature below, m²K/W.
    pub fn resistance(&self, job: &Job, insulation_m2k_w: f64) -> f64 {
        let film = Direction::Downward.film();
        match self.ground {
            None => film,
            Some(g) => {
                let u = ground::slab_u(&job.envelope.ground, g.dimension_m, insulation_m2k_w, g.depth_m);
                (1.0 / u.max(1e-6) - insulation_m2k_w - film).max(0.0)
            }
        }
    }
}

/// Mean temperature above each room's ceiling, °C.
pub(super) fn above(job: &Job, plan: &Plan, temperatures: &[f64]) -> Vec<f64> {
    (0..job.rooms.len())
        .map(|i| {
            let storey = &plan.storeys[i];
            let open = open_c(job, &job.rooms[i].above, temperatures[i]);
            let shared: f64 = storey.above.iter().map(|s| s.area_m2).sum();
            let rooms: f64 = storey.above.iter().map(|s| s.area_m2 * temperatures[s.room]).sum();
            let all = shared + storey.open_above_m2;
            if all > 0.0 { (rooms + storey.open_above_m2 * open) / all } else { open }
        })
        .collect()
}

/// Temperature of what is no room of the job, °C.
pub(crate) fn open_c(job: &Job, beyond: &Beyond, room_c: f64) -> f64 {
    match *beyond {
        // the crawl space's own balance is not struck for a heated floor: as cold as outdoors is the safe side
        Beyond::Outside | Beyond::CrawlSpace => job.site.outdoor_c,
        Beyond::Heated => room_c,
        Beyond::Unheated { temperature_c } => temperature_c,
        Beyond::Reduced { b } => room_c - b * (room_c - job.site.outdoor_c),
        Beyond::Ground => match job.envelope.ground.method {
            GroundMethod::Iso13370 => room_c - ground::YEARLY_SWING * (room_c - job.site.annual_mean()),
            _ => job.site.ground_c,
        },
    }
}

/// What lies below each room's heated floor.
pub(super) fn below(job: &Job, plan: &Plan, reading: &Reading, temperatures: &[f64]) -> Vec<Below> {
    (0..job.rooms.len())
        .map(|i| {
            let (room, storey) = (&job.rooms[i], &plan.storeys[i]);
            let rest = open_c(job, &room.below, temperatures[i]);
            let shared: f64 = storey.below.iter().map(|s| s.area_m2).sum();
            let rooms: f64 = storey.below.iter().map(|s| s.area_m2 * temperatures[s.room]).sum();
            let all = shared + storey.open_below_m2;
            let temperature_c = if all > 0.0 { (rooms + storey.open_below_m2 * rest) / all } else { rest };
            let on_ground = room.below == Beyond::Ground
                && job.envelope.ground.method == GroundMethod::Iso13370
                && storey.open_below_m2 > 0.5 * all;
            let depth_m = (-plan.floor_m[i]).max(0.0);
            let ground = on_ground.then_some(GroundBelow { dimension_m: reading.dimensions[i], depth_m });
            Below { temperature_c, ground }
        })
        .collect()
}
