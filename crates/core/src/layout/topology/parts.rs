//! Rooms with manifolds cut into parts, and the parts put together again.
//!
//! A room with several manifolds is cut halfway between them. A room in which leaders would have to go round along its
//! walls to doors opposite the manifold is cut straight across before the manifold, where that saves tube: the leaders
//! then follow the cut.

use crate::geometry::distance;
use crate::geometry::outline;
use crate::geometry::polygon as shape;
use crate::job::{Job, Manifold, Opening, OpeningKind, Point, Room};
use crate::layout::edit::kept::beyond_neck;
use crate::layout::fill::squared::squared;
use crate::layout::rules::objective::{BARE, LATTICE_M, LOOP_M, TOO_LONG_M, UNEVEN_M, UNSERVED_M};
use crate::layout::rules::score::{EQUAL, spread};
use crate::layout::topology::risers::{as_manifold, one_way_m, risers};
use crate::layout::topology::search::Search;
use crate::layout::topology::task::LoopKey;
use crate::layout::{LaidLoop, Layout, Problem, manifold_place};
use crate::plan::{self, Plan};
use crate::watch::Watch;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::{Arc, OnceLock};

/// A cut between two manifolds may lie so far off the middle, to spare a doorway, m.
const SHIFTS_M: [f64; 9] = [0.0, 0.3, -0.3, 0.6, -0.6, 0.9, -0.9, 1.3, -1.3];
/// A cut keeps that distance from openings, m.
const BESIDE_M: f64 = 0.15;
/// Way for leaders through a split, m.
const SLEEVE_M: f64 = 0.8;
/// The floor beyond a neck is so much of the room at least.
const MOST_LEFT: f64 = 0.9;
/// Before a manifold on a wall shorter than this the room may be a neck, m.
const FACET_M: f64 = 1.8;

/// A job in which every manifold has a room, or a part of one, to itself.
#[derive(Clone)]
pub(crate) struct Parted {
    pub job: Job,
    /// Its plan, read when it is asked for.
    plan: OnceLock<Arc<Plan>>,
    /// For each room of it, the room of the original job.
    pub rooms: Vec<usize>,
    /// The same for the manifolds.
    pub manifolds: Vec<usize>,
    /// For each of them that is a riser, the tube from its manifold to it, one way, m; else 0.
    pub riser_m: Vec<f64>,
    /// How far before its wall the tubes of each manifold spread, m: up to there they run straight between others.
    pub necks: Vec<f64>,
    /// The outside walls of the original of each room.
    pub outside: Vec<Vec<[Point; 2]>>,
    /// What looking for better ones may still cost.
    pub search: Search,
    /// Tubes that lie already: the level and the corners of each.
    pub taken: Vec<(String, Vec<Point>)>,
}

impl Parted {
    /// A job with its rooms as they are.
    pub fn uncut(job: &Job, plan: &Plan, watch: &Watch) -> Parted {
        let mut job = job.clone();
        let mut manifolds: Vec<usize> = (0..job.manifolds.len()).collect();
        let mut riser_m = vec![0.0; job.manifolds.len()];
        for (m, riser) in risers(&job) {
            riser_m.push(one_way_m(&job, m, &riser));
            manifolds.push(m);
            job.manifolds.push(as_manifold(&job.manifolds[m], &riser));
        }
        Parted {
            plan: OnceLock::from(Arc::new(plan.clone())),
            rooms: (0..job.rooms.len()).collect(),
            necks: vec![0.0; manifolds.len()],
            manifolds,
            riser_m,
            outside: (0..job.rooms.len()).map(|i| plan.cold_walls(i)).collect(),
            search: Search::of(&job, plan, watch),
            taken: vec![],
            job,
        }
    }

    /// A job without rooms, to be filled.
    pub fn empty(job: Job, search: &Search) -> Parted {
        Parted {
            job,
            plan: OnceLock::new(),
            rooms: vec![],
            manifolds: vec![],
            riser_m: vec![],
            necks: vec![],
            outside: vec![],
            search: search.clone(),
            taken: vec![],
        }
    }

