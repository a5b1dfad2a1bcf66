//! The thermal picture of a level while the house warms up: what a camera over the floors would show, loop by loop, and what it shows
//! where two loops hang at each other's ports, water stands in one, or one runs backwards.
//!
//! ```
//! use fuoco_core::dynamics::picture::{ThermalTrial, warming};
//! use fuoco_core::samples::{box_room, job_of, manifold, studied};
//! let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
//! job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
//! let study = studied(&job)?;
//! let told = warming(&study, &ThermalTrial { level_id: "ground".into(), ..ThermalTrial::default() })?;
//! let [first, .., last] = &told.frames[..] else { unreachable!("dozens of frames") };
//! assert!(last.rooms[0].surface_c > first.rooms[0].surface_c + 5.0);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::follow::unshaded;
use super::house::{self, Around, RoomNow};
use super::sunlight::Sunlight;
use super::weather::place_of;
use crate::check;
use crate::cooling::gains::{Gains, RoomSummer};
use crate::cooling::sun::{Place, Sky};
use crate::error::FieldError;
use crate::plant::needs::floor_supply_c;
use crate::study::Study;
use crate::thermal::{self, Level, Raster, STEP_M, SunPatch, quantised};
use crate::watch::Watch;
use crate::water::rooms::need_share;
use serde::{Deserialize, Serialize};

/// Frames of a picture in time, and steps from one to the next.
const FRAMES: usize = 60;
const STEPS: usize = 2;
/// The figure of what is no floor.
pub const NO_FLOOR: u8 = thermal::NO_FLOOR;
/// Larger floors are not followed, spots: 600 m². Sixty pictures of them are a hundred megabytes.
const MOST_SPOTS: usize = 240_000;
/// More loops nobody names.
const MOST_LOOPS: usize = 400;

/// What is asked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct ThermalTrial {
    /// The level.
    pub level_id: String,
    /// For how long, h, 1 to 96.
    pub hours: f64,
    /// Floors and rooms at the beginning, °C, -20 to 30.
    pub begin_c: f64,
    /// Outdoors, °C, -60 to 40; the design's where absent.
    pub outdoor_c: Option<f64>,
    /// The loops whose actuators are open, by what is written at their ports; all where none is named.
    pub open: Vec<String>,
    /// Two loops that hang at each other's ports.
    #[cfg_attr(feature = "schema", schema(value_type = Option<[String; 2]>))]
    pub swapped: Option<[String; 2]>,
    /// Loops in which air stands, and so the water.
    pub air_locked: Vec<String>,
    /// Loops whose supply and return are exchanged.
    pub reversed: Vec<String>,
    /// The sun of that day of the year, from 0, out of a clear sky, from midnight on: the house is warm at the beginning and its water as
    /// warm as the weather asks for. 0 to 364.
    pub sun_day: Option<u32>,
}

impl Default for ThermalTrial {
    fn default() -> Self {
        ThermalTrial {
            level_id: String::new(),
            hours: 12.0,
            begin_c: 12.0,
            outdoor_c: None,
            open: vec![],
            swapped: None,
            air_locked: vec![],
            reversed: vec![],
            sun_day: None,
        }
    }
}

/// The picture in time.
#[derive(Debug, Clone, PartialEq)]
pub struct ThermalCourse {
    /// Where its spots lie.
    pub raster: Raster,
    /// From the beginning to the end, evenly.
    pub frames: Vec<ThermalFrame>,
}

/// A moment.
#[derive(Debug, Clone, PartialEq)]
pub struct ThermalFrame {
    /// From the beginning, s.
    pub time_s: f64,
    /// Surface by spot; [`NO_FLOOR`] off the heated floors.
    pub surface: Vec<u8>,
    /// Rooms with a heated floor.
    pub rooms: Vec<ThermalRoom>,
    /// Loops.
    pub loops: Vec<ThermalLoop>,
}

/// A room at a moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ThermalRoom {
    /// The room.
    pub id: String,
    /// What is felt in it, °C.
    pub felt_c: f64,
    /// Mean of its floor, °C.
    pub surface_c: f64,
    /// Sun that its floor takes in, W.
    pub sun_w: f64,
}

/// A loop at a moment.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ThermalLoop {
    /// The loop, as it is drawn.
    pub id: String,
    /// Its water comes back, °C; none where it stands.
    pub return_c: Option<f64>,
    /// Heat that its water gives, W.
    pub heat_w: f64,
}

impl ThermalTrial {
    /// # Errors
    /// Names the field.
    pub fn check(&self) -> Result<(), FieldError> {
        check::range("trial.hours", self.hours, 1.0, 96.0)?;
        check::range("trial.begin_c", self.begin_c, -20.0, 30.0)?;
        self.outdoor_c.map_or(Ok(()), |c| check::range("trial.outdoor_c", c, -60.0, 40.0))?;
        self.sun_day.map_or(Ok(()), |d| check::range("trial.sun_day", f64::from(d), 0.0, 364.0))?;
        for (field, ids) in [("open", &self.open), ("air_locked", &self.air_locked), ("reversed", &self.reversed)] {
            if ids.len() > MOST_LOOPS {
                return Err(FieldError::new(format!("trial.{field}"), format!("must name {MOST_LOOPS} loops at most")));
            }
        }
        match &self.swapped {
            Some([a, b]) if a == b => Err(FieldError::new("trial.swapped[1]", "must be another loop than the first")),
            _ => Ok(()),
        }
    }
}

