//! What would help most: each part of a room's loss against a good part of its kind.
//!
//! ```
//! use fuoco_core::heat_loss::{losses::heat_loss, savings::Good};
//! use fuoco_core::plan::Plan;
//! use fuoco_core::samples::{box_room, job_of, window};
//! let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
//! room.openings.push(window("w", 0, 1.0, 2.0, 1.5));
//! let job = job_of(vec![room]);
//! let loss = heat_loss(&job, &Plan::of(&job));
//! let savings = Good::of(&job, None).savings(&job, &loss.rooms[0].parts, 50.0);
//! assert!(!savings.is_empty() && savings.iter().all(|s| s.heat_w > 0.0));
//! ```

use super::construction::{self, Direction};
use super::ground;
use super::report::{Cause, LossPart, OtherSide, RoomLoss, Saving};
use crate::job::{Bridges, GroundMethod, Job, Position};
use crate::library;
use crate::units::Quantity;

/// Air change of a tight house with ordinary airing, per hour, and through the leaks of one that is ventilated.
const TIGHT_PER_H: f64 = 0.3;
const TIGHT_VENTILATED_PER_H: f64 = 0.1;
/// Share of heat that a good ventilation gives back.
const GOOD_RECOVERY: f64 = 0.8;
/// Savings below this share of a room's loss are not worth a word.
const LEAST_SHARE: f64 = 0.02;

/// Good parts of the library to compare with.
pub struct Good {
    kinds: Vec<(Cause, String, f64)>,
    surcharge: f64,
    floor_u: f64,
    /// Toward the ground, where the building has a floor on it.
    ground_u: Option<f64>,
    floor_words: String,
}

impl Good {
    /// The good parts for this job.
    pub fn of(job: &Job, ground_dimension_m: Option<f64>) -> Good {
        let size = |m| job.site.units.show(Quantity::Size, m);
        let surcharge = match job.envelope.bridges {
            Bridges::Surcharge { delta_u } => delta_u,
            Bridges::Linear { .. } => 0.0,
        };
        let kinds = [
            (Cause::OutsideWall, Position::Wall, "wall-brick-foam-200", format!("walls with {} of foam", size(0.2))),
            (Cause::Window, Position::Window, "window-triple", "triple glass".into()),
            (Cause::OutsideDoor, Position::Door, "door-good", "a good door".into()),
            (Cause::Roof, Position::Roof, "roof-rafters-300", format!("{} of insulation in the roof", size(0.3))),
        ]
        .into_iter()
        .filter_map(|(cause, position, id, words)| {
            let c = library::construction(id)?;
            Some((cause, words, construction::u_in_place(c, position, library::material)))
        })
        .collect();
        let floor_u = library::construction("floor-slab-foam-200")
            .map_or(0.2, |c| construction::u_in_place(c, Position::Floor, library::material));
        let ground_u = ground_dimension_m.map(|b| {
            let r = 1.0 / floor_u - Direction::Downward.film() - construction::FILM_OUTSIDE;
            ground::YEARLY_SWING * ground::slab_u(&job.envelope.ground, b, r, 0.0)
        });
        let floor_words = format!("{} of foam under the floor", size(0.2));
        Good { kinds, surcharge, floor_u, ground_u, floor_words }
    }

    /// What would help a room with these parts, the most helpful first.
    pub fn savings(&self, job: &Job, parts: &[LossPart], volume_m3: f64) -> Vec<Saving> {
        let heat: f64 = parts.iter().map(|p| p.heat_w).sum();
        let mut out = Vec::new();
        let mut add = |cause: Cause, measure: &str, heat_w: f64| {
            if heat_w > (LEAST_SHARE * heat).max(1.0) {
                out.push(Saving { cause, measure: measure.to_owned(), heat_w });
            }
        };
        let of = |cause: Cause| parts.iter().filter(move |p| p.cause == cause);
        for (cause, words, u) in &self.kinds {
            let saved = of(*cause)
                .filter(|p| p.difference_k > 0.0 && p.other != OtherSide::Ground)
                .map(|p| {
                    let surcharge = if p.other == OtherSide::Outdoors { self.surcharge } else { 0.0 };
                    p.amount * (p.per_kelvin - u - surcharge).max(0.0) * p.difference_k
                })
                .sum();
            add(*cause, words, saved);
        }
        // toward the ground a floor is as good as the ground lets it be
        let better = match job.envelope.ground.method {
            GroundMethod::Iso13370 => self.ground_u,
            GroundMethod::GroundTemperature => Some(self.floor_u),
            GroundMethod::PerimeterFactor => None,
        };
        if let Some(u) = better {
            let floors = of(Cause::Floor).filter(|p| p.difference_k > 0.0 && p.other == OtherSide::Ground);
            let saved = floors.map(|p| p.amount * (p.per_kelvin - u).max(0.0) * p.difference_k).sum();
            add(Cause::Floor, &self.floor_words, saved);
        }
        // no tighter than people need, unless a ventilation brings them their air
        let ventilated = of(Cause::Ventilation).next().is_some();
        let target = if ventilated { TIGHT_VENTILATED_PER_H } else { TIGHT_PER_H.max(job.air.least_per_h) };
        let tight = of(Cause::Air)
            .filter(|p| p.difference_k > 0.0)
            .map(|p| (p.amount - target * volume_m3).max(0.0) * p.per_kelvin * p.difference_k)
            .sum();
        add(Cause::Air, &format!("leaks down to {target} air changes an hour"), tight);
        let recovery = job.air.recovery;
        let ventilation: f64 = of(Cause::Ventilation).map(|p| p.heat_w).sum();
        if recovery < GOOD_RECOVERY {
            add(
                Cause::Ventilation,
                "80 % of the heat recovered",
                ventilation * (GOOD_RECOVERY - recovery) / (1.0 - recovery),
            );
        }
        out.sort_by(|a, b| b.heat_w.total_cmp(&a.heat_w));
        out
    }
}

