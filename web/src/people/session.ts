/** Who is signed in, on a server that asks. On one's own machine nobody is asked, and everything may be done. */
import { computed, ref } from "vue";
import { answer, api, Unreachable, type SessionInfo } from "../api/client";
import { forgetSaved } from "../job/kept";
import { shelf } from "../offline/shelf";

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
      (got) => {
        void shelf.putThing("session", got);
        return (info.value = got);
      },
      async (e: unknown) => {
        asked = undefined;
        // without a network it is whoever it was
        const was = e instanceof Unreachable ? await shelf.thing("session") : undefined;
        if (!was) throw e;
        return (info.value = was);
      },
    );
    return asked;
  }
  async function signIn(name: string, password: string) {
    info.value = await answer(api.POST("/api/session", { body: { name, password } }));
    void shelf.putThing("session", info.value);
    asked = Promise.resolve(info.value);
  }
  async function signOut(everywhere = false) {
    await answer(api.DELETE("/api/session", { params: { query: { everywhere } } }));
    await Promise.all([shelf.clear(), forgetSaved()]);
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
