//! Rooms and what is in them.

use super::check::{count, file_id, optional, range, text, unique, wall_index};
use super::{Field, Floor, Job, MAX_CORNERS, MAX_ITEMS, Point, Position};
use crate::error::FieldError;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

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
    /// Corners in order, either way round, m; 3 to 128 of them. Wall `i` runs from corner `i` to the next.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub outline: Vec<Point>,
    /// Clear height, m, 1.5…20.
    pub height_m: f64,
    /// Wanted temperature, °C, 5…35.
    pub room_c: f64,
    /// Thermostat zone: rooms of one zone are controlled together and may share loops. Absent: the room has a thermostat of
    /// its own. Up to 60 characters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub zone: Option<String>,
    /// Present for a space that is not heated (garage, stairwell, store): it finds its own temperature.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unheated: Option<Unheated>,
    /// Air changed with the outside, per hour, 0…20; absent: as the building's method has it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub air_changes_per_h: Option<f64>,
    /// Air from outside by the ventilation's supply, m³/h, 0…100000.
    #[serde(default, skip_serializing_if = "is_zero")]
    pub supply_m3_h: f64,
    /// Air taken out by the ventilation's extract, m³/h, 0…100000.
    #[serde(default, skip_serializing_if = "is_zero")]
    pub extract_m3_h: f64,
    /// Above the ceiling, where no room of a higher level is.
    pub above: Beyond,
    /// Below the floor, where no room of a lower level is.
    pub below: Beyond,
    /// Own construction of roof or ceiling where no room is above; absent: the envelope's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub roof_id: Option<String>,
    /// Own construction of the floor where no room is below; absent: the envelope's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub floor_id: Option<String>,
    /// Sloped parts of the ceiling under a pitched roof.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub slopes: Vec<Slope>,
    /// Thermal bridges reckoned by hand, beside the building's; at most 100.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bridges: Vec<RoomBridge>,
    /// Radiators, baseboards and convectors found on site; at most 100.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub emitters: Vec<Emitter>,
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
    /// Tube in walls and ceiling, beside the floor or in its place; at most 20.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub fields: Vec<Field>,
}

fn is_zero(v: &f64) -> bool {
    *v == 0.0
}

/// A space without heating.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Unheated {
    /// Its temperature on the design day, °C, -60…60; absent: by its own balance of heat.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature_c: Option<f64>,
}

/// A sloped part of the ceiling: it rises from a low wall inward until it meets the flat ceiling or another slope.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Slope {
    /// The low wall, by its index.
    pub edge: usize,
    /// Clear height at that wall, m, 0…20.
    pub knee_m: f64,
    /// Pitch of the roof, degrees, 5…85.
    pub pitch_deg: f64,
}

/// A thermal bridge with its own figure.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RoomBridge {
    /// What it is, for instance "balcony slab".
    pub name: String,
    /// Linear transmittance, W/mK, -1…3.
    pub psi_w_mk: f64,
    /// Length, m, 0…1000.
    pub length_m: f64,
}

/// An emitter found on site.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Emitter {
    /// Stable id, unique in the job.
    pub id: String,
    /// What it is.
    pub kind: EmitterKind,
    /// Make, columns, fins: what the survey could read.
    #[serde(default)]
    pub name: String,
    /// Length of fin or radiator, m, 0…50.
    #[serde(default)]
    pub length_m: f64,
    /// Height, m, 0…5.
    #[serde(default)]
    pub height_m: f64,
    /// Sections of a radiator, 0…200.
    #[serde(default)]
    pub sections: u32,
    /// Output by its label, W, 0…100000.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rated_w: Option<f64>,
    /// Mean water over room at that output, K, 5…120.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rated_excess_k: Option<f64>,
    /// A stored photo of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo_id: Option<String>,
}

