//! One room with what every chapter says of it.

use crate::floor::heating::{self, Heating};
use crate::floor::remedy::Remedy;
use crate::floor::report::{FieldDesign, FloorDesign, PatchDesign};
use crate::geometry::Point;
use crate::heat_loss::air::AirBy;
use crate::heat_loss::report::{LossPart, RoomLoss, Saving};
use crate::job::{Job, Room};
use crate::loops::report::{ColdSpot, WarmSpot};
use crate::plan::Plan;
use crate::plan::areas;
use crate::water::circuit::{RoomWater, Water};
use serde::{Deserialize, Serialize};

/// One room designed: heat loss, floor, fields, water, loops.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomDesign {
    /// The room.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Within the outline, m².
    pub area_m2: f64,
    /// Without the keep-outs, m².
    pub heatable_area_m2: f64,
    /// Whether it is heated at all.
    pub heated: bool,
    /// Design temperature, or that at which an unheated room settles on the design day, °C.
    pub temperature_c: f64,
    /// Volume of its air, m³.
    pub volume_m3: f64,
    /// Air changed with the outside by leaks and windows, per hour.
    pub air_changes_per_h: f64,
    /// Which figure that comes from.
    pub air_by: AirBy,
    /// Need on the design day, W; 0 for an unheated room.
    pub heat_loss_w: f64,
    /// Its parts.
    pub loss_parts: Vec<LossPart>,
    /// What would help most.
    pub savings: Vec<Saving>,
    /// Heat by each of the house rules' rules of thumb, W, in their order.
    pub flat_rates_w: Vec<f64>,
    /// Need over the heatable area, W/m².
    pub flux_needed_w_m2: f64,
    /// What the floor gives at the design's water, leaders that cross the room included, W/m².
    pub flux_given_w_m2: f64,
    /// Largest flux within the surface limits, W/m².
    pub flux_limit_w_m2: Option<f64>,
    /// Mean floor surface, °C.
    pub surface_mean_c: Option<f64>,
    /// Warmest line of the floor, °C.
    pub surface_max_c: Option<f64>,
    /// Coolest line of the floor, °C.
    pub surface_min_c: Option<f64>,
    /// Highest allowed mean surface, °C.
    pub surface_limit_c: Option<f64>,
    /// Warmest minus coolest line of the floor's surface within one of its zones, K.
    pub striping_k: Option<f64>,
    /// Upward flux per kelvin of mean water excess, edge and core together, W/m²K.
    pub k_up_w_m2k: Option<f64>,
    /// Supply temperature at which the room gets what it needs (or the maximum output of its floor), °C.
    pub supply_needed_c: Option<f64>,
    /// Highest supply temperature of covering and build-up, °C.
    pub supply_limit_c: Option<f64>,
    /// Drop of its water at the job's supply temperature, K.
    pub drop_k: Option<f64>,
    /// Downward loss, W.
    pub down_w: f64,
    /// Heat from leaders of other rooms that cross it, W.
    pub leader_heat_w: f64,
    /// Heat from the undersides of heated floors above it and the backs of its neighbours' fields, W.
    pub neighbour_heat_w: f64,
    /// Heat of its emitters that are counted beside the tubes, W.
    #[serde(default)]
    pub beside_w: f64,
    /// Its loops carry more water than it needs, held open by the house rules' largest drop or least flow.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub held_open: bool,
    /// Share of the heatable floor within reach of tube, 0…1; none without loops.
    pub coverage: Option<f64>,
    /// Its point farthest from any tube, and how far that is.
    pub coldest: Option<ColdSpot>,
    /// Where its floor is warmest because tubes lie close: leaders that meet.
    pub warmest: Option<WarmSpot>,
    /// Tube of its loops' fields over what its spacings ask for.
    pub density: Option<f64>,
    /// Where loops pass the joists of its floor: the middle of each hole, m.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub joist_holes: Vec<Point>,
    /// How many of them lie in the outer quarters of a joist's span.
    #[serde(default)]
    pub joist_holes_near_ends: usize,
    /// Field and perimeter spacing at which tube can lie in its lattice, m; none without one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lattice_spacings_m: Option<[f64; 2]>,
    /// Its heated floor solved.
    pub floor: Option<FloorDesign>,
    /// Its fields in walls and ceiling, in the job's order.
    pub fields: Vec<FieldDesign>,
    /// What floor and fields leave over: to be given by something else, W.
    pub supplement_w: f64,
    /// What would meet the load where its floor does not, calculated.
    pub remedies: Vec<Remedy>,
}

