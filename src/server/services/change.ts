/** Changes to access and to the state of pages: previewed, judged, applied with their ledger entry in one transaction, taken back. */

import { arrayContains, desc, eq } from "drizzle-orm";
import type { Preview } from "../../contracts/answers.ts";
import { type AccessIndex, type CompiledSubject, placeOf } from "../../core/access/accessIndex.ts";
import { judgeChange, type Verdict } from "../../core/access/authority.ts";
import { checkEdits } from "../../core/access/check.ts";
import type { DocumentError } from "../../core/access/document.ts";
import { type Edit, type EditConflict, invertEdits, placeOfEdit } from "../../core/access/edits.ts";
import { isSiteKeeper } from "../../core/access/judge.ts";
import { parseEdits } from "../../core/access/parse.ts";
import { update } from "../../core/access/update.ts";
import { type Access, maySee, readAccess, subjectFor } from "../access/current.ts";
import { inChange, inSnapshot, type Tx } from "../db/client.ts";
import { writeDifference } from "../db/document.ts";
import { writeListing } from "../db/listing.ts";
import { ledger } from "../db/schema.ts";
import { badRequest, changedMeanwhile, notThere, refused } from "../http/trouble.ts";
import { appendEntry } from "../ledger/append.ts";
import { cellsOf, mayKnowOthers } from "./cells.ts";
import { namesFor } from "./naming.ts";
import { fingerprint, rippleView } from "./rippleView.ts";

interface Planned {
  access: Access;
  me: CompiledSubject;
  /** The edits as they are kept: closed, instants in UTC. */
  edits: Edit[];
  after: AccessIndex;
  verdict: Verdict;
}

const unsound = (errors: readonly DocumentError[]) =>
  badRequest(`This cannot be a rule: ${errors.map((error) => error.message).join("; ")}.`, errors);

/** Places that an edit names and that its maker must be able to see; one that it starts is not there yet. */
function placesNamed(edit: Edit): string[] {
  if (edit.kind === "start") return [edit.parent];
  const own = placeOfEdit(edit);
  return [...(own === null ? [] : [own]), ...(edit.kind === "move" ? [edit.to] : [])];
}

function checkSeen(access: Access, me: CompiledSubject, edits: readonly Edit[]): void {
  for (const edit of edits) {
    for (const id of placesNamed(edit)) {
      const place = placeOf(access.index, id);
      if (!place || !maySee(access, me, place)) throw notThere();
    }
  }
}

/** Whether somebody may see a ledger entry: it is about a place they administer, or they made it, or they keep the site. */
function maySeeEntry(access: Access, me: CompiledSubject, entry: { maker: string | null; places: string[] }): boolean {
  if (entry.maker === me.person?.id || isSiteKeeper(access.index, me, access.at)) return true;
  return entry.places.some((id) => {
    const place = placeOf(access.index, id);
    return place !== undefined && mayKnowOthers(access, me, place);
  });
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
    const at = edits.indexOf(edit);
    // What fits by itself contradicts another edit of the same change: nobody has changed anything.
    if (update(access.index, [edit]).ok)
      return {
        at,
        place: id,
        title: id === null ? "" : names.place(id),
        message: "contradicts something else in the same change",
        own: true,
      };
    if (id === null) return { at, place: null, title: "people, groups and pledges", message, own: false };
    const [last] = await tx
      .select()
      .from(ledger)
      .where(arrayContains(ledger.places, [id]))
      .orderBy(desc(ledger.seq))
      .limit(1);
    const by = last?.maker && maySeeEntry(access, me, last) ? ` (entry ${last.seq}, by ${names.person(last.maker)})` : "";
    return { at, place: id, title: names.place(id), message: `${message}${by}`, own: false };
  });
  return Promise.all(told);
}

/** Works out a change in a transaction: what it leads to and whether its maker may. Throws where it does not fit or is unsound. */
async function planChange(tx: Tx, order: Pick<ChangeOrder, "maker" | "edits" | "reason" | "now">): Promise<Planned> {
  const { maker, reason } = order;
  const access = await readAccess(tx, order.now);
  const me = subjectFor(access, maker);
  const parsed = parseEdits(order.edits);
  if (!parsed.ok) throw unsound(parsed.errors);
  const { edits } = parsed;
  checkSeen(access, me, edits);
  const updated = update(access.index, edits);
  if (!updated.ok) {
    const conflicts = await describeConflicts(tx, access, me, { edits, conflicts: updated.conflicts });
    const told = conflicts.map((it) => `${it.title}: ${it.message}`).join("; ");
    throw changedMeanwhile(
      conflicts.every((it) => it.own)
        ? `This does not fit together: ${told}. What you prepared is kept.`
        : `Somebody changed this meanwhile: ${told}. What you prepared is kept.`,
      conflicts,
    );
  }
  const after = updated.index;
  const errors = checkEdits(after, edits);
  if (errors.length > 0) throw unsound(errors);
  const verdict = judgeChange(access.index, after, { edits, maker, at: access.at, ...(reason ? { reason } : {}) });
  return { access, me, edits, after, verdict };
}

/** A page is scheduled by a schedule, which says when: no bare edit of its state leads there (lifecycle.md, "Schedules"). */
export function checkNoneScheduled(edits: readonly Edit[]): void {
  if (edits.some((edit) => edit.kind === "state" && edit.to.state === "scheduled"))
    throw badRequest("A page is scheduled by saying when it goes live, not by a change of its state.");
}

