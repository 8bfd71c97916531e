// Builds what runs outside the web server: the `ulu` command, its threads, and the demo seeder.
import { build } from "esbuild";

await build({
  entryPoints: {
    ulu: "src/cli/ulu.ts",
    web: "src/server/web.ts",
    "assess-thread": "src/workers/assess-thread.ts",
    "engrave-thread": "src/workers/engrave-thread.ts",
    "score-thread": "src/workers/score-thread.ts",
    demo: "demo/seed.ts",
  },
  outdir: "dist",
  outExtension: { ".js": ".mjs" },
  chunkNames: "chunks/[name]-[hash]",
  bundle: true,
  splitting: true,
  format: "esm",
  platform: "node",
  target: "node20",
  packages: "external",
  logLevel: "warning",
});
