/** The grid and the slip as of another instant: as they were then, by what their asker keeps today; and as they will be by themselves. */
import { setTimeout } from "node:timers/promises";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import type { Grid, GridRow } from "../../../contracts/grid.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { inChange } from "../../db/client.ts";
import { makeChange } from "../change/apply.ts";
import { readReaderPage } from "../reading/reading.ts";
import { readSlip } from "../slip/slip.ts";
import { readWho } from "../slip/who.ts";
import { readWhoHistory } from "../slip/whoHistory.ts";
import { readWhy } from "../slip/why.ts";
import { schedulePage } from "../writing/scheduling.ts";
import { readWorking } from "../writing/writing.ts";
import { readGrid } from "./grid.ts";

onDatabase("demo");

const DAY = 86_400_000;
const columns = ["public", "guests", "members", "group:pilots", "person:dora", "member+pilots", "guest+agents"];
const change = (edits: Edit[], acts: LifeAct[] = []) =>
  inChange((tx) =>
    makeChange(tx, {
      maker: "ines",
      edits,
      acts,
      act: acts[0]?.act ?? "rules",
      note: "",
      reason: "To look back at it.",
      writesLive: edits.flatMap((it) => (it.kind === "state" ? [it.place] : [])),
    }),
  );
const grid = (who: string, at?: string) => readGrid(who, { columns, at });
/** What is shown, without what can be done about it. */
const shown = ({ columns: heads, rows }: Grid) => ({
  heads: heads.map(({ key, name, people }) => [key, name, people]),
  rows: rows.map(({ editable: _, acts: __, ...row }) => row),
});
const rowOf = ({ rows }: Grid, id: string): GridRow | undefined => rows.find((row) => row.id === id);
const who = async (id: string, at?: string) => {
  const { lines, outside, members } = await readWho("ines", id, at ? { at } : {});
  return { lines, outside, members };
};

it("is as it was, whatever was done since to rules, states, groups, titles and where places stand; nothing can be done in it", async () => {
  const before = await grid("ines");
  const asked = { place: "berthplan", viewpoint: "group:pilots" };
  const said = { who: await who("berthplan"), why: await readWhy("ines", asked), slip: await readSlip("ines", "berthplan") };
  await setTimeout(5);
  const at = new Date().toISOString();
  await setTimeout(5);
  await change([
    { kind: "grant", place: "berthplan", put: { to: { group: "pilots" }, abilities: ["read", "discuss", "revise"] } },
    { kind: "fence", place: "quays", put: { kind: "read", admits: [{ audience: "members" }] } },
    { kind: "member", group: "pilots", put: { person: "mei" } },
  ]);
  await change([], [{ act: "archive", places: ["mooring"], below: "along" }]);
  await change([], [{ act: "move", places: ["shorepower"], to: "berthplan" }]);
  await change([
    {
      kind: "person",
      person: "dora",
      remove: { id: "dora", name: "Dóra Szabó", kind: "guest", status: "active" },
      put: { id: "dora", name: "Dóra Szabó", kind: "guest", status: "suspended" },
    },
  ]);
  expect(shown(await grid("ines"))).not.toEqual(shown(before));
  const then = await grid("ines", at);
  expect(shown(then)).toEqual(shown(before));
  expect([
    then.rows.every(({ editable, acts }) => !editable && acts.length === 0),
    then.columns.every(({ settable }) => !settable),
  ]).toEqual([true, true]);
  expect(await who("berthplan", at)).toEqual(said.who);
  expect(await readWhy("ines", { ...asked, at })).toEqual(said.why);
  const slip = await readSlip("ines", "berthplan", at);
  expect(slip.rules.grants.map(({ text }) => text)).toEqual(said.slip.rules.grants.map(({ text }) => text));
  expect([slip.acts, slip.asOf, slip.life.lastChange]).toEqual([[], at, said.slip.life.lastChange]);
  const [newest] = (await readWhoHistory("ines", "berthrequests")).changes;
  expect(newest).toMatchObject({ who: "Ines Carvalho", lost: { guests: expect.any(Number) } });
});

it("tells nothing that was erased since, also to whoever looked back at it just before", async () => {
  const at = new Date().toISOString();
  await setTimeout(5);
  await change([{ kind: "grant", place: "faxes", put: { to: { group: "pilots" }, abilities: ["read"] } }]);
  const told = async () => [rowOf(await grid("ines", at), "faxes")?.title, (await readSlip("ines", "faxes", at)).title];
  expect(await told()).toEqual(["Sending a fax", "Sending a fax"]);
  await change([], [{ act: "erase", places: ["faxes"], pages: 1 }]);
  expect(await told()).toEqual(["", ""]);
});

