import vue from "@vitejs/plugin-vue";
import Components from "unplugin-vue-components/vite";
import { ElementPlusResolver } from "unplugin-vue-components/resolvers";
import { defineConfig } from "vite";

// Element Plus comes in component by component, with the styles of just those.
export default defineConfig({
  plugins: [vue(), Components({ dts: "src/components.generated.d.ts", resolvers: [ElementPlusResolver()] })],
  server: { proxy: { "/api": "http://127.0.0.1:8642" } },
  build: { target: "es2022", chunkSizeWarningLimit: 900 },
});
