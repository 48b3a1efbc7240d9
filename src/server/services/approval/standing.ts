/** How a page stands towards approval (lifecycle.md, "Approval"): whether its space asks for it, what was given in, who may answer. */
import { and, asc, desc, eq, gt, isNotNull, isNull, or, type SQL, sql } from "drizzle-orm";
import type { Approval } from "../../../contracts/approval.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, spaceIdOf } from "../../../core/access/index/index.ts";
import { type Authors, ableToApprove, authorsOfNew } from "../../../core/lifecycle/index.ts";
import { type Access, isKeeper, mayNot } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { pages, spaces, submissions, versions } from "../../db/schema/index.ts";
import { versionName } from "../writing/versions.ts";

/** Whether the space of a page asks for approval. */
export async function asksApproval(tx: Tx, index: AccessIndex, place: CompiledPlace): Promise<boolean> {
  const space = spaceIdOf(index, place);
  const [row] = await tx.select({ approval: spaces.approval }).from(spaces).where(eq(spaces.placeId, space));
  return row?.approval ?? false;
}

/** Versions that are newer than what readers got last. */
export const newerThanLive: SQL = or(
  isNull(pages.liveMajor),
  gt(versions.major, pages.liveMajor),
  and(eq(versions.major, pages.liveMajor), gt(versions.minor, 0)),
) as SQL;

/** Whether a version was approved for a space; of one from before that was kept, nobody knows for which. */
export const isApprovedIn = (version: Pick<typeof versions.$inferSelect, "approvedBy" | "approvedIn">, space: string): boolean =>
  version.approvedBy !== null && (version.approvedIn === null || version.approvedIn === space);
const approvedIn = (space: string): SQL =>
  and(isNotNull(versions.approvedBy), or(isNull(versions.approvedIn), eq(versions.approvedIn, space))) as SQL;

/** Who wrote any of what would go live anew by a version of a page, the newest unless it is said: since what was approved last, or is live. */
export async function authorsOfVersion(tx: Tx, id: string, space: string, upTo?: { major: number; minor: number }): Promise<Authors> {
  const [page] = await tx.select({ liveMajor: pages.liveMajor }).from(pages).where(eq(pages.placeId, id));
  const upToIt = upTo && sql`(${versions.major}, ${versions.minor}) <= (${upTo.major}, ${upTo.minor})`;
  const isLive = and(eq(versions.major, page?.liveMajor ?? -1), eq(versions.minor, 0));
  const before = upTo && sql`(${versions.major}, ${versions.minor}) < (${upTo.major}, ${upTo.minor})`;
  const [base] = await tx
    .select()
    .from(versions)
    .where(and(eq(versions.placeId, id), or(approvedIn(space), isLive), before))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(1);
  const since = await tx
    .select({ title: versions.title, body: versions.body, author: versions.authorId })
    .from(versions)
    .where(and(eq(versions.placeId, id), base && sql`(${versions.major}, ${versions.minor}) > (${base.major}, ${base.minor})`, upToIt))
    .orderBy(asc(versions.major), asc(versions.minor));
  return authorsOfNew(base ?? null, since);
}

/** The newest approved version that is newer than the live one, and beyond it what readers have. */
export async function approvedVersion(tx: Tx, id: string, space?: string): Promise<string | null> {
  const [row] = await tx
    .select({ major: versions.major, minor: versions.minor })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .where(and(eq(versions.placeId, id), space === undefined ? isNotNull(versions.approvedBy) : approvedIn(space), newerThanLive))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(1);
  return row ? versionName(row) : null;
}

/** Whether somebody may publish what these wrote without approval, since nobody else could give it: a site keeper, with a reason. */
export const noneAble = (access: Access, me: CompiledSubject, place: CompiledPlace, authors: Authors): boolean =>
  isKeeper(access, me) &&
  mayNot(access, me, "publish", place) === null &&
  ableToApprove(access.index, place, authors, access.at).length === 0;

/** The same of a page, by what is new on it. */
export const publishesWithReason = async (tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<boolean> =>
  noneAble(access, me, place, await authorsOfVersion(tx, place.place.id, spaceIdOf(access.index, place)));

const MOST_NAMED = 6;

/** How a page stands, for somebody who writes or publishes it; null where its space asks for nothing. */
export async function approvalOf(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<Approval | null> {
  if (!(await asksApproval(tx, access.index, place))) return null;
  const id = place.place.id;
  const [row] = await tx.select().from(submissions).where(eq(submissions.placeId, id));
  const waits = row && row.answer === null ? row : undefined;
  const authors = await authorsOfVersion(tx, id, spaceIdOf(access.index, place), waits);
  const able = ableToApprove(access.index, place, authors, access.at);
  const others = able.filter((it) => it !== me);
  const names = namesFor(access, me);
  return {
    submission: row
      ? {
          version: versionName(row),
          by: names.person(row.by),
          at: row.at.toISOString(),
          note: row.note,
          answer: row.answer,
          answeredBy: row.answeredBy === null ? "" : names.person(row.answeredBy),
          answeredAt: row.answeredAt?.toISOString() ?? null,
          answerNote: row.answerNote,
        }
      : null,
    approved: await approvedVersion(tx, id, spaceIdOf(access.index, place)),
    mayApprove: able.includes(me),
    able: others.length,
    ableNames: mayKnowOthers(access, me, place) ? others.slice(0, MOST_NAMED).map((it) => names.person(it.person?.id ?? "")) : [],
    withReason: noneAble(access, me, place, authors),
  };
}

/** Pages that wait for somebody to approve them; with `writer`, those alone that hold no words of theirs since what was approved last. */
export const waitingForApproval = (placeId: SQL, writer?: string): SQL => {
  const waits = sql`exists (select 1 from ${submissions} where ${submissions.placeId} = ${placeId} and ${submissions.answer} is null)`;
  if (writer === undefined) return waits;
  return sql`(${waits} and not exists (
    select 1 from versions w join pages p on p.place_id = w.place_id
    where w.place_id = ${placeId} and w.author_id = ${writer}
      and (p.live_major is null or (w.major, w.minor) > (p.live_major, 0))
      and not exists (select 1 from versions a where a.place_id = w.place_id and a.approved_by is not null and (a.major, a.minor) >= (w.major, w.minor))))`;
};
