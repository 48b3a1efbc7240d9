/**
 * The tables. What the access document holds is kept with the time it held: rows are valid from one ledger sequence
 * number to another (null: still), are closed and never deleted. Sequence numbers lead to instants through `ledger`.
 */
import { sql } from "drizzle-orm";
import {
  bigint,
  bigserial,
  boolean,
  customType,
  date,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
} from "drizzle-orm/pg-core";
import type { TokenScope } from "../../contracts/tokens.ts";
import type { Ceilings, Pledge, Principal } from "../../core/access/document.ts";
import type { Edit } from "../../core/access/edits.ts";
import type { Ripple } from "../../core/access/ripple.ts";
import type { PageBody } from "../../core/content/body.ts";

const instant = (name: string) => timestamp(name, { withTimezone: true, precision: 3, mode: "date" });
const seqColumn = (name: string) => bigint(name, { mode: "number" });

/** When a fact held: from one change (included) to another (excluded), or still. */
const validity = () => ({
  rowId: bigserial("row_id", { mode: "number" }).primaryKey(),
  fromSeq: seqColumn("from_seq").notNull(),
  toSeq: seqColumn("to_seq"),
});

/** At most one row of a thing is valid now. */
const current = (name: string) => uniqueIndex(name);
const stillValid = sql`to_seq is null`;

export const ledger = pgTable(
  "ledger",
  {
    seq: seqColumn("seq").primaryKey(),
    at: instant("at").notNull(),
    /** Person who made the change; null for Tesoro itself. */
    maker: text("maker"),
    act: text("act").notNull(),
    /** Places it is about, for filtering. */
    places: text("places").array().notNull(),
    edits: jsonb("edits").$type<Edit[]>().notNull(),
    /** What the act needs to be told and taken back besides its edits; ids and numbers only. */
    detail: jsonb("detail").$type<Record<string, string | number | boolean>>().notNull(),
    ripple: jsonb("ripple").$type<Ripple | null>(),
    note: text("note").notNull().default(""),
    touchesAccess: boolean("touches_access").notNull(),
    steppingIn: boolean("stepping_in").notNull().default(false),
    takesBack: seqColumn("takes_back"),
    previousHash: text("previous_hash").notNull(),
    hash: text("hash").notNull(),
  },
  (t) => [
    index("ledger_access").on(t.seq).where(sql`touches_access`),
    index("ledger_at").on(t.at),
    index("ledger_places").using("gin", t.places),
    uniqueIndex("ledger_taken_back_once").on(t.takesBack).where(sql`takes_back is not null`),
  ],
);

export const people = pgTable(
  "people",
  {
    ...validity(),
    id: text("id").notNull(),
    name: text("name").notNull(),
    kind: text("kind").$type<"member" | "guest">().notNull(),
    status: text("status").$type<"active" | "suspended">().notNull(),
  },
  (t) => [current("people_now").on(t.id).where(stillValid)],
);

export const groups = pgTable("groups", { ...validity(), id: text("id").notNull(), name: text("name").notNull() }, (t) => [
  current("groups_now").on(t.id).where(stillValid),
]);

export const memberships = pgTable(
  "memberships",
  {
    ...validity(),
    groupId: text("group_id").notNull(),
    memberKind: text("member_kind").$type<"person" | "group">().notNull(),
    memberId: text("member_id").notNull(),
  },
  (t) => [current("memberships_now").on(t.groupId, t.memberKind, t.memberId).where(stillValid)],
);

export const places = pgTable(
  "places",
  {
    ...validity(),
    id: text("id").notNull(),
    kind: text("kind").$type<"site" | "space" | "page" | "bulletin">().notNull(),
    parentId: text("parent_id"),
    title: text("title").notNull(),
    state: text("state").$type<"live" | "draft" | "scheduled" | "archived" | "binned">().notNull(),
    was: text("was").$type<"live" | "draft" | "scheduled">(),
    stance: text("stance").$type<"follow" | "fresh">().notNull(),
    ownerId: text("owner_id"),
    tags: text("tags").array().notNull(),
  },
  (t) => [current("places_now").on(t.id).where(stillValid), index("places_parent").on(t.parentId).where(stillValid)],
);

export const grants = pgTable(
  "grants",
  {
    ...validity(),
    placeId: text("place_id").notNull(),
    to: jsonb("to").$type<Principal>().notNull(),
    abilities: integer("abilities").notNull(),
    until: instant("until"),
    draft: boolean("draft").notNull(),
  },
  (t) => [index("grants_now").on(t.placeId).where(stillValid)],
);

