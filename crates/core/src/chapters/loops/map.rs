//! The floors of a level seen from above: how far each spot is from the nearest tube, and how warm it gets.
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

use super::spots::{Raster, STEP_M, Spots};
use crate::error::FieldError;
use crate::geometry::Point;
use crate::study::Study;
use serde::{Deserialize, Serialize};

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

/// Maps the heated floors of a level.
///
/// # Errors
/// When the level is unknown or too large to be mapped.
pub fn floor_map(study: &Study, level_id: &str) -> Result<FloorMap, FieldError> {
    let (job, loops) = (&study.job, &study.loops);
    if job.level(level_id).is_none() {
        return Err(FieldError::new("level_id", "names no level of this job"));
    }
    let rooms: Vec<usize> = (0..job.rooms.len()).filter(|&r| job.rooms[r].level_id == level_id).collect();
    let corners: Vec<Point> = rooms.iter().flat_map(|&r| job.rooms[r].outline.iter().copied()).collect();
    if corners.is_empty() {
        return Ok(FloorMap {
            origin: [0.0; 2],
            step_m: STEP_M,
            columns: 0,
            rows: 0,
            distance_m: vec![],
            surface_c: vec![],
        });
    }
    let whole =
        Raster::over(&corners, STEP_M).ok_or_else(|| FieldError::new("level_id", "is too large to be mapped"))?;
    let mut out = FloorMap {
        origin: whole.origin,
        step_m: STEP_M,
        columns: whole.size[0],
        rows: whole.size[1],
        distance_m: vec![None; whole.len()],
        surface_c: vec![None; whole.len()],
    };
    for r in rooms {
        let Some(state) = &study.water.heating[r].floor else { continue };
        let Some(spots) = Spots::of(job, r, loops, STEP_M) else { continue };
        let distances = spots.distances(loops);
        for (k, (distance, surface)) in distances.iter().zip(spots.surfaces(job, r, state)).enumerate() {
            let at = spots.raster.at(k);
            if let Some(place) = whole.place(at).filter(|_| spots.within[k]) {
                out.distance_m[place] = Some(*distance as f32);
                out.surface_c[place] = Some(((surface * 100.0).round() / 100.0) as f32);
            }
        }
    }
    Ok(out)
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
        // the water cools along the loop, and a cone of a few spacings sees the raster of the tubes
        assert!((found - mean).abs() < 0.6, "{found} for {mean}");
        assert_eq!(map.surface_c[at(5.99, 4.99) + 1], None, "no floor beyond the wall");
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
            let raster = Raster { origin: map.origin, step: map.step_m, size: [map.columns, map.rows] };
            raster.place(warm.at).and_then(|k| map.surface_c[k]).expect("floor")
        };
        let (sleeved, bare) = (at_the_spot(&job), at_the_spot(&corridor()));
        assert!(sleeved < bare - 0.3, "{sleeved} instead of {bare}");
    }
}
