<script setup lang="ts">
/** A paper as the program makes it, page by page; a page is drawn when it comes into view. */
import { useIntersectionObserver } from "@vueuse/core";
import { getDocument, GlobalWorkerOptions, type PDFDocumentProxy } from "pdfjs-dist";
import worker from "pdfjs-dist/build/pdf.worker.min.mjs?url";
import { onBeforeUnmount, ref, shallowRef, watch } from "vue";

const props = defineProps<{ url: string; title: string }>();
GlobalWorkerOptions.workerSrc = worker;

/** Sharper than any screen shows is no use. */
const MOST_PIXELS_PER_POINT = 3;
/** The paper that is shown: until the next one has come, the last one stays. `number` tells one from the other. */
const shown = shallowRef<{ of: PDFDocumentProxy; title: string; number: number } | null>(null);
let number = 0;
const trouble = ref("");
const text = ref<string[]>([]);
const canvases = ref<HTMLCanvasElement[]>([]);
const drawn = new Set<number>();
/** A newer state of the paper is being made: what is shown is not it. */
const old = ref(false);
let loading: ReturnType<typeof getDocument> | undefined;

async function load(url: string, title: string) {
  const before = loading;
  const task = (loading = getDocument({ url, isEvalSupported: false }));
  trouble.value = "";
  old.value = true;
  try {
    const read = await task.promise;
    if (task !== loading) return;
    drawn.clear();
    text.value = [];
    old.value = false;
    shown.value = { of: read, title, number: ++number };
  } catch {
    if (task === loading) [shown.value, trouble.value] = [null, "The paper could not be made. Is Fuoco's server running?"];
  }
  await before?.destroy();
}
watch(() => props.url, (url) => void load(url, props.title), { immediate: true });
onBeforeUnmount(() => {
  const last = loading;
  loading = undefined;
  void last?.destroy();
});

useIntersectionObserver(canvases, (entries) => {
  for (const e of entries) if (e.isIntersecting) void draw(Number((e.target as HTMLCanvasElement).dataset.page));
}, { rootMargin: "600px" });

async function draw(n: number) {
  const of = shown.value?.of;
  const canvas = canvases.value.find((c) => Number(c.dataset.page) === n);
  if (!of || !canvas || drawn.has(n)) return;
  drawn.add(n);
  try {
    const page = await of.getPage(n);
    const { width } = page.getViewport({ scale: 1 });
    const scale = Math.min(MOST_PIXELS_PER_POINT, (canvas.clientWidth / width) * window.devicePixelRatio);
    const viewport = page.getViewport({ scale });
    [canvas.width, canvas.height] = [Math.round(viewport.width), Math.round(viewport.height)];
    await page.render({ canvas, viewport }).promise;
    const said = await page.getTextContent();
    text.value[n - 1] = said.items.map((i) => ("str" in i ? i.str : "")).join(" ");
  } catch {
    // the paper has been replaced or closed while it was drawn; the next one draws its own pages
    drawn.delete(n);
  }
}
</script>

<template>
  <p v-if="trouble" role="alert">{{ trouble }}</p>
  <p v-else-if="!shown" role="status">Setting the paper…</p>
  <template v-else>
    <canvas v-for="n in shown.of.numPages" :key="`${shown.number} ${n}`" ref="canvases" class="sheet" :class="{ old }" :aria-busy="old" :data-page="n" role="img" :aria-label="`${shown.title}, page ${n} of ${shown.of.numPages}`">{{ text[n - 1] }}</canvas>
  </template>
</template>

<style scoped>
.sheet { display: block; width: min(100%, 900px); margin: 0 auto 14px; background: #fff; aspect-ratio: auto; border: 1px solid var(--line); }
.old { opacity: 0.4; }
p { text-align: center; color: var(--soft); }
</style>
