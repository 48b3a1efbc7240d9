/** Rules as they are kept, with the entry of the ledger that made each: by whom, when, with what note. */
import { and, asc, desc, inArray, type SQL, sql } from "drizzle-orm";
import type { RegisteredRule } from "../../../contracts/registers.ts";
import { fenceSentence, grantSentence } from "../../../core/access/explain/index.ts";
import { type AccessIndex, placeOf } from "../../../core/access/index/index.ts";
import { abilitiesIn, type Fence, fenceKey, type Grant, grantKey, type Seq } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { holds } from "../../db/document.ts";
import { ceilings, fences, grants, ledger, places } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { saidOf, wordsOf } from "../../ledger/words.ts";
import type { Sight } from "../grid/sight.ts";
import { entriesInPassing } from "../ledger/told.ts";

interface Kept {
  place: string;
  text: string;
  seq: Seq;
  kind: "grant" | "fence" | "stance" | "ceilings";
}

async function grantsOf(tx: Tx, { access, names }: Sight, ids: SQL): Promise<Kept[]> {
  const rows = await tx
    .select()
    .from(grants)
    .where(and(sql`${grants.placeId} = any(${ids})`, holds(grants, access.seq)))
    .orderBy(asc(grants.rowId));
  const stands = standing(access.index, (place) => place.grants.map(grantKey));
  return rows.flatMap(({ placeId, to, abilities, until, draft, fromSeq }): Kept[] => {
    const grant: Grant = {
      to,
      abilities: abilitiesIn(abilities),
      ...(until ? { until: until.toISOString() } : {}),
      ...(draft ? { draft } : {}),
    };
    const ended = until !== null && until.getTime() <= access.at;
    const text = `${grantSentence(grant, names)}${ended ? " (ended)" : ""}`;
    return stands(placeId, grantKey(grant)) ? [{ place: placeId, text, seq: fromSeq, kind: "grant" }] : [];
  });
}

async function fencesOf(tx: Tx, { access, names }: Sight, ids: SQL): Promise<Kept[]> {
  const rows = await tx
    .select()
    .from(fences)
    .where(and(sql`${fences.placeId} = any(${ids})`, holds(fences, access.seq)))
    .orderBy(asc(fences.rowId));
  const stands = standing(access.index, (place) => place.fences.map(fenceKey));
  return rows.flatMap(({ placeId, kind, admits, fromSeq }): Kept[] => {
    const fence: Fence = { kind, admits };
    const text = `${kind} fence: ${fenceSentence(fence, names)}`;
    return stands(placeId, fenceKey(fence)) ? [{ place: placeId, text, seq: fromSeq, kind: "fence" }] : [];
  });
}

/** Whether a rule stands in the rules that are looked at: ahead of now some of them have gone by themselves. */
function standing(index: AccessIndex, keysOf: (place: { grants: Grant[]; fences: Fence[] }) => string[]) {
  const known = new Map<string, ReadonlySet<string>>();
  return (id: string, key: string): boolean => {
    const place = placeOf(index, id)?.place;
    if (!known.has(id)) known.set(id, new Set(place ? keysOf(place) : []));
    return known.get(id)?.has(key) ?? false;
  };
}

/** Since which entry places start fresh: the one after the last that had them follow. */
async function stancesOf(tx: Tx, { access }: Sight, ids: readonly string[]): Promise<Kept[]> {
  const fresh = ids.filter((id) => placeOf(access.index, id)?.fresh);
  if (fresh.length === 0) return [];
  const rows = await tx
    .select({
      id: places.id,
      since: sql<string>`coalesce(max(${places.toSeq}) filter (where ${places.stance} = 'follow' and ${places.toSeq} <= ${access.seq}), min(${places.fromSeq}))`,
    })
    .from(places)
    .where(inArray(places.id, fresh))
    .groupBy(places.id);
  return rows.map(({ id, since }) => ({
    place: id,
    text: "starts fresh: what is granted above stops here",
    seq: Number(since) as Seq,
    kind: "stance",
  }));
}

async function ceilingsOf(tx: Tx, { access }: Sight, ids: SQL): Promise<Kept[]> {
  const rows = await tx
    .select()
    .from(ceilings)
    .where(and(sql`${ceilings.placeId} = any(${ids})`, holds(ceilings, access.seq)))
    .orderBy(desc(ceilings.rowId));
  return rows.map(({ placeId, ceilings: it, fromSeq }) => {
    const parts = [
      it.outsiders && `outsiders ${it.outsiders.join(", ") || "nothing"}`,
      it.guests && `guests ${it.guests.join(", ") || "nothing"}`,
      it.passes === undefined ? "" : it.passes ? "passes allowed" : "no passes",
    ];
    return { place: placeId, text: `ceilings: ${parts.filter(Boolean).join("; ")}`, seq: fromSeq, kind: "ceilings" };
  });
}

export type KeptRule = RegisteredRule & Pick<Kept, "kind">;

/** The rules of some places by place, each with its entry. */
export async function rulesOf(tx: Tx, sight: Sight, ids: readonly string[]): Promise<Map<string, KeptRule[]>> {
  if (ids.length === 0) return new Map();
  const list = textArray([...ids]);
  const all = [
    ...(await stancesOf(tx, sight, ids)),
    ...(await grantsOf(tx, sight, list)),
    ...(await fencesOf(tx, sight, list)),
    ...(await ceilingsOf(tx, sight, list)),
  ];
  const seqs = [...new Set(all.map(({ seq }) => seq))];
  const entries = await entriesInPassing(tx, sight.now, sight.me, seqs);
  const times = seqs.length === 0 ? [] : await tx.select({ seq: ledger.seq, at: ledger.at }).from(ledger).where(inArray(ledger.seq, seqs));
  const when = new Map(times.map(({ seq, at }) => [seq, at.toISOString()]));
  const words = await wordsOf(tx, seqs);
  const byPlace = new Map<string, KeptRule[]>();
  for (const { place, text, seq, kind } of all) {
    const entry = entries.get(seq);
    const rule = { text, kind, entry: entry ? { ...entry, at: when.get(seq) ?? "", note: saidOf(words.get(seq)) } : null };
    byPlace.set(place, [...(byPlace.get(place) ?? []), rule]);
  }
  return byPlace;
}

/** The newest entry that made one of the rules that stand at each place. */
export async function newestRules(tx: Tx, { access }: Sight): Promise<Map<string, Seq>> {
  const rows = await tx.execute<{ id: string; seq: string }>(sql`
    select place_id as id, max(from_seq) as seq from (
      select place_id, from_seq from ${grants} where from_seq <= ${access.seq} and (to_seq is null or to_seq > ${access.seq})
      union all select place_id, from_seq from ${fences} where from_seq <= ${access.seq} and (to_seq is null or to_seq > ${access.seq})
      union all select place_id, from_seq from ${ceilings} where from_seq <= ${access.seq} and (to_seq is null or to_seq > ${access.seq})
    ) r group by place_id`);
  return new Map(rows.map(({ id, seq }) => [id, Number(seq) as Seq]));
}