    /// The plan of the job as it is cut.
    pub fn plan(&self) -> &Plan {
        self.plan.get_or_init(|| Arc::new(Plan::of(&self.job)))
    }

    /// Cuts rooms between manifolds until each has a part to itself, as far as that can be done.
    pub fn share_rooms(&mut self) {
        for _ in 0..self.job.manifolds.len() {
            let mut seen: BTreeMap<usize, Point> = BTreeMap::new();
            let pair = (0..self.job.manifolds.len()).find_map(|m| {
                let (room, place, _) = manifold_place(&self.job, m)?;
                seen.insert(room, place).map(|other| (room, other, place))
            });
            let Some((room, a, b)) = pair else { return };
            let l = distance(a, b);
            if l < 0.5 {
                return;
            }
            let d = [(b[0] - a[0]) / l, (b[1] - a[1]) / l];
            // along the walls, so that runs end on one line; a slanting cut only where nothing else does
            let along = wall_axes(&self.job.rooms[room].outline);
            let apart = |axis: &Point| (axis[0] * d[1] - axis[1] * d[0]).abs();
            let straight = along.into_iter().max_by(|u, v| apart(u).total_cmp(&apart(v)));
            let cut = straight.into_iter().chain([[-d[1], d[0]]]).find_map(|axis| {
                SHIFTS_M.iter().find_map(|shift| {
                    let middle = [0, 1].map(|k| f64::midpoint(a[k], b[k]) + d[k] * shift);
                    self.cut(room, middle, axis)
                })
            });
            let Some(cut) = cut else { return };
            *self = cut;
        }
    }

    /// Cuts rooms where their splits want it. The leaders of the part that has no other way in pass the split at its end
    /// that is nearest to a manifold. A split that cannot be made is told.
    pub fn split_rooms(&mut self, original: &Job, problems: &mut Vec<Problem>) {
        for (of, room) in original.rooms.iter().enumerate() {
            let splits = room.heated_floor().map_or(&[][..], |f| &f.splits);
            for &[a, b] in splits {
                let l = distance(a, b).max(1e-9);
                let middle = [0, 1].map(|k| f64::midpoint(a[k], b[k]));
                let holds = |r: &usize| self.rooms[*r] == of && outline::within(&self.job.rooms[*r].outline, middle);
                let part = (0..self.job.rooms.len()).find(holds);
                let cut = part.and_then(|p| Some((p, self.cut(p, middle, [0, 1].map(|k| (b[k] - a[k]) / l))?)));
                match cut {
                    Some((part, mut cut)) => {
                        cut.sleeve(part);
                        *self = cut;
                    }
                    None if problems.contains(&Problem::SplitIdle { room: of }) => {}
                    None => problems.push(Problem::SplitIdle { room: of }),
                }
            }
        }
    }

    /// A way through the cut between a part and the next.
    fn sleeve(&mut self, part: usize) {
        self.plan = OnceLock::new();
        let job = &mut self.job;
        let facing = |e: &plan::edge::Edge| {
            let other = &job.rooms[part + 1].outline;
            let on =
                |p: Point| outline::sides(other).any(|(a, b)| crate::geometry::segment::to_segment(p, a, b) < 2e-3);
            on(e.a) && on(e.b)
        };
        let Some(seam) = plan::edges(&job.rooms[part]).into_iter().find(facing) else { return };
        let level = &job.rooms[part].level_id;
        let near = |p: Point| {
            let places = (0..job.manifolds.len()).filter_map(|m| manifold_place(job, m));
            places.filter(|m| &job.rooms[m.0].level_id == level).map(|m| distance(m.1, p)).fold(f64::MAX, f64::min)
        };
        let width_m = SLEEVE_M.min(seam.length() - 2.0 * BESIDE_M).max(0.05);
        let from_a = near(seam.a) <= near(seam.b);
        let at_a = from_a != seam.reversed;
        let offset_m = if at_a { BESIDE_M.min(seam.length() / 4.0) } else { seam.length() - BESIDE_M - width_m };
        let id = format!("{} way", job.rooms[part + 1].id);
        let way = Opening {
            id,
            kind: OpeningKind::Doorway,
            edge: seam.index,
            offset_m: offset_m.max(0.0),
            width_m,
            height_m: 0.05,
            sill_m: 0.0,
            construction_id: None,
            u: None,
            g: None,
        };
        job.rooms[part].openings.push(way);
    }

