//! Floors for one room side by side: every combination of what is varied, judged against the room's need and the house
//! rules, the best first.

use super::heating::{
    FIRST_FILM_W_M2K, FieldState, FloorState, Heating, field_state, floor_parts, floor_state, water_film,
};
use crate::error::FieldError;
use crate::floor::Parts;
use crate::heat_loss::HeatLoss;
use crate::job::{BuildUp, Floor, Job, Preference, TubeFrom, range};
use crate::layout;
use crate::library;
use crate::plan::Plan;
use crate::units::{Quantity, Units};
use crate::water;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// More variants than anybody reads.
pub const MAX_VARIANTS: usize = 2000;
/// More choices than an axis holds.
const MAX_CHOICES: usize = 40;

/// What is varied; an empty list leaves the room's own.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Sweep {
    /// Build-ups.
    pub build_up_ids: Vec<String>,
    /// Coverings.
    pub covering_ids: Vec<String>,
    /// Tubes.
    pub tube_ids: Vec<String>,
    /// Spacings in the core, m; the edge is never wider.
    pub spacings_m: Vec<f64>,
    /// From the upper face of the tube's layer to its crown, m.
    pub covers_m: Vec<f64>,
    /// Insulation under the tube, m²K/W.
    pub insulations_m2k_w: Vec<f64>,
    /// Sheets.
    pub plates: Vec<PlateChoice>,
    /// Supply temperatures, °C: what the floor gives at each, instead of what it needs.
    pub supplies_c: Vec<f64>,
}

/// What is done about the metal sheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PlateChoice {
    /// As the build-up has it.
    AsBuilt,
    /// Left out.
    None,
    /// Half as wide.
    Narrow,
    /// Touching loosely: 0.5 mm of air.
    Loose,
    /// A bead of sealant in the contact.
    Sealed,
}

/// One combination.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choice {
    /// The floor, as it would stand in the room.
    pub floor: Floor,
    /// The build-up where it is none of the job or the library, to be added to the job.
    pub build_up: Option<BuildUp>,
    /// What is done about the sheet.
    pub plate: PlateChoice,
    /// From the upper face of the tube's layer to its crown, m.
    pub cover_m: f64,
    /// The supply temperature asked for, °C.
    pub supply_c: Option<f64>,
}

/// A house rule or limit that a variant breaks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Breach {
    /// It does not carry the room within its surface limit.
    Surface,
    /// The water it needs (or is given) is more than covering or build-up stand.
    Supply,
    /// It does not carry the room at the supply temperature asked for.
    Short,
    /// Bare feet feel the tubes.
    Striping,
    /// The firm does not lay that spacing.
    Spacing,
    /// The covering holds back more than 0.15 m²K/W.
    Covering,
}

/// What a variant does in its room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outcome {
    /// Whether it gives what the room needs within every limit of surface and water.
    pub carries: bool,
    /// Supply temperature it needs, or the one asked for, °C.
    pub supply_c: f64,
    /// Heat into the room, fields included, W.
    pub given_w: f64,
    /// What it gives less than the room needs, W.
    pub short_w: f64,
    /// Heat into the room, W/m².
    pub flux_w_m2: f64,
    /// The most it gives within its surface limit, W/m².
    pub flux_limit_w_m2: f64,
    /// Heat to below, W/m².
    pub down_w_m2: f64,
    /// Mean surface, °C.
    pub surface_mean_c: f64,
    /// Warmest line, °C.
    pub surface_max_c: f64,
    /// Striping, K.
    pub striping_k: f64,
    /// Tube in the field, without leaders, m.
    pub tube_m: f64,
    /// Height it adds, m.
    pub height_m: f64,
    /// Weight it adds, kg/m².
    pub weight_kg_m2: f64,
    /// Mean delay of the heat after a step of the water, s.
    pub time_constant_s: f64,
    /// What it breaks.
    pub breaches: Vec<Breach>,
}

