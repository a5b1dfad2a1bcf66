//! Thermal bridges: lengths read off the plan times ψ, and those that a room has of its own.

use super::report::{Cause, Measure};
use super::surfaces::{Conductance, Other, Reader};
use crate::job::{Beyond, Bridges, OpeningKind};
use crate::plan::walls::{Behind, WallPiece};

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
            let share = |rooms: f64, open: f64| if rooms + open > 0.0 { rooms / (rooms + open) } else { 0.0 };
            let covered = share(s.above.iter().map(|a| a.area_m2).sum(), s.open_above_m2);
            let carried = share(s.below.iter().map(|a| a.area_m2).sum(), s.open_below_m2);
            lengths.push((roof_edge_psi, top * (1.0 - covered)));
            lengths.push((floor_edge_psi, bottom * (1.0 - carried)));
            // the end of a ceiling belongs by halves to the room below and above
            lengths.push((storey_psi, (top * covered + bottom * carried) / 2.0));
            // corners: where two walls next to each other both stand outside over their meeting end
            let n = self.plan.edges[room].len();
            let mut corners = 0.0;
            for i in 0..n {
                let (before, after) = (&self.plan.edges[room][(i + n - 1) % n], &self.plan.edges[room][i]);
                let ends = walls.iter().any(|f| f.edge == before.index && f.to_m > before.length() - 0.05);
                let starts = walls.iter().any(|f| f.edge == after.index && f.from_m < 0.05);
                let (d, e) = (before.direction(), after.direction());
                if ends && starts && d[0] * e[1] - d[1] * e[0] > 0.2 {
                    corners += self.plan.ceilings[room].height_at(after.a);
                }
            }
            lengths.push((corner_psi, corners));
            let reveals: f64 = r
                .openings
                .iter()
                .filter(|o| matches!(o.kind, OpeningKind::Window | OpeningKind::OutsideDoor))
                .filter(|o| walls.iter().any(|f| f.edge == o.edge))
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
}
