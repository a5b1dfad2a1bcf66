<script setup lang="ts">
/** A thermal camera over the rig's floors: a picture of now, until the next is taken. */
import { computed, nextTick, ref } from "vue";
import { answer, api, Refused, type CameraPicture, type RigPlayed, type Units } from "../api/client";
import { colours } from "../sheet/ramp";
import { show } from "../units";
import { bytes, mixed, paint } from "../stations/time/thermal";

const props = defineProps<{ asks: () => RigPlayed; at: string; units: Units }>();
const shot = ref<CameraPicture | null>(null);
const taken = ref("");
const trouble = ref("");
const busy = ref(false);
const canvas = ref<HTMLCanvasElement>();
const range = ref<[number, number]>([15, 30]);
async function shoot() {
  const at = props.at;
  busy.value = true;
  try {
    shot.value = await answer(api.POST("/api/rig/camera", { body: props.asks() }));
    [taken.value, trouble.value] = [at, ""];
    await nextTick();
    draw(shot.value);
  } catch (e) {
    trouble.value = e instanceof Refused ? e.problem.detail : "The server does not answer.";
  }
  busy.value = false;
}
function draw(p: CameraPicture) {
  const pen = canvas.value?.getContext("2d");
  const spots = bytes(p.surface);
  const values = mixed(spots, spots, 0, p.raster);
  const warm = values.filter((v) => !Number.isNaN(v));
  range.value = [p.raster.low_c, warm.reduce((m, v) => Math.max(m, v), p.raster.low_c + 1)];
  if (pen) paint(pen, values, p.raster, range.value);
}
const t = (c: number) => show("temperature", c, props.units);
const size = computed(() => {
  const { columns, rows, step_m } = shot.value?.raster ?? { columns: 1, rows: 1, step_m: 1 };
  return { w: columns * step_m, h: rows * step_m };
});
const over = (p: readonly number[]) => [p[0]! - shot.value!.raster.origin[0]!, size.value.h - (p[1]! - shot.value!.raster.origin[1]!)] as const;
const place = (p: readonly number[]) => over(p).join(",");
const middle = (outline: readonly (readonly number[])[]) => [0, 1].map((k) => outline.reduce((s, p) => s + p[k]!, 0) / outline.length);
</script>

<template>
  <section class="camera" aria-label="Thermal camera">
    <ElButton size="small" :disabled="busy" @click="shoot">Take a picture with the thermal camera</ElButton>
    <span v-if="trouble" role="alert">{{ trouble }}</span>
    <figure v-if="shot">
      <div class="view" :style="{ aspectRatio: `${size.w} / ${size.h}` }">
        <canvas ref="canvas" :width="shot.raster.columns" :height="shot.raster.rows"></canvas>
        <svg :viewBox="`0 0 ${size.w} ${size.h}`" role="img" :aria-label="`Thermal picture of ${shot.rooms.map((r) => r.name).join(', ')}`">
          <g v-for="r in shot.rooms" :key="r.name">
            <polygon :points="r.outline.map(place).join(' ')" />
            <text :x="over(middle(r.outline))[0]" :y="over(middle(r.outline))[1]">{{ r.name }}</text>
          </g>
        </svg>
      </div>
      <figcaption>{{ taken }}: {{ t(range[0]) }} <i v-for="c in colours('surface')" :key="c" :style="{ background: c }"></i> {{ t(range[1]) }}</figcaption>
    </figure>
  </section>
</template>

<style scoped>
.camera { margin-top: 12px; }
figure { margin: 8px 0 0; max-width: 420px; }
.view { position: relative; width: 100%; }
canvas, svg { position: absolute; inset: 0; width: 100%; height: 100%; }
canvas { image-rendering: pixelated; }
polygon { fill: none; stroke: var(--ink); stroke-width: 0.05; }
text { font-size: 0.34px; font-weight: 650; text-anchor: middle; fill: #201a14; paint-order: stroke; stroke: #fffdf8; stroke-width: 0.09px; }
figcaption { display: flex; gap: 0; align-items: center; font-size: 13px; margin-top: 4px; }
figcaption i { width: 14px; height: 10px; }
figcaption i:first-of-type { margin-left: 8px; }
figcaption i:last-of-type { margin-right: 8px; }
</style>
