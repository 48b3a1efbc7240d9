/** What comes in: tags are words that are seen, short, and told apart by commas; edits have the fields that somebody may set. */
import { getMetadataStorage } from "class-validator";
import fc from "fast-check";
import { expect, it } from "vitest";
import { holds } from "../../test/holds.ts";
import { FIELDS, forbiddenFields } from "../core/access/authority/fields.ts";
import type { Person } from "../core/access/model/index.ts";
import { asLine, isLine } from "../core/words.ts";
import "./all.ts";
import { isTag } from "./checks.ts";
import { EDIT_BODIES } from "./rules.ts";

it("a tag is a text that survives being typed in a list with commas; nothing blank is one", () => {
  holds(
    fc.property(fc.string({ maxLength: 60, unit: "grapheme" }), (text) => {
      if (!isTag(text)) return;
      expect(`x, ${text} ,y`.split(",").map((part) => part.trim())).toEqual(["x", text, "y"]);
    }),
    { runs: 1_000 },
  );
  for (const no of ["", " ", "\u200b", "\u2060\u200d", " a", "a ", "a,b", "a\nb", "x".repeat(41), 7, null, ["a"]])
    expect([no, isTag(no)]).toEqual([no, false]);
  for (const yes of ["a", "patrol-route", "two words", "Ölfass", "=sum", "__proto__", "x".repeat(40)])
    expect([yes, isTag(yes)]).toEqual([yes, true]);
});

it("every name and title that can be sent is one line", () => {
  // What is searched for, or repeated to show that it is meant; words of programs; what stood before.
  const others = [
    "PeopleFilter.words",
    "ErasePersonBody.name",
    "ActionBody.name",
    "SettingsBefore.name",
    "GroupBody.name",
    "PersonBody.name",
    "ColumnsBody.name",
  ];
  const storage = getMetadataStorage();
  const targets = new Map(
    [...(storage as unknown as { validationMetadatas: Map<new () => object, unknown> }).validationMetadatas.keys()].map((it) => [
      it.name,
      it,
    ]),
  );
  const named = [...targets].flatMap(([name, target]) => {
    const fields = storage.getTargetValidationMetadatas(target, "", false, false);
    return ["name", "title", "heading"].flatMap((field) => {
      const checks = fields.filter((it) => it.propertyName === field).map((it) => it.name);
      return checks.length > 0 && !others.includes(`${name}.${field}`) ? [[`${name}.${field}`, checks.includes("isLine")]] : [];
    });
  });
  expect(named.length).toBeGreaterThan(12);
  expect(named.filter(([, held]) => !held)).toEqual([]);
  for (const no of ["a\nb", "a\r\nb", "a\u2028b", "a\u0085b", "a\tb", "\u001b[1m"])
    expect([no, isLine(no), isLine(asLine(no))]).toEqual([no, false, true]);
  expect(isLine("Käse‍🧀 – “x”")).toBe(true);
});

it("every field that can be sent is named with who may change it; what is not named is nobody's to set", () => {
  const named = FIELDS as Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  const kinds = new Set<string>(EDIT_BODIES.map(({ name }) => name));
  // Passes and flags have doors of their own.
  expect(
    Object.keys(named)
      .filter((kind) => !kinds.has(kind))
      .sort(),
  ).toEqual(["flag", "pass"]);
  const gus: Person = { id: "gus", kind: "guest", status: "active" };
  const odd = { ...gus, since: "2026" } as Person;
  expect(forbiddenFields({ kind: "person", person: "gus", remove: gus, put: odd })).toEqual(["since"]);
  const pledge = { id: "q", who: { class: "outsiders" as const }, rule: "never" as const, ability: "read" as const, where: {} };
  expect(forbiddenFields({ kind: "pledge", pledge: "q", remove: pledge, put: { ...pledge, id: "r" } })).toEqual(["id"]);
  expect(forbiddenFields({ kind: "pledge", pledge: "q", put: pledge })).toEqual([]);
});
