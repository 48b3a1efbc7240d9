/** Letting somebody in who asked: the best change for that, with its end, looked at and made like any other. */
import { eq } from "drizzle-orm";
import type { LetInBody, LetInLookBody, LetInPlan } from "../../../contracts/asked.ts";
import { editSentence, explanationText } from "../../../core/access/explain/index.ts";
import { type Edit, instantOf, type Level } from "../../../core/access/model/index.ts";
import { propose } from "../../../core/access/propose/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { afterCommit, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { asked } from "../../db/schema/index.ts";
import { addNotice } from "../../notices/notices.ts";
import { badRequest, changedMeanwhile } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { mailOf } from "../notices/kinds.ts";
import { type Asked, askedFor } from "./asked.ts";

const READER: Level = 1;

/** The best change by which whoever asked reads the place, until an instant; where there is none, what stands in the way. */
function bestFor(access: Access, { place, row }: Asked, until: string | null) {
  const principal = { person: row.personId };
  const { candidates, obstacle } = propose(access.index, [{ place: place.place.id, principal, level: READER }], access.at);
  let bounded = false;
  const edits = (candidates[0]?.edits ?? []).map((edit): Edit => {
    const to = edit.kind === "grant" ? edit.put?.to : undefined;
    if (edit.kind !== "grant" || !edit.put || !to || !("person" in to) || to.person !== row.personId) return edit;
    bounded = true;
    return { ...edit, put: { ...edit.put, ...(until === null ? {} : { until }) } };
  });
  return { edits, endless: until !== null && !bounded, obstacle };
}

const checkEnd = (until: string | null, now: number) => {
  if (until !== null && !(instantOf(until) > now)) throw badRequest("Say until when, as an instant that lies ahead; or without end.");
};

export const lookAtLettingInHere = (asker: string, id: string, { until }: LetInLookBody): Promise<LetInPlan> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const it = await askedFor(tx, access, me, id);
    need(access, me, "decideOnAccess", it.place);
    checkEnd(until, access.at);
    const { edits, endless, obstacle } = bestFor(access, it, until);
    const names = namesFor(access, me);
    if (edits.length === 0) {
      const why = obstacle && explanationText(obstacle.explanation, names.person(it.row.personId), names).answer;
      return { sentences: [], preview: null, why: why ?? "No change of rules here lets them read it.", endless: false };
    }
    const planned = await planChange(tx, { maker: asker, edits });
    return { sentences: edits.map((edit) => editSentence(edit, names)), preview: previewOf(planned), why: "", endless };
  });

/** The place that was asked for: how far its rules reach says where a change of them is worked out. Refused alike for what is not there. */
const reachOf = (asker: string, id: string) =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const { place } = await askedFor(tx, access, subjectFor(access, asker), id);
    return { places: [place.place.id], first: async () => {} };
  });

export async function lookAtLettingIn(asker: string, id: string, body: LetInLookBody): Promise<LetInPlan> {
  return whereItFits("lookAtLettingInHere", [asker, id, body], await reachOf(asker, id), () => lookAtLettingInHere(asker, id, body));
}

async function letInWith(tx: Tx, maker: string, id: string, { until, note, seen, reason }: LetInBody): Promise<Record<string, never>> {
  const access = await readAccess(tx);
  const me = subjectFor(access, maker);
  const it = await askedFor(tx, access, me, id);
  need(access, me, "decideOnAccess", it.place);
  checkEnd(until, access.at);
  const { edits } = bestFor(access, it, until);
  if (edits.length === 0) throw changedMeanwhile("The rules changed after you looked: nothing here lets them in now. Look again.");
  await makeChange(tx, { maker, edits, act: "rules", note, seen, ...(reason ? { reason } : {}) });
  const at = new Date();
  await tx.update(asked).set({ state: "granted", by: maker, decidedAt: at }).where(eq(asked.id, id));
  const about = { place: it.place.place.id, address: it.row.address };
  const notice = await addNotice(tx, { kind: "accessGiven", personId: it.row.personId, about, at });
  afterCommit(tx, () => void mailOf([notice]).catch(() => {}));
  return {};
}

export const letInHere = (maker: string, id: string, body: LetInBody): Promise<Record<string, never>> =>
  inChange((tx) => letInWith(tx, maker, id, body));

/** Lets them in, as it was looked at. */
export async function letIn(maker: string, id: string, body: LetInBody): Promise<Record<string, never>> {
  return whereItFits("letInHere", [maker, id, body], await reachOf(maker, id), () => letInHere(maker, id, body));
}
