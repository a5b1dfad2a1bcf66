//! A section driven step by step: by water and weather that change with what the section itself does.
//!
//! ```
//! use fuoco_core::floor::{Parts, section};
//! use fuoco_core::library;
//! use fuoco_core::section::Films;
//! use fuoco_core::section::running::{Running, Sides};
//! let parts = Parts {
//!     build_up: library::build_up("snow").unwrap(),
//!     covering: library::covering("bare"),
//!     rug_m2k_w: 0.0,
//!     tube: library::tube("pex-20x2").unwrap(),
//!     spacing_m: 0.2,
//!     insulation_m2k_w: None,
//! };
//! let films = Films { up: 20.0, down: 5.0, water: 1000.0 };
//! let cold = Sides { up: -5.0, down: 2.0, water: -5.0 };
//! let mut slab = Running::new(&section(&parts, &library::material)?, &films, 900.0, cold)?;
//! let before = slab.expected(&cold).up_w_m2;
//! for _ in 0..400 {
//!     slab.step(&Sides { water: 35.0, ..cold });
//! }
//! // after a hundred hours it gives its steady heat, and takes it from the water
//! let after = slab.expected(&Sides { water: 35.0, ..cold });
//! assert!(after.up_w_m2 > before + 100.0);
//! assert!((after.water_w_m2 - after.up_w_m2 - after.down_w_m2).abs() < 0.01 * after.water_w_m2);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::reduced::{DOWN, UP, WATER, dot};
use super::transient::{Modes, Whole};
use super::{Films, Section};
use crate::error::FieldError;
use lru::LruCache;
use std::num::NonZeroUsize;
use std::sync::{LazyLock, Mutex};

/// Sections whose modes are kept from one trial to the next.
const KEPT: usize = 64;
static DRIVEN: LazyLock<Mutex<LruCache<String, Running>>> =
    LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));
/// As fine as the coarser mesh of a warm-up.
const REFINEMENT: usize = 2;

/// What is around a section, °C.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Sides {
    /// Above its upper film.
    pub up: f64,
    /// Below its lower film.
    pub down: f64,
    /// In its tube.
    pub water: f64,
}

impl Sides {
    fn by_side(self) -> [f64; 3] {
        let mut out = [0.0; 3];
        (out[UP], out[DOWN], out[WATER]) = (self.up, self.down, self.water);
        out
    }
}

/// What a section does at a time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Now {
    /// Heat upward, W/m².
    pub up_w_m2: f64,
    /// Heat downward, W/m².
    pub down_w_m2: f64,
    /// Heat out of the water, W/m².
    pub water_w_m2: f64,
    /// Mean of the surface, °C.
    pub surface_c: f64,
    /// Its line above the tube, °C.
    pub over_tube_c: f64,
    /// Its line midway between two tubes, °C.
    pub midway_c: f64,
}

/// A section in time, in equal steps over each of which what is around it stays as it is; exact for such weather.
#[derive(Debug, Clone)]
pub struct Running {
    modes: Modes,
    film_up: f64,
    /// What is left of each mode after a step, and what a side of one kelvin puts into it.
    left: Vec<f64>,
    comes: Vec<f64>,
    state: Vec<f64>,
    /// Answers at the end of a step to one kelvin of each side during it: heat into each side, the two lines.
    into: [[f64; 3]; 3],
    lines: [[f64; 3]; 2],
}

impl Running {
    /// A section in its steady state between `sides`, to be driven in steps of `step_s` seconds.
    ///
    /// # Errors
    /// As [`Section::check`]; and where it cannot be solved.
    pub fn new(section: &Section, films: &Films, step_s: f64, sides: Sides) -> Result<Running, FieldError> {
        section.check()?;
        let unsolved = || FieldError::new("section", "cannot be solved");
        let modes = Whole::new(section, REFINEMENT, films).modes().ok_or_else(unsolved)?;
        let left: Vec<f64> = modes.rates.iter().map(|r| (-r * step_s).exp()).collect();
        let comes: Vec<f64> = modes.rates.iter().zip(&left).map(|(r, l)| (1.0 - l) / r).collect();
        let ends = [0, modes.surface.len() - 1];
        let sides_of = |answer: &dyn Fn(usize) -> f64| [0, 1, 2].map(answer);
        let into = [0, 1, 2].map(|p: usize| {
            sides_of(&|q| {
                let quick: f64 = modes.steady[p][q] - modes.slow(&modes.gains[p], q);
                let own = if p == q { modes.steady[p].iter().sum::<f64>() } else { 0.0 };
                let during: f64 = (0..left.len()).map(|k| modes.gains[p][k] * comes[k] * modes.gains[q][k]).sum();
                (during + quick - own) / modes.half_m
            })
        });
        let lines = ends.map(|i| {
            sides_of(&|q| {
                let quick = modes.warmth[q][i] - modes.slow(&modes.surface[i], q);
                quick + (0..left.len()).map(|k| modes.surface[i][k] * comes[k] * modes.gains[q][k]).sum::<f64>()
            })
        });
        let mut out = Running { film_up: films.up, state: vec![], left, comes, modes, into, lines };
        out.settle(sides);
        Ok(out)
    }

