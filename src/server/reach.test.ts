/** What lists, searches and the past go by: the listing follows every change, and never shows what may not be read. */
import { sql } from "drizzle-orm";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { onDatabase } from "../../test/database.ts";
import { drawn, holds } from "../../test/holds.ts";
import { draw, editAt } from "../../test/reference/changes.ts";
import { decide } from "../core/access/decide/index.ts";
import { type AccessIndex, compile, subjectOf } from "../core/access/index/index.ts";
import {
  type AccessDocument,
  type Edit,
  type Instant,
  instantAt,
  instantOf,
  type PlaceNumber,
  READ,
  type Seq,
  type SubjectNumber,
} from "../core/access/model/index.ts";
import { readAccess } from "./access/current.ts";
import { readAccessAsOf } from "./access/past.ts";
import { database, inChange, inSnapshot } from "./db/client.ts";
import { loadDocument } from "./db/document.ts";
import { reachOf, rebuildListing, within } from "./db/listing.ts";
import { ledger, listing } from "./db/schema/index.ts";
import { makeChange } from "./services/change/apply.ts";
import { applyDocument, planDocument } from "./services/house/exchange.ts";
import { exportDocument } from "./services/programs/exports/access.ts";
import { findPlaces, searchPages } from "./services/search/search.ts";
import { publishPage } from "./services/writing/publishing.ts";
import { startPage } from "./services/writing/writing.ts";
import { Trouble } from "./trouble.ts";

onDatabase("demo");

const AT = instantAt(Date.now());
/** Every cell by subject and place. */
const cellsOf = (index: AccessIndex, at: Instant): string =>
  index.subjects
    .flatMap((subject) =>
      index.places.map((place) => `${subject.key} ${place.place.id} ${decide(index, subject.number, place.number, at)}`),
    )
    .sort()
    .join("\n");

/** Random changes of the demo by its keeper, through the write path; those that are refused or do not fit are left out. */
async function changeAtRandom(count: number, seed: number, after: (seq: Seq) => Promise<void>): Promise<number> {
  let made = 0;
  for (const it of drawn(draw, { runs: count, seed })) {
    const document = (await inSnapshot((tx) => readAccess(tx))).index.document;
    const edit = editAt(document, it);
    // Started pages have words to write as well; people come with accounts.
    if (edit.kind === "start" || (edit.kind === "person" && !edit.remove)) continue;
    try {
      const entry = await inChange((tx) => makeChange(tx, { maker: "ines", edits: [edit], act: "rules", note: "", reason: "At random." }));
      made++;
      await after(entry.seq);
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
    }
  }
  return made;
}

describe("the listing", () => {
  it("is the same, made anew from the other tables", async () => {
    const rows = () =>
      database()
        .select({
          id: listing.placeId,
          in: listing.classId,
          title: listing.title,
          body: listing.body,
          at: listing.changedAt,
          kind: listing.kind,
        })
        .from(listing)
        .orderBy(listing.placeId);
    const kept = await rows();
    await inChange(async (tx) => rebuildListing(tx, (await readAccess(tx)).index));
    const isPage = ({ kind }: { kind: string }) => kind === "page" || kind === "bulletin";
    expect((await rows()).filter(isPage)).toEqual(kept.filter(isPage));
    expect(await rows()).toHaveLength(kept.length);
  });
});

describe("what is in reach", () => {
  it("is just what is in these classes, however many they are and however far apart their numbers", async () => {
    const lists = fc.record({ from: fc.nat(100_000), apart: fc.constantFrom(1, 2, 60), length: fc.nat(1_200), gaps: fc.nat(6) });
    await holds(
      fc.asyncProperty(lists, async ({ from, apart, length, gaps }) => {
        const classes = Array.from({ length }, (_, i) => from + i * apart).filter((_, i) => gaps === 0 || (i * 7) % (gaps + 1) !== 0);
        const others = classes.flatMap((it) => [it - 8, it - 1, it + 1, it + 8, it + 64]);
        const all = [...new Set([...classes, ...others, 0])].filter((it) => it >= 0);
        const found = await database().execute<{ id: number }>(
          sql`select ${listing.classId} as id from (select unnest(${`{${all.join(",")}}`}::int[]) as class_id) as ${listing}
            where ${within({ classes, places: [] })} order by 1`,
        );
        expect(found.map(({ id }) => id)).toEqual(classes);
      }),
      { runs: 40 },
    );
  });
});

