//! The survey's part of the job: levels, rooms and what is in them, notes on the plan, what was found on site.

use crate::cooling::part::Summer;
use crate::floor::part::{Field, Floor};
use crate::geometry::Point;
use crate::outdoors::part::Melt;
use crate::ranges::ranges;
use serde::{Deserialize, Serialize};

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
    /// Clear height, m
    pub height_m: f64,
    /// Design temperature, °C
    pub room_c: f64,
    /// Whether it may set the supply temperature of the whole house. Absent: every room but a bath does.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub governs: Option<bool>,
    /// Thermostat zone: rooms of one zone are controlled together and may share loops. Absent: the room has a thermostat of
    /// its own. Up to 60 characters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub zone: Option<String>,
    /// Present for a space that is not heated (garage, stairwell, store): it finds its own temperature.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unheated: Option<Unheated>,
    /// Air changed with the outside, per hour; absent: as the building's method has it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub air_changes_per_h: Option<f64>,
    /// Air from outside by the ventilation's supply, m³/h
    #[serde(default, skip_serializing_if = "is_zero")]
    pub supply_m3_h: f64,
    /// Air taken out by the ventilation's extract, m³/h
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
    /// Thermal bridges calculated by hand, beside the building's; at most 100.
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
    /// In a job of areas outdoors: what the area is to be; absent: as usual for the drive of a house.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub melt: Option<Melt>,
    /// Who and what is in it in summer; absent: as usual for its use.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub summer: Option<Summer>,
}

fn is_zero(v: &f64) -> bool {
    *v == 0.0
}

/// A space without heating.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Unheated {
    /// Its temperature on the design day, °C; absent: by its own balance of heat.
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
    /// Clear height at that wall, m
    pub knee_m: f64,
    /// Pitch of the roof, degrees
    pub pitch_deg: f64,
}

/// A thermal bridge with its own figure.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RoomBridge {
    /// What it is, for instance "balcony slab".
    pub name: String,
    /// Linear transmittance, W/mK
    pub psi_w_mk: f64,
    /// Length, m
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
    /// Length of fin or radiator, m
    #[serde(default)]
    pub length_m: f64,
    /// Height, m
    #[serde(default)]
    pub height_m: f64,
    /// Sections of a radiator
    #[serde(default)]
    pub sections: u32,
    /// What the sections of a radiator are like.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pattern: Option<RadiatorPattern>,
    /// Columns or tubes of a section, seen from its end; 0: not counted.
    #[serde(default, skip_serializing_if = "not_counted")]
    pub columns: u32,
    /// Output by its rating plate, W
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rated_w: Option<f64>,
    /// Mean water over room at that output, K
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rated_excess_k: Option<f64>,
    /// What it gives on the design day beside the tubes, W; absent: it is recorded only, and counts for nothing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub beside_w: Option<f64>,
    /// A stored photo of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo_id: Option<String>,
}

impl Emitter {
    /// One of a kind of which nothing else is known.
    pub fn of(kind: EmitterKind) -> Emitter {
        Emitter {
            id: String::new(),
            kind,
            name: String::new(),
            length_m: 0.0,
            height_m: 0.0,
            sections: 0,
            pattern: None,
            columns: 0,
            rated_w: None,
            rated_excess_k: None,
            beside_w: None,
            photo_id: None,
        }
    }
}

fn not_counted(v: &u32) -> bool {
    *v == 0
}

/// What the sections of a radiator are like.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RadiatorPattern {
    /// Wide columns, about 65 mm apart.
    Column,
    /// Slender tubes.
    Tube,
    /// A panel: by its rating only.
    Panel,
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
    /// A fan coil or the coil of an air handler.
    FanCoil,
    /// Electric: no heat of the source.
    ElectricHeater,
}

/// What a room is used for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum Usage {
    Living,
    Bedroom,
    Kitchen,
    Work,
    Hall,
    Bath,
    Corridor,
    Store,
    Plant,
}

impl Usage {
    /// Every use, those of a dwelling first.
    pub const ALL: [Usage; 9] = [
        Self::Living,
        Self::Bedroom,
        Self::Kitchen,
        Self::Bath,
        Self::Corridor,
        Self::Work,
        Self::Hall,
        Self::Store,
        Self::Plant,
    ];

