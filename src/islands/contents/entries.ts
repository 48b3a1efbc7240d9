/** How the entries in the contents of a space are called. */
import type { ContentsEntry } from "../../core/access/model/index.ts";

/** How an entry is called; a page that left the space has no name here. */
export const wordsOf = (entry: ContentsEntry, titles: Readonly<Record<string, string>>): string =>
  "heading" in entry ? entry.heading : "page" in entry ? titles[entry.page] || "a page that is no longer here" : entry.words;

export const KINDS = { heading: "heading", page: "page", link: "address" } as const;
export const kindOf = (entry: ContentsEntry) => ("heading" in entry ? "heading" : "page" in entry ? "page" : "link");
