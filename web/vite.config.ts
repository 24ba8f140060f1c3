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
  },
  server: { proxy: { "/api": "http://127.0.0.1:8473" } },
});
