/** What lists and searches go by. */
import { sql } from "drizzle-orm";
import { customType, index, integer, pgTable, text } from "drizzle-orm/pg-core";
import { instant } from "./columns.ts";

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
    index("listing_space").on(t.spaceId),
    index("listing_changed").on(t.changedAt),
    index("listing_bulletins").on(t.changedAt).where(sql`kind = 'bulletin' and state = 'live'`),
    index("listing_bulletins_in").on(t.spaceId, t.changedAt).where(sql`kind = 'bulletin' and state = 'live'`),
    index("listing_words").using("gin", t.words),
    index("listing_title_words").using("gin", t.titleWords),
  ],
);