    /// Temperature for which a room of this use is designed unless the job says otherwise, °C: after the defaults of
    /// EN 12831-1:2017, annex B; what local rules ask for goes before it.
    pub fn usual_room_c(self) -> f64 {
        match self {
            Usage::Living | Usage::Bedroom | Usage::Kitchen | Usage::Work | Usage::Hall => 20.0,
            Usage::Bath => 24.0,
            Usage::Corridor | Usage::Store | Usage::Plant => 15.0,
        }
    }
}

/// What the first room of a job starts with; the next ones start like the one before.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct FirstRoom {
    /// What it is used for.
    #[serde(rename = "use")]
    pub usage: Usage,
    /// Clear height, m
    pub height_m: f64,
    /// Design temperature, °C
    pub room_c: f64,
    /// What is under its floor.
    pub below: Beyond,
    /// How its floor is heated.
    pub floor: Floor,
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
        /// Its temperature on the design day, °C
        temperature_c: f64,
    },
    /// A space between room and outdoors by its share of the difference (an attic, a stairwell not drawn).
    Reduced {
        /// Temperature reduction factor b, 0 as warm as the room … 1 as cold as outdoors.
        b: f64,
    },
    /// A ventilated crawl space, calculated by ISO 13370; below a floor only.
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
    /// Its own transmittance, W/m²K; comes before its construction.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
    /// Its own construction; absent: the envelope's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub construction_id: Option<String>,
}

/// A hole in a wall, or a window in the roof.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Opening {
    /// Stable id, unique in the job.
    pub id: String,
    /// Window, door, doorway, sleeve or roof window.
    pub kind: OpeningKind,
    /// The wall it is in; of a roof window the wall from which its slope rises, or that it is nearest to where the ceiling
    /// is flat.
    pub edge: usize,
    /// From the wall's first corner to the opening's near side, m
    pub offset_m: f64,
    /// Clear width, m
    pub width_m: f64,
    /// Clear height, of a roof window along its slope, m
    pub height_m: f64,
    /// From the floor to its lower edge, m; of no meaning for a roof window.
    #[serde(default)]
    pub sill_m: f64,
    /// Its own transmittance, W/m²K; comes before its construction.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
    /// Its own share of the sun that comes in (g-value); absent: its construction's.
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
    /// Glass in a slope, or in a flat roof.
    RoofWindow,
}

impl Opening {
    /// Whether it is a hole in that wall: a roof window over it is none.
    pub fn is_in_wall(&self, edge: usize) -> bool {
        self.edge == edge && self.kind != OpeningKind::RoofWindow
    }
}

impl OpeningKind {
    /// Whether it is glass.
    pub fn is_window(self) -> bool {
        matches!(self, OpeningKind::Window | OpeningKind::RoofWindow)
    }
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
    /// Distance that tube keeps from it, m
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
    /// Tube in its walls and ceiling; none in an unheated room.
    pub fn heated_fields(&self) -> &[Field] {
        if self.is_heated() { &self.fields } else { &[] }
    }

    /// The floor that heats the room; none in an unheated room, whatever its floor holds.
    pub fn heated_floor(&self) -> Option<&Floor> {
        if self.is_heated() { self.floor.as_ref() } else { None }
    }

    /// What its emitters give beside the tubes on the design day, W; none in an unheated room.
    pub fn beside_w(&self) -> f64 {
        if self.is_heated() { self.emitters.iter().filter_map(|e| e.beside_w).sum() } else { 0.0 }
    }

    /// The part of it that is electric, W.
    pub fn electric_w(&self) -> f64 {
        let electric = self.emitters.iter().filter(|e| self.is_heated() && e.kind == EmitterKind::ElectricHeater);
        electric.filter_map(|e| e.beside_w).sum()
    }

    /// Whether the room is heated at all.
    pub fn is_heated(&self) -> bool {
        self.unheated.is_none()
    }
}

/// A storey.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Level {
    /// Stable id.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Height of the finished floor over the ground outside, m; below zero for a basement.
    #[serde(default)]
    pub floor_m: f64,
    /// A picture of the plan under the sheet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub underlay: Option<Underlay>,
}

