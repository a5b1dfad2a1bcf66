/** The app as it is kept in the browser, so that it opens without a network. */
import { registerSW } from "virtual:pwa-register";
import { ref } from "vue";

/** A newer version of the app is here, and waits until this one is left or reloaded. */
export const renewed = ref(false);

const ASK_EVERY_MS = 3_600_000;
let take: (() => Promise<void>) | null = null;

/** Keeps the app in this browser, where the browser can and the page is served safely. */
export function keepShell() {
  take = registerSW({
    onNeedRefresh: () => (renewed.value = true),
    onRegisteredSW: (_url, registration) => {
      // an app that stays open for days asks now and then
      if (registration) setInterval(() => void registration.update().catch(() => {}), ASK_EVERY_MS);
    },
    onRegisterError: () => {},
  });
}

/** Takes the newer version: the page is loaded anew. */
export const takeNew = () => void take?.();
