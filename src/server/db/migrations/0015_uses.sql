CREATE TABLE "noted_since" (
	"what" text PRIMARY KEY NOT NULL,
	"at" timestamp (3) with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "page_uses" (
	"person_id" text NOT NULL,
	"place_id" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	CONSTRAINT "page_uses_person_id_place_id_pk" PRIMARY KEY("person_id","place_id")
);
--> statement-breakpoint
CREATE INDEX "page_uses_place" ON "page_uses" USING btree ("place_id");--> statement-breakpoint
CREATE INDEX "page_uses_at" ON "page_uses" USING btree ("at");--> statement-breakpoint
INSERT INTO "noted_since" ("what", "at") VALUES ('uses', now());
