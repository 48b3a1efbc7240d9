CREATE TABLE "access_classes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "access_classes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"key" text NOT NULL,
	CONSTRAINT "access_classes_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "listing" (
	"place_id" text PRIMARY KEY NOT NULL,
	"class_id" integer NOT NULL,
	"space_id" text,
	"kind" text NOT NULL,
	"state" text NOT NULL,
	"title" text NOT NULL,
	"body" text DEFAULT '' NOT NULL,
	"changed_at" timestamp (3) with time zone NOT NULL,
	"title_words" "tsvector" GENERATED ALWAYS AS (to_tsvector('simple', title)) STORED,
	"words" "tsvector" GENERATED ALWAYS AS (setweight(to_tsvector('simple', title), 'A') || setweight(to_tsvector('simple', body), 'B')) STORED
);
--> statement-breakpoint
CREATE TABLE "tokens" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"hash" text NOT NULL,
	"scopes" text[] NOT NULL,
	"made_by" text NOT NULL,
	"made_at" timestamp (3) with time zone NOT NULL,
	"until" timestamp (3) with time zone,
	"used_at" timestamp (3) with time zone,
	"withdrawn_at" timestamp (3) with time zone,
	CONSTRAINT "tokens_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE INDEX "listing_class" ON "listing" USING btree ("class_id");--> statement-breakpoint
CREATE INDEX "listing_changed" ON "listing" USING btree ("changed_at");--> statement-breakpoint
CREATE INDEX "listing_bulletins" ON "listing" USING btree ("changed_at") WHERE kind = 'bulletin' and state = 'live';--> statement-breakpoint
CREATE INDEX "listing_bulletins_in" ON "listing" USING btree ("space_id","changed_at") WHERE kind = 'bulletin' and state = 'live';--> statement-breakpoint
CREATE INDEX "listing_words" ON "listing" USING gin ("words");--> statement-breakpoint
CREATE INDEX "listing_title_words" ON "listing" USING gin ("title_words");