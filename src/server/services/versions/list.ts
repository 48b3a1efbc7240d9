/** The versions of a page, the newest first, and when readers got each. */
import { and, asc, desc, eq, inArray, lt, or } from "drizzle-orm";
import { VERSIONS_AT_ONCE, type VersionList, type VersionRow, type VersionsQuery } from "../../../contracts/versions.ts";
import { mayRead } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { ledger, places, versions } from "../../db/schema/index.ts";
import { badRequest } from "../../trouble.ts";
import { readerAddress, spaceSlugs } from "../reading/addresses.ts";
import { newestVersion, versionName, versionRef } from "../writing/versions.ts";
import { openVersions } from "./opening.ts";

/** A stretch of time; `until` null: still. */
interface Stretch {
  from: string;
  until: string | null;
}

/** When a page was live, oldest first. */
async function liveStretches(tx: Tx, id: string): Promise<Stretch[]> {
  const rows = await tx
    .select({ state: places.state, fromSeq: places.fromSeq, toSeq: places.toSeq })
    .from(places)
    .where(eq(places.id, id))
    .orderBy(asc(places.fromSeq));
  const seqs = rows.flatMap(({ fromSeq, toSeq }) => (toSeq === null ? [fromSeq] : [fromSeq, toSeq]));
  const times = seqs.length === 0 ? [] : await tx.select({ seq: ledger.seq, at: ledger.at }).from(ledger).where(inArray(ledger.seq, seqs));
  const when = new Map(times.map(({ seq, at }) => [seq, at.toISOString()]));
  const stretches: Stretch[] = [];
  for (const { state, fromSeq, toSeq } of rows) {
    if (state !== "live") continue;
    const [from, until] = [when.get(fromSeq) ?? "", toSeq === null ? null : (when.get(toSeq) ?? "")];
    const last = stretches.at(-1);
    if (last && last.until === from) last.until = until;
    else stretches.push({ from, until });
  }
  return stretches;
}

/** When readers got a live version: from when it was made, or the page came back with it, until another one, or the page went. */
function seenFrom(at: string, next: string | null, live: readonly Stretch[]): VersionRow["seen"] {
  const ends = (a: string | null, b: string | null) => (a === null ? b : b === null ? a : a < b ? a : b);
  const within = live.filter(({ from, until }) => (until === null || until > at) && (next === null || from < next));
  const [first] = within;
  if (!first) return null;
  return { from: first.from > at ? first.from : at, until: ends(within.at(-1)?.until ?? null, next) };
}

export const listVersions = (asker: string, id: string, { before }: VersionsQuery): Promise<VersionList> =>
  inSnapshot(async (tx) => {
    const { access, me, place, all, writes } = await openVersions(tx, asker, id);
    const ref = before === undefined ? null : versionRef(before);
    if (before !== undefined && !ref) throw badRequest(`There is no version ${before}.`);
    const { major, minor } = versions;
    const live = await tx
      .select({ major, at: versions.at })
      .from(versions)
      .where(and(eq(versions.placeId, id), eq(minor, 0)))
      .orderBy(asc(major));
    const rows = await tx
      .select({ major, minor, at: versions.at, author: versions.authorId, note: versions.note })
      .from(versions)
      .where(
        and(
          eq(versions.placeId, id),
          all ? undefined : eq(minor, 0),
          ref ? or(lt(major, ref.major), and(eq(major, ref.major), lt(minor, ref.minor))) : undefined,
        ),
      )
      .orderBy(desc(major), desc(minor))
      .limit(VERSIONS_AT_ONCE + 1);
    const stretches = await liveStretches(tx, id);
    const names = namesFor(access, me);
    const nextLive = (it: number) => live.find((row) => row.major > it)?.at.toISOString() ?? null;
    const told = rows.slice(0, VERSIONS_AT_ONCE).map((row): VersionRow => {
      const at = row.at.toISOString();
      return {
        name: versionName(row),
        live: row.minor === 0,
        at,
        who: row.author === null ? "Tesoro" : names.person(row.author),
        // Notes are for those who write it.
        note: all ? row.note : "",
        seen: row.minor === 0 ? seenFrom(at, nextLive(row.major), stretches) : null,
      };
    });
    const newestLive = live.at(-1);
    return {
      id,
      title: place.place.title ?? "",
      state: place.place.state,
      address: mayRead(access, me, place) ? readerAddress(await spaceSlugs(tx), access.index, place) : null,
      writes,
      newest: all ? versionName(await newestVersion(tx, id)) : newestLive ? `${newestLive.major}.0` : "",
      versions: told,
      more: rows.length > VERSIONS_AT_ONCE,
    };
  });
