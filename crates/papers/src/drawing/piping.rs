//! The piping of a plant as it is drawn by the core, on white paper: pipes by the temperature of their water and the strength of
//! their flow, with figures at each branch.

use crate::words::show;
use fuoco_core::plant::state::{CircuitState, PipeState, PlantState, Symbol, SymbolKind};
use fuoco_core::units::{Quantity as Q, Units};
use fuoco_documents::plan_svg::{escape, ground, ramp};
use serde::Deserialize;
use std::collections::BTreeMap;
use std::fmt::Write;
use std::sync::LazyLock;

/// One stroke of a symbol, in squares from its middle.
#[derive(Deserialize)]
struct Stroke {
    d: String,
    #[serde(default)]
    solid: bool,
    #[serde(default)]
    paper: bool,
    #[serde(default)]
    flame: bool,
}

/// The strokes of each kind of symbol; the front end draws from the same table.
static STROKES: LazyLock<BTreeMap<String, Vec<Stroke>>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../../../documents/data/piping_symbols.json"))
        .expect("the built-in symbols are well-formed")
});

const INK: &str = "#221d18";
/// Widest pipe, squares.
const WIDEST: f64 = 1.1;
const NARROWEST: f64 = 0.28;

/// The drawing as SVG, and how wide it is over how high.
pub fn draw(state: &PlantState, units: Units) -> (String, f64) {
    let [w, h] = state.size;
    let mut d = Draw { out: String::new(), state, units };
    let _ = write!(
        d.out,
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{w}\" height=\"{h}\" viewBox=\"0 0 {w} {h}\" font-family=\"sans-serif\" fill=\"none\">"
    );
    d.pipes();
    for s in &state.symbols {
        d.symbol(s);
    }
    d.circuits();
    d.out.push_str("</svg>");
    (d.out, w / h.max(1.0))
}

struct Draw<'a> {
    out: String,
    state: &'a PlantState,
    units: Units,
}

#[derive(Clone, Copy)]
enum At {
    Start,
    Middle,
    End,
}

