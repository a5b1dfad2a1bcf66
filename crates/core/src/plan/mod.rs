//! One reading of the plan: what lies behind every piece of wall at every height, above and below every room, which
//! openings are ways for leaders, how much floor can hold tube.
//!
//! A room is its clear inside outline, what a tape measures; walls are the space between. A piece of wall is a partition
//! where another room's face runs parallel within [`walls::THICKEST_WALL_M`] (rooms of all levels are seen); elsewhere it
//! stands to the ground below its surface and to the outside above, unless the surveyor says otherwise.
//!
//! [`Plan::of`] reads a job once; heat loss, layout, layout rules, edits, imports and drawings all look at that reading.
//!
//! ```
//! use fuoco_core::plan::{Plan, walls::Behind};
//! use fuoco_core::samples::{box_room, job_of};
//! // two rooms with a wall of 120 mm between them
//! let job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.12, 0.0, 9.0, 4.0)]);
//! let plan = Plan::of(&job);
//! let east = plan.walls[0].iter().find(|w| w.edge == 1).unwrap();
//! assert!(matches!(east.behind, Behind::Room { index: 1, .. }));
//! assert_eq!(plan.outside_m(0), 5.0 + 5.0 + 4.0);
//! ```

pub mod areas;
pub mod ceiling;
pub mod edge;
pub mod edit;
pub mod nearly;
pub mod passages;
pub mod storeys;
pub mod walls;

use crate::geometry::Point;
use crate::job::{Job, Room};
use ceiling::Ceiling;
use edge::Edge;
use passages::Passage;
use storeys::Storey;
use walls::WallPiece;

pub use areas::{area, heatable_area, is_simple};
pub use edge::edges;

/// The plan of a job, read. By room, in the job's order.
#[derive(Debug, Clone)]
pub struct Plan {
    /// The walls of each room, anticlockwise.
    pub edges: Vec<Vec<Edge>>,
    /// The pieces of its walls, in the order of the walls.
    pub walls: Vec<Vec<WallPiece>>,
    /// The same pieces as they stand on the room's floor.
    pub at_the_floor: Vec<Vec<WallPiece>>,
    /// Ways for leaders from room to room.
    pub passages: Vec<Passage>,
    /// Whether its outline is a simple polygon with an area.
    pub is_simple: Vec<bool>,
    /// Its floor over the ground outside, m.
    pub floor_m: Vec<f64>,
    /// The underside of its ceiling.
    pub ceilings: Vec<Ceiling>,
    /// What lies above and below it.
    pub storeys: Vec<Storey>,
    /// Its floor that can hold tube, m².
    pub heatable_m2: Vec<f64>,
    /// Of that, what lies within the house rules' width of the perimeter zone of a cold wall, m².
    pub perimeter_m2: Vec<f64>,
}

impl Plan {
    /// Reads the plan of a job. The job's own indices (of walls, of rooms) must be right, as its check makes sure.
    pub fn of(job: &Job) -> Plan {
        let edges: Vec<Vec<Edge>> = job.rooms.iter().map(edge::edges).collect();
        let walls = walls::pieces(job, &edges);
        let at_the_floor: Vec<Vec<WallPiece>> = walls.iter().map(|w| walls::at_the_floor(w)).collect();
        let passages = passages::passages(job, &edges, &at_the_floor);
        let is_simple: Vec<bool> = job.rooms.iter().map(is_simple).collect();
        let floor_m: Vec<f64> = (0..job.rooms.len()).map(|i| walls::floor_height(job, i)).collect();
        let ceilings = job.rooms.iter().zip(&edges).map(|(r, e)| Ceiling::of(r, e)).collect();
        let storeys = storeys::storeys(job, &edges, &walls, &is_simple, &floor_m);
        let heatable = |(r, &simple): (&Room, &bool)| if simple { areas::heatable_area(r) } else { 0.0 };
        let heatable_m2 = job.rooms.iter().zip(&is_simple).map(heatable).collect();
        let mut plan = Plan {
            edges,
            walls,
            at_the_floor,
            passages,
            is_simple,
            floor_m,
            ceilings,
            storeys,
            heatable_m2,
            perimeter_m2: vec![0.0; job.rooms.len()],
        };
        for i in 0..job.rooms.len() {
            if job.rooms[i].heated_floor().is_some() && plan.is_simple[i] {
                plan.perimeter_m2[i] = areas::area_along(&job.rooms[i], &plan.cold_walls(i), job.rules.edge_band_m);
            }
        }
        plan
    }

    /// One wall of a room, by its index in the outline.
    pub fn edge(&self, room: usize, edge: usize) -> Option<&Edge> {
        self.edges[room].iter().find(|e| e.index == edge)
    }

    /// The piece of a wall in which its fields are taken to be: the largest.
    pub fn piece_of_fields(&self, room: usize, edge: usize) -> Option<&WallPiece> {
        let pieces = self.walls[room].iter().filter(|p| p.edge == edge);
        pieces.max_by(|a, b| a.area().total_cmp(&b.area()))
    }

    /// The ends of every piece of wall to the weather or the ground, as it stands on a room's floor.
    pub fn cold_walls(&self, room: usize) -> Vec<[Point; 2]> {
        let cold = self.at_the_floor[room].iter().filter(|p| p.is_cold());
        cold.filter_map(|p| self.edge(room, p.edge).map(|e| [e.at(p.from_m), e.at(p.to_m)])).collect()
    }

    /// Their length, m.
    pub fn outside_m(&self, room: usize) -> f64 {
        self.at_the_floor[room].iter().filter(|p| p.is_cold()).map(WallPiece::length).sum()
    }
}
