//! Small rooms for tests and benchmarks of this crate.
#![allow(missing_docs)]

pub mod mutate;
pub mod random;

use crate::job::*;

/// The design of a job that is checked first.
pub fn designed(job: &Job) -> Result<crate::design::Design, crate::error::FieldError> {
    crate::design::design(&CheckedJob::new(job.clone())?)
}

/// The study of a job that is checked first.
pub fn studied(job: &Job) -> Result<std::sync::Arc<crate::study::Study>, crate::error::FieldError> {
    crate::study::Study::of(&CheckedJob::new(job.clone())?)
}

/// A job read and checked, to be changed.
pub fn read_job(text: &str) -> Result<Job, crate::error::FieldError> {
    CheckedJob::from_json(text).map(CheckedJob::into_job)
}

pub fn job_of(rooms: Vec<Room>) -> Job {
    let mut job = Job::new("Test");
    job.rooms = rooms;
    // plain figures, so that a reader can follow the arithmetic of a test
    for (id, position, u) in [
        ("own-wall", Position::Wall, 0.35),
        ("own-window", Position::Window, 1.6),
        ("own-door", Position::Door, 1.8),
        ("own-roof", Position::Roof, 0.22),
        ("own-partition", Position::Partition, 1.8),
        ("own-ceiling", Position::Ceiling, 1.5),
        ("own-floor", Position::Floor, 0.3),
    ] {
        job.constructions.push(typed(id, position, u));
    }
    job.envelope = Envelope {
        outside_wall_id: "own-wall".into(),
        window_id: "own-window".into(),
        outside_door_id: "own-door".into(),
        roof_id: "own-roof".into(),
        partition_id: "own-partition".into(),
        ceiling_id: "own-ceiling".into(),
        floor_id: "own-floor".into(),
        ground: Ground { method: GroundMethod::GroundTemperature, ..Ground::default() },
        ..Envelope::default()
    };
    job
}

/// A construction by its U alone.
pub fn typed(id: &str, position: Position, u: f64) -> Construction {
    let (id, name, class, source) = (id.into(), id.into(), String::new(), String::new());
    Construction { id, name, position, u: Some(u), g: None, layers: vec![], class, source }
}

/// A rectangle with the south wall first (edge 0 south, 1 east, 2 north, 3 west).
pub fn box_room(id: &str, x0: f64, y0: f64, x1: f64, y1: f64) -> Room {
    shaped_room(id, vec![[x0, y0], [x1, y0], [x1, y1], [x0, y1]])
}

pub fn shaped_room(id: &str, outline: Vec<Point>) -> Room {
    Room {
        id: id.into(),
        name: format!("Room {id}"),
        level_id: "ground".into(),
        usage: Usage::Living,
        outline,
        height_m: 2.5,
        room_c: 20.0,
        zone: None,
        governs: None,
        unheated: None,
        air_changes_per_h: Some(0.5),
        supply_m3_h: 0.0,
        extract_m3_h: 0.0,
        above: Beyond::Outside,
        below: Beyond::Ground,
        roof_id: None,
        floor_id: None,
        slopes: vec![],
        bridges: vec![],
        emitters: vec![],
        walls: vec![],
        openings: vec![],
        keep_outs: vec![],
        floor: Some(slab_floor()),
        fields: vec![],
        melt: None,
        summer: None,
    }
}

pub fn slab_floor() -> Floor {
    Floor {
        build_up_id: "slab".into(),
        covering_id: "tile".into(),
        tube_id: "pex-16x2".into(),
        spacing_core_m: 0.2,
        spacing_edge_m: 0.2,
        insulation_m2k_w: None,
        pattern: Pattern::Auto,
        lattice: None,
        loops: None,
        splits: vec![],
        manifold_id: None,
        patches: vec![],
    }
}

pub fn window(id: &str, edge: usize, offset_m: f64, width_m: f64, height_m: f64) -> Opening {
    Opening {
        id: id.into(),
        kind: OpeningKind::Window,
        edge,
        offset_m,
        width_m,
        height_m,
        sill_m: 0.0,
        u: None,
        g: None,
        construction_id: None,
    }
}