/// The level as the trial has it: which tube has how much water, and which way.
fn as_piped(study: &Study, trial: &ThermalTrial) -> Result<Level, FieldError> {
    let mut level = Level::of(study, &trial.level_id)?;
    let of = |field: &str, id: &String| {
        let here = level.courses.iter().position(|c| study.loops[c.index].id == *id);
        here.ok_or_else(|| FieldError::new(format!("trial.{field}"), format!("has no loop \"{id}\" on this level")))
    };
    let all = |field: &str, ids: &[String]| ids.iter().map(|id| of(field, id)).collect::<Result<Vec<_>, _>>();
    let open = all("open", &trial.open)?;
    let locked = all("air_locked", &trial.air_locked)?;
    let reversed = all("reversed", &trial.reversed)?;
    let mut at_port: Vec<usize> = (0..level.courses.len()).collect();
    if let Some([a, b]) = &trial.swapped {
        at_port.swap(of("swapped[0]", a)?, of("swapped[1]", b)?);
    }
    // a port's valve is set for the loop that is written at it
    let by_port: Vec<(f64, f64)> = level.courses.iter().map(|c| (c.flow_w_k, c.supply_c)).collect();
    for (k, course) in level.courses.iter_mut().enumerate() {
        let port = at_port[k];
        (course.flow_w_k, course.supply_c) = by_port[port];
        if locked.contains(&k) || !open.is_empty() && !open.contains(&port) {
            course.flow_w_k = 0.0;
        }
        course.reversed = reversed.contains(&k);
        course.stand_at(trial.begin_c);
    }
    Ok(level)
}

/// A day's sun out of a clear sky, from midnight on.
struct SunnyDay {
    place: Place,
    day: u32,
    light: Sunlight,
    /// By the rooms that are followed.
    summers: Vec<RoomSummer>,
}

impl SunnyDay {
    fn of(study: &Study, level: &Level, rooms: &[RoomNow], day: u32) -> SunnyDay {
        SunnyDay {
            place: place_of(&study.job),
            day,
            light: Sunlight::of(study, &level.rooms),
            summers: rooms.iter().map(|r| RoomSummer::of(study, r.index, &unshaded())).collect(),
        }
    }

    /// The patches on the level's floors, and the sun in every room that is followed, patches and all.
    fn at(&self, time_s: f64) -> (Vec<SunPatch>, Vec<Gains>) {
        let moment_h = f64::from(self.day) * 24.0 + time_s / 3600.0;
        let sky = Sky::at_moment(self.place, moment_h, None, None, Some(0.0));
        let sun = |r: &RoomSummer| {
            let all = r.gains(moment_h as usize, &sky, &unshaded());
            Gains { sun_w: all.sun_w, to_mass_w: all.to_mass_w, ..Gains::default() }
        };
        (self.light.patches(&sky), self.summers.iter().map(sun).collect())
    }
}

/// The loops' water as warm as that weather asks for; it stands where nothing is asked.
fn follow_weather(study: &Study, level: &mut Level, outdoor_c: f64) {
    for course in &mut level.courses {
        let manifold = &study.loops[course.index].manifold_id;
        let circuit = study.circuits.iter().position(|c| c.manifold_ids.contains(manifold)).unwrap_or(0);
        match floor_supply_c(study, circuit, outdoor_c) {
            Some(supply_c) => course.supply_c = supply_c,
            None => course.flow_w_k = 0.0,
        }
    }
}

/// The picture while the house warms up, or through a sunny day: all rooms as the design has them but for what the trial changes, water of the design day.
///
/// # Errors
/// Names the field of the trial that does not allow it.
pub fn warming(study: &Study, trial: &ThermalTrial) -> Result<ThermalCourse, FieldError> {
    warming_watched(study, trial, &Watch::default())
}

