/** The floor's maps as pictures: how far tube is from each spot, how warm the surface gets. */
import { markRaw, reactive, watch } from "vue";
import { answer, api, type RoomMap } from "../../api/client";
import { store } from "../../job/store";

export type MapOf = "distance" | "surface";
/** From near to far, and from cool to too warm: even steps of lightness, so that grey paper keeps them apart. */
const NEAR_FAR = [[250, 244, 230], [214, 205, 186], [150, 158, 168], [84, 100, 132], [40, 44, 84]];
const COOL_WARM = [[222, 230, 236], [246, 232, 200], [240, 190, 120], [214, 120, 60], [140, 40, 20]];

export const ramp = (of: MapOf, x: number): [number, number, number] => {
  const table = of === "distance" ? NEAR_FAR : COOL_WARM;
  const t = Math.min(1, Math.max(0, x)) * (table.length - 1);
  const i = Math.min(Math.floor(t), table.length - 2);
  return [0, 1, 2].map((k) => Math.round(table[i]![k]! + (table[i + 1]![k]! - table[i]![k]!) * (t - i))) as [number, number, number];
};

/** The range that the ramp spans: distances to 0.4 m; surfaces from the coolest to at least a kelvin over the limit. */
export function rangeOf(map: RoomMap, of: MapOf, limit_c: number): [number, number] {
  if (of === "distance") return [0, 0.4];
  const all = map.surface_c.filter((v): v is number => v !== null && v !== undefined);
  return all.length ? [Math.min(...all), Math.max(limit_c + 1, ...all)] : [20, limit_c + 1];
}

/** The map as a picture of one pixel a spot, the top row first. */
export function paint(map: RoomMap, of: MapOf, [low, high]: [number, number]): string {
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [map.columns, map.rows];
  const pen = canvas.getContext("2d");
  if (!pen || map.columns === 0) return "";
  const picture = pen.createImageData(map.columns, map.rows);
  const values = of === "distance" ? map.distance_m : map.surface_c;
  values.forEach((v, k) => {
    if (v === null || v === undefined) return;
    const at = ((map.rows - 1 - Math.floor(k / map.columns)) * map.columns + (k % map.columns)) * 4;
    const [r, g, b] = ramp(of, (v - low) / (high - low || 1));
    picture.data.set([r, g, b, 255], at);
  });
  pen.putImageData(picture, 0, 0);
  return canvas.toDataURL();
}

/** The map of the level on the sheet, asked for again when the design changes. */
export function useFloorMap(wanted: () => MapOf | "none") {
  const state = reactive({ map: null as RoomMap | null, problem: "" });
  let asked = 0;
  watch(
    [wanted, () => store.design.value, () => store.level.value?.id],
    async () => {
      const mine = ++asked;
      const level_id = store.level.value?.id;
      if (wanted() === "none" || !store.job.value || !level_id) return void (state.map = null);
      try {
        const got = await answer(api.POST("/api/loops/map", { body: { job: store.job.value, level_id } }));
        if (mine === asked) Object.assign(state, { map: markRaw(got), problem: "" });
      } catch (e) {
        if (mine === asked) Object.assign(state, { map: null, problem: e instanceof Error ? e.message : String(e) });
      }
    },
    { immediate: true },
  );
  return state;
}
