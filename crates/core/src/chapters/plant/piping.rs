//! Piping: the arrangement as a network, and its drawing. Nodes: `hot` and `return` at the source, `c/ID/…` of circuits.

use super::needs::{Consumer, RoomEmitters, USER_PA, Who, emitters_by_room, user_ua};
use super::part::{Arrangement, HeatSource, Plant, Takes};
use crate::flow::{self, GRAVITY};
use crate::fluid::Properties;
use crate::network::{Control, CurvePoint, Part};
use crate::study::solved::Solved;
use crate::water::part::Mixing;
use crate::water::pipework::{
    Changed, MIXER_PA, Pipework, SymbolKind, floors, friction_pa_m, mains_bore, manifolds_of, mixer_kv,
};
use crate::water::pumps::{ChosenPump, choose, control};
use crate::water::rooms::RoomsHeat;
use crate::water::trial::per_l_min_k;
use crate::water::valves::kv_for;
use std::collections::HashMap;

/// Two tees and the elbow between, in velocity heads.
const TEE_K: f64 = 1.5;
/// Fittings of the primary piping, and of each pair of tees, in velocity heads.
const PRIMARY_K: f64 = 8.0;
const PAIR_K: f64 = 1.0 + TEE_K;
/// What the short pipes between a circuit and its tees or headers take, Pa.
pub(crate) const BRANCH_PA: f64 = 500.0;
/// Users that need no more than this beside the hottest share its headers, K.
const SAME_HEADERS_K: f64 = 12.0;
/// A separator is so many bores of the primary wide.
const SEPARATOR_WIDE: f64 = 3.0;
/// Bore of a buffer tank, m.
const BUFFER_BORE_M: f64 = 0.4;
/// Flow factor of each side of the exchanger, m³/h.
const EXCHANGER_KV: f64 = 4.0;
/// Where the first circuit is drawn, and how far the next is, squares.
const FIRST_X: f64 = 20.0;
const COLUMN: f64 = 12.0;
/// From a circuit's supply to its return, squares.
const APART: f64 = 5.0;
/// Heights of what is drawn, squares from the top.
const USER_Y: f64 = 6.0;
const PUMP_Y: f64 = 15.0;
const MIXER_Y: f64 = 21.0;
const HEADER_Y: f64 = 29.0;
const RETURN_Y: f64 = 34.0;
const LOOP_Y: f64 = 40.0;
const LOOP_RETURN_Y: f64 = 46.0;

/// What is settled between rounds of network and users.
#[derive(Default, Clone)]
pub(crate) struct Settled {
    /// Flow of injection pumps by circuit, L/min.
    pub injected: HashMap<String, f64>,
    /// Mean excess of emitters by user and room, K.
    pub excess: HashMap<(String, usize), f64>,
}

/// All that the piping is built of.
pub(crate) struct Site<'a> {
    pub study: &'a Solved,
    pub plant: &'a Plant,
    pub consumers: &'a [Consumer<'a>],
    pub on: &'a [bool],
    pub rooms: &'a RoomsHeat<'a>,
    pub settled: &'a Settled,
    pub changed: Changed<'a>,
    pub water: &'a Properties,
    /// Temperature at which the source's water leaves, °C.
    pub leaves_c: f64,
    /// What source and second source give at most, W.
    pub most_w: [f64; 2],
    /// The second source runs.
    pub both: bool,
}

