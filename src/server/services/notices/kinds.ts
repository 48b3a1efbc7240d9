/** Letters made of notices, by kind. What a reader may not know of at that moment is left out, or the letter is not made. */
import { and, eq, isNull } from "drizzle-orm";
import { ASKED_DAYS } from "../../../contracts/asked.ts";
import { isActive, placeOf, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { FLAG_WORDS, type Seq } from "../../../core/access/model/index.ts";
import { asLine } from "../../../core/words.ts";
import { type Access, isKeeper, mayNot, mayRead, readAccess } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import { demoPeople } from "../../accounts/session.ts";
import type { Tx } from "../../db/client.ts";
import { invitations, ledger, submissions, user } from "../../db/schema/index.ts";
import { siteAddress } from "../../notices/mail.ts";
import { type Composers, type Letter, LINK, type Made, makeMail, type Notice } from "../../notices/notices.ts";
import { type Proof, RESET_MINUTES } from "../../notices/onceLinks.ts";
import { broughtInBy } from "../outside/guests.ts";
import { flagSeen } from "../review/lines.ts";

/** A day and time as mail says it, in the one zone everybody can work out. */
const said = (date: Date): string =>
  `${date.toLocaleString("en-GB", { day: "numeric", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit", timeZone: "UTC" })} UTC`;

/** What a letter goes by: who reads it, if they may come in at all, and how things are called. */
async function readerOf(tx: Tx, { personId }: Notice) {
  const access = await readAccess(tx);
  const reader = subjectOf(access.index, { person: personId });
  if (!reader?.person || !isActive(reader, access.at)) return null;
  const name = (id: string) => asLine(subjectOf(access.index, { person: id })?.person?.name ?? "somebody");
  const person = { ...reader.person, name: asLine(reader.person.name ?? "") };
  return { access, reader, person, name, site: asLine(siteOf(access.index).place.title || "Tesoro") };
}

/** What a link proves that somebody hands on. */
function handedOnBy(access: Access, by: string | undefined): Proof {
  const maker = by === undefined ? undefined : subjectOf(access.index, { person: by });
  return maker && isKeeper(access, maker) ? "siteKeeper" : "hand";
}

async function invitation(tx: Tx, notice: Notice): Promise<Letter | null> {
  const it = await readerOf(tx, notice);
  const [row] = await tx
    .select()
    .from(invitations)
    .where(and(eq(invitations.personId, notice.personId), isNull(invitations.outcome)));
  if (!it || !row) return null;
  const { access, reader, site } = it;
  // Of the places they were asked in to, only what they may read at this moment is named.
  const [entry] = await tx
    .select({ edits: ledger.edits })
    .from(ledger)
    .where(eq(ledger.seq, row.seq as Seq));
  const titles = (entry?.edits ?? []).flatMap((edit) => {
    const to = edit.kind === "grant" ? edit.put?.to : undefined;
    const place =
      edit.kind === "grant" && to && "person" in to && to.person === notice.personId ? placeOf(access.index, edit.place) : undefined;
    return place?.place.title && mayRead(access, reader, place) ? [`  ${asLine(place.place.title)}`] : [];
  });
  const lines = [
    `${it.person.name},`,
    "",
    `${it.name(row.by)} asks you in to the knowledge base of ${site}.`,
    ...(row.message === "" ? [] : ["", row.message]),
    ...(titles.length === 0 ? [] : ["", "You will be able to read:", ...titles]),
    ...(it.person.until ? ["", `You are let in until ${said(new Date(it.person.until))}.`] : []),
    "",
    "Take it up here, and choose a password:",
    "",
    LINK,
    "",
    `The link works once, until ${said(row.until)}. If you expected nothing of this kind, leave it: nothing happens then.`,
  ];
  return {
    to: row.email,
    subject: `${it.name(row.by)} asks you in to ${site}`,
    text: lines.join("\n"),
    link: { what: "join", until: row.until, proof: handedOnBy(access, notice.about.by) },
  };
}

/** The address somebody signs in with; null for whoever has no account. */
async function addressOf(tx: Tx, personId: string): Promise<string | null> {
  const [row] = await tx.select({ email: user.email, claimed: user.claimed }).from(user).where(eq(user.id, personId));
  return row?.claimed ?? row?.email ?? null;
}

async function reset(tx: Tx, notice: Notice): Promise<Letter | null> {
  const it = await readerOf(tx, notice);
  const to = it && (await addressOf(tx, notice.personId));
  if (!it || !to) return null;
  const by = notice.about.by;
  const lines = [
    `${it.person.name},`,
    "",
    by
      ? `${it.name(by)}, who keeps ${it.site}, asks you to choose a new password.`
      : `somebody asked for a new password for your account at ${it.site}.`,
    "",
    LINK,
    "",
    `The link works once, for ${RESET_MINUTES} minutes.${by ? "" : " If it was not you, leave it: your password stays as it is."}`,
  ];
  const until = new Date(Date.now() + RESET_MINUTES * 60_000);
  return {
    to,
    subject: `A new password for ${it.site}`,
    text: lines.join("\n"),
    link: { what: "reset", until, proof: handedOnBy(it.access, by) },
  };
}

async function passwordChanged(tx: Tx, notice: Notice): Promise<Letter | null> {
  const it = await readerOf(tx, notice);
  const to = it && (await addressOf(tx, notice.personId));
  if (!it || !to) return null;
  const text = [
    `${it.person.name},`,
    "",
    `the password of your account at ${it.site} was changed on ${said(notice.at)}, and all other sessions were ended.`,
    `If it was not you, ask for a new one at ${siteAddress()}/forgotten, and tell a site keeper.`,
  ].join("\n");
  return { to, subject: `Your password for ${it.site} was changed`, text };
}

/** What a letter about a page goes by: its reader, where they read mail, and the page, if it is there. */
async function aboutPage(tx: Tx, notice: Notice) {
  const it = await readerOf(tx, notice);
  const to = it && (await addressOf(tx, notice.personId));
  const place = it && placeOf(it.access.index, notice.about.place ?? "");
  return it && to && place ? { ...it, to, place, title: asLine(place.place.title ?? "") } : null;
}

/** Somebody asks to read a page: to whoever may admit them there at that moment. */
async function accessAsked(tx: Tx, notice: Notice): Promise<Letter | null> {
  const it = await aboutPage(tx, notice);
  if (!it || !mayKnowOthers(it.access, it.reader, it.place)) return null;
  const text = [
    `${it.person.name},`,
    "",
    `${it.name(notice.about.by ?? "")} asks to read “${it.title}”. What they say, and what letting them in would do, stands here for ${ASKED_DAYS} days:`,
    "",
    `${siteAddress()}/people?part=asking`,
  ];
  return { to: it.to, subject: `Somebody asks to read “${it.title}”`, text: text.join("\n") };
}

/** They were let in: to whoever asked, if they read it at that moment. */
async function accessGiven(tx: Tx, notice: Notice): Promise<Letter | null> {
  const it = await aboutPage(tx, notice);
  if (!it || !mayRead(it.access, it.reader, it.place)) return null;
  const text = [
    `${it.person.name},`,
    "",
    `“${it.title}”, which you asked for, is open to you now:`,
    "",
    siteAddress() + (notice.about.address ?? "/"),
  ];
  return { to: it.to, subject: `“${it.title}” is open to you`, text: text.join("\n") };
}

/** What became of a version that somebody gave in for approval: to whoever still writes the page. */
const answered =
  (how: "approved" | "sent back") =>
  async (tx: Tx, notice: Notice): Promise<Letter | null> => {
    const it = await aboutPage(tx, notice);
    if (!it || mayNot(it.access, it.reader, "write", it.place) !== null) return null;
    const { by = "", version = "", place = "" } = notice.about;
    const [row] = await tx.select({ note: submissions.answerNote }).from(submissions).where(eq(submissions.placeId, place));
    const text = [
      `${it.person.name},`,
      "",
      `${it.name(by)} ${how} version ${version} of “${it.title}”.`,
      ...(row?.note ? ["", row.note] : []),
      "",
      `${siteAddress()}/write/${place}`,
    ];
    return { to: it.to, subject: `“${it.title}”: ${how}`, text: text.join("\n") };
  };

/** Pages were flagged, or handed on, for somebody to answer: those they may know of at that moment. */
async function flagged(tx: Tx, notice: Notice): Promise<Letter | null> {
  const it = await readerOf(tx, notice);
  const to = it && (await addressOf(tx, notice.personId));
  if (!it || !to) return null;
  const { by = "", flags = "" } = notice.about;
  const lines: string[] = [];
  for (const id of flags.split(",")) {
    const flag = await flagSeen(tx, it.access, it.reader, id);
    if (flag && flag.row.outcome === null)
      lines.push(`  “${asLine(flag.place.place.title ?? "")}” (${FLAG_WORDS[flag.row.kind]}): ${flag.row.note}`);
  }
  if (lines.length === 0) return null;
  const text = [
    `${it.person.name},`,
    "",
    `${by ? it.name(by) : "Somebody"} leaves ${lines.length === 1 ? "a page" : `${lines.length} pages`} for you to look at again:`,
    ...lines,
    "",
    `${siteAddress()}/review?whose=mine`,
  ];
  return {
    to,
    subject: lines.length === 1 ? "A page is for you to look at again" : `${lines.length} pages are for you to look at again`,
    text: text.join("\n"),
  };
}

/** A routine has something to tell: of pages they may read, of guests they brought in, at that moment. */
async function ofRoutine(tx: Tx, notice: Notice): Promise<Letter | null> {
  const it = await readerOf(tx, notice);
  const to = it && (await addressOf(tx, notice.personId));
  if (!it || !to) return null;
  const { pages = "", guests = "", name = "", note = "" } = notice.about;
  const titles = pages.split(",").flatMap((id) => {
    const place = placeOf(it.access.index, id);
    return place && mayRead(it.access, it.reader, place) ? [`  ${asLine(place.place.title ?? "")}`] : [];
  });
  const mine = guests === "" ? new Set<string>() : await broughtInBy(tx, notice.personId);
  const people = guests.split(",").flatMap((id) => (mine.has(id) ? [`  ${it.name(id)}`] : []));
  const lines = [...titles, ...people];
  if (lines.length === 0) return null;
  const what = people.length > 0 ? "guest" : "page";
  const words = lines.length === 1 ? `a ${what} of yours` : `${lines.length} ${what}s`;
  const text = [`${it.person.name},`, "", `the routine “${name}” tells you of ${words}:`, ...lines, "", note, "", `${siteAddress()}/desk`];
  return { to, subject: `${name}: ${words}`, text: text.join("\n") };
}

export const COMPOSERS: Composers = {
  invitation,
  reset,
  passwordChanged,
  accessAsked,
  accessGiven,
  flagged,
  routine: ofRoutine,
  approved: answered("approved"),
  sentBack: answered("sent back"),
};

/** Makes mail of these notices now, or of whatever waits. */
export const mailOf = async (only?: readonly number[]): Promise<Made[]> => makeMail(COMPOSERS, (await demoPeople()).length > 0, only);
