/**
 * The session a request comes in. The accounts library reads it from the signed cookie, and extends it now and then; which
 * session a cookie is of is remembered once it has said so. That the session still stands is asked of the database each time.
 */
import { eq, sql } from "drizzle-orm";
import { database, onLeavingDatabase } from "../db/client.ts";
import { session } from "../db/schema/index.ts";
import { sha256 } from "../secrets.ts";
import { auth, SESSION } from "./auth.ts";

export interface OpenSession {
  id: string;
  /** Id of whose it is. */
  person: string;
  until: Date;
}

/** So many are remembered; beyond, those longest known are read anew. */
const MOST_KNOWN = 5_000;
/** Ids of sessions by the digest of the cookies they were read from: a signature that held once holds always. */
const known = new Map<string, string>();

const prepare = () =>
  database()
    .select({ id: session.id, person: session.userId, until: session.expiresAt })
    .from(session)
    .where(eq(session.id, sql.placeholder("id")))
    .prepare("open_session");
let standing: ReturnType<typeof prepare> | undefined;

onLeavingDatabase(() => {
  known.clear();
  standing = undefined;
});

/** Whether the library would change something of it by reading it: end it, or extend it. */
function isDue({ until }: OpenSession): boolean {
  const left = until.getTime() - Date.now();
  return left <= (SESSION.expiresIn - SESSION.updateAge) * 1000;
}

/** As the library reads it; null where there is none that stands. */
async function readByLibrary(headers: Headers, key: string): Promise<OpenSession | null> {
  const found = await auth().api.getSession({ headers });
  known.delete(key);
  if (!found) return null;
  known.set(key, found.session.id);
  for (const oldest of known.keys()) {
    if (known.size <= MOST_KNOWN) break;
    known.delete(oldest);
  }
  return { id: found.session.id, person: found.user.id, until: found.session.expiresAt };
}

export async function openSessionOf(headers: Headers): Promise<OpenSession | null> {
  const cookies = headers.get("cookie") ?? "";
  if (!cookies.includes("tesoro")) return null;
  const key = sha256(cookies);
  const id = known.get(key);
  if (id !== undefined) {
    standing ??= prepare();
    const [row] = await standing.execute({ id });
    if (row && !isDue(row)) return row;
  }
  return readByLibrary(headers, key);
}