/// A combination and what it does, or why it cannot be built.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Variant {
    /// The combination.
    pub choice: Choice,
    /// What it does; none where it cannot be built.
    pub outcome: Option<Outcome>,
    /// Why it cannot be built.
    pub refused: Option<String>,
    /// Where it stands by the house rules: to be compared number by number, the lowest first.
    pub rank: Vec<f64>,
    /// Whether it is what the room has now.
    pub now: bool,
}

/// A room to be heated, with all that does not change from floor to floor.
pub struct RoomTask<'a> {
    job: &'a Job,
    plan: &'a Plan,
    index: usize,
    heat: &'a HeatLoss,
    area_m2: f64,
    need_w: f64,
    fields: Vec<FieldState>,
}

impl<'a> RoomTask<'a> {
    /// The task of that room. Leaders of other rooms are not counted: they move with the layout.
    ///
    /// # Errors
    /// As the design of the room's fields.
    pub fn new(job: &'a Job, plan: &'a Plan, index: usize, heat: &'a HeatLoss) -> Result<RoomTask<'a>, FieldError> {
        let mut fields = Vec::new();
        for field in job.rooms[index].heated_fields() {
            fields.extend(field_state(job, plan, index, field, heat)?);
        }
        let area_m2 = plan.heatable_m2[index];
        Ok(RoomTask { job, plan, index, heat, area_m2, need_w: heat.rooms[index].heat_w, fields })
    }

    /// What a floor of those parts does here, at the supply temperature asked for or at the one it needs: once with
    /// turbulent water, then with the film of the flow that came out.
    ///
    /// # Errors
    /// When the parts do not go together, or the fluid has no properties at that temperature.
    pub fn outcome(&self, floor: &Floor, parts: &Parts, asked: Option<f64>) -> Result<Outcome, FieldError> {
        let (state, water) = self.run(floor, parts, asked, FIRST_FILM_W_M2K)?;
        let loops = (self.tube_m(floor) / layout::longest_loop(self.job, parts.tube)).ceil().max(1.0);
        let heat = (state.flux_up(water.own) + state.flux_down(water.own)) * self.area_m2;
        let drop = self.job.rules.temperature_drop_k;
        let film = water_film(self.job, parts.tube, heat, loops, water.supply_c, drop)?;
        let (state, water) = self.run(floor, parts, asked, film.unwrap_or(FIRST_FILM_W_M2K))?;
        Ok(self.judge(floor, parts, &state, &water, asked.is_some()))
    }

    /// The floor under that film of water, and the water that runs in it.
    fn run(
        &self,
        floor: &Floor,
        parts: &Parts,
        asked: Option<f64>,
        film: f64,
    ) -> Result<(FloorState, Water), FieldError> {
        let drop = self.job.rules.temperature_drop_k;
        let room_c = self.job.rooms[self.index].room_c;
        let state = floor_state(self.job, self.plan, self.index, floor, parts, &self.heat.below[self.index], film, false)?;
        let limit = state.excess_limit_k;
        let heating = Heating { floor: Some(state), fields: self.fields.clone() };
        let excess = match asked {
            Some(supply) => water::mean_excess(room_c, supply, drop),
            None => heating.excess_for(self.area_m2, self.need_w),
        };
        let water = Water {
            supply_c: asked.unwrap_or_else(|| water::supply_for(room_c, excess, drop)),
            supply_limit_c: heating.supply_limit_c(),
            own: if asked.is_some() { excess } else { excess.min(limit) },
            fields_w: heating.fields_heat(excess),
        };
        let state = heating.floor.ok_or_else(|| FieldError::new("floor", "cannot be solved"))?;
        Ok((state, water))
    }

    fn tube_m(&self, floor: &Floor) -> f64 {
        let edge = super::heating::edge_share(self.job, self.plan, self.index, floor);
        self.area_m2 * (edge / floor.spacing_edge_m + (1.0 - edge) / floor.spacing_core_m)
    }

    fn judge(&self, floor: &Floor, parts: &Parts, state: &FloorState, w: &Water, asked: bool) -> Outcome {
        let rules = &self.job.rules;
        let flux = state.flux_up(w.own);
        let given_w = flux * self.area_m2 + w.fields_w;
        let short_w = (self.need_w - given_w).max(0.0);
        let over_surface = w.own > state.excess_limit_k * 1.001 + 1e-6;
        let surface = state.surface(w.own);
        let is_short = short_w > 0.002 * self.need_w.max(1.0);
        let mut breaches = Vec::new();
        let mut breach = |broken: bool, what| broken.then(|| breaches.push(what));
        breach(if asked { over_surface } else { is_short }, Breach::Surface);
        breach(w.supply_c > w.supply_limit_c + 0.05, Breach::Supply);
        breach(asked && is_short, Breach::Short);
        breach(surface.striping_k > rules.striping_limit_k, Breach::Striping);
        let offered = |s: f64| rules.spacings_m.iter().any(|o| (o - s).abs() < 1e-6);
        breach(!offered(floor.spacing_core_m) || !offered(floor.spacing_edge_m), Breach::Spacing);
        breach(parts.covering.is_some_and(|c| c.resistance_m2k_w > 0.15 + 1e-9), Breach::Covering);
        let carries = !breaches.iter().any(|b| matches!(b, Breach::Surface | Breach::Supply | Breach::Short));
        Outcome {
            carries,
            supply_c: w.supply_c,
            given_w,
            short_w: if is_short { short_w } else { 0.0 },
            flux_w_m2: flux,
            flux_limit_w_m2: state.flux_up(state.excess_limit_k),
            down_w_m2: state.flux_down(w.own),
            surface_mean_c: state.core().surface_mean(flux),
            surface_max_c: surface.max_c,
            striping_k: surface.striping_k,
            tube_m: self.tube_m(floor),
            height_m: state.height_m,
            weight_kg_m2: state.weight_kg_m2,
            time_constant_s: state.core().time_constant_s,
            breaches,
        }
    }
}

/// The water of a variant.
struct Water {
    supply_c: f64,
    /// Highest that floor and fields stand, °C.
    supply_limit_c: f64,
    /// Excess in the floor, K.
    own: f64,
    /// Heat of the room's fields, W.
    fields_w: f64,
}

impl Sweep {
    fn check(&self, job: &Job) -> Result<(), FieldError> {
        let known = |field: &str, ids: &[String], found: &dyn Fn(&str) -> bool| -> Result<(), FieldError> {
            match ids.iter().position(|id| !found(id)) {
                Some(i) => {
                    Err(FieldError::new(format!("sweep.{field}[{i}]"), "is neither in the job nor in the library"))
                }
                None => Ok(()),
            }
        };
        known("build_up_ids", &self.build_up_ids, &|id| job.build_up(id).is_some())?;
        known("covering_ids", &self.covering_ids, &|id| library::covering(id).is_some())?;
        known("tube_ids", &self.tube_ids, &|id| library::tube(id).is_some())?;
        for (field, values, low, high) in [
            ("spacings_m", &self.spacings_m, 0.05, 0.6),
            ("covers_m", &self.covers_m, 0.0, 1.0),
            ("insulations_m2k_w", &self.insulations_m2k_w, 0.0, 20.0),
            ("supplies_c", &self.supplies_c, 15.0, 90.0),
        ] {
            for (i, v) in values.iter().enumerate() {
                range(&format!("sweep.{field}[{i}]"), *v, low, high)?;
            }
        }
        let lengths = self.lengths();
        if lengths.iter().any(|n| *n > MAX_CHOICES) || lengths.iter().product::<usize>() > MAX_VARIANTS {
            let reason = format!("asks for more than {MAX_VARIANTS} variants, or more than {MAX_CHOICES} of one thing");
            return Err(FieldError::new("sweep", reason));
        }
        Ok(())
    }

