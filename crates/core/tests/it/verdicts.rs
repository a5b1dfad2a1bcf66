//! Every finding on a small job that deserves it, and on its mended twin that does not.

use fuoco_core::findings::{Finding, Severity, Station, SubjectKind};
use fuoco_core::job::{Beyond, Job, Manifold, OpeningKind, Usage, Wall};
use fuoco_core::plan::Plan;
use fuoco_core::samples::designed as design;
use fuoco_core::samples::*;

/// Two rooms with a doorway, a manifold and nothing to complain of.
fn sound() -> Job {
    let mut a = box_room("a", 0.0, 0.0, 5.0, 4.0);
    a.openings.push(doorway("door", 1, 1.0, 0.9));
    a.openings.push(window("glass", 0, 1.0, 1.5, 1.2));
    let mut job = job_of(vec![a, box_room("b", 5.1, 0.0, 9.0, 4.0)]);
    job.manifolds.push(manifold("m", "A", "a", 2, 2.5));
    job
}

fn findings(job: &Job) -> Vec<Finding> {
    design(job).expect("designs").findings
}

#[test]
fn every_station_has_its_mark() {
    use fuoco_core::design::Progress::{self, *};
    let marks = |job: &Job| design(job).expect("designs").stations;
    let progress = |job: &Job| marks(job).iter().map(|m| m.progress).collect::<Vec<Progress>>();
    let mut job = job_of(vec![]);
    job.site.place = String::new();
    assert!(progress(&job).iter().all(|p| *p == NotStarted), "{:?}", marks(&job));
    let mut job = sound();
    job.site.place = "Alderfell".into();
    assert_eq!(marks(&job).iter().map(|m| m.station).collect::<Vec<_>>(), Station::ALL);
    assert_eq!(marks(&job).iter().map(|m| m.errors).sum::<usize>(), 0);
    assert_eq!(*progress(&job).last().expect("papers"), Ok, "papers can be printed");
    // a job that cannot be built is told at its own station and at the papers
    job.rooms[0].room_c = 35.0;
    let findings = findings(&job);
    let errors = |s| findings.iter().filter(|f| f.severity == Severity::Error && f.station == s).count();
    assert!(findings.iter().any(|f| f.severity == Severity::Error), "{findings:?}");
    for m in marks(&job) {
        assert_eq!(m.errors, errors(m.station));
        assert!(m.errors == 0 || m.progress == NeedsAttention, "{m:?}");
    }
    assert_eq!(*progress(&job).last().expect("papers"), NeedsAttention);
}

fn find(job: &Job, code: &str) -> Finding {
    let all = findings(job);
    all.iter()
        .find(|f| f.code == code)
        .cloned()
        .unwrap_or_else(|| panic!("{code} in {:?}", all.iter().map(|f| &f.code).collect::<Vec<_>>()))
}

fn changed(change: impl FnOnce(&mut Job)) -> Job {
    let mut job = sound();
    change(&mut job);
    job
}

#[test]
fn a_sound_job_has_only_notes() {
    let all = findings(&sound());
    assert!(all.iter().all(|f| f.severity == Severity::Note), "{all:?}");
    assert!(all.iter().any(|f| f.code == "floor.sound") && all.iter().any(|f| f.code == "water.supply"));
    assert!(all.iter().any(|f| f.code == "caution.law"), "every job with loops carries its cautions");
}

#[test]
fn gravest_come_first_and_every_sentence_is_whole() {
    let mut job = changed(|j| j.rooms[0].openings[1].width_m = 30.0);
    job.rooms[1].floor.as_mut().expect("heated").spacing_core_m = 0.27;
    job.rooms[1].floor.as_mut().expect("heated").spacing_edge_m = 0.27;
    let all = findings(&job);
    assert!(all.windows(2).all(|w| w[0].severity <= w[1].severity));
    assert_eq!(all[0].severity, Severity::Error);
    for f in &all {
        assert!(
            f.message.ends_with('.') && !f.message.contains('{') && !f.rule.contains('{') && !f.remedy.contains('{'),
            "{f:?}"
        );
        assert!(f.severity == Severity::Note || !f.remedy.is_empty(), "{}: what would help?", f.code);
    }
}

