CREATE TABLE "asked" (
	"id" text PRIMARY KEY NOT NULL,
	"person_id" text NOT NULL,
	"address" text NOT NULL,
	"place_id" text NOT NULL,
	"reason" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"state" text DEFAULT 'open' NOT NULL,
	"by" text,
	"decided_at" timestamp (3) with time zone,
	"word" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX "asked_once" ON "asked" USING btree ("person_id","place_id");--> statement-breakpoint
CREATE INDEX "asked_places" ON "asked" USING btree ("place_id");--> statement-breakpoint
CREATE INDEX "asked_at" ON "asked" USING btree ("at");