/** What is outside: since when, held to a plain reading of each change; by whom it is settled, and who is told. */
import { eq, inArray } from "drizzle-orm";
import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { holds } from "../../../../test/holds.ts";
import { status } from "../../../../test/status.ts";
import { effectiveSet } from "../../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledSubject, compile, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, type Instant, instantAt, READ } from "../../../core/access/model/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { exposures, ledger } from "../../db/schema/index.ts";
import { foundSite } from "../accounts/founding.ts";
import { makeChange } from "../change/apply.ts";
import { startSpace } from "../spaces/startSpace.ts";
import { publishPage } from "../writing/publishing.ts";
import { startPage } from "../writing/writing.ts";
import { exposuresOf, rebuildExposures } from "./exposures.ts";
import { exportOutside, meanOutside, readOutside } from "./publicPages.ts";

let keeper = "";
const spaces: string[] = [];
const pages: string[] = [];
const DAY = 86_400_000;
const document = () => inSnapshot((tx) => loadDocument(tx));
const does = (now: Instant, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up.", now }));

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await document()).people[0]?.id ?? "";
  await does(instantAt(Date.now()), { kind: "person", person: "ben", put: { id: "ben", name: "Ben", kind: "member", status: "active" } });
  const order = { purpose: "", keepers: [{ person: keeper }], publishers: [], writers: [] };
  for (const [title, preset] of [
    ["Front", "openHouse"],
    ["Back", "closedRoom"],
  ] as const)
    spaces.push((await startSpace(keeper, { ...order, title, preset })).id);
  for (const space of spaces)
    for (const title of ["One", "Two"]) {
      const { id } = await startPage(keeper, { parent: space, as: "page", title });
      await publishPage(keeper, id, { version: "0.1", note: "" });
      pages.push(id, (await startPage(keeper, { parent: id, as: "page", title: `Below ${title}` })).id);
    }
});

const openIn = (index: AccessIndex, at: Instant): Set<string> => {
  const everybody = subjectOf(index, { public: true }) as CompiledSubject;
  return new Set(index.places.flatMap((place) => (effectiveSet(index, everybody, place, at) & READ ? [place.place.id] : [])));
};

/** What is tried: rules that open and close, ends, states, moves. */
const tries = fc.array(
  fc.record({
    // What opens more often than what closes: fences and states add up.
    what: fc.constantFrom(
      ...["open", "open", "openFor", "close", "fence", "unfence", "unfence", "fresh", "follow", "follow"],
      ...["takeDown", "publish", "publish", "archive", "move"],
    ),
    nth: fc.nat(),
    to: fc.nat(),
    days: fc.integer({ min: 0, max: 3 }),
  }),
  { minLength: 20, maxLength: 40 },
);
type Try = typeof tries extends fc.Arbitrary<(infer T)[]> ? T : never;

async function editFor({ what, nth, to }: Try, now: Instant): Promise<Edit | null> {
  const { places } = await document();
  const all = [...pages, ...spaces];
  const place = places.find(({ id }) => id === all[nth % all.length]);
  if (!place) return null;
  const { id, state, was } = place;
  const grant = place.grants.find((it) => "audience" in it.to && it.to.audience === "public");
  const put = { to: { audience: "public" as const }, abilities: ["read" as const] };
  const turned = (before: typeof state, after: typeof state): Edit | null =>
    place.kind === "page" && state === before && was === undefined
      ? { kind: "state", place: id, from: { state }, to: after === "archived" ? { state: after, was: "live" } : { state: after } }
      : null;
  switch (what) {
    case "open":
      return grant ? null : { kind: "grant", place: id, put };
    case "openFor":
      return grant ? null : { kind: "grant", place: id, put: { ...put, until: new Date(now + 2 * DAY).toISOString() } };
    case "close":
      return grant ? { kind: "grant", place: id, remove: grant } : null;
    case "fence":
      return place.fences.length === 0 ? { kind: "fence", place: id, put: { kind: "read", admits: [{ person: keeper }] } } : null;
    case "unfence":
      return place.fences[0] ? { kind: "fence", place: id, remove: place.fences[0] } : null;
    case "fresh":
    case "follow":
      return place.stance === what ? null : { kind: "stance", place: id, from: place.stance, to: what };
    case "takeDown":
      return turned("live", "draft");
    case "publish":
      if (state === "archived") return { kind: "state", place: id, from: { state, was: "live" }, to: { state: "live" } };
      return turned("draft", "live");
    case "archive":
      return turned("live", "archived");
    default: {
      const target = spaces[to % spaces.length] as string;
      return place.kind === "page" && place.parent !== target ? { kind: "move", place: id, from: place.parent ?? "", to: target } : null;
    }
  }
}

