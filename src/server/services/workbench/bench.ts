/** The workbench as its owner finds it: drafts, what they were let into, what was thrown away. */
import { and, count, desc, eq, inArray, isNotNull, isNull, lt } from "drizzle-orm";
import type { DraftRow, Workbench } from "../../../contracts/workbench.ts";
import { READ } from "../../../core/access/model/index.ts";
import { benchSet } from "../../../core/access/workbench/index.ts";
import { readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { benchDrafts, benchHelpers, benchVersions, buffers } from "../../db/schema/index.ts";
import { binKeepsDays } from "../life/facts.ts";
import { type DraftOnBench, draftVersion, levelIn, onBench } from "./opening.ts";

const DAY = 86_400_000;

/** How many people are let into each, and which hold words that the asker typed and no version has. */
async function beside(tx: Tx, asker: string, ids: readonly string[]) {
  if (ids.length === 0) return { helpers: new Map<string, number>(), typed: new Set<string>() };
  const counts = await tx
    .select({ id: benchHelpers.draftId, count: count() })
    .from(benchHelpers)
    .where(inArray(benchHelpers.draftId, [...ids]))
    .groupBy(benchHelpers.draftId);
  const words = await tx
    .selectDistinct({ id: buffers.placeId })
    .from(buffers)
    .where(and(inArray(buffers.placeId, [...ids]), eq(buffers.personId, asker)));
  return { helpers: new Map(counts.map((row) => [row.id, row.count])), typed: new Set(words.map(({ id }) => id)) };
}

export const readWorkbench = (asker: string): Promise<Workbench> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const names = namesFor(access, me);
    const own =
      me.class === "members"
        ? await tx
            .select()
            .from(benchDrafts)
            .where(and(eq(benchDrafts.ownerId, asker), isNull(benchDrafts.placedAt)))
            .orderBy(desc(benchDrafts.savedAt), benchDrafts.id)
        : [];
    const others = await tx
      .select({ draft: benchDrafts, abilities: benchHelpers.abilities })
      .from(benchHelpers)
      .innerJoin(benchDrafts, eq(benchDrafts.id, benchHelpers.draftId))
      .where(and(eq(benchHelpers.personId, asker), isNull(benchDrafts.placedAt), isNull(benchDrafts.thrownAt)))
      .orderBy(desc(benchDrafts.savedAt), benchDrafts.id);
    const { helpers, typed } = await beside(
      tx,
      asker,
      [...own, ...others.map(({ draft }) => draft)].map(({ id }) => id),
    );
    const row = (it: DraftOnBench, mine: boolean, level: DraftRow["level"]): DraftRow => ({
      id: it.id,
      title: it.title,
      owner: mine ? "" : names.person(it.ownerId),
      level,
      // Who else was let in is its owner's to know.
      helpers: mine ? (helpers.get(it.id) ?? 0) : 0,
      version: draftVersion(it),
      savedAt: it.savedAt.toISOString(),
      typed: typed.has(it.id),
      thrownAt: it.thrownAt?.toISOString() ?? null,
    });
    const letInto = others.flatMap(({ draft, abilities }): DraftRow[] => {
      const set = benchSet(access.index, { owner: draft.ownerId, helpers: [{ person: asker, abilities }] }, me, access.at);
      const level = set & READ ? levelIn(set) : null;
      return level === null || draft.ownerId === asker ? [] : [row(draft, false, level)];
    });
    return {
      drafts: own.filter(({ thrownAt }) => thrownAt === null).map((it) => row(it, true, "write")),
      letInto,
      thrown: own.filter(({ thrownAt }) => thrownAt !== null).map((it) => row(it, true, "write")),
      keptDays: await binKeepsDays(tx),
    };
  });

/** How many private drafts somebody has: all that anybody else may know of them. */
export async function draftsOf(tx: Tx, person: string): Promise<number> {
  const [row] = await tx
    .select({ count: count() })
    .from(benchDrafts)
    .where(and(eq(benchDrafts.ownerId, person), isNull(benchDrafts.placedAt)));
  return row?.count ?? 0;
}

/** Takes drafts out for good that were thrown away long ago, and what is left of those that were placed. */
export const forgetThrown = (now = Date.now()): Promise<void> =>
  onBench(async (tx) => {
    const before = new Date(now - (await binKeepsDays(tx)) * DAY);
    const going = await tx
      .select({ id: benchDrafts.id })
      .from(benchDrafts)
      .where(and(isNotNull(benchDrafts.thrownAt), lt(benchDrafts.thrownAt, before)));
    const ids = going.map(({ id }) => id);
    if (ids.length === 0) return;
    await tx.delete(buffers).where(inArray(buffers.placeId, ids));
    await tx.delete(benchVersions).where(inArray(benchVersions.draftId, ids));
    await tx.delete(benchHelpers).where(inArray(benchHelpers.draftId, ids));
    await tx.delete(benchDrafts).where(inArray(benchDrafts.id, ids));
  });
