//! What the building is made of, and how much air goes through it.

use super::check::{count, optional, range, text, unique};
use super::{Job, MAX_ITEMS};
use crate::error::FieldError;
use crate::library;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// The building's usual constructions and methods; what a wall, opening or room says of its own comes first.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
#[allow(missing_docs, reason = "one construction per part")]
pub struct Envelope {
    pub outside_wall_id: String,
    pub window_id: String,
    pub outside_door_id: String,
    pub roof_id: String,
    pub partition_id: String,
    /// Between two storeys.
    pub ceiling_id: String,
    /// Floor over ground, crawl space or outdoors of a room that is not heated by its floor.
    pub floor_id: String,
    /// How thermal bridges are reckoned.
    pub bridges: Bridges,
    /// How the ground is reckoned.
    pub ground: Ground,
    /// Which dimensions the areas of outside surfaces are taken from.
    pub dimensions: Dimensions,
}

impl Default for Envelope {
    fn default() -> Self {
        Envelope {
            outside_wall_id: "wall-brick-foam-100".into(),
            window_id: "window-double-coated".into(),
            outside_door_id: "door-insulated".into(),
            roof_id: "roof-rafters-200".into(),
            partition_id: "partition-brick-115".into(),
            ceiling_id: "ceiling-joists".into(),
            floor_id: "floor-slab-foam-100".into(),
            bridges: Bridges::Surcharge { delta_u: 0.05 },
            ground: Ground::default(),
            dimensions: Dimensions::Inside,
        }
    }
}

/// Where heat is reckoned to leave: inside faces, or outside faces with the thickness of walls and roof.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Dimensions {
    /// What a tape measures in the room.
    #[default]
    Inside,
    /// Outside faces: corners count in full.
    Outside,
}

/// How thermal bridges are reckoned.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "method", rename_all = "snake_case", deny_unknown_fields)]
pub enum Bridges {
    /// A surcharge on every surface to the outside.
    Surcharge {
        /// W/m²K, 0…0.5.
        delta_u: f64,
    },
    /// Linear transmittance times lengths that are read off the plan, each -1…3 W/mK.
    Linear {
        /// Round windows and outside doors.
        reveal_psi: f64,
        /// Corners of two outside walls.
        corner_psi: f64,
        /// Outside wall to roof.
        roof_edge_psi: f64,
        /// Outside wall to the lowest floor.
        floor_edge_psi: f64,
        /// Ends of a ceiling between storeys in an outside wall.
        storey_psi: f64,
    },
}

/// How the ground is reckoned.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Ground {
    /// Which way.
    pub method: GroundMethod,
    /// Conductivity of the ground, W/mK, 0.3…5; sand or gravel 2.0, clay 1.5, rock 3.5 (ISO 13370).
    pub soil_w_mk: f64,
    /// Thickness of the outside walls at the ground, m, 0.05…2.
    pub wall_m: f64,
    /// Insulation along the edge of the slab.
    pub edge: EdgeInsulation,
    /// Heat per metre of exposed edge, W/mK, 0.05…5, for the perimeter factor.
    pub perimeter_w_mk: f64,
    /// The crawl space, where rooms have one below.
    pub crawl: CrawlSpace,
}

impl Default for Ground {
    fn default() -> Self {
        Ground {
            method: GroundMethod::Iso13370,
            soil_w_mk: 2.0,
            wall_m: 0.3,
            edge: EdgeInsulation::None,
            perimeter_w_mk: 0.9,
            crawl: CrawlSpace::default(),
        }
    }
}

/// Ways to reckon the ground.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum GroundMethod {
    /// ISO 13370 from the characteristic dimension, toward the mean temperature of the year.
    #[default]
    Iso13370,
    /// A factor times the exposed edge, toward the outdoor temperature.
    PerimeterFactor,
    /// The floor's own U toward the ground temperature.
    GroundTemperature,
}

