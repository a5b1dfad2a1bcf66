//! What came of it on site: how it was laid, with every repair at its place, and the pressure tests.

use super::loops::level;
use crate::typeset::block::{Block, Drawing, list, note, plain};
use crate::typeset::table::{Table, figures, words};
use crate::typeset::text::bold;
use crate::words::word;
use crate::{Papers, Part};
use chrono::{DateTime, Local};
use fuoco_core::geometry::Point;
use fuoco_core::onsite::laying::{HarmDesign, LoopLaid, PinDesign};
use fuoco_core::onsite::pressure::TestLog;
use fuoco_core::pressure_test::Verdict;
use fuoco_core::records::{During, LayStep};
use fuoco_core::units::{Quantity as Q, Units};
use fuoco_documents::plan_svg::{escape, extent};
use std::fmt::Write;

/// A time of a record where the paper is made.
pub(super) fn when(of: &Papers, at: &str) -> String {
    let form = if of.units() == Units::Us { "%m/%d/%Y %-I:%M %p" } else { "%-d.%-m.%Y %H:%M" };
    DateTime::parse_from_rfc3339(at)
        .map_or_else(|_| at.to_owned(), |t| t.with_timezone(&Local).format(form).to_string())
}

pub fn laid(of: &Papers) -> Vec<Part> {
    let mut out = vec![Part { sheet: of.format.upright(), blocks: log(of) }];
    for l in &of.job.levels {
        let pins: Vec<&HarmDesign> =
            of.laying.harms.iter().filter(|h| h.level_id == l.id && h.position.is_some()).collect();
        let notes: Vec<&PinDesign> = of.laying.pins.iter().filter(|p| p.spot.level_id == l.id).collect();
        let on: Vec<&LoopLaid> = of.laying.loops.iter().filter(|x| x.level_id == l.id).collect();
        if on.is_empty() {
            continue;
        }
        let (sheet, drawing, scale) = level(of, &l.id, 2.0);
        let Block::Drawing(Drawing { svg, width, height }) = drawing else { continue };
        let [lo, hi] = extent(of.job, &l.id, None);
        let marked =
            svg.replace("</svg>", &(marks(&pins, [lo, hi], scale) + &views(&notes, [lo, hi], scale) + "</svg>"));
        let blocks = vec![
            Block::Title(format!("{}: as laid", l.name), of.whom(of.day)),
            plain(format!(
                "As drawn, with what happened to the tubes: {}{}. Scale {}, printed at 100 %.",
                match pins.len() {
                    0 => "nothing on this level".to_owned(),
                    1 => "one place, numbered as in the list".to_owned(),
                    n => format!("{n} places, numbered as in the list"),
                },
                if notes.is_empty() { "" } else { "; notes and photos by letters" },
                super::scale::named(of.units(), scale)
            )),
            Block::Drawing(Drawing { svg: marked, width, height }),
        ];
        out.push(Part { sheet, blocks });
    }
    out
}

/// A numbered ring at each place, in millimetres of the building.
fn marks(pins: &[&HarmDesign], [lo, hi]: [Point; 2], scale: f64) -> String {
    let mut out = "<g id=\"repairs\" fill=\"#fff\" stroke=\"#a83e12\">".to_owned();
    for (k, p) in pins.iter().filter_map(|h| h.position).enumerate() {
        let (x, y) = ((p[0] - lo[0]) * 1000.0, (hi[1] - p[1]) * 1000.0);
        // 5 mm across on paper, whatever the scale
        let r = 2.5 * scale;
        let _ = write!(
            out,
            "<circle cx=\"{x:.0}\" cy=\"{y:.0}\" r=\"{r:.0}\" stroke-width=\"{:.1}\"/><text x=\"{x:.0}\" y=\"{:.0}\" font-family=\"sans-serif\" font-size=\"{:.0}\" text-anchor=\"middle\" fill=\"#a83e12\" stroke=\"none\">{}</text>",
            0.5 * scale,
            y + 1.2 * scale,
            3.4 * scale,
            k + 1
        );
    }
    out + "</g>"
}

