/** The ledger as one asker may see it: of entries about places they administer what is about those, and their own. */
import { and, desc, eq, inArray, isNotNull, lt, or, sql } from "drizzle-orm";
import type { LedgerCheck, LedgerLine, LedgerPage } from "../../../contracts/ledger.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { editSentence } from "../../../core/access/explain/index.ts";
import { type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { ADMIT, type Edit, placeOfEdit, type Seq } from "../../../core/access/model/index.ts";
import { unpack } from "../../../core/access/ripple/index.ts";
import { labelOf } from "../../../core/ledger/index.ts";
import { actDone } from "../../../core/lifecycle/index.ts";
import { type Access, keepsSite, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { reachOf, within } from "../../db/listing.ts";
import { ledger, listing, tokens } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { withWords } from "../../ledger/words.ts";
import { rippleView } from "../change/rippleView.ts";
import { inverseOf } from "../change/takeBack.ts";
import { toldOf, whoMade } from "./told.ts";

export interface LedgerFilter {
  who?: string;
  place?: string;
  act?: string;
  before?: string;
}

type Row = typeof ledger.$inferSelect & { note: string };

const PAGE = 40;
/** Up to so many places, entries are looked up by their places; beyond, each entry's places are looked at. */
const FEW = 2_000;

/** What an entry did besides its edits, at each of the places it is about. */
function furtherOf({ act, detail }: Row): string[] {
  const { at, until, version, what } = detail;
  const words = [];
  if (act === "schedule" && at) words.push(`${what === "archive" ? "is archived" : "goes live"} by itself at ${at}`);
  if (act === "unschedule") words.push(what === "archive" ? "is not archived by itself any more" : "does not go live by itself any more");
  if (act === "stepIn") words.push(until ? `stepped in until ${until}` : "stepped in");
  if (version !== undefined) words.push(`version ${version}`);
  return words;
}

/** So many edits of an entry are told one by one. */
const MOST_EDITS = 60;

function capped<T>(list: readonly T[], tell: (item: T) => LedgerLine["what"][number]): LedgerLine["what"] {
  const told = list.slice(0, MOST_EDITS).map(tell);
  const more = list.length - told.length;
  return more > 0 ? [...told, { place: null, title: "", text: `and ${more} more edits` }] : told;
}

/** Acts of an entry at the places they were done to, in a sentence each; what went along is counted. */
function actsOf({ acts, edits }: Row, seen: (id: string) => boolean): { place: string; text: string }[] {
  const chosen = new Set(acts.flatMap(({ places }) => places));
  const along = edits.filter((edit) => edit.kind === "state" && !chosen.has(edit.place)).length;
  const handedUp = edits.filter((edit) => edit.kind === "move" && !chosen.has(edit.place)).length;
  return acts.flatMap((act) => {
    const places = act.places.filter(seen).slice(0, MOST_EDITS);
    return places.map((place, i) => ({ place, text: actDone(act, i === 0 ? { along, handedUp } : { along: 0, handedUp: 0 }) }));
  });
}

/** Whether an edit is told with the act it came of. */
const isTold = ({ acts }: Row, edit: Edit): boolean =>
  acts.length > 0 && (edit.kind === "state" || edit.kind === "order" || edit.kind === "erase");

/** One entry in words, for one asker. */
function lineOf(
  access: Access,
  me: CompiledSubject,
  row: Row,
  { takenBackBy, tokenNames }: { takenBackBy: number | null; tokenNames: ReadonlyMap<string, string> },
): LedgerLine {
  const names = namesFor(access, me);
  const told = toldOf(access, me, row.maker);
  const titled = (place: string | null, text: string) => ({
    place: place !== null && placeOf(access.index, place) ? place : null,
    title: place === null ? "" : placeOf(access.index, place) ? names.place(place) : "a page or space that was erased",
    text,
  });
  const places = row.places.filter(told.place);
  const edits = row.edits.filter(told.edit);
  const { token } = row.detail;
  const whole = places.length === row.places.length && edits.length === row.edits.length;
  const gone = places.some((id) => placeOf(access.index, id) === undefined);
  return {
    seq: row.seq,
    at: row.at.toISOString(),
    who: whoMade(names, row),
    act: labelOf(row.act),
    what: [
      ...places.flatMap((id) => furtherOf(row).map((words) => titled(id, words))),
      ...(token ? [titled(null, `token “${tokenNames.get(String(token)) ?? token}”`)] : []),
      ...actsOf(row, told.place).flatMap(({ place, text }) => titled(place, text)),
      ...capped(
        edits.filter((edit) => !isTold(row, edit)),
        (edit) => titled(placeOfEdit(edit), editSentence(edit, names)),
      ),
    ],
    // A note speaks of all the entry did: it is for those who may see all of it.
    note: whole ? row.note : "",
    ripple: row.ripple ? rippleView(access, me, unpack(row.ripple), { onlyKnown: !whole || gone }) : null,
    steppingIn: row.steppingIn,
    takesBack: row.takesBack,
    takenBackBy,
    canTakeBack: whole && !gone && inverseOf(row).length > 0 && takenBackBy === null,
    hash: row.hash.slice(0, 12),
  };
}

/** Names of the tokens that entries are about, by id. */
async function namesOfTokens(tx: Tx, rows: readonly Row[]): Promise<Map<string, string>> {
  const ids = rows.flatMap(({ detail }) => (typeof detail.token === "string" ? [detail.token] : []));
  if (ids.length === 0) return new Map();
  const found = await tx.select({ id: tokens.id, name: tokens.name }).from(tokens).where(inArray(tokens.id, ids));
  return new Map(found.map(({ id, name }) => [id, name]));
}

/** The condition that leaves the entries an asker may see: by access class, not by a list of all the places they administer. */
async function mine(tx: Tx, access: Access, me: CompiledSubject, asker: string) {
  if (keepsSite(access, asker)) return undefined;
  const reach = await reachOf(tx, access.index, me.number, access.at, ADMIT | OVERSEES);
  if (reach.count === 0) return eq(ledger.maker, asker);
  const administered = sql`select ${listing.placeId} from ${listing} where ${within(reach)}`;
  const about =
    reach.count <= FEW
      ? sql`${ledger.places} && array(${administered})`
      : sql`exists (select 1 from ${listing} where ${listing.placeId} = any(${ledger.places}) and ${within(reach)})`;
  return or(about, eq(ledger.maker, asker));
}

export async function readLedger(asker: string, filter: LedgerFilter): Promise<LedgerPage> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const names = namesFor(access, me);
    const siteKeeper = keepsSite(access, asker);
    const seen = await mine(tx, access, me, asker);
    // A place one may not know of has no entries for one, as one that is not there.
    const place = filter.place !== undefined && (siteKeeper || toldOf(access, me, asker).place(filter.place)) ? filter.place : undefined;
    const chosen = and(
      seen,
      filter.who ? eq(ledger.maker, filter.who) : undefined,
      filter.act ? eq(ledger.act, filter.act) : undefined,
      filter.place ? (place === undefined ? sql`false` : sql`${ledger.places} @> ${textArray([place])}`) : undefined,
    );
    const rows = await tx
      .select()
      .from(ledger)
      .where(and(chosen, filter.before ? lt(ledger.seq, Number(filter.before) as Seq) : undefined))
      .orderBy(desc(ledger.seq))
      .limit(PAGE + 1);
    const [count] = await tx.select({ total: sql<number>`count(*)::int` }).from(ledger).where(chosen);
    const makers = await tx
      .selectDistinct({ id: ledger.maker })
      .from(ledger)
      .where(and(seen, isNotNull(ledger.maker)));
    const shown = await withWords(tx, rows.slice(0, PAGE));
    const taken = await takenBack(
      tx,
      shown.map((row) => row.seq),
    );
    const tokenNames = await namesOfTokens(tx, shown);
    return {
      lines: shown.map((row) => lineOf(access, me, row, { takenBackBy: taken.get(row.seq) ?? null, tokenNames })),
      siteKeeper,
      next: rows.length > PAGE ? (shown.at(-1)?.seq ?? null) : null,
      total: count?.total ?? 0,
      makers: makers.flatMap(({ id }) => (id ? [{ id, name: names.person(id) }] : [])).sort((a, b) => a.name.localeCompare(b.name)),
    };
  });
}

/** By which entries these were taken back. */
async function takenBack(tx: Tx, seqs: readonly Seq[]): Promise<Map<Seq, Seq>> {
  if (seqs.length === 0) return new Map();
  const rows = await tx
    .select({ seq: ledger.seq, of: ledger.takesBack })
    .from(ledger)
    .where(inArray(ledger.takesBack, [...seqs]));
  return new Map(rows.flatMap(({ seq, of }) => (of === null ? [] : [[of, seq] as const])));
}

/** Checks the hash chain from the first entry to the last, and names every break; for site keepers, since it speaks of all of it. */
export async function checkLedger(asker: string): Promise<LedgerCheck> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, asker), "checkLedger");
    const { breaks, more, entries } = await verifyLedger(tx);
    return { sound: breaks.length === 0, breaks, more, entries };
  });
}
