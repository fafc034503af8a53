import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// Two entries: the shop, which customers load on phones, and the desk.
export default defineConfig({
  plugins: [react()],
  build: {
    target: "es2022",
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 900,
    rollupOptions: { input: { shop: "index.html", desk: "desk.html" } },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8080" } },
});
