import { createApp } from "vue";
import "@fontsource-variable/source-sans-3/wght.css";
import "./style.css";
import App from "./App.vue";
import { keepShell } from "./offline/shell";
import { keepSending } from "./offline/waiting";
import { router } from "./router";

createApp(App).use(router).mount("#app");
keepShell();
keepSending();
