//! The plan with its loops as an SVG drawing, true to scale: its size in millimetres on paper is that of the
//! building divided by the scale.

use fuoco_core::design::{Design, LoopDesign};
use fuoco_core::job::{Job, OpeningKind, Point, Room};
use fuoco_core::units::{Quantity, Units};
use std::fmt::Write;
use std::sync::LazyLock;

/// Margin round the plan, m.
const MARGIN_M: f64 = 0.6;
/// Colours of cool and hot water: a ramp from blue-violet to ember, even in lightness.
/// The front end draws from the same table.
static RAMP: LazyLock<Vec<[f64; 3]>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../data/water_ramp.json")).expect("the built-in ramp is well-formed")
});

/// A drawing and its size on paper.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawn {
    /// As SVG.
    pub svg: String,
    /// Across and down, mm.
    pub size_mm: [f64; 2],
}

/// What of a plan is drawn.
#[derive(Debug, Clone, Copy)]
pub struct View<'a> {
    /// The level.
    pub level_id: &'a str,
    /// Building over paper.
    pub scale: f64,
    /// One loop alone: the others are faint, the drawing is cut to it, and the running length stands at its turns.
    pub only: Option<&'a LoopDesign>,
}

/// Draws one level at 1:`scale`.
pub fn plan(job: &Job, design: &Design, level_id: &str, scale: f64) -> String {
    draw(job, design, View { level_id, scale, only: None }).svg
}

/// The building that a view shows: its lower left and upper right corner, m.
pub fn extent(job: &Job, level_id: &str, only: Option<&LoopDesign>) -> [Point; 2] {
    let (mut lo, mut hi) = ([f64::MAX; 2], [f64::MIN; 2]);
    let rooms = job.rooms.iter().filter(|r| r.level_id == level_id).flat_map(|r| r.outline.iter().copied());
    let points: Vec<Point> = only.map_or_else(|| rooms.collect(), |l| l.path.clone());
    for p in &points {
        for k in 0..2 {
            lo[k] = lo[k].min(p[k] - MARGIN_M);
            hi[k] = hi[k].max(p[k] + MARGIN_M);
        }
    }
    if points.is_empty() { [[0.0; 2], [1.0; 2]] } else { [lo, hi] }
}

