/** What opens or closes to whom by itself in the days to come, as a site keeper may know it; nothing is changed. */
import { setImmediate } from "node:timers/promises";
import { asc, lte } from "drizzle-orm";
import type { Forecast, ForecastQuery, ForecastRow } from "../../../contracts/forecast.ts";
import { grantSentence, type Names, pledgeSentence } from "../../../core/access/explain/index.ts";
import { type Coming, comings, rippling, type Scheduled } from "../../../core/access/forecast/index.ts";
import { type AccessIndex, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, type Instant, instantAt, markOf } from "../../../core/access/model/index.ts";
import type { Ripple } from "../../../core/access/ripple/index.ts";
import { completed, type LifeFacts, planAct } from "../../../core/lifecycle/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { schedules } from "../../db/schema/index.ts";
import { rippleView } from "../change/rippleView.ts";
import { bareFacts } from "../life/facts.ts";
import { type Ending, isEnding, laterThan, longer } from "./longer.ts";

const DAY = 86_400_000;
const MOST_ROWS = 500;
/** Of so many it is worked out to whom they open or close something; of what lies beyond, only that it comes. */
const MOST_WORKED_OUT = 60;

type ScheduleRow = typeof schedules.$inferSelect;

/** A page goes live: its helpers leave, unless they are kept. */
function goingLive(index: AccessIndex, { placeId, helpersKept }: ScheduleRow): Edit[] {
  const place = placeOf(index, placeId)?.place;
  if (!place || (place.state !== "scheduled" && place.state !== "draft")) return [];
  const edits: Edit[] = [{ kind: "state", place: placeId, from: markOf(place), to: { state: "live" } }];
  return helpersKept ? edits : completed(index, edits);
}

/** What is set for an instant, as far as it lies ahead or was refused. */
export async function scheduledUpTo(tx: Tx, to: Instant): Promise<Scheduled[]> {
  const facts: LifeFacts = await bareFacts(tx);
  const rows = await tx
    .select()
    .from(schedules)
    .where(lte(schedules.at, new Date(to)))
    .orderBy(asc(schedules.at));
  return rows.map((row) => {
    const at = instantAt(row.at.getTime());
    const archiving = (index: AccessIndex) =>
      planAct(index, facts, { act: "archive", places: [row.placeId], ...(row.below ? { below: row.below } : {}) }, at).edits;
    return {
      place: row.placeId,
      what: row.what,
      at,
      refused: row.problem,
      edits: (index) => (row.what === "live" ? goingLive(index, row) : archiving(index)),
    };
  });
}

function sentenceOf(coming: Coming, names: Names): string {
  switch (coming.what) {
    case "grant": {
      const { until: _, ...rule } = coming.grant;
      return `A grant on ${names.place(coming.place)} ends: ${grantSentence(rule, names)}`;
    }
    case "pass":
      return `A pass for ${names.place(coming.place)} ends`;
    case "person":
      return `The time of ${names.person(coming.person.id)} ends`;
    case "live":
      return `${names.place(coming.place)} goes live`;
    case "archive":
      return `${names.place(coming.place)} goes into the archive`;
  }
}

function laterWords(coming: Ending, names: Names): string {
  const until = laterThan(coming.at);
  if (coming.what === "person") return `${names.person(coming.person.id)} until ${until}`;
  return coming.what === "pass" ? `the pass until ${until}` : grantSentence({ ...coming.grant, until }, names);
}

function rowOf(access: Access, me: ReturnType<typeof subjectFor>, coming: Coming, ripple: Ripple | null | undefined): ForecastRow {
  const names = namesFor(access, me);
  const place = coming.what === "person" ? undefined : placeOf(access.index, coming.place)?.place;
  const view = ripple ? rippleView(access, me, ripple) : null;
  const pledges = new Map(access.index.document.pledges.map((pledge) => [pledge.id, pledge]));
  return {
    at: new Date(coming.at).toISOString(),
    what: coming.what,
    sentence: sentenceOf(coming, names),
    place: place ? { id: place.id, name: place.kind === "site" ? "The site" : (place.title ?? "") } : null,
    later: isEnding(coming) ? { edit: longer(coming), words: laterWords(coming, names) } : null,
    refused: coming.what === "live" || coming.what === "archive" ? coming.refused : null,
    effect: ripple === undefined ? null : (view?.summary.map(({ text }) => text) ?? []),
    opens: (ripple?.entries ?? []).some((entry) => entry.class !== "members" && entry.gains.length > 0),
    breaks: [...new Set((ripple?.pledges.break ?? []).map((it) => it.pledge))].flatMap((id) => {
      const pledge = pledges.get(id);
      return pledge ? [pledgeSentence(pledge, names)] : [];
    }),
  };
}

export const readForecastHere = (asker: string, { days = "30" }: ForecastQuery): Promise<Forecast> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    need(access, me, "changeHouse");
    const to = instantAt(access.at + Number(days) * DAY);
    const set = await scheduledUpTo(tx, to);
    // What was refused has its instant behind it, and waits for somebody.
    const refused = set.filter(({ at, refused: why }) => why !== null && at <= access.at);
    const list: Coming[] = [...refused, ...comings(access.index, set, access.at, to)];
    const ripples: (Ripple | null)[] = [];
    for (const ripple of rippling(access.index, list.slice(0, MOST_WORKED_OUT), access.at)) {
      ripples.push(ripple);
      await setImmediate();
    }
    return {
      from: new Date(access.at).toISOString(),
      to: new Date(to).toISOString(),
      rows: list.slice(0, MOST_ROWS).map((coming, nth) => rowOf(access, me, coming, ripples[nth])),
      more: Math.max(0, list.length - MOST_ROWS),
    };
  });

export const readForecast = ofWholeSite(
  "readForecastHere",
  async (asker: string) => {
    const access = await accessNow();
    need(access, subjectFor(access, asker), "changeHouse");
  },
  readForecastHere,
);
