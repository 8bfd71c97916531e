import { defineConfig } from "@playwright/test";

export default defineConfig({
  testDir: "tests/e2e",
  testMatch: "*.spec.ts",
  // Files with sound run one at a time (the audio clock wants a core to itself), the others beside one another: see tests/run.mjs.
  projects: [
    { name: "quiet", testMatch: "*.quiet.spec.ts" },
    { name: "sound", testMatch: "*.sound.spec.ts" },
  ],
  // Generous, for a machine that is busy with something else: what passes does not wait for them.
  timeout: 300_000,
  expect: { timeout: 45_000 },
  forbidOnly: true,
  use: {
    trace: "retain-on-failure",
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
      args: [
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