    /// What is bad about a layout: floor that is not laid above all, then loops that are too long, then loops that differ
    /// where the rules ask for equal ones, then tube on the way.
    pub fn cost(&self, layout: &Layout) -> f64 {
        let problems: f64 = layout
            .problems
            .iter()
            .map(|p| match p {
                Problem::ByLeaders { room } => {
                    let spacing_m = self.job.rooms[*room].heated_floor().map_or(0.2, |f| f.spacing_core_m);
                    LATTICE_M.max(BARE * self.plan().heatable_m2[*room] / spacing_m)
                }
                Problem::LatticeIdle { .. } => LATTICE_M,
                Problem::OverLimit { .. } => TOO_LONG_M,
                _ => UNSERVED_M,
            })
            .sum();
        let mut uneven = 0.0;
        for manifold in self.manifolds.iter().collect::<BTreeSet<_>>() {
            let own = layout.loops.iter().filter(|l| self.manifolds[l.manifold] == *manifold);
            let lengths: Vec<f64> = own.map(|l| l.length_m).collect();
            if self.job.rules.equal_loops && spread(&lengths) > EQUAL {
                uneven += UNEVEN_M;
            }
        }
        problems + uneven + layout.loops.iter().map(|l| l.leader_length_m + LOOP_M).sum::<f64>()
    }

    /// Share of its room that a part is.
    pub fn share(&self, part: usize) -> f64 {
        let of = |r: usize| self.plan().heatable_m2[r];
        let all: f64 = (0..self.rooms.len()).filter(|&r| self.rooms[r] == self.rooms[part]).map(of).sum();
        if all > 0.0 { of(part) / all } else { 1.0 }
    }

    /// The room cut along a straight; not where a doorway or window is in the way.
    fn cut(&self, room: usize, through: Point, along: Point) -> Option<Parted> {
        let (from, to) = across(&self.job.rooms[room].outline, through, along)?;
        let away = |p: Point| openings_of(&self.job.rooms[room]).all(|(at, half)| distance(at, p) > half + BESIDE_M);
        if !away(from) || !away(to) {
            return None;
        }
        let mut rooms = self.rooms.clone();
        rooms.insert(room + 1, rooms[room]);
        let mut outside = self.outside.clone();
        outside.insert(room + 1, outside[room].clone());
        let id = format!("{} part {}", self.job.rooms[room].id, rooms.len());
        let job = plan::edit::parted(&self.job, &self.job.rooms[room].id, from, to, 0.0, &id).ok()?;
        Some(Parted {
            job,
            plan: OnceLock::new(),
            rooms,
            manifolds: self.manifolds.clone(),
            riser_m: self.riser_m.clone(),
            necks: self.necks.clone(),
            outside,
            search: self.search.clone(),
            taken: self.taken.clone(),
        })
    }

