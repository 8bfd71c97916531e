import { availableParallelism } from "node:os";
import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["tests/**/*.test.ts"],
    // Every core: left to itself, a machine of two works on one. Each file has a database of its own.
    maxWorkers: availableParallelism(),
    testTimeout: 30_000,
    hookTimeout: 60_000,
    env: { TZ: "UTC", LOG_LEVEL: process.env.LOG_LEVEL ?? "silent" },
  },
});
