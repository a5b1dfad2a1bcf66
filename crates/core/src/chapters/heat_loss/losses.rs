//! Temperatures put to the conductances: unheated rooms settle by their own balance, every conductance becomes a part of a
//! room's loss, and the building its sum.
//!
//! ```
//! use fuoco_core::heat_loss::losses::heat_loss;
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of};
//! let small = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! let large = job_of(vec![box_room("a", 0.0, 0.0, 10.0, 4.0)]);
//! let watts = |job| heat_loss(job, &Plan::of(job)).building.heat_w;
//! // twice the floor, but less than twice the walls
//! assert!(watts(&large) > 1.5 * watts(&small) && watts(&large) < 2.0 * watts(&small));
//! ```

use super::below::{self, Below};
use super::report::{BuildingLoss, Cause, CauseHeat, LossPart, OtherSide, RoomLoss};
use super::savings;
use super::surfaces::{self, Conductance, Other, Reading};
use crate::job::Job;
use crate::plan::Plan;
use serde::{Deserialize, Serialize};

/// Losses of all rooms and of the building.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeatLoss {
    /// Every room, in the job's order.
    pub rooms: Vec<RoomLoss>,
    /// What lies below each room's heated floor, in the job's order.
    #[serde(skip)]
    pub below: Vec<Below>,
    /// Mean temperature above each room's ceiling, °C, in the job's order.
    #[serde(skip)]
    pub above_c: Vec<f64>,
    /// The building.
    pub building: BuildingLoss,
}

/// Heat loss of every room and of the building.
///
/// The job must have passed [`Job::check`]. A room whose outline crosses itself gets its figures from the outline as
/// drawn; the design reports it.
pub fn heat_loss(job: &Job, plan: &Plan) -> HeatLoss {
    let reading = surfaces::read(job, plan);
    let temperatures = temperatures(job, &reading, job.site.outdoor_c);
    let good = savings::Good::of(job, reading.ground_dimension_m);
    let rooms: Vec<RoomLoss> =
        (0..job.rooms.len()).map(|i| room_loss(job, &reading, &temperatures, &good, i)).collect();
    let below = below::below(job, plan, &reading, &temperatures);
    let above_c = below::above(job, plan, &temperatures);
    let building = building(job, &reading, &rooms);
    HeatLoss { rooms, below, above_c, building }
}

fn other_temperature(job: &Job, other: &Other, own_c: f64, outdoor_c: f64, temperatures: &[f64]) -> f64 {
    match *other {
        Other::Outdoors | Other::CrawlSpace => outdoor_c,
        Other::Mean => job.site.annual_mean(),
        Other::Ground => job.site.ground_c,
        Other::Fixed(t) => t,
        Other::Room(j) => temperatures[j],
        Other::Same => own_c,
        Other::Reduced(b) => own_c - b * (own_c - outdoor_c),
    }
}

/// Temperature of every room at that outdoor temperature, °C: the wanted one, the typed one, or for unheated rooms
/// the one at which what comes in goes out.
fn temperatures(job: &Job, reading: &Reading, outdoor_c: f64) -> Vec<f64> {
    let mut out: Vec<f64> = job
        .rooms
        .iter()
        .map(|r| match &r.unheated {
            None => r.room_c,
            Some(u) => u.temperature_c.unwrap_or(outdoor_c),
        })
        .collect();
    let floating: Vec<usize> =
        (0..out.len()).filter(|&i| job.rooms[i].unheated.is_some_and(|u| u.temperature_c.is_none())).collect();
    // Gauss–Seidel: every row is a weighted mean, so it converges; a chain of stores settles in a few dozen sweeps
    for _ in 0..10_000 {
        let mut largest = 0.0_f64;
        for &i in &floating {
            let (mut sum, mut weight) = (0.0, 0.0);
            for c in &reading.rooms[i].conductances {
                let w = c.amount * c.per_kelvin;
                // a share b of the way to outdoors is a conductance of b times that size to outdoors
                let (w, t) = match c.other {
                    Other::Reduced(b) => (w * b, outdoor_c),
                    Other::Same => continue,
                    ref other => (w, other_temperature(job, other, out[i], outdoor_c, &out)),
                };
                sum += w * t;
                weight += w;
            }
            let next = if weight > 0.0 { sum / weight } else { outdoor_c };
            largest = largest.max((next - out[i]).abs());
            out[i] = next;
        }
        if largest < 1e-10 {
            break;
        }
    }
    out
}

fn part(job: &Job, c: &Conductance, own_c: f64, temperatures: &[f64]) -> LossPart {
    let other_c = other_temperature(job, &c.other, own_c, job.site.outdoor_c, temperatures);
    let difference_k = own_c - other_c;
    LossPart {
        cause: c.cause,
        measure: c.measure,
        edge: c.edge,
        subject: c.subject.clone(),
        construction_id: c.construction_id.clone(),
        other: match c.other {
            Other::Outdoors => OtherSide::Outdoors,
            Other::Mean | Other::Ground => OtherSide::Ground,
            Other::Fixed(_) | Other::Reduced(_) => OtherSide::Unheated,
            Other::Room(j) if !job.rooms[j].is_heated() => OtherSide::Unheated,
            Other::Room(_) => OtherSide::Room,
            Other::CrawlSpace => OtherSide::CrawlSpace,
            Other::Same => OtherSide::Same,
        },
        amount: c.amount,
        per_kelvin: c.per_kelvin,
        other_c,
        difference_k,
        heat_w: c.amount * c.per_kelvin * difference_k,
    }
}

