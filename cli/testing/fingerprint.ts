/** A text that changes with whatever some files are made of: they themselves and all they import, and data they read. */
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";

export const ROOT = fileURLToPath(new URL("../..", import.meta.url));

/** What a file names to be imported, types left aside: they make nothing. */
const NAMED = /^(?:import|export)\s(?!type\b)[^"]*?from "(\.[^"]+)"|^import "(\.[^"]+)"|import\("(\.[^"]+)"\)/gm;

function* filesBelow(path: string): Generator<string> {
  if (!statSync(path).isDirectory()) return void (yield path);
  for (const name of readdirSync(path).sort()) yield* filesBelow(join(path, name));
}

/** These files and everything of this checkout that they import. */
function withImports(entries: readonly string[]): string[] {
  const found = new Set(entries);
  for (const file of found) {
    for (const [, from, alone, later] of readFileSync(file, "utf8").matchAll(NAMED)) {
      const imported = resolve(dirname(file), from ?? alone ?? later ?? "");
      if (existsSync(imported)) found.add(imported);
    }
  }
  return [...found].sort();
}

/** Of files by their path in this checkout, all they import, and whatever lies in `data` (files or folders). */
export function fingerprint(entries: readonly string[], data: readonly string[], ...more: string[]): string {
  const hash = createHash("sha256").update(more.join("\0"));
  const files = [...withImports(entries.map((it) => join(ROOT, it))), ...data.flatMap((it) => [...filesBelow(join(ROOT, it))])];
  for (const file of files) hash.update(file.slice(ROOT.length)).update(readFileSync(file));
  return hash.digest("hex");
}
