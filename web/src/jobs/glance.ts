/** Jobs at a glance, asked for as their rows come into sight: a few at a time, and once for each revision. */
import { reactive } from "vue";
import { answer, api, type JobEntry, type JobSummary } from "../api/client";

const AT_A_TIME = 2;

export function useGlances() {
  const found = reactive(new Map<string, JobSummary>());
  const waiting: JobEntry[] = [];
  const asked = new Set<string>();
  let running = 0;
  const key = (job: JobEntry) => `${job.id} ${job.revision}`;

  async function work() {
    if (running >= AT_A_TIME) return;
    running++;
    // what came into sight last is looked at now
    for (let job = waiting.pop(); job; job = waiting.pop()) {
      const got = await answer(api.GET("/api/jobs/{id}/summary", { params: { path: { id: job.id } } })).catch(() => null);
      if (got) found.set(key(job), got);
    }
    running--;
  }

  return {
    of: (job: JobEntry) => found.get(key(job)),
    want(job: JobEntry) {
      if (job.damaged || asked.has(key(job))) return;
      asked.add(key(job));
      waiting.push(job);
      void work();
    },
  };
}
