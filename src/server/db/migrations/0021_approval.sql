CREATE TABLE "submissions" (
	"place_id" text PRIMARY KEY NOT NULL,
	"major" integer NOT NULL,
	"minor" integer NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"note" text NOT NULL,
	"answer" text,
	"answered_by" text,
	"answered_at" timestamp (3) with time zone,
	"answer_note" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "spaces" ADD COLUMN "approval" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "approved_by" text;