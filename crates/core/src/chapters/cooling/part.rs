//! Cooling's part of the job: how warm and damp rooms may be in summer, who and what is in them, what makes the cold.

use crate::ranges::ranges;
use crate::survey::part::Usage;
use serde::{Deserialize, Serialize};

/// Cooling with the tubes that heat in winter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Cooling {
    /// Rooms are not to be warmer, °C
    pub room_c: f64,
    /// Relative humidity in the rooms, where it is known or kept; absent: by the weather file, ventilation and people.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub humidity: Option<f64>,
    /// A dehumidifying coil keeps the rooms' air no damper than that; absent: there is none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub coil_humidity: Option<f64>,
    /// Nothing is colder than the dew point and so much, K
    pub margin_k: f64,
    /// Rise of the water through a loop, K
    pub rise_k: f64,
    /// Moisture of a person, g/h
    pub person_g_h: f64,
    /// Heat of a person that is felt, W
    pub person_w: f64,
    /// Part of the sun that outside shades let in
    pub shades: f64,
    /// The controller's supply follows the dew point; else it stays at the worst of the year.
    pub follows: bool,
    /// Least output at which the chiller runs, W; absent: none is chosen yet
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub chiller_least_w: Option<f64>,
}

impl Default for Cooling {
    fn default() -> Self {
        Cooling {
            room_c: 26.0,
            humidity: None,
            coil_humidity: None,
            margin_k: 2.0,
            rise_k: 3.0,
            person_g_h: 60.0,
            person_w: 70.0,
            shades: 0.5,
            follows: true,
            chiller_least_w: None,
        }
    }
}

/// Who and what is in a room in summer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Summer {
    /// People in it
    pub people: f64,
    /// Lights and equipment, W
    pub equipment_w: f64,
    /// From that hour of the day
    pub from_h: u32,
    /// To that hour of the day
    pub to_h: u32,
    /// Its loops are shut while the house is cooled; absent: as its use and covering ask for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shut: Option<bool>,
}

/// Who and what is usual in rooms of a use.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SummerUse {
    /// People, 1/m².
    pub people_m2: f64,
    /// Lights and equipment, W/m².
    pub equipment_w_m2: f64,
    /// From that hour of the day …
    pub from_h: u32,
    /// … to that one.
    pub to_h: u32,
}

impl SummerUse {
    /// After the example schedules of EN 16798-1, rounded.
    pub fn of(usage: Usage) -> SummerUse {
        let (people_m2, equipment_w_m2, from_h, to_h) = match usage {
            Usage::Living | Usage::Kitchen => (0.03, 5.0, 7, 22),
            Usage::Bedroom => (0.04, 3.0, 0, 24),
            Usage::Work => (0.08, 10.0, 8, 18),
            Usage::Hall => (0.15, 6.0, 9, 21),
            Usage::Bath | Usage::Corridor | Usage::Store | Usage::Plant => (0.0, 1.0, 7, 22),
        };
        SummerUse { people_m2, equipment_w_m2, from_h, to_h }
    }
}

impl Summer {
    /// What is usual for a use, by floor area: half people, tens of watts.
    pub fn usual(usage: Usage, area_m2: f64) -> Summer {
        let SummerUse { people_m2, equipment_w_m2, from_h, to_h } = SummerUse::of(usage);
        let people = (people_m2 * area_m2 * 2.0).round() / 2.0;
        Summer { people, equipment_w: (equipment_w_m2 * area_m2 / 10.0).round() * 10.0, from_h, to_h, shut: None }
    }
}

ranges! {
    of Cooling {
        room_c: Temperature 20.0..=32.0,
        humidity: Share 0.05..=1.0,
        coil_humidity: Share 0.2..=0.9,
        margin_k: Difference 0.0..=10.0,
        rise_k: Difference 1.0..=10.0,
        person_g_h: Factor 0.0..=1000.0,
        person_w: Power 0.0..=500.0,
        shades: Share 0.0..=1.0,
        chiller_least_w: Heat 100.0..=1_000_000.0,
    }
    of Summer { people: Factor 0.0..=1000.0, equipment_w: Power 0.0..=100_000.0, from_h: Count 0..=24, to_h: Count 0..=24 }
}
