DROP INDEX "listing_class";--> statement-breakpoint
DROP INDEX "listing_by_title";--> statement-breakpoint
DROP INDEX "listing_by_change";--> statement-breakpoint
DROP INDEX "listing_by_publication";--> statement-breakpoint
DROP INDEX "listing_by_views";--> statement-breakpoint
DROP INDEX "listing_by_links";--> statement-breakpoint
DROP INDEX "listing_by_versions";--> statement-breakpoint
DROP INDEX "listing_by_leaving";--> statement-breakpoint
DROP INDEX "listing_by_tags";--> statement-breakpoint
DROP INDEX "listing_by_readiness";--> statement-breakpoint
DROP INDEX "listing_parts";--> statement-breakpoint
CREATE INDEX "places_past" ON "places" USING btree ("id","to_seq") WHERE to_seq is not null;--> statement-breakpoint
CREATE INDEX "listing_by_state" ON "listing" USING btree ("state" desc nulls last,"place_id" desc) WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_owner" ON "listing" USING btree ("owner_id","place_id") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_author" ON "listing" USING btree ("changed_by","place_id") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_class" ON "listing" USING btree ("class_id","place_id");--> statement-breakpoint
CREATE INDEX "listing_by_title" ON "listing" USING btree (("title" collate "und-x-icu") desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_change" ON "listing" USING btree ("changed_at" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_publication" ON "listing" USING btree ("published_at" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_views" ON "listing" USING btree ("views30" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_links" ON "listing" USING btree ("links_in" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_versions" ON "listing" USING btree ("versions" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_leaving" ON "listing" USING btree ("left_at" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_tags" ON "listing" USING btree ("tags" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_by_readiness" ON "listing" USING btree ("readiness" desc nulls last,"place_id" desc,"state") WHERE kind in ('page', 'bulletin');--> statement-breakpoint
CREATE INDEX "listing_parts" ON "listing" USING btree ("state","class_id","space_id","left_at","published_at","changed_at") WHERE kind in ('page', 'bulletin');