/// Kinds of emitters.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum EmitterKind {
    Radiator,
    Baseboard,
    Convector,
    TowelRail,
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
    /// A space of known temperature.
    Unheated {
        /// Its temperature on the design day, °C, -60…60.
        temperature_c: f64,
    },
    /// A space between room and outdoors by its share of the difference (an attic, a stairwell not drawn).
    Reduced {
        /// Temperature reduction factor b, 0 as warm as the room … 1 as cold as outdoors.
        b: f64,
    },
    /// A ventilated crawl space, reckoned by ISO 13370; below a floor only.
    CrawlSpace,
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
    /// Its own transmittance, W/m²K, 0.05…8; comes before its construction.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
    /// Its own construction; absent: the envelope's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub construction_id: Option<String>,
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
    /// From the floor to its lower edge, m, 0…20.
    #[serde(default)]
    pub sill_m: f64,
    /// Its own transmittance, W/m²K, 0.05…8; comes before its construction.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
    /// Its own share of the sun that comes in (g-value), 0…1; absent: its construction's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub g: Option<f64>,
    /// Its own construction; absent: the envelope's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub construction_id: Option<String>,
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
    /// A stored photo of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo_id: Option<String>,
}

impl KeepOut {
    /// How far a point is from it, m; 0 within.
    pub fn distance_to(&self, p: Point) -> f64 {
        let dx = (self.x0_m - p[0]).max(p[0] - self.x1_m).max(0.0);
        let dy = (self.y0_m - p[1]).max(p[1] - self.y1_m).max(0.0);
        dx.hypot(dy)
    }
}

/// Why there is no tube.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum KeepOutKind {
    Cabinet,
    Fixture,
    Drain,
    Column,
    Furniture,
    BoltDown,
}

impl Room {
    pub(super) fn check<'a>(&'a self, path: &str, ids: &mut BTreeSet<&'a str>) -> Result<(), FieldError> {
        text(&format!("{path}.name"), &self.name, 0)?;
        count(&format!("{path}.outline"), self.outline.len(), 3, MAX_CORNERS)?;
        for (i, p) in self.outline.iter().enumerate() {
            for &v in p {
                range(&format!("{path}.outline[{i}]"), v, -1000.0, 1000.0)?;
            }
        }
        range(&format!("{path}.height_m"), self.height_m, 1.5, 20.0)?;
        range(&format!("{path}.room_c"), self.room_c, 5.0, 35.0)?;
        if let Some(zone) = &self.zone {
            text(&format!("{path}.zone"), zone, 1)?;
            if zone.chars().count() > 60 {
                return Err(FieldError::new(format!("{path}.zone"), "must not be longer than 60 characters"));
            }
        }
        if let Some(u) = &self.unheated {
            optional(&format!("{path}.unheated.temperature_c"), u.temperature_c, -60.0, 60.0)?;
        }
        optional(&format!("{path}.air_changes_per_h"), self.air_changes_per_h, 0.0, 20.0)?;
        range(&format!("{path}.supply_m3_h"), self.supply_m3_h, 0.0, 100_000.0)?;
        range(&format!("{path}.extract_m3_h"), self.extract_m3_h, 0.0, 100_000.0)?;
        self.above.check(&format!("{path}.above"))?;
        if self.above == Beyond::CrawlSpace {
            return Err(FieldError::new(format!("{path}.above"), "a crawl space lies below a floor"));
        }
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
            if wall.beyond == Some(Beyond::CrawlSpace) {
                return Err(FieldError::new(format!("{path}.beyond"), "a crawl space lies below a floor"));
            }
            optional(&format!("{path}.u"), wall.u, 0.05, 8.0)?;
        }
        count(&format!("{path}.openings"), self.openings.len(), 0, MAX_ITEMS)?;
        for (i, opening) in self.openings.iter().enumerate() {
            let path = format!("{path}.openings[{i}]");
            unique(ids, &format!("{path}.id"), &opening.id)?;
            wall_index(&format!("{path}.edge"), opening.edge, self)?;
            range(&format!("{path}.offset_m"), opening.offset_m, 0.0, 200.0)?;
            range(&format!("{path}.width_m"), opening.width_m, 0.05, 50.0)?;
            range(&format!("{path}.height_m"), opening.height_m, 0.02, 20.0)?;
            range(&format!("{path}.sill_m"), opening.sill_m, 0.0, 20.0)?;
            optional(&format!("{path}.u"), opening.u, 0.05, 8.0)?;
            optional(&format!("{path}.g"), opening.g, 0.0, 1.0)?;
        }
        self.check_survey(path, ids)?;
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
            file_id(&format!("{path}.photo_id"), k.photo_id.as_deref())?;
        }
        count(&format!("{path}.fields"), self.fields.len(), 0, 20)?;
        for (i, field) in self.fields.iter().enumerate() {
            unique(ids, &format!("{path}.fields[{i}].id"), &field.id)?;
        }
        Ok(())
    }
}

