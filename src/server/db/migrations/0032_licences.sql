CREATE TABLE "licences" (
	"place_id" text NOT NULL,
	"major" integer NOT NULL,
	"space_id" text NOT NULL,
	CONSTRAINT "licences_place_id_major_space_id_pk" PRIMARY KEY("place_id","major","space_id")
);
--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "approved_in" text;--> statement-breakpoint
-- What was live where a space asked for approval already had been approved, or stood there before it began to ask.
INSERT INTO "licences" ("place_id", "major", "space_id")
SELECT l."place_id", p."live_major", l."space_id" FROM "listing" l JOIN "pages" p ON p."place_id" = l."place_id" JOIN "spaces" s ON s."place_id" = l."space_id"
WHERE s."approval" AND p."live_major" IS NOT NULL;
