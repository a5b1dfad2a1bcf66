//! Whether the source fits: its output against the load, its lowest against the smallest zone, its flow; and the expansion
//! vessel.
//!
//! ```
//! use fuoco_core::plant::size::cycles;
//! // 3 kW at the least against a zone of 1 kW, 20 L of water, 6 K: on for 252 s and off for 504 s
//! let c = cycles(3000.0, 1000.0, 20.0, 6.0).unwrap();
//! assert!((c.on_s - 251.2).abs() < 2.0 && (c.per_h - 4.77).abs() < 0.05);
//! // a zone that takes it all keeps it running
//! assert!(cycles(3000.0, 3000.0, 20.0, 6.0).is_none());
//! ```

use super::emitters;
use super::needs::{Consumer, Who};
use super::part::{Arrangement, HeatSource, Plant, Takes};
use super::piping::source_round_pa;
use super::source::source_at;
use super::state::PlantState;
use crate::flow::GRAVITY;
use crate::fluid::{self, Properties};
use crate::job::{EmitterKind, Job};
use crate::study::solved::Solved;
use crate::water::pumps::choose;
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Heat of a litre of water per kelvin, J.
const J_PER_L_K: f64 = 4186.0;
/// A burner should run on for so long, s.
pub const RUN_S: f64 = 600.0;
/// A zone in mild weather wants this share of its design day's heat.
const MILD: f64 = 0.5;
/// Water in radiators per watt of rating at 50 K, L/W; in finned tube per metre, L.
const RADIATOR_L_W: f64 = 0.010;
const FIN_L_M: f64 = 0.35;
/// Water is filled in at that temperature, °C.
const FILL_C: f64 = 10.0;
/// Pressure at the top of a filled plant, Pa over the air's.
pub(crate) const TOP_PA: f64 = 30_000.0;
/// The relief valve keeps so far from its set pressure, Pa, or a tenth of it.
const RELIEF_MARGIN_PA: f64 = 50_000.0;
/// Water kept in the vessel for what is lost over the years: share of the content, and at least, L.
const RESERVE: f64 = 0.005;
const RESERVE_L: f64 = 3.0;
/// A vessel that takes less of its volume is none.
const LEAST_ACCEPTANCE: f64 = 0.02;
/// Vessels as they are sold, L.
const VESSELS_L: [f64; 14] =
    [8.0, 12.0, 18.0, 25.0, 35.0, 50.0, 80.0, 100.0, 140.0, 200.0, 300.0, 500.0, 800.0, 1000.0];
/// Height of a storey where nothing else is known, m.
const STOREY_M: f64 = 2.5;

/// How the source fits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SourceSize {
    /// Heat loss of the building and downward losses, without what is electric, W.
    pub building_w: f64,
    /// Typed users beside rooms, W.
    pub users_w: f64,
    /// Domestic hot water, W: by priority, not added.
    pub tank_w: f64,
    /// What the source has to give on the design day, W: building and users, or the tank where that wants more.
    pub needs_w: f64,
    /// What it can give then, W.
    pub most_w: f64,
    /// The one over the other.
    pub ratio: f64,
    /// All radiators, baseboards and coils together with its hottest water, W; 0 where none is rated.
    pub emitters_w: f64,
    /// Its lowest output, W.
    pub least_w: f64,
    /// The room that takes least.
    pub smallest_room_id: Option<String>,
    /// What that takes in mild weather, W.
    pub smallest_w: f64,
    /// Its burner then; none where it runs on.
    pub cycles: Option<Cycles>,
    /// Water that is warmed with it then, L.
    pub warmed_l: f64,
    /// Buffer that lets it run for ten minutes, L; 0 where none is needed.
    pub buffer_l: f64,
    /// Flow at which it gives its rated output at its largest rise, L/min.
    pub needs_flow_l_min: f64,
    /// Flow that its pump pushes through it, L/min.
    pub has_flow_l_min: f64,
    /// Time to heat the tank of hot water from 10 °C, s.
    pub tank_s: Option<f64>,
}

/// How often a burner goes on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cycles {
    /// s
    pub on_s: f64,
    /// s
    pub off_s: f64,
    /// Times an hour.
    pub per_h: f64,
}