impl Site<'_> {
    fn per(&self) -> f64 {
        per_l_min_k(self.water)
    }

    fn head_m(&self, pa: f64) -> f64 {
        pa / (self.water.density * GRAVITY)
    }

    /// Flow for which a source's own pump is meant, L/min: its share of the load at its rise, or its least flow.
    fn source_flow(&self, source: &HeatSource) -> f64 {
        let rooms: f64 = self.consumers.iter().filter(|c| !c.first).map(|c| c.design_w).sum();
        let tank = self.consumers.iter().filter(|c| c.first).map(|c| c.design_w).fold(0.0, f64::max);
        let heat = rooms.max(tank).min(source.most_w);
        (heat / (self.per() * source.rise_k)).max(source.least_flow_l_min.unwrap_or(0.0)).max(1.0)
    }

    /// The source's pump, its flow and its head on the design day.
    pub fn source_pump(&self, source: &HeatSource) -> (ChosenPump, f64, f64) {
        let flow = self.source_flow(source);
        let head = source_round_pa(self.plant, source, self.consumers.len(), flow, self.water);
        (choose(&self.study.job, &source.pump, flow, self.head_m(head)), flow, head)
    }

    /// A circuit's pump and the head that it has to give, Pa.
    pub fn pump(&self, c: &Consumer) -> (ChosenPump, f64) {
        let mixer = if matches!(c.feed.mixing, Mixing::Thermostatic | Mixing::ThreeWay) { MIXER_PA } else { 0.0 };
        // without a pump of the source's own, circuits push through it
        let beyond = match self.plant.arrangement {
            Arrangement::Direct => {
                let all: f64 = self.consumers.iter().filter(|c| !c.first).map(|c| c.flow_l_min).sum();
                let own = if c.first { c.flow_l_min } else { all };
                kv_pa(self.plant.source.kv_m3_h, own)
            }
            _ => BRANCH_PA,
        };
        let head = c.head_pa + mixer + beyond;
        (choose(&self.study.job, &c.feed.pump, c.flow_l_min, self.head_m(head)), head)
    }

    /// Circuits that share a pair of headers, hottest first.
    fn groups(&self) -> Vec<Vec<usize>> {
        let all: Vec<usize> = (0..self.consumers.len()).collect();
        if self.plant.arrangement != Arrangement::TeesWithHeaders {
            return vec![all];
        }
        let needs = |k: &usize| self.consumers[*k].design_c.unwrap_or(0.0);
        let hottest = all.iter().map(needs).fold(0.0, f64::max);
        let (hot, cool): (Vec<usize>, Vec<usize>) = all.iter().partition(|k| needs(k) > hottest - SAME_HEADERS_K);
        [hot, cool].into_iter().filter(|g| !g.is_empty()).collect()
    }

    pub fn build(&self) -> Pipework {
        let mut p = Pipework::default();
        let bore = self.plant.primary_bore_m;
        match self.plant.arrangement {
            Arrangement::Direct => {
                self.bare_source(&mut p, "return", "hot");
                self.headers(&mut p, ["hot", "return"], &self.groups()[0], FIRST_X, [HEADER_Y, RETURN_Y], 8.0);
            }
            Arrangement::TeesInSeries => self.tees(&mut p, (0..self.consumers.len()).map(|k| vec![k]).collect()),
            Arrangement::TeesWithHeaders => self.tees(&mut p, self.groups()),
            Arrangement::Separator | Arrangement::BufferFourPipe | Arrangement::BufferTwoPipe => {
                self.pumped_source(&mut p, ["return", "hot"], [HEADER_Y, RETURN_Y]);
                let tank = self.plant.arrangement != Arrangement::Separator;
                let wide = if tank { BUFFER_BORE_M } else { SEPARATOR_WIDE * bore };
                self.decoupled(&mut p, wide);
            }
            Arrangement::TwoSources => {
                self.pumped_source(&mut p, ["return", "hot"], [HEADER_Y, RETURN_Y]);
                self.second_source(&mut p);
                self.decoupled(&mut p, SEPARATOR_WIDE * bore);
            }
            Arrangement::Exchanger => self.exchanged(&mut p),
        }
        p
    }

    fn source_part(&self, source: &HeatSource, most_w: f64, runs: bool) -> Part {
        Part::Source {
            leaves_c: Some(if runs { self.leaves_c } else { -60.0 }),
            heat_w: None,
            most_w: Some(most_w),
            kv_m3_h: Some(source.kv_m3_h),
        }
    }

    fn source_symbols(&self, p: &mut Pipework, id: &str, source: &HeatSource, [top, low]: [f64; 2]) {
        p.symbol(SymbolKind::Source, id, source.name.clone(), [4.5, f64::midpoint(top, low)], [7.0, low - top + 4.0]);
    }

    /// A source without a pump of its own.
    fn bare_source(&self, p: &mut Pipework, from: &str, to: &str) {
        let source = &self.plant.source;
        p.link("source", from, to, self.source_part(source, self.most_w[0], true));
        self.source_symbols(p, "source", source, [HEADER_Y, RETURN_Y]);
        p.symbol(SymbolKind::Vessel, "vessel", "", [10.5, RETURN_Y + 4.0], [2.0, 3.0]);
        p.stroke("source", from, &[[10.5, RETURN_Y], [10.5, RETURN_Y + 2.5]]);
    }

    /// A source with its pump: the water leaves it, passes the vessel's tee, and is pushed away from it.
    fn pumped_source(&self, p: &mut Pipework, [from, to]: [&str; 2], [top, low]: [f64; 2]) {
        let source = &self.plant.source;
        p.link("source", from, "source/out", self.source_part(source, self.most_w[0], true));
        self.source_symbols(p, "source", source, [top, low]);
        let (pump, _, head) = self.source_pump(source);
        let runs = self.on.contains(&true);
        p.pump("source/pump", "source/out", to, pump.curve, self.control_of(source, "source/out", head), runs);
        p.stroke("source", "source/out", &[[8.0, top], [12.0, top]]);
        p.symbol(SymbolKind::Pump, "source", "", [12.0, top], [3.0, 3.0]);
        p.symbol(SymbolKind::Vessel, "vessel", "", [9.5, top - 5.0], [2.0, 3.0]);
        p.stroke("source", "source/out", &[[9.5, top - 3.5], [9.5, top]]);
    }

    fn control_of(&self, source: &HeatSource, out: &str, head_pa: f64) -> Control {
        control(&source.pump, self.head_m(head_pa), source.rise_k, [out, "return"])
    }

    /// The second source beside the first on the same pipes, behind a check valve.
    fn second_source(&self, p: &mut Pipework) {
        let Some(second) = &self.plant.second else { return };
        p.link("second", "return", "second/out", self.source_part(second, self.most_w[1], self.both));
        p.checked_pipe("second/check", "second/out", "second/in", 0.5, self.plant.primary_bore_m);
        let (pump, _, head) = self.source_pump(second);
        let control = self.control_of(second, "second/out", head);
        p.pump("second/pump", "second/in", "hot", pump.curve, control, self.both);
        let (top, low) = (LOOP_Y + 4.0, LOOP_RETURN_Y + 3.0);
        self.source_symbols(p, "second", second, [top, low]);
        p.symbol(SymbolKind::Pump, "second", "", [12.0, top], [3.0, 3.0]);
        p.stroke("second/pump", "second/out", &[[8.0, top], [14.0, top], [14.0, HEADER_Y]]);
        p.stroke("second", "return", &[[15.5, RETURN_Y], [15.5, low], [8.0, low]]);
    }

    /// A wide piece between source and headers.
    fn decoupled(&self, p: &mut Pipework, wide_m: f64) {
        let plant = self.plant;
        let half = plant.primary_m / 2.0;
        p.pipe("primary/there", "hot", "top", half, plant.primary_bore_m, 4.0);
        p.pipe("primary/back", "low", "return", half, plant.primary_bore_m, 4.0);
        p.pipe("middle", "top", "low", 0.5, wide_m, 0.0);
        let (kind, label, width) = match plant.arrangement {
            Arrangement::BufferFourPipe | Arrangement::BufferTwoPipe => (SymbolKind::Buffer, "Buffer", 4.0),
            _ => (SymbolKind::Separator, "Separator", 2.0),
        };
        let middle = f64::midpoint(HEADER_Y, RETURN_Y);
        let at = [17.5, middle];
        if plant.arrangement == Arrangement::BufferTwoPipe {
            // on the headers' side: water to the circuits need not go through it
            p.stroke("primary/there", "hot", &[[12.0, HEADER_Y], [20.0, HEADER_Y]]);
            p.stroke("primary/back", "low", &[[20.0, RETURN_Y], [8.0, RETURN_Y]]);
            p.stroke("middle", "top", &[[17.5, HEADER_Y], [17.5, RETURN_Y]]);
            p.symbol(kind, "middle", label, at, [3.0, 3.4]);
        } else {
            p.stroke("primary/there", "hot", &[[12.0, HEADER_Y], [17.5, HEADER_Y]]);
            p.stroke("primary/back", "low", &[[17.5, RETURN_Y], [8.0, RETURN_Y]]);
            p.stroke("middle", "top", &[[17.5, HEADER_Y], [17.5, RETURN_Y]]);
            p.symbol(kind, "middle", label, at, [width, RETURN_Y - HEADER_Y + 3.0]);
        }
        self.headers(p, ["top", "low"], &self.groups()[0], FIRST_X + 2.0, [HEADER_Y, RETURN_Y], 18.5);
    }

    fn exchanged(&self, p: &mut Pipework) {
        let plant = self.plant;
        self.pumped_source(p, ["return", "hot"], [HEADER_Y, RETURN_Y]);
        let side = |with: &str| Part::Exchanger {
            with: with.into(),
            ua_w_k: plant.exchanger_w_k,
            kv_m3_h: Some(EXCHANGER_KV),
        };
        p.link("exchanger/source", "hot", "cooled", side("exchanger/circuits"));
        p.pipe("primary/back", "cooled", "return", plant.primary_m, plant.primary_bore_m, 6.0);
        p.link("exchanger/circuits", "low", "top", side("exchanger/source"));
        p.stroke("exchanger/source", "hot", &[[12.0, HEADER_Y], [16.5, HEADER_Y]]);
        p.stroke("primary/back", "cooled", &[[16.5, RETURN_Y], [8.0, RETURN_Y]]);
        let middle = f64::midpoint(HEADER_Y, RETURN_Y);
        p.symbol(SymbolKind::Exchanger, "middle", "Exchanger", [17.5, middle], [3.0, RETURN_Y - HEADER_Y + 3.0]);
        p.symbol(SymbolKind::Vessel, "vessel-2", "", [20.0, RETURN_Y + 5.0], [2.0, 3.0]);
        p.stroke("exchanger/circuits", "low", &[[20.0, RETURN_Y], [20.0, RETURN_Y + 3.5]]);
        self.headers(p, ["top", "low"], &self.groups()[0], FIRST_X + 2.0, [HEADER_Y, RETURN_Y], 18.5);
    }

    /// Circuits side by side between two nodes: a pair of headers.
    fn headers(
        &self,
        p: &mut Pipework,
        [supply, back]: [&str; 2],
        group: &[usize],
        first_x: f64,
        [top, low]: [f64; 2],
        from_x: f64,
    ) {
        let Some(last) = group.len().checked_sub(1) else { return };
        let x = |n: usize| first_x + COLUMN * n as f64;
        for (n, k) in group.iter().enumerate() {
            self.circuit(p, *k, [supply, back], x(n), [top, low]);
        }
        // of the headers the flow that all of them have is drawn piece by piece: each piece carries what is beyond it
        let mut left = from_x;
        for n in 0..=last {
            let beyond: Vec<String> = group[n..].iter().map(|k| format!("c/{}/ret", self.consumers[*k].id)).collect();
            p.sum_stroke(&beyond, supply, &[[left, top], [x(n), top]]);
            p.sum_stroke(&beyond, back, &[[x(n) + APART, low], [if n == 0 { from_x } else { left + APART }, low]]);
            left = x(n);
        }
    }

    /// A primary loop with tees: one pair for each group.
    fn tees(&self, p: &mut Pipework, groups: Vec<Vec<usize>>) {
        let plant = self.plant;
        let alone = plant.arrangement == Arrangement::TeesInSeries;
        let [top, low] = if alone { [HEADER_Y, RETURN_Y + 4.0] } else { [LOOP_Y, LOOP_RETURN_Y] };
        self.pumped_source(p, ["return", "hot"], [top, low]);
        let piece = plant.primary_m / (groups.len() + 1) as f64;
        let bore = plant.primary_bore_m;
        let (mut node, mut x, mut from_x) = ("hot".to_owned(), FIRST_X, 12.0);
        for (n, group) in groups.iter().enumerate() {
            let (a, b) = (format!("tee/{n}/a"), format!("tee/{n}/b"));
            p.pipe(&format!("primary/{n}"), &node, &a, piece, bore, 1.0);
            let tee_x = x + 1.5;
            p.stroke(&format!("primary/{n}"), &node, &[[from_x, top], [tee_x, top]]);
            p.pipe(&format!("tee/{n}"), &a, &b, plant.tees_apart_m, bore, TEE_K);
            p.stroke(&format!("tee/{n}"), &a, &[[tee_x, top], [tee_x + 2.0, top]]);
            p.symbol(SymbolKind::Tees, &format!("tee/{n}"), "", [tee_x + 1.0, top], [2.0, 1.0]);
            if alone {
                self.circuit(p, group[0], [&a, &b], x, [top, top]);
            } else {
                let all: Vec<String> = group.iter().map(|k| format!("c/{}/ret", self.consumers[*k].id)).collect();
                p.sum_stroke(&all, &a, &[[tee_x, top], [tee_x, HEADER_Y]]);
                p.sum_stroke(&all, &b, &[[tee_x + 2.0, RETURN_Y], [tee_x + 2.0, top]]);
                self.headers(p, [&a, &b], group, x, [HEADER_Y, RETURN_Y], tee_x);
            }
            (node, from_x) = (b, tee_x + 2.0);
            x += COLUMN * group.len() as f64;
        }
        p.pipe("primary/back", &node, "return", piece, bore, 4.0);
        let end = from_x.max(16.0) + 3.0;
        p.stroke("primary/back", &node, &[[from_x, top], [end, top], [end, low], [8.0, low]]);
    }

    /// A circuit with its mixing, pump and what hangs on it between two nodes; its supply riser at `x`.
    fn circuit(&self, p: &mut Pipework, k: usize, [a, b]: [&str; 2], x: f64, [top, low]: [f64; 2]) {
        let (c, on) = (&self.consumers[k], self.on[k]);
        let node = |what: &str| format!("c/{}/{what}", c.id);
        let (mixed, suction, supply, back) = (node("mixed"), node("suction"), node("supply"), node("back"));
        let bore = mains_bore(&c.feed, c.flow_l_min, self.water);
        let back_x = x + APART;
        // tees in series lie close together on one line
        let (a_x, b_x) = if (top - low).abs() < 0.1 { (x + 1.5, x + 3.5) } else { (x, back_x) };
        let step = if a_x == x { top } else { top - 3.0 };
        let up = |from: f64| vec![[a_x, top], [a_x, step], [x, step], [x, from]];
        let down = |from: f64| vec![[back_x, from], [back_x, step], [b_x, step], [b_x, low]];
        let ret = node("ret");
        match c.feed.mixing {
            Mixing::None => {
                p.pipe(&node("hot"), a, &mixed, 0.5, bore, 1.0);
                p.stroke(&node("hot"), a, &up(MIXER_Y));
            }
            Mixing::Thermostatic | Mixing::ThreeWay => {
                let setpoint_c = c.needs_c.unwrap_or(self.leaves_c).clamp(5.0, 95.0);
                let part = Part::Mixer {
                    hot: None,
                    cold: back.clone(),
                    setpoint_c,
                    kv_m3_h: mixer_kv(c.flow_l_min, self.water.density),
                };
                p.link(node("mix"), a, &mixed, part);
                p.stroke(&ret, a, &up(MIXER_Y));
                p.difference_stroke(&node("pump"), &ret, &back, &[[back_x, MIXER_Y], [x, MIXER_Y]]);
                p.symbol(SymbolKind::Mixer, c.id, "", [x, MIXER_Y], [2.4, 2.4]);
            }
            Mixing::Injection => {
                let asked = self.settled.injected.get(c.id).copied().unwrap_or(0.5 * c.flow_l_min).max(0.01);
                let strong = |head_m: f64, flow_l_min| CurvePoint { flow_l_min, head_m };
                let end = 2.0 * c.flow_l_min.max(1.0);
                let curve = vec![strong(4.0, 0.0), strong(2.5, end / 2.0), strong(0.5, end)];
                let injects = Control::FixedFlow { flow_l_min: asked.min(end) };
                p.checked_pipe(&node("injection"), a, &node("injected"), 0.5, bore);
                p.pump(&node("injection/pump"), &node("injected"), &mixed, curve, injects, on);
                p.pipe(&node("own"), &back, &mixed, self.plant.tees_apart_m, bore, TEE_K);
                p.stroke(&ret, a, &up(MIXER_Y));
                p.stroke(&node("own"), &back, &[[back_x, MIXER_Y], [x, MIXER_Y]]);
                p.symbol(SymbolKind::Pump, &node("injection"), "", [x, MIXER_Y + 3.5], [2.2, 2.2]);
            }
        }
        p.checked_pipe(&node("check"), &mixed, &suction, 0.3, bore);
        let (pump, head) = self.pump(c);
        let control = control(&c.feed.pump, self.head_m(head), c.drop_k.max(2.0), [&supply, &back]);
        p.pump(&node("pump"), &suction, &supply, pump.curve, control, on);
        p.stroke(&node("pump"), &supply, &[[x, MIXER_Y], [x, USER_Y + 2.0]]);
        p.stroke(&node("pump"), &back, &[[back_x, USER_Y + 2.0], [back_x, MIXER_Y]]);
        p.symbol(SymbolKind::CheckValve, c.id, "", [x, PUMP_Y + 3.0], [1.6, 1.6]);
        p.symbol(SymbolKind::Pump, c.id, "", [x, PUMP_Y], [3.0, 3.0]);
        p.pipe(&ret, &back, b, 0.5, bore, 1.0);
        p.stroke(&ret, &back, &down(MIXER_Y));
        let (kind, label) = match c.who {
            Who::Floors(i) => {
                let letters: Vec<&str> = manifolds_of(self.study, i).iter().map(|m| m.letter.as_str()).collect();
                (SymbolKind::Manifold, letters.join(" "))
            }
            Who::User(u) => match &u.takes {
                Takes::Emitters { .. } => (SymbolKind::Emitters, String::new()),
                Takes::Tank { .. } => (SymbolKind::Tank, String::new()),
                Takes::Typed { .. } => (SymbolKind::Typed, String::new()),
            },
        };
        p.symbol(kind, c.id, label, [x + APART / 2.0, USER_Y], [8.0, 4.0]);
        self.hang(p, c, [&supply, &back], bore);
    }

    fn hang(&self, p: &mut Pipework, c: &Consumer, [supply, back]: [&str; 2], bore: f64) {
        let user = match c.who {
            Who::Floors(i) => {
                return floors(p, self.study, i, [supply, back], self.changed, self.rooms, self.water);
            }
            Who::User(user) => user,
        };
        let node = |what: &str| format!("u/{}/{what}", user.id);
        p.pipe(&node("there"), supply, &node("in"), c.feed.mains_m, bore, 6.0);
        p.pipe(&node("home"), &node("out"), back, c.feed.mains_m, bore, 6.0);
        let kv = |flow| Some(kv_for(flow, USER_PA, self.water.density).unwrap_or(1.0));
        let load = |ua: f64, around: f64, flow: f64| Part::Load {
            heat_w: None,
            ua_w_k: Some(ua),
            around_c: Some(around),
            kv_m3_h: kv(flow),
        };
        match &user.takes {
            Takes::Emitters { emitter_ids, drop_k } => {
                for e in emitters_by_room(self.study, emitter_ids) {
                    let flow = e.need_w / (self.per() * drop_k);
                    if flow <= 0.0 {
                        continue;
                    }
                    let excess = self.settled.excess.get(&(user.id.clone(), e.room)).copied();
                    let excess = excess.unwrap_or_else(|| first_excess(&e, c, self.rooms.room_c(e.room)));
                    let part = load(e.ua_w_k(excess), self.rooms.room_c(e.room), flow);
                    p.link(node(&format!("room/{}", e.room)), &node("in"), &node("out"), part);
                }
                // a user without rated emitters still is a way for the water
                if c.flow_l_min <= 0.0 {
                    p.link(node("load"), &node("in"), &node("out"), load(0.0, 20.0, 1.0));
                }
            }
            takes => {
                let (ua, around) = user_ua(takes, self.water).unwrap_or((0.0, 20.0));
                p.link(node("load"), &node("in"), &node("out"), load(ua, around, c.flow_l_min));
            }
        }
    }
}

