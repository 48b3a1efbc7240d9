/**
 * Notices: a line to somebody, written in the transaction that causes it. Mail is made from it afterwards, by the process
 * that wrote it or, where that went away, by the look every minute; never for somebody who may not read what it speaks of
 * at that moment.
 */
import { and, asc, eq, inArray, isNull, notInArray, or, sql } from "drizzle-orm";
import { insertMany } from "../db/bulk.ts";
import { database, type Tx } from "../db/client.ts";
import { mails, mailWishes, notices } from "../db/schema/index.ts";
import { newId } from "../ids.ts";
import { noteTrouble } from "../log.ts";
import { sendMessage, sendsMail, siteAddress } from "./mail.ts";
import { makeOnceLink, type OnceWhat, type Proof } from "./onceLinks.ts";

export type Notice = typeof notices.$inferSelect;

export interface Letter {
  to: string;
  subject: string;
  /** Where `LINK` stands, the link goes. */
  text: string;
  /** `proof`: of what it is one where nobody sends mail, and whoever asked for it hands it on. */
  link?: { what: OnceWhat; until: Date; proof: Proof };
}

/** Where a letter holds its link; what is kept of it has `NO_LINK` there. */
export const LINK = "{{link}}";
const NO_LINK = "(this link was shown once, to whoever asked for it)";

/** Makes a letter of a notice; null where its reader may not know of what it speaks, or there is nobody to write to. */
export type Composer = (tx: Tx, notice: Notice) => Promise<Letter | null>;
export type Composers = Readonly<Record<string, Composer>>;

/** Letters that may wait for somebody's day, or not be sent at all; others (links, passwords) go at once to everybody. */
export const CAN_WAIT = ["accessAsked", "accessGiven", "flagged", "routine", "approved", "sentBack"];

const goesAtOnce = or(notInArray(notices.kind, CAN_WAIT), isNull(mailWishes.how), eq(mailWishes.how, "atOnce"));

/** So often sending is tried, once a minute. */
const MOST_TRIES = 30;
const AT_ONCE = 20;

export async function addNotice(tx: Tx, it: { kind: string; personId: string; about?: Record<string, string>; at: Date }): Promise<number> {
  const [row] = await tx
    .insert(notices)
    .values({ ...it, about: it.about ?? {}, mail: "waiting" })
    .returning({ id: notices.id });
  return row?.id ?? 0;
}

/** The same for many at once: one statement, so that nobody's change waits for each. */
export const addNotices = (
  tx: Tx,
  list: readonly { kind: string; personId: string; about: Record<string, string>; at: Date }[],
): Promise<void> =>
  insertMany(
    tx,
    notices,
    list.map((it) => ({ ...it, mail: "waiting" })),
  );

/** A mail that was made: its link, where nobody sends it and whoever asked for it hands it on. */
export interface Made {
  notice: number;
  link: string | null;
}

async function makeOne(composers: Composers, id: number, isDemo: boolean): Promise<Made | null> {
  return database().transaction(async (tx) => {
    const [notice] = await tx
      .select()
      .from(notices)
      .where(and(eq(notices.id, id), eq(notices.mail, "waiting")))
      .for("update", { skipLocked: true });
    if (!notice) return null;
    const settle = (mail: Notice["mail"]) => tx.update(notices).set({ mail }).where(eq(notices.id, id));
    const letter = await composers[notice.kind]?.(tx, notice);
    if (!letter) {
      await settle("dropped");
      return null;
    }
    const { personId } = notice;
    const token = letter.link
      ? await makeOnceLink(tx, letter.link.what, {
          personId,
          email: letter.to,
          until: letter.link.until,
          proof: sendsMail() ? "letter" : letter.link.proof,
        })
      : null;
    const link = token && `${siteAddress()}/${letter.link?.what}/${token}`;
    if (sendsMail()) await sendMessage({ ...letter, text: letter.text.replace(LINK, link ?? "") });
    await settle("made");
    const body = letter.text.replace(LINK, isDemo && !sendsMail() ? (link ?? "") : NO_LINK);
    const { to, subject } = letter;
    await tx.insert(mails).values({ id: newId(), noticeId: id, to, subject, body, at: new Date(), state: sendsMail() ? "sent" : "kept" });
    return { notice: id, link: sendsMail() ? null : link };
  });
}

/**
 * Makes mail of notices: of these, or of whatever waits. What cannot be sent is tried again, and given up after half an hour.
 * `isDemo`: the outbox keeps working links.
 */
export async function makeMail(composers: Composers, isDemo: boolean, only?: readonly number[]): Promise<Made[]> {
  const rows = await database()
    .select({ id: notices.id })
    .from(notices)
    .leftJoin(mailWishes, eq(mailWishes.personId, notices.personId))
    .where(and(eq(notices.mail, "waiting"), only && inArray(notices.id, [...only]), goesAtOnce))
    .orderBy(asc(notices.id))
    .limit(only?.length ?? AT_ONCE);
  const made: Made[] = [];
  for (const { id } of rows) {
    try {
      const it = await makeOne(composers, id, isDemo);
      if (it) made.push(it);
    } catch (error) {
      noteTrouble("A mail was not sent", error);
      const tries = sql`${notices.tries} + 1`;
      await database()
        .update(notices)
        .set({ tries, mail: sql`case when ${tries} >= ${MOST_TRIES} then 'failed' else 'waiting' end` })
        .where(and(eq(notices.id, id), eq(notices.mail, "waiting")));
    }
  }
  return made;
}
