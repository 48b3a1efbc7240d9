/** What planning goes by besides the access document: order among siblings, landing pages, what earlier acts did. */
import type { Edit, Instant } from "../access/model/index.ts";

export interface LifeFacts {
  /** Keys of pages that sort, byte by byte (lifecycle.md, "Order"); at least of the pages in and beside what is acted on. */
  slots: ReadonlyMap<string, string>;
  /** The landing page of each space that has one, by ids. */
  landings: ReadonlyMap<string, string>;
  /** Of what is archived or binned: the edits of the change that did it last, and when. */
  left: ReadonlyMap<string, { edits: readonly Edit[]; at: Instant }>;
  /** Of spaces that ask for approval and that something goes into: live pages of it that were never approved there. */
  unapproved?: ReadonlyMap<string, ReadonlySet<string>>;
  /** So many days the bin keeps a page at least. */
  keepsDays: number;
}

const DAY = 86_400_000;

/** From when something binned at an instant may be erased. */
export const erasableFrom = (binnedAt: Instant, keepsDays: number): Instant => (binnedAt + keepsDays * DAY) as Instant;
