/** Making a change: judged again, written, in the ledger, with what follows from it, in one transaction. */

import type { ActingBody } from "../../../contracts/rules.ts";
import { type Edit, placeOfEdit, type Seq } from "../../../core/access/model/index.ts";
import { type LedgerAct, retitles } from "../../../core/ledger/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { keepAccess } from "../../access/current.ts";
import { toldRefusals } from "../../access/known.ts";
import { afterCommit, inChange, type Tx } from "../../db/client.ts";
import { writeDifference } from "../../db/document.ts";
import { writeListing } from "../../db/listing.ts";
import { appendEntry } from "../../ledger/append.ts";
import { changedMeanwhile, refused } from "../../trouble.ts";
import { followUp } from "./followUp.ts";
import { checkNoneScheduled, type PlanOrder, planChange, refuseEarly } from "./plan.ts";
import { fingerprint, rippleView } from "./rippleView.ts";

export interface ChangeOrder extends PlanOrder {
  act: LedgerAct;
  note: string;
  detail?: Record<string, string | number | boolean>;
  /** Fingerprint of the ripple that was on the screen; absent only where no screen was involved. */
  seen?: string;
  takesBack?: Seq;
}

/** Makes a change inside `inChange`: judged, written, in the ledger. Returns the ledger entry. */
export async function makeChange(tx: Tx, order: ChangeOrder) {
  const { access, me, edits, after, verdict } = await planChange(tx, order);
  const [first] = verdict.refusals;
  if (first) throw refused(first.message, toldRefusals(access, me, verdict.refusals));
  if (order.seen !== undefined && order.seen !== fingerprint(verdict.ripple)) {
    throw changedMeanwhile("The rules changed after you looked, and with them what this would do. Look at the ripple again, then apply.", {
      ripple: rippleView(access, me, verdict.ripple),
    });
  }
  const touched = new Set(edits.flatMap((edit) => placeOfEdit(edit) ?? []));
  const { maker, act, note, reason, detail, takesBack } = order;
  const entry = await appendEntry(
    tx,
    {
      maker,
      act,
      note,
      places: [...touched],
      edits,
      ripple: verdict.ripple,
      steppingIn: verdict.steppingIn,
      ...(reason === undefined ? {} : { reason }),
      ...(detail ? { detail } : {}),
      ...(takesBack === undefined ? {} : { takesBack }),
    },
    access.at,
  );
  await writeDifference(tx, access.index.document, after.document, entry.seq, edits);
  await writeListing(tx, access.index, after, entry.at);
  await followUp(tx, access, edits, entry, order.writesLive ?? false);
  // Kept for whoever asks next, once it is so: a number that comes to nothing is given again.
  if (!retitles(act, edits)) afterCommit(tx, () => keepAccess(entry.seq, after));
  return entry;
}

type TrayOrder = ActingBody & { edits: Edit[] };

/** Applies edits from the tray. */
export const applyChange = (maker: string, order: TrayOrder): Promise<{ seq: Seq }> =>
  whereItFits("applyHere", [maker, order], { edits: order.edits, first: () => refuseEarly(maker, order.edits) }, () =>
    applyHere(maker, order),
  );

export async function applyHere(maker: string, order: TrayOrder): Promise<{ seq: Seq }> {
  checkNoneScheduled(order.edits);
  return inChange(async (tx) => ({ seq: (await makeChange(tx, { ...order, maker, act: "rules" })).seq }));
}
