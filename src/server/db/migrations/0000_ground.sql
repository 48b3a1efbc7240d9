CREATE TABLE "account" (
	"id" text PRIMARY KEY NOT NULL,
	"account_id" text NOT NULL,
	"provider_id" text NOT NULL,
	"user_id" text NOT NULL,
	"access_token" text,
	"refresh_token" text,
	"id_token" text,
	"access_token_expires_at" timestamp,
	"refresh_token_expires_at" timestamp,
	"scope" text,
	"password" text,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "buffers" (
	"place_id" text NOT NULL,
	"person_id" text NOT NULL,
	"title" text NOT NULL,
	"body" jsonb NOT NULL,
	"base" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "buffers_place_id_person_id_pk" PRIMARY KEY("place_id","person_id")
);
--> statement-breakpoint
CREATE TABLE "ceilings" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"place_id" text NOT NULL,
	"ceilings" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "demo_cast" (
	"person_id" text PRIMARY KEY NOT NULL,
	"role" text NOT NULL,
	"email" text NOT NULL,
	"password" text NOT NULL,
	"position" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "fences" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"place_id" text NOT NULL,
	"kind" text NOT NULL,
	"admits" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "grants" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"place_id" text NOT NULL,
	"to" jsonb NOT NULL,
	"abilities" integer NOT NULL,
	"until" timestamp (3) with time zone,
	"draft" boolean NOT NULL
);
--> statement-breakpoint
CREATE TABLE "groups" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"id" text NOT NULL,
	"name" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "ledger" (
	"seq" bigint PRIMARY KEY NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"maker" text,
	"act" text NOT NULL,
	"places" text[] NOT NULL,
	"edits" jsonb NOT NULL,
	"detail" jsonb NOT NULL,
	"ripple" jsonb,
	"note" text DEFAULT '' NOT NULL,
	"touches_access" boolean NOT NULL,
	"stepping_in" boolean DEFAULT false NOT NULL,
	"takes_back" bigint,
	"previous_hash" text NOT NULL,
	"hash" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "memberships" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"group_id" text NOT NULL,
	"member_kind" text NOT NULL,
	"member_id" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "pages" (
	"place_id" text PRIMARY KEY NOT NULL,
	"position" integer NOT NULL,
	"started_at" timestamp (3) with time zone NOT NULL,
	"live_major" integer,
	"published_at" timestamp (3) with time zone,
	"due_at" timestamp (3) with time zone,
	"scheduled_by" text,
	"due_problem" text,
	"changed_at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "passes" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"id" text NOT NULL,
	"place_id" text NOT NULL,
	"below" boolean NOT NULL,
	"until" timestamp (3) with time zone,
	"revoked" boolean NOT NULL
);
--> statement-breakpoint
CREATE TABLE "people" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"status" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "places" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"id" text NOT NULL,
	"kind" text NOT NULL,
	"parent_id" text,
	"title" text NOT NULL,
	"state" text NOT NULL,
	"was" text,
	"stance" text NOT NULL,
	"owner_id" text,
	"tags" text[] NOT NULL
);
--> statement-breakpoint
CREATE TABLE "pledges" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"id" text NOT NULL,
	"pledge" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rate_limit" (
	"id" text PRIMARY KEY NOT NULL,
	"key" text NOT NULL,
	"count" integer NOT NULL,
	"last_request" bigint NOT NULL,
	CONSTRAINT "rate_limit_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "session" (
	"id" text PRIMARY KEY NOT NULL,
	"expires_at" timestamp NOT NULL,
	"token" text NOT NULL,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL,
	"ip_address" text,
	"user_agent" text,
	"user_id" text NOT NULL,
	CONSTRAINT "session_token_unique" UNIQUE("token")
);
--> statement-breakpoint
CREATE TABLE "spaces" (
	"place_id" text PRIMARY KEY NOT NULL,
	"slug" text NOT NULL,
	"purpose" text NOT NULL,
	"landing_id" text,
	"position" integer NOT NULL,
	CONSTRAINT "spaces_slug_unique" UNIQUE("slug")
);
--> statement-breakpoint
CREATE TABLE "step_ins" (
	"seq" bigint PRIMARY KEY NOT NULL,
	"person_id" text NOT NULL,
	"place_id" text NOT NULL,
	"until" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "user" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"email" text NOT NULL,
	"email_verified" boolean DEFAULT false NOT NULL,
	"image" text,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL,
	CONSTRAINT "user_email_unique" UNIQUE("email")
);
--> statement-breakpoint
CREATE TABLE "verification" (
	"id" text PRIMARY KEY NOT NULL,
	"identifier" text NOT NULL,
	"value" text NOT NULL,
	"expires_at" timestamp NOT NULL,
	"created_at" timestamp DEFAULT now() NOT NULL,
	"updated_at" timestamp DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "versions" (
	"place_id" text NOT NULL,
	"major" integer NOT NULL,
	"minor" integer NOT NULL,
	"seq" bigint NOT NULL,
	"title" text NOT NULL,
	"body" jsonb NOT NULL,
	"author_id" text,
	"at" timestamp (3) with time zone NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	CONSTRAINT "versions_place_id_major_minor_pk" PRIMARY KEY("place_id","major","minor")
);
--> statement-breakpoint
CREATE TABLE "view_counts" (
	"place_id" text NOT NULL,
	"day" date NOT NULL,
	"reader" text NOT NULL,
	"views" integer NOT NULL,
	CONSTRAINT "view_counts_place_id_day_reader_pk" PRIMARY KEY("place_id","day","reader")
);
--> statement-breakpoint
ALTER TABLE "account" ADD CONSTRAINT "account_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "ceilings_now" ON "ceilings" USING btree ("place_id") WHERE to_seq is null;--> statement-breakpoint
CREATE INDEX "fences_now" ON "fences" USING btree ("place_id") WHERE to_seq is null;--> statement-breakpoint
CREATE INDEX "grants_now" ON "grants" USING btree ("place_id") WHERE to_seq is null;--> statement-breakpoint
CREATE UNIQUE INDEX "groups_now" ON "groups" USING btree ("id") WHERE to_seq is null;--> statement-breakpoint
CREATE INDEX "ledger_access" ON "ledger" USING btree ("seq") WHERE touches_access;--> statement-breakpoint
CREATE INDEX "ledger_at" ON "ledger" USING btree ("at");--> statement-breakpoint
CREATE INDEX "ledger_places" ON "ledger" USING gin ("places");--> statement-breakpoint
CREATE UNIQUE INDEX "ledger_taken_back_once" ON "ledger" USING btree ("takes_back") WHERE takes_back is not null;--> statement-breakpoint
CREATE UNIQUE INDEX "memberships_now" ON "memberships" USING btree ("group_id","member_kind","member_id") WHERE to_seq is null;--> statement-breakpoint
CREATE UNIQUE INDEX "passes_now" ON "passes" USING btree ("id") WHERE to_seq is null;--> statement-breakpoint
CREATE UNIQUE INDEX "people_now" ON "people" USING btree ("id") WHERE to_seq is null;--> statement-breakpoint
CREATE UNIQUE INDEX "places_now" ON "places" USING btree ("id") WHERE to_seq is null;--> statement-breakpoint
CREATE INDEX "places_parent" ON "places" USING btree ("parent_id") WHERE to_seq is null;--> statement-breakpoint
CREATE UNIQUE INDEX "pledges_now" ON "pledges" USING btree ("id") WHERE to_seq is null;--> statement-breakpoint
CREATE INDEX "step_ins_person" ON "step_ins" USING btree ("person_id","until");