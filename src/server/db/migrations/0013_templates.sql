CREATE TABLE "template_pages" (
	"id" text PRIMARY KEY NOT NULL,
	"template_id" text NOT NULL,
	"under" text,
	"nth" integer NOT NULL,
	"title" text NOT NULL,
	"body" jsonb NOT NULL,
	"rev" integer DEFAULT 1 NOT NULL,
	"saved_at" timestamp (3) with time zone NOT NULL,
	"saved_by" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "templates" (
	"id" text PRIMARY KEY NOT NULL,
	"space_id" text,
	"name" text NOT NULL,
	"about" text NOT NULL,
	"gone" boolean DEFAULT false NOT NULL,
	"made_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE INDEX "template_pages_of" ON "template_pages" USING btree ("template_id");--> statement-breakpoint
CREATE INDEX "templates_space" ON "templates" USING btree ("space_id");