/// The letter of a note on its level: A to Z, then AA.
fn letter(k: usize) -> String {
    let last = char::from(b'A' + (k % 26) as u8);
    if k < 26 { last.to_string() } else { format!("{}{last}", letter(k / 26 - 1)) }
}

/// A letter at each note's place, and a wedge where its photos look.
fn views(notes: &[&PinDesign], [lo, hi]: [Point; 2], scale: f64) -> String {
    let mut out = "<g id=\"notes\" fill=\"#fff\" stroke=\"#2f5d8a\">".to_owned();
    for (k, n) in notes.iter().enumerate() {
        let (x, y) = ((n.spot.at[0] - lo[0]) * 1000.0, (hi[1] - n.spot.at[1]) * 1000.0);
        if let Some(facing) = n.spot.facing_deg {
            let tip = |turn: f64| {
                let (sin, cos) = (facing + turn).to_radians().sin_cos();
                (x + 7.0 * scale * cos, y - 7.0 * scale * sin)
            };
            let (a, b) = (tip(-25.0), tip(25.0));
            let _ = write!(
                out,
                "<path d=\"M{x:.0} {y:.0}L{:.0} {:.0}L{:.0} {:.0}Z\" fill-opacity=\"0.7\" stroke-width=\"{:.1}\"/>",
                a.0,
                a.1,
                b.0,
                b.1,
                0.35 * scale
            );
        }
        let _ = write!(
            out,
            "<rect x=\"{:.0}\" y=\"{:.0}\" width=\"{w:.0}\" height=\"{w:.0}\" stroke-width=\"{:.1}\"/><text x=\"{x:.0}\" y=\"{:.0}\" font-family=\"sans-serif\" font-size=\"{:.0}\" text-anchor=\"middle\" fill=\"#2f5d8a\" stroke=\"none\">{}</text>",
            x - 2.3 * scale,
            y - 2.3 * scale,
            0.5 * scale,
            y + 1.2 * scale,
            3.4 * scale,
            letter(k),
            w = 4.6 * scale
        );
    }
    out + "</g>"
}

