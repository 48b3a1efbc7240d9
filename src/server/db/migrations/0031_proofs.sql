ALTER TABLE "user" ADD COLUMN "claimed" text;--> statement-breakpoint
ALTER TABLE "once_links" ADD COLUMN "proof" text DEFAULT 'hand' NOT NULL;--> statement-breakpoint
CREATE INDEX "user_claimed" ON "user" USING btree ("claimed");