CREATE TABLE "reader_marks" (
	"place_id" text NOT NULL,
	"week" date NOT NULL,
	"mark" text NOT NULL,
	CONSTRAINT "reader_marks_place_id_week_mark_pk" PRIMARY KEY("place_id","week","mark")
);
--> statement-breakpoint
CREATE TABLE "search_misses" (
	"words" text NOT NULL,
	"day" date NOT NULL,
	"reader" text NOT NULL,
	"mark" text NOT NULL,
	"times" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "search_misses_words_day_reader_mark_pk" PRIMARY KEY("words","day","reader","mark")
);
--> statement-breakpoint
CREATE INDEX "reader_marks_week" ON "reader_marks" USING btree ("week");--> statement-breakpoint
CREATE INDEX "search_misses_day" ON "search_misses" USING btree ("day");