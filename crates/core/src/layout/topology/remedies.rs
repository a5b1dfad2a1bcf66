//! What would bring tube to a room that has none, or make its leaders shorter: each change laid out in earnest before it is
//! offered, with what it costs.
//!
//! ```
//! use fuoco_core::job::CheckedJob;
//! use fuoco_core::layout::topology::remedies::{RemedyChange, remedies};
//! use fuoco_core::samples::{box_room, job_of, manifold};
//! // two rooms and no door between them
//! let mut job = job_of(vec![box_room("hall", 0.0, 0.0, 5.0, 4.0), box_room("study", 5.12, 0.0, 9.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "hall", 0, 2.5));
//! let found = remedies(&CheckedJob::new(job)?, Some("study"))?;
//! assert_eq!(found.before.bare_rooms, 1);
//! assert!(found.remedies.iter().any(|r| r.change == RemedyChange::Sleeve && r.after.bare_rooms == 0));
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::geometry::distance;
use crate::geometry::segment::to_segment;
use crate::job::ids;
use crate::job::{CheckedJob, Job, Manifold, Opening, OpeningKind, Point, Riser, Room};
use crate::layout::rules::objective::LayoutFigures;
use crate::layout::topology::parts::Parted;
use crate::layout::topology::places::{places, spots_of};
use crate::layout::topology::risers::one_way_m;
use crate::layout::topology::tree::Tree;
use crate::layout::{Problem, lay_out, place_of};
use crate::plan::Plan;
use crate::plan::walls::Behind;
use crate::units::Quantity;
use crate::watch::Watch;
use serde::{Deserialize, Serialize};

/// So many changes are laid out at most: the budget of a search.
const MOST_TRIED: usize = 24;
/// So many of one kind are told, and so many in all.
const TOLD_OF_KIND: usize = 2;
const TOLD: usize = 6;
/// A sleeve keeps that distance from corners, openings and what stands at the wall, m.
const BESIDE_M: f64 = 0.15;
/// Height of a sleeve: it lies in the floor, m.
const SLEEVE_HEIGHT_M: f64 = 0.1;
/// From its end to the first tube, m.
const TO_JAMB_M: f64 = 0.08;
/// Widest sleeve that is proposed, m.
const WIDEST_M: f64 = 1.2;
/// Loops up to this length are proposed to be shared, m.
const SHARED_M: f64 = 60.0;
/// A doorway is widened by so much at once, m.
const WIDER_M: [f64; 2] = [0.3, 0.6];

/// What is changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RemedyChange {
    /// A sleeve through the wall to a neighbour.
    Sleeve,
    /// A sleeve through the floor from the manifold's level.
    Riser,
    /// One loop with a neighbour, in one thermostat zone.
    SharedLoop,
    /// A wider opening.
    WiderOpening,
    /// Another spacing in the room.
    Spacing,
    /// A manifold more.
    SecondManifold,
    /// More port pairs.
    Ports,
}

impl RemedyChange {
    /// The tube that a crew would rather lay than make the change, m: what it adds to the objective of the layout.
    fn worth_m(self) -> f64 {
        match self {
            RemedyChange::SharedLoop => 0.0,
            RemedyChange::Ports => 2.0,
            RemedyChange::Sleeve | RemedyChange::Riser => 5.0,
            RemedyChange::WiderOpening => 10.0,
            // the room gets less, or the water warmer
            RemedyChange::Spacing => 20.0,
            RemedyChange::SecondManifold => 80.0,
        }
    }
}

/// A change that helps, and what comes out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LayoutRemedy {
    /// What is changed.
    pub change: RemedyChange,
    /// What is to be done, in the job's units.
    pub message: String,
    /// The place on the plan, m.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[f64; 2]>))]
    pub at: Option<Point>,
    /// The layout with it.
    pub after: LayoutFigures,
    /// Rooms as they then are, to take the place of those of the same id.
    pub rooms: Vec<Room>,
    /// The same of manifolds; one whose id the job lacks is new.
    pub manifolds: Vec<Manifold>,
    /// The rule below which length loops are shared, where it is changed, m.
    pub share_below_m: Option<f64>,
}

