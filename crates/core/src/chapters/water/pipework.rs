//! Pipework: a network under construction, and how it is drawn. What is added to the one is added to the other.

use super::circuit::circuit_of_manifold;
use super::part::Feed;
use super::rooms::RoomsHeat;
use super::valves::kv_for;
use crate::error::FieldError;
use crate::floor::report::FieldDesign;
use crate::flow::{self, BORES_PER_QUARTER_TURN, PORT_KV};
use crate::fluid::Properties;
use crate::job::Job;
use crate::library;
use crate::loops::report::{LoopDesign, ManifoldDesign};
use crate::network::{Control, CurvePoint, Link, Network, NetworkFluid, Part};
use crate::study::solved::Solved;
use serde::{Deserialize, Serialize};

/// Bores of mains from which one is chosen, m: copper tube of common sizes.
const MAINS_M: [f64; 11] = [0.010, 0.013, 0.016, 0.020, 0.026, 0.033, 0.040, 0.051, 0.063, 0.076, 0.100];
/// Roughness of mains, m: drawn copper.
const MAINS_ROUGH_M: f64 = 0.000_001_5;
/// Mains run up to this velocity, m/s …
const MAINS_M_S: f64 = 1.0;
/// … and up to this pressure drop, Pa/m.
const MAINS_PA_M: f64 = 300.0;
/// Elbows and valves of a main, in velocity heads.
const MAINS_K: f64 = 6.0;
/// A contraction of the stream behind a dent or a repair coupling.
const CONTRACTION: f64 = 0.62;
/// What a mixing valve may take at its design flow, Pa.
pub(crate) const MIXER_PA: f64 = 3000.0;

/// What a symbol of the drawing stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
#[allow(missing_docs)]
pub enum SymbolKind {
    Source,
    Pump,
    Mixer,
    CheckValve,
    Manifold,
    Emitters,
    Tank,
    Typed,
    Separator,
    Buffer,
    Exchanger,
    Vessel,
    Tees,
}

/// A symbol of the drawing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Symbol {
    /// What it stands for.
    pub kind: SymbolKind,
    /// The circuit, user or part that it belongs to.
    pub id: String,
    /// Its words.
    pub label: String,
    /// Its middle, in the drawing's squares.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub at: [f64; 2],
    /// Width and height, squares.
    #[cfg_attr(feature = "schema", schema(value_type = [f64; 2]))]
    pub size: [f64; 2],
}

/// A pipe of the drawing.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Stroke {
    /// Links whose flows it shows together; those of `less` are taken off.
    pub links: Vec<String>,
    pub less: Option<String>,
    /// The node whose water it shows.
    pub node: String,
    /// From where the water comes, squares.
    pub points: Vec<[f64; 2]>,
}

/// A network under construction.
#[derive(Default)]
pub(crate) struct Pipework {
    pub links: Vec<Link>,
    pub strokes: Vec<Stroke>,
    pub symbols: Vec<Symbol>,
}

impl Pipework {
    pub fn link(&mut self, id: impl Into<String>, from: &str, to: &str, part: Part) {
        self.links.push(Link { id: id.into(), from: from.into(), to: to.into(), part });
    }

    /// A pipe of the plant.
    pub fn pipe(&mut self, id: &str, from: &str, to: &str, length_m: f64, bore_m: f64, minor_k: f64) {
        let part = Part::Pipe { length_m, bore_m, roughness_m: MAINS_ROUGH_M, minor_k, check: false };
        self.link(id, from, to, part);
    }

    /// A pipe with a check valve.
    pub fn checked_pipe(&mut self, id: &str, from: &str, to: &str, length_m: f64, bore_m: f64) {
        let part = Part::Pipe { length_m, bore_m, roughness_m: MAINS_ROUGH_M, minor_k: 3.0, check: true };
        self.link(id, from, to, part);
    }

    pub fn pump(&mut self, id: &str, from: &str, to: &str, curve: Vec<CurvePoint>, control: Control, on: bool) {
        self.link(id, from, to, Part::Pump { curve, control, on });
    }

