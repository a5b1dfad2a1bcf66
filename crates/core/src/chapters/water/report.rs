//! The water's part of the report: every circuit with its supply temperature and what sets it.

use super::circuit::{Water, circuit_of_manifold};
use super::loops::mixed_return;
use crate::job::Job;
use crate::loops::report::{LoopDesign, ManifoldDesign};
use crate::study::room::RoomDesign;
use serde::{Deserialize, Serialize};

/// One circuit designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CircuitDesign {
    /// The circuit; empty where the job names none and all manifolds are on one.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Its manifolds.
    pub manifold_ids: Vec<String>,
    /// The rooms it heats.
    pub room_ids: Vec<String>,
    /// Supply temperature, °C; none where nothing wants heat.
    pub supply_c: Option<f64>,
    /// The room that sets it; none where its valve is set by hand.
    pub governing_room_id: Option<String>,
    /// Mixed return of its loops, °C.
    pub return_c: Option<f64>,
    /// Flow, L/min.
    pub flow_l_min: f64,
    /// Heat it carries into rooms and downward, W.
    pub heat_w: f64,
    /// Pressure drop of its index loop, ports included, Pa.
    pub head_needed_pa: f64,
}

pub(crate) fn circuit_designs(
    job: &Job,
    water: &Water,
    rooms: &[RoomDesign],
    loops: &[LoopDesign],
    manifolds: &[ManifoldDesign],
) -> Vec<CircuitDesign> {
    let of = |c: usize| {
        let named = job.circuits.get(c);
        let on = |manifold_id: &str| circuit_of_manifold(job, manifold_id) == c;
        let own_loops = || loops.iter().filter(|l| on(&l.manifold_id));
        let own_fields = || {
            let heated = rooms.iter().enumerate().filter(|(r, _)| water.of_room[*r] == c);
            heated.flat_map(|(_, d)| &d.fields)
        };
        let own_manifolds = || manifolds.iter().filter(|m| on(&m.id));
        let heated =
            rooms.iter().enumerate().filter(|(r, d)| water.of_room[*r] == c && water.heating[*r].is_any() && d.heated);
        CircuitDesign {
            id: named.map_or(String::new(), |n| n.id.clone()),
            name: named
                .map_or_else(|| if job.outdoors.is_some() { "Slab" } else { "Floors" }.into(), |n| n.name.clone()),
            manifold_ids: own_manifolds().map(|m| m.id.clone()).collect(),
            room_ids: heated.map(|(_, d)| d.id.clone()).collect(),
            supply_c: water.supplies[c].supply_c,
            governing_room_id: water.supplies[c].governing.map(|r| job.rooms[r].id.clone()),
            return_c: mixed_return(own_loops(), own_fields()),
            flow_l_min: own_loops().map(|l| l.flow_l_min).chain(own_fields().map(|f| f.flow_l_min)).sum(),
            heat_w: own_loops()
                .map(|l| l.output_up_w + l.output_down_w)
                .chain(own_fields().map(|f| f.heat_w + f.back_w))
                .sum(),
            head_needed_pa: own_manifolds().map(|m| m.head_needed_pa).fold(0.0, f64::max),
        }
    };
    (0..water.supplies.len()).map(of).collect()
}