/// Insulation along the edge of a slab on ground.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum EdgeInsulation {
    /// None.
    #[default]
    None,
    /// Lying under the slab's edge.
    Horizontal {
        /// Width inward from the edge, m, 0.1…5.
        width_m: f64,
        /// Its resistance, m²K/W, 0.1…20.
        resistance_m2k_w: f64,
        /// Its thickness, m, 0.005…0.5.
        thickness_m: f64,
    },
    /// Standing along the foundation.
    Vertical {
        /// Depth below the ground's surface, m, 0.1…5.
        depth_m: f64,
        /// Its resistance, m²K/W, 0.1…20.
        resistance_m2k_w: f64,
        /// Its thickness, m, 0.005…0.5.
        thickness_m: f64,
    },
}

/// A ventilated crawl space (ISO 13370, suspended floor).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct CrawlSpace {
    /// Height of the floor over the ground outside, m, 0.05…3.
    pub height_m: f64,
    /// U of its walls above ground, W/m²K, 0.05…8.
    pub wall_u: f64,
    /// Area of the vents per metre of edge, m²/m, 0…0.1.
    pub vents_m2_m: f64,
    /// Wind at 10 m, m/s, 0…20.
    pub wind_m_s: f64,
    /// Wind shielding factor, 0…0.3: 0.02 sheltered, 0.05 average, 0.10 exposed.
    pub shielding: f64,
    /// Resistance of insulation lying on its ground, m²K/W, 0…10.
    pub base_m2k_w: f64,
}

impl Default for CrawlSpace {
    fn default() -> Self {
        CrawlSpace { height_m: 0.5, wall_u: 1.7, vents_m2_m: 0.0015, wind_m_s: 4.0, shielding: 0.05, base_m2k_w: 0.0 }
    }
}

/// Infiltration and ventilation.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Air {
    /// Where the air change of a room comes from that has none typed.
    pub method: AirMethod,
    /// Air changes at 50 Pa by the blower door, per hour, 0.1…40.
    pub n50_per_h: f64,
    /// Shielding of the building from the wind.
    pub shielding: Shielding,
    /// What n50 is divided by in the shortcut, 1…60.
    pub divisor: f64,
    /// How much more than the mean a room takes when the wind stands on it, 1…2; EN 12831-1 takes 2 for single rooms.
    pub direction_factor: f64,
    /// Least air change that people need, per hour, 0…5; where the method is typed, the change itself.
    pub least_per_h: f64,
    /// Share of the extract air's heat that the ventilation gives back, 0…0.95.
    pub recovery: f64,
}

impl Default for Air {
    fn default() -> Self {
        Air {
            method: AirMethod::Typed,
            n50_per_h: 4.0,
            shielding: Shielding::Moderate,
            divisor: 20.0,
            direction_factor: 1.0,
            least_per_h: 0.5,
            recovery: 0.0,
        }
    }
}

/// Ways to find a room's air change.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AirMethod {
    /// As typed for the room, else the least.
    #[default]
    Typed,
    /// From the blower door by exposure and height, EN 12831-1.
    BlowerDoor,
    /// From the blower door divided by a number.
    Divided,
}

/// How the building stands in the wind.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Shielding {
    /// Open country, high buildings in towns.
    None,
    /// Country with trees, suburbs.
    #[default]
    Moderate,
    /// Among other houses of its height, in a wood.
    Heavy,
}

/// Where a construction is used.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Position {
    /// Outside wall.
    Wall,
    /// Glazing in its frame.
    Window,
    /// Outside door.
    Door,
    /// Roof, or ceiling under a cold attic.
    Roof,
    /// Wall between rooms.
    Partition,
    /// Ceiling between storeys.
    Ceiling,
    /// Floor over ground, crawl space, cold cellar or outdoors.
    Floor,
}

/// A material.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Material {
    /// Stable id.
    pub id: String,
    /// What it is.
    pub name: String,
    /// Conductivity, W/mK, 0.001…500. 0 marks an air layer, whose resistance depends on thickness and direction.
    pub conductivity_w_mk: f64,
    /// Density, kg/m³, 0.5…12000.
    pub density_kg_m3: f64,
    /// Specific heat, J/kgK, 100…5000.
    pub heat_capacity_j_kgk: f64,
    /// Where the figures come from.
    #[serde(default)]
    pub source: String,
}