/// What helps a room or a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LayoutRemedies {
    /// The layout as it is.
    pub before: LayoutFigures,
    /// Best first.
    pub remedies: Vec<LayoutRemedy>,
}

/// A change before it is tried.
struct Candidate {
    change: RemedyChange,
    message: String,
    at: Option<Point>,
    job: Job,
}

/// What would help a room; without one, sleeves and risers that shorten leaders by more than the house rule asks.
///
/// # Errors
/// When the room is unknown, or has no heated floor.
pub fn remedies(job: &CheckedJob, room_id: Option<&str>) -> Result<LayoutRemedies, FieldError> {
    let plan = Plan::of(job);
    let room = room_id
        .map(|id| {
            let found = job.rooms.iter().position(|r| r.id == id);
            let room = found.ok_or_else(|| FieldError::new("room_id", "names no room of this job"))?;
            job.rooms[room]
                .heated_floor()
                .ok_or_else(|| FieldError::new("room_id", "names a room without a heated floor"))?;
            Ok(room)
        })
        .transpose()?;
    let laid = lay_out(job, &plan);
    let before = LayoutFigures::of(job, &plan, &laid);
    // a room that asks for tube is helped by what brings it there
    let asks = room.filter(|&r| !laid.loops.iter().any(|l| l.heats(r)));
    let search = Search { job, plan: &plan };
    let candidates = match room {
        Some(room) => search.for_room(room),
        None => search.shorter_ways(),
    };
    let mut out: Vec<LayoutRemedy> = Vec::new();
    for c in candidates.into_iter().take(MOST_TRIED) {
        let Ok(changed) = CheckedJob::new(c.job) else { continue };
        let plan = Plan::of(&changed);
        let layout = lay_out(&changed, &plan);
        if asks.is_some_and(|r| !layout.loops.iter().any(|l| l.heats(r))) {
            continue;
        }
        let after = LayoutFigures::of(&changed, &plan, &layout);
        // the house rule speaks of one way; leaders are two
        let saves_m = room.is_none().then_some(2.0 * job.rules.sleeve_saves_m);
        if helps(&before, &after, saves_m) {
            out.push(as_remedy(job, &changed, c.change, c.message, c.at, after));
        }
    }
    let cost_m = |r: &LayoutRemedy| r.after.cost_m() + r.change.worth_m();
    out.sort_by(|a, b| cost_m(a).total_cmp(&cost_m(b)));
    let mut told: Vec<LayoutRemedy> = Vec::new();
    for r in out {
        let same = told.iter().any(|t| t.message == r.message);
        if !same && told.len() < TOLD && told.iter().filter(|t| t.change == r.change).count() < TOLD_OF_KIND {
            told.push(r);
        }
    }
    Ok(LayoutRemedies { before, remedies: told })
}

/// Whether a change is worth it: a fault is gone; or, where only that is asked, leaders are shorter by
/// `saves_m` and nothing falls for it.
fn helps(before: &LayoutFigures, after: &LayoutFigures, saves_m: Option<f64>) -> bool {
    match saves_m {
        Some(saves_m) => after.faults() <= before.faults() && after.leaders_m < before.leaders_m - saves_m.max(1e-6),
        None => after.faults() < before.faults() && after.is_better_than(before),
    }
}

fn as_remedy(
    before: &Job,
    after: &Job,
    change: RemedyChange,
    message: String,
    at: Option<Point>,
    figures: LayoutFigures,
) -> LayoutRemedy {
    let share = after.rules.share_below_m;
    LayoutRemedy {
        change,
        message,
        at,
        after: figures,
        rooms: after.rooms.iter().filter(|r| !before.rooms.contains(r)).cloned().collect(),
        manifolds: after.manifolds.iter().filter(|m| !before.manifolds.contains(m)).cloned().collect(),
        share_below_m: (share != before.rules.share_below_m).then_some(share),
    }
}

