//! What a firm brings to every new job: its rules, prices, rates, own build-ups and constructions; and what stands on its papers.
//!
//! ```
//! use fuoco_core::job::{Firm, Start};
//! let mut firm = Firm { name: "Alder Heating".into(), ..Firm::default() };
//! let mut done = Start::named("Annex").job();
//! done.rules.largest_drop_k = 9.0;
//! firm.take(&done);
//! let mut next = Start::named("Barn").job();
//! firm.check()?.equip(&mut next);
//! assert_eq!(next.rules.largest_drop_k, 9.0);
//! # Ok::<(), fuoco_core::error::FieldError>(())
//! ```

use super::{
    BuildUp, CheckedJob, Construction, Covering, HeatSource, HouseRules, Job, LARGEST_JOB, Material, Mixing,
    PumpControl, PumpModel, Purchasing, Tube,
};
use crate::check::{read, text};
use crate::error::FieldError;
use crate::units::Units;
use serde::{Deserialize, Serialize};

/// What a firm's file begins with.
pub const FIRM_FORMAT: &str = "fuoco-firm";
/// The version that is written.
const FIRM_VERSION: u32 = 1;
/// Lines under a firm's name.
const MOST_LINES: usize = 8;

/// A firm.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Firm {
    /// [`FIRM_FORMAT`].
    pub format: String,
    /// Version of the file; 1.
    pub version: u32,
    /// Its name, as it stands on papers; up to 2000 characters.
    #[serde(default)]
    pub name: String,
    /// Address, telephone and what else stands under its name; at most 8 lines.
    #[serde(default)]
    pub lines: Vec<String>,
    /// The rules of new jobs; absent: ordinary practice in the job's units.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rules: Option<HouseRules>,
    /// Coils, fixings, prices, rates and terms of new jobs; absent: what is usual.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub purchasing: Option<Purchasing>,
    /// Its own materials.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub materials: Vec<Material>,
    /// Its own constructions.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub constructions: Vec<Construction>,
    /// Its own floor build-ups.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub build_ups: Vec<BuildUp>,
    /// The tubes it lays beside the library's.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub tubes: Vec<Tube>,
    /// The coverings it meets beside the library's.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub coverings: Vec<Covering>,
    /// The pumps it installs.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub pumps: Vec<PumpModel>,
    /// The heat sources it installs.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub sources: Vec<HeatSource>,
}

impl Default for Firm {
    fn default() -> Firm {
        Firm {
            format: FIRM_FORMAT.into(),
            version: FIRM_VERSION,
            name: String::new(),
            lines: vec![],
            rules: None,
            purchasing: None,
            materials: vec![],
            constructions: vec![],
            build_ups: vec![],
            tubes: vec![],
            coverings: vec![],
            pumps: vec![],
            sources: vec![],
        }
    }
}

impl Firm {
    /// Reads a firm from JSON and checks it.
    ///
    /// # Errors
    /// Names the field that is missing, misspelt, of the wrong type or out of its range.
    pub fn from_json(json: &str) -> Result<Firm, FieldError> {
        if json.len() > LARGEST_JOB {
            return Err(FieldError::new("document", format!("must not take more than {} MB", LARGEST_JOB >> 20)));
        }
        /// What is read first: any other file is told by its kind, not by its first field that a firm has not.
        #[derive(Deserialize)]
        struct Head {
            format: Option<String>,
        }
        if read::<Head>(json)?.format.as_deref() != Some(FIRM_FORMAT) {
            return Err(not_a_firm());
        }
        read::<Firm>(json)?.check()
    }

    /// The firm, when every new job that it equips passes the job's check.
    ///
    /// # Errors
    /// As for a job: the fields of rules, purchasing, materials, constructions and build-ups have the same names there.
    pub fn check(self) -> Result<Firm, FieldError> {
        if self.format != FIRM_FORMAT {
            return Err(not_a_firm());
        }
        if self.version != FIRM_VERSION {
            return Err(FieldError::new("version", format!("must be {FIRM_VERSION}")));
        }
        text("name", &self.name, 0)?;
        if self.lines.len() > MOST_LINES {
            return Err(FieldError::new("lines", format!("must be at most {MOST_LINES}")));
        }
        for (i, line) in self.lines.iter().enumerate() {
            text(&format!("lines[{i}]"), line, 0)?;
        }
        let mut job = Job::new("New job");
        self.equip(&mut job);
        CheckedJob::new(job)?;
        Ok(self)
    }

