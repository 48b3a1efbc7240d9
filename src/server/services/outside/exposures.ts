/** Since when the public reads what it reads: kept from the ripple of every change, in its transaction. */
import { asc, inArray, isNotNull, or, sql } from "drizzle-orm";
import { effectiveSet } from "../../../core/access/decide/index.ts";
import { type AccessIndex, below, type CompiledSubject, compile, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, type Instant, instantAt, READ, type Seq } from "../../../core/access/model/index.ts";
import { distinctPlaces, type Ripple, unpack } from "../../../core/access/ripple/index.ts";
import { bringsWhole } from "../../../core/ledger/index.ts";
import { insertMany } from "../../db/bulk.ts";
import type { Tx } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { exposures, ledger, meantOutside } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";

const PUBLIC = "public";

/** Places that the public can read by a change, or no longer. */
export function openedAndClosed(ripple: Ripple): { opened: string[]; closed: string[] } {
  const of = (which: "gains" | "losses") =>
    distinctPlaces(
      ripple,
      ripple.entries.filter((entry) => entry.subjects.includes(PUBLIC) && entry[which].includes("read")),
    );
  return { opened: of("gains"), closed: of("losses") };
}

interface Entry {
  seq: Seq;
  at: Date;
}

/** Every place the public can read at an instant. */
function openIn(index: AccessIndex, at: Instant): string[] {
  const everybody = subjectOf(index, { public: true }) as CompiledSubject;
  return index.places.flatMap((place) => (effectiveSet(index, everybody, place, at) & READ ? [place.place.id] : []));
}

const FRESH = sql`on conflict (place_id) do update set seq = excluded.seq, at = excluded.at`;

async function writeOpened(tx: Tx, ids: readonly string[], { seq, at }: Entry): Promise<void> {
  const rows = ids.map((placeId) => ({ placeId, seq, at }));
  if (rows.length > 0) await insertMany(tx, exposures, rows, FRESH);
}

/** Keeps what a change opens to the public and closes; what moves, with all below it, has to be said anew to be meant to be outside. */
export async function keepExposures(tx: Tx, index: AccessIndex, edits: readonly Edit[], ripple: Ripple, entry: Entry): Promise<void> {
  const { opened, closed } = openedAndClosed(ripple);
  if (closed.length > 0) await tx.delete(exposures).where(among(exposures.placeId, closed));
  await writeOpened(tx, opened, entry);
  const moved = edits.flatMap((edit) => {
    const place = edit.kind === "move" ? placeOf(index, edit.place) : undefined;
    return place ? below(index, place).map((it) => it.place.id) : [];
  });
  const lapsed = [...new Set([...closed, ...opened, ...moved])];
  if (lapsed.length > 0) await tx.delete(meantOutside).where(among(meantOutside.placeId, lapsed));
}

/** What a site that was brought in whole opens to the public. */
export const fillExposures = async (tx: Tx, index: AccessIndex, entry: Entry): Promise<void> =>
  writeOpened(tx, openIn(index, instantAt(entry.at.getTime())), entry);

/** Works all of it out anew from the ledger: for a site from before it was kept, and to compare with. */
export async function exposuresOf(tx: Tx): Promise<Map<string, Entry>> {
  const rows = await tx
    .select({ seq: ledger.seq, at: ledger.at, act: ledger.act, ripple: ledger.ripple })
    .from(ledger)
    .where(or(isNotNull(ledger.ripple), inArray(ledger.act, ["found"])))
    .orderBy(asc(ledger.seq));
  const found = new Map<string, Entry>();
  for (const { seq, at, act, ripple } of rows) {
    if (ripple === null) {
      if (!bringsWhole(act)) continue;
      found.clear();
      for (const id of openIn(compile(await loadDocument(tx, seq)), instantAt(at.getTime()))) found.set(id, { seq, at });
      continue;
    }
    const { opened, closed } = openedAndClosed(unpack(ripple));
    for (const id of closed) found.delete(id);
    for (const id of opened) found.set(id, { seq, at });
  }
  return found;
}

export async function rebuildExposures(tx: Tx): Promise<void> {
  const found = await exposuresOf(tx);
  await tx.delete(exposures);
  await insertMany(
    tx,
    exposures,
    [...found].map(([placeId, { seq, at }]) => ({ placeId, seq, at })),
    FRESH,
  );
}