export const fences = pgTable(
  "fences",
  {
    ...validity(),
    placeId: text("place_id").notNull(),
    kind: text("kind").$type<"read" | "write">().notNull(),
    admits: jsonb("admits").$type<Principal[]>().notNull(),
  },
  (t) => [index("fences_now").on(t.placeId).where(stillValid)],
);

/** One row for the site, and one for each space that sets its own. */
export const ceilings = pgTable(
  "ceilings",
  { ...validity(), placeId: text("place_id").notNull(), ceilings: jsonb("ceilings").$type<Ceilings>().notNull() },
  (t) => [current("ceilings_now").on(t.placeId).where(stillValid)],
);

export const passes = pgTable(
  "passes",
  {
    ...validity(),
    id: text("id").notNull(),
    placeId: text("place_id").notNull(),
    below: boolean("below").notNull(),
    until: instant("until"),
    revoked: boolean("revoked").notNull(),
  },
  (t) => [current("passes_now").on(t.id).where(stillValid)],
);

export const pledges = pgTable(
  "pledges",
  { ...validity(), id: text("id").notNull(), pledge: jsonb("pledge").$type<Pledge>().notNull() },
  (t) => [current("pledges_now").on(t.id).where(stillValid)],
);

/** What a space is beside a place: its address, what it is for, the page people land on. */
export const spaces = pgTable("spaces", {
  placeId: text("place_id").primaryKey(),
  slug: text("slug").notNull().unique(),
  purpose: text("purpose").notNull(),
  landingId: text("landing_id"),
  position: integer("position").notNull(),
});

/** What a page or bulletin is beside a place. */
export const pages = pgTable("pages", {
  placeId: text("place_id").primaryKey(),
  position: integer("position").notNull(),
  startedAt: instant("started_at").notNull(),
  /** Number of the live version; null while it never was live. Kept when the page is taken down. */
  liveMajor: integer("live_major"),
  publishedAt: instant("published_at"),
  /** When a scheduled page goes live, as whom, and why it did not although its time had come. */
  dueAt: instant("due_at"),
  scheduledBy: text("scheduled_by"),
  dueProblem: text("due_problem"),
  changedAt: instant("changed_at").notNull(),
});

const words = customType<{ data: string }>({ dataType: () => "tsvector" });

/** Classes of places that give everybody the same, own drafts and passes aside; numbers are never given twice. */
export const accessClasses = pgTable("access_classes", {
  id: integer("id").primaryKey().generatedAlwaysAsIdentity(),
  /** As `listingKey` writes it. */
  key: text("key").notNull().unique(),
});

/**
 * What lists and searches go by: one row for each place as it is now, kept in the transaction that changes the place.
 * Everything in it follows from other tables.
 */
export const listing = pgTable(
  "listing",
  {
    placeId: text("place_id").primaryKey(),
    classId: integer("class_id").notNull(),
    spaceId: text("space_id"),
    kind: text("kind").$type<"site" | "space" | "page" | "bulletin">().notNull(),
    state: text("state").$type<"live" | "draft" | "scheduled" | "archived" | "binned">().notNull(),
    title: text("title").notNull(),
    /** Words of the live version; of a page that is not published, of its newest one. */
    body: text("body").notNull().default(""),
    changedAt: instant("changed_at").notNull(),
    titleWords: words("title_words").generatedAlwaysAs(sql`to_tsvector('simple', title)`),
    words: words("words").generatedAlwaysAs(
      sql`setweight(to_tsvector('simple', title), 'A') || setweight(to_tsvector('simple', body), 'B')`,
    ),
  },
  (t) => [
    index("listing_class").on(t.classId),
    index("listing_changed").on(t.changedAt),
    index("listing_bulletins").on(t.changedAt).where(sql`kind = 'bulletin' and state = 'live'`),
    index("listing_bulletins_in").on(t.spaceId, t.changedAt).where(sql`kind = 'bulletin' and state = 'live'`),
    index("listing_words").using("gin", t.words),
    index("listing_title_words").using("gin", t.titleWords),
  ],
);

/** Keys for programs. The token itself is shown once and kept as a hash. */
export const tokens = pgTable("tokens", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  hash: text("hash").notNull().unique(),
  scopes: text("scopes").array().$type<TokenScope[]>().notNull(),
  madeBy: text("made_by").notNull(),
  madeAt: instant("made_at").notNull(),
  until: instant("until"),
  usedAt: instant("used_at"),
  withdrawnAt: instant("withdrawn_at"),
});