#[test]
fn openings_are_told_by_their_own_name() {
    let wide = find(&changed(|j| j.rooms[0].openings[1].width_m = 30.0), "opening.beyond_wall");
    assert_eq!(
        (wide.subject.kind, wide.subject.id.as_str(), wide.station),
        (SubjectKind::Opening, "glass", Station::Rooms)
    );
    assert!((wide.values["end"] - 31.0).abs() < 1e-9 && (wide.values["wall"] - 5.0).abs() < 1e-9);
    find(&changed(|j| j.rooms[0].openings[1].height_m = 4.0), "opening.too_high");
    let twin = |j: &mut Job| j.rooms[0].openings.push(window("second", 0, 2.0, 1.5, 1.2));
    assert_eq!(find(&changed(twin), "opening.overlap").subject.id, "second");
    // a window in the wall to the other room, and a doorway to nowhere
    find(&changed(|j| j.rooms[1].openings.push(window("inner", 3, 1.0, 1.0, 1.0))), "opening.inside");
    let nowhere = find(&changed(|j| j.rooms[0].openings[0].edge = 3), "doorway.nowhere");
    assert_eq!(nowhere.subject.id, "door");
    let overruled = changed(|j| {
        j.rooms[1].openings.push(window("inner", 3, 1.0, 1.0, 1.0));
        j.rooms[1].walls.push(Wall { edge: 3, beyond: Some(Beyond::Outside), u: None, construction_id: None });
    });
    assert!(findings(&overruled).iter().all(|f| f.code != "opening.inside"), "the surveyor's word counts");
}

#[test]
fn rooms_that_cannot_be_are_named() {
    let crossing = find(&changed(|j| j.rooms[1].outline.swap(1, 2)), "room.self_crossing");
    assert_eq!(crossing.subject.id, "b");
    let overlap = find(&changed(|j| j.rooms[1].outline[0][0] = 4.0), "room.overlap");
    assert!(overlap.values["area"] > 1.0 && overlap.message.contains("Room b and Room a"));
    let covered = |j: &mut Job| j.rooms[1].keep_outs.push(cabinet("k", 5.0, -0.1, 9.1, 4.1));
    find(&changed(covered), "room.no_floor");
    find(&changed(|j| j.rooms[1].keep_outs.push(cabinet("k", 20.0, 0.0, 21.0, 1.0))), "keep_out.outside");
}

#[test]
fn manifolds_and_ways() {
    find(&changed(|j| j.manifolds.clear()), "loops.no_manifold");
    assert_eq!(find(&changed(|j| j.manifolds[0].offset_m = 9.0), "manifold.off_wall").subject.id, "m");
    assert_eq!(find(&changed(|j| j.rooms[0].openings.clear()), "loops.no_way").subject.id, "b");
    find(&changed(|j| j.manifolds[0].ports = 1), "manifold.ports");
    // beside the first: the room cannot be shared between them
    let second = |j: &mut Job| {
        let first = j.manifolds[0].clone();
        j.manifolds.push(Manifold { id: "n".into(), letter: "B".into(), offset_m: first.offset_m + 0.2, ..first });
    };
    assert_eq!(find(&changed(second), "manifold.unused").subject.id, "n");
    let narrow = |j: &mut Job| j.rooms[0].openings[0].width_m = 0.1;
    assert_eq!(find(&changed(narrow), "loops.narrow").subject.id, "b");
    let blocked = |j: &mut Job| j.rooms[1].keep_outs.push(cabinet("k", 5.1, 0.5, 5.9, 2.5));
    assert_eq!(find(&changed(blocked), "loops.blocked").subject.id, "b");
    let skew = |j: &mut Job| j.rooms[1].outline[2] = [9.5, 4.6];
    assert!(!findings(&changed(skew)).iter().any(|f| f.subject.id == "b" && f.severity == Severity::Error));
    let short = |j: &mut Job| {
        j.rules.longest_loop_m.insert("pex-16x2".into(), 12.0);
    };
    assert!(findings(&changed(short)).iter().any(|f| f.code.starts_with("loops.") && f.severity == Severity::Error));
}

#[test]
fn floors_at_their_limits() {
    let cold = |j: &mut Job| j.site.outdoor_c = -60.0;
    let over = find(&changed(cold), "floor.over_capacity");
    assert!(over.values["short"] > 0.0 && over.values["need"] > over.values["limit"]);
    let hot_room = |j: &mut Job| {
        j.rooms[0].room_c = 30.0;
        j.rooms[0].usage = Usage::Hall;
    };
    assert_eq!(find(&changed(hot_room), "floor.limit_below_room").subject.id, "a");
    // within its surface limit, but only with water hotter than carpet and screed stand
    let thick = |j: &mut Job| {
        let floor = j.rooms[0].floor.as_mut().expect("heated");
        floor.covering_id = "carpet".into();
        (floor.spacing_core_m, floor.spacing_edge_m) = (0.6, 0.6);
        j.rooms[0].air_changes_per_h = Some(1.0);
    };
    let hot = find(&changed(thick), "floor.supply_limit");
    assert!(hot.values["needed"] > hot.values["ceiling"] && hot.values["short"] > 0.0);
    let wide = |j: &mut Job| {
        let floor = j.rooms[0].floor.as_mut().expect("heated");
        floor.build_up_id = "overlay".into();
        floor.spacing_core_m = 0.3;
        floor.spacing_edge_m = 0.3;
        floor.covering_id = "bare".into();
    };
    find(&changed(wide), "floor.striping");
    find(&changed(|j| j.rules.spacings_m = vec![0.1]), "floor.spacing_not_offered");
}