    /// A pipe that is drawn with a link's flow and a node's water.
    pub fn stroke(&mut self, link: &str, node: &str, points: &[[f64; 2]]) {
        self.sum_stroke(&[link.to_owned()], node, points);
    }

    /// The same with the flow of several links together.
    pub fn sum_stroke(&mut self, links: &[String], node: &str, points: &[[f64; 2]]) {
        let (links, node, points) = (links.to_vec(), node.to_owned(), points.to_vec());
        self.strokes.push(Stroke { links, less: None, node, points });
    }

    /// The same with what one link has more than another.
    pub fn difference_stroke(&mut self, link: &str, less: &str, node: &str, points: &[[f64; 2]]) {
        self.stroke(link, node, points);
        if let Some(stroke) = self.strokes.last_mut() {
            stroke.less = Some(less.to_owned());
        }
    }

    pub fn symbol(&mut self, kind: SymbolKind, id: &str, label: impl Into<String>, at: [f64; 2], size: [f64; 2]) {
        self.symbols.push(Symbol { kind, id: id.into(), label: label.into(), at, size });
    }

    pub fn network(&self, job: &Job, pressure_node: &str) -> Network {
        Network {
            fluid: NetworkFluid::Known { fluid: job.fluid.clone(), temperature_c: None },
            pressure_node: pressure_node.into(),
            links: self.links.clone(),
        }
    }
}

/// Bore of mains for a flow, m: the smallest in which water is quiet and cheap to move.
pub(crate) fn mains_bore(feed: &Feed, flow_l_min: f64, water: &Properties) -> f64 {
    feed.mains_bore_m.unwrap_or_else(|| {
        let fits = |bore: &f64| {
            let lost = friction_pa_m(flow_l_min, *bore, water);
            flow::velocity(flow_l_min / 60_000.0, *bore) <= MAINS_M_S && lost <= MAINS_PA_M
        };
        MAINS_M.into_iter().find(fits).unwrap_or(MAINS_M[MAINS_M.len() - 1])
    })
}

/// Pressure drop of a metre of mains, Pa.
pub(crate) fn friction_pa_m(flow_l_min: f64, bore_m: f64, water: &Properties) -> f64 {
    let v = flow::velocity(flow_l_min / 60_000.0, bore_m);
    if v <= 0.0 {
        return 0.0;
    }
    let reynolds = water.density * v * bore_m / water.viscosity;
    flow::friction_factor(reynolds, MAINS_ROUGH_M / bore_m) / bore_m * water.density * v * v / 2.0
}

/// What a main takes there and back at a flow, Pa.
pub(crate) fn mains_pa(feed: &Feed, flow_l_min: f64, water: &Properties) -> f64 {
    let bore = mains_bore(feed, flow_l_min, water);
    let v = flow::velocity(flow_l_min / 60_000.0, bore);
    2.0 * (friction_pa_m(flow_l_min, bore, water) * feed.mains_m + MAINS_K * water.density * v * v / 2.0)
}

/// Flow factor of a mixing valve, m³/h.
pub(crate) fn mixer_kv(flow_l_min: f64, density: f64) -> f64 {
    kv_for(flow_l_min, MIXER_PA, density).unwrap_or(1.0)
}

/// Two valves one after the other, m³/h.
pub(crate) fn in_line(a: f64, b: Option<f64>) -> f64 {
    b.map_or(a, |b| (a.powi(-2) + b.powi(-2)).powf(-0.5))
}

/// What a bore of which so much is open takes, in velocity heads of the whole bore (Borda–Carnot behind the contracted stream).
pub(crate) fn blockage_k(open_share: f64) -> f64 {
    if open_share < 1.0 { (1.0 / (CONTRACTION * open_share) - 1.0).powi(2) } else { 0.0 }
}

/// A loop half blocked by a kink, a dent or a repair coupling.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Blocked {
    /// The loop.
    pub loop_id: String,
    /// Share of the bore's area that is left open, 0.01…1.
    pub open_share: f64,
}

