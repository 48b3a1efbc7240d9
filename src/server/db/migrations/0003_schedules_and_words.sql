CREATE TABLE "attempts" (
	"key" text PRIMARY KEY NOT NULL,
	"points" integer NOT NULL,
	"expire" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "ledger_words" (
	"seq" bigint NOT NULL,
	"path" text NOT NULL,
	"text" text NOT NULL,
	"salt" text NOT NULL,
	CONSTRAINT "ledger_words_seq_path_pk" PRIMARY KEY("seq","path")
);
--> statement-breakpoint
CREATE TABLE "schedules" (
	"place_id" text NOT NULL,
	"what" text NOT NULL,
	"major" integer,
	"minor" integer,
	"at" timestamp (3) with time zone NOT NULL,
	"zone" text NOT NULL,
	"by" text NOT NULL,
	"helpers_kept" boolean NOT NULL,
	"problem" text,
	CONSTRAINT "schedules_place_id_what_pk" PRIMARY KEY("place_id","what")
);
--> statement-breakpoint
ALTER TABLE "rate_limit" DISABLE ROW LEVEL SECURITY;--> statement-breakpoint
DROP TABLE "rate_limit" CASCADE;--> statement-breakpoint
-- The chain so far was made over other fields: it is kept aside until it was verified and brought over (`ledger/bringOver.ts`).
ALTER TABLE "ledger" RENAME TO "ledger_before";--> statement-breakpoint
DROP INDEX "ledger_access";--> statement-breakpoint
DROP INDEX "ledger_at";--> statement-breakpoint
DROP INDEX "ledger_places";--> statement-breakpoint
DROP INDEX "ledger_taken_back_once";--> statement-breakpoint
ALTER TABLE "ledger_before" RENAME CONSTRAINT "ledger_pkey" TO "ledger_before_pkey";--> statement-breakpoint
CREATE TABLE "ledger" (
	"seq" bigint PRIMARY KEY NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"maker" text,
	"act" text NOT NULL,
	"places" text[] NOT NULL,
	"edits" jsonb NOT NULL,
	"detail" jsonb NOT NULL,
	"ripple" jsonb,
	"words" jsonb NOT NULL,
	"fields" integer NOT NULL,
	"touches_access" boolean NOT NULL,
	"stepping_in" boolean DEFAULT false NOT NULL,
	"takes_back" bigint,
	"previous_hash" text NOT NULL,
	"hash" text NOT NULL
);--> statement-breakpoint
CREATE INDEX "ledger_access" ON "ledger" USING btree ("seq") WHERE touches_access;--> statement-breakpoint
CREATE INDEX "ledger_at" ON "ledger" USING btree ("at");--> statement-breakpoint
CREATE INDEX "ledger_places" ON "ledger" USING gin ("places");--> statement-breakpoint
CREATE UNIQUE INDEX "ledger_taken_back_once" ON "ledger" USING btree ("takes_back") WHERE takes_back is not null;--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "until" timestamp (3) with time zone;--> statement-breakpoint
ALTER TABLE "places" ADD COLUMN "binned_from" text;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "carried_from" text;--> statement-breakpoint
CREATE INDEX "schedules_at" ON "schedules" USING btree ("at");--> statement-breakpoint
CREATE INDEX "listing_space" ON "listing" USING btree ("space_id");--> statement-breakpoint
-- What was scheduled goes live with the words it has now: which ones were meant, nobody wrote down.
INSERT INTO "schedules" ("place_id", "what", "major", "minor", "at", "zone", "by", "helpers_kept", "problem")
SELECT p."place_id", 'live', v."major", v."minor", p."due_at", 'UTC', coalesce(p."scheduled_by", ''), false, p."due_problem"
FROM "pages" p
JOIN "places" s ON s."id" = p."place_id" AND s."to_seq" IS NULL AND s."state" = 'scheduled'
JOIN LATERAL (SELECT "major", "minor" FROM "versions" WHERE "place_id" = p."place_id" ORDER BY "major" DESC, "minor" DESC LIMIT 1) v ON true
WHERE p."due_at" IS NOT NULL;--> statement-breakpoint
ALTER TABLE "pages" DROP COLUMN "due_at";--> statement-breakpoint
ALTER TABLE "pages" DROP COLUMN "scheduled_by";--> statement-breakpoint
ALTER TABLE "pages" DROP COLUMN "due_problem";