/** What a change would be: read, completed, judged in one snapshot. Everything that changes access goes through here. */

import { arrayContains, desc } from "drizzle-orm";
import { judgeChange, refusedActs, type Verdict } from "../../../core/access/authority/index.ts";
import { checkEdits, parseEdits } from "../../../core/access/exchange/index.ts";
import type { AccessIndex, CompiledSubject } from "../../../core/access/index/index.ts";
import { type DocumentError, type Edit, type EditConflict, type Instant, placeOfEdit } from "../../../core/access/model/index.ts";
import { update } from "../../../core/access/update/index.ts";
import { completed } from "../../../core/lifecycle/index.ts";
import { type Access, accessNow, readAccess, subjectFor } from "../../access/current.ts";
import { knownId, knowsPlace, namesFor, toldRefusals } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { ledger } from "../../db/schema/index.ts";
import { badRequest, changedMeanwhile, notThere, refused } from "../../trouble.ts";
import { maySeeEntry } from "../ledger/told.ts";
import { checkLiveVersions } from "./liveAgain.ts";
import { inPlace } from "./order.ts";

export interface Planned {
  access: Access;
  me: CompiledSubject;
  /** The edits as they are kept: closed, instants in UTC, with what they bring along. */
  edits: Edit[];
  after: AccessIndex;
  verdict: Verdict;
}

export interface PlanOrder {
  maker: string;
  edits: readonly Edit[];
  reason?: string;
  /** The change comes with a new live version of its own: it publishes. */
  writesLive?: boolean;
  now?: Instant;
}

const unsound = (errors: readonly DocumentError[]) =>
  badRequest(`This cannot be a rule: ${errors.map((error) => error.message).join("; ")}.`, errors);

/** Places that an edit names and that its maker must be able to see; one that it starts is not there yet. */
function placesNamed(edit: Edit): string[] {
  if (edit.kind === "start") return [edit.parent];
  const own = placeOfEdit(edit);
  return [...(own === null ? [] : [own]), ...(edit.kind === "move" ? [edit.to] : [])];
}

/** Refuses edits that touch what their maker may not know of, as though it did not exist. */
export function checkSeen(access: Access, me: CompiledSubject, edits: readonly Edit[]): void {
  if (edits.some((edit) => placesNamed(edit).some((id) => !knowsPlace(access, me, id)))) throw notThere();
}

/**
 * Refuses what somebody may not do at all, before anything else is looked at: whether an edit fits tells what is there
 * now, and that is for those who may make it.
 */
export function checkActs(access: Access, me: CompiledSubject, edits: readonly Edit[]): void {
  checkSeen(access, me, edits);
  const refusals = refusedActs(access.index, { edits, maker: me.person?.id ?? "", at: access.at });
  const [first] = refusals;
  if (first) throw refused(first.message, toldRefusals(access, me, refusals));
}

/** The same, asked by itself: before a change goes where it keeps others waiting. */
export async function refuseEarly(maker: string, edits: readonly Edit[]): Promise<void> {
  const access = await accessNow();
  const parsed = parseEdits(edits);
  if (parsed.ok) checkActs(access, subjectFor(access, maker), completed(access.index, parsed.edits));
}

/** Says what does not fit any more, and which entry of the ledger, by whom, came in between. */
async function describeConflicts(
  tx: Tx,
  access: Access,
  me: CompiledSubject,
  { edits, conflicts }: { edits: readonly Edit[]; conflicts: readonly EditConflict[] },
) {
  const names = namesFor(access, me);
  const told = conflicts.map(async ({ edit, message }) => {
    const id = placeOfEdit(edit);
    const nth = edits.indexOf(edit);
    const common = { nth, place: id === null ? null : knownId(access, me, id), title: id === null ? "" : names.place(id) };
    // What fits by itself contradicts another edit of the same change: nobody has changed anything.
    if (edit.kind !== "order" && update(access.index, [edit]).ok)
      return { ...common, message: "contradicts something else in the same change", own: true };
    if (id === null) return { ...common, title: "people, groups and pledges", message, own: false };
    const [last] = await tx
      .select()
      .from(ledger)
      .where(arrayContains(ledger.places, [id]))
      .orderBy(desc(ledger.seq))
      .limit(1);
    const by = last?.maker && maySeeEntry(access, me, last) ? ` (entry ${last.seq}, by ${names.person(last.maker)})` : "";
    return { ...common, message: `${message}${by}`, own: false };
  });
  return Promise.all(told);
}

/** Works out a change in a transaction: what it leads to and whether its maker may. Throws where it does not fit or is unsound. */
export async function planChange(tx: Tx, order: PlanOrder): Promise<Planned> {
  const { maker, reason } = order;
  const access = await readAccess(tx, order.now);
  const me = subjectFor(access, maker);
  const parsed = parseEdits(order.edits);
  if (!parsed.ok) throw unsound(parsed.errors);
  const whole = completed(access.index, parsed.edits);
  checkActs(access, me, whole);
  const { edits, conflicts } = await inPlace(tx, access.index, whole);
  if (conflicts.length > 0) throw await misfit(tx, access, me, edits, conflicts);
  const updated = update(access.index, edits);
  if (!updated.ok) throw await misfit(tx, access, me, edits, updated.conflicts);
  const after = updated.index;
  if (!order.writesLive) await checkLiveVersions(tx, edits);
  const errors = checkEdits(after, edits);
  if (errors.length > 0) throw unsound(errors);
  const verdict = judgeChange(access.index, after, { edits, maker, at: access.at, ...(reason ? { reason } : {}) });
  return { access, me, edits, after, verdict };
}

/** Why edits do not fit: they never could, they contradict one another, or somebody changed something meanwhile. */
async function misfit(tx: Tx, access: Access, me: CompiledSubject, edits: readonly Edit[], conflicts: readonly EditConflict[]) {
  const names = namesFor(access, me);
  const lawless = conflicts.filter(({ unlawful }) => unlawful);
  if (lawless.length > 0)
    return badRequest(
      `This cannot be done: ${lawless.map(({ edit, message }) => `${names.place(placeOfEdit(edit) ?? "")}: ${message}`).join("; ")}. What you prepared is kept.`,
    );
  const described = await describeConflicts(tx, access, me, { edits, conflicts });
  const told = described.map((it) => `${it.title}: ${it.message}`).join("; ");
  return changedMeanwhile(
    described.every((it) => it.own)
      ? `This does not fit together: ${told}. What you prepared is kept.`
      : `Somebody changed this meanwhile: ${told}. What you prepared is kept.`,
    described,
  );
}

/** A page is scheduled by a schedule, which says when and which version: no bare edit of its state leads there (lifecycle.md, "Schedules"). */
export function checkNoneScheduled(edits: readonly Edit[]): void {
  if (edits.some((edit) => edit.kind === "state" && edit.to.state === "scheduled"))
    throw badRequest("A page is scheduled by saying when it goes live, not by a change of its state.");
}
