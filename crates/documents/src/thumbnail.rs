//! A job's plan in small, as SVG: for a list of jobs.
//!
//! ```
//! use fuoco_core::samples::{box_room, job_of};
//! let svg = fuoco_documents::thumbnail::thumbnail(&job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]));
//! assert!(svg.starts_with("<svg") && svg.contains("M0.00 0.00"));
//! ```

use fuoco_core::job::{Job, Room};
use std::fmt::Write;

/// Margin round the plan, as a share of its larger side.
const MARGIN: f64 = 0.04;

/// The rooms of the level on which most of them lie: heated ones filled warm, others grey. An empty job is an empty sheet.
pub fn thumbnail(job: &Job) -> String {
    let on = |level: &str| job.rooms.iter().filter(|r| r.level_id == level).collect::<Vec<&Room>>();
    let rooms = job.levels.iter().map(|l| on(&l.id)).max_by_key(Vec::len).unwrap_or_default();
    let corners = || rooms.iter().flat_map(|r| &r.outline);
    let span =
        |k: usize| corners().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), p| (low.min(p[k]), high.max(p[k])));
    let ((x0, x1), (y0, y1)) = if rooms.is_empty() { ((0.0, 4.0), (0.0, 3.0)) } else { (span(0), span(1)) };
    let side = (x1 - x0).max(y1 - y0).max(0.1);
    let edge = side * MARGIN;
    let mut svg = format!(
        r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="{:.2} {:.2} {:.2} {:.2}" fill="#f1ece1" stroke="#6b6055" stroke-width="{:.3}" stroke-linejoin="round">"##,
        x0 - edge,
        -y1 - edge,
        x1 - x0 + 2.0 * edge,
        y1 - y0 + 2.0 * edge,
        side / 90.0
    );
    for room in rooms {
        let fill = if room.floor.is_some() { r##" fill="#f3ddd0""## } else { "" };
        let _ = write!(svg, "<path{fill} d=\"");
        for (i, [x, y]) in room.outline.iter().enumerate() {
            // SVG counts downward
            let _ = write!(svg, "{}{x:.2} {:.2}", if i == 0 { 'M' } else { 'L' }, 0.0 - y);
        }
        svg.push_str("Z\"/>");
    }
    svg.push_str("</svg>");
    svg
}

#[cfg(test)]
mod tests {
    use super::*;
    use fuoco_core::job::Job;
    use fuoco_core::samples::{box_room, job_of};

    #[test]
    fn shows_the_fullest_level_within_its_frame() {
        let mut attic = box_room("attic", 50.0, 50.0, 52.0, 52.0);
        attic.level_id = "up".into();
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0), box_room("b", 5.1, 0.0, 9.0, 4.0), attic]);
        let mut up = job.levels[0].clone();
        up.id = "up".into();
        job.levels.push(up);
        let svg = thumbnail(&job);
        assert_eq!(svg.matches("<path").count(), 2);
        assert!(svg.contains(r#"viewBox="-0.36 -4.36 9.72 4.72""#), "{svg}");
    }

    #[test]
    fn an_empty_job_is_an_empty_sheet() {
        let svg = thumbnail(&Job::new("Empty"));
        assert!(!svg.contains("<path") && !svg.contains("inf") && !svg.contains("NaN"), "{svg}");
    }
}
