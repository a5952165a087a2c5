import { readdirSync } from "node:fs";

import { defineConfig } from "vite";

/** Bundles the interface's own tests for Node; they are run from pytest, see tests/interface. */
export default defineConfig({
  build: {
    ssr: true,
    target: "node20",
    outDir: "dist-tests",
    minify: false,
    rollupOptions: { input: readdirSync("tests").filter((f) => f.endsWith(".test.ts")).map((f) => `tests/${f}`), output: { entryFileNames: "[name].js" } },
  },
});