/// Draws what a view shows.
pub fn draw(job: &Job, design: &Design, view: View) -> Drawn {
    let View { level_id, scale, only } = view;
    let rooms: Vec<_> = job.rooms.iter().filter(|r| r.level_id == level_id).collect();
    let [lo, hi] = extent(job, level_id, only);
    // one user unit is a millimetre of the building
    let (w, h) = ((hi[0] - lo[0]) * 1000.0, (hi[1] - lo[1]) * 1000.0);
    let at = |p: Point| format!("{:.1},{:.1}", (p[0] - lo[0]) * 1000.0, (hi[1] - p[1]) * 1000.0);
    let path = |points: &[Point]| points.iter().map(|&p| at(p)).collect::<Vec<_>>().join(" ");

    let mut out = String::new();
    let _ = writeln!(
        out,
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{:.2}mm\" height=\"{:.2}mm\" viewBox=\"0 0 {w:.1} {h:.1}\">",
        w / scale,
        h / scale
    );
    let _ = writeln!(out, "<title>{}</title>", escape(&format!("{}, 1:{scale}", job.name)));
    let _ = writeln!(out, "<g id=\"rooms\" fill=\"#faf6ee\" stroke=\"#221d18\" stroke-width=\"30\">");
    for r in &rooms {
        let _ = writeln!(out, "<polygon points=\"{}\"/>", path(&r.outline));
    }
    let _ = writeln!(out, "</g>\n<g id=\"keep-outs\" fill=\"#d8d0c0\" stroke=\"#6b6256\" stroke-width=\"10\">");
    for k in rooms.iter().flat_map(|r| &r.keep_outs) {
        let _ = writeln!(
            out,
            "<polygon points=\"{}\"/>",
            path(&[[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]])
        );
    }
    let _ = writeln!(out, "</g>\n<g id=\"openings\" fill=\"none\" stroke-width=\"60\">");
    for r in &rooms {
        let edges = fuoco_core::plan::edges(r);
        for o in &r.openings {
            let Some(edge) = edges.iter().find(|e| e.index == o.edge) else { continue };
            let (from, to) = edge.stretch(o.offset_m, o.width_m);
            if o.kind == OpeningKind::RoofWindow {
                // overhead: a dashed rectangle a step in from its wall
                let n = edge.inward();
                let at = |s: f64, depth: f64| [0, 1].map(|k| edge.at(s)[k] + n[k] * depth);
                let corners = [at(from, 0.3), at(to, 0.3), at(to, 0.3 + o.height_m), at(from, 0.3 + o.height_m)];
                let points = path(&corners);
                let _ = writeln!(
                    out,
                    "<polygon points=\"{points}\" stroke=\"#5b87a6\" stroke-width=\"14\" stroke-dasharray=\"70 40\"/>"
                );
                continue;
            }
            let colour = match o.kind {
                OpeningKind::Window | OpeningKind::RoofWindow => "#5b87a6",
                OpeningKind::OutsideDoor => "#8a5a2b",
                OpeningKind::Doorway | OpeningKind::Sleeve => "#faf6ee",
            };
            let _ = writeln!(out, "<polyline points=\"{}\" stroke=\"{colour}\"/>", path(&[edge.at(from), edge.at(to)]));
        }
    }
    let on_level = |l: &&fuoco_core::design::LoopDesign| l.room_ids.iter().any(|id| rooms.iter().any(|r| &r.id == id));
    let all = design.loops.iter().flat_map(|l| &l.path_c);
    let (cool, hot) = all.fold((f64::MAX, f64::MIN), |(a, b), &t| (a.min(t), b.max(t)));
    // as wide as most tube is, and never so thin that a copier loses it
    let wide = f64::max(16.0, 0.25 * scale);
    let _ = writeln!(out, "</g>\n<g id=\"loops\" fill=\"none\" stroke-width=\"{wide}\" stroke-linejoin=\"round\">");
    // what a cut-out does not show is not drawn at all
    let outside =
        |points: &[Point]| (0..2).any(|k| points.iter().all(|p| p[k] < lo[k]) || points.iter().all(|p| p[k] > hi[k]));
    for l in design.loops.iter().filter(on_level) {
        let faint = if only.is_some_and(|o| o.id != l.id) { " opacity=\"0.22\"" } else { "" };
        let _ = writeln!(out, "<g id=\"loop-{}\"{faint}>", escape(&l.tag));
        // one polyline for each step of the ramp that the water passes on its way
        let step = |t: f64| if hot > cool { ((t - cool) / (hot - cool) * 12.0).floor().min(11.0) } else { 0.0 };
        let mut from = 0;
        for i in 1..=l.path.len() {
            let new = i == l.path.len() || step(l.path_c[i]) != step(l.path_c[from]);
            if new && i > from {
                let end = (i + 1).min(l.path.len());
                if outside(&l.path[from..end]) {
                    from = i;
                    continue;
                }
                let colour = ramp((step(l.path_c[from]) + 0.5) / 12.0);
                let _ = writeln!(out, "<polyline points=\"{}\" stroke=\"{colour}\"/>", path(&l.path[from..end]));
                from = i;
            }
        }
        let _ = writeln!(out, "</g>");
    }
    let _ = writeln!(out, "</g>\n<g id=\"joist-holes\" fill=\"#faf6ee\" stroke=\"#221d18\" stroke-width=\"8\">");
    let on_plan = |id: &str| rooms.iter().any(|r| r.id == id);
    for p in design.rooms.iter().filter(|r| on_plan(&r.id)).flat_map(|r| &r.joist_holes) {
        let [x, y] = [(p[0] - lo[0]) * 1000.0, (hi[1] - p[1]) * 1000.0];
        let _ = writeln!(out, "<circle cx=\"{x:.1}\" cy=\"{y:.1}\" r=\"20\"/>");
    }
    let _ = writeln!(out, "</g>\n<g id=\"labels\" font-family=\"sans-serif\" fill=\"#221d18\" text-anchor=\"middle\">");
    // type has the same size on paper at every scale, mm
    let mm = scale;
    for r in &rooms {
        text(&mut out, named_at(r), [lo, hi], 2.5 * mm, &r.name);
    }
    let _ = writeln!(
        out,
        "</g>\n<g id=\"tags\" font-family=\"sans-serif\" fill=\"#221d18\" font-weight=\"600\" text-anchor=\"middle\">"
    );
    if let Some(l) = only {
        turns(&mut out, l, [lo, hi], mm, job.site.units);
    } else {
        let names: Vec<Point> = rooms.iter().map(|r| named_at(r)).collect();
        for (tag, p) in tag_places(design.loops.iter().filter(on_level), &names, 0.008 * scale) {
            let [x, y] = [(p[0] - lo[0]) * 1000.0, (hi[1] - p[1]) * 1000.0];
            let wide = (1.6 * tag.chars().count() as f64 + 2.2) * mm;
            let _ = writeln!(
                out,
                "<rect x=\"{:.1}\" y=\"{:.1}\" width=\"{wide:.1}\" height=\"{:.1}\" rx=\"{:.1}\" fill=\"#fff\" stroke=\"#221d18\" stroke-width=\"{:.1}\"/>",
                x - wide / 2.0,
                y - 1.9 * mm,
                3.8 * mm,
                1.9 * mm,
                0.12 * mm
            );
            let _ = writeln!(
                out,
                "<text x=\"{x:.1}\" y=\"{:.1}\" font-size=\"{:.1}\">{}</text>",
                y + 0.9 * mm,
                2.6 * mm,
                escape(tag)
            );
        }
    }
    let _ = writeln!(out, "</g>\n</svg>");
    Drawn { svg: out, size_mm: [w / scale, h / scale] }
}

