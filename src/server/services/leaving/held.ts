/** What is somebody's without being a rule: passes, invitations, tokens, schedules, groups they manage; and handing it on. */
import { and, eq, inArray, isNull } from "drizzle-orm";
import type { PgColumn } from "drizzle-orm/pg-core";
import type { Edit, EditConflict, Held } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import {
  benchDrafts,
  flags,
  groupManagers,
  invitations,
  passLinks,
  routines,
  schedules,
  submissions,
  tokens,
} from "../../db/schema/index.ts";

interface Kept {
  table:
    | typeof passLinks
    | typeof invitations
    | typeof tokens
    | typeof schedules
    | typeof groupManagers
    | typeof submissions
    | typeof benchDrafts
    | typeof flags
    | typeof routines;
  id: PgColumn;
  whose: PgColumn;
  /** The name of the column that says whose it is. */
  field: "by" | "madeBy" | "personId" | "ownerId" | "to" | "asId";
  open?: ReturnType<typeof isNull>;
}

const KEPT: Readonly<Record<Held, Kept>> = {
  passes: { table: passLinks, id: passLinks.passId, whose: passLinks.by, field: "by" },
  invitations: { table: invitations, id: invitations.personId, whose: invitations.by, field: "by" },
  tokens: { table: tokens, id: tokens.id, whose: tokens.madeBy, field: "madeBy", open: isNull(tokens.withdrawnAt) },
  schedules: { table: schedules, id: schedules.placeId, whose: schedules.by, field: "by" },
  submissions: { table: submissions, id: submissions.placeId, whose: submissions.by, field: "by" },
  // By handles, which open nothing: whoever hands drafts over learns how many there are, and no more.
  drafts: { table: benchDrafts, id: benchDrafts.handle, whose: benchDrafts.ownerId, field: "ownerId", open: isNull(benchDrafts.placedAt) },
  flags: { table: flags, id: flags.id, whose: flags.to, field: "to", open: isNull(flags.outcome) },
  routines: { table: routines, id: routines.id, whose: routines.asId, field: "asId", open: eq(routines.gone, false) },
  managed: { table: groupManagers, id: groupManagers.groupId, whose: groupManagers.personId, field: "personId" },
};

/** Ids of what of a kind is somebody's. */
export async function heldBy(tx: Tx, what: Held, person: string): Promise<string[]> {
  const { table, id, whose, open } = KEPT[what];
  const rows = await tx
    .select({ id })
    .from(table)
    .where(and(eq(whose, person), open));
  return [...new Set(rows.map((row) => String(row.id)))];
}

const handOvers = (edits: readonly Edit[]) => edits.filter((edit) => edit.kind === "handOver");

/** What is not theirs any more who would hand it on. */
export async function heldConflicts(tx: Tx, edits: readonly Edit[]): Promise<EditConflict[]> {
  const found: EditConflict[] = [];
  for (const edit of handOvers(edits)) {
    const theirs = new Set(await heldBy(tx, edit.what, edit.from));
    if (edit.ids.some((id) => !theirs.has(id))) found.push({ edit, message: "what is handed on was changed meanwhile" });
  }
  return found;
}

export async function writeHeld(tx: Tx, edits: readonly Edit[]): Promise<void> {
  for (const { what, from, to, ids } of handOvers(edits)) {
    const { table, id, whose, field } = KEPT[what];
    // Whoever manages a group already manages it once.
    if (what === "managed") await tx.delete(groupManagers).where(and(eq(groupManagers.personId, to), inArray(groupManagers.groupId, ids)));
    await tx
      .update(table)
      .set({ [field]: to })
      .where(and(eq(whose, from), inArray(id, ids)));
  }
}
