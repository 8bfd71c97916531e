import node from "@astrojs/node";
import react from "@astrojs/react";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "astro/config";

// The host names the built server may believe in a request; see docs/decisions/0004-security.md.
const publicUrl = process.env.PUBLIC_URL ? [{ hostname: new URL(process.env.PUBLIC_URL).hostname }] : [];

export default defineConfig({
  output: "server",
  outDir: "dist/site",
  adapter: node({ mode: "standalone" }),
  // Islands are rendered in one go: none of them waits for anything, and streaming them costs twice the time.
  integrations: [react({ experimentalDisableStreaming: true })],
  devToolbar: { enabled: false },
  security: {
    checkOrigin: false, // the middleware checks Origin for every state-changing request, JSON included
    allowedDomains: [{ hostname: "127.0.0.1" }, { hostname: "localhost" }, ...publicUrl],
  },
  experimental: {
    csp: {
      directives: [
        "default-src 'self'",
        "img-src 'self' data:",
        "media-src 'self' blob:",
        "connect-src 'self'",
        "worker-src 'self' blob:",
        "font-src 'self' data:",
        "object-src 'none'",
        "base-uri 'self'",
        "form-action 'self'",
        "frame-ancestors 'none'",
      ],
    },
  },
  vite: {
    plugins: [tailwindcss()],
    worker: { format: "es" },
    build: { assetsInlineLimit: 0 },
    ssr: {
      external: [
        "sequelize",
        "mariadb",
        "umzug",
        "@node-rs/argon2",
        "pino",
        "libflacjs",
        "verovio",
        "playwright-core",
      ],
    },
  },
});
