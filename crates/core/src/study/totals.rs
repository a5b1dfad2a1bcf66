//! Sums over the job.

use super::room::RoomDesign;
use crate::job::{Job, Room};
use crate::layout::Layout;
use crate::layout::rules::buildability::ideal_of;
use crate::loops::report::LoopDesign;
use crate::water::circuit::Water;
use crate::water::loops::mixed_return;
use serde::{Deserialize, Serialize};

/// Sums.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Totals {
    /// Need of all rooms, W.
    pub heat_loss_w: f64,
    /// What heated floors lose downward and fields backward, without what comes to heated rooms on the other side, W.
    pub down_w: f64,
    /// Heat that electric heaters give beside the tubes, W.
    #[serde(default)]
    pub electric_w: f64,
    /// Heat loss of the building and downward losses, without what is electric: what the heat source has to give, W.
    pub source_w: f64,
    /// Output of the existing heat source by its rating plate (its input where that is all there is) over `source_w`.
    pub old_source_ratio: Option<f64>,
    /// The house rules' rules of thumb.
    pub flat_rates: Vec<FlatRateHeat>,
    /// What the source has to give to the loops, W.
    pub loops_w: f64,
    /// Supply temperature of the warmest circuit, set by its governing room, °C.
    pub supply_c: Option<f64>,
    /// Mixed return, °C.
    pub return_c: Option<f64>,
    /// The room that sets the supply temperature.
    pub hardest_room_id: Option<String>,
    /// Flow of all loops, L/min.
    pub flow_l_min: f64,
    /// Tube laid, m.
    pub tube_m: f64,
    /// Quarter turns that ideal serpentines on the same floors would take, with four for each loop's way there and back.
    pub ideal_turns: f64,
}

/// Heat by a rule of thumb, beside the calculated figure.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FlatRateHeat {
    /// Name of the rate.
    pub name: String,
    /// Heat per floor area, W/m².
    pub w_m2: f64,
    /// Over all heated rooms, W.
    pub heat_w: f64,
    /// Over the calculated heat loss; 0 where there is none.
    pub ratio: f64,
}

pub(super) fn totals(
    job: &Job,
    layout: &Layout,
    building_w: f64,
    rooms: &[RoomDesign],
    loops: &[LoopDesign],
    water: &Water,
) -> Totals {
    let heat_loss_w: f64 = rooms.iter().map(|r| r.heat_loss_w).sum();
    let fields = || rooms.iter().flat_map(|r| &r.fields);
    let passed_on: f64 = rooms.iter().map(|r| r.neighbour_heat_w).sum();
    let down_w = water.down.iter().copied().chain(fields().map(|f| f.back_w)).sum::<f64>() - passed_on;
    let electric = |(room, d): (&Room, &RoomDesign)| room.electric_w().min(d.heat_loss_w.max(0.0));
    let electric_w: f64 = job.rooms.iter().zip(rooms).map(electric).sum();
    let source_w = (building_w + down_w - electric_w).max(0.0);
    let over = |w: f64| if w > 0.0 { w } else { f64::INFINITY };
    let old = job.old_source.as_ref();
    let old_output = old.and_then(|o| o.output_w.or(o.input_w)).filter(|w| *w > 0.0 && source_w > 0.0);
    Totals {
        heat_loss_w,
        down_w,
        electric_w,
        source_w,
        old_source_ratio: old_output.map(|w| w / source_w),
        flat_rates: job
            .rules
            .flat_rates
            .iter()
            .enumerate()
            .map(|(k, rate)| {
                let heat_w = rooms.iter().map(|r| r.flat_rates_w[k]).sum();
                FlatRateHeat { name: rate.name.clone(), w_m2: rate.w_m2, heat_w, ratio: heat_w / over(heat_loss_w) }
            })
            .collect(),
        loops_w: loops
            .iter()
            .map(|l| l.output_up_w + l.output_down_w)
            .chain(fields().map(|f| f.heat_w + f.back_w))
            .sum(),
        supply_c: water.warmest().supply_c,
        return_c: mixed_return(loops, fields()),
        ideal_turns: ideal_of(job, &layout.loops),
        hardest_room_id: water.warmest().governing.map(|r| job.rooms[r].id.clone()),
        flow_l_min: loops.iter().map(|l| l.flow_l_min).chain(fields().map(|f| f.flow_l_min)).sum(),
        tube_m: loops.iter().map(|l| l.length_m).chain(fields().map(|f| f.tube_m)).sum(),
    }
}
