//! The floors of a level seen from above: how far each spot is from the nearest tube, and how warm it gets (see [`crate::thermal`]).
//!
//! ```
//! use fuoco_core::loops::map::floor_map;
//! use fuoco_core::samples::{box_room, job_of, manifold, studied};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let map = floor_map(&*studied(&job)?, "ground")?;
//! assert_eq!(map.surface_c.len(), map.columns * map.rows);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::geometry::Point;
use crate::geometry::raster::distances;
use crate::study::Study;
use crate::thermal::{Level, STEP_M};
use serde::{Deserialize, Serialize};

/// Distances are told up to this, m.
const FAR_M: f64 = 0.8;

/// The floors of one level, in rows from the lowest y on.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FloorMap {
    /// Left lower corner of the first spot, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub origin: Point,
    /// Width and height of a spot, m.
    pub step_m: f64,
    /// Spots in a row.
    pub columns: usize,
    /// Rows.
    pub rows: usize,
    /// To the nearest tube, m, up to 0.8; none off the heated floors.
    pub distance_m: Vec<Option<f32>>,
    /// Surface, °C; none off the heated floors.
    pub surface_c: Vec<Option<f32>>,
}

/// Maps the heated floors of a level, at rest on the design day.
///
/// # Errors
/// When the level is unknown or too large to be mapped.
pub fn floor_map(study: &Study, level_id: &str) -> Result<FloorMap, FieldError> {
    let mut level = Level::of(study, level_id)?;
    level.begin_as_designed(study);
    let rooms_c: Vec<f64> = level.sheets.iter().map(|s| s.room_c).collect();
    let field = level.at_rest(&rooms_c)?;
    let grid = &level.grid;
    let stretches: Vec<[Point; 2]> =
        (level.courses.iter()).flat_map(|c| study.loops[c.index].path.windows(2).map(|w| [w[0], w[1]])).collect();
    let first = grid.origin.map(|v| v + STEP_M / 2.0);
    let far = distances(first, [grid.columns, grid.rows], STEP_M, &stretches, FAR_M);
    let told = |of: &dyn Fn(usize, u32) -> f64| {
        let places = grid.cell_at.iter().enumerate();
        places.map(|(k, cell)| cell.map(|c| ((of(k, c) * 100.0).round() / 100.0) as f32)).collect()
    };
    Ok(FloorMap {
        origin: grid.origin,
        step_m: STEP_M,
        columns: grid.columns,
        rows: grid.rows,
        distance_m: told(&|k, _| far[k].min(FAR_M)),
        surface_c: told(&|_, c| level.surface_c(&field, c)),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::geometry;
    use crate::job::{CheckedJob, Job};
    use crate::samples::designed as design;
    use crate::samples::{box_room, doorway, job_of, manifold};

    fn mapped(job: &Job, level_id: &str) -> Result<FloorMap, FieldError> {
        floor_map(&*Study::of(&CheckedJob::new(job.clone())?)?, level_id)
    }

    /// A corridor with the manifold, through which the leaders of four rooms pass.
    fn corridor() -> Job {
        let mut hall = box_room("hall", 0.0, 0.0, 16.0, 1.8);
        let mut rooms = vec![];
        for k in 0..4 {
            let x = 4.0 * f64::from(k);
            hall.openings.push(doorway(&format!("d{k}"), 2, 16.0 - x - 2.4, 0.9));
            rooms.push(box_room(&format!("r{k}"), x, 1.9, x + 3.9, 7.0));
        }
        rooms.insert(0, hall);
        let mut job = job_of(rooms);
        job.manifolds.push(manifold("m", "A", "hall", 0, 8.0));
        job
    }

    #[test]
    fn a_field_of_even_spacing_has_the_surface_of_its_section() {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 6.0, 5.0)]);
        job.manifolds.push(manifold("m", "A", "a", 0, 3.0));
        job.rules.edge_band_m = 0.0;
        let d = design(&job).expect("designs");
        let map = mapped(&job, "ground").expect("maps");
        let at = |x: f64, y: f64| {
            let k = [0, 1].map(|k| ([x, y][k] - map.origin[k]) / map.step_m).map(|v| v as usize);
            k[1] * map.columns + k[0]
        };
        let mean = d.rooms[0].surface_mean_c.expect("a floor");
        let middle: Vec<f64> =
            (0..20).filter_map(|i| map.surface_c[at(2.0 + 0.1 * f64::from(i), 3.0)]).map(f64::from).collect();
        let found = middle.iter().sum::<f64>() / middle.len() as f64;
        // the water cools along the loop: at one place it is not at its mean
        assert!((found - mean).abs() < 0.3, "{found} for {mean}");
        assert_eq!((map.columns, map.rows, map.surface_c.len()), (120, 100, 12_000), "no floor beyond the wall");
        assert!(map.surface_c.iter().all(Option::is_some));
        let far = map.distance_m.iter().flatten().fold(0.0_f32, |a, b| a.max(*b));
        assert!(far < 0.3, "{far}: tube is everywhere near");
        assert_eq!(mapped(&job, "attic").expect_err("no such level").field, "level_id");
    }

    #[test]
    fn where_leaders_meet_the_floor_is_warmest_and_sleeves_cool_it() {
        let mut job = corridor();
        let bare = design(&job).expect("designs");
        let hall = bare.rooms.iter().find(|r| r.id == "hall").expect("hall");
        let warm = hall.warmest.expect("tube");
        assert!(geometry::distance(warm.at, [8.0, 0.3]) < 2.5, "near the manifold: {:?}", warm.at);
        assert!(
            hall.surface_mean_c.is_none_or(|m| warm.surface_c > m + 1.0),
            "{warm:?} over {:?}",
            hall.surface_mean_c
        );
        job.rules.insulated_leaders = true;
        let sleeved = design(&job).expect("designs");
        let found = sleeved.rooms.iter().find(|r| r.id == "hall").expect("hall");
        assert!(found.leader_heat_w < 0.7 * hall.leader_heat_w, "{} of {}", found.leader_heat_w, hall.leader_heat_w);
        let at_the_spot = |job: &Job| {
            let map = mapped(job, "ground").expect("maps");
            let [i, j] = [0, 1].map(|k| ((warm.at[k] - map.origin[k]) / map.step_m) as usize);
            map.surface_c[j * map.columns + i].expect("floor")
        };
        let (sleeved, bare) = (at_the_spot(&job), at_the_spot(&corridor()));
        assert!(sleeved < bare - 0.3, "{sleeved} instead of {bare}");
    }
}