describe("since when", () => {
  it("is the change that opened a page last, whatever opened or closed it, also by the clock; kept as it is worked out anew", async () => {
    let [opened, lapsed] = [0, 0];
    const since = new Map<string, number>();
    let now = instantAt(Date.now());
    for (const row of await database().select().from(exposures)) since.set(row.placeId, row.seq);
    await holds(
      fc.asyncProperty(tries, async (list) => {
        for (const it of list) {
          now = instantAt(now + it.days * DAY + 1000);
          const edit = await editFor(it, now);
          if (!edit) continue;
          const before = openIn(compile(await document()), now);
          const made = await does(now, edit).catch(() => null);
          if (!made) continue;
          const after = openIn(compile(await document()), now);
          for (const id of since.keys()) if (!after.has(id) && !before.has(id)) lapsed++;
          for (const id of before) if (!after.has(id)) since.delete(id);
          for (const id of after) if (!before.has(id)) since.set(id, made.seq);
          opened += [...after].filter((id) => !before.has(id)).length;
          const kept = new Map((await database().select().from(exposures)).map((row) => [row.placeId, row.seq as number]));
          // What the clock closed may stand there still: the rules say that it is closed.
          for (const id of after) expect([id, kept.get(id)]).toEqual([id, since.get(id)]);
        }
      }),
      // A seed of its own: that something lapses in between is a matter of the dice.
      { runs: 20, seed: 20261126 },
    );
    expect([opened > 0, lapsed > 0]).toEqual([true, true]);
    const kept = new Map((await database().select().from(exposures)).map(({ placeId, seq }) => [placeId, seq]));
    const anew = new Map([...(await inSnapshot(exposuresOf))].map(([id, { seq }]) => [id, seq]));
    expect(anew).toEqual(kept);
    await inChange(rebuildExposures);
    expect(new Map((await database().select().from(exposures)).map(({ placeId, seq }) => [placeId, seq]))).toEqual(kept);
  }, 120_000);
});

