/** What the access document holds, kept with the time it held: rows are valid from one ledger number to another
 * (null: still), are closed and never deleted. Numbers lead to instants through `ledger`. */
import { sql } from "drizzle-orm";
import { boolean, index, integer, jsonb, pgTable, text } from "drizzle-orm/pg-core";
import type { Ceilings, Pledge, Principal } from "../../../core/access/model/index.ts";
import { current, instant, stillValid, validity } from "./columns.ts";

export const people = pgTable(
  "people",
  {
    ...validity(),
    id: text("id").notNull(),
    name: text("name").notNull(),
    kind: text("kind").$type<"member" | "guest">().notNull(),
    status: text("status").$type<"active" | "suspended">().notNull(),
    until: instant("until"),
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
    binnedFrom: text("binned_from").$type<"archived">(),
    stance: text("stance").$type<"follow" | "fresh">().notNull(),
    ownerId: text("owner_id"),
    tags: text("tags").array().notNull(),
  },
  (t) => [
    current("places_now").on(t.id).where(stillValid),
    index("places_parent").on(t.parentId).where(stillValid),
    // What a place was before: when it came into the archive or the bin.
    index("places_past").on(t.id, t.toSeq).where(sql`to_seq is not null`),
  ],
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