struct Search<'a> {
    job: &'a Job,
    plan: &'a Plan,
}

impl Search<'_> {
    /// Changes that might help a room, the least work first.
    fn for_room(&self, room: usize) -> Vec<Candidate> {
        let mut out = self.ports();
        out.extend(self.spacings(room));
        out.extend(self.shared(room));
        out.extend(self.sleeves(room));
        out.extend(self.risers(room));
        out.extend(self.wider(room));
        out.truncate(MOST_TRIED - TOLD_OF_KIND);
        out.extend(self.second_manifold(room));
        out
    }

    /// Sleeves and risers by which leaders might be shorter, those of the rooms with the longest ways first.
    fn shorter_ways(&self) -> Vec<Candidate> {
        let parted = Parted::uncut(self.job, self.plan, &Watch::default());
        let tree = Tree::of(&parted, &mut vec![]);
        let heated = |r: &usize| self.job.rooms[*r].heated_floor().is_some() && tree.way[*r] > 0.0;
        let mut rooms: Vec<usize> = (0..self.job.rooms.len()).filter(heated).collect();
        rooms.sort_by(|&a, &b| tree.way[b].total_cmp(&tree.way[a]).then(a.cmp(&b)));
        let of_room = |room: usize| self.sleeves(room).into_iter().chain(self.risers(room).into_iter().take(1));
        rooms.into_iter().flat_map(of_room).collect()
    }

    fn name(&self, room: usize) -> &str {
        &self.job.rooms[room].name
    }

    fn show(&self, quantity: Quantity, si: f64) -> String {
        self.job.site.units.show(quantity, si)
    }

    fn changed(
        &self,
        change: RemedyChange,
        message: String,
        at: Option<Point>,
        with: impl FnOnce(&mut Job),
    ) -> Candidate {
        let mut job = self.job.clone();
        with(&mut job);
        Candidate { change, message, at, job }
    }

    /// Sleeves from each neighbour: where its wall is nearest to a manifold, and in the middle of its clear stretches.
    fn sleeves(&self, room: usize) -> Vec<Candidate> {
        let (job, plan) = (self.job, self.plan);
        let here = &job.rooms[room];
        let tubes = 2.0 * self.loops(room) + 2.0;
        let wanted_m = (tubes * job.rules.lane_spacing_m.max(job.rules.min_gap_m) + 2.0 * TO_JAMB_M).min(WIDEST_M);
        let mut out: Vec<(f64, Candidate)> = Vec::new();
        for piece in &plan.at_the_floor[room] {
            let Behind::Room { index: other, thickness_m } = piece.behind else { continue };
            let (Some(edge), true) = (plan.edge(room, piece.edge), job.rooms[other].level_id == here.level_id) else {
                continue;
            };
            for (from, to) in self.clear(room, other, edge, (piece.from_m, piece.to_m)) {
                let width_m = (wanted_m.min(to - from) * 100.0).floor() / 100.0;
                if width_m < 0.2 {
                    continue;
                }
                let half = width_m / 2.0;
                let near = |s: &f64| self.to_manifold(&here.level_id, edge.at(*s));
                let ends = [from + half, to - half];
                let nearest = ends.into_iter().min_by(|a, b| near(a).total_cmp(&near(b)));
                for at in nearest.into_iter().chain([f64::midpoint(from, to)]) {
                    let low = at - half;
                    let offset_m = if edge.reversed { edge.length() - low - width_m } else { low };
                    let offset_m = (offset_m * 1000.0).round() / 1000.0;
                    let message = format!(
                        "A sleeve {} wide through the wall of {} between {} and {}, its middle {} from the wall's end.",
                        self.show(Quantity::Size, width_m),
                        self.show(Quantity::Size, thickness_m),
                        self.name(other),
                        self.name(room),
                        self.show(Quantity::Length, at.min(edge.length() - at)),
                    );
                    let id = ids::free(job, "sleeve");
                    let c = self.changed(RemedyChange::Sleeve, message, Some(edge.at(at)), |j| {
                        j.rooms[room].openings.push(sleeve(id, edge.index, offset_m, width_m));
                    });
                    out.push((near(&at), c));
                }
            }
        }
        out.sort_by(|a, b| a.0.total_cmp(&b.0));
        out.into_iter().map(|c| c.1).collect()
    }

    /// Stretches of a wall between two rooms that are clear of openings of both and of what stands at it.
    fn clear(&self, room: usize, other: usize, edge: &crate::plan::edge::Edge, span: (f64, f64)) -> Vec<(f64, f64)> {
        let mut taken: Vec<(f64, f64)> = Vec::new();
        let along = |p: Point| {
            let d = edge.direction();
            (p[0] - edge.a[0]) * d[0] + (p[1] - edge.a[1]) * d[1]
        };
        for r in [room, other] {
            for o in &self.job.rooms[r].openings {
                let Some(wall) = self.plan.edge(r, o.edge) else { continue };
                let (s, t) = wall.stretch(o.offset_m, o.width_m);
                let ends = [wall.at(s), wall.at(t)];
                if ends.iter().all(|p| to_segment(*p, edge.a, edge.b) < crate::plan::walls::THICKEST_WALL_M) {
                    let [a, b] = ends.map(along);
                    taken.push((a.min(b), a.max(b)));
                }
            }
            for k in &self.job.rooms[r].keep_outs {
                let corners = [[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]];
                if corners.iter().any(|p| to_segment(*p, edge.a, edge.b) < 0.5) {
                    let places = corners.map(along);
                    let low = places.iter().copied().fold(f64::INFINITY, f64::min);
                    taken.push((low, places.iter().copied().fold(f64::NEG_INFINITY, f64::max)));
                }
            }
        }
        taken.sort_by(|a, b| a.0.total_cmp(&b.0));
        let mut out = Vec::new();
        let mut from = span.0 + BESIDE_M;
        for (low, high) in taken.into_iter().chain([(span.1, span.1)]) {
            let to = low.min(span.1) - BESIDE_M;
            if to > from {
                out.push((from, to));
            }
            from = from.max(high + BESIDE_M);
        }
        out
    }

    /// Sleeves through the floor, nearest to a manifold of another level first.
    fn risers(&self, room: usize) -> Vec<Candidate> {
        let job = self.job;
        let here = &job.rooms[room];
        let mut out: Vec<(f64, Candidate)> = Vec::new();
        for (m, manifold) in job.manifolds.iter().enumerate() {
            if job.room(&manifold.room_id).is_none_or(|r| r.level_id == here.level_id) {
                continue;
            }
            for spot in spots_of(here, manifold) {
                let riser =
                    Riser { room_id: spot.room_id.clone(), edge: spot.edge, offset_m: spot.offset_m, tube_m: None };
                let Some((_, at, _)) = place_of(job, &spot) else { continue };
                let way_m = one_way_m(job, m, &riser);
                let message = format!(
                    "A sleeve through the floor of {}: the tubes of manifold {} come up at its wall, {} each way.",
                    here.name,
                    manifold.letter,
                    self.show(Quantity::Tube, way_m),
                );
                let c = self.changed(RemedyChange::Riser, message, Some(at), |j| j.manifolds[m].risers.push(riser));
                out.push((way_m, c));
            }
        }
        out.sort_by(|a, b| a.0.total_cmp(&b.0));
        out.into_iter().map(|c| c.1).take(3).collect()
    }

    /// One loop with each neighbour to which a doorway leads.
    fn shared(&self, room: usize) -> Vec<Candidate> {
        let job = self.job;
        let tube = |r: usize| job.rooms[r].heated_floor().map(|f| f.tube_id.as_str());
        let beside = self.plan.passages.iter().filter_map(|p| {
            let side = p.rooms.iter().position(|&r| r == room)?;
            Some(p.rooms[1 - side])
        });
        let fits = |other: &usize| tube(*other).is_some() && tube(*other) == tube(room);
        let share = |other: usize| {
            let zone = [room, other].iter().find_map(|&r| job.rooms[r].zone.clone());
            let zone = zone.unwrap_or_else(|| self.name(room).chars().take(40).collect());
            let message = format!("One loop for {} and {}, in one thermostat zone.", self.name(room), self.name(other));
            self.changed(RemedyChange::SharedLoop, message, None, |j| {
                [room, other].into_iter().for_each(|r| j.rooms[r].zone = Some(zone.clone()));
                j.rules.share_below_m = j.rules.share_below_m.max(SHARED_M);
            })
        };
        beside.filter(fits).map(share).collect()
    }

    /// Every opening on the room's own way wider, where its wall allows.
    fn wider(&self, room: usize) -> Vec<Candidate> {
        let job = self.job;
        let mut out = Vec::new();
        let ways = self.plan.passages.iter().filter(|p| p.rooms.contains(&room));
        for (passage, by) in ways.flat_map(|p| WIDER_M.map(|by| (p, by))) {
            let owner = passage.rooms[0];
            let Some(o) = job.rooms[owner].openings.iter().position(|o| o.id == passage.id) else { continue };
            let opening = &job.rooms[owner].openings[o];
            let kind = if passage.is_sleeve { "sleeve" } else { "doorway" };
            let message = format!(
                "A wider {kind} between {} and {}: {} instead of {}.",
                self.name(passage.rooms[0]),
                self.name(passage.rooms[1]),
                self.show(Quantity::Length, opening.width_m + by),
                self.show(Quantity::Length, opening.width_m),
            );
            let at = [0, 1].map(|k| f64::midpoint(passage.near[0][k], passage.near[1][k]));
            out.push(self.changed(RemedyChange::WiderOpening, message, Some(at), |j| {
                let opening = &mut j.rooms[owner].openings[o];
                opening.width_m += by;
                opening.offset_m = (opening.offset_m - by / 2.0).max(0.0);
            }));
        }
        out
    }

    /// The firm's next spacings, wider and tighter.
    fn spacings(&self, room: usize) -> Vec<Candidate> {
        let Some(floor) = self.job.rooms[room].heated_floor().filter(|f| f.lattice.is_none()) else { return vec![] };
        let now = floor.spacing_core_m;
        let mut offered = self.job.rules.spacings_m.clone();
        offered.sort_by(|a, b| (a - now).abs().total_cmp(&(b - now).abs()));
        let others = offered.into_iter().filter(|s| (s - now).abs() > 1e-6).take(3);
        let lay = |spacing_m: f64| {
            let message = format!(
                "{} laid at {} instead of {}. Its water must be warmer where that is wider.",
                self.name(room),
                self.show(Quantity::Size, spacing_m),
                self.show(Quantity::Size, now)
            );
            self.changed(RemedyChange::Spacing, message, None, |j| {
                if let Some(f) = &mut j.rooms[room].floor {
                    f.spacing_edge_m = f.spacing_edge_m.min(spacing_m);
                    f.spacing_core_m = spacing_m;
                }
            })
        };
        others.map(lay).collect()
    }

    /// As many port pairs as the floor needs, up to what manifolds have.
    fn ports(&self) -> Vec<Candidate> {
        let layout = lay_out(self.job, self.plan);
        let short = layout.problems.iter().filter_map(|p| match p {
            Problem::Ports { manifold, needed } if *needed <= 24 => Some((*manifold, *needed as u32)),
            _ => None,
        });
        let wider = |(m, needed): (usize, u32)| {
            let message = format!("Manifold {} with {needed} port pairs.", self.job.manifolds[m].letter);
            self.changed(RemedyChange::Ports, message, None, |j| j.manifolds[m].ports = needed)
        };
        short.map(wider).collect()
    }

    /// A manifold more at the best place for it, and in the room itself.
    fn second_manifold(&self, room: usize) -> Vec<Candidate> {
        let Ok(checked) = CheckedJob::new(self.job.clone()) else { return vec![] };
        let best = places(&checked, None).unwrap_or_default().into_iter().take(1);
        let best = best.map(|p| (p.room_id, p.edge, p.offset_m));
        let letters = ('A'..='Z').map(|c| c.to_string());
        let used = |l: &String| self.job.manifolds.iter().any(|m| m.letter == *l);
        let Some(letter) = letters.into_iter().find(|l| !used(l)) else { return vec![] };
        let new = |(room_id, edge, offset_m): (String, usize, f64)| Manifold {
            id: ids::free(self.job, "manifold"),
            letter: letter.clone(),
            room_id,
            edge,
            offset_m,
            ports: 12,
            risers: vec![],
            valve_table: vec![],
        };
        let here = spots_of(&self.job.rooms[room], &new((self.job.rooms[room].id.clone(), 0, 0.0)));
        let hang = |manifold: Manifold| {
            let room = self.job.room(&manifold.room_id).map_or("", |r| r.name.as_str());
            let at = place_of(self.job, &manifold).map(|p| p.1);
            let message = format!("A manifold {letter} more, in {room}.");
            self.changed(RemedyChange::SecondManifold, message, at, |j| j.manifolds.push(manifold))
        };
        best.map(new).chain(here.into_iter().take(1)).map(hang).collect()
    }

    /// Loops that a room is likely to need.
    fn loops(&self, room: usize) -> f64 {
        let Some(floor) = self.job.rooms[room].heated_floor() else { return 1.0 };
        let limit = crate::layout::limit_of(self.job, room);
        (self.plan.heatable_m2[room] / floor.spacing_core_m / limit).ceil().max(1.0)
    }

    fn to_manifold(&self, level_id: &str, p: Point) -> f64 {
        let places = self.job.manifolds.iter().filter_map(|m| place_of(self.job, m));
        let here = places.filter(|(room, ..)| self.job.rooms[*room].level_id == level_id);
        here.map(|(_, at, _)| distance(at, p)).fold(f64::INFINITY, f64::min)
    }
}

