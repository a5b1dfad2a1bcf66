/** Where one is in the job: station, level, what is chosen. */
import { computed, reactive, type ShallowRef } from "vue";
import type { Design, Job, Station, Subject } from "../api/client";

export interface Selection {
  kind: Subject["kind"] | "wall" | "mark";
  id: string;
  /** The wall, when one of a room is selected. */
  edge?: number;
  /** A place to point at. */
  at?: [number, number];
}

export function createSelection(job: ShallowRef<Job | null>, design: ShallowRef<Design | null>) {
  const state = reactive({
    station: "rooms" as Station,
    /** The level on the sheet. */
    level: "",
    selection: null as Selection | null,
  });

  const level = computed(() => job.value?.levels.find((l) => l.id === state.level) ?? job.value?.levels[0] ?? null);
  /** The job and the design as far as they lie on the level that the sheet shows. */
  const levelJob = computed<Job | null>(() => {
    const all = job.value;
    const id = level.value?.id;
    if (!all) return null;
    const rooms = all.rooms.filter((r) => r.level_id === id);
    const on = new Set(rooms.map((r) => r.id));
    return { ...all, rooms, manifolds: all.manifolds.filter((m) => on.has(m.room_id)), marks: all.marks.filter((m) => m.level_id === id) };
  });
  /** Rooms of the storey below the one shown: the next is drawn over them. */
  const roomsBelow = computed(() => {
    const floor = (l: { floor_m?: number } | null) => l?.floor_m ?? 0;
    const lower = (job.value?.levels ?? []).filter((l) => floor(l) < floor(level.value)).sort((a, b) => floor(b) - floor(a))[0];
    return lower ? job.value!.rooms.filter((r) => r.level_id === lower.id) : [];
  });
  const levelDesign = computed<Design | null>(() => {
    const all = design.value;
    const on = new Set(levelJob.value?.rooms.map((r) => r.id));
    if (!all) return null;
    return {
      ...all,
      rooms: all.rooms.filter((r) => on.has(r.id)),
      walls: all.walls.filter((w) => on.has(w.room_id)),
      outlines: all.outlines.filter((o) => on.has(o.room_id)),
      loops: all.loops.filter((l) => l.room_ids.some((id) => on.has(id))),
      manifolds: all.manifolds.filter((m) => m.level_id === level.value?.id || m.risers.some((r) => r.level_id === level.value?.id)),
    };
  });

  /** A job opens on its lowest storey above ground that has rooms. */
  function begin() {
    const levels = [...(job.value?.levels ?? [])].sort((a, b) => (a.floor_m ?? 0) - (b.floor_m ?? 0));
    const used = levels.filter((l) => job.value?.rooms.some((r) => r.level_id === l.id));
    state.level = (used.find((l) => (l.floor_m ?? 0) > -1) ?? used[0] ?? levels[0])?.id ?? "";
    state.selection = null;
  }

  /** Chooses a thing and turns to its level. */
  function select(selection: Selection | null) {
    state.selection = selection;
    const all = job.value;
    if (!selection || !all) return;
    const { id } = selection;
    const loop = design.value?.loops.find((l) => l.id === id);
    const room = all.rooms.find((r) => r.id === id || r.id === loop?.room_ids[0] || r.openings.some((o) => o.id === id) || r.keep_outs.some((k) => k.id === id));
    const hung = all.rooms.find((r) => r.id === all.manifolds.find((m) => m.id === id)?.room_id);
    const on = (room ?? hung)?.level_id ?? all.marks.find((m) => m.id === id)?.level_id;
    if (on) state.level = on;
  }

  /** Whether what is chosen can be deleted: walls and loops come and go with their rooms. */
  const deletable = computed(() => ["room", "opening", "keep_out", "manifold", "mark"].includes(state.selection?.kind ?? ""));

  return { state, level, levelJob, roomsBelow, levelDesign, begin, select, deletable };
}
