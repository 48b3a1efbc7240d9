ALTER TABLE "spaces" ADD COLUMN "contents" jsonb;--> statement-breakpoint
ALTER TABLE "spaces" ADD COLUMN "history" boolean DEFAULT false NOT NULL;