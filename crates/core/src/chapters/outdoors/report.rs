//! What the design says of areas outdoors: the storm's load by its parts, what the slab gives to the ground, how the surface is between
//! two tubes, what cold glycol does to the pump, what the house leaves.

use super::load;
use crate::flow;
use crate::fluid;
use crate::job::MeltUse;
use crate::snow::MeltLoad;
use crate::study::solved::Solved;
use serde::{Deserialize, Serialize};

/// Areas outdoors designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OutdoorDesign {
    /// Every area, in the job's order.
    pub areas: Vec<AreaDesign>,
    /// Upward in the storm, W.
    pub melt_w: f64,
    /// To the ground and at the edges, W.
    pub down_w: f64,
    /// The fluid freezes, °C.
    pub freezing_c: f64,
    /// What the source is asked for when melting starts, by circuit.
    pub starts: Vec<ColdStart>,
    /// What the house leaves in the storm's air; none where no house is named.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub house: Option<HouseLeaves>,
}

/// An area designed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AreaDesign {
    /// The area.
    pub id: String,
    /// Its use, as the job says or as usual.
    #[serde(rename = "use")]
    pub usage: MeltUse,
    /// Part of it that has to be free.
    pub free_area_ratio: f64,
    /// Length along the wind, m.
    pub length_m: f64,
    /// What the storm takes, W/m².
    pub load: MeltLoad,
    /// Surface with tube, m².
    pub heated_m2: f64,
    /// What it gets upward, W/m²; 0 without loops.
    pub flux_w_m2: f64,
    /// Mean of its surface in the storm, °C; none without loops.
    pub surface_c: Option<f64>,
    /// Its coolest line, midway between two tubes, °C.
    pub coolest_c: Option<f64>,
    /// Its warmest, °C.
    pub warmest_c: Option<f64>,
    /// To the ground, W/m².
    pub down_w_m2: f64,
}

/// What happens to a circuit's flow with the fluid as cold as the storm.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColdStart {
    /// The circuit; empty where the job names none.
    pub circuit_id: String,
    /// The fluid, °C.
    pub fluid_c: f64,
    /// Pressure drop of the index loop warm, Pa.
    pub warm_pa: f64,
    /// At the same flow with that fluid, Pa.
    pub cold_pa: f64,
    /// Flow that the head for the warm fluid still drives through it, as a share.
    pub flow_share: f64,
}

/// What a house's heat source leaves for melting.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HouseLeaves {
    /// The house takes in the storm's air, W.
    pub house_w: f64,
    /// It leaves, W.
    pub left_w: f64,
    /// That is so much of what melting takes.
    pub share: f64,
}

/// The areas of a job; none where it has a roof.
pub(crate) fn outdoor_design(study: &Solved) -> Option<OutdoorDesign> {
    let job = &study.job;
    let outdoors = job.outdoors.as_ref()?;
    let areas: Vec<AreaDesign> = (0..job.rooms.len()).filter_map(|i| area(study, i)).collect();
    let down_w: f64 = study.rooms.iter().map(|d| d.down_w).sum();
    let takes: f64 = study.circuits.iter().map(|c| c.heat_w).sum();
    let house = outdoors.house.map(|h| {
        let house_w = h.w_per_k * (h.no_heat_above_c - outdoors.storm.air_c).max(0.0);
        let left_w = (h.source_w - house_w).max(0.0);
        HouseLeaves { house_w, left_w, share: if takes > 0.0 { left_w / takes } else { 1.0 } }
    });
    Some(OutdoorDesign {
        melt_w: study.rooms.iter().map(|d| d.flux_given_w_m2 * d.heatable_area_m2).sum(),
        areas,
        down_w,
        freezing_c: fluid::freezing_c(&job.fluid),
        starts: (0..study.circuits.len()).filter_map(|c| cold_start(study, c, outdoors.storm.air_c)).collect(),
        house,
    })
}

fn area(study: &Solved, index: usize) -> Option<AreaDesign> {
    let (job, d) = (&study.job, &study.rooms[index]);
    let duty = load::duty(job, index)?;
    let melt = load::melt_of(job, index);
    let heated = study.water.rooms[index].floor_excess_k > 0.0;
    let of = |c: Option<f64>| c.filter(|_| heated);
    Some(AreaDesign {
        id: job.rooms[index].id.clone(),
        usage: melt.usage,
        free_area_ratio: melt.free_area_ratio,
        length_m: load::length_m(job, index),
        load: duty.load,
        heated_m2: d.heatable_area_m2,
        flux_w_m2: if heated { d.flux_given_w_m2 } else { 0.0 },
        surface_c: of(d.surface_mean_c),
        coolest_c: of(d.surface_min_c),
        warmest_c: of(d.surface_max_c),
        down_w_m2: if d.heatable_area_m2 > 0.0 { d.down_w / d.heatable_area_m2 } else { 0.0 },
    })
}

/// The index loop of a circuit with its fluid that cold. None without flow, or where the fluid has no properties there.
fn cold_start(study: &Solved, circuit: usize, fluid_c: f64) -> Option<ColdStart> {
    let design = &study.circuits[circuit];
    let job = &study.job;
    let index = study
        .loops
        .iter()
        .filter(|l| design.manifold_ids.contains(&l.manifold_id) && l.flow_l_min > 0.0)
        .max_by(|a, b| a.head_loss_pa.total_cmp(&b.head_loss_pa))?;
    let tube = job.tube(&index.tube_id)?;
    let warm = fluid::properties(&job.fluid, f64::midpoint(design.supply_c?, design.return_c?)).ok()?;
    let cold = fluid::properties(&job.fluid, fluid_c.max(fluid::freezing_c(&job.fluid))).ok()?;
    let drop = |share: f64, p: &fluid::Properties| {
        let kg_s = share * index.flow_l_min / 60_000.0 * p.density;
        flow::flow(kg_s, tube.bore_m(), index.length_m, index.quarter_turns, p).head_pa
    };
    let (warm_pa, cold_pa) = (drop(1.0, &warm), drop(1.0, &cold));
    let (mut low, mut high) = (0.0, 1.0);
    for _ in 0..40 {
        let middle = f64::midpoint(low, high);
        if drop(middle, &cold) > warm_pa { high = middle } else { low = middle }
    }
    Some(ColdStart { circuit_id: design.id.clone(), fluid_c, warm_pa, cold_pa, flow_share: low })
}
