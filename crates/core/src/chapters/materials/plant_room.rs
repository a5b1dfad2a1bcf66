//! What is counted of manifolds, plant room and fluid.

use super::articles::plain_figure;
use super::takeoff::Count;
use crate::findings::{Subject, SubjectKind};
use crate::fluid;
use crate::job::{Arrangement, Feed, FluidKind, Job, Mixing, SourceKind};
use crate::study::Study;
use crate::units::Quantity as Q;
use std::collections::BTreeMap;

/// Filled in at that temperature, °C, by whose density glycol is measured out.
const FILL_C: f64 = 10.0;
/// Density of glycol before it is mixed, kg/m³ at 20 °C: propylene and ethylene glycol (CRC Handbook).
const PROPYLENE_KG_M3: f64 = 1036.0;
const ETHYLENE_KG_M3: f64 = 1113.0;

impl Count<'_> {
    pub(super) fn manifolds(&mut self) {
        let study = self.study();
        for m in study.manifolds.iter().filter(|m| m.ports_used > 0) {
            let subject = || Subject::of(SubjectKind::Manifold, &m.id);
            let name = format!("Manifold {}", m.letter);
            let used = f64::from(m.ports_used);
            let how = format!("{} of {} port pairs in use", m.ports_used, m.ports);
            self.add(&format!("manifold/{}", m.ports), 1.0, subject(), &name, how);
            self.add("cabinet", 1.0, subject(), &name, "One a manifold".into());
            self.add("ball-valve", 2.0, subject(), &name, "Supply and return".into());
            self.add("actuator", used, subject(), &name, "One a loop".into());
            self.add("label", 2.0 * used, subject(), &name, "Both ends of every loop".into());
            let mut ends: BTreeMap<&str, f64> = BTreeMap::new();
            for l in study.loops.iter().filter(|l| l.manifold_id == m.id) {
                *ends.entry(l.tube_id.as_str()).or_default() += 2.0;
            }
            for (tube_id, n) in ends {
                self.add(&format!("adapter/{tube_id}"), n, subject(), &name, "Both ends of every loop".into());
            }
            // where tube comes up out of what is poured
            let poured = study.loops.iter().filter(|l| l.manifold_id == m.id && self.is_poured(l.room_ids.first()));
            let bends = 2.0 * poured.count() as f64;
            self.add("bend-support", bends, subject(), &name, "Where both ends come up out of the floor".into());
            if study.job.rules.insulated_leaders {
                let own = study.loops.iter().zip(&study.layout.loops).filter(|(l, _)| l.manifold_id == m.id);
                let sleeved: f64 = own.flat_map(|(_, laid)| laid.leaders_in.values()).sum();
                self.add("leader-sleeve", sleeved, subject(), &name, "Leaders in rooms that they do not serve".into());
            }
        }
    }

    fn is_poured(&self, room_id: Option<&String>) -> bool {
        let job = &self.study().job;
        let room = room_id.and_then(|id| job.room(id)).filter(|r| r.heated_floor().is_some());
        room.is_some_and(|r| job.has_poured_floor(r))
    }

    pub(super) fn plant(&mut self) {
        let study = self.study();
        let (Some(plant), Some(design)) = (&study.job.plant, &study.plant) else { return };
        let units = self.units;
        for (name, source) in [("Heat source", Some(&plant.source)), ("Second source", plant.second.as_ref())] {
            if let Some(s) = source.filter(|s| s.kind != SourceKind::Existing) {
                let kind =
                    serde_json::to_value(s.kind).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
                let how = format!("Rated output {}", units.show(Q::Heat, s.most_w));
                self.add(&format!("source/{kind}"), 1.0, Subject::job(), name, how);
            }
        }
        for c in design.state.iter().flat_map(|s| &s.circuits) {
            if let Some(model) = &c.pump.model_id {
                let how = format!("{} at design", units.show(Q::Flow, c.design_flow_l_min));
                self.add(&format!("pump/{model}"), 1.0, Subject::job(), &c.name, how);
            }
            let mixing = match c.mixing {
                Mixing::None => None,
                Mixing::Thermostatic => Some("mixing/thermostatic"),
                Mixing::ThreeWay => Some("mixing/three_way"),
                Mixing::Injection => Some("mixing/injection"),
            };
            if let Some(code) = mixing {
                self.add(code, 1.0, Subject::job(), &c.name, "Its mixing device".into());
            }
            let mains_m = mains_m(&study.job, &c.id);
            let code = format!("pipe/{}", plain_figure(c.mains_bore_m * 1000.0));
            let how = format!("There and back, {} each", units.show(Q::Tube, mains_m));
            self.add(&code, 2.0 * mains_m, Subject::job(), &c.name, how);
        }
        let code = format!("pipe/{}", plain_figure(plant.primary_bore_m * 1000.0));
        self.add(&code, plant.primary_m, Subject::job(), "Primary piping", "There and back".into());
        for (pump, name) in design
            .state
            .iter()
            .flat_map(|s| &s.sources)
            .filter_map(|s| Some((s.pump.as_ref()?.model_id.clone()?, &s.name)))
        {
            self.add(&format!("pump/{pump}"), 1.0, Subject::job(), name, "Of the source".into());
        }
        let circuits = design.state.as_ref().map_or(0, |s| s.circuits.len()) as f64;
        match plant.arrangement {
            Arrangement::TeesInSeries | Arrangement::TeesWithHeaders => {
                self.add("closely-spaced-tees", circuits, Subject::job(), "Circuits", "One pair each".into());
            }
            Arrangement::Separator => self.add("separator", 1.0, Subject::job(), "Arrangement", String::new()),
            Arrangement::Exchanger => self.add("exchanger", 1.0, Subject::job(), "Arrangement", String::new()),
            _ => {}
        }
        if plant.buffer_l > 0.0 {
            self.add(
                &format!("buffer/{}", plain_figure(plant.buffer_l)),
                1.0,
                Subject::job(),
                "Arrangement",
                String::new(),
            );
        }
        if let Some(litres) = design.vessel.chosen_l {
            let how = format!("Content {}", units.show(Q::Content, design.vessel.content_l));
            self.add(&format!("vessel/{}", plain_figure(litres)), 1.0, Subject::job(), "Expansion", how);
        }
        for code in ["relief", "air-separator", "dirt-separator", "fill-set"] {
            self.add(code, 1.0, Subject::job(), "Safety and filling", "One a plant".into());
        }
    }

    /// Glycol for all that is filled.
    pub(super) fn fluid(&mut self) {
        let study = self.study();
        let mix = &study.job.fluid;
        let (code, pure) = match mix.kind {
            FluidKind::Water => return,
            FluidKind::PropyleneGlycol => ("glycol/propylene_glycol", PROPYLENE_KG_M3),
            FluidKind::EthyleneGlycol => ("glycol/ethylene_glycol", ETHYLENE_KG_M3),
        };
        let content_l = study.plant.as_ref().map_or_else(|| tubes_l(study), |p| p.vessel.content_l);
        let Ok(of) = fluid::properties(mix, FILL_C) else { return };
        let litres = content_l * of.density * mix.mass_fraction / pure;
        let how = format!(
            "{} of content, {} of its mass",
            self.units.show(Q::Content, content_l),
            self.units.show(Q::Share, mix.mass_fraction)
        );
        self.add(code, litres, Subject::job(), "Filling", how);
    }
}

/// Mains of a circuit or user, one way, m.
fn mains_m(job: &Job, id: &str) -> f64 {
    let circuit = job.circuits.iter().find(|c| c.id == id).map(|c| &c.feed);
    let user = || job.plant.iter().flat_map(|p| &p.users).find(|u| u.id == id).map(|u| &u.feed);
    circuit.or_else(user).map_or_else(|| Feed::default().mains_m, |f| f.mains_m)
}

/// Water in all loops, L.
fn tubes_l(study: &Study) -> f64 {
    let of = |l: &crate::loops::report::LoopDesign| {
        let bore = study.job.tube(&l.tube_id)?.bore_m();
        Some(l.length_m * std::f64::consts::PI / 4.0 * bore * bore * 1000.0)
    };
    study.loops.iter().filter_map(of).sum()
}