    fn lengths(&self) -> [usize; 8] {
        [
            self.build_up_ids.len(),
            self.covering_ids.len(),
            self.tube_ids.len(),
            self.spacings_m.len(),
            self.covers_m.len(),
            self.insulations_m2k_w.len(),
            self.plates.len(),
            self.supplies_c.len(),
        ]
        .map(|n| n.max(1))
    }

    /// All combinations for a floor, in the order of the lists, each once.
    fn choices(&self, job: &Job, now: &Floor) -> Vec<Choice> {
        let lengths = self.lengths();
        let mut out: Vec<Choice> = Vec::new();
        let mut seen = HashSet::new();
        for k in 0..lengths.iter().product::<usize>() {
            let mut rest = k;
            // the last list turns fastest
            let mut at = [0; 8];
            for (i, n) in lengths.iter().enumerate().rev() {
                at[i] = rest % n;
                rest /= n;
            }
            let mut floor = now.clone();
            let pick = |list: &[String], i: usize, own: &mut String| {
                if let Some(id) = list.get(i) {
                    own.clone_from(id);
                }
            };
            pick(&self.build_up_ids, at[0], &mut floor.build_up_id);
            pick(&self.covering_ids, at[1], &mut floor.covering_id);
            pick(&self.tube_ids, at[2], &mut floor.tube_id);
            if let Some(&s) = self.spacings_m.get(at[3]) {
                floor.spacing_core_m = s;
                floor.spacing_edge_m = floor.spacing_edge_m.min(s);
            }
            if let Some(&r) = self.insulations_m2k_w.get(at[5]) {
                floor.insulation_m2k_w = Some(r);
            }
            let plate = self.plates.get(at[6]).copied().unwrap_or(PlateChoice::AsBuilt);
            let supply_c = self.supplies_c.get(at[7]).copied();
            let (Some(build_up), Some(tube)) = (job.build_up(&floor.build_up_id), library::tube(&floor.tube_id)) else {
                continue;
            };
            // where there is no sheet, nothing about it is chosen
            let plate = if build_up.plate.is_none() { PlateChoice::AsBuilt } else { plate };
            let asked = self.covers_m.get(at[4]).copied();
            let (build_up, changed) = built(build_up, tube, asked, plate, job.site.units);
            let plate =
                if build_up.plate.is_none() && plate != PlateChoice::None { PlateChoice::AsBuilt } else { plate };
            let cover_m = cover(&build_up, tube);
            let choice = Choice { floor, build_up: changed.then_some(build_up), plate, cover_m, supply_c };
            if seen.insert(serde_json::to_string(&choice).unwrap_or_default()) {
                out.push(choice);
            }
        }
        out
    }
}

/// Layer's upper face to the tube's crown, m.
fn cover(build_up: &BuildUp, tube: &library::Tube) -> f64 {
    let room = build_up.layers.get(build_up.tube_layer).map_or(0.0, |l| l.thickness_m);
    match build_up.tube_from {
        TubeFrom::Top => build_up.tube_gap_m,
        TubeFrom::Bottom => room - tube.od_m - build_up.tube_gap_m,
    }
}

/// A build-up with its tube at another depth and its sheet changed; whether that is another build-up.
fn built(
    from: &BuildUp,
    tube: &library::Tube,
    cover_m: Option<f64>,
    plate: PlateChoice,
    units: Units,
) -> (BuildUp, bool) {
    let mut out = from.clone();
    if let Some(c) = cover_m {
        out.tube_from = TubeFrom::Top;
        out.tube_gap_m = c;
    }
    match (plate, &mut out.plate) {
        (PlateChoice::None, p) => *p = None,
        (PlateChoice::Narrow, Some(p)) => p.width_m = (0.5 * p.width_m).max(0.04),
        // 0.026 W/mK through half a millimetre
        (PlateChoice::Loose, Some(p)) => p.contact_w_m2k = Some(52.0),
        (PlateChoice::Sealed, Some(p)) => p.contact_w_m2k = Some(1000.0),
        _ => {}
    }
    let moved = (cover(&out, tube) - cover(from, tube)).abs() > 1e-6;
    let changed = moved || out.plate != from.plate;
    if changed {
        let mut what = Vec::new();
        if moved {
            what.push(format!("tube {} deep", units.show(Quantity::Size, cover(&out, tube))));
        }
        if out.plate != from.plate {
            what.push(
                match plate {
                    PlateChoice::None => "no sheet",
                    PlateChoice::Narrow => "narrow sheet",
                    PlateChoice::Loose => "sheet loose",
                    PlateChoice::Sealed => "sheet sealed",
                    PlateChoice::AsBuilt => "",
                }
                .to_owned(),
            );
        }
        out.name = format!("{}, {}", from.name, what.join(", "));
        out.id = String::new();
    } else {
        out = from.clone();
    }
    (out, changed)
}

/// A part of a comparison.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Compared {
    /// How many variants there are in all.
    pub total: usize,
    /// Those asked for.
    pub variants: Vec<Variant>,
}