fn sleeve(id: String, edge: usize, offset_m: f64, width_m: f64) -> Opening {
    Opening {
        id,
        kind: OpeningKind::Sleeve,
        edge,
        offset_m,
        width_m,
        height_m: SLEEVE_HEIGHT_M,
        sill_m: 0.0,
        u: None,
        g: None,
        construction_id: None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::job::Level;
    use crate::samples::{box_room, cabinet, doorway, job_of, manifold};

    fn found(job: &Job, room: Option<&str>) -> LayoutRemedies {
        remedies(&CheckedJob::new(job.clone()).expect("sound"), room).expect("searched")
    }

    /// The job with a remedy taken, as who takes it does.
    fn taken(job: &Job, remedy: &LayoutRemedy) -> CheckedJob {
        let mut job = job.clone();
        for room in &remedy.rooms {
            let at = job.rooms.iter().position(|r| r.id == room.id).expect("a room of the job");
            job.rooms[at] = room.clone();
        }
        for manifold in &remedy.manifolds {
            match job.manifolds.iter().position(|m| m.id == manifold.id) {
                Some(at) => job.manifolds[at] = manifold.clone(),
                None => job.manifolds.push(manifold.clone()),
            }
        }
        job.rules.share_below_m = remedy.share_below_m.unwrap_or(job.rules.share_below_m);
        CheckedJob::new(job).expect("sound")
    }

    fn apart() -> Job {
        let mut study = box_room("study", 5.12, 0.0, 9.0, 4.0);
        study.keep_outs.push(cabinet("shelf", 5.12, 0.0, 5.6, 1.6));
        let mut job = job_of(vec![box_room("hall", 0.0, 0.0, 5.0, 4.0), study]);
        job.manifolds.push(manifold("m", "A", "hall", 0, 2.5));
        job
    }

    #[test]
    fn what_is_offered_is_what_comes_out() {
        let job = apart();
        let found = found(&job, Some("study"));
        let changes: Vec<RemedyChange> = found.remedies.iter().map(|r| r.change).collect();
        assert!(
            changes.contains(&RemedyChange::Sleeve) && changes.contains(&RemedyChange::SecondManifold),
            "{changes:?}"
        );
        for r in &found.remedies {
            let after = taken(&job, r);
            let plan = Plan::of(&after);
            let layout = lay_out(&after, &plan);
            assert_eq!(LayoutFigures::of(&after, &plan, &layout), r.after, "{}", r.message);
            assert!(layout.loops.iter().any(|l| l.heats(1)), "{}", r.message);
            assert!(r.after.bare_rooms < found.before.bare_rooms);
        }
        // clear of the shelf
        let sleeve = found.remedies.iter().find(|r| r.change == RemedyChange::Sleeve).expect("a sleeve");
        assert!(sleeve.at.expect("a place")[1] > 1.6 && sleeve.manifolds.is_empty() && sleeve.rooms.len() == 1);
    }

    #[test]
    fn a_doorway_too_narrow_for_its_tubes_has_several_ways_out() {
        let mut job = apart();
        job.rooms[0].openings.push(doorway("d", 1, 2.5, 0.1));
        let found = found(&job, Some("study"));
        let changes: Vec<RemedyChange> = found.remedies.iter().map(|r| r.change).collect();
        assert!(found.before.bare_rooms == 1 && found.remedies.len() >= 3, "{changes:?}");
        assert!(changes.contains(&RemedyChange::WiderOpening), "{changes:?}");
    }

    #[test]
    fn a_room_above_is_reached_through_its_floor() {
        let mut job = job_of(vec![box_room("cellar", 0.0, 0.0, 5.0, 4.0), box_room("living", 0.0, 0.0, 5.0, 4.0)]);
        job.levels.push(Level { id: "up".into(), name: "Ground floor".into(), floor_m: 2.7, underlay: None });
        job.rooms[1].level_id = "up".into();
        job.manifolds.push(manifold("m", "A", "cellar", 0, 1.0));
        let found = found(&job, Some("living"));
        let riser = found.remedies.iter().find(|r| r.change == RemedyChange::Riser).expect("a riser");
        assert!(riser.manifolds[0].risers.len() == 1 && riser.after.bare_rooms == 0);
    }

    #[test]
    fn a_sleeve_that_saves_leaders_is_found_for_the_whole_job() {
        // round through two doors at the far end, or straight through the wall
        let mut hall = box_room("hall", 0.0, 0.0, 4.0, 9.0);
        hall.openings.push(doorway("d", 1, 8.0, 0.8));
        let mut passage = box_room("passage", 4.12, 7.5, 12.0, 9.0);
        passage.openings.push(doorway("e", 0, 6.5, 0.8));
        let mut job = job_of(vec![hall, passage, box_room("study", 4.12, 0.0, 12.0, 7.38)]);
        job.manifolds.push(manifold("m", "A", "hall", 0, 3.0));
        let saving = found(&job, None);
        let best = &saving.remedies[0];
        assert!(best.change == RemedyChange::Sleeve && best.after.leaders_m < saving.before.leaders_m - 10.0);
        job.rules.sleeve_saves_m = 50.0;
        assert!(found(&job, None).remedies.is_empty(), "not worth the drilling");
    }

    #[test]
    fn an_unknown_room_is_refused() {
        let job = CheckedJob::new(apart()).expect("sound");
        assert_eq!(remedies(&job, Some("attic")).expect_err("unknown").field, "room_id");
        let mut cold = apart();
        cold.rooms[1].floor = None;
        let cold = CheckedJob::new(cold).expect("sound");
        assert_eq!(
            remedies(&cold, Some("study")).expect_err("not heated").reason,
            "names a room without a heated floor"
        );
    }
}
