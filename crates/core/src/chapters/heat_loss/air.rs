//! Air through a room: infiltration from a typed figure or a blower-door test, and mechanical ventilation.
//!
//! ```
//! use fuoco_core::heat_loss::air::volumetric_heat;
//! // 1.2 kg/m³ times 1005 J/kgK at sea level is 0.335 Wh/m³K; higher up the air is thinner
//! assert!((volumetric_heat(0.0) - 0.335).abs() < 0.01);
//! assert!(volumetric_heat(1500.0) < volumetric_heat(0.0));
//! ```

use super::part::{Air, AirMethod, Shielding};
use serde::{Deserialize, Serialize};

/// Which figure a room's outdoor air comes from: the largest of them counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AirBy {
    /// The air change typed for the room.
    Typed,
    /// The least that people need.
    #[default]
    People,
    /// Leaks, by the blower door.
    Leaks,
    /// Extract that no supply makes up for.
    Extract,
}

/// Specific heat of air, J/kgK.
const CP: f64 = 1006.0;

/// Density of air at 20 °C and the pressure of the standard atmosphere at that altitude, kg/m³ (ISO 2533).
pub fn density(altitude_m: f64) -> f64 {
    let pressure = 101_325.0 * (1.0 - 2.255_77e-5 * altitude_m).powf(5.255_88);
    pressure / (287.05 * 293.15)
}

/// Heat held by a cubic metre of air for each kelvin, Wh/m³K.
pub fn volumetric_heat(altitude_m: f64) -> f64 {
    density(altitude_m) * CP / 3600.0
}

/// Shielding coefficient e of EN 12831-1 by the number of sides of a room that stand to the wind.
pub fn shielding(shielding: Shielding, exposed_sides: usize) -> f64 {
    let row = match shielding {
        Shielding::None => [0.0, 0.03, 0.05],
        Shielding::Moderate => [0.0, 0.02, 0.03],
        Shielding::Heavy => [0.0, 0.01, 0.02],
    };
    row[exposed_sides.min(2)]
}

/// Height correction ε of EN 12831-1 by the middle of the room over the ground, m.
pub fn height_factor(middle_m: f64) -> f64 {
    if middle_m > 30.0 {
        1.5
    } else if middle_m > 10.0 {
        1.2
    } else {
        1.0
    }
}

/// Air that a room exchanges with the outside through leaks by the blower door, per hour; 0 where the air change is typed.
///
/// `exposed_sides`: directions to which the room has outside walls; `middle_m`: height of its middle over the ground.
pub fn leaks(air: &Air, exposed_sides: usize, middle_m: f64) -> f64 {
    let leaks = match air.method {
        AirMethod::Typed => return 0.0,
        AirMethod::BlowerDoor => air.n50_per_h * shielding(air.shielding, exposed_sides) * height_factor(middle_m),
        AirMethod::Divided => air.n50_per_h / air.divisor,
    };
    leaks * air.direction_factor
}

/// Outdoor air through leaks and windows, m³/h (EN 12831-1:2017, 6.3.3.3): the larger of what comes in by itself (leaks, or
/// the share of an extract that no supply makes up for) and of what people need beyond what the ventilation moves.
///
/// All in m³/h: `leaks`, `drawn_in`, `needed` (a typed air change is that), and `moved`, the larger of what is brought to
/// the room and what is taken from it.
///
/// Says which of them it is.
pub fn outdoor_m3_h(leaks: f64, drawn_in: f64, needed: f64, moved: f64) -> (f64, AirBy) {
    let people = needed - moved;
    if people >= leaks.max(drawn_in) {
        (people.max(0.0), AirBy::People)
    } else if drawn_in > leaks {
        (drawn_in, AirBy::Extract)
    } else {
        (leaks, AirBy::Leaks)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn thinner_air_carries_less() {
        // ISO 2533: at 1500 m the pressure is 84 556 Pa, so the density at 20 °C is 1.0048 kg/m³
        assert!((density(0.0) - 1.2041).abs() < 1e-4);
        assert!((density(1500.0) - 1.0048).abs() < 5e-4);
    }

    #[test]
    fn both_ways_from_the_blower_door() {
        let mut air = Air { method: AirMethod::BlowerDoor, n50_per_h: 6.0, least_per_h: 0.0, ..Air::default() };
        // two exposed sides, moderate shielding: 6 · 0.03 = 0.18 /h
        assert!((leaks(&air, 2, 1.5) - 0.18).abs() < 1e-12);
        assert_eq!(leaks(&air, 0, 1.5), 0.0, "an inner room has no leaks");
        assert!((leaks(&air, 2, 12.0) - 0.216).abs() < 1e-12, "higher up the wind is stronger");
        air.direction_factor = 2.0;
        assert!((leaks(&air, 2, 1.5) - 0.36).abs() < 1e-12);
        air.direction_factor = 1.0;
        air.method = AirMethod::Divided;
        assert!((leaks(&air, 2, 1.5) - 0.3).abs() < 1e-12);
    }

    #[test]
    fn people_need_their_air_and_no_cubic_metre_counts_twice() {
        // tight: people's 25 m³/h count, less what a ventilation moves
        assert_eq!(outdoor_m3_h(5.0, 0.0, 25.0, 0.0), (25.0, AirBy::People));
        assert_eq!(
            outdoor_m3_h(5.0, 0.0, 25.0, 15.0),
            (10.0, AirBy::People),
            "a little ventilation leaves the rest to windows"
        );
        assert_eq!(outdoor_m3_h(5.0, 0.0, 25.0, 60.0), (5.0, AirBy::Leaks), "with enough only the leaks are left");
        // what an extract draws in comes through the same leaks
        assert_eq!(outdoor_m3_h(20.0, 30.0, 25.0, 30.0), (30.0, AirBy::Extract));
        assert_eq!(leaks(&Air { method: AirMethod::Typed, ..Air::default() }, 2, 1.5), 0.0);
    }
}