    /// The manifold's room cut straight across before it, where other rooms lie behind it; both parts have the manifold
    /// in their corner. `aside`: so far from its middle, m.
    pub fn cut_across(&self, manifold: usize, aside: f64) -> Option<Parted> {
        let (room, middle, inward) = manifold_place(&self.job, manifold)?;
        let place = [middle[0] + inward[1] * aside, middle[1] - inward[0] * aside];
        if !self.plan().passages.iter().any(|p| p.rooms.contains(&room)) {
            return None;
        }
        // square to the room rather than to a wall that was traced a little askew
        let across = squared(&self.job.rooms[room].outline, inward).map_or(inward, |s| s.1);
        let mut out = self.cut(room, place, across)?;
        let original = out.job.manifolds[manifold].clone();
        let hung: Vec<Manifold> =
            [room, room + 1].into_iter().filter_map(|r| hang(&out.job.rooms[r], &original, place, inward)).collect();
        let [first, second] = <[Manifold; 2]>::try_from(hung).ok()?;
        out.job.manifolds[manifold] = first;
        out.job.manifolds.push(second);
        out.manifolds.push(out.manifolds[manifold]);
        out.riser_m.push(out.riser_m[manifold]);
        out.necks.push(out.necks[manifold]);
        Some(out)
    }

    /// The manifold's room without the narrow floor before it, through which its tubes run straight; not where doors lead on.
    pub fn past_neck(&self, manifold: usize) -> Option<Parted> {
        let (room, at, inward) = manifold_place(&self.job, manifold)?;
        if self.plan().passages.iter().any(|p| p.rooms.contains(&room)) {
            return None;
        }
        let (outline, depth) = beyond_neck(&self.job.rooms[room].outline, at, inward, FACET_M)?;
        let area = |o: &[Point]| outline::signed_area(o).abs();
        if area(&outline) < MOST_LEFT * area(&self.job.rooms[room].outline) {
            return None;
        }
        let beyond = Room { outline, openings: vec![], ..self.job.rooms[room].clone() };
        let deeper = [0, 1].map(|k| at[k] + inward[k] * depth);
        let hung = hang(&beyond, &self.job.manifolds[manifold], deeper, inward)?;
        let mut out = self.clone();
        out.plan = OnceLock::new();
        out.job.rooms[room] = beyond;
        out.job.manifolds[manifold] = hung;
        out.necks[manifold] += depth;
        Some(out)
    }

    /// How far from a manifold's middle the cut before it would have to lie, so that its tubes stand evenly to both sides of
    /// its middle, m: `self` is cut across before it, and `layout` lies in it.
    pub fn off_middle(&self, manifold: usize, layout: &Layout) -> f64 {
        let (second, loops) =
            (self.job.manifolds.len() - 1, |m| layout.loops.iter().filter(|l| l.manifold == m).count());
        let Some((room, at, inward)) = manifold_place(&self.job, manifold) else { return 0.0 };
        let outline = &self.job.rooms[room].outline;
        let along = |p: &Point| (p[0] - at[0]) * inward[1] - (p[1] - at[1]) * inward[0];
        let first_side = outline.iter().map(along).sum::<f64>().signum();
        let lane_m = self.job.rules.lane_spacing_m.max(self.job.rules.min_gap_m);
        -first_side * lane_m * (loops(manifold) as f64 - loops(second) as f64)
    }

