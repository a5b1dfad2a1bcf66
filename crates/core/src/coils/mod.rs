//! Which loops are cut from which coil, so that no loop has a joint and the coils cost least, waste least or are fewest. Usable
//! alone: `fuoco coils` reads and prints these types; `docs/coils.md` has the contract and the method.
//!
//! ```
//! use fuoco_core::coils::CoilTask;
//! let task = CoilTask::from_json(r#"{
//!     "coils": [{ "id": "240", "length_m": 240, "price": 310 }, { "id": "120", "length_m": 120, "price": 170 }],
//!     "loops": [{ "id": "A1", "length_m": 78 }, { "id": "A2", "length_m": 81 }, { "id": "A3", "length_m": 76 }, { "id": "B1", "length_m": 96 }],
//!     "reserve": { "per_loop_m": 1, "share": 0 },
//!     "objective": "price"
//! }"#)?;
//! let plan = task.plan()?;
//! // A1, A2 and A3 take 238 m with their reserves; B1 wants a coil of its own
//! assert!(plan.optimal && plan.bought.len() == 2 && plan.bound == 480.0);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

mod bound;
mod fill;
mod pack;
mod plans;
mod search;
mod sums;

use crate::check::{range, read, unique};
use crate::error::FieldError;
use crate::ranges::{Ranged, ranges};
use pack::{Kind, Packing, Packs};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Most kinds of coils.
const MOST_KINDS: usize = 30;
/// Most loops of one plan.
const MOST_LOOPS: usize = 600;
/// Lengths are planned in millimetres: loops rounded up, coils down.
const MM: f64 = 1000.0;
/// Prices are planned in hundredths.
const CENTS: f64 = 100.0;
/// A length that is a whole number of millimetres but for the arithmetic.
const EXACT: f64 = 1e-6;

/// A coil that can be bought.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Coil {
    /// What it is called.
    pub id: String,
    /// Tube on it, m: 1 to 5000.
    pub length_m: f64,
    /// In the firm's currency, 0 to 1 000 000; may only be absent where the objective is not the price.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
    /// So many are there; as many as it takes when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stock: Option<u32>,
}

/// A loop to be cut.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LoopToCut {
    /// What it is called.
    pub id: String,
    /// Tube of it, leaders included, m: 0.1 to 2000.
    pub length_m: f64,
}

/// What is cut beyond the length drawn.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields, default)]
pub struct Reserve {
    /// Tails at the manifold, of each loop, m
    pub per_loop_m: f64,
    /// What measuring loses, as share of the length
    pub share: f64,
}

impl Default for Reserve {
    fn default() -> Self {
        Reserve { per_loop_m: 1.0, share: 0.01 }
    }
}

impl Reserve {
    /// What is cut for a loop, m.
    pub fn cut_m(&self, length_m: f64) -> f64 {
        length_m * (1.0 + self.share) + self.per_loop_m
    }
}

/// What the plan has least of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Objective {
    /// Money for coils.
    #[default]
    Price,
    /// Tube that is bought and not laid, m.
    Waste,
    /// Coils to carry.
    Coils,
}

/// What is asked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CoilTask {
    /// The coils that can be bought: 1 to 30 kinds.
    pub coils: Vec<Coil>,
    /// The loops: up to 600.
    pub loops: Vec<LoopToCut>,
    /// What is cut beyond their lengths.
    pub reserve: Reserve,
    /// What there shall be least of.
    pub objective: Objective,
}

/// A piece of a coil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cut {
    /// The bought coil.
    pub coil: String,
    /// From the coil's free end, m.
    pub from_m: f64,
    /// To there, m.
    pub to_m: f64,
    /// The loop that it is for.
    pub loop_id: String,
}

/// A coil that is bought.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BoughtCoil {
    /// The number under which the plan has it: K1, K2 and so on.
    pub coil: String,
    /// Which it is.
    pub coil_id: String,
    /// Its price, where known.
    pub price: Option<f64>,
}

/// What is left of a coil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Offcut {
    /// The bought coil.
    pub coil: String,
    /// m
    pub length_m: f64,
}

/// Which loops are cut from which coil.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoilPlan {
    /// Coil by coil, in the order of cutting.
    pub cuts: Vec<Cut>,
    /// The coils.
    pub bought: Vec<BoughtCoil>,
    /// What is left of them, where anything is.
    pub offcuts: Vec<Offcut>,
    /// What the objective comes to: money, m, or coils.
    pub total: f64,
    /// No plan can have less of it: proved.
    pub bound: f64,
    /// The plan is as good as any: `total` is `bound`.
    pub optimal: bool,
}

ranges! {
    of Reserve { per_loop_m: Tube 0.0..=50.0, share: Share 0.0..=0.5 }
}

impl CoilTask {
    /// Reads a task.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt or out of range.
    pub fn from_json(text: &str) -> Result<CoilTask, FieldError> {
        let task: CoilTask = read(text)?;
        task.check()?;
        Ok(task)
    }

