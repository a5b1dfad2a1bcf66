//! A job as a document: what the surveyor measured and what the designer chose. SI units, names in
//! `snake_case` with their unit. The same shape is the job file, the body of the API and the row in the store.

use crate::error::FieldError;
use crate::units::Units;
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};

/// Marks a JSON document as a Fuoco job.
pub const FORMAT: &str = "fuoco-job";
/// The version of the format that this program writes.
pub const VERSION: u32 = 1;
/// A job larger than this is refused: the design must stay interactive.
pub const MAX_ROOMS: usize = 200;
const MAX_CORNERS: usize = 64;
const MAX_ITEMS: usize = 100;

/// A point on the plan of a level: metres, x to the right, y upward.
pub type Point = [f64; 2];

/// One heating job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Job {
    /// Always `fuoco-job`.
    pub format: String,
    /// Version of the format, now 1.
    pub version: u32,
    /// The job's name as the list shows it.
    pub name: String,
    /// Where the building stands.
    pub site: Site,
    /// The firm's rules for this job.
    pub rules: HouseRules,
    /// How well the building keeps its heat, where a room says nothing else.
    pub envelope: Envelope,
    /// What flows in the tubes.
    #[serde(default)]
    pub fluid: Fluid,
    /// The storeys.
    pub levels: Vec<Level>,
    /// The rooms.
    pub rooms: Vec<Room>,
    /// The manifolds.
    pub manifolds: Vec<Manifold>,
}

/// Place and climate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Site {
    /// Name of the place.
    pub place: String,
    /// Outdoor temperature of the design day, °C, -60…25.
    pub outdoor_c: f64,
    /// Temperature of the ground under the building in the heating season, °C, -20…30.
    pub ground_c: f64,
    /// Height above sea level, m, -430…6000; thins the air.
    pub altitude_m: f64,
    /// Unit system for display.
    #[serde(default)]
    pub units: Units,
}

/// The firm's limits and habits; every finding that comes from one says so.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HouseRules {
    /// Name of the rule set.
    pub name: String,
    /// Why these rules, in the firm's words.
    #[serde(default)]
    pub reason: String,
    /// Longest loop with its leaders by tube id, m, 10…300. A tube that is not named takes the library's figure.
    #[serde(default)]
    pub longest_loop_m: BTreeMap<String, f64>,
    /// Spacings the firm lays, m, each 0.05…0.6.
    pub spacings_m: Vec<f64>,
    /// Width of the band of tighter spacing along outside walls, m, 0…3.
    pub edge_band_m: f64,
    /// Distance of the first tube from a wall, m, 0.05…0.5.
    pub wall_clearance_m: f64,
    /// Distance between the tubes of leaders laid side by side, m, 0.03…0.3.
    pub lane_spacing_m: f64,
    /// Smallest distance between any two tube centre lines, m, 0.02…0.2.
    pub min_gap_m: f64,
    /// Mean floor surface where people stay, °C, 20…40.
    pub surface_limit_c: f64,
    /// Floor surface in the edge band, °C, 20…45.
    pub surface_limit_edge_c: f64,
    /// Floor surface of a bath or shower above its room temperature, K, 0…20.
    pub surface_limit_bath_over_room_k: f64,
    /// Temperature drop in the loop of the hardest room, K, 1…25.
    pub temperature_drop_k: f64,
    /// Largest drop that an easy room is throttled to, K, 1…40.
    pub largest_drop_k: f64,
    /// Head that one loop may need, Pa, 1000…200000.
    pub head_limit_pa: f64,
    /// The loops of a manifold must be of equal length (within a tenth) instead of balanced by valves.
    #[serde(default)]
    pub equal_loops: bool,
}

impl Default for HouseRules {
    fn default() -> Self {
        HouseRules {
            name: "Ordinary practice".into(),
            reason: String::new(),
            longest_loop_m: BTreeMap::new(),
            spacings_m: vec![0.1, 0.15, 0.2, 0.25, 0.3],
            edge_band_m: 0.8,
            wall_clearance_m: 0.1,
            lane_spacing_m: 0.05,
            min_gap_m: 0.04,
            surface_limit_c: 29.0,
            surface_limit_edge_c: 35.0,
            surface_limit_bath_over_room_k: 9.0,
            temperature_drop_k: 7.0,
            largest_drop_k: 15.0,
            head_limit_pa: 30_000.0,
            equal_loops: false,
        }
    }
}

