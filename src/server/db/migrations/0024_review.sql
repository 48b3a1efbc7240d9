CREATE TABLE "flags" (
	"id" text PRIMARY KEY NOT NULL,
	"place_id" text NOT NULL,
	"kind" text NOT NULL,
	"by" text,
	"at" timestamp (3) with time zone NOT NULL,
	"due" timestamp (3) with time zone NOT NULL,
	"to" text,
	"note" text NOT NULL,
	"outcome" text,
	"ended_by" text,
	"ended_at" timestamp (3) with time zone,
	"reason" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "listing" ADD COLUMN "due_at" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "pages" ADD COLUMN "review_days" integer;--> statement-breakpoint
ALTER TABLE "pages" ADD COLUMN "confirmed_at" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "pages" ADD COLUMN "confirmed_by" text;--> statement-breakpoint
ALTER TABLE "pages" ADD COLUMN "aside_until" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "spaces" ADD COLUMN "review_days" integer;--> statement-breakpoint
ALTER TABLE "spaces" ADD COLUMN "flags" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "flags_place" ON "flags" USING btree ("place_id");--> statement-breakpoint
CREATE INDEX "flags_by" ON "flags" USING btree ("by","at");--> statement-breakpoint
CREATE INDEX "flags_to" ON "flags" USING btree ("to");--> statement-breakpoint
CREATE INDEX "listing_by_due" ON "listing" USING btree ("due_at" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');