/** Guests from outside: held to a plain reading of every page, told as far as the asker may see rules, and ended by edits that take nobody else anything. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { subjectOf } from "../../../core/access/index/index.ts";
import { LEVELS, levelWithin } from "../../../core/access/model/index.ts";
import { accessNow, cellOf, subjectFor } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import { database, inChange } from "../../db/client.ts";
import { pageUses } from "../../db/schema/index.ts";
import { makeChange } from "../change/apply.ts";
import { previewHere } from "../change/preview.ts";
import { forgetUses, noteUse } from "../reading/uses.ts";
import { planGuests } from "./guestPlans.ts";
import { readGuests } from "./guests.ts";
import { readGuest } from "./guestWays.ts";

onDatabase("demo");

const namesOf = (rows: readonly { id: string }[]) => rows.map(({ id }) => id).sort();

it("have on each page what a plain reading gives them, where the asker may see rules; of others nothing is said", async () => {
  const access = await accessNow();
  const everybody = subjectFor(access, null);
  for (const asker of ["ines", "maren", "sorin", "viktor", "mei"]) {
    const me = subjectFor(access, asker);
    const { rows } = await readGuests(asker, { sort: "name" });
    const plainly = access.index.document.people
      .filter(({ kind }) => kind === "guest")
      .map(({ id }) => {
        const guest = subjectFor(access, id);
        const levels = LEVELS.map(() => 0);
        for (const page of access.index.places) {
          if (page.place.kind === "site" || page.place.kind === "space" || !mayKnowOthers(access, me, page)) continue;
          const set = cellOf(access, guest, page) & SET_OF_CELL;
          if (set && !(cellOf(access, everybody, page) & SET_OF_CELL)) levels[levelWithin(set)] = (levels[levelWithin(set)] ?? 0) + 1;
        }
        return { id, levels };
      });
    const reading = plainly.filter(({ levels }) => levels.some((count) => count > 0));
    const shown = rows.filter(({ levels }) => Object.values(levels).some((count) => count > 0));
    expect(namesOf(shown), asker).toEqual(namesOf(reading));
    for (const { id, levels } of reading)
      expect(Object.values(rows.find((row) => row.id === id)?.levels ?? {}), `${asker}: ${id}`).toEqual(levels);
    for (const { id, levels } of reading) {
      const { ways, pages, more } = await readGuest(asker, id);
      expect(pages.length + more, `${asker}: ${id}`).toBe(levels.reduce((sum, count) => sum + count, 0));
      expect(ways.length).toBeGreaterThan(0);
    }
    // Of whom nothing may be told, the answer is that of nobody.
    for (const { id } of plainly.filter((it) => !reading.includes(it)))
      expect(await status(readGuest(asker, id)), `${asker}: ${id}`).toBe(asker === "ines" ? 200 : 404);
  }
  expect([await status(readGuest("ines", "nobody")), await status(readGuest("ines", "maren"))]).toEqual([404, 404]);
  expect((await readGuests("mei", {})).rows).toEqual([]);
  // How they stand is for site keepers and whoever brought them in.
  const hers = (await readGuests("maren", {})).rows;
  expect(hers.filter(({ state }) => state !== null).map(({ by }) => by)).toEqual(["Maren Lüders"]);
  expect(hers.filter((it) => it.state === null && (it.until ?? it.signedIn ?? it.from ?? it.by) !== null)).toEqual([]);
});

it("who is forgotten stands first, and leaving them with what they use takes nobody else anything", async () => {
  const { rows, counts } = await readGuests("ines", { show: "unused" });
  expect(namesOf(rows)).toEqual(["anders", "milos"]);
  expect(counts.unused).toBe(2);
  expect(counts.out).toBeGreaterThan(0);
  const ids = [...rows.map(({ id }) => id), "dora"];
  const plans = await planGuests("ines", { guests: ids, act: "withdraw", until: null });
  expect(plans.find(({ guest }) => guest.id === "dora")?.why).toMatch(/used something|through groups/);
  const edits = plans.flatMap((plan) => plan.edits);
  const { ripple } = await previewHere("ines", edits);
  expect(ripple.lines.map(({ class: of }) => of)).not.toContain("members");
  expect(ripple.lines.flatMap(({ gains }) => gains)).toEqual([]);
  expect(new Set(ripple.lines.flatMap(({ names }) => names))).toEqual(new Set(["Miloš Jurić", "Anders Holm"]));
  await inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "" }));
  expect(namesOf((await readGuests("ines", { show: "unused" })).rows)).not.toContain("anders");
});

it("are ended now, or earlier than they would be; by whom the table says, and what cannot be is said", async () => {
  const [plan] = await planGuests("ines", { guests: ["bert"], act: "end", until: null });
  await inChange((tx) => makeChange(tx, { maker: "ines", edits: plan?.edits ?? [], act: "rules", note: "" }));
  expect((await readGuests("ines", { show: "out" })).rows.map(({ id, state }) => `${id} ${state}`)).toContain("bert over");
  expect((await planGuests("ines", { guests: ["bert"], act: "end", until: null }))[0]?.why).toContain("already");
  const far = "2099-01-01T00:00:00.000Z";
  expect((await planGuests("ines", { guests: ["carla"], act: "shorten", until: far }))[0]?.why).toContain("before that");
  expect(await told(planGuests("ines", { guests: ["carla"], act: "shorten", until: "2020-01-01T00:00:00Z" }))).toContain("lies ahead");
  expect(await status(planGuests("ines", { guests: ["carla"], act: "shorten", until: null }))).toBe(400);
  expect(await status(planGuests("maren", { guests: ["carla"], act: "end", until: null }))).toBe(403);
  expect(await status(planGuests("maren", { guests: ["nobody"], act: "end", until: null }))).toBe(404);
});

it("read pages, and that is kept to the hour and for as long as the house rules say", async () => {
  const of = async () => (await database().select().from(pageUses)).filter(({ personId }) => personId === "greer");
  await database().delete(pageUses);
  await noteUse("inquiry13", "greer");
  const [first] = await of();
  await noteUse("inquiry13", "greer");
  expect(await of()).toEqual([first]);
  await forgetUses(Date.now() + 364 * 86_400_000);
  expect(await of()).toHaveLength(1);
  await inChange((tx) =>
    makeChange(tx, { maker: "ines", edits: [{ kind: "house", from: { useDays: 365 }, to: { useDays: 0 } }], act: "rules", note: "" }),
  );
  await noteUse("tidetables", "greer");
  await forgetUses();
  expect(await of()).toEqual([]);
  expect(await told(planGuests("ines", { guests: ["greer"], act: "withdraw", until: null }))).toContain("for 0 days");
  expect((await readGuests("ines", {})).counts.unused).toBe(0);
  expect(subjectOf((await accessNow()).index, { person: "greer" })?.class).toBe("guests");
});

it("are found by name, in the order asked for, from where a page of the list ended", async () => {
  const names = async (query: Parameters<typeof readGuests>[1]) => (await readGuests("ines", query)).rows.map(({ name }) => name);
  expect(await names({ words: "szabo" })).toEqual(["Dóra Szabó"]);
  expect(await names({ words: "nobody at all" })).toEqual([]);
  const byEnd = (await readGuests("ines", { sort: "until" })).rows.map(({ until }) => until ?? "9");
  expect(byEnd).toEqual([...byEnd].sort());
  const inOrder = await names({ sort: "name" });
  const after = (value: string, id: string) => Buffer.from(JSON.stringify([value, id])).toString("base64url");
  expect(await names({ sort: "name", after: after("2", "gone") })).toEqual(inOrder.slice(2));
  expect(await names({ sort: "name", after: after("x", "gone") })).toEqual(inOrder);
  // A keeper of a space learns no end, also not by the order.
  const hers = (await readGuests("maren", { sort: "until" })).rows;
  const told = hers.filter(({ until }) => until !== null);
  expect(hers.slice(0, told.length)).toEqual(told);
  const others = hers.slice(told.length).map(({ name }) => name);
  expect(others).toEqual((await readGuests("maren", { sort: "name" })).rows.map(({ name }) => name).filter((it) => others.includes(it)));
});
