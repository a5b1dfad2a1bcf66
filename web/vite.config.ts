import vue from "@vitejs/plugin-vue";
import Components from "unplugin-vue-components/vite";
import { ElementPlusResolver } from "unplugin-vue-components/resolvers";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig({
  plugins: [
    vue(),
    // Element Plus comes in component by component, with the styles of just those.
    Components({ dts: "src/components.generated.d.ts", resolvers: [ElementPlusResolver()] }),
    // The app itself opens without a network; what it shows then comes from `src/offline`.
    VitePWA({
      // a new version waits until nobody would lose their place: `src/offline/shell.ts` asks
      registerType: "prompt",
      injectRegister: false,
      manifest: {
        name: "Fuoco",
        short_name: "Fuoco",
        description: "Radiant floors: design, laying, records of the site.",
        display: "standalone",
        start_url: "/",
        background_color: "#f7f2e8",
        theme_color: "#a83e12",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png" },
          { src: "/icon-512-maskable.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
          { src: "/icon.svg", sizes: "any", type: "image/svg+xml" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,png,woff2}"],
        // the PDF reader is large, and papers are made by the server
        globIgnores: ["**/pdf*"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//],
        cleanupOutdatedCaches: true,
        // photos and pictures never change under their address
        runtimeCaching: [
          {
            urlPattern: ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith("/api/files/"),
            handler: "CacheFirst",
            options: { cacheName: "files", expiration: { maxEntries: 300 }, cacheableResponse: { statuses: [200] } },
          },
        ],
        inlineWorkboxRuntime: false,
        sourcemap: false,
      },
    }),
  ],
  server: { proxy: { "/api": "http://127.0.0.1:8642" } },
  build: { target: "es2022", chunkSizeWarningLimit: 900 },
});