/// Heat transmittance of the building's usual parts, W/m²K, each 0.05…8.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs, reason = "one figure per part")]
pub struct Envelope {
    pub outside_wall_u: f64,
    pub window_u: f64,
    pub outside_door_u: f64,
    pub roof_u: f64,
    pub partition_u: f64,
    /// Floor of a room that is not heated by its floor.
    pub floor_u: f64,
    /// Surcharge for thermal bridges on every surface to the outside, W/m²K, 0…0.5.
    pub bridge_surcharge_u: f64,
}

impl Default for Envelope {
    fn default() -> Self {
        Envelope {
            outside_wall_u: 0.35,
            window_u: 1.6,
            outside_door_u: 1.8,
            roof_u: 0.22,
            partition_u: 1.8,
            floor_u: 0.3,
            bridge_surcharge_u: 0.05,
        }
    }
}

/// What flows in the tubes.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Fluid {
    /// Water or a glycol solution.
    pub kind: FluidKind,
    /// Mass fraction of glycol, 0…0.6; 0 for water.
    #[serde(default)]
    pub mass_fraction: f64,
}

/// The fluids of the property table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum FluidKind {
    #[default]
    Water,
    PropyleneGlycol,
    EthyleneGlycol,
}

/// A storey.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct Level {
    pub id: String,
    pub name: String,
}

/// A room: its clear inside outline, what a tape measures.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Room {
    /// Stable id.
    pub id: String,
    /// Name on the plan.
    pub name: String,
    /// The level it lies on.
    pub level_id: String,
    /// What it is used for; sets the surface limit.
    #[serde(rename = "use")]
    pub usage: Usage,
    /// Corners in order, either way round, m; 4 to 64 of them. Wall `i` runs from corner `i` to the next.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub outline: Vec<Point>,
    /// Clear height, m, 1.5…20.
    pub height_m: f64,
    /// Wanted temperature, °C, 5…35.
    pub room_c: f64,
    /// Air changed with the outside, per hour, 0…20.
    pub air_changes_per_h: f64,
    /// Above the ceiling.
    pub above: Beyond,
    /// Below the floor.
    pub below: Beyond,
    /// Walls on which the surveyor overrules what Fuoco sees behind them.
    #[serde(default)]
    pub walls: Vec<Wall>,
    /// Windows, outside doors, doorways and sleeves.
    #[serde(default)]
    pub openings: Vec<Opening>,
    /// Places without tube.
    #[serde(default)]
    pub keep_outs: Vec<KeepOut>,
    /// The floor, or nothing where the room is not heated by its floor.
    #[serde(default)]
    pub floor: Option<Floor>,
}

/// What a room is used for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Usage {
    Living,
    Work,
    Hall,
    Bath,
    Corridor,
    Store,
    Plant,
}

/// What lies on the other side of a wall, ceiling or floor.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Beyond {
    /// Outdoor air.
    Outside,
    /// The ground, at the site's ground temperature.
    Ground,
    /// A room kept as warm as this one: no heat passes.
    Heated,
    /// A space that finds its own temperature.
    Unheated {
        /// Its temperature on the design day, °C, -60…60.
        temperature_c: f64,
    },
}

/// The surveyor's word on one wall.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Wall {
    /// Index of the wall: it runs from corner `edge` to the next corner.
    pub edge: usize,
    /// What lies behind it; absent: as Fuoco finds it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub beyond: Option<Beyond>,
    /// Its own transmittance, W/m²K, 0.05…8; absent: the envelope's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
}

