/** The floor's maps as pictures: how far tube is from each spot, how warm the surface gets. */
import { markRaw, reactive, watch } from "vue";
import { answer, api, type RoomMap } from "../../api/client";
import { store } from "../../job/store";
import { ramp, type MapOf } from "../../sheet/ramp";

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
