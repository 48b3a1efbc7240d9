/** Which page links to which, held to what the versions themselves say, whatever is saved, published, taken down or binned. */

import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { sql } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { decide } from "../../../core/access/decide/index.ts";
import { type CompiledPlace, type CompiledSubject, compile, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, type PageState, READ } from "../../../core/access/model/index.ts";
import { linksOf, type PageBody } from "../../../core/content/index.ts";
import { Dice } from "../../../demo/large/dice.ts";
import { readAccess } from "../../access/current.ts";
import { presentInstant } from "../../clock.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { links, pages, versions } from "../../db/schema/index.ts";
import { makeChange } from "../change/apply.ts";
import { readSlip } from "../slip/slip.ts";
import { publishPage } from "../writing/publishing.ts";
import { readWorking, saveVersion, startPage } from "../writing/writing.ts";
import { Readers } from "./linksHere.ts";

onDatabase("demo");

const MIGRATION = readFileSync(fileURLToPath(new URL("../../db/migrations/0005_links.sql", import.meta.url)), "utf8");

/** A body with links to these pages, one in a block of its own, the others nested in a list. */
const body = (targets: readonly string[]): PageBody => ({
  schema: 1,
  content: [
    { type: "paragraph", attrs: { id: "lead" }, content: targets.slice(0, 1).map(linkTo) },
    {
      type: "bulletList",
      content: [{ type: "listItem", content: [{ type: "paragraph", attrs: { id: "inner" }, content: targets.slice(1).map(linkTo) }] }],
    },
    { type: "paragraph", attrs: { id: "again" }, content: targets.slice(0, 1).map(linkTo) },
  ],
});
const linkTo = (page: string) => ({ type: "text", text: page, marks: [{ type: "link" as const, attrs: { page } }] });

const rowsKept = async () =>
  (await database().select().from(links)).map(({ placeId, live, targetId, block }) => `${placeId} ${live} ${targetId} ${block}`).sort();

/** What the versions say, worked out anew. */
async function rowsOfVersions(): Promise<string[]> {
  const all = await database().select().from(versions);
  const liveMajors = new Map((await database().select().from(pages)).map((it) => [it.placeId, it.liveMajor]));
  return [...liveMajors]
    .flatMap(([id, major]) => {
      const own = all.filter(({ placeId }) => placeId === id).sort((a, b) => b.major - a.major || b.minor - a.minor);
      const live = own.find((it) => it.major === major && it.minor === 0);
      const newest = own[0] === live ? undefined : own[0];
      const rows = (version: typeof live, isLive: boolean) =>
        version ? linksOf(version.body).map(({ page, block }) => `${id} ${isLive} ${page} ${block}`) : [];
      return [...rows(live, true), ...rows(newest, false)];
    })
    .sort();
}

it("is what the live version and the newest one say, after any history; and what the migration makes of them", async () => {
  const dice = new Dice(20270413);
  const ids = [];
  for (let i = 0; i < 5; i++)
    ids.push((await startPage("maren", { parent: "quays", as: "page", title: `Links ${i}`, body: body(["cranes"]) })).id);
  const targets = [...ids, "cranes", "tidetables", "nowhere"];
  for (let i = 0; i < 60; i++) {
    const id = dice.pick(ids);
    const { version, state } = await readWorking("maren", id).catch(() => ({ version: "", state: "binned" as PageState }));
    const turn = dice.between(0, 4);
    if (turn <= 1 && state !== "binned") {
      const chosen = Array.from({ length: dice.between(0, 3) }, () => dice.pick(targets));
      await saveVersion("maren", id, { title: "x", body: body(chosen), base: version, note: "" });
    } else if (turn === 2 && state !== "binned" && !version.endsWith(".0")) await publishPage("maren", id, { version, note: "" });
    else if (turn === 3) {
      const place = (await inSnapshot((tx) => loadDocument(tx))).places.find((it) => it.id === id);
      const way: Edit | null =
        place?.state === "live"
          ? { kind: "state", place: id, from: { state: "live" }, to: { state: "draft" } }
          : place?.state === "draft"
            ? { kind: "state", place: id, from: { state: "draft" }, to: { state: "binned", was: "draft" } }
            : place?.state === "binned"
              ? { kind: "state", place: id, from: { state: "binned", was: "draft" }, to: { state: "draft" } }
              : null;
      if (way) await inChange((tx) => makeChange(tx, { maker: "maren", edits: [way], act: "rules", note: "" }));
    }
  }
  const kept = await rowsKept();
  expect(kept).toEqual(await rowsOfVersions());
  expect(kept.length).toBeGreaterThan(20);
  const [, fill] = MIGRATION.split("-- What the versions there are say");
  await database().delete(links);
  await database().execute(sql.raw(`-- ${fill}`));
  expect(await rowsKept()).toEqual(kept);
});

