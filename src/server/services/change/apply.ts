/** Making a change: judged again, written, in the ledger, with what follows from it, in one transaction. */

import type { ActingBody } from "../../../contracts/rules.ts";
import { type Edit, placeOfEdit, type Seq } from "../../../core/access/model/index.ts";
import { type LedgerAct, retitles } from "../../../core/ledger/index.ts";
import type { LifeAct } from "../../../core/lifecycle/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { goOnFrom, keepAccess, readAccess, subjectFor } from "../../access/current.ts";
import { toldRefusals } from "../../access/known.ts";
import { afterCommit, inChange, type Tx } from "../../db/client.ts";
import { writeDifference } from "../../db/document.ts";
import { writeListing } from "../../db/listing.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest, changedMeanwhile, refused } from "../../trouble.ts";
import { giveIn, mayGiveIn } from "../approval/answering.ts";
import { keepExposures } from "../outside/exposures.ts";
import { keepTurns } from "../pledges/turns.ts";
import { followUp } from "./followUp.ts";
import { checkNoneScheduled, type Planned, type PlanOrder, planChange, refuseEarly } from "./plan.ts";
import { fingerprint, rippleView } from "./rippleView.ts";

export interface ChangeOrder extends PlanOrder {
  act: LedgerAct;
  note: string;
  detail?: Record<string, string | number | boolean>;
  /** Fingerprint of the ripple that was on the screen; absent only where no screen was involved. */
  seen?: string;
  takesBack?: Seq;
  /** The job it is a part of. */
  job?: string;
}

/** Makes a change inside `inChange`: judged, written, in the ledger. Returns the ledger entry. */
export async function makeChange(tx: Tx, order: ChangeOrder) {
  const planned = await planChange(tx, order);
  const { access, me, edits, after, verdict } = planned;
  const [first] = verdict.refusals;
  if (first) throw refused(first.message, toldRefusals(access, me, verdict.refusals));
  if (order.seen !== undefined && order.seen !== fingerprint(verdict.ripple)) {
    throw changedMeanwhile("The rules changed after you looked, and with them what this would do. Look at the ripple again, then apply.", {
      ripple: rippleView(access, me, verdict.ripple),
    });
  }
  const touched = new Set(edits.flatMap((edit) => placeOfEdit(edit) ?? []));
  const { maker, note, reason, detail, takesBack, job } = order;
  const entry = await appendEntry(
    tx,
    {
      maker,
      act: order.act,
      acts: planned.acts?.acts ?? [],
      note,
      places: [...touched],
      edits,
      ripple: verdict.ripple,
      steppingIn: verdict.steppingIn,
      ...(reason === undefined ? {} : { reason }),
      ...(detail ? { detail } : {}),
      ...(takesBack === undefined ? {} : { takesBack }),
      ...(job === undefined ? {} : { job }),
    },
    access.at,
  );
  await writeDifference(tx, access.index.document, after.document, entry.seq, edits);
  await writeListing(tx, access.index, after, entry.at);
  await keepExposures(tx, after, edits, verdict.ripple, entry);
  await keepTurns(tx, edits, verdict.ripple, entry);
  await followUp(tx, access, edits, entry, order.writesLive ?? []);
  goOnFrom(tx, after);
  await giveInWhatArrives(tx, planned.acts, order);
  // Kept for whoever asks next, once it is so: a number that comes to nothing is given again.
  if (!retitles(order.act, edits)) afterCommit(tx, () => keepAccess(entry.seq, after));
  return entry;
}

/**
 * What was moved into a space that asks for approval and is given in there: each page an entry of its own. What goes along below and
 * is not for its mover to write, or to know of, stays the draft it arrives as.
 */
async function giveInWhatArrives(tx: Tx, acts: Planned["acts"], { maker, note }: ChangeOrder): Promise<void> {
  const arriving = (acts?.acts ?? []).flatMap(({ arrive }, nth) => (arrive === "submit" ? (acts?.plans[nth]?.arriving ?? []) : []));
  if (arriving.length === 0 || maker === null) return;
  const access = await readAccess(tx);
  const me = subjectFor(access, maker);
  for (const id of new Set(arriving)) if (mayGiveIn(access, me, id)) await giveIn(tx, maker, id, note);
}

type TrayOrder = ActingBody & { edits: Edit[]; acts?: LifeAct[] };

/** What a change of the tray is called in the ledger: by its act where it is one, else by what most of them are. */
function actOf({ edits, acts = [] }: TrayOrder): LedgerAct {
  const [first, ...others] = new Set(acts.map(({ act }) => act));
  return first && others.length === 0 && edits.length === 0 ? first : "rules";
}

/** Applies acts and edits, from the tray or from the sheet of an act. */
export const applyChange = (maker: string, order: TrayOrder): Promise<{ seq: Seq }> =>
  whereItFits(
    "applyHere",
    [maker, order],
    { edits: order.edits, places: placesOfActs(order.acts), first: () => refuseEarly(maker, order.edits, order.acts) },
    () => applyHere(maker, order),
  );

export async function applyHere(maker: string, order: TrayOrder): Promise<{ seq: Seq }> {
  checkNoneScheduled(order.edits);
  if (order.edits.length === 0 && !order.acts?.length) throw badRequest("There is nothing to be done: name edits or acts.");
  return inChange(async (tx) => ({ seq: (await makeChange(tx, { ...order, maker, act: actOf(order) })).seq }));
}

/** The places that acts are done to: how far they reach follows from them. */
export const placesOfActs = (acts: readonly LifeAct[] = []): string[] => acts.flatMap(({ places }) => places);