fn log(of: &Papers) -> Vec<Block> {
    let l = of.laying;
    let mut out = vec![Block::Title("As laid".into(), of.whom(of.day))];
    let (done, all) = (l.loops.iter().filter(|x| x.step > LayStep::NotStarted).count(), l.loops.len());
    out.push(plain(format!(
        "{done} of {all} loops lie: {} of {} of tube.",
        of.s(Q::Tube, l.laid_m),
        of.s(Q::Tube, l.all_m)
    )));
    let heads = [
        words("Loop"),
        words("Rooms"),
        words("State"),
        words("Coil"),
        figures("From mark"),
        figures("To mark"),
        figures("Tube used"),
        figures("As drawn"),
        words("Said"),
    ];
    let rows = l.loops.iter().map(|x| {
        let mut said = vec![x.reason.clone()];
        if x.differs {
            said.push("lies differently, see the notes of the site".into());
        }
        if let Some(then) = x.drawn_then_m {
            said.push(format!("laid when the design had {}", of.s(Q::Tube, then)));
        }
        said.retain(|s| !s.is_empty());
        vec![
            bold(x.tag.as_str()).into(),
            x.rooms.join(", ").into(),
            word("lay_steps", x.step).into(),
            x.coil_used.as_str().into(),
            of.o(Q::Tube, x.start_m).into(),
            of.o(Q::Tube, x.end_m).into(),
            of.o(Q::Tube, x.used_m).into(),
            of.s(Q::Tube, x.drawn_m).into(),
            said.join("; ").into(),
        ]
    });
    out.push(Block::Table(Table::new(heads).rows(rows)));
    out.push(Block::Heading("What happened to the tubes".into()));
    if l.harms.is_empty() {
        out.push(plain("Nothing was written down."));
    } else {
        // numbered as on the plans: those that have a place, level by level
        let number = |h: &HarmDesign| {
            let mut on = l.harms.iter().filter(|o| o.level_id == h.level_id && o.position.is_some());
            h.position
                .and_then(|_| on.position(|o| o.record_id == h.record_id))
                .map_or_else(String::new, |k| (k + 1).to_string())
        };
        let rows = l.harms.iter().map(|h| {
            vec![
                number(h).into(),
                bold(h.tag.as_str()).into(),
                word("harms", h.harm.harm).into(),
                of.o(Q::Tube, h.harm.mark_m).into(),
                word("mends", h.harm.mend).into(),
                h.note.as_str().into(),
            ]
        });
        let heads = [words("No."), words("Loop"), words("What"), figures("At mark"), words("Mended"), words("Said")];
        out.push(Block::Table(Table::new(heads).rows(rows)));
        out.push(note("Numbers are those of the plans that follow. A coupling stays under the floor: nobody drills there, and it is looked at first when pressure falls."));
    }
    if !l.pins.is_empty() {
        out.push(Block::Heading("Notes and photos on the plan".into()));
        let of_level = |p: &PinDesign| of.job.levels.iter().find(|v| v.id == p.spot.level_id).map_or("", |v| &v.name);
        let rows = l.pins.iter().map(|p| {
            let before = l.pins.iter().take_while(|o| o.record_id != p.record_id);
            let number = before.filter(|o| o.spot.level_id == p.spot.level_id).count();
            let photos = match p.photos.len() {
                0 => String::new(),
                1 => "1 photo".to_owned(),
                n => format!("{n} photos"),
            };
            let by =
                [p.who.clone(), when(of, &p.at)].into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(", ");
            vec![letter(number).into(), of_level(p).into(), p.note.as_str().into(), photos.into(), by.into()]
        });
        let heads = [words(""), words("Level"), words("Said"), words("Photos"), words("Written down")];
        out.push(Block::Table(Table::new(heads).rows(rows)));
    }
    out.push(Block::Heading("Before it was covered".into()));
    let rows = l.checks.iter().map(|c| {
        let by = c.at.as_ref().filter(|_| c.done).map_or_else(String::new, |at| {
            [c.who.clone(), when(of, at)].into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(", ")
        });
        vec![if c.done { "☑" } else { "☐" }.into(), c.text.as_str().into(), c.about.as_str().into(), by.into()]
    });
    out.push(Block::Table(Table::new([words(""), words("What must be so"), words("For"), words("Ticked")]).rows(rows)));
    if !l.gone.is_empty() {
        out.push(note(format!("There are records of loops that the design no longer has: {}.", l.gone.join(", "))));
    }
    out
}

pub fn tests(of: &Papers) -> Vec<Block> {
    let mut out = vec![];
    for (k, t) in of.tests.tests.iter().enumerate() {
        if k > 0 {
            out.push(Block::NewPage);
        }
        out.push(Block::Title(format!("Pressure test: {}", t.begun.name), of.whom(of.day)));
        out.extend(test(of, t));
    }
    out
}

