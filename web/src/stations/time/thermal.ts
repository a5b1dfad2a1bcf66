/** The thermal picture of the level on the sheet while the house warms up: what is asked, what is shown of it, a photo laid over it. */
import { createSharedComposable, useRafFn } from "@vueuse/core";
import { computed, reactive, ref, watch } from "vue";
import { answer, api, windowOf, type Raster, type ThermalPicture } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import { ramp } from "../../sheet/ramp";
import { PLAN, useStationView } from "../view";

export const WRONGS = { nothing: "nothing", swapped: "two loops at each other's ports", air: "air stands in a loop", backwards: "a loop runs backwards" } as const;
export type Wrong = keyof typeof WRONGS;

/** Days whose sun is followed: of the year, from 0. */
export const SUNS = [
  { value: "none", text: "no sun" },
  { value: "354", text: "21 December" },
  { value: "20", text: "21 January" },
  { value: "51", text: "21 February" },
  { value: "79", text: "21 March" },
  { value: "110", text: "21 April" },
];
const DAY_H = 24;

/** Seconds since midnight as a clock shows them; the day ends at 24:00. */
export function clockOf(time_s: number): string {
  const minutes = Math.round(time_s / 60);
  return [Math.floor(minutes / 60), minutes % 60].map((n) => String(n).padStart(2, "0")).join(":");
}

/** All that is asked; loops by their ids, empty for none. */
export const asked = reactive({ hours: 12, begin_c: 12, sun: "none", outdoor_c: null as number | null, open: "", wrong: "nothing" as Wrong, first: "", second: "" });

/** The question to the server: loops that the level does not have are left out. */
export function trialOf(level_id: string, has: (id: string) => boolean) {
  const { begin_c, wrong, sun, outdoor_c } = asked;
  const day = sun === "none" ? undefined : Number(sun);
  const [a, b] = [asked.first, asked.second].map((id) => (has(id) ? id : ""));
  return {
    level_id,
    hours: day === undefined ? asked.hours : DAY_H,
    begin_c,
    sun_day: day,
    outdoor_c: day === undefined ? undefined : (outdoor_c ?? undefined),
    open: has(asked.open) ? [asked.open] : [],
    swapped: wrong === "swapped" && a && b && a !== b ? ([a, b] as [string, string]) : undefined,
    air_locked: wrong === "air" && a ? [a] : [],
    reversed: wrong === "backwards" && a ? [a] : [],
  };
}

/** A camera's photo over the plan; it stays in this window. */
export const photo = reactive({ url: "", name: "", pixels: [1, 1] as [number, number], width_m: 5, at: [0, 0] as [number, number], turn_deg: 0, strength: 0.6 });
export function takePhoto(url: string, name: string, pixels: [number, number], middle: [number, number], width_m: number) {
  dropPhoto();
  Object.assign(photo, { url, name, pixels, width_m, turn_deg: 0, at: [middle[0] - width_m / 2, middle[1] - (width_m * pixels[1]) / pixels[0] / 2] });
}
export function dropPhoto() {
  if (photo.url) URL.revokeObjectURL(photo.url);
  photo.url = "";
}

/** Bytes of a frame. */
export const bytes = (base64: string) => Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
export const NO_FLOOR = 255;

/** What a moment between two frames shows, °C; nothing off the floors. */
export function mixed(a: Uint8Array, b: Uint8Array, part: number, { low_c, per_k }: Raster, out = new Float32Array(a.length)): Float32Array {
  for (let k = 0; k < a.length; k++) out[k] = a[k] === NO_FLOOR ? NaN : low_c + per_k * (a[k]! + (b[k]! - a[k]!) * part);
  return out;
}