impl Draw<'_> {
    fn pipes(&mut self) {
        let t = self.state.pipes.iter().filter_map(|p| p.temperature_c);
        let (cool, hot) = t.fold((20.0, 40.0), |(a, b): (f64, f64), t| (a.min(t), b.max(t)));
        let most = self.state.pipes.iter().map(|p| p.flow_l_min.abs()).fold(0.1, f64::max);
        for p in &self.state.pipes {
            let points = p.points.iter().map(|q| format!("{:.2},{:.2}", q[0], q[1])).collect::<Vec<_>>().join(" ");
            let (colour, width, dash) = match p.temperature_c {
                Some(t) => {
                    let width = NARROWEST + (WIDEST - NARROWEST) * (p.flow_l_min.abs() / most).sqrt();
                    (ramp((t - cool) / (hot - cool)), width, "")
                }
                None => ("#b9ac97".into(), 0.3, " stroke-dasharray=\"0.8 0.6\""),
            };
            let _ = write!(
                self.out,
                "<polyline points=\"{points}\" stroke=\"{colour}\" stroke-width=\"{width:.2}\" stroke-linejoin=\"round\" stroke-linecap=\"round\"{dash}/>"
            );
        }
        for p in self.state.pipes.iter().filter(|p| p.temperature_c.is_some() && p.flow_l_min.abs() > 0.02) {
            self.arrow(p);
        }
    }

    /// An arrow on the longest straight of a pipe, along its flow.
    fn arrow(&mut self, p: &PipeState) {
        let run = p.points.windows(2).map(|s| (s[0], s[1], (s[1][0] - s[0][0]).hypot(s[1][1] - s[0][1])));
        let Some((a, b, _)) = run.max_by(|a, b| a.2.total_cmp(&b.2)).filter(|r| r.2 > 1.5) else { return };
        let turn = (b[1] - a[1]).atan2(b[0] - a[0]).to_degrees() + if p.flow_l_min < 0.0 { 180.0 } else { 0.0 };
        let _ = write!(
            self.out,
            "<path fill=\"{INK}\" stroke=\"#fff\" stroke-width=\"0.12\" d=\"M-0.5,-0.55 L0.7,0 L-0.5,0.55 Z\" transform=\"translate({:.2} {:.2}) rotate({turn:.1})\"/>",
            (a[0] + b[0]) / 2.0,
            (a[1] + b[1]) / 2.0
        );
    }

    fn strokes(&mut self, kind: &str, at: [f64; 2]) {
        for s in STROKES.get(kind).into_iter().flatten() {
            let how = match s {
                Stroke { solid: true, .. } => format!("fill=\"{INK}\""),
                Stroke { flame: true, .. } => "fill=\"#c2410c\"".into(),
                Stroke { paper: true, .. } => format!("fill=\"#fff\" stroke=\"{INK}\" stroke-width=\"0.18\""),
                _ => format!("stroke=\"{INK}\" stroke-width=\"0.22\""),
            };
            let _ = write!(self.out, "<path d=\"{}\" {how} transform=\"translate({:.2} {:.2})\"/>", s.d, at[0], at[1]);
        }
    }

    fn frame(&mut self, s: &Symbol, round: f64) {
        let _ = write!(
            self.out,
            "<rect x=\"{:.2}\" y=\"{:.2}\" width=\"{}\" height=\"{}\" rx=\"{round}\" fill=\"#fff\" stroke=\"{INK}\" stroke-width=\"0.18\"/>",
            s.at[0] - s.size[0] / 2.0,
            s.at[1] - s.size[1] / 2.0,
            s.size[0],
            s.size[1]
        );
    }

    fn disc(&mut self, at: [f64; 2], r: f64) {
        let _ = write!(
            self.out,
            "<circle cx=\"{}\" cy=\"{}\" r=\"{r}\" fill=\"#fff\" stroke=\"{INK}\" stroke-width=\"0.18\"/>",
            at[0], at[1]
        );
    }

    fn say(&mut self, x: f64, y: f64, at: At, bold: bool, text: &str) {
        if text.is_empty() {
            return;
        }
        const SIZE: f64 = 1.3;
        let half = (0.5 * text.chars().count() as f64 + 0.2) * SIZE / 2.0;
        let (anchor, middle) = match at {
            At::Start => ("start", x + half),
            At::Middle => ("middle", x),
            At::End => ("end", x - half),
        };
        let weight = if bold { " font-weight=\"600\"" } else { "" };
        self.out.push_str(&ground(middle, y, SIZE, text, "#fff"));
        let _ = write!(
            self.out,
            "<text x=\"{x:.2}\" y=\"{y:.2}\" font-size=\"{SIZE}\" text-anchor=\"{anchor}\"{weight} fill=\"{INK}\">{}</text>",
            escape(text)
        );
    }

    fn t(&self, c: Option<f64>) -> String {
        c.map_or_else(String::new, |c| show(self.units, Q::Temperature, c))
    }

    fn circuit(&self, id: &str) -> Option<&CircuitState> {
        self.state.circuits.iter().find(|c| c.id == id)
    }

    fn symbol(&mut self, s: &Symbol) {
        let [x, y] = s.at;
        let top = y - s.size[1] / 2.0;
        match s.kind {
            SymbolKind::Manifold | SymbolKind::Emitters | SymbolKind::Tank | SymbolKind::Typed => {
                self.frame(s, 0.5);
                let kind = serde_json::to_value(s.kind).ok();
                self.strokes(kind.as_ref().and_then(|k| k.as_str()).unwrap_or_default(), s.at);
                let (name, heat) = self.circuit(&s.id).map_or_else(Default::default, |c| {
                    let heat = if c.on { show(self.units, Q::Heat, c.heat_w) } else { "off".into() };
                    (c.name.clone(), if s.label.is_empty() { heat } else { format!("{heat} · {}", s.label) })
                });
                self.say(x, top - 2.0, At::Middle, true, &cut(&name, 15));
                self.say(x, top - 0.6, At::Middle, false, &heat);
            }
            SymbolKind::Pump => {
                self.disc(s.at, s.size[0] / 2.0);
                self.strokes(if matches!(s.id.as_str(), "source" | "second") { "pump_along" } else { "pump" }, s.at);
            }
            SymbolKind::Mixer => self.strokes("mixer", s.at),
            SymbolKind::CheckValve => self.strokes("check_valve", s.at),
            SymbolKind::Vessel => {
                self.disc(s.at, 1.4);
                self.strokes("vessel", s.at);
            }
            SymbolKind::Source => {
                self.frame(s, 0.6);
                self.strokes("source", s.at);
                let Some(of) = self.state.sources.iter().find(|o| o.id == s.id) else { return };
                let heat = if of.runs { show(self.units, Q::Heat, of.heat_w) } else { "off".into() };
                let right = x + s.size[0] / 2.0 + 0.4;
                let left = x - s.size[0] / 2.0;
                let name = if s.label.is_empty() { "Source".into() } else { cut(&s.label, 11) };
                let flow = show(self.units, Q::Flow, of.flow_l_min);
                self.say(left, top - 2.1, At::Start, true, &name);
                self.say(left, top - 0.6, At::Start, false, &heat);
                self.say(right, top + if s.size[1] > 11.0 { 5.0 } else { 4.6 }, At::Start, false, &self.t(of.leaves_c));
                self.say(right, y + s.size[1] / 2.0 - 2.8, At::Start, false, &self.t(of.returns_c));
                self.say(right, y + s.size[1] / 2.0 - 0.1, At::Start, false, &flow);
            }
            SymbolKind::Separator | SymbolKind::Buffer | SymbolKind::Exchanger => {
                let plates = s.kind == SymbolKind::Exchanger;
                self.frame(s, if plates { 0.2 } else { 0.9 });
                if plates {
                    let _ = write!(
                        self.out,
                        "<path d=\"M{},{} l{},{}\" stroke=\"{INK}\" stroke-width=\"0.22\"/>",
                        x - s.size[0] / 2.0,
                        y + s.size[1] / 2.0,
                        s.size[0],
                        -s.size[1]
                    );
                }
                self.say(x, y + s.size[1] / 2.0 + 1.6, At::Middle, false, &s.label.clone());
            }
            SymbolKind::Tees => {
                let between = self.state.pipes.iter().find(|p| {
                    p.points.len() == 2 && (p.points[0][0] - x + 1.0).abs() < 0.01 && (p.points[0][1] - y).abs() < 0.01
                });
                let flow = show(self.units, Q::Flow, between.map_or(0.0, |p| p.flow_l_min));
                self.say(x, y + 2.1, At::Middle, false, &flow);
            }
        }
    }

    /// Supply, return, flow and mixing at the pump of each circuit.
    fn circuits(&mut self) {
        for s in self.state.symbols.iter().filter(|s| s.kind == SymbolKind::Pump) {
            let Some(c) = self.circuit(&s.id).filter(|c| c.on) else { continue };
            let (supply, back) = (self.t(c.supply_c), self.t(c.return_c));
            let flow = show(self.units, Q::Flow, c.flow_l_min);
            let share = c.hot_share.map_or_else(String::new, |v| show(self.units, Q::Share, v));
            let (figure, unit) = flow.split_once('\u{a0}').unwrap_or((&flow, ""));
            let [x, y] = s.at;
            self.say(x - 0.9, y - 3.2, At::End, false, &supply);
            self.say(x + 4.3, y - 3.2, At::End, false, &back);
            self.say(x + 3.1, y + 3.6, At::Middle, false, figure);
            self.say(x + 3.1, y + 5.0, At::Middle, false, unit);
            self.say(x - 1.6, y + 6.5, At::End, false, &share);
        }
    }
}