/// What is changed in a circuit of floors.
#[derive(Default, Clone, Copy)]
pub(crate) struct Changed<'a> {
    /// Loops whose ports are shut.
    pub shut: &'a [String],
    /// Balancing valves wide open.
    pub without_valves: bool,
    pub blocked: Option<&'a Blocked>,
}

/// What a circuit of floors needs at its pump on the design day.
pub(crate) struct FloorDuty {
    pub flow_l_min: f64,
    /// Worst manifold with its mains, Pa.
    pub head_pa: f64,
    pub drop_k: f64,
}

/// The manifolds of a circuit that have loops.
pub(crate) fn manifolds_of(study: &Solved, circuit: usize) -> Vec<&ManifoldDesign> {
    let on = |m: &&ManifoldDesign| circuit_of_manifold(&study.job, &m.id) == circuit && m.flow_l_min > 0.0;
    study.manifolds.iter().filter(on).collect()
}

/// The feed of a circuit; the usual one where the job names none.
pub(crate) fn feed_of(job: &Job, circuit: usize) -> Feed {
    job.circuits.get(circuit).map_or_else(|| job.rules.feed(), |c| c.feed.clone())
}

pub(crate) fn floor_duty(study: &Solved, circuit: usize, water: &Properties) -> FloorDuty {
    let (feed, manifolds) = (feed_of(&study.job, circuit), manifolds_of(study, circuit));
    let flow_l_min: f64 = manifolds.iter().map(|m| m.flow_l_min).sum();
    let head = manifolds.iter().map(|m| m.head_needed_pa + mains_pa(&feed, m.flow_l_min, water)).fold(0.0, f64::max);
    let design = &study.circuits[circuit];
    let drop_k = design.supply_c.zip(design.return_c).map_or(0.0, |(s, r)| s - r);
    FloorDuty { flow_l_min, head_pa: head, drop_k }
}

/// The manifolds of a circuit with their mains and loops between two nodes. Names: `m/ID/…` of manifolds, `l/ID/…` of loops,
/// `f/ROOM/N` of fields.
pub(crate) fn floors(
    pipework: &mut Pipework,
    study: &Solved,
    circuit: usize,
    [supply, back]: [&str; 2],
    changed: Changed,
    rooms: &RoomsHeat,
    water: &Properties,
) {
    let (job, feed) = (&study.job, feed_of(&study.job, circuit));
    let duty = floor_duty(study, circuit, water);
    for m in manifolds_of(study, circuit) {
        let node = |what: &str| format!("m/{}/{what}", m.id);
        let bore = mains_bore(&feed, m.flow_l_min, water);
        let spare = duty.head_pa - m.head_needed_pa - mains_pa(&feed, m.flow_l_min, water);
        let valve = kv_for(m.flow_l_min, spare, water.density).filter(|_| !changed.without_valves);
        pipework.pipe(&node("there"), supply, &node("in"), feed.mains_m, bore, MAINS_K);
        pipework.pipe(&node("back"), &node("out"), back, feed.mains_m, bore, MAINS_K);
        let header = node("header");
        let header = if let Some(kv_m3_h) = valve {
            pipework.link(node("valve"), &node("in"), &header, Part::Valve { kv_m3_h, open: 1.0 });
            header
        } else {
            node("in")
        };
        for l in study.loops.iter().filter(|l| l.manifold_id == m.id && l.flow_l_min > 0.0) {
            a_loop(&study.job, pipework, l, [&header, &node("out")], changed, rooms);
        }
        for (room, (r, k), f) in fields(study, &m.id) {
            let kv = kv_for(f.flow_l_min, f.head_loss_pa, water.density);
            let kv = in_line(kv.unwrap_or(10.0), kv_for(f.flow_l_min, f.balancing_pa, water.density));
            let supply_c = study.water.supply_of(r).unwrap_or(job.rooms[r].room_c);
            let return_c = f.return_c.unwrap_or(supply_c);
            let ua_w_k = ua([supply_c, return_c], job.rooms[r].room_c, f.heat_w + f.back_w);
            let part =
                Part::Load { heat_w: None, ua_w_k: Some(ua_w_k), around_c: Some(rooms.room_c(r)), kv_m3_h: Some(kv) };
            pipework.link(format!("f/{room}/{k}"), &header, &node("out"), part);
        }
    }
}

