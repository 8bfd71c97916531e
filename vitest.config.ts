import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["tests/**/*.test.ts"],
    testTimeout: 30_000,
    hookTimeout: 60_000,
    env: { TZ: "UTC", LOG_LEVEL: process.env.LOG_LEVEL ?? "silent" },
  },
});