/// The rooms' savings added up by measure, the most helpful first.
pub(super) fn sum(rooms: &[RoomLoss]) -> Vec<Saving> {
    let mut out: Vec<Saving> = Vec::new();
    for s in rooms.iter().flat_map(|r| &r.savings) {
        match out.iter_mut().find(|o| o.measure == s.measure) {
            Some(o) => o.heat_w += s.heat_w,
            None => out.push(s.clone()),
        }
    }
    out.sort_by(|a, b| b.heat_w.total_cmp(&a.heat_w));
    out
}

#[cfg(test)]
mod tests {
    use super::super::heat_loss;
    use super::*;
    use crate::plan::Plan;
    use crate::samples::{box_room, job_of, window};

    #[test]
    fn better_glass_saves_what_the_difference_of_u_says() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.openings.push(window("w", 0, 1.0, 3.0, 2.0));
        let mut job = job_of(vec![room]);
        job.site.outdoor_c = -10.0;
        let loss = heat_loss(&job, &Plan::of(&job));
        let glass = loss.rooms[0].savings.iter().find(|s| s.cause == Cause::Window).expect("glass");
        // 6 m² · (1.6 − 0.85) · 30 K; the surcharge stays
        assert!((glass.heat_w - 135.0).abs() < 1e-9, "{glass:?}");
        assert!(loss.rooms[0].savings.windows(2).all(|p| p[0].heat_w >= p[1].heat_w));
        assert_eq!(loss.building.savings, loss.rooms[0].savings);
    }

    #[test]
    fn air_is_not_saved_below_what_people_need() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.rooms[0].air_changes_per_h = Some(1.0);
        job.air.least_per_h = 0.5;
        let air = |job: &Job| {
            let loss = heat_loss(job, &Plan::of(job));
            let air = loss.rooms[0].parts.iter().find(|p| p.cause == Cause::Air).map(|p| p.heat_w);
            let saved = loss.rooms[0].savings.iter().find(|s| s.cause == Cause::Air).map(|s| s.heat_w);
            saved.expect("air") / air.expect("air")
        };
        assert!((air(&job) - 0.5).abs() < 1e-9);
        job.rooms[0].supply_m3_h = 30.0;
        // 30 of the 50 m³/h come by the ventilation; of the other 20 a tight house lets in 5
        assert!((air(&job) - 0.75).abs() < 1e-9, "the ventilation brings people their air");
    }

    #[test]
    fn a_better_floor_is_named_in_the_units_of_the_job_and_never_promises_more_than_the_floor_loses() {
        use crate::job::GroundMethod::{GroundTemperature, Iso13370, PerimeterFactor};
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.floor = None;
        let mut job = job_of(vec![room]);
        job.site.units = crate::units::Units::Us;
        for c in job.constructions.iter_mut().filter(|c| c.id == "own-floor") {
            c.u = Some(2.0);
        }
        for (method, said) in [(Iso13370, true), (GroundTemperature, true), (PerimeterFactor, false)] {
            job.envelope.ground.method = method;
            let loss = &heat_loss(&job, &Plan::of(&job)).rooms[0];
            let lost: f64 = loss.parts.iter().filter(|p| p.cause == Cause::Floor).map(|p| p.heat_w).sum();
            let saved = loss.savings.iter().find(|s| s.cause == Cause::Floor);
            assert_eq!(saved.is_some(), said, "{method:?}");
            if let Some(s) = saved {
                assert_eq!(s.measure, "7.9 in of foam under the floor");
                assert!(s.heat_w > 0.2 * lost && s.heat_w < lost, "{method:?}: {} of {lost}", s.heat_w);
            }
        }
    }

    #[test]
    fn nothing_is_promised_where_all_is_good() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        for c in &mut job.constructions {
            c.u = Some(0.06);
        }
        job.rooms[0].air_changes_per_h = Some(0.2);
        assert!(heat_loss(&job, &Plan::of(&job)).rooms[0].savings.is_empty());
    }
}
