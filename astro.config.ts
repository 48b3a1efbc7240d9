import { fileURLToPath } from "node:url";
import node from "@astrojs/node";
import react from "@astrojs/react";
import { defineConfig } from "astro/config";
import { declaring } from "./cli/declared/declaring.ts";

/**
 * What travels is declared once (`src/contracts/`), with the classes that the server checks it by. A browser calls by path
 * and types and checks nothing: there the checking libraries are replaced by empty decorators.
 */
const uncheckedInBrowsers = {
  name: "unchecked-in-browsers",
  enforce: "pre" as const,
  resolveId(id: string, _from: string | undefined, { ssr }: { ssr?: boolean }) {
    const checks = ["class-validator", "class-transformer", "reflect-metadata"];
    return !ssr && checks.includes(id) ? fileURLToPath(new URL("./src/contracts/unchecked.ts", import.meta.url)) : null;
  },
};

export default defineConfig({
  output: "server",
  adapter: node({ mode: "middleware" }),
  integrations: [react(), declaring()],
  trailingSlash: "never",
  devToolbar: { enabled: false },
  // The middleware checks the origin of every change itself.
  security: { checkOrigin: false },
  experimental: {
    csp: { directives: ["default-src 'self'", "object-src 'none'", "base-uri 'self'", "form-action 'self'", "frame-ancestors 'none'"] },
  },
  vite: {
    plugins: [uncheckedInBrowsers],
    build: { assetsInlineLimit: 0 },
    ssr: { external: ["better-auth", "postgres", "drizzle-orm", "rate-limiter-flexible"] },
  },
});
