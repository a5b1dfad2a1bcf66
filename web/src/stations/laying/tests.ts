/** The pressure tests of the open job: as the server judges them, with readings that still wait in this browser. */
import { computed } from "vue";
import { answer, api, type PressureTests, type TestLog } from "../../api/client";
import { store } from "../../job/store";
import type { Waiting } from "../../offline/outbox";
import { servedOf } from "../../offline/served";
import { outbox } from "../../offline/waiting";

/** A test of which records wait: what they hold is shown, but not judged yet. */
export type TestRow = TestLog & { waits?: number };

export function testsWithWaiting(served: PressureTests, waiting: Waiting[]): TestRow[] {
  const tests: TestRow[] = served.tests.map((t) => ({ ...t, readings: [...t.readings], signed: [...t.signed] }));
  for (const { record, refused } of waiting) {
    if (refused) continue;
    const { fact, at } = record;
    if (fact.kind === "test_begun") {
      tests.push({ id: record.id, begun: { name: fact.name, test: fact.test }, at, readings: [], result: null, trouble: "", sudden: null, signed: [], waits: 1 });
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

const { served, failed, look } = servedOf("tests", (id) => answer(api.GET("/api/jobs/{id}/pressure-tests", { params: { path: { id } } })));

export function useTests() {
  look();
  return {
    tests: computed(() => served.value && testsWithWaiting(served.value, outbox.state.waiting.filter((w) => w.job_id === store.state.id))),
    contents: computed(() => served.value?.contents ?? []),
    failed,
  };
}
