/** Invitations: looked at, sent, sent again, ended; a guest's end moved by whoever brought them in. */
import { and, count, desc, eq, isNull, lte } from "drizzle-orm";
import type { Made, Preview } from "../../../contracts/change.ts";
import {
  type EndOfGuestBody,
  type HandedOn,
  INVITATION_DAYS,
  type InvitationList,
  type InvitationLook,
  type InvitationRow,
  type InviteBody,
  type SendBody,
  type Sent,
} from "../../../contracts/inviting.ts";
import { isActive, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, instantOf, type Seq, sameValue } from "../../../core/access/model/index.ts";
import { grantsNaming } from "../../../core/access/replacing/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, isKeeper, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { presentInstant } from "../../clock.ts";
import { database, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { account, invitations, user } from "../../db/schema/index.ts";
import { appendEntry } from "../../ledger/append.ts";
import { noteTrouble } from "../../log.ts";
import { addNotice } from "../../notices/notices.ts";
import { endOnceLinks } from "../../notices/onceLinks.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { checkActs, planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { mailOf } from "../notices/kinds.ts";
import { mandatesOf } from "../people/mandates.ts";
import { askedIn, checkOrder, lettingIn, takenAddresses } from "./asking.ts";
import { givenBy, HERE_BEFORE, takingOut } from "./given.ts";
import { sightOf } from "./sight.ts";

const DAY = 86_400_000;
type Invitation = typeof invitations.$inferSelect;

/** Refuses what no invitation is, and who may not send it, before anything is worked out. */
async function checkFirst(maker: string, order: InviteBody): Promise<void> {
  const access = await accessNow();
  checkOrder(access, maker, order);
  const edits = lettingIn(order, [{ id: "nobody yet", name: "", email: "" }]);
  checkActs(access, subjectFor(access, maker), edits, { mandates: await mandatesOf(database(), maker, edits) });
}

/** What people who are asked in so would see. */
export const lookAtInvitationHere = (maker: string, order: InviteBody): Promise<InvitationLook> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    checkOrder(access, maker, order);
    const people = await askedIn(tx, maker, order);
    const planned = await planChange(tx, { maker, edits: lettingIn(order, people) });
    const then = { ...access, index: planned.after };
    return {
      preview: previewOf(planned),
      sight: sightOf(then, maker, people[0]?.id ?? "", order.places),
      taken: await takenAddresses(tx, access, maker, people),
    };
  });

export const lookAtInvitation = ofWholeSite("lookAtInvitationHere", checkFirst, lookAtInvitationHere);

interface Entered {
  seq: Seq;
  asked: { id: string; name: string; notice: number }[];
}

/** Lets people in: they, their grants and the notice from which their mail is made, in one transaction. */
export const enterInvitationHere = (maker: string, order: SendBody): Promise<Entered> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    checkOrder(access, maker, order);
    const people = await askedIn(tx, maker, order);
    const taken = await takenAddresses(tx, access, maker, people);
    if (taken.length > 0) throw badRequest(taken.map(({ says }) => says).join(" "), taken);
    const { note, reason, seen } = order;
    const edits = lettingIn(order, people);
    const entry = await makeChange(tx, { maker, edits, act: "invite", note, seen, ...(reason ? { reason } : {}) });
    const end = order.until === null ? Number.POSITIVE_INFINITY : instantOf(order.until);
    const until = new Date(Math.min(entry.at.getTime() + INVITATION_DAYS * DAY, end));
    const asked: Entered["asked"] = [];
    for (const { id, name, email } of people) {
      await tx
        .insert(invitations)
        .values({ personId: id, email, message: order.message.trim(), by: maker, at: entry.at, until, seq: entry.seq });
      asked.push({ id, name, notice: await addNotice(tx, { kind: "invitation", personId: id, about: { by: maker }, at: entry.at }) });
    }
    return { seq: entry.seq, asked };
  });

const enterInvitation = ofWholeSite("enterInvitationHere", checkFirst, enterInvitationHere);

/** Asks people in, then makes their mail. */
export async function invite(maker: string, order: SendBody): Promise<Sent> {
  const { seq, asked } = await enterInvitation(maker, order);
  const made = new Map((await mailOf(asked.map(({ notice }) => notice))).map(({ notice, link }) => [notice, link]));
  return { seq, people: asked.map(({ id, name, notice }) => ({ id, name, link: made.get(notice) ?? null })) };
}

/** Invitations one may know of: those one sent oneself; all of them, for site keepers. */
const mine = (access: Access, asker: string) => (isKeeper(access, subjectFor(access, asker)) ? undefined : eq(invitations.by, asker));

