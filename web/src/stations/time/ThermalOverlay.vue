<script setup lang="ts">
/** Over the rooms, in metres: the picture at the time that is shown, its isotherms, the loops, the photo. */
import { computed, onMounted, ref, watch } from "vue";
import { store } from "../../job/store";
import Isotherms from "../../sheet/Isotherms.vue";
import PlanLoops from "../../sheet/PlanLoops.vue";
import { paint, photo, useThermal } from "./thermal";

const { picture, values, range, playing, old } = useThermal();
const { levelDesign: design, where } = store;
const canvas = ref<HTMLCanvasElement>();
function draw() {
  const [c, p, v] = [canvas.value, picture.value, values.value];
  const pen = c?.getContext("2d");
  if (c && p && v && pen && p.raster.columns) {
    const { columns, rows } = p.raster;
    if (c.width !== columns || c.height !== rows) [c.width, c.height] = [columns, rows];
    paint(pen, v, p.raster, range.value);
  }
}
watch([values, range, canvas], draw, { flush: "post" });
onMounted(draw);
const lies = computed(() => {
  const { origin, rows, step_m } = picture.value!.raster;
  return `translate(${origin[0]} ${origin[1]! + rows * step_m}) scale(${step_m} ${-step_m})`;
});
const floor = computed(() => Array.from(values.value ?? [], (v) => (Number.isNaN(v) ? null : v)));
const height_m = computed(() => (photo.width_m * photo.pixels[1]) / photo.pixels[0]);
const laid = computed(() => `translate(${photo.at[0]} ${photo.at[1] + height_m.value}) scale(1 -1) rotate(${-photo.turn_deg} ${photo.width_m / 2} ${height_m.value / 2})`);
</script>

<template>
  <!-- a pixel of the page for a spot: browsers round what is smaller -->
  <foreignObject v-if="picture && picture.raster.columns" class="heat" :class="{ behind: old }" :width="picture.raster.columns" :height="picture.raster.rows" :transform="lies">
    <canvas ref="canvas" class="spots"></canvas>
  </foreignObject>
  <!-- lines would lag behind a picture that moves -->
  <Isotherms v-if="picture && values && !playing" :raster="picture.raster" :values="floor" :range="range" />
  <g class="tubes"><PlanLoops v-if="design" :design="design" :selection="where.selection" faded /></g>
  <image v-if="photo.url" class="photo" :href="photo.url" :width="photo.width_m" :height="height_m" preserveAspectRatio="none" :transform="laid" :opacity="photo.strength" />
</template>

<style scoped>
.heat, .photo { pointer-events: none; }
/* answers an older question */
.behind { opacity: 0.5; }
.tubes { opacity: 0.45; }
.spots { display: block; width: 100%; height: 100%; image-rendering: pixelated; }
</style>
