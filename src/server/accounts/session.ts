/** Signing in and out, and who a request comes from. */
import { hashPassword, verifyPassword } from "better-auth/crypto";
import { and, asc, eq, gt, inArray, ne } from "drizzle-orm";
import { isActive, siteOf, subjectOf } from "../../core/access/index/index.ts";
import { type Access, accessNow } from "../access/current.ts";
import { database, inSnapshot, type Tx } from "../db/client.ts";
import { account, demoCast, feeds, session, user } from "../db/schema/index.ts";
import { notThere, Trouble } from "../trouble.ts";
import { countAttempt, DEVICE_COOKIE, newDevice } from "./attempts.ts";
import { auth } from "./auth.ts";
import { type OpenSession, openSessionOf } from "./openSession.ts";

export interface SignedIn {
  id: string;
  name: string;
  kind: "member" | "guest";
}

export interface Visit {
  /** Who asks; null for the public, and for a session whose person has left or is suspended. */
  me: SignedIn | null;
  /** The session it comes in, and until when that lasts at most; null for the public. */
  session: OpenSession | null;
  siteName: string;
}

/** Ends every session of these people, in the transaction that takes their access away. */
export async function endSessionsOf(tx: Pick<Tx, "delete">, people: readonly string[]): Promise<void> {
  if (people.length > 0) await tx.delete(session).where(inArray(session.userId, [...people]));
}

/** Ends what lets people in by itself, for good: sessions, and calendars whose address they hold. */
export async function shutOut(tx: Pick<Tx, "delete">, people: readonly string[]): Promise<void> {
  await endSessionsOf(tx, people);
  if (people.length > 0) await tx.delete(feeds).where(inArray(feeds.personId, [...people]));
}

/** The person of an id, if they may be signed in now. */
function activePerson({ index, at }: Access, id: string) {
  const subject = subjectOf(index, { person: id });
  return subject && isActive(subject, at) ? subject.person : null;
}

/** Who a request comes from, and the name of the site it comes to. */
export async function visitOf(headers: Headers): Promise<Visit> {
  const found = await openSessionOf(headers);
  const access = await accessNow();
  const { index } = access;
  const person = found ? activePerson(access, found.person) : null;
  // A last day passes without anybody changing anything: the session ends when it is next used.
  if (found && !person) await endSessionsOf(database(), [found.person]);
  return {
    me: person ? { id: person.id, name: person.name ?? person.id, kind: person.kind } : null,
    session: person ? found : null,
    siteName: index.places.length > 0 ? (siteOf(index).place.title ?? "") : "",
  };
}

/** Whether a session still lets its person in. */
export async function isOpen({ id }: OpenSession): Promise<boolean> {
  const [row] = await database()
    .select({ person: session.userId })
    .from(session)
    .where(and(eq(session.id, id), gt(session.expiresAt, new Date())));
  return row !== undefined && activePerson(await accessNow(), row.person) !== null;
}

const cookieIn = (headers: Headers, name: string): string | null => {
  const found = (headers.get("cookie") ?? "").split(/;\s*/).find((it) => it.startsWith(`${name}=`));
  return found ? found.slice(name.length + 1) : null;
};

const isSecure = (): boolean => (process.env.TESORO_ORIGIN ?? "").startsWith("https:");
const YEAR = 60 * 60 * 24 * 365;

/** Copies the cookies that the accounts library sets, and nothing else. */
const withCookies = (from: Response, to: Response): Response => {
  for (const cookie of from.headers.getSetCookie()) to.headers.append("set-cookie", cookie);
  return to;
};

const empty = (): Response => new Response("{}", { headers: { "content-type": "application/json" } });

/** Signs in with an address that is somebody's; else with one that somebody claims. */
async function answerTo(address: string, password: string): Promise<{ answer: Response; email: string }> {
  const ask = (email: string) => auth().api.signInEmail({ body: { email, password }, asResponse: true });
  const answer = await ask(address);
  if (answer.ok) return { answer, email: address };
  const email = await claimOf(address, password);
  const claimed = email === null ? answer : await ask(email);
  if (email === null || !claimed.ok) throw new Trouble(401, "wrongSignIn", "The address or the password is not right.");
  return { answer: claimed, email };
}

/** Signs in, ends the session that the browser had before, and refuses whoever is suspended. */
async function open(address: string, password: string, headers: Headers): Promise<Response> {
  const before = await openSessionOf(headers);
  const { answer, email } = await answerTo(address, password);
  if (before) await database().delete(session).where(eq(session.id, before.id));
  const [row] = await database().select({ id: user.id }).from(user).where(eq(user.email, email));
  if (!row || !activePerson(await accessNow(), row.id)) {
    await endSessionsOf(database(), row ? [row.id] : []);
    throw new Trouble(403, "suspended", "This account is suspended or has ended. Ask a site keeper.");
  }
  await database().update(user).set({ signedInAt: new Date() }).where(eq(user.id, row.id));
  return withCookies(answer, empty());
}

