/** How people come in: when they last signed in, whether they can, and who asked them in. */
import { inArray } from "drizzle-orm";
import { subjectOf } from "../../../core/access/index/index.ts";
import type { Access } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { account, invitations, user } from "../../db/schema/index.ts";

export interface Coming {
  signedIn(id: string): string | null;
  hasAccount(id: string): boolean;
  /** The name of whoever asked them in; null for those who were here from the start. */
  by(id: string): string | null;
}

/** The same for some people at once. */
export async function comingOf(tx: Tx, access: Access, ids: readonly string[]): Promise<Coming> {
  if (ids.length === 0) return { signedIn: () => null, hasAccount: () => false, by: () => null };
  const list = [...ids];
  const users = await tx.select({ id: user.id, at: user.signedInAt }).from(user).where(inArray(user.id, list));
  const accounts = await tx.select({ id: account.userId }).from(account).where(inArray(account.userId, list));
  const asked = await tx
    .select({ id: invitations.personId, by: invitations.by })
    .from(invitations)
    .where(inArray(invitations.personId, list));
  const at = new Map(users.map((row) => [row.id, row.at?.toISOString() ?? null]));
  const able = new Set(accounts.map(({ id }) => id));
  const hosts = new Map(asked.map(({ id, by }) => [id, subjectOf(access.index, { person: by })?.person?.name ?? by]));
  return { signedIn: (id) => at.get(id) ?? null, hasAccount: (id) => able.has(id), by: (id) => hosts.get(id) ?? null };
}