/// A wall, roof, floor, window or door: layers of material, or a U typed from its maker's sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Construction {
    /// Stable id.
    pub id: String,
    /// What it is.
    pub name: String,
    /// Where it is used.
    pub position: Position,
    /// Transmittance typed, W/m²K, 0.05…8; comes before the layers.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
    /// Share of the sun that comes in through glass, 0…1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub g: Option<f64>,
    /// Layers from the inside out (from above downward in floors), at most 20.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub layers: Vec<Layer>,
    /// `old`, `ordinary` or `good`, in the library.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub class: String,
    /// Where the figure comes from.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub source: String,
}

/// One layer of a construction.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Layer {
    /// Its material, of the job or the library.
    pub material_id: String,
    /// Thickness, m, 0.0001…3.
    pub thickness_m: f64,
    /// What bridges it: studs, rafters, joists.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bridge: Option<LayerBridge>,
}

/// Studs in a layer.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LayerBridge {
    /// Their material.
    pub material_id: String,
    /// Their share of the area, 0.01…0.6.
    pub share: f64,
}

impl Job {
    /// The construction of that id, the job's own first.
    pub fn construction(&self, id: &str) -> Option<&Construction> {
        self.constructions.iter().find(|c| c.id == id).or_else(|| library::construction(id))
    }

    /// The material of that id, the job's own first.
    pub fn material(&self, id: &str) -> Option<&Material> {
        self.materials.iter().find(|m| m.id == id).or_else(|| library::material(id))
    }

    pub(super) fn check_construction(
        &self,
        field: &str,
        id: Option<&str>,
        position: Position,
    ) -> Result<(), FieldError> {
        let Some(id) = id else { return Ok(()) };
        let found = self.construction(id);
        let Some(c) = found else {
            return Err(FieldError::new(field, format!("\"{id}\" is no construction of this job or the library")));
        };
        // what stands between rooms may stand anywhere that heat crosses it the same way
        let alike = |p: Position| match p {
            Position::Wall | Position::Partition => 0,
            Position::Roof | Position::Ceiling | Position::Floor => 1,
            Position::Window | Position::Door => 2,
        };
        if alike(c.position) == alike(position) {
            Ok(())
        } else {
            Err(FieldError::new(field, format!("\"{id}\" is made for another place")))
        }
    }

    pub(super) fn check_constructions(&self) -> Result<(), FieldError> {
        count("materials", self.materials.len(), 0, MAX_ITEMS)?;
        let mut ids = BTreeSet::new();
        for (i, m) in self.materials.iter().enumerate() {
            let path = format!("materials[{i}]");
            unique(&mut ids, &format!("{path}.id"), &m.id)?;
            m.check(&path)?;
        }
        count("constructions", self.constructions.len(), 0, MAX_ITEMS)?;
        let mut ids = BTreeSet::new();
        for (i, c) in self.constructions.iter().enumerate() {
            let path = format!("constructions[{i}]");
            unique(&mut ids, &format!("{path}.id"), &c.id)?;
            c.check(&path, self)?;
        }
        let e = &self.envelope;
        for (field, id, position) in [
            ("outside_wall_id", &e.outside_wall_id, Position::Wall),
            ("window_id", &e.window_id, Position::Window),
            ("outside_door_id", &e.outside_door_id, Position::Door),
            ("roof_id", &e.roof_id, Position::Roof),
            ("partition_id", &e.partition_id, Position::Partition),
            ("ceiling_id", &e.ceiling_id, Position::Ceiling),
            ("floor_id", &e.floor_id, Position::Floor),
        ] {
            self.check_construction(&format!("envelope.{field}"), Some(id), position)?;
        }
        e.check()
    }
}

impl Material {
    fn check(&self, path: &str) -> Result<(), FieldError> {
        text(&format!("{path}.name"), &self.name, 0)?;
        text(&format!("{path}.source"), &self.source, 0)?;
        if self.conductivity_w_mk != 0.0 {
            range(&format!("{path}.conductivity_w_mk"), self.conductivity_w_mk, 0.001, 500.0)?;
        }
        range(&format!("{path}.density_kg_m3"), self.density_kg_m3, 0.5, 12_000.0)?;
        range(&format!("{path}.heat_capacity_j_kgk"), self.heat_capacity_j_kgk, 100.0, 5000.0)
    }
}