/** Signs in with mail and password. The same answer for a wrong password and an unknown address. */
export async function signIn(email: string, password: string, clientAddress: string, headers: Headers): Promise<Response> {
  const address = email.toLowerCase();
  const succeeded = await countAttempt({ email: address, address: clientAddress, device: cookieIn(headers, DEVICE_COOKIE) });
  const answer = await open(address, password, headers);
  await succeeded();
  const attributes = `Path=/sign-in; HttpOnly; SameSite=Lax; Max-Age=${YEAR}${isSecure() ? "; Secure" : ""}`;
  answer.headers.append("set-cookie", `${DEVICE_COOKIE}=${newDevice(address)}; ${attributes}`);
  return answer;
}

/** Whom the demo's sign-in page offers; nobody on any other site. */
export const demoPeople = (): Promise<{ person: string; role: string; name: string }[]> =>
  inSnapshot((tx) =>
    tx
      .select({ person: demoCast.personId, role: demoCast.role, name: user.name })
      .from(demoCast)
      .innerJoin(user, eq(user.id, demoCast.personId))
      .orderBy(asc(demoCast.position)),
  );

/** One-click sign-in of the demo. */
export async function signInDemo(person: string, headers: Headers): Promise<Response> {
  const [member] = await inSnapshot((tx) => tx.select().from(demoCast).where(eq(demoCast.personId, person)));
  if (!member) throw notThere();
  return open(member.email, member.password, headers);
}

export async function signOut(headers: Headers): Promise<Response> {
  const answer = await auth().api.signOut({ headers, asResponse: true });
  return withCookies(answer, empty());
}

/** Notes the address of somebody who has no account yet, or has one under this id. */
export async function addAddress(tx: Tx, { id, name, email }: { id: string; name: string; email: string }): Promise<void> {
  await tx.insert(user).values({ id, name, email: email.toLowerCase(), emailVerified: true }).onConflictDoNothing({ target: user.id });
}

/** An address for the accounts library where the one somebody claims is not proven: nobody has it, and no mail goes there. */
const standInFor = (id: string): string => `${id.toLowerCase()}@claimed.invalid`;

interface NewAccount {
  id: string;
  name: string;
  email: string;
  passwordHash: string;
  /** Nobody proved that the address is theirs. */
  isClaim?: boolean;
}

/**
 * Gives a person an account with a password that was hashed before; their address may be known already. Returns the address by
 * which the library knows the account.
 */
export async function addAccount(tx: Tx, person: NewAccount): Promise<string> {
  if (person.isClaim) {
    const { id, name } = person;
    await tx.insert(user).values({ id, name, email: standInFor(id), claimed: person.email.toLowerCase() });
  } else await addAddress(tx, person);
  await tx.insert(account).values({
    id: `credential-${person.id}`,
    accountId: person.id,
    providerId: "credential",
    userId: person.id,
    password: person.passwordHash,
  });
  return person.isClaim ? standInFor(person.id) : person.email;
}

/** So many accounts of one claimed address are tried; more than a few nobody makes in earnest. */
const MOST_CLAIMS = 10;

/** The address by which the library knows the account of a claimed one whose password this is; null where there is none. */
async function claimOf(email: string, password: string): Promise<string | null> {
  const claims = await database()
    .select({ email: user.email, hash: account.password })
    .from(user)
    .innerJoin(account, and(eq(account.userId, user.id), eq(account.providerId, "credential")))
    .where(eq(user.claimed, email))
    .orderBy(asc(user.createdAt))
    .limit(MOST_CLAIMS);
  for (const { email: known, hash } of claims) if (hash && (await verifyPassword({ hash, password }))) return known;
  return null;
}

/** What was claimed is proven by now: the address is theirs, unless somebody else has it. */
export async function proveAddress(tx: Tx, id: string): Promise<void> {
  const [own] = await tx.select({ claimed: user.claimed }).from(user).where(eq(user.id, id));
  if (!own?.claimed) return;
  const [other] = await tx.select({ id: user.id }).from(user).where(eq(user.email, own.claimed));
  if (!other) await tx.update(user).set({ email: own.claimed, claimed: null, emailVerified: true }).where(eq(user.id, id));
}

/** Gives somebody's account another password, and ends its sessions; but for one, where it is changed from there. */
export async function setPasswordOf(tx: Tx, personId: string, passwordHash: string, keptSession?: string): Promise<void> {
  await tx
    .update(account)
    .set({ password: passwordHash, updatedAt: new Date() })
    .where(and(eq(account.userId, personId), eq(account.providerId, "credential")));
  const own = eq(session.userId, personId);
  await tx.delete(session).where(keptSession === undefined ? own : and(own, ne(session.token, keptSession)));
}

/** The token of the session a request comes from. */
export const sessionTokenOf = async (headers: Headers): Promise<string> => (await auth().api.getSession({ headers }))?.session.token ?? "";

/** The same by an address. Returns the person's id, or null where nobody has the address. */
export async function replacePassword(tx: Tx, email: string, passwordHash: string): Promise<string | null> {
  const [row] = await tx.select({ id: user.id }).from(user).where(eq(user.email, email.toLowerCase()));
  if (!row) return null;
  await setPasswordOf(tx, row.id, passwordHash);
  return row.id;
}

/** A memory-hard hash of a password. */
export const hashOfPassword = (password: string): Promise<string> => hashPassword(password);