/** What takes an entry back: what was scheduled comes back as a draft, without its schedule (lifecycle.md, "Taking back"). */
export const inverseOf = (edits: readonly Edit[]): Edit[] =>
  invertEdits(edits).flatMap((edit): Edit[] => {
    if (edit.kind !== "state" || edit.to.state !== "scheduled") return [edit];
    return edit.from.state === "draft" ? [] : [{ ...edit, to: { state: "draft" } }];
  });

/** Shows what edits would do, and what is in the way; changes nothing. */
export async function previewChange(maker: string, edits: readonly Edit[], columns: readonly string[]): Promise<Preview> {
  checkNoneScheduled(edits);
  return inSnapshot(async (tx) => {
    const { access, me, after, verdict } = await planChange(tx, { maker, edits });
    // Who may not make a change may not learn from its ripple what others can do either.
    const forbidden = verdict.refusals.find((refusal) => refusal.code === "notAllowed");
    if (forbidden) throw refused(forbidden.message, verdict.refusals);
    const titles = namesFor(access, me);
    const touched = new Set(verdict.ripple.entries.flatMap((entry) => entry.places));
    const places = [...touched].flatMap((id) => placeOf(access.index, id) ?? []);
    const before = cellsOf(access, me, access.index, columns, places);
    const then = cellsOf(access, me, after, columns, places);
    const cells = [...before].flatMap(([place, row]) =>
      columns.flatMap((column, i) => {
        const [a, b] = [row[i], then.get(place)?.[i]];
        return a && b && (a.set !== b.set || a.more !== b.more) ? [{ place, column, before: a, after: b }] : [];
      }),
    );
    return {
      seen: fingerprint(verdict.ripple),
      // Things are named as they are afterwards only to those who may see them already.
      ripple: rippleView(access, me, verdict.ripple),
      refusals: verdict.refusals.map((refusal) => ({ ...refusal, title: refusal.place ? titles.place(refusal.place) : "" })),
      steppingIn: verdict.steppingIn,
      cells,
    };
  });
}

export interface ChangeOrder {
  maker: string;
  edits: readonly Edit[];
  act: string;
  note: string;
  reason?: string;
  detail?: Record<string, string | number | boolean>;
  /** Fingerprint of the ripple that was on the screen; absent only where no screen was involved. */
  seen?: string;
  takesBack?: number;
  now?: number;
}

/** Makes a change inside `inChange`: judged, written, in the ledger. Returns the ledger entry. */
export async function makeChange(tx: Tx, order: ChangeOrder) {
  const planned = await planChange(tx, order);
  const { access, me, edits, after, verdict } = planned;
  const [first] = verdict.refusals;
  if (first) throw refused(first.message, verdict.refusals);
  if (order.seen !== undefined && order.seen !== fingerprint(verdict.ripple)) {
    throw changedMeanwhile("The rules changed after you looked, and with them what this would do. Look at the ripple again, then apply.", {
      ripple: rippleView(access, me, verdict.ripple),
    });
  }
  const touched = new Set(edits.flatMap((edit) => placeOfEdit(edit) ?? []));
  const entry = await appendEntry(
    tx,
    {
      maker: order.maker,
      act: order.act,
      places: [...touched],
      edits,
      ripple: verdict.ripple,
      note: [order.note, order.reason].filter(Boolean).join(" — "),
      touchesAccess: edits.length > 0,
      steppingIn: verdict.steppingIn,
      ...(order.detail ? { detail: order.detail } : {}),
      ...(order.takesBack === undefined ? {} : { takesBack: order.takesBack }),
    },
    access.at,
  );
  await writeDifference(tx, access.index.document, after.document, entry.seq, touched);
  await writeListing(tx, access.index, after, entry.at);
  return entry;
}

/** Applies edits from the tray. */
export async function applyChange(
  maker: string,
  order: { edits: Edit[]; note: string; reason?: string; seen: string },
): Promise<{ seq: number }> {
  checkNoneScheduled(order.edits);
  return inChange(async (tx) => ({ seq: (await makeChange(tx, { ...order, maker, act: "rules" })).seq }));
}

/** An entry that can be taken back. Whoever may not see it in the ledger hears that there is none. */
async function entryToTakeBack(tx: Tx, asker: string, seq: number) {
  const [entry] = await tx.select().from(ledger).where(eq(ledger.seq, seq));
  const access = await readAccess(tx);
  if (!entry || !maySeeEntry(access, subjectFor(access, asker), entry)) throw notThere();
  if (inverseOf(entry.edits).length === 0)
    throw badRequest("This entry cannot be taken back from here: it saved words, set a time to go live, or ended one. Do that anew.");
  const [taken] = await tx.select({ seq: ledger.seq }).from(ledger).where(eq(ledger.takesBack, seq));
  if (taken) throw changedMeanwhile(`This was taken back already, by entry ${taken.seq}.`);
  return entry;
}

/** What taking back a ledger entry would do today. */
export async function previewTakeBack(maker: string, seq: number): Promise<Preview & { edits: Edit[] }> {
  const edits = await inSnapshot(async (tx) => inverseOf((await entryToTakeBack(tx, maker, seq)).edits));
  return { ...(await previewChange(maker, edits, [])), edits };
}

/** Takes a ledger entry back: the inverse, against today's state, under the rights of who takes back. */
export async function takeBack(
  maker: string,
  seq: number,
  order: { note: string; reason?: string; seen: string },
): Promise<{ seq: number }> {
  return inChange(async (tx) => {
    const entry = await entryToTakeBack(tx, maker, seq);
    const made = await makeChange(tx, { ...order, maker, edits: inverseOf(entry.edits), act: "takeBack", takesBack: seq });
    return { seq: made.seq };
  });
}
