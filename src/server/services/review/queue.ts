/** The queue of review: what is due and what is flagged, in the order of core/review, as far as an asker can settle it. */
import { and, eq, isNull, sql } from "drizzle-orm";
import { type QueueQuery, type QueueRow, type ReviewQueue, ROWS_OF_QUEUE, type SettledLine } from "../../../contracts/review.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { ADMIT, instantAt, REVISE } from "../../../core/access/model/index.ts";
import { answererOf, queueOrder, type Waiting, waitsSince } from "../../../core/review/index.ts";
import { type Access, mayNot, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor, titlesAbove } from "../../access/known.ts";
import { forAMinute } from "../../access/minute.ts";
import { inSnapshotOfLists, type Tx } from "../../db/client.ts";
import { reachOf } from "../../db/listing.ts";
import { flags, listing } from "../../db/schema/index.ts";
import { doneSince } from "../ledger/doneSince.ts";
import { actsFor } from "../life/planning.ts";
import { outsideByClass } from "../pages/filter.ts";
import { type FlagRow, flagLines, seesFlag } from "./lines.ts";

interface Candidate extends Waiting {
  classId: number;
  owner: string | null;
  publishedAt: Date | null;
  rows: FlagRow[];
}

const remembered = forAMinute<Candidate[]>();

/** Everything that waits, whoever may know of it, in order; kept for as long as nothing changes, a minute at most. */
async function waiting(tx: Tx, access: Access): Promise<Candidate[]> {
  const known = remembered.read(access);
  if (known) return known;
  const now = new Date(access.at);
  const columns = {
    id: listing.placeId,
    classId: listing.classId,
    due: listing.dueAt,
    views: listing.views30,
    owner: listing.ownerId,
    publishedAt: listing.publishedAt,
  };
  const due = await tx
    .select(columns)
    .from(listing)
    .where(
      sql`${listing.kind} in ('page', 'bulletin') and ${listing.state} = 'live' and ${listing.dueAt} <= ${now.toISOString()}::timestamptz`,
    );
  const flagged = await tx
    .select({ flag: flags, ...columns })
    .from(flags)
    .innerJoin(listing, eq(listing.placeId, flags.placeId))
    .where(and(isNull(flags.outcome), sql`${listing.state} not in ('archived', 'binned')`));
  const outside = await outsideByClass(tx, access);
  const by = new Map<string, Candidate>();
  const candidate = ({ id, classId, due: at, views, owner, publishedAt }: (typeof due)[number]): Candidate => {
    const it = by.get(id);
    if (it) return it;
    const { public: open = false, guests = 0 } = outside.get(classId) ?? {};
    const made: Candidate = {
      id,
      classId,
      owner,
      publishedAt,
      views,
      due: at && at <= now ? instantAt(at.getTime()) : null,
      outside: open ? "public" : guests > 0 ? "guests" : "nobody",
      flags: [],
      rows: [],
    };
    by.set(id, made);
    return made;
  };
  for (const row of due) candidate(row);
  for (const { flag, ...row } of flagged) {
    const it = candidate(row);
    it.rows.push(flag);
    it.flags = [...it.flags, { kind: flag.kind, due: instantAt(flag.due.getTime()) }];
  }
  return remembered.keep(access, queueOrder([...by.values()], access.at));
}

/** What of it somebody can settle: where they write or keep, what is theirs, what they are to answer. */
async function within(tx: Tx, access: Access, me: CompiledSubject, all: readonly Candidate[]): Promise<(it: Candidate) => boolean> {
  const { classes, places } = await reachOf(tx, access.index, me.number, access.at, REVISE | ADMIT | OVERSEES);
  const [byClass, byPlace] = [new Set(classes), new Set(places)];
  const who = me.person?.id;
  if (all.length === 0 || who === undefined) return () => false;
  return (it) => {
    if (byClass.has(it.classId) || byPlace.has(it.id)) return true;
    const theirs = it.owner === who || it.rows.some(({ to }) => to === who);
    const place = theirs ? placeOf(access.index, it.id) : undefined;
    if (!place || mayNot(access, me, "read", place) !== null) return false;
    // What waits for nothing but a flag they may not know of does not wait for them.
    return it.due !== null || it.rows.some((row) => seesFlag(access, me, place, row));
  };
}

const isTheirs = (it: Candidate, who: string): boolean =>
  it.rows.length === 0 ? it.owner === who : it.rows.some(({ to }) => answererOf(to === null ? {} : { to }, it.owner) === who);

function rowOf(access: Access, me: CompiledSubject, it: Candidate): QueueRow {
  const place = placeOf(access.index, it.id);
  if (!place) throw new Error(`The listing has ${it.id}, which is nowhere.`);
  const names = namesFor(access, me);
  const lines = flagLines(access, me, place, it.rows);
  const oldest = Math.min(...lines.map(({ at }) => Date.parse(at)));
  const tells = mayNot(access, me, "seeReads", place) === null;
  return {
    id: it.id,
    title: place.place.title ?? "",
    space: titlesAbove(access, me, place)[0] ?? "",
    kind: place.place.kind === "bulletin" ? "bulletin" : "page",
    due: it.due === null ? null : new Date(it.due).toISOString(),
    since: new Date(
      waitsSince({ due: it.due, flags: lines.map(({ due }) => ({ kind: "doubtful", due: instantAt(Date.parse(due)) })) }),
    ).toISOString(),
    flags: lines,
    views: tells ? it.views : null,
    outside: tells ? it.outside : null,
    owner: place.place.owner ? names.person(place.place.owner) : "",
    mayConfirm: place.place.state === "live" && mayNot(access, me, "confirm", place) === null,
    revisedSince: it.publishedAt !== null && Number.isFinite(oldest) && it.publishedAt.getTime() > oldest,
    acts: actsFor(access, me, place),
  };
}

const MOST_SETTLED = 50;

/** What somebody settled since a moment, the newest first. */
async function settledSince(tx: Tx, access: Access, me: CompiledSubject, since: Date): Promise<SettledLine[]> {
  const names = namesFor(access, me);
  const rows = await doneSince(tx, ["review"], since, { by: me.person?.id ?? "", most: MOST_SETTLED });
  return rows.map(({ seq, at, places, back }) => {
    const [first = "", ...others] = places;
    const more = others.length === 0 ? "" : ` and ${others.length} more`;
    return { seq, at: at.toISOString(), words: `${names.place(first)}${more}`, takenBack: back };
  });
}

/** A day of the asker's begins when it begins for the server: what was settled stays in sight for a day. */
const DAY = 86_400_000;

/** The queue as somebody sees it. */
export const readQueue = (asker: string, query: QueueQuery): Promise<ReviewQueue> =>
  inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const all = await waiting(tx, access);
    const seen = await within(tx, access, me, all);
    const spaceOf = (id: string) => access.index.places[placeOf(access.index, id)?.space ?? -1]?.place.id;
    const mine = all.filter(
      (it) =>
        seen(it) && (query.whose === undefined || isTheirs(it, asker)) && (query.space === undefined || spaceOf(it.id) === query.space),
    );
    const from = query.from ?? 0;
    return {
      rows: mine.slice(from, from + ROWS_OF_QUEUE).map((it) => rowOf(access, me, it)),
      count: mine.length,
      settled: await settledSince(tx, access, me, new Date(access.at - DAY)),
    };
  });
