/** Findings on pages that outsiders read, for whoever may see rules there: what is worst first, counted by space. */
import { sql } from "drizzle-orm";
import type { FindingPage, FindingsFilter, FindingsList, FindingsQuery } from "../../../contracts/findings.ts";
import { type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { sameValue } from "../../../core/access/model/index.ts";
import { FINDING_KINDS, type FindingKind, type Passage } from "../../../core/findings/index.ts";
import { type Access, isKeeper, mayRead, readAccess, subjectFor } from "../../access/current.ts";
import { knowsPlace, mayKnowOthers, namesFor, titlesAbove } from "../../access/known.ts";
import { pauses } from "../../access/pauses.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { findings, findingsAside } from "../../db/schema/index.ts";
import { tally } from "../../jobs/running.ts";
import { pageOf } from "../../lists/whole.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { newestLook } from "./looking.ts";
import { outsideReaders } from "./outsiders.ts";
import { excerpt, type Found, foundIn, passagesFor } from "./passages.ts";

const PAGE = 40;
/** So many passages of a page stand in the list. */
const MOST_PASSAGES = 4;

/** How bad each kind is where strangers read it: the worst come first. */
const WEIGHT: Readonly<Record<FindingKind, number>> = { key: 6, account: 5, card: 5, word: 4, phone: 2, email: 1 };

/** A page with how many of each kind stand open, and were set aside. */
interface Counted {
  place: CompiledPlace;
  readers: "public" | "passes";
  open: Partial<Record<FindingKind, number>>;
  aside: Partial<Record<FindingKind, number>>;
}

/** Every page with findings that outsiders read, where the asker may see rules. */
async function counted(tx: Tx, access: Access, me: CompiledSubject): Promise<Counted[]> {
  const rows = await tx.execute<{ id: string; kind: FindingKind; aside: boolean; count: number }>(sql`
    select f.place_id as id, f.kind, a.sign is not null as aside, count(*)::int as count
    from ${findings} f left join ${findingsAside} a on a.place_id = f.place_id and a.sign = f.sign
    group by 1, 2, 3`);
  const byPage = new Map<string, Counted | null>();
  const pause = pauses();
  for (const { id, kind, aside, count } of rows) {
    let it = byPage.get(id);
    if (it === undefined) {
      const place = placeOf(access.index, id);
      const readers = place && mayKnowOthers(access, me, place) ? outsideReaders(access, place) : null;
      it = place && readers ? { place, readers, open: {}, aside: {} } : null;
      byPage.set(id, it);
      await pause();
    }
    if (it) it[aside ? "aside" : "open"][kind] = count;
  }
  return [...byPage.values()].flatMap((it) => it ?? []);
}

const sum = (counts: Counted["open"], kind?: FindingKind): number =>
  FINDING_KINDS.reduce((all, it) => all + (kind === undefined || it === kind ? (counts[it] ?? 0) : 0), 0);

const weightOf = (counts: Counted["open"]): number => Math.max(0, ...FINDING_KINDS.map((kind) => (counts[kind] ? WEIGHT[kind] : 0)));

/** Pages that fit, the worst first, then those with more. */
function fitting(all: readonly Counted[], { show, kind, space }: FindingsFilter, access: Access): Counted[] {
  const which = show ?? "open";
  const fits = all.filter(
    (it) => sum(it[which], kind) > 0 && (space === undefined || access.index.places[it.place.space]?.place.id === space),
  );
  return fits.sort(
    (a, b) => weightOf(b[which]) - weightOf(a[which]) || sum(b[which]) - sum(a[which]) || (a.place.place.id < b.place.place.id ? -1 : 1),
  );
}

/** How many stand open and were set aside in each space that the asker may know of. */
function bySpace(all: readonly Counted[], access: Access, me: CompiledSubject): FindingsList["spaces"] {
  const spaces = new Map<string, FindingsList["spaces"][number]>();
  for (const { place, open, aside } of all) {
    const space = access.index.places[place.space]?.place;
    const id = space && knowsPlace(access, me, space.id) ? space.id : "";
    const it = spaces.get(id) ?? { id, name: id === "" ? "elsewhere" : (space?.title ?? ""), open: 0, aside: 0 };
    spaces.set(id, { ...it, open: it.open + sum(open), aside: it.aside + sum(aside) });
  }
  return [...spaces.values()].sort((a, b) => b.open - a.open || a.name.localeCompare(b.name));
}

/** Passages of a page with what fits in each, the first few. */
function passagesTold(passages: readonly Passage[], found: readonly Found[], names: ReturnType<typeof namesFor>) {
  const numbers = [...new Set(found.map(({ passage }) => passage))];
  const told = numbers.slice(0, MOST_PASSAGES).flatMap((nth) => {
    const passage = passages[nth];
    return passage
      ? [
          excerpt(
            nth,
            passage,
            found.filter((it) => it.passage === nth),
            names,
          ),
        ]
      : [];
  });
  return { passages: told, more: numbers.length - told.length };
}

async function rowsOf(tx: Tx, access: Access, me: CompiledSubject, page: readonly Counted[], { show, kind }: FindingsFilter) {
  const names = namesFor(access, me);
  const open = page.filter(({ place }) => mayRead(access, me, place)).map(({ place }) => place.place.id);
  const found = (await foundIn(tx, open)).filter(
    (it) => (it.by !== null) === (show === "aside") && (kind === undefined || it.kind === kind),
  );
  const texts = await passagesFor(tx, open);
  return page.map(({ place, readers, ...counts }): FindingPage => {
    const { id, title = "" } = place.place;
    const here = found.filter(({ placeId }) => placeId === id);
    const said = counts[show ?? "open"];
    const told = texts.has(id) ? passagesTold(texts.get(id) ?? [], here, names) : { passages: null, more: 0 };
    return { id, title, path: titlesAbove(access, me, place), readers, counts: said, ...told };
  });
}

export const readFindings = (asker: string, { after, ...filter }: FindingsQuery): Promise<FindingsList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const all = await counted(tx, access, me);
    // A space that one may not know of holds nothing.
    const known = filter.space === undefined || knowsPlace(access, me, filter.space);
    const fits = known ? fitting(all, filter, access) : [];
    const { page, next } = pageOf(fits, after, PAGE, ({ place }) => place.place.id);
    const { ended, under } = await newestLook(tx);
    const far = under && (await tally(tx, [under.id])).get(under.id);
    const { sensitiveWords } = await readHouseRules(tx);
    const keeps = isKeeper(access, me);
    return {
      rows: await rowsOf(tx, access, me, page, filter),
      next,
      total: fits.length,
      spaces: bySpace(all, access, me),
      looked: ended?.endedAt?.toISOString() ?? null,
      job: under && keeps ? { id: under.id, done: far?.done ?? 0, total: far?.total ?? 0 } : null,
      wordsChanged: ended !== undefined && !sameValue(ended.order.words, sensitiveWords),
      mayLook: keeps,
    };
  });
