/** Pledges: tried before they are kept, broken first with why and what mends them, and when they broke and mended, by whom or by the clock. */
import { setTimeout } from "node:timers/promises";
import { asc } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import type { Edit, Pledge } from "../../../core/access/model/index.ts";
import { database, inChange } from "../../db/client.ts";
import { pledgeTurns } from "../../db/schema/index.ts";
import { makeChange } from "../change/apply.ts";
import { proposeHere } from "../change/proposals.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { readPledge, readPledges, tryPledge } from "./pledges.ts";
import { rebuildTurns, turnByClock } from "./turns.ts";

onDatabase("demo");

const change = (edits: Edit[], reason?: string) =>
  inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "", ...(reason ? { reason } : {}) }));
const rowOf = async (id: string) => (await readPledges("ines")).pledges.find(({ pledge }) => pledge.id === id);
const turns = () => database().select().from(pledgeTurns).orderBy(asc(pledgeTurns.nth));

it("are told broken ones first, with who breaks them and why, to site keepers alone", async () => {
  const { pledges } = await readPledges("ines");
  expect(pledges.map(({ count }) => count > 0)).toEqual([true, false, false, false, false]);
  expect(pledges[0]).toMatchObject({
    pledge: { id: "pledgepatrol" },
    places: 1,
    turns: [{ broken: true, entry: { who: "Ines Carvalho" } }],
  });
  const { witnesses } = await readPledge("ines", "pledgepatrol");
  expect(witnesses).toMatchObject([{ place: { id: "crowdwatch" }, mend: { column: "public", level: 0 } }]);
  expect(witnesses[0]?.steps.join(" ")).toContain("For visitors");
  for (const asker of ["maren", "viktor", "mei"])
    expect([await status(readPledges(asker)), await status(readPledge(asker, "pledgepatrol"))]).toEqual([403, 403]);
  expect(await status(readPledge("ines", "none"))).toBe(404);
});

it("are mended by what is offered, and that is kept with whose entry did it; broken again, too", async () => {
  const { best } = await proposeHere("ines", ["crowdwatch"], [{ principal: { audience: "public" }, level: 0 }], []);
  const edits = best?.edits ?? [];
  const { seq } = await change(edits);
  expect(await rowOf("pledgepatrol")).toMatchObject({ count: 0, turns: [{ broken: false, entry: { seq } }, { broken: true }] });
  const { seen } = await previewTakeBack("ines", seq);
  expect(await told(takeBack("ines", seq, { note: "", seen }))).toContain("breaks a pledge");
  await takeBack("ines", seq, { note: "", seen, reason: "To see what is said." });
  expect((await rowOf("pledgepatrol"))?.turns.map(({ broken }) => broken)).toEqual([true, false, true]);
  const kept = (await turns()).map(({ nth: _, ...rest }) => rest);
  await inChange((tx) => rebuildTurns(tx));
  expect((await turns()).map(({ nth: _, ...rest }) => rest)).toEqual(kept);
});

it("are tried before they are kept; what they name must be there; a broken one needs a reason", async () => {
  const said = { who: { class: "guests" }, rule: "never", ability: "discuss", where: { space: "quays" } } as const;
  const tried = await tryPledge("ines", said);
  expect(tried).toMatchObject({ sentence: expect.stringContaining("guests never comment"), places: expect.any(Number) });
  expect(tried.count).toBeGreaterThan(0);
  expect(tried.witnesses[0]?.mend).toMatchObject({ column: expect.stringMatching(/^person:/), level: 1 });
  expect(await status(tryPledge("ines", { ...said, who: { group: "none" } }))).toBe(400);
  expect(await status(tryPledge("ines", { ...said, who: { group: "pilots", person: "mei" } }))).toBe(400);
  expect(await status(tryPledge("ines", { ...said, where: { subtree: "nowhere" } }))).toBe(400);
  expect(await status(tryPledge("maren", said))).toBe(403);
  const put: Pledge = { id: "mine", ...said };
  const edit: Edit = { kind: "pledge", pledge: "mine", put };
  expect(await status(change([edit]))).toBe(403);
  await change([edit], "It is to be mended this week.");
  expect(await rowOf("mine")).toMatchObject({ count: tried.count, turns: [{ broken: true }] });
  await change([{ kind: "pledge", pledge: "mine", remove: put }]);
  expect(await rowOf("mine")).toBeUndefined();
});

it("broken by the clock are kept with the instant of what ended, by nobody's entry, and once", async () => {
  const until = new Date(Date.now() + 1_500).toISOString();
  const who = { person: "mei" };
  await change([{ kind: "grant", place: "patrols", put: { to: who, abilities: ["read"], until } }], "For the night.");
  await change(
    [{ kind: "pledge", pledge: "night", put: { id: "night", who, rule: "always", ability: "read", where: { subtree: "patrols" } } }],
    "x",
  );
  await turnByClock();
  const before = (await rowOf("night"))?.count ?? 0;
  await setTimeout(1_700);
  await turnByClock();
  await turnByClock();
  const after = await rowOf("night");
  expect([before, after?.count]).toEqual([0, 1]);
  expect(after?.turns).toMatchObject([{ broken: true, entry: null, at: until }, { broken: false }]);
});

it("say of each who breaks it whose level would mend it: the audience's, the group's, their own, or the pass to withdraw", async () => {
  const mends = async (who: Pledge["who"], rule: Pledge["rule"], ability: Pledge["ability"], where: Pledge["where"]) =>
    (await tryPledge("ines", { who, rule, ability, where })).witnesses.map(({ mend }) => mend);
  expect(await mends({ group: "pilots" }, "always", "revise", { subtree: "patrols" })).toEqual([
    { column: "group:pilots", name: "Pilots", level: 3 },
  ]);
  expect(await mends({ class: "members" }, "never", "read", { subtree: "tidetables" })).toMatchObject([{ column: "members", level: 0 }]);
  expect(await mends({ class: "outsiders" }, "always", "read", { subtree: "patrols" })).toMatchObject([{ column: "public", level: 1 }]);
  expect(await mends({ class: "outsiders" }, "never", "read", { subtree: "landings" })).toContainEqual({ pass: "passlandings" });
  expect(await mends({ person: "mei" }, "never", "discuss", { space: "handbook", state: "live" })).toEqual([]);
  // At the site itself nobody but who keeps it has anything.
  const whole = await tryPledge("ines", { who: { class: "members" }, rule: "always", ability: "govern", where: {} });
  expect(whole.witnesses.find(({ place }) => place.name === "The site")).toMatchObject({ mend: { column: "members", level: 5 } });
  expect(whole.more).toBeGreaterThanOrEqual(0);
});
