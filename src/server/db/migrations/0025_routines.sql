CREATE TABLE "routine_runs" (
	"id" text PRIMARY KEY NOT NULL,
	"routine_id" text NOT NULL,
	"slot" timestamp (3) with time zone NOT NULL,
	"started_at" timestamp (3) with time zone NOT NULL,
	"by" text,
	"once" text,
	"job_id" text,
	"problem" text,
	"fits" integer DEFAULT 0 NOT NULL,
	"beyond" integer DEFAULT 0 NOT NULL,
	"which" jsonb NOT NULL,
	"action" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "routine_told" (
	"routine_id" text NOT NULL,
	"about" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "routine_told_routine_id_about_pk" PRIMARY KEY("routine_id","about")
);
--> statement-breakpoint
CREATE TABLE "routines" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"space_id" text,
	"which" jsonb NOT NULL,
	"action" jsonb NOT NULL,
	"cron" text NOT NULL,
	"zone" text NOT NULL,
	"most" integer NOT NULL,
	"as_id" text NOT NULL,
	"set_by" text NOT NULL,
	"set_at" timestamp (3) with time zone NOT NULL,
	"is_on" boolean DEFAULT false NOT NULL,
	"next_at" timestamp (3) with time zone,
	"gone" boolean DEFAULT false NOT NULL,
	"rev" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX "routine_runs_slot" ON "routine_runs" USING btree ("routine_id","slot");--> statement-breakpoint
CREATE INDEX "routine_runs_job" ON "routine_runs" USING btree ("job_id");--> statement-breakpoint
CREATE INDEX "routine_told_about" ON "routine_told" USING btree ("about");--> statement-breakpoint
CREATE INDEX "routines_next" ON "routines" USING btree ("next_at");--> statement-breakpoint
CREATE INDEX "routines_as" ON "routines" USING btree ("as_id");