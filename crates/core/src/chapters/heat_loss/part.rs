//! The heat loss's part of the job: what the building is made of, and how much air goes through it.

use crate::ranges::ranges;
use serde::{Deserialize, Serialize};

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
    /// How thermal bridges are calculated.
    pub bridges: Bridges,
    /// How the ground is calculated.
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

/// Where heat is calculated to leave: inside faces, or outside faces with the thickness of walls and roof.
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

/// How thermal bridges are calculated.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "method", rename_all = "snake_case", deny_unknown_fields)]
pub enum Bridges {
    /// A surcharge on every surface to the outside.
    Surcharge {
        /// W/m²K
        delta_u: f64,
    },
    /// Linear transmittance times lengths that are read off the plan, W/mK.
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

/// How the ground is calculated.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Ground {
    /// Which way.
    pub method: GroundMethod,
    /// Conductivity of the ground, W/mK; sand or gravel 2.0, clay 1.5, rock 3.5 (ISO 13370).
    pub soil_w_mk: f64,
    /// Thickness of the outside walls at the ground, m
    pub wall_m: f64,
    /// Insulation along the edge of the slab.
    pub edge: EdgeInsulation,
    /// Heat per metre of exposed edge, W/mK, for the perimeter factor.
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

/// Ways to calculate the ground.
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
        /// Width inward from the edge, m
        width_m: f64,
        /// Its resistance, m²K/W
        resistance_m2k_w: f64,
        /// Its thickness, m
        thickness_m: f64,
    },
    /// Standing along the foundation.
    Vertical {
        /// Depth below the ground's surface, m
        depth_m: f64,
        /// Its resistance, m²K/W
        resistance_m2k_w: f64,
        /// Its thickness, m
        thickness_m: f64,
    },
}

/// A ventilated crawl space (ISO 13370, suspended floor).
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct CrawlSpace {
    /// Height of the floor over the ground outside, m
    pub height_m: f64,
    /// U of its walls above ground, W/m²K
    pub wall_u: f64,
    /// Area of the vents per metre of edge, m²/m
    pub vents_m2_m: f64,
    /// Wind at 10 m, m/s
    pub wind_m_s: f64,
    /// Wind shielding factor: 0.02 sheltered, 0.05 average, 0.10 exposed.
    pub shielding: f64,
    /// Resistance of insulation lying on its ground, m²K/W
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
    /// Air changes at 50 Pa by the blower door, per hour
    pub n50_per_h: f64,
    /// Shielding of the building from the wind.
    pub shielding: Shielding,
    /// What n50 is divided by in the shortcut
    pub divisor: f64,
    /// How much more than the mean a room takes when the wind stands on it; EN 12831-1 takes 2 for single rooms.
    pub direction_factor: f64,
    /// Least air change that people need, per hour; where the method is typed, the change itself.
    pub least_per_h: f64,
    /// Share of the extract air's heat that the ventilation gives back
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
    /// Conductivity, W/mK. 0 marks an air layer, whose resistance depends on thickness and direction.
    pub conductivity_w_mk: f64,
    /// Density, kg/m³
    pub density_kg_m3: f64,
    /// Specific heat, J/kgK
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
    /// Transmittance typed, W/m²K; comes before the layers.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub u: Option<f64>,
    /// Share of the sun that comes in through glass
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub g: Option<f64>,
    /// Layers from the inside out (from above downward in floors), at most 20.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub layers: Vec<ConstructionLayer>,
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
pub struct ConstructionLayer {
    /// Its material, of the job or the library.
    pub material_id: String,
    /// Thickness, m
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
    /// Their share of the area
    pub share: f64,
}

ranges! {
    either Bridges {
        Surcharge { delta_u: Transmittance 0.0..=0.5 }
        Linear {
            reveal_psi: Linear -1.0..=3.0,
            corner_psi: Linear -1.0..=3.0,
            roof_edge_psi: Linear -1.0..=3.0,
            floor_edge_psi: Linear -1.0..=3.0,
            storey_psi: Linear -1.0..=3.0,
        }
    }
    of Ground { soil_w_mk: Linear 0.3..=5.0, wall_m: Size 0.05..=2.0, perimeter_w_mk: Linear 0.05..=5.0 }
    either EdgeInsulation {
        Horizontal {
            width_m: Length 0.1..=5.0,
            resistance_m2k_w: Resistance 0.1..=20.0,
            thickness_m: Size 0.005..=0.5,
        }
        Vertical {
            depth_m: Length 0.1..=5.0,
            resistance_m2k_w: Resistance 0.1..=20.0,
            thickness_m: Size 0.005..=0.5,
        }
    }
    of CrawlSpace {
        height_m: Length 0.05..=3.0,
        wall_u: Transmittance 0.05..=8.0,
        vents_m2_m: Perlength 0.0..=0.1,
        wind_m_s: Velocity 0.0..=20.0,
        shielding: Factor 0.0..=0.3,
        base_m2k_w: Resistance 0.0..=10.0,
    }
    of Air {
        n50_per_h: Rate 0.1..=40.0,
        divisor: Factor 1.0..=60.0,
        direction_factor: Factor 1.0..=2.0,
        least_per_h: Rate 0.0..=5.0,
        recovery: Share 0.0..=0.95,
    }
    of Material { conductivity_w_mk: Linear 0.0..=500.0, density_kg_m3: Density 0.5..=12_000.0, heat_capacity_j_kgk: Factor 100.0..=5000.0 }
    of Construction { u: Transmittance 0.05..=8.0, g: Share 0.0..=1.0, layers: items 0..=20 }
    of ConstructionLayer { thickness_m: Size 0.0001..=3.0 }
    of LayerBridge { share: Share 0.01..=0.6 }
}
