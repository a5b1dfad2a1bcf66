//! The raster of a level: which spot is a cell of which floor, and pictures over it.

use super::sheet::STEP_M;
use crate::geometry::Point;
use crate::geometry::outline::{self, bounds};
use crate::job::Job;
use serde::{Deserialize, Serialize};
use std::ops::Range;

/// More cells than this are not mapped: 2000 m².
const MOST_CELLS: usize = 800_000;
/// A step of pictures' figures, K, unless they lie farther apart; and the figure of what is no floor.
const FINEST_K: f64 = 0.1;
pub(crate) const NO_FLOOR: u8 = 255;

/// Where the spots of a picture lie and what their figures stand for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Raster {
    /// Left lower corner of the first spot, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub origin: Point,
    /// Width and height of a spot, m.
    pub step_m: f64,
    /// Spots in a row.
    pub columns: usize,
    /// Rows, from the lowest y on.
    pub rows: usize,
    /// The figure 0 stands for that, °C …
    pub low_c: f64,
    /// … and each more for so much, K.
    pub per_k: f64,
}

/// Pictures a byte to the spot: the temperature of 0, °C, what each more stands for, K, and the bytes.
pub(crate) fn quantised(pictures: &[&[Option<f32>]]) -> (f64, f64, Vec<Vec<u8>>) {
    let all = pictures.iter().flat_map(|p| p.iter().flatten()).copied();
    let (low, high) = all.fold((f32::MAX, f32::MIN), |(l, h), v| (l.min(v), h.max(v)));
    let low_c = if low <= high { (f64::from(low) * 10.0).floor() / 10.0 } else { 0.0 };
    let per_k = ((f64::from(high) - low_c) / f64::from(NO_FLOOR - 1)).max(FINEST_K);
    let figure = |c: &Option<f32>| c.map_or(NO_FLOOR, |c| ((f64::from(c) - low_c) / per_k).round() as u8);
    (low_c, per_k, pictures.iter().map(|p| p.iter().map(figure).collect()).collect())
}

/// The raster of a level's heated floors.
#[derive(Debug, Clone)]
pub(crate) struct Grid {
    /// Left lower corner, m.
    pub origin: Point,
    pub columns: usize,
    pub rows: usize,
    /// By place on the raster, from the lowest row: its cell.
    pub cell_at: Vec<Option<u32>>,
    /// By cell: its place.
    place: Vec<u32>,
    /// By floor: its cells.
    pub floors: Vec<Range<usize>>,
}

impl Grid {
    /// The raster of those rooms' floors. None where it has too many cells.
    pub fn of(job: &Job, rooms: &[usize]) -> Option<Grid> {
        let corners: Vec<Point> = rooms.iter().flat_map(|&r| job.rooms[r].outline.iter().copied()).collect();
        let [x0, y0, x1, y1] = if corners.is_empty() { [0.0; 4] } else { bounds(&corners) };
        let origin = [x0, y0].map(|v| (v / STEP_M).floor() * STEP_M);
        let size = [x1 - origin[0], y1 - origin[1]].map(|l| (l / STEP_M).ceil().max(0.0) as usize);
        let all = size[0].checked_mul(size[1]).filter(|n| *n <= 16 * MOST_CELLS)?;
        let mut grid =
            Grid { origin, columns: size[0], rows: size[1], cell_at: vec![None; all], place: vec![], floors: vec![] };
        for &r in rooms {
            let (room, first) = (&job.rooms[r], grid.place.len());
            let [x0, y0, x1, y1] = bounds(&room.outline);
            let span = |lo: f64, hi: f64, k: usize| {
                let at = |v: f64| ((v - origin[k]) / STEP_M).clamp(0.0, size[k] as f64);
                at(lo).floor() as usize..at(hi).ceil() as usize
            };
            for j in span(y0, y1, 1) {
                for i in span(x0, x1, 0) {
                    let (place, p) = (j * size[0] + i, grid.middle(j * size[0] + i));
                    let kept_out = room
                        .keep_outs
                        .iter()
                        .any(|o| (o.x0_m..=o.x1_m).contains(&p[0]) && (o.y0_m..=o.y1_m).contains(&p[1]));
                    if !kept_out && grid.cell_at[place].is_none() && outline::within(&room.outline, p) {
                        grid.cell_at[place] = Some(grid.place.len() as u32);
                        grid.place.push(place as u32);
                    }
                }
            }
            grid.floors.push(first..grid.place.len());
        }
        (grid.place.len() <= MOST_CELLS).then_some(grid)
    }

    /// The raster of pictures of it.
    pub fn raster(&self, low_c: f64, per_k: f64) -> Raster {
        Raster { origin: self.origin, step_m: STEP_M, columns: self.columns, rows: self.rows, low_c, per_k }
    }

    /// The cells whose middles lie in an outline.
    pub fn cells_within<'a>(&'a self, outline: &'a [Point]) -> impl Iterator<Item = usize> + 'a {
        let [x0, y0, x1, y1] = bounds(outline);
        let span = |lo: f64, hi: f64, k: usize, size: usize| {
            let at = |v: f64| ((v - self.origin[k]) / STEP_M).clamp(0.0, size as f64);
            at(lo).floor() as usize..at(hi).ceil() as usize
        };
        let columns = span(x0, x1, 0, self.columns);
        let places = span(y0, y1, 1, self.rows).flat_map(move |j| columns.clone().map(move |i| j * self.columns + i));
        let cells = places.filter(|p| outline::within(outline, self.middle(*p)));
        cells.filter_map(|p| self.cell_at.get(p).copied().flatten()).map(|c| c as usize)
    }

    /// How many cells.
    pub fn len(&self) -> usize {
        self.place.len()
    }

    fn middle(&self, place: usize) -> Point {
        let at = [place % self.columns.max(1), place / self.columns.max(1)];
        [0, 1].map(|k| self.origin[k] + (at[k] as f64 + 0.5) * STEP_M)
    }

    /// The next cell of its row and the one in the next row, counted from the first of their floor; itself where there is none.
    pub fn beside(&self, floor: &Range<usize>, cell: usize) -> [usize; 2] {
        let place = self.place[cell] as usize;
        let next = (place % self.columns + 1 < self.columns).then_some(place + 1);
        let same = |p: usize| {
            let other = self.cell_at.get(p).copied().flatten()? as usize;
            floor.contains(&other).then_some(other)
        };
        [next, Some(place + self.columns)].map(|p| p.and_then(same).unwrap_or(cell) - floor.start)
    }

    /// The floor that a cell is of, and its number there.
    pub fn within(&self, cell: u32) -> (usize, usize) {
        let floor = self.floors.partition_point(|f| f.end <= cell as usize);
        (floor, cell as usize - self.floors[floor].start)
    }

    pub fn cell(&self, p: Point) -> Option<u32> {
        let at = [0, 1].map(|k| ((p[k] - self.origin[k]) / STEP_M).floor());
        let inside = at[0] >= 0.0 && at[1] >= 0.0 && at[0] < self.columns as f64 && at[1] < self.rows as f64;
        self.cell_at.get((at[1] as usize) * self.columns + at[0] as usize).copied().flatten().filter(|_| inside)
    }
}
