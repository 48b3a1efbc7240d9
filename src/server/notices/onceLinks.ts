/** Links that open something once: for one address, until an instant, kept as a hash. A newer one ends those before it. */
import { randomBytes } from "node:crypto";
import { and, eq, gt, isNull } from "drizzle-orm";
import type { Tx } from "../db/client.ts";
import { onceLinks } from "../db/schema/index.ts";
import { sha256 } from "../secrets.ts";

/** Minutes for which a link for a new password works. */
export const RESET_MINUTES = 30;

export type OnceWhat = "join" | "reset";

/**
 * What holding a link proves: that one reads what is sent to its address, since a mail server took the letter with it; that a
 * site keeper handed it on for this very person; or nothing, where anybody else did.
 */
export type Proof = "letter" | "siteKeeper" | "hand";

/** What a link stands for, as long as it works. */
export interface OnceLink {
  personId: string;
  email: string;
  proof: Proof;
  until: Date;
}

/** Ends whatever links somebody has for this. */
export async function endOnceLinks(tx: Pick<Tx, "delete">, personId: string, what: OnceWhat): Promise<void> {
  await tx.delete(onceLinks).where(and(eq(onceLinks.personId, personId), eq(onceLinks.what, what), isNull(onceLinks.usedAt)));
}

/** Makes a link and ends those before it; the answer is the only place where its token ever stands. */
export async function makeOnceLink(tx: Pick<Tx, "delete" | "insert">, what: OnceWhat, link: OnceLink): Promise<string> {
  const token = randomBytes(32).toString("base64url");
  await endOnceLinks(tx, link.personId, what);
  await tx.insert(onceLinks).values({ ...link, what, hash: sha256(token) });
  return token;
}

/** What a token stands for; null for one that was used, has ended or never was. */
export async function findOnceLink(tx: Pick<Tx, "select">, what: OnceWhat, token: string, now: Date): Promise<OnceLink | null> {
  const [row] = await tx
    .select()
    .from(onceLinks)
    .where(and(eq(onceLinks.hash, sha256(token)), eq(onceLinks.what, what), isNull(onceLinks.usedAt), gt(onceLinks.until, now)));
  return row ?? null;
}

/** Takes a link that works; of several who try at once, one has it, the others get null. */
export async function takeOnceLink(tx: Pick<Tx, "update">, what: OnceWhat, token: string, now: Date): Promise<OnceLink | null> {
  const [row] = await tx
    .update(onceLinks)
    .set({ usedAt: now })
    .where(and(eq(onceLinks.hash, sha256(token)), eq(onceLinks.what, what), isNull(onceLinks.usedAt), gt(onceLinks.until, now)))
    .returning();
  return row ?? null;
}
