/** What is told to somebody, mail made from it, links that open something once, and passes. */
import { bigint, bigserial, boolean, index, integer, jsonb, pgTable, primaryKey, text } from "drizzle-orm/pg-core";
import { instant } from "./columns.ts";

/** A line to somebody, written in the transaction that causes it; mail is made from it later. Ids and numbers, no words. */
export const notices = pgTable(
  "notices",
  {
    id: bigserial("id", { mode: "number" }).primaryKey(),
    kind: text("kind").notNull(),
    personId: text("person_id").notNull(),
    /** What it is about, as its kind knows it. */
    about: jsonb("about").$type<Record<string, string>>().notNull(),
    at: instant("at").notNull(),
    /** What became of the mail: made and on its way, not made since its reader may not know of it, or given up. */
    mail: text("mail").$type<"waiting" | "made" | "dropped" | "failed">().notNull(),
    tries: integer("tries").notNull().default(0),
    /** When its reader took it off their desk. */
    readAt: instant("read_at"),
  },
  (t) => [index("notices_mail").on(t.mail, t.id), index("notices_person").on(t.personId, t.at)],
);

/** Mail as it was sent or, where nothing sends it, as it would be. Without secrets that work. */
export const mails = pgTable(
  "mails",
  {
    id: text("id").primaryKey(),
    noticeId: bigint("notice_id", { mode: "number" }).notNull(),
    to: text("to").notNull(),
    subject: text("subject").notNull(),
    body: text("body").notNull(),
    at: instant("at").notNull(),
    state: text("state").$type<"sent" | "kept">().notNull(),
  },
  (t) => [index("mails_at").on(t.at)],
);

/** Links that open something once: kept hashed, for one address. */
export const onceLinks = pgTable(
  "once_links",
  {
    hash: text("hash").primaryKey(),
    what: text("what").$type<"join" | "reset">().notNull(),
    personId: text("person_id").notNull(),
    email: text("email").notNull(),
    /** Of what whoever holds it is the proof: that a letter came to this address, that a site keeper meant this person, or of nothing. */
    proof: text("proof").$type<"letter" | "siteKeeper" | "hand">().notNull().default("hand"),
    until: instant("until").notNull(),
    usedAt: instant("used_at"),
  },
  (t) => [index("once_links_person").on(t.personId, t.what)],
);

/** Who was asked in, by whom, and what became of it. The person and their grants are in the document from the start. */
export const invitations = pgTable(
  "invitations",
  {
    personId: text("person_id").primaryKey(),
    email: text("email").notNull(),
    message: text("message").notNull(),
    by: text("by").notNull(),
    at: instant("at").notNull(),
    /** Until when it can be taken up. */
    until: instant("until").notNull(),
    /** The entry of the ledger that let them in. */
    seq: integer("seq").notNull(),
    /** What became of it, and when: taken up, or ended by hand or by the clock. */
    outcome: text("outcome").$type<"taken" | "ended">(),
    outcomeAt: instant("outcome_at"),
  },
  (t) => [index("invitations_open").on(t.until), index("invitations_by").on(t.by), index("invitations_email").on(t.email)],
);

/** The house rules that are no rules of access; what is not here is as it is by default. */
export const houseRules = pgTable("house_rules", { rule: text("rule").primaryKey(), value: jsonb("value").notNull() });

/** Who manages the members of a group without keeping the site; whether guests too. */
export const groupManagers = pgTable(
  "group_managers",
  { groupId: text("group_id").notNull(), personId: text("person_id").notNull(), guests: boolean("guests").notNull() },
  (t) => [primaryKey({ columns: [t.groupId, t.personId] })],
);

/** What a pass is beside the rules: its secret, kept as a hash, what it is for, and how it is used. */
export const passLinks = pgTable(
  "pass_links",
  {
    passId: text("pass_id").primaryKey(),
    hash: text("hash").notNull().unique(),
    name: text("name").notNull(),
    by: text("by").notNull(),
    at: instant("at").notNull(),
    uses: integer("uses").notNull().default(0),
    usedAt: instant("used_at"),
  },
  (t) => [index("pass_links_by").on(t.by)],
);

/** How somebody wants notices by mail; of whoever is not here, each at once. */
export const mailWishes = pgTable("mail_wishes", {
  personId: text("person_id").primaryKey(),
  how: text("how").$type<"atOnce" | "daily" | "never">().notNull(),
  /** From which hour of their day on, and by whose clocks. */
  hour: integer("hour").notNull(),
  zone: text("zone").notNull(),
  /** The last day of theirs on which it was looked whether there is anything. */
  lastDay: text("last_day"),
});
