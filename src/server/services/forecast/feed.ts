/** The forecast as a calendar (iCalendar, RFC 5545): personal, its secret kept as a hash, titles in it only where they were asked for. */
import { randomBytes } from "node:crypto";
import { eq } from "drizzle-orm";
import ical from "ical-generator";
import type { FeedBody, FeedState, MadeFeed } from "../../../contracts/feed.ts";
import type { ForecastRow } from "../../../contracts/forecast.ts";
import { isActive, subjectOf } from "../../../core/access/index/index.ts";
import { accessNow, keepsSite, need, readAccess, subjectFor } from "../../access/current.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { feeds } from "../../db/schema/index.ts";
import { siteAddress } from "../../notices/mail.ts";
import { keyed, sha256 } from "../../secrets.ts";
import { notThere } from "../../trouble.ts";
import { readForecast } from "./forecast.ts";

export const readFeed = (asker: string): Promise<FeedState> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, asker), "changeHouse");
    const [row] = await tx.select().from(feeds).where(eq(feeds.personId, asker));
    return { feed: row ? { madeAt: row.madeAt.toISOString(), titles: row.titles, usedAt: row.usedAt?.toISOString() ?? null } : null };
  });

/** Makes the calendar of somebody; its address stands in this answer and nowhere else. */
export const makeFeed = (asker: string, { titles }: FeedBody): Promise<MadeFeed> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, asker), "changeHouse");
    const token = randomBytes(24).toString("base64url");
    const row = { hash: sha256(token), titles, madeAt: new Date(), usedAt: null };
    await tx
      .insert(feeds)
      .values({ personId: asker, ...row })
      .onConflictDoUpdate({ target: feeds.personId, set: row });
    return { address: `${siteAddress()}/feed/${token}.ics` };
  });

export const withdrawFeed = (asker: string): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    subjectFor(access, asker);
    await tx.delete(feeds).where(eq(feeds.personId, asker));
    return {};
  });

const WITHOUT_TITLES: Readonly<Record<ForecastRow["what"], string>> = {
  grant: "A grant ends",
  pass: "A pass ends",
  person: "Somebody’s time ends",
  live: "A page goes live",
  archive: "A page goes into the archive",
};

function entryOf(row: ForecastRow, titles: boolean) {
  const said = titles ? row.sentence : WITHOUT_TITLES[row.what];
  const marks = [
    row.refused === null ? "" : "was refused",
    row.breaks.length > 0 ? "breaks a pledge" : "",
    row.opens ? "opens to the outside" : "",
  ];
  const also = marks.filter(Boolean).join(", ");
  const start = new Date(row.at);
  return {
    // The same for the same coming, so that a calendar that reads it again knows it again; and no way to guess at titles.
    id: keyed(`${row.what}|${row.at}|${row.sentence}`).slice(0, 32),
    start,
    end: new Date(start.getTime() + 60_000),
    summary: also ? `${said} (${also})` : said,
    ...(titles && row.effect ? { description: row.effect.join("\n") } : {}),
    ...(titles ? { url: `${siteAddress()}/house?part=pledges` } : {}),
  };
}

const MINUTE = 60_000;

/** The calendar behind a secret. Throws `notThere` alike for one that never was, was withdrawn, or whose owner may not read it now. */
export async function calendarOf(token: string): Promise<string> {
  const [row] = await database()
    .select()
    .from(feeds)
    .where(eq(feeds.hash, sha256(token)));
  const access = await accessNow();
  const owner = row && subjectOf(access.index, { person: row.personId });
  if (!row || !owner || !isActive(owner, access.at) || !keepsSite(access, row.personId)) throw notThere();
  if (!row.usedAt || Date.now() - row.usedAt.getTime() > MINUTE)
    await database().update(feeds).set({ usedAt: new Date() }).where(eq(feeds.personId, row.personId));
  const { rows } = await readForecast(row.personId, { days: "90" });
  const calendar = ical({ name: "What comes by itself", prodId: { company: "Tesoro", product: "Forecast" }, ttl: 60 * 60 });
  for (const it of rows) calendar.createEvent(entryOf(it, row.titles));
  return calendar.toString();
}
