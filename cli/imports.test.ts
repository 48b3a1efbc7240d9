/** The rules on which way imports point (`.dependency-cruiser.cjs`), for the files that program cannot read: `.astro`. */
import { readdirSync, readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { posix } from "node:path";
import { fileURLToPath } from "node:url";
import { expect, it } from "vitest";

const ROOT = fileURLToPath(new URL("..", import.meta.url));

interface Side {
  path?: string;
  pathNot?: string;
}
interface Rule {
  name: string;
  from: Side;
  to: Side & { circular?: boolean };
}

const { forbidden } = createRequire(import.meta.url)(`${ROOT}.dependency-cruiser.cjs`) as { forbidden: Rule[] };

const fits = ({ path, pathNot }: Side, file: string, group = ""): boolean => {
  const test = (pattern: string) => new RegExp(pattern.replaceAll("$1", group)).test(file);
  return (path === undefined || test(path)) && (pathNot === undefined || !test(pathNot));
};

const brokenBy = (from: string, to: string): string[] =>
  forbidden
    .filter((rule) => !rule.to.circular && fits(rule.from, from))
    .filter((rule) => fits(rule.to, to, rule.from.path ? (new RegExp(rule.from.path).exec(from)?.[1] ?? "") : ""))
    .map(({ name }) => name);

/** What a file imports, as paths of this checkout; names of packages as they are. */
const importsOf = (file: string): string[] =>
  [...readFileSync(`${ROOT}${file}`, "utf8").matchAll(/^import [^"]*"([^"]+)";?$/gm)].map(([, name = ""]) =>
    name.startsWith(".") ? posix.normalize(posix.join(posix.dirname(file), name)) : name,
  );

it("hold for pages, layouts and components written for the server", () => {
  const files = readdirSync(`${ROOT}src`, { recursive: true, encoding: "utf8" })
    .filter((file) => file.endsWith(".astro"))
    .map((file) => `src/${file}`);
  expect(files.length).toBeGreaterThan(10);
  for (const file of files) for (const to of importsOf(file)) expect([file, to, brokenBy(file, to)]).toEqual([file, to, []]);
  // The very rules: a page may not reach into a room of the core, an interface component not into the server's services.
  expect(brokenBy("src/pages/x.astro", "src/core/access/decide/tables.ts")).toEqual(["the-core-has-faces"]);
  expect(brokenBy("src/islands/x.ts", "src/server/db/client.ts")).toEqual(["islands-never-know-the-server"]);
});
