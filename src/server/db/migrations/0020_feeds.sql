CREATE TABLE "feeds" (
	"person_id" text PRIMARY KEY NOT NULL,
	"hash" text NOT NULL,
	"titles" boolean NOT NULL,
	"made_at" timestamp (3) with time zone NOT NULL,
	"used_at" timestamp (3) with time zone,
	CONSTRAINT "feeds_hash_unique" UNIQUE("hash")
);
