/** What of the outside waits: pages the public came to read lately, findings on them, pledges that do not hold. */
import { and, desc, gt, inArray, isNull, sql } from "drizzle-orm";
import { type DeskRow, NEW_FOR_DAYS, ROWS_OF_KIND } from "../../../contracts/desk.ts";
import { explain, explanationText, pledgeSentence } from "../../../core/access/explain/index.ts";
import { placeOf, subjectOf } from "../../../core/access/index/index.ts";
import type { FindingKind } from "../../../core/findings/index.ts";
import { mayNot, mayRead } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { exposures, listing, meantOutside, pledgeTurns } from "../../db/schema/index.ts";
import { foundIn } from "../findings/passages.ts";
import { entriesInPassing } from "../ledger/told.ts";
import { type Asking, DAY, firstOf, go, NOTHING, named, slip, type Told, titled } from "./asking.ts";

/** So many of those that came outside last are looked at. */
const LOOKED_AT = 400;

/** Pages the public came to read lately, of which nobody said that they are meant to be outside. */
export async function newlyOutside(asking: Asking): Promise<Told> {
  const { tx, access, me } = asking;
  const found = await tx
    .select({ id: exposures.placeId, at: exposures.at, seq: exposures.seq })
    .from(exposures)
    .leftJoin(meantOutside, sql`${meantOutside.placeId} = ${exposures.placeId}`)
    .where(and(isNull(meantOutside.placeId), gt(exposures.at, new Date(access.at - NEW_FOR_DAYS * DAY))))
    .orderBy(desc(exposures.at), exposures.placeId)
    .limit(LOOKED_AT);
  const everybody = subjectOf(access.index, { public: true });
  if (!everybody) return NOTHING;
  const open = found.flatMap((it) => {
    if (asking.aside.has(`outside:${it.id}`)) return [];
    const place = placeOf(access.index, it.id);
    const page = place && (place.place.kind === "page" || place.place.kind === "bulletin");
    return page && mayKnowOthers(access, me, place) && mayRead(access, everybody, place) ? [{ ...it, place }] : [];
  });
  const entries = await entriesInPassing(
    tx,
    access,
    me,
    open.slice(0, ROWS_OF_KIND).map(({ seq }) => seq),
  );
  const names = namesFor(access, me);
  const views = await outsideViews(
    asking,
    open.map(({ id }) => id),
  );
  const rows = open.map(({ id, at, seq, place }, i): DeskRow => {
    const entry = seq === null ? undefined : entries.get(seq);
    const why =
      i < ROWS_OF_KIND ? explanationText(explain(access.index, everybody, "read", place, access.at), "The public", names).steps : [];
    return {
      key: `outside:${id}`,
      heading: "outside",
      words: `The public reads ${titled(place)}`,
      place: named(place),
      since: at?.toISOString() ?? null,
      otherwise: "anybody goes on reading it",
      lines: [
        ...why,
        ...(entry ? [`It came outside with entry ${entry.seq}: ${entry.act}, by ${entry.who}.`] : []),
        `${(views.get(id) ?? 0).toLocaleString("en")} views in the last 30 days, whoever read it.`,
      ],
      acts: [
        ...(mayNot(access, me, "meanOutside", place) === null
          ? [{ key: "m", name: "Meant to be", how: { do: "meant" as const, place: id } }]
          : []),
        go("o", "Its rules …", slip(id, "rules")),
      ],
    };
  });
  return firstOf(asking, rows, { heading: "outside", words: "more pages new outside", address: "/outside?show=new" });
}

async function outsideViews({ tx }: Asking, ids: readonly string[]): Promise<Map<string, number>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({ id: listing.placeId, views: listing.views30 })
    .from(listing)
    .where(inArray(listing.placeId, ids.slice(0, ROWS_OF_KIND)));
  return new Map(rows.map(({ id, views }) => [id, views]));
}

const KIND_WORDS: Readonly<Record<FindingKind, [one: string, many: string]>> = {
  key: ["a key or password", "keys or passwords"],
  account: ["an account number", "account numbers"],
  card: ["a card number", "card numbers"],
  word: ["a word of the house", "words of the house"],
  phone: ["a telephone number", "telephone numbers"],
  email: ["an e-mail address", "e-mail addresses"],
};

/** Passages outsiders read that look sensitive, page by page. */
export async function findingRows(asking: Asking): Promise<Told> {
  const { tx, access, me } = asking;
  const { rows: pages, total } = asking.beside.findings;
  const found = await foundIn(
    tx,
    pages.map(({ id }) => id),
  );
  const rows = pages.flatMap((page): DeskRow[] => {
    const place = placeOf(access.index, page.id);
    if (!place) return [];
    const counts = Object.entries(page.counts) as [FindingKind, number][];
    const what = counts.map(([kind, count]) => (count === 1 ? KIND_WORDS[kind][0] : `${count} ${KIND_WORDS[kind][1]}`));
    const signs = [...new Set(found.filter(({ placeId, by }) => placeId === page.id && by === null).map(({ sign }) => sign))];
    const mayAside = mayNot(access, me, "setAside", place) === null;
    return [
      {
        key: `finding:${page.id}`,
        heading: "outside",
        words: `${titled(place)} holds ${what.join(" and ")}, and ${page.readers === "public" ? "the public reads it" : "whoever holds a pass reads it"}`,
        place: named(place),
        since: null,
        otherwise: "it stays where outsiders read it",
        lines: page.passages?.map(({ text }) => text) ?? ["Its text is not open to you."],
        acts: [
          ...(mayAside ? [{ key: "s", name: "Set aside …", how: { do: "setFindingsAside" as const, place: page.id, signs } }] : []),
          ...(mayNot(access, me, "write", place) === null ? [go("r", "Revise …", `/write/${page.id}?back=desk`)] : []),
          go("o", "Look closer …", "/outside?part=findings"),
        ],
      },
    ];
  });
  return firstOf(asking, rows, {
    heading: "outside",
    words: "more pages with findings",
    address: "/outside?part=findings",
    beyond: total - pages.length,
  });
}

/** Pledges that do not hold, by how they turned last; for site keepers. */
export async function brokenPledgeRows(asking: Asking): Promise<Told> {
  const { tx, access, me, keepsSite } = asking;
  if (!keepsSite) return NOTHING;
  const turns = await tx
    .selectDistinctOn([pledgeTurns.pledgeId], { id: pledgeTurns.pledgeId, broken: pledgeTurns.broken, at: pledgeTurns.at })
    .from(pledgeTurns)
    .orderBy(pledgeTurns.pledgeId, desc(pledgeTurns.nth));
  const last = new Map(turns.map((turn) => [turn.id, turn]));
  const rows = access.index.document.pledges.flatMap((pledge): DeskRow[] => {
    const turn = last.get(pledge.id);
    if (!turn?.broken) return [];
    return [
      {
        key: `pledge:${pledge.id}`,
        heading: "pledges",
        words: `Does not hold: ${pledgeSentence(pledge, namesFor(access, me))}`,
        place: null,
        since: turn.at.toISOString(),
        otherwise: "it stays broken",
        lines: ["Where it does not hold, for whom and why, stands with the pledge."],
        acts: [{ key: "m", name: "Mend", how: { do: "mend", pledge: pledge.id } }, go("o", "Where and why …", "/house?part=pledges")],
      },
    ];
  });
  return firstOf(asking, rows, { heading: "pledges", words: "more broken pledges", address: "/house?part=pledges" });
}