    /// Keeps for new jobs how this one is done. What belongs to it alone is left out: loops on coils, offers, its first day.
    pub fn take(&mut self, job: &Job) {
        self.rules = Some(job.rules.clone());
        let mut purchasing = job.purchasing.clone();
        purchasing.coils.by_hand.clear();
        purchasing.quote.options.clear();
        purchasing.quote.extras.clear();
        purchasing.labour.first_day = None;
        self.purchasing = Some(purchasing);
        self.materials.clone_from(&job.materials);
        self.constructions.clone_from(&job.constructions);
        self.build_ups.clone_from(&job.build_ups);
        self.tubes.clone_from(&job.tubes);
        self.coverings.clone_from(&job.coverings);
        self.pumps.clone_from(&job.pumps);
        self.sources.clone_from(&job.sources);
    }

    /// Gives a new job what the firm has.
    pub fn equip(&self, job: &mut Job) {
        if let Some(rules) = &self.rules {
            job.rules = rules.clone();
        }
        if let Some(purchasing) = &self.purchasing {
            job.purchasing = purchasing.clone();
        }
        job.materials.extend(self.materials.iter().cloned());
        job.constructions.extend(self.constructions.iter().cloned());
        job.build_ups.extend(self.build_ups.iter().cloned());
        job.tubes.extend(self.tubes.iter().cloned());
        job.coverings.extend(self.coverings.iter().cloned());
        job.pumps.extend(self.pumps.iter().cloned());
        job.sources.extend(self.sources.iter().cloned());
    }
}

fn not_a_firm() -> FieldError {
    FieldError::new("format", format!("must be \"{FIRM_FORMAT}\": this is not a firm's file"))
}