/// A part of a sweep, from variant `from` on, `most` of them at most, in the order of the lists. Work is shared among
/// two threads; the answer does not depend on them.
///
/// # Errors
/// Names what is wrong with the job or the sweep, or that the room has no heated floor.
pub fn compare(job: &Job, room_id: &str, sweep: &Sweep, from: usize, most: usize) -> Result<Compared, FieldError> {
    job.check()?;
    sweep.check(job)?;
    let index = job.rooms.iter().position(|r| r.id == room_id);
    let index = index.ok_or_else(|| FieldError::new("room_id", "names no room of this job"))?;
    let now = job.rooms[index].heated_floor();
    let now = now.ok_or_else(|| FieldError::new("room_id", "this room has no heated floor"))?;
    let plan = Plan::of(job);
    let heat = crate::heat_loss::heat_loss(job, &plan);
    let task = RoomTask::new(job, &plan, index, &heat)?;
    let choices = sweep.choices(job, now);
    let total = choices.len();
    let choices: Vec<Choice> = choices.into_iter().skip(from).take(most).collect();
    let half = choices.len().div_ceil(2).max(1);
    let mut variants = Vec::with_capacity(choices.len());
    std::thread::scope(|scope| {
        let workers: Vec<_> = choices
            .chunks(half)
            .map(|chunk| {
                let task = &task;
                scope.spawn(move || chunk.iter().map(|c| variant(task, now, c)).collect::<Vec<_>>())
            })
            .collect();
        for worker in workers {
            variants.extend(worker.join().unwrap_or_default());
        }
    });
    Ok(Compared { total, variants })
}