#[test]
fn water_that_wants_a_look() {
    find(&changed(|j| j.rules.head_limit_pa = 1000.0), "water.head");
    let easy = |j: &mut Job| {
        j.rooms[1].above = Beyond::Heated;
        j.rooms[1].air_changes_per_h = Some(0.0);
        j.rooms[0].air_changes_per_h = Some(3.0);
    };
    let open = find(&changed(easy), "water.held_open");
    assert_eq!(open.subject.id, "b");
    assert!(open.values["given"] > open.values["need"]);
    let equal = |j: &mut Job| {
        j.rules.equal_loops = true;
        j.rooms[1].outline = vec![[5.1, 0.0], [6.6, 0.0], [6.6, 4.0], [5.1, 4.0]];
    };
    let unequal = find(&changed(equal), "loops.unequal");
    assert!(unequal.values["off"] > 0.1 && unequal.rule.contains("equal loops"));
}

#[test]
fn a_passage_may_be_a_sleeve() {
    let sleeve = changed(|j| {
        j.rooms[0].openings[0].kind = OpeningKind::Sleeve;
        j.rooms[0].openings[0].height_m = 0.1;
    });
    assert!(findings(&sleeve).iter().all(|f| f.severity == Severity::Note));
}

/// The code is found on the changed job and not on the sound one.
fn only(code: &str, severity: Severity, change: impl FnOnce(&mut Job)) -> Finding {
    assert!(findings(&sound()).iter().all(|f| f.code != code), "{code} on a sound job");
    let found = find(&changed(change), code);
    assert_eq!(found.severity, severity, "{code}");
    found
}

fn storey(job: &mut Job, floor_m: f64) {
    job.levels.push(fuoco_core::job::Level { id: "up".into(), name: "Up".into(), floor_m, underlay: None });
    let mut up = box_room("up", 0.0, 0.0, 5.0, 4.0);
    (up.level_id, up.floor) = ("up".into(), None);
    job.rooms.push(up);
}

#[test]
fn levels_out_of_order_and_rooms_growing_into_each_other() {
    only("level.order", Severity::Warning, |j| storey(j, -3.0));
    let into = only("room.grows_into", Severity::Error, |j| storey(j, 2.2));
    assert_eq!(into.subject.id, "a");
    assert!((into.values["into"] - 0.3).abs() < 1e-9);
    let above = changed(|j| storey(j, 2.8));
    assert!(findings(&above).iter().all(|f| f.code != "room.grows_into" && f.code != "level.order"));
}

#[test]
fn slivers_and_gaps_that_nobody_means() {
    let sliver = only("room.sliver", Severity::Warning, |j| {
        j.rooms[0].outline = vec![[0.0, 0.0], [5.0, 0.0], [5.0, 4.0], [0.0, 4.0], [0.0, 3.99]];
    });
    assert!(sliver.subject.at.is_some(), "it can be pointed at");
    only("room.gap", Severity::Warning, |j| {
        for p in &mut j.rooms[1].outline {
            p[0] -= 0.085;
        }
    });
}

#[test]
fn an_opening_ends_below_the_ceiling_and_the_slope() {
    let high = only("opening.too_high", Severity::Error, |j| j.rooms[0].openings[1].sill_m = 1.6);
    assert!((high.values["top"] - 2.8).abs() < 1e-9);
    // under a slope from 1 m the wall is lower than the window
    let slope = fuoco_core::job::Slope { edge: 0, knee_m: 1.0, pitch_deg: 40.0 };
    only("opening.too_high", Severity::Error, |j| j.rooms[0].slopes.push(slope));
}

