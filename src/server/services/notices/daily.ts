/**
 * Notices by mail once a day, for whoever likes: everything that waits, made into one letter. Each part is made at that moment,
 * so what its reader may not know of any more is left out; where nothing is left, no letter is sent.
 */
import { TZDate } from "@date-fns/tz";
import { format } from "date-fns";
import { and, asc, eq, inArray, isNull, lte, ne, or } from "drizzle-orm";
import type { MailHow } from "../../../contracts/accounts.ts";
import { isZone } from "../../../core/routines/index.ts";
import { database, type Tx } from "../../db/client.ts";
import { mails, mailWishes, notices } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { noteTrouble } from "../../log.ts";
import { sendMessage, sendsMail, siteAddress } from "../../notices/mail.ts";
import { CAN_WAIT, type Letter, type Notice } from "../../notices/notices.ts";
import { COMPOSERS } from "./kinds.ts";

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
  const there = new TZDate(now, zone);
  return { day: format(there, "yyyy-MM-dd"), hour: there.getHours() };
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
async function sendTo(personId: string, day: string, now: number): Promise<boolean> {
  return database().transaction(async (tx) => {
    const notYet = or(isNull(mailWishes.lastDay), ne(mailWishes.lastDay, day));
    const [mine] = await tx
      .select()
      .from(mailWishes)
      .where(and(eq(mailWishes.personId, personId), eq(mailWishes.how, "daily"), notYet))
      .for("update", { skipLocked: true });
    if (!mine) return false;
    await tx.update(mailWishes).set({ lastDay: day }).where(eq(mailWishes.personId, personId));
    const waiting = await tx
      .select()
      .from(notices)
      .where(and(eq(notices.personId, personId), eq(notices.mail, "waiting"), inArray(notices.kind, CAN_WAIT)))
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

/** What nobody wants by mail is not kept waiting for it. */
const dropUnwanted = () =>
  database()
    .update(notices)
    .set({ mail: "dropped" })
    .where(
      and(
        inArray(notices.personId, database().select({ id: mailWishes.personId }).from(mailWishes).where(eq(mailWishes.how, "never"))),
        eq(notices.mail, "waiting"),
        inArray(notices.kind, CAN_WAIT),
      ),
    );

/** Whose hour has come today on clocks of a zone, and who had no letter yet. */
async function dueIn(zone: string, now: number): Promise<{ personId: string; day: string }[]> {
  const { day, hour } = localOf(zone, now);
  const rows = await database()
    .select({ personId: mailWishes.personId })
    .from(mailWishes)
    .where(
      and(
        eq(mailWishes.zone, zone),
        eq(mailWishes.how, "daily"),
        lte(mailWishes.hour, hour),
        or(isNull(mailWishes.lastDay), ne(mailWishes.lastDay, day)),
      ),
    );
  return rows.map(({ personId }) => ({ personId, day }));
}

/** So long one look sends letters; the next look, within a minute, goes on. */
const PATIENCE = 20_000;

/**
 * Sends the letters of everybody whose hour has come, once a day each; what cannot be sent is tried again at a later look.
 * However many there are, and however long a server keeps one waiting: what else has its time is not kept from it. Returns
 * how many were sent.
 */
export async function sendDaily(now = Date.now()): Promise<number> {
  await dropUnwanted();
  const zones = await database().selectDistinct({ zone: mailWishes.zone }).from(mailWishes).where(eq(mailWishes.how, "daily"));
  const end = Date.now() + PATIENCE;
  let sent = 0;
  for (const { zone } of zones) {
    for (const { personId, day } of await dueIn(zone, now)) {
      if (Date.now() > end) return sent;
      try {
        if (await sendTo(personId, day, now)) sent++;
      } catch (error) {
        noteTrouble("A daily mail was not sent", error);
      }
    }
  }
  return sent;
}
