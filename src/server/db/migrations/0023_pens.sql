CREATE TABLE "pens" (
	"place_id" text PRIMARY KEY NOT NULL,
	"person_id" text NOT NULL,
	"since" timestamp (3) with time zone NOT NULL,
	"seen_at" timestamp (3) with time zone NOT NULL,
	"typed_at" timestamp (3) with time zone NOT NULL,
	"asked_by" text
);
--> statement-breakpoint
CREATE INDEX "pens_person" ON "pens" USING btree ("person_id");