impl Room {
    /// Tube in its walls and ceiling; none in an unheated room.
    pub fn heated_fields(&self) -> &[Field] {
        if self.is_heated() { &self.fields } else { &[] }
    }

    /// The floor that heats the room; none in an unheated room, whatever its floor holds.
    pub fn heated_floor(&self) -> Option<&Floor> {
        if self.is_heated() { self.floor.as_ref() } else { None }
    }

    /// Whether the room is heated at all.
    pub fn is_heated(&self) -> bool {
        self.unheated.is_none()
    }

    fn check_survey<'a>(&'a self, path: &str, ids: &mut BTreeSet<&'a str>) -> Result<(), FieldError> {
        count(&format!("{path}.slopes"), self.slopes.len(), 0, MAX_CORNERS)?;
        let mut sloped = BTreeSet::new();
        for (i, slope) in self.slopes.iter().enumerate() {
            let path = format!("{path}.slopes[{i}]");
            wall_index(&format!("{path}.edge"), slope.edge, self)?;
            if !sloped.insert(slope.edge) {
                return Err(FieldError::new(format!("{path}.edge"), "this wall has two slopes"));
            }
            range(&format!("{path}.knee_m"), slope.knee_m, 0.0, 20.0)?;
            range(&format!("{path}.pitch_deg"), slope.pitch_deg, 5.0, 85.0)?;
        }
        count(&format!("{path}.bridges"), self.bridges.len(), 0, MAX_ITEMS)?;
        for (i, bridge) in self.bridges.iter().enumerate() {
            let path = format!("{path}.bridges[{i}]");
            text(&format!("{path}.name"), &bridge.name, 0)?;
            range(&format!("{path}.psi_w_mk"), bridge.psi_w_mk, -1.0, 3.0)?;
            range(&format!("{path}.length_m"), bridge.length_m, 0.0, 1000.0)?;
        }
        count(&format!("{path}.emitters"), self.emitters.len(), 0, MAX_ITEMS)?;
        for (i, emitter) in self.emitters.iter().enumerate() {
            let path = format!("{path}.emitters[{i}]");
            unique(ids, &format!("{path}.id"), &emitter.id)?;
            text(&format!("{path}.name"), &emitter.name, 0)?;
            range(&format!("{path}.length_m"), emitter.length_m, 0.0, 50.0)?;
            range(&format!("{path}.height_m"), emitter.height_m, 0.0, 5.0)?;
            range(&format!("{path}.sections"), f64::from(emitter.sections), 0.0, 200.0)?;
            optional(&format!("{path}.rated_w"), emitter.rated_w, 0.0, 100_000.0)?;
            optional(&format!("{path}.rated_excess_k"), emitter.rated_excess_k, 5.0, 120.0)?;
            file_id(&format!("{path}.photo_id"), emitter.photo_id.as_deref())?;
        }
        Ok(())
    }

    /// That every construction it names exists and fits its place.
    pub(super) fn check_constructions(&self, job: &Job, path: &str) -> Result<(), FieldError> {
        job.check_construction(&format!("{path}.roof_id"), self.roof_id.as_deref(), Position::Roof)?;
        job.check_construction(&format!("{path}.floor_id"), self.floor_id.as_deref(), Position::Floor)?;
        for (i, wall) in self.walls.iter().enumerate() {
            let path = format!("{path}.walls[{i}].construction_id");
            job.check_construction(&path, wall.construction_id.as_deref(), Position::Wall)?;
        }
        for (i, opening) in self.openings.iter().enumerate() {
            let path = format!("{path}.openings[{i}].construction_id");
            let position = match opening.kind {
                OpeningKind::Window => Position::Window,
                _ => Position::Door,
            };
            job.check_construction(&path, opening.construction_id.as_deref(), position)?;
        }
        Ok(())
    }
}

impl Beyond {
    fn check(&self, path: &str) -> Result<(), FieldError> {
        match self {
            Beyond::Unheated { temperature_c } => range(&format!("{path}.temperature_c"), *temperature_c, -60.0, 60.0),
            Beyond::Reduced { b } => range(&format!("{path}.b"), *b, 0.0, 1.0),
            _ => Ok(()),
        }
    }
}
