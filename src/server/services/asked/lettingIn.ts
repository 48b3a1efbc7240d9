/** Letting somebody in who asked: the best change for that, with its end, looked at and made like any other. */
import { eq } from "drizzle-orm";
import type { LetInBody, LetInLookBody, LetInPlan } from "../../../contracts/asked.ts";
import { editSentence, explanationText } from "../../../core/access/explain/index.ts";
import { type Edit, instantOf, type Level } from "../../../core/access/model/index.ts";
import { propose } from "../../../core/access/propose/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
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

/** The best change by which whoever asked reads the place, until an instant. */
function bestFor(access: Access, { place, row }: Asked, until: string | null): { edits: Edit[]; endless: boolean; why: string } {
  const principal = { person: row.personId };
  const { candidates, obstacle } = propose(access.index, [{ place: place.place.id, principal, level: READER }], access.at);
  const [best] = candidates;
  if (!best) return { edits: [], endless: false, why: obstacle ? "obstacle" : "" };
  let bounded = false;
  const edits = best.edits.map((edit): Edit => {
    const to = edit.kind === "grant" ? edit.put?.to : undefined;
    if (edit.kind !== "grant" || !edit.put || !to || !("person" in to) || to.person !== row.personId) return edit;
    bounded = true;
    return { ...edit, put: { ...edit.put, ...(until === null ? {} : { until }) } };
  });
  return { edits, endless: until !== null && !bounded, why: "" };
}

/** Why nothing lets them in, in a sentence. */
function whyNot(access: Access, me: ReturnType<typeof subjectFor>, it: Asked): string {
  const names = namesFor(access, me);
  const principal = { person: it.row.personId };
  const { obstacle } = propose(access.index, [{ place: it.place.place.id, principal, level: READER }], access.at);
  if (!obstacle) return "No change of rules here lets them read it.";
  return explanationText(obstacle.explanation, names.person(it.row.personId), names).answer;
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
    const { edits, endless } = bestFor(access, it, until);
    if (edits.length === 0) return { sentences: [], preview: null, why: whyNot(access, me, it), endless: false };
    const names = namesFor(access, me);
    const planned = await planChange(tx, { maker: asker, edits });
    return { sentences: edits.map((edit) => editSentence(edit, names)), preview: previewOf(planned), why: "", endless };
  });

/** What is asked first, before it goes where it keeps others waiting. */
const reach = (asker: string, id: string) => async () => {
  const place = await inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    return (await askedFor(tx, access, subjectFor(access, asker), id)).place.place.id;
  });
  return { places: [place], first: async () => void (await accessNow()) };
};

export async function lookAtLettingIn(asker: string, id: string, body: LetInLookBody): Promise<LetInPlan> {
  return whereItFits("lookAtLettingInHere", [asker, id, body], await reach(asker, id)(), () => lookAtLettingInHere(asker, id, body));
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
  return whereItFits("letInHere", [maker, id, body], await reach(maker, id)(), () => letInHere(maker, id, body));
}