describe("pages the public reads", () => {
  it("are told with rule, change and reads to whoever may see the rules there, and settled by them alone", async () => {
    const made = await startSpace(keeper, {
      title: "Fresh air",
      purpose: "",
      preset: "openHouse",
      keepers: [{ person: keeper }],
      publishers: [],
      writers: [],
      first: "Welcome",
    });
    const list = await readOutside(keeper, { space: made.id });
    const [page] = list.rows;
    expect(list.rows).toHaveLength(1);
    expect(page).toMatchObject({
      title: "Welcome",
      path: ["Fresh air"],
      meant: null,
      reads: 0,
      nowhere: 0,
      since: { who: "Ada", act: "Space started" },
    });
    expect(page?.through.map(({ sentence }) => sentence).join()).toContain("the public are Reader");
    // A member who keeps nothing reads the page, and is told of no rule.
    expect(await readOutside("ben", {})).toMatchObject({ rows: [], spaces: [], total: 0 });
    expect(await status(meanOutside("ben", { places: [page?.id ?? ""], meant: true }))).toBe(403);
    expect(await status(meanOutside(keeper, { places: [page?.id ?? "", "nowhere"], meant: true }))).toBe(404);
    // Said once, however often and from wherever it is sent: the ledger keeps what changed.
    await Promise.all([true, true].map((meant) => meanOutside(keeper, { places: [page?.id ?? ""], meant })));
    const said = () => inSnapshot((tx) => tx.select({ places: ledger.places }).from(ledger).where(eq(ledger.act, "meanOutside")));
    expect(await said()).toEqual([{ places: [page?.id] }]);
    await meanOutside(keeper, { places: [made.id], meant: false });
    expect(await said()).toHaveLength(1);
    expect((await readOutside(keeper, { space: made.id, show: "new" })).rows).toEqual([]);
    expect((await readOutside(keeper, { show: "meant" })).rows.map(({ title, meant }) => [title, meant?.by])).toEqual([["Welcome", "Ada"]]);
    const file = await (await exportOutside(keeper, { space: made.id, format: "csv" })).text();
    expect(file.split("\n")[1]).toContain("Welcome");
    // It lapses where the page, or anything above it, moves or closes.
    const now = instantAt(Date.now() + 400 * DAY);
    await does(now, { kind: "move", place: page?.id ?? "", from: made.id, to: spaces[0] ?? "" });
    expect((await readOutside(keeper, { show: "meant" })).rows).toEqual([]);
  });

  it("what is not outside cannot be meant to be, and a page of the list begins where the last one ended", async () => {
    const draft = await startPage(keeper, { parent: spaces[1] ?? "", as: "page", title: "Inside" });
    expect(await status(meanOutside(keeper, { places: [draft.id], meant: true }))).toBe(400);
    expect(await status(readOutside(keeper, { after: "nonsense" }))).toBe(400);
    expect(await readOutside(keeper, { space: "nowhere" })).toMatchObject({ rows: [], total: 0 });
  });

  it("from before all that is kept come last, are settled like others, and each is on one page of the list alone", async () => {
    const people = { keepers: [{ person: keeper }], publishers: [], writers: [] };
    const { id: space } = await startSpace(keeper, { ...people, title: "Notices", purpose: "", preset: "openHouse" });
    const many: string[] = [];
    for (let i = 0; i < 103; i++) {
      const { id } = await startPage(keeper, { parent: space, as: "page", title: `Notice ${i}` });
      await publishPage(keeper, id, { version: "0.1", note: "" });
      many.push(id);
    }
    const all = async (show?: "new" | "meant") => {
      const ids: string[] = [];
      let after: string | undefined;
      do {
        const { rows, next } = await readOutside(keeper, { ...(show ? { show } : {}), ...(after ? { after } : {}) });
        ids.push(...rows.map(({ id }) => id));
        after = next ?? undefined;
      } while (after !== undefined);
      return ids;
    };
    const kept = await all();
    expect(new Set(kept).size).toBe(kept.length);
    for (const id of many) expect(kept).toContain(id);
    // As on a site from before: of half of them nobody knows since when.
    await database()
      .delete(exposures)
      .where(inArray(exposures.placeId, many.slice(0, 60)));
    await meanOutside(keeper, { places: many.slice(50, 70), meant: true });
    const then = await all();
    expect(new Set(then)).toEqual(new Set(kept));
    expect(new Set(then.slice(-60))).toEqual(new Set(many.slice(0, 60)));
    expect(new Set(await all("meant"))).toEqual(new Set(many.slice(50, 70)));
    expect(new Set(await all("new"))).toEqual(new Set(kept.filter((id) => !many.slice(50, 70).includes(id))));
    expect((await readOutside(keeper, { space, show: "meant" })).rows.filter(({ since }) => since === null)).toHaveLength(10);
    const file = await (await exportOutside(keeper, { show: "meant", format: "json" })).json();
    expect(file).toHaveLength(20);
    await inChange(rebuildExposures);
    expect(await all()).toEqual(kept);
  }, 120_000);
});
