/** One guest from outside: through which rules they read what the public does not, and what of it they read; where the asker may see rules. */
import { eq } from "drizzle-orm";
import type { GuestDetail, GuestPage, GuestWay } from "../../../contracts/guests.ts";
import { SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { explain, grantSentence } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Grant, levelWithin } from "../../../core/access/model/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, cellOf, isKeeper, mayRead, readAccess, somebodyKnown, subjectFor } from "../../access/current.ts";
import { knowsPlace, namesFor, titlesAbove } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { pageUses } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";
import { usesKnown } from "../reading/uses.ts";
import { beyondPublic, comingsOf, instant, isUnused } from "./guests.ts";
import { type ToldBlock, toldBlocks } from "./told.ts";

const MOST_PAGES = 200;

/** A rule that gives a guest something, and what came of it. */
export interface Way {
  place: string;
  grant: Grant;
  pages: number;
  usedAt: number | undefined;
  unused: boolean;
}

export interface Ways {
  guest: CompiledSubject;
  ways: Way[];
  /** Numbers of the pages, and by id of a page when it was read last. */
  pages: number[];
  uses: ReadonlyMap<string, number>;
}

/** Rows of places that a guest reads and the public does not, where the asker may see rules. */
function ruled(access: Access, told: readonly ToldBlock[], guest: CompiledSubject) {
  return told.flatMap((it) => {
    const number = it.tables.classOf[guest.number] as number;
    return it.rows.flatMap((row) => {
      const whole = it.block.rows[row];
      return whole && beyondPublic(access, it, row, number) !== 0 ? [whole] : [];
    });
  });
}

const keyOf = (place: string, grant: Grant): string => JSON.stringify([place, grant]);

/** Every rule that opens something to a guest that the public does not read, where the asker (as `told` has it) may see rules. */
export async function waysOf(tx: Tx, access: Access, me: CompiledSubject, told: readonly ToldBlock[], id: string): Promise<Ways> {
  const guest = subjectOf(access.index, { person: id });
  if (guest?.class !== "guests") throw notThere();
  const rows = ruled(access, told, guest);
  if (rows.length === 0 && !isKeeper(access, me)) throw notThere();
  const used = await tx.select().from(pageUses).where(eq(pageUses.personId, id));
  const uses = new Map(used.map(({ placeId, at }) => [placeId, at.getTime()]));
  const { since } = await usesKnown(tx, access.at);
  const from = (await comingsOf(tx, id)).get(id);
  const ways = new Map<string, Way>();
  for (const row of rows) {
    const why = explain(access.index, guest, "read", row.example, access.at);
    const pages = row.places.filter((number) => access.index.places[number]?.place.kind !== "space");
    const last = pages.reduce((latest, number) => Math.max(latest, uses.get(access.index.places[number]?.place.id ?? "") ?? 0), 0);
    for (const step of why.steps) {
      if (step.layer !== "grants" || step.effect !== "gives" || step.rule !== "grant") continue;
      const way = ways.get(keyOf(step.place, step.grant)) ?? {
        place: step.place,
        grant: step.grant,
        pages: 0,
        usedAt: undefined,
        unused: false,
      };
      ways.set(keyOf(step.place, step.grant), way);
      way.pages += pages.length;
      if (last > 0) way.usedAt = Math.max(way.usedAt ?? 0, last);
    }
  }
  for (const way of ways.values()) way.unused = isUnused(way.usedAt, from, since, access.at);
  return { guest, ways: [...ways.values()], pages: rows.flatMap(({ places }) => [...places]), uses };
}

function wayTold(access: Access, me: CompiledSubject, { place, grant, pages, usedAt, unused }: Way): GuestWay {
  const where = placeOf(access.index, place)?.place;
  const { until, ...rule } = grant;
  return {
    sentence: grantSentence(rule, namesFor(access, me)),
    // Rules that reach down from a place one cannot see are told as *why* tells them: without it.
    place: knowsPlace(access, me, place)
      ? { id: place, name: where?.kind === "site" ? "The site" : (where?.title ?? "") }
      : { id: "", name: "a place above that you cannot see" },
    until: until ?? null,
    pages,
    usedAt: instant(usedAt),
    unused,
  };
}

function pageTold(access: Access, me: CompiledSubject, guest: CompiledSubject, page: CompiledPlace, usedAt: number | undefined): GuestPage {
  return {
    id: page.place.id,
    name: page.place.title ?? "",
    path: titlesAbove(access, me, page),
    level: levelWithin(cellOf(access, guest, page) & SET_OF_CELL),
    usedAt: instant(usedAt),
  };
}

export const readGuestHere = (asker: string, id: string): Promise<GuestDetail> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const { guest, ways, pages, uses } = await waysOf(tx, access, me, await toldBlocks(access, me), id);
    const everybody = subjectFor(access, null);
    const found = pages.flatMap((number): { page: CompiledPlace; usedAt: number | undefined }[] => {
      const page = access.index.places[number];
      if (!page || page.place.kind === "space" || mayRead(access, everybody, page)) return [];
      return [{ page, usedAt: uses.get(page.place.id) }];
    });
    const sorted = found.sort((a, b) => (b.usedAt ?? 0) - (a.usedAt ?? 0));
    const first = sorted.slice(0, MOST_PAGES);
    return {
      ways: ways.sort((a, b) => (a.usedAt ?? 0) - (b.usedAt ?? 0)).map((way) => wayTold(access, me, way)),
      pages: first.map(({ page, usedAt }) => pageTold(access, me, guest, page, usedAt)),
      more: sorted.length - first.length,
    };
  });

export const readGuest = ofWholeSite("readGuestHere", somebodyKnown, readGuestHere);