    fn check(&self) -> Result<(), FieldError> {
        if !(1..=MOST_KINDS).contains(&self.coils.len()) {
            return Err(FieldError::new("coils", format!("must have 1 to {MOST_KINDS} kinds")));
        }
        if self.loops.len() > MOST_LOOPS {
            return Err(FieldError::new("loops", format!("must not have more than {MOST_LOOPS}")));
        }
        let mut seen = BTreeSet::new();
        for (i, coil) in self.coils.iter().enumerate() {
            unique(&mut seen, &format!("coils[{i}].id"), &coil.id)?;
            range(&format!("coils[{i}].length_m"), coil.length_m, 1.0, 5000.0)?;
            match coil.price {
                Some(price) => range(&format!("coils[{i}].price"), price, 0.0, 1e6)?,
                None if self.objective == Objective::Price => {
                    return Err(FieldError::new(format!("coils[{i}].price"), "is missing: the price cannot be least"));
                }
                None => {}
            }
        }
        let mut seen = BTreeSet::new();
        for (i, l) in self.loops.iter().enumerate() {
            unique(&mut seen, &format!("loops[{i}].id"), &l.id)?;
            range(&format!("loops[{i}].length_m"), l.length_m, 0.1, 2000.0)?;
        }
        self.reserve.check_ranges("reserve")
    }

    /// Tube to be cut for a loop, mm.
    fn cut_mm(&self, l: &LoopToCut) -> u64 {
        (self.reserve.cut_m(l.length_m) * MM - EXACT).ceil() as u64
    }

    /// What a coil counts in the objective: cents, mm, or coils.
    fn cost(&self, coil: &Coil) -> u64 {
        match self.objective {
            Objective::Price => (coil.price.unwrap_or(0.0) * CENTS).round() as u64,
            Objective::Waste => (coil.length_m * MM + EXACT).floor() as u64,
            Objective::Coils => 1,
        }
    }

    /// The plan with the least of the objective that was found, and a bound that no plan can be under.
    ///
    /// # Errors
    /// Names what is out of range, the loop that is longer than any coil with the metres that are missing, and a stock that the
    /// loops do not go into, with the metres by which it is short.
    pub fn plan(&self) -> Result<CoilPlan, FieldError> {
        self.check()?;
        let kinds: Vec<Kind> = self
            .coils
            .iter()
            .map(|c| Kind {
                holds: (c.length_m * MM + EXACT).floor() as u64,
                cost: self.cost(c),
                stock: c.stock.map_or(self.loops.len(), |s| (s as usize).min(self.loops.len())),
            })
            .collect();
        let pieces: Vec<u64> = self.loops.iter().map(|l| self.cut_mm(l)).collect();
        let longest = kinds.iter().filter(|k| k.stock > 0).map(|k| k.holds).max().unwrap_or(0);
        if let Some(i) = pieces.iter().position(|p| *p > longest) {
            let missing = (pieces[i] - longest) as f64 / MM;
            let reason = match longest {
                0 => "no coil is in stock".to_owned(),
                _ => format!("is {missing:.2} m longer, with its reserve, than any coil in stock"),
            };
            return Err(FieldError::new(format!("loops[{i}].length_m"), reason));
        }
        match pack::pack(&kinds, &pieces) {
            Packs::Into(packing) => Ok(self.told(&kinds, &pieces, &packing)),
            Packs::Short { mm, proved } => {
                let missing = mm as f64 / MM;
                let sure = if proved { "" } else { " as far as was tried" };
                Err(FieldError::new("coils", format!("those in stock are {missing:.2} m short of the loops{sure}")))
            }
        }
    }

    fn told(&self, kinds: &[Kind], pieces: &[u64], packing: &Packing) -> CoilPlan {
        let mut plan = CoilPlan {
            cuts: vec![],
            bought: vec![],
            offcuts: vec![],
            total: 0.0,
            bound: 0.0,
            optimal: packing.bound >= packing.cost,
        };
        for (k, bin) in packing.bins.iter().enumerate() {
            let coil = format!("K{}", k + 1);
            let mut at = 0;
            for piece in &bin.pieces {
                let next = at + pieces[*piece];
                plan.cuts.push(Cut {
                    coil: coil.clone(),
                    from_m: at as f64 / MM,
                    to_m: next as f64 / MM,
                    loop_id: self.loops[*piece].id.clone(),
                });
                at = next;
            }
            let left = kinds[bin.kind].holds - at;
            if left > 0 {
                plan.offcuts.push(Offcut { coil: coil.clone(), length_m: left as f64 / MM });
            }
            let of = &self.coils[bin.kind];
            plan.bought.push(BoughtCoil { coil, coil_id: of.id.clone(), price: of.price });
        }
        let used: u64 = pieces.iter().sum();
        let in_words = |cost: u64| match self.objective {
            Objective::Price => cost as f64 / CENTS,
            Objective::Waste => cost.saturating_sub(used) as f64 / MM,
            Objective::Coils => cost as f64,
        };
        (plan.total, plan.bound) = (in_words(packing.cost), in_words(packing.bound));
        plan
    }
}
