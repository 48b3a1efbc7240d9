/** What planning acts goes by besides the rules: slots, landing pages, what earlier acts did. Of an act, just what it asks for. */
import { and, inArray, isNull, sql } from "drizzle-orm";
import { type AccessIndex, below, type CompiledPlace, placeOf, spaceIdOf } from "../../../core/access/index/index.ts";
import { type Edit, instantAt } from "../../../core/access/model/index.ts";
import type { LifeAct, LifeFacts } from "../../../core/lifecycle/index.ts";
import type { Tx } from "../../db/client.ts";
import { slots, spaces } from "../../db/schema/index.ts";
import { among, textArray } from "../../db/textArray.ts";
import { unapprovedIn } from "../approval/licences.ts";
import { readHouseRules } from "../house/houseRules.ts";

/** So many days the bin keeps a page: a rule of the house. */
export const binKeepsDays = async (tx: Tx): Promise<number> => (await readHouseRules(tx)).binDays;

/** Landing pages of all spaces. */
export async function landingsOf(tx: Tx): Promise<Map<string, string>> {
  const rows = await tx.select({ id: spaces.placeId, landing: spaces.landingId }).from(spaces);
  return new Map(rows.flatMap(({ id, landing }) => (landing === null ? [] : [[id, landing] as const])));
}

/** Of places in the archive or the bin: the change that brought them there. */
export async function leavingsOf(tx: Tx, ids: readonly string[]): Promise<LifeFacts["left"]> {
  if (ids.length === 0) return new Map();
  const rows = await tx.execute<{ id: string; seq: string }>(sql`
    select p.id, coalesce((select max(b.to_seq) from places b where b.id = p.id and b.to_seq is not null and b.state <> p.state), p.from_seq) as seq
    from places p where p.to_seq is null and p.state in ('archived', 'binned') and p.id = any(${textArray(ids)})`);
  const seqs = [...new Set(rows.map(({ seq }) => Number(seq)))];
  if (seqs.length === 0) return new Map();
  const entries = await tx.execute<{ seq: string; edits: Edit[]; at: Date | string }>(
    sql`select seq, edits, at from ledger where seq = any(${`{${seqs.join(",")}}`}::bigint[])`,
  );
  const bySeq = new Map(entries.map(({ seq, edits, at }) => [Number(seq), { edits, at: instantAt(new Date(at).getTime()) }]));
  return new Map(
    rows.flatMap(({ id, seq }) => {
      const entry = bySeq.get(Number(seq));
      return entry ? [[id, entry] as const] : [];
    }),
  );
}

/** Everything an act may have to do with: what it is done to, what is below, and what was handed up by what comes back. */
const reachOf = (index: AccessIndex, { act, below: what }: LifeAct, chosen: readonly CompiledPlace[]): string[] =>
  // What goes along as it stands keeps its order.
  (what === "along" && LEAVES.has(act)
    ? chosen
    : chosen.flatMap((place) => (place.place.kind === "space" ? [place] : below(index, place)))
  ).map(({ place }) => place.id);

const LEAVES: ReadonlySet<LifeAct["act"]> = new Set(["archive", "bin"]);

/**
 * Of moves into spaces that ask for approval: which of the places in reach of all acts are live and were never approved there. One act
 * may bring in what an earlier one put below it.
 */
async function unapprovedOf(
  tx: Tx,
  index: AccessIndex,
  acts: readonly LifeAct[],
  reach: readonly string[],
): Promise<NonNullable<LifeFacts["unapproved"]>> {
  const targets = acts.flatMap(({ act, to }) => (act === "move" && to !== undefined ? (placeOf(index, to) ?? []) : []));
  const spaces = new Set(targets.map((target) => spaceIdOf(index, target)));
  const live = [...new Set(reach)].filter((id) => placeOf(index, id)?.place.state === "live");
  const found = new Map<string, ReadonlySet<string>>();
  for (const space of spaces) {
    const lacking = await unapprovedIn(tx, space, live);
    if (lacking) found.set(space, lacking);
  }
  return found;
}

export async function factsFor(tx: Tx, index: AccessIndex, acts: readonly LifeAct[]): Promise<LifeFacts> {
  const ids = acts.flatMap((act) =>
    reachOf(
      index,
      act,
      act.places.flatMap((id) => placeOf(index, id) ?? []),
    ),
  );
  const spacesOf = ids.flatMap((id) => index.places[placeOf(index, id)?.space ?? -1]?.place.id ?? []);
  const left = acts.some(({ act }) => act === "restore" || act === "unarchive" || act === "erase")
    ? await leavingsOf(tx, [...new Set([...ids, ...spacesOf])])
    : new Map();
  // Of a branch all left by the same change, which is looked through once.
  const changes = new Set([...left.values()].map(({ edits }) => edits));
  const wentUp = [...changes].flatMap((edits) => edits.flatMap((edit: Edit) => (edit.kind === "move" ? [edit.place] : [])));
  const asked = [...new Set([...ids, ...wentUp])];
  const rows =
    asked.length === 0
      ? []
      : await tx
          .select({ id: slots.placeId, slot: slots.slot })
          .from(slots)
          .where(and(isNull(slots.toSeq), among(slots.placeId, asked)));
  return {
    slots: new Map(rows.map(({ id, slot }) => [id, slot])),
    landings: await landingsOf(tx),
    left,
    unapproved: await unapprovedOf(tx, index, acts, ids),
    keepsDays: await binKeepsDays(tx),
  };
}

/** Landing pages and nothing else: what a change without acts is held to. */
export const bareFacts = async (tx: Tx): Promise<LifeFacts> => ({
  slots: new Map(),
  landings: await landingsOf(tx),
  left: new Map(),
  keepsDays: await binKeepsDays(tx),
});

/** Sets the landing pages that edits give. */
export async function writeLandings(tx: Tx, edits: readonly Edit[]): Promise<void> {
  for (const edit of edits)
    if (edit.kind === "landing")
      await tx
        .update(spaces)
        .set({ landingId: edit.to })
        .where(inArray(spaces.placeId, [edit.place]));
}
