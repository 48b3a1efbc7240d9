/** What a change would be: read, completed, judged in one snapshot. Everything that changes access goes through here. */

import { judgeChange, refusedActs, type Verdict } from "../../../core/access/authority/index.ts";
import { checkEdits, parseEdits } from "../../../core/access/exchange/index.ts";
import { type AccessIndex, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type DocumentError, type Edit, type EditConflict, type Instant, isBeside, placeOfEdit } from "../../../core/access/model/index.ts";
import { update } from "../../../core/access/update/index.ts";
import { completed, firstLandings, type LifeAct, missingChoices, type Plan } from "../../../core/lifecycle/index.ts";
import { type Access, accessNow, readAccess, subjectFor } from "../../access/current.ts";
import { knownId, knowsPlace, namesFor, toldRefusals } from "../../access/known.ts";
import { database, type Tx } from "../../db/client.ts";
import { badRequest, changedMeanwhile, notThere, refused } from "../../trouble.ts";
import { houseConflicts } from "../house/houseRules.ts";
import { heldConflicts } from "../leaving/held.ts";
import { byWhom } from "../ledger/told.ts";
import { bareFacts } from "../life/facts.ts";
import { checkOrdered, landingConflicts, type PlannedActs, planActs } from "../life/planning.ts";
import { managersConflicts } from "../people/managers.ts";
import { type Mandates, mandatesOf } from "../people/mandates.ts";
import { reviewConflicts } from "../review/reviewEdits.ts";
import { checkLiveVersions } from "./liveAgain.ts";
import { markConflicts } from "./marks.ts";
import { inPlace } from "./order.ts";

export interface Planned {
  access: Access;
  me: CompiledSubject;
  /** The edits as they are kept: closed, instants in UTC, with what they bring along. */
  edits: Edit[];
  after: AccessIndex;
  verdict: Verdict;
  /** Of acts: what they were planned to. */
  acts: (PlannedActs & { open: Plan["choices"] }) | null;
}

export interface PlanOrder {
  /** Null: somebody who is not signed in. */
  maker: string | null;
  edits: readonly Edit[];
  /** Acts, which are planned here; they come before the edits. */
  acts?: readonly LifeAct[];
  /** One only looks: what is not chosen yet is assumed. */
  look?: boolean;
  /** Edits are the way back of an entry. */
  wayBack?: WayBack;
  reason?: string;
  /** The clock does it, for somebody who meant it so: only the outcome is judged. */
  clock?: true;
  /** Somebody leaves: what they own goes to others, whoever holds what there. */
  leaving?: true;
  /** Pages that get a new live version in the same change: it publishes them. */
  writesLive?: readonly string[];
  now?: Instant;
  /** Begun with the edits as soon as they are known, before they are judged. */
  meanwhile?: (access: Access, edits: readonly Edit[]) => Promise<void>;
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
  const started = new Set(edits.flatMap((edit) => (edit.kind === "start" ? [edit.place] : [])));
  if (edits.some((edit) => placesNamed(edit).some((id) => !started.has(id) && !knowsPlace(access, me, id)))) throw notThere();
}

/**
 * Refuses what somebody may not do at all, before anything else is looked at: whether an edit fits tells what is there
 * now, and that is for those who may make it.
 */
export function checkActs(
  access: Access,
  me: CompiledSubject,
  edits: readonly Edit[],
  { follows = new Set(), mandates = {} }: { follows?: ReadonlySet<Edit>; mandates?: Mandates } = {},
): void {
  checkSeen(
    access,
    me,
    edits.filter((edit) => !follows.has(edit)),
  );
  const refusals = refusedActs(access.index, { edits, maker: me.person?.id ?? null, at: access.at, follows, ...mandates });
  const [first] = refusals;
  if (first) throw refused(first.message, toldRefusals(access, me, refusals));
}

