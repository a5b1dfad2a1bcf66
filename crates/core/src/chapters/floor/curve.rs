//! What one zone of a floor, wall or ceiling does at a water temperature: all that the rest of the design sees of a section.
//!
//! ```
//! use fuoco_core::floor::{Curve, Duty, Parts, section};
//! use fuoco_core::library;
//! use fuoco_core::section::film::Face;
//! let parts = Parts {
//!     build_up: library::build_up("slab").unwrap(),
//!     covering: library::covering("tile"),
//!     rug_m2k_w: 0.0,
//!     tube: library::tube("pex-16x2").unwrap(),
//!     spacing_m: 0.2,
//!     insulation_m2k_w: None,
//! };
//! let duty = Duty { face: Face::Floor, room_c: 20.0, below_c: 10.0, below_m2k_w: 0.17, water_film_w_m2k: 1500.0, film_up_w_m2k: None };
//! let floor = Curve::new(&section(&parts, &library::material)?, duty)?;
//! let water_over_room_k = floor.excess_for(60.0);
//! assert!((floor.flux_up(water_over_room_k) - 60.0).abs() < 0.01);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use crate::error::FieldError;
use crate::section::film::{self, Face, Mode};
use crate::section::{self, Conductances, Films, Section, Solution};
use lru::LruCache;
use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex};

/// The best contact of an underside, W/m²K.
const MOST_DOWN: f64 = 100.0;

/// What surrounds a zone.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Duty {
    /// Which way it looks.
    pub face: Face,
    /// Room, °C.
    pub room_c: f64,
    /// Below (behind), °C.
    pub below_c: f64,
    /// From the underside to what is below, m²K/W: a film, or the ground.
    pub below_m2k_w: f64,
    /// Film of the water, W/m²K of bore.
    pub water_film_w_m2k: f64,
    /// Film between surface and what is around it, W/m²K, where it is not a room's: outdoors.
    pub film_up_w_m2k: Option<f64>,
}

impl Duty {
    /// Film between surface and room at that flux, W/m²K.
    pub fn film_up(&self, flux_w_m2: f64) -> f64 {
        self.film_up_w_m2k.unwrap_or_else(|| film::film(self.face, Mode::Heating, flux_w_m2))
    }

    /// Mean of the surface over the room at that flux, K.
    pub fn surface_over(&self, flux_w_m2: f64) -> f64 {
        match self.film_up_w_m2k {
            Some(h) => flux_w_m2.max(0.0) / h,
            None => film::excess(self.face, Mode::Heating, flux_w_m2),
        }
    }

    /// Flux at that mean of the surface over the room, W/m².
    pub fn flux_at(&self, excess_k: f64) -> f64 {
        match self.film_up_w_m2k {
            Some(h) => h * excess_k.max(0.0),
            None => film::flux(self.face, Mode::Heating, excess_k),
        }
    }

    /// Conductance from the underside to what is below, W/m²K, above zero and finite whatever the ground: nothing lies closer than by a
    /// hundredth of a m²K/W, and the reduced section holds up to there.
    pub fn film_down(&self) -> f64 {
        (1.0 / self.below_m2k_w).clamp(1e-3, MOST_DOWN)
    }
}

/// What a section does under one upper film.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Row {
    film: f64,
    up: f64,
    through: f64,
    down: f64,
    /// Warmth of the surface's warmest and coolest line per kelvin of water, of below.
    crest: [f64; 2],
    trough: [f64; 2],
}

impl Row {
    fn values(&self) -> [f64; 7] {
        let Row { up, through, down, crest, trough, .. } = *self;
        [up, through, down, crest[0], crest[1], trough[0], trough[1]]
    }
}

/// What a zone does at a water temperature: the plain interface between the floor stage and all others.
///
/// A table over the film between surface and room, which depends on the flux; between its rows a polynomial. The tests
/// compare it with the solution itself.
#[derive(Debug, Clone)]
pub struct Curve {
    rows: Vec<Row>,
    duty: Duty,
    /// Estimated error of the grid, relative.
    pub grid_error: f64,
    /// Heat held in the steady state per kelvin of water over room, J/m²K.
    pub heat_content_j_m2k: f64,
    /// Mean delay of the heat into the room after a step of the water's temperature, s.
    pub time_constant_s: f64,
}

