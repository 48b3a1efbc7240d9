/** Findings set aside with a reason by whoever answers for the page, and taken up again. */
import { and, eq, inArray } from "drizzle-orm";
import type { SetAsideBody } from "../../../contracts/findings.ts";
import { hasWords } from "../../../core/words.ts";
import { need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { inChange } from "../../db/client.ts";
import { findings, findingsAside } from "../../db/schema/index.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest, changedMeanwhile } from "../../trouble.ts";
import { outsideReaders } from "./outsiders.ts";

export const setFindingsAside = (maker: string, { place: id, signs, aside, reason }: SetAsideBody): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const place = seenPlace(access, me, id);
    need(access, me, "setAside", place);
    if (aside && !hasWords(reason)) throw badRequest("Say in a few words why this may stand where outsiders read it.");
    const there = and(eq(findings.placeId, id), inArray(findings.sign, signs));
    const found = new Set((await tx.select({ sign: findings.sign }).from(findings).where(there)).map(({ sign }) => sign));
    if (found.size < signs.length || outsideReaders(access, place) === null)
      throw changedMeanwhile("This was found there, but it is not any more, or outsiders do not read the page now. Look again.");
    const those = and(eq(findingsAside.placeId, id), inArray(findingsAside.sign, signs));
    const said = new Set((await tx.select({ sign: findingsAside.sign }).from(findingsAside).where(those)).map(({ sign }) => sign));
    // What was set aside already is not set aside again, and keeps its reason.
    const news = signs.filter((sign) => said.has(sign) !== aside);
    if (news.length === 0) return {};
    const detail = { aside, findings: news.length };
    const entry = await appendEntry(tx, { maker, act: "setAside", places: [id], detail, note: aside ? reason : "" }, access.at);
    if (aside) await tx.insert(findingsAside).values(news.map((sign) => ({ placeId: id, sign, by: maker, at: entry.at, reason })));
    else await tx.delete(findingsAside).where(those);
    return {};
  });