/// Where a room's name stands: in the middle of the largest rectangle between two of its corners' heights.
fn named_at(r: &Room) -> Point {
    let mut heights: Vec<f64> = r.outline.iter().map(|p| p[1]).collect();
    heights.sort_by(f64::total_cmp);
    let mut best = (0.0, r.outline.first().copied().unwrap_or([0.0; 2]));
    for pair in heights.windows(2).filter(|w| w[1] > w[0]) {
        let y = (pair[0] + pair[1]) / 2.0;
        let mut xs: Vec<f64> = (0..r.outline.len())
            .map(|k| (r.outline[k], r.outline[(k + 1) % r.outline.len()]))
            .filter(|(a, b)| (a[1] > y) != (b[1] > y))
            .map(|(a, b)| a[0] + (b[0] - a[0]) * (y - a[1]) / (b[1] - a[1]))
            .collect();
        xs.sort_by(f64::total_cmp);
        for x in xs.chunks_exact(2) {
            let size = (x[1] - x[0]) * (pair[1] - pair[0]);
            if size > best.0 {
                best = (size, [(x[0] + x[1]) / 2.0, y]);
            }
        }
    }
    best.1
}

/// Words on a pale ground, so that they can be read over lines.
fn text(out: &mut String, p: Point, [lo, hi]: [Point; 2], size: f64, said: &str) {
    let (x, y) = ((p[0] - lo[0]) * 1000.0, (hi[1] - p[1]) * 1000.0);
    out.push_str(&ground(x, y, size, said, "#faf6ee"));
    let _ = writeln!(out, "<text x=\"{x:.1}\" y=\"{y:.1}\" font-size=\"{size:.1}\">{}</text>", escape(said));
}