fn variant(task: &RoomTask, now: &Floor, choice: &Choice) -> Variant {
    let is_now = choice.floor == *now && choice.build_up.is_none();
    let parts = floor_parts(task.job, &choice.floor);
    let outcome = match &parts {
        Some(parts) => {
            let parts = Parts { build_up: choice.build_up.as_ref().unwrap_or(parts.build_up), ..*parts };
            if parts.build_up.face != crate::section::film::Face::Floor || parts.build_up.outdoors {
                Err(FieldError::new("build_up_id", "is not for a room's floor"))
            } else {
                task.outcome(&choice.floor, &parts, choice.supply_c)
            }
        }
        None => Err(FieldError::new("floor", "is not in the library")),
    };
    let (outcome, refused) = match outcome {
        Ok(o) => (Some(o), None),
        Err(e) => (None, Some(e.reason)),
    };
    let rank = rank(task.job.rules.prefer, outcome.as_ref());
    Variant { choice: choice.clone(), outcome, refused, rank, now: is_now }
}

/// Where a variant stands by the house rules, to be compared number by number, the lowest first: those that carry the
/// room, then by how many rules they break, then by what the firm prefers, then by the water they need, or by what they
/// leave over.
fn rank(prefer: Preference, outcome: Option<&Outcome>) -> Vec<f64> {
    let Some(o) = outcome else { return vec![2.0] };
    let first = match prefer {
        Preference::CoolWater => o.supply_c,
        Preference::LittleTube => o.tube_m,
        Preference::Quick => o.time_constant_s,
        Preference::Low => o.height_m,
    };
    if o.carries {
        vec![0.0, o.breaches.len() as f64, first, o.supply_c, o.tube_m]
    } else {
        vec![1.0, o.breaches.len() as f64, o.short_w, first, o.supply_c]
    }
}
