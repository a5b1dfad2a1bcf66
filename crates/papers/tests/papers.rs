//! The papers as a reader finds them: the PDFs are opened again, by another library than the one that wrote them.

use chrono::{DateTime, TimeDelta};
use fuoco_core::job::{CheckedJob, Firm, Job};
use fuoco_core::records::{Entry, Record};
use fuoco_core::units::Units;
use fuoco_papers::{Format, Paper, Papers, of_job};
use lopdf::content::Content;
use lopdf::{Document, Object};
use serde_json::{Value, json};
use std::collections::BTreeSet;

const DEMO: &str = include_str!("../../../demo/tamarack-dance-school.json");
const POINT_MM: f64 = 25.4 / 72.0;

fn demo() -> CheckedJob {
    CheckedJob::from_json(DEMO).expect("the demo is sound")
}

fn firm() -> Firm {
    Firm { name: "Alder & Fell Heating".into(), lines: vec!["4 Mill Lane, Alderfell".into()], ..Firm::default() }
}

/// What the demo's crew has written down, the last of it at noon.
fn records() -> Vec<Entry> {
    let rows: Vec<Value> = serde_json::from_str(include_str!("../../../demo/records.json")).expect("JSON");
    let noon = DateTime::parse_from_rfc3339("2026-11-30T12:00:00Z").expect("a time").to_utc();
    let entry = |(k, mut row): (usize, Value)| {
        let hours = row["hours_ago"].as_f64().expect("hours");
        row.as_object_mut().expect("a record").remove("hours_ago");
        row["at"] = json!((noon - TimeDelta::seconds((hours * 3600.0) as i64)).to_rfc3339());
        let record = Record::from_json(&row.to_string()).expect("a record");
        Entry { number: k as i64 + 1, received_at: noon.to_rfc3339(), who: "Cleo".into(), record }
    };
    let mut out: Vec<Entry> = rows.into_iter().enumerate().map(entry).collect();
    // and what comes after the demo's day
    let flushed = json!({ "id": "flushed-at-last", "at": noon.to_rfc3339(),
        "fact": { "kind": "ticked", "item": "startup/flush", "done": true } });
    let record = Record::from_json(&flushed.to_string()).expect("a record");
    out.push(Entry { number: out.len() as i64 + 1, received_at: noon.to_rfc3339(), who: "Cleo".into(), record });
    out
}

fn with<T>(job: &CheckedJob, format: Format, f: impl FnOnce(&Papers) -> T) -> T {
    of_job(job, &records(), &firm(), format, Some("http://127.0.0.1:8642/jobs/a"), |p| Ok(f(p))).expect("solves")
}

fn opened(pdf: &[u8]) -> Document {
    Document::load_mem(pdf).expect("a PDF")
}

/// The text of a page, from 1 on, its lines joined.
fn text(doc: &Document, page: u32) -> String {
    doc.extract_text(&[page]).expect("text").split_whitespace().collect::<Vec<_>>().join(" ")
}

/// Width and height of a page, mm.
fn size(doc: &Document, page: u32) -> [f64; 2] {
    let id = doc.get_pages()[&page];
    let of = doc.get_dictionary(id).and_then(|d| d.get(b"MediaBox")).and_then(Object::as_array).expect("a box");
    let at = |k: usize| f64::from(of[k].as_float().expect("a number"));
    [at(2) - at(0), at(3) - at(1)].map(|v| (v * POINT_MM * 10.0).round() / 10.0)
}

type Matrix = [f64; 6];

fn times(a: Matrix, b: Matrix) -> Matrix {
    [
        a[0] * b[0] + a[1] * b[2],
        a[0] * b[1] + a[1] * b[3],
        a[2] * b[0] + a[3] * b[2],
        a[2] * b[1] + a[3] * b[3],
        a[4] * b[0] + a[5] * b[2] + b[4],
        a[4] * b[1] + a[5] * b[3] + b[5],
    ]
}

