/**
 * An invitation taken up. What whoever holds its link may become goes by what the link proves (`notices/onceLinks.ts`): a letter
 * proves that its address is theirs; a site keeper's own link, that they are the person it was made for. A link that anybody else
 * handed on proves nothing: it makes one new guest, with what the invitation gave and nothing else, whoever has the address.
 * Signing in proves an account: what was given then goes to that.
 */
import { and, eq, isNull } from "drizzle-orm";
import { isActive, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import type { Edit, Person } from "../../../core/access/model/index.ts";
import { type Access, readAccess } from "../../access/current.ts";
import { addAccount, addAddress, hashOfPassword } from "../../accounts/session.ts";
import { database, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { account, invitations, user } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { appendEntry } from "../../ledger/append.ts";
import { findOnceLink, type OnceLink, takeOnceLink } from "../../notices/onceLinks.ts";
import { Trouble } from "../../trouble.ts";
import { checkPassword, NO_LINK } from "../accounts/resetting.ts";
import { makeChange } from "../change/apply.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { givenBy, goingOver, HERE_BEFORE, type Holding, holdingOf, takingOut } from "./given.ts";

export interface Invited {
  name: string;
  email: string;
  by: string;
  site: string;
  message: string;
  passwordLength: number;
  /** The address is that of somebody who has an account, who signs in and takes it up. Told to who reads its letters, and to nobody else. */
  hasAccount: boolean;
  /** Whoever is signed in is that person. */
  isThem: boolean;
}

/** Whose address it is, apart from whoever was asked in; whether they have an account, or came with a table. */
async function ownerOf(tx: Pick<Tx, "select">, { email, personId }: OnceLink): Promise<{ id: string; hasAccount: boolean } | null> {
  const [row] = await tx.select({ id: user.id }).from(user).where(eq(user.email, email));
  if (!row || row.id === personId) return null;
  const [own] = await tx.select({ id: account.id }).from(account).where(eq(account.userId, row.id));
  return { id: row.id, hasAccount: own !== undefined };
}

interface Found {
  link: OnceLink;
  row: typeof invitations.$inferSelect;
  person: Person;
}

/** The invitation of a link that works, if whoever was asked in may come in. */
async function invitedBy(tx: Tx, access: Access, link: OnceLink | null): Promise<Found | null> {
  if (!link) return null;
  const subject = subjectOf(access.index, { person: link.personId });
  if (!subject?.person || !isActive(subject, access.at)) return null;
  const [row] = await tx
    .select()
    .from(invitations)
    .where(and(eq(invitations.personId, link.personId), isNull(invitations.outcome)));
  return row ? { link, row, person: subject.person } : null;
}

/** What an invitation says; null for a link that does not work. Looking at it uses nothing up. */
export const readInvitation = (token: string, me: string | null): Promise<Invited | null> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const found = await invitedBy(tx, access, await findOnceLink(tx, "join", token, new Date(access.at)));
    if (!found) return null;
    const { link, row, person } = found;
    const owner = await ownerOf(tx, link);
    return {
      name: person.name ?? "",
      email: link.email,
      by: subjectOf(access.index, { person: row.by })?.person?.name ?? "Somebody",
      site: siteOf(access.index).place.title || "Tesoro",
      message: row.message,
      passwordLength: (await readHouseRules(tx)).passwordLength,
      hasAccount: link.proof === "letter" && owner?.hasAccount === true,
      isThem: owner?.hasAccount === true && owner.id === me,
    };
  });

const settle = (tx: Tx, personId: string, at: Date) =>
  tx.update(invitations).set({ outcome: "taken", outcomeAt: at }).where(eq(invitations.personId, personId));

/** Takes an invitation up with a new account. Returns the address to sign in with. */
export async function acceptInvitation(token: string, password: string): Promise<{ email: string }> {
  await checkPassword(database(), password);
  // What does not work costs no hashing.
  if (!(await readInvitation(token, null))) throw NO_LINK;
  const passwordHash = await hashOfPassword(password);
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    const found = await invitedBy(tx, access, await takeOnceLink(tx, "join", token, new Date(access.at)));
    if (!found) throw NO_LINK;
    const { link, person } = found;
    const owner = await ownerOf(tx, link);
    const email =
      link.proof === "letter"
        ? await asOwner(tx, access, found, { owner, passwordHash })
        : await asNew(tx, access, found, { owner, passwordHash });
    await settle(tx, person.id, new Date(access.at));
    return { email };
  });
}

interface Becoming {
  owner: Awaited<ReturnType<typeof ownerOf>>;
  passwordHash: string;
}

