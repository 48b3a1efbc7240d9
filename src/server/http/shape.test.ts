/** What looking at a request costs is bounded, whatever it holds: by elements looked into, faults told and bytes answered. */
import { getMetadataStorage } from "class-validator";
import { beforeAll, expect, it } from "vitest";
import { costly, fieldsOf } from "../../../test/costly.ts";
import { CONTRACTS } from "../../contracts/all.ts";
import type { Trouble } from "../trouble.ts";
import { readForm, readJson, readQuery } from "./border.ts";
import { checkShape } from "./shape.ts";

/** How often a thing's class was asked about, or its fields: each time one is looked into, by whichever library. */
let looked = 0;

/** The same value, whose things notice that somebody looks into them; each is made to when it is come to. */
function watched(value: unknown, known = new WeakMap<object, unknown>()): unknown {
  if (typeof value !== "object" || value === null) return value;
  const ownKeys = (it: object) => {
    if (!Array.isArray(it)) looked++;
    return Reflect.ownKeys(it);
  };
  if (!known.has(value)) known.set(value, new Proxy(value, { ownKeys, get: (it, name) => watched(Reflect.get(it, name), known) }));
  return known.get(value);
}
beforeAll(() => {
  const storage = getMetadataStorage();
  const { getTargetValidationMetadatas: find } = storage;
  storage.getTargetValidationMetadatas = (...asked) => {
    looked++;
    return find.apply(storage, asked);
  };
});

/** As a list of so many is allowed anywhere, each looked into at most a few times; and nothing multiplies that. */
const MOST_LOOKED = 25_000;
const MOST_ANSWERED = 20_000;

/** Each class that requests are held to, by one of the endpoints that take it: what it costs goes by the class alone. */
const shapes = new Map(
  CONTRACTS.flatMap(({ method, path, body, query }) => [
    ...(body ? [[body, `${method} ${path}`] as const] : []),
    ...(query ? [[query, `${method} ${path}?`] as const] : []),
  ]),
);

it.each([...shapes].map(([type, where]) => [where, type] as const))("costs no more than is said: %s", async (_, type) => {
  for (const [what, value] of costly(fieldsOf(type))) {
    const sent = watched(value);
    looked = 0;
    const error = (await checkShape(type, sent).then(
      () => null,
      (it: Trouble) => it,
    )) as Trouble | null;
    const told = error === null ? 0 : Buffer.byteLength(JSON.stringify([error.message, error.details]));
    expect([what, looked <= MOST_LOOKED, told <= MOST_ANSWERED]).toEqual([what, true, true]);
    expect((error?.details as unknown[] | undefined)?.length ?? 0).toBeLessThanOrEqual(20);
  }
});

it("goes no further than the border where there are too many values, fields or names", async () => {
  const sent = (body: string, type = "application/json") =>
    new Request("http://here/", { method: "POST", body, headers: { "content-type": type } });
  const says = (work: Promise<unknown>) =>
    work.then(
      () => "",
      ({ message }: Error) => message,
    );
  expect(await says(readJson(sent(`[${"0,".repeat(200_000)}0]`)))).toContain("more than 150,000 values");
  const fields = Array.from({ length: 600 }, (_, i) => `"n${i}":0`).join();
  expect(await says(readJson(sent(`{"a":[{${fields}}]}`)))).toContain("more than 500 fields");
  // A name that nobody knows is told again in the refusal: it has an end.
  const long = "n".repeat(100_000);
  expect(await says(readJson(sent(`{"a":{"${long}":{}}}`)))).toContain("longer than 200");
  expect(() => readQuery(new URL(`http://here/?${long}=1`))).toThrow("longer than 200");
  const names = Array.from({ length: 2_000 }, (_, i) => `n${i}=`).join("&");
  expect(await says(readForm(sent(names, "application/x-www-form-urlencoded")))).toContain("more than 60 names");
  expect(() => readQuery(new URL(`http://here/?${names}`))).toThrow("more than 60 names");
  // What is in order is let by, as large as it may be.
  expect(await readJson(sent(`{"a":[${"0,".repeat(90_000)}0]}`))).toMatchObject({ a: expect.any(Array) });
});
