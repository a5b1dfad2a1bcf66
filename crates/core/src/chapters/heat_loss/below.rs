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
    /// What is between the underside of the floor's own insulation and that temperature.
    pub under: Under,
}

/// What is between the underside of a heated floor's insulation and the temperature below.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub enum Under {
    /// Air: a film.
    #[default]
    Air,
    /// Ground by ISO 13370, by the characteristic dimension and the depth of the floor, m: its resistance depends on the
    /// floor's own insulation.
    Ground {
        /// B′
        dimension_m: f64,
        /// Below the ground's surface.
        depth_m: f64,
    },
    /// A crawl space, which loses heat to its ground, through its walls and vents, by the characteristic dimension, m.
    CrawlSpace {
        /// B′
        dimension_m: f64,
    },
    /// Ground by the perimeter factor: all of the floor's transmittance, W/m²K.
    Edge {
        /// The factor times the exposed edge over the floor's area.
        u: f64,
    },
    /// Ground whose temperature is known.
    KnownGround,
}

impl Below {
    /// From the underside of the insulation to the temperature below, m²K/W.
    pub fn resistance(&self, job: &Job, insulation_m2k_w: f64) -> f64 {
        let (film, soil) = (Direction::Downward.film(), &job.envelope.ground);
        // what is left of the whole once floor and film are taken off
        let rest = |u: f64| (1.0 / u.max(1e-6) - insulation_m2k_w - film).max(0.0);
        match self.under {
            Under::Air => film,
            Under::Ground { dimension_m, depth_m } => {
                rest(ground::slab_u(soil, dimension_m, insulation_m2k_w, depth_m))
            }
            Under::CrawlSpace { dimension_m } => film + 1.0 / ground::from_crawl_space_u(soil, dimension_m),
            Under::Edge { u } => rest(u),
            Under::KnownGround => 0.0,
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
        // a crawl space: the way from it to outdoors is a resistance below the floor
        Beyond::Outside | Beyond::CrawlSpace => job.site.outdoor_c,
        Beyond::Heated => room_c,
        Beyond::Unheated { temperature_c } => temperature_c,
        Beyond::Reduced { b } => room_c - b * (room_c - job.site.outdoor_c),
        Beyond::Ground => match job.envelope.ground.method {
            GroundMethod::Iso13370 => room_c - ground::YEARLY_SWING * (room_c - job.site.annual_mean()),
            GroundMethod::PerimeterFactor => job.site.outdoor_c,
            GroundMethod::GroundTemperature => job.site.ground_c,
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
            let dimension_m = reading.dimensions[i].max(0.1);
            let under = match room.below {
                _ if storey.open_below_m2 <= 0.5 * all => Under::Air,
                Beyond::CrawlSpace => Under::CrawlSpace { dimension_m },
                Beyond::Ground => match job.envelope.ground.method {
                    GroundMethod::Iso13370 => Under::Ground { dimension_m, depth_m: (-plan.floor_m[i]).max(0.0) },
                    GroundMethod::PerimeterFactor => Under::Edge { u: reading.edge_u[i] },
                    GroundMethod::GroundTemperature => Under::KnownGround,
                },
                _ => Under::Air,
            };
            Below { temperature_c, under }
        })
        .collect()
}
