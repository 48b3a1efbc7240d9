/** The versions of a page: which there are and who saw them, one as it was with what stood beside it, an old one taken up again. */
import { IsString, Matches, MaxLength } from "class-validator";
import type { PageState } from "../core/access/model/index.ts";
import type { PageBody } from "../core/content/index.ts";
import { LIMITS } from "../core/words.ts";
import { MayBeAbsent, VERSION } from "./checks.ts";
import { declare, json, NoQuery } from "./declare.ts";
import type { SavedVersion } from "./writing.ts";

/** So many versions come at once, the newest first. */
export const VERSIONS_AT_ONCE = 50;

export class VersionsQuery {
  /** Those before this version. */
  @MayBeAbsent() @Matches(VERSION) before?: string;
}

/** A version, without its text. */
export interface VersionRow {
  /** As "2.1". */
  name: string;
  /** Made by publishing. */
  live: boolean;
  at: string;
  who: string;
  note: string;
  /** When readers got it: from, and until when; null until: they get it now. Null: they never did. */
  seen: { from: string; until: string | null } | null;
}

export interface VersionList {
  id: string;
  title: string;
  state: PageState;
  /** Where its readers read it; null for who may not. */
  address: string | null;
  /** Whether the asker writes it: then they see its working versions, and may take up an old one. */
  writes: boolean;
  /** The newest version of those they see. */
  newest: string;
  versions: VersionRow[];
  /** Whether there are more before the last of these. */
  more: boolean;
}

/** What stood beside the text when a version was made. */
export interface Beside {
  owner: string | null;
  tags: string[];
  /** What it stood in. */
  above: string;
  /** Its own rules in sentences; null for who may not see rules. */
  rules: string[] | null;
}

export interface VersionText {
  name: string;
  title: string;
  body: PageBody;
  beside: Beside;
  /** Where links to pages lead, of those that the asker may read. */
  addresses: Record<string, string>;
}

export class TakeUpBody {
  /** The newest version as it was seen: "2.1". */
  @Matches(VERSION) base!: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
}

export const listVersions = declare({
  method: "GET",
  path: "/api/pages/{id}/versions",
  who: "signedIn",
  says: "The versions of a page, the newest first: who made each, when, and whether readers got it.",
  query: VersionsQuery,
  answer: json<VersionList>("VersionList"),
});

export const readVersion = declare({
  method: "GET",
  path: "/api/pages/{id}/versions/{version}",
  who: "signedIn",
  says: "A version as it was, with what stood beside it.",
  query: NoQuery,
  answer: json<VersionText>("VersionText"),
});

export const takeUpVersion = declare({
  method: "POST",
  path: "/api/pages/{id}/versions/{version}",
  who: "signedIn",
  says: "Makes a new working version of an old one.",
  body: TakeUpBody,
  answer: json<SavedVersion>("SavedVersion"),
});