/// A hole in a wall.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Opening {
    /// Stable id, unique in the job.
    pub id: String,
    /// Window, door, doorway or sleeve.
    pub kind: OpeningKind,
    /// The wall it is in.
    pub edge: usize,
    /// From the wall's first corner to the opening's near side, m, 0…200.
    pub offset_m: f64,
    /// Clear width, m, 0.05…50.
    pub width_m: f64,
    /// Clear height, m, 0.02…20.
    pub height_m: f64,
    /// Its own transmittance, W/m²K, 0.05…8; absent: the envelope's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
}

/// Kinds of holes in walls.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum OpeningKind {
    /// Glass to the outside.
    Window,
    /// Door to the outside.
    OutsideDoor,
    /// Passage to the next room: leaders may go through it.
    Doorway,
    /// Sleeve through a wall, for leaders only.
    Sleeve,
}

/// A rectangle of floor without tube: `x0 < x1`, `y0 < y1`, m.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct KeepOut {
    /// Stable id, unique in the job.
    pub id: String,
    pub kind: KeepOutKind,
    #[serde(default)]
    pub name: String,
    pub x0_m: f64,
    pub y0_m: f64,
    pub x1_m: f64,
    pub y1_m: f64,
    /// Distance that tube keeps from it, m, 0…1.
    pub clearance_m: f64,
}

/// Why there is no tube.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum KeepOutKind {
    Cabinet,
    Fixture,
    BoltDown,
}

/// The floor of a room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Floor {
    /// Build-up, an id of the library.
    pub build_up_id: String,
    /// Covering, an id of the library.
    pub covering_id: String,
    /// Tube, an id of the library.
    pub tube_id: String,
    /// Spacing in the core, m, 0.05…0.6.
    pub spacing_core_m: f64,
    /// Spacing in the edge band along outside walls, m, 0.05…0.6, not wider than in the core.
    pub spacing_edge_m: f64,
    /// Insulation under the tube instead of the build-up's, m²K/W, 0…20.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub insulation_m2k_w: Option<f64>,
    /// How the loops lie.
    pub pattern: Pattern,
}

/// How a loop fills its part of a room.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Pattern {
    /// One cold side: serpentine along it; several or none: counterflow.
    Auto,
    /// Runs to and fro, the cold side first.
    Serpentine,
    /// Supply beside return, wound inward.
    Counterflow,
}

/// A manifold on a wall.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Manifold {
    /// Stable id.
    pub id: String,
    /// The letter of its loops' tags, 1 to 3 characters.
    pub letter: String,
    /// The room it hangs in.
    pub room_id: String,
    /// The wall it hangs on.
    pub edge: usize,
    /// From the wall's first corner to the manifold's middle, m, 0…200.
    pub offset_m: f64,
    /// Port pairs, 1…24.
    pub ports: u32,
}

impl Job {
    /// An empty job by today's ordinary practice.
    pub fn new(name: &str) -> Job {
        Job {
            format: FORMAT.into(),
            version: VERSION,
            name: name.into(),
            site: Site { place: String::new(), outdoor_c: -12.0, ground_c: 9.0, altitude_m: 0.0, units: Units::Metric },
            rules: HouseRules::default(),
            envelope: Envelope::default(),
            fluid: Fluid::default(),
            levels: vec![Level { id: "ground".into(), name: "Ground floor".into() }],
            rooms: Vec::new(),
            manifolds: Vec::new(),
        }
    }

    /// Reads a job from JSON and checks it.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt, of the wrong type or out of range, or the version that this
    /// program does not know.
    pub fn from_json(text: &str) -> Result<Job, FieldError> {
        #[derive(Deserialize)]
        struct Head {
            format: Option<String>,
            version: Option<u64>,
        }
        let head: Head = read(text)?;
        if head.format.as_deref() != Some(FORMAT) {
            return Err(FieldError::new("format", format!("must be \"{FORMAT}\": this is not a Fuoco job file")));
        }
        match head.version {
            Some(v) if v == u64::from(VERSION) => {}
            Some(v) if v > u64::from(VERSION) => {
                return Err(FieldError::new(
                    "version",
                    format!("{v} was written by a newer Fuoco; this one reads up to {VERSION}"),
                ));
            }
            _ => return Err(FieldError::new("version", format!("must be a whole number from 1 to {VERSION}"))),
        }
        let job: Job = read(text)?;
        job.check()?;
        Ok(job)
    }

