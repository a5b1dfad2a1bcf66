/** Who else looks at the open job, and word of their saves: on a server that others reach. */
import { reactive } from "vue";
import { WINDOW } from "../api/client";

interface Here {
  window: string;
  name: string;
}

/** `saved` gets the revision that was saved, or null where word of some may have been missed. */
export function createLive(saved: (revision: number | null) => void) {
  const state = reactive({
    /** The others by name, each once. */
    people: [] as string[],
    /** Who saved last. */
    lastBy: "",
    /** Counts the records of the site that have come in since the job was opened. */
    recorded: 0,
  });
  let source: EventSource | null = null;

  function begin(id: string) {
    end();
    if (typeof EventSource === "undefined") return;
    source = new EventSource(`/api/jobs/${encodeURIComponent(id)}/events?window=${WINDOW}`);
    // it comes back by itself when the connection was lost, and what was said meanwhile is asked for
    let first = true;
    source.addEventListener("open", () => {
      if (!first) {
        saved(null);
        state.recorded++;
      }
      first = false;
    });
    source.addEventListener("people", (e: MessageEvent<string>) => {
      const here = JSON.parse(e.data) as Here[];
      state.people = [...new Set(here.filter((h) => h.window !== WINDOW).map((h) => h.name))].sort();
    });
    source.addEventListener("recorded", () => state.recorded++);
    source.addEventListener("saved", (e: MessageEvent<string>) => {
      const word = JSON.parse(e.data) as { revision: number; who: string };
      state.lastBy = word.who;
      saved(word.revision);
    });
  }

  function end() {
    source?.close();
    source = null;
    state.people = [];
    state.lastBy = "";
  }

  return { state, begin, end };
}