/// A long name up to so many letters.
fn cut(name: &str, letters: usize) -> String {
    if name.chars().count() <= letters {
        return name.to_owned();
    }
    format!("{}…", name.chars().take(letters - 1).collect::<String>().trim_end())
}

#[cfg(test)]
mod tests {
    use super::*;
    use fuoco_core::job::{Arrangement, Job};
    use fuoco_core::samples::{designed, read_job};

    fn demo() -> Job {
        read_job(include_str!("../../../../demo/tamarack-dance-school.json")).expect("the demo is sound")
    }

    fn state(job: &Job) -> PlantState {
        designed(job).expect("designs").plant.expect("a plant").state.expect("it works")
    }

    fn read(svg: &str) -> usvg::Tree {
        usvg::Tree::from_str(svg, &usvg::Options::default()).expect("an SVG")
    }

    #[test]
    fn every_arrangement_is_drawn_with_the_figures_of_its_circuits() {
        let mut drawn = 0;
        for arrangement in [
            Arrangement::Direct,
            Arrangement::TeesInSeries,
            Arrangement::TeesWithHeaders,
            Arrangement::Separator,
            Arrangement::BufferTwoPipe,
            Arrangement::BufferFourPipe,
            Arrangement::Exchanger,
        ] {
            let mut job = demo();
            let plant = job.plant.as_mut().expect("a plant");
            plant.arrangement = arrangement;
            plant.buffer_l = 200.0;
            plant.exchanger_w_k = 3000.0;
            // one that cannot work with this job is refused, and is not drawn
            let Some(state) = designed(&job).ok().and_then(|d| d.plant?.state) else { continue };
            drawn += 1;
            let (svg, shape) = draw(&state, job.site.units);
            let size = read(&svg).size();
            assert!((f64::from(size.width() / size.height()) - shape).abs() < 1e-3);
            for c in &state.circuits {
                assert!(svg.contains(&escape(&cut(&c.name, 15))), "{arrangement:?}: {}", c.name);
                if c.on {
                    assert!(svg.contains(&show(job.site.units, Q::Heat, c.heat_w)), "{arrangement:?}: {}", c.name);
                }
            }
            assert_eq!(svg.matches("<polyline").count(), state.pipes.len());
        }
        assert!(drawn >= 5, "{drawn} of seven");
    }