    /// The same, its modes kept from one trial to the next.
    ///
    /// # Errors
    /// As [`Running::new`].
    pub fn kept(section: &Section, films: &Films, step_s: f64, sides: Sides) -> Result<Running, FieldError> {
        let key = format!("{section:?} {films:?} {step_s}");
        let kept = || DRIVEN.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        let known = kept().get(&key).cloned();
        let mut running = match known {
            Some(running) => running,
            None => {
                let fresh = Running::new(section, films, step_s, sides)?;
                kept().put(key, fresh.clone());
                fresh
            }
        };
        running.settle(sides);
        Ok(running)
    }

    /// Puts it into its steady state between those.
    pub fn settle(&mut self, sides: Sides) {
        let by = sides.by_side();
        let drive = |k: usize| (0..3).map(|p| self.modes.gains[p][k] * by[p]).sum::<f64>();
        self.state = (0..self.left.len()).map(|k| drive(k) / self.modes.rates[k]).collect();
    }

    /// How many states it has.
    pub fn order(&self) -> usize {
        self.state.len()
    }

    /// Heat that it keeps over 0 °C, J/m²: as far as its modes carry it.
    pub fn held_j_m2(&self) -> f64 {
        // what each mode has at one kelvin all over
        let even = |k: usize| (0..3).map(|p| self.modes.gains[p][k]).sum::<f64>() / self.modes.rates[k];
        (0..self.state.len()).map(|k| self.state[k] * even(k)).sum::<f64>() / self.modes.half_m
    }

    /// What it will do at the end of the next step, as a straight line in what is around it during it.
    pub fn line(&self) -> Line {
        let kept: Vec<f64> = self.state.iter().zip(&self.left).map(|(z, l)| z * l).collect();
        let into = [0, 1, 2].map(|p: usize| dot(&self.modes.gains[p], &kept) / self.modes.half_m);
        let last = self.modes.surface.len() - 1;
        let lines = [0, last].map(|i| dot(&self.modes.surface[i], &kept));
        Line { into, into_per_k: self.into, lines, lines_per_k: self.lines, film_up: self.film_up }
    }

    /// What it would do at the end of a step between those.
    pub fn expected(&self, sides: &Sides) -> Now {
        self.line().at(sides)
    }

    /// Takes a step between those; what it does at its end.
    pub fn step(&mut self, sides: &Sides) -> Now {
        let now = self.expected(sides);
        let by = sides.by_side();
        for k in 0..self.state.len() {
            let drive: f64 = (0..3).map(|p| self.modes.gains[p][k] * by[p]).sum();
            self.state[k] = self.state[k] * self.left[k] + self.comes[k] * drive;
        }
        now
    }
}

/// What a section will do at the end of a step, as a straight line in what is around it.
#[derive(Debug, Clone, Copy)]
pub struct Line {
    into: [f64; 3],
    into_per_k: [[f64; 3]; 3],
    lines: [f64; 2],
    lines_per_k: [[f64; 3]; 2],
    film_up: f64,
}

impl Line {
    /// Between those sides.
    pub fn at(&self, sides: &Sides) -> Now {
        let by = sides.by_side();
        let into = |p: usize| self.into[p] + (0..3).map(|q| self.into_per_k[p][q] * by[q]).sum::<f64>();
        let line = |i: usize| self.lines[i] + (0..3).map(|q| self.lines_per_k[i][q] * by[q]).sum::<f64>();
        let up = into(UP);
        Now {
            up_w_m2: up,
            down_w_m2: into(DOWN),
            water_w_m2: -into(WATER),
            surface_c: sides.up + up / self.film_up,
            over_tube_c: line(0),
            midway_c: line(1),
        }
    }

    /// Water that gives that heat, W/m², whatever else is around it as in `sides`, °C.
    pub fn water_for(&self, sides: &Sides, heat_w_m2: f64) -> f64 {
        let at = self.at(sides);
        sides.water + (heat_w_m2 - at.water_w_m2) / -self.into_per_k[WATER][WATER]
    }

    /// Heat upward as a straight line in the mean of the surface, whatever is above it: at 0 °C, and per kelvin, W/m². `sides.up` does
    /// not matter.
    pub fn over_surface(&self, sides: &Sides) -> [f64; 2] {
        let by_air = self.into_per_k[UP][UP];
        let rest = self.at(&Sides { up: 0.0, ..*sides }).up_w_m2;
        // up = rest + by_air·air, and the surface is air + up/film
        let whole = 1.0 + by_air / self.film_up;
        [rest / whole, by_air / whole]
    }

    /// What has to be above the film for the surface to have that mean, °C.
    pub fn air_for(&self, sides: &Sides, surface_c: f64) -> f64 {
        let [at_zero, per_k] = self.over_surface(sides);
        surface_c - (at_zero + per_k * surface_c) / self.film_up
    }
}
