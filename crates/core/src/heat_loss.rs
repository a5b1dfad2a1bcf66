//! Heat loss of rooms on the design day, first form.
//!
//! Transmission `U·A·(θi − θj)` through walls, glass, doors, ceiling and (where the floor is not heated) floor,
//! inside dimensions, thermal bridges as a surcharge on surfaces to the outside; air `ρ·cp·n·V·(θi − θe)` with
//! the density of air at the site's altitude. Method: EN 12831-1 in its simplified form. A heated floor's own
//! downward loss is not a need of the room: the floor stage reckons it.

use crate::job::{Beyond, Job, OpeningKind, Room};
use crate::plan::{self, Behind};
use serde::{Deserialize, Serialize};

/// Specific heat of air, J/kgK.
const AIR_CP: f64 = 1006.0;

/// What takes the heat.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Cause {
    OutsideWall,
    Window,
    OutsideDoor,
    Roof,
    Partition,
    Floor,
    Air,
}

/// One surface, or the air, and what it costs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LossPart {
    /// What takes the heat.
    pub cause: Cause,
    /// Wall index, where it is a wall or an opening in one.
    pub edge: Option<usize>,
    /// The opening or the neighbour room, by id.
    pub subject: Option<String>,
    /// Area, m²; for air the volume changed in an hour, m³.
    pub amount: f64,
    /// Transmittance with its surcharge, W/m²K; for air the heat held by a cubic metre changed in an hour, Wh/m³K.
    pub per_kelvin: f64,
    /// Room minus other side, K.
    pub difference_k: f64,
    /// Heat that leaves the room, W; negative where it comes in.
    pub heat_w: f64,
}

/// A room's heat loss with its parts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomLoss {
    /// The room.
    pub room_id: String,
    /// All parts, in the order of the walls, then ceiling, floor, air.
    pub parts: Vec<LossPart>,
    /// Their sum, W.
    pub heat_w: f64,
}

/// Density of air at 20 °C and the pressure of the standard atmosphere at that altitude, kg/m³ (ISO 2533).
pub fn air_density(altitude_m: f64) -> f64 {
    let pressure = 101_325.0 * (1.0 - 2.255_77e-5 * altitude_m).powf(5.255_88);
    pressure / (287.05 * 293.15)
}

/// Heat loss of every room, in the job's order.
///
/// The job must have passed [`Job::check`]. A room whose outline crosses itself gets its figures from the
/// outline as drawn; the design reports it.
pub fn heat_loss(job: &Job) -> Vec<RoomLoss> {
    (0..job.rooms.len()).map(|i| room_loss(job, i)).collect()
}

fn room_loss(job: &Job, index: usize) -> RoomLoss {
    let room = &job.rooms[index];
    let mut parts = Vec::new();
    walls(job, index, &mut parts);

    let area = plan::area(room);
    let e = &job.envelope;
    let (cause, u) = match room.above {
        Beyond::Outside => (Cause::Roof, e.roof_u + e.bridge_surcharge_u),
        _ => (Cause::Roof, e.roof_u),
    };
    parts.push(part(cause, None, None, area, u, room.room_c - temperature(job, room, room.above)));
    if room.floor.is_none() {
        parts.push(part(Cause::Floor, None, None, area, e.floor_u, room.room_c - temperature(job, room, room.below)));
    }
    let per_kelvin = air_density(job.site.altitude_m) * AIR_CP / 3600.0;
    let air = area * room.height_m * room.air_changes_per_h;
    parts.push(part(Cause::Air, None, None, air, per_kelvin, room.room_c - job.site.outdoor_c));

    let heat_w = parts.iter().map(|p| p.heat_w).sum();
    RoomLoss { room_id: room.id.clone(), parts, heat_w }
}

fn part(cause: Cause, edge: Option<usize>, subject: Option<String>, amount: f64, per_kelvin: f64, dt: f64) -> LossPart {
    LossPart { cause, edge, subject, amount, per_kelvin, difference_k: dt, heat_w: amount * per_kelvin * dt }
}

fn temperature(job: &Job, room: &Room, beyond: Beyond) -> f64 {
    match beyond {
        Beyond::Outside => job.site.outdoor_c,
        Beyond::Ground => job.site.ground_c,
        Beyond::Heated => room.room_c,
        Beyond::Unheated { temperature_c } => temperature_c,
    }
}