/// What a section answers to its films, as far as a curve needs it.
#[derive(Debug, Clone, Copy)]
struct Answer {
    row: Row,
    grid_error: f64,
    heat_content_j_m2k: f64,
    time_constant_s: f64,
}

/// Answers that are kept, a few megabytes: most rooms of a job are the same from one edit, or one trial, to the next.
const KEPT: usize = 20_000;
type Asked = (u64, [u64; 3]);
static ANSWERS: LazyLock<Mutex<LruCache<Asked, Answer>>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));

fn answer(solution: &Solution, films: Films) -> Answer {
    let asked = (solution.number, [films.up, films.down, films.water].map(f64::to_bits));
    let kept = || ANSWERS.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
    if let Some(known) = kept().get(&asked) {
        return *known;
    }
    let (c, p) = solution.respond(&films);
    let line = |better: fn(&f64, &f64) -> bool| {
        let i = (1..p.water.len()).fold(0, |best, i| if better(&p.water[i], &p.water[best]) { i } else { best });
        [p.water[i], p.below[i]]
    };
    let (crest, trough) = (line(f64::gt), line(f64::lt));
    let row = Row { film: films.up, up: c.up_w_m2k, through: c.through_w_m2k, down: c.down_w_m2k, crest, trough };
    let Conductances { grid_error, heat_content_j_m2k, time_constant_s, .. } = c;
    let fresh = Answer { row, grid_error, heat_content_j_m2k, time_constant_s };
    kept().put(asked, fresh);
    fresh
}

/// Films of a heated floor from next to nothing to 400 W/m².
const FILM_NODES: [f64; 4] = [5.0, 7.5, 10.0, 12.6];
/// The flux changes with the tenth power of its film: each round gains a digit.
const ROUNDS: usize = 7;
/// Films that differ by this share are the same.
const SAME_FILM: f64 = 1e-9;

impl Curve {
    /// The curve of a section at its duty.
    ///
    /// # Errors
    /// As [`Section::check`].
    pub fn new(section: &Section, duty: Duty) -> Result<Curve, FieldError> {
        let solution: Arc<Solution> = section::solve(section)?;
        let varies = duty.face == Face::Floor && duty.film_up_w_m2k.is_none();
        let nodes: Vec<f64> = if varies { FILM_NODES.to_vec() } else { vec![duty.film_up(1.0)] };
        let answers: Vec<Answer> = nodes
            .iter()
            .map(|&up| answer(&solution, Films { up, down: duty.film_down(), water: duty.water_film_w_m2k }))
            .collect();
        // delay and heat held hardly change with the film: those of an ordinary day
        let ordinary = answers[nodes.len() / 2];
        Ok(Curve {
            rows: answers.iter().map(|a| a.row).collect(),
            duty,
            grid_error: ordinary.grid_error,
            heat_content_j_m2k: ordinary.heat_content_j_m2k,
            time_constant_s: ordinary.time_constant_s,
        })
    }

    /// What surrounds it.
    pub fn duty(&self) -> &Duty {
        &self.duty
    }

    fn row(&self, film: f64) -> Row {
        let mut out = [0.0; 7];
        for (i, node) in self.rows.iter().enumerate() {
            let others = self.rows.iter().enumerate().filter(|(j, _)| *j != i);
            let weight: f64 = others.map(|(_, o)| (film - o.film) / (node.film - o.film)).product();
            out.iter_mut().zip(node.values()).for_each(|(a, v)| *a += weight * v);
        }
        let [up, through, down, c0, c1, t0, t1] = out;
        Row { film, up, through, down, crest: [c0, c1], trough: [t0, t1] }
    }

    fn film(&self, flux_w_m2: f64) -> f64 {
        let film = self.duty.film_up(flux_w_m2);
        if self.rows.len() > 1 { film.clamp(FILM_NODES[0], FILM_NODES[3]) } else { film }
    }

    fn flux_of(&self, row: &Row, excess_k: f64) -> f64 {
        row.up * excess_k + row.through * (self.duty.below_c - self.duty.room_c)
    }

