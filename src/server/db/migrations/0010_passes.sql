CREATE TABLE "pass_links" (
	"pass_id" text PRIMARY KEY NOT NULL,
	"hash" text NOT NULL,
	"name" text NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"uses" integer DEFAULT 0 NOT NULL,
	"used_at" timestamp (3) with time zone,
	CONSTRAINT "pass_links_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE INDEX "pass_links_by" ON "pass_links" USING btree ("by");