CREATE TABLE "findings" (
	"place_id" text NOT NULL,
	"passage" integer NOT NULL,
	"start" integer NOT NULL,
	"end" integer NOT NULL,
	"kind" text NOT NULL,
	"sign" text NOT NULL,
	CONSTRAINT "findings_place_id_passage_start_pk" PRIMARY KEY("place_id","passage","start")
);
--> statement-breakpoint
CREATE TABLE "findings_aside" (
	"place_id" text NOT NULL,
	"sign" text NOT NULL,
	"by" text NOT NULL,
	"at" timestamp (3) with time zone NOT NULL,
	"reason" text NOT NULL,
	CONSTRAINT "findings_aside_place_id_sign_pk" PRIMARY KEY("place_id","sign")
);