    /// The layout in terms of the original job, with the loops that are kept.
    pub fn whole(&self, original: &Job, mut layout: Layout, kept: Vec<LaidLoop>) -> Layout {
        // ports count from the left as one faces the manifold: along its wall against the way its room is looked into
        let along_wall = |l: &LaidLoop| {
            let Some((_, place, inward)) = manifold_place(&self.job, l.manifold) else { return 0.0 };
            let ends = [l.points.first(), l.points.last()].into_iter().flatten();
            -ends.map(|p| (p[0] - place[0]) * inward[1] - (p[1] - place[1]) * inward[0]).sum::<f64>()
        };
        for l in layout.loops.iter_mut().filter(|l| self.necks[l.manifold] > 0.0) {
            let Some((.., inward)) = manifold_place(&self.job, l.manifold) else { continue };
            let depth = self.necks[l.manifold];
            let back = |p: Option<&Point>| p.map(|p| [0, 1].map(|k| p[k] - inward[k] * depth));
            let (first, last) = (back(l.corners.first()), back(l.corners.last()));
            let corners = first.into_iter().chain(l.corners.iter().copied()).chain(last).collect();
            *l = l.rerouted(&self.job, corners, l.leader_length_m + 2.0 * depth);
        }
        layout.loops.sort_by(|a, b| {
            let of = |l: &LaidLoop| (self.manifolds[l.manifold], self.job.rooms[l.room].level_id.clone());
            of(a).cmp(&of(b)).then(along_wall(a).total_cmp(&along_wall(b)))
        });
        let mut numbers: BTreeMap<LoopKey, usize> = BTreeMap::new();
        let mut pieces = vec![0; original.rooms.len()];
        let mut ports = vec![0; original.manifolds.len()];
        for l in &mut layout.loops {
            let key = LoopKey { room: l.room, piece: l.piece };
            l.room = self.rooms[l.room];
            l.piece = *numbers.entry(key).or_insert_with(|| {
                pieces[l.room] += 1;
                pieces[l.room] - 1
            });
            l.stretches.iter_mut().for_each(|s| s.room = self.rooms[s.room]);
            l.manifold = self.manifolds[l.manifold];
            // the ports of locked loops are theirs
            ports[l.manifold] += 1;
            while kept.iter().any(|k| k.manifold == l.manifold && k.port == ports[l.manifold]) {
                ports[l.manifold] += 1;
            }
            l.port = ports[l.manifold];
            for (room, metres) in std::mem::take(&mut l.leaders_in) {
                if !l.heats(self.rooms[room]) {
                    *l.leaders_in.entry(self.rooms[room]).or_default() += metres;
                }
            }
        }
        let shut_in = !kept.is_empty();
        layout.loops.extend(kept);
        layout.loops.sort_by_key(|l| (l.manifold, l.port));
        let laid = |room: usize| layout.loops.iter().any(|l| l.heats(room));
        let mut problems = Vec::new();
        for mut p in layout.problems {
            match &mut p {
                Problem::NoManifold { room }
                | Problem::NoWay { room }
                | Problem::Blocked { room, .. }
                | Problem::ByLeaders { room }
                | Problem::ShutIn { room }
                | Problem::LatticeIdle { room }
                | Problem::LeaderTooLong { room, .. }
                | Problem::OverLimit { room, .. } => *room = self.rooms[*room],
                Problem::ManifoldUnused { manifold } => *manifold = self.manifolds[*manifold],
                // told of the whole job
                Problem::Ports { .. } | Problem::KeptIdle { .. } | Problem::SplitIdle { .. } => {}
            }
            if let Problem::NoWay { room } | Problem::NoManifold { room } = p
                && shut_in
                && !original.manifolds.is_empty()
            {
                p = Problem::ShutIn { room };
            }
            // one side of a manifold may have nothing to do
            if matches!(p, Problem::ManifoldUnused { manifold } if layout.loops.iter().any(|l| l.manifold == manifold))
            {
                continue;
            }
            // a part of a room that its leaders fill needs no word when another part has a loop
            let told = matches!(p, Problem::ByLeaders { room } if laid(room));
            if !told && !problems.contains(&p) {
                problems.push(p);
            }
        }
        Layout { loops: layout.loops, problems }
    }
}

/// The directions along and across a room's longest wall.
fn wall_axes(outline: &[Point]) -> [Point; 2] {
    let longest = outline::sides(outline).max_by(|a, b| distance(a.0, a.1).total_cmp(&distance(b.0, b.1)));
    let [x, y] = longest.map_or([1.0, 0.0], |(a, b)| {
        let l = distance(a, b).max(1e-9);
        [(b[0] - a[0]) / l, (b[1] - a[1]) / l]
    });
    [[x, y], [-y, x]]
}