const noteTaken = (tx: Tx, access: Access, id: string) =>
  appendEntry(tx, { maker: id, act: "takeUp", places: [], detail: { person: id } }, access.at);

async function hasAccount(tx: Tx, id: string): Promise<boolean> {
  const [own] = await tx.select({ id: account.id }).from(account).where(eq(account.userId, id));
  return own !== undefined;
}

/** The address is theirs: so is whoever came with a table under it. */
async function asOwner(tx: Tx, access: Access, { link, row, person }: Found, { owner, passwordHash }: Becoming): Promise<string> {
  if (owner?.hasAccount)
    throw new Trouble(409, "hasAccount", "This address has an account here already: sign in with it, then take the invitation up.");
  const id = owner?.id ?? person.id;
  const subject = subjectOf(access.index, { person: id });
  if (!subject || !isActive(subject, access.at) || (await hasAccount(tx, id))) throw NO_LINK;
  await addAccount(tx, { id, name: person.name ?? id, email: link.email, passwordHash });
  if (owner) await goOver(tx, access, row, id);
  else await noteTaken(tx, access, id);
  return link.email;
}

/**
 * Nobody knows whose the address is. By a site keeper's link they are the person it was made for; else one new guest, with what
 * this invitation gave: what others gave to whoever has the address waits for them.
 */
async function asNew(tx: Tx, access: Access, { link, row, person }: Found, { owner, passwordHash }: Becoming): Promise<string> {
  if (await hasAccount(tx, person.id)) throw NO_LINK;
  const isMeant = link.proof === "siteKeeper";
  // Whoever was here before has nothing of this invitation: without a proof there is nobody it could make.
  if (!isMeant && row.seq === HERE_BEFORE) throw NO_LINK;
  const given = await givenBy(tx, access, row);
  const all = holdingOf(access.index.document, person.id);
  const isAlone =
    isMeant || (given.grants.length === all.grants.length && given.groups.length === all.groups.length && isAsInvited(person));
  const id = isAlone ? person.id : await splitOff(tx, access, row, person, given);
  const email = await addAccount(tx, {
    id,
    name: person.name ?? id,
    email: link.email,
    passwordHash,
    // An address that nobody proved is no address by which others find somebody.
    isClaim: !isMeant || owner !== null,
  });
  await noteTaken(tx, access, id);
  return email;
}

/** Whoever was asked in as a guest and became something else meanwhile, became it by somebody else's word. */
const isAsInvited = ({ kind }: Person): boolean => kind === "guest";

/** Makes a guest of their own of whoever holds the link, with what the invitation gave; the rest stays with whoever has the address. */
async function splitOff(tx: Tx, access: Access, row: typeof invitations.$inferSelect, person: Person, given: Holding): Promise<string> {
  const id = newId();
  const { until } = person;
  // A guest has an end.
  if (!until) throw NO_LINK;
  const guest: Person = { id, name: person.name ?? id, kind: "guest", status: "active", until };
  const edits: Edit[] = [{ kind: "person", person: id, put: guest }, ...goingOver(access, id, given, person.id)];
  // Whoever asked in may not any more: then there is nothing to take up.
  await makeChange(tx, { maker: row.by, edits, act: "takeUp", note: "", detail: { person: id }, clock: true }).catch((error) => {
    throw error instanceof Trouble ? NO_LINK : error;
  });
  const [known] = await tx.select({ id: user.id }).from(user).where(eq(user.email, row.email));
  if (!known) await addAddress(tx, { id: person.id, name: person.name ?? person.id, email: row.email });
  return id;
}

/** Gives somebody who is here what the invitation gave; nobody gets more by it than their host may give. */
async function goOver(tx: Tx, access: Access, row: typeof invitations.$inferSelect, to: string): Promise<void> {
  const person = subjectOf(access.index, { person: row.personId })?.person;
  const given = await givenBy(tx, access, row);
  const suspends = person ? takingOut(access, person, given).filter(({ kind }) => kind === "person") : [];
  const edits = [...goingOver(access, to, given, row.personId), ...suspends];
  await makeChange(tx, { maker: row.by, edits, act: "takeUp", note: "", detail: { person: to }, clock: true });
}

/** Takes an invitation up as somebody who is here already: nobody gets more by it than whoever asked them in may give. */
export const takeUpAs = (me: string, token: string): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const found = await invitedBy(tx, access, await takeOnceLink(tx, "join", token, new Date(access.at)));
    const owner = found && (await ownerOf(tx, found.link));
    if (!found || !owner?.hasAccount || owner.id !== me) throw NO_LINK;
    await goOver(tx, access, found.row, me);
    await settle(tx, found.person.id, new Date(access.at));
    return {};
  });