fn test(of: &Papers, t: &TestLog) -> Vec<Block> {
    let gauge = |kpa: f64| of.s(Q::Gauge, kpa * 1e3);
    let b = &t.begun.test;
    let medium = word("media", b.medium);
    let mut out = vec![Block::Facts(vec![
        ("With".into(), medium.clone()),
        ("Contents".into(), of.s(Q::Content, b.volume_l)),
        (
            "Asked for".into(),
            format!("{} for {} h", of.s(Q::Pressure, b.required.pressure_kpa * 1e3), b.required.hours),
        ),
        (
            "Gauge".into(),
            format!("steps of {}, to {}", gauge(b.gauge.resolution_kpa), of.s(Q::Pressure, b.gauge.range_kpa * 1e3)),
        ),
        ("Begun".into(), when(of, &t.at)),
    ])];
    match &t.result {
        Some(r) => {
            let verdict = format!("{}.", word("verdicts", r.verdict));
            if r.verdict == Verdict::Leaking {
                out.push(Block::Stop(verdict, r.reason.clone()));
            } else {
                out.push(Block::Text(vec![bold(verdict), format!(" {}", r.reason).into()]));
            }
            out.push(Block::Facts(vec![
                ("Corrected drop".into(), gauge(r.drop_kpa)),
                ("Uncertainty, 95 %".into(), gauge(r.uncertainty_kpa)),
                ("Least leak it would have shown".into(), format!("{:.0} mL/h of {medium}", r.least_leak)),
                ("Required pressure stood".into(), format!("{:.1} h", r.hours)),
            ]));
            if !r.to_prove.is_empty() {
                out.push(plain("What would prove it:"));
                out.push(list(r.to_prove.clone()));
            }
            out.extend(r.doubts.iter().map(|d| Block::Stop("Look again:".into(), d.clone())));
        }
        None if t.readings.is_empty() => out.push(plain("Nothing has been read yet.")),
        None => out.push(Block::Stop("Not judged.".into(), t.trouble.clone())),
    }
    if t.readings.len() > 1 {
        out.push(Block::Drawing(Drawing { svg: chart(of, t), width: 180.0, height: 60.0 }));
    }
    let heads = [
        words("When"),
        figures("Gauge"),
        figures("Corrected"),
        figures("Slab"),
        figures("Air"),
        words(""),
        words("Read by"),
    ];
    let rows = t.readings.iter().enumerate().map(|(k, r)| {
        // what is read before the pour goes without saying
        let during = if r.read.during == During::Before { String::new() } else { word("during", r.read.during) };
        vec![
            when(of, &r.at).into(),
            gauge(r.read.gauge_kpa).into(),
            t.result.as_ref().and_then(|x| x.corrected.get(k)).map_or_else(String::new, |v| gauge(*v)).into(),
            of.o(Q::Temperature, r.read.slab_c).into(),
            of.o(Q::Temperature, r.read.air_c).into(),
            during.into(),
            if r.read.instrument.is_empty() { r.who.as_str() } else { r.read.instrument.as_str() }.into(),
        ]
    });
    out.push(Block::Table(Table::new(heads).rows(rows)));
    out.push(note("Corrected: as the gauge would have shown it at the temperature and the weather of the reading that the drop counts from."));
    for c in t.result.iter().flat_map(|r| &r.cautions) {
        out.push(note(c.clone()));
    }
    out.push(Block::Heading("Signed".into()));
    if t.signed.is_empty() {
        out.push(plain("Nobody has signed yet."));
    }
    for s in &t.signed {
        let later = if s.before_last { ", before the last reading" } else { "" };
        out.push(Block::Text(vec![
            bold(s.signed.name.as_str()),
            format!(", {}, {}{later}", word("signed_as", s.signed.part), when(of, &s.at)).into(),
        ]));
        out.push(Block::Drawing(Drawing { svg: hand(&s.signed.strokes), width: 54.0, height: 18.0 }));
    }
    out.push(note("Pressure, medium and duration: follow local code and the manufacturer's instructions."));
    out
}

/// A signature as it was drawn.
fn hand(strokes: &[Vec<Point>]) -> String {
    let mut out = "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 300 100\"><g fill=\"none\" stroke=\"#221d18\" stroke-width=\"2.2\" stroke-linejoin=\"round\" stroke-linecap=\"round\"><line x1=\"0\" y1=\"96\" x2=\"300\" y2=\"96\" stroke-width=\"0.8\"/>".to_owned();
    for stroke in strokes {
        let points: Vec<String> = stroke.iter().map(|p| format!("{:.1},{:.1}", p[0] * 100.0, p[1] * 100.0)).collect();
        let _ = write!(out, "<polyline points=\"{}\"/>", points.join(" "));
    }
    out + "</g></svg>"
}

