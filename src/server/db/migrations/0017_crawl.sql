CREATE TABLE "crawled" (
	"job_id" text NOT NULL,
	"address" text NOT NULL,
	"from_address" text,
	"hops" integer DEFAULT 0 NOT NULL,
	"status" integer,
	"noindex" boolean DEFAULT false NOT NULL,
	"place_id" text,
	"problem" text,
	CONSTRAINT "crawled_job_id_address_pk" PRIMARY KEY("job_id","address")
);
--> statement-breakpoint
ALTER TABLE "spaces" ADD COLUMN "indexed" boolean DEFAULT true NOT NULL;--> statement-breakpoint
CREATE INDEX "crawled_places" ON "crawled" USING btree ("job_id","place_id");