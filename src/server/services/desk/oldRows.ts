/** What grows old: pages due and flagged, drafts nobody wrote on. */
import { and, asc, eq, isNull, lte, or, sql } from "drizzle-orm";
import { type DeskRow, FORGOTTEN_AFTER_DAYS } from "../../../contracts/desk.ts";
import type { QueueRow } from "../../../contracts/review.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import { FLAG_WORDS, RETIRE } from "../../../core/access/model/index.ts";
import { reachOf, within } from "../../db/listing.ts";
import { benchDrafts, listing } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { actsFor } from "../life/planning.ts";
import { type Asking, DAY, firstOf, go, named, slip, type Told, titled } from "./asking.ts";

/** Letters of a page's beginning that are enough to know it by. */
const BEGINNING = 320;

async function beginnings({ tx }: Asking, ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({ id: listing.placeId, text: sql<string>`left(${listing.body}, ${BEGINNING})` })
    .from(listing)
    .where(among(listing.placeId, ids));
  return new Map(rows.map(({ id, text }) => [id, text.trim()]));
}

function whyWords({ flags, due }: QueueRow): string {
  const kinds = [...new Set(flags.map(({ kind }) => FLAG_WORDS[kind]))];
  if (kinds.length === 0) return "is due to be looked at again";
  return `is said to be ${kinds.join(" and ")}${due === null ? "" : ", and is due"}`;
}

function actsOf(row: QueueRow): DeskRow["acts"] {
  const order = { place: row.id, flags: row.flags.filter(({ outcome }) => outcome === null).map(({ id }) => id), due: row.due !== null };
  const answers = row.mayConfirm || row.flags.some(({ maySettle }) => maySettle);
  return [
    ...(row.mayConfirm ? [{ key: "c", name: "Confirm", how: { do: "confirm" as const, row: order } }] : []),
    ...(answers
      ? [
          go("r", "Revise …", `/write/${encodeURIComponent(row.id)}?back=desk`),
          { key: "h", name: "Hand on …", how: { do: "hand" as const, row: order } },
          { key: "s", name: "Set aside …", how: { do: "setReviewAside" as const, row: order } },
        ]
      : []),
    ...(row.acts.includes("archive")
      ? [{ key: "a", name: "Archive …", how: { do: "life" as const, act: "archive" as const, place: row.id } }]
      : []),
  ];
}

/** The queue of review, its first rows. */
export async function reviewRows(asking: Asking): Promise<Told> {
  const { rows, count } = asking.beside.queue;
  const here = rows.filter(({ id }) => !asking.aside.has(`review:${id}`));
  const texts = await beginnings(
    asking,
    here.filter(({ mayConfirm }) => mayConfirm).map(({ id }) => id),
  );
  const told = here.map(
    (row): DeskRow => ({
      key: `review:${row.id}`,
      heading: "old",
      words: `“${row.title}” ${whyWords(row)}`,
      place: { id: row.id, name: row.title },
      since: row.since,
      otherwise: row.outside === "public" ? "the public goes on reading it as it is" : "it is read as it is",
      lines: [
        ...row.flags.map(({ kind, note, by }) => `${FLAG_WORDS[kind]}, says ${by || "a reader"}: ${note}`),
        ...(texts.get(row.id) ? [`${texts.get(row.id)} …`] : []),
      ],
      acts: actsOf(row),
    }),
  );
  return firstOf(asking, told, {
    heading: "old",
    words: "more to be looked at again",
    address: "/review",
    beyond: Math.max(0, count - rows.length),
  });
}

/** Drafts nobody wrote on for long: one's own, and those one may put in the bin. */
export async function draftRows(asking: Asking): Promise<Told> {
  const { tx, access, me, who } = asking;
  const before = new Date(access.at - FORGOTTEN_AFTER_DAYS * DAY);
  const reach = within(await reachOf(tx, access.index, me.number, access.at, RETIRE | OVERSEES));
  const found = await tx
    .select({ id: listing.placeId, at: listing.changedAt })
    .from(listing)
    .where(
      and(
        sql`${listing.kind} in ('page', 'bulletin') and ${listing.state} = 'draft'`,
        lte(listing.changedAt, before),
        or(eq(listing.ownerId, who), reach),
      ),
    )
    .orderBy(asc(listing.changedAt), asc(listing.placeId))
    .limit(200);
  const rows = found.flatMap(({ id, at }): DeskRow[] => {
    const place = placeOf(access.index, id);
    if (!place) return [];
    const acts = actsFor(access, me, place);
    return [
      {
        key: `draft:${id}`,
        heading: "old",
        words: `Nobody wrote on the draft ${titled(place)}`,
        place: named(place),
        since: at.toISOString(),
        otherwise: "it goes on lying there",
        lines: [],
        acts: [
          go("r", "Go on with it …", `/write/${encodeURIComponent(id)}?back=desk`),
          ...(acts.includes("bin") ? [{ key: "b", name: "Bin …", how: { do: "life" as const, act: "bin" as const, place: id } }] : []),
          go("o", "Open …", slip(id)),
        ],
      },
    ];
  });
  const bench = await benchRows(asking, before);
  return firstOf(asking, [...rows, ...bench], {
    heading: "old",
    words: "more drafts forgotten",
    address: `/pages?part=drafts&before=${before.toISOString()}`,
  });
}

/** Private drafts on one's own workbench. */
async function benchRows({ tx, who }: Asking, before: Date): Promise<DeskRow[]> {
  const found = await tx
    .select({ id: benchDrafts.id, title: benchDrafts.title, at: benchDrafts.savedAt })
    .from(benchDrafts)
    .where(and(eq(benchDrafts.ownerId, who), isNull(benchDrafts.placedAt), isNull(benchDrafts.thrownAt), lte(benchDrafts.savedAt, before)))
    .orderBy(asc(benchDrafts.savedAt))
    .limit(50);
  return found.map(({ id, title, at }) => ({
    key: `bench:${id}`,
    heading: "old",
    words: `You did not go on with “${title}” on your workbench`,
    place: null,
    since: at.toISOString(),
    otherwise: "it goes on lying there",
    lines: [],
    acts: [go("r", "Go on with it …", `/workbench/${encodeURIComponent(id)}`)],
  }));
}