    /// Checks every figure against the range in its description, the limits on size, and that ids are unique
    /// and refer to something.
    ///
    /// What a range cannot tell (rooms that overlap, a window wider than its wall) is a finding of the design,
    /// not an error: such a job can be saved and mended.
    ///
    /// # Errors
    /// The first field that fails.
    pub fn check(&self) -> Result<(), FieldError> {
        if self.format != FORMAT {
            return Err(FieldError::new("format", format!("must be \"{FORMAT}\"")));
        }
        if self.version != VERSION {
            return Err(FieldError::new("version", format!("must be {VERSION}")));
        }
        text("name", &self.name, 1)?;
        text("site.place", &self.site.place, 0)?;
        range("site.outdoor_c", self.site.outdoor_c, -60.0, 25.0)?;
        range("site.ground_c", self.site.ground_c, -20.0, 30.0)?;
        range("site.altitude_m", self.site.altitude_m, -430.0, 6000.0)?;
        self.rules.check()?;
        let e = &self.envelope;
        for (name, u) in [
            ("outside_wall_u", e.outside_wall_u),
            ("window_u", e.window_u),
            ("outside_door_u", e.outside_door_u),
            ("roof_u", e.roof_u),
            ("partition_u", e.partition_u),
            ("floor_u", e.floor_u),
        ] {
            range(&format!("envelope.{name}"), u, 0.05, 8.0)?;
        }
        range("envelope.bridge_surcharge_u", e.bridge_surcharge_u, 0.0, 0.5)?;
        range("fluid.mass_fraction", self.fluid.mass_fraction, 0.0, 0.6)?;
        if self.fluid.kind == FluidKind::Water && self.fluid.mass_fraction != 0.0 {
            return Err(FieldError::new("fluid.mass_fraction", "must be 0 for water"));
        }
        count("levels", self.levels.len(), 1, 20)?;
        count("rooms", self.rooms.len(), 0, MAX_ROOMS)?;
        count("manifolds", self.manifolds.len(), 0, 20)?;

        let mut levels = BTreeSet::new();
        for (i, level) in self.levels.iter().enumerate() {
            text(&format!("levels[{i}].name"), &level.name, 0)?;
            unique(&mut levels, &format!("levels[{i}].id"), &level.id)?;
        }
        let mut ids = BTreeSet::new();
        for (i, room) in self.rooms.iter().enumerate() {
            unique(&mut ids, &format!("rooms[{i}].id"), &room.id)?;
            if !levels.contains(room.level_id.as_str()) {
                return Err(FieldError::new(format!("rooms[{i}].level_id"), "names no level of this job"));
            }
            room.check(&format!("rooms[{i}]"), &mut ids)?;
        }
        for (i, manifold) in self.manifolds.iter().enumerate() {
            let path = format!("manifolds[{i}]");
            unique(&mut ids, &format!("{path}.id"), &manifold.id)?;
            let letters = manifold.letter.chars().count();
            if !(1..=3).contains(&letters) {
                return Err(FieldError::new(format!("{path}.letter"), "must have 1 to 3 characters"));
            }
            let Some(room) = self.room(&manifold.room_id) else {
                return Err(FieldError::new(format!("{path}.room_id"), "names no room of this job"));
            };
            wall_index(&format!("{path}.edge"), manifold.edge, room)?;
            range(&format!("{path}.offset_m"), manifold.offset_m, 0.0, 200.0)?;
            if !(1..=24).contains(&manifold.ports) {
                return Err(FieldError::new(format!("{path}.ports"), "must be 1 to 24"));
            }
        }
        Ok(())
    }

    /// The room of that id.
    pub fn room(&self, id: &str) -> Option<&Room> {
        self.rooms.iter().find(|r| r.id == id)
    }
}

