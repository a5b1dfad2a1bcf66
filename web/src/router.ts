import { createRouter, createWebHistory } from "vue-router";
import JobList from "./jobs/JobList.vue";
import NotFound from "./shell/NotFound.vue";

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "jobs", component: JobList },
    { path: "/firm", name: "firm", component: () => import("./firm/FirmPage.vue") },
    { path: "/jobs/:id", redirect: (to) => `/jobs/${String(to.params.id)}/rooms` },
    { path: "/jobs/:id/:station", name: "job", component: () => import("./shell/JobView.vue") },
    { path: "/:path(.*)*", name: "missing", component: NotFound },
  ],
});