/// A burner of a lowest output (W) on a smaller load (W, above 0) with that content (L) between on and off (K).
pub fn cycles(least_w: f64, load_w: f64, content_l: f64, differential_k: f64) -> Option<Cycles> {
    if load_w >= least_w || load_w <= 0.0 {
        return None;
    }
    let stored = content_l * J_PER_L_K * differential_k;
    let (on_s, off_s) = (stored / (least_w - load_w), stored / load_w);
    Some(Cycles { on_s, off_s, per_h: 3600.0 / (on_s + off_s) })
}

/// The expansion vessel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct VesselSize {
    /// Water in all of it, L.
    pub content_l: f64,
    /// Of that in tubes, L.
    pub tubes_l: f64,
    /// By which it grows from filling to the hottest, L.
    pub expands_l: f64,
    /// Height of water over the vessel, m.
    pub static_m: f64,
    /// Pressure to which it is filled cold, Pa over the air's.
    pub fill_pa: f64,
    /// Pressure when hottest, Pa over the air's.
    pub end_pa: f64,
    /// Air pressure there, Pa.
    pub air_pa: f64,
    /// Share of the vessel that takes water.
    pub acceptance: f64,
    /// Its least volume, L; none where the relief valve opens before.
    pub least_l: Option<f64>,
    /// The next one as it is sold, L.
    pub chosen_l: Option<f64>,
}

fn pipe_l(length_m: f64, bore_m: f64) -> f64 {
    length_m * PI / 4.0 * bore_m * bore_m * 1000.0
}

/// Water in a circuit's tubes or emitters and its mains, L.
fn circuit_l(study: &Solved, c: &Consumer, water: &Properties) -> f64 {
    let mains = pipe_l(2.0 * c.feed.mains_m, crate::water::pipework::mains_bore(&c.feed, c.flow_l_min, water));
    mains
        + match c.who {
            Who::Floors(i) => {
                let ids = &study.circuits[i].manifold_ids;
                let own = study.loops.iter().filter(|l| ids.contains(&l.manifold_id));
                own.filter_map(|l| Some(pipe_l(l.length_m, study.job.tube(&l.tube_id)?.bore_m()))).sum()
            }
            Who::User(u) => match &u.takes {
                Takes::Emitters { emitter_ids, .. } => emitters_l(study, emitter_ids),
                _ => 2.0,
            },
        }
}

fn emitters_l(study: &Solved, ids: &[String]) -> f64 {
    let all = study.job.rooms.iter().flat_map(|r| &r.emitters).filter(|e| ids.contains(&e.id));
    let of = |e: &crate::job::Emitter| match e.kind {
        EmitterKind::Baseboard | EmitterKind::Convector => FIN_L_M * e.length_m,
        EmitterKind::FanCoil => 1.0,
        _ => emitters::rating(e).map_or(0.0, |r| RADIATOR_L_W * r.output_w(50.0)),
    };
    all.map(of).sum()
}

