/** The workbench: private drafts, who was let in, and where they go from there. */
import "reflect-metadata";
import { IsIn, IsString, IsTimeZone, MaxLength } from "class-validator";
import type { HelperLevel } from "../core/access/workbench/index.ts";
import { LIMITS } from "../core/words.ts";
import { HasWords, IsLine, MayBeAbsent } from "./checks.ts";
import { declare, json, NoQuery, nothing } from "./declare.ts";
import { TakeUpBody, type VersionList, VersionsQuery, type VersionText } from "./versions.ts";
import { BufferBody, type KeptAt, SaveBody, type SavedVersion, SpendingBody, type Started, type Written } from "./writing.ts";

/** So many drafts somebody has on their workbench at most. */
export const MOST_DRAFTS = 500;
/** So many people are let into one of them. */
export const MOST_HELPERS = 50;

export class BeginDraftBody {
  /** May be absent where something is begun from. */
  @MayBeAbsent() @IsLine(LIMITS.title) @HasWords() title?: string;
  /** A template of the site. */
  @MayBeAbsent() @IsString() @MaxLength(64) template?: string;
  /** A page that is copied, as far as one may read it. */
  @MayBeAbsent() @IsString() @MaxLength(64) copy?: string;
  @MayBeAbsent() @IsTimeZone() zone?: string;
}

export class HelperBody {
  @IsString() @MaxLength(64) person!: string;
  /** `none`: let out again. */
  @IsIn(["read", "comment", "write", "none"]) level!: HelperLevel | "none";
}

export class ThrowBody {
  @IsIn(["throw", "takeBack"]) act!: "throw" | "takeBack";
}

export interface Helper {
  id: string;
  name: string;
  guest: boolean;
  level: HelperLevel;
  /** They are here no more, or the ceiling for guests leaves them nothing: they cannot open it. */
  shutOut: boolean;
}

export interface DraftRow {
  id: string;
  title: string;
  /** Whose it is; empty: one's own. */
  owner: string;
  /** What one may do with it. */
  level: HelperLevel;
  helpers: number;
  version: string;
  savedAt: string;
  /** Typed since, and in no version. */
  typed: boolean;
  thrownAt: string | null;
}

export interface Workbench {
  drafts: DraftRow[];
  /** What one was let into. */
  letInto: DraftRow[];
  thrown: DraftRow[];
  /** For so many days what was thrown away is kept. */
  keptDays: number;
}

/** A private draft that is written on. */
export interface PrivateDraft extends Written {
  mine: boolean;
  owner: string;
  mayWrite: boolean;
  /** For its owner; others see none. */
  helpers: Helper[];
  thrownAt: string | null;
}

export const readWorkbench = declare({
  method: "GET",
  path: "/api/workbench",
  who: "signedIn",
  says: "One's private drafts, and those one was let into.",
  query: NoQuery,
  answer: json<Workbench>("Workbench"),
});

export const beginDraft = declare({
  method: "POST",
  path: "/api/workbench",
  who: "member",
  says: "Begins a private draft: blank, from a template of the site, or as a copy of a page.",
  body: BeginDraftBody,
  answer: json<Started>("Started"),
});

export const readDraft = declare({
  method: "GET",
  path: "/api/workbench/{id}",
  who: "signedIn",
  says: "A private draft, for its owner and whom they let in.",
  query: NoQuery,
  answer: json<PrivateDraft>("PrivateDraft"),
});

export const saveDraft = declare({
  method: "POST",
  path: "/api/workbench/{id}",
  who: "signedIn",
  says: "Saves a version of a private draft; refused over somebody's newer one.",
  body: SaveBody,
  answer: json<SavedVersion>("SavedVersion"),
});

export const keepDraftBuffer = declare({
  method: "POST",
  path: "/api/workbench/{id}/buffer",
  who: "signedIn",
  says: "Keeps words of a private draft that are typed and in no version.",
  body: BufferBody,
  answer: json<KeptAt>("KeptAt"),
});

export const dropDraftBuffers = declare({
  method: "DELETE",
  path: "/api/workbench/{id}/buffer",
  who: "signedIn",
  says: "Throws kept words of a private draft away.",
  body: SpendingBody,
  answer: nothing,
});

export const letHelperIn = declare({
  method: "POST",
  path: "/api/workbench/{id}/helpers",
  who: "member",
  says: "Lets somebody into a private draft by name, changes what they may do, or lets them out again.",
  body: HelperBody,
  answer: nothing,
});

export const throwDraft = declare({
  method: "POST",
  path: "/api/workbench/{id}/throw",
  who: "member",
  says: "Throws a private draft away, or takes it back onto the workbench.",
  body: ThrowBody,
  answer: nothing,
});

export const listDraftVersions = declare({
  method: "GET",
  path: "/api/workbench/{id}/versions",
  who: "signedIn",
  says: "The versions of a private draft, the newest first.",
  query: VersionsQuery,
  answer: json<VersionList>("VersionList"),
});

export const readDraftVersion = declare({
  method: "GET",
  path: "/api/workbench/{id}/versions/{version}",
  who: "signedIn",
  says: "A version of a private draft as it was.",
  query: NoQuery,
  answer: json<VersionText>("VersionText"),
});

export const takeUpDraftVersion = declare({
  method: "POST",
  path: "/api/workbench/{id}/versions/{version}",
  who: "signedIn",
  says: "Makes a new version of an old one of a private draft.",
  body: TakeUpBody,
  answer: json<SavedVersion>("SavedVersion"),
});