it("counts who cannot follow a link by classes, as one by one they would be counted: drafts of their own and passes too", async () => {
  const access = await inSnapshot((tx) => readAccess(tx));
  const { index, at } = access;
  const reads = (who: CompiledSubject, where: CompiledPlace) => (decide(index, who.number, where.number, at) & READ) !== 0;
  let some = 0;
  for (const place of index.places) {
    const readers = new Readers(access, index, place);
    expect(readers.all).toEqual(index.subjects.filter((it) => reads(it, place)));
    for (const target of index.places) {
      const stopped = readers.all.filter((it) => !reads(it, target));
      const told = readers.stoppedAt(target);
      expect([place.place.id, target.place.id, told.readers]).toEqual([place.place.id, target.place.id, stopped.length]);
      if (stopped.length > 0) expect(told.outside).toBe(stopped.some((it) => it.class !== "members"));
      if (stopped.length > 0 && stopped.length < readers.all.length) some++;
    }
  }
  expect(some).toBeGreaterThan(500);
});

it("tells each what they may know: pages they can see, others counted for who answers for the page, none for readers", async () => {
  const document = await inSnapshot((tx) => loadDocument(tx));
  const index = compile(document);
  const all = await database().select().from(links);
  const at = presentInstant();
  let named = 0;
  for (const who of ["ines", "maren", "mei", "viktor"]) {
    const me = subjectOf(index, { person: who });
    if (!me) throw new Error(who);
    for (const target of new Set(all.map(({ targetId }) => targetId))) {
      const slip = await readSlip(who, target).catch(() => null);
      if (!slip?.life.links) continue;
      const { from, total, hidden, nowhere } = slip.life.links;
      named += from.length;
      expect(total).toBe(from.length);
      for (const { id, working } of from) {
        expect(all.some((row) => row.placeId === id && row.targetId === target && row.live === !working)).toBe(true);
        expect(await readSlip(who, id)).toMatchObject({ id });
      }
      const reaching = new Set(
        all
          .filter(
            (row) => row.live && row.targetId === target && row.placeId !== target && placeOf(index, row.placeId)?.place.state === "live",
          )
          .map((row) => row.placeId),
      );
      const unseen = [...reaching].filter((id) => !from.some((it) => it.id === id));
      expect([who, target, hidden]).toEqual([who, target, slip.knowsOthers ? unseen.length : 0]);
      for (const { readers } of nowhere) expect(readers).toBeGreaterThan(0);
    }
  }
  expect(named).toBeGreaterThan(20);
  // A link to a page that is closed to some of one's readers is told to who may publish, with how many.
  const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Leads on", body: body(["patrols", "nowhere"]) });
  await publishPage("maren", id, { version: "0.1", note: "" });
  const { links: told } = (await readSlip("maren", id)).life;
  const here = placeOf(compile(await inSnapshot((tx) => loadDocument(tx))), id);
  const readers = here
    ? index.subjects.filter((it) => decide(index, it.number, index.placeNumbers.get("quays") as typeof here.number, at) & READ).length
    : 0;
  expect(told?.nowhere.map((it) => it.title)).toEqual([
    "a page that is not there, or not open to you",
    "a page that is not there, or not open to you",
  ]);
  expect(told?.nowhere.every((it) => it.readers === readers)).toBe(true);
  expect((await readSlip("mei", id)).life.links?.nowhere).toEqual([]);
});
