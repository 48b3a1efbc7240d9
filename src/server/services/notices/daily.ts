/**
 * Notices by mail once a day, for whoever likes: everything that waits, made into one letter. Each part is made at that moment,
 * so what its reader may not know of any more is left out; where nothing is left, no letter is sent.
 */
import { and, asc, eq, inArray, isNull, ne, or } from "drizzle-orm";
import type { MailHow } from "../../../contracts/accounts.ts";
import { isZone } from "../../../core/routines/index.ts";
import { database, type Tx } from "../../db/client.ts";
import { mails, mailWishes, notices } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { noteTrouble } from "../../log.ts";
import { sendMessage, sendsMail, siteAddress } from "../../notices/mail.ts";
import { CAN_WAIT, type Letter, type Notice } from "../../notices/notices.ts";
import { COMPOSERS } from "./kinds.ts";

type Wish = typeof mailWishes.$inferSelect;

const MORNING = 7;
/** So many notices make one letter; more come with the next day's. */
const MOST = 200;

/** How somebody wants notices by mail. */
export async function readMailWish(personId: string): Promise<{ how: MailHow; hour: number; zone: string }> {
  const [row] = await database().select().from(mailWishes).where(eq(mailWishes.personId, personId));
  return { how: row?.how ?? "atOnce", hour: row?.hour ?? MORNING, zone: row?.zone ?? "" };
}

export async function setMailWish(personId: string, how: MailHow, hour: number, zone: string): Promise<void> {
  const set = { how, hour, zone: isZone(zone) ? zone : "UTC" };
  await database()
    .insert(mailWishes)
    .values({ personId, ...set })
    .onConflictDoUpdate({ target: mailWishes.personId, set });
}

/** The day and hour on clocks of a zone. */
function localOf(zone: string, now: number): { day: string; hour: number } {
  const parts = new Intl.DateTimeFormat("en-CA", {
    timeZone: zone,
    hourCycle: "h23",
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
  }).formatToParts(now);
  const of = (type: string) => parts.find((it) => it.type === type)?.value ?? "";
  return { day: `${of("year")}-${of("month")}-${of("day")}`, hour: Number(of("hour")) };
}

/** Notices to be told, each made into a letter at this moment; those nobody may be told of are dropped. */
async function lettersOf(tx: Tx, waiting: readonly Notice[]): Promise<{ letters: Letter[]; made: number[]; dropped: number[] }> {
  const letters: Letter[] = [];
  const made: number[] = [];
  const dropped: number[] = [];
  for (const notice of waiting) {
    const letter = await COMPOSERS[notice.kind]?.(tx, notice);
    if (letter) letters.push(letter);
    (letter ? made : dropped).push(notice.id);
  }
  return { letters, made, dropped };
}

/** A letter without its greeting and its foot, under its subject. */
const partOf = ({ subject, text }: Letter): string => {
  const [, ...rest] = text.split("\n");
  return [`- ${subject}`, ...rest.map((line) => (line === "" ? "" : `  ${line}`))].join("\n").trimEnd();
};

const settle = (tx: Tx, ids: readonly number[], mail: Notice["mail"]) =>
  ids.length === 0
    ? undefined
    : tx
        .update(notices)
        .set({ mail })
        .where(inArray(notices.id, [...ids]));

/** The letter of one person's day, unless another server is at it. */
async function sendTo(wish: Wish, day: string, now: number): Promise<boolean> {
  return database().transaction(async (tx) => {
    const notYet = or(isNull(mailWishes.lastDay), ne(mailWishes.lastDay, day));
    const [mine] = await tx
      .select()
      .from(mailWishes)
      .where(and(eq(mailWishes.personId, wish.personId), eq(mailWishes.how, "daily"), notYet))
      .for("update", { skipLocked: true });
    if (!mine) return false;
    await tx.update(mailWishes).set({ lastDay: day }).where(eq(mailWishes.personId, wish.personId));
    const waiting = await tx
      .select()
      .from(notices)
      .where(and(eq(notices.personId, wish.personId), eq(notices.mail, "waiting"), inArray(notices.kind, CAN_WAIT)))
      .orderBy(asc(notices.id))
      .limit(MOST)
      .for("update", { skipLocked: true });
    const { letters, made, dropped } = await lettersOf(tx, waiting);
    await settle(tx, dropped, "dropped");
    const [first] = letters;
    if (!first) return false;
    const subject = letters.length === 1 ? first.subject : `${letters.length} notices of today`;
    const text = [first.text.split("\n")[0] ?? "", "", ...letters.flatMap((letter) => [partOf(letter), ""]), `${siteAddress()}/desk`].join(
      "\n",
    );
    if (sendsMail()) await sendMessage({ to: first.to, subject, text });
    await settle(tx, made, "made");
    await tx.insert(mails).values({
      id: newId(),
      noticeId: made[0] ?? 0,
      to: first.to,
      subject,
      body: text,
      at: new Date(now),
      state: sendsMail() ? "sent" : "kept",
    });
    return true;
  });
}

/** Sends the letters of everybody whose hour has come, once a day each; what nobody wants is dropped. Returns how many were sent. */
export async function sendDaily(now = Date.now()): Promise<number> {
  const wishes = await database().select().from(mailWishes).where(ne(mailWishes.how, "atOnce"));
  const never = wishes.filter(({ how }) => how === "never").map(({ personId }) => personId);
  if (never.length > 0)
    await database()
      .update(notices)
      .set({ mail: "dropped" })
      .where(and(inArray(notices.personId, never), eq(notices.mail, "waiting"), inArray(notices.kind, CAN_WAIT)));
  let sent = 0;
  for (const wish of wishes) {
    const { day, hour } = localOf(wish.zone, now);
    if (wish.how !== "daily" || hour < wish.hour || wish.lastDay === day) continue;
    try {
      if (await sendTo(wish, day, now)) sent++;
    } catch (error) {
      noteTrouble("A daily mail was not sent", error);
    }
  }
  return sent;
}
