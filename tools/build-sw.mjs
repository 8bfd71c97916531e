// Builds the service worker of the stand and writes into it which files the stand and a lesson at home need: those that their pages lead to.
import { createHash } from "node:crypto";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";

const site = "dist/site/client";
const folder = join(site, "_astro");

const files = readdirSync(folder);
/** Everything that a file names and that lies beside it: chunks, workers, worklets, letters. */
const named = (file) => {
  const source = /\.(js|css)$/.test(file) ? readFileSync(join(folder, file), "utf8") : "";
  return files.filter((other) => other !== file && source.includes(other));
};
const wanted = new Set(
  files.filter((file) => /^(Stand|WallDesk|client)\./.test(file) || file.endsWith(".css")),
);
if (![...wanted].some((file) => file.startsWith("Stand.")))
  throw new Error("The page of the stand was not built");
for (const file of wanted) for (const other of named(file)) wanted.add(other);
// Old letters are for browsers that have no service worker either.
const kept = [...wanted].filter((file) => !file.endsWith(".woff"));

// What carries a hash in its name needs no revision of its own.
const manifest = [
  ...kept.map((file) => ({ url: `/_astro/${file}`, revision: null })),
  ...["favicon.svg", "stand.webmanifest"].map((file) => ({
    url: `/${file}`,
    revision: createHash("sha256")
      .update(readFileSync(join(site, file)))
      .digest("hex")
      .slice(0, 16),
  })),
];

const { outputFiles } = await build({
  entryPoints: ["src/workers/stand.sw.ts"],
  bundle: true,
  minify: true,
  format: "iife",
  target: "es2022",
  define: { "process.env.NODE_ENV": '"production"' },
  write: false,
});
const code = outputFiles[0].text.replace("self.__WB_MANIFEST", () => JSON.stringify(manifest));
writeFileSync(join(site, "sw.js"), code);
