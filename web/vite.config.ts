import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: {
    outDir: "../zygomorph/web",
    emptyOutDir: true,
    // Fonts stay files: the content policy allows no data: fonts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 2500,
  },
  test: {
    // Rules need no document; a test of components asks for one in its first line.
    environment: "node",
    // Starting a process for each file took eight times as long as the tests themselves. What tests
    // change outside themselves, they put back.
    pool: "threads",
    isolate: false,
  },
  server: { proxy: { "/api": "http://127.0.0.1:8473" } },
});