/** The same, asked by itself: before a change goes where it keeps others waiting. */
export async function refuseEarly(maker: string, edits: readonly Edit[], acts: readonly LifeAct[] = []): Promise<void> {
  const access = await accessNow();
  const me = subjectFor(access, maker);
  const parsed = parseEdits(edits);
  if (parsed.ok) {
    const mandates = await mandatesOf(database(), maker, parsed.edits);
    checkActs(access, me, completed(access.index, parsed.edits), { mandates });
  }
  checkOrdered(access, me, acts);
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
    const title = id === null ? "people, groups and pledges" : names.place(id);
    const common = { nth, place: id === null ? null : knownId(access, me, id), title };
    // What fits by itself contradicts another edit of the same change: nobody has changed anything. (Of what the document
    // does not hold the index cannot say.)
    if (!isBeside(edit) && update(access.index, [edit]).ok)
      return { ...common, message: "contradicts something else in the same change", own: true };
    if (id === null) return { ...common, message, own: false };
    return { ...common, message: `${message}${await byWhom(tx, access, me, id)}`, own: false };
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
  const acts = order.acts?.length ? await planActs(tx, access, me, order.acts, order.look) : null;
  const whole = completed(access.index, [...(acts?.edits ?? []), ...parsed.edits]);
  const mandates = await mandatesOf(tx, maker, whole);
  const given = whole.filter(({ kind }) => kind === "owner");
  const follows = new Set(
    order.clock ? whole : order.leaving ? given : order.wayBack ? followingBack(access, me, whole, order.wayBack) : acts?.follows,
  );
  // Where one only looks, what is in the way is told beside what it would do.
  if (!order.look) checkActs(access, me, whole, { follows, mandates });
  const { edits, after, landings } = await ledTo(tx, access, me, { whole, acts, lenient: order.look ?? false });
  for (const edit of landings) follows.add(edit);
  // Where something stands that was moved by itself follows as well.
  const moved = new Set([...follows].flatMap((edit) => (edit.kind === "move" ? [edit.place] : [])));
  for (const edit of edits) if (edit.kind === "order" && moved.has(edit.place)) follows.add(edit);
  await order.meanwhile?.(access, edits);
  await checkLiveVersions(tx, { before: access.index, after }, edits, order.writesLive ?? []);
  const errors = checkEdits(after, edits);
  if (errors.length > 0) throw unsound(errors);
  const verdict = judgeChange(access.index, after, { edits, maker, at: access.at, follows, ...mandates, ...(reason ? { reason } : {}) });
  return { access, me, edits, after, verdict, acts };
}

/**
 * What follows by itself on the way back: the landing page that a space got or lost since nobody chose one; and what went
 * along unseen, states and where things stand, never rules.
 */
const followingBack = (access: Access, me: CompiledSubject, edits: readonly Edit[], way: WayBack): Edit[] =>
  edits.filter((edit) => {
    if (edit.kind === "owner" && way.leaving) return true;
    if (edit.kind === "landing") return edit.from === null || edit.to === null;
    if (way.moves && (edit.kind === "move" || edit.kind === "order")) return true;
    if (!way.unseen || (edit.kind !== "state" && edit.kind !== "move" && edit.kind !== "order")) return false;
    return placesNamed(edit).some((id) => placeOf(access.index, id) && !knowsPlace(access, me, id));
  });

/** Of an entry that is taken back: what of it followed from an act by itself. */
export interface WayBack {
  /** Whoever takes it back knows everything the act was done to: what went along unseen comes back unseen. */
  unseen: boolean;
  /** Somebody was seen off: what they owned goes back to them. */
  leaving?: boolean;
  /** Nothing was moved but by an act that hands up or brings back. */
  moves: boolean;
}

interface Leading {
  whole: readonly Edit[];
  acts: PlannedActs | null;
  /** What lacks a choice is let by: it is told as what is to be chosen. */
  lenient: boolean;
}

/** The index that edits lead to, with slots and landing pages; throws where they do not fit, or lack a choice. */
async function ledTo(tx: Tx, access: Access, me: CompiledSubject, { whole, acts, lenient }: Leading) {
  const { edits: placed, conflicts } = await inPlace(tx, access.index, whole, acts?.placings);
  const fits = async (list: readonly Edit[], found: readonly EditConflict[]) => {
    if (found.length > 0) throw await misfit(tx, access, me, list, found);
  };
  await fits(placed, [
    ...conflicts,
    ...(await markConflicts(tx, access.index, placed)),
    ...(await reviewConflicts(tx, access, placed)),
    ...(await houseConflicts(tx, placed)),
    ...(await heldConflicts(tx, placed)),
    ...(await managersConflicts(tx, access.index, placed)),
  ]);
  const updated = update(access.index, placed);
  if (!updated.ok) throw await misfit(tx, access, me, placed, updated.conflicts);
  const lives = placed.some((edit) => edit.kind === "state" || edit.kind === "move" || edit.kind === "landing" || edit.kind === "erase");
  if (!lives) return { edits: placed, after: updated.index, landings: [] };
  const facts = acts?.facts ?? (await bareFacts(tx));
  await fits(placed, landingConflicts(facts, placed));
  // Acts by themselves were planned with the landing pages they come to.
  const planned = acts !== null && whole.length === acts.edits.length;
  const landings = planned ? [] : firstLandings(access.index, updated.index, facts, placed);
  const edits = [...placed, ...landings];
  if (!lenient) await fits(edits, missingChoices(access.index, updated.index, facts, edits));
  return { edits, after: updated.index, landings };
}

/** Why edits do not fit: they never could, they contradict one another, or somebody changed something meanwhile. */
async function misfit(tx: Tx, access: Access, me: CompiledSubject, edits: readonly Edit[], conflicts: readonly EditConflict[]) {
  const names = namesFor(access, me);
  const lawless = conflicts.filter(({ unlawful }) => unlawful);
  if (lawless.length > 0) {
    const told = lawless.map(({ edit, message }) => {
      const place = placeOfEdit(edit);
      return place === null ? message : `${names.place(place)}: ${message}`;
    });
    return badRequest(`This cannot be done: ${told.join("; ")}. What you prepared is kept.`);
  }
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
