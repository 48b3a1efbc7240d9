CREATE TABLE "pledge_turns" (
	"nth" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "pledge_turns_nth_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"pledge_id" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"seq" bigint,
	"broken" boolean NOT NULL
);
--> statement-breakpoint
CREATE INDEX "pledge_turns_of" ON "pledge_turns" USING btree ("pledge_id","nth");