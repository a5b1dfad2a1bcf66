/** Who is signed in, on a server that asks. On one's own machine nobody is asked, and everything may be done. */
import { computed, ref } from "vue";
import { answer, api, type SessionInfo } from "../api/client";

const info = ref<SessionInfo | null>(null);
let asked: Promise<SessionInfo> | undefined;

/** The address of the app from `?to=`: never one of another site. */
export function wayBack(to: unknown): string {
  const text = typeof to === "string" ? to : "";
  return /^\/(?![/\\])/.test(text) ? text : "/";
}

/** Whether somebody of that role changes jobs; where nobody is asked, everybody does. */
export const changesJobs = (s: SessionInfo | null): boolean => !s?.needed || s.role === "owner" || s.role === "designer";

export function useSession() {
  /** Asks the server once; `anew` again. */
  function load(anew = false): Promise<SessionInfo> {
    if (anew) asked = undefined;
    asked ??= answer(api.GET("/api/session")).then(
      (got) => (info.value = got),
      (e: unknown) => {
        asked = undefined;
        throw e;
      },
    );
    return asked;
  }
  async function signIn(name: string, password: string) {
    info.value = await answer(api.POST("/api/session", { body: { name, password } }));
    asked = Promise.resolve(info.value);
  }
  async function signOut(everywhere = false) {
    await answer(api.DELETE("/api/session", { params: { query: { everywhere } } }));
    info.value = null;
    asked = undefined;
  }
  return {
    info,
    load,
    signIn,
    signOut,
    needed: computed(() => info.value?.needed ?? false),
    isOwner: computed(() => info.value?.role === "owner"),
    mayChange: computed(() => changesJobs(info.value)),
  };
}