/// The manifold on that wall of a room on which its place lies.
pub(crate) fn hang(room: &Room, manifold: &Manifold, place: Point, inward: Point) -> Option<Manifold> {
    let edge = plan::edges(room).into_iter().find(|e| {
        let n = e.inward();
        n[0] * inward[0] + n[1] * inward[1] > 0.99 && crate::geometry::segment::to_segment(place, e.a, e.b) < 2e-3
    })?;
    let along = distance(edge.a, place).min(edge.length());
    let offset_m = if edge.reversed { edge.length() - along } else { along };
    Some(Manifold { room_id: room.id.clone(), edge: edge.index, offset_m, ..manifold.clone() })
}

/// Middle and half width of every opening of a room.
fn openings_of(room: &Room) -> impl Iterator<Item = (Point, f64)> + '_ {
    let edges = plan::edges(room);
    room.openings.iter().filter(|o| o.kind != OpeningKind::RoofWindow).filter_map(move |o| {
        let edge = edges.iter().find(|e| e.index == o.edge)?;
        let (s, t) = edge.stretch(o.offset_m, o.width_m);
        Some((edge.at(f64::midpoint(s, t)), o.width_m / 2.0))
    })
}

/// The two ends on the outline of the straight through a point within or on it.
fn across(outline: &[Point], through: Point, along: Point) -> Option<(Point, Point)> {
    let hits: Vec<f64> = shape::crossings(outline, through, along).collect();
    let on = hits.iter().any(|t| t.abs() < 1e-6).then_some(0.0);
    let nearest =
        |sign: f64| hits.iter().copied().filter(|t| t * sign > 1e-6).min_by(|x, y| x.abs().total_cmp(&y.abs()));
    let (up, down) = match (nearest(1.0), nearest(-1.0)) {
        (Some(up), down) => (up, on.or(down)?),
        (None, down) => (on?, down?),
    };
    Some(([0, 1].map(|k| through[k] + along[k] * down), [0, 1].map(|k| through[k] + along[k] * up)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, doorway, job_of, manifold};

    #[test]
    fn a_straight_is_cut_off_at_the_walls() {
        let l = [[0.0, 0.0], [6.0, 0.0], [6.0, 3.0], [3.0, 3.0], [3.0, 5.0], [0.0, 5.0]];
        assert_eq!(across(&l, [1.0, 1.0], [0.0, 1.0]), Some(([1.0, 0.0], [1.0, 5.0])));
        assert_eq!(across(&l, [4.0, 3.0], [0.0, 1.0]), Some(([4.0, 0.0], [4.0, 3.0])));
        assert_eq!(across(&l, [9.0, 1.0], [0.0, 1.0]), None);
    }

    #[test]
    fn two_manifolds_share_a_room_and_keep_their_loops_apart() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 12.0, 6.0)]);
        job.manifolds.push(manifold("m", "A", "a", 0, 2.0));
        job.manifolds.push(manifold("n", "B", "a", 0, 10.0));
        let layout = crate::layout::lay_out(&job, &Plan::of(&job));
        assert!(layout.problems.is_empty(), "{:?}", layout.problems);
        let metres = |m: usize| layout.loops.iter().filter(|l| l.manifold == m).map(|l| l.length_m).sum::<f64>();
        assert!((metres(0) / metres(1) - 1.0).abs() < 0.05);
        let mut pieces: Vec<usize> = layout.loops.iter().map(|l| l.piece).collect();
        pieces.sort_unstable();
        assert_eq!(pieces, (0..layout.loops.len()).collect::<Vec<_>>(), "numbered through");
    }

    #[test]
    fn a_split_parts_the_floor_among_its_loops() {
        let mut room = box_room("a", 0.0, 0.0, 9.0, 6.0);
        let split = [[3.0, 0.0], [3.0, 6.0]];
        room.floor.as_mut().expect("heated").splits = vec![split];
        let mut job = job_of(vec![room]);
        job.manifolds.push(manifold("m", "A", "a", 0, 6.0));
        let layout = crate::layout::lay_out(&job, &Plan::of(&job));
        assert!(layout.problems.is_empty(), "{:?}", layout.problems);
        assert!(crate::layout::rules::audit::audit(&job, &Plan::of(&job), &layout.loops).is_empty());
        let crossing = |l: &LaidLoop| {
            let over = |w: &[Point]| (w[0][0] < 3.0) != (w[1][0] < 3.0);
            l.points.windows(2).filter(|w| over(w)).map(|w| f64::midpoint(w[0][1], w[1][1])).collect::<Vec<_>>()
        };
        for l in &layout.loops {
            let left = l.points.iter().filter(|p| p[0] < 2.9).count() > l.points.len() / 2;
            let over = crossing(l);
            assert_eq!(over.len(), if left { 2 } else { 0 }, "leaders only");
            assert!(over.iter().all(|y| *y < 1.2), "at the manifold's end of the split: {over:?}");
        }
        assert!(layout.loops.iter().any(|l| !crossing(l).is_empty()));
        // a split that cannot be made is left out and told: beside the room, and through a doorway
        let door = doorway("d", 0, 2.5, 1.0);
        for (split, opening) in [([[50.0, 0.0], [50.0, 6.0]], None), (split, Some(door))] {
            job.rooms[0].floor.as_mut().expect("heated").splits = vec![split; 2];
            job.rooms[0].openings = opening.into_iter().collect();
            let layout = crate::layout::lay_out(&job, &Plan::of(&job));
            assert_eq!(layout.loops.len(), 3, "as many as the limit asks for");
            assert_eq!(layout.problems, [Problem::SplitIdle { room: 0 }]);
        }
    }

    #[test]
    fn more_loops_and_another_manifold_when_they_are_wanted() {
        let mut hall = box_room("hall", 0.0, 0.0, 4.0, 5.0);
        hall.openings = vec![doorway("d", 1, 2.0, 0.9)];
        let mut far = box_room("far", 8.2, 0.0, 12.0, 5.0);
        far.openings = vec![doorway("e", 3, 2.0, 0.9)];
        let mut job = job_of(vec![hall, box_room("mid", 4.1, 0.0, 8.1, 5.0), far]);
        job.manifolds = vec![manifold("m", "A", "hall", 3, 2.5), manifold("n", "B", "far", 1, 2.5)];
        let of_mid = |job: &Job| {
            let layout = crate::layout::lay_out(job, &Plan::of(job));
            assert!(crate::layout::rules::audit::audit(job, &Plan::of(job), &layout.loops).is_empty());
            let own: Vec<usize> = layout.loops.iter().filter(|l| l.room == 1).map(|l| l.manifold).collect();
            own
        };
        assert_eq!(of_mid(&job).len(), 2);
        for (id, index) in [("m", 0), ("n", 1)] {
            job.rooms[1].floor.as_mut().expect("heated").manifold_id = Some(id.into());
            assert_eq!(of_mid(&job), [index; 2]);
        }
        job.rooms[1].floor.as_mut().expect("heated").loops = Some(3);
        assert_eq!(of_mid(&job), [1, 1, 1]);
    }

    #[test]
    fn leaders_cross_a_corridor_rather_than_go_round() {
        let mut corridor = box_room("corridor", 0.0, 0.0, 16.0, 2.0);
        // doors opposite the manifold, on both of its sides
        corridor.openings = vec![doorway("d", 2, 6.0, 0.9), doorway("e", 2, 9.0, 0.9)];
        let rooms = vec![corridor, box_room("left", 0.0, 2.1, 7.9, 5.0), box_room("right", 8.0, 2.1, 16.0, 5.0)];
        let mut job = job_of(rooms);
        job.manifolds.push(manifold("m", "A", "corridor", 0, 8.0));
        let layout = crate::layout::lay_out(&job, &Plan::of(&job));
        for l in layout.loops.iter().filter(|l| l.room > 0) {
            assert!(l.leader_length_m < 12.0, "{}", l.leader_length_m);
        }
        let ports: Vec<u32> = layout.loops.iter().map(|l| l.port).collect();
        assert_eq!(ports, (1..=ports.len() as u32).collect::<Vec<_>>());
    }
}