/// Everything of a drawing that is painted on a page, mm: what is drawn in units much smaller than a point.
fn drawn(doc: &Document, page: u32) -> Vec<[f64; 2]> {
    let id = doc.get_pages()[&page];
    let content = Content::decode(&doc.get_page_content(id)).expect("operations");
    let (mut now, mut kept): (Matrix, Vec<Matrix>) = ([1.0, 0.0, 0.0, 1.0, 0.0, 0.0], vec![]);
    let (mut path, mut out) = (vec![], vec![]);
    for op in &content.operations {
        let v: Vec<f64> = op.operands.iter().filter_map(|o| o.as_float().ok()).map(f64::from).collect();
        match op.operator.as_str() {
            "q" => kept.push(now),
            "Q" => now = kept.pop().expect("as many restored as saved"),
            "cm" => now = times([v[0], v[1], v[2], v[3], v[4], v[5]], now),
            "m" | "l" if now[0].abs() < 0.5 => {
                path.push(
                    [now[0] * v[0] + now[2] * v[1] + now[4], now[1] * v[0] + now[3] * v[1] + now[5]]
                        .map(|p| p * POINT_MM),
                );
            }
            // a path that only clips is not painted
            "n" => path.clear(),
            "f" | "f*" | "S" | "s" | "B" | "b" | "B*" | "b*" => out.append(&mut path),
            _ => {}
        }
    }
    out
}

#[test]
fn every_paper_of_the_demo_can_be_read_and_says_what_it_is() {
    with(&demo(), Format::A4, |papers| {
        for paper in Paper::ALL {
            assert_eq!(papers.missing(paper), None, "{paper:?}");
            let doc = opened(&papers.pdf(paper).expect("written"));
            let pages = doc.get_pages().len() as u32;
            assert_eq!(pages as usize, papers.pages(paper).0.len());
            for page in 1..=pages {
                let text = text(&doc, page);
                assert!(text.contains("Tamarack Dance School"), "{paper:?} {page}: {text}");
                assert!(text.contains(&format!("Page {page} of {pages}")), "{paper:?} {page}: {text}");
                assert!(text.contains("Alder & Fell Heating"), "{paper:?} {page}");
                let [w, h] = size(&doc, page);
                assert!([w, h] == [210.0, 297.0] || [w, h] == [297.0, 210.0], "{w} × {h}");
            }
        }
    });
}

#[test]
fn figures_on_paper_are_those_of_the_design() {
    let job = demo();
    with(&job, Format::A4, |papers| {
        let all = |paper| {
            let doc = opened(&papers.pdf(paper).expect("written"));
            (1..=doc.get_pages().len() as u32)
                .map(|p| text(&doc, p))
                .collect::<Vec<_>>()
                .join(" ")
                .replace('\u{a0}', " ")
        };
        let heat = all(Paper::HeatLoss);
        assert!(heat.contains(&format!("{:.0} W", papers.design.building.heat_w)));
        for room in papers.design.rooms.iter().filter(|r| r.heated) {
            assert!(heat.contains(&room.name) && heat.contains(&format!("{:.0} W", room.heat_loss_w)), "{}", room.name);
        }
        let (crew, charts, labels) = (all(Paper::CrewSheets), all(Paper::ManifoldCharts), all(Paper::Labels));
        for l in &papers.design.loops {
            assert!(crew.contains(&format!("Loop {}, turn by turn", l.tag)));
            assert!(charts.contains(&format!("{:.2} L/min", l.flow_l_min)), "{}", l.tag);
            assert!(labels.contains(&format!("{} S", l.tag)) && labels.contains(&format!("{} R", l.tag)));
        }
        let quote = all(Paper::Quote);
        let gross = papers.materials.quote[0].gross;
        assert!(
            quote.contains(&format!("{:03.0}.{:02.0} €", gross.floor() % 1000.0, (gross * 100.0).round() % 100.0)),
            "{quote}"
        );
        // what things cost the firm is no customer's business
        assert!(!quote.contains("argin") && !quote.contains(&format!("{:.2}", papers.materials.cost)));
    });
}

