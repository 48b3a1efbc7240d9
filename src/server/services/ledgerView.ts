/** The ledger as one asker may see it: entries about places they administer, and their own. */

import { and, desc, eq, inArray, isNotNull, lt, or, sql } from "drizzle-orm";
import type { LedgerLine, LedgerPage } from "../../contracts/answers.ts";
import { type CompiledSubject, placeOf } from "../../core/access/accessIndex.ts";
import { placeOfEdit } from "../../core/access/edits.ts";
import { editSentence } from "../../core/access/sentences.ts";
import { type Access, checkSiteKeeper, keepsSite, readAccess, subjectFor } from "../access/current.ts";
import { inSnapshot, type Tx } from "../db/client.ts";
import { ledger, tokens } from "../db/schema.ts";
import { textArray } from "../db/textArray.ts";
import { verifyLedger } from "../ledger/append.ts";
import { mayKnowOthers } from "./cells.ts";
import { inverseOf } from "./change.ts";
import { namesFor } from "./naming.ts";
import { rippleView } from "./rippleView.ts";

export interface LedgerFilter {
  who?: string;
  place?: string;
  act?: string;
  before?: string;
}

const PAGE = 40;

const ACTS: Record<string, string> = {
  found: "Founded",
  rules: "Rules changed",
  start: "Draft started",
  save: "Version saved",
  publish: "Published",
  schedule: "Scheduled",
  unschedule: "Unscheduled",
  stepIn: "Stepped in",
  takeBack: "Taken back",
  import: "Document brought in",
  makeToken: "Token made",
  withdrawToken: "Token withdrawn",
};

/** One entry in words, for one asker. */
function lineOf(
  access: Access,
  me: CompiledSubject,
  row: typeof ledger.$inferSelect,
  { takenBackBy, tokenNames }: { takenBackBy: number | null; tokenNames: ReadonlyMap<string, string> },
): LedgerLine {
  const names = namesFor(access, me);
  const told = row.edits.map((edit) => {
    const place = placeOfEdit(edit);
    return { place, title: place === null ? "" : names.place(place), text: editSentence(edit, names) };
  });
  const version =
    row.detail.version === undefined
      ? []
      : row.places.map((id) => ({ place: id, title: names.place(id), text: `version ${row.detail.version}` }));
  const at = (words: string) => row.places.map((id) => ({ place: id, title: names.place(id), text: words }));
  const { at: due, token, until } = row.detail;
  const further = [
    ...(row.act === "schedule" && due ? at(`goes live by itself at ${due}`) : []),
    ...(row.act === "stepIn" ? at(until ? `stepped in until ${until}` : "stepped in") : []),
    ...(token ? [{ place: null, title: "", text: `token “${tokenNames.get(String(token)) ?? token}”` }] : []),
  ];
  const known = row.places.every((id) => placeOf(access.index, id));
  return {
    seq: row.seq,
    at: row.at.toISOString(),
    who: row.maker === null ? "Tesoro" : names.person(row.maker),
    act: ACTS[row.act] ?? row.act,
    what: [...further, ...told, ...version],
    note: row.note,
    ripple: row.ripple ? rippleView(access, me, row.ripple) : null,
    steppingIn: row.steppingIn,
    takesBack: row.takesBack,
    takenBackBy,
    canTakeBack: known && inverseOf(row.edits).length > 0 && takenBackBy === null,
    hash: row.hash.slice(0, 12),
  };
}

/** Names of the tokens that entries are about, by id. */
async function namesOfTokens(tx: Tx, rows: readonly (typeof ledger.$inferSelect)[]): Promise<Map<string, string>> {
  const ids = rows.flatMap(({ detail }) => (typeof detail.token === "string" ? [detail.token] : []));
  if (ids.length === 0) return new Map();
  const found = await tx.select({ id: tokens.id, name: tokens.name }).from(tokens).where(inArray(tokens.id, ids));
  return new Map(found.map(({ id, name }) => [id, name]));
}

export async function readLedger(asker: string, filter: LedgerFilter): Promise<LedgerPage> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const names = namesFor(access, me);
    const administered = access.index.places.filter((place) => mayKnowOthers(access, me, place)).map((place) => place.place.id);
    const siteKeeper = keepsSite(access, asker);
    const mine = siteKeeper ? undefined : or(sql`${ledger.places} && ${textArray(administered)}`, eq(ledger.maker, asker));
    const chosen = and(
      mine,
      filter.who ? eq(ledger.maker, filter.who) : undefined,
      filter.act ? eq(ledger.act, filter.act) : undefined,
      filter.place ? sql`${ledger.places} @> array[${filter.place}]` : undefined,
    );
    const rows = await tx
      .select()
      .from(ledger)
      .where(and(chosen, filter.before ? lt(ledger.seq, Number(filter.before)) : undefined))
      .orderBy(desc(ledger.seq))
      .limit(PAGE + 1);
    const [count] = await tx.select({ total: sql<number>`count(*)::int` }).from(ledger).where(chosen);
    const makers = await tx
      .selectDistinct({ id: ledger.maker })
      .from(ledger)
      .where(and(mine, isNotNull(ledger.maker)));
    const shown = rows.slice(0, PAGE);
    const taken =
      shown.length === 0
        ? []
        : await tx
            .select({ seq: ledger.seq, of: ledger.takesBack })
            .from(ledger)
            .where(
              inArray(
                ledger.takesBack,
                shown.map((row) => row.seq),
              ),
            );
    const tokenNames = await namesOfTokens(tx, shown);
    const takenBy = new Map(taken.map(({ seq, of }) => [of, seq]));
    const lines = shown.map((row) => lineOf(access, me, row, { takenBackBy: takenBy.get(row.seq) ?? null, tokenNames }));
    return {
      lines,
      siteKeeper,
      next: rows.length > PAGE ? (shown.at(-1)?.seq ?? null) : null,
      total: count?.total ?? 0,
      makers: makers.flatMap(({ id }) => (id ? [{ id, name: names.person(id) }] : [])).sort((a, b) => a.name.localeCompare(b.name)),
    };
  });
}

/** Checks the hash chain from the first entry to the last; for site keepers, since it speaks of all of it. */
export async function checkLedger(asker: string): Promise<{ sound: boolean; brokenAt: number | null; entries: number }> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    checkSiteKeeper(access, asker, "The whole ledger is checked by site keepers.");
    const brokenAt = await verifyLedger(tx);
    const [count] = await tx.select({ total: sql<number>`count(*)::int` }).from(ledger);
    return { sound: brokenAt === null, brokenAt, entries: count?.total ?? 0 };
  });
}
