/** Site: where the building stands, its climate, its envelope. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

// loaded when it is first shown
const SiteForm = defineAsyncComponent(() => import("./SiteForm.vue"));

export const site = defineStation({ id: "site", name: "Site", path: "site", icon: glyphs.site, views: { site: { component: SiteForm, whole: true } }, first: "site" });