#[test]
fn type_is_embedded_and_only_what_is_used() {
    with(&demo(), Format::A4, |papers| {
        let pdf = papers.pdf(Paper::Pack).expect("written");
        assert!(pdf.len() < 3_000_000, "{} bytes", pdf.len());
        let doc = opened(&pdf);
        let fonts: Vec<_> = doc
            .objects
            .values()
            .filter_map(|o| o.as_dict().ok())
            .filter(|d| d.get(b"Type").and_then(Object::as_name).is_ok_and(|n| n == b"FontDescriptor"))
            .collect();
        assert!(fonts.len() >= 2);
        for font in fonts {
            let file = [&b"FontFile"[..], b"FontFile2", b"FontFile3"].into_iter().find_map(|k| font.get(k).ok());
            let file =
                file.and_then(|f| f.as_reference().ok()).and_then(|id| doc.get_object(id).ok()).expect("embedded");
            let bytes = &file.as_stream().expect("a stream").content;
            assert!(bytes.len() < 60_000, "{} bytes of a typeface", bytes.len());
            let name = font.get(b"FontName").and_then(Object::as_name).expect("named");
            assert!(String::from_utf8_lossy(name).contains("SourceSans3"), "{}", String::from_utf8_lossy(name));
        }
    });
}

/// Every corner of every room is drawn where the scale puts it, seen from any one of them.
#[test]
fn a_loop_sheet_is_true_to_its_scale() {
    // a drawing's coordinates are written to a tenth of a millimetre of the building; a PDF's to about a hundredth of a point
    const STEP_MM: f64 = 0.02;
    let job = demo();
    let corners: Vec<[f64; 2]> =
        job.rooms.iter().filter(|r| r.level_id == "ground").flat_map(|r| r.outline.iter().copied()).collect();
    for (format, scale) in [(Format::A4, 100.0), (Format::Letter, 125.0)] {
        with(&job, format, |papers| {
            let doc = opened(&papers.pdf(Paper::LoopSheets).expect("written"));
            assert!(text(&doc, 1).contains(&format!("1:{scale}")), "{}", text(&doc, 1));
            let on_paper = drawn(&doc, 1);
            let cell = |p: [f64; 2]| p.map(|v| (v / STEP_MM).round() as i64);
            let there: BTreeSet<[i64; 2]> = on_paper.iter().map(|p| cell(*p)).collect();
            let near = |p: [f64; 2]| {
                let [x, y] = cell(p);
                (-1..=1).any(|dx| (-1..=1).any(|dy| there.contains(&[x + dx, y + dy])))
            };
            // up the plan is up the page
            let from = |at: [f64; 2], c: &[f64; 2]| [0, 1].map(|k| at[k] + (c[k] - corners[0][k]) * 1000.0 / scale);
            let fits = |at: &[f64; 2]| corners.iter().all(|c| near(from(*at, c)));
            assert!(on_paper.iter().any(fits), "the rooms are not drawn at 1:{scale}");
            let wrong = |at: &[f64; 2]| corners.iter().all(|c| near(from(*at, &c.map(|v| v * 1.003))));
            assert!(!on_paper.iter().any(wrong), "the test tells no scale from another");
        });
    }
}

#[test]
fn a_pack_leads_to_its_papers() {
    with(&demo(), Format::A4, |papers| {
        let doc = opened(&papers.pdf(Paper::Pack).expect("written"));
        let front = text(&doc, 1);
        let mut from = 2;
        for paper in Paper::IN_PACK {
            let pages = papers.pages(paper).0.len();
            assert!(front.contains(&format!("{} {pages} {from}", paper.title())), "{front}");
            assert!(text(&doc, from as u32).contains(paper.title()), "page {from}");
            from += pages;
        }
        assert_eq!(doc.get_pages().len(), from - 1);
        // bookmarks: one for the contents, one for each paper
        let outline =
            doc.catalog().and_then(|c| c.get(b"Outlines")).and_then(Object::as_reference).expect("an outline");
        let count =
            doc.get_dictionary(outline).and_then(|d| d.get(b"Count")).and_then(Object::as_i64).expect("a count");
        assert_eq!(count.unsigned_abs() as usize, 1 + Paper::IN_PACK.len());
    });
}