it("shows a keeper of a space what they keep today, as it was, and nobody what they do not keep; never from before it began", async () => {
  const month = new Date(Date.now() - 60 * DAY).toISOString();
  const mine = await grid("maren", month);
  const known = mine.rows.filter(({ title, kind }) => title !== "" && kind !== "site");
  expect(known.length).toBeGreaterThan(10);
  const today = await grid("maren");
  for (const row of known) expect([row.id, rowOf(today, row.id)?.editable]).toEqual([row.id, true]);
  expect((await grid("mei", month)).rows).toEqual([]);
  for (const read of [readSlip, (asker: string, id: string, at?: string) => readWho(asker, id, at ? { at } : {})]) {
    expect(await told(read("maren", "patrols", month))).toBe(await told(read("maren", "none", month)));
    expect(await status(read("viktor", "patrols", month))).toBe(200);
  }
  expect(await told(grid("ines", "2001-01-01T00:00:00Z"))).toContain("400 The site was not there yet");
  expect(await told(grid("ines", "9000-01-01T00:00:00Z"))).toContain("400 That instant lies more than 50 years ahead");
});

it("is as it will be by itself: what is scheduled is live, what ends has ended, what was refused is not", async () => {
  const draft = (await grid("ines")).rows.find(({ state, kind }) => state === "draft" && kind === "page");
  const id = draft?.id ?? "";
  const page = await readWorking("ines", id);
  await schedulePage("ines", id, {
    what: "live",
    at: new Date(Date.now() + 3 * DAY).toISOString(),
    zone: "UTC",
    note: "",
    version: page.version,
    keepHelpers: false,
  });
  const until = new Date(Date.now() + 2 * DAY).toISOString();
  await change([{ kind: "grant", place: "handbookhome", put: { to: { audience: "public" }, abilities: ["read"], until } }]);
  const [soon, later] = [1, 4].map((days) => new Date(Date.now() + days * DAY).toISOString());
  expect([rowOf(await grid("ines", soon), id)?.state, rowOf(await grid("ines", later), id)?.state]).toEqual(["scheduled", "live"]);
  const publicAt = async (at?: string) => rowOf(await grid("ines", at), "handbookhome")?.cells?.[0]?.set;
  expect([await publicAt(soon), await publicAt(later), await publicAt()]).toEqual([1, 0, 1]);
});

it("has imagined people as columns: what their groups get, beside nobody who is here", async () => {
  const { columns: heads, rows } = await grid("ines");
  expect(heads.slice(-2).map(({ name, people, settable }) => [name, people, settable])).toEqual([
    ["Any member in Pilots", 1, false],
    ["Any guest in Shipping Agents", 1, false],
  ]);
  for (const { cells } of rows) {
    const [everybody = 0, , members = 0, , , pilot = 0, agent = 0] = (cells ?? []).map((cell) => cell?.set ?? 0);
    expect([everybody & ~agent, members & ~pilot]).toEqual([0, 0]);
  }
  expect(rows.some(({ cells }) => (cells?.[5]?.set ?? 0) !== (cells?.[2]?.set ?? 0))).toBe(true);
  expect((await readWhy("ines", { place: "tidetables", viewpoint: "member+pilots", ability: "publish" })).answer).toContain(
    "Any member in Pilots can publish",
  );
  expect((await readGrid("ines", { columns: ["member+nobody"] })).columns).toEqual([]);
  expect(await told(readWhy("ines", { place: "tidetables", viewpoint: "member+nobody" }))).toContain("nobody in this column");
});

it("lets pages be walked through imagined eyes by whoever keeps something, as far as they keep it", async () => {
  const walk = (me: string | null, viewpoint: string, id: string) => readReaderPage({ me, viewpoint }, "x", id);
  const page = await walk("ines", "member+pilots", "boarding");
  expect([page.eyes, page.prefix, page.asking]).toEqual(["any member in Pilots", "/eyes/member+pilots", 0]);
  expect(await walk("anouk", "guest+agents", "tidetables")).toMatchObject({ partial: true, indexed: false });
  const hidden = await told(walk("maren", "member+security", "patrols"));
  expect([await told(walk("maren", "member+security", "nowhere")), await told(walk("mei", "member+pilots", "boarding"))]).toEqual([
    hidden,
    hidden,
  ]);
  for (const [me, viewpoint] of [
    [null, "member+pilots"],
    ["dora", "member+pilots"],
    ["ines", "member+nobody"],
  ] as const)
    expect(await status(walk(me, viewpoint, "tidetables"))).toBe(404);
});
