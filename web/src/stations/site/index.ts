/** Site: where the building stands, its climate, its envelope. */
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";
import SiteForm from "./SiteForm.vue";

export const site = defineStation({ id: "site", name: "Site", path: "site", icon: glyphs.site, views: { site: { component: SiteForm, whole: true } }, first: "site" });
