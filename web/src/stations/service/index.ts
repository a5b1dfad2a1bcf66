/** Service: from readings of a floor that does not do what it should to what is wrong with it. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

const ServiceView = defineAsyncComponent(() => import("./ServiceView.vue"));

export const service = defineStation({
  id: "service",
  name: "Service",
  path: "service",
  only: "house",
  icon: glyphs.service,
  views: { visit: { component: ServiceView, whole: true } },
  first: "visit",
});