/** Paints it a pixel a spot, the top row first. */
export function paint(pen: CanvasRenderingContext2D, values: Float32Array, { columns, rows }: Raster, [low, high]: [number, number]) {
  const picture = pen.createImageData(columns, rows);
  const table = Array.from({ length: 256 }, (_, i) => ramp("surface", i / 255));
  for (let k = 0; k < values.length; k++) {
    const v = values[k]!;
    if (Number.isNaN(v)) continue;
    const c = table[Math.max(0, Math.min(255, Math.round(((v - low) / (high - low || 1)) * 255)))]!;
    const at = ((rows - 1 - Math.floor(k / columns)) * columns + (k % columns)) * 4;
    picture.data[at] = c[0];
    picture.data[at + 1] = c[1];
    picture.data[at + 2] = c[2];
    picture.data[at + 3] = 255;
  }
  pen.putImageData(picture, 0, 0);
}

/** Of a day. */
const NOON = 13 / 24;
/** The whole course is played in so many seconds. */
const PLAYS_S = 8;

export const useThermal = createSharedComposable(() => {
  const { wanted } = useStationView();
  const { design, level, job, where, levelDesign, state } = store;
  const shown = computed(() => where.station === "time" && wanted.value === PLAN);
  const loops = computed(() => levelDesign.value?.loops ?? []);
  const has = (id: string) => loops.value.some((l) => l.id === id);
  const body = computed(() => trialOf(level.value?.id ?? "", has));
  const floors = computed(() => `${state.id} ${level.value?.id}`);
  const trial = useTrial<{ of: string; picture: ThermalPicture }>([() => design.value, shown, floors, () => JSON.stringify(body.value)], async (how) => {
    if (!shown.value || !job.value || !loops.value.length) return null;
    const of = floors.value;
    return { of, picture: await answer(api.POST("/api/time/picture", { body: { job: store.seen(job.value) as never, trial: body.value }, ...how })) };
  }, windowOf("picture"));
  /** Of the floors that are on the sheet: another job's, or another level's, is not shown over them. */
  const picture = computed(() => (trial.answer.value?.of === floors.value ? trial.answer.value.picture : null));
  const frames = computed(() => (picture.value?.frames ?? []).map((f) => bytes(f.surface)));
  const last = computed(() => Math.max(0, frames.value.length - 1));
  /** In frames, with parts of one. */
  const at = ref(0);
  const part = computed(() => Math.min(at.value, last.value));
  const frame = computed(() => picture.value?.frames[Math.round(part.value)] ?? null);
  const time_s = computed(() => part.value * (picture.value?.frames[1]?.time_s ?? 0));
  const values = computed(() => {
    const shows = picture.value;
    const [a, b] = [frames.value[Math.floor(part.value)], frames.value[Math.min(last.value, Math.floor(part.value) + 1)]];
    if (!shows || !a || !b) return null;
    return mixed(a, b, part.value - Math.floor(part.value), shows.raster);
  });
  /** One range for the whole course, so that a colour means the same at all times. */
  const range = computed<[number, number]>(() => {
    const shows = picture.value;
    if (!shows) return [15, 30];
    let top = 0;
    for (const f of frames.value) for (const v of f) if (v !== NO_FLOOR && v > top) top = v;
    return [shows.raster.low_c, shows.raster.low_c + shows.raster.per_k * Math.max(top, 10)];
  });
  const { pause, resume, isActive: playing } = useRafFn(({ delta }) => {
    at.value = Math.min(last.value, at.value + (delta / 1000) * (last.value / PLAYS_S));
    if (at.value >= last.value) pause();
  }, { immediate: false });
  function play() {
    if (playing.value) return pause();
    if (at.value >= last.value) at.value = 0;
    resume();
  }
  // what one looks for first: the end of a warm-up, the sun at its height
  watch([picture, () => asked.sun], ([now, sun], [before, was]) => {
    if (now && (!before || sun !== was)) at.value = sun === "none" ? last.value : Math.round(last.value * NOON);
  });
  watch(shown, (is) => !is && pause());
  return { ...trial, picture, shown, loops, frame, time_s, at, last, values, range, playing, play, pause };
});
