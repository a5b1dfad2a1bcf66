/** Materials: what is bought, which loops come out of which coil, what it costs and how long it takes. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

// loaded when it is first shown
const MaterialsView = defineAsyncComponent(() => import("./MaterialsView.vue"));
const OnTheFloor = defineAsyncComponent(() => import("./OnTheFloor.vue"));
const FloorKey = defineAsyncComponent(() => import("./FloorKey.vue"));

export const materials = defineStation({
  id: "materials",
  name: "Materials",
  path: "materials",
  icon: glyphs.coil,
  views: { materials: { component: MaterialsView } },
  first: "materials",
  sheet: { back: "the lists", over: OnTheFloor, legend: FloorKey },
});
