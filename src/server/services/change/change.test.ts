/** A change before it is made: what it would do cell by cell, wishes and their answers, what does not fit and since when, documents. */

import { describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import {
  type Ability,
  type AccessDocument,
  abilitiesIn,
  type Edit,
  type Level,
  type Principal,
  setOfLevel,
} from "../../../core/access/model/index.ts";
import { inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import type { Trouble } from "../../trouble.ts";
import { readGrid } from "../grid/grid.ts";
import { applyDocument, planDocument } from "../house/exchange.ts";
import { readSlip } from "../slip/slip.ts";
import { readWhy } from "../slip/why.ts";
import { applyChange } from "./apply.ts";
import { previewChange } from "./preview.ts";
import { readProposal } from "./proposals.ts";
import { previewTakeBack, takeBack } from "./takeBack.ts";

onDatabase("demo");

const document = () => inSnapshot((tx) => loadDocument(tx));
const give = (place: string, to: Principal, level: Level): Edit => ({
  kind: "grant",
  place,
  put: { to, abilities: abilitiesIn(setOfLevel(level)) },
});
const everyone: Principal = { audience: "public" };
const troubleOf = async (work: Promise<unknown>): Promise<Trouble> =>
  work.then(
    () => {
      throw new Error("it was not refused");
    },
    (error: Trouble) => error,
  );

describe("a preview", () => {
  const columns = ["public", "guests", "members", "group:pilots", "person:dora"];

  it("shows before and after of exactly the cells that the grid has otherwise once it is made", async () => {
    const before = await readGrid("ines", { columns });
    const edits = [give("cranes", everyone, 1), give("mooring", { group: "pilots" }, 4)];
    const preview = await previewChange("ines", edits, columns);
    const { seq } = await applyChange("ines", { edits, note: "", seen: preview.seen });
    const after = await readGrid("ines", { columns });
    const differing = after.rows.flatMap((row, i) =>
      columns.flatMap((column, c) => {
        const [was, is] = [before.rows[i]?.cells?.[c], row.cells?.[c]];
        return was && is && (was.set !== is.set || was.more !== is.more) ? [{ place: row.id, column, before: was, after: is }] : [];
      }),
    );
    const inOrder = (list: { place: string; column: string }[]) =>
      list.sort((a, b) => (`${a.place} ${a.column}` < `${b.place} ${b.column}` ? -1 : 1));
    expect(inOrder([...preview.cells])).toEqual(inOrder(differing));
    expect(differing.length).toBeGreaterThan(3);
    expect(preview.ripple.summary[0]?.class).toBe("outsiders");
    const back = await previewTakeBack("ines", seq);
    await takeBack("ines", seq, { note: "", seen: back.seen });
    expect((await readGrid("ines", { columns })).rows.map((row) => row.cells)).toEqual(before.rows.map((row) => row.cells));
    expect((await previewChange("ines", edits)).cells).toEqual([]);
  });

  it("tells what is in the way with its reason and place, and is applied only as it was seen", async () => {
    const open = [give("berthrequests", everyone, 1)];
    const { seen, refusals } = await previewChange("maren", open);
    expect(refusals).toEqual([]);
    const other = [give("berthrequests", { audience: "accounts" }, 1)];
    await applyChange("maren", { edits: other, note: "", seen: (await previewChange("maren", other)).seen });
    const trouble = await troubleOf(applyChange("maren", { edits: open, note: "", seen }));
    expect([trouble.status, trouble.message]).toEqual([409, expect.stringContaining("after you looked")]);
    expect((trouble.details as { ripple: object }).ripple).toMatchObject({ summary: expect.any(Array) });
    // The same rule twice does not fit; and says by which entry it came.
    const again = await troubleOf(previewChange("maren", other));
    expect(again.message).toMatch(
      /Somebody changed this meanwhile: .*Berth requests.*this very grant stands there already \(entry \d+, by Maren/,
    );
    expect(again.details).toMatchObject([{ nth: 0, place: "berthrequests", own: false }]);
    const twice = await troubleOf(previewChange("maren", [give("cranes", everyone, 1), give("cranes", everyone, 1)]));
    expect(twice.message).toContain("does not fit together");
    const lawless = await troubleOf(
      previewChange("maren", [{ kind: "state", place: "cranes", from: { state: "live" }, to: { state: "binned", was: "draft" } }]),
    );
    expect([lawless.status, lawless.message]).toEqual([400, expect.stringContaining("This cannot be done")]);
    expect(await status(previewChange("maren", [give("cranes", { person: "nobody" }, 1)]))).toBe(400);
    expect(await status(previewChange("jonas", [give("cranes", everyone, 1)]))).toBe(403);
    expect(await status(previewChange("viktor", [give("nowhere", everyone, 1)]))).toBe(404);
    const scheduled: Edit = { kind: "state", place: "cranes", from: { state: "live" }, to: { state: "scheduled" } };
    expect(await status(previewChange("maren", [scheduled]))).toBe(400);
  });
});

describe("owner and tags", () => {
  it("are changed by whom the table says, told in words, and taken back; a tag that a pledge goes by is for those who answer for it", async () => {
    const owner: Edit = { kind: "owner", place: "mooring", from: (await readSlip("maren", "mooring")).life.owner?.id ?? null, to: "katya" };
    expect(await status(previewChange("mei", [owner]))).toBe(403);
    const tags = (await readSlip("maren", "mooring")).life.tags;
    const tag: Edit = { kind: "tags", place: "mooring", from: tags, to: [...tags, "lines"] };
    const { seen } = await previewChange("maren", [owner, tag]);
    const { seq } = await applyChange("maren", { edits: [owner, tag], note: "", seen });
    expect((await readSlip("mei", "mooring")).life).toMatchObject({
      owner: { id: "katya" },
      mayHandOver: false,
      tags: [...tags, "lines"],
      mayTag: false,
    });
    expect(await status(previewChange("maren", [owner]))).toBe(409);
    await takeBack("maren", seq, { note: "", seen: (await previewTakeBack("maren", seq)).seen });
    expect((await readSlip("maren", "mooring")).life.tags).toEqual(tags);
    const pledged = (await document()).pledges.flatMap(({ where }) => where.tag ?? [])[0] ?? "";
    const marked: Edit = { kind: "tags", place: "mooring", from: tags, to: [...tags, pledged] };
    expect(await status(previewChange("jonas", [tag]))).toBe(200);
    expect((await troubleOf(previewChange("jonas", [marked]))).message).toContain("where a pledge goes by a tag");
    expect(await status(previewChange("maren", [{ ...owner, to: "nobody" } as Edit]))).toBe(400);
    expect(await status(previewChange("maren", [{ ...owner, place: "quays", from: null } as Edit]))).toBe(400);
  });
});

describe("a wish", () => {
  const wish = (place: string, waiting: Edit[], ...wishes: [Principal, Level][]) =>
    readProposal(
      "maren",
      [place],
      wishes.map(([principal, level]) => ({ principal, level })),
      waiting,
    );

  it("for several places at once is met by one pattern; a mix exactly, and refused where one of the places is not theirs", async () => {
    const mix = { principal: { person: "mei" } as Principal, abilities: ["discuss", "revise"] as Ability[] };
    const places = ["shorepower", "mooring", "timberyard"];
    const { best } = await readProposal("maren", places, [mix], []);
    const granted = best?.edits.flatMap((edit) => (edit.kind === "grant" && edit.put ? [[edit.place, edit.put.abilities]] : []));
    expect(granted?.sort()).toEqual(places.map((place) => [place, ["read", "discuss", "revise"]]).sort());
    expect(await status(readProposal("maren", [...places, "tidetables"], [mix], []))).toBe(403);
    expect(await status(readProposal("maren", [...places, "patrols"], [mix], []))).toBe(404);
    const again = await readProposal("maren", places, [mix], best?.edits ?? []);
    expect(again.alreadySo).toBe(true);
  });

  it("is met by the least change, told with what else it does; on top of what waits; or is so already", async () => {
    const opened = await wish("mooring", [], [everyone, 1]);
    expect(opened.best).toMatchObject({
      sentences: ["grant added: the public are Reader"],
      besides: expect.stringContaining("gives something"),
    });
    expect(opened.alreadySo).toBe(false);
    const staged = await wish("mooring", opened.best?.edits ?? [], [everyone, 1]);
    expect([staged.alreadySo, staged.best]).toEqual([true, null]);
    const both = await wish("shiftbook", [], [{ audience: "members" }, 1], [{ group: "quay" }, 3]);
    expect(both.best?.edits.length).toBeGreaterThan(0);
    expect(both.others.length).toBeLessThanOrEqual(2);
    const applied = await previewChange("maren", both.best?.edits ?? [], ["members"]);
    expect(applied.refusals).toEqual([]);
  });

  it("that nothing achieves says why, and that of two which is in the way; who may not wish is refused", async () => {
    const never = await wish("shiftbook", [], [everyone, 4]);
    expect([never.best, never.reason]).toEqual([
      null,
      expect.stringMatching(/^No change of rules here gives the public exactly Publisher: /),
    ]);
    const torn = await wish("shiftbook", [], [{ group: "quay" }, 1], [{ person: "maren" }, 0]);
    if (torn.best === null) expect(torn.reason).not.toBe("");
    expect(await status(readProposal("jonas", ["shiftbook"], [{ principal: everyone, level: 1 }], []))).toBe(403);
    expect(await status(readProposal("viktor", ["nowhere"], [{ principal: everyone, level: 1 }], []))).toBe(404);
    const gone: Edit = { kind: "stance", place: "shiftbook", from: "fresh", to: "follow" };
    const trouble = await troubleOf(wish("shiftbook", [gone], [everyone, 1]));
    expect([trouble.status, trouble.details]).toEqual([409, [{ nth: 0, message: expect.stringContaining("meanwhile") }]]);
  });
});

describe("why", () => {
  it("explains one who has just what all in a column have, for whoever may know; each for themselves", async () => {
    const { rows } = await readGrid("maren", { columns: ["members", "guests", "public"] });
    for (const column of ["members", "guests", "public"] as const) {
      const why = await readWhy("maren", { place: "shiftbook", viewpoint: column });
      const cell = rows.find(({ id }) => id === "shiftbook")?.cells?.[["members", "guests", "public"].indexOf(column)];
      expect(why.abilities.filter(({ has }) => has).length).toBeGreaterThanOrEqual(abilitiesIn(cell?.set ?? 0).length);
      expect(why.answer).toMatch(/ can(not)? /);
      expect(why.stands === "").toBe(column === "public");
    }
    expect((await readWhy("tomasz", { place: "shiftbook", viewpoint: "person:tomasz", ability: "govern" })).oversight).toContain(
      "oversees this place through a Keeper grant",
    );
    expect(await status(readWhy("jonas", { place: "shiftbook", viewpoint: "members", ability: "read" }))).toBe(403);
    expect((await readWhy("jonas", { place: "shiftbook", viewpoint: "person:jonas", ability: "read" })).ability).toBe("read");
    expect(await status(readWhy("maren", { place: "shiftbook", viewpoint: "person:nobody", ability: "read" }))).toBe(403);
  });
});

describe("a document brought in", () => {
  const changed = async (change: (it: AccessDocument) => AccessDocument) => change(JSON.parse(JSON.stringify(await document())));

  it("is planned, applied as one entry, and leaves the site as it says; a second time it changes nothing", async () => {
    const wanted = await changed((it) => ({
      ...it,
      places: it.places.map((place) => (place.id === "mooring" ? { ...place, stance: "fresh" } : place)),
      groups: [...it.groups, { id: "audit", name: "Audit", members: [{ person: "dora" }] }],
    }));
    const plan = await planDocument("ines", wanted);
    expect(plan.sentences).toEqual([
      "group added: Audit",
      "member of Audit added: Dóra Szabó",
      "“Mooring gangs”: starts fresh: what is granted above stops here",
    ]);
    await applyDocument("ines", { document: wanted, note: "By the audit.", seen: plan.preview?.seen ?? "" });
    expect(await planDocument("ines", wanted)).toMatchObject({ errors: [], sentences: [], preview: null });
    expect((await document()).groups.find(({ id }) => id === "audit")?.members).toEqual([{ person: "dora" }]);
  });

  it("is refused as a whole with every error, from whom may not, and where it differs in too much", async () => {
    const broken = await changed((it) => ({ ...it, passes: [], places: it.places.filter(({ id }) => id !== "mooring") }));
    const plan = await planDocument("ines", broken);
    expect(plan.preview).toBeNull();
    expect(plan.errors.length).toBeGreaterThan(1);
    expect(await status(applyDocument("ines", { document: broken, note: "", seen: "" }))).toBe(400);
    expect((await planDocument("ines", { tesoroAccess: 2 })).errors.length).toBeGreaterThan(0);
    expect(await status(planDocument("maren", await document()))).toBe(403);
    const same = await document();
    expect(await status(applyDocument("ines", { document: same, note: "", seen: "" }))).toBe(400);
    const much = await changed((it) => ({
      ...it,
      people: [
        ...it.people,
        ...Array.from({ length: 2_100 }, (_, i) => ({ id: `new${i}`, kind: "member" as const, status: "active" as const })),
      ],
    }));
    expect((await troubleOf(planDocument("ines", much))).message).toContain("at most 2000");
  });
});
