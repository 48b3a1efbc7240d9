/** What is known of a page when a routine looks at it. */
import type { FlagKind, Instant, PageState } from "../access/model/index.ts";

/** What is known of a page that a routine may ask about. */
export interface PageFacts {
  id: string;
  kind: "page" | "bulletin";
  state: PageState;
  space: string;
  /** Ids of the pages it stands in, itself with them. */
  path: readonly string[];
  owner: string | null;
  tags: readonly string[];
  readiness: string | null;
  changed: Instant;
  /** Null: it never went live, was never confirmed, was not read since views are counted. */
  published: Instant | null;
  confirmed: Instant | null;
  viewed: Instant | null;
  /** When its review is due; null: never by itself. */
  due: Instant | null;
  /** Who outside reads it; null: not for whom the routine runs as to know. */
  outside: "public" | "guests" | "both" | "nobody" | null;
  flags: readonly FlagKind[];
  /** Of what is in the bin: from when it may be erased. */
  erasable: Instant | null;
}

/** Whether the bin has kept a page for as long as it must. */
export const isErasableFrom = ({ erasable }: Pick<PageFacts, "erasable">, at: Instant): boolean => erasable !== null && erasable <= at;