/// A ground behind words that are centred on `x` and stand on `y`. (An edge round each letter, in the usual way of SVG, is drawn
/// letter by letter in a PDF, and eats into the letter before.)
pub fn ground(x: f64, y: f64, size: f64, said: &str, colour: &str) -> String {
    // figures and small letters are about half as wide as the type is high
    let wide = (0.5 * said.chars().count() as f64 + 0.2) * size;
    format!(
        "<rect x=\"{:.2}\" y=\"{:.2}\" width=\"{wide:.2}\" height=\"{:.2}\" rx=\"{:.2}\" fill=\"{colour}\" fill-opacity=\"0.78\" stroke=\"none\"/>",
        x - wide / 2.0,
        y - 0.78 * size,
        size,
        0.2 * size
    )
}

/// A place for the tag of each loop: in the middle of a long straight, clear of the tags before it and of the rooms' names.
fn tag_places<'a>(loops: impl Iterator<Item = &'a LoopDesign>, names: &[Point], clear_m: f64) -> Vec<(&'a str, Point)> {
    let mut out: Vec<(&str, Point)> = Vec::new();
    for l in loops {
        let mut runs: Vec<(f64, Point)> = l
            .path
            .windows(2)
            .map(|s| ((s[1][0] - s[0][0]).hypot(s[1][1] - s[0][1]), [0, 1].map(|k| (s[0][k] + s[1][k]) / 2.0)))
            .collect();
        runs.sort_by(|a, b| b.0.total_cmp(&a.0));
        let away = |p: &Point| {
            // a name is wider than it is high
            let named = names.iter().map(|o| (o[0] - p[0]).abs() / 2.0 + (o[1] - p[1]).abs() * 2.0);
            out.iter().map(|(_, o)| (o[0] - p[0]).hypot(o[1] - p[1])).chain(named).fold(f64::MAX, f64::min)
        };
        let place = runs.iter().take(40).find(|(_, p)| away(p) > clear_m).or(runs.first()).map(|r| r.1);
        out.extend(place.map(|p| (l.tag.as_str(), p)));
    }
    out
}

/// The running length at each turn of a loop, beside it where nothing else is, and which end is which.
fn turns(out: &mut String, l: &LoopDesign, frame: [Point; 2], mm: f64, units: Units) {
    let quantity = if units == Units::Us { Quantity::Length } else { Quantity::Tube };
    let m = mm / 1000.0;
    let mut set: Vec<Point> = Vec::new();
    let flat = |p: Point| [(p[0] - frame[0][0]) * 1000.0, (frame[1][1] - p[1]) * 1000.0];
    for t in l.turns.iter().take(l.turns.len().saturating_sub(1)) {
        let clear = |p: Point| {
            let line = l.path.windows(2).map(|s| to_segment(p, s[0], s[1])).fold(3.0 * m, f64::min);
            set.iter().map(|o| (o[0] - p[0]).abs() / 2.4 + (o[1] - p[1]).abs()).fold(line, f64::min)
        };
        let mut best = (f64::MIN, t.at);
        for r in [2.6, 4.0, 5.4] {
            for k in 0..12 {
                let a = f64::from(k) * std::f64::consts::PI / 6.0;
                let p = [t.at[0] + a.cos() * r * m, t.at[1] + a.sin() * r * 0.8 * m];
                let good = clear(p) - 0.12 * r * m;
                if good > best.0 {
                    best = (good, p);
                }
            }
        }
        let (from, to) = (flat(t.at), flat(best.1));
        let _ = writeln!(
            out,
            "<line x1=\"{:.1}\" y1=\"{:.1}\" x2=\"{:.1}\" y2=\"{:.1}\" stroke=\"#8b7f70\" stroke-width=\"{:.1}\"/><circle cx=\"{:.1}\" cy=\"{:.1}\" r=\"{:.1}\"/>",
            from[0],
            from[1],
            to[0],
            to[1],
            0.12 * mm,
            from[0],
            from[1],
            0.4 * mm
        );
        text(out, [best.1[0], best.1[1] - 0.7 * m], frame, 2.1 * mm, &units.figure(quantity, t.along_m));
        set.push(best.1);
    }
    for (end, said, side) in [(l.path.first(), "supply", -1.0), (l.path.last(), "return", 1.0)] {
        let Some(&p) = end else { continue };
        let at = flat(p);
        let fill = if side < 0.0 { "#c2410c" } else { "#fff" };
        let _ = writeln!(
            out,
            "<circle cx=\"{:.1}\" cy=\"{:.1}\" r=\"{:.1}\" fill=\"{fill}\" stroke=\"#221d18\" stroke-width=\"{:.1}\"/>",
            at[0],
            at[1],
            0.9 * mm,
            0.2 * mm
        );
        text(out, [p[0] + side * 6.0 * m, p[1] - 3.6 * m], frame, 3.0 * mm, said);
    }
}