pub(crate) fn source_size(
    study: &Solved,
    plant: &Plant,
    consumers: &[Consumer],
    state: Option<&PlantState>,
    water: &Properties,
) -> SourceSize {
    let source = &plant.source;
    let typed = |c: &&Consumer| matches!(c.who, Who::User(u) if matches!(u.takes, Takes::Typed { .. }));
    let users_w: f64 = consumers.iter().filter(typed).map(|c| c.design_w).sum();
    let tank_w = consumers.iter().filter(|c| c.first).map(|c| c.design_w).fold(0.0, f64::max);
    let building_w = study.totals.source_w;
    let needs_w = (building_w + users_w).max(tank_w.min(source.most_w));
    let outdoor = study.job.site.outdoor_c;
    let leaves = state.and_then(|s| s.sources.first()).map_or(source.most_c, |s| s.wanted_c);
    let second = plant.second.as_ref().filter(|_| plant.arrangement == Arrangement::TwoSources);
    let gives = |s: &HeatSource| source_at(s, outdoor, leaves).0;
    let most_w = gives(source) + second.map_or(0.0, gives);
    let heated = study.rooms.iter().filter(|d| d.heated && d.heat_loss_w > 1.0 && d.heatable_area_m2 > 0.5);
    let smallest = heated.min_by(|a, b| a.heat_loss_w.total_cmp(&b.heat_loss_w));
    let smallest_w = smallest.map_or(0.0, |d| MILD * d.heat_loss_w);
    // the zone's own circuit is warmed with the source; of its tubes about its own share
    let own = smallest.and_then(|d| {
        let of = |c: &&Consumer| match c.who {
            Who::Floors(i) => study.circuits[i].room_ids.contains(&d.id),
            Who::User(_) => false,
        };
        let c = consumers.iter().find(of)?;
        Some(circuit_l(study, c, water) * (d.heat_loss_w / c.design_w.max(1.0)).min(1.0))
    });
    let warmed_l = source.content_l + plant.buffer_l + own.unwrap_or(1.0);
    let cycles = cycles(source.least_w, smallest_w, warmed_l, source.differential_k);
    let short = cycles.filter(|c| c.on_s < RUN_S);
    let wished = RUN_S * (source.least_w - smallest_w) / (J_PER_L_K * source.differential_k);
    let tank = plant.users.iter().find_map(|u| match &u.takes {
        Takes::Tank { volume_l, store_c, coil_w, .. } => {
            Some(volume_l * J_PER_L_K * (store_c - FILL_C).max(0.0) / coil_w.min(source.most_w))
        }
        _ => None,
    });
    let per = crate::water::trial::per_l_min_k(water);
    SourceSize {
        building_w,
        users_w,
        tank_w,
        needs_w,
        most_w,
        ratio: if needs_w > 0.0 { most_w / needs_w } else { 0.0 },
        emitters_w: emitters_can_w(study, source.most_c - 5.0),
        least_w: source.least_w,
        smallest_room_id: smallest.map(|d| d.id.clone()),
        smallest_w,
        cycles,
        warmed_l,
        buffer_l: if short.is_some() { plant.buffer_l + (wished - warmed_l).max(0.0) } else { 0.0 },
        needs_flow_l_min: source.most_w / (per * source.rise_k),
        has_flow_l_min: own_flow(&study.job, plant, source, consumers.len(), state, water),
        tank_s: tank,
    }
}

/// What a source's pump pushes through it at full speed, L/min: where its curve meets what source and primary piping take.
/// Without a pump of its own, what the circuits' pumps push.
fn own_flow(
    job: &Job,
    plant: &Plant,
    source: &HeatSource,
    pairs: usize,
    state: Option<&PlantState>,
    water: &Properties,
) -> f64 {
    let now = state.and_then(|s| s.sources.first());
    if plant.arrangement == Arrangement::Direct {
        return now.map_or(0.0, |s| s.flow_l_min);
    }
    let Some(point) = now.and_then(|s| s.pump.as_ref()) else { return 0.0 };
    let pump = choose(job, &source.pump, point.design_flow_l_min, point.design_head_pa / (water.density * GRAVITY));
    let taken = |q: f64| source_round_pa(plant, source, pairs, q, water);
    let (mut low, mut high) = (0.0, pump.curve.last().map_or(0.0, |p| p.flow_l_min));
    for _ in 0..50 {
        let middle = f64::midpoint(low, high);
        if pump.head_m(middle) * water.density * GRAVITY > taken(middle) { low = middle } else { high = middle }
    }
    low
}

/// What the emitters of a job can give together with water at a mean temperature, W.
pub(crate) fn emitters_can_w(study: &Solved, mean_c: f64) -> f64 {
    let of = |room: &crate::job::Room| {
        let ratings = room.emitters.iter().filter_map(emitters::rating);
        ratings.map(|r| r.output_w(mean_c - room.room_c)).sum::<f64>()
    };
    study.job.rooms.iter().map(of).sum()
}

/// Pressure of the air at an altitude, Pa (the standard atmosphere).
pub fn air_pa(altitude_m: f64) -> f64 {
    101_325.0 * (1.0 - 2.255_77e-5 * altitude_m).max(0.1).powf(5.255_88)
}