    #[test]
    fn what_stands_is_told_as_off_and_its_pipes_are_broken() {
        let job = demo();
        let state = state(&job);
        let still = state.pipes.iter().filter(|p| p.temperature_c.is_none()).count();
        let (svg, _) = draw(&state, job.site.units);
        assert!(still > 0 && state.circuits.iter().any(|c| !c.on));
        assert_eq!(svg.matches("stroke-dasharray").count(), still);
        assert!(svg.contains(">off</text>"));
    }

    #[test]
    fn names_may_hold_anything_and_long_ones_are_cut() {
        let mut job = demo();
        job.circuits[0].name = "<Foyer> & \"friends\" of the house".into();
        let (svg, _) = draw(&state(&job), job.site.units);
        read(&svg);
        assert!(svg.contains("&lt;Foyer&gt; &amp;"), "{svg}");
        assert_eq!([cut("Wall-hung boiler", 11), cut("Boiler", 11)], ["Wall-hung…", "Boiler"]);
    }

    #[test]
    fn every_kind_of_symbol_that_needs_strokes_has_some() {
        for kind in
            ["manifold", "emitters", "tank", "typed", "pump", "pump_along", "mixer", "check_valve", "vessel", "source"]
        {
            let strokes = STROKES.get(kind).unwrap_or_else(|| panic!("{kind} has none"));
            for s in strokes {
                read(&format!(
                    "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"-4 -4 8 8\"><path d=\"{}\" stroke=\"#000\"/></svg>",
                    s.d
                ));
            }
        }
    }
}
