import { createRouter, createWebHistory } from "vue-router";
import JobList from "./views/JobList.vue";
import NotFound from "./views/NotFound.vue";

export const STATIONS = ["site", "rooms", "heat-loss", "floor", "loops", "water", "papers"] as const;

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "jobs", component: JobList },
    { path: "/jobs/:id", redirect: (to) => `/jobs/${String(to.params.id)}/rooms` },
    {
      path: `/jobs/:id/:station(${STATIONS.join("|")})`,
      name: "job",
      component: () => import("./views/JobView.vue"),
    },
    { path: "/:path(.*)*", name: "missing", component: NotFound },
  ],
});