/// Readings over time, as read and corrected, with what is asked for.
fn chart(of: &Papers, t: &TestLog) -> String {
    const LEFT: f64 = 120.0;
    const RIGHT: f64 = 890.0;
    const TOP: f64 = 12.0;
    const BOTTOM: f64 = 260.0;
    let time = |at: &str| DateTime::parse_from_rfc3339(at).map_or(0.0, |x| x.timestamp_millis() as f64 / 3.6e6);
    let first = time(&t.readings[0].at);
    let hours: Vec<f64> = t.readings.iter().map(|r| time(&r.at) - first).collect();
    let corrected = t.result.as_ref().map_or(&[][..], |r| &r.corrected);
    let asked = t.begun.test.required.pressure_kpa;
    let all = || t.readings.iter().map(|r| r.read.gauge_kpa).chain(corrected.iter().copied()).chain([asked]);
    let (low, high) = (all().fold(f64::MAX, f64::min), all().fold(f64::MIN, f64::max));
    let room = (0.15 * (high - low)).max(4.0);
    let (low, high) = ((low - room).max(0.0), high + room);
    let long = hours.iter().copied().fold(0.1, f64::max);
    let x = |h: f64| LEFT + (RIGHT - LEFT) * h / long;
    let y = |kpa: f64| BOTTOM - (BOTTOM - TOP) * (kpa - low) / (high - low);
    let line = |values: &mut dyn Iterator<Item = (f64, f64)>| {
        values.map(|(h, kpa)| format!("{:.1},{:.1}", x(h), y(kpa))).collect::<Vec<_>>().join(" ")
    };
    let mut out = String::from(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 900 300\" font-family=\"sans-serif\" font-size=\"15\" fill=\"none\">",
    );
    for k in 0..=4 {
        let kpa = low + (high - low) * f64::from(k) / 4.0;
        let _ = write!(
            out,
            "<line x1=\"{LEFT}\" x2=\"{RIGHT}\" y1=\"{0:.1}\" y2=\"{0:.1}\" stroke=\"#d8d0c0\"/><text x=\"{1}\" y=\"{2:.1}\" text-anchor=\"end\" fill=\"#221d18\">{3}</text>",
            y(kpa),
            LEFT - 8.0,
            y(kpa) + 5.0,
            escape(&of.s(Q::Gauge, kpa * 1e3))
        );
        let h = long * f64::from(k) / 4.0;
        let _ = write!(
            out,
            "<text x=\"{:.1}\" y=\"{}\" text-anchor=\"middle\" fill=\"#221d18\">{h:.1} h</text>",
            x(h),
            BOTTOM + 22.0
        );
    }
    let _ = write!(
        out,
        "<line x1=\"{LEFT}\" x2=\"{RIGHT}\" y1=\"{0:.1}\" y2=\"{0:.1}\" stroke=\"#221d18\" stroke-dasharray=\"10 6\"/>",
        y(asked)
    );
    let read = line(&mut hours.iter().copied().zip(t.readings.iter().map(|r| r.read.gauge_kpa)));
    let _ = write!(out, "<polyline points=\"{read}\" stroke=\"#837868\" stroke-width=\"2\" stroke-dasharray=\"3 4\"/>");
    let straight = line(&mut hours.iter().copied().zip(corrected.iter().copied()));
    let _ = write!(out, "<polyline points=\"{straight}\" stroke=\"#a83e12\" stroke-width=\"2.4\"/>");
    for (h, r) in hours.iter().zip(&t.readings) {
        let _ = write!(
            out,
            "<circle cx=\"{:.1}\" cy=\"{:.1}\" r=\"4\" fill=\"#fff\" stroke=\"#221d18\"/>",
            x(*h),
            y(r.read.gauge_kpa)
        );
    }
    let _ = write!(
        out,
        "<text x=\"{LEFT}\" y=\"{}\" fill=\"#221d18\">dotted: as read; full: corrected; broken: asked for</text>",
        BOTTOM + 38.0
    );
    out + "</svg>"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn letters_go_on_after_z() {
        assert_eq!([0, 25, 26, 27, 52].map(letter), ["A", "Z", "AA", "AB", "BA"]);
    }
}