fn walls(job: &Job, index: usize, parts: &mut Vec<LossPart>) {
    let room = &job.rooms[index];
    let e = &job.envelope;
    let edges = plan::edges(room);
    for piece in plan::wall_pieces(job, index) {
        let Some(edge) = edges.iter().find(|e| e.index == piece.edge) else { continue };
        let own_u = room.walls.iter().find(|w| w.edge == piece.edge).and_then(|w| w.u);
        let (other_c, outside, subject) = match &piece.behind {
            Behind::Room { index, .. } => {
                let other = &job.rooms[*index];
                (other.room_c, false, Some(other.id.clone()))
            }
            Behind::Other(beyond) => (temperature(job, room, *beyond), *beyond == Beyond::Outside, None),
        };
        let dt = room.room_c - other_c;
        let surcharge = if outside { e.bridge_surcharge_u } else { 0.0 };

        // Openings to the outside take their area out of the piece they stand in.
        let mut opaque = piece.length() * room.height_m;
        for opening in &room.openings {
            if opening.edge != piece.edge || !outside {
                continue;
            }
            let (cause, u) = match opening.kind {
                OpeningKind::Window => (Cause::Window, e.window_u),
                OpeningKind::OutsideDoor => (Cause::OutsideDoor, e.outside_door_u),
                OpeningKind::Doorway | OpeningKind::Sleeve => continue,
            };
            let (from, to) = edge.stretch(opening.offset_m, opening.width_m);
            let width = (to.min(piece.to_m) - from.max(piece.from_m)).max(0.0);
            let area = (width * opening.height_m.min(room.height_m)).min(opaque);
            if area > 0.0 {
                opaque -= area;
                let u = opening.u.unwrap_or(u) + surcharge;
                parts.push(part(cause, Some(piece.edge), Some(opening.id.clone()), area, u, dt));
            }
        }
        let (cause, u) = match piece.behind {
            Behind::Room { .. } => (Cause::Partition, e.partition_u),
            Behind::Other(Beyond::Heated | Beyond::Unheated { .. }) => (Cause::Partition, e.partition_u),
            Behind::Other(_) => (Cause::OutsideWall, e.outside_wall_u),
        };
        parts.push(part(cause, Some(piece.edge), subject, opaque, own_u.unwrap_or(u) + surcharge, dt));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, job_of, window};

    /// A box 5 × 4 × 2.5 m with one window 2 × 1.2 m at −10 °C, by hand:
    /// walls 45 m² − 2.4 = 42.6 m² · (0.35 + 0.05) · 30 K = 511.2 W; glass 2.4 · (1.6 + 0.05) · 30 = 118.8 W;
    /// roof 20 · (0.22 + 0.05) · 30 = 162 W; air 50 m³ · 0.5/h · 1.20411 · 1006 / 3600 · 30 = 252.36 W.
    #[test]
    fn a_box_with_one_window_by_hand() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.openings.push(window("w", 0, 1.0, 2.0, 1.2));
        let mut job = job_of(vec![room]);
        job.site.outdoor_c = -10.0;
        let loss = &heat_loss(&job)[0];
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
        let losses = heat_loss(&job);
        let through =
            |i: usize| losses[i].parts.iter().filter(|p| p.cause == Cause::Partition).map(|p| p.heat_w).sum::<f64>();
        assert!(through(0) > 0.0);
        assert!((through(0) + through(1)).abs() < 1e-9);
    }

    #[test]
    fn thinner_air_carries_less() {
        // ISO 2533: at 1500 m the pressure is 84 556 Pa, so the density at 20 °C is 1.0048 kg/m³
        assert!((air_density(0.0) - 1.2041).abs() < 1e-4);
        assert!((air_density(1500.0) - 1.0048).abs() < 5e-4);
    }

    #[test]
    fn a_window_wider_than_its_wall_takes_no_more_than_the_wall() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.openings.push(window("w", 0, 1.0, 40.0, 9.0));
        let loss = &heat_loss(&job_of(vec![room]))[0];
        let glass = loss.parts.iter().find(|p| p.cause == Cause::Window).expect("glass");
        assert!((glass.amount - 4.0 * 2.5).abs() < 1e-9);
        assert!(loss.parts.iter().all(|p| p.amount >= 0.0));
    }

    #[test]
    fn an_unheated_floor_is_a_need_and_a_heated_one_is_not() {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        let with = heat_loss(&job_of(vec![room.clone()]))[0].heat_w;
        room.floor = None;
        let without = heat_loss(&job_of(vec![room]))[0].heat_w;
        // 20 m² · 0.3 W/m²K · (20 − 9) K
        assert!((without - with - 66.0).abs() < 1e-9);
    }
}
