CREATE TABLE "group_managers" (
	"group_id" text NOT NULL,
	"person_id" text NOT NULL,
	"guests" boolean NOT NULL,
	CONSTRAINT "group_managers_group_id_person_id_pk" PRIMARY KEY("group_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "house_rules" (
	"rule" text PRIMARY KEY NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "invitations" (
	"person_id" text PRIMARY KEY NOT NULL,
	"email" text NOT NULL,
	"message" text NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"until" timestamp (3) with time zone NOT NULL,
	"seq" integer NOT NULL,
	"outcome" text,
	"outcome_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE TABLE "mails" (
	"id" text PRIMARY KEY NOT NULL,
	"notice_id" bigint NOT NULL,
	"to" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"state" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "notices" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"person_id" text NOT NULL,
	"about" jsonb NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"mail" text NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "once_links" (
	"hash" text PRIMARY KEY NOT NULL,
	"what" text NOT NULL,
	"person_id" text NOT NULL,
	"email" text NOT NULL,
	"until" timestamp (3) with time zone NOT NULL,
	"used_at" timestamp (3) with time zone
);
--> statement-breakpoint
CREATE INDEX "invitations_open" ON "invitations" USING btree ("until");--> statement-breakpoint
CREATE INDEX "invitations_by" ON "invitations" USING btree ("by");--> statement-breakpoint
CREATE INDEX "invitations_email" ON "invitations" USING btree ("email");--> statement-breakpoint
CREATE INDEX "mails_at" ON "mails" USING btree ("at");--> statement-breakpoint
CREATE INDEX "notices_mail" ON "notices" USING btree ("mail","id");--> statement-breakpoint
CREATE INDEX "notices_person" ON "notices" USING btree ("person_id","at");--> statement-breakpoint
CREATE INDEX "once_links_person" ON "once_links" USING btree ("person_id","what");