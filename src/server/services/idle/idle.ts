/** Idle rules, for whoever may see rules where they stand; each with what mends it. */
import { isNotNull, sql } from "drizzle-orm";
import { IDLE_KINDS, type IdleKind, type IdleList, type IdleQuery, type IdleRow } from "../../../contracts/idle.ts";
import { editSentence, type IdleRule, idleRules, idleSentence, type Names } from "../../../core/access/explain/index.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import { type Edit, principalKey } from "../../../core/access/model/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, readAccess, somebodyKnown, subjectFor } from "../../access/current.ts";
import { knowsOthersAt, namesFor, titlesAbove } from "../../access/known.ts";
import { forAMinute } from "../../access/minute.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { links, spaces } from "../../db/schema/index.ts";
import { streamed } from "../programs/exports/formats.ts";

/** So many are sent at once; all of them are in the file. */
const MOST = 300;

const remembered = forAMinute<IdleRule[]>();

/** Every idle rule of the site. */
async function allOf(tx: Tx, access: Access): Promise<IdleRule[]> {
  const known = remembered.read(access);
  if (known) return known;
  const landings = await tx.select({ space: spaces.placeId, page: spaces.landingId }).from(spaces).where(isNotNull(spaces.landingId));
  const linked = await tx.selectDistinct({ from: links.placeId, to: links.targetId }).from(links).where(sql`${links.live}`);
  const byPage = new Map<string, string[]>();
  for (const { from, to } of linked) {
    const list = byPage.get(from);
    if (list) list.push(to);
    else byPage.set(from, [to]);
  }
  const around = { landings: new Map(landings.map(({ space, page }) => [space, page ?? ""])), links: byPage };
  return remembered.keep(access, idleRules(access.index, access.at, around));
}

/** What mends it without giving anybody anything; what starts fresh, or stands beside what it seems to cover, is for somebody to think about. */
function mendOf(it: IdleRule): Edit | null {
  switch (it.kind) {
    case "covered":
    case "cancelled":
    case "nobodyInGroup":
    case "suspended":
    case "ended":
      return { kind: "grant", place: it.place, remove: it.grant };
    case "stopsNobody":
      return { kind: "fence", place: it.place, remove: it.fence };
    case "admitsWithoutGrant": {
      const admits = it.fence.admits.filter((one) => principalKey(one) !== principalKey(it.admitted));
      return { kind: "fence", place: it.place, remove: it.fence, put: { ...it.fence, admits } };
    }
    default:
      return null;
  }
}

function rowOf(access: Access, me: ReturnType<typeof subjectFor>, names: Names, it: IdleRule): IdleRow[] {
  const place = placeOf(access.index, it.place);
  if (!place) return [];
  const edit = mendOf(it);
  return [
    {
      kind: it.kind,
      place: { id: it.place, name: place.place.kind === "site" ? "The whole site" : (place.place.title ?? "") },
      path: titlesAbove(access, me, place),
      sentence: idleSentence(it, names),
      mend: edit && { edit, sentence: editSentence(edit, names) },
    },
  ];
}

/** What the asker may see of it, the kinds that deceive first. */
async function seenBy(tx: Tx, asker: string) {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const rank = new Map(IDLE_KINDS.map((kind, nth) => [kind as IdleKind, nth]));
  const seen = (await allOf(tx, access)).filter(({ place }) => knowsOthersAt(access, me, place));
  const sorted = seen.sort((a, b) => (rank.get(a.kind) ?? 0) - (rank.get(b.kind) ?? 0));
  return { access, me, names: namesFor(access, me), sorted };
}

export const readIdleHere = (asker: string, { kind }: IdleQuery): Promise<IdleList> =>
  inSnapshot(async (tx) => {
    const { access, me, names, sorted } = await seenBy(tx, asker);
    const fitting = kind === undefined ? sorted : sorted.filter((it) => it.kind === kind);
    return {
      rows: fitting.slice(0, MOST).flatMap((it) => rowOf(access, me, names, it)),
      counts: IDLE_KINDS.map((of) => ({ kind: of, count: sorted.filter((it) => it.kind === of).length })),
      more: Math.max(0, fitting.length - MOST),
    };
  });

export const readIdle = ofWholeSite("readIdleHere", somebodyKnown, readIdleHere);

/** All that fit, as lines of a file. */
export const idleLinesHere = (asker: string, { kind }: IdleQuery): Promise<string[][]> =>
  inSnapshot(async (tx) => {
    const { access, me, names, sorted } = await seenBy(tx, asker);
    const fitting = sorted.filter((it) => kind === undefined || it.kind === kind);
    return fitting
      .flatMap((it) => rowOf(access, me, names, it))
      .map((row) => [row.kind, row.place.id, row.place.name, row.path.join(" / "), row.sentence, row.mend?.sentence ?? ""]);
  });

const idleLines = ofWholeSite("idleLinesHere", somebodyKnown, idleLinesHere);

export async function exportIdle(asker: string, { format, ...filter }: IdleQuery & { format: "csv" | "json" | "xlsx" }): Promise<Response> {
  const lines = await idleLines(asker, filter);
  return streamed(format, "idle-rules", ["kind", "id", "title", "in", "what", "mended by"], lines, () => lines.length);
}