#[test]
fn us_papers_are_letters_with_feet_and_fahrenheit() {
    let mut job = demo().into_job();
    job.site.units = Units::Us;
    let job = CheckedJob::new(job).expect("sound");
    with(&job, Format::usual(Units::Us), |papers| {
        for paper in Paper::ALL {
            let doc = opened(&papers.pdf(paper).expect("written"));
            let [w, h] = size(&doc, 1);
            assert!([w, h] == [215.9, 279.4] || [w, h] == [279.4, 215.9], "{w} × {h}");
            let all = (1..=doc.get_pages().len() as u32).map(|p| text(&doc, p)).collect::<String>();
            for metric in ["\u{a0}°C", "\u{a0}L/min", "\u{a0}kPa", "\u{a0}W/m"] {
                assert!(!all.contains(metric), "{paper:?} has {metric}");
            }
        }
        let sheet = opened(&papers.pdf(Paper::LoopSheets).expect("written"));
        assert!(text(&sheet, 1).contains("1:128 (3/32\" = 1')"), "{}", text(&sheet, 1));
    });
}

#[test]
fn what_cannot_be_made_yet_says_why_on_its_page() {
    let job = CheckedJob::new(Job::new("Annex")).expect("sound");
    let told = of_job(&job, &[], &firm(), Format::A4, None, |papers| {
        for paper in Paper::ALL {
            let why = papers.missing(paper).unwrap_or_else(|| panic!("{paper:?} can be made of nothing"));
            let doc = opened(&papers.pdf(paper).expect("written"));
            if paper != Paper::Pack {
                let first: String = why.split_whitespace().take(3).collect::<Vec<_>>().join(" ");
                assert!(text(&doc, 1).contains(&first), "{paper:?}: {}", text(&doc, 1));
            }
        }
        Ok(())
    });
    assert!(told.is_ok());
}

#[test]
fn an_offer_without_a_price_is_none() {
    let mut job = demo().into_job();
    job.purchasing.prices.rows.retain(|r| !r.article.starts_with("coil/"));
    let job = CheckedJob::new(job).expect("sound");
    with(&job, Format::A4, |papers| {
        let why = papers.missing(Paper::Quote).expect("a reason");
        assert!(why.contains("is not complete") && why.contains("no price for"), "{why}");
        assert_eq!(papers.missing(Paper::Materials), None);
    });
}

#[test]
fn names_of_any_kind_stay_on_their_page() {
    let mut job = demo().into_job();
    job.name = "A\u{202e}b\tc <&> \"quotes\" 日本語 🙂 ".repeat(12);
    job.customer = "x".repeat(1500);
    for (k, room) in job.rooms.iter_mut().enumerate() {
        room.name = format!("{}{k}", "Unbreakable".repeat(30));
    }
    for m in &mut job.manifolds {
        m.letter = format!("{}Q", m.letter);
    }
    let job = CheckedJob::new(job).expect("sound");
    with(&job, Format::A4, |papers| {
        for paper in Paper::ALL {
            for page in papers.pages(paper).0 {
                let right = page.sheet.width - page.sheet.margin + 0.01;
                for mark in &page.marks {
                    if let fuoco_papers::typeset::flow::Mark::Words { at, size, line, .. } = mark {
                        let end = at[0] + line.width() * size * POINT_MM;
                        assert!(end <= right && at[1] < page.sheet.height, "{paper:?}: {end} of {right} mm: {line:?}");
                    }
                }
            }
            opened(&papers.pdf(paper).expect("written"));
        }
    });
}

fn whole(papers: &Papers, paper: Paper) -> String {
    let doc = opened(&papers.pdf(paper).expect("written"));
    (1..=doc.get_pages().len() as u32).map(|p| text(&doc, p)).collect::<Vec<_>>().join(" ").replace('\u{a0}', " ")
}

#[test]
fn a_design_with_an_error_says_so_before_anything_else() {
    let mut job = demo().into_job();
    // loops as short as this take more ports than the manifolds have
    for tube in ["pex-16x2", "pex-20x2"] {
        job.rules.longest_loop_m.insert(tube.into(), 40.0);
    }
    let job = CheckedJob::new(job).expect("sound");
    with(&job, Format::A4, |papers| {
        assert!(papers.design.findings.iter().any(|f| f.severity == fuoco_core::findings::Severity::Error));
        let pack = whole(papers, Paper::Pack);
        assert!(pack.contains("Do not approve as it stands:"), "{}", &pack[..400]);
        for paper in [Paper::LoopSheets, Paper::CrewSheets] {
            assert_eq!(papers.missing(paper), None);
            assert!(whole(papers, paper).contains("Do not lay from this sheet:"), "{paper:?}");
        }
    });
    with(&demo(), Format::A4, |papers| {
        for paper in Paper::ALL {
            assert!(!whole(papers, paper).contains("Do not"), "{paper:?}");
        }
    });
}

