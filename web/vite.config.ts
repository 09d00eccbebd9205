import optimizeLocales from "@react-aria/optimize-locales-plugin";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  // the library's own few words in English alone
  plugins: [react(), tailwindcss(), { ...optimizeLocales.vite({ locales: ["en-US"] }), enforce: "pre" }],
  // a strict content policy forbids data: fonts, so nothing is inlined
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