/// Fields that hang on a manifold: room id, room and field by number, the field.
pub(crate) fn fields<'a>(
    study: &'a Solved,
    manifold_id: &'a str,
) -> impl Iterator<Item = (&'a str, (usize, usize), &'a FieldDesign)> {
    study.rooms.iter().enumerate().flat_map(move |(r, d)| {
        let on = |f: &&FieldDesign| f.manifold_id.as_deref() == Some(manifold_id) && f.flow_l_min > 0.0;
        let all = d.fields.iter().enumerate();
        all.filter(move |(_, f)| on(f)).map(move |(k, f)| (d.id.as_str(), (r, k), f))
    })
}

fn a_loop(
    job: &Job,
    pipework: &mut Pipework,
    l: &LoopDesign,
    [supply, back]: [&str; 2],
    changed: Changed,
    rooms: &RoomsHeat,
) {
    let Some(bore_m) = job.tube(&l.tube_id).map(library::Tube::bore_m) else { return };
    let node = |what: &str| format!("l/{}/{what}", l.id);
    if changed.shut.contains(&l.id) {
        return pipework.link(node("port"), supply, back, Part::Valve { kv_m3_h: PORT_KV, open: 0.0 });
    }
    let open = changed.blocked.filter(|b| b.loop_id == l.id).map_or(1.0, |b| b.open_share.clamp(0.01, 1.0));
    let minor_k = blockage_k(open);
    // its water cools on the way: half of the tube has it warm, half cool
    let half = |minor_k| Part::Pipe {
        length_m: 0.5 * (l.length_m + BORES_PER_QUARTER_TURN * bore_m * l.quarter_turns),
        bore_m,
        roughness_m: flow::ROUGHNESS_M,
        minor_k,
        check: false,
    };
    pipework.link(node("warm"), supply, &node("middle"), half(minor_k));
    let valve = l.valve.map(|v| v.kv_m3_h).filter(|_| !changed.without_valves);
    let port = Part::Valve { kv_m3_h: in_line(PORT_KV, valve), open: 1.0 };
    let own = rooms.set_c(l);
    let ua_w_k = ua([l.supply_c, l.return_c], own, l.output_up_w + l.output_down_w);
    let heat = Part::Load { heat_w: None, ua_w_k: Some(ua_w_k), around_c: Some(rooms.around_c(l)), kv_m3_h: None };
    pipework.link(node("heat"), &node("middle"), &node("given"), heat);
    pipework.link(node("cool"), &node("given"), &node("end"), half(0.0));
    pipework.link(node("port"), &node("end"), back, port);
}

/// Heat that tube gives per kelvin of the log-mean excess of its water, W/K: 0 where the water is no warmer than the room.
pub(crate) fn ua([supply_c, return_c]: [f64; 2], around_c: f64, heat_w: f64) -> f64 {
    let excess = flow::mean_excess(around_c, supply_c, supply_c - return_c);
    if excess > 0.0 { (heat_w / excess).max(0.0) } else { 0.0 }
}

/// An error of a network as people read it: the part by the name that `named` has for it, and without figures in the network's
/// own units.
pub(crate) fn network_error(e: &FieldError, named: impl Fn(&str) -> Option<String>) -> FieldError {
    let part = e.field.split_once('(').and_then(|(_, rest)| rest.strip_suffix(')')).unwrap_or(&e.field);
    let reason = e.reason.split(": ").next().unwrap_or(&e.reason);
    let what = if part.ends_with("pump") { "its pump " } else { "" };
    FieldError::new(named(part).unwrap_or_else(|| part.to_owned()), format!("{what}{reason}"))
}
