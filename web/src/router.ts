import { createRouter, createWebHistory } from "vue-router";
import JobList from "./jobs/JobList.vue";
import { whenSignedOut } from "./api/client";
import { useSession } from "./people/session";
import NotFound from "./shell/NotFound.vue";

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "jobs", component: JobList },
    { path: "/firm", name: "firm", component: () => import("./firm/FirmPage.vue") },
    { path: "/practice", name: "practice", component: () => import("./practice/PracticePage.vue") },
    { path: "/sign-in", name: "sign-in", component: () => import("./people/SignInPage.vue") },
    { path: "/people", name: "people", component: () => import("./people/PeoplePage.vue") },
    { path: "/link", name: "link", component: () => import("./people/LinkPage.vue") },
    { path: "/handover/:id", name: "handover", component: () => import("./people/HandoverPage.vue") },
    { path: "/jobs/:id", redirect: (to) => `/jobs/${String(to.params.id)}/rooms` },
    { path: "/jobs/:id/:station", name: "job", component: () => import("./shell/JobView.vue") },
    { path: "/:path(.*)*", name: "missing", component: NotFound },
  ],
});

// whoever is not signed in, or no longer, is asked, and then led back
whenSignedOut(() => {
  // what waits in the browser is told under the name of whoever wrote it
  useSession().load(true).catch(() => {});
  const at = router.currentRoute.value;
  if (!["sign-in", "link"].includes(String(at.name))) void router.push({ name: "sign-in", query: { to: at.fullPath } });
});
