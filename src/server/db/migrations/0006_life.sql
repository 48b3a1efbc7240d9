CREATE TABLE "job_items" (
	"job_id" text NOT NULL,
	"nth" integer NOT NULL,
	"place_id" text NOT NULL,
	"state" text NOT NULL,
	"message" text,
	"seq" bigint,
	CONSTRAINT "job_items_job_id_nth_pk" PRIMARY KEY("job_id","nth")
);
--> statement-breakpoint
CREATE TABLE "jobs" (
	"id" text PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"by" text NOT NULL,
	"order" jsonb NOT NULL,
	"state" text NOT NULL,
	"problem" text,
	"stop_asked" text,
	"started_at" timestamp (3) with time zone NOT NULL,
	"ended_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "saved_filters" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"person_id" text,
	"space_id" text,
	"address" text NOT NULL,
	"made_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "ledger" ADD COLUMN "acts" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "ledger" ADD COLUMN "job" text;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "changed_by" text;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "owner_id" text;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "tags" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "readiness" text;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "published_at" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "left_at" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "left_by" text;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "views30" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "links_in" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "versions" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "pages" ADD COLUMN "readiness" text;--> statement-breakpoint
ALTER TABLE "schedules" ADD COLUMN "below" text;--> statement-breakpoint
ALTER TABLE "spaces" ADD COLUMN "readiness" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "spaces" ADD COLUMN "arranged" text DEFAULT 'hand' NOT NULL;--> statement-breakpoint
CREATE INDEX "jobs_by" ON "jobs" USING btree ("by","started_at");--> statement-breakpoint
CREATE INDEX "ledger_job" ON "ledger" USING btree ("job") WHERE job is not null;--> statement-breakpoint
CREATE INDEX "listing_tags" ON "listing" USING gin ("tags");--> statement-breakpoint
CREATE INDEX "listing_by_title" ON "listing" USING btree ("title" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_change" ON "listing" USING btree ("changed_at" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_publication" ON "listing" USING btree ("published_at" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_views" ON "listing" USING btree ("views30" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_links" ON "listing" USING btree ("links_in" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_versions" ON "listing" USING btree ("versions" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_leaving" ON "listing" USING btree ("left_at" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_tags" ON "listing" USING btree ("tags" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_readiness" ON "listing" USING btree ("readiness" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_parts" ON "listing" USING btree ("state","class_id","space_id","owner_id","changed_by") WHERE kind in ('page', 'bulletin');
--> statement-breakpoint
UPDATE "listing" AS l SET owner_id = d.owner_id, tags = d.tags, published_at = d.published_at, versions = d.versions, changed_by = d.author,
  left_at = d.left_at, left_by = d.left_by, links_in = d.links_in, views30 = d.views30
FROM (
  SELECT p.id, p.owner_id, p.tags, g.published_at, e.at AS left_at, e.maker AS left_by,
    (SELECT count(*) FROM versions v WHERE v.place_id = p.id) AS versions,
    (SELECT v.author_id FROM versions v
      WHERE v.place_id = p.id AND (p.state IN ('draft', 'scheduled') OR coalesce(p.was, 'live') <> 'live' OR g.live_major IS NULL OR (v.major = g.live_major AND v.minor = 0))
      ORDER BY v.major DESC, v.minor DESC LIMIT 1) AS author,
    (SELECT count(DISTINCT k.place_id) FROM links k JOIN listing s ON s.place_id = k.place_id AND s.state = 'live'
      WHERE k.target_id = p.id AND k.live AND k.place_id <> p.id) AS links_in,
    (SELECT coalesce(sum(c.views), 0) FROM view_counts c WHERE c.place_id = p.id AND c.day >= current_date - 30) AS views30
  FROM places p LEFT JOIN pages g ON g.place_id = p.id
  LEFT JOIN ledger e ON p.state IN ('archived', 'binned') AND e.seq = coalesce(
    (SELECT max(b.to_seq) FROM places b WHERE b.id = p.id AND b.to_seq IS NOT NULL AND b.state <> p.state), p.from_seq)
  WHERE p.to_seq IS NULL
) AS d WHERE l.place_id = d.id;
