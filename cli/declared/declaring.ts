/**
 * Writes down, as the application is built, everything it answers: the routes of `src/pages` and the built files with their
 * digests. The server process answers what stands in this list and nothing else: what a framework brings along is not ours.
 */
import { createHash } from "node:crypto";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import type { AstroIntegration } from "astro";
import type { DeclaredList } from "./list.ts";

/** SHA-256 of each file below a folder, by its path as it stands in addresses. */
function digestsOf(folder: string): Record<string, string> {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true }).filter((it) => it.isFile());
  const named = files.map((it) => {
    const path = join(it.parentPath, it.name);
    return [path.slice(folder.length - 1), createHash("sha256").update(readFileSync(path)).digest("hex")] as const;
  });
  return Object.fromEntries(named.sort(([a], [b]) => (a < b ? -1 : 1)));
}

export function declaring(): AstroIntegration {
  let routes: DeclaredList["routes"] = [];
  return {
    name: "declaring",
    hooks: {
      "astro:routes:resolved": (found) => {
        const ours = found.routes.filter(({ origin }) => origin === "project");
        routes = ours
          .map(({ pattern, patternRegex, type }) => ({ path: pattern, regex: patternRegex.source, type }))
          .sort((a, b) => (a.path < b.path ? -1 : 1));
      },
      "astro:build:done": ({ dir }) => {
        const list: DeclaredList = { routes, files: digestsOf(fileURLToPath(dir)) };
        writeFileSync(new URL("../declared.json", dir), `${JSON.stringify(list, null, 1)}\n`);
      },
    },
  };
}
