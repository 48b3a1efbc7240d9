/**
 * Erasing the name and address of somebody who has left (lifecycle.md, "Erasing"): a placeholder stands for them in every row
 * of the history, the words of the ledger go, and the chain, which holds salted hashes of them, still verifies.
 */
import { eq, or, sql } from "drizzle-orm";
import type { Made } from "../../../contracts/change.ts";
import type { ErasePersonBody } from "../../../contracts/leaving.ts";
import { subjectOf } from "../../../core/access/index/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
import { shutOut } from "../../accounts/session.ts";
import { inChange, type Tx } from "../../db/client.ts";
import {
  account,
  asked as askedFor,
  buffers,
  invitations,
  mails,
  notices,
  onceLinks,
  pageUses,
  people,
  savedFilters,
  user,
} from "../../db/schema/index.ts";
import { eraseWordsOfEdits } from "../../ledger/words.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";

/** What stands for somebody whose name was erased. */
export const ERASED = "Somebody who has left";

/** Addresses, what was written to them, and what only they had. */
async function eraseAddress(tx: Tx, id: string): Promise<void> {
  const [own] = await tx.select({ email: user.email, claimed: user.claimed }).from(user).where(eq(user.id, id));
  const [asked] = await tx.select({ email: invitations.email }).from(invitations).where(eq(invitations.personId, id));
  const nowhere = `erased-${id}@erased.invalid`;
  for (const email of new Set([own?.email, own?.claimed, asked?.email].filter((it) => typeof it === "string")))
    await tx.delete(mails).where(or(eq(mails.to, email), sql`position(${email} in ${mails.body}) > 0`));
  await tx.delete(onceLinks).where(eq(onceLinks.personId, id));
  await tx.delete(notices).where(eq(notices.personId, id));
  await tx.update(invitations).set({ email: nowhere, message: "" }).where(eq(invitations.personId, id));
  await shutOut(tx, [id]);
  await tx.delete(account).where(eq(account.userId, id));
  await tx.update(user).set({ name: ERASED, email: nowhere, claimed: null, image: null }).where(eq(user.id, id));
  await tx.delete(pageUses).where(eq(pageUses.personId, id));
  await tx.delete(askedFor).where(eq(askedFor.personId, id));
  await tx.delete(buffers).where(eq(buffers.personId, id));
  await tx.delete(savedFilters).where(eq(savedFilters.personId, id));
}

export const erasePersonHere = (maker: string, id: string, order: ErasePersonBody): Promise<Made> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "changePeople");
    const person = subjectOf(access.index, { person: id })?.person;
    if (!person) throw notThere();
    if (person.status !== "suspended") throw badRequest("They are still here. See them off first: only then their name is erased.");
    if (person.name === ERASED) throw badRequest("Their name was erased already.");
    if (order.name.trim() !== (person.name ?? "").trim())
      throw badRequest("What was typed is not their name. Erasing is final: type it as it stands.");
    const edits = [{ kind: "person" as const, person: id, remove: person, put: { ...person, name: ERASED } }];
    const entry = await makeChange(tx, { maker, edits, act: "erasePerson", note: order.note, detail: { person: id } });
    await tx.update(people).set({ name: ERASED }).where(eq(people.id, id));
    await eraseWordsOfEdits(tx, { kind: "person", ids: [id], but: ERASED });
    await eraseAddress(tx, id);
    return { seq: entry.seq };
  });

export const erasePerson = ofWholeSite(
  "erasePersonHere",
  async (maker: string) => {
    const access = await accessNow();
    need(access, subjectFor(access, maker), "changePeople");
  },
  erasePersonHere,
);
