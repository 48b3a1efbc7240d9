/** Raising flags, handing them on, settling what waits: each one change, which is taken back as one. */
import { and, eq, gte, inArray, sql } from "drizzle-orm";
import {
  type HandFlagsBody,
  MOST_FLAGS_AN_HOUR,
  type RaiseFlagBody,
  type ReviewDone,
  type SettleBody,
  type SettleRowBody,
} from "../../../contracts/review.ts";
import { type CompiledPlace, type CompiledSubject, isActive, spaceIdOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, type FlagKind, type FlagOutcome, REVISE, type ReviewMark } from "../../../core/access/model/index.ts";
import { answererOf, ended, raised } from "../../../core/review/index.ts";
import { hasWords } from "../../../core/words.ts";
import { type Access, mayNot, mayRead, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { knowsPeople, namesFor } from "../../access/known.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { ledger, listing, pages, spaces } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { addNotice } from "../../notices/notices.ts";
import { badRequest, notThere, refused, Trouble } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { type FlagRow, flagsOf, mayNotSettle, seesFlag } from "./lines.ts";
import { flagOf, markOf, marksById } from "./reviewEdits.ts";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;

interface Doing<Who extends string | null = string> {
  tx: Tx;
  access: Access;
  me: CompiledSubject;
  /** Null: somebody who is not signed in. */
  who: Who;
  /** The instant it is done at, as it is kept. */
  now: string;
}

async function begin<Who extends string | null>(tx: Tx, maker: Who): Promise<Doing<Who>> {
  const access = await readAccess(tx);
  return { tx, access, me: subjectFor(access, maker), who: maker, now: new Date(access.at).toISOString() };
}

/** What comes of one page: edits, or why it is left as it is. */
type Outcome = { edits: Edit[] } | { why: string };

/** Makes one change of what can be done, and says what could not. */
async function carryOut(
  { tx, access, me, who }: Doing<string | null>,
  act: "flag" | "review",
  outcomes: readonly { place: CompiledPlace; outcome: Outcome }[],
  note: string,
): Promise<ReviewDone> {
  const edits = outcomes.flatMap(({ outcome }) => ("edits" in outcome ? outcome.edits : []));
  const skipped = outcomes.flatMap(({ place, outcome }) =>
    "why" in outcome ? [{ id: place.place.id, title: place.place.title ?? "", why: outcome.why }] : [],
  );
  if (edits.length === 0) return { seq: null, done: 0, skipped };
  const entry = await makeChange(tx, { maker: who, edits, act, note });
  await tellAnswerers(tx, access, me, edits);
  return { seq: entry.seq, done: outcomes.length - skipped.length, skipped };
}

/** Tells whoever is to answer flags that were raised or handed to them: once for all of them. */
export async function tellAnswerers(tx: Tx, access: Access, me: CompiledSubject, edits: readonly Edit[]): Promise<void> {
  const by = new Map<string, string[]>();
  for (const edit of edits) {
    if (edit.kind !== "flag" || !edit.put || edit.put.outcome || (edit.remove && edit.remove.to === edit.put.to)) continue;
    const place = seenPlace(access, me, edit.place);
    const to = answererOf(edit.put, place.place.owner ?? null);
    if (to !== null && to !== me.person?.id) by.set(to, [...(by.get(to) ?? []), edit.flag]);
  }
  for (const [personId, ids] of by)
    await addNotice(tx, { kind: "flagged", personId, about: { by: me.person?.id ?? "", flags: ids.join(",") }, at: new Date(access.at) });
}

/** A page or bulletin somebody sees; anything else is as though it were not there. */
function pageSeen({ access, me }: Pick<Doing, "access" | "me">, id: string): CompiledPlace {
  const place = seenPlace(access, me, id);
  if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
  return place;
}

/** Somebody is to answer what is said of a page: they are here, and read it. */
function checkAnswerer({ access, me }: Pick<Doing, "access" | "me">, id: string, places: readonly CompiledPlace[]): void {
  if (!knowsPeople(access, me)) throw refused("Who is to answer is chosen by members.");
  const subject = subjectOf(access.index, { person: id });
  if (!subject?.person || !isActive(subject, access.at)) throw badRequest("Nobody of that id is here. Choose somebody else.");
  const closed = places.filter((place) => !mayRead(access, subject, place));
  if (closed.length > 0)
    throw badRequest(
      `${subject.person.name} may not read ${closed.length === 1 ? `“${closed[0]?.place.title}”` : `${closed.length} of these pages`}, and cannot answer for it.`,
    );
}

function checkAhead({ access }: Pick<Doing, "access">, instant: string | undefined): void {
  if (instant !== undefined && Date.parse(instant) <= access.at) throw badRequest("That date lies in the past: choose one ahead.");
}

/** Readers who do not write a page flag so many in an hour; whoever writes it, as many as there are. */
async function checkRate({ tx, access, me, who }: Doing<string | null>, places: readonly CompiledPlace[]): Promise<void> {
  // Of whom nobody knows, it is counted by where they come from, before this (`countPublicFlag`).
  if (who === null) return;
  const counted = places.filter((place) => (standing(access, me, place).set & REVISE) === 0).length;
  if (counted === 0) return;
  // By what was done, not by what is left of it: what was taken back counts as well.
  const [row] = await tx
    .select({ count: sql<number>`coalesce(sum(cardinality(${ledger.places})), 0)::int` })
    .from(ledger)
    .where(and(eq(ledger.maker, who), eq(ledger.act, "flag"), gte(ledger.at, new Date(access.at - HOUR))));
  if ((row?.count ?? 0) + counted > MOST_FLAGS_AN_HOUR)
    throw new Trouble(429, "tooOften", `You flagged many pages within the hour: at most ${MOST_FLAGS_AN_HOUR} are taken. Try again later.`);
}

/** Spaces that let readers who are no members flag pages. */
async function openToFlags({ tx, access }: Pick<Doing, "tx" | "access">, places: readonly CompiledPlace[]): Promise<ReadonlySet<string>> {
  const ids = [...new Set(places.map((place) => spaceIdOf(access.index, place)))];
  const rows = await tx
    .select({ id: spaces.placeId })
    .from(spaces)
    .where(and(inArray(spaces.placeId, ids), eq(spaces.flags, true)));
  return new Set(rows.map(({ id }) => id));
}

/** So many open flags of a kind the public may have on a page: who of them said it already, nobody knows. */
const MOST_OF_PUBLIC = 5;

/** Why no flag of a kind is raised on a page once more; null: it is. */
function saidAlready(known: readonly FlagRow[], kind: FlagKind, maker: string | null): string | null {
  const same = known.filter((row) => row.kind === kind && row.by === maker);
  if (maker === null) return same.length < MOST_OF_PUBLIC ? null : "Several readers said so already, and it is not answered yet.";
  return same.length === 0 ? null : "You said so already, and it is not answered yet.";
}

/** Says of pages that something is wrong with them; null: of whoever says so nobody knows who it is. */
export const raiseFlag = (maker: string | null, order: RaiseFlagBody): Promise<ReviewDone> =>
  inChange(async (tx) => {
    const doing = await begin(tx, maker);
    const { access, me } = doing;
    const { places: _, ...what } = order;
    const places = order.places.map((id) => pageSeen(doing, id));
    const letIn = await openToFlags(doing, places);
    for (const place of places) {
      const allowed = letIn.has(spaceIdOf(access.index, place));
      const refusal = mayNot(access, me, "raiseFlag", place, { allowed });
      if (refusal !== null) throw refused(refusal);
    }
    checkAhead(doing, order.due);
    if (order.to !== undefined) checkAnswerer(doing, order.to, places);
    await checkRate(doing, places);
    const known = await flagsOf(tx, { places: order.places, open: true });
    const outcomes = places.map((place): { place: CompiledPlace; outcome: Outcome } => {
      if (place.place.state === "archived" || place.place.state === "binned")
        return { place, outcome: { why: `It is ${place.place.state}.` } };
      const again = saidAlready(known.get(place.place.id) ?? [], order.kind, maker);
      if (again !== null) return { place, outcome: { why: again } };
      const put = raised({ ...what, ...(maker === null ? {} : { by: maker }) }, access.at);
      return { place, outcome: { edits: [{ kind: "flag", place: place.place.id, flag: newId(), put }] } };
    });
    return carryOut(doing, "flag", outcomes, "");
  });

interface Row {
  row: SettleRowBody;
  place: CompiledPlace;
  /** Flags that were seen and are still open; the rest was answered meanwhile. */
  open: FlagRow[];
  mark: ReviewMark;
  /** Days of its own period, or of its space's. */
  period: number | null;
  due: Date | null;
  publishedAt: Date | null;
}

/** What the rows of an order are about now; a page or flag that is not for its maker to know is none. */
async function rowsOf(doing: Doing, order: readonly SettleRowBody[]): Promise<Row[]> {
  const { tx, access, me } = doing;
  const ids = order.map(({ place }) => place);
  if (new Set(ids).size < ids.length) throw badRequest("A page is named twice. Name each once.");
  const places = order.map((row) => pageSeen(doing, row.place));
  const known = await flagsOf(tx, { places: ids });
  const marks = await marksById(tx, ids);
  const found = await tx
    .select({
      id: listing.placeId,
      due: listing.dueAt,
      publishedAt: listing.publishedAt,
      own: pages.reviewDays,
      ofSpace: spaces.reviewDays,
    })
    .from(listing)
    .leftJoin(pages, eq(pages.placeId, listing.placeId))
    .leftJoin(spaces, eq(spaces.placeId, listing.spaceId))
    .where(inArray(listing.placeId, ids));
  const facts = new Map(found.map((it) => [it.id, it]));
  return order.map((row, i) => {
    const place = places[i] as CompiledPlace;
    const seen = (known.get(row.place) ?? []).filter((flag) => seesFlag(access, me, place, flag));
    if (row.flags.some((id) => !seen.some((flag) => flag.id === id))) throw notThere();
    const mark = marks.get(row.place);
    const it = facts.get(row.place);
    return {
      row,
      place,
      open: seen.filter((flag) => row.flags.includes(flag.id) && flag.outcome === null),
      mark: mark ? markOf(mark) : {},
      period: it?.own ?? it?.ofSpace ?? null,
      due: it?.due ?? null,
      publishedAt: it?.publishedAt ?? null,
    };
  });
}

/** Why nothing of a row is left to be settled; null where something is. What waits for nothing can still be confirmed. */
function nothingLeft({ access }: Doing, { row, place, open, due }: Row, confirms = false): string | null {
  if (place.place.state === "archived" || place.place.state === "binned") return `It was ${place.place.state} meanwhile.`;
  const isDue = due !== null && due.getTime() <= access.at;
  if (open.length > 0 || (row.due && isDue) || (confirms && !row.due && row.flags.length === 0)) return null;
  return "Somebody settled it meanwhile.";
}

/** Confirmed as it is: by its owner, or whoever writes it; flags that were seen are answered by it. */
function confirmed(doing: Doing, it: Row): Outcome {
  const refusal = mayNot(doing.access, doing.me, "confirm", it.place);
  if (refusal !== null) return { why: refusal };
  if (it.place.place.state !== "live") return { why: "It is not live: there is nothing to confirm." };
  const { asideUntil: _, ...before } = it.mark;
  const to: ReviewMark = { ...before, confirmed: doing.now, by: doing.who };
  return { edits: [{ kind: "reviewed", place: it.row.place, from: it.mark, to }, ...endFlags(doing, it.place, it.open, "confirmed", "")] };
}

function revised(doing: Doing, it: Row): Outcome {
  if (it.open.length === 0) return { why: "Nothing is said of it that a revision would answer." };
  const oldest = Math.min(...it.open.map(({ at }) => at.getTime()));
  if (it.publishedAt === null || it.publishedAt.getTime() <= oldest) return { why: "Nothing of it was published since it was flagged." };
  return { edits: endFlags(doing, it.place, it.open, "revised", "") };
}

/** Set aside with a reason: flags end by it, a due review is asked for again at a later date. */
function setAside(doing: Doing, it: Row, order: SettleBody): Outcome {
  const edits = endFlags(doing, it.place, it.open, "setAside", order.reason);
  const { access } = doing;
  if (!it.row.due || it.due === null || it.due.getTime() > access.at) return { edits };
  const refusal = mayNot(access, doing.me, "confirm", it.place);
  if (refusal !== null) return edits.length > 0 ? { edits } : { why: refusal };
  const asideUntil = order.until ?? new Date(access.at + (it.period ?? 90) * DAY).toISOString();
  return { edits: [{ kind: "reviewed", place: it.row.place, from: it.mark, to: { ...it.mark, asideUntil } }, ...edits] };
}

/** Ends open flags of a page, as far as their maker may answer them. */
export const endFlags = (
  { access, me, who, now }: Pick<Doing, "access" | "me" | "who" | "now">,
  place: CompiledPlace,
  open: readonly FlagRow[],
  outcome: FlagOutcome,
  reason: string,
): Edit[] =>
  open
    .filter((flag) => mayNotSettle(access, me, place, flag) === null)
    .map((flag) => {
      const remove = flagOf(flag);
      return { kind: "flag", place: place.place.id, flag: flag.id, remove, put: ended(remove, outcome, { by: who, at: now, reason }) };
    });

/** Settles rows of the queue. */
export const settleReview = (maker: string, order: SettleBody): Promise<ReviewDone> =>
  inChange(async (tx) => {
    const doing = await begin(tx, maker);
    const rows = await rowsOf(doing, order.rows);
    if (order.outcome === "setAside" && !hasWords(order.reason)) throw badRequest("Say why it is set aside.");
    checkAhead(doing, order.until);
    const outcomes = rows.map((it) => {
      const left = nothingLeft(doing, it, order.outcome === "confirmed");
      const how = { confirmed: () => confirmed(doing, it), revised: () => revised(doing, it), setAside: () => setAside(doing, it, order) };
      const outcome = left === null ? how[order.outcome]() : { why: left };
      const idle = "edits" in outcome && outcome.edits.length === 0;
      return { place: it.place, outcome: idle ? { why: "What is said of it is for somebody else to answer." } : outcome };
    });
    return carryOut(doing, "review", outcomes, order.outcome === "setAside" ? order.reason : "");
  });

/** Hands rows of the queue to somebody else; a page that is due by its period alone is flagged for them. */
export const handFlags = (maker: string, order: HandFlagsBody): Promise<ReviewDone> =>
  inChange(async (tx) => {
    const doing = await begin(tx, maker);
    const { access, me } = doing;
    const rows = await rowsOf(doing, order.rows);
    checkAhead(doing, order.due);
    checkAnswerer(
      doing,
      order.to,
      rows.map(({ place }) => place),
    );
    const outcomes = rows.map((it): { place: CompiledPlace; outcome: Outcome } => {
      const left = nothingLeft(doing, it);
      if (left !== null) return { place: it.place, outcome: { why: left } };
      const edits = it.open
        .filter((flag) => mayNotSettle(access, me, it.place, flag) === null && flag.to !== order.to)
        .map((flag): Edit => {
          const remove = flagOf(flag);
          const put = { ...remove, to: order.to, ...(order.due === undefined ? {} : { due: order.due }) };
          return { kind: "flag", place: it.row.place, flag: flag.id, remove, put };
        });
      if (it.open.length === 0 && mayNot(access, me, "confirm", it.place) === null) {
        const note = hasWords(order.note) ? order.note : "It is due to be looked at again.";
        const due = order.due === undefined ? {} : { due: order.due };
        const put = raised({ kind: "outOfDate", by: maker, to: order.to, note, ...due }, access.at);
        edits.push({ kind: "flag", place: it.row.place, flag: newId(), put });
      }
      const why = `It is ${namesFor(access, me).person(order.to)}'s to answer already, or not yours to hand on.`;
      return { place: it.place, outcome: edits.length > 0 ? { edits } : { why } };
    });
    return carryOut(doing, "review", outcomes, order.note);
  });
