<script setup lang="ts">
/** What could be wrong, most likely first, with what each would explain and what is looked at next. */
import { computed, ref, watch } from "vue";
import type { Ranking } from "../../api/client";

const props = defineProps<{ ranking: Ranking; count: number; busy: boolean }>();
const open = ref(0);
watch(() => props.ranking, () => (open.value = 0));
const percent = (share: number) => (share < 0.01 ? "< 1 %" : `${Math.round(share * 100)} %`);
const sure = computed(() => (props.ranking.causes[0]?.share ?? 0) > 0.8);
/** What tells the first two apart stands above all of them. */
const next = (text: string) => text.replace(props.ranking.tell_apart?.text ?? "", "").trim();
const fit = (misfit: number) => (misfit < 1.2 ? "fits what was read" : misfit < 2 ? "fits roughly" : "does not fit well");
</script>

<template>
  <div class="causes">
    <p v-if="!count" class="none">Nothing has been read yet. The figures in the fields are what a sound house would show at this outdoor temperature.</p>
    <template v-else>
      <div role="status"><h2>{{ sure ? "Most likely" : "Not decided yet" }}<small v-if="busy"> weighing…</small></h2></div>
      <p v-if="ranking.tell_apart" class="tell">{{ ranking.tell_apart.text }}</p>
      <ol>
        <li v-for="(c, i) in ranking.causes" :key="c.fault + c.where" :class="{ first: i === 0 }">
          <ElButton class="cause" :aria-expanded="open === i" @click="open = open === i ? -1 : i">
            <b>{{ c.name }}</b><span class="where">{{ c.where }}</span><span class="share">{{ percent(c.share) }}</span><i class="bar" :style="{ '--part': c.share }" aria-hidden="true"></i>
          </ElButton>
          <div v-if="open === i" class="more">
            <p class="fit">{{ fit(c.misfit) }}</p>
            <ul v-if="c.explains.length"><li v-for="e in c.explains" :key="e">{{ e }}</li></ul>
            <p><b>Next:</b> {{ next(c.next_check) }}</p>
            <p><b>If that is wrong:</b> {{ c.if_wrong }}</p>
          </div>
        </li>
      </ol>
      <p v-for="u in ranking.unused" :key="u" class="unused">Not used: {{ u }}</p>
    </template>
  </div>
</template>

<style scoped>
h2 { font-size: 19px; margin: 6px 0; }
h2 small { color: var(--soft); font-weight: 400; }
.none, .unused, .fit { color: var(--soft); margin: 4px 0; }
.tell { border-left: 4px solid var(--warn); padding-left: 10px; margin: 4px 0 10px; }
ol { list-style: none; margin: 0; padding: 0; }
.cause { width: 100%; height: auto; min-height: 52px; padding: 6px 10px; font-size: 16px; background: var(--floor); margin: 4px 0 0; }
.cause :deep(> span) { display: grid; grid-template: "name share" auto "where share" auto "bar bar" auto / minmax(0, 1fr) auto; width: 100%; gap: 0 10px; text-align: left; color: var(--ink); white-space: normal; line-height: 1.3; }
.cause b { grid-area: name; }
.where { grid-area: where; color: var(--soft); font-weight: 400; }
.share { grid-area: share; align-self: center; font-size: 18px; font-variant-numeric: tabular-nums; }
.bar { grid-area: bar; height: 4px; margin-top: 4px; background: linear-gradient(to right, var(--ember) calc(var(--part) * 100%), var(--faint) 0); }
.more { padding: 6px 12px 10px; border-left: 4px solid var(--faint); }
.more p { margin: 4px 0; }
.more ul { margin: 4px 0; padding-left: 20px; }
</style>
