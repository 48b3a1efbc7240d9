/**
 * An invitation taken up: whoever holds its link gets an account and a password of their own. Where its address is
 * somebody's already, that person takes it up signed in, and what was granted goes to them.
 */
import { and, eq, isNull } from "drizzle-orm";
import { isActive, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, grantKey, principalKey } from "../../../core/access/model/index.ts";
import { type Access, readAccess } from "../../access/current.ts";
import { addAccount, hashOfPassword } from "../../accounts/session.ts";
import { database, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { account, invitations, user } from "../../db/schema/index.ts";
import { appendEntry } from "../../ledger/append.ts";
import { findOnceLink, type OnceLink, takeOnceLink } from "../../notices/onceLinks.ts";
import { Trouble } from "../../trouble.ts";
import { checkPassword, NO_LINK } from "../accounts/resetting.ts";
import { makeChange } from "../change/apply.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { takingOut } from "./inviting.ts";

export interface Invited {
  name: string;
  email: string;
  by: string;
  site: string;
  message: string;
  passwordLength: number;
  /** The address is that of somebody who has an account: they sign in, and take it up. */
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

/** The invitation of a link that works, if whoever was asked in may come in. */
async function invitedBy(tx: Tx, access: Access, link: OnceLink | null) {
  if (!link) return null;
  const subject = subjectOf(access.index, { person: link.personId });
  if (!subject?.person || !isActive(subject, access.at)) return null;
  const [row] = await tx
    .select()
    .from(invitations)
    .where(and(eq(invitations.personId, link.personId), isNull(invitations.outcome)));
  return row ? { row, person: subject.person } : null;
}

/** What an invitation says; null for a link that does not work. Looking at it uses nothing up. */
export const readInvitation = (token: string, me: string | null): Promise<Invited | null> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const link = await findOnceLink(tx, "join", token, new Date(access.at));
    const found = await invitedBy(tx, access, link);
    if (!link || !found) return null;
    const owner = await ownerOf(tx, link);
    return {
      name: found.person.name ?? "",
      email: link.email,
      by: subjectOf(access.index, { person: found.row.by })?.person?.name ?? "Somebody",
      site: siteOf(access.index).place.title || "Tesoro",
      message: found.row.message,
      passwordLength: (await readHouseRules(tx)).passwordLength,
      hasAccount: owner?.hasAccount ?? false,
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
    const link = await takeOnceLink(tx, "join", token, new Date(access.at));
    const found = await invitedBy(tx, access, link);
    if (!link || !found) throw NO_LINK;
    const owner = await ownerOf(tx, link);
    if (owner?.hasAccount)
      throw new Trouble(409, "hasAccount", "This address has an account here already: sign in with it, then take the invitation up.");
    const [own] = await tx.select({ id: account.id }).from(account).where(eq(account.userId, link.personId));
    if (own) throw NO_LINK;
    // Whoever came with a table has the address, and is who takes it up.
    const id = owner?.id ?? link.personId;
    const subject = subjectOf(access.index, { person: id });
    if (!subject || !isActive(subject, access.at)) throw NO_LINK;
    await addAccount(tx, { id, name: found.person.name ?? id, email: link.email, passwordHash });
    if (owner) await goOver(tx, access, found.row, id);
    else await appendEntry(tx, { maker: id, act: "takeUp", places: [], detail: { person: id } }, access.at);
    await settle(tx, link.personId, new Date(access.at));
    return { email: link.email };
  });
}

/** What was granted to whoever was asked in goes to who they are: the person who has the address. */
function goingOver(access: Access, from: string, to: string): Edit[] {
  const person = subjectOf(access.index, { person: from })?.person;
  const { places, groups } = access.index.document;
  const grants = new Map(places.map((place) => [place.id, new Set(place.grants.map(grantKey))]));
  const key = principalKey({ person: to });
  const isIn = new Set(groups.filter(({ members }) => members.some((it) => principalKey(it) === key)).map(({ id }) => id));
  return (person ? takingOut(access, person) : []).flatMap((edit): Edit[] => {
    if (edit.kind === "grant" && edit.remove) {
      const put = { ...edit.remove, to: { person: to } };
      // One that stands there already is enough.
      return [grants.get(edit.place)?.has(grantKey(put)) ? edit : { ...edit, put }];
    }
    if (edit.kind === "member" && !isIn.has(edit.group)) return [edit, { kind: "member", group: edit.group, put: { person: to } }];
    return [edit];
  });
}

/** Gives somebody who is here what was granted to whoever was asked in; nobody gets more by it than their host may give. */
async function goOver(tx: Tx, access: Access, { personId, by }: typeof invitations.$inferSelect, to: string): Promise<void> {
  const edits = goingOver(access, personId, to);
  await makeChange(tx, { maker: by, edits, act: "takeUp", note: "", detail: { person: to }, clock: true });
}

/** Takes an invitation up as somebody who is here already: nobody gets more by it than whoever asked them in may give. */
export const takeUpAs = (me: string, token: string): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const link = await takeOnceLink(tx, "join", token, new Date(access.at));
    const found = await invitedBy(tx, access, link);
    const owner = link && (await ownerOf(tx, link));
    if (!link || !found || !owner?.hasAccount || owner.id !== me) throw NO_LINK;
    await goOver(tx, access, found.row, me);
    await settle(tx, link.personId, new Date(access.at));
    return {};
  });