pub(crate) fn vessel_size(study: &Solved, plant: &Plant, consumers: &[Consumer], water: &Properties) -> VesselSize {
    let job = &study.job;
    let tubes_l: f64 =
        study.loops.iter().filter_map(|l| Some(pipe_l(l.length_m, job.tube(&l.tube_id)?.bore_m()))).sum();
    let circuits: f64 = consumers.iter().map(|c| circuit_l(study, c, water)).sum();
    let second = plant.second.as_ref().filter(|_| plant.arrangement == Arrangement::TwoSources);
    let sources = plant.source.content_l + second.map_or(0.0, |s| s.content_l);
    let content_l = circuits + sources + plant.buffer_l + pipe_l(plant.primary_m, plant.primary_bore_m);
    let density = |c: f64| fluid::properties(&job.fluid, c).map(|p| p.density);
    let (cold, hot) = (density(FILL_C), density(plant.source.most_c.min(90.0)));
    let grows = cold.and_then(|c| Ok((c, hot?))).map_or(0.04, |(c, h)| c / h - 1.0);
    let expands_l = content_l * grows;
    let floors = || job.levels.iter().map(|l| l.floor_m);
    let highest = floors().fold(f64::MIN, f64::max) + STOREY_M;
    let static_m = plant.static_m.unwrap_or((highest - floors().fold(f64::MAX, f64::min)).max(STOREY_M));
    let fill_pa = static_m * 1000.0 * GRAVITY + TOP_PA;
    let end_pa = plant.relief_pa - RELIEF_MARGIN_PA.max(0.1 * plant.relief_pa);
    let air_pa = air_pa(job.site.altitude_m);
    let Fit { acceptance, least_l, chosen_l } = fit(content_l, expands_l, [fill_pa, end_pa, air_pa]);
    VesselSize { content_l, tubes_l, expands_l, static_m, fill_pa, end_pa, air_pa, acceptance, least_l, chosen_l }
}

struct Fit {
    acceptance: f64,
    least_l: Option<f64>,
    chosen_l: Option<f64>,
}

/// The vessel for a content that grows, L, between pressures cold and hottest over the air's, and the air's, Pa.
fn fit(content_l: f64, expands_l: f64, [fill_pa, end_pa, air_pa]: [f64; 3]) -> Fit {
    let acceptance = ((end_pa - fill_pa) / (end_pa + air_pa)).max(0.0);
    let least_l =
        (acceptance > LEAST_ACCEPTANCE).then(|| (expands_l + (RESERVE * content_l).max(RESERVE_L)) / acceptance);
    let chosen_l = least_l.and_then(|l| VESSELS_L.into_iter().find(|v| *v >= l));
    Fit { acceptance, least_l, chosen_l }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn air_is_thinner_on_mountains() {
        // the standard atmosphere: 89 875 Pa at 1000 m
        assert!((air_pa(1000.0) - 89_875.0).abs() < 20.0, "{}", air_pa(1000.0));
        assert!((air_pa(0.0) - 101_325.0).abs() < 1e-6);
    }

    #[test]
    fn more_water_makes_longer_runs() {
        let run = |l| cycles(4000.0, 800.0, l, 8.0).expect("cycles").on_s;
        assert!((run(200.0) / run(20.0) - 10.0).abs() < 1e-9);
        assert!(cycles(4000.0, 0.0, 20.0, 8.0).is_none(), "without a load it goes on never");
    }

    /// 194 L that grow by 5.57 L, filled to 0.849 bar, hottest 2.5 bar, air 0.939 bar: (2.5 − 0.849)/3.439 = 0.480, 8.57/0.480 =
    /// 17.9 L, as sold 18 L.
    #[test]
    fn a_vessel_by_hand() {
        let v = fit(194.0, 5.57, [84_900.0, 250_000.0, 93_900.0]);
        assert!((v.acceptance - 0.480).abs() < 1e-3 && (v.least_l.expect("fits") - 17.85).abs() < 0.02);
        assert_eq!(v.chosen_l, Some(18.0));
        // the reserve grows with the content
        assert!(fit(2000.0, 57.0, [84_900.0, 250_000.0, 93_900.0]).least_l.expect("fits") > 139.0);
        // no room between filling and the relief valve; more than is sold
        assert_eq!(fit(194.0, 5.57, [250_000.0, 250_000.0, 93_900.0]).least_l, None);
        assert_eq!(fit(80_000.0, 2_300.0, [84_900.0, 250_000.0, 93_900.0]).chosen_l, None);
    }

    #[test]
    fn a_pipe_holds_its_bore() {
        // 100 m of 16 × 2: 11.3 L
        assert!((pipe_l(100.0, 0.012) - 11.31).abs() < 0.01);
    }
}
