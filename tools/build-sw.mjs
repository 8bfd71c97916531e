// Builds the service worker of the stand and writes into it which files the stand needs: those that its page leads to.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";
import { getManifest } from "workbox-build";

const site = "dist/site/client";
const folder = join(site, "_astro");

const files = readdirSync(folder);
/** Everything that a file names and that lies beside it: chunks, workers, worklets, letters. */
const named = (file) => {
  const source = /\.(js|css)$/.test(file) ? readFileSync(join(folder, file), "utf8") : "";
  return files.filter((other) => other !== file && source.includes(other));
};
const wanted = new Set(files.filter((file) => /^(Stand|client)\./.test(file) || file.endsWith(".css")));
if (![...wanted].some((file) => file.startsWith("Stand.")))
  throw new Error("The page of the stand was not built");
for (const file of wanted) for (const other of named(file)) wanted.add(other);
// Old letters are for browsers that have no service worker either.
const kept = [...wanted].filter((file) => !file.endsWith(".woff"));

const { manifestEntries, warnings } = await getManifest({
  globDirectory: site,
  globPatterns: [...kept.map((file) => `_astro/${file}`), "favicon.svg", "stand.webmanifest"],
  // Names with a hash need no revision of their own.
  dontCacheBustURLsMatching: /_astro\//,
  maximumFileSizeToCacheInBytes: 4_000_000,
});
if (warnings.length > 0) throw new Error(warnings.join("\n"));

const { outputFiles } = await build({
  entryPoints: ["src/workers/stand.sw.ts"],
  bundle: true,
  minify: true,
  format: "iife",
  target: "es2022",
  define: { "process.env.NODE_ENV": '"production"' },
  write: false,
});
const code = outputFiles[0].text.replace("self.__WB_MANIFEST", () => JSON.stringify(manifestEntries));
writeFileSync(join(site, "sw.js"), code);
