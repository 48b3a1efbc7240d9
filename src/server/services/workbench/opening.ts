/** Opening a private draft: for its owner and whom they let in; to everybody else it is not there (access-model.md, 6a, "Workbench"). */
import { eq } from "drizzle-orm";
import { type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type AbilitySet, READ, RETIRE, REVISE } from "../../../core/access/model/index.ts";
import { benchSet, HELPER_LEVELS, type HelperLevel } from "../../../core/access/workbench/index.ts";
import { type Access, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { database, type Tx } from "../../db/client.ts";
import { benchDrafts, benchHelpers } from "../../db/schema/index.ts";
import { notThere, refused, Trouble } from "../../trouble.ts";

export type DraftOnBench = typeof benchDrafts.$inferSelect;
export type HelperOnBench = typeof benchHelpers.$inferSelect;

export interface OpenDraft {
  access: Access;
  me: CompiledSubject;
  draft: DraftOnBench;
  helpers: HelperOnBench[];
  set: AbilitySet;
  /** Whose id asks; theirs. */
  asker: string;
  mine: boolean;
}

/** It stands somewhere by now: said to those who had it, if they may know of the page it became. */
function placed({ access, me, draft }: OpenDraft): Trouble {
  const page = placeOf(access.index, draft.becomes);
  if (!page || !maySee(access, me, page)) return notThere();
  return new Trouble(409, "placed", "This draft was placed as a page meanwhile. What you typed is kept here; go on with it there.", {
    page: page.place.id,
  });
}

const NEEDS = new Map<AbilitySet, string>([
  [REVISE, "You may read this draft, but not write it: its owner lets people in to write."],
  [RETIRE, "This is for whoever the draft is of."],
]);

/** Opens a draft for an act that needs an ability; `lock`: until the transaction ends nobody else changes it. */
export async function openDraft(tx: Tx, asker: string, id: string, needs: AbilitySet = READ, lock = false): Promise<OpenDraft> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const rows = tx.select().from(benchDrafts).where(eq(benchDrafts.id, id));
  const [draft] = await (lock ? rows.for("update") : rows);
  const helpers = await tx.select().from(benchHelpers).where(eq(benchHelpers.draftId, id)).orderBy(benchHelpers.since);
  if (!draft) throw notThere();
  const of = { owner: draft.ownerId, helpers: helpers.map(({ personId: person, abilities }) => ({ person, abilities })) };
  const set = benchSet(access.index, of, me, access.at);
  const mine = draft.ownerId === asker;
  const open: OpenDraft = { access, me, draft, helpers, set, asker, mine };
  // What its owner threw away is theirs alone.
  if (!(set & READ) || (draft.thrownAt && !mine)) throw notThere();
  if (draft.placedAt) throw placed(open);
  if (!(set & needs)) throw refused(NEEDS.get(needs) ?? "You may not do this.");
  return open;
}

/** Changes to private drafts wait for nobody's turn on the site, and have no entry in the ledger. */
export const onBench = <T>(work: (tx: Tx) => Promise<T>): Promise<T> => database().transaction(work);

/** Whoever writes a draft keeps words of it meanwhile. */
export const writesDraft = (tx: Tx, writer: string, id: string): Promise<unknown> => openDraft(tx, writer, id, REVISE);

/** What abilities come to, as it is called. */
export const levelIn = (set: AbilitySet): HelperLevel | null =>
  HELPER_LEVELS.findLast(({ abilities }) => (set & abilities) === abilities)?.level ?? null;

export const draftVersion = ({ rev }: { rev: number }): string => `0.${rev}`;
