/** Every task that is done aside is known there by its name: one that is not would be lost on a large site alone. */
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { expect, it } from "vitest";
import { TASKS } from "./tasks.ts";

it("knows each task by the name it is given, and no other", () => {
  const root = fileURLToPath(new URL("../", import.meta.url));
  const files = readdirSync(root, { recursive: true, encoding: "utf8" }).filter((file) => /(?<!\.test)\.ts$/.test(file));
  const named = files.flatMap((file) =>
    [...readFileSync(root + file, "utf8").matchAll(/(?:ofWholeSite|whereItFits|nowOrThen)\(\s*"(\w+)"/g)].map(([, name]) => name ?? ""),
  );
  expect([...new Set(named)].sort()).toEqual(Object.keys(TASKS).sort());
});
