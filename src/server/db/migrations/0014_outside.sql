CREATE TABLE "exposures" (
	"place_id" text PRIMARY KEY NOT NULL,
	"seq" bigint NOT NULL,
	"at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "meant_outside" (
	"place_id" text PRIMARY KEY NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE INDEX "exposures_at" ON "exposures" USING btree ("at","place_id");