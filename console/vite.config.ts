import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

const service = `http://127.0.0.1:${process.env.ZARBEK_PORT ?? "8080"}`;

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  html: { cspNonce: "__NONCE__" },
  build: {
    outDir: "../src/zarbek/service/web/dist",
    emptyOutDir: true,
    assetsDir: "static",
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  server: { host: "127.0.0.1", proxy: { "/api": service, "/health": service } },
});