impl HouseRules {
    fn check(&self) -> Result<(), FieldError> {
        text("rules.name", &self.name, 0)?;
        text("rules.reason", &self.reason, 0)?;
        count("rules.longest_loop_m", self.longest_loop_m.len(), 0, MAX_ITEMS)?;
        for (tube, &limit) in &self.longest_loop_m {
            range(&format!("rules.longest_loop_m.{tube}"), limit, 10.0, 300.0)?;
        }
        count("rules.spacings_m", self.spacings_m.len(), 1, 20)?;
        for (i, &s) in self.spacings_m.iter().enumerate() {
            range(&format!("rules.spacings_m[{i}]"), s, 0.05, 0.6)?;
        }
        for (name, value, low, high) in [
            ("edge_band_m", self.edge_band_m, 0.0, 3.0),
            ("wall_clearance_m", self.wall_clearance_m, 0.05, 0.5),
            ("lane_spacing_m", self.lane_spacing_m, 0.03, 0.3),
            ("min_gap_m", self.min_gap_m, 0.02, 0.2),
            ("surface_limit_c", self.surface_limit_c, 20.0, 40.0),
            ("surface_limit_edge_c", self.surface_limit_edge_c, 20.0, 45.0),
            ("surface_limit_bath_over_room_k", self.surface_limit_bath_over_room_k, 0.0, 20.0),
            ("temperature_drop_k", self.temperature_drop_k, 1.0, 25.0),
            ("largest_drop_k", self.largest_drop_k, 1.0, 40.0),
            ("head_limit_pa", self.head_limit_pa, 1000.0, 200_000.0),
        ] {
            range(&format!("rules.{name}"), value, low, high)?;
        }
        Ok(())
    }
}

impl Room {
    fn check<'a>(&'a self, path: &str, ids: &mut BTreeSet<&'a str>) -> Result<(), FieldError> {
        text(&format!("{path}.name"), &self.name, 0)?;
        count(&format!("{path}.outline"), self.outline.len(), 4, MAX_CORNERS)?;
        for (i, p) in self.outline.iter().enumerate() {
            for &v in p {
                range(&format!("{path}.outline[{i}]"), v, -1000.0, 1000.0)?;
            }
        }
        range(&format!("{path}.height_m"), self.height_m, 1.5, 20.0)?;
        range(&format!("{path}.room_c"), self.room_c, 5.0, 35.0)?;
        range(&format!("{path}.air_changes_per_h"), self.air_changes_per_h, 0.0, 20.0)?;
        self.above.check(&format!("{path}.above"))?;
        self.below.check(&format!("{path}.below"))?;
        count(&format!("{path}.walls"), self.walls.len(), 0, MAX_CORNERS)?;
        let mut seen = BTreeSet::new();
        for (i, wall) in self.walls.iter().enumerate() {
            let path = format!("{path}.walls[{i}]");
            wall_index(&format!("{path}.edge"), wall.edge, self)?;
            if !seen.insert(wall.edge) {
                return Err(FieldError::new(format!("{path}.edge"), "this wall is listed twice"));
            }
            if let Some(beyond) = &wall.beyond {
                beyond.check(&format!("{path}.beyond"))?;
            }
            if let Some(u) = wall.u {
                range(&format!("{path}.u"), u, 0.05, 8.0)?;
            }
        }
        count(&format!("{path}.openings"), self.openings.len(), 0, MAX_ITEMS)?;
        for (i, opening) in self.openings.iter().enumerate() {
            let path = format!("{path}.openings[{i}]");
            unique(ids, &format!("{path}.id"), &opening.id)?;
            wall_index(&format!("{path}.edge"), opening.edge, self)?;
            range(&format!("{path}.offset_m"), opening.offset_m, 0.0, 200.0)?;
            range(&format!("{path}.width_m"), opening.width_m, 0.05, 50.0)?;
            range(&format!("{path}.height_m"), opening.height_m, 0.02, 20.0)?;
            if let Some(u) = opening.u {
                range(&format!("{path}.u"), u, 0.05, 8.0)?;
            }
        }
        count(&format!("{path}.keep_outs"), self.keep_outs.len(), 0, MAX_ITEMS)?;
        for (i, k) in self.keep_outs.iter().enumerate() {
            let path = format!("{path}.keep_outs[{i}]");
            unique(ids, &format!("{path}.id"), &k.id)?;
            text(&format!("{path}.name"), &k.name, 0)?;
            for (name, v) in [("x0_m", k.x0_m), ("y0_m", k.y0_m), ("x1_m", k.x1_m), ("y1_m", k.y1_m)] {
                range(&format!("{path}.{name}"), v, -1000.0, 1000.0)?;
            }
            if k.x1_m <= k.x0_m {
                return Err(FieldError::new(format!("{path}.x1_m"), "must be greater than x0_m"));
            }
            if k.y1_m <= k.y0_m {
                return Err(FieldError::new(format!("{path}.y1_m"), "must be greater than y0_m"));
            }
            range(&format!("{path}.clearance_m"), k.clearance_m, 0.0, 1.0)?;
        }
        if let Some(floor) = &self.floor {
            floor.check(&format!("{path}.floor"))?;
        }
        Ok(())
    }
}