pub fn doorway(id: &str, edge: usize, offset_m: f64, width_m: f64) -> Opening {
    Opening { kind: OpeningKind::Doorway, ..window(id, edge, offset_m, width_m, 2.0) }
}

pub fn cabinet(id: &str, x0: f64, y0: f64, x1: f64, y1: f64) -> KeepOut {
    KeepOut {
        id: id.into(),
        kind: KeepOutKind::Cabinet,
        name: String::new(),
        x0_m: x0,
        y0_m: y0,
        x1_m: x1,
        y1_m: y1,
        clearance_m: 0.05,
        photo_id: None,
    }
}

pub fn manifold(id: &str, letter: &str, room_id: &str, edge: usize, offset_m: f64) -> Manifold {
    Manifold {
        id: id.into(),
        letter: letter.into(),
        room_id: room_id.into(),
        edge,
        offset_m,
        ports: 12,
        risers: vec![],
        valve_table: vec![],
    }
}

/// A building of equal levels, each with two rows of rooms along a corridor and a manifold in it; every room has a window
/// and a doorway, upstairs is shifted so that rooms lie over several others.
pub fn building(levels: usize, rooms_on_each: usize) -> Job {
    let mut job = job_of(vec![]);
    job.levels.clear();
    for level in 0..levels {
        let id = format!("level-{level}");
        job.levels.push(Level { id: id.clone(), name: id.clone(), floor_m: 2.9 * level as f64, underlay: None });
        let shift = 0.7 * level as f64;
        let side = rooms_on_each.saturating_sub(1);
        let columns = side.div_ceil(2);
        let mut hall = box_room(&format!("hall-{level}"), shift, 4.12, shift + 4.12 * columns as f64 - 0.12, 5.9);
        for k in 0..side {
            let (column, north) = (k % columns, k / columns);
            let x = shift + 4.12 * column as f64;
            let y = if north == 1 { 6.02 } else { 0.0 };
            let mut room = box_room(&format!("room-{level}-{k}"), x, y, x + 4.0, y + 4.0);
            room.openings.push(window(&format!("w-{level}-{k}"), if north == 1 { 2 } else { 0 }, 1.0, 1.5, 1.3));
            room.level_id = id.clone();
            let length = 4.12 * columns as f64 - 0.12;
            let offset = 4.12 * column as f64 + 1.5;
            let (edge, offset) = if north == 1 { (2, length - offset - 0.9) } else { (0, offset) };
            hall.openings.push(doorway(&format!("d-{level}-{k}"), edge, offset, 0.9));
            job.rooms.push(room);
        }
        hall.level_id = id;
        job.rooms.push(hall);
        let hall_id = format!("hall-{level}");
        for m in 0..2 {
            let letter = char::from(b'A' + (2 * level + m) as u8).to_string();
            let mut manifold = manifold(&format!("m-{level}-{m}"), &letter, &hall_id, if m == 0 { 3 } else { 1 }, 0.9);
            manifold.ports = 24;
            job.manifolds.push(manifold);
        }
    }
    job
}

/// Rooms in rows of ten, each with four bulging walls of 32 straights, a manifold in every fourth.
pub fn bulging(rooms: usize) -> Job {
    let room = |k: usize| {
        let middle = [4.2 * (k % 10) as f64, 4.2 * (k / 10) as f64];
        let outline = (0..128).map(|i| {
            let t = -1.0 + (i % 32) as f64 / 16.0;
            let (mut x, mut y) = (2.0 * t, -1.92 - 0.08 * (1.0 - t * t));
            for _ in 0..i / 32 {
                (x, y) = (-y, x);
            }
            [middle[0] + x, middle[1] + y].map(|v| (v * 1e4).round() / 1e4)
        });
        shaped_room(&format!("room-{k}"), outline.collect())
    };
    let mut job = job_of((0..rooms).map(room).collect());
    for (n, k) in (0..rooms).step_by(4).enumerate().take(20) {
        let letter = char::from(b'A' + n as u8).to_string();
        job.manifolds.push(manifold(&format!("m-{n}"), &letter, &format!("room-{k}"), 3, 0.05));
    }
    job
}
