/** Writing a page: drafts, versions, words kept meanwhile, publishing, schedules. */
import { declare, json, NoQuery, nothing } from "./declare.ts";
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsString,
  IsTimeZone,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from "class-validator";
import type { PageState } from "../core/access/model/index.ts";
import type { PageBody } from "../core/content/index.ts";
import type { LifeActName } from "../core/lifecycle/index.ts";
import { LIMITS } from "../core/words.ts";
import type { Approval } from "./approval.ts";
import { HasWords, IsInstant, IsLine, MayBeAbsent, VERSION } from "./checks.ts";

const TAB = /^[\w-]{1,40}$/;

export class StartPageBody {
  @IsString() @MaxLength(64) parent!: string;
  @IsIn(["page", "bulletin"]) as!: "page" | "bulletin";
  /** May be absent where a template has one. */
  @MayBeAbsent() @IsLine(LIMITS.title) @HasWords() title?: string;
  /** What it is begun from; absent: blank. */
  @MayBeAbsent() @IsString() @MaxLength(64) template?: string;
  /** Zone of whoever begins it, for the day that a template is filled with. */
  @MayBeAbsent() @IsTimeZone() zone?: string;
}

/** Kept words that are not needed any more, up to a change. */
export class SpentBody {
  @Matches(TAB) tab!: string;
  @IsInt() @Min(0) @Max(Number.MAX_SAFE_INTEGER) rev!: number;
}

/** Kept words that go: they are in a version now, were taken up elsewhere, or thrown away. */
export class SpendingBody {
  @IsArray() @ArrayMaxSize(100) @IsObject({ each: true }) @ValidateNested({ each: true }) @Type(() => SpentBody) spent!: SpentBody[];
}

export class SaveBody extends SpendingBody {
  @IsLine(LIMITS.title) @HasWords() title!: string;
  @IsObject() body!: PageBody;
  /** The version these words were written on, as "2.1". */
  @Matches(VERSION) base!: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
}

export class BufferBody extends SpendingBody {
  @IsLine(2 * LIMITS.title) title!: string;
  @IsObject() body!: PageBody;
  @Matches(VERSION) base!: string;
  @Matches(TAB) tab!: string;
  @IsInt() @Min(1) @Max(Number.MAX_SAFE_INTEGER) rev!: number;
}

/** What happens to a page by itself: it goes live, or is archived. */
export class ScheduledQuery {
  @IsIn(["live", "archive"]) what!: "live" | "archive";
}

export class ScheduleBody extends ScheduledQuery {
  @IsInstant() at!: string;
  /** Zone in which the instant was chosen, as "Europe/Berlin". */
  @IsTimeZone() zone!: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
  /** The version that goes live: the newest, as it was seen. */
  @Matches(VERSION) version!: string;
  @IsBoolean() keepHelpers!: boolean;
  /** Of archiving: what becomes of the pages below then. */
  @MayBeAbsent() @IsIn(["along", "handUp"]) below?: "along" | "handUp";
}

/** Something that happens to a page by itself at an instant. */
export interface Due {
  at: string;
  /** Zone in which the instant was chosen. */
  zone: string;
  /** Version that goes live, as "2.1"; null for archiving. */
  version: string | null;
  /** Why it was refused although its instant had come. */
  problem: string | null;
}

/** Words that are typed and in no version: they belong to a person, a page and a tab. */
export interface KeptWords {
  title: string;
  body: PageBody;
  /** Version they were written on, as "2.1". */
  base: string;
  tab: string;
  /** Grows with each change in that tab. */
  rev: number;
}

/** Kept words that are not needed any more, up to a change. */
export interface Spent {
  tab: string;
  rev: number;
}

/** Something that is written on: a page, or a page of a template. */
export interface Written {
  id: string;
  title: string;
  body: PageBody;
  /** Version these words are, as "2.1". */
  version: string;
  savedBy: string;
  savedAt: string;
  /** Words of the writer's that are typed and not saved as a version, of each tab they were typed in. */
  buffers: KeptWords[];
}

export interface WorkingPage extends Written {
  kind: "page" | "bulletin";
  /** How it stands towards approval; null where its space asks for none. */
  approval: Approval | null;
  /** Acts that the writer can do to it. */
  acts: LifeActName[];
  liveVersion: string | null;
  state: PageState;
  mayPublish: boolean;
  /** When it goes live by itself, and why it did not although that instant has passed. */
  due: Due | null;
  address: string;
  above: string;
}

export interface Started {
  id: string;
}

export interface SavedVersion {
  version: string;
}

/** When words were kept. */
export interface KeptAt {
  at: string;
}

export interface PublishedVersion {
  version: string;
  /** What is written on from now on: the same, or newer words that wait. */
  newest: string;
  seq: number;
}

export interface ScheduledAt {
  at: string;
}

export const startPage = declare({
  method: "POST",
  path: "/api/pages",
  who: "signedIn",
  says: "Starts a draft in a place.",
  body: StartPageBody,
  answer: json<Started>("Started"),
});

export const readWorking = declare({
  method: "GET",
  path: "/api/pages/{id}",
  who: "signedIn",
  says: "The working version of a page, and the asker's words that are in none yet.",
  query: NoQuery,
  answer: json<WorkingPage>("WorkingPage"),
});

export const saveVersion = declare({
  method: "POST",
  path: "/api/pages/{id}",
  who: "signedIn",
  says: "Saves a working version; refused over somebody's newer one.",
  body: SaveBody,
  answer: json<SavedVersion>("SavedVersion"),
});

export const keepBuffer = declare({
  method: "POST",
  path: "/api/pages/{id}/buffer",
  who: "signedIn",
  says: "Keeps words that are typed and in no version.",
  body: BufferBody,
  answer: json<KeptAt>("KeptAt"),
});

export const dropBuffers = declare({
  method: "DELETE",
  path: "/api/pages/{id}/buffer",
  who: "signedIn",
  says: "Throws kept words away.",
  body: SpendingBody,
  answer: nothing,
});

export const schedule = declare({
  method: "POST",
  path: "/api/pages/{id}/schedule",
  who: "signedIn",
  says: "Lets a page go live, or be archived, by itself at an instant.",
  body: ScheduleBody,
  answer: json<ScheduledAt>("ScheduledAt"),
});

export const unschedule = declare({
  method: "DELETE",
  path: "/api/pages/{id}/schedule",
  who: "signedIn",
  says: "Ends a schedule.",
  query: ScheduledQuery,
  answer: nothing,
});
