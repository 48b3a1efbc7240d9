/** How a page stands towards approval (lifecycle.md, "Approval"): whether its space asks for it, what was given in, who may answer. */
import { and, desc, eq, gt, isNotNull, isNull, or, type SQL, sql } from "drizzle-orm";
import type { Approval } from "../../../contracts/approval.ts";
import type { AccessIndex, CompiledPlace, CompiledSubject } from "../../../core/access/index/index.ts";
import { ableToApprove, wroteAll } from "../../../core/lifecycle/index.ts";
import { type Access, isKeeper, mayNot } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { pages, spaces, submissions, versions } from "../../db/schema/index.ts";
import { versionName } from "../writing/versions.ts";

/** Whether the space of a page asks for approval. */
export async function asksApproval(tx: Tx, index: AccessIndex, place: CompiledPlace): Promise<boolean> {
  const space = index.places[place.space]?.place.id ?? "";
  const [row] = await tx.select({ approval: spaces.approval }).from(spaces).where(eq(spaces.placeId, space));
  return row?.approval ?? false;
}

/** Versions that are newer than what readers got last. */
export const newerThanLive: SQL = or(
  isNull(pages.liveMajor),
  gt(versions.major, pages.liveMajor),
  and(eq(versions.major, pages.liveMajor), gt(versions.minor, 0)),
) as SQL;

/** Who wrote what is new on a page since its last live version. */
export async function authorsOfNew(tx: Tx, id: string): Promise<(string | null)[]> {
  const rows = await tx
    .selectDistinct({ author: versions.authorId })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .where(and(eq(versions.placeId, id), newerThanLive));
  return rows.map(({ author }) => author);
}

/** The newest approved version that is newer than the live one, and beyond it what readers have. */
export async function approvedVersion(tx: Tx, id: string): Promise<string | null> {
  const [row] = await tx
    .select({ major: versions.major, minor: versions.minor })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .where(and(eq(versions.placeId, id), isNotNull(versions.approvedBy), newerThanLive))
    .orderBy(desc(versions.major), desc(versions.minor))
    .limit(1);
  return row ? versionName(row) : null;
}

/** Whether somebody may publish what these wrote without approval, since nobody else could give it: a site keeper, with a reason. */
export const noneAble = (access: Access, me: CompiledSubject, place: CompiledPlace, authors: readonly (string | null)[]): boolean =>
  isKeeper(access, me) &&
  mayNot(access, me, "publish", place) === null &&
  ableToApprove(access.index, place, authors, access.at).length === 0;

/** The same of a page, by what is new on it. */
export const publishesWithReason = async (tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<boolean> =>
  noneAble(access, me, place, await authorsOfNew(tx, place.place.id));

const MOST_NAMED = 6;

/** How a page stands, for somebody who writes or publishes it; null where its space asks for nothing. */
export async function approvalOf(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<Approval | null> {
  if (!(await asksApproval(tx, access.index, place))) return null;
  const id = place.place.id;
  const authors = await authorsOfNew(tx, id);
  const able = ableToApprove(access.index, place, authors, access.at);
  const others = able.filter((it) => it !== me);
  const names = namesFor(access, me);
  const [row] = await tx.select().from(submissions).where(eq(submissions.placeId, id));
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
    approved: await approvedVersion(tx, id),
    mayApprove: able.includes(me) && !wroteAll(authors, me.person?.id ?? ""),
    able: others.length,
    ableNames: mayKnowOthers(access, me, place) ? others.slice(0, MOST_NAMED).map((it) => names.person(it.person?.id ?? "")) : [],
    withReason: noneAble(access, me, place, authors),
  };
}

/** Pages that wait for somebody to approve them; with `writer`, those alone that hold words of somebody else. */
export const waitingForApproval = (tx: Tx, placeId: SQL, writer?: string): SQL => {
  const waits = sql`exists (select 1 from ${submissions} where ${submissions.placeId} = ${placeId} and ${submissions.answer} is null)`;
  if (writer === undefined) return waits;
  const byOthers = tx
    .select({ one: sql`1` })
    .from(versions)
    .innerJoin(pages, eq(pages.placeId, versions.placeId))
    .where(and(sql`${versions.placeId} = ${placeId}`, newerThanLive, sql`${versions.authorId} is distinct from ${writer}`));
  return sql`(${waits} and exists (${byOthers}))`;
};