pub(super) fn room_design(job: &Job, plan: &Plan, index: usize, loss: &RoomLoss, water: &Water) -> RoomDesign {
    let (room, heating) = (&job.rooms[index], &water.heating[index]);
    let heatable = plan.heatable_m2[index];
    let area = areas::area(room);
    let w = &water.rooms[index];
    let per_area = |heat: f64| if heatable > 0.0 { heat / heatable } else { 0.0 };
    let mut out = RoomDesign {
        id: room.id.clone(),
        name: room.name.clone(),
        area_m2: area,
        heatable_area_m2: heatable,
        heated: loss.heated,
        temperature_c: loss.temperature_c,
        volume_m3: loss.volume_m3,
        air_changes_per_h: loss.air_changes_per_h,
        air_by: loss.air_by,
        heat_loss_w: loss.heat_w,
        loss_parts: loss.parts.clone(),
        savings: loss.savings.clone(),
        flat_rates_w: job.rules.flat_rates.iter().map(|r| if loss.heated { r.w_m2 * area } else { 0.0 }).collect(),
        flux_needed_w_m2: per_area(loss.heat_w),
        flux_given_w_m2: 0.0,
        flux_limit_w_m2: None,
        surface_mean_c: None,
        surface_max_c: None,
        surface_min_c: None,
        surface_limit_c: None,
        striping_k: None,
        k_up_w_m2k: None,
        supply_needed_c: w.needed,
        supply_limit_c: heating.is_any().then(|| heating.supply_limit_c()),
        drop_k: w.drop_k,
        down_w: 0.0,
        leader_heat_w: w.leader_heat,
        neighbour_heat_w: w.from_neighbours,
        beside_w: w.beside,
        held_open: w.held_open,
        coverage: None,
        coldest: None,
        warmest: None,
        density: None,
        joist_holes: vec![],
        joist_holes_near_ends: 0,
        lattice_spacings_m: lattice_spacings(room),
        floor: None,
        fields: field_designs(job, room, heating, w),
        supplement_w: 0.0,
        remedies: vec![],
    };
    let fields_w: f64 = out.fields.iter().map(|f| f.heat_w).sum();
    let mut given = fields_w + w.credit();
    if let Some(f) = &heating.floor {
        let excess = w.floor_excess_k;
        let flux = f.flux_up(excess);
        given += flux * w.field_area;
        out.flux_given_w_m2 = per_area(flux * w.field_area + w.leader_heat);
        out.flux_limit_w_m2 = Some(f.flux_up(f.excess_limit_k));
        let surface = f.surface(excess);
        // without heat the mean of the film's curve is the room's own, which a cold underside may cool below
        out.surface_mean_c = Some(f.core().surface_mean(flux).clamp(surface.min_c.min(surface.max_c), surface.max_c));
        out.surface_max_c = Some(surface.max_c);
        out.surface_min_c = Some(surface.min_c);
        out.surface_limit_c = Some(f.surface_limit_c);
        out.striping_k = Some(surface.striping_k);
        out.k_up_w_m2k = Some(f.k_up(excess));
        out.down_w = f.flux_down(excess) * w.field_area;
        let core = f.core();
        out.floor = Some(FloorDesign {
            excess_k: excess,
            flux_up_w_m2: flux,
            flux_down_w_m2: f.flux_down(excess),
            underside_c: core.underside(excess),
            below_c: core.duty().below_c,
            below_m2k_w: core.duty().below_m2k_w,
            water_film_w_m2k: core.duty().water_film_w_m2k,
            edge_share: f.edge_share,
            height_m: f.height_m,
            weight_kg_m2: f.weight_kg_m2,
            heat_content_j_m2k: core.heat_content_j_m2k,
            time_constant_s: core.time_constant_s,
            grid_error: core.grid_error,
            under_m2k_w: f.under_m2k_w,
            patches: patch_designs(room, f, excess),
        });
    }
    if heating.is_any() {
        let short = loss.heat_w - given;
        out.supplement_w = if short > 0.002 * loss.heat_w.max(1.0) { short } else { 0.0 };
    }
    out
}

fn lattice_spacings(room: &Room) -> Option<[f64; 2]> {
    let floor = room.floor.as_ref()?;
    let lattice = floor.lattice.as_ref()?;
    let field = lattice.spacing_m(floor.spacing_core_m);
    Some([field, lattice.spacing_m(floor.spacing_edge_m).min(field)])
}

fn patch_designs(room: &Room, state: &heating::FloorState, excess: f64) -> Vec<PatchDesign> {
    let patches = room.heated_floor().map_or(&[][..], |f| &f.patches);
    patches
        .iter()
        .zip(state.patches())
        .map(|(patch, zone)| {
            let flux = if excess > 0.0 { zone.curve.flux_up(excess) } else { 0.0 };
            let surface_mean_c = zone.curve.surface_mean(flux);
            let covering_c = surface_mean_c + flux.max(0.0) * patch.rug_m2k_w.unwrap_or(0.0);
            PatchDesign { flux_w_m2: flux, surface_mean_c, covering_c }
        })
        .collect()
}

fn field_designs(job: &Job, room: &Room, heating: &Heating, water: &RoomWater) -> Vec<FieldDesign> {
    room.heated_fields()
        .iter()
        .zip(&heating.fields)
        .zip(&water.fields)
        .map(|((field, state), w)| {
            let excess = w.excess_k;
            let flux = heating::field_flux(state, excess);
            let (surface_max_c, _) = state.curve.surface_range(excess);
            FieldDesign {
                id: field.id.clone(),
                area_m2: state.area_m2,
                heat_w: flux * state.area_m2,
                back_w: w.back_w,
                flux_w_m2: flux,
                surface_mean_c: state.curve.surface_mean(flux),
                surface_max_c,
                surface_limit_c: state.surface_limit_c,
                supply_limit_c: state.supply_limit_c,
                tube_m: w.tube_m,
                circuits: w.circuits,
                circuit_m: w.circuit_m,
                manifold_id: w.manifold.map(|m| job.manifolds[m].id.clone()),
                drop_k: w.drop_k,
                return_c: (w.flow_l_min > 0.0).then_some(w.return_c),
                flow_l_min: w.flow_l_min,
                velocity_m_s: w.velocity_m_s,
                head_loss_pa: w.head_loss_pa,
                balancing_pa: 0.0,
                valve: None,
            }
        })
        .collect()
}
