/** This browser's outbox, in the hands of whoever is signed in. */
import { useEventListener } from "@vueuse/core";
import { ref, watch } from "vue";
import { useSession } from "../people/session";
import { createOutbox } from "./outbox";

const { info } = useSession();
/** Counts what the server has taken, so that whoever shows it asks again. */
export const taken = ref(0);
export const outbox = createOutbox(
  () => (info.value?.needed ? (info.value.name ?? "") : ""),
  () => taken.value++,
);

/** Sends what waits whenever there is a chance to. */
export function keepSending() {
  const { load } = useSession();
  // who one is decides what is sent
  watch(info, () => outbox.retry());
  void load().then(outbox.retry, outbox.retry);
  useEventListener(window, "online", outbox.retry);
  useEventListener(document, "visibilitychange", () => document.visibilityState === "visible" && outbox.retry());
}