#[test]
fn a_mild_design_day_and_an_old_label() {
    let year = fuoco_core::survey::climate::read_epw(include_str!("../../../../demo/alderfell.epw")).expect("reads");
    let mild = only("site.too_mild", Severity::Warning, |j| {
        j.site.weather = Some(year.clone());
        j.site.outdoor_c = -5.0;
    });
    assert_eq!(mild.station, Station::Site);
    let cold = changed(|j| {
        j.site.weather = Some(year.clone());
        j.site.outdoor_c = year.p99_c;
    });
    assert!(findings(&cold).iter().all(|f| f.code != "site.too_mild"));
    let label = |w| fuoco_core::job::OldSource { name: "Old".into(), input_w: None, output_w: Some(w) };
    let ratio = only("source.old_label", Severity::Note, |j| j.old_source = Some(label(50_000.0))).values["ratio"];
    let d = design(&sound()).expect("designs");
    assert!((ratio - 50_000.0 / d.totals.source_w).abs() < 1e-9);
    assert!((d.totals.source_w - d.totals.heat_loss_w - d.totals.down_w).abs() < 1e-9);
    let fits = changed(|j| j.old_source = Some(label(d.totals.source_w * 1.1)));
    assert!(findings(&fits).iter().all(|f| f.code != "source.old_label"));
}

#[test]
fn an_unheated_room_has_no_loops_and_says_so() {
    let change = |j: &mut Job| j.rooms[1].unheated = Some(fuoco_core::job::Unheated::default());
    only("room.unheated_floor", Severity::Warning, change);
    let d = design(&changed(change)).expect("designs");
    assert!(d.loops.iter().all(|l| l.room_ids != ["b"]));
    assert!(d.rooms[1].flat_rates_w.iter().all(|w| *w == 0.0), "a flat rate heats no store");
    // a door to it costs heat now
    let door = find(&changed(|j| j.rooms[0].openings[0].kind = OpeningKind::OutsideDoor), "opening.inside");
    assert_eq!(door.subject.id, "door");
    let to_store = changed(|j| {
        change(j);
        j.rooms[0].openings[0].kind = OpeningKind::OutsideDoor;
    });
    assert!(findings(&to_store).iter().all(|f| f.code != "opening.inside"));
}

/// A corridor between eight rooms, so narrow that their leaders leave no floor for a loop of its own.
#[test]
fn a_corridor_of_leaders_gets_their_heat_and_no_more() {
    let mut corridor = box_room("corridor", 0.0, 0.0, 1.3, 16.0);
    let mut rooms = vec![];
    for k in 0..4 {
        let y = 4.0 * f64::from(k);
        corridor.openings.push(doorway(&format!("e{k}"), 1, y + 1.5, 0.9));
        corridor.openings.push(doorway(&format!("w{k}"), 3, 16.0 - y - 2.4, 0.9));
        rooms.push(box_room(&format!("east{k}"), 1.4, y, 6.0, y + 3.9));
        rooms.push(box_room(&format!("west{k}"), -4.7, y, -0.1, y + 3.9));
    }
    rooms.insert(0, corridor);
    let mut job = job_of(rooms);
    job.manifolds.push(manifold("m", "A", "corridor", 0, 0.65));
    job.manifolds[0].ports = 24;
    let d = design(&job).expect("designs");
    let said = d.findings.iter().find(|f| f.code == "loops.by_leaders").expect("said");
    let room = &d.rooms[0];
    assert_eq!(said.subject.id, "corridor");
    assert!(room.leader_heat_w > 0.0 && !d.loops.iter().any(|l| l.room_ids.contains(&room.id)));
    // nothing but the leaders heats it, and what they leave over is missing
    assert!((room.flux_given_w_m2 * room.heatable_area_m2 - room.leader_heat_w).abs() < 1e-6);
    assert!((room.supplement_w - (room.heat_loss_w - room.leader_heat_w).max(0.0)).abs() < 0.01 * room.heat_loss_w);
    assert!(!d.findings.iter().any(|f| f.code == "floor.sound" && f.subject.id == "corridor"));
    assert_eq!(said.severity == Severity::Warning, room.supplement_w > 0.0);
}

#[test]
fn a_manifold_that_was_wanted_but_does_not_reach_is_named() {
    let wanted = |id: Option<&str>| {
        changed(|j| {
            // the way to b leads through a, which is manifold A's
            j.rooms.push(box_room("c", 9.1, 0.0, 13.0, 4.0));
            j.manifolds.push(manifold("n", "B", "c", 1, 2.0));
            j.rooms[1].floor.as_mut().expect("heated").manifold_id = id.map(Into::into);
        })
    };
    let told = find(&wanted(Some("n")), "loops.no_way");
    assert!(told.message.contains("manifold B") && told.subject.id == "b", "{told:?}");
    assert!(findings(&wanted(Some("m"))).iter().all(|f| f.code != "loops.no_way"));
    assert!(findings(&wanted(None)).iter().all(|f| f.code != "loops.no_way"));
}