fn room_loss(job: &Job, reading: &Reading, temperatures: &[f64], good: &savings::Good, index: usize) -> RoomLoss {
    let (room, read) = (&job.rooms[index], &reading.rooms[index]);
    let own_c = temperatures[index];
    let parts: Vec<LossPart> = read.conductances.iter().map(|c| part(job, c, own_c, temperatures)).collect();
    let heated = room.is_heated();
    RoomLoss {
        room_id: room.id.clone(),
        heated,
        temperature_c: own_c,
        volume_m3: read.volume_m3,
        air_changes_per_h: read.air_changes_per_h,
        air_by: read.air_by,
        heat_w: if heated { parts.iter().map(|p| p.heat_w).sum() } else { 0.0 },
        savings: if heated { good.savings(job, &parts, read.volume_m3) } else { vec![] },
        parts,
    }
}

fn building(job: &Job, reading: &Reading, rooms: &[RoomLoss]) -> BuildingLoss {
    let heated = || (0..job.rooms.len()).filter(|&i| job.rooms[i].is_heated());
    let windward = |outdoor_c: f64| -> f64 {
        heated().map(|i| reading.rooms[i].windward_w_k * (job.rooms[i].room_c - outdoor_c)).sum()
    };
    let windward_w = windward(job.site.outdoor_c);
    let heat_w = rooms.iter().map(|r| r.heat_w).sum::<f64>() - windward_w;
    let mut causes: Vec<CauseHeat> = Vec::new();
    for p in rooms.iter().filter(|r| r.heated).flat_map(|r| &r.parts) {
        match causes.iter_mut().find(|c| c.cause == p.cause) {
            Some(c) => c.heat_w += p.heat_w,
            None => causes.push(CauseHeat { cause: p.cause, heat_w: p.heat_w }),
        }
    }
    causes.iter_mut().filter(|c| c.cause == Cause::Air).for_each(|c| c.heat_w -= windward_w);
    causes.sort_by_key(|c| c.cause);
    // the load is a straight line in the outdoor temperature: two points give it
    let warmer = job.site.outdoor_c + 10.0;
    let at_warmer = temperatures(job, reading, warmer);
    let heat_warmer: f64 = heated()
        .flat_map(|i| reading.rooms[i].conductances.iter().map(move |c| (i, c)))
        .map(|(i, c)| {
            let own = at_warmer[i];
            c.amount * c.per_kelvin * (own - other_temperature(job, &c.other, own, warmer, &at_warmer))
        })
        .sum::<f64>()
        - windward(warmer);
    let w_per_k = (heat_w - heat_warmer) / 10.0;
    BuildingLoss {
        heat_w,
        windward_w,
        causes,
        w_per_k,
        zero_load_c: (w_per_k > 1e-9).then(|| job.site.outdoor_c + heat_w / w_per_k),
        ground_dimension_m: reading.ground_dimension_m,
        ground_u: reading.ground_u,
        savings: savings::sum(rooms),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, job_of, window};

    fn lost(job: &Job) -> HeatLoss {
        heat_loss(job, &Plan::of(job))
    }

    /// A box 5 × 4 × 2.5 m with one window 2 × 1.2 m at −10 °C, by hand:
    /// walls 45 m² − 2.4 = 42.6 m² · (0.35 + 0.05) · 30 K = 511.2 W; glass 2.4 · (1.6 + 0.05) · 30 = 118.8 W;
    /// roof 20 · (0.22 + 0.05) · 30 = 162 W; air 50 m³ · 0.5/h · 1.20411 · 1006 / 3600 · 30 = 252.36 W.
    #[test]
    fn a_box_with_one_window_by_hand() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.openings.push(window("w", 0, 1.0, 2.0, 1.2));
        let mut job = job_of(vec![room]);
        job.site.outdoor_c = -10.0;
        let loss = &heat_loss(&job, &Plan::of(&job)).rooms[0];
        let by = |c: Cause| loss.parts.iter().filter(|p| p.cause == c).map(|p| p.heat_w).sum::<f64>();
        assert!((by(Cause::OutsideWall) - 511.2).abs() < 1e-9);
        assert!((by(Cause::Window) - 118.8).abs() < 1e-9);
        assert!((by(Cause::Roof) - 162.0).abs() < 1e-9);
        // the hand figure of the density has six digits
        assert!((by(Cause::Air) - 252.36).abs() < 0.02, "{}", by(Cause::Air));
        assert!((loss.heat_w - loss.parts.iter().map(|p| p.heat_w).sum::<f64>()).abs() < 1e-9);
    }

    #[test]
    fn heat_through_a_partition_leaves_one_room_and_enters_the_other() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.5, 9.0, 4.0)]);
        job.rooms[0].room_c = 24.0;
        let losses = heat_loss(&job, &Plan::of(&job)).rooms;
        let through =
            |i: usize| losses[i].parts.iter().filter(|p| p.cause == Cause::Partition).map(|p| p.heat_w).sum::<f64>();
        assert!(through(0) > 0.0);
        assert!((through(0) + through(1)).abs() < 1e-9);
    }

    #[test]
    fn a_window_wider_than_its_wall_takes_no_more_than_the_wall() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.openings.push(window("w", 0, 1.0, 40.0, 9.0));
        let loss = &lost(&job_of(vec![room])).rooms[0];
        let glass = loss.parts.iter().find(|p| p.cause == Cause::Window).expect("glass");
        assert!((glass.amount - 4.0 * 2.5).abs() < 1e-9);
        assert!(loss.parts.iter().all(|p| p.amount >= 0.0));
    }

    #[test]
    fn an_unheated_floor_is_a_need_and_a_heated_one_is_not() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        let with = lost(&job_of(vec![room.clone()])).rooms[0].heat_w;
        room.floor = None;
        let without = lost(&job_of(vec![room])).rooms[0].heat_w;
        // 20 m² · 0.3 W/m²K · (20 − 9) K
        assert!((without - with - 66.0).abs() < 1e-9);
    }
}
