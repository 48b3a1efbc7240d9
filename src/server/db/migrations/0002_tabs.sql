ALTER TABLE "buffers" ADD COLUMN "tab" text DEFAULT 'before' NOT NULL;--> statement-breakpoint
ALTER TABLE "buffers" ADD COLUMN "rev" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "buffers" DROP CONSTRAINT "buffers_place_id_person_id_pk";--> statement-breakpoint
ALTER TABLE "buffers" ADD CONSTRAINT "buffers_place_id_person_id_tab_pk" PRIMARY KEY("place_id","person_id","tab");
