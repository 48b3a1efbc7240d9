CREATE TABLE "space_addresses" (
	"slug" text PRIMARY KEY NOT NULL,
	"place_id" text NOT NULL
);