    fn at(&self, excess_k: f64) -> Row {
        let mut row = self.row(self.film(50.0));
        if self.rows.len() > 1 {
            let mut film = 0.0;
            for _ in 0..ROUNDS {
                let next = self.film(self.flux_of(&row, excess_k));
                // most floors are there after three rounds, and this is asked for at every spot of a map
                if (next - film).abs() <= SAME_FILM * next {
                    break;
                }
                film = next;
                row = self.row(film);
            }
        }
        row
    }

    /// Upward flux at that mean excess of water over room, W/m²; below zero where the water is too cool to keep what is
    /// below from cooling the room.
    pub fn flux_up(&self, excess_k: f64) -> f64 {
        self.flux_of(&self.at(excess_k), excess_k)
    }

    /// Mean excess of water over room that gives that flux, K. Exact without iteration: the flux tells the film.
    pub fn excess_for(&self, flux_w_m2: f64) -> f64 {
        let row = self.row(self.film(flux_w_m2));
        (flux_w_m2 - row.through * (self.duty.below_c - self.duty.room_c)) / row.up
    }

    /// Downward flux at that excess, W/m². Never negative: heat that comes up from a warmer room below is not the water's.
    pub fn flux_down(&self, excess_k: f64) -> f64 {
        self.flux_down_to(excess_k, self.duty.below_c)
    }

    /// The same where what is below has another temperature, °C.
    pub fn flux_down_to(&self, excess_k: f64, below_c: f64) -> f64 {
        let (row, room_c) = (self.at(excess_k), self.duty.room_c);
        (row.down * (room_c + excess_k - below_c) - row.through * (below_c - room_c)).max(0.0)
    }

    /// Upward flux per kelvin of water over room at that excess, W/m²K.
    pub fn k_up(&self, excess_k: f64) -> f64 {
        self.at(excess_k).up
    }

    /// Mean surface temperature at that flux, °C.
    pub fn surface_mean(&self, flux_w_m2: f64) -> f64 {
        self.duty.room_c + self.duty.surface_over(flux_w_m2)
    }

    /// Flux at which the mean surface has that temperature, W/m².
    pub fn flux_at_surface(&self, surface_c: f64) -> f64 {
        self.duty.flux_at(surface_c - self.duty.room_c)
    }

    /// Warmest and coolest line of the surface at that excess, °C.
    pub fn surface_range(&self, excess_k: f64) -> (f64, f64) {
        let row = self.at(excess_k);
        let Duty { room_c, below_c, .. } = self.duty;
        let line = |w: [f64; 2]| room_c + w[0] * excess_k + w[1] * (below_c - room_c);
        (line(row.crest), line(row.trough))
    }

    /// Mean of the underside at that excess, °C.
    pub fn underside(&self, excess_k: f64) -> f64 {
        self.duty.below_c + self.flux_down(excess_k) * self.duty.below_m2k_w
    }

    /// Film between surface and room at that excess, and the conductances from water to room, from below to room, from water to below, W/m²K.
    pub(crate) fn network(&self, excess_k: f64) -> [f64; 4] {
        let Row { film, up, through, down, .. } = self.at(excess_k);
        [film, up, through, down]
    }

    /// Film between surface and room at that excess, W/m²K.
    pub fn film_at(&self, excess_k: f64) -> f64 {
        self.at(excess_k).film
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::floor::assembly::{Parts, section};
    use crate::library;

    /// Films at the back by where heat flows, and a ground of no resistance that still gives a figure.
    #[test]
    fn a_curve_stands_any_ground() {
        let (build_up, tube) = (library::build_up("slab").expect("there"), library::tube("pex-16x2").expect("tube"));
        let covering = library::covering("tile");
        let parts = Parts { build_up, covering, rug_m2k_w: 0.0, tube, spacing_m: 0.2, insulation_m2k_w: None };
        let section = section(&parts, &library::material).expect("builds");
        let at = |below_m2k_w: f64| {
            let (water_film_w_m2k, film_up_w_m2k) = (1500.0, None);
            let duty =
                Duty { face: Face::Floor, room_c: 20.0, below_c: 10.0, below_m2k_w, water_film_w_m2k, film_up_w_m2k };
            Curve::new(&section, duty).expect("solves").flux_down(15.0)
        };
        assert!(at(0.0) > at(0.17) && at(0.17) > at(3.0) && at(3.0) > at(1e9) && at(1e9) >= 0.0);
    }
}
