/** Signing in and out, and who a request comes from. */

import { hashPassword } from "better-auth/crypto";
import { asc, eq } from "drizzle-orm";
import { siteOf, subjectOf } from "../../core/access/accessIndex.ts";
import { accessNow } from "../access/current.ts";
import { inSnapshot, type Tx } from "../db/client.ts";
import { account, demoCast, user } from "../db/schema.ts";
import { notThere, Trouble } from "../http/trouble.ts";
import { auth } from "./auth.ts";

export interface SignedIn {
  id: string;
  name: string;
  kind: "member" | "guest";
}

export interface Visit {
  /** Who asks; null for the public, and for a session whose person has left. */
  me: (SignedIn & { suspended: boolean }) | null;
  siteName: string;
}

/** Who a request comes from, and the name of the site it comes to. */
export async function visitOf(headers: Headers): Promise<Visit> {
  const session = headers.get("cookie")?.includes("tesoro") ? await auth().api.getSession({ headers }) : null;
  const { index } = await accessNow();
  const person = session ? subjectOf(index, { person: session.user.id })?.person : undefined;
  return {
    me: person ? { id: person.id, name: person.name ?? person.id, kind: person.kind, suspended: person.status === "suspended" } : null,
    siteName: index.places.length > 0 ? (siteOf(index).place.title ?? "") : "",
  };
}

/** Copies the cookies that the accounts library sets, and nothing else. */
const withCookies = (from: Response, to: Response): Response => {
  for (const cookie of from.headers.getSetCookie()) to.headers.append("set-cookie", cookie);
  return to;
};

/** Signs in with mail and password. The same answer for a wrong password and an unknown address. */
export async function signIn(email: string, password: string, clientAddress: string): Promise<Response> {
  const request = new Request(`${process.env.TESORO_ORIGIN ?? "http://127.0.0.1:4321"}/accounts/sign-in/email`, {
    method: "POST",
    headers: { "content-type": "application/json", "x-forwarded-for": clientAddress },
    body: JSON.stringify({ email, password }),
  });
  const answer = await auth().handler(request);
  if (answer.status === 429) throw new Trouble(429, "tooOften", "Too many attempts from here. Wait a minute, then try again.");
  if (!answer.ok) throw new Trouble(401, "wrongSignIn", "The address or the password is not right.");
  return withCookies(answer, new Response("{}", { headers: { "content-type": "application/json" } }));
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
export async function signInDemo(person: string): Promise<Response> {
  const [member] = await inSnapshot((tx) => tx.select().from(demoCast).where(eq(demoCast.personId, person)));
  if (!member) throw notThere();
  const answer = await auth().api.signInEmail({ body: { email: member.email, password: member.password }, asResponse: true });
  if (!answer.ok) throw new Trouble(401, "wrongSignIn", "This person cannot sign in.");
  return withCookies(answer, new Response("{}", { headers: { "content-type": "application/json" } }));
}

export async function signOut(headers: Headers): Promise<Response> {
  const answer = await auth().api.signOut({ headers, asResponse: true });
  return withCookies(answer, new Response("{}", { headers: { "content-type": "application/json" } }));
}

/** Gives a person an account with a password that was hashed before. */
export async function addAccount(tx: Tx, person: { id: string; name: string; email: string; passwordHash: string }): Promise<void> {
  await tx.insert(user).values({ id: person.id, name: person.name, email: person.email, emailVerified: true });
  await tx.insert(account).values({
    id: `credential-${person.id}`,
    accountId: person.id,
    providerId: "credential",
    userId: person.id,
    password: person.passwordHash,
  });
}

/** A memory-hard hash of a password. */
export const hashOfPassword = (password: string): Promise<string> => hashPassword(password);
