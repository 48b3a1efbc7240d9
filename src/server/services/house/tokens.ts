/** Keys for programs: made and withdrawn by site keepers, shown once, kept as a hash. */
import { randomBytes } from "node:crypto";
import { and, desc, eq, isNull } from "drizzle-orm";
import type { TokenView } from "../../../contracts/house.ts";
import type { TokenScope } from "../../../contracts/tokens.ts";
import { need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { tokens } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { appendEntry } from "../../ledger/append.ts";
import { sha256 } from "../../secrets.ts";
import { badRequest, notThere } from "../../trouble.ts";

/** What a token begins with, so that one that strays into a text is recognised. */
const PREFIX = "tesoro_";
const MOST_TOKENS = 50;

/** Makes a token; the answer is the only place where it ever stands. */
export async function makeToken(
  maker: string,
  order: { name: string; scopes: TokenScope[]; until?: string },
): Promise<{ id: string; token: string }> {
  const until = order.until === undefined ? null : new Date(order.until);
  if (until && !(until.getTime() > Date.now())) throw badRequest("The end of a token must lie ahead.");
  const token = PREFIX + randomBytes(32).toString("base64url");
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "keepTokens");
    const open = await tx.select({ id: tokens.id }).from(tokens).where(isNull(tokens.withdrawnAt));
    if (open.length >= MOST_TOKENS) throw badRequest(`There are ${MOST_TOKENS} tokens already. Withdraw one that is no longer used.`);
    const id = newId();
    const scopes = [...new Set(order.scopes)];
    const entry = await appendEntry(
      tx,
      {
        maker,
        act: "makeToken",
        places: [],
        detail: { token: id, scopes: scopes.join(" ") },
      },
      access.at,
    );
    await tx.insert(tokens).values({ id, name: order.name, hash: sha256(token), scopes, madeBy: maker, madeAt: entry.at, until });
    return { id, token };
  });
}

/** Withdraws a token: from the next request on it opens nothing. */
export async function withdrawToken(maker: string, id: string): Promise<Record<string, never>> {
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "keepTokens");
    const [known] = await tx
      .select()
      .from(tokens)
      .where(and(eq(tokens.id, id), isNull(tokens.withdrawnAt)));
    if (!known) throw notThere();
    const entry = await appendEntry(tx, { maker, act: "withdrawToken", places: [], detail: { token: id } }, access.at);
    await tx.update(tokens).set({ withdrawnAt: entry.at }).where(eq(tokens.id, id));
    return {};
  });
}

export async function listTokens(asker: string): Promise<TokenView[]> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, asker), "keepTokens");
    const names = namesFor(access, subjectFor(access, asker));
    const rows = await tx.select().from(tokens).orderBy(desc(tokens.madeAt));
    return rows.map((row) => ({
      id: row.id,
      name: row.name,
      scopes: row.scopes,
      madeBy: names.person(row.madeBy),
      madeAt: row.madeAt.toISOString(),
      until: row.until?.toISOString() ?? null,
      usedAt: row.usedAt?.toISOString() ?? null,
      withdrawnAt: row.withdrawnAt?.toISOString() ?? null,
    }));
  });
}

const MINUTE = 60_000;

/** The scopes of a token that is known, not withdrawn and not over; null for any other text. */
export async function scopesOfToken(token: string): Promise<readonly TokenScope[] | null> {
  const [row] = await database()
    .select()
    .from(tokens)
    .where(and(eq(tokens.hash, sha256(token)), isNull(tokens.withdrawnAt)));
  const now = Date.now();
  if (!row || (row.until && row.until.getTime() <= now)) return null;
  // Good to the minute: noting every use would make each question a write.
  if (!row.usedAt || now - row.usedAt.getTime() > MINUTE)
    await database()
      .update(tokens)
      .set({ usedAt: new Date(now) })
      .where(eq(tokens.id, row.id));
  return row.scopes;
}