#[test]
fn what_locked_loops_shut_in_wants_one_unlocked() {
    use fuoco_core::layout::{edit::hand::locked, lay_out};
    let mut job = job_of(vec![box_room("a", 0.0, 0.0, 12.0, 8.0)]);
    job.manifolds.push(manifold("m", "A", "a", 0, 6.0));
    let laid = lay_out(&job, &Plan::of(&job)).loops;
    job.loops = [1, 3].map(|i| locked(&job, &laid[i], &format!("kept-{i}"))).to_vec();
    let told = find(&job, "loops.shut_in");
    assert_eq!((told.severity, told.subject.id.as_str()), (Severity::Error, "a"));
    assert!(told.remedy.contains("Unlock"), "{}", told.remedy);
    job.loops.clear();
    assert!(findings(&job).iter().all(|f| f.code != "loops.shut_in"));
}

/// The leaders of manifold A meet in the demo's foyer.
#[test]
fn a_warm_patch_of_leaders_is_told_with_its_place() {
    let text = include_str!("../../../../demo/tamarack-dance-school.json");
    let mut job = fuoco_core::samples::read_job(text).expect("the demo is sound");
    let foyer = job.rooms.iter().position(|r| r.name.starts_with("Foyer")).expect("a foyer");
    let told = find(&job, "loops.warm_patch");
    let at = told.subject.at.expect("a place");
    assert_eq!(told.subject.id, job.rooms[foyer].id);
    assert!(fuoco_core::geometry::outline::within(&job.rooms[foyer].outline, at), "{at:?}");
    assert!(told.remedy.contains("Insulate"), "{}", told.remedy);
    let spot = |job: &Job| design(job).expect("designs").rooms[foyer].warmest.expect("tube").surface_c;
    let bare = spot(&job);
    job.rules.insulated_leaders = true;
    assert!(spot(&job) < bare, "sleeves help");
}

#[test]
fn a_locked_loop_of_a_floor_no_longer_heated_is_told() {
    use fuoco_core::layout::{edit::hand::locked, lay_out};
    let mut job = sound();
    let laid = lay_out(&job, &Plan::of(&job)).loops;
    job.loops = laid.iter().enumerate().map(|(i, l)| locked(&job, l, &format!("kept-{i}"))).collect();
    assert!(findings(&job).iter().all(|f| f.code != "loops.kept_idle"));
    job.rooms[1].floor = None;
    let told = find(&job, "loops.kept_idle");
    assert!(told.subject.id == "b" && told.message.contains("Locked loop A"), "{told:?}");
    // what violates the layout rules is told of the loop that breaks it, whichever loops are left out
    let last = job.loops.len() - 1;
    assert_ne!(job.loops[last].room_id, job.loops[0].room_id);
    let heated = job.loops.iter().position(|l| l.room_id == "a").expect("one in a");
    for corner in &mut job.loops[heated].corners[2..] {
        corner[1] -= 0.3;
    }
    let breach = find(&job, "audit.wall");
    assert_eq!(breach.subject.id, format!("kept-{heated}"));
}

#[test]
fn a_split_that_cannot_be_made_is_told() {
    let split = |x: f64| changed(|j| j.rooms[0].floor.as_mut().expect("heated").splits = vec![[[x, 0.0], [x, 4.0]]]);
    assert_eq!(find(&split(2.0), "loops.split_idle").subject.id, "a", "the window is in its way");
    assert!(findings(&split(4.0)).iter().all(|f| f.code != "loops.split_idle"));
}

#[test]
fn a_manifold_hangs_where_it_hangs_whatever_the_room_wants() {
    let wanted = |id: &str| {
        changed(|j| {
            j.manifolds.push(manifold("n", "B", "b", 1, 2.0));
            j.rooms[0].floor.as_mut().expect("heated").manifold_id = Some(id.into());
        })
    };
    let told = find(&wanted("n"), "loops.other_manifold");
    assert!(told.message.contains("wants manifold B") && told.subject.id == "a", "{told:?}");
    assert!(findings(&wanted("m")).iter().all(|f| f.code != "loops.other_manifold"));
}

#[test]
fn a_locked_loop_on_a_port_that_is_not_there_is_told() {
    use fuoco_core::layout::{edit::hand::locked, lay_out};
    let mut job = sound();
    let mut kept = locked(&job, &lay_out(&job, &Plan::of(&job)).loops[0], "kept");
    kept.port = 20;
    job.loops = vec![kept];
    assert!(find(&job, "manifold.ports").message.contains("needs 20"));
}
