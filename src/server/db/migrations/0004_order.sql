CREATE TABLE "slots" (
	"row_id" bigserial PRIMARY KEY NOT NULL,
	"from_seq" bigint NOT NULL,
	"to_seq" bigint,
	"place_id" text NOT NULL,
	"slot" text collate "C" NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX "slots_now" ON "slots" USING btree ("place_id") WHERE to_seq is null;--> statement-breakpoint
-- Numbers become keys that sort: "e" and five digits, so that there is room between any two.
INSERT INTO "slots" ("from_seq", "place_id", "slot")
SELECT (SELECT min(h."from_seq") FROM "places" h WHERE h."id" = p."place_id"), p."place_id",
  'e' || substr(d, (p."position" / 14776336) % 62 + 1, 1)||substr(d, (p."position" / 238328) % 62 + 1, 1)||substr(d, (p."position" / 3844) % 62 + 1, 1)||substr(d, (p."position" / 62) % 62 + 1, 1)||substr(d, (p."position" / 1) % 62 + 1, 1)
FROM "pages" p
JOIN "places" s ON s."id" = p."place_id" AND s."to_seq" IS NULL AND s."kind" = 'page'
CROSS JOIN (VALUES ('0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz')) digits(d);--> statement-breakpoint
ALTER TABLE "pages" DROP COLUMN "position";