/// What a source's own round takes at a flow, Pa: its waterways, the primary piping with so many pairs of tees, the exchanger.
pub(crate) fn source_round_pa(
    plant: &Plant,
    source: &HeatSource,
    pairs: usize,
    flow_l_min: f64,
    water: &Properties,
) -> f64 {
    let bore = plant.primary_bore_m;
    let v = flow::velocity(flow_l_min / 60_000.0, bore);
    let fittings = (PRIMARY_K + PAIR_K * pairs as f64) * water.density * v * v / 2.0;
    let pipe = friction_pa_m(flow_l_min, bore, water) * plant.primary_m;
    let exchanger = if plant.arrangement == Arrangement::Exchanger { kv_pa(EXCHANGER_KV, flow_l_min) } else { 0.0 };
    kv_pa(source.kv_m3_h, flow_l_min) + pipe + fittings + exchanger
}

/// What a flow factor takes at a flow, Pa.
fn kv_pa(kv_m3_h: f64, flow_l_min: f64) -> f64 {
    (flow_l_min * 0.06 / kv_m3_h).powi(2) * 1e5
}

/// Mean excess of a room's emitters before the network has been solved, K.
fn first_excess(e: &RoomEmitters, c: &Consumer, room_c: f64) -> f64 {
    let by_need = super::emitters::excess_for(&e.ratings, e.need_w);
    by_need.or(c.needs_c.map(|s| s - room_c)).unwrap_or(30.0).max(1.0)
}