/// As [`warming`], as long as somebody waits for it; tells how far it has come.
///
/// # Errors
/// As [`warming`], and when nobody waits any more.
pub fn warming_watched(study: &Study, trial: &ThermalTrial, watch: &Watch) -> Result<ThermalCourse, FieldError> {
    trial.check()?;
    if study.job.outdoors.is_some() {
        return Err(FieldError::new("outdoors", "a job outdoors has no rooms: its storms stand at Snow"));
    }
    let job = &study.job;
    let mut level = as_piped(study, trial)?;
    if level.rooms.is_empty() {
        return Err(FieldError::new("trial.level_id", "has no heated floor"));
    }
    if level.grid.len() > MOST_SPOTS {
        let most = MOST_SPOTS as f64 * STEP_M * STEP_M;
        return Err(FieldError::new(
            "trial.level_id",
            format!("has more than {most:.0} m² of heated floor: too much to follow"),
        ));
    }
    let step_s = trial.hours * 3600.0 / (FRAMES * STEPS) as f64;
    let outdoor_c = trial.outdoor_c.unwrap_or(job.site.outdoor_c);
    let mut rooms = house::rooms(study, step_s)?;
    let day = trial.sun_day.map(|day| SunnyDay::of(study, &level, &rooms, day));
    let begin_c = |r: &RoomNow| if day.is_some() { job.rooms[r.index].room_c } else { trial.begin_c };
    for r in &mut rooms {
        let supply = if day.is_some() { floor_supply_c(study, study.water.of_room[r.index], outdoor_c) } else { None };
        r.warm(begin_c(r), supply);
    }
    // by floor of the level: its room among those that are followed
    let seat: Vec<Option<usize>> = level.rooms.iter().map(|r| rooms.iter().position(|room| room.index == *r)).collect();
    let mut felt: Vec<f64> = job.rooms.iter().map(|r| r.room_c).collect();
    rooms.iter().for_each(|r| felt[r.index] = r.felt_c);
    if day.is_some() {
        follow_weather(study, &mut level, outdoor_c);
    }
    let mut field = level.field(Some(step_s), trial.begin_c);
    if day.is_some() {
        let rooms_c: Vec<f64> = level.rooms.iter().map(|r| felt[*r]).collect();
        field.begin_as(&level.at_rest(&rooms_c)?);
    }
    let mut surfaces: Vec<Vec<Option<f32>>> = vec![];
    let mut frames = vec![];
    let mut tell = |level: &Level, field: &_, felt: &[f64], sun_w: &[f64], time_s: f64| {
        let rooms_c: Vec<f64> = level.rooms.iter().map(|r| felt[*r]).collect();
        let means = level.floors(field, &rooms_c);
        let loops = level.loops(field);
        let surface = |c: u32| level.surface_c(field, c) as f32;
        surfaces.push(level.grid.cell_at.iter().map(|c| c.map(surface)).collect());
        frames.push(ThermalFrame {
            time_s,
            surface: vec![],
            rooms: (level.rooms.iter().zip(&means).zip(sun_w))
                .map(|((r, m), sun)| ThermalRoom {
                    id: job.rooms[*r].id.clone(),
                    felt_c: felt[*r],
                    surface_c: m.0,
                    sun_w: *sun,
                })
                .collect(),
            loops: (level.courses.iter().zip(&loops))
                .map(|(c, (heat_w, back_c))| ThermalLoop {
                    id: study.loops[c.index].id.clone(),
                    return_c: (c.flow_w_k > 0.0).then_some(*back_c),
                    heat_w: *heat_w,
                })
                .collect(),
        });
    };
    let mut sun_w = vec![0.0; level.rooms.len()];
    tell(&level, &field, &felt, &sun_w, 0.0);
    for step in 1..=FRAMES * STEPS {
        watch.check()?;
        watch.comes_to(step as f64 / (FRAMES * STEPS) as f64);
        let rooms_c: Vec<f64> = level.rooms.iter().map(|r| felt[*r]).collect();
        let shines = day.as_ref().map(|d| d.at((step as f64 - 0.5) * step_s));
        if let Some((patches, _)) = &shines {
            sun_w = level.shine(&mut field, patches);
        }
        level.step(&mut field, &rooms_c)?;
        let gives = level.floors(&field, &rooms_c);
        let mut up_w: Vec<Option<f64>> = vec![None; rooms.len()];
        let mut gains = shines.map_or_else(|| vec![Gains::default(); rooms.len()], |s| s.1);
        for ((seat, (_, heat)), sun_w) in seat.iter().zip(&gives).zip(&sun_w) {
            if let Some(k) = seat {
                up_w[*k] = Some(*heat);
                gains[*k].sun_w = (gains[*k].sun_w - sun_w).max(0.0);
            }
        }
        let before = felt.clone();
        let around = Around { outdoor_c, felt_c: &|r| before[r] };
        for ((r, up), gains) in rooms.iter_mut().zip(&up_w).zip(&gains) {
            let share = need_share(job, r.index, outdoor_c);
            match up {
                Some(up) => r.step_over(step_s, &around, *up, gains, share),
                None => {
                    let circuit = study.water.of_room[r.index];
                    let supply = match day {
                        Some(_) => floor_supply_c(study, circuit, outdoor_c),
                        None => study.water.supplies[circuit].supply_c,
                    };
                    r.step(step_s, &around, supply, gains, share);
                }
            }
            felt[r.index] = r.felt_c;
        }
        if step.is_multiple_of(STEPS) {
            tell(&level, &field, &felt, &sun_w, step as f64 * step_s);
        }
    }
    let (low_c, per_k, bytes) = quantised(&surfaces.iter().map(Vec::as_slice).collect::<Vec<_>>());
    for (frame, surface) in frames.iter_mut().zip(bytes) {
        frame.surface = surface;
    }
    Ok(ThermalCourse { raster: level.grid.raster(low_c, per_k), frames })
}
