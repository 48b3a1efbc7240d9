CREATE TABLE "desk_aside" (
	"person_id" text NOT NULL,
	"row" text NOT NULL,
	"until" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "desk_aside_person_id_row_pk" PRIMARY KEY("person_id","row")
);
--> statement-breakpoint
ALTER TABLE "notices" ADD COLUMN "read_at" timestamp (3) with time zone;--> statement-breakpoint
CREATE INDEX "desk_aside_until" ON "desk_aside" USING btree ("until");