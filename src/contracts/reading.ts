/** What links to reader pages hold. */
import type { FlagKind, PageState } from "../core/access/model/index.ts";
import type { LifeActName } from "../core/lifecycle/index.ts";

export interface ReaderLink {
  title: string;
  address: string;
  id: string;
}

/** What the edge round a walked page says. */
export interface Edge {
  eyes: string | null;
  prefix: string;
  partial: boolean;
}

export interface FrontDoor extends Edge {
  spaces: (ReaderLink & { purpose: string; pages: number })[];
  /** Pages that are open although the space around them is not, each with how many are open with it. */
  elsewhere: (ReaderLink & { pages: number })[];
  bulletins: (ReaderLink & { space: string; at: string })[];
}

/** A line of the contents of a space: a page, a heading over those that follow, or an address elsewhere. */
export interface NavigationItem extends ReaderLink {
  kind: "page" | "heading" | "link";
  depth: number;
  here: boolean;
}

export interface ReaderPage extends Edge {
  kind: "space" | "page" | "bulletin";
  id: string;
  title: string;
  state: PageState;
  /** Whether search engines are welcome to list it, as far as its space and what is shown of it go. */
  indexed: boolean;
  space: ReaderLink & { purpose: string };
  path: (ReaderLink | null)[];
  navigation: NavigationItem[];
  /** How many more pages of the space are open than the navigation lists. */
  more: number;
  bulletins: (ReaderLink & { at: string })[];
  /** HTML of the live text; null where there is none, or (walking) where the looker may not open it. */
  html: string | null;
  /** Why there is no text although the viewer would get one. */
  closed: string;
  owner: string | null;
  /** For the owner: who stepped in on this page lately, and why. */
  steppedIn: { by: string; at: string; reason: string }[];
  publishedAt: string | null;
  /** Older live versions that can be read, the newest first. */
  older: { number: number; at: string }[];
  /** The older version that this is; null: it is the live one. */
  version: { number: number; at: string } | null;
  /** Acts that whoever reads it can do to it. */
  acts: LifeActName[];
  /** For those who may decide on it: how many ask for access to it. */
  asking: number;
  /** How its review stands, as far as its reader may know; null: nothing is reviewed here. */
  review: ReaderReview | null;
  /** For those who may write here. */
  edit: string | null;
  /** The address this page has: another one is redirected to it. */
  address: string;
}

export interface ReaderReview {
  confirmedAt: string | null;
  confirmedBy: string;
  /** What members say is wrong with it, and is not answered yet. */
  flags: { kind: FlagKind; note: string }[];
  mayFlag: boolean;
}

/** A page read by a pass. */
export interface PassPage {
  id: string;
  title: string;
  html: string;
  publishedAt: string | null;
  /** Until when the pass works. */
  until: string | null;
  /** The page the pass is for, and what it opens below. */
  root: ReaderLink;
  below: ReaderLink[];
  more: number;
  address: string;
}
