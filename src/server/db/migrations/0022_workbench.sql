CREATE TABLE "bench_drafts" (
	"id" text PRIMARY KEY NOT NULL,
	"handle" text NOT NULL,
	"owner_id" text NOT NULL,
	"title" text NOT NULL,
	"rev" integer NOT NULL,
	"started_at" timestamp (3) with time zone NOT NULL,
	"saved_at" timestamp (3) with time zone NOT NULL,
	"thrown_at" timestamp (3) with time zone,
	"becomes" text NOT NULL,
	"placed_at" timestamp (3) with time zone,
	CONSTRAINT "bench_drafts_handle_unique" UNIQUE("handle")
);
--> statement-breakpoint
CREATE TABLE "bench_helpers" (
	"draft_id" text NOT NULL,
	"person_id" text NOT NULL,
	"abilities" integer NOT NULL,
	"since" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "bench_helpers_draft_id_person_id_pk" PRIMARY KEY("draft_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "bench_versions" (
	"draft_id" text NOT NULL,
	"rev" integer NOT NULL,
	"title" text NOT NULL,
	"body" jsonb NOT NULL,
	"author_id" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	CONSTRAINT "bench_versions_draft_id_rev_pk" PRIMARY KEY("draft_id","rev")
);
--> statement-breakpoint
ALTER TABLE "schedules" ADD COLUMN "kept" text[];--> statement-breakpoint
CREATE INDEX "bench_drafts_owner" ON "bench_drafts" USING btree ("owner_id");--> statement-breakpoint
CREATE INDEX "bench_helpers_person" ON "bench_helpers" USING btree ("person_id");