const MOST_LISTED = 500;

export const readInvitations = (asker: string): Promise<InvitationList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const names = namesFor(access, subjectFor(access, asker));
    const rows = await tx.select().from(invitations).where(mine(access, asker)).orderBy(desc(invitations.at)).limit(MOST_LISTED);
    const [all] = await tx.select({ n: count() }).from(invitations).where(mine(access, asker));
    const told = rows.map((row): InvitationRow => {
      const person = subjectOf(access.index, { person: row.personId })?.person;
      return {
        id: row.personId,
        name: names.person(row.personId),
        email: row.email,
        kind: person?.kind ?? "guest",
        by: names.person(row.by),
        at: row.at.toISOString(),
        until: row.until.toISOString(),
        state: row.outcome ?? "waiting",
        outcomeAt: row.outcomeAt?.toISOString() ?? null,
        end: person?.until ?? null,
      };
    });
    return { invitations: told, more: (all?.n ?? 0) - told.length };
  });

/** An invitation that is still open and that somebody may deal with; else as though there were none. */
async function openOne(tx: Tx, access: Access, asker: string, id: string): Promise<Invitation> {
  const [row] = await tx
    .select()
    .from(invitations)
    .where(and(eq(invitations.personId, id), isNull(invitations.outcome), mine(access, asker)));
  if (!row) throw notThere();
  return row;
}

/** Refuses whoever may not ask anybody in any more where this guest is let in. */
async function checkStillMay(tx: Tx, access: Access, maker: string, id: string): Promise<void> {
  const me = subjectFor(access, maker);
  const { guestsBySpaceKeepers: allowed } = await readHouseRules(tx);
  for (const { place } of grantsNaming(access.index.document, { person: id }))
    need(access, me, "bringInGuest", placeOf(access.index, place), { allowed });
}

/** Sends an invitation once more, with a new link and as long as at first; the old link works no more. */
export async function sendAgain(maker: string, id: string): Promise<HandedOn> {
  const { name, notice } = await inChange(async (tx) => {
    const access = await readAccess(tx);
    const row = await openOne(tx, access, maker, id);
    const person = subjectOf(access.index, { person: id })?.person;
    if (person?.status !== "active") throw badRequest("They are suspended. Let them back in first.");
    const end = person.until ? instantOf(person.until) : Number.POSITIVE_INFINITY;
    if (end <= access.at) throw badRequest("Their end has passed. Give them another end first.");
    await checkStillMay(tx, access, maker, id);
    const until = new Date(Math.min(access.at + INVITATION_DAYS * DAY, end));
    await endOnceLinks(tx, row.personId, "join");
    await tx.update(invitations).set({ until }).where(eq(invitations.personId, id));
    const entry = await appendEntry(tx, { maker, act: "sendAgain", places: [], detail: { person: id } }, access.at);
    return {
      name: person.name ?? id,
      notice: await addNotice(tx, { kind: "invitation", personId: id, about: { by: maker }, at: entry.at }),
    };
  });
  const [made] = await mailOf([notice]);
  return { id, name, link: made?.link ?? null };
}

/** Asks in somebody who came with a table: with an address, and no account yet. */
export async function askInKnown(maker: string, id: string): Promise<HandedOn> {
  const { name, notice } = await inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "changePeople");
    const subject = subjectOf(access.index, { person: id });
    if (!subject?.person) throw notThere();
    if (!isActive(subject, access.at)) throw badRequest("They are suspended, or their time is over. Let them back in first.");
    const [address] = await tx.select({ email: user.email }).from(user).where(eq(user.id, id));
    if (!address) throw badRequest("Nobody knows their mail address. It comes with a table of people.");
    const [own] = await tx.select({ id: account.id }).from(account).where(eq(account.userId, id));
    if (own) throw badRequest("They have an account already.");
    const entry = await appendEntry(tx, { maker, act: "sendAgain", places: [], detail: { person: id } }, access.at);
    const end = subject.activeUntil;
    const row = { email: address.email, by: maker, at: entry.at, until: new Date(Math.min(access.at + INVITATION_DAYS * DAY, end)) };
    const open = { ...row, outcome: null, outcomeAt: null };
    await tx
      .insert(invitations)
      .values({ personId: id, message: "", seq: HERE_BEFORE, ...open })
      .onConflictDoUpdate({ target: invitations.personId, set: open });
    return {
      name: subject.person.name ?? id,
      notice: await addNotice(tx, { kind: "invitation", personId: id, about: { by: maker }, at: entry.at }),
    };
  });
  const [made] = await mailOf([notice]);
  return { id, name, link: made?.link ?? null };
}

/** Ends an invitation inside a change; by hand, or by the clock for whoever sent it. */
async function endIn(tx: Tx, maker: string, row: Invitation): Promise<Seq> {
  const access = await readAccess(tx);
  const person = subjectOf(access.index, { person: row.personId })?.person;
  await endOnceLinks(tx, row.personId, "join");
  await tx
    .update(invitations)
    .set({ outcome: "ended", outcomeAt: new Date(access.at) })
    .where(eq(invitations.personId, row.personId));
  const edits = person && row.seq !== HERE_BEFORE ? takingOut(access, person, await givenBy(tx, access, row)) : [];
  const detail = { person: row.personId };
  // Who asked in takes back what they gave: it takes from nobody else, whatever their rights are by now.
  if (edits.length > 0) return (await makeChange(tx, { maker, edits, act: "endInvitation", note: "", detail, clock: true })).seq;
  return (await appendEntry(tx, { maker, act: "endInvitation", places: [], detail }, access.at)).seq;
}

export const endInvitationHere = (maker: string, id: string): Promise<Made> =>
  inChange(async (tx) => ({ seq: await endIn(tx, maker, await openOne(tx, await readAccess(tx), maker, id)) }));

export const endInvitation = ofWholeSite(
  "endInvitationHere",
  (maker, id) => inSnapshot(async (tx) => openOne(tx, await readAccess(tx), maker, id)),
  endInvitationHere,
);

/** Ends one that was not taken up by an instant, if that is still so. */
export const endUnusedOneHere = (id: string, now: number): Promise<void> =>
  inChange(async (tx) => {
    const [row] = await tx
      .select()
      .from(invitations)
      .where(and(eq(invitations.personId, id), isNull(invitations.outcome), lte(invitations.until, new Date(now))));
    if (row) await endIn(tx, row.by, row);
  });

const endUnusedOne = ofWholeSite("endUnusedOneHere", async () => {}, endUnusedOneHere);

/** Ends what nobody took up in time. */
export async function endUnused(now: number = presentInstant()): Promise<void> {
  const due = await database()
    .select({ id: invitations.personId })
    .from(invitations)
    .where(and(isNull(invitations.outcome), lte(invitations.until, new Date(now))));
  // One that cannot be ended by itself (a pledge would break) keeps nobody else waiting; its link is over all the same.
  for (const { id } of due) await endUnusedOne(id, now).catch((error) => noteTrouble("An invitation was not ended", error));
}

/** A guest's new end, and that of whatever they were granted until the old one. */
function movingEnd(access: Access, id: string, until: string): Edit[] {
  const person = subjectOf(access.index, { person: id })?.person;
  if (person?.kind !== "guest") throw notThere();
  if (person.until && sameValue(instantOf(person.until), instantOf(until))) throw badRequest("That is their end already.");
  const ends = (it: string | null | undefined) => it != null && person.until != null && instantOf(it) === instantOf(person.until);
  return [
    { kind: "person", person: id, remove: person, put: { ...person, until } },
    ...grantsNaming(access.index.document, { person: id })
      .filter(({ grant }) => ends(grant.until))
      .map(({ place, grant: remove }): Edit => ({ kind: "grant", place, remove, put: { ...remove, until } })),
  ];
}

/** Whoever neither keeps the site nor brought the guest in hears that there is nobody. */
async function mayMoveEnd(tx: Tx, access: Access, maker: string, id: string): Promise<void> {
  if (isKeeper(access, subjectFor(access, maker))) return;
  const [row] = await tx
    .select({ id: invitations.personId })
    .from(invitations)
    .where(and(eq(invitations.personId, id), eq(invitations.by, maker)));
  if (!row) throw notThere();
}

export const lookAtEndHere = (maker: string, id: string, until: string): Promise<Preview> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    await mayMoveEnd(tx, access, maker, id);
    return previewOf(await planChange(tx, { maker, edits: movingEnd(access, id, until) }));
  });

const checkEnd = (maker: string, id: string): Promise<void> => inSnapshot(async (tx) => mayMoveEnd(tx, await readAccess(tx), maker, id));

export const lookAtEnd = ofWholeSite("lookAtEndHere", checkEnd, lookAtEndHere);

export const moveEndHere = (maker: string, id: string, { until, note, reason, seen }: EndOfGuestBody): Promise<Made> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    await mayMoveEnd(tx, access, maker, id);
    const edits = movingEnd(access, id, until);
    return { seq: (await makeChange(tx, { maker, edits, act: "rules", note, seen, ...(reason ? { reason } : {}) })).seq };
  });

export const moveEnd = ofWholeSite("moveEndHere", checkEnd, moveEndHere);
