//! A room as a network of five resistances and one capacity (ISO 13790, simple hourly method; its successor EN ISO 52016-1 parts each
//! element), for steps of any length.
//!
//! ```
//! use fuoco_core::zone::{Drive, Envelope, Zone};
//! let zone = Zone::new(&Envelope { floor_m2: 20.0, windows_w_k: 10.0, opaque_w_k: 20.0, air_w_k: 10.0, heavy: true });
//! // 600 W into the air for as long as one likes: 15 to 16 K over outdoors, some of it beyond the air
//! let mut mass_c = 5.0;
//! let drive = Drive { outdoor_c: 5.0, behind_c: 5.0, to_air_w: 600.0, ..Drive::default() };
//! let mut air_c = 0.0;
//! for _ in 0..2000 {
//!     (air_c, mass_c) = { let now = zone.step(mass_c, 3600.0, &drive); (now.air_c, now.mass_c) };
//! }
//! assert!((air_c - 5.0) > 15.0 && (air_c - 5.0) < 17.0, "{air_c}");
//! ```

/// Of ISO 13790: inner surfaces over floor area, and the films within a room, W/m²K.
const SURFACES: f64 = 4.5;
const FILM_AIR: f64 = 3.45;
const FILM_MASS: f64 = 9.1;
/// Heat that a room keeps, J/m²K of floor, and the surface that works with it: under a poured floor, and under another.
const HEAVY: (f64, f64) = (260_000.0, 3.0);
const LIGHT: (f64, f64) = (110_000.0, 2.5);
/// Conductances below this are none, W/K.
const NOTHING: f64 = 1e-6;
/// What is felt is so much air, the rest surfaces.
const FELT_AIR: f64 = 0.3;

/// What a room is to its surroundings.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Envelope {
    /// Floor, m².
    pub floor_m2: f64,
    /// Glass and doors, W/K.
    pub windows_w_k: f64,
    /// Walls, roof, bridges, and what leads to ground and neighbours, W/K.
    pub opaque_w_k: f64,
    /// Air, W/K.
    pub air_w_k: f64,
    /// Its inside keeps heat.
    pub heavy: bool,
}

/// What drives it during a step.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Drive {
    /// Outdoors, °C: behind glass, and the air that comes in.
    pub outdoor_c: f64,
    /// Behind walls and roof, °C: outdoors, or what is mixed of that and of ground and neighbours.
    pub behind_c: f64,
    /// Into its air, W.
    pub to_air_w: f64,
    /// Radiant, onto its surfaces and what is behind them, W.
    pub radiant_w: f64,
    /// Into its mass alone, W: sun on walls and roof.
    pub to_mass_w: f64,
}

/// How it is at the end of a step; air and surfaces are those of its middle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct After {
    /// Its air, °C.
    pub air_c: f64,
    /// Its surfaces, °C.
    pub surface_c: f64,
    /// Its mass, °C.
    pub mass_c: f64,
    /// What is felt, °C.
    pub felt_c: f64,
}

/// A room.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Zone {
    his: f64,
    hms: f64,
    hem: f64,
    hve: f64,
    hw: f64,
    h1: f64,
    h2: f64,
    h3: f64,
    heat_j_k: f64,
    /// Of radiant heat: into the mass, into the surfaces.
    shares: [f64; 2],
}

impl Zone {
    /// A room of an envelope.
    pub fn new(of: &Envelope) -> Zone {
        let (heat, mass) = if of.heavy { HEAVY } else { LIGHT };
        let (all_m2, mass_m2) = (SURFACES * of.floor_m2, mass * of.floor_m2);
        let (his, hms) = (FILM_AIR * all_m2, FILM_MASS * mass_m2);
        let opaque = of.opaque_w_k.clamp(NOTHING, 0.98 * hms);
        let hem = 1.0 / (1.0 / opaque - 1.0 / hms);
        let (hve, hw) = (of.air_w_k.max(NOTHING), of.windows_w_k.max(NOTHING));
        let h1 = 1.0 / (1.0 / hve + 1.0 / his);
        let h2 = h1 + hw;
        let h3 = 1.0 / (1.0 / h2 + 1.0 / hms);
        let share = mass_m2 / all_m2;
        let shares = [share, (1.0 - share - hw / (FILM_MASS * all_m2)).max(0.0)];
        Zone { his, hms, hem, hve, hw, h1, h2, h3, heat_j_k: heat * of.floor_m2, shares }
    }

    /// Heat that it keeps, J/K.
    pub fn heat_j_k(&self) -> f64 {
        self.heat_j_k
    }

    /// A step of so many seconds from a mass of that temperature (Crank and Nicolson).
    pub fn step(&self, mass_c: f64, step_s: f64, drive: &Drive) -> After {
        let per_step = self.heat_j_k / step_s;
        let outdoor = drive.outdoor_c;
        let to_mass = self.shares[0] * drive.radiant_w + drive.to_mass_w;
        let to_surface = self.shares[1] * drive.radiant_w;
        let at_air = outdoor + drive.to_air_w / self.hve;
        let all = to_mass
            + self.hem * drive.behind_c
            + self.h3 * (to_surface + self.hw * outdoor + self.h1 * at_air) / self.h2;
        let loses = 0.5 * (self.h3 + self.hem);
        let next = (mass_c * (per_step - loses) + all) / (per_step + loses);
        let middle = f64::midpoint(mass_c, next);
        let surface_c =
            (self.hms * middle + to_surface + self.hw * outdoor + self.h1 * at_air) / (self.hms + self.hw + self.h1);
        let air_c = (self.his * surface_c + self.hve * outdoor + drive.to_air_w) / (self.his + self.hve);
        After { air_c, surface_c, mass_c: next, felt_c: FELT_AIR * air_c + (1.0 - FELT_AIR) * surface_c }
    }

    /// The mass at which nothing changes, °C.
    pub fn at_rest(&self, drive: &Drive) -> f64 {
        // a step without end from 0 °C goes twice as far as it settles
        self.step(0.0, 1e18, drive).mass_c / 2.0
    }

    /// What it loses in a step, W: through glass, walls and air, radiant heat that goes straight out of the glass with it.
    pub fn loses_w(&self, mass_before_c: f64, after: &After, drive: &Drive) -> f64 {
        let middle = f64::midpoint(mass_before_c, after.mass_c);
        let outdoor = drive.outdoor_c;
        let out = 1.0 - self.shares[0] - self.shares[1];
        self.hem * (middle - drive.behind_c)
            + self.hw * (after.surface_c - outdoor)
            + self.hve * (after.air_c - outdoor)
            + out * drive.radiant_w
    }
}
