CREATE TABLE "mail_wishes" (
	"person_id" text PRIMARY KEY NOT NULL,
	"how" text NOT NULL,
	"hour" integer NOT NULL,
	"zone" text NOT NULL,
	"last_day" text
);
