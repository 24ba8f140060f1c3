import js from "@eslint/js";
import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import imports from "eslint-plugin-import-x";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

const REGIONS = [
  "deliver",
  "find",
  "findings",
  "gallery",
  "queue",
  "recipe",
  "stage",
  "study",
  "table",
  "timestrip",
];
const COMPOSITION = "./src/app";
const at = (folder) => `./src/${folder}`;

// Each layer knows those below it only: api, model, common, the regions, and what puts them
// together. Regions do not know each other.
const ZONES = [
  {
    target: at("api"),
    from: [at("model"), at("common"), ...REGIONS.map(at), COMPOSITION],
    message: "What speaks with the server knows nothing of the screen.",
  },
  {
    target: at("model"),
    from: [at("common"), ...REGIONS.map(at), COMPOSITION],
    message: "Rules of the screen know none of its parts.",
  },
  {
    target: at("common"),
    from: [...REGIONS.map(at), COMPOSITION],
    message: "What regions share knows none of them.",
  },
  ...REGIONS.map((region) => ({
    target: at(region),
    from: [...REGIONS.filter((other) => other !== region).map(at), COMPOSITION],
    message: "Regions do not know each other; what they share belongs into common or model.",
  })),
];

export default tseslint.config(
  { ignores: ["dist", "node_modules", "src/api/schema.gen.ts"] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  a11y.flatConfigs.recommended,
  { languageOptions: { globals: globals.browser } },
  {
    files: ["src/**/*.{ts,tsx}"],
    plugins: { "react-hooks": hooks, "import-x": imports },
    settings: { "import-x/resolver-next": [createTypeScriptImportResolver()] },
    rules: {
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      // What is opened to be written in has the focus: a field that a click opens, a dialog's own.
      "jsx-a11y/no-autofocus": "off",
      "import-x/no-restricted-paths": ["error", { zones: ZONES }],
    },
  },
  {
    files: ["src/model/**/*.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        { paths: ["react", "zustand"], patterns: ["@mui/*", "@react-three/*"] },
      ],
    },
  },
);
