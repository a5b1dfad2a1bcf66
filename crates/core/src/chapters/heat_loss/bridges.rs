//! Thermal bridges: lengths read off the plan times ψ, and those that a room has of its own.

use super::report::{Cause, Measure};
use super::surfaces::{Conductance, Other, Reader};
use crate::geometry::outline::polygon;
use crate::job::{Beyond, Bridges, OpeningKind};
use crate::plan::storeys::Shared;
use crate::plan::walls::{Behind, WallPiece};
use geo::{BooleanOps, Euclidean, Length, LineString, MultiLineString, MultiPolygon};
use std::f64::consts::FRAC_PI_2;

/// So far inside of its face a wall is looked for over or under another room, m.
const INSIDE_M: f64 = 0.1;

impl Reader<'_> {
    /// Lengths read off the plan times ψ, and the room's own bridges.
    pub fn bridges(&mut self, room: usize) {
        let mut lengths: Vec<(f64, f64)> = Vec::new();
        if let Bridges::Linear { reveal_psi, corner_psi, roof_edge_psi, floor_edge_psi, storey_psi } =
            self.job.envelope.bridges
        {
            let r = &self.job.rooms[room];
            let outside = |f: &&WallPiece| f.behind == Behind::Other(Beyond::Outside);
            let walls: Vec<&WallPiece> = self.plan.walls[room].iter().filter(outside).collect();
            let top: f64 = walls.iter().filter(|f| f.high_m >= r.height_m - 0.05).map(|f| f.length()).sum();
            let bottom: f64 = walls.iter().filter(|f| f.low_m < 0.05).map(|f| f.length()).sum();
            let s = &self.plan.storeys[room];
            // rooms of the job, or a neighbour's that is as warm, above or below
            let covered = match r.above {
                Beyond::Heated => top,
                _ => self.along_rooms(room, &s.above, walls.iter().filter(|f| f.high_m >= r.height_m - 0.05)),
            };
            let carried = match r.below {
                Beyond::Heated => bottom,
                _ => self.along_rooms(room, &s.below, walls.iter().filter(|f| f.low_m < 0.05)),
            };
            lengths.push((roof_edge_psi, top - covered));
            lengths.push((floor_edge_psi, bottom - carried));
            // the end of a ceiling belongs by halves to the room below and above
            lengths.push((storey_psi, (covered + carried) / 2.0));
            // corners: where two walls next to each other both stand outside over their meeting end; by their turn, so that a
            // round wall counts as the corners it replaces
            let n = self.plan.edges[room].len();
            let mut corners = 0.0;
            for i in 0..n {
                let (before, after) = (&self.plan.edges[room][(i + n - 1) % n], &self.plan.edges[room][i]);
                let ends = walls.iter().any(|f| f.edge == before.index && f.to_m > before.length() - 0.05);
                let starts = walls.iter().any(|f| f.edge == after.index && f.from_m < 0.05);
                let (d, e) = (before.direction(), after.direction());
                let turn = (d[0] * e[1] - d[1] * e[0]).atan2(d[0] * e[0] + d[1] * e[1]);
                if ends && starts && turn > 0.0 {
                    corners += turn / FRAC_PI_2 * self.plan.ceilings[room].height_at(after.a);
                }
            }
            lengths.push((corner_psi, corners));
            let reveals: f64 = r
                .openings
                .iter()
                .filter(|o| match o.kind {
                    OpeningKind::Window | OpeningKind::OutsideDoor => walls.iter().any(|f| f.edge == o.edge),
                    OpeningKind::RoofWindow => true,
                    OpeningKind::Doorway | OpeningKind::Sleeve => false,
                })
                .map(|o| 2.0 * (o.width_m + o.height_m))
                .sum();
            lengths.push((reveal_psi, reveals));
        }
        let bridge = |name: Option<String>, psi, length| Conductance {
            cause: Cause::Bridge,
            measure: Measure::Length,
            edge: None,
            subject: name,
            construction_id: None,
            other: Other::Outdoors,
            amount: length,
            per_kelvin: psi,
        };
        for (psi, length) in lengths {
            if psi != 0.0 {
                self.push(room, bridge(None, psi, length));
            }
        }
        for b in &self.job.rooms[room].bridges {
            self.push(room, bridge(Some(b.name.clone()), b.psi_w_mk, b.length_m));
        }
    }

    /// How much of these pieces of wall stands over or under those rooms, m.
    fn along_rooms<'p>(&self, room: usize, rooms: &[Shared], walls: impl Iterator<Item = &'p &'p WallPiece>) -> f64 {
        if rooms.is_empty() {
            return 0.0;
        }
        let lines = walls.filter_map(|f| {
            let edge = self.plan.edge(room, f.edge)?;
            let inward = edge.inward();
            let end = |s: f64| {
                let p = edge.at(s);
                (p[0] + INSIDE_M * inward[0], p[1] + INSIDE_M * inward[1])
            };
            Some(LineString::from(vec![end(f.from_m), end(f.to_m)]))
        });
        let lines = MultiLineString::new(lines.collect());
        let outlines = rooms.iter().map(|s| polygon(&self.plan.storeys[s.room].outer));
        // rooms beside each other meet in the middle of their partition: no stretch counts twice
        let clipped = MultiPolygon::new(outlines.collect()).clip(&lines, false);
        clipped.iter().map(|l| Euclidean.length(l)).sum()
    }
}