describe("a search", () => {
  it("finds exactly what one may read, and is the same for a word that only hidden pages hold as for one that none holds", async () => {
    const { id } = await startPage("jonas", { parent: "quays", as: "page", title: "Zanzibar moorings" });
    const whole = (await inSnapshot((tx) => readAccess(tx))).index;
    for (const who of [null, "dora", "mei", "maren", "ines", "jonas"]) {
      const subject = subjectOf(whole, who === null ? { public: true } : { person: who });
      for (const word of ["crane", "pilot", "tide", "the", "zanzibar"]) {
        const found = await searchPages(who, word);
        const [expected] = await database().execute<{ ids: string[] }>(
          sql`select coalesce(array_agg(place_id), '{}') as ids from listing where kind <> 'site' and words @@ to_tsquery('simple', ${`${word}:*`})`,
        );
        const readable = (expected?.ids ?? []).filter(
          (it) => decide(whole, subject?.number ?? (0 as SubjectNumber), whole.placeNumbers.get(it) as PlaceNumber, AT) & READ,
        );
        expect([who, word, found.total]).toEqual([who, word, readable.length]);
        expect(found.hits.every((hit) => readable.includes(hit.id))).toBe(true);
      }
    }
    expect((await searchPages("jonas", "zanz")).hits.map((hit) => hit.id)).toEqual([id]);
    expect(await searchPages(null, "zanzibar")).toEqual(await searchPages(null, "nowordlikethis"));
    expect(await findPlaces("mei", "zanzibar")).toEqual([]);
  });

  it("takes words as words: nothing of a query language, and nothing of a working version", async () => {
    for (const odd of ["'", "crane & !crane", "a:*b | c", "\\", "%", "\u0000", "<script>", ""])
      expect((await searchPages("ines", odd)).total).toBeGreaterThanOrEqual(0);
    const { id } = await startPage("maren", { parent: "quays", as: "page", title: "Quagga winch" });
    await publishPage("maren", id, { version: "0.1", note: "" });
    const asReader = await searchPages("ines", "quagga");
    expect([asReader.total, asReader.hits[0]?.state]).toEqual([1, "live"]);
  });
});

describe("an access document that comes back", () => {
  const exported = async () => JSON.parse(JSON.stringify(await exportDocument())) as AccessDocument;

  it("is the same site if nothing was edited, and one entry with its ripple if something was", async () => {
    expect(await planDocument("ines", await exported())).toEqual({ errors: [], sentences: [], preview: null });
    const document = await exported();
    const cranes = document.places.find(({ id }) => id === "cranes");
    cranes?.grants.push({ to: { group: "pilots" }, abilities: ["read", "discuss"] });
    document.groups.find(({ id }) => id === "pilots")?.members.push({ person: "mei" });
    const plan = await planDocument("ines", document);
    expect(plan.errors).toEqual([]);
    expect(plan.sentences).toHaveLength(2);
    const { seq } = await applyDocument("ines", { document, note: "Edited by hand.", seen: plan.preview?.seen ?? "", reason: "Planned." });
    expect(await planDocument("ines", document)).toEqual({ errors: [], sentences: [], preview: null });
    const [entry] = await database().select().from(ledger).where(sql`seq = ${seq}`);
    expect(entry?.edits.map(({ kind }: Edit) => kind)).toEqual(["member", "grant"]);
  });

  it("is refused whole, with every error by its path, and by others than site keepers", async () => {
    const document = await exported();
    const [first, ...places] = document.places;
    const broken = {
      ...document,
      surprise: 1,
      places: [first, ...places.map((place, i) => (i === 2 ? { ...place, state: "gone" } : place))],
    };
    const paths = (await planDocument("ines", broken)).errors.map(({ path }) => path);
    expect(paths).toEqual(expect.arrayContaining(["$.surprise", "$.places[3].state"]));
    const without = { ...document, places: document.places.filter(({ id }) => id !== "cranes"), people: document.people.slice(1) };
    const told = (await planDocument("ines", without)).errors;
    expect(told.length).toBeGreaterThan(0);
    await expect(applyDocument("ines", { document: without, note: "", seen: "" })).rejects.toThrow("cannot be brought in");
    await expect(planDocument("maren", document)).rejects.toThrow("site keepers");
    await expect(applyDocument("maren", { document, note: "", seen: "" })).rejects.toThrow("site keepers");
  });
});

// Last, since what it leaves behind is anybody's guess.
describe("random changes", () => {
  it("leave rules kept in memory, the listing and what each may list in step; and every instant of the past as it was", async () => {
    const past = new Map<string, string>();
    const made = await changeAtRandom(60, 2031, async (seq) => {
      const [entry] = await database().select({ at: ledger.at }).from(ledger).where(sql`seq = ${seq}`);
      await inSnapshot(async (tx) => {
        const { index } = await readAccess(tx);
        const fresh = compile(await loadDocument(tx));
        const at = instantAt(entry?.at.getTime() ?? 0);
        expect(cellsOf(index, AT)).toBe(cellsOf(fresh, AT));
        past.set(new Date(at).toISOString(), cellsOf(fresh, at));
        for (const subject of index.subjects.filter((it) => !it.pass && (it.number + seq) % 7 === 0)) {
          const listed = await tx
            .select({ id: listing.placeId })
            .from(listing)
            .where(within(await reachOf(tx, index, subject.number, AT, READ)));
          const expected = index.places
            .filter((place) => decide(index, subject.number, place.number, AT) & READ)
            .map(({ place }) => place.id);
          expect(listed.map(({ id }) => id).sort()).toEqual(expected.sort());
        }
      });
    });
    expect(made).toBeGreaterThan(25);
    for (const [instant, cells] of past) {
      const then = await inSnapshot((tx) => readAccessAsOf(tx, instant));
      expect(cellsOf(then.index, instantOf(instant))).toBe(cells);
    }
    const before = await inSnapshot((tx) => readAccessAsOf(tx, "2020-01-01T00:00:00Z")).catch((error: Trouble) => error.message);
    expect(before).toContain("not there yet");
  });
});
