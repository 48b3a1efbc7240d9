/** The table of pages on a site of many pages: page by page it holds just what one may see and what fits, once each, in order. */
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import { PAGE_SORTS, PARTS, type PageRow, type PageSort, type PagesFilter } from "../../../contracts/pages.ts";
import { decide, OVERSEES } from "../../../core/access/decide/index.ts";
import { below, type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { readersOutside } from "../../../core/lifecycle/index.ts";
import { sized } from "../../../demo/large/document.ts";
import { loadLarge } from "../../../demo/large/load.ts";
import { type Access, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import type { Direction } from "../../lists/keyset.ts";
import { exportPages } from "./exportPages.ts";
import { countPages, readPages } from "./pages.ts";
import { deleteFilter, listFilters, saveFilter } from "./savedFilters.ts";
import { listTags } from "./tags.ts";

/** Read page by page, by every sort and filter: on a busy machine that takes its time. */
const LONG = 240_000;

let access: Access;
let askers: string[];

onDatabase("schema");
beforeAll(async () => {
  // Enough for a dozen pages of the table and more.
  await loadLarge(sized(1_000));
  access = await inSnapshot((tx) => readAccess(tx));
  const { people } = access.index.document;
  const members = people.filter(({ kind, status: is }, i) => i > 0 && kind === "member" && is === "active").map(({ id }) => id);
  const seenBy = (id: string) => known(id).length;
  const byReach = [...members].sort((a, b) => seenBy(b) - seenBy(a));
  // One who may know of others at some of what they see, and not at the rest.
  const share = (id: string) => {
    const mine = known(id);
    const told = mine.filter((place) => mayKnowOthers(access, subjectFor(access, id), place)).length;
    return Math.min(told, mine.length - told);
  };
  const mixed = members.map((id) => ({ id, share: share(id) })).sort((a, b) => b.share - a.share)[0];
  expect(mixed?.share).toBeGreaterThan(20);
  askers = ["p0", mixed?.id ?? "", byReach[0] as string, byReach[Math.floor(byReach.length / 2)] as string, byReach.at(-1) as string];
});

const isPage = ({ place }: CompiledPlace): boolean => place.kind === "page" || place.kind === "bulletin";

/** Pages somebody may know of, asked one by one. */
function known(id: string): CompiledPlace[] {
  const me = subjectFor(access, id);
  return access.index.places.filter(
    (place) => isPage(place) && decide(access.index, me.number, place.number, access.at) & (READ | OVERSEES),
  );
}

/** The whole table, read page by page. */
async function all(asker: string, filter: PagesFilter = {}, sort: PageSort = "changed", order: Direction = "down"): Promise<PageRow[]> {
  const rows: PageRow[] = [];
  let after: string | undefined;
  do {
    const page = await readPages(asker, { ...filter, sort, order, ...(after === undefined ? {} : { after }) });
    rows.push(...page.rows);
    after = page.next ?? undefined;
  } while (after !== undefined);
  return rows;
}

const ids = (rows: readonly { id: string }[]): string[] => rows.map(({ id }) => id).sort();
const idsOf = (list: readonly CompiledPlace[]): string[] => list.map(({ place }) => place.id).sort();

/** What a row is sorted by, as far as it is shown. */
const VALUE: Partial<Record<PageSort, (row: PageRow) => string | number>> = {
  title: ({ title }) => title,
  state: ({ state }) => state,
  changed: ({ changed }) => changed,
  published: ({ published }) => published ?? "",
  views: ({ views }) => views ?? -1,
  links: ({ links }) => links ?? -1,
  versions: ({ versions }) => versions ?? -1,
  owner: ({ owner }) => owner.toLowerCase(),
  outside: ({ outside }) => (outside ? (outside.public ? 1_000_000 : 0) + outside.guests : -1),
};

const byTitle = (a: string | number, b: string | number): number => String(a).localeCompare(String(b), "und");

/** Rows stand in the order of what they show; those that show nothing stand by their ids, so that their place tells nothing. */
function inOrder(rows: readonly PageRow[], sort: PageSort, order: Direction): void {
  const value = VALUE[sort];
  if (!value) return;
  const values = rows.map(value);
  const compare = sort === "title" ? byTitle : (a: string | number, b: string | number) => (a < b ? -1 : a > b ? 1 : 0);
  const sorted = [...values].sort(compare);
  expect([sort, order, values]).toEqual([sort, order, order === "up" ? sorted : sorted.reverse()]);
  const untold = rows.filter((row) => value(row) === -1).map(({ id }) => id);
  expect([sort, order, untold]).toEqual([sort, order, sort === "outside" || order === "up" ? untold.sort() : untold.sort().reverse()]);
}

it(
  "each sort, both ways, leads through all that one may see, once each and in order; what is not shown tells nothing by its place",
  async () => {
    for (const asker of [askers[0] as string, askers[1] as string]) {
      const wanted = idsOf(known(asker));
      expect(wanted.length).toBeGreaterThan(asker === "p0" ? 600 : 100);
      for (const sort of PAGE_SORTS)
        for (const order of ["up", "down"] as const) {
          const rows = await all(asker, {}, sort, order);
          expect([asker, sort, order, ids(rows)]).toEqual([asker, sort, order, wanted]);
          inOrder(rows, sort, order);
        }
    }
  },
  LONG,
);

it(
  "filters leave just what fits, for everybody; counts and exports say the same",
  async () => {
    const [space] = access.index.places.filter(({ place }) => place.kind === "space");
    const branch = access.index.places.find((place) => isPage(place) && place.children.length > 3);
    const owner = access.index.places.find(isPage)?.place.owner ?? "";
    const tag = access.index.places.find(({ place }) => place.tags.length > 0)?.place.tags[0] ?? "";
    if (!space || !branch) throw new Error("the site is too small");
    const inside = new Set(below(access.index, branch));
    const filters: [PagesFilter, (place: CompiledPlace, asker: string) => boolean][] = [
      ...Object.entries(PARTS).map(([part, state]): [PagesFilter, (place: CompiledPlace) => boolean] => [
        { part: part as "live" },
        ({ place }) => place.state === state,
      ]),
      [{ space: space.place.id }, (place) => place.space === space.number],
      [{ branch: branch.place.id }, (place) => inside.has(place)],
      [{ owner }, ({ place }) => place.owner === owner],
      [{ tag, part: "live" }, ({ place }) => place.tags.includes(tag) && place.state === "live"],
      [{ words: "TIDE" }, ({ place }) => (place.title ?? "").toLowerCase().includes("tide")],
      [{ words: "%" }, ({ place }) => (place.title ?? "").includes("%")],
      ...(["public", "guests", "any", "none"] as const).map((outside): [PagesFilter, (place: CompiledPlace, asker: string) => boolean] => [
        { outside },
        (place, asker) => {
          if (!mayKnowOthers(access, subjectFor(access, asker), place)) return false;
          const it = readersOutside(access.index, place.number, access.at);
          return { public: it.public, guests: it.guests > 0, any: it.public || it.guests > 0, none: !it.public && it.guests === 0 }[
            outside
          ];
        },
      ]),
    ];
    for (const asker of askers) {
      const mine = known(asker);
      const sees = (id: string | undefined) =>
        id === undefined || idsOf(mine).includes(id) || placeOf(access.index, id)?.place.kind === "space";
      for (const [filter, fits] of filters) {
        const wanted = sees(filter.branch) ? idsOf(mine.filter((place) => fits(place, asker))) : [];
        const found = await all(asker, filter);
        const counted = await countPages(asker, filter);
        // A space one may not know of is as none; what one sees in it through a rule of its own is found without it.
        if (filter.space !== undefined && found.length === 0) continue;
        expect([asker, filter, ids(found)]).toEqual([asker, filter, wanted]);
        expect([asker, filter, counted.total]).toEqual([asker, filter, wanted.length]);
        // Whatever it is sorted by, and however that is found: by a column, by names, by who outside reads.
        if (asker !== askers[0] && asker !== askers[1]) continue;
        for (const sort of ["owner", "outside"] as const)
          for (const order of ["up", "down"] as const) {
            const rows = await all(asker, filter, sort, order);
            expect([asker, filter, sort, order, ids(rows)]).toEqual([asker, filter, sort, order, wanted]);
            inOrder(rows, sort, order);
          }
      }
      const file = await (await exportPages(asker, { format: "json", part: "live" })).json();
      expect(ids(file)).toEqual(idsOf(mine.filter(({ place }) => place.state === "live")));
      const tags = await listTags(asker, tag);
      expect(tags.tags.find((it) => it.tag === tag)?.count ?? 0).toBe(mine.filter(({ place }) => place.tags.includes(tag)).length);
    }
  },
  LONG,
);

it("filters have names: one's own are nobody else's, those of a space are for who sees it, and dropped by who keeps it", async () => {
  const [, member = ""] = askers;
  const { id } = await saveFilter(member, { name: "Old and live", address: "?part=live" });
  expect(await status(saveFilter(member, { name: "Old and live", address: "?part=bin" }))).toBe(400);
  expect((await listFilters("p0")).filters).toEqual([]);
  expect(await status(deleteFilter("p0", id))).toBe(404);
  const space = access.index.places.find(({ place }) => place.kind === "space")?.place.id ?? "";
  const shared = await saveFilter("p0", { name: "Of the space", address: "?part=drafts", space });
  const seen = (await listFilters(member)).filters.find((it) => it.id === shared.id);
  if (seen && !seen.mayDelete) {
    expect(await status(deleteFilter(member, shared.id))).toBe(403);
  }
  await deleteFilter("p0", shared.id);
  await deleteFilter(member, id);
  expect((await listFilters(member)).filters).toEqual([]);
});