impl Beyond {
    fn check(&self, path: &str) -> Result<(), FieldError> {
        match self {
            Beyond::Unheated { temperature_c } => range(&format!("{path}.temperature_c"), *temperature_c, -60.0, 60.0),
            _ => Ok(()),
        }
    }
}

impl Floor {
    fn check(&self, path: &str) -> Result<(), FieldError> {
        use crate::library;
        let known = |what: &str, found: bool| {
            if found { Ok(()) } else { Err(FieldError::new(format!("{path}.{what}"), "is not in the library")) }
        };
        known("build_up_id", library::build_up(&self.build_up_id).is_some())?;
        known("covering_id", library::covering(&self.covering_id).is_some())?;
        known("tube_id", library::tube(&self.tube_id).is_some())?;
        range(&format!("{path}.spacing_core_m"), self.spacing_core_m, 0.05, 0.6)?;
        range(&format!("{path}.spacing_edge_m"), self.spacing_edge_m, 0.05, 0.6)?;
        if self.spacing_edge_m > self.spacing_core_m {
            return Err(FieldError::new(format!("{path}.spacing_edge_m"), "must not be wider than the core's spacing"));
        }
        if let Some(r) = self.insulation_m2k_w {
            range(&format!("{path}.insulation_m2k_w"), r, 0.0, 20.0)?;
        }
        Ok(())
    }
}

fn read<'a, T: Deserialize<'a>>(text: &'a str) -> Result<T, FieldError> {
    let mut json = serde_json::Deserializer::from_str(text);
    let value = serde_path_to_error::deserialize(&mut json).map_err(|e| {
        let path = e.path().to_string();
        let field = if path == "." || path == "?" { "document".to_owned() } else { path };
        FieldError::new(field, e.inner().to_string())
    })?;
    json.end().map_err(|e| FieldError::new("document", e.to_string()))?;
    Ok(value)
}

fn range(field: &str, value: f64, low: f64, high: f64) -> Result<(), FieldError> {
    if value.is_finite() && (low..=high).contains(&value) {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("must be between {low} and {high}, not {value}")))
    }
}

fn count(field: &str, n: usize, low: usize, high: usize) -> Result<(), FieldError> {
    if (low..=high).contains(&n) {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("must have {low} to {high} entries, not {n}")))
    }
}

fn text(field: &str, value: &str, least: usize) -> Result<(), FieldError> {
    let n = value.trim().chars().count();
    if n < least {
        return Err(FieldError::new(field, "must not be empty"));
    }
    if value.chars().count() > 2000 {
        return Err(FieldError::new(field, "must not be longer than 2000 characters"));
    }
    Ok(())
}

fn unique<'a>(seen: &mut BTreeSet<&'a str>, field: &str, id: &'a str) -> Result<(), FieldError> {
    if id.is_empty() || id.len() > 64 {
        return Err(FieldError::new(field, "must have 1 to 64 characters"));
    }
    if seen.insert(id) { Ok(()) } else { Err(FieldError::new(field, format!("\"{id}\" is used twice"))) }
}

