/** Giving a version in for approval, taking it out again, approving it, sending it back: each one entry of the ledger. */
import { and, eq } from "drizzle-orm";
import type { ApprovalAct, ApprovalBody } from "../../../contracts/approval.ts";
import { type CompiledPlace, type CompiledSubject, placeOf, spaceIdOf } from "../../../core/access/index/index.ts";
import { hasWords } from "../../../core/words.ts";
import { type Access, mayNot, maySee, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { deriveListing } from "../../db/deriving.ts";
import { submissions, versions } from "../../db/schema/index.ts";
import { appendEntry } from "../../ledger/append.ts";
import { addNotice } from "../../notices/notices.ts";
import { badRequest, changedMeanwhile, notThere, refused } from "../../trouble.ts";
import { newestVersion, versionName } from "../writing/versions.ts";
import { asksApproval, authorsOfVersion, isApprovedIn } from "./standing.ts";

const POLICY = { submit: "write", withdraw: "write", approve: "approve", sendBack: "approve" } as const;
const LEDGER_ACT = { submit: "submit", withdraw: "withdrawSubmission", approve: "approve", sendBack: "sendBack" } as const;

interface Answering {
  tx: Tx;
  access: Access;
  me: CompiledSubject;
  place: CompiledPlace;
  order: ApprovalBody;
  at: Date;
}

type Submitted = typeof submissions.$inferSelect;

async function submitted(tx: Tx, id: string): Promise<Submitted | undefined> {
  const [row] = await tx.select().from(submissions).where(eq(submissions.placeId, id));
  return row;
}

/** What was given in and is asked about; refuses where it is another version by now. */
async function asSeen({ tx, place, order }: Answering): Promise<Submitted> {
  const row = await submitted(tx, place.place.id);
  if (!row) throw changedMeanwhile("Nothing of this page is given in for approval any more.");
  if (versionName(row) !== order.version)
    throw changedMeanwhile(`Version ${versionName(row)} was given in meanwhile. Look at it, then answer.`, { version: versionName(row) });
  return row;
}

async function submit({ tx, access, me, place, order, at }: Answering): Promise<void> {
  const id = place.place.id;
  const newest = await newestVersion(tx, id);
  if (versionName(newest) !== order.version)
    throw changedMeanwhile(`Version ${versionName(newest)} was saved meanwhile. Look at it, then give it in.`, {
      version: versionName(newest),
    });
  if (place.place.state === "live" && newest.minor === 0) throw badRequest("There is nothing newer than the live version to give in.");
  const before = await submitted(tx, id);
  if (before && before.answer === null && versionName(before) === order.version)
    throw changedMeanwhile(`${namesFor(access, me).person(before.by)} gave this version in already.`);
  if (isApprovedIn(newest, spaceIdOf(access.index, place))) throw badRequest("This version is approved already: it can be published.");
  const row = {
    placeId: id,
    major: newest.major,
    minor: newest.minor,
    by: me.person?.id ?? "",
    at,
    note: order.note,
    answer: null,
    answeredBy: null,
    answeredAt: null,
    answerNote: "",
  };
  await tx.insert(submissions).values(row).onConflictDoUpdate({ target: submissions.placeId, set: row });
}

async function withdraw(it: Answering): Promise<void> {
  const row = await asSeen(it);
  if (row.answer !== null) throw changedMeanwhile("This version was answered meanwhile.");
  await it.tx.delete(submissions).where(eq(submissions.placeId, row.placeId));
}

async function answer(it: Answering, as: "approved" | "sentBack"): Promise<void> {
  const { tx, access, me, place, order, at } = it;
  const row = await asSeen(it);
  const who = me.person?.id ?? "";
  // What was approved can still be sent back: until it is published.
  if (row.answer !== null && !(as === "sentBack" && row.answer === "approved"))
    throw changedMeanwhile(`${namesFor(access, me).person(row.answeredBy ?? "")} answered this already.`);
  if (as === "approved" && (await authorsOfVersion(tx, row.placeId, spaceIdOf(access.index, place), row)).has(who))
    throw refused("Words of yours are new in this version: somebody who wrote none of what is new approves it.");
  if (as === "sentBack" && !hasWords(order.note)) throw badRequest("Say what is to be done before it is given in again.");
  await tx
    .update(submissions)
    .set({ answer: as, answeredBy: who, answeredAt: at, answerNote: order.note })
    .where(eq(submissions.placeId, row.placeId));
  await tx
    .update(versions)
    .set(as === "approved" ? { approvedBy: who, approvedIn: spaceIdOf(access.index, place) } : { approvedBy: null, approvedIn: null })
    .where(and(eq(versions.placeId, row.placeId), eq(versions.major, row.major), eq(versions.minor, row.minor)));
  if (row.by !== who)
    await addNotice(tx, { kind: as, personId: row.by, about: { place: row.placeId, by: who, version: order.version }, at });
}

const DO: Readonly<Record<ApprovalAct, (it: Answering) => Promise<void>>> = {
  submit,
  withdraw,
  approve: (it) => answer(it, "approved"),
  sendBack: (it) => answer(it, "sentBack"),
};

/** Does one of the acts of approval to the version that was seen. */
export const answerApproval = (maker: string, id: string, order: ApprovalBody): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    await answerIn(tx, maker, id, order);
    return {};
  });

/** Whether somebody may give a version of a page in. */
export function mayGiveIn(access: Access, me: CompiledSubject, id: string): boolean {
  const place = placeOf(access.index, id);
  return place !== undefined && maySee(access, me, place) && mayNot(access, me, POLICY.submit, place) === null;
}

/** Gives the newest version of a page in, inside a change; one that waits already, or is approved there, is left as it stands. */
export async function giveIn(tx: Tx, maker: string, id: string, note: string): Promise<void> {
  const { index } = await readAccess(tx);
  const place = placeOf(index, id);
  const newest = await newestVersion(tx, id);
  const before = await submitted(tx, id);
  const waits = before?.answer === null && versionName(before) === versionName(newest);
  if (waits || (place && isApprovedIn(newest, spaceIdOf(index, place)))) return;
  await answerIn(tx, maker, id, { act: "submit", version: versionName(newest), note });
}

/** The same inside a change. */
export async function answerIn(tx: Tx, maker: string, id: string, order: ApprovalBody): Promise<void> {
  const access = await readAccess(tx);
  const me = subjectFor(access, maker);
  const place = seenPlace(access, me, id);
  const { kind, state } = place.place;
  if (kind !== "page" && kind !== "bulletin") throw notThere();
  need(access, me, POLICY[order.act], place);
  if (!(await asksApproval(tx, access.index, place))) throw badRequest("Its space asks for no approval: it can be published as it is.");
  if (state === "archived" || state === "binned") throw badRequest(`This page is ${state}: nothing of it is published.`);
  const entry = await appendEntry(
    tx,
    { maker, act: LEDGER_ACT[order.act], places: [id], detail: { version: order.version }, note: order.note },
    access.at,
  );
  await DO[order.act]({ tx, access, me, place, order, at: entry.at });
  await deriveListing(tx, [id]);
}
