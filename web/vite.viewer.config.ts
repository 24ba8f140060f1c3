import { defineConfig } from "vite";

/** The script of pages with a model, as one file that is put into each of them. */
export default defineConfig({
  publicDir: false,
  build: {
    outDir: "../zygomorph/web/viewer",
    emptyOutDir: true,
    chunkSizeWarningLimit: 2500,
    lib: {
      entry: "src/viewer/main.ts",
      formats: ["iife"],
      name: "viewer",
      fileName: () => "viewer.js",
    },
  },
});