impl Construction {
    fn check(&self, path: &str, job: &Job) -> Result<(), FieldError> {
        text(&format!("{path}.name"), &self.name, 0)?;
        text(&format!("{path}.source"), &self.source, 0)?;
        text(&format!("{path}.class"), &self.class, 0)?;
        optional(&format!("{path}.u"), self.u, 0.05, 8.0)?;
        optional(&format!("{path}.g"), self.g, 0.0, 1.0)?;
        count(&format!("{path}.layers"), self.layers.len(), usize::from(self.u.is_none()), 20)?;
        let known = |field: String, id: &str| match job.material(id) {
            Some(_) => Ok(()),
            None => Err(FieldError::new(field, format!("\"{id}\" is no material of this job or the library"))),
        };
        for (i, layer) in self.layers.iter().enumerate() {
            let path = format!("{path}.layers[{i}]");
            known(format!("{path}.material_id"), &layer.material_id)?;
            range(&format!("{path}.thickness_m"), layer.thickness_m, 0.0001, 3.0)?;
            if let Some(bridge) = &layer.bridge {
                known(format!("{path}.bridge.material_id"), &bridge.material_id)?;
                range(&format!("{path}.bridge.share"), bridge.share, 0.01, 0.6)?;
            }
        }
        Ok(())
    }
}

impl Envelope {
    fn check(&self) -> Result<(), FieldError> {
        match &self.bridges {
            Bridges::Surcharge { delta_u } => range("envelope.bridges.delta_u", *delta_u, 0.0, 0.5)?,
            Bridges::Linear { reveal_psi, corner_psi, roof_edge_psi, floor_edge_psi, storey_psi } => {
                for (name, psi) in [
                    ("reveal_psi", reveal_psi),
                    ("corner_psi", corner_psi),
                    ("roof_edge_psi", roof_edge_psi),
                    ("floor_edge_psi", floor_edge_psi),
                    ("storey_psi", storey_psi),
                ] {
                    range(&format!("envelope.bridges.{name}"), *psi, -1.0, 3.0)?;
                }
            }
        }
        let g = &self.ground;
        range("envelope.ground.soil_w_mk", g.soil_w_mk, 0.3, 5.0)?;
        range("envelope.ground.wall_m", g.wall_m, 0.05, 2.0)?;
        range("envelope.ground.perimeter_w_mk", g.perimeter_w_mk, 0.05, 5.0)?;
        match g.edge {
            EdgeInsulation::None => {}
            EdgeInsulation::Horizontal { width_m: reach, resistance_m2k_w, thickness_m }
            | EdgeInsulation::Vertical { depth_m: reach, resistance_m2k_w, thickness_m } => {
                let name = if matches!(g.edge, EdgeInsulation::Vertical { .. }) { "depth_m" } else { "width_m" };
                range(&format!("envelope.ground.edge.{name}"), reach, 0.1, 5.0)?;
                range("envelope.ground.edge.resistance_m2k_w", resistance_m2k_w, 0.1, 20.0)?;
                range("envelope.ground.edge.thickness_m", thickness_m, 0.005, 0.5)?;
            }
        }
        let c = &g.crawl;
        for (name, value, low, high) in [
            ("height_m", c.height_m, 0.05, 3.0),
            ("wall_u", c.wall_u, 0.05, 8.0),
            ("vents_m2_m", c.vents_m2_m, 0.0, 0.1),
            ("wind_m_s", c.wind_m_s, 0.0, 20.0),
            ("shielding", c.shielding, 0.0, 0.3),
            ("base_m2k_w", c.base_m2k_w, 0.0, 10.0),
        ] {
            range(&format!("envelope.ground.crawl.{name}"), value, low, high)?;
        }
        Ok(())
    }
}

impl Air {
    pub(super) fn check(&self) -> Result<(), FieldError> {
        range("air.n50_per_h", self.n50_per_h, 0.1, 40.0)?;
        range("air.divisor", self.divisor, 1.0, 60.0)?;
        range("air.direction_factor", self.direction_factor, 1.0, 2.0)?;
        range("air.least_per_h", self.least_per_h, 0.0, 5.0)?;
        range("air.recovery", self.recovery, 0.0, 0.95)
    }
}