#[test]
fn the_crew_is_told_marks_and_where_to_take_care() {
    with(&demo(), Format::A4, |papers| {
        let crew = whole(papers, Paper::CrewSheets);
        for c in papers.materials.coils.iter().flat_map(|t| &t.coils) {
            assert!(crew.contains(&format!("{}: ", c.coil)));
            for cut in &c.cuts {
                assert!(crew.contains(&format!("{:.1} m {:.1} m", cut.from_m, cut.to_m)), "{}", cut.tag);
            }
        }
        let told = |what: &str| crew.matches(what).count();
        assert!(told("doorway at") > 0 && told("bolt-down spot") > 0 && told("saw cut: sleeves at") > 0);
        // every turn of every loop has its mark: the length from the port, from the mark at the port on
        let cuts = papers.materials.coils.iter().flat_map(|t| &t.coils).flat_map(|c| &c.cuts);
        for cut in cuts {
            let l = papers.design.loops.iter().find(|l| l.id == cut.loop_id).expect("a loop");
            for t in l.steps.iter().step_by(7) {
                let row = format!("{:.1} {:.1}", t.along_m, cut.port_m + t.along_m);
                assert!(crew.contains(&row), "{} {row}", l.tag);
            }
        }
    });
}

#[test]
fn the_owner_learns_how_it_is_set_and_where_not_to_drill() {
    with(&demo(), Format::A4, |papers| {
        let owner = whole(papers, Paper::OwnersSheet);
        for level in &papers.job.levels {
            assert!(owner.contains(&format!("{}: do not drill here", level.name)), "{}", level.name);
        }
        let plant = papers.design.plant.as_ref().expect("a plant");
        for line in &plant.lines {
            let [outdoors, water] = line.two[0];
            let said = format!("water {water:.1} °C at {outdoors:.1} °C outdoors");
            assert!(owner.contains(&line.name) && owner.contains(&said), "{}: {said}: {owner}", line.name);
        }
        assert!(owner.contains("licensed trades"));
    });
}

#[test]
fn fields_in_walls_stand_on_the_charts_with_the_loops() {
    let mut job = demo().into_job();
    let room = job.rooms.iter_mut().find(|r| r.name == "Studio A").expect("a room");
    room.fields.push(
        serde_json::from_value(serde_json::json!({
            "id": "field", "edge": 0, "build_up_id": "wall-plaster", "tube_id": "pex-12x1.3", "spacing_m": 0.15,
            "width_m": 2.0, "height_m": 1.5
        }))
        .expect("a field"),
    );
    let job = CheckedJob::new(job).expect("sound");
    with(&job, Format::A4, |papers| {
        assert!(whole(papers, Paper::ManifoldCharts).contains("Studio A, wall field: 1 circuit"));
    });
}

#[test]
fn what_was_laid_stands_with_every_repair_at_its_place() {
    let pdf = with(&demo(), Format::A4, |p| p.pdf(Paper::AsLaid)).expect("a PDF");
    let doc = opened(&pdf);
    let first = text(&doc, 1);
    for said in
        ["5 of 15 loops lie", "Kink", "coupling", "Cut out and coupled", "Round the bench feet", "looked at", "☑"]
    {
        assert!(first.contains(said), "{said}: {first}");
    }
    assert!(!first.contains("Stepped on beside"), "what was corrected does not stand there");
    // the plan of the level has the one repair, numbered
    let plan = text(&doc, 2);
    assert!(plan.contains("as laid") && plan.contains("one place, numbered"), "{plan}");
    // and the one note that was pinned, by its letter
    assert!(first.contains("Notes and photos on the plan") && first.contains("Old drain runs along here"), "{first}");
    assert!(plan.contains("notes and photos by letters"), "{plan}");
    assert_eq!(doc.get_pages().len(), 2, "the log, and a plan for each level with loops");
}

