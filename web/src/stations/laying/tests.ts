/** The pressure tests of the open job: as the server judges them, with readings that still wait in this browser. */
import { computed, ref, shallowRef, watch } from "vue";
import { answer, api, Unreachable, type PressureTests, type TestLog } from "../../api/client";
import { store } from "../../job/store";
import { told } from "../../job/told";
import { shelf } from "../../offline/shelf";
import type { Waiting } from "../../offline/outbox";
import { outbox, taken } from "../../offline/waiting";

/** A test of which records wait: what they hold is shown, but not judged yet. */
export type TestRow = TestLog & { waits?: number };

export function testsWithWaiting(served: PressureTests, waiting: Waiting[]): TestRow[] {
  const tests: TestRow[] = served.tests.map((t) => ({ ...t, readings: [...t.readings], signed: [...t.signed] }));
  for (const { record, refused } of waiting) {
    if (refused) continue;
    const { fact, at } = record;
    if (fact.kind === "test_begun") {
      const { kind: _kind, ...begun } = fact;
      void _kind;
      tests.push({ id: record.id, begun, at, readings: [], result: null, trouble: "", sudden: null, signed: [], waits: 1 });
    } else if (fact.kind === "test_read" || fact.kind === "test_signed") {
      const of = tests.find((t) => t.id === fact.test);
      if (!of) continue;
      of.waits = (of.waits ?? 0) + 1;
      if (fact.kind === "test_read") of.readings.push({ record_id: record.id, at, read: { ...fact }, who: "" });
      else of.signed.push({ at, signed: { ...fact }, before_last: false });
    }
  }
  return tests;
}

const served = shallowRef<PressureTests | null>(null);
const failed = ref("");
let asked = 0;
const { state, sync, live } = store;

async function load() {
  const { id } = state;
  const number = ++asked;
  if (!id) return void (served.value = null);
  try {
    const got = await answer(api.GET("/api/jobs/{id}/pressure-tests", { params: { path: { id } } }));
    if (number !== asked) return;
    served.value = got;
    failed.value = "";
    void shelf.put({ id, tests: got });
  } catch (e) {
    if (number !== asked) return;
    served.value ??= (e instanceof Unreachable ? (await shelf.get(id))?.tests : undefined) ?? null;
    failed.value = served.value ? "" : told(e);
  }
}
watch(() => state.id, () => (served.value = null));
watch([() => state.loading, () => sync.state.revision, () => live.state.recorded, taken], () => wanted && state.id && !state.loading && void load());

let wanted = false;
export function useTests() {
  wanted = true;
  if (!served.value && state.id && !state.loading) void load();
  return {
    tests: computed(() => served.value && testsWithWaiting(served.value, outbox.state.waiting.filter((w) => w.job_id === state.id))),
    contents: computed(() => served.value?.contents ?? []),
    failed,
  };
}
