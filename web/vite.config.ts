import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { outDir: "../src/AnchorBend.Server/wwwroot", emptyOutDir: true, chunkSizeWarningLimit: 3000 },
  test: { environment: "jsdom" },
  server: { proxy: { "/api": "http://127.0.0.1:5180", "/hub": { target: "http://127.0.0.1:5180", ws: true } } },
});