fn wall_index(field: &str, edge: usize, room: &Room) -> Result<(), FieldError> {
    if edge < room.outline.len() {
        Ok(())
    } else {
        Err(FieldError::new(field, format!("there are only {} walls", room.outline.len())))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::samples::{box_room, cabinet, job_of, manifold, window};

    fn refused(change: impl FnOnce(&mut Job)) -> String {
        let mut room = box_room("a", 0.0, 0.0, 5.0, 4.0);
        room.openings.push(window("w", 0, 1.0, 1.0, 1.0));
        room.keep_outs.push(cabinet("k", 1.0, 1.0, 2.0, 2.0));
        let mut job = job_of(vec![room]);
        job.manifolds.push(manifold("m", "A", "a", 0, 1.0));
        job.check().expect("sound before the change");
        change(&mut job);
        job.check().expect_err("no longer sound").field
    }

    #[test]
    fn each_field_is_refused_by_its_own_path() {
        assert_eq!(refused(|j| j.name = "  ".into()), "name");
        assert_eq!(refused(|j| j.site.place = "x".repeat(3000)), "site.place");
        assert_eq!(refused(|j| j.rules.spacings_m.clear()), "rules.spacings_m");
        assert_eq!(refused(|j| j.rules.spacings_m = vec![0.2, 9.0]), "rules.spacings_m[1]");
        assert_eq!(
            refused(|j| j.rules.longest_loop_m = [("pex-16x2".into(), 1.0)].into()),
            "rules.longest_loop_m.pex-16x2"
        );
        assert_eq!(refused(|j| j.fluid.mass_fraction = 0.3), "fluid.mass_fraction");
        assert_eq!(refused(|j| j.levels.clear()), "levels");
        assert_eq!(refused(|j| j.rooms[0].level_id = "attic".into()), "rooms[0].level_id");
        assert_eq!(refused(|j| j.rooms[0].outline.truncate(3)), "rooms[0].outline");
        assert_eq!(refused(|j| j.rooms[0].openings[0].id = "k".into()), "rooms[0].keep_outs[0].id");
        assert_eq!(
            refused(|j| j.rooms[0].above = Beyond::Unheated { temperature_c: 99.0 }),
            "rooms[0].above.temperature_c"
        );
        assert_eq!(refused(|j| j.rooms[0].keep_outs[0].clearance_m = -0.1), "rooms[0].keep_outs[0].clearance_m");
        assert_eq!(
            refused(|j| j.rooms[0].walls = vec![Wall { edge: 4, beyond: None, u: None }]),
            "rooms[0].walls[0].edge"
        );
        let twice = Wall { edge: 1, beyond: None, u: Some(0.3) };
        assert_eq!(refused(|j| j.rooms[0].walls = vec![twice.clone(), twice]), "rooms[0].walls[1].edge");
        assert_eq!(refused(|j| j.manifolds[0].ports = 0), "manifolds[0].ports");
        assert_eq!(refused(|j| j.manifolds[0].letter = "ABCD".into()), "manifolds[0].letter");
        assert_eq!(refused(|j| j.manifolds[0].edge = 7), "manifolds[0].edge");
        let finer = |j: &mut Job| {
            if let Some(f) = &mut j.rooms[0].floor {
                f.spacing_edge_m = 0.3;
            }
        };
        assert_eq!(refused(finer), "rooms[0].floor.spacing_edge_m");
    }

    #[test]
    fn other_documents_are_told_apart() {
        let field = |text: &str| Job::from_json(text).expect_err("no job").field;
        assert_eq!(field(r#"{"format":"something-else","version":1}"#), "format");
        assert_eq!(field(r#"{"format":"fuoco-job"}"#), "version");
        assert_eq!(field(r#"{"format":"fuoco-job","version":0}"#), "version");
        let newer = Job::from_json(r#"{"format":"fuoco-job","version":7,"unheard":"of"}"#).expect_err("newer");
        assert!(newer.reason.contains("newer Fuoco"), "{newer}");
        let mut text = serde_json::to_string(&Job::new("x")).expect("writes");
        text.push_str(" {}");
        assert_eq!(field(&text), "document", "nothing may follow");
    }
}
