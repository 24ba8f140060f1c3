/** Cycles of imports, those of types too, which ESLint's own rule does not follow. */
export default {
  forbidden: [{ name: "no-cycle", severity: "error", from: {}, to: { circular: true } }],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
  },
};