/** Every version for good: `major.0` are live versions, the rest working versions. */
export const versions = pgTable(
  "versions",
  {
    placeId: text("place_id").notNull(),
    major: integer("major").notNull(),
    minor: integer("minor").notNull(),
    seq: seqColumn("seq").notNull(),
    title: text("title").notNull(),
    body: jsonb("body").$type<PageBody>().notNull(),
    authorId: text("author_id"),
    at: instant("at").notNull(),
    note: text("note").notNull().default(""),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.major, t.minor] })],
);

/** One autosave buffer for each writer and page: nothing typed is lost. */
export const buffers = pgTable(
  "buffers",
  {
    placeId: text("place_id").notNull(),
    personId: text("person_id").notNull(),
    title: text("title").notNull(),
    body: jsonb("body").$type<PageBody>().notNull(),
    /** Version it was written on, as "2.1". */
    base: text("base").notNull(),
    /** The tab it is typed in, and the number of its last change there. */
    tab: text("tab").notNull().default("before"),
    rev: bigint("rev", { mode: "number" }).notNull().default(0),
    at: instant("at").notNull(),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.personId, t.tab] })],
);

export const viewCounts = pgTable(
  "view_counts",
  {
    placeId: text("place_id").notNull(),
    day: date("day", { mode: "string" }).notNull(),
    reader: text("reader").$type<"outsider" | "guest" | "member">().notNull(),
    views: integer("views").notNull(),
  },
  (t) => [primaryKey({ columns: [t.placeId, t.day, t.reader] })],
);

/** Overseers who opened a page that was closed to them, and until when. Not part of the access document. */
export const stepIns = pgTable(
  "step_ins",
  {
    seq: seqColumn("seq").primaryKey(),
    personId: text("person_id").notNull(),
    placeId: text("place_id").notNull(),
    until: instant("until").notNull(),
  },
  (t) => [index("step_ins_person").on(t.personId, t.until)],
);

/** Who plays in the demo, with the password made for it. Empty on every site that is not a demo. */
export const demoCast = pgTable("demo_cast", {
  personId: text("person_id").primaryKey(),
  role: text("role").notNull(),
  email: text("email").notNull(),
  password: text("password").notNull(),
  position: integer("position").notNull(),
});

// Accounts and sessions, in the shape the accounts library asks for. A user's id is the id of the person.
export const user = pgTable("user", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  email: text("email").notNull().unique(),
  emailVerified: boolean("email_verified").notNull().default(false),
  image: text("image"),
  createdAt: timestamp("created_at").notNull().defaultNow(),
  updatedAt: timestamp("updated_at").notNull().defaultNow(),
});

export const session = pgTable("session", {
  id: text("id").primaryKey(),
  expiresAt: timestamp("expires_at").notNull(),
  token: text("token").notNull().unique(),
  createdAt: timestamp("created_at").notNull().defaultNow(),
  updatedAt: timestamp("updated_at").notNull().defaultNow(),
  ipAddress: text("ip_address"),
  userAgent: text("user_agent"),
  userId: text("user_id")
    .notNull()
    .references(() => user.id),
});

export const account = pgTable("account", {
  id: text("id").primaryKey(),
  accountId: text("account_id").notNull(),
  providerId: text("provider_id").notNull(),
  userId: text("user_id")
    .notNull()
    .references(() => user.id),
  accessToken: text("access_token"),
  refreshToken: text("refresh_token"),
  idToken: text("id_token"),
  accessTokenExpiresAt: timestamp("access_token_expires_at"),
  refreshTokenExpiresAt: timestamp("refresh_token_expires_at"),
  scope: text("scope"),
  password: text("password"),
  createdAt: timestamp("created_at").notNull().defaultNow(),
  updatedAt: timestamp("updated_at").notNull().defaultNow(),
});

export const verification = pgTable("verification", {
  id: text("id").primaryKey(),
  identifier: text("identifier").notNull(),
  value: text("value").notNull(),
  expiresAt: timestamp("expires_at").notNull(),
  createdAt: timestamp("created_at").notNull().defaultNow(),
  updatedAt: timestamp("updated_at").notNull().defaultNow(),
});

export const rateLimit = pgTable("rate_limit", {
  id: text("id").primaryKey(),
  key: text("key").notNull().unique(),
  count: integer("count").notNull(),
  lastRequest: bigint("last_request", { mode: "number" }).notNull(),
});
