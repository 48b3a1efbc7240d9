/**
 * Several who were asked in, or came with a table, under one address that nobody has proven yet: each keeper knows of their own
 * alone, site keepers of all, and join them (docs/THREATS.md, "Accounts by an address").
 */
import { eq, inArray, or } from "drizzle-orm";
import type { Replacing } from "../../../contracts/leaving.ts";
import type { PersonSlip } from "../../../contracts/people.ts";
import { withSentences } from "../../../core/access/explain/index.ts";
import { subjectOf } from "../../../core/access/index/index.ts";
import type { Edit, Person } from "../../../core/access/model/index.ts";
import { replacing } from "../../../core/access/replacing/index.ts";
import { type Access, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { invitations, user } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";
import { comingOf } from "./coming.ts";

/** Addresses that somebody has, claims, or was asked in under. */
async function addressesOf(tx: Tx, id: string): Promise<string[]> {
  const [own] = await tx.select({ email: user.email, claimed: user.claimed }).from(user).where(eq(user.id, id));
  const [asked] = await tx.select({ email: invitations.email }).from(invitations).where(eq(invitations.personId, id));
  return [...new Set([own?.claimed ?? own?.email, asked?.email].flatMap((it) => it ?? []))];
}

/** Others under the same address who are not suspended. */
async function sharersOf(tx: Tx, { index }: Access, id: string): Promise<Person[]> {
  const addresses = await addressesOf(tx, id);
  if (addresses.length === 0) return [];
  const known = await tx
    .select({ id: user.id })
    .from(user)
    .where(or(inArray(user.email, addresses), inArray(user.claimed, addresses)));
  const asked = await tx.select({ id: invitations.personId }).from(invitations).where(inArray(invitations.email, addresses));
  const ids = new Set([...known, ...asked].map((it) => it.id));
  return [...ids].flatMap((other) => {
    const person = other === id ? undefined : subjectOf(index, { person: other })?.person;
    return person?.status === "active" ? [person] : [];
  });
}

/** Who else is here under somebody's address, for site keepers. */
export async function sameAddressOf(tx: Tx, access: Access, id: string): Promise<PersonSlip["sameAddress"]> {
  const others = await sharersOf(tx, access, id);
  const coming = await comingOf(
    tx,
    access,
    others.map((it) => it.id),
  );
  return others.map((it) => ({ id: it.id, name: it.name ?? it.id, by: coming.by(it.id), hasAccount: coming.hasAccount(it.id) }));
}

/** The edits that join somebody with another under the same address: what the other has goes to them, and the other is suspended. */
export const readJoining = (asker: string, id: string, other: string): Promise<Replacing> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    need(access, me, "changePeople");
    const remove = (await sharersOf(tx, access, id)).find((it) => it.id === other);
    if (!subjectOf(access.index, { person: id })?.person || !remove) throw notThere();
    const edits: Edit[] = [
      ...replacing(access.index.document, { person: other }, { person: id }),
      { kind: "person", person: other, remove, put: { ...remove, status: "suspended" } },
    ];
    return withSentences(edits, namesFor(access, me));
  });