#[test]
fn a_pressure_test_is_a_record_with_its_verdict_and_readings() {
    let pdf = with(&demo(), Format::A4, |p| p.pdf(Paper::PressureTests)).expect("a PDF");
    let doc = opened(&pdf);
    let page = text(&doc, 1);
    for said in [
        "Pressure test: Manifold A",
        "Not proven yet.",
        "Corrected drop",
        "4.000 bar",
        "3.920 bar",
        "Nobody has signed yet",
        "follow local code",
    ] {
        assert!(page.contains(said), "{said}: {page}");
    }
    // words in drawings come letter by letter
    let close: String = page.split(' ').collect();
    assert!(close.contains("broken:askedfor") && close.contains("14.9h"), "the chart has its words: {close}");
    // in the inspector's pack too
    let pack = with(&demo(), Format::A4, |p| p.pdf(Paper::Pack)).expect("a PDF");
    let contents = text(&opened(&pack), 1);
    assert!(contents.contains("As laid") && contents.contains("Pressure tests"), "{contents}");
}

#[test]
fn the_start_up_record_has_the_balance_as_found_and_left_and_the_heat_up() {
    let job = demo();
    let entry = |k: usize, fact: Value| {
        let record = json!({ "id": format!("start-up-{k}"), "at": "2026-12-01T08:00:00Z", "fact": fact });
        let record = Record::from_json(&record.to_string()).expect("a record");
        Entry { number: k as i64 + 1, received_at: "2026-12-01T09:00:00Z".into(), who: "Cleo".into(), record }
    };
    let study = fuoco_core::study::Study::of(&job).expect("solved");
    let mut facts = vec![json!({ "kind": "ticked", "item": "startup/flush", "done": true })];
    for l in study.loops.iter().filter(|l| l.tag.starts_with('A')) {
        for (pass, factor) in [(0, 1.4), (1, 0.7)] {
            let flow = l.flow_l_min * factor;
            facts.push(json!({ "kind": "meter_read", "loop_id": l.id, "pass": pass, "flow_l_min": flow }));
        }
    }
    let build_up = job.rooms.iter().find_map(|r| r.heated_floor()).expect("a floor").build_up_id.clone();
    facts.push(json!({ "kind": "heat_up_read", "build_up_id": build_up, "supply_c": 25.0, "moisture_percent": 2.3 }));
    let entries: Vec<Entry> = facts.into_iter().enumerate().map(|(k, f)| entry(k, f)).collect();
    let pdf = of_job(&job, &entries, &firm(), Format::A4, None, |p| {
        assert!(p.missing(Paper::StartUp).is_none());
        Ok(p.pdf(Paper::StartUp))
    });
    let doc = opened(&pdf.expect("solves").expect("a PDF"));
    let all: String = (1..=doc.get_pages().len()).map(|n| text(&doc, n as u32)).collect();
    for said in
        ["Start-up record", "Balance of manifold A", "All are low alike", "Heat-up: ", "2.3 %", "not done", "Cleo"]
    {
        assert!(all.contains(said), "{said}: {all}");
    }
}

#[test]
fn without_records_the_papers_of_the_site_say_what_is_missing() {
    let missing = of_job(&demo(), &[], &firm(), Format::A4, None, |p| {
        Ok([Paper::AsLaid, Paper::PressureTests, Paper::StartUp].map(|x| p.missing(x)))
    });
    assert!(missing.expect("solves").iter().all(Option::is_some));
}

/// A job outdoors has its own words for its owner, and no heat loss.
#[test]
fn the_owner_of_a_forecourt_is_told_of_snow() {
    let job = CheckedJob::from_json(include_str!("../../../demo/alderfell-forecourt.json")).expect("sound");
    with(&job, Format::A4, |of| {
        assert!(of.missing(Paper::HeatLoss).is_some_and(|why| why.contains("Snow")));
        assert_eq!(of.missing(Paper::OwnersSheet), None);
        let owner = opened(&of.pdf(Paper::OwnersSheet).expect("written"));
        let said = text(&owner, 1);
        assert!(said.contains("Your snow melting") && said.contains("slippery"), "{said}");
        assert!(!said.contains("thermostat"), "{said}");
        for paper in [Paper::LoopSheets, Paper::ManifoldCharts, Paper::Materials] {
            assert_eq!(of.missing(paper), None, "{paper:?}");
        }
    });
}
