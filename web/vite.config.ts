import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  css: {
    // A class is named after its module: short to read in the browser, and no two can meet.
    modules: { generateScopedName: (name, file) => `${/(\w+)\.module\.css/.exec(file)?.[1]}-${name}` },
  },
  build: { outDir: "../src/AnchorBend.Server/wwwroot", emptyOutDir: true, chunkSizeWarningLimit: 3000 },
  // Beside other suites a machine may be ten times as slow: no test is to measure that.
  test: { environment: "jsdom", testTimeout: 60_000 },
  server: { proxy: { "/api": "http://127.0.0.1:5180", "/hub": { target: "http://127.0.0.1:5180", ws: true } } },
});