/// Rules as the schools of the trade have them, each with its reason, in whole sizes of `units`. A firm begins with one and
/// changes what it does otherwise.
pub fn schools(units: Units) -> Vec<HouseRules> {
    let size = |metric: f64, inches: f64| if units == Units::Us { inches * super::start::INCH_M } else { metric };
    let usual = super::Start { units: Some(units), ..super::Start::named("") }.job().rules;
    // 12 to 13 mm of bore: what most loops are laid with
    let longest = |metric: f64, feet: f64| {
        ["pex-16x2", "pex-17x2", "pex-1/2"].map(|id| (id.to_owned(), size(metric, feet * 12.0))).into_iter().collect()
    };
    vec![
        HouseRules {
            name: "Ordinary practice".into(),
            reason: "Tighter at cold walls, wider inside; loops of any length, balanced by their valves.".into(),
            ..usual.clone()
        },
        HouseRules {
            name: "Short loops, cool water".into(),
            reason: "Head and temperature drop stay small, a small pump and a heat pump's water suffice; more ports.".into(),
            longest_loop_m: longest(80.0, 250.0),
            spacings_m: [(0.1, 4.0), (0.15, 6.0), (0.2, 8.0)].map(|(m, inches)| size(m, inches)).to_vec(),
            temperature_drop_k: if units == Units::Us { 10.0 / 1.8 } else { 5.0 },
            largest_drop_k: 10.0,
            ..usual.clone()
        },
        HouseRules {
            name: "Long loops, strong pump".into(),
            reason: "Fewer joints and ports; the pump has to bring more head, and the far end is cooler.".into(),
            longest_loop_m: longest(150.0, 500.0),
            head_limit_pa: 60_000.0,
            largest_drop_k: 20.0,
            ..usual.clone()
        },
        HouseRules {
            name: "Even spacing in a thick slab".into(),
            reason: "One spacing everywhere: the slab evens it out, and the crew counts no squares.".into(),
            spacings_m: vec![size(0.3, 12.0)],
            edge_band_m: 0.0,
            striping_limit_k: 4.0,
            ..usual.clone()
        },
        HouseRules {
            name: "Equal loops without valves".into(),
            reason: "Loops of equal length on a plain header share the flow by themselves; nothing to set, nothing to seize.".into(),
            equal_loops: true,
            share_below_m: 0.0,
            ..usual.clone()
        },
        HouseRules {
            name: "Zone valves, pump at one speed".into(),
            reason: "Plain parts that any supply house has; a flat curve or a bypass keeps the last open zone quiet.".into(),
            pump_control: PumpControl::FixedSpeed,
            ..usual.clone()
        },
        HouseRules {
            name: "Thermostats on and off, fixed water".into(),
            reason: "A thermostatic valve holds one supply temperature; each room calls when it is cool. Simple to explain and to mend.".into(),
            mixing: Mixing::Thermostatic,
            ..usual.clone()
        },
        HouseRules {
            name: "Continuous circulation on a reset line".into(),
            reason: "The water follows the weather and hardly stops; rooms stay even, and the pump follows the drop across the floor.".into(),
            pump_control: PumpControl::ConstantDifference,
            ..usual
        },
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    fn demo() -> Job {
        crate::samples::read_job(include_str!("../../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound")
    }

    #[test]
    fn a_new_job_is_done_as_the_one_that_was_kept() {
        let mut firm = Firm { name: "Alder Heating".into(), lines: vec!["2 Mill Lane".into()], ..Firm::default() };
        let demo = demo();
        firm.take(&demo);
        let firm = Firm::from_json(&serde_json::to_string(&firm).expect("writes")).expect("sound");
        let mut job = Job::new("Next");
        firm.equip(&mut job);
        let job = CheckedJob::new(job).expect("sound");
        assert_eq!(job.rules, demo.rules);
        assert_eq!(job.purchasing.prices, demo.purchasing.prices);
        assert_eq!(job.purchasing.labour.lay_s_m, demo.purchasing.labour.lay_s_m);
        // what belongs to that job alone stays with it
        assert!(demo.purchasing.labour.first_day.is_some() && job.purchasing.labour.first_day.is_none());
        assert!(!demo.purchasing.quote.options.is_empty() && job.purchasing.quote.options.is_empty());
    }

    #[test]
    fn a_firm_without_rules_leaves_a_new_job_as_it_is() {
        let usual = super::super::Start { units: Some(Units::Us), ..super::super::Start::named("x") }.job();
        let mut job = usual.clone();
        Firm::default().equip(&mut job);
        assert_eq!(job, usual);
    }

    #[test]
    fn what_is_wrong_is_named() {
        let field = |change: &dyn Fn(&mut Firm)| {
            let mut firm = Firm::default();
            firm.take(&demo());
            change(&mut firm);
            firm.check().expect_err("refused").field
        };
        assert_eq!(field(&|f| f.format = "fuoco-job".into()), "format");
        assert_eq!(field(&|f| f.version = 2), "version");
        assert_eq!(field(&|f| f.lines = vec![String::new(); 9]), "lines");
        assert_eq!(field(&|f| f.lines = vec!["x".repeat(2001)]), "lines[0]");
        assert_eq!(field(&|f| f.rules.as_mut().expect("rules").spacings_m.clear()), "rules.spacings_m");
        let negative = |f: &mut Firm| f.purchasing.as_mut().expect("kept").labour.loop_s = -1.0;
        assert_eq!(field(&negative), "purchasing.labour.loop_s");
        assert_eq!(Firm::from_json("{}").expect_err("refused").field, "format");
        assert_eq!(
            Firm::from_json(r#"{"format":"fuoco-firm","version":1,"colour":"red"}"#).expect_err("refused").field,
            "colour"
        );
    }

    #[test]
    fn every_school_is_a_rule_set_by_which_a_job_can_be_done() {
        for units in [Units::Metric, Units::Us] {
            let all = schools(units);
            let names: std::collections::BTreeSet<_> = all.iter().map(|r| &r.name).collect();
            assert_eq!(names.len(), all.len());
            for rules in &all {
                assert!(!rules.reason.is_empty());
                Firm { rules: Some(rules.clone()), ..Firm::default() }.check().expect("sound");
            }
        }
        let us = schools(Units::Us);
        let feet = us[1].longest_loop_m["pex-1/2"] / 0.3048;
        assert!((feet - 250.0).abs() < 1e-9, "{feet}");
    }
}
