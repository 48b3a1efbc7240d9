/** Links between pages, as they are told with a page. */

/** A link that some who read a page cannot follow. */
export interface NowhereLink {
  title: string;
  readers: number;
  outside: boolean;
}

/** Links to a page and from it, as far as the asker may know. */
export interface Links {
  /** The first pages that link here; `working`: only their working version does. */
  from: { id: string; title: string; working: boolean }[];
  total: number;
  /** How many more do that the asker cannot see. */
  hidden: number;
  nowhere: NowhereLink[];
}
