import node from "@astrojs/node";
import react from "@astrojs/react";
import { defineConfig } from "astro/config";

export default defineConfig({
  output: "server",
  adapter: node({ mode: "standalone" }),
  integrations: [react()],
  trailingSlash: "never",
  devToolbar: { enabled: false },
  // The wrapper in src/server/http checks the origin of every change itself.
  security: { checkOrigin: false },
  experimental: {
    csp: { directives: ["default-src 'self'", "object-src 'none'", "base-uri 'self'", "form-action 'self'", "frame-ancestors 'none'"] },
  },
  vite: { build: { assetsInlineLimit: 0 }, ssr: { external: ["better-auth", "postgres", "drizzle-orm"] } },
});
