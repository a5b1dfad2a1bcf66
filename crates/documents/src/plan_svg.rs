//! The plan with its loops as an SVG drawing, true to scale: its size in millimetres on paper is that of the
//! building divided by the scale.

use fuoco_core::design::Design;
use fuoco_core::job::{Job, OpeningKind, Point};
use std::fmt::Write;
use std::sync::LazyLock;

/// Margin round the plan, m.
const MARGIN_M: f64 = 0.6;
/// Colours of cool and hot water: a ramp from blue-violet to ember, even in lightness.
/// The front end draws from the same table.
static RAMP: LazyLock<Vec<[f64; 3]>> = LazyLock::new(|| {
    serde_json::from_str(include_str!("../data/water_ramp.json")).expect("the built-in ramp is well-formed")
});

/// Draws one level at 1:`scale`.
pub fn plan(job: &Job, design: &Design, level_id: &str, scale: f64) -> String {
    let rooms: Vec<_> = job.rooms.iter().filter(|r| r.level_id == level_id).collect();
    let (mut lo, mut hi) = ([f64::MAX; 2], [f64::MIN; 2]);
    for p in rooms.iter().flat_map(|r| &r.outline) {
        for k in 0..2 {
            lo[k] = lo[k].min(p[k] - MARGIN_M);
            hi[k] = hi[k].max(p[k] + MARGIN_M);
        }
    }
    if rooms.is_empty() {
        (lo, hi) = ([0.0; 2], [1.0; 2]);
    }
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
    let _ = writeln!(out, "</g>\n<g id=\"loops\" fill=\"none\" stroke-width=\"16\" stroke-linejoin=\"round\">");
    for l in design.loops.iter().filter(on_level) {
        let _ = writeln!(out, "<g id=\"loop-{}\">", escape(&l.tag));
        // one polyline for each step of the ramp that the water passes on its way
        let step = |t: f64| if hot > cool { ((t - cool) / (hot - cool) * 12.0).floor().min(11.0) } else { 0.0 };
        let mut from = 0;
        for i in 1..=l.path.len() {
            let new = i == l.path.len() || step(l.path_c[i]) != step(l.path_c[from]);
            if new && i > from {
                let end = (i + 1).min(l.path.len());
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
    for r in &rooms {
        let n = r.outline.len() as f64;
        let c = r.outline.iter().fold([0.0; 2], |s, p| [s[0] + p[0] / n, s[1] + p[1] / n]);
        let p = at(c);
        let (x, y) = p.split_once(',').unwrap_or(("0", "0"));
        let _ = writeln!(
            out,
            "<text x=\"{x}\" y=\"{y}\" font-size=\"260\" stroke=\"#faf6ee\" stroke-width=\"90\" paint-order=\"stroke\">{}</text>",
            escape(&r.name)
        );
    }
    let _ = writeln!(out, "</g>\n</svg>");
    out
}

/// Colour of the water ramp at `x` from 0 (coolest) to 1 (hottest).
fn ramp(x: f64) -> String {
    let t = x.clamp(0.0, 1.0) * (RAMP.len() - 1) as f64;
    let i = (t.floor() as usize).min(RAMP.len() - 2);
    let mix = |k: usize| (RAMP[i][k] + (RAMP[i + 1][k] - RAMP[i][k]) * (t - i as f64)).round() as u8;
    format!("#{:02x}{:02x}{:02x}", mix(0), mix(1), mix(2))
}

fn escape(text: &str) -> String {
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

    #[test]
    fn an_empty_level_is_an_empty_drawing() {
        let job = Job::new("Empty");
        let svg = plan(&job, &fuoco_core::samples::designed(&job).expect("designs"), "ground", 50.0);
        assert!(svg.starts_with("<svg") && svg.trim_end().ends_with("</svg>"));
    }
}
