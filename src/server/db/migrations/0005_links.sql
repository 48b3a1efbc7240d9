CREATE TABLE "links" (
	"place_id" text NOT NULL,
	"live" boolean NOT NULL,
	"target_id" text NOT NULL,
	"block" text NOT NULL,
	CONSTRAINT "links_place_id_live_target_id_block_pk" PRIMARY KEY("place_id","live","target_id","block")
);
--> statement-breakpoint
CREATE INDEX "links_target" ON "links" USING btree ("target_id");--> statement-breakpoint
-- What the versions there are say: the live one, and the newest where that is newer.
INSERT INTO "links" ("place_id", "live", "target_id", "block")
SELECT DISTINCT v."place_id", v."live", mark #>> '{attrs,page}',
  CASE WHEN jsonb_typeof(b.block #> '{attrs,id}') = 'string' THEN b.block #>> '{attrs,id}' ELSE '' END
FROM (
  SELECT l."place_id", true AS "live", l."body" FROM "pages" p
  JOIN "versions" l ON l."place_id" = p."place_id" AND l."major" = p."live_major" AND l."minor" = 0
  UNION ALL
  SELECT n."place_id", false, n."body" FROM "pages" p
  JOIN LATERAL (SELECT * FROM "versions" w WHERE w."place_id" = p."place_id" ORDER BY w."major" DESC, w."minor" DESC LIMIT 1) n ON true
  WHERE p."live_major" IS NULL OR n."major" <> p."live_major" OR n."minor" <> 0
) v
CROSS JOIN LATERAL jsonb_array_elements(v."body" -> 'content') b(block)
CROSS JOIN LATERAL jsonb_path_query(b.block, 'strict $.**.marks[*] ? (@.type == "link")', '{}', true) mark
WHERE jsonb_typeof(mark #> '{attrs,page}') = 'string' AND mark #>> '{attrs,page}' <> '';
