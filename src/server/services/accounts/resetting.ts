/** Passwords: forgotten and set anew by a link that works once, changed by whoever has one, asked for by a site keeper. */
import { verifyPassword } from "better-auth/crypto";
import { and, eq, ne, or } from "drizzle-orm";
import type { HandedOn } from "../../../contracts/inviting.ts";
import { isActive, subjectOf } from "../../../core/access/index/index.ts";
import { need, readAccess, subjectFor } from "../../access/current.ts";
import { countAsking } from "../../accounts/attempts.ts";
import { hashOfPassword, proveAddress, setPasswordOf } from "../../accounts/session.ts";
import { database, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { account, session, user } from "../../db/schema/index.ts";
import { appendEntry } from "../../ledger/append.ts";
import { noteTrouble } from "../../log.ts";
import { addNotice } from "../../notices/notices.ts";
import { findOnceLink, takeOnceLink } from "../../notices/onceLinks.ts";
import { badRequest, notThere, Trouble } from "../../trouble.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { mailOf } from "../notices/kinds.ts";

/** Longest password that is looked at: hashing is made to be slow. */
export const LONGEST_PASSWORD = 200;

/** Refuses a password that is shorter than the house asks for. */
export async function checkPassword(tx: Pick<Tx, "select">, password: string): Promise<void> {
  const { passwordLength } = await readHouseRules(tx);
  if (password.length < passwordLength) throw badRequest(`The password needs ${passwordLength} characters or more.`);
  if (password.length > LONGEST_PASSWORD) throw badRequest(`The password has more than ${LONGEST_PASSWORD} characters.`);
}

/**
 * Asks for a new password by mail. What is done about it is done after the answer, so that neither the answer nor its time
 * tells whether anybody has the address.
 */
export async function forgotPassword(email: string, client: string): Promise<void> {
  const address = email.normalize("NFC").trim().toLowerCase();
  const mayMail = await countAsking(address, client);
  if (mayMail) void sendReset(address).catch((error) => noteTrouble("A new password was asked for", error));
}

/** Of one address several may say that it is theirs. */
const MOST_OF_ONE_ADDRESS = 5;

async function sendReset(address: string): Promise<void> {
  const rows = await database()
    .select({ id: user.id })
    .from(user)
    .innerJoin(account, eq(account.userId, user.id))
    .where(or(eq(user.email, address), eq(user.claimed, address)))
    .limit(MOST_OF_ONE_ADDRESS);
  for (const row of rows) await sendResetTo(row);
}

async function sendResetTo(row: { id: string }): Promise<void> {
  const notice = await inChange(async (tx) => {
    const access = await readAccess(tx);
    const subject = subjectOf(access.index, { person: row.id });
    if (!subject || !isActive(subject, access.at)) return null;
    return addNotice(tx, { kind: "reset", personId: row.id, at: new Date(access.at) });
  });
  if (notice !== null) await mailOf([notice]);
}

/** A site keeper asks somebody to choose a new password: in the ledger, and told to them. */
export async function askForNewPassword(maker: string, person: string): Promise<HandedOn> {
  const { name, notice } = await inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "changePeople");
    const subject = subjectOf(access.index, { person });
    const [own] = await tx.select({ id: account.id }).from(account).where(eq(account.userId, person));
    if (!subject?.person) throw notThere();
    if (!own) throw badRequest("They have no account yet: an invitation gives them one.");
    if (!isActive(subject, access.at)) throw badRequest("They are suspended, or their time is over. Let them back in first.");
    const entry = await appendEntry(tx, { maker, act: "resetPassword", places: [], detail: { person } }, access.at);
    return {
      name: subject.person.name ?? person,
      notice: await addNotice(tx, { kind: "reset", personId: person, about: { by: maker }, at: entry.at }),
    };
  });
  const [made] = await mailOf([notice]);
  return { id: person, name, link: made?.link ?? null };
}

/** Whose a link for a new password is; null where it does not work. */
export const readReset = (token: string): Promise<{ email: string; passwordLength: number } | null> =>
  inSnapshot(async (tx) => {
    const link = await findOnceLink(tx, "reset", token, new Date());
    return link && { email: link.email, passwordLength: (await readHouseRules(tx)).passwordLength };
  });

export const NO_LINK = new Trouble(404, "notThere", "This link does not work: it was used, has ended, or never was.");

/** Sets a new password by a link; it is used up, all sessions end, and its owner is told. */
export async function resetPassword(token: string, password: string): Promise<{ email: string }> {
  await checkPassword(database(), password);
  // What does not work costs no hashing.
  if (!(await readReset(token))) throw NO_LINK;
  const hash = await hashOfPassword(password);
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    const link = await takeOnceLink(tx, "reset", token, new Date(access.at));
    const subject = link && subjectOf(access.index, { person: link.personId });
    if (!link || !subject || !isActive(subject, access.at)) throw NO_LINK;
    await setPasswordOf(tx, link.personId, hash);
    if (link.proof !== "hand") await proveAddress(tx, link.personId);
    const entry = await appendEntry(
      tx,
      { maker: link.personId, act: "changePassword", places: [], detail: { person: link.personId } },
      access.at,
    );
    await addNotice(tx, { kind: "passwordChanged", personId: link.personId, at: entry.at });
    return { email: link.email };
  });
}

/** Changes one's own password; every other session ends. */
export async function changePassword(me: string, sessionToken: string, before: string, after: string): Promise<void> {
  await checkPassword(database(), after);
  const [own] = await database()
    .select({ password: account.password })
    .from(account)
    .where(and(eq(account.userId, me), eq(account.providerId, "credential")));
  if (!own?.password || before.length > LONGEST_PASSWORD || !(await verifyPassword({ hash: own.password, password: before })))
    throw badRequest("That is not your password as it is now.");
  const hash = await hashOfPassword(after);
  await inChange(async (tx) => {
    const access = await readAccess(tx);
    await setPasswordOf(tx, me, hash, sessionToken);
    const entry = await appendEntry(tx, { maker: me, act: "changePassword", places: [], detail: { person: me } }, access.at);
    await addNotice(tx, { kind: "passwordChanged", personId: me, at: entry.at });
  });
}

export interface OwnSession {
  id: string;
  begun: string;
  used: string;
  browser: string;
  here: boolean;
}

/** One's sessions, the one asked from among them. */
export async function readSessions(me: string, sessionToken: string): Promise<OwnSession[]> {
  const rows = await database().select().from(session).where(eq(session.userId, me)).orderBy(session.createdAt);
  return rows.map((row) => ({
    id: row.id,
    begun: row.createdAt.toISOString(),
    used: row.updatedAt.toISOString(),
    browser: row.userAgent ?? "",
    here: row.token === sessionToken,
  }));
}

/** Ends one of one's own sessions, or (null) all but the one asked from. */
export async function endSession(me: string, sessionToken: string, id: string | null): Promise<void> {
  const own = eq(session.userId, me);
  await database()
    .delete(session)
    .where(id === null ? and(own, ne(session.token, sessionToken)) : and(own, eq(session.id, id)));
}