/// A picture of a plan under the sheet of a level.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Underlay {
    /// The stored picture.
    pub file_id: String,
    /// Name of the file it came from.
    #[serde(default)]
    pub name: String,
    /// Width of the picture, pixels
    pub width_px: u32,
    /// Height of the picture, pixels
    pub height_px: u32,
    /// Where the picture's lower left corner lies, m.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: Point,
    /// Scale, m per pixel
    pub m_per_px: f64,
    /// Turned anticlockwise about its lower left corner, degrees
    #[serde(default)]
    pub turn_deg: f64,
    /// How strongly it shows
    pub strength: f64,
}

/// Something on the plan that the crew must know of.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Mark {
    /// Stable id, unique in the job.
    pub id: String,
    /// The level it lies on.
    pub level_id: String,
    /// What it is.
    pub kind: MarkKind,
    /// One point for a note, two for a line, m.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<[f64; 2]>))]
    pub points: Vec<Point>,
    /// What the note says.
    #[serde(default)]
    pub text: String,
    /// A stored photo of it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo_id: Option<String>,
}

/// Kinds of marks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MarkKind {
    /// Anything worth a word and a photo.
    Note,
    /// A line along which the slab will be cut: tube lies low under it, in a sleeve.
    SawCut,
}

/// What the label of the existing heat source says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OldSource {
    /// What it is.
    #[serde(default)]
    pub name: String,
    /// Input by its rating plate, W
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub input_w: Option<f64>,
    /// Output by its rating plate, W
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub output_w: Option<f64>,
}

ranges! {
    of FirstRoom {
        height_m: Length 1.5..=20.0,
        room_c: Temperature 5.0..=35.0,
    }
    of Room {
        outline: items 3..=128,
        outline: Length -1000.0..=1000.0,
        height_m: Length 1.5..=20.0,
        room_c: Temperature 5.0..=35.0,
        air_changes_per_h: Rate 0.0..=20.0,
        supply_m3_h: Airflow 0.0..=100_000.0,
        extract_m3_h: Airflow 0.0..=100_000.0,
        walls: items 0..=128,
        openings: items 0..=100,
        slopes: items 0..=128,
        bridges: items 0..=100,
        emitters: items 0..=100,
        keep_outs: items 0..=100,
        fields: items 0..=20,
    }
    of Unheated { temperature_c: Temperature -60.0..=60.0 }
    of Slope { knee_m: Length 0.0..=20.0, pitch_deg: Angle 5.0..=85.0 }
    of RoomBridge { psi_w_mk: Linear -1.0..=3.0, length_m: Length 0.0..=1000.0 }
    of Emitter {
        length_m: Length 0.0..=50.0,
        height_m: Length 0.0..=5.0,
        columns: Count 0..=12,
        sections: Count 0..=200,
        rated_w: Heat 0.0..=100_000.0,
        rated_excess_k: Difference 5.0..=120.0,
        beside_w: Heat 0.0..=100_000.0,
    }
    either Beyond {
        Unheated { temperature_c: Temperature -60.0..=60.0 }
        Reduced { b: Factor 0.0..=1.0 }
    }
    of Wall { u: Transmittance 0.05..=8.0 }
    of Opening {
        offset_m: Length 0.0..=200.0,
        width_m: Length 0.05..=50.0,
        height_m: Length 0.02..=20.0,
        sill_m: Length 0.0..=20.0,
        u: Transmittance 0.05..=8.0,
        g: Share 0.0..=1.0,
    }
    of KeepOut {
        x0_m: Length -1000.0..=1000.0,
        y0_m: Length -1000.0..=1000.0,
        x1_m: Length -1000.0..=1000.0,
        y1_m: Length -1000.0..=1000.0,
        clearance_m: Size 0.0..=1.0,
    }
    of Level { floor_m: Length -20.0..=200.0 }
    of Underlay {
        width_px: Count 1..=20_000,
        height_px: Count 1..=20_000,
        at: Length -10_000.0..=10_000.0,
        m_per_px: Factor 0.000_01..=10.0,
        turn_deg: Angle -360.0..=360.0,
        strength: Share 0.0..=1.0,
    }
    of Mark { points: items 1..=2, points: Length -1000.0..=1000.0 }
    of OldSource { input_w: Heat 0.0..=10_000_000.0, output_w: Heat 0.0..=10_000_000.0 }
}