/// How far a point is from a stretch, m.
fn to_segment(p: Point, a: Point, b: Point) -> f64 {
    let d = [b[0] - a[0], b[1] - a[1]];
    let square = d[0] * d[0] + d[1] * d[1];
    let t = if square > 0.0 { (((p[0] - a[0]) * d[0] + (p[1] - a[1]) * d[1]) / square).clamp(0.0, 1.0) } else { 0.0 };
    (p[0] - a[0] - d[0] * t).hypot(p[1] - a[1] - d[1] * t)
}

/// Colour of the water ramp at `x` from 0 (coolest) to 1 (hottest).
pub fn ramp(x: f64) -> String {
    let t = x.clamp(0.0, 1.0) * (RAMP.len() - 1) as f64;
    let i = (t.floor() as usize).min(RAMP.len() - 2);
    let mix = |k: usize| (RAMP[i][k] + (RAMP[i + 1][k] - RAMP[i][k]) * (t - i as f64)).round() as u8;
    format!("#{:02x}{:02x}{:02x}", mix(0), mix(1), mix(2))
}

/// A text as it may stand in a drawing.
pub fn escape(text: &str) -> String {
    text.chars()
        .filter(|c| !c.is_control())
        .map(|c| match c {
            '&' => "&amp;".to_owned(),
            '<' => "&lt;".to_owned(),
            '>' => "&gt;".to_owned(),
            '"' => "&quot;".to_owned(),
            c => c.to_string(),
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_drawing_is_true_to_scale_and_complete() {
        let mut job = fuoco_core::samples::read_job(include_str!("../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound");
        job.name = "<Tamarack & co>".into();
        let design = fuoco_core::samples::designed(&job).expect("designs");
        let svg = plan(&job, &design, "ground", 50.0);
        // 24.6 m and twice the margin at 1:50
        assert!(svg.contains("width=\"516.00mm\""), "{}", &svg[..200]);
        assert!(svg.contains("&lt;Tamarack &amp; co&gt;"));
        for l in &design.loops {
            assert!(svg.contains(&format!("id=\"loop-{}\"", l.tag)));
        }
        assert_eq!(
            svg.matches("<polygon").count(),
            job.rooms.iter().filter(|r| r.level_id == "ground").map(|r| 1 + r.keep_outs.len()).sum::<usize>()
        );
    }

    fn demo() -> (Job, Design) {
        let job = fuoco_core::samples::read_job(include_str!("../../../demo/tamarack-dance-school.json"))
            .expect("the demo is sound");
        let design = fuoco_core::samples::designed(&job).expect("designs");
        (job, design)
    }

    fn inside(outline: &[Point], p: Point) -> bool {
        let crossed = (0..outline.len()).filter(|&k| {
            let (a, b) = (outline[k], outline[(k + 1) % outline.len()]);
            (a[1] > p[1]) != (b[1] > p[1]) && p[0] < a[0] + (b[0] - a[0]) * (p[1] - a[1]) / (b[1] - a[1])
        });
        crossed.count() % 2 == 1
    }

    #[test]
    fn a_loop_alone_is_cut_out_with_its_length_at_every_turn_and_the_others_faint() {
        let (job, design) = demo();
        let l = design.loops.iter().find(|l| l.tag == "A1").expect("a loop");
        let level = &job.room(&l.room_ids[0]).expect("a room").level_id;
        let drawn = draw(&job, &design, View { level_id: level, scale: 25.0, only: Some(l) });
        let [lo, hi] = extent(&job, level, Some(l));
        // the loop and its margin, divided by the scale
        for k in 0..2 {
            let reach = l.path.iter().map(|p| p[k]).fold(f64::MIN, f64::max)
                - l.path.iter().map(|p| p[k]).fold(f64::MAX, f64::min);
            assert!((hi[k] - lo[k] - reach - 2.0 * MARGIN_M).abs() < 1e-9);
            assert!((drawn.size_mm[k] - (hi[k] - lo[k]) * 1000.0 / 25.0).abs() < 1e-9);
        }
        for t in &l.turns[..l.turns.len() - 1] {
            assert!(drawn.svg.contains(&format!(">{:.1}</text>", t.along_m)), "{}", t.along_m);
        }
        assert!(drawn.svg.contains(">supply</text>") && drawn.svg.contains(">return</text>"));
        assert!(drawn.svg.contains("id=\"loop-A1\">") && drawn.svg.contains("id=\"loop-A5\" opacity="));
        // what lies beside the cut-out is not in the file
        let whole = draw(&job, &design, View { level_id: level, scale: 25.0, only: None });
        assert!(2 * drawn.svg.matches("<polyline").count() < whole.svg.matches("<polyline").count());
    }

    #[test]
    fn names_stand_in_their_rooms_and_tags_clear_of_each_other() {
        let (job, design) = demo();
        for r in &job.rooms {
            assert!(inside(&r.outline, named_at(r)), "{}", r.name);
        }
        // an L: the middle of its corners lies outside
        let mut l = job.rooms[0].clone();
        l.outline = vec![[0.0, 0.0], [9.0, 0.0], [9.0, 1.0], [1.0, 1.0], [1.0, 9.0], [0.0, 9.0]];
        assert!(inside(&l.outline, named_at(&l)));
        let names: Vec<Point> = job.rooms.iter().map(named_at).collect();
        let tags = tag_places(design.loops.iter(), &names, 0.6);
        assert_eq!(tags.len(), design.loops.len());
        for (k, (tag, p)) in tags.iter().enumerate() {
            let path = &design.loops.iter().find(|l| l.tag == *tag).expect("a loop").path;
            assert!(path.windows(2).any(|s| to_segment(*p, s[0], s[1]) < 1e-6), "{tag} stands beside its loop");
            for (other, q) in &tags[..k] {
                assert!((p[0] - q[0]).hypot(p[1] - q[1]) > 0.3, "{tag} lies on {other}");
            }
        }
    }

    #[test]
    fn distances_to_a_stretch_by_hand() {
        let away = |p| to_segment(p, [0.0, 0.0], [4.0, 0.0]);
        assert_eq!([away([2.0, 3.0]), away([-3.0, 4.0]), away([7.0, 4.0]), away([1.0, 0.0])], [3.0, 5.0, 5.0, 0.0]);
        assert_eq!(to_segment([3.0, 4.0], [0.0, 0.0], [0.0, 0.0]), 5.0);
    }

    #[test]
    fn an_empty_level_is_an_empty_drawing() {
        let job = Job::new("Empty");
        let svg = plan(&job, &fuoco_core::samples::designed(&job).expect("designs"), "ground", 50.0);
        assert!(svg.starts_with("<svg") && svg.trim_end().ends_with("</svg>"));
    }
}
