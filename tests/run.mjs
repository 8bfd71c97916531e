// Runs every check, counts what passed and what failed, and says so in the last line.
import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";

const home = process.env.ULU_HOME;
let passed = 0;
let failed = 0;

function run(name, command, args, env = {}) {
  console.log(`\n== ${name}`);
  const started = Date.now();
  const { status } = spawnSync(join("node_modules/.bin", command), args, {
    stdio: "inherit",
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: "1", ...env },
  });
  console.log(`   ${Math.round((Date.now() - started) / 1000)} s`);
  return status === 0;
}

/** A check that is right or wrong as a whole counts as one. */
function check(name, command, args) {
  if (run(name, command, args)) passed++;
  else failed++;
}

/** A test runner's own count; a run that left no report is one failure. */
function count(ok, file, tally) {
  try {
    const [good, bad] = tally(JSON.parse(readFileSync(file, "utf8")));
    passed += good;
    failed += bad > 0 || ok ? bad : 1;
  } catch (error) {
    console.error(`No report: ${error.message}`);
    failed++;
  }
}

// `bin/test quick` answers in three minutes: types, lint, layers, and everything that needs no database and no browser.
const quick = process.argv[2] === "quick";

check("types", "astro", ["check", "--minimumSeverity", "warning"]);
check("lint and format", "biome", ["check", "."]);
check("dependency rules", "depcruise", [
  "src",
  "demo",
  "tests",
  "tools",
  "--config",
  ".dependency-cruiser.cjs",
]);
check("unused code", "knip", []);

function vitest(name, folders, extra = []) {
  const file = join(home, `${name.replaceAll(/\W+/g, "-")}.json`);
  const options = [
    "run",
    ...folders,
    ...extra,
    "--reporter=default",
    "--reporter=json",
    `--outputFile.json=${file}`,
  ];
  count(run(name, "vitest", options), file, (report) => [
    report.numPassedTests,
    report.numFailedTests +
      report.testResults.filter((each) => each.status === "failed" && each.assertionResults.length === 0)
        .length,
  ]);
}

const UNIT = ["tests/core", "tests/client", "tests/ui"];
vitest("unit", UNIT);
if (!quick) {
  vitest(
    "reference, data, server and security",
    ["tests"],
    UNIT.map((folder) => `--exclude=${folder}/**`),
  );
  for (const [project, workers] of [
    ["quiet", 2],
    ["sound", 1],
  ]) {
    const file = join(home, `${project}.json`);
    const options = ["test", `--project=${project}`, `--workers=${workers}`, "--reporter=list,json"];
    count(
      run(`end to end, ${project}`, "playwright", options, { PLAYWRIGHT_JSON_OUTPUT_NAME: file }),
      file,
      (report) => [report.stats.expected, report.stats.unexpected + report.stats.flaky],
    );
  }
}

console.log(`\n${passed} passed, ${failed} failed`);
process.exitCode = failed > 0 ? 1 